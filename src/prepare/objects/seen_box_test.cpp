// The box that nothing of an object leaves: held against every angle that it goes through.
#include "prepare/objects/seen_box.h"

#include <gtest/gtest.h>

#include <glm/gtc/constants.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <random>

#include "prepare/parts/pieces.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

geometry::Bounds boxOf(glm::vec3 low, glm::vec3 high) {
  geometry::Bounds out;
  out.add(low);
  out.add(high);
  return out;
}

TEST(SweptBox, HoldsEveryAngleAndNoMoreThanTheCornersNeed) {
  std::mt19937 random(9);
  std::uniform_real_distribution<double> any(-2, 2);
  for (int i = 0; i < 60; ++i) {
    const glm::vec3 a(any(random), any(random), any(random)), b(any(random), any(random), any(random));
    const geometry::Bounds box = boxOf(glm::min(a, b), glm::max(a, b));
    const glm::dvec3 at(any(random), any(random), any(random)),
        axis = glm::normalize(glm::dvec3(any(random), any(random), any(random) + 0.01));
    const double from = any(random), to = from + std::abs(any(random)) * 2;
    const geometry::Bounds swept = sweptBox(box, at, axis, from, to);
    geometry::Bounds stepped;
    for (int step = 0; step <= 2000; ++step) {
      const double angle = from + (to - from) * step / 2000;
      for (int corner = 0; corner < 8; ++corner) {
        const glm::dvec3 p((corner & 1) != 0 ? box.max.x : box.min.x,
                           (corner & 2) != 0 ? box.max.y : box.min.y,
                           (corner & 4) != 0 ? box.max.z : box.min.z);
        stepped.add(glm::vec3(at + glm::angleAxis(angle, axis) * (p - at)));
      }
    }
    for (int c = 0; c < 3; ++c) {
      EXPECT_LE(swept.min[c], stepped.min[c] + 1e-4F);
      EXPECT_GE(swept.max[c], stepped.max[c] - 1e-4F);
      EXPECT_NEAR(swept.min[c], stepped.min[c], 2e-4F) << "no larger than it has to be";
      EXPECT_NEAR(swept.max[c], stepped.max[c], 2e-4F);
    }
  }
  EXPECT_TRUE(sweptBox({}, {0, 0, 0}, {1, 0, 0}, 0, 1).empty());
}

// A bar of 2 m that stands on its end at the origin, as a part "bar".
scene::Model bar() {
  scene::Model model;
  auto mesh = std::make_shared<scene::Mesh>();
  scene::Primitive& p = mesh->primitives.emplace_back();
  p.positions = {{-0.1F, -0.1F, 0}, {0.1F, 0.1F, 0}, {0.1F, -0.1F, 2}, {-0.1F, 0.1F, 2}};
  p.indices = {0, 1, 2, 0, 2, 3};
  model.meshes.push_back(mesh);
  scene::Node& node = model.nodes.emplace_back();
  node.name = node.key = "bar";
  node.mesh = scene::MeshIndex(0);
  model.roots.push_back(scene::NodeIndex(0));
  return model;
}

TEST(SeenBox, IsTheBoxAtRestWhereNothingMovesAndTheWholeCircleWhereItTurns) {
  const rulebook::Rulebook& book = test::book();
  const scene::Model model = bar();
  const ModelOf models = [&](const std::string&) { return &model; };
  mod::ObjectDoc object;
  object.kind = "craft";
  object.pieces.push_back({"bar", "bar", {5, 0, 0}, {0, 0, 0, 1}});
  geometry::Bounds box = seenBox(book, object, models);
  EXPECT_EQ(box.min, glm::vec3(4.9F, -0.1F, 0));
  EXPECT_EQ(box.max, glm::vec3(5.1F, 0.1F, 2));
  const std::string turning = addRuledPiece(object, *book.findKind("craft"), "turning-part").value();
  ASSERT_TRUE(setPieceValue(object, turning, "part", "bar"));
  box = seenBox(book, object, models);
  const float reach = std::sqrt(2.0F * 2 + 0.1F * 0.1F);
  EXPECT_NEAR(box.min.z, -reach, 1e-5F) << "about the game's forward";
  EXPECT_NEAR(box.max.y, reach, 1e-5F);
  EXPECT_NEAR(box.max.x, 5.1F, 1e-5F);
  // It swings to one side alone.
  ASSERT_TRUE(setPieceValue(object, turning, "moves", "swings"));
  ASSERT_TRUE(setPieceValue(object, turning, "span_deg", base::Json::array({0, 90})));
  box = seenBox(book, object, models);
  EXPECT_NEAR(box.min.y, -reach, 1e-5F) << "from up towards what is right of it";
  EXPECT_NEAR(box.max.y, 0.1F, 1e-5F);
  // It hangs on another that turns about up: then it may be anywhere round the origin.
  const std::string carrier = addRuledPiece(object, *book.findKind("craft"), "turning-part").value();
  ASSERT_TRUE(placePiece(object, carrier, {{0, 0, 0}, {0, -0.70710678, 0, 0.70710678}}, book.side()));
  ASSERT_TRUE(setParent(object, "bar", carrier, book.side()));
  ASSERT_TRUE(setParent(object, turning, carrier, book.side()));
  box = seenBox(book, object, models);
  EXPECT_LT(box.min.x, -5.0F);
  EXPECT_GT(box.max.y, 5.0F);
}

}  // namespace
}  // namespace rakugo::prepare
