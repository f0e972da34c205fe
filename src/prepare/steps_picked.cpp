// Small corrections to the shape: vertices that were picked in the bench, moved, turned, scaled, bent,
// flattened or put on a grid.
#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <glm/gtc/matrix_transform.hpp>

#include "base/text.h"
#include "geometry/welding.h"
#include "prepare/selection.h"
#include "prepare/steps.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Model;
using scene::Primitive;

constexpr double kMostLength_m = 1e6;

std::optional<int> axisValue(const base::Json& values, const char* key) {
  const std::string axis = textValue(values, key);
  if (axis == "x") return 0;
  if (axis == "y") return 1;
  if (axis == "z") return 2;
  return std::nullopt;
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
  if (!(soft_mm >= 0 && soft_mm <= kMostLength_m))
    return wrongValues("A soft edge is 0 to 1,000,000 mm wide.");
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

}  // namespace

StepOutcome applyMovePicked(Model& model, const base::Json& values, const StepContext&) {
  const auto by = pointValue(values, "by");
  if (!by || glm::length(*by) > kMostLength_m) return wrongValues("Three numbers in metres say how far.");
  return correct(model, values, [&](const Grip&, glm::vec3 p, float w) { return p + *by * w; });
}

StepOutcome applyTurnPicked(Model& model, const base::Json& values, const StepContext&) {
  const auto axis = axisValue(values, "axis");
  const double degrees = numberValue(values, "degrees", 0);
  if (!axis) return wrongValues("It turns about x, y or z.");
  if (!(std::abs(degrees) <= 3600)) return wrongValues("An angle lies between -3600 and 3600 degrees.");
  glm::vec3 about(0);
  about[*axis] = 1;
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    const auto turn = glm::angleAxis(static_cast<float>(degrees * 3.14159265358979 / 180) * w, about);
    return grip.middle + turn * (p - grip.middle);
  });
}

StepOutcome applyScalePicked(Model& model, const base::Json& values, const StepContext&) {
  const auto factors = pointValue(values, "factors");
  if (!factors || glm::length(*factors) > 1e4F) return wrongValues("Three factors say how much larger.");
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    return grip.middle + (p - grip.middle) * glm::mix(glm::vec3(1), *factors, w);
  });
}

StepOutcome applyBendPicked(Model& model, const base::Json& values, const StepContext&) {
  const auto along = axisValue(values, "along"), toward = axisValue(values, "toward");
  const double degrees = numberValue(values, "degrees", 0);
  const std::string fixed = textValue(values, "fixed");
  if (!along || !toward || *along == *toward) return wrongValues("It bends along one axis towards another.");
  if (!(std::abs(degrees) <= 720)) return wrongValues("An angle lies between -720 and 720 degrees.");
  if (fixed != "low" && fixed != "high") return wrongValues("Its low or its high end stays.");
  const int a = *along, b = *toward;
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    // The middle line becomes an arc of the same length that leaves the fixed end straight on.
    const float length = grip.box.size()[a], way = fixed == "low" ? 1.0F : -1.0F;
    const float angle = static_cast<float>(degrees * 3.14159265358979 / 180) * w;
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
  const auto axis = axisValue(values, "axis");
  if (!axis) return wrongValues("It is made flat across x, y or z.");
  return correct(model, values, [&](const Grip& grip, glm::vec3 p, float w) {
    p[*axis] = glm::mix(p[*axis], grip.middle[*axis], w);
    return p;
  });
}

StepOutcome applySnapPicked(Model& model, const base::Json& values, const StepContext&) {
  const double grid_mm = numberValue(values, "grid_mm", 10);
  if (!(grid_mm > 0 && grid_mm <= kMostLength_m)) return wrongValues("A grid is 0 to 1,000,000 mm wide.");
  const auto grid = static_cast<float>(grid_mm / 1000);
  return correct(model, values, [&](const Grip&, glm::vec3 p, float w) {
    return glm::mix(p, glm::round(p / grid) * grid, w);
  });
}

}  // namespace rakugo::prepare
