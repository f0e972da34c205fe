#include "lamp.h"

#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

#include "kit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

using scene::MaterialIndex;

// How large and how finely a lamp is made.
struct Style {
  float height = 2.44F;  // to the lantern's hook
  float reach = 0.52F;   // of the arm
  int round = 32;        // segments of a full circle
  bool details = true;
};

Shape foot(const Style& s) {
  Shape out;
  out.lathe({{0, 0},
             {0.225F, 0},
             {0.24F, 0.015F},
             {0.24F, 0.05F},
             {0.225F, 0.065F},
             {0.2F, 0.07F},
             {0.19F, 0.1F},
             {0.15F, 0.13F},
             {0.115F, 0.17F},
             {0.1F, 0.22F},
             {0.098F, 0.3F},
             {0.112F, 0.31F},
             {0.118F, 0.33F},
             {0.112F, 0.35F},
             {0.095F, 0.36F},
             {0, 0.36F}},
            s.round, {0, 0, 0}, 3, 0.5F);
  if (s.details)
    for (int i = 0; i < 6; ++i) {  // bolts
      const float a = static_cast<float>(i) * kPi / 3 + kPi / 6;
      out.lathe({{0.022F, 0}, {0.022F, 0.014F}, {0.017F, 0.02F}, {0, 0.02F}}, 6,
                {0.2F * std::cos(a), 0.2F * std::sin(a), 0.063F}, 1, 0.2F, 10);
    }
  return out;
}

Shape post(const Style& s) {
  Shape out;
  const float top = s.height - 0.06F;
  out.lathe({{0.082F, 0.34F},
             {0.08F, 0.6F},
             {0.074F, 0.62F},
             {0.074F, 0.64F},
             {0.078F, 0.66F},
             {0.066F, top - 0.35F},
             {0.072F, top - 0.33F},
             {0.072F, top - 0.3F},
             {0.064F, top - 0.28F},
             {0.062F, top},
             {0, top}},
            s.round * 3 / 4, {0, 0, 0}, 2, 1.0F);
  return out;
}

Shape ironwork(const Style& s) {
  Shape out;
  // The band that holds the arm, the arm as a bow, and a strut with a curl.
  const float at = s.height - 0.22F;
  out.lathe({{0.064F, at - 0.07F},
             {0.08F, at - 0.065F},
             {0.084F, at - 0.05F},
             {0.084F, at + 0.05F},
             {0.08F, at + 0.065F},
             {0.06F, at + 0.07F}},
            s.round * 3 / 4, {0, 0, 0}, 2, 0.5F);
  std::vector<glm::vec3> bow, strut, curl;
  for (int i = 0; i <= 20; ++i) {
    const float t = static_cast<float>(i) / 20;
    const float a = t * kPi * 0.5F;
    bow.emplace_back(0.07F + s.reach * std::sin(a), 0,
                     at + 0.24F * std::sin(t * kPi * 0.9F) * (1 - 0.25F * t) + 0.02F * t);
  }
  out.tube(
      bow, [](float t) { return 0.024F - 0.006F * t; }, s.details ? 12 : 6, 1, 0.3F);
  for (int i = 0; i <= 10; ++i) {
    const float t = static_cast<float>(i) / 10;
    strut.emplace_back(0.07F + s.reach * 0.62F * t, 0,
                       at - 0.05F + (0.22F * t * t) + 0.02F * std::sin(t * kPi));
  }
  out.tube(
      strut, [](float) { return 0.013F; }, s.details ? 8 : 5, 1, 0.3F);
  if (s.details) {
    for (int i = 0; i <= 28; ++i) {
      const float a = static_cast<float>(i) / 28 * kPi * 2.6F;
      const float r = 0.062F * (1 - static_cast<float>(i) / 36);
      curl.emplace_back(0.2F + r * std::cos(a), 0, at + 0.07F + r * std::sin(a));
    }
    out.tube(
        curl, [](float t) { return 0.011F - 0.003F * t; }, 8, 1, 0.3F);
    // A cleat on the back of the post for the lamp's line.
    const size_t from = out.size();
    out.tube(
        {{-0.085F, -0.11F, 1.12F},
         {-0.098F, -0.06F, 1.115F},
         {-0.1F, 0, 1.113F},
         {-0.098F, 0.06F, 1.115F},
         {-0.085F, 0.11F, 1.12F}},
        [](float t) { return 0.013F + 0.006F * std::sin(t * kPi); }, 10, 1, 0.3F);
    out.box({-0.1F, -0.028F, 1.085F}, {-0.06F, 0.028F, 1.115F}, 0.006F, 0.3F);
    (void)from;
  }
  // Finial on the post.
  const float top = s.height - 0.06F;
  out.lathe({{0.066F, top - 0.01F},
             {0.078F, top},
             {0.078F, top + 0.015F},
             {0.05F, top + 0.03F},
             {0.028F, top + 0.045F},
             {0.034F, top + 0.06F},
             {0.044F, top + 0.085F},
             {0.034F, top + 0.115F},
             {0.012F, top + 0.135F},
             {0, top + 0.14F}},
            s.round * 3 / 4, {0, 0, 0}, 2, 0.4F);
  return out;
}

glm::vec3 hook(const Style& s) {
  return {0.07F + s.reach, 0, s.height - 0.22F + 0.24F * std::sin(kPi * 0.9F) * 0.75F + 0.02F};
}

// The lantern hangs from the hook; heights are below it.
Shape lanternBrass(const Style& s) {
  Shape out;
  const glm::vec3 h = hook(s);
  if (s.details) {  // chain of two rings
    for (int k = 0; k < 2; ++k) {
      std::vector<glm::vec3> ring;
      for (int i = 0; i <= 16; ++i) {
        const float a = static_cast<float>(i) / 16 * 2 * kPi;
        const glm::vec3 across = k == 0 ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
        ring.push_back(h + across * (0.018F * std::cos(a)) +
                       glm::vec3(0, 0, -0.022F - 0.032F * static_cast<float>(k) + 0.026F * std::sin(a)));
      }
      out.tube(
          ring, [](float) { return 0.0055F; }, 6, 1, 0.1F);
    }
  }
  const glm::vec3 c = h - glm::vec3(0, 0, 0.52F);
  out.lathe({{0.125F, 0.31F},
             {0.15F, 0.305F},
             {0.156F, 0.312F},
             {0.15F, 0.322F},
             {0.11F, 0.35F},
             {0.075F, 0.385F},
             {0.05F, 0.4F},
             {0.05F, 0.42F},
             {0.036F, 0.43F},
             {0.02F, 0.44F},
             {0.014F, 0.46F},
             {0, 0.462F}},
            s.round, c, 2, 0.2F);
  out.lathe({{0, 0},
             {0.075F, 0},
             {0.085F, 0.006F},
             {0.11F, 0.012F},
             {0.132F, 0.02F},
             {0.136F, 0.03F},
             {0.132F, 0.042F},
             {0.1F, 0.046F},
             {0, 0.05F}},
            s.round, c, 2, 0.2F);
  for (int i = 0; i < 6; ++i) {
    const float a = static_cast<float>(i) * kPi / 3;
    const glm::vec3 d(std::cos(a), std::sin(a), 0);
    out.tube(
        {c + d * 0.122F + glm::vec3(0, 0, 0.035F), c + d * 0.13F + glm::vec3(0, 0, 0.17F),
         c + d * 0.136F + glm::vec3(0, 0, 0.312F)},
        [](float) { return 0.0085F; }, s.details ? 8 : 5, 1, 0.1F);
  }
  if (s.details) {
    std::vector<glm::vec3> hoop;
    for (int i = 0; i <= 36; ++i) {
      const float a = static_cast<float>(i) / 36 * 2 * kPi;
      hoop.push_back(c + glm::vec3(0.133F * std::cos(a), 0.133F * std::sin(a), 0.18F));
    }
    out.tube(
        hoop, [](float) { return 0.006F; }, 6, 8, 0.1F);
  }
  return out;
}

Shape lanternPanes(const Style& s) {
  Shape out;
  out.lathe({{0.118F, 0.046F}, {0.126F, 0.17F}, {0.131F, 0.308F}}, 6, hook(s) - glm::vec3(0, 0, 0.52F), 1,
            0.3F, 1);
  return out;
}

Shape lens(const Style& s) {
  Shape out;
  out.lathe({{0, 0.05F},
             {0.03F, 0.05F},
             {0.034F, 0.07F},
             {0.05F, 0.1F},
             {0.062F, 0.14F},
             {0.066F, 0.175F},
             {0.06F, 0.21F},
             {0.044F, 0.245F},
             {0.022F, 0.27F},
             {0, 0.28F}},
            s.round * 3 / 4, hook(s) - glm::vec3(0, 0, 0.52F), 2, 0.2F, 60);
  return out;
}

Shape rope(const Style&) {
  Shape out;
  // Wrapped round the post, and a coil left lying at the foot.
  std::vector<glm::vec3> wrap, coil;
  for (int i = 0; i <= 170; ++i) {
    const float t = static_cast<float>(i) / 170, a = t * 2 * kPi * 6.5F;
    wrap.emplace_back(0.089F * std::cos(a), 0.089F * std::sin(a), 0.96F + 0.17F * t);
  }
  out.tube(
      wrap, [](float) { return 0.0135F; }, 7, 1, 0.045F);
  for (int i = 0; i <= 170; ++i) {
    const float t = static_cast<float>(i) / 170, a = t * 2 * kPi * 4.2F + 0.8F;
    const float r = 0.15F - 0.008F * std::sin(a * 0.37F) - 0.03F * t;
    coil.emplace_back(-0.30F + r * std::cos(a), 0.10F + r * std::sin(a),
                      0.017F + 0.088F * t + 0.004F * std::sin(a * 1.3F));
  }
  out.tube(
      coil, [](float) { return 0.016F; }, 7, 1, 0.055F);
  return out;
}

}  // namespace

scene::Model makerLamp() {
  const Style style;
  scene::Model model;
  const auto iron =
      addMaterial(model, "iron_coat", {0.34F, 0.5F, 0.5F, 1}, 0.1F, 0.55F, "textures/iron_coat.png");
  const auto oak = addMaterial(model, "oak", {1, 1, 1, 1}, 0, 0.78F, "textures/Oak_Turned.PNG");
  const auto hemp = addMaterial(model, "hemp", {1, 1, 1, 1}, 0, 0.95F, "textures/hemp.png");
  const auto brass = addMaterial(model, "brass", {1, 1, 1, 1}, 0.85F, 0.36F, "textures/brass.png");
  const auto lens_material = addMaterial(model, "mat_17", {1.0F, 0.93F, 0.78F, 1}, 0, 0.25F, "");
  const auto pane = addMaterial(model, "pane", {0.8F, 0.9F, 0.9F, 0.28F}, 0, 0.08F, "");
  model.materials[pane.value()].alpha = scene::AlphaMode::blend;
  model.materials[pane.value()].double_sided = true;

  // Game space (X forward, Y left, Z up, metres) to the maker's (Y up, facing -Z, centimetres).
  glm::mat4 to_maker(0);
  to_maker[0] = {0, 0, -100, 0};
  to_maker[1] = {-100, 0, 0, 0};
  to_maker[2] = {0, 100, 0, 0};
  to_maker[3] = {0, 0, 0, 1};

  const auto root = addNode(model, "quay_lamp", {});
  // The maker modelled away from the middle of the floor.
  model.node(root).local.position = {42, 0, -17};
  addPart(model, "foot", root, {foot(style).finish(to_maker, iron)});
  addPart(model, "post", root, {post(style).finish(to_maker, oak)});
  addPart(model, "ironwork", root, {ironwork(style).finish(to_maker, iron)});
  addPart(model, "line", root, {rope(style).finish(to_maker, hemp)});
  // The lantern was stretched in the scene, not in the mesh: the mesh is kept squat and the part's scale
  // makes it tall.
  scene::Placement stretch;
  stretch.position = glm::vec3(to_maker * glm::vec4(hook(style), 1));
  stretch.scale = {0.8F, 1.25F, 0.8F};
  const glm::mat4 into = glm::inverse(stretch.matrix()) * to_maker;
  const auto lantern =
      addPart(model, "lantern", root,
              {lanternBrass(style).finish(into, brass), lanternPanes(style).finish(into, pane),
               lens(style).finish(into, lens_material)});
  model.node(lantern).local = stretch;

  const auto camera = addNode(model, "view", {});
  scene::Camera lens_of_view;
  lens_of_view.fov_y_rad = 0.7F;
  model.cameras.push_back(lens_of_view);
  model.node(camera).camera = scene::CameraIndex(0);
  model.node(camera).local.position = {180, 160, 320};
  const auto light = addNode(model, "sun", {});
  model.lights.emplace_back();
  model.node(light).light = scene::LightIndex(0);
  model.node(light).local.position = {-200, 500, 100};
  const auto empty = addNode(model, "aim", root);
  model.node(empty).local.position = {0, 130, 0};
  return model;
}

scene::Model harbourLampGhost() {
  Style style;
  style.height = 2.6F;
  style.reach = 0.58F;
  style.round = 16;
  style.details = false;
  scene::Model model;
  const auto root = addNode(model, "harbour_lamp", {});
  const glm::mat4 same(1);
  std::vector<scene::Primitive> all;
  for (const Shape& s :
       {foot(style), post(style), ironwork(style), lanternBrass(style), lanternPanes(style)}) {
    all.push_back(s.finish(same, {}));
    all.back().uvs[0].clear();
  }
  addPart(model, "lamp", root, std::move(all));
  return model;
}

}  // namespace rakugo::demo
