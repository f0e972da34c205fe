#include "geometry/tangents.h"

#include <gtest/gtest.h>

#include <cmath>

#include "geometry/corner_normals.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

struct Surface {
  std::vector<glm::vec3> positions, normals;
  std::vector<glm::vec2> uvs;
  std::vector<uint32_t> indices;
  [[nodiscard]] std::vector<glm::vec4> tangents() const {
    return cornerTangents(positions, normals, uvs, indices);
  }
};

// The unit square in the plane z = 0, its picture upright (v runs down) and turned by an angle.
Surface square(float turn_rad) {
  Surface s;
  for (const glm::vec2 p : {glm::vec2(0, 0), {1, 0}, {1, 1}, {0, 1}}) {
    s.positions.emplace_back(p, 0);
    s.normals.emplace_back(0, 0, 1);
    const glm::vec2 q(p.x * std::cos(turn_rad) + p.y * std::sin(turn_rad),
                      -p.x * std::sin(turn_rad) + p.y * std::cos(turn_rad));
    s.uvs.emplace_back(q.x, 1 - q.y);
  }
  s.indices = {0, 1, 2, 0, 2, 3};
  return s;
}

TEST(Tangents, RunTheWayUGrows) {
  for (const float turn : {0.0F, 0.5F, 2.0F, -1.2F})
    for (const glm::vec4 t : square(turn).tangents()) {
      EXPECT_NEAR(t.x, std::cos(turn), 1e-5);
      EXPECT_NEAR(t.y, std::sin(turn), 1e-5);
      EXPECT_NEAR(t.z, 0, 1e-6);
      EXPECT_EQ(t.w, 1) << "an upright picture";
    }
}

TEST(Tangents, AMirroredPictureHasItsOwnSide) {
  Surface s = square(0);
  for (glm::vec2& uv : s.uvs) uv.x = 1 - uv.x;
  for (const glm::vec4 t : s.tangents()) {
    EXPECT_NEAR(t.x, -1, 1e-5);
    EXPECT_EQ(t.w, -1);
    // Up the picture is up on the square.
    const glm::vec3 bitangent = glm::cross(glm::vec3(0, 0, 1), glm::vec3(t)) * t.w;
    EXPECT_NEAR(bitangent.y, 1, 1e-5);
  }
}

TEST(Tangents, WhereAPictureIsMirroredTheTwoSidesDoNotMix) {
  // Two squares that share an edge of equal vertices; u runs toward it from both sides.
  Surface s;
  for (const auto& [x, u] : {std::pair(-1.0F, 0.0F), {0.0F, 1.0F}, {1.0F, 0.0F}})
    for (const float y : {0.0F, 1.0F}) {
      s.positions.emplace_back(x, y, 0);
      s.normals.emplace_back(0, 0, 1);
      s.uvs.emplace_back(u, 1 - y);
    }
  s.indices = {0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3};
  const auto t = s.tangents();
  for (size_t c = 0; c < 6; ++c) {
    EXPECT_NEAR(t[c].x, 1, 1e-5);
    EXPECT_EQ(t[c].w, 1);
  }
  for (size_t c = 6; c < 12; ++c) {
    EXPECT_NEAR(t[c].x, -1, 1e-5);
    EXPECT_EQ(t[c].w, -1);
  }
}

TEST(Tangents, RoundATubeTheyFollowTheCircle) {
  constexpr uint32_t kSides = 24;
  Surface s;
  for (uint32_t i = 0; i <= kSides; ++i)
    for (const float z : {0.0F, 1.0F}) {
      const float a = 6.2831853F * static_cast<float>(i % kSides) / kSides;
      s.positions.emplace_back(std::cos(a), std::sin(a), z);
      s.normals.emplace_back(std::cos(a), std::sin(a), 0);
      s.uvs.emplace_back(static_cast<float>(i) / kSides, 1 - z);
    }
  for (uint32_t i = 0; i < kSides; ++i) {
    const uint32_t a = i * 2;
    s.indices.insert(s.indices.end(), {a, a + 2, a + 3, a, a + 3, a + 1});
  }
  const auto t = s.tangents();
  for (size_t c = 0; c < t.size(); ++c) {
    const glm::vec3 n = s.normals[s.indices[c]];
    EXPECT_NEAR(glm::dot(glm::vec3(t[c]), n), 0, 1e-5);
    EXPECT_NEAR(glm::length(glm::vec3(t[c])), 1, 1e-5);
    // Inside, it is the circle's own direction; at the picture's seam too, for the seam's vertices are not
    // one.
    EXPECT_NEAR(glm::dot(glm::vec3(t[c]), glm::vec3(-n.y, n.x, 0)), 1, 1e-5);
  }
}

TEST(Tangents, EachTriangleCountsByItsAngleAndNotByItsSize) {
  // Two triangles at the origin that share an edge up the y axis: the right one spans 90 degrees and its u
  // runs along x, the left one 45 degrees; its u is sheared, along (1, 1) / root 2.
  for (const float size : {1.0F, 5.0F}) {
    Surface s;
    s.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {-size, size, 0}};
    s.normals.assign(4, {0, 0, 1});
    // In the left triangle u = x / 2 + y / 2 - v / 2 with v = y on the edge, so that u is 0 there, as it is
    // to the right; v = y - x grows to the left.
    s.uvs = {{0, 1}, {1, 1}, {0, 0}, {0, 0}};
    const auto left = [](glm::vec2 p) {
      // The picture's axes there: u along e = (1, 1) / root 2, v along f = (0, 1): p = u e + v f.
      const float u = p.x * std::sqrt(2.0F);
      return glm::vec2(u, 1 - (p.y - p.x));
    };
    s.uvs[3] = left({-size, size});
    s.indices = {0, 1, 2, 0, 2, 3};
    const glm::vec2 e(std::sqrt(0.5F), std::sqrt(0.5F));
    const auto t = s.tangents();
    ASSERT_NEAR(t[5].x, e.x, 1e-5) << "the left one alone";
    ASSERT_NEAR(t[5].y, e.y, 1e-5);
    const glm::vec2 mean = glm::normalize(glm::vec2(1, 0) * 2.0F + e * 1.0F);
    EXPECT_NEAR(t[0].x, mean.x, 1e-5) << "size " << size;
    EXPECT_NEAR(t[0].y, mean.y, 1e-5);
  }
}

TEST(Tangents, SomethingFiniteWhereThePictureSaysNothing) {
  Surface s = square(0);
  for (glm::vec2& uv : s.uvs) uv = {0.5F, 0.5F};
  for (const glm::vec4 t : s.tangents()) {
    EXPECT_NEAR(glm::length(glm::vec3(t)), 1, 1e-5);
    EXPECT_NEAR(t.z, 0, 1e-5);
    EXPECT_EQ(t.w, 1);
  }
  // A triangle without coordinates of its own takes its neighbour's.
  s = square(0);
  s.uvs[3] = s.uvs[0];
  s.indices = {0, 1, 2, 0, 2, 3};
  for (const glm::vec4 t : s.tangents()) EXPECT_NEAR(t.x, 1, 1e-5);
  // And one without a surface what its corner has elsewhere.
  s = square(0);
  s.indices.insert(s.indices.end(), {0, 2, 0});
  for (const glm::vec4 t : s.tangents()) EXPECT_NEAR(t.x, 1, 1e-5);
  EXPECT_TRUE(cornerTangents({}, {}, {}, {}).empty());
}

Topology topologyOfSurface(const Surface& s) {
  const Welding welding = weldEqual(s.positions);
  std::vector<uint32_t> corners;
  for (const uint32_t v : s.indices) corners.push_back(welding.of[v]);
  return geometry::topologyOf(std::move(corners), static_cast<uint32_t>(welding.places()));
}

TEST(CornerNormals, AreSmoothWithinTheAngleAndHardBeyond) {
  // Two squares that meet at a right angle along the edge x = 0.
  Surface s;
  s.positions = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {0, 1, 1}, {0, 0, 1}};
  s.indices = {0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5};
  const auto sharp = cornerNormals(s.positions, topologyOfSurface(s), 0.5F);
  for (size_t c = 0; c < 6; ++c) EXPECT_NEAR(sharp[c].z, 1, 1e-6);
  for (size_t c = 6; c < 12; ++c) EXPECT_NEAR(sharp[c].x, 1, 1e-6);
  const auto smooth = cornerNormals(s.positions, topologyOfSurface(s), 1.7F);
  EXPECT_NEAR(glm::dot(smooth[0], smooth[6]), 1, 1e-6) << "corner 0 of both";
  EXPECT_NEAR(smooth[1].z, 1, 1e-6) << "away from the edge each keeps its own";
  // At the edge both squares count alike: half of a right angle.
  EXPECT_NEAR(smooth[5].x, std::sqrt(0.5F), 1e-5);
}

TEST(CornerNormals, FansThatTouchInAPlaceAloneDoNotMix) {
  Surface s;
  s.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {-1, 0, 0}, {0, 0, -1}};
  s.indices = {0, 1, 2, 0, 3, 4};
  const auto out = cornerNormals(s.positions, topologyOfSurface(s), 3.2F);
  EXPECT_NEAR(out[0].z, 1, 1e-6);
  EXPECT_NEAR(std::abs(out[3].y), 1, 1e-6);
}

}  // namespace
}  // namespace rakugo::geometry
