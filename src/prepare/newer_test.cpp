#include "prepare/newer.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "prepare/step.h"

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
  EXPECT_TRUE(misfits[2].material);
  follow(doc, misfits);
  EXPECT_EQ(doc.steps[0].values["parts"], base::Json({"rudder", "Cylinder.004"}));
  EXPECT_EQ(doc.steps[1].values["part"], "Cylinder.004");
  EXPECT_EQ(doc.steps[1].values["name"], "Spar");
  EXPECT_EQ(doc.steps[2].values["material"], "Red paint");
  EXPECT_THAT(misfitsOf(doc, is, d), IsEmpty());
  EXPECT_THAT(misfitsOf(before, was, d), IsEmpty());
}

}  // namespace
}  // namespace rakugo::prepare
