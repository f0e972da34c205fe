#include "prepare/edit_steps.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace rakugo::prepare {
namespace {

using base::Json;
using geometry::Axis;

mod::ModelDoc with(const std::vector<std::pair<std::string, Json>>& steps) {
  mod::ModelDoc doc;
  for (const auto& [kind, values] : steps) doc.steps.push_back(makeStep(doc, kind, values));
  return doc;
}

TEST(SetOrAddStep, ChangesTheEnabledOneAndAddsWhereThereIsNone) {
  mod::ModelDoc doc = with({{"read_lengths", {{"unit", "mm"}}}, {"read_lengths", {{"unit", "in"}}}});
  doc.steps[0].enabled = false;
  setOrAddStep(doc, "read_lengths", Json{{"unit", "cm"}});
  EXPECT_EQ(doc.steps[0].values["unit"], "mm");
  EXPECT_EQ(doc.steps[1].values["unit"], "cm");
  setOrAddStep(doc, "bake", Json::object());
  setOrAddStep(doc, "turn", Json{{"forward", "-X"}});
  ASSERT_EQ(doc.steps.size(), 4u);
  EXPECT_EQ(doc.steps[2].kind, "turn") << "by rank";
  EXPECT_EQ(doc.steps[2].values["up"], "+Y") << "with its defaults";
}

TEST(DropParts, NamesEachPartOnceAndMendsABrokenList) {
  mod::ModelDoc doc;
  dropParts(doc, {"a", "b"});
  dropParts(doc, {"b", "c"});
  ASSERT_EQ(doc.steps.size(), 1u);
  EXPECT_EQ(doc.steps[0].values["parts"], Json::array({"a", "b", "c"}));
  doc.steps[0].values["parts"] = "nonsense";
  dropParts(doc, {"d"});
  EXPECT_EQ(doc.steps[0].values["parts"], Json::array({"d"}));
}

TEST(ScaleBy, MultipliesOneStep) {
  mod::ModelDoc doc;
  scaleBy(doc, 2);
  scaleBy(doc, 1.5);
  ASSERT_EQ(doc.steps.size(), 1u);
  EXPECT_DOUBLE_EQ(doc.steps[0].values["factor"].get<double>(), 3);
  doc.steps[0].values["factor"] = "two";
  scaleBy(doc, 4);
  EXPECT_DOUBLE_EQ(doc.steps[0].values["factor"].get<double>(), 4);
}

// Whatever side is named, and whatever turn is there already: after the new turn that side faces the game's
// forward.
TEST(TurnToFace, BringsEveryDirectionForwardThroughEveryTurn) {
  rulebook::Rulebook book;
  scene::Frame before;
  for (const Axis old_forward : geometry::kAxes)
    for (const Axis old_up : geometry::kAxes) {
      if (geometry::parallel(old_forward, old_up)) continue;
      const mod::ModelDoc doc = with(
          {{"turn", {{"forward", geometry::axisName(old_forward)}, {"up", geometry::axisName(old_up)}}}});
      scene::Frame frame = before;
      frame.turned = true;
      const glm::mat3 present = geometry::quarterTurn(old_forward, old_up, book.forward, book.up);
      for (const Axis wanted : geometry::kAxes) {
        if (geometry::parallel(wanted, book.up)) continue;
        const Json values = turnToFace(doc, frame, book, geometry::axisVector(wanted));
        const Axis forward = *geometry::axisFromName(values["forward"].get<std::string>());
        const glm::mat3 next = geometry::quarterTurn(
            forward, *geometry::axisFromName(values["up"].get<std::string>()), book.forward, book.up);
        // The side that now looks towards `wanted` is present^-1 * wanted in the source; the new turn brings
        // it forward.
        EXPECT_EQ(next * (glm::transpose(present) * geometry::axisVector(wanted)),
                  geometry::axisVector(book.forward));
      }
    }
}

TEST(TurnToFace, WithoutATurnSpeaksInTheModelsOwnSides) {
  rulebook::Rulebook book;
  const Json values = turnToFace({}, {}, book, {-1, 0, 0});
  EXPECT_EQ(values, (Json{{"forward", "-X"}, {"up", "+Y"}}));
  // A turn whose values are nonsense counts as none.
  EXPECT_EQ(turnToFace(with({{"turn", {{"forward", 3}, {"up", Json::array()}}}}), {}, book, {-1, 0, 0}),
            values);
}

TEST(GameExtents, AreTheModelsOwnBeforeATurnAndTheGamesAfter) {
  scene::Model m;
  m.nodes.resize(1);
  m.nodes[0].mesh = scene::MeshIndex(0);
  m.roots = {scene::NodeIndex(0)};
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {1, 2, 3}};
  m.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"m", {p}}));
  rulebook::Rulebook book;  // +X forward, +Z up
  EXPECT_EQ(gameExtents(m, book), glm::vec3(3, 1, 2)) << "+Z forward and +Y up, as written";
  m.frame.turned = true;
  EXPECT_EQ(gameExtents(m, book), glm::vec3(1, 2, 3));
}

TEST(SetRole, ChangesTheStepThatIsThereAndTakesItAway) {
  mod::ModelDoc doc;
  setRole(doc, "iron", "paint");
  setRole(doc, "pane", "glass");
  setRole(doc, "iron", "lamp");
  ASSERT_EQ(doc.steps.size(), 2u);
  EXPECT_EQ(doc.steps[0].values["role"], "lamp");
  setRole(doc, "iron", "");
  ASSERT_EQ(doc.steps.size(), 1u);
  EXPECT_EQ(doc.steps[0].values["material"], "pane");
  // One that is switched off stays off; a new one is added.
  doc.steps[0].enabled = false;
  setRole(doc, "pane", "paint");
  EXPECT_EQ(doc.steps.size(), 2u);
}

TEST(KeepFirst, TheOthersBecomePointsThatFollowTheOrigin) {
  // Two equal wedges, the second 4 m along x and turned by half; the origin is put at the floor's centre.
  scene::Model model;
  scene::Primitive wedge;
  wedge.positions = {{0, 0, 0}, {1, 0, 0}, {0, 2, 0}, {0, 0, 3}};
  wedge.indices = {0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2};
  for (int i = 0; i < 2; ++i) {
    scene::Mesh mesh;
    mesh.primitives = {wedge};
    model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
    scene::Node node;
    node.name = "screw";
    node.mesh = scene::MeshIndex(static_cast<size_t>(i));
    if (i == 1) node.local = {{4, 0, 0}, glm::angleAxis(3.14159265F, glm::vec3(0, 0, 1)), glm::vec3(1)};
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(node);
  }
  scene::assignKeys(model);
  rulebook::Rulebook book;  // up +Z
  mod::ModelDoc doc;
  insertByRank(doc, makeStep(doc, "origin"));
  const auto same = scene::sameParts(model);
  ASSERT_EQ(same.size(), 1U);
  keepFirst(doc, model, book, same[0]);
  EXPECT_EQ(doc.steps[0].kind, "drop");
  EXPECT_EQ(doc.steps[0].values["parts"], Json::array({"screw#2"}));
  ASSERT_EQ(doc.points.size(), 2U);
  EXPECT_EQ(doc.points[0].id, "screw-1");
  // What is left is the first wedge, 1 x 2 x 3: its floor's centre at (0.5, 1, 0) becomes the origin.
  EXPECT_NEAR(doc.points[0].position_m[0], 0, 1e-6);
  EXPECT_NEAR(doc.points[0].position_m[2], 1.5, 1e-6);
  EXPECT_NEAR(doc.points[1].position_m[0], 4 - 0.5 - 0.5, 1e-5);
  EXPECT_NEAR(doc.points[1].position_m[1], -1 - 1, 1e-5);
  EXPECT_NEAR(std::abs(doc.points[1].turn[2]), 1, 1e-5);
}

}  // namespace
}  // namespace rakugo::prepare
