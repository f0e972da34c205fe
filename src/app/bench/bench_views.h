// How the bench is looked at: parts alone, hidden or let through, and a plane that cuts the model open. Of
// the window only; no mod holds it.
#pragma once

#include <glm/glm.hpp>
#include <map>
#include <optional>
#include <string>

#include "app/bench/bench_scene.h"
#include "render/presence.h"

namespace rakugo::app {

/// A plane across what the model itself calls its length, width or height.
struct Cut {
  enum class Across : unsigned char { length, width, height };
  Across across = Across::width;
  double share = 0.5;      ///< where along the model's box, 0 to 1 towards forward, left and up
  bool keeps_far = false;  ///< what lies beyond the plane stays, instead of what lies before it
  bool operator==(const Cut&) const = default;
};

struct BenchViews {
  std::map<std::string, render::Presence> parts;  ///< by key; those that are not named are whole
  std::optional<Cut> cut;
  bool operator==(const BenchViews&) const = default;
};

/// The plane for Renderer::cutAway.
glm::vec4 planeOf(const Cut& cut, const BenchScene& scene);
/// Where along its axis, in metres from the origin, the plane of a cut stands.
double placeOf(const Cut& cut, const BenchScene& scene);

}  // namespace rakugo::app
