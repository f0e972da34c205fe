// Small corrections to the shape: vertices that were picked in the bench, moved, turned, scaled, bent,
// flattened or put on a grid.
#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <glm/gtc/matrix_transform.hpp>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/welding.h"
#include "prepare/picked/selection.h"
#include "prepare/steps.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Model;
using scene::Primitive;

constexpr double kMostLength_m = 1e6;  // that anything is moved

// The number of an axis value: "x" is 0.
int axisValue(const base::Json& values, const char* key) {
  const std::string axis = base::textOf(values, key);
  return axis == "y" ? 1 : axis == "z" ? 2 : 0;
}

// What was picked, in the model's space.
struct Grip {
  geometry::Bounds box;
  glm::vec3 middle{0};  // the mean place, each place counted once
};

// Normals of vertices whose faces moved, made anew: vertices that stood together and shone alike still do.
void remakeNormals(Mesh& mesh, const scene::WholeMesh& before, const std::vector<float>& weights) {
  struct Key {
    uint32_t place;
    std::array<int, 3> normal;
    bool operator<(const Key& o) const { return std::tie(place, normal) < std::tie(o.place, o.normal); }
  };
  const geometry::Welding welding = geometry::weldEqual(before.positions);
  std::map<Key, glm::vec3> sums;
  const scene::WholeMesh now = scene::wholeMesh(mesh);
  std::vector<glm::vec3> normals;
  for (const Primitive& p : mesh.primitives) {
    normals.insert(normals.end(), p.normals.begin(), p.normals.end());
    normals.resize(normals.size() + p.positions.size() - std::min(p.positions.size(), p.normals.size()));
  }
  const auto key = [&](uint32_t v) {
    const auto part = [](float x) { return static_cast<int>(std::lround(std::clamp(x, -2.0F, 2.0F) * 256)); };
    const glm::vec3 n = glm::all(glm::equal(normals[v], normals[v])) ? normals[v] : glm::vec3(0);
    return Key{welding.of[v], {part(n.x), part(n.y), part(n.z)}};
  };
  // Vertices of triangles of which a corner moved.
  std::vector<bool> touched(now.positions.size(), false);
  for (size_t t = 0; t + 2 < now.indices.size(); t += 3) {
    const bool moved =
        weights[now.indices[t]] + weights[now.indices[t + 1]] + weights[now.indices[t + 2]] > 0;
    for (size_t c = t; moved && c < t + 3; ++c) touched[now.indices[c]] = true;
  }
  for (size_t v = 0; v < touched.size(); ++v)
    if (touched[v]) sums[key(static_cast<uint32_t>(v))] = glm::vec3(0);
  for (size_t t = 0; t + 2 < now.indices.size(); t += 3) {
    const glm::vec3 a = now.positions[now.indices[t]], b = now.positions[now.indices[t + 1]],
                    c = now.positions[now.indices[t + 2]];
    for (size_t k = t; k < t + 3; ++k)
      if (const auto sum = sums.find(key(now.indices[k])); sum != sums.end())
        sum->second += glm::cross(b - a, c - a);
  }
  size_t v = 0;
  for (Primitive& p : mesh.primitives)
    for (size_t i = 0; i < p.positions.size(); ++i, ++v) {
      if (!touched[v] || i >= p.normals.size()) continue;
      const glm::vec3 sum = sums[key(static_cast<uint32_t>(v))];
      const float length = glm::length(sum);
      if (length > 0 && std::isfinite(length)) p.normals[i] = sum / length;
    }
}

// Finds what was picked, lets `move` say where each vertex goes (how much it follows is its third argument),
// and puts that into the mesh.
StepOutcome correct(Model& model, const base::Json& values,
                    const std::function<glm::vec3(const Grip&, glm::vec3, float)>& move) {
  std::string why;
  const base::Json none;
  const auto selection = selectionFrom(values.contains("pick") ? values["pick"] : none, why);
  if (!selection) return wrongValues(why);
  const double soft_mm = numberValue(values, "soft_mm", 0);
  const auto picked = pick(model, *selection, why);
  if (!picked) return missed(why);
  const std::vector<float> weights = softened(*picked, static_cast<float>(soft_mm / 1000));
  Grip grip;
  for (const glm::vec3& place : pickedPlaces(*picked)) {
    grip.box.add(place);
    grip.middle += place / static_cast<float>(picked->places);
  }
  scene::Node& node = model.node(picked->part);
  const scene::Standing standing(model, picked->part, scene::worldMatrices(model));
  // A mesh worn by another part too gets a copy for this one.
  Mesh mesh = model.mesh(node.mesh);
  const scene::WholeMesh before = scene::wholeMesh(mesh);
  size_t v = 0;
  for (Primitive& p : mesh.primitives)
    for (size_t i = 0; i < p.positions.size(); ++i, ++v)
      if (weights[v] > 0)
        p.positions[i] =
            glm::vec3(glm::inverse(standing.of(p, i)) * glm::vec4(move(grip, picked->at[v], weights[v]), 1));
  remakeNormals(mesh, before, weights);
  node.mesh = scene::MeshIndex(model.meshes.size());
  model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  StepOutcome out;
  out.did = base::countText(picked->places, "place", "places");
  return out;
}

StepOutcome applyMovePicked(Model& model, const base::Json& values, const StepContext&) {
  const glm::vec3 by = pointValue(values, "by").value_or(glm::vec3(0));
  return correct(model, values, [&](const Grip&, glm::vec3 p, float w) { return p + by * w; });
}

StepOutcome applyTurnPicked(Model& model, const base::Json& values, const StepContext&) {
  const double degrees = numberValue(values, "degrees", 0);
  glm::vec3 about(0);
  about[axisValue(values, "axis")] = 1;
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    const auto turn = glm::angleAxis(radians(degrees) * w, about);
    return grip.middle + turn * (p - grip.middle);
  });
}

StepOutcome applyScalePicked(Model& model, const base::Json& values, const StepContext&) {
  const glm::vec3 factors = pointValue(values, "factors").value_or(glm::vec3(1));
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    return grip.middle + (p - grip.middle) * glm::mix(glm::vec3(1), factors, w);
  });
}

StepOutcome applyBendPicked(Model& model, const base::Json& values, const StepContext&) {
  const int a = axisValue(values, "along"), b = axisValue(values, "toward");
  const double degrees = numberValue(values, "degrees", 0);
  const std::string fixed = base::textOf(values, "fixed");
  if (a == b) return wrongValues(base::phrase("It bends along one axis towards another."));
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    // The middle line becomes an arc of the same length that leaves the fixed end straight on.
    const float length = grip.box.size()[a], way = fixed == "low" ? 1.0F : -1.0F;
    const float angle = radians(degrees) * w;
    if (!(length > 0) || std::abs(angle) < 1e-7F) return p;
    const float base = fixed == "low" ? grip.box.min[a] : grip.box.max[a];
    const float s = std::clamp((p[a] - base) * way / length, 0.0F, 1.0F) * angle;
    const float beyond = std::min((p[a] - base) * way, 0.0F);
    const float radius = length / angle, off = p[b] - grip.middle[b];
    glm::vec3 out = p;
    out[a] = base + way * ((radius - off) * std::sin(s) + beyond);
    out[b] = grip.middle[b] + radius - (radius - off) * std::cos(s);
    return out;
  });
}

StepOutcome applyFlattenPicked(Model& model, const base::Json& values, const StepContext&) {
  const int axis = axisValue(values, "axis");
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    p[axis] = glm::mix(p[axis], grip.middle[axis], w);
    return p;
  });
}

StepOutcome applySnapPicked(Model& model, const base::Json& values, const StepContext&) {
  const auto grid = static_cast<float>(numberValue(values, "grid_mm", 10) / 1000);
  return correct(model, values, [&](const Grip&, glm::vec3 p, float w) {
    return glm::mix(p, glm::round(p / grid) * grid, w);
  });
}

// A correction of what was picked; every one ends with how far round it the surface follows.
StepKind correction(const char* id, const char* title, const std::string& sentence,
                    std::vector<Parameter> own, decltype(StepKind::apply) apply, const char* about = "") {
  own.insert(own.begin(), pickParameter());
  own.push_back(softParameter());
  return {id,
          title,
          StepGroup::mesh,
          32,
          sentence + ", the surface following up to {soft_mm} mm round it",
          std::move(own),
          apply,
          about};
}

}  // namespace

std::vector<StepKind> pickedSteps() {
  Parameter by = pointParameter("by", "way").in("metres");
  by.most = kMostLength_m;
  Parameter factors = pointParameter("factors", "factors", 1);
  factors.most = 1e4;
  return {
      correction("move_picked", "Move what is picked", "Move {pick} by {by} m", {by}, applyMovePicked),
      correction("turn_picked", "Turn what is picked", "Turn {pick} about {axis} by {degrees} degrees",
                 {axisParameter("axis", "axis", "z"),
                  numberParameter("degrees", "angle", 0).between(-3600, 3600).in("degrees").shown(2)},
                 applyTurnPicked, "About the middle of what is picked."),
      correction("scale_picked", "Scale what is picked", "Scale {pick} by {factors}", {factors},
                 applyScalePicked),
      correction("bend_picked", "Bend what is picked",
                 "Bend {pick} along {along} towards {toward} by {degrees} degrees; its {fixed} end stays",
                 {axisParameter("along", "axis along which it bends", "x"),
                  axisParameter("toward", "axis towards which it bends", "z"),
                  numberParameter("degrees", "angle", 0).between(-720, 720).in("degrees").shown(2),
                  choiceParameter("fixed", "end that stays", {{"low", "low"}, {"high", "high"}})},
                 applyBendPicked),
      correction("flatten_picked", "Flatten what is picked", "Make {pick} flat across {axis}",
                 {axisParameter("axis", "axis", "z")}, applyFlattenPicked),
      correction("snap_picked", "Put what is picked on a grid", "Put {pick} on a grid of {grid_mm} mm",
                 {numberParameter("grid_mm", "grid", 10).above(0, 1e6).in("mm")}, applySnapPicked),
  };
}

}  // namespace rakugo::prepare
