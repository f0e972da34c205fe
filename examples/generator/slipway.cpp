#include "slipway.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "demo_mod.h"
#include "formats/gltf/gltf.h"
#include "kit.h"
#include "scene/primitive_edit.h"
#include "shapes.h"
#include "things.h"

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

// A flaring hull with a deck, 9 m long before its maker got the unit wrong.
Shape tugHull() {
  std::vector<std::vector<glm::vec3>> rows;
  constexpr int kRows = 22, kAcross = 13;
  for (int r = 0; r < kRows; ++r) {
    const float t = static_cast<float>(r) / (kRows - 1);
    const float half = 1.5F * std::pow(std::max(std::sin(kPi * (0.24F + 0.76F * t)), 0.0F), 0.55F);
    const float keel = 0.9F * std::pow(std::max(2 * t - 1.1F, 0.0F), 3.0F), sheer = 1.7F + 0.7F * t * t;
    std::vector<glm::vec3> row;
    for (int c = 0; c < kAcross; ++c) {
      const float s = static_cast<float>(c) / (kAcross - 1) * 2 - 1;
      const float side = s < 0 ? -1.0F : 1.0F;
      row.emplace_back(9 * t, half * side * std::pow(std::abs(s), 0.6F),
                       keel + (sheer - keel) * std::pow(std::abs(s), 2.6F));
    }
    rows.push_back(std::move(row));
  }
  Shape out;
  out.sheet(rows, 1, true);
  return out;
}

Shape propeller() {
  Shape out;
  out.lathe({{0, -0.12F}, {0.07F, -0.1F}, {0.08F, 0.06F}, {0.03F, 0.14F}, {0, 0.15F}}, 14, {0, 0, 0}, 1,
            0.5F);
  for (int blade = 0; blade < 3; ++blade) {
    const size_t from = out.size();
    out.box({0.06F, -0.11F, -0.012F}, {0.42F, 0.11F, 0.012F}, 0.008F, 0.5F);
    const float a = static_cast<float>(blade) / 3 * 2 * kPi, pitch = 0.6F;
    glm::mat4 turn(1), tilt(1);
    tilt[1] = {0, std::cos(pitch), std::sin(pitch), 0};
    tilt[2] = {0, -std::sin(pitch), std::cos(pitch), 0};
    turn[0] = {std::cos(a), std::sin(a), 0, 0};
    turn[1] = {-std::sin(a), std::cos(a), 0, 0};
    out.move(from, turn * tilt);
  }
  // Its axis lies along the boat.
  glm::mat4 lay(0);
  lay[0] = {0, 0, 1, 0};
  lay[1] = {0, 1, 0, 0};
  lay[2] = {-1, 0, 0, 0};
  lay[3] = {0, 0, 0, 1};
  out.move(0, lay);
  return out;
}

// As its builder published it: twice too large, with four screws though the game places them itself, its
// funnel lying flat as it was packed, the origin at the end of the keel, and faults in the wheelhouse.
scene::Model tug() {
  scene::Model model;
  const auto paint = addMaterial(model, "hull paint", {0.2F, 0.34F, 0.3F, 1}, 0, 0.6F),
             oak = addMaterial(model, "oak", {0.62F, 0.45F, 0.28F, 1}, 0, 0.8F),
             brass = addMaterial(model, "brass", {0.8F, 0.65F, 0.3F, 1}, 0.9F, 0.3F),
             soot = addMaterial(model, "soot", {0.1F, 0.1F, 0.1F, 1}, 0.2F, 0.8F);
  const auto root = addNode(model, "tug", {});
  const glm::mat4 same(1);
  Shape deck;
  deck.box({0.4F, -1.0F, 1.5F}, {6.4F, 1.0F, 1.58F}, 0.01F, 1);
  addPart(model, "hull", root, {tugHull().finish(same, paint), deck.finish(same, oak)});
  Shape house;
  house.box({4.2F, -0.8F, 1.58F}, {5.8F, 0.8F, 3.4F}, 0.03F, 1);
  scene::Primitive walls = house.finish(same, oak);
  // Some of its faces were turned by hand, and some pasted twice.
  for (const size_t t : {2U, 5U, 9U}) std::swap(walls.indices[t * 3 + 1], walls.indices[t * 3 + 2]);
  for (const size_t t : {0U, 1U, 12U})
    for (size_t k = 0; k < 3; ++k) walls.indices.push_back(walls.indices[t * 3 + k]);
  // A splinter left beside it.
  const scene::Primitive splinter = [&] {
    Shape s;
    s.box({6.2F, 0.3F, 1.6F}, {6.22F, 0.31F, 1.63F}, 0.001F, 1);
    return s.finish(same, oak);
  }();
  const auto first = static_cast<uint32_t>(walls.positions.size());
  walls.positions.insert(walls.positions.end(), splinter.positions.begin(), splinter.positions.end());
  walls.normals.insert(walls.normals.end(), splinter.normals.begin(), splinter.normals.end());
  walls.uvs[0].insert(walls.uvs[0].end(), splinter.uvs[0].begin(), splinter.uvs[0].end());
  for (const uint32_t i : splinter.indices) walls.indices.push_back(first + i);
  addPart(model, "wheelhouse", root, {walls});
  std::vector<Ring> rings;
  for (int i = 0; i <= 12; ++i)
    rings.push_back({{3.9F - 0.2F * static_cast<float>(i), 0, 2.2F}, {0, 0.32F, 0}, {0, 0, 0.32F}});
  addPart(model, "funnel", root, {pipe(rings, 18, 1).finish(same, soot)});
  for (int i = 0; i < 4; ++i) {
    const auto screw =
        addPart(model, "screw_" + std::to_string(i + 1), root, {propeller().finish(same, brass)});
    model.node(screw).local.position = {-0.15F - 0.35F * static_cast<float>(i / 2),
                                        i % 2 == 0 ? 0.45F : -0.45F, 0.55F};
  }
  roundAll(model, 2);
  for (scene::Node& node : model.nodes) node.local.position *= 2.0F;
  return model;
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
