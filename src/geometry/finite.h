// Whether numbers are numbers.
#pragma once

#include <cmath>
#include <glm/glm.hpp>

namespace rakugo::geometry {

/// No component is infinite or not a number.
inline bool finite(glm::vec3 v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); }

}  // namespace rakugo::geometry
