#include "boats.h"

#include <algorithm>
#include <cmath>
#include <string>

#include "kit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

// One cross-section of a hull, as a closed loop: from the starboard rail over the keel to the port rail, then
// inside from the port rail over the deck back to starboard.
struct Section {
  float x = 0;
  float half = 0;            // half of the beam at the rail
  float keel = 0, rail = 0;  // heights
  float fullness = 0.6F;     // of the bilge: 0 a box, 1 a wedge
  float deck = 0;            // height
  float deck_half = 0;       // half of the deck's width
  float rail_width = 0;
};

constexpr int kOutside = 17;  // corners from rail to rail
constexpr int kDeck = 5;      // corners across the deck
enum Columns : int {
  starboard_rail = 0,
  port_rail = kOutside - 1,
  port_inside = kOutside,
  deck_port = kOutside + 1,
  deck_starboard = deck_port + kDeck - 1,
  starboard_inside = deck_starboard + 1,
  columns = starboard_inside + 1
};

// Half of the breadth outside at a height.
float halfAt(const Section& s, float z) {
  const float up = std::clamp((z - s.keel) / std::max(s.rail - s.keel, 1e-6F), 0.0F, 1.0F);
  return s.half * std::pow(up, s.fullness / 2.6F);
}

std::vector<glm::vec3> loopOf(const Section& s) {
  std::vector<glm::vec3> loop;
  for (int c = 0; c < kOutside; ++c) {
    const float a = static_cast<float>(c) / (kOutside - 1) * 2 - 1, side = a < 0 ? -1.0F : 1.0F;
    loop.emplace_back(s.x, s.half * side * std::pow(std::abs(a), s.fullness),
                      s.keel + (s.rail - s.keel) * std::pow(std::abs(a), 2.6F));
  }
  const float inside = s.half - s.rail_width;
  loop.emplace_back(s.x, inside, s.rail);
  for (int c = 0; c < kDeck; ++c) {
    const float a = 1 - static_cast<float>(c) / (kDeck - 1) * 2;
    loop.emplace_back(s.x, s.deck_half * a, s.deck);
  }
  loop.emplace_back(s.x, -inside, s.rail);
  return loop;
}

// The skin between columns `from` and `to` of the loops (`to` may be `columns`: the first again).
void skin(Shape& out, const std::vector<std::vector<glm::vec3>>& loops, int from, int to, float picture_m) {
  std::vector<std::vector<glm::vec3>> rows;
  for (const auto& loop : loops) {
    std::vector<glm::vec3> row;
    for (int c = from; c <= to; ++c) row.push_back(loop[static_cast<size_t>(c % columns)]);
    rows.push_back(std::move(row));
  }
  out.sheet(rows, picture_m, true);
}

// Closes a hull at its first section, which is flat: seen from behind.
void transom(Shape& out, const std::vector<glm::vec3>& loop, float picture_m) {
  std::vector<glm::vec3> corners;
  for (int c = 0; c < columns; ++c)
    corners.push_back(loop[static_cast<size_t>((kOutside / 2 + columns - c) % columns)]);
  out.polygon(corners, picture_m);
}

struct HullParts {
  Shape topsides, bottom, deck;
};

// `wet` columns to each side of the keel lie below the water.
HullParts closedHull(const std::vector<Section>& sections, int wet) {
  std::vector<std::vector<glm::vec3>> loops;
  for (const Section& s : sections) loops.push_back(loopOf(s));
  HullParts out;
  const int keel = kOutside / 2;
  skin(out.topsides, loops, starboard_rail, keel - wet, 1);
  skin(out.topsides, loops, keel + wet, port_rail, 1);
  skin(out.bottom, loops, keel - wet, keel + wet, 1);
  skin(out.deck, loops, port_rail, port_inside, 1);
  skin(out.topsides, loops, port_inside, deck_port, 1);
  skin(out.deck, loops, deck_port, deck_starboard, 1);
  skin(out.topsides, loops, deck_starboard, starboard_inside, 1);
  skin(out.deck, loops, starboard_inside, columns, 1);
  transom(out.topsides, loops.front(), 1);
  return out;
}

// From the stern (t 0) to the bow (t 1), 9 m.
Section tugSection(float t) {
  Section s;
  s.x = 9 * t;
  s.half = t >= 1 ? 0 : 1.5F * std::pow(std::max(std::sin(kPi * (0.24F + 0.76F * t)), 0.0F), 0.55F);
  // It rises to the stem, and to the screws, so that the boat floats level.
  s.keel = 0.9F * std::pow(std::max(2 * t - 1.1F, 0.0F), 3.0F) +
           0.5F * std::pow(std::max(1 - t / 0.4F, 0.0F), 2.0F);
  s.rail = 1.7F + 0.7F * t * t;
  s.deck = std::min(s.rail - 0.2F, 1.45F + 0.65F * std::pow(std::max((t - 0.65F) / 0.35F, 0.0F), 1.5F));
  s.rail_width = std::min(0.09F, 0.3F * s.half);
  s.deck_half = std::max(halfAt(s, s.deck) - s.rail_width, 0.0F);
  return s;
}

std::vector<Section> tugSections() {
  std::vector<Section> out;
  // At the transom the deck's corners lie on the rail: it is the bulwark there.
  out.push_back(tugSection(0));
  out.back().deck = out.back().rail;
  out.push_back(tugSection(0.01F));
  constexpr int kRows = 25;
  for (int r = 1; r < kRows; ++r) out.push_back(tugSection(static_cast<float>(r) / (kRows - 1)));
  return out;
}

// A rope along both sides, below the rail, and one across the bow.
Shape ropeFenders() {
  Shape out;
  for (const float side : {1.0F, -1.0F}) {
    std::vector<glm::vec3> path;
    for (int i = 0; i <= 28; ++i) {
      const float t = 0.02F + 0.95F * static_cast<float>(i) / 28;
      const Section s = tugSection(t);
      path.emplace_back(s.x, side * (halfAt(s, s.rail - 0.22F) + 0.03F), s.rail - 0.22F);
    }
    out.tube(
        path, [](float) { return 0.055F; }, 8, 1, 0.2F);
  }
  out.tube(
      {{8.72F, 0.34F, 2.1F},
       {8.98F, 0.14F, 2.08F},
       {9.04F, 0, 2.06F},
       {8.98F, -0.14F, 2.08F},
       {8.72F, -0.34F, 2.1F}},
      [](float t) { return 0.07F + 0.06F * std::sin(t * kPi); }, 10, 1, 0.2F);
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

// A pipe with a thick lip, closed below, along -X from x = 3.9 m to its mouth at 1.5 m.
Shape funnel() {
  const auto ring = [](float x, float r) {
    std::vector<glm::vec3> row;
    for (int i = 0; i <= 18; ++i) {
      const float a = static_cast<float>(i % 18) / 18 * 2 * kPi;
      row.emplace_back(x, r * std::cos(a), 1.79F + r * std::sin(a));
    }
    return row;
  };
  std::vector<std::vector<glm::vec3>> outside;
  for (int i = 0; i <= 12; ++i) outside.push_back(ring(3.9F - 0.2F * static_cast<float>(i), 0.32F));
  Shape out;
  out.sheet(outside, 1);
  out.sheet({ring(1.5F, 0.32F), ring(1.5F, 0.27F)}, 1);
  out.sheet({ring(1.5F, 0.27F), ring(1.9F, 0.27F)}, 1);
  out.sheet({ring(1.9F, 0.27F), ring(1.9F, 0)}, 1);
  out.sheet({ring(3.9F, 0), ring(3.9F, 0.32F)}, 1);
  return out;
}

void lathe(Shape& out, glm::vec3 at, const std::vector<glm::vec2>& profile, int sides = 14) {
  out.lathe(profile, sides, at, 1, 0.5F);
}

struct TugMaterials {
  scene::MaterialIndex paint, pitch, oak, brass, soot, glass, lens, rope;
};

void addWheelhouse(scene::Model& model, scene::NodeIndex root, const TugMaterials& of) {
  const glm::mat4 same(1);
  Shape house;
  house.box({4.2F, -0.8F, 1.43F}, {5.8F, 0.8F, 3.4F}, 0.03F, 1);
  scene::Primitive walls = house.finish(same, of.oak);
  // Some of its faces were turned by hand, and some pasted twice.
  for (const size_t t : {2U, 5U, 9U}) std::swap(walls.indices[t * 3 + 1], walls.indices[t * 3 + 2]);
  for (const size_t t : {0U, 1U, 12U})
    for (size_t k = 0; k < 3; ++k) walls.indices.push_back(walls.indices[t * 3 + k]);
  // A splinter left beside it.
  const scene::Primitive splinter = [&] {
    Shape s;
    s.box({6.2F, 0.3F, 1.6F}, {6.22F, 0.31F, 1.63F}, 0.001F, 1);
    return s.finish(same, of.oak);
  }();
  const auto first = static_cast<uint32_t>(walls.positions.size());
  walls.positions.insert(walls.positions.end(), splinter.positions.begin(), splinter.positions.end());
  walls.normals.insert(walls.normals.end(), splinter.normals.begin(), splinter.normals.end());
  walls.uvs[0].insert(walls.uvs[0].end(), splinter.uvs[0].begin(), splinter.uvs[0].end());
  for (const uint32_t i : splinter.indices) walls.indices.push_back(first + i);
  Shape roof, panes, door;
  roof.box({4.05F, -0.95F, 3.41F}, {6.0F, 0.95F, 3.53F}, 0.03F, 1);
  for (const float y : {-0.5F, 0.0F, 0.5F})
    panes.box({5.81F, y - 0.21F, 2.5F}, {5.83F, y + 0.21F, 3.15F}, 0.005F, 1);
  for (const float side : {1.0F, -1.0F})
    for (const float x : {4.75F, 5.35F})
      panes.box({x - 0.23F, std::min(side * 0.81F, side * 0.83F), 2.5F},
                {x + 0.23F, std::max(side * 0.81F, side * 0.83F), 3.15F}, 0.005F, 1);
  door.box({4.17F, -0.32F, 1.5F}, {4.19F, 0.32F, 3.2F}, 0.005F, 1);
  addPart(model, "wheelhouse", root,
          {walls, roof.finish(same, of.paint), panes.finish(same, of.glass), door.finish(same, of.paint)});
}

void addLamps(scene::Model& model, scene::NodeIndex root, const TugMaterials& of) {
  const glm::mat4 same(1);
  Shape boards, lenses;
  for (const float side : {1.0F, -1.0F}) {
    // A board behind each lamp, so that it is seen from ahead only.
    boards.box({5.5F, std::min(side * 0.84F, side * 1.06F), 3.2F},
               {5.54F, std::max(side * 0.84F, side * 1.06F), 3.39F}, 0.008F, 0.5F);
    boards.box({5.545F, std::min(side * 0.84F, side * 1.06F), 3.16F},
               {5.74F, std::max(side * 0.84F, side * 1.06F), 3.195F}, 0.008F, 0.5F);
    lathe(lenses, {5.65F, side * 0.96F, 3.2F},
          {{0, 0}, {0.06F, 0}, {0.07F, 0.05F}, {0.06F, 0.12F}, {0.03F, 0.16F}, {0, 0.17F}});
  }
  addPart(model, "lamps", root, {boards.finish(same, of.soot), lenses.finish(same, of.lens)});
}

void addMast(scene::Model& model, scene::NodeIndex root, const TugMaterials& of) {
  const glm::mat4 same(1);
  Shape pole, lens, iron;
  pole.tube(
      {{6.5F, 0, 1.43F}, {6.5F, 0, 2.6F}, {6.5F, 0, 3.8F}, {6.5F, 0, 4.9F}},
      [](float t) { return 0.075F - 0.035F * t; }, 12, 1, 0.5F);
  pole.tube(
      {{6.5F, -0.62F, 4.25F}, {6.5F, 0, 4.27F}, {6.5F, 0.62F, 4.25F}}, [](float) { return 0.025F; }, 8, 1,
      0.5F);
  lathe(lens, {6.62F, 0, 3.95F}, {{0, 0}, {0.05F, 0}, {0.06F, 0.05F}, {0.05F, 0.11F}, {0, 0.14F}});
  iron.box({6.5F, -0.05F, 3.9F}, {6.7F, 0.05F, 3.945F}, 0.008F, 0.5F);
  for (const float y : {-0.28F, 0.28F})
    lathe(iron, {1.0F, y, 1.44F},
          {{0, 0},
           {0.12F, 0},
           {0.12F, 0.03F},
           {0.07F, 0.06F},
           {0.07F, 0.36F},
           {0.1F, 0.4F},
           {0.08F, 0.45F},
           {0, 0.46F}});
  iron.tube(
      {{1.0F, -0.42F, 1.68F}, {1.0F, 0, 1.68F}, {1.0F, 0.42F, 1.68F}}, [](float) { return 0.04F; }, 10, 1,
      0.5F);
  // The drum of the anchor's chain.
  lathe(iron, {7.55F, 0, 1.6F},
        {{0, 0},
         {0.2F, 0},
         {0.21F, 0.04F},
         {0.12F, 0.1F},
         {0.1F, 0.22F},
         {0.17F, 0.3F},
         {0.15F, 0.34F},
         {0, 0.35F}},
        18);
  addPart(model, "mast", root,
          {pole.finish(same, of.oak), lens.finish(same, of.lens), iron.finish(same, of.soot)});
}

// From the stern to the bow, 3.6 m about the middle.
Section dinghySection(float t) {
  constexpr float kLength = 3.6F, kBeam = 1.42F, kDepth = 0.62F;
  Section s;
  s.x = (t - 0.5F) * kLength;
  s.fullness = 0.7F;
  s.half = t >= 1 ? 0 : 0.5F * kBeam * std::pow(std::max(std::sin(kPi * (0.18F + 0.82F * t)), 0.0F), 0.6F);
  s.keel = 0.1F * kDepth * std::pow(std::abs(2 * t - 1), 3.0F);
  s.rail = kDepth + 0.28F * kDepth * std::pow(std::abs(2 * t - 0.9F), 2.2F);
  // A straight well between the stern seat and the foredeck, side decks along it.
  const auto ramp = [](float from, float to, float v) {
    return std::clamp((v - from) / (to - from), 0.0F, 1.0F);
  };
  const float closed = std::max(1 - ramp(0.16F, 0.2F, t), ramp(0.76F, 0.8F, t));
  s.rail_width = glm::mix(s.half - 0.46F, std::min(0.05F, 0.3F * s.half), closed);
  s.deck = glm::mix(0.17F, s.rail - 0.03F, closed);
  s.deck_half = glm::mix(0.3F, std::max(halfAt(s, s.deck) - s.rail_width, 0.0F), closed);
  return s;
}

std::vector<scene::Primitive> dinghyHull(scene::MaterialIndex outside, scene::MaterialIndex inside) {
  std::vector<Section> sections{dinghySection(0)};
  sections.back().deck = sections.back().rail;
  for (const float t : {0.015F, 0.06F, 0.11F, 0.16F, 0.2F}) sections.push_back(dinghySection(t));
  for (int r = 1; r <= 13; ++r) sections.push_back(dinghySection(0.2F + 0.56F * static_cast<float>(r) / 14));
  for (const float t : {0.76F, 0.8F, 0.84F, 0.88F, 0.92F, 0.955F, 0.985F, 1.0F})
    sections.push_back(dinghySection(t));
  const HullParts hull = closedHull(sections, 4);
  Shape thwarts;
  for (const float x : {-0.55F, 0.25F})
    thwarts.box({x - 0.11F, -0.5F, 0.38F}, {x + 0.11F, 0.5F, 0.41F}, 0.006F, 0.5F);
  const glm::mat4 same(1);
  return {plain(hull.topsides, same, outside), plain(hull.bottom, same, outside),
          plain(hull.deck, same, inside), plain(thwarts, same, inside)};
}

}  // namespace

scene::Model dinghy() {
  scene::Model model;
  const auto root = addNode(model, "harbour_dinghy", {});
  addPart(model, "hull", root, dinghyHull({}, {}));
  return model;
}

scene::Model builtDinghy() {
  scene::Model model;
  const auto paint = addMaterial(model, "strake paint", {0.69F, 0.24F, 0.2F, 1}, 0, 0.6F),
             bare = addMaterial(model, "bare larch", {0.72F, 0.56F, 0.38F, 1}, 0, 0.8F);
  const auto root = addNode(model, "dinghy", {});
  addPart(model, "hull", root, dinghyHull(paint, bare));
  return model;
}

scene::Model tug() {
  scene::Model model;
  const TugMaterials of{addMaterial(model, "hull paint", {0.2F, 0.34F, 0.3F, 1}, 0, 0.6F),
                        addMaterial(model, "pitch", {0.12F, 0.1F, 0.1F, 1}, 0, 0.7F),
                        addMaterial(model, "oak", {0.62F, 0.45F, 0.28F, 1}, 0, 0.8F),
                        addMaterial(model, "brass", {0.8F, 0.65F, 0.3F, 1}, 0.9F, 0.3F),
                        addMaterial(model, "soot", {0.14F, 0.14F, 0.15F, 1}, 0.2F, 0.8F),
                        addMaterial(model, "wheelhouse glass", {0.66F, 0.8F, 0.82F, 1}, 0, 0.1F),
                        addMaterial(model, "lamp lens", {0.98F, 0.88F, 0.62F, 1}, 0, 0.2F),
                        addMaterial(model, "hemp", {0.72F, 0.6F, 0.4F, 1}, 0, 0.95F)};
  const auto root = addNode(model, "tug", {});
  const glm::mat4 same(1);
  const HullParts hull = closedHull(tugSections(), 4);
  Shape shafts;
  for (const float y : {0.45F, -0.45F})
    shafts.tube(
        {{1.2F, y, 0.42F}, {0.3F, y, 0.42F}, {-0.5F, y, 0.42F}}, [](float) { return 0.045F; }, 10, 1, 0.5F);
  addPart(
      model, "hull", root,
      {hull.topsides.finish(same, of.paint), hull.bottom.finish(same, of.pitch),
       hull.deck.finish(same, of.oak), ropeFenders().finish(same, of.rope), shafts.finish(same, of.soot)});
  addWheelhouse(model, root, of);
  addPart(model, "funnel", root, {funnel().finish(same, of.soot)});
  addMast(model, root, of);
  addLamps(model, root, of);
  Shape blade;
  blade.box({-0.75F, -0.02F, -0.02F}, {-0.06F, 0.02F, 1.15F}, 0.008F, 0.5F);
  addPart(model, "rudder", root, {blade.finish(same, of.soot)});
  for (int i = 0; i < 4; ++i) {
    const auto screw =
        addPart(model, "screw_" + std::to_string(i + 1), root, {propeller().finish(same, of.brass)});
    model.node(screw).local.position = {-0.15F - 0.35F * static_cast<float>(i / 2),
                                        i % 2 == 0 ? 0.45F : -0.45F, 0.42F};
  }
  roundAll(model, 2);
  for (scene::Node& node : model.nodes) node.local.position *= 2.0F;
  return model;
}

}  // namespace rakugo::demo
