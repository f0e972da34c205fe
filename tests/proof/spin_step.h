// A step that is added as a proof: its row and its effect, in this file alone.
#pragma once

#include <glm/gtc/quaternion.hpp>

#include "prepare/step.h"

namespace rakugo::proof {

/// Turns a part about its own pivot by quarters.
inline prepare::StepKind spinStep() {
  using namespace prepare;
  return {"spin_part",
          "Spin a part",
          StepGroup::parts,
          12,
          "Spin {part} by {quarters} quarters about its own {axis}",
          {referenceParameter("part", "part", ParameterType::part),
           countParameter("quarters", "number of quarters", 1).between(-3, 3),
           axisParameter("axis", "axis", "z")},
          [](scene::Model& model, const base::Json& values, const StepContext&) {
            const std::string key = base::textOf(values, "part"), axis = base::textOf(values, "axis");
            const scene::NodeIndex part = scene::findPart(model, key);
            if (!part.valid())
              return StepOutcome{StepState::missed, {"There is no part \"" + key + "\"."}, {}};
            const glm::vec3 about(axis == "x", axis == "y", axis == "z");
            const auto angle = glm::radians(90 * static_cast<float>(values["quarters"].get<double>()));
            scene::Node& node = model.node(part);
            node.local.turn = glm::normalize(node.local.turn * glm::angleAxis(angle, about));
            return StepOutcome{StepState::good, {}, "1 part"};
          },
          "About the part's pivot; what hangs on it goes along."};
}

}  // namespace rakugo::proof
