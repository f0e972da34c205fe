// Lamps of objects as lights of the lit look.
#pragma once

#include <glm/glm.hpp>
#include <optional>

#include "bundle/records.h"
#include "render/renderer.h"

namespace rakugo::render {

/// The light of a lamp whose object stands at `matrix` (rigid or evenly scaled; metres). `on`: 0 dark to 1 as
/// the lamp says. `forward`: the game's, which the lamp's turn is against. Nothing for one that is dark.
std::optional<PointLight> lightOf(const bundle::ObjectLamp& lamp, const glm::mat4& matrix, glm::vec3 forward,
                                  float on, float night);

/// Leaves the lights that count most at `eye`: no more than the renderer uses.
void keepNearest(std::vector<PointLight>& lights, glm::vec3 eye);

}  // namespace rakugo::render
