#include "scene/material_facts.h"

#include <gtest/gtest.h>

namespace rakugo::scene {
namespace {

Material pictured() {
  Material m;
  m.base_color_texture.image = ImageIndex(0);
  return m;
}

// A triangle with these texture coordinates.
Primitive triangle(std::vector<glm::vec2> uvs) {
  Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
  p.uvs[0] = std::move(uvs);
  p.indices = {0, 1, 2};
  return p;
}

TEST(DrawAlike, LooksAtAllButNameAndKey) {
  Material a = pictured(), b = a;
  b.name = "other";
  b.key = "other";
  EXPECT_TRUE(drawAlike(a, b));
  const auto differs = [&](const auto& change) {
    Material c = b;
    change(c);
    return !drawAlike(a, c);
  };
  EXPECT_TRUE(differs([](Material& m) { m.role = "glass"; }));
  EXPECT_TRUE(differs([](Material& m) { m.base_color.x = 0.5F; }));
  EXPECT_TRUE(differs([](Material& m) { m.roughness = 0.5F; }));
  EXPECT_TRUE(differs([](Material& m) { m.base_color_texture.filter = Filter::nearest; }));
  EXPECT_TRUE(differs([](Material& m) { m.occlusion_texture.image = ImageIndex(1); }));
  EXPECT_TRUE(differs([](Material& m) { m.alpha = AlphaMode::mask; }));
  EXPECT_TRUE(differs([](Material& m) { m.double_sided = true; }));
  EXPECT_TRUE(differs([](Material& m) { m.kept = "{}"; }));
}

TEST(UnseenSlot, NamesFactorsThatTakeAPictureAway) {
  const auto unseen = [](const char* slot, const auto& change) {
    Material m;
    const size_t at = *slotOfName(slot);
    (m.*kTextureSlots[at].use).image = ImageIndex(0);
    change(m);
    return unseenSlot(m, at) == Unseen::by_factor;
  };
  EXPECT_TRUE(unseen("glow", [](Material&) {})) << "a glow is black where a file says nothing";
  EXPECT_FALSE(unseen("glow", [](Material& m) { m.emissive = {0, 0.5F, 0}; }));
  EXPECT_TRUE(unseen("glow", [](Material& m) { m.emissive = glm::vec3(1), m.emissive_strength = 0; }));
  EXPECT_FALSE(unseen("base colour", [](Material&) {}));
  EXPECT_TRUE(unseen("base colour", [](Material& m) { m.base_color = {0, 0, 0, 1}; }));
  EXPECT_TRUE(unseen("normal", [](Material& m) { m.normal_scale = 0; }));
  EXPECT_TRUE(unseen("occlusion", [](Material& m) { m.occlusion_strength = 0; }));
  EXPECT_FALSE(unseen("metal and roughness", [](Material& m) { m.metallic = 0; }));
  EXPECT_EQ(unseenSlot(Material(), 0), Unseen::no) << "no picture";
  EXPECT_FALSE(slotOfName("colour").has_value());
}

TEST(MovesOntoPicture, BringsEachIslandBackByWholePictures) {
  Primitive p = triangle({{2.25F, -0.5F}, {2.75F, -0.5F}, {2.25F, -0.9F}});
  // A second island, on the picture already.
  p.positions.insert(p.positions.end(), {{5, 0, 0}, {6, 0, 0}, {5, 1, 0}});
  p.uvs[0].insert(p.uvs[0].end(), {{0, 0}, {1, 0}, {0, 1}});
  p.indices.insert(p.indices.end(), {3, 4, 5});
  const auto moves = movesOntoPicture(p, pictured(), 0);
  ASSERT_EQ(moves.size(), 6U);
  for (size_t v = 0; v < 3; ++v) EXPECT_EQ(moves[v], glm::vec2(-2, 1));
  for (size_t v = 3; v < 6; ++v) EXPECT_EQ(moves[v], glm::vec2(0));
}

TEST(MovesOntoPicture, LeavesWhatLiesAcrossABorderOrIsLarger) {
  EXPECT_TRUE(movesOntoPicture(triangle({{0.5F, 0}, {1.5F, 0}, {0.5F, 1}}), pictured(), 0).empty());
  EXPECT_TRUE(movesOntoPicture(triangle({{3, 0}, {7, 0}, {3, 1}}), pictured(), 0).empty());
  EXPECT_TRUE(movesOntoPicture(triangle({{0, 0}, {1, 0}, {0, 1}}), pictured(), 0).empty());
  // Just on the next picture's border counts as on this one.
  EXPECT_EQ(movesOntoPicture(triangle({{1, 0}, {2, 0}, {1, 1}}), pictured(), 0)[0], glm::vec2(-1, 0));
}

TEST(MovesOntoPicture, TakesVerticesThatAreSplitForTheirNormalsAlongTogether) {
  // Two triangles side by side that share no vertex; the second reaches across the border.
  Primitive p = triangle({{1.5F, 0}, {1.9F, 0}, {1.5F, 1}});
  p.positions.insert(p.positions.end(), {{1, 0, 0}, {0, 1, 0}, {1, 1, 0}});
  p.uvs[0].insert(p.uvs[0].end(), {{1.9F, 0}, {1.5F, 1}, {2.5F, 1}});
  p.indices.insert(p.indices.end(), {3, 5, 4});
  EXPECT_TRUE(movesOntoPicture(p, pictured(), 0).empty());
}

TEST(MovesOntoPicture, DoesNothingWhereSomethingWouldChange) {
  const Primitive p = triangle({{2, 0}, {3, 0}, {2, 1}});
  Material clamped = pictured(), moved = pictured(), bare;
  clamped.base_color_texture.wrap_u = Wrap::clamp;
  moved.base_color_texture.offset = {0.5F, 0};
  EXPECT_TRUE(movesOntoPicture(p, clamped, 0).empty());
  EXPECT_TRUE(movesOntoPicture(p, moved, 0).empty());
  EXPECT_TRUE(movesOntoPicture(p, bare, 0).empty()) << "no picture uses the coordinates";
  EXPECT_TRUE(movesOntoPicture(p, pictured(), 1).empty()) << "no such set";
  const float nan = std::nanf("");
  EXPECT_TRUE(movesOntoPicture(triangle({{nan, 0}, {3, 0}, {2, 1}}), pictured(), 0).empty());
}

TEST(EvenDarkening, IsOfOneColourBelowWhite) {
  Primitive p = triangle({{0, 0}, {1, 0}, {0, 1}});
  EXPECT_FALSE(evenDarkening(p));
  p.colors.assign(3, glm::vec4(1));
  EXPECT_FALSE(evenDarkening(p));
  p.colors.assign(3, glm::vec4(0.2F, 0.2F, 0.2F, 1));
  EXPECT_EQ(*evenDarkening(p), glm::vec3(0.2F));
  p.colors[1].x = 0.9F;
  EXPECT_FALSE(evenDarkening(p)) << "painted";
  p.colors.assign(3, glm::vec4(1, 0.1F, 0.1F, 1));
  EXPECT_FALSE(evenDarkening(p)) << "a colour, not a darkening";
}

}  // namespace
}  // namespace rakugo::scene
