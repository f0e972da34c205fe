#include "slipway.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "boats.h"
#include "demo_mod.h"
#include "formats/gltf/gltf.h"
#include "kit.h"
#include "scene/primitive_edit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

namespace fs = std::filesystem;
using base::Json;
using scene::NodeIndex;

// An open pipe of rings: each row a circle (an ellipse, seen along its axis) of `sides` corners; the
// picture's seam is where it begins.
struct Ring {
  glm::vec3 middle, u, v;  // u and v reach to the ring
};
Shape pipe(const std::vector<Ring>& rings, int sides, float picture_m) {
  std::vector<std::vector<glm::vec3>> rows;
  for (const Ring& ring : rings) {
    std::vector<glm::vec3> row;
    for (int i = 0; i <= sides; ++i) {
      const float a = static_cast<float>(i % sides) / static_cast<float>(sides) * 2 * kPi;
      row.push_back(ring.middle + ring.u * std::cos(a) + ring.v * std::sin(a));
    }
    rows.push_back(std::move(row));
  }
  Shape out;
  out.sheet(rows, picture_m);
  return out;
}

// A coat of five parts and a belly band, which says of each part what region of the body it covers. `wide`
// is how much broader it is than the slim one.
scene::Model seaCoat(float wide, const rulebook::Skeleton& skeleton) {
  scene::Model model;
  const auto cloth = addMaterial(model, "boiled wool", {0.2F, 0.28F, 0.42F, 1}, 0, 0.95F);
  const auto root = addNode(model, "sea_coat", {});
  const glm::mat4 same(1);
  const auto level = [&](float z, float deep, float broad) {
    return Ring{{-0.01F, 0, z}, {deep * wide, 0, 0}, {0, broad * wide, 0}};
  };
  const auto part = [&](const char* name, const char* region, const std::vector<Ring>& rings, int sides) {
    const auto node = addPart(model, name, root, {pipe(rings, sides, 0.5F).finish(same, cloth)});
    model.node(node).region = region;
  };
  // The neck and the wrists are cut for a body of one size.
  const Ring neck{{-0.004F, 0.003F, 1.463F}, {0.061F, 0, 0}, {0, 0.06F, 0}};
  part("collar", "collar", {level(1.42F, 0.105F, 0.12F), level(1.44F, 0.085F, 0.09F), neck}, 16);
  part("trunk", "trunk",
       {level(0.95F, 0.16F, 0.19F), level(1.06F, 0.155F, 0.18F), level(1.18F, 0.165F, 0.19F),
        level(1.3F, 0.17F, 0.2F), level(1.38F, 0.14F, 0.18F), level(1.42F, 0.105F, 0.12F)},
       24);
  part("belly_band", "belly",
       {level(1.0F, 0.175F, 0.205F), level(1.03F, 0.18F, 0.21F), level(1.06F, 0.172F, 0.2F)}, 24);
  for (const float side : {1.0F, -1.0F}) {
    std::vector<Ring> rings;
    for (int i = 0; i <= 8; ++i) {
      const float t = static_cast<float>(i) / 8, r = (0.085F - 0.03F * t) * (t < 0.9F ? wide : 1);
      // The end lies a little before the hand's, and off its middle.
      const float last = i == 8 ? 0.042F : r;
      rings.push_back({{-0.018F, side * (0.14F + 0.545F * t), 1.395F}, {last, 0, 0}, {0, 0, side * last}});
    }
    part(side > 0 ? "sleeve_left" : "sleeve_right", side > 0 ? "sleeve-left" : "sleeve-right", rings, 14);
  }
  part("skirts", "skirts", {level(0.6F, 0.24F, 0.28F), level(0.76F, 0.2F, 0.24F), level(0.95F, 0.16F, 0.19F)},
       24);
  roundAll(model, 1);
  skinTo(model, root, skeleton, [](const rulebook::Bone& bone) { return bone.id; });
  return model;
}

// Another program writes the same mesh in an order of its own.
void shuffleVertices(scene::Model& model) {
  uint32_t seed = 12345;
  const auto next = [&] { return seed = seed * 1664525U + 1013904223U; };
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) {
      std::vector<uint32_t> order(p.positions.size());
      std::iota(order.begin(), order.end(), 0U);
      for (size_t i = order.size() - 1; i > 0; --i) std::swap(order[i], order[(next() >> 8) % (i + 1)]);
      scene::keepVertices(p, order);
    }
}

// A block of one cell whose sides are cut into squares for no reason, as a voxel program writes them.
scene::Model cutBlock() {
  scene::Model model;
  const auto stone = addMaterial(model, "granite", {0.55F, 0.54F, 0.52F, 1}, 0, 0.9F);
  scene::Primitive p;
  p.material = stone;
  constexpr int kCells = 4;
  const glm::vec3 sides[6] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
  for (const glm::vec3 out : sides) {
    const glm::vec3 u = std::abs(out.z) > 0.5F ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1),
                    v = glm::cross(out, u);
    const auto first = static_cast<uint32_t>(p.positions.size());
    for (int y = 0; y <= kCells; ++y)
      for (int x = 0; x <= kCells; ++x) {
        const float a = static_cast<float>(x) / kCells, b = static_cast<float>(y) / kCells;
        p.positions.push_back((out * 0.5F + u * (a - 0.5F) + v * (b - 0.5F)) * 0.5F + glm::vec3(0, 0, 0.25F));
        p.normals.push_back(out);
        p.uvs[0].emplace_back(a, 1 - b);
      }
    for (uint32_t y = 0; y < kCells; ++y)
      for (uint32_t x = 0; x < kCells; ++x) {
        const uint32_t a = first + y * (kCells + 1) + x;
        p.indices.insert(p.indices.end(), {a, a + 1, a + kCells + 2, a, a + kCells + 2, a + kCells + 1});
      }
  }
  addPart(model, "block", addNode(model, "quay_block", {}), {p});
  return model;
}

}  // namespace

scene::Model coatBody() {
  scene::Model model;
  const auto root = addNode(model, "keeper_body", {});
  const glm::mat4 same(1);
  const auto part = [&](const char* name, const Shape& shape) {
    addPart(model, name, root, {shape.finish(same, {})});
  };
  Shape head, trunk, collar, skirts;
  head.lathe({{0.058F, 1.46F},
              {0.057F, 1.52F},
              {0.09F, 1.56F},
              {0.105F, 1.63F},
              {0.095F, 1.69F},
              {0.06F, 1.725F},
              {0, 1.735F}},
             16, {-0.002F, 0, 0}, 1, 0.5F, 80);
  part("head", head);
  trunk.lathe({{0, 0.95F}, {0.14F, 0.95F}, {0.15F, 1.16F}, {0.165F, 1.3F}, {0.15F, 1.4F}, {0, 1.42F}}, 20,
              {-0.01F, 0, 0}, 1, 0.5F, 60);
  part("trunk", trunk);
  for (const float side : {1.0F, -1.0F}) {
    glm::mat4 lay(0);  // up becomes outward
    lay[0] = {1, 0, 0, 0};
    lay[1] = {0, 0, -side, 0};
    lay[2] = {0, side, 0, 0};
    lay[3] = {-0.015F, side * 0.15F, 1.393F, 1};
    Shape arm, hand;
    arm.lathe({{0, 0}, {0.06F, 0.01F}, {0.05F, 0.3F}, {0.038F, 0.52F}, {0, 0.525F}}, 14, {0, 0, 0}, 1, 0.5F,
              60);
    arm.move(0, lay);
    part(side > 0 ? "sleeve-left" : "sleeve-right", arm);
    hand.lathe({{0.038F, 0.54F}, {0.042F, 0.58F}, {0.045F, 0.65F}, {0.03F, 0.71F}, {0, 0.72F}}, 14, {0, 0, 0},
               1, 0.5F, 80);
    hand.move(0, lay);
    part(side > 0 ? "hand-left" : "hand-right", hand);
  }
  collar.lathe({{0, 1.425F}, {0.09F, 1.43F}, {0.056F, 1.455F}, {0, 1.458F}}, 16, {-0.002F, 0, 0}, 1, 0.5F,
               60);
  part("collar", collar);
  skirts.lathe({{0, 0.6F}, {0.15F, 0.61F}, {0.16F, 0.8F}, {0.14F, 0.94F}, {0, 0.945F}}, 20, {-0.01F, 0, 0}, 1,
               0.5F, 60);
  part("skirts", skirts);
  roundAll(model, 1);
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) p.uvs[0].clear();
  return model;
}

void writeSlipway(const fs::path& mods, const rulebook::Rulebook& book) {
  DemoMod mod(mods / "slipway", "slipway-6t2vkm", "Slipway",
              "A tug, a coat and a block, as their makers left them.", "2026-11-28");
  const auto take = [&](const std::string& name, const scene::Model& made, const char* author) {
    mod.take(name, {{name + ".glb", formats::writeGlb(inGltfAxes(scene::Model(made)))}}, name + ".glb",
             author, "CC-BY-4.0");
  };
  take("tug", tug(), "Marn Tolliver");
  mod.make("tug", "craft", "Slipway tug",
           Json{{"drive", "oars"},
                {"blurb", "Pulls more than it weighs, and grumbles about both."},
                {"knots", 6},
                {"mass", 9000},
                {"hold", 4},
                {"year", 1911},
                {"price", 21000}});
  const scene::Model slim = seaCoat(1, book.skeletons[0]);
  take("sea-coat", slim, "Ottilie Brandvold");
  // Both are cut from one pattern.
  scene::Model broad = seaCoat(1.14F, book.skeletons[0]);
  for (size_t m = 0; m < broad.meshes.size(); ++m)
    broad.editMesh(scene::MeshIndex(m)).primitives[0].uvs = slim.meshes[m]->primitives[0].uvs;
  shuffleVertices(broad);
  take("sea-coat-broad", broad, "Ottilie Brandvold");
  mod.make("sea-coat", "coat", "Sea coat",
           Json{{"blurb", "Boiled wool. Stands by itself when wet."}, {"warmth", 7}});
  take("quay-block", cutBlock(), "Harbour Workshop");
  mod.make("quay-block", "pier-block", "Quay block", Json{{"bears", 16}, {"floats", false}, {"cost", 4}});
  mod.save();
}

}  // namespace rakugo::demo
