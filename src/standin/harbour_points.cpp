#include "standin/harbour_points.h"

#include <algorithm>
#include <cmath>
#include <string_view>

#include "standin/harbour_shapes.h"

namespace rakugo::standin {
namespace {

constexpr float kNear_m = 0.6F, kLine_m = 12;

glm::vec3 placeOf(const std::array<float, 3>& position) { return {position[0], position[1], position[2]}; }

// Whether one of them stands where the point is.
template <class List>
bool anyNear(const List& list, const bundle::ObjectPoint& point) {
  return std::any_of(list.begin(), list.end(), [&](const auto& one) {
    return glm::distance(placeOf(one.position), placeOf(point.position)) < kNear_m;
  });
}

bundle::ObjectLamp navLamp(const bundle::ObjectPoint& point, const std::array<float, 3>& color) {
  bundle::ObjectLamp out;
  out.name = point.name;
  out.position = point.position;
  out.color = color;
  out.strength = 4;
  out.reach = 7;
  out.cone = 6.2831853F;
  out.lit = "night";
  return out;
}

bundle::ObjectEmitter smoke(const bundle::ObjectPoint& point) {
  bundle::ObjectEmitter out;
  out.name = point.name;
  out.position = point.position;
  out.look = "smoke";
  out.runs = "under-way";
  out.rate = 9;
  out.life = 4;
  out.speed = 0.9F;
  out.spread = 0.3F;
  out.gravity = -0.03F;
  out.size = {0.18F, 1.1F};
  out.opacity = {0.5F, 0};
  out.color = {{{0.2F, 0.2F, 0.2F}, {0.6F, 0.6F, 0.6F}}};
  return out;
}

bundle::ObjectEmitter wash(const bundle::ObjectPoint& point) {
  bundle::ObjectEmitter out;
  out.name = point.name;
  out.position = point.position;
  out.turn = {0, -0.70710678F, 0, 0.70710678F};  // up becomes astern
  out.look = "spray";
  out.runs = "under-way";
  out.rate = 60;
  out.life = 1.3F;
  out.speed = 1.6F;
  out.spread = 0.7F;
  out.size = {0.08F, 0.5F};
  out.opacity = {0.7F, 0};
  out.color = {{{0.9F, 0.95F, 0.95F}, {0.9F, 0.95F, 0.95F}}};
  return out;
}

}  // namespace

void hangAtPoints(bundle::ObjectRecord& record) {
  if (record.kind != "craft") return;
  std::vector<bundle::ObjectLamp> lamps;
  std::vector<bundle::ObjectEmitter> emitters;
  for (const bundle::ObjectPoint& point : record.points) {
    if (point.name == "nav-port" && !anyNear(record.lamps, point))
      lamps.push_back(navLamp(point, {1, 0.05F, 0.03F}));
    if (point.name == "nav-starboard" && !anyNear(record.lamps, point))
      lamps.push_back(navLamp(point, {0.04F, 1, 0.25F}));
    if (point.name == "funnel" && !anyNear(record.emitters, point)) emitters.push_back(smoke(point));
    if (point.name == "screw" && !anyNear(record.emitters, point)) emitters.push_back(wash(point));
  }
  record.lamps.insert(record.lamps.end(), lamps.begin(), lamps.end());
  record.emitters.insert(record.emitters.end(), emitters.begin(), emitters.end());
}

std::vector<MooringLine> mooringLines(const bundle::ObjectRecord& record, const glm::mat4& place) {
  std::vector<MooringLine> out;
  if (record.kind != "craft") return out;
  for (const bundle::ObjectPoint& point : record.points) {
    const std::string_view name = point.name;
    if (name != "mooring-bow" && name != "mooring-stern") continue;
    const glm::vec3 from(place * glm::vec4(placeOf(point.position), 1));
    const float bollard = *std::min_element(kBollards_m.begin(), kBollards_m.end(), [&](float a, float b) {
      return std::abs(a - from.y) < std::abs(b - from.y);
    });
    const glm::vec3 to(kBollardLine_m, bollard, 0.3F);
    if (glm::distance(from, to) < kLine_m) out.push_back({from, to});
  }
  return out;
}

}  // namespace rakugo::standin
