#include "things.h"

#include <algorithm>
#include <cmath>

#include "kit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

scene::Primitive plain(const Shape& shape, const glm::mat4& to, scene::MaterialIndex material = {}) {
  scene::Primitive p = shape.finish(to, material);
  for (glm::vec3& v : p.positions) v = {rounded(v.x), rounded(v.y), rounded(v.z)};
  for (glm::vec3& n : p.normals) n = {rounded(n.x), rounded(n.y), rounded(n.z)};
  p.uvs[0].clear();
  return p;
}

// From the first game's axes to those of the second: +Z up to +Y up, +X forward to +Z forward.
glm::mat4 toDollhouse() {
  glm::mat4 m(0);
  m[0] = {0, 0, 1, 0};
  m[1] = {1, 0, 0, 0};
  m[2] = {0, 1, 0, 0};
  m[3] = {0, 0, 0, 1};
  return m;
}

Shape hull(float length, float beam, float depth, bool inside) {
  Shape out;
  std::vector<std::vector<glm::vec3>> rows;
  constexpr int kRows = 25, kAcross = 17;
  for (int r = 0; r < kRows; ++r) {
    const float t = static_cast<float>(r) / (kRows - 1);  // 0 stern, 1 bow
    const float x = (t - 0.5F) * length;
    const float full = std::pow(std::max(std::sin(kPi * (0.18F + 0.82F * t)), 0.0F), 0.6F);
    const float half = std::max(0.5F * beam * full - (inside ? 0.02F : 0), 0.0F);
    const float rise = 0.28F * depth * std::pow(std::abs(2 * t - 0.9F), 2.2F);
    const float floor = 0.10F * depth * std::pow(std::abs(2 * t - 1), 3.0F) + (inside ? 0.03F : 0);
    std::vector<glm::vec3> row;
    for (int c = 0; c < kAcross; ++c) {
      const float s = static_cast<float>(c) / (kAcross - 1) * 2 - 1;
      const float around = std::pow(std::abs(s), 2.4F);
      const float y = half * (s < 0 ? -1.0F : 1.0F) * std::pow(std::abs(s), 0.7F);
      row.emplace_back(x, y, floor + (depth + rise - floor) * around);
    }
    rows.push_back(row);
  }
  out.sheet(rows, 0.5F, !inside);
  return out;
}

Shape body(const rulebook::Skeleton& skeleton) {
  Shape out;
  // Trunk and head are turned, limbs are pipes along the bones.
  out.lathe({{0, 0.9F},
             {0.13F, 0.9F},
             {0.17F, 0.96F},
             {0.155F, 1.06F},
             {0.15F, 1.16F},
             {0.175F, 1.3F},
             {0.16F, 1.4F},
             {0.07F, 1.45F},
             {0.055F, 1.5F},
             {0, 1.5F}},
            20, {-0.01F, 0, 0}, 1, 0.5F, 60);
  out.lathe({{0, 1.5F},
             {0.06F, 1.51F},
             {0.095F, 1.56F},
             {0.105F, 1.63F},
             {0.095F, 1.69F},
             {0.06F, 1.725F},
             {0, 1.735F}},
            20, {0.005F, 0, 0}, 1, 0.5F, 80);
  for (const rulebook::Chain& chain : skeleton.chains) {
    if (chain.id.find("arm") == std::string::npos && chain.id.find("leg") == std::string::npos) continue;
    const bool arm = chain.id.find("arm") != std::string::npos;
    std::vector<glm::vec3> joints;
    for (const std::string& id : chain.bones) joints.push_back(at(*skeleton.findBone(id)));
    if (arm) joints.erase(joints.begin());  // the collarbone lies in the trunk
    const glm::vec3 last = joints.back() - joints[joints.size() - 2];
    joints.push_back(arm ? joints.back() + glm::normalize(last) * 0.17F
                         : joints.back() + glm::vec3(0, 0, -0.05F));
    std::vector<glm::vec3> path;
    for (size_t i = 0; i + 1 < joints.size(); ++i)
      for (int k = 0; k < 5; ++k)
        path.push_back(glm::mix(joints[i], joints[i + 1], static_cast<float>(k) / 5));
    path.push_back(joints.back());
    out.tube(
        path, [arm](float t) { return arm ? 0.062F - 0.03F * t : 0.098F - 0.045F * t; }, 14, 1, 0.5F);
    if (arm) continue;
    const glm::vec3 ankle = joints[joints.size() - 2];
    out.box(ankle + glm::vec3(-0.07F, -0.05F, -0.09F), ankle + glm::vec3(0.2F, 0.05F, -0.01F), 0.02F, 0.3F);
  }
  return out;
}

std::vector<scene::Primitive> hullAndThwarts(scene::MaterialIndex outside, scene::MaterialIndex inside) {
  const glm::mat4 same(1);
  Shape thwarts;
  for (const float x : {-0.75F, 0.15F})
    thwarts.box({x - 0.11F, -0.5F, 0.34F}, {x + 0.11F, 0.5F, 0.37F}, 0.006F, 0.5F);
  return {plain(hull(3.6F, 1.42F, 0.62F, false), same, outside),
          plain(hull(3.6F, 1.42F, 0.62F, true), same, inside), plain(thwarts, same, inside)};
}

Shape lanternFrame() {
  Shape out;
  out.lathe({{0, -0.34F}, {0.07F, -0.34F}, {0.08F, -0.32F}, {0.06F, -0.3F}, {0.055F, -0.28F}, {0, -0.28F}},
            18, {0, 0, 0}, 1, 0.2F);
  out.lathe({{0.07F, -0.12F}, {0.03F, -0.07F}, {0.02F, -0.04F}, {0, -0.04F}}, 18, {0, 0, 0}, 1, 0.2F);
  std::vector<glm::vec3> bow;
  for (int i = 0; i <= 16; ++i) {
    const float a = static_cast<float>(i) / 16 * kPi;
    bow.emplace_back(0, 0.075F * std::cos(a), -0.11F + 0.11F * std::sin(a));
  }
  out.tube(
      bow, [](float) { return 0.006F; }, 8, 1, 0.1F);
  return out;
}

void lanternGlass(Shape& out) {
  out.lathe({{0.05F, -0.28F}, {0.058F, -0.2F}, {0.05F, -0.12F}}, 12, {0, 0, 0}, 1, 0.2F);
}

}  // namespace

scene::Model dinghy() {
  scene::Model model;
  const auto root = addNode(model, "harbour_dinghy", {});
  addPart(model, "hull", root, hullAndThwarts({}, {}));
  return model;
}

scene::Model builtDinghy() {
  scene::Model model;
  const auto paint = addMaterial(model, "strake paint", {0.69F, 0.24F, 0.2F, 1}, 0, 0.6F),
             bare = addMaterial(model, "bare larch", {0.72F, 0.56F, 0.38F, 1}, 0, 0.8F);
  const auto root = addNode(model, "dinghy", {});
  addPart(model, "hull", root, hullAndThwarts(paint, bare));
  return model;
}

scene::Model handLantern() {
  Shape out = lanternFrame();
  lanternGlass(out);
  scene::Model model;
  addPart(model, "lantern", addNode(model, "hand_lantern", {}), {plain(out, glm::mat4(1))});
  return model;
}

scene::Model litLantern() {
  scene::Model model;
  const auto iron = addMaterial(model, "blacked iron", {0.12F, 0.13F, 0.15F, 1}, 0.5F, 0.6F),
             glass = addMaterial(model, "flame glass", {0.98F, 0.86F, 0.6F, 1}, 0, 0.2F);
  Shape pane;
  lanternGlass(pane);
  addPart(model, "lantern", addNode(model, "lantern_root", {}),
          {plain(lanternFrame(), glm::mat4(1), iron), plain(pane, glm::mat4(1), glass)});
  return model;
}

scene::Model pierBlock(double cell_m) {
  const auto half = static_cast<float>(cell_m / 2);
  Shape out;
  out.box({-half, -half, 0}, {half, half, 2 * half}, 0.012F, 0.5F);
  scene::Model model;
  addPart(model, "block", addNode(model, "pier_block", {}), {plain(out, glm::mat4(1))});
  return model;
}

scene::Model bollard() {
  scene::Model model;
  const auto iron = addMaterial(model, "painted iron", {0.24F, 0.42F, 0.45F, 1}, 0.1F, 0.6F);
  const auto root = addNode(model, "bollard", {});
  Shape out;
  out.lathe({{0, 0},
             {0.2F, 0},
             {0.21F, 0.03F},
             {0.15F, 0.06F},
             {0.125F, 0.12F},
             {0.12F, 0.34F},
             {0.135F, 0.38F},
             {0.19F, 0.41F},
             {0.2F, 0.45F},
             {0.17F, 0.49F},
             {0.1F, 0.51F},
             {0, 0.515F}},
            28, {0, 0, 0}, 2, 0.5F);
  addPart(model, "post", root, {plain(out, glm::mat4(1), iron)});
  return model;
}

scene::Model keeper(const rulebook::Skeleton& skeleton,
                    const std::function<std::string(const rulebook::Bone&)>& name) {
  scene::Model model;
  const auto skin_material = addMaterial(model, "skin", {0.82F, 0.63F, 0.5F, 1}, 0, 0.7F);
  const auto root = addNode(model, "keeper", {});
  scene::Primitive p = plain(body(skeleton), glm::mat4(1), skin_material);
  addPart(model, "body", root, {std::move(p)});
  skinTo(model, root, skeleton, name);
  return model;
}

scene::Model coat() {
  scene::Model model;
  const auto root = addNode(model, "harbour_coat", {});
  const glm::mat4 same(1);
  Shape trunk;
  trunk.lathe({{0.24F, 0.72F},
               {0.2F, 0.9F},
               {0.175F, 1.06F},
               {0.2F, 1.28F},
               {0.18F, 1.4F},
               {0.1F, 1.44F},
               {0.09F, 1.5F}},
              24, {-0.01F, 0, 0}, 1, 0.5F, 60);
  addPart(model, "trunk", root, {plain(trunk, same)});
  for (const float side : {1.0F, -1.0F}) {
    Shape sleeve;
    std::vector<glm::vec3> path;
    for (int i = 0; i <= 10; ++i) {
      const float t = static_cast<float>(i) / 10;
      path.emplace_back(-0.02F, side * (0.16F + 0.53F * t), 1.4F - 0.01F * t);
    }
    sleeve.tube(
        path, [](float t) { return 0.088F - 0.02F * t; }, 16, 1, 0.5F);
    addPart(model, side > 0 ? "sleeve_left" : "sleeve_right", root, {plain(sleeve, same)});
  }
  return model;
}

scene::Model buttonStool() {
  Shape out;
  out.lathe({{0, 0.026F},
             {0.014F, 0.026F},
             {0.0155F, 0.0275F},
             {0.0155F, 0.029F},
             {0.0135F, 0.03F},
             {0.0125F, 0.029F},
             {0, 0.029F}},
            24, {0, 0, 0}, 1, 0.02F);
  for (int i = 0; i < 3; ++i) {
    const float a = static_cast<float>(i) / 3 * 2 * kPi;
    const glm::vec3 d(std::cos(a), std::sin(a), 0);
    out.tube(
        {d * 0.013F, d * 0.0075F + glm::vec3(0, 0, 0.0265F)}, [](float) { return 0.0011F; }, 8, 1, 0.02F);
  }
  scene::Model model;
  addPart(model, "stool", addNode(model, "button_stool", {}), {plain(out, toDollhouse())});
  return model;
}

scene::Model makerStool() {
  scene::Model model;
  const auto felt = addMaterial(model, "felt cover", {0.62F, 0.42F, 0.55F, 1}, 0, 0.95F);
  const auto horn = addMaterial(model, "horn", {0.28F, 0.2F, 0.15F, 1}, 0, 0.35F);
  const auto wood = addMaterial(model, "match", {0.86F, 0.74F, 0.55F, 1}, 0, 0.8F);
  const auto root = addNode(model, "stool", {});
  const glm::mat4 in_mm(1000, 0, 0, 0, 0, 1000, 0, 0, 0, 0, 1000, 0, 0, 0, 0, 1);
  Shape seat, cushion, legs;
  seat.lathe(
      {{0, 0.034F}, {0.016F, 0.034F}, {0.018F, 0.036F}, {0.018F, 0.038F}, {0.0155F, 0.0395F}, {0, 0.0395F}},
      28, {0, 0, 0}, 1, 0.02F);
  cushion.lathe({{0.0148F, 0.0395F}, {0.0158F, 0.042F}, {0.0145F, 0.0448F}, {0.009F, 0.0465F}, {0, 0.047F}},
                28, {0, 0, 0}, 1, 0.02F, 80);
  for (int i = 0; i < 4; ++i) {
    const float a = (static_cast<float>(i) + 0.5F) / 4 * 2 * kPi;
    const glm::vec3 d(std::cos(a), std::sin(a), 0);
    legs.tube(
        {d * 0.0165F, d * 0.0095F + glm::vec3(0, 0, 0.035F)}, [](float) { return 0.0012F; }, 8, 1, 0.02F);
  }
  addPart(model, "seat", root, {plain(seat, in_mm, horn)});
  addPart(model, "cushion", root, {plain(cushion, in_mm, felt)});
  addPart(model, "legs", root, {plain(legs, in_mm, wood)});
  return model;
}

scene::Model tinSnail() {
  scene::Model model;
  Shape shell;
  shell.lathe(
      {{0, -0.009F}, {0.012F, -0.008F}, {0.018F, -0.003F}, {0.018F, 0.003F}, {0.012F, 0.008F}, {0, 0.009F}},
      20, {0, 0, 0}, 1, 0.02F, 70);
  glm::mat4 on_its_side(0);  // the shell's axis lies across the snail
  on_its_side[0] = {1, 0, 0, 0};
  on_its_side[1] = {0, 0, -1, 0};
  on_its_side[2] = {0, 1, 0, 0};
  on_its_side[3] = {-0.004F, 0, 0.028F, 1};
  Shape foot;
  foot.tube(
      {{-0.03F, 0, 0.0075F},
       {-0.01F, 0, 0.0078F},
       {0.015F, 0, 0.008F},
       {0.028F, 0, 0.014F},
       {0.032F, 0, 0.026F}},
      [](float t) { return 0.0025F + 0.005F * std::max(std::sin(kPi * (0.1F + 0.85F * t)), 0.0F); }, 12, 1,
      0.02F);
  addPart(model, "snail", addNode(model, "tin_snail", {}),
          {plain(shell, toDollhouse() * on_its_side), plain(foot, toDollhouse())});
  return model;
}

}  // namespace rakugo::demo
