#include "prepare/edit_steps.h"

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "prepare/steps.h"

#include "scene/rest_pose.h"

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
    return step.kind == "role" && base::textOf(step.values, "material") == material;
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

Json pointJson(glm::vec3 point) {
  Json out = Json::array();
  for (int i = 0; i < 3; ++i) out.push_back(std::round(static_cast<double>(point[i]) * 1e6) / 1e6);
  return out;
}

void setPivot(mod::ModelDoc& doc, const std::string& part, const Json& values) {
  Json all = values;
  all["part"] = part;
  for (mod::StepDoc& step : doc.steps)
    if (step.enabled && step.kind == "pivot" && base::textOf(step.values, "part") == part) {
      step.values = all;
      return;
    }
  insertByRank(doc, makeStep(doc, "pivot", all));
}

void scaleBy(mod::ModelDoc& doc, double factor) {
  const auto step = enabledStep(doc, "scale");
  const double present = step != doc.steps.end() ? numberValue(step->values, "factor", 1) : 1;
  setOrAddStep(doc, "scale", Json{{"factor", present * factor}});
}

void nameBones(mod::ModelDoc& doc, const std::vector<std::pair<std::string, std::string>>& names) {
  const auto step = enabledStep(doc, "name_bones");
  Json all = step != doc.steps.end() ? step->values.value("names", Json::object()) : Json::object();
  if (!all.is_object()) all = Json::object();
  for (const auto& [name, key] : names) {
    for (auto at = all.begin(); at != all.end();)
      at = *at == Json(key) || at.key() == name ? all.erase(at) : std::next(at);
    if (!key.empty()) all[name] = key;
  }
  if (all.empty()) {
    if (step != doc.steps.end()) doc.steps.erase(step);
    return;
  }
  setOrAddStep(doc, "name_bones", Json{{"names", all}});
}

bool boneNamedAs(const mod::ModelDoc& doc, const std::string& name) {
  const auto step = enabledStep(doc, "name_bones");
  return step != doc.steps.end() && step->values.value("names", Json()).contains(name);
}

const mod::StepDoc* boneTurn(const mod::ModelDoc& doc, const std::string& bone) {
  for (const mod::StepDoc& step : doc.steps)
    if (step.enabled && step.kind == "turn_bone" && base::textOf(step.values, "bone") == bone) return &step;
  return nullptr;
}

void turnBone(mod::ModelDoc& doc, const std::string& bone, const std::string& which, double degrees) {
  const mod::StepDoc* there = boneTurn(doc, bone);
  if (there == nullptr) {
    if (degrees != 0) insertByRank(doc, makeStep(doc, "turn_bone", Json{{"bone", bone}, {which, degrees}}));
    return;
  }
  const auto at = there - doc.steps.data();
  Json& values = doc.steps[static_cast<size_t>(at)].values;
  values[which] = degrees;
  const bool any = std::any_of(values.begin(), values.end(),
                               [](const Json& one) { return one.is_number() && one.get<double>() != 0; });
  if (!any) doc.steps.erase(doc.steps.begin() + at);
}

void rotateBy(mod::ModelDoc& doc, const std::string& about, double degrees) {
  // Turns about different axes do not change places, so that only the last one can be added to.
  const auto last = std::find_if(doc.steps.rbegin(), doc.steps.rend(), [](const mod::StepDoc& step) {
    return step.enabled && step.kind == "rotate";
  });
  if (last == doc.steps.rend() || base::textOf(last->values, "about") != about) {
    insertByRank(doc, makeStep(doc, "rotate", Json{{"about", about}, {"degrees", degrees}}));
    return;
  }
  const double sum = std::remainder(numberValue(last->values, "degrees", 0) + degrees, 360.0);
  if (sum == 0)
    doc.steps.erase(std::next(last).base());
  else
    last->values["degrees"] = sum;
}

void stretchBy(mod::ModelDoc& doc, const std::string& along, double factor) {
  for (mod::StepDoc& step : doc.steps)
    if (step.enabled && step.kind == "stretch" && base::textOf(step.values, "along") == along) {
      step.values["factor"] = numberValue(step.values, "factor", 1) * factor;
      return;
    }
  insertByRank(doc, makeStep(doc, "stretch", Json{{"along", along}, {"factor", factor}}));
}

std::vector<mod::PointDoc> placesOfCopies(const mod::ModelDoc& doc, const scene::Model& prepared,
                                          const rulebook::Rulebook& book, const scene::SameParts& same,
                                          bool first_stays) {
  const auto world = scene::worldMatrices(prepared);
  std::vector<bool> goes(prepared.nodes.size(), false);
  for (size_t i = first_stays ? 1 : 0; i < same.parts.size(); ++i) goes[same.parts[i].value()] = true;
  // What hangs below a part goes with it; parents come before their children.
  geometry::Bounds left;
  for (const scene::NodeIndex i : scene::reachedNodes(prepared)) {
    const scene::NodeIndex parent = prepared.node(i).parent;
    if (parent.valid() && goes[parent.value()]) goes[i.value()] = true;
    if (!goes[i.value()]) left.add(scene::partBounds(prepared, i, world));
  }
  glm::vec3 origin(0);
  if (const auto step = enabledStep(doc, "origin"); step != doc.steps.end() && !left.empty()) {
    const std::string to = base::textOf(step->values, "to");
    if (to == "centre" || to == "floor_centre") origin = left.center();
    const glm::vec3 up = geometry::axisVector(book.up);
    if (to == "floor_centre") origin -= up * (std::abs(glm::dot(left.size(), up)) * 0.5F);
  }
  const scene::Node& first = prepared.node(same.parts[0]);
  const glm::vec3 middle = scene::partBounds(prepared, same.parts[0], world).center();
  const std::string name = base::slug(first.name.empty() ? "part" : first.name);
  std::vector<mod::PointDoc> out;
  for (size_t i = 0; i < same.places.size(); ++i) {
    mod::PointDoc point;
    const auto taken = [&](const std::string& id) {
      const auto has = [&](const mod::PointDoc& p) { return p.id == id; };
      return std::any_of(doc.points.begin(), doc.points.end(), has) ||
             std::any_of(out.begin(), out.end(), has);
    };
    for (size_t n = i + 1; point.id.empty() || taken(point.id); ++n)
      point.id = name + "-" + std::to_string(n);
    const glm::vec3 at = glm::vec3(same.places[i] * glm::vec4(middle, 1)) - origin;
    const glm::quat turn = glm::normalize(glm::quat_cast(glm::mat3(same.places[i])));
    point.position_m = {at.x, at.y, at.z};
    point.turn = {turn.x, turn.y, turn.z, turn.w};
    out.push_back(std::move(point));
  }
  return out;
}

void keepFirst(mod::ModelDoc& doc, const scene::Model& prepared, const rulebook::Rulebook& book,
               const scene::SameParts& same) {
  std::vector<std::string> keys;
  for (size_t i = 1; i < same.parts.size(); ++i) keys.push_back(prepared.node(same.parts[i]).key);
  for (mod::PointDoc& point : placesOfCopies(doc, prepared, book, same, true))
    doc.points.push_back(std::move(point));
  dropParts(doc, keys);
}

Json turnToFace(const mod::ModelDoc& doc, const scene::Frame& frame, const rulebook::Rulebook& book,
                glm::vec3 direction) {
  if (const auto step = enabledStep(doc, "turn"); step != doc.steps.end()) {
    const auto forward = geometry::axisFromName(base::textOf(step->values, "forward"));
    const auto up = geometry::axisFromName(base::textOf(step->values, "up"));
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

glm::vec3 gameExtents(const geometry::Bounds& box, const scene::Frame& frame,
                      const rulebook::Rulebook& book) {
  const glm::vec3 size = box.size();
  const GameAxes axes = gameAxes(frame, book);
  return {glm::dot(size, glm::abs(axes.forward)), glm::dot(size, glm::abs(axes.side)),
          glm::dot(size, glm::abs(axes.up))};
}

glm::vec3 gameExtents(const scene::Model& model, const rulebook::Rulebook& book) {
  return gameExtents(scene::boundsOf(model), model.frame, book);
}

glm::dvec3 anglesOf(const GameAxes& axes, glm::quat turn) {
  // The turn as up x side x forward, in the game's own axes.
  const glm::mat3 basis(axes.forward, axes.side, axes.up);
  const glm::dmat3 r = glm::transpose(basis) * glm::mat3_cast(glm::normalize(turn)) * basis;
  constexpr double kDegrees = 180 / 3.14159265358979;
  const double side = std::asin(std::clamp(-r[0][2], -1.0, 1.0));
  return glm::dvec3(std::atan2(r[1][2], r[2][2]), side, std::atan2(r[0][1], r[0][0])) * kDegrees;
}

std::vector<scene::NamedPlace> pointsOf(const mod::ModelDoc& doc) {
  std::vector<scene::NamedPlace> out;
  for (const mod::PointDoc& p : doc.points)
    out.push_back({p.id, glm::vec3(glm::dvec3(p.position_m[0], p.position_m[1], p.position_m[2])),
                   glm::quat(glm::dquat(p.turn[3], p.turn[0], p.turn[1], p.turn[2]))});
  return out;
}

double reachOf(const scene::Model& model) {
  const auto world = scene::worldMatrices(model);
  double out = 0;
  for (const scene::NodeIndex i : scene::reachedNodes(model))
    for (const glm::vec3& at : scene::placedMesh(model, i, world).positions)
      if (const double away = static_cast<double>(glm::length(at)); std::isfinite(away))
        out = std::max(out, away);
  return out;
}

void originAt(mod::ModelDoc& doc, const Prepared& prepared, glm::vec3 point) {
  glm::vec3 moved(0);
  for (size_t i = 0; i < doc.steps.size() && i < prepared.before.size(); ++i) {
    if (doc.steps[i].kind != "origin" || !doc.steps[i].enabled) continue;
    const scene::Model& after = i + 1 < prepared.before.size() ? *prepared.before[i + 1] : *prepared.model;
    moved = scene::boundsOf(*prepared.before[i]).min - scene::boundsOf(after).min;
    break;
  }
  setOrAddStep(doc, "origin", Json{{"to", "point"}, {"point", pointJson(point + moved)}});
}

}  // namespace rakugo::prepare
