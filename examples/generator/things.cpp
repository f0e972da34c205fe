#include "things.h"

#include <algorithm>
#include <cmath>

#include "kit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

// From the first game's axes to those of the second: +Z up to +Y up, +X forward to +Z forward.
glm::mat4 toDollhouse() {
  glm::mat4 m(0);
  m[0] = {0, 0, 1, 0};
  m[1] = {1, 0, 0, 0};
  m[2] = {0, 1, 0, 0};
  m[3] = {0, 0, 0, 1};
  return m;
}

// Foot, cap, cage and bow; heights are below the hand.
Shape lanternFrame() {
  Shape out;
  out.lathe({{0, -0.345F},
             {0.072F, -0.345F},
             {0.078F, -0.338F},
             {0.078F, -0.328F},
             {0.07F, -0.32F},
             {0.064F, -0.3F},
             {0.07F, -0.292F},
             {0.07F, -0.284F},
             {0.05F, -0.28F},
             {0, -0.28F}},
            24, {0, 0, 0}, 1, 0.2F);
  // The cap, with a chimney and its hood.
  out.lathe({{0.05F, -0.12F},
             {0.074F, -0.12F},
             {0.076F, -0.112F},
             {0.06F, -0.098F},
             {0.034F, -0.085F},
             {0.03F, -0.068F},
             {0.044F, -0.066F},
             {0.044F, -0.06F},
             {0.02F, -0.046F},
             {0, -0.044F}},
            24, {0, 0, 0}, 1, 0.2F);
  for (int i = 0; i < 4; ++i) {
    const float a = (static_cast<float>(i) + 0.5F) / 4 * 2 * kPi;
    const glm::vec3 d(std::cos(a), std::sin(a), 0);
    out.tube(
        {d * 0.066F + glm::vec3(0, 0, -0.284F), d * 0.072F + glm::vec3(0, 0, -0.2F),
         d * 0.068F + glm::vec3(0, 0, -0.118F)},
        [](float) { return 0.004F; }, 8, 1, 0.1F);
  }
  std::vector<glm::vec3> hoop, bow;
  for (int i = 0; i <= 28; ++i) {
    const float a = static_cast<float>(i) / 28 * 2 * kPi;
    hoop.emplace_back(0.0725F * std::cos(a), 0.0725F * std::sin(a), -0.2F);
  }
  out.tube(
      hoop, [](float) { return 0.003F; }, 6, 1, 0.1F);
  for (int i = 0; i <= 16; ++i) {
    const float a = static_cast<float>(i) / 16 * kPi;
    bow.emplace_back(0, 0.078F * std::cos(a), -0.115F + 0.115F * std::sin(a));
  }
  out.tube(
      bow, [](float) { return 0.004F; }, 8, 1, 0.1F);
  return out;
}

// The turned grip on the bow: what the hand closes about.
Shape lanternGrip() {
  Shape out;
  const auto on = [](float a) { return glm::vec3(0, 0.078F * std::cos(a), -0.115F + 0.115F * std::sin(a)); };
  std::vector<glm::vec3> path;
  for (int i = 0; i <= 10; ++i) path.push_back(on(kPi * (0.32F + 0.36F * static_cast<float>(i) / 10)));
  out.tube(
      path, [](float t) { return 0.0085F + 0.0035F * std::sin(t * kPi) + 0.0015F * std::cos(t * 4 * kPi); },
      12, 1, 0.1F);
  return out;
}

void lanternGlass(Shape& out) {
  out.lathe({{0.048F, -0.28F}, {0.056F, -0.25F}, {0.06F, -0.205F}, {0.056F, -0.16F}, {0.046F, -0.12F}}, 20,
            {0, 0, 0}, 1, 0.2F, 60);
}

}  // namespace

scene::Model handLantern() {
  Shape out = lanternFrame();
  out.add(lanternGrip());
  lanternGlass(out);
  scene::Model model;
  addPart(model, "lantern", addNode(model, "hand_lantern", {}), {plain(out, glm::mat4(1))});
  return model;
}

scene::Model litLantern() {
  scene::Model model;
  const auto brass = addMaterial(model, "brass", {0.82F, 0.66F, 0.32F, 1}, 0.9F, 0.35F),
             glass = addMaterial(model, "flame glass", {0.98F, 0.86F, 0.6F, 1}, 0, 0.2F),
             oak = addMaterial(model, "turned oak", {0.5F, 0.34F, 0.2F, 1}, 0, 0.7F);
  Shape pane;
  lanternGlass(pane);
  addPart(model, "lantern", addNode(model, "lantern_root", {}),
          {plain(lanternFrame(), glm::mat4(1), brass), plain(pane, glm::mat4(1), glass),
           plain(lanternGrip(), glm::mat4(1), oak)});
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
