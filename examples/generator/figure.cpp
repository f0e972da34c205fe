#include "figure.h"

#include <algorithm>
#include <cmath>

#include "kit.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

// A hill of `height` about a direction, `wide` in radians.
float hill(glm::vec3 dir, glm::vec3 at, float wide, float height) {
  const float angle = std::acos(std::clamp(glm::dot(dir, glm::normalize(at)), -1.0F, 1.0F));
  return height * std::exp(-(angle * angle) / (2 * wide * wide));
}

constexpr float kHead = 1.615F;  // the middle of the head's height

// Where the head's surface lies in a direction from its middle: skull, brow, eye sockets, nose, mouth, chin.
glm::vec3 onHead(glm::vec3 dir, float over) {
  glm::vec3 p = dir * glm::vec3(0.1F, 0.083F, 0.118F);
  float out = over;
  out += hill(dir, {1, 0, -0.12F}, 0.13F, 0.022F) + hill(dir, {1, 0, 0.08F}, 0.08F, 0.008F);
  for (const float side : {1.0F, -1.0F}) {
    out += hill(dir, {1, side * 0.36F, 0.3F}, 0.2F, 0.007F);
    out -= hill(dir, {1, side * 0.36F, 0.1F}, 0.16F, 0.013F);
    out += hill(dir, {1, side * 0.5F, -0.25F}, 0.22F, 0.006F);
    out += hill(dir, {0.5F, side, -0.6F}, 0.35F, 0.004F);
  }
  out += hill(dir, {1, 0, -0.62F}, 0.12F, 0.005F) - hill(dir, {1, 0, -0.48F}, 0.1F, 0.004F) +
         hill(dir, {1, 0, -0.95F}, 0.22F, 0.011F);
  return p + dir * out + glm::vec3(0.004F, 0, kHead);
}

// A skin over the head between two heights (radians from the horizon, by where one looks to).
Shape headSkin(const std::function<float(float)>& low, float over, int rows) {
  Shape out;
  std::vector<std::vector<glm::vec3>> skin;
  constexpr int kRound = 40;
  for (int r = 0; r <= rows; ++r) {
    std::vector<glm::vec3> row;
    for (int c = 0; c <= kRound; ++c) {
      // More corners where the face is; the seam lies at the back of the head.
      const float t = static_cast<float>(c % kRound) / kRound * 2 - 1;
      const float around = kPi * (0.55F * t + 0.45F * t * t * t) * (c == kRound ? -1.0F : 1.0F);
      const float from = low(around),
                  up = from + (kPi / 2 - from) * static_cast<float>(r) / static_cast<float>(rows);
      const float flat = std::abs(up) > 1.5707F ? 0.0F : std::cos(up);  // a point above and below
      row.push_back(onHead(
          {std::cos(around) * flat, c % kRound == 0 ? 0.0F : std::sin(around) * flat, std::sin(up)}, over));
    }
    skin.push_back(std::move(row));
  }
  for (auto& row : skin) row.back() = row.front();
  out.sheet(skin, 0.5F, true);
  return out;
}

// A ball, drawn out.
void ball(Shape& out, glm::vec3 at, glm::vec3 radius) {
  const size_t from = out.size();
  std::vector<glm::vec2> profile;
  for (int i = 0; i <= 8; ++i) {
    const float a = (static_cast<float>(i) / 8 - 0.5F) * kPi;
    profile.emplace_back(i == 0 || i == 8 ? 0.0F : std::cos(a), std::sin(a));
  }
  out.lathe(profile, 12, {0, 0, 0}, 1, 0.5F, 80);
  glm::mat4 to(0);
  for (int i = 0; i < 3; ++i) to[i][i] = radius[i];
  to[3] = glm::vec4(at, 1);
  out.move(from, to);
}

// A palm, four fingers and a thumb, along +Y or -Y from the wrist.
void hand(Shape& out, glm::vec3 wrist, float side) {
  const auto at = [&](float along, float forward, float up) {
    return wrist + glm::vec3(forward, side * along, up);
  };
  const size_t from = out.size();
  out.tube(
      {at(-0.02F, 0, 0), at(0.02F, 0.002F, 0), at(0.06F, 0.004F, 0), at(0.095F, 0.004F, -0.002F)},
      [](float t) { return 0.026F + 0.018F * std::sin(t * kPi * 0.62F); }, 14, 1, 0.2F);
  // A palm is flatter than it is broad.
  glm::mat4 flatter(1);
  flatter[2][2] = 0.45F;
  flatter[3][2] = wrist.z * 0.55F;
  out.move(from, flatter);
  constexpr float kLength[4] = {0.074F, 0.086F, 0.08F, 0.062F};
  for (int f = 0; f < 4; ++f) {
    const float x = 0.031F - 0.0195F * static_cast<float>(f), start = f == 3 ? 0.078F : 0.086F;
    out.tube(
        {at(start, x, -0.001F), at(start + kLength[f] * 0.4F, x * 1.08F, 0),
         at(start + kLength[f] * 0.75F, x * 1.1F, -0.004F), at(start + kLength[f], x * 1.08F, -0.011F)},
        [](float t) { return 0.0098F - 0.0028F * t; }, 8, 1, 0.2F);
  }
  out.tube(
      {at(0.018F, 0.02F, -0.004F), at(0.05F, 0.046F, -0.008F), at(0.075F, 0.058F, -0.014F),
       at(0.094F, 0.063F, -0.021F)},
      [](float t) { return 0.0145F - 0.0055F * t; }, 8, 1, 0.2F);
}

struct Clothes {
  Shape skin, hair, eyes, jersey, trousers, boots, belt;
};

// Along the bones of a limb, from the first to the last place.
std::vector<glm::vec3> along(const std::vector<glm::vec3>& places) {
  std::vector<glm::vec3> path;
  for (size_t i = 0; i + 1 < places.size(); ++i)
    for (int k = 0; k < 6; ++k) path.push_back(glm::mix(places[i], places[i + 1], static_cast<float>(k) / 6));
  path.push_back(places.back());
  return path;
}

void limb(Clothes& out, const rulebook::Skeleton& skeleton, const rulebook::Chain& chain) {
  const bool arm = chain.id.find("arm") != std::string::npos;
  if (!arm && chain.id.find("leg") == std::string::npos) return;
  std::vector<glm::vec3> places;
  for (const std::string& id : chain.bones) places.push_back(at(*skeleton.findBone(id)));
  if (arm) {
    places.erase(places.begin());  // the collarbone lies in the trunk
    const glm::vec3 wrist = places.back();
    const float side = wrist.y > 0 ? 1.0F : -1.0F;
    // It begins inside the trunk.
    places.insert(places.begin(),
                  glm::vec3(places.front().x + 0.005F, side * 0.1F, places.front().z - 0.012F));
    out.jersey.tube(
        along(places), [](float t) { return 0.071F - 0.033F * t; }, 16, 1, 0.5F);
    // A rolled cuff.
    out.jersey.tube(
        {wrist - glm::vec3(0, side * 0.035F, 0), wrist - glm::vec3(0, side * 0.018F, 0), wrist},
        [](float t) { return 0.041F + 0.004F * std::sin(t * kPi); }, 16, 1, 0.5F);
    hand(out.skin, wrist, side);
    return;
  }
  const glm::vec3 ankle = places.back();
  out.trousers.tube(
      along(places), [](float t) { return 0.088F - 0.026F * t - 0.006F * std::sin(t * kPi); }, 18, 1, 0.5F);
  // A boot: a shaft to below the knee, a foot, a sole.
  const glm::vec3 up = (places[places.size() - 2] - ankle) / (places[places.size() - 2].z - ankle.z);
  out.boots.tube(
      {ankle - up * 0.06F, ankle, ankle + up * 0.12F, ankle + up * 0.25F},
      [](float t) { return 0.066F + 0.018F * t; }, 18, 1, 0.3F);
  out.boots.tube(
      {ankle + glm::vec3(-0.065F, 0, -0.045F), ankle + glm::vec3(0, 0, -0.04F),
       ankle + glm::vec3(0.09F, 0, -0.048F), ankle + glm::vec3(0.17F, 0, -0.056F),
       ankle + glm::vec3(0.2F, 0, -0.062F)},
      [](float t) { return 0.042F + 0.014F * std::sin(kPi * (0.3F + 0.6F * t)); }, 14, 1, 0.3F);
  out.boots.box(ankle + glm::vec3(-0.085F, -0.048F, -0.09F), ankle + glm::vec3(0.215F, 0.048F, -0.065F),
                0.012F, 0.3F);
}

Clothes dressed(const rulebook::Skeleton& skeleton) {
  Clothes out;
  out.jersey.lathe({{0, 0.94F},
                    {0.15F, 0.94F},
                    {0.165F, 0.97F},
                    {0.158F, 1.06F},
                    {0.153F, 1.16F},
                    {0.176F, 1.3F},
                    {0.165F, 1.39F},
                    {0.1F, 1.445F},
                    {0.072F, 1.455F},
                    {0.074F, 1.49F},
                    {0.07F, 1.505F},
                    {0, 1.505F}},
                   24, {-0.01F, 0, 0}, 1, 0.5F, 60);
  out.trousers.lathe(
      {{0, 0.8F}, {0.08F, 0.81F}, {0.15F, 0.86F}, {0.172F, 0.91F}, {0.165F, 0.955F}, {0, 0.96F}}, 24,
      {-0.01F, 0, 0}, 1, 0.5F, 60);
  out.belt.lathe({{0.155F, 0.962F}, {0.17F, 0.964F}, {0.172F, 0.985F}, {0.17F, 1.004F}, {0.155F, 1.006F}}, 24,
                 {-0.01F, 0, 0}, 1, 0.2F, 50);
  out.belt.box({0.15F, -0.025F, 0.962F}, {0.172F, 0.025F, 1.008F}, 0.003F, 0.2F);
  // A trunk is broader than it is deep.
  glm::mat4 broader(1);
  broader[0][0] = 0.85F;
  broader[1][1] = 1.12F;
  for (Shape* shape : {&out.jersey, &out.trousers, &out.belt}) shape->move(0, broader);
  out.skin.lathe({{0, 1.44F}, {0.056F, 1.45F}, {0.054F, 1.5F}, {0.058F, 1.54F}, {0, 1.56F}}, 20,
                 {-0.008F, 0, 0}, 1, 0.5F, 60);
  Shape face = headSkin([](float) { return -kPi / 2; }, 0, 36);
  for (const float side : {1.0F, -1.0F}) {
    ball(out.skin, {0.0F, side * 0.083F, 1.612F}, {0.02F, 0.008F, 0.03F});
    ball(out.eyes, {0.0825F, side * 0.031F, 1.629F}, {0.012F, 0.0125F, 0.0105F});
  }
  // Down to the nape and above the ears, up over the forehead.
  out.hair = headSkin([](float around) { return 0.52F - 0.95F * std::pow(std::abs(around) / kPi, 1.6F); },
                      0.009F, 14);  // Brows and a moustache.
  for (const float side : {1.0F, -1.0F}) {
    const auto on = [&](float y, float z) {
      return onHead(glm::normalize(glm::vec3(1, side * y, z)), 0.002F);
    };
    out.hair.tube(
        {on(0.2F, 0.24F), on(0.36F, 0.3F), on(0.56F, 0.24F)},
        [](float t) { return 0.003F + 0.003F * std::sin(t * kPi); }, 8, 1, 0.2F);
    out.hair.tube(
        {on(0.0F, -0.36F), on(0.16F, -0.36F), on(0.3F, -0.44F), on(0.4F, -0.56F)},
        [](float t) { return 0.0075F - 0.005F * t; }, 8, 1, 0.2F);
  }
  for (const rulebook::Chain& chain : skeleton.chains) limb(out, skeleton, chain);
  out.skin.add(face);
  return out;
}

}  // namespace

scene::Model keeper(const rulebook::Skeleton& skeleton,
                    const std::function<std::string(const rulebook::Bone&)>& name) {
  scene::Model model;
  const auto root = addNode(model, "keeper", {});
  const Clothes worn = dressed(skeleton);
  std::vector<scene::Primitive> body;
  const auto add = [&](const Shape& shape, const char* material, glm::vec4 color, float roughness) {
    body.push_back(plain(shape, glm::mat4(1), addMaterial(model, material, color, 0, roughness)));
  };
  add(worn.skin, "skin", {0.82F, 0.63F, 0.5F, 1}, 0.7F);
  add(worn.hair, "hair", {0.36F, 0.24F, 0.16F, 1}, 0.9F);
  add(worn.eyes, "eyes", {0.1F, 0.12F, 0.15F, 1}, 0.2F);
  add(worn.jersey, "blue jersey", {0.24F, 0.31F, 0.42F, 1}, 0.95F);
  add(worn.trousers, "twill", {0.36F, 0.31F, 0.25F, 1}, 0.95F);
  add(worn.boots, "rubber boots", {0.16F, 0.17F, 0.16F, 1}, 0.5F);
  add(worn.belt, "belt", {0.3F, 0.2F, 0.13F, 1}, 0.8F);
  addPart(model, "body", root, std::move(body));
  skinTo(model, root, skeleton, name);
  return model;
}

}  // namespace rakugo::demo
