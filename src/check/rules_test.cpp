// Checks of what a kind asks of a model's make, each against an expected value worked out by hand.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "check/examiner.h"
#include "check/report.h"
#include "formats/gltf/gltf.h"
#include "formats/read_model.h"
#include "mod/store.h"
#include "prepare/newer/kind_guess.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Not;

std::shared_ptr<const Examination> look(const char* mod,
                                        const std::function<void(mod::ModState&)>& change = nullptr) {
  return test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods" / mod, change);
}

const Finding* find(const Examination& x, const std::string& check) {
  for (const Finding& f : x.findings)
    if (f.check == check) return &f;
  return nullptr;
}

void kindOf(mod::ModState& mod, const char* kind) { mod.objects.front().kind = kind; }

TEST(CheckRules, BonesAreLookedForByTheirExactNames) {
  const auto x = look("deckhand");
  const Finding* missing = find(*x, "bones.missing");
  ASSERT_NE(missing, nullptr);
  EXPECT_EQ(missing->measured, "2 of 20") << "neck and head are called alike in both habits";
  EXPECT_THAT(missing->reason, HasSubstr("twenty bones")) << "the rulebook says why in its own words";
  EXPECT_EQ(find(*x, "bones.none"), nullptr);
  EXPECT_EQ(find(*x, "bones.weights"), nullptr) << "two influences a vertex, four are taken";

  const auto lamp = look("lamplight", [](mod::ModState& m) { kindOf(m, "keeper"); });
  ASSERT_NE(find(*lamp, "bones.none"), nullptr);
  EXPECT_EQ(find(*lamp, "bones.none")->severity, Severity::stops);
  EXPECT_EQ(find(*lamp, "bones.missing"), nullptr) << "one finding is enough";
}

TEST(CheckRules, BonesAndWeightsBeyondTheLimitAreFound) {
  rulebook::Rulebook book = *test::shippedBook("kelpwick");
  for (rulebook::Kind& k : book.kinds)
    if (k.id == "keeper") k.max_bones = 12, k.max_influences = 1;
  const auto x = test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods/deckhand", nullptr,
                                std::make_shared<const rulebook::Rulebook>(book));
  ASSERT_NE(find(*x, "bones.limit"), nullptr);
  EXPECT_EQ(find(*x, "bones.limit")->measured, "20");
  ASSERT_NE(find(*x, "bones.weights"), nullptr);
  EXPECT_EQ(find(*x, "bones.weights")->measured, "up to 2");
  EXPECT_EQ(find(*x, "bones.weights")->place.marks_m.size(), 200u) << "marked, and no more than can be seen";
}

TEST(CheckRules, BonesBeyondTheFourthAreCountedToo) {
  const test::TestFolder own;
  const auto root = own.copyOfMod("deckhand", "deckhand");
  const auto file = root / "sources/deckhand/deckhand.glb";
  auto read = formats::readModelFile(file);
  ASSERT_TRUE(read);
  for (size_t m = 0; m < read->model.meshes.size(); ++m)
    for (scene::Primitive& p : read->model.editMesh(scene::MeshIndex(m)).primitives) {
      if (p.weights.empty()) continue;
      p.joints[0] = {0, 1, 2, 3};
      p.weights[0] = {0.25F, 0.25F, 0.25F, 0.125F};
      p.more_joints.assign(p.positions.size(), glm::u16vec4(0));
      p.more_weights.assign(p.positions.size(), glm::vec4(0));
      p.more_joints[0] = {4, 0, 0, 0};
      p.more_weights[0] = {0.125F, 0, 0, 0};
    }
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(read->model)));
  const auto x = test::examined(root);
  ASSERT_NE(find(*x, "bones.weights"), nullptr);
  EXPECT_EQ(find(*x, "bones.weights")->measured, "up to 5");
  EXPECT_EQ(find(*x, "bones.weights")->expected, "1 to 4");
}

TEST(CheckRules, GridCellsAreFilledOrNot) {
  // The lamp is 2.52 m high: 5.04 cells of half a metre, and four at most.
  const auto x = look("lamplight", [](mod::ModState& m) { kindOf(m, "pier-block"); });
  std::vector<std::string> expected;
  for (const Finding& f : x->findings)
    if (f.check == "grid.size" && f.place.field == "high") expected.push_back(f.expected);
  EXPECT_THAT(expected, ElementsAre("2.00 m")) << "the nearest that is allowed";
  EXPECT_NE(find(*x, "parts.limit"), nullptr);
  EXPECT_NE(find(*x, "materials.limit"), nullptr);
  // Scaled so that the height is exactly four cells, the height has nothing more to say.
  auto state = std::make_shared<mod::ModState>(*x->mod);
  for (const Finding& f : x->findings)
    if (f.check == "grid.size" && f.place.field == "high") f.mends.at(0).apply(*state);
  Examiner examiner(x->folder, x->book);
  const auto after = *examiner.examine(state);
  for (const Finding& f : after->findings)
    EXPECT_FALSE(f.check == "grid.size" && f.place.field == "high") << f.sentence;
}

TEST(CheckRules, RegionsAreCoveredByParts) {
  const auto x = look("lamplight", [](mod::ModState& m) { kindOf(m, "coat"); });
  std::vector<std::string> missing;
  const Finding* first = nullptr;
  for (const Finding& f : x->findings)
    if (f.check == "region.missing") {
      missing.push_back(f.place.field);
      if (first == nullptr) first = &f;
    }
  EXPECT_THAT(missing, ElementsAre("trunk", "sleeve-left", "sleeve-right"))
      << "collar and skirts may be left out";
  ASSERT_FALSE(first->mends.empty());
  auto state = std::make_shared<mod::ModState>(*x->mod);
  first->mends[0].apply(*state);
  Examiner examiner(x->folder, x->book);
  const auto after = *examiner.examine(state);
  missing.clear();
  for (const Finding& f : after->findings)
    if (f.check == "region.missing") missing.push_back(f.place.field);
  EXPECT_THAT(missing, ElementsAre("sleeve-left", "sleeve-right"));
}

TEST(CheckRules, APairIsMirroredToTheOtherSide) {
  const auto x = look("deckhand", [](mod::ModState& m) {
    // A quarter turn about the up axis: mirrored across the middle it turns the other way.
    m.models["deckhand"].points.push_back(
        {"grip-left", {0.05, 0.7, 1.39}, {0, 0, 0.7071067811865476, 0.7071067811865476}});
  });
  const Finding* right = nullptr;
  for (const Finding& f : x->findings)
    if (f.check == "point.missing" && f.place.point == "grip-right") right = &f;
  ASSERT_NE(right, nullptr);
  EXPECT_EQ(right->mends.at(0).label, "Mirror it from left grip");
  auto state = *x->mod;
  right->mends[0].apply(state);
  const mod::PointDoc& made = state.models["deckhand"].points.back();
  EXPECT_EQ(made.id, "grip-right");
  EXPECT_THAT(made.position_m, ElementsAre(0.05, -0.7, 1.39));
  EXPECT_NEAR(made.turn[2], -0.7071067811865476, 1e-12);
  EXPECT_NEAR(made.turn[3], 0.7071067811865476, 1e-12);
}

TEST(CheckRules, APairThatIsNoneIsMendedEitherWay) {
  const auto x = look("deckhand", [](mod::ModState& m) {
    m.models["deckhand"].points = {{"grip-left", {0, 0.7, 1.4}}, {"grip-right", {0, -0.6, 1.4}}};
    m.models["deckhand"].points[0].pair = "grip-right";
    m.models["deckhand"].points[1].pair = "grip-left";
  });
  const Finding* found = find(*x, "point.pair");
  ASSERT_NE(found, nullptr);
  EXPECT_EQ(found->measured, "10 cm");
  ASSERT_EQ(found->mends.size(), 3U) << "which of the two is right is not sure";
  for (const auto& [mend, left, right] : {std::tuple(0, 0.7, -0.7), {1, 0.6, -0.6}, {2, 0.7, -0.6}}) {
    mod::ModState state = *x->mod;
    found->mends[static_cast<size_t>(mend)].apply(state);
    const auto& points = state.models["deckhand"].points;
    EXPECT_NEAR(points[0].position_m[1], left, 1e-9) << mend;
    EXPECT_NEAR(points[1].position_m[1], right, 1e-9) << mend;
    EXPECT_EQ(points[0].pair.empty(), mend == 2);
  }
}

TEST(SetAside, IsKeptInTheModAndCountsNoMore) {
  const auto x = look("first-lamp");
  const Finding* stray = find(*x, "part.stray");
  ASSERT_NE(stray, nullptr);
  auto state = std::make_shared<mod::ModState>(*x->mod);
  setAside(*stray, "wanted").apply(*state);
  setAside(*stray, "wanted still").apply(*state);
  ASSERT_EQ(state->card.set_aside.size(), 1u) << "a second reason replaces the first";
  Examiner examiner(x->folder, x->book);
  const auto after = *examiner.examine(state);
  EXPECT_EQ(after->count(Severity::tidy), x->count(Severity::tidy) - 1);
  EXPECT_TRUE(after->findings.back().set_aside);
  EXPECT_THAT(reportText(*after), HasSubstr("set aside: wanted still"));
  const auto sarif = reportSarif(*after, "0");
  EXPECT_EQ(sarif["runs"][0]["results"].back()["suppressions"][0]["justification"], "wanted still");
  EXPECT_THAT(reportJUnit(*after), HasSubstr("set aside: wanted still"));
  takeUp(after->findings.back()).apply(*state);
  EXPECT_TRUE(state->card.set_aside.empty());
}

TEST(SetAside, WhatStopsTheGameCannotBe) {
  const auto x = look("lamplight", [](mod::ModState& m) {
    kindOf(m, "keeper");
    m.card.set_aside.push_back({"bones.none", "models/quay-lamp.model.json|quay-lamp|||||||", "no"});
  });
  const Finding* none = find(*x, "bones.none");
  ASSERT_NE(none, nullptr);
  EXPECT_EQ(placeKey(none->place), "models/quay-lamp.model.json|quay-lamp|||||||");
  EXPECT_FALSE(none->set_aside);
  EXPECT_GT(x->count(Severity::stops), 0u);
}

TEST(LikelyKind, KnowsTheDemosThings) {
  const auto book = test::shippedBook("kelpwick");
  const auto guess = [&](const std::string& file) {
    const auto read = formats::readModelFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / file);
    EXPECT_TRUE(read) << file;
    return prepare::likelyKind(read->model, *book)->id;
  };
  EXPECT_EQ(guess("examples/mods/first-lamp/sources/quay-lamp/quay_lamp.glb"), "fitting");
  EXPECT_EQ(guess("examples/mods/deckhand/sources/deckhand/deckhand.glb"), "keeper");
  // As wide as a block of the pier is, but finer than the game takes one.
  EXPECT_THAT(guess("examples/downloads/fish_crate.zip"), testing::AnyOf("fitting", "gear"));
  EXPECT_EQ(guess("examples/mods/chandlery/sources/net-mender/net_mender.dae"), "keeper");
  EXPECT_EQ(prepare::likelyKind(scene::Model(), *book), &book->kinds[0])
      << "nothing known: the first, and no crash";
  EXPECT_EQ(prepare::likelyKind(scene::Model(), rulebook::Rulebook()), nullptr);
}

}  // namespace
}  // namespace rakugo::check
