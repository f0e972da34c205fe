#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "base/text.h"
#include "check/consequence.h"
#include "check/examiner.h"
#include "check/structure_faults.h"
#include "formats/gltf/gltf.h"
#include "mod/store.h"
#include "prepare/edit_steps.h"
#include "support/broken_mod.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;
using base::Json;

using test::kelpwick;

// A copy of the finished demo mod, to be broken in one way at a time.
class CheckTest : public testing::Test {
 protected:
  void SetUp() override { open("lamplight"); }
  void open(const std::string& name) {
    root_ = own_.copyOfMod(name, name);
    state_ = std::move(mod::loadMod(root_)).value();
  }
  std::shared_ptr<const Examination> examine() {
    Examiner examiner(root_, book_);
    return std::move(examiner.examine(std::make_shared<const mod::ModState>(state_))).value();
  }
  std::vector<std::string> ids() {
    std::vector<std::string> out;
    const auto x = examine();
    for (const Finding& f : x->findings) out.push_back(f.check);
    return out;
  }
  // Exactly this finding, with a place and a reason; its first mend, if there is one, removes it and brings
  // no other.
  void expectOnly(const std::string& id, bool mends) {
    auto x = examine();
    ASSERT_EQ(x->findings.size(), 1u) << testing::PrintToString(ids());
    const Finding f = x->findings[0];
    EXPECT_EQ(f.check, id);
    EXPECT_FALSE(f.place.text().empty());
    EXPECT_FALSE(f.reason.empty());
    EXPECT_EQ(!f.mends.empty(), mends) << f.sentence;
    if (!mends) return;
    f.mends[0].apply(state_);
    EXPECT_THAT(ids(), testing::IsEmpty()) << "after: " << f.mends[0].label;
  }
  // Replaces the source's model by a changed one.
  void changeSource(const std::function<void(scene::Model&)>& change) {
    const fs::path path = root_ / "sources/quay-lamp/quay_lamp.glb";
    auto read = formats::readModel(*base::readFile(path), "x.glb", [](const std::string&) {
      return base::Result<base::Bytes>(base::Error{"x", "x", {}, ""});
    });
    change(read->model);
    ASSERT_TRUE(base::writeFileAtomic(path, formats::writeGlb(read->model)));
    for (mod::SourceFile& f : state_.sources["quay-lamp"].files) f.sha256.clear();
  }
  void removeStep(const char* kind) {
    auto& steps = state_.models["quay-lamp"].steps;
    const auto at =
        std::find_if(steps.begin(), steps.end(), [&](const mod::StepDoc& s) { return s.kind == kind; });
    ASSERT_NE(at, steps.end());
    steps.erase(at);
  }
  Json& card() { return state_.objects["quay-lamp"].card; }

  test::TestFolder own_;
  fs::path root_;
  mod::ModState state_;
  std::shared_ptr<const rulebook::Rulebook> book_ = kelpwick();
};

TEST_F(CheckTest, TheFinishedModIsClean) { EXPECT_THAT(ids(), testing::IsEmpty()); }

TEST_F(CheckTest, TheUnpreparedModHasEveryFaultItsMakerLeft) {
  open("first-lamp");
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("size.unit", "axes.differ", "origin.place",
                                                   "placement.not_baked", "picture.missing", "role.missing",
                                                   "field.empty", "field.empty", "field.empty", "field.empty",
                                                   "field.empty", "icon.missing", "part.stray"));
}

TEST_F(CheckTest, MendingAllThatCanBeMendedLeavesWhatOnlyAPersonKnows) {
  open("first-lamp");
  for (int i = 0; i < 40; ++i) {
    const auto x = examine();
    const auto next = std::find_if(x->findings.begin(), x->findings.end(),
                                   [](const Finding& f) { return !f.mends.empty(); });
    if (next == x->findings.end()) break;
    // The lens has a name without a meaning: of the ways offered, a person picks the right one.
    const Mend* mend = &next->mends[0];
    for (const Mend& m : next->mends)
      if (m.label.find("mat_17") != std::string::npos) mend = &m;
    if (next->sentence.find("paint") != std::string::npos) mend = &next->mends[0];
    mend->apply(state_);
  }
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("field.empty", "icon.missing"));
  EXPECT_EQ(prepare::sentenceText(state_.models["quay-lamp"].steps[0]), "Read lengths as centimetres");
}

TEST_F(CheckTest, UnitIsToldFromTheRatio) {
  for (const auto& [unit, id] : std::vector<std::pair<const char*, const char*>>{{"m", "cm"}, {"ft", "cm"}}) {
    state_.models["quay-lamp"].steps[0].values["unit"] = unit;
    const auto x = examine();
    ASSERT_FALSE(x->findings.empty());
    EXPECT_EQ(x->findings[0].check, "size.unit");
    const std::string label = x->findings[0].mends[0].label;
    EXPECT_EQ(label, "Read lengths as centimetres") << unit;
    x->findings[0].mends[0].apply(state_);
    EXPECT_EQ(state_.models["quay-lamp"].steps[0].values["unit"], id);
  }
}

TEST_F(CheckTest, SizeBeyondTheBandIsMendedByScaling) {
  auto& doc = state_.models["quay-lamp"];
  prepare::insertByRank(doc, prepare::makeStep(doc, "scale", Json{{"factor", 2.0}}));
  expectOnly("size.range", true);
}

TEST_F(CheckTest, AxesAreTurnedTheRightWayRound) {
  removeStep("turn");
  const auto x = examine();
  const auto at = std::find_if(x->findings.begin(), x->findings.end(),
                               [](const Finding& f) { return f.check == "axes.differ"; });
  ASSERT_NE(at, x->findings.end());
  EXPECT_EQ(at->mends[0].label, "Turn so that the −Z side faces forward");
  at->mends[0].apply(state_);
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, FacingBackwardsIsSeenFromTheGhost) {
  for (mod::StepDoc& s : state_.models["quay-lamp"].steps)
    if (s.kind == "turn") s.values["forward"] = "+Z";
  expectOnly("axes.facing", true);
}

TEST_F(CheckTest, StepValuesOfTheWrongTypeAreToldAndNeverThrow) {
  auto& steps = state_.models["quay-lamp"].steps;
  const auto good = steps;
  for (const prepare::StepKind& kind : prepare::stepKinds())
    for (const Json& bad : {Json(3), Json("x"), Json(nullptr), Json::array({1}), Json::object()}) {
      steps = good;
      mod::StepDoc step = prepare::makeStep(state_.models["quay-lamp"], kind.id);
      for (auto& [key, value] : step.values.items()) step.values[key] = bad;
      steps.insert(steps.begin(), step);
      const auto x = examine();
      for (const Finding& f : x->findings)
        for (const Mend& m : f.mends) {
          mod::ModState copy = state_;
          m.apply(copy);
        }
    }
}

TEST_F(CheckTest, AMendTwiceIsAsGoodAsOnceAndNeverBringsAStop) {
  open("first-lamp");
  const auto x = examine();
  for (const Finding& f : x->findings)
    for (const Mend& m : f.mends) {
      mod::ModState once = state_, twice = state_;
      m.apply(once);
      m.apply(twice);
      m.apply(twice);
      Examiner examiner(root_, book_);
      const auto after = *examiner.examine(std::make_shared<const mod::ModState>(once));
      const auto again = *examiner.examine(std::make_shared<const mod::ModState>(twice));
      EXPECT_LE(after->count(Severity::stops), x->count(Severity::stops)) << m.label;
      EXPECT_EQ(after->findings.size(), again->findings.size()) << m.label;
    }
}

TEST_F(CheckTest, ScalingMendsJoinTheScaleThatIsThere) {
  prepare::scaleBy(state_.models["quay-lamp"], 3.0);
  examine()->findings.at(0).mends.at(0).apply(state_);
  EXPECT_THAT(ids(), testing::IsEmpty());
  const auto& steps = state_.models["quay-lamp"].steps;
  EXPECT_EQ(std::count_if(steps.begin(), steps.end(), [](const auto& s) { return s.kind == "scale"; }), 1);
}

TEST_F(CheckTest, OriginOffIsMoved) {
  for (mod::StepDoc& s : state_.models["quay-lamp"].steps)
    if (s.kind == "origin") s.values["to"] = "centre";
  const auto x = examine();
  EXPECT_THAT(x->findings[0].sentence, testing::HasSubstr("it sinks"));
  expectOnly("origin.place", true);
}

TEST_F(CheckTest, PlacementNotBaked) {
  removeStep("bake");
  expectOnly("placement.not_baked", true);
}

TEST_F(CheckTest, APivotThatTheKindBakesAwayIsTakenBackOrBaked) {
  const mod::ModState whole = state_;
  for (const size_t mend : {0, 1}) {
    state_ = whole;
    prepare::setPivot(state_.models["quay-lamp"], "quay_lamp/lantern", Json{{"to", "centre"}});
    const auto x = examine();
    ASSERT_EQ(x->findings.size(), 1u);
    EXPECT_EQ(x->findings[0].check, "placement.not_baked");
    ASSERT_EQ(x->findings[0].mends.size(), 2u);
    x->findings[0].mends[mend].apply(state_);
    EXPECT_THAT(ids(), testing::IsEmpty()) << mend;
  }
  // Never baked: taking the pivot back would cure nothing.
  state_ = whole;
  removeStep("bake");
  prepare::setPivot(state_.models["quay-lamp"], "quay_lamp/lantern", Json{{"to", "centre"}});
  expectOnly("placement.not_baked", true);
}

TEST_F(CheckTest, TriangleAndVertexLimits) {
  auto book = std::make_shared<rulebook::Rulebook>(*kelpwick());
  book->kinds[0].max_triangles = 6000;
  book_ = book;
  expectOnly("mesh.triangles", true);
  book->kinds[0].max_triangles = 0;
  book->kinds[0].max_vertices = 100;
  expectOnly("mesh.vertices", false);
  book->kinds[0].max_vertices = 0;
  book->kinds[0].max_part_triangles = 2000;  // of 6,000 in all, since the first mend
  const auto x = examine();
  ASSERT_EQ(x->findings.size(), 1u) << "of five parts the one that has more";
  expectOnly("mesh.part_triangles", true);
}

TEST_F(CheckTest, AnUnreadableSourceStopsOnlyWhatIsMadeOfIt) {
  const auto severityOfIt = [&]() -> std::optional<Severity> {
    const auto x = examine();
    for (const Finding& f : x->findings)
      if (f.check == "source.unreadable") return f.severity;
    return std::nullopt;
  };
  EXPECT_EQ(severityOfIt(), std::nullopt);
  ASSERT_TRUE(base::makeFolder(root_ / "sources/horn"));
  ASSERT_TRUE(base::writeFileAtomic(root_ / "sources/horn/horn.wav", base::Bytes(3)));
  state_.sources["horn"].file = "horn.wav";
  EXPECT_EQ(severityOfIt(), Severity::tidy) << "no object has it";
  state_.models["quay-lamp"].variants["tall"] = "horn";
  EXPECT_EQ(severityOfIt(), Severity::shows) << "players miss that size";
  state_.models["quay-lamp"].variants.clear();
  state_.models["quay-lamp"].source = "horn";
  EXPECT_EQ(severityOfIt(), Severity::stops);
}

TEST_F(CheckTest, VerticesAreCountedWhereTheGameHasThem) {
  // The second of two is used by no triangle, and is not shipped.
  changeSource([](scene::Model& m) {
    scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
    for (int i = 0; i < 2; ++i) {
      p.positions.emplace_back(std::numeric_limits<float>::quiet_NaN());
      p.normals.emplace_back(0, 1, 0);
      p.uvs[0].emplace_back(0.5F, 0.5F);
    }
    p.indices[0] = static_cast<uint32_t>(p.positions.size() - 2);
  });
  const auto x = examine();
  const auto found = std::find_if(x->findings.begin(), x->findings.end(),
                                  [](const Finding& f) { return f.check == "mesh.not_finite"; });
  ASSERT_NE(found, x->findings.end());
  EXPECT_EQ(found->measured, "1");
}

TEST_F(CheckTest, VerticesThatTheGameCannotNumber) {
  changeSource(test::addManyVertices);
  const auto found = [&] {
    const auto x = examine();
    return std::count_if(x->findings.begin(), x->findings.end(),
                         [](const Finding& f) { return f.check == "mesh.indices"; });
  };
  EXPECT_EQ(found(), 0) << "this game numbers them with 32 bits";
  auto book = std::make_shared<rulebook::Rulebook>(*kelpwick());
  book->index_bits = 16;
  book_ = book;
  EXPECT_EQ(found(), 1);
}

TEST(FaultMeaning, IsSaidOfEverySortInTheWordsOfItsCheckOrOfTheRulebook) {
  rulebook::Rulebook book;
  for (size_t i = 0; i < scene::kFaultCodes; ++i) {
    const FaultMeaning meaning = meaningOf(static_cast<scene::FaultCode>(i), book);
    EXPECT_FALSE(meaning.reason.empty()) << scene::faultName(static_cast<scene::FaultCode>(i));
    EXPECT_FALSE(meaning.cure.empty()) << scene::faultName(static_cast<scene::FaultCode>(i));
  }
  book.reasons = {{"mesh.flipped", "Moths fly in."}};
  EXPECT_EQ(meaningOf(scene::FaultCode::flipped_triangles, book).reason, "Moths fly in.");
}

TEST_F(CheckTest, DegenerateTrianglesAreRemoved) {
  changeSource([](scene::Model& m) {
    auto& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
    p.indices.insert(p.indices.end(), {0, 0, 1});
  });
  expectOnly("mesh.degenerate", true);
}

TEST_F(CheckTest, TrianglesThatFaceTheWrongWayAreTurned) {
  changeSource([](scene::Model& m) {
    auto& indices = m.editMesh(scene::MeshIndex(1)).primitives[0].indices;
    std::swap(indices[31], indices[32]);
  });
  const auto x = examine();
  ASSERT_FALSE(x->findings.empty());
  EXPECT_EQ(x->findings[0].check, "mesh.flipped");
  EXPECT_EQ(x->findings[0].measured, "1");
  EXPECT_EQ(x->findings[0].place.marks_m.size(), 1U);
  x->findings[0].mends[0].apply(state_);
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, DoubleTrianglesAreRemoved) {
  changeSource([](scene::Model& m) {
    auto& indices = m.editMesh(scene::MeshIndex(1)).primitives[0].indices;
    indices.insert(indices.end(), {indices[4], indices[5], indices[3]});
  });
  expectOnly("mesh.duplicates", true);
}

TEST_F(CheckTest, WrongNormalsAreMadeAnew) {
  changeSource([](scene::Model& m) { m.editMesh(scene::MeshIndex(1)).primitives[0].normals[7] = {0, 0, 3}; });
  expectOnly("mesh.normals_wrong", true);
}

TEST_F(CheckTest, VerticesForNothingGo) {
  changeSource([](scene::Model& m) {
    auto& p = m.editMesh(scene::MeshIndex(1)).primitives[0];
    // One that no triangle uses, and one that is like another.
    for (const uint32_t from : {p.indices[0], p.indices[0]}) {
      p.positions.push_back(p.positions[from]);
      p.normals.push_back(p.normals[from]);
      p.uvs[0].push_back(p.uvs[0][from]);
    }
    p.indices[0] = static_cast<uint32_t>(p.positions.size() - 1);
  });
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("mesh.unused", "mesh.coincident"));
  for (int i = 0; i < 2; ++i) examine()->findings[0].mends[0].apply(state_);
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, AShellThatFacesInwardIsTurned) {
  changeSource([](scene::Model& m) {
    // A closed block beside the post, its faces inward.
    scene::Primitive& p = m.editMesh(scene::MeshIndex(1)).primitives[0];
    const auto first = static_cast<uint32_t>(p.positions.size());
    const glm::vec3 at = p.positions[0];
    for (const glm::vec3& d :
         {glm::vec3(0, 0, 0), glm::vec3(2, 0, 0), glm::vec3(0, 2, 0), glm::vec3(0, 0, 2)}) {
      p.positions.push_back(at + d);
      p.normals.push_back(glm::normalize(glm::vec3(0.5F) - d));
      p.uvs[0].emplace_back(0.5F + d.x / 10, 0.5F + d.y / 10);
    }
    p.indices.insert(p.indices.end(), {first, first + 1, first + 2, first, first + 3, first + 1, first + 1,
                                       first + 3, first + 2, first, first + 2, first + 3});
  });
  const auto found = ids();
  EXPECT_THAT(found, testing::Contains("mesh.inside_out"));
  const auto x = examine();
  for (const Finding& f : x->findings)
    if (f.check == "mesh.inside_out") f.mends[0].apply(state_);
  EXPECT_THAT(ids(), testing::Not(testing::Contains("mesh.inside_out")));
}

TEST_F(CheckTest, NotANumberStops) {
  changeSource(
      [](scene::Model& m) { m.editMesh(scene::MeshIndex(0)).primitives[0].positions[3].y = std::nanf(""); });
  const auto x = examine();
  ASSERT_GE(x->findings.size(), 1u);
  EXPECT_EQ(x->findings[0].check, "mesh.not_finite");
  EXPECT_EQ(x->findings[0].severity, Severity::stops);
}

TEST_F(CheckTest, MissingNormalsAreMade) {
  changeSource([](scene::Model& m) { m.editMesh(scene::MeshIndex(1)).primitives[0].normals.clear(); });
  expectOnly("mesh.normals", true);
}

TEST_F(CheckTest, MissingUvsUnderAPicture) {
  changeSource([](scene::Model& m) { m.editMesh(scene::MeshIndex(1)).primitives[0].uvs[0].clear(); });
  expectOnly("mesh.uvs", false);
}

TEST_F(CheckTest, NoTrianglesLeftStops) {
  for (mod::StepDoc& s : state_.models["quay-lamp"].steps)
    if (s.kind == "drop") s.values["parts"] = Json::array({"quay_lamp", "view", "sun"});
  EXPECT_THAT(ids(), testing::Contains("mesh.no_triangles"));
}

TEST_F(CheckTest, PictureMissingWithOtherLetterCase) {
  removeStep("use_picture");
  expectOnly("picture.missing", true);
}

TEST_F(CheckTest, PictureDamagedAndPictureTooLarge) {
  auto book = std::make_shared<rulebook::Rulebook>(*kelpwick());
  book->picture_max_side = 256;
  book_ = book;
  EXPECT_THAT(ids(), testing::ElementsAre("picture.size", "picture.size"));
  book->picture_max_side = 0;
  ASSERT_TRUE(
      base::writeFileAtomic(root_ / "sources/quay-lamp/textures/hemp.png", std::string_view("no picture")));
  for (mod::SourceFile& f : state_.sources["quay-lamp"].files) f.sha256.clear();
  expectOnly("picture.damaged", false);
}

TEST_F(CheckTest, RoleMissingDependsOnTheCard) {
  auto& steps = state_.models["quay-lamp"].steps;
  std::erase_if(steps, [](const mod::StepDoc& s) { return s.kind == "role" && s.values["role"] == "lamp"; });
  const auto x = examine();
  ASSERT_EQ(x->findings.size(), 1u);
  EXPECT_EQ(x->findings[0].check, "role.missing");
  card()["lit"] = false;
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, RoleOfAnotherKind) {
  auto book = std::make_shared<rulebook::Rulebook>(*kelpwick());
  std::erase_if(book->kinds[0].roles, [](const rulebook::Role& r) { return r.id == "glass"; });
  book->kinds.push_back(kelpwick()->kinds[0]);
  book->kinds[1].id = "other";
  book_ = book;
  expectOnly("role.unknown", false);
}

TEST_F(CheckTest, StrayPartsAreDropped) {
  removeStep("drop");
  const auto found = ids();
  EXPECT_THAT(found, testing::Contains("part.stray"));
  for (int i = 0; i < 3 && !ids().empty(); ++i) {
    const auto x = examine();
    x->findings.back().mends[0].apply(state_);
  }
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, PointMissingIsProposedAtTheLamp) {
  state_.models["quay-lamp"].points.clear();
  expectOnly("point.missing", true);
  EXPECT_GT(state_.models["quay-lamp"].points.at(0).position_m[2], 1.5);
}

TEST_F(CheckTest, APointIsTakenFromTheEmptyThatMeansIt) {
  const std::string id = state_.models["quay-lamp"].points.at(0).id;
  state_.models["quay-lamp"].points.clear();
  changeSource([&](scene::Model& m) {
    scene::Node empty;
    empty.name = "_" + id;  // as programs put signs before and between words
    for (char& c : empty.name) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    empty.local.position = {30, 120, 45};  // centimetres, Y up, as the source is written
    m.roots.emplace_back(m.nodes.size());
    m.nodes.push_back(empty);
    scene::assignKeys(m);
  });
  const auto x = examine();
  const auto found = std::find_if(x->findings.begin(), x->findings.end(),
                                  [](const Finding& f) { return f.check == "point.missing"; });
  ASSERT_NE(found, x->findings.end());
  ASSERT_EQ(found->mends.size(), 2u) << "beside what the rulebook proposes";
  EXPECT_THAT(found->mends[0].label, testing::HasSubstr("where the model has _"));
  found->mends[0].apply(state_);
  const auto& at = state_.models["quay-lamp"].points.at(0);
  EXPECT_EQ(at.id, id);
  EXPECT_NEAR(at.position_m[0], found->place.marks_m.at(0).x, 5e-4);
  EXPECT_NEAR(at.position_m[2], found->place.marks_m.at(0).z, 5e-4);
  EXPECT_GT(at.position_m[2], 0.5);
}

TEST_F(CheckTest, CardFieldsEmptyOrOutOfLimits) {
  card().erase("price");
  expectOnly("field.empty", true);
  card()["price"] = 20000;
  expectOnly("field.limits", true);
  EXPECT_EQ(card()["price"], 9999);
  card()["shelf"] = "attic";
  expectOnly("field.limits", true);
  card()["blurb"] = std::string(161, 'x');
  expectOnly("field.limits", false);
  // Characters count, not bytes.
  std::string umlauts;
  for (int i = 0; i < 160; ++i) umlauts += "ü";
  card()["blurb"] = umlauts;
  EXPECT_THAT(ids(), testing::IsEmpty());
}

TEST_F(CheckTest, IconMissingWrongOrNamedAndNotThere) {
  state_.objects["quay-lamp"].icon = "icons/none.png";
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("file.missing", "file.unused"));
  state_.objects["quay-lamp"].icon.clear();
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("icon.missing", "file.unused"));
  state_.objects["quay-lamp"].icon = "icons/quay-lamp.png";
  state_.icons["icons/quay-lamp.png"] =
      std::make_shared<const base::Bytes>(formats::encodePng({64, 64, base::Bytes(64 * 64 * 4)}));
  expectOnly("icon.size", false);
}

TEST_F(CheckTest, FilesUnusedAndFilesMissing) {
  ASSERT_TRUE(base::writeFileAtomic(root_ / "notes.txt", std::string_view("x")));
  expectOnly("file.unused", false);
  fs::remove(root_ / "notes.txt");
  fs::remove(root_ / "sources/quay-lamp/textures/hemp.png");
  EXPECT_THAT(ids(), testing::UnorderedElementsAre("file.missing", "picture.missing"));
}

TEST_F(CheckTest, SourceUnreadableAndSourceChanged) {
  const fs::path path = root_ / "sources/quay-lamp/textures/hemp.png";
  ASSERT_TRUE(base::writeFileAtomic(path, *base::readFile(root_ / "sources/quay-lamp/textures/brass.png")));
  expectOnly("source.changed", false);
  ASSERT_TRUE(
      base::writeFileAtomic(root_ / "sources/quay-lamp/quay_lamp.glb", std::string_view("glTF nonsense")));
  EXPECT_THAT(ids(), testing::Contains("source.unreadable"));
  EXPECT_EQ(examine()->count(Severity::stops), 1u);
}

TEST_F(CheckTest, StepThatMissesIsKeptAndTold) {
  for (mod::StepDoc& s : state_.models["quay-lamp"].steps)
    if (s.kind == "drop") s.values["parts"].push_back("old part");
  const auto x = examine();
  ASSERT_EQ(x->findings.size(), 1u);
  EXPECT_EQ(x->findings[0].check, "step.misses");
  EXPECT_THAT(x->findings[0].sentence, testing::HasSubstr("old part"));
}

TEST_F(CheckTest, ObjectsWithoutKindPiecesOrAtAll) {
  state_.objects["quay-lamp"].kind = "dragon";
  EXPECT_THAT(ids(), testing::Contains("object.kind"));
  state_.objects["quay-lamp"].kind = "fitting";
  state_.objects["quay-lamp"].pieces[0].model = "gone";
  EXPECT_THAT(ids(), testing::Contains("object.pieces"));
  state_.objects.clear();
  EXPECT_THAT(ids(), testing::Contains("object.none"));
}

TEST_F(CheckTest, ModCardAndRulebookVersion) {
  state_.card.author.clear();
  expectOnly("mod.card", false);
  state_.card.author = "A";
  state_.card.rulebook_version = "0.9";
  expectOnly("rulebook.version", true);
}

TEST_F(CheckTest, TheRulebooksReasonIsUsed) {
  removeStep("bake");
  EXPECT_THAT(examine()->findings[0].reason, testing::HasSubstr("Kelpwick takes the mesh"));
}

TEST(Reasons, SpeakOfTheKindThatTheFindingIsAbout) {
  rulebook::Kind kind;
  kind.title = "Pier block";
  EXPECT_EQ(reasonFor("A {kind} stands on its foot; no {kind} floats.", &kind),
            "A pier block stands on its foot; no pier block floats.");
  EXPECT_EQ(reasonFor("A {kind} stands.", nullptr), "A thing stands.");
  EXPECT_EQ(reasonFor("Nothing is open here.", &kind), "Nothing is open here.");
}

TEST(CheckTable, IdsAreUniqueAndTheDocumentIsCurrent) {
  std::set<std::string> seen;
  for (const CheckRow& row : checkTable()) EXPECT_TRUE(seen.insert(row.id).second) << row.id;
  const auto document = base::readFile(fs::path(RAKUGO_SOURCE_DIR) / "docs/checks.md");
  ASSERT_TRUE(document);
  EXPECT_EQ(base::asText(*document), checksDocument())
      << "run: rakugo-tool checks --markdown > docs/checks.md";
}

}  // namespace
}  // namespace rakugo::check
