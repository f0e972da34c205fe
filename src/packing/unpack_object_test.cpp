// What was built is taken apart again: the same thing in the game's axes, as documents of a mod.
#include "packing/unpack_object.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "mod/piece_tree.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/bundle_donor.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::packing {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

class UnpackObject : public testing::Test {
 protected:
  // A demo mod as a bundle, after a change.
  bundle::Bundle built(const char* name, const std::function<void(mod::ModState&)>& change = nullptr,
                       std::shared_ptr<const rulebook::Rulebook> book = nullptr) {
    x_ = test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name, change, std::move(book));
    BuildOptions options;
    options.despite_findings = true;
    auto made = buildPackage(*x_, options);
    EXPECT_TRUE(made) << made.error().text();
    bytes_ = std::move(made).value();
    return std::move(bundle::Bundle::parse(bytes_, "demo.rkb")).value();
  }
  const scene::Model& prepared(const std::string& model) {
    return *x_->context.models.at(model).prepared.model;
  }
  // A mod of its own, into which things are taken, saved and opened again.
  std::shared_ptr<const check::Examination> taken(const bundle::Bundle& bundle, const std::string& id,
                                                  const std::string& name) {
    const fs::path root = folder_.path() / "mine";
    mod::ModState state = *mod::newMod(root, "Mine", x_->book->id, x_->book->version);
    const auto made = takeObject(root, state, *x_->book, bundle, id, name, "Mine");
    EXPECT_TRUE(made) << made.error().text();
    EXPECT_TRUE(mod::saveMod(root, state, *mod::loadMod(root)));
    return test::examined(root, nullptr, x_->book);
  }
  static void expectSame(const scene::Model& a, const scene::Model& b, float within_m) {
    const geometry::Bounds one = scene::boundsOf(a), other = scene::boundsOf(b);
    for (int i = 0; i < 3; ++i) {
      EXPECT_NEAR(one.min[i], other.min[i], within_m);
      EXPECT_NEAR(one.max[i], other.max[i], within_m);
    }
    EXPECT_EQ(scene::countsOf(a).triangles, scene::countsOf(b).triangles);
  }
  test::TestFolder folder_;
  std::shared_ptr<const check::Examination> x_;
  base::Bytes bytes_;
};

TEST_F(UnpackObject, WhatIsTakenIsReadyAndTheSameThing) {
  const bundle::Bundle bundle = built("lamplight");
  const auto mine = taken(bundle, "quay-lamp", "my-lamp");
  ASSERT_TRUE(mine->mod->models.contains("my-lamp"));
  expectSame(*mine->context.models.at("my-lamp").prepared.model, prepared("quay-lamp"), 1e-4F);
  const mod::ObjectDoc &ours = mine->mod->objects.at("my-lamp"), &theirs = x_->mod->objects.at("quay-lamp");
  EXPECT_EQ(ours.card, theirs.card);
  EXPECT_EQ(ours.title, "Mine");
  EXPECT_EQ(ours.kind, theirs.kind);
  // Roles, points and the icon are there; nothing is left to do.
  ASSERT_EQ(mine->mod->models.at("my-lamp").points.size(), 1U);
  EXPECT_NEAR(mine->mod->models.at("my-lamp").points[0].position_m[2], 1.938, 1e-4);
  for (const check::Finding& f : mine->findings)
    EXPECT_NE(f.severity, check::Severity::stops) << f.check << ": " << f.sentence;
  std::multiset<std::string> ours_roles, their_roles;
  for (const scene::Material& m : mine->context.models.at("my-lamp").prepared.model->materials)
    ours_roles.insert(m.role);
  for (const scene::MaterialIndex i : scene::usedMaterials(prepared("quay-lamp")))
    their_roles.insert(prepared("quay-lamp").materials[i.value()].role);
  EXPECT_EQ(ours_roles, their_roles);
  EXPECT_TRUE(mine->mod->icons.contains("icons/my-lamp.png"));
  const mod::SourceDoc& source = mine->mod->sources.begin()->second;
  EXPECT_THAT(source.author, HasSubstr("Brandvold"));
  // And it builds into the same thing again.
  const auto again = buildPackage(*mine);
  ASSERT_TRUE(again) << again.error().text();
}

TEST_F(UnpackObject, PiecesLampsShapesAndListsComeAlong) {
  const auto change = [](mod::ModState& s) {
    mod::ObjectDoc& lamp = s.objects["quay-lamp"];
    mod::PieceDoc light{"light", "", {0.4, 0, 1.9}, {0, 0, 0, 1}, "lamp"};
    light.sort = "lamp";
    light.values =
        base::Json{{"strength", 55}, {"reach_m", 7.5}, {"lit", "always"}, {"color", {0.5, 0.25, 1}}};
    mod::PieceDoc body{"body", "", {0, 0, 1}, {0, 0, 0, 1}, "fitting-body"};
    body.sort = "shape";
    body.values =
        base::Json{{"form", "box"}, {"length_m", 0.4}, {"width_m", 0.5}, {"height_m", 2}, {"bounce", 0.35}};
    mod::PieceDoc smoke{"smoke", "", {0, 0.1, 2.2}, {0, 0, 0, 1}, "smoke"};
    smoke.sort = "emitter";
    smoke.values = base::Json{{"rate", 11}, {"life_s", 2.5}, {"size_m", 0.125}};
    for (const mod::PieceDoc& piece : {light, body, smoke}) lamp.pieces.push_back(piece);
    lamp.lists.push_back({"chandlery", base::Json{{"stock", 4}}});
    lamp.replaces = "harbour/market-stall";
  };
  const bundle::Bundle bundle = built("lamplight", change);
  const auto mine = taken(bundle, "quay-lamp", "my-lamp");
  const mod::ObjectDoc& ours = mine->mod->objects.at("my-lamp");
  const auto* light = mod::findPiece(ours, "light");
  ASSERT_NE(light, nullptr);
  EXPECT_EQ(light->sort, "lamp");
  EXPECT_EQ(light->as, "lamp");
  EXPECT_EQ(light->position_m[0], 0.4);
  EXPECT_EQ(light->values["strength"], 55);
  EXPECT_EQ(light->values["reach_m"], 7.5);
  EXPECT_EQ(light->values["lit"], "always");
  for (size_t i = 0; i < 3; ++i)
    EXPECT_NEAR(light->values["color"][i].get<double>(), (std::array{0.5, 0.25, 1.0}[i]), 1e-3);
  const auto* body = mod::findPiece(ours, "body");
  ASSERT_NE(body, nullptr);
  EXPECT_EQ(body->values["form"], "box");
  EXPECT_EQ(body->values["height_m"], 2);
  EXPECT_EQ(body->values["bounce"], 0.35);
  const auto* smoke = mod::findPiece(ours, "smoke");
  ASSERT_NE(smoke, nullptr);
  EXPECT_EQ(smoke->values["rate"], 11);
  EXPECT_EQ(smoke->values["size_m"], 0.125);
  ASSERT_EQ(ours.lists.size(), 1U);
  EXPECT_EQ(ours.lists[0].list, "chandlery");
  EXPECT_EQ(ours.lists[0].values["stock"], 4);
  EXPECT_EQ(ours.replaces, "") << "what is begun from does not take its place";
}

TEST_F(UnpackObject, MovingPartsAndTextsComeAlongAndAreCalledAnew) {
  for (const bool right_handed : {true, false}) {
    auto book = std::make_shared<rulebook::Rulebook>(*test::shippedBook("kelpwick"));
    book->right_handed = right_handed;
    for (rulebook::Kind& kind : book->kinds)
      if (kind.id == "fitting") {
        rulebook::Field says;
        says.id = "says";
        says.type = rulebook::FieldType::text_id;
        kind.fields.push_back(says);
      }
    std::string part;
    x_ = test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight", nullptr, book);
    const bundle::Bundle bundle = built(
        "lamplight",
        [&](mod::ModState& s) {
          mod::ObjectDoc& lamp = s.objects["quay-lamp"];
          mod::PieceDoc turns{"turns", "", {0, 0.2, 1.5}, {0, 0.38268343, 0, 0.92387953}, "turning-part"};
          turns.sort = "moving";
          turns.parent = lamp.pieces.front().name;
          turns.values =
              base::Json{{"moves", "swings"}, {"rate", 0.75}, {"runs", "night"}, {"span_deg", {-15, 45}}};
          const scene::Model& model = prepared("quay-lamp");
          for (const scene::NodeIndex node : scene::reachedNodes(model))
            if (model.node(node).mesh.valid())
              turns.values["part"] = model.node(node).key, part = model.node(node).name;
          lamp.pieces.push_back(turns);
          lamp.card["says"] = "text/quay-lamp/hum";
          s.texts["en"].texts["text/quay-lamp/hum"] = "Hmm.";
          s.texts["de"].texts["text/quay-lamp/hum"] = "Brumm.";
        },
        book);
    const auto mine = taken(bundle, "quay-lamp", right_handed ? "my-lamp" : "my-other-lamp");
    const std::string name = right_handed ? "my-lamp" : "my-other-lamp";
    const mod::ObjectDoc& ours = mine->mod->objects.at(name);
    const auto* turns = mod::findPiece(ours, "turns");
    ASSERT_NE(turns, nullptr);
    EXPECT_EQ(turns->as, "turning-part");
    EXPECT_EQ(turns->values["moves"], "swings");
    EXPECT_NEAR(turns->values["rate"].get<double>(), 0.75, 1e-6);
    EXPECT_NEAR(turns->values["span_deg"][0].get<double>(), -15, 1e-3);
    EXPECT_NEAR(turns->values["span_deg"][1].get<double>(), 45, 1e-3);
    EXPECT_NEAR(turns->position_m[1], 0.2, 1e-5);
    EXPECT_NEAR(turns->turn[1], 0.38268343, 1e-5);
    const scene::Model& model = *mine->context.models.at(name).prepared.model;
    const scene::NodeIndex moved = scene::findPart(model, turns->values["part"].get<std::string>());
    ASSERT_TRUE(moved.valid()) << turns->values["part"];
    EXPECT_EQ(model.node(moved).name, part);
    EXPECT_EQ(ours.card["says"], "text/" + name + "/hum");
    EXPECT_EQ(mine->mod->texts.at("en").texts.at("text/" + name + "/hum"), "Hmm.");
    EXPECT_EQ(mine->mod->texts.at("de").texts.at("text/" + name + "/hum"), "Brumm.");
    fs::remove_all(folder_.path() / "mine");
  }
}

TEST_F(UnpackObject, AnObjectOfABundleGivesItsSetUpAsAnyOtherDoes) {
  const bundle::Bundle bundle = built("lamplight", [](mod::ModState& s) {
    mod::PieceDoc light{"light", "", {0.4, 0, 1.9}, {0, 0, 0, 1}, "lamp"};
    light.sort = "lamp";
    s.objects["quay-lamp"].pieces.push_back(light);
  });
  const auto donor = donorOf(bundle, "quay-lamp", *x_->book);
  ASSERT_TRUE(donor) << donor.error().text();
  EXPECT_NEAR(donor->body.box_m.max.z, scene::boundsOf(prepared("quay-lamp")).max.z, 1e-4F);
  // A lamp of the same model that has lost everything takes it back.
  mod::ModState bare = *x_->mod;
  bare.objects["quay-lamp"].card = base::Json::object();
  bare.objects["quay-lamp"].pieces.resize(1);
  bare.models["quay-lamp"].points.clear();
  std::erase_if(bare.models["quay-lamp"].steps, [](const mod::StepDoc& step) { return step.kind == "role"; });
  prepare::DonorBody body = prepare::donorBodyOf(prepared("quay-lamp"));
  for (prepare::DonorMaterial& one : body.materials) one.role.clear();
  const mod::ModState before = bare;
  const prepare::DonorSide taker{before, "quay-lamp", body};
  const std::vector<prepare::DonorOffer> offers = prepare::donorOffers(*x_->book, taker, donor->side());
  ASSERT_TRUE(prepare::takeSetUp(bare, *x_->book, taker, donor->side(), offers));
  const mod::ObjectDoc& now = std::as_const(bare.objects).at("quay-lamp");
  EXPECT_EQ(now.card, x_->mod->objects.at("quay-lamp").card);
  ASSERT_NE(mod::findPiece(now, "light"), nullptr);
  EXPECT_NEAR(mod::findPiece(now, "light")->position_m[2], 1.9, 1e-4);
  EXPECT_EQ(std::as_const(bare.models).at("quay-lamp").points.size(), 1U);
  std::set<std::string> roles;
  for (const mod::StepDoc& step : std::as_const(bare.models).at("quay-lamp").steps)
    if (step.kind == "role") roles.insert(step.values["role"].get<std::string>());
  EXPECT_EQ(roles.count("lamp"), 1U);
  EXPECT_FALSE(donorOf(bundle, "none", *x_->book));
}

TEST_F(UnpackObject, ALeftHandedGameInCentimetresIsTakenTheRightWayRound) {
  auto book = std::make_shared<rulebook::Rulebook>(*test::shippedBook("kelpwick"));
  book->right_handed = false;
  book->unit_m = 0.01;
  const bundle::Bundle bundle = built("lamplight", nullptr, book);
  const auto made = unpackObject(bundle, "quay-lamp", *book);
  ASSERT_TRUE(made) << made.error().text();
  ASSERT_EQ(made->models.size(), 1U);
  expectSame(made->models[0].model, prepared("quay-lamp"), 1e-4F);
  // Triangles face outward still: what they enclose is not turned inside out.
  const auto enclosed = [](const scene::Model& model) {
    const auto world = scene::worldMatrices(model);
    double out = 0;
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
        for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
          glm::dvec3 c[3];
          for (size_t k = 0; k < 3; ++k)
            c[k] = glm::dvec3(glm::vec3(world[i.value()] * glm::vec4(p.positions[p.indices[t + k]], 1)));
          out += glm::dot(c[0], glm::cross(c[1], c[2])) / 6;
        }
    }
    return out;
  };
  EXPECT_NEAR(enclosed(made->models[0].model), enclosed(prepared("quay-lamp")), 1e-5);
}

TEST_F(UnpackObject, AFigureIsTakenAtRestAndSaysSo) {
  const bundle::Bundle bundle = built("newcomer");
  const auto made = unpackObject(bundle, "boatswain", *x_->book);
  ASSERT_TRUE(made) << made.error().text();
  EXPECT_THAT(made->lost, testing::Contains(HasSubstr("bones")));
  expectSame(made->models[0].model, prepared("boatswain"), 2e-3F);
}

TEST_F(UnpackObject, WhatTheGameShipsOfItsOwnCanBeTaken) {
  const auto book = test::shippedBook("kelpwick");
  ASSERT_FALSE(book->own_things.empty());
  const auto bundle = bundle::Bundle::open(book->folder / book->own_things);
  ASSERT_TRUE(bundle) << bundle.error().text();
  EXPECT_TRUE(bundle->verify().empty());
  x_ = test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight");
  const auto mine = taken(*bundle, "market-stall", "my-stall");
  for (const check::Finding& f : mine->findings)
    EXPECT_EQ(f.severity, check::Severity::tidy) << f.check << ": " << f.sentence;
  EXPECT_FALSE(iconIn(*bundle, "market-stall").empty());
  const auto none = unpackObject(*bundle, "lighthouse", *book);
  ASSERT_FALSE(none);
  EXPECT_EQ(none.error().code, "bundle.no_object");
  EXPECT_THAT(none.error().text(), HasSubstr("market-stall"));
}

TEST_F(UnpackObject, ATakenNameIsRefusedAndNothingIsLeft) {
  const bundle::Bundle bundle = built("lamplight");
  const fs::path root = folder_.path() / "mine";
  mod::ModState state = *mod::newMod(root, "Mine", "kelpwick", "1.0.0");
  ASSERT_TRUE(takeObject(root, state, *x_->book, bundle, "quay-lamp", "lamp", ""));
  const auto texts = mod::documentTexts(state);
  EXPECT_EQ(takeObject(root, state, *x_->book, bundle, "quay-lamp", "lamp", "").error().code, "mod.taken");
  EXPECT_EQ(takeObject(root, state, *x_->book, bundle, "quay-lamp", "A Lamp", "").error().code, "mod.name");
  EXPECT_EQ(mod::documentTexts(state), texts);
}

}  // namespace
}  // namespace rakugo::packing
