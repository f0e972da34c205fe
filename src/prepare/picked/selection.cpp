#include "prepare/picked/selection.h"

#include <algorithm>
#include <cmath>

#include "base/json.h"
#include "base/phrase.h"
#include "base/text.h"
#include "geometry/finite.h"
#include "geometry/ray.h"
#include "geometry/welding.h"
#include "prepare/parts/part_ops.h"
#include "prepare/steps.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using base::Json;

constexpr size_t kMostCorners = 500;  // of an outline

Json exactPoint(glm::vec3 p) { return Json::array({p.x, p.y, p.z}); }

// An outline laid flat, for questions about what lies inside.
class FlatOutline {
 public:
  FlatOutline(const Selection& s) {
    const glm::vec3 origin = s.eye ? *s.eye : s.outline[0];
    for (const glm::vec3& p : s.outline) middle_ += p / static_cast<float>(s.outline.size());
    axis_ = glm::normalize(s.eye ? middle_ - origin : *s.toward);
    const glm::vec3 any = std::abs(axis_.x) < 0.7F ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
    right_ = glm::normalize(glm::cross(axis_, any));
    down_ = glm::cross(axis_, right_);
    eye_ = s.eye;
    for (const glm::vec3& p : s.outline)
      if (const auto q = flat(p)) corners_.push_back(*q);
  }
  // By the number of sides a ray to the right crosses.
  [[nodiscard]] bool holds(glm::vec3 place) const {
    const auto p = flat(place);
    if (!p || corners_.size() < 3) return false;
    bool inside = false;
    for (size_t i = 0, j = corners_.size() - 1; i < corners_.size(); j = i++) {
      const glm::vec2 a = corners_[i], b = corners_[j];
      if ((a.y > p->y) != (b.y > p->y) && p->x < (b.x - a.x) * (p->y - a.y) / (b.y - a.y) + a.x)
        inside = !inside;
    }
    return inside;
  }

 private:
  // Where a place is seen; nothing when it lies behind the eye.
  [[nodiscard]] std::optional<glm::vec2> flat(glm::vec3 p) const {
    const glm::vec3 d = p - (eye_ ? *eye_ : middle_);
    const glm::vec2 across(glm::dot(d, right_), glm::dot(d, down_));
    if (!eye_) return across;
    const float away = glm::dot(d, axis_);
    if (!(away > 0)) return std::nullopt;
    return across / away;
  }
  glm::vec3 middle_{0}, axis_{0, 0, 1}, right_{1, 0, 0}, down_{0, 1, 0};
  std::optional<glm::vec3> eye_;
  std::vector<glm::vec2> corners_;
};

// Carries a selection along with a part that has become larger, smaller or stands elsewhere, and is the same
// otherwise.
Selection carried(Selection s, const geometry::Bounds& now) {
  if (s.seen.empty() || now.empty()) return s;
  const glm::vec3 was = s.seen.size(), is = now.size();
  const float longest = std::max({was.x, was.y, was.z});
  if (!(longest > 0)) return s;
  const float factor = std::max({is.x, is.y, is.z}) / longest;
  if (!(factor > 0) || glm::length(is - was * factor) > 1e-3F * factor * longest) return s;
  const auto carry = [&](glm::vec3 p) { return now.min + (p - s.seen.min) * factor; };
  for (glm::vec3& p : s.outline) p = carry(p);
  if (s.eye) s.eye = carry(*s.eye);
  if (s.piece_at) s.piece_at = carry(*s.piece_at);
  return s;
}

}  // namespace

Json toJson(const Selection& s) {
  Json out = Json::object();
  out["part"] = s.part;
  if (!s.outline.empty()) {
    out["outline"] = Json::array();
    for (const glm::vec3& p : s.outline) out["outline"].push_back(exactPoint(p));
    if (s.eye) out["eye"] = exactPoint(*s.eye);
    if (s.toward && !s.eye) out["toward"] = exactPoint(*s.toward);
    out["front_only"] = s.front_only;
  }
  if (s.piece_at) out["piece_at"] = exactPoint(*s.piece_at);
  if (!s.material.empty()) out["material"] = s.material;
  if (!s.seen.empty()) {
    out["seen_min"] = exactPoint(s.seen.min);
    out["seen_max"] = exactPoint(s.seen.max);
  }
  return out;
}

std::optional<Selection> selectionFrom(const Json& values, std::string& why) {
  why = "The step does not say what was picked.";
  if (!values.is_object()) return std::nullopt;
  Selection s;
  s.part = base::textOf(values, "part");
  s.material = base::textOf(values, "material");
  s.eye = pointValue(values, "eye");
  s.toward = pointValue(values, "toward");
  s.piece_at = pointValue(values, "piece_at");
  if (values.contains("front_only") && values["front_only"].is_boolean())
    s.front_only = values["front_only"].get<bool>();
  if (const auto low = pointValue(values, "seen_min"), high = pointValue(values, "seen_max"); low && high)
    s.seen = {*low, *high};
  if (s.part.empty()) return std::nullopt;
  if (!values.contains("outline")) {
    if (values.contains("piece_at") && !s.piece_at) return std::nullopt;
    return s;
  }
  why = base::phrase(
      "The outline of what was picked has at least three corners and {0} at most, and is seen from "
      "somewhere.",
      kMostCorners);
  const Json& outline = values["outline"];
  if (!outline.is_array() || outline.size() < 3 || outline.size() > kMostCorners) return std::nullopt;
  for (const Json& one : outline) {
    const auto p = pointValue(Json{{"p", one}}, "p");
    if (!p) return std::nullopt;
    s.outline.push_back(*p);
  }
  if (!s.eye && (!s.toward || !(glm::length(*s.toward) > 0))) return std::nullopt;
  if (s.eye) {
    glm::vec3 middle(0);
    for (const glm::vec3& p : s.outline) middle += p / static_cast<float>(s.outline.size());
    if (!(glm::distance(middle, *s.eye) > 0)) return std::nullopt;
  }
  return s;
}

Selection shifted(const Selection& selection, glm::vec3 shift) {
  Selection out = selection;
  for (glm::vec3& p : out.outline) p += shift;
  if (out.eye) *out.eye += shift;
  if (out.piece_at) *out.piece_at += shift;
  if (!out.seen.empty()) {
    out.seen.min += shift;
    out.seen.max += shift;
  }
  return out;
}

namespace {

// Vertices of a part; each function keeps those that are what was picked, too.
struct Sieve {
  const scene::Model& model;
  const scene::Mesh& mesh;
  const scene::WholeMesh& whole;
  std::vector<bool>& kept;

  template <class Wanted>
  void keep(const Wanted& wanted) const {
    for (size_t v = 0; v < kept.size(); ++v) kept[v] = kept[v] && wanted(v);
  }
  void ofMaterial(const std::string& key) const;
  void ofPieceAt(glm::vec3 place) const;
  void seen(const Selection& s, float longest) const;
};

void Sieve::ofMaterial(const std::string& key) const {
  std::vector<bool> worn(kept.size(), false);
  for (size_t k = 0; k < mesh.primitives.size(); ++k) {
    const scene::MaterialIndex m = mesh.primitives[k].material;
    if (m.valid() && model.materials[m.value()].key == key)
      std::fill(worn.begin() + whole.first_vertex[k], worn.begin() + whole.first_vertex[k + 1], true);
  }
  keep([&](size_t v) { return worn[v]; });
}

// The loose piece whose vertex lies nearest.
void Sieve::ofPieceAt(glm::vec3 place) const {
  const std::vector<glm::vec3>& at = whole.positions;
  const LoosePieces pieces = loosePieces(mesh);
  std::vector<uint32_t> of(at.size(), UINT32_MAX);
  for (size_t t = 0; t < whole.indices.size() / 3; ++t) {
    const size_t k = scene::primitiveOf(whole.first_triangle, static_cast<uint32_t>(t));
    for (size_t c = 0; c < 3; ++c) of[whole.indices[t * 3 + c]] = pieces.of[k][t - whole.first_triangle[k]];
  }
  uint32_t wanted = UINT32_MAX;
  float nearest = std::numeric_limits<float>::max();
  for (size_t v = 0; v < at.size(); ++v)
    if (const float d = glm::distance(at[v], place); of[v] != UINT32_MAX && d < nearest) {
      nearest = d;
      wanted = of[v];
    }
  keep([&](size_t v) { return of[v] == wanted && wanted != UINT32_MAX; });
}

// Those within the outline; with `front_only`, those that no triangle hides from the eye.
void Sieve::seen(const Selection& s, float longest) const {
  const std::vector<glm::vec3>& at = whole.positions;
  const FlatOutline outline(s);
  keep([&](size_t v) { return geometry::finite(at[v]) && outline.holds(at[v]); });
  if (!s.front_only) return;
  const geometry::Bvh tree(geometry::triangleBoxes(at, whole.indices));
  // What a vertex's own triangles would hide by rounding.
  const float least = longest * 1e-4F;
  keep([&](size_t v) {
    if (!kept[v]) return false;
    const glm::vec3 way = glm::normalize(s.eye ? *s.eye - at[v] : -*s.toward);
    bool hidden = false;
    tree.along(at[v], way, [&](uint32_t t) {
      const uint32_t* c = whole.indices.data() + size_t{t} * 3;
      const auto met = geometry::rayMeets(at[v], way, at[c[0]], at[c[1]], at[c[2]]);
      hidden = met && met->distance > least;
      return !hidden;
    });
    return !hidden;
  });
}

}  // namespace

std::optional<Picked> pick(const scene::Model& model, const Selection& given, std::string& why) {
  Picked out;
  out.part = findReached(model, given.part);
  if (!out.part.valid()) {
    why = "The part \"" + base::presentable(given.part, 60) + "\" is not in the model any more.";
    return std::nullopt;
  }
  const scene::Node& node = model.node(out.part);
  if (!node.mesh.valid()) {
    why = "The part \"" + base::presentable(node.name, 60) + "\" has no mesh.";
    return std::nullopt;
  }
  const scene::Mesh& mesh = model.mesh(node.mesh);
  const scene::WholeMesh whole = scene::placedMesh(model, out.part, scene::worldMatrices(model));
  const std::vector<glm::vec3>& at = whole.positions;
  const geometry::Bounds box = geometry::boundsOf(at);
  const Selection s = carried(given, box);
  out.vertices.assign(at.size(), true);
  const Sieve sieve{model, mesh, whole, out.vertices};
  if (!s.material.empty()) sieve.ofMaterial(s.material);
  if (s.piece_at) sieve.ofPieceAt(*s.piece_at);
  if (!s.outline.empty()) sieve.seen(s, glm::length(box.size()));
  const geometry::Welding welding = geometry::weldEqual(at);
  std::vector<bool> seen(welding.places(), false);
  for (size_t v = 0; v < at.size(); ++v)
    if (out.vertices[v] && !seen[welding.of[v]]) {
      seen[welding.of[v]] = true;
      ++out.places;
    }
  // Vertices of one place go together, lest a seam is torn open.
  for (size_t v = 0; v < at.size(); ++v) out.vertices[v] = seen[welding.of[v]];
  out.at = at;
  if (out.places == 0) {
    why = "Nothing of \"" + base::presentable(node.name, 60) + "\" lies in what was picked any more.";
    return std::nullopt;
  }
  return out;
}

std::vector<float> softened(const Picked& picked, float radius) {
  std::vector<float> out(picked.at.size(), 0);
  std::vector<glm::vec3> sources;
  std::vector<geometry::Bounds> boxes;
  for (size_t v = 0; v < out.size(); ++v)
    if (picked.vertices[v]) {
      out[v] = 1;
      sources.push_back(picked.at[v]);
    }
  if (!(radius > 0)) return out;
  for (const glm::vec3& p : sources) {
    boxes.emplace_back();
    boxes.back().add(p);
  }
  const geometry::Bvh tree(boxes);
  for (size_t v = 0; v < out.size(); ++v) {
    if (picked.vertices[v] || !geometry::finite(picked.at[v])) continue;
    float best2 = radius * radius;
    tree.nearest(picked.at[v], best2, [&](uint32_t i) {
      const glm::vec3 d = sources[i] - picked.at[v];
      best2 = std::min(best2, glm::dot(d, d));
      return best2;
    });
    const float t = 1 - std::sqrt(best2) / radius;
    out[v] = t * t * (3 - 2 * t);
  }
  return out;
}

std::vector<glm::vec3> pickedPlaces(const Picked& picked) {
  std::vector<glm::vec3> out;
  for (const uint32_t v : geometry::weldEqual(picked.at).first)
    if (picked.vertices[v]) out.push_back(picked.at[v]);
  return out;
}

}  // namespace rakugo::prepare
