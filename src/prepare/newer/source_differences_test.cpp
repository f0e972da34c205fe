#include "prepare/newer/source_differences.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "prepare/step.h"
#include "support/applied_steps.h"
#include "support/made_rig.h"

namespace rakugo::prepare {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

// A plank of a length at a place, as a part of its own.
void plank(scene::Model& model, const std::string& name, float length, glm::vec3 at, int material) {
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {length, 0, 0}, {length, 1, 0}, {0, 1, 0.2F}};
  p.indices = {0, 1, 2, 0, 2, 3};
  if (material >= 0) p.material = scene::MaterialIndex(static_cast<size_t>(material));
  scene::Node node;
  node.name = name;
  node.local.position = at;
  node.mesh = scene::MeshIndex(model.meshes.size());
  model.roots.emplace_back(model.nodes.size());
  model.nodes.push_back(node);
  model.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{name, {p}, {}, {}, {}}));
}

scene::Model boat(const std::string& mast, const std::string& paint, float mast_length = 4) {
  scene::Model model;
  model.materials.resize(2);
  model.materials[0].name = "oak";
  model.materials[1].name = paint;
  model.materials[1].base_color = {0.5F, 0.1F, 0.1F, 1};
  plank(model, "hull", 6, {0, 0, 0}, 0);
  plank(model, mast, mast_length, {1, 0, 3}, 1);
  plank(model, "rudder", 1, {-3, 0, 0}, 0);
  scene::assignKeys(model);
  return model;
}

mod::ModelDoc preparation() {
  mod::ModelDoc doc;
  doc.steps.push_back(makeStep(doc, "drop", base::Json{{"parts", {"rudder", "mast"}}}));
  doc.steps.push_back(makeStep(doc, "rename", base::Json{{"part", "mast"}, {"name", "Spar"}}));
  doc.steps.push_back(makeStep(doc, "role", base::Json{{"material", "red"}, {"role", "paint"}}));
  return doc;
}

TEST(Newer, TheSameModelDiffersInNothing) {
  EXPECT_TRUE(differenceOf(boat("mast", "red"), boat("mast", "red")).none());
}

TEST(Newer, ARenamedPartIsFoundByShapeAndPlace) {
  const NewerDifference d = differenceOf(boat("mast", "red"), boat("Cylinder.004", "red"));
  ASSERT_EQ(d.parts.size(), 1U);
  EXPECT_EQ(d.parts[0].from, "mast");
  EXPECT_EQ(d.parts[0].to, "Cylinder.004");
  EXPECT_GT(d.parts[0].likeness, 0.85);
  EXPECT_THAT(d.parts_gone, IsEmpty());
  EXPECT_THAT(d.parts_new, IsEmpty());
  EXPECT_THAT(d.sentences(), Contains(HasSubstr("mast is most likely Cylinder.004")));
}

TEST(Newer, AnotherShapeElsewhereIsNoRenaming) {
  scene::Model is = boat("mast", "red");
  is.nodes[1].name = "anchor";
  is.nodes[1].local.position = {-30, 5, -9};
  is.meshes[1] = std::make_shared<const scene::Mesh>(scene::Mesh{"anchor", {}, {}, {}, {}});
  scene::assignKeys(is);
  const NewerDifference d = differenceOf(boat("mast", "red"), is);
  EXPECT_THAT(d.parts, IsEmpty());
  EXPECT_THAT(d.parts_gone, ElementsAre("mast"));
  EXPECT_THAT(d.parts_new, ElementsAre("anchor"));
}

TEST(Newer, AReshapedPartIsSaid) {
  const NewerDifference d = differenceOf(boat("mast", "red"), boat("mast", "red", 5));
  EXPECT_THAT(d.parts_changed, ElementsAre("mast"));
  EXPECT_THAT(d.sentences(), ElementsAre(HasSubstr("Part reshaped: mast")));
}

TEST(Newer, StepsFollowWhatWasRenamedAndNothingElse) {
  const scene::Model was = boat("mast", "red"), is = boat("Cylinder.004", "Red paint");
  const NewerDifference d = differenceOf(was, is);
  mod::ModelDoc doc = preparation();
  const mod::ModelDoc before = doc;
  const std::vector<Misfit> misfits = misfitsOf(doc, is, d);
  ASSERT_EQ(misfits.size(), 3U);
  EXPECT_EQ(misfits[0].missing, "mast");
  EXPECT_EQ(misfits[0].proposal, "Cylinder.004");
  EXPECT_EQ(misfits[2].proposal, "Red paint");
  EXPECT_EQ(misfits[2].what, Reference::material);
  follow(doc, misfits);
  EXPECT_EQ(doc.steps[0].values["parts"], base::Json({"rudder", "Cylinder.004"}));
  EXPECT_EQ(doc.steps[1].values["part"], "Cylinder.004");
  EXPECT_EQ(doc.steps[1].values["name"], "Spar");
  EXPECT_EQ(doc.steps[2].values["material"], "Red paint");
  EXPECT_THAT(misfitsOf(doc, is, d), IsEmpty());
  EXPECT_THAT(misfitsOf(before, was, d), IsEmpty());
}

// A figure of four bones, each called so, at that scale.
scene::Model figure(const std::vector<std::string>& names, float scale = 1) {
  scene::Model model;
  std::vector<test::RigBone> bones = {{names[0], -1, glm::vec3(0, 0, 1) * scale},
                                      {names[1], 0, glm::vec3(0, 0, 1.5F) * scale},
                                      {names[2], 1, glm::vec3(0, 0.4F, 1.4F) * scale},
                                      {names[3], 1, glm::vec3(0, -0.4F, 1.4F) * scale}};
  test::addRig(model, bones);
  scene::Primitive p =
      test::block(glm::vec3(-0.2F, -0.5F, 0.8F) * scale, glm::vec3(0.2F, 0.5F, 1.6F) * scale);
  for (size_t v = 0; v < p.positions.size(); ++v) {
    p.joints.emplace_back(v % 4, 0, 0, 0);
    p.weights.emplace_back(1, 0, 0, 0);
  }
  test::wearRig(model, "tunic", std::move(p));
  return model;
}

TEST(Newer, RenamedBonesAreFoundByPlaceAndTree) {
  const scene::Model was = figure({"Hips", "Chest", "Arm.L", "Arm.R"});
  for (const float scale : {1.0F, 100.0F}) {
    const scene::Model is = figure({"rig:Bone", "rig:Bone.001", "rig:Bone.002", "rig:Bone.003"}, scale);
    const NewerDifference d = differenceOf(was, is);
    ASSERT_EQ(d.bones.size(), 4U) << scale;
    for (const Renamed& r : d.bones)
      EXPECT_EQ(r.to, r.from == "Hips"               ? "rig:Bone"
                      : r.from == "Hips/Chest"       ? "rig:Bone/rig:Bone.001"
                      : r.from == "Hips/Chest/Arm.L" ? "rig:Bone/rig:Bone.001/rig:Bone.002"
                                                     : "rig:Bone/rig:Bone.001/rig:Bone.003")
          << scale;
    EXPECT_THAT(d.bones_gone, IsEmpty());
    EXPECT_THAT(d.bones_new, IsEmpty());
    EXPECT_THAT(d.sentences(), Contains(HasSubstr("Bone Arm.L is most likely rig:Bone.002")));
  }
}

TEST(Newer, StepsOnBonesFollowThem) {
  const scene::Model was = figure({"Hips", "Chest", "Arm.L", "Arm.R"}),
                     is = figure({"Pelvis", "Chest", "Upper.L", "Arm.R"});
  mod::ModelDoc doc;
  doc.steps.push_back(
      makeStep(doc, "name_bones", {{"names", {{"hip", "Hips"}, {"arm.port", "Hips/Chest/Arm.L"}}}}));
  doc.steps.push_back(makeStep(doc, "drop_bones", {{"bones", {"Hips/Chest/Arm.R"}}}));
  doc.steps.push_back(makeStep(doc, "turn_bone", {{"bone", "Hips/Chest"}}));
  doc.steps.push_back(
      makeStep(doc, "turn_bone", {{"bone", "arm.port"}}));  // by the name that the first step gives
  doc.steps.push_back(makeStep(doc, "give_to_bone", {{"bone", "Chest"}, {"pick", {{"part", "tunic"}}}}));
  const auto misfits = misfitsOf(doc, is, differenceOf(was, is));
  ASSERT_EQ(misfits.size(), 4U);
  for (const Misfit& m : misfits) EXPECT_EQ(m.what, Reference::bone);
  follow(doc, misfits);
  EXPECT_EQ(doc.steps[0].values["names"],
            base::Json({{"hip", "Pelvis"}, {"arm.port", "Pelvis/Chest/Upper.L"}}));
  EXPECT_EQ(doc.steps[1].values["bones"], base::Json({"Pelvis/Chest/Arm.R"}));
  EXPECT_EQ(doc.steps[2].values["bone"], "Pelvis/Chest");
  EXPECT_EQ(doc.steps[3].values["bone"], "arm.port");
  EXPECT_EQ(doc.steps[4].values["bone"], "Chest") << "meant by its name, which is still there";
  EXPECT_THAT(misfitsOf(doc, is, differenceOf(was, is)), IsEmpty());
}

TEST(Newer, PicksAndPiecesFollowTheirPart) {
  const NewerDifference d = differenceOf(boat("mast", "red"), boat("Cylinder.004", "Red paint"));
  mod::ModelDoc doc;
  doc.steps.push_back(makeStep(doc, "split", {{"part", "mast"}}));
  doc.steps.push_back(makeStep(doc, "drop", {{"parts", {"mast/piece 2", "hull/piece 1"}}}));
  doc.steps.push_back(makeStep(doc, "move_picked", {{"pick", {{"part", "mast"}, {"material", "red"}}}}));
  const auto misfits = misfitsOf(doc, boat("Cylinder.004", "Red paint"), d);
  ASSERT_EQ(misfits.size(), 4U) << "pieces of a hull that is there are made by the steps";
  follow(doc, misfits);
  EXPECT_EQ(doc.steps[0].values["part"], "Cylinder.004");
  EXPECT_EQ(doc.steps[1].values["parts"], base::Json({"Cylinder.004/piece 2", "hull/piece 1"}));
  EXPECT_EQ(doc.steps[2].values["pick"], base::Json({{"part", "Cylinder.004"}, {"material", "Red paint"}}));
}

TEST(Newer, APartThatIsGoneIsSaidWithoutAProposal) {
  scene::Model is = boat("mast", "red");
  is.roots.pop_back();
  is.nodes.pop_back();
  mod::ModelDoc doc;
  doc.steps.push_back(makeStep(doc, "drop", {{"parts", {"rudder", "rudder/blade"}}}));
  const auto misfits = misfitsOf(doc, is, differenceOf(boat("mast", "red"), is));
  ASSERT_EQ(misfits.size(), 2U);
  EXPECT_EQ(misfits[0].missing, "rudder");
  EXPECT_TRUE(misfits[0].proposal.empty() && misfits[1].proposal.empty());
}

}  // namespace
}  // namespace rakugo::prepare
