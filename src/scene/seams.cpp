#include "scene/seams.h"

#include <algorithm>
#include <limits>

#include "geometry/topology.h"
#include "geometry/welding.h"
#include "scene/rest_pose.h"

namespace rakugo::scene {
namespace {

double nearest(glm::vec3 from, const std::vector<glm::vec3>& to) {
  double best = std::numeric_limits<double>::max();
  for (const glm::vec3& p : to) best = std::min(best, static_cast<double>(glm::distance(from, p)));
  return best;
}

SeamPair measured(const std::vector<Border>& outfit, const std::vector<Border>& body, size_t o, size_t b) {
  SeamPair out;
  out.outfit = o;
  out.body = b;
  for (const glm::vec3& p : outfit[o].places_m) {
    const double gap = nearest(p, body[b].places_m);
    out.mean_m += gap / static_cast<double>(outfit[o].places_m.size());
    if (gap >= out.largest_m) out.largest_m = gap, out.largest_at_m = p;
  }
  for (const glm::vec3& p : body[b].places_m)
    out.largest_back_m = std::max(out.largest_back_m, nearest(p, outfit[o].places_m));
  return out;
}

}  // namespace

std::vector<Border> bordersOf(const Model& model, double unit_m) {
  std::vector<Border> out;
  const auto world = worldMatrices(model);
  for (const NodeIndex i : reachedNodes(model)) {
    if (!model.node(i).mesh.valid()) continue;
    WholeMesh whole = placedMesh(model, i, world);
    std::vector<glm::vec3>& positions = whole.positions;
    for (glm::vec3& at : positions) at *= static_cast<float>(unit_m);
    std::vector<uint32_t>& corners = whole.indices;
    const geometry::Welding welding = geometry::weldEqual(positions);
    for (uint32_t& c : corners) c = welding.of[c];
    const auto topology = geometry::topologyOf(std::move(corners), static_cast<uint32_t>(welding.places()));
    for (const geometry::BorderLoop& loop : geometry::borderLoops(topology)) {
      Border border{i, {}, loop.closed};
      for (const uint32_t place : loop.places) border.places_m.push_back(positions[welding.first[place]]);
      out.push_back(std::move(border));
    }
  }
  return out;
}

Seams pairBorders(const std::vector<Border>& outfit, const std::vector<Border>& body,
                  const SeamOptions& options) {
  std::vector<SeamPair> all;
  for (size_t o = 0; o < outfit.size(); ++o) {
    geometry::Bounds box;
    for (const glm::vec3& p : outfit[o].places_m) box.add(p);
    const double most = static_cast<double>(options.most_ratio * glm::length(box.size()));
    for (size_t b = 0; b < body.size(); ++b)
      if (const SeamPair pair = measured(outfit, body, o, b); pair.mean_m <= most) all.push_back(pair);
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const SeamPair& a, const SeamPair& b) { return a.mean_m < b.mean_m; });
  Seams out;
  std::vector<bool> outfit_taken(outfit.size(), false), body_taken(body.size(), false);
  for (const SeamPair& pair : all) {
    if (outfit_taken[pair.outfit] || body_taken[pair.body]) continue;
    outfit_taken[pair.outfit] = body_taken[pair.body] = true;
    out.pairs.push_back(pair);
  }
  for (size_t i = 0; i < outfit.size(); ++i)
    if (!outfit_taken[i]) out.loose_outfit.push_back(i);
  for (size_t i = 0; i < body.size(); ++i)
    if (!body_taken[i]) out.loose_body.push_back(i);
  return out;
}

SeamReport seamsBetween(const Model& outfit, const Model& body) {
  SeamReport out;
  out.outfit = bordersOf(outfit);
  out.body = bordersOf(body);
  for (const Border& b : out.outfit) out.outfit_parts.push_back(outfit.node(b.part).name);
  for (const Border& b : out.body) out.body_parts.push_back(body.node(b.part).name);
  out.seams = pairBorders(out.outfit, out.body);
  return out;
}

}  // namespace rakugo::scene
