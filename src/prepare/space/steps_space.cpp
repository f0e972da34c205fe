// Steps that say how long, which way round and where.
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/space/space_ops.h"
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

namespace {

StepOutcome applyReadLengths(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::string unit = base::textOf(values, "unit");
  for (const LengthUnit& u : lengthUnits()) {
    if (unit != u.id) continue;
    const double factor = u.metres / model.frame.read_unit_m;
    if (std::abs(factor - 1) > 1e-9) transformAll(model, glm::mat3(1), static_cast<float>(factor));
    model.frame.read_unit_m = u.metres;
    return {StepState::good,
            {},
            std::abs(factor - 1) > 1e-9 ? base::phrase("lengths times {0}", base::numberText(factor, 6))
                                        : base::phrase("lengths as they are")};
  }
  return wrongValues(base::phrase("\"{0}\" is no unit of length.", unit));
}

StepOutcome applyTurn(scene::Model& model, const base::Json& values, const StepContext& context) {
  const auto forward = geometry::axisFromName(base::textOf(values, "forward"));
  const auto up = geometry::axisFromName(base::textOf(values, "up"));
  if (geometry::parallel(*forward, *up))
    return wrongValues(base::phrase("Forward and up lie on one line; choose two sides that meet."));
  const glm::mat3 turn = geometry::quarterTurn(*forward, *up, context.book->forward, context.book->up);
  if (turn != glm::mat3(1)) transformAll(model, turn, 1);
  model.frame.up = context.book->up;
  model.frame.forward = context.book->forward;
  model.frame.turned = true;
  return {StepState::good, {}, turn == glm::mat3(1) ? base::phrase("already so") : ""};
}

StepOutcome applyScale(scene::Model& model, const base::Json& values, const StepContext&) {
  transformAll(model, glm::mat3(1), static_cast<float>(numberValue(values, "factor", 1)));
  return {};
}

StepOutcome applyStretch(scene::Model& model, const base::Json& values, const StepContext& context) {
  const double factor = numberValue(values, "factor", 1);
  const GameAxes axes = gameAxes(model.frame, *context.book);
  const std::string along = base::textOf(values, "along");
  const glm::vec3 axis = glm::abs(along == "length" ? axes.forward : along == "width" ? axes.side : axes.up);
  stretchAll(model, glm::vec3(1) + axis * (static_cast<float>(factor) - 1));
  return {};
}

StepOutcome applyRotate(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string about = base::textOf(values, "about");
  const double degrees = numberValue(values, "degrees", 0);
  const GameAxes axes = gameAxes(model.frame, *context.book);
  const glm::vec3 axis = about == "up" ? axes.up : about == "forward" ? axes.forward : axes.side;
  const glm::mat4 turn = glm::mat4_cast(glm::angleAxis(radians(degrees), axis));
  // Roots are turned about the origin; meshes, bones and what hangs on them go along.
  for (const scene::NodeIndex root : model.roots) {
    bool exact = true;
    model.node(root).local = scene::placementOf(turn * model.node(root).local.matrix(), exact);
  }
  StepOutcome out;
  const double full = std::fmod(degrees, 360.0);
  if (full == 0) out.did = base::phrase("as it was");
  return out;
}

StepOutcome applyOrigin(scene::Model& model, const base::Json& values, const StepContext& context) {
  const geometry::Bounds box = scene::boundsOf(model);
  if (box.empty()) return missed(base::phrase("The model has no vertices."));
  const std::string to = base::textOf(values, "to");
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
    if (!point) return wrongValues(base::phrase("A point has three numbers."));
    origin = *point;
  }
  shiftAll(model, -origin);
  const float distance = glm::length(origin);
  return {StepState::good,
          {},
          distance < 1e-5F ? base::phrase("already there")
                           : base::phrase("moved {0}", base::lengthText(distance))};
}

StepOutcome applyBake(scene::Model& model, const base::Json&, const StepContext&) {
  const auto kept = bakeAll(model);
  StepOutcome out;
  if (!kept.empty()) {
    out.state = StepState::partly;
    out.misses.push_back(
        base::phrase("{0} carry bones or movement and keep their placement.", base::listText(kept)));
  }
  return out;
}

// The minus sign of print; files keep the ASCII one.
Choices sides() {
  Choices out;
  for (const geometry::Axis axis : geometry::kAxes) {
    const std::string name = geometry::axisName(axis);
    out.emplace_back(name, "the " + (name[0] == '-' ? "−" + name.substr(1) : name) + " side");
  }
  return out;
}

Parameter sideParameter(const char* key, const char* title, const char* first) {
  Parameter out = choiceParameter(key, title, sides());
  out.initial = first;
  return out;
}

Parameter unitParameter() {
  Choices units;
  for (const LengthUnit& unit : lengthUnits()) units.emplace_back(unit.id, unit.title);
  Parameter out = choiceParameter("unit", "unit", std::move(units));
  out.initial = "cm";
  return out;
}

Parameter alongParameter() {
  Parameter out =
      choiceParameter("along", "direction", {{"length", "length"}, {"width", "width"}, {"height", "height"}});
  out.initial = "height";
  return out;
}

}  // namespace

std::vector<StepKind> spaceSteps() {
  return {
      {"read_lengths",
       "Read lengths",
       StepGroup::space,
       0,
       "Read lengths as {unit}",
       {unitParameter()},
       applyReadLengths},
      {"turn",
       "Turn",
       StepGroup::space,
       2,
       "Turn so that {forward} faces forward and {up} faces up",
       {sideParameter("forward", "side that faces forward", "+Z"),
        sideParameter("up", "side that faces up", "+Y")},
       applyTurn,
       "The sides of the model that are to face the game's forward and up."},
      {"rotate",
       "Turn by an angle",
       StepGroup::space,
       2,
       "Turn everything about {about} by {degrees} degrees",
       {choiceParameter("about", "axis", {{"up", "up"}, {"forward", "forward"}, {"side", "the left"}})
            .means("The game's; counter-clockwise as seen from that side."),
        numberParameter("degrees", "angle", 15).between(-3600, 3600).in("degrees")},
       applyRotate},
      {"scale",
       "Scale",
       StepGroup::space,
       3,
       "Scale everything by {factor}",
       {numberParameter("factor", "factor", 1).between(1e-6, 1e6).shown(6)},
       applyScale},
      {"stretch",
       "Stretch one way",
       StepGroup::space,
       3,
       "Stretch the {along} alone by {factor}",
       {alongParameter().means("The game's."),
        numberParameter("factor", "factor", 1).between(1e-3, 1e3).shown(6)},
       applyStretch},
      {"bake",
       "Bake placement",
       StepGroup::space,
       13,
       "Bake position, turn and scale of every part into its mesh",
       {},
       applyBake,
       "Parts without a mesh, and with none below them (lamps, cameras, empties), stay where they are."},
      {"origin",
       "Put the origin",
       StepGroup::space,
       40,
       "Put the origin at {to}[to=point| {point}]",
       {choiceParameter("to", "place of the origin",
                        {{"floor_centre", "the centre of the floor"},
                         {"floor", "the floor, straight below"},
                         {"centre", "the centre"},
                         {"point", "the point"}}),
        pointParameter("point", "point").in("metres").orAbsent()},
       applyOrigin,
       "`floor` changes the height alone."},
  };
}

}  // namespace rakugo::prepare
