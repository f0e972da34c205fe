// Steps that say how long, which way round and where.
#include <cmath>

#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/space_ops.h"
#include "prepare/steps.h"

namespace rakugo::prepare {

const std::vector<LengthUnit>& lengthUnits() {
  static const std::vector<LengthUnit> kUnits = {{"mm", "millimetres", 0.001},
                                                 {"cm", "centimetres", 0.01},
                                                 {"m", "metres", 1},
                                                 {"in", "inches", 0.0254},
                                                 {"ft", "feet", 0.3048}};
  return kUnits;
}

std::string textValue(const base::Json& values, const char* key) {
  return values.is_object() && values.contains(key) && values[key].is_string()
             ? values[key].get<std::string>()
             : std::string();
}

double numberValue(const base::Json& values, const char* key, double fallback) {
  if (!values.is_object() || !values.contains(key) || !values[key].is_number()) return fallback;
  const auto value = values[key].get<double>();
  return std::isfinite(value) ? value : fallback;
}

std::optional<glm::vec3> pointValue(const base::Json& values, const char* key) {
  if (!values.is_object() || !values.contains(key) || !values[key].is_array() || values[key].size() != 3)
    return std::nullopt;
  glm::vec3 out(0);
  for (int i = 0; i < 3; ++i) {
    const base::Json& one = values[key][static_cast<size_t>(i)];
    if (!one.is_number() || !std::isfinite(one.get<float>())) return std::nullopt;
    out[i] = one.get<float>();
  }
  return out;
}

StepOutcome missed(std::string why) { return {StepState::missed, {std::move(why)}, {}}; }

StepOutcome wrongValues(const std::string& why) { return {StepState::wrong, {why}, {}}; }

StepOutcome applyReadLengths(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::string unit = textValue(values, "unit");
  for (const LengthUnit& u : lengthUnits()) {
    if (unit != u.id) continue;
    const double factor = u.metres / model.frame.read_unit_m;
    if (std::abs(factor - 1) > 1e-9) transformAll(model, glm::mat3(1), static_cast<float>(factor));
    model.frame.read_unit_m = u.metres;
    return {
        StepState::good,
        {},
        std::abs(factor - 1) > 1e-9 ? "lengths times " + base::numberText(factor, 6) : "lengths as they are"};
  }
  return wrongValues("\"" + unit + "\" is no unit of length.");
}

StepOutcome applyTurn(scene::Model& model, const base::Json& values, const StepContext& context) {
  const auto forward = geometry::axisFromName(textValue(values, "forward"));
  const auto up = geometry::axisFromName(textValue(values, "up"));
  if (!forward || !up) return wrongValues("A side is one of +X, -X, +Y, -Y, +Z, -Z.");
  if (geometry::parallel(*forward, *up))
    return wrongValues("Forward and up lie on one line; choose two sides that meet.");
  const glm::mat3 turn = geometry::quarterTurn(*forward, *up, context.book->forward, context.book->up);
  if (turn != glm::mat3(1)) transformAll(model, turn, 1);
  model.frame.up = context.book->up;
  model.frame.forward = context.book->forward;
  model.frame.turned = true;
  return {StepState::good, {}, turn == glm::mat3(1) ? "already so" : ""};
}

StepOutcome applyScale(scene::Model& model, const base::Json& values, const StepContext&) {
  const double factor = numberValue(values, "factor", 0);
  if (!(factor >= 1e-6 && factor <= 1e6)) return wrongValues("A factor lies between 0.000001 and 1,000,000.");
  transformAll(model, glm::mat3(1), static_cast<float>(factor));
  return {};
}

StepOutcome applyStretch(scene::Model& model, const base::Json& values, const StepContext& context) {
  const double factor = numberValue(values, "factor", 0);
  if (!(factor >= 1e-3 && factor <= 1e3)) return wrongValues("A factor lies between 0.001 and 1,000.");
  const GameAxes axes = gameAxes(model.frame, *context.book);
  const std::string along = textValue(values, "along");
  if (along != "length" && along != "width" && along != "height")
    return wrongValues("A model is stretched along its length, width or height.");
  const glm::vec3 axis = glm::abs(along == "length" ? axes.forward : along == "width" ? axes.side : axes.up);
  stretchAll(model, glm::vec3(1) + axis * (static_cast<float>(factor) - 1));
  return {};
}

StepOutcome applyRotate(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string about = textValue(values, "about");
  const double degrees = numberValue(values, "degrees", 0);
  if (about != "up" && about != "forward" && about != "side")
    return wrongValues("It is turned about the game's up, forward or side.");
  if (!(std::abs(degrees) <= 3600)) return wrongValues("An angle lies between -3600 and 3600 degrees.");
  const GameAxes axes = gameAxes(model.frame, *context.book);
  const glm::vec3 axis = about == "up" ? axes.up : about == "forward" ? axes.forward : axes.side;
  const glm::mat4 turn =
      glm::mat4_cast(glm::angleAxis(static_cast<float>(degrees * 3.14159265358979 / 180), axis));
  // Roots are turned about the origin; meshes, bones and what hangs on them go along.
  for (const scene::NodeIndex root : model.roots) {
    bool exact = true;
    model.node(root).local = scene::placementOf(turn * model.node(root).local.matrix(), exact);
  }
  StepOutcome out;
  const double full = std::fmod(degrees, 360.0);
  if (full == 0) out.did = "as it was";
  return out;
}

StepOutcome applyOrigin(scene::Model& model, const base::Json& values, const StepContext& context) {
  const geometry::Bounds box = scene::boundsOf(model);
  if (box.empty()) return missed("The model has no vertices.");
  const std::string to = textValue(values, "to");
  glm::vec3 origin = box.center();
  if (to == "floor_centre") {
    const glm::vec3 up = geometry::axisVector(context.book->up);
    const float half = std::abs(glm::dot(box.size(), up)) * 0.5F;
    origin -= up * half;
  } else if (to == "floor") {
    const glm::vec3 up = geometry::axisVector(context.book->up);
    origin = up * (glm::dot(box.center(), up) - std::abs(glm::dot(box.size(), up)) * 0.5F);
  } else if (to == "point") {
    const auto point = pointValue(values, "point");
    if (!point) return wrongValues("A point has three numbers.");
    origin = *point;
  } else if (to != "centre") {
    return wrongValues("An origin is floor_centre, floor, centre or point.");
  }
  shiftAll(model, -origin);
  const float distance = glm::length(origin);
  return {StepState::good, {}, distance < 1e-5F ? "already there" : "moved " + base::lengthText(distance)};
}

StepOutcome applyBake(scene::Model& model, const base::Json&, const StepContext&) {
  const auto kept = bakeAll(model);
  StepOutcome out;
  if (!kept.empty()) {
    out.state = StepState::partly;
    out.misses.push_back(base::listText(kept) + " carry bones or movement and keep their placement.");
  }
  return out;
}

}  // namespace rakugo::prepare
