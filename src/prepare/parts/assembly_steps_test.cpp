// Steps on parts: taken apart, put together, copied, mirrored, freed.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "scene/pose.h"
#include "scene/rest_pose.h"
#include "support/applied_steps.h"
#include "support/made_rig.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;
using test::applyStep;
using test::block;
using testing::ElementsAre;

NodeIndex add(scene::Model& model, const std::string& name, NodeIndex parent,
              std::vector<scene::Primitive> primitives) {
  scene::Node node;
  node.name = name;
  node.parent = parent;
  if (!primitives.empty()) {
    scene::Mesh mesh;
    mesh.primitives = std::move(primitives);
    node.mesh = scene::MeshIndex(model.meshes.size());
    model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  }
  const NodeIndex at(model.nodes.size());
  model.nodes.push_back(node);
  (parent.valid() ? model.node(parent).children : model.roots).push_back(at);
  return at;
}

// A cart: a turned and scaled frame with a bed of two materials and two loose pieces, and two wheels.
scene::Model cart() {
  scene::Model model;
  model.materials.resize(2);
  model.materials[0].name = "wood";
  model.materials[1].name = "iron";
  const NodeIndex frame = add(model, "frame", {}, {});
  model.node(frame).local.position = {1, 2, 3};
  model.node(frame).local.turn = glm::angleAxis(0.7F, glm::vec3(0, 0, 1));
  model.node(frame).local.scale = glm::vec3(2);
  scene::Primitive wood = block({0, 0, 0}, {1, 1, 1}, scene::MaterialIndex(0));
  const scene::Primitive more = block({3, 0, 0}, {4, 1, 1}, scene::MaterialIndex(0));
  for (const uint32_t i : more.indices) wood.indices.push_back(i + 8);
  wood.positions.insert(wood.positions.end(), more.positions.begin(), more.positions.end());
  wood.normals.insert(wood.normals.end(), more.normals.begin(), more.normals.end());
  // An iron band whose corners lie on the first block's: one piece with it.
  add(model, "bed", frame, {wood, block({0, 0, 1}, {1, 1, 1.5F}, scene::MaterialIndex(1))});
  const NodeIndex left = add(model, "wheel", frame, {block({0, 2, 0}, {1, 3, 1}, scene::MaterialIndex(1))});
  model.node(left).local.position = {0, 1, 0};
  add(model, "seat", {}, {block({-1, -1, 5}, {1, 1, 6})});
  scene::assignKeys(model);
  return model;
}

std::vector<std::string> keys(const scene::Model& model) {
  std::vector<std::string> out;
  for (const NodeIndex i : scene::reachedNodes(model)) out.push_back(model.node(i).key);
  return out;
}

const scene::Node& node(const scene::Model& model, const std::string& key) {
  return model.node(scene::findPart(model, key));
}

// What may not change when parts are only sorted anew.
struct Body {
  double area = 0, volume = 0;
  uint64_t triangles = 0;
  glm::vec3 min{0}, max{0};
};
Body bodyOf(const scene::Model& model) {
  Body out;
  const auto box = scene::boundsOf(model);
  out.min = box.min;
  out.max = box.max;
  for (const auto& s : scene::structureOf(model).value()) {
    out.area += s.area_m2;
    out.volume += s.volume_m3.value_or(0);
    out.triangles += s.triangles;
  }
  return out;
}
void expectSame(const Body& a, const Body& b) {
  EXPECT_NEAR(a.area, b.area, 1e-3);
  EXPECT_NEAR(a.volume, b.volume, 1e-3);
  EXPECT_EQ(a.triangles, b.triangles);
  EXPECT_LT(glm::distance(a.min, b.min) + glm::distance(a.max, b.max), 1e-4F);
}

TEST(AssemblySteps, LoosePiecesBecomePartsBelow) {
  scene::Model model = cart();
  const Body before = bodyOf(model);
  EXPECT_EQ(applyStep(model, "split", Json{{"part", "frame/bed"}, {"by", "piece"}}).did, "2 parts");
  EXPECT_THAT(keys(model), ElementsAre("frame", "frame/bed", "frame/bed/piece 1", "frame/bed/piece 2",
                                       "frame/wheel", "seat"));
  EXPECT_FALSE(node(model, "frame/bed").mesh.valid());
  EXPECT_EQ(model.mesh(node(model, "frame/bed/piece 1").mesh).primitives.size(), 2U) << "with its band";
  EXPECT_EQ(model.mesh(node(model, "frame/bed/piece 2").mesh).primitives.size(), 1U);
  expectSame(bodyOf(model), before);
  EXPECT_EQ(applyStep(model, "split", Json{{"part", "frame/bed/piece 2"}, {"by", "piece"}}).did, "it is one");
}

TEST(AssemblySteps, MaterialsBecomePartsNamedAfterThem) {
  scene::Model model = cart();
  const Body before = bodyOf(model);
  EXPECT_EQ(applyStep(model, "split", Json{{"part", "frame/bed"}, {"by", "material"}}).did, "2 parts");
  EXPECT_TRUE(scene::findPart(model, "frame/bed/wood").valid());
  EXPECT_TRUE(scene::findPart(model, "frame/bed/iron").valid());
  Body after = bodyOf(model);
  // Where block and band lay on each other four faces met at an edge, so that they held nothing; now each is
  // closed: 1 + 0.5, twice as long each way.
  EXPECT_NEAR(after.volume, before.volume + 12, 1e-3);
  after.volume = before.volume;
  expectSame(after, before);
}

TEST(AssemblySteps, WhatIsJoinedStandsWhereItStoodInThePlaceOfTheFirst) {
  scene::Model model = cart();
  const Body before = bodyOf(model);
  const auto out = applyStep(model, "join", Json{{"parts", {"frame/wheel", "frame/bed", "seat"}}});
  EXPECT_EQ(out.did, "3 parts");
  EXPECT_EQ(out.state, StepState::good);
  EXPECT_THAT(keys(model), ElementsAre("frame", "frame/wheel"));
  // Iron goes to iron; wood and the seat's none are primitives of their own.
  EXPECT_EQ(model.mesh(node(model, "frame/wheel").mesh).primitives.size(), 3U);
  expectSame(bodyOf(model), before);
}

TEST(AssemblySteps, JoiningWhatWasSplitGivesTheSameBody) {
  scene::Model model = cart();
  const Body before = bodyOf(model);
  applyStep(model, "split", Json{{"part", "frame/bed"}, {"by", "piece"}});
  applyStep(model, "join", Json{{"parts", {"frame/bed/piece 1", "frame/bed/piece 2"}}});
  expectSame(bodyOf(model), before);
  EXPECT_EQ(scene::countsOf(model).parts, 3U);
}

TEST(AssemblySteps, AMirrorImageFacesOutward) {
  scene::Model model = cart();
  const auto before = scene::boundsOf(model);
  EXPECT_EQ(applyStep(model, "mirror", Json{{"part", "frame/wheel"}, {"axis", "y"}}).state, StepState::good);
  const auto world = scene::worldMatrices(model);
  const auto own = scene::partBounds(model, scene::findPart(model, "frame/wheel"), world),
             image = scene::partBounds(model, scene::findPart(model, "frame/wheel mirrored"), world);
  EXPECT_NEAR(image.min.y, -own.max.y, 1e-5);
  EXPECT_NEAR(image.max.y, -own.min.y, 1e-5);
  EXPECT_NEAR(image.min.x, own.min.x, 1e-5);
  EXPECT_EQ(scene::boundsOf(model).max.z, before.max.z);
  for (const auto& s : scene::structureOf(model).value())
    for (const auto code : {scene::FaultCode::inside_out_shells, scene::FaultCode::normals_bad})
      EXPECT_EQ(s.fault(code).count, 0U) << model.node(s.node).key;
}

TEST(AssemblySteps, ACopyStandsAsFarOffAsItIsTold) {
  scene::Model model = cart();
  applyStep(model, "duplicate", Json{{"part", "frame/wheel"}, {"by", {10.0, 0.0, -1.0}}});
  applyStep(model, "duplicate", Json{{"part", "frame/wheel"}, {"by", {20.0, 0.0, 0.0}}});
  const auto world = scene::worldMatrices(model);
  const auto own = scene::partBounds(model, scene::findPart(model, "frame/wheel"), world),
             copy = scene::partBounds(model, scene::findPart(model, "frame/wheel#2"), world);
  EXPECT_LT(glm::distance(copy.min, own.min + glm::vec3(10, 0, -1)), 1e-4F);
  EXPECT_LT(glm::distance(copy.max, own.max + glm::vec3(10, 0, -1)), 1e-4F);
  EXPECT_TRUE(scene::findPart(model, "frame/wheel#3").valid());
  EXPECT_EQ(applyStep(model, "duplicate", Json{{"part", "frame/wheel"}, {"by", {1, 2}}}).state,
            StepState::wrong);
}

TEST(AssemblySteps, OneWheelIsKeptAndFreed) {
  scene::Model model = cart();
  const auto world = scene::worldMatrices(model);
  const auto before = scene::partBounds(model, scene::findPart(model, "frame/wheel"), world);
  EXPECT_EQ(applyStep(model, "keep", Json{{"parts", {"frame/wheel"}}}).did, "2 parts dropped");
  EXPECT_THAT(keys(model), ElementsAre("frame", "frame/wheel"));
  EXPECT_EQ(applyStep(model, "free", Json{{"parts", {"frame/wheel"}}}).did, "1 part");
  EXPECT_THAT(keys(model), ElementsAre("frame", "frame/wheel")) << "its key stays";
  EXPECT_FALSE(node(model, "frame/wheel").parent.valid());
  const auto after =
      scene::partBounds(model, scene::findPart(model, "frame/wheel"), scene::worldMatrices(model));
  EXPECT_LT(glm::distance(before.min, after.min) + glm::distance(before.max, after.max), 1e-4F);
}

TEST(PivotStep, ThePartAndWhatHangsOnItStay) {
  for (const auto& [to, point] : std::vector<std::pair<std::string, glm::vec3>>{
           {"centre", {}}, {"floor_centre", {}}, {"point", {4, -1, 2}}}) {
    scene::Model model = cart();
    // A hub hangs on the wheel; the wheel's mesh is worn twice.
    const NodeIndex wheel = scene::findPart(model, "frame/wheel");
    add(model, "hub", wheel, {block({0, 2.4F, 0}, {1, 2.6F, 1})});
    const NodeIndex other = add(model, "spare", {}, {});
    model.node(other).mesh = model.node(wheel).mesh;
    scene::assignKeys(model);
    const auto world_before = scene::worldMatrices(model);
    const geometry::Bounds box = scene::partBounds(model, wheel, world_before);
    geometry::Bounds whole = box;
    whole.add(scene::partBounds(model, scene::findPart(model, "frame/wheel/hub"), world_before));
    const auto boundsOfAll = [&] {
      const auto world = scene::worldMatrices(model);
      std::vector<glm::vec3> out;
      for (const NodeIndex i : scene::reachedNodes(model))
        if (model.node(i).mesh.valid()) {
          out.push_back(scene::partBounds(model, i, world).min);
          out.push_back(scene::partBounds(model, i, world).max);
        }
      return out;
    };
    const std::vector<glm::vec3> before = boundsOfAll();
    Json values{{"part", "frame/wheel"}, {"to", to}};
    if (to == "point") values["point"] = {point.x, point.y, point.z};
    ASSERT_EQ(applyStep(model, "pivot", values).state, StepState::good) << to;
    const std::vector<glm::vec3> after = boundsOfAll();
    for (size_t i = 0; i < before.size(); ++i) EXPECT_LT(glm::distance(before[i], after[i]), 1e-5F) << to;
    glm::vec3 wanted = point;
    if (to != "point") wanted = whole.center();
    if (to == "floor_centre") wanted.y = whole.min.y;  // not turned to the game yet: Y is up
    const glm::vec3 pivot(scene::worldMatrices(model)[wheel.value()][3]);
    EXPECT_LT(glm::distance(pivot, wanted), 1e-5F) << to;
    EXPECT_EQ(glm::mat3(scene::worldMatrices(model)[wheel.value()]), glm::mat3(world_before[wheel.value()]));
    // Once more: nothing left to do.
    const scene::Model once = model;
    EXPECT_EQ(applyStep(model, "pivot", values).did, "already there");
    EXPECT_EQ(model.meshes, once.meshes);
  }
}

TEST(PivotStep, SaysWhenItCannot) {
  scene::Model model = cart();
  EXPECT_EQ(applyStep(model, "pivot", Json{{"part", "mast"}, {"to", "centre"}}).state, StepState::missed);
  EXPECT_EQ(applyStep(model, "pivot", Json{{"part", "frame"}, {"to", "mast"}}).state, StepState::wrong);
  EXPECT_EQ(applyStep(model, "pivot", Json{{"part", "frame"}, {"to", "point"}}).state, StepState::wrong);
  const NodeIndex wheel = scene::findPart(model, "frame/wheel");
  scene::Animation turning;
  turning.channels.push_back({wheel, {}, {}, {}, {}});
  model.animations.push_back(turning);
  const scene::Model before = model;
  const StepOutcome out = applyStep(model, "pivot", Json{{"part", "frame/wheel"}, {"to", "centre"}});
  EXPECT_EQ(out.state, StepState::missed);
  EXPECT_NE(out.misses.at(0).find("follows bones or moves"), std::string::npos);
  EXPECT_EQ(model.meshes, before.meshes);
}

TEST(StretchStep, EveryVertexStandsWhereTheStretchPutsIt) {
  static const rulebook::Rulebook kBook;  // up +Z, forward +X; the model is not turned yet: up +Y, forward +Z
  for (const auto& [along, axis] : {std::pair("length", 2), std::pair("width", 0), std::pair("height", 1)}) {
    scene::Model model = cart();
    // Two parts that share a mesh, turned differently.
    model.node(scene::findPart(model, "seat")).mesh = node(model, "frame/wheel").mesh;
    const scene::Model before = model;
    ASSERT_EQ(applyStep(model, "stretch", Json{{"along", along}, {"factor", 2.5}}).state, StepState::good);
    const auto old_world = scene::worldMatrices(before), world = scene::worldMatrices(model);
    for (const NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      const auto& was = before.mesh(before.node(i).mesh).primitives;
      const auto& is = model.mesh(model.node(i).mesh).primitives;
      for (size_t k = 0; k < is.size(); ++k)
        for (size_t v = 0; v < is[k].positions.size(); ++v) {
          glm::vec3 wanted(old_world[i.value()] * glm::vec4(was[k].positions[v], 1));
          wanted[axis] *= 2.5F;
          const glm::vec3 got(world[i.value()] * glm::vec4(is[k].positions[v], 1));
          ASSERT_LT(glm::distance(wanted, got), 1e-4F) << along << " " << model.node(i).key;
        }
    }
    for (const auto& s : scene::structureOf(model).value())
      EXPECT_EQ(s.fault(scene::FaultCode::normals_bad).count, 0U);
  }
}

TEST(StretchStep, BonesTheirSkinAndMovementsGoAlong) {
  for (const auto& [along, axis] : {std::pair("length", 2), std::pair("width", 0), std::pair("height", 1)}) {
    scene::Model model;
    const size_t hip =
        test::addRig(model, {{"hip", -1, {0, 1, 0}}, {"knee", 0, {0.1F, 0.5F, 0.1F}}, {"foot", 1, {0, 0, 0}}},
                     glm::angleAxis(0.9F, glm::normalize(glm::vec3(1, 2, 3))));
    // Bound in another pose than the one it rests in.
    model.nodes[hip + 1].local.turn =
        glm::angleAxis(0.3F, glm::vec3(1, 0, 0)) * model.nodes[hip + 1].local.turn;
    scene::Primitive skin = block({-0.2F, 0, -0.2F}, {0.2F, 1.2F, 0.2F});
    for (size_t v = 0; v < skin.positions.size(); ++v) {
      skin.joints.emplace_back(0, 1, 2, 0);
      skin.weights.emplace_back(0.5F, 0.25F, 0.25F, 0);
    }
    test::wearRig(model, "leg", std::move(skin));
    scene::Animation step;
    const scene::Placement& knee = model.nodes[hip + 1].local;
    step.channels.push_back({NodeIndex(hip + 1),
                             scene::AnimatedPath::position,
                             {},
                             {0, 1},
                             {knee.position.x, knee.position.y, knee.position.z, 0.3F, 0.1F, -0.2F}});
    model.animations.push_back(step);
    // Everything as it stands at rest, and as the animation begins and ends.
    const auto places = [&](const scene::Model& m, std::optional<float> at_s) {
      scene::Model posed = m;
      scene::Pose pose = scene::restPose(m);
      if (at_s) scene::poseAt(m.animations[0], *at_s, pose);
      for (size_t i = 0; i < pose.size(); ++i) posed.nodes[i].local = pose[i];
      const auto world = scene::worldMatrices(posed);
      std::vector<glm::vec3> out =
          scene::restMesh(posed, scene::findPart(posed, "leg"), world)->primitives[0].positions;
      for (size_t i = 0; i < 3; ++i) out.emplace_back(world[hip + i][3]);
      return out;
    };
    const scene::Model before = model;
    ASSERT_EQ(applyStep(model, "stretch", Json{{"along", along}, {"factor", 2.5}}).state, StepState::good);
    for (const std::optional<float> at_s : {std::optional<float>(), {0.0F}, {1.0F}}) {
      auto wanted = places(before, at_s);
      const auto got = places(model, at_s);
      for (size_t i = 0; i < wanted.size(); ++i) {
        wanted[i][axis] *= 2.5F;
        EXPECT_LT(glm::distance(wanted[i], got[i]), 1e-4F) << along << " " << i;
      }
    }
    // Bones keep what their turns mean to the game's movements.
    for (size_t i = 0; i < 3; ++i)
      EXPECT_EQ(model.nodes[hip + i].local.turn, before.nodes[hip + i].local.turn);
  }
}

TEST(StretchStep, NonsenseIsSaid) {
  scene::Model model = cart();
  EXPECT_EQ(applyStep(model, "stretch", Json{{"along", "depth"}, {"factor", 2}}).state, StepState::wrong);
  EXPECT_EQ(applyStep(model, "stretch", Json{{"along", "width"}, {"factor", 0}}).state, StepState::wrong);
}

TEST(AssemblySteps, WhatIsNotThereAnyMoreIsSaidAndNothingIsLost) {
  scene::Model model = cart();
  for (const char* kind : {"keep", "free", "join"}) {
    const auto out = applyStep(model, kind, Json{{"parts", {"frame/sail"}}});
    EXPECT_EQ(out.state, StepState::missed) << kind;
    EXPECT_EQ(out.misses.size(), 1U) << kind;
  }
  for (const char* kind : {"split", "duplicate", "mirror"})
    EXPECT_EQ(applyStep(model, kind, Json{{"part", "frame/sail"}}).state, StepState::missed) << kind;
  EXPECT_EQ(keys(model), keys(cart()));
  EXPECT_EQ(applyStep(model, "split", Json{{"part", "frame"}, {"by", "piece"}}).state, StepState::missed);
  EXPECT_EQ(applyStep(model, "split", Json{{"part", "frame/bed"}, {"by", "colour"}}).state, StepState::wrong);
  EXPECT_EQ(applyStep(model, "keep", Json{{"parts", Json::array()}}).state, StepState::wrong);
}

TEST(AssemblySteps, BonesAndWhatMovesStay) {
  scene::Model model = cart();
  scene::Skin skin;
  skin.joints = {scene::findPart(model, "frame/wheel")};
  skin.inverse_bind = {glm::mat4(1)};
  model.skins.push_back(skin);
  EXPECT_EQ(applyStep(model, "free", Json{{"parts", {"frame/wheel"}}}).state, StepState::missed);
  applyStep(model, "keep", Json{{"parts", {"seat"}}});
  EXPECT_THAT(keys(model), ElementsAre("frame", "frame/wheel", "seat"));
}

}  // namespace
}  // namespace rakugo::prepare
