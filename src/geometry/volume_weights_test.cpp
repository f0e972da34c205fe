#include "geometry/volume_weights.h"

#include <gtest/gtest.h>

#include <cmath>

namespace rakugo::geometry {
namespace {

struct Body {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  // A closed box in rings along an axis, so that it has vertices on its way.
  void bar(glm::vec3 from, glm::vec3 to, glm::vec3 u, glm::vec3 v, int rings) {
    const auto first = static_cast<uint32_t>(positions.size());
    for (int i = 0; i <= rings; ++i) {
      const glm::vec3 at = glm::mix(from, to, static_cast<float>(i) / static_cast<float>(rings));
      for (const glm::vec3& way : {u + v, v - u, -u - v, u - v}) positions.push_back(at + way);
    }
    const auto quad = [&](uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
      for (const uint32_t k : {a, b, c, a, c, d}) corners.push_back(first + k);
    };
    for (uint32_t i = 0; i < static_cast<uint32_t>(rings); ++i)
      for (uint32_t k = 0; k < 4; ++k)
        quad(i * 4 + k, i * 4 + (k + 1) % 4, i * 4 + 4 + (k + 1) % 4, i * 4 + 4 + k);
    quad(0, 1, 2, 3);
    const auto last = static_cast<uint32_t>(rings) * 4;
    quad(last, last + 3, last + 2, last + 1);
  }
};

float weightOf(const VertexWeights& w, uint32_t bone) {
  float out = 0;
  for (size_t k = 0; k < 4; ++k)
    if (w.bone[k] == bone) out += w.weight[k];
  return out;
}

TEST(VolumeWeights, ALimbFollowsItsTwoBonesAndBothAtTheJoint) {
  Body body;
  body.bar({0, 0, 0}, {2, 0, 0}, {0, 0.1F, 0}, {0, 0, 0.1F}, 40);
  const std::vector<BoneLine> lines = {{0, {0.05F, 0, 0}, {1, 0, 0}}, {1, {1, 0, 0}, {1.95F, 0, 0}}};
  const auto weights = volumeWeights(body.positions, body.corners, lines);
  ASSERT_TRUE(weights.ok());
  for (size_t v = 0; v < body.positions.size(); ++v) {
    const float x = body.positions[v].x, first = weightOf((*weights)[v], 0);
    float sum = 0;
    for (const float w : (*weights)[v].weight) sum += w;
    EXPECT_NEAR(sum, 1, 1e-5);
    if (x < 0.6F) {
      EXPECT_GT(first, 0.97F) << x;
    }
    if (x > 1.4F) {
      EXPECT_LT(first, 0.03F) << x;
    }
    if (std::abs(x - 1) < 1e-4F) {
      EXPECT_NEAR(first, 0.5, 0.1);
    }
  }
}

// Two fingers side by side with air between: each follows its own bone, however near the other is.
TEST(VolumeWeights, WhatIsNearThroughTheAirDoesNotPull) {
  Body body;
  body.bar({0, -0.3F, 0}, {0, 0.3F, 0}, {0.1F, 0, 0}, {0, 0, 0.1F}, 6);
  body.bar({0.05F, 0.16F, 0}, {1.5F, 0.16F, 0}, {0, 0.1F, 0}, {0, 0, 0.1F}, 20);
  body.bar({0.05F, -0.16F, 0}, {1.5F, -0.16F, 0}, {0, 0.1F, 0}, {0, 0, 0.1F}, 20);
  const std::vector<BoneLine> lines = {{0, {0, -0.2F, 0}, {0, 0.2F, 0}},
                                       {1, {0.1F, 0.16F, 0}, {1.4F, 0.16F, 0}},
                                       {2, {0.1F, -0.16F, 0}, {1.4F, -0.16F, 0}}};
  const auto weights = volumeWeights(body.positions, body.corners, lines);
  ASSERT_TRUE(weights.ok());
  for (size_t v = 0; v < body.positions.size(); ++v)
    if (body.positions[v].x > 1) {
      EXPECT_GT(weightOf((*weights)[v], body.positions[v].y > 0 ? 1 : 2), 0.97F);
    }
}

TEST(VolumeWeights, ABoneOutsideTheBodyGetsNothing) {
  Body body;
  body.bar({0, 0, 1}, {0, 0, 2}, {0.2F, 0, 0}, {0, 0.2F, 0}, 10);
  const std::vector<BoneLine> lines = {{0, {0, 0, 0}, {0, 0, 1}}, {1, {0, 0, 1}, {0, 0, 2}}};
  const auto weights = volumeWeights(body.positions, body.corners, lines);
  ASSERT_TRUE(weights.ok());
  for (const VertexWeights& w : *weights) EXPECT_EQ(weightOf(w, 1), 1);
  // All outside: somebody has to carry the mesh.
  const std::vector<BoneLine> far = {{0, {5, 0, 0}, {6, 0, 0}}, {1, {7, 0, 0}, {8, 0, 0}}};
  const auto carried = volumeWeights(body.positions, body.corners, far);
  for (const VertexWeights& w : *carried) EXPECT_NEAR(weightOf(w, 0) + weightOf(w, 1), 1, 1e-5);
}

TEST(VolumeWeights, AMeshWithHolesIsMeasuredAlongItsSurface) {
  // A pipe without ends.
  Body body;
  body.bar({0, 0, 0}, {2, 0, 0}, {0, 0.1F, 0}, {0, 0, 0.1F}, 20);
  body.corners.resize(body.corners.size() - 12);
  const std::vector<BoneLine> lines = {{0, {0, 0, 0}, {1, 0, 0}}, {1, {1, 0, 0}, {2, 0, 0}}};
  const auto weights = volumeWeights(body.positions, body.corners, lines);
  ASSERT_TRUE(weights.ok());
  EXPECT_GT(weightOf((*weights)[0], 0), 0.9F);
  EXPECT_GT(weightOf(weights->back(), 1), 0.9F);
}

TEST(VolumeWeights, IsDeterministicAndCanBeCancelled) {
  Body body;
  body.bar({0, 0, 0}, {2, 0, 0}, {0, 0.1F, 0}, {0, 0, 0.1F}, 20);
  const std::vector<BoneLine> lines = {{0, {0, 0, 0}, {1, 0, 0}}, {1, {1, 0, 0}, {2, 0, 0}}};
  const auto a = volumeWeights(body.positions, body.corners, lines),
             b = volumeWeights(body.positions, body.corners, lines);
  for (size_t v = 0; v < a->size(); ++v) EXPECT_EQ((*a)[v].weight, (*b)[v].weight);
  base::Progress stop;
  stop.cancel();
  EXPECT_EQ(volumeWeights(body.positions, body.corners, lines, {}, &stop).error().code, "job.cancelled");
}

TEST(VolumeWeights, WhatIsNoBodyIsNoHang) {
  EXPECT_TRUE(volumeWeights({}, {}, {})->empty());
  const std::vector<glm::vec3> bad = {{NAN, 0, 0}, {0, 0, 0}, {1, 0, 0}};
  const std::vector<uint32_t> corners = {0, 1, 2};
  const std::vector<BoneLine> line = {{0, {0, 0, 0}, {1, 0, 0}}};
  const auto some = volumeWeights(bad, corners, line);
  for (const VertexWeights& w : *some) EXPECT_EQ(w.weight[0], 1);
  const std::vector<glm::vec3> same(3, glm::vec3(1));
  const auto point = volumeWeights(same, corners, line);
  for (const VertexWeights& w : *point) EXPECT_EQ(w.weight[0], 1);
  const std::vector<BoneLine> nowhere = {{0, {NAN, 0, 0}, {1, 0, 0}}};
  const auto none = volumeWeights(bad, corners, nowhere);
  for (const VertexWeights& w : *none) EXPECT_EQ(w.weight[0], 0);
}

}  // namespace
}  // namespace rakugo::geometry
