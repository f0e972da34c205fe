#include "geometry/skinning.h"

#include <gtest/gtest.h>

#include <glm/gtc/matrix_transform.hpp>
#include <random>
#include <vector>

namespace rakugo::geometry {
namespace {

TEST(AddSkinned, IsTheWeightedSumOfWhatBonesMakeOfAPlace) {
  std::mt19937 random(9);
  std::uniform_real_distribution<float> spread(-1, 1);
  std::vector<glm::mat4> matrices;
  for (int i = 0; i < 7; ++i)
    matrices.push_back(glm::rotate(glm::translate(glm::mat4(1), {spread(random), spread(random), 1}),
                                   spread(random) * 3, glm::vec3(spread(random), 1, spread(random))));
  const size_t n = 40'000;  // more than one run
  std::vector<glm::vec3> positions(n), out(n, glm::vec3(0));
  std::vector<glm::u16vec4> joints(n);
  std::vector<glm::vec4> weights(n);
  for (size_t v = 0; v < n; ++v) {
    positions[v] = {spread(random), spread(random), spread(random)};
    for (int k = 0; k < 4; ++k) {
      joints[v][k] = static_cast<uint16_t>(random() % 7);
      weights[v][k] = std::abs(spread(random)) / 4;
    }
  }
  addSkinned(positions, joints, weights, matrices, out);
  for (size_t v = 0; v < n; v += 331) {
    glm::vec3 wanted(0);
    for (int k = 0; k < 4; ++k)
      wanted += weights[v][k] * glm::vec3(matrices[joints[v][k]] * glm::vec4(positions[v], 1));
    EXPECT_LT(glm::distance(out[v], wanted), 1e-5F);
  }
}

TEST(AddSkinned, WhatIsNotThereCountsNothing) {
  const std::vector<glm::vec3> positions = {{1, 2, 3}, {1, 2, 3}};
  const std::vector<glm::u16vec4> joints = {{0, 9, 65535, 0}, {0, 0, 0, 0}};
  const std::vector<glm::vec4> weights = {{0.5F, 1, 1, -3}, {0, 0, 0, 0}};
  const std::vector<glm::mat4> matrices = {glm::mat4(1)};
  std::vector<glm::vec3> out(2, glm::vec3(0));
  addSkinned(positions, joints, weights, matrices, out);
  EXPECT_EQ(out[0], glm::vec3(0.5F, 1, 1.5F));
  EXPECT_EQ(out[1], glm::vec3(0));
  // It adds, so that more than four bones are two calls; lists that are too short end it.
  addSkinned(positions, std::span(joints).first(1), weights, matrices, out);
  EXPECT_EQ(out[0], glm::vec3(1, 2, 3));
  addSkinned({}, joints, weights, {}, out);
  EXPECT_EQ(out[0], glm::vec3(1, 2, 3));
}

}  // namespace
}  // namespace rakugo::geometry
