#include "app/stations/objects/snapped_drag.h"

#include <cmath>

#include "base/phrase.h"

namespace rakugo::app {

std::array<double, 3> snappedDrag(Bench& bench, const PlaceEditor& editor,
                                  const std::array<double, 3>& from_m, const glm::vec3& by_m,
                                  const LevelsAlong& levels, const glm::mat4& to_scene) {
  constexpr double kReached_px = 9;
  const glm::dvec3 from(from_m[0], from_m[1], from_m[2]);
  glm::dvec3 to = from + glm::dvec3(by_m);
  bench.showNames({});
  if (const double way = glm::length(glm::dvec3(by_m)); way > 0) {
    const glm::dvec3 along = glm::dvec3(by_m) / way;
    const prepare::SnapOptions options =
        bench.dragTyped() ? prepare::SnapOptions() : editor.snap(kReached_px * bench.metresPerPixel());
    const auto targets = options.reach_m > 0 ? levels(along) : std::vector<prepare::SnapTarget>();
    const prepare::Snapped snapped = prepare::snapped(glm::dot(to, along), targets, options);
    to += along * (snapped.at_m - glm::dot(to, along));
    // Above the handle's arrows.
    const glm::vec3 above = bench.camera().up * static_cast<float>(bench.metresPerPixel() * 70);
    if (!snapped.to.empty())
      bench.showNames({{glm::vec3(to_scene * glm::vec4(glm::vec3(to), 1)) + above,
                        Bench::tr("level with %1").arg(q(snapped.to))}});
  }
  // To a millimetre, as the numbers show it; no zero with a sign.
  std::array<double, 3> out{};
  for (int i = 0; i < 3; ++i) out[static_cast<size_t>(i)] = std::round(to[i] * 1e3) / 1e3 + 0.0;
  return out;
}

void addSurfaces(const BenchScene& scene, const std::array<double, 3>& through_m, const glm::dvec3& along,
                 std::vector<prepare::SnapTarget>& levels) {
  const glm::vec3 through(through_m[0], through_m[1], through_m[2]), way(along);
  const float far = glm::length(scene.bounds_m.size()) + glm::distance(through, scene.bounds_m.center()) + 1;
  const auto add = [&](const glm::vec3& origin, const glm::vec3& toward) {
    if (const auto found = hit(scene, origin, toward))
      levels.push_back({glm::dot(glm::dvec3(found->position), along), base::phrase("the surface")});
  };
  add(through, way);
  add(through, -way);
  add(through + way * far, -way);
  add(through - way * far, way);
}

glm::vec3 putPlace(Bench& bench, const PlaceEditor& editor, const BenchHit& hit) {
  const auto clicked = bench.project(hit.position);
  if (!(editor.snap(1).reach_m > 0) || !clicked) return hit.position;
  const auto near = bench.snapUnder(*clicked);
  return near ? near->position : hit.position;
}

}  // namespace rakugo::app
