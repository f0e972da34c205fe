#include "prepare/edit_steps.h"

#include <algorithm>

#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;

template <class Doc>
auto enabledStep(Doc& doc, const std::string& kind) {
  return std::find_if(doc.steps.begin(), doc.steps.end(),
                      [&](const mod::StepDoc& step) { return step.kind == kind && step.enabled; });
}

}  // namespace

void setOrAddStep(mod::ModelDoc& doc, const std::string& kind, const Json& values) {
  const auto step = enabledStep(doc, kind);
  if (step == doc.steps.end()) {
    insertByRank(doc, makeStep(doc, kind, values));
    return;
  }
  for (const auto& [key, value] : values.items()) step->values[key] = value;
}

void dropParts(mod::ModelDoc& doc, const std::vector<std::string>& keys) {
  const auto step = enabledStep(doc, "drop");
  Json parts = Json::array();
  if (step != doc.steps.end() && step->values.contains("parts") && step->values["parts"].is_array())
    parts = step->values["parts"];
  for (const std::string& key : keys)
    if (std::find(parts.begin(), parts.end(), Json(key)) == parts.end()) parts.push_back(key);
  setOrAddStep(doc, "drop", Json{{"parts", parts}});
}

void setRole(mod::ModelDoc& doc, const std::string& material, const std::string& role) {
  const auto names = [&](const mod::StepDoc& step) {
    return step.kind == "role" && textValue(step.values, "material") == material;
  };
  if (role.empty()) {
    std::erase_if(doc.steps, names);
    return;
  }
  for (mod::StepDoc& step : doc.steps)
    if (step.enabled && names(step)) {
      step.values["role"] = role;
      return;
    }
  insertByRank(doc, makeStep(doc, "role", base::Json{{"material", material}, {"role", role}}));
}

void scaleBy(mod::ModelDoc& doc, double factor) {
  const auto step = enabledStep(doc, "scale");
  const double present = step != doc.steps.end() ? numberValue(step->values, "factor", 1) : 1;
  setOrAddStep(doc, "scale", Json{{"factor", present * factor}});
}

Json turnToFace(const mod::ModelDoc& doc, const scene::Frame& frame, const rulebook::Rulebook& book,
                glm::vec3 direction) {
  if (const auto step = enabledStep(doc, "turn"); step != doc.steps.end()) {
    const auto forward = geometry::axisFromName(textValue(step->values, "forward"));
    const auto up = geometry::axisFromName(textValue(step->values, "up"));
    if (forward && up) {
      const glm::mat3 back = glm::transpose(geometry::quarterTurn(*forward, *up, book.forward, book.up));
      return Json{{"forward", geometry::axisName(geometry::nearestAxis(back * direction))},
                  {"up", geometry::axisName(*up)}};
    }
  }
  return Json{{"forward", geometry::axisName(geometry::nearestAxis(direction))},
              {"up", geometry::axisName(frame.up)}};
}

GameAxes gameAxes(const scene::Frame& frame, const rulebook::Rulebook& book) {
  const glm::vec3 forward = geometry::axisVector(frame.turned ? book.forward : frame.forward);
  const glm::vec3 up = geometry::axisVector(frame.turned ? book.up : frame.up);
  return {forward, glm::cross(up, forward), up};
}

glm::vec3 gameExtents(const scene::Model& model, const rulebook::Rulebook& book) {
  const glm::vec3 size = scene::boundsOf(model).size();
  const GameAxes axes = gameAxes(model.frame, book);
  return {glm::dot(size, glm::abs(axes.forward)), glm::dot(size, glm::abs(axes.side)),
          glm::dot(size, glm::abs(axes.up))};
}

}  // namespace rakugo::prepare
