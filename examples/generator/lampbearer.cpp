#include "lampbearer.h"

#include <cmath>

#include "demo_mod.h"
#include "formats/gltf/gltf.h"
#include "formats/pictures/pictures.h"
#include "kit.h"
#include "pictures.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

using base::Json;

struct Lens {
  glm::vec3 place;
  const char* part;
};
constexpr float kLensSide = 0.083F;
const Lens kLenses[] = {{{0.062F, kLensSide, 0.136F}, "lens left"},
                        {{0.062F, -kLensSide, 0.136F}, "lens right"}};

void addFigure(scene::Model& model, scene::NodeIndex root) {
  // One maker's names.
  const auto coat = addMaterial(model, "coat_mat", {1, 1, 1, 1}, 0, 0.7F, "textures/oilcloth.png"),
             hat = addMaterial(model, "hat_mat", {0.86F, 0.7F, 0.22F, 1}, 0, 0.6F, "textures/oilcloth.png");
  // Another's.
  const auto face = addMaterial(model, "Face Oak", {1, 1, 1, 1}, 0, 0.8F, "textures/oak.png"),
             boots = addMaterial(model, "Boots Black", {0, 0, 0, 1}, 0, 0.5F, "textures/oilcloth.png");
  // A third's.
  const auto buttons = addMaterial(model, "m03.buttons", {1, 1, 1, 1}, 0.9F, 0.35F, "textures/brass.png"),
             belt = addMaterial(model, "m04.belt", {1, 1, 1, 1}, 0, 0.95F, "textures/rope.png");
  // And what came with the lamps.
  const auto hook = addMaterial(model, "hook_surf1", {0.13F, 0.14F, 0.16F, 1}, 0.4F, 0.55F),
             left = addMaterial(model, "lens_surf2", {0.98F, 0.86F, 0.6F, 1}, 0, 0.2F),
             right = addMaterial(model, "lens_surf3", {0.98F, 0.82F, 0.52F, 1}, 0, 0.25F);
  // Two are as their exporters broke them: one is see-through for nothing, one black under its picture.
  model.materials[coat.value()].alpha = scene::AlphaMode::blend;
  for (const auto lens : {left, right}) model.materials[lens.value()].emissive = {1, 0.74F, 0.36F};

  Shape body, head, brim, feet, button, cord, ring;
  body.lathe({{0.001F, 0.05F},
              {0.06F, 0.052F},
              {0.066F, 0.07F},
              {0.052F, 0.13F},
              {0.058F, 0.19F},
              {0.036F, 0.222F},
              {0.02F, 0.23F}},
             24, {0, 0, 0}, 1, 0.4F, 60);
  for (const float side : {1.0F, -1.0F})
    body.tube(
        {{0, side * 0.05F, 0.2F}, {0.02F, side * 0.075F, 0.185F}, {0.05F, side * kLensSide, 0.176F}},
        [](float t) { return 0.016F - 0.005F * t; }, 10, 1, 0.2F);
  head.lathe({{0.001F, 0.226F}, {0.028F, 0.236F}, {0.036F, 0.262F}, {0.03F, 0.288F}, {0.001F, 0.298F}}, 20,
             {0, 0, 0}, 1, 0.1F, 80);
  brim.lathe({{0.033F, 0.279F},
              {0.062F, 0.27F},
              {0.064F, 0.274F},
              {0.036F, 0.289F},
              {0.033F, 0.312F},
              {0.018F, 0.324F},
              {0.001F, 0.326F}},
             24, {0, 0, 0}, 1, 0.2F, 50);
  for (const float side : {1.0F, -1.0F})
    feet.box({-0.03F, side * 0.03F - 0.022F, 0}, {0.058F, side * 0.03F + 0.022F, 0.05F}, 0.009F, 0.1F);
  for (int i = 0; i < 3; ++i) {
    const size_t from = button.size();
    button.lathe({{0.001F, 0.006F}, {0.007F, 0.005F}, {0.008F, 0}, {0.001F, -0.001F}}, 12, {0, 0, 0}, 1,
                 0.02F);
    glm::mat4 forward(0);  // its axis looks along the figure's front
    forward[0] = {0, 0, -1, 0};
    forward[1] = {0, 1, 0, 0};
    forward[2] = {1, 0, 0, 0};
    forward[3] = {0.052F, 0, 0.12F + 0.032F * static_cast<float>(i), 1};
    button.move(from, forward);
  }
  std::vector<glm::vec3> round;
  for (int i = 0; i <= 24; ++i) {
    const float a = static_cast<float>(i) / 24 * 2 * kPi;
    round.emplace_back(0.0555F * std::cos(a), 0.0555F * std::sin(a), 0.108F);
  }
  cord.tube(
      round, [](float) { return 0.007F; }, 8, 1, 0.09F);
  std::vector<glm::vec3> handle;
  for (int i = 0; i <= 16; ++i) {
    const float a = static_cast<float>(i) / 16 * 2 * kPi;
    handle.emplace_back(0, 0.02F * std::sin(a), 0.343F + 0.02F * std::cos(a));
  }
  ring.tube(
      handle, [](float) { return 0.0035F; }, 8, 1, 0.1F);
  for (const Lens& lens : kLenses)
    ring.tube(
        {{0.05F, lens.place.y, 0.176F}, {0.062F, lens.place.y, 0.168F}, {0.062F, lens.place.y, 0.157F}},
        [](float) { return 0.003F; }, 8, 1, 0.1F);
  const glm::mat4 same(1);
  addPart(
      model, "figure", root,
      {body.finish(same, coat), head.finish(same, face), brim.finish(same, hat), feet.finish(same, boots)});
  addPart(model, "trimmings", root,
          {button.finish(same, buttons), cord.finish(same, belt), ring.finish(same, hook)});
  for (size_t i = 0; i < 2; ++i) {
    Shape glass;
    glass.lathe({{0.001F, -0.021F}, {0.014F, -0.018F}, {0.019F, 0}, {0.013F, 0.018F}, {0.001F, 0.022F}}, 16,
                kLenses[i].place, 1, 0.1F, 70);
    addPart(model, kLenses[i].part, root, {glass.finish(same, i == 0 ? left : right)});
  }
}

}  // namespace

void writeLampbearer(const std::filesystem::path& mods) {
  DemoMod mod(mods / "lampbearer", "lampbearer-6t4hzm", "Lamp-bearer",
              "A carved keeper to carry by night: nine materials that want to be one.", "2026-12-01");
  scene::Model model;
  addFigure(model, addNode(model, "lamp_bearer", {}));
  model = inGltfAxes(std::move(model));
  roundAll(model, 1);
  scene::assignKeys(model);
  std::map<std::string, base::Bytes> written = {
      {"lamp_bearer.glb", formats::writeGlb(model)},
      {"textures/oilcloth.png", formats::encodePng(drawPaintedIron(128))},
      {"textures/oak.png", formats::encodePng(drawOak(128))},
      {"textures/brass.png", formats::encodePng(drawBrass(64))},
      {"textures/rope.png", formats::encodePng(drawRope(64))}};
  mod::ModelDoc& doc = mod.add("lamp-bearer", written, "lamp_bearer.glb", "Four makers of the harbour",
                               "CC0-1.0", "gear", "Lamp-bearer",
                               Json{{"use", "light"},
                                    {"lit", true},
                                    {"blurb", "He holds the lamps so that you need only hold him."},
                                    {"mass", 0.9},
                                    {"price", 64}});
  DemoMod::step(doc, "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
  DemoMod::step(doc, "bake", Json::object());
  doc.points = {{"grip", {0, 0, 0.36}, {0, 0, 0, 1}}, {"light", {0.16, 0, 0.15}, {0, 0, 0, 1}}};
  mod.save();
}

}  // namespace rakugo::demo
