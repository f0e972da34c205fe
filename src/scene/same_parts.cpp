#include "scene/same_parts.h"

#include <array>
#include <cmath>
#include <map>
#include <optional>

namespace rakugo::scene {
namespace {

// Vertices that are looked at in all: a file may hold thousands of parts of which hardly two are copies.
constexpr size_t kMostLooked = 50'000'000;

// A part's vertices in the model's space, and three of them that span it.
struct Spread {
  NodeIndex part;
  std::vector<glm::vec3> at;
  float diagonal = 0;
};

// Counts, indices' sum and materials: what copies have in common whatever their place.
std::vector<uint64_t> signatureOf(const Mesh& mesh) {
  std::vector<uint64_t> out;
  for (const Primitive& p : mesh.primitives) {
    uint64_t sum = 0;
    for (const uint32_t i : p.indices) sum = sum * 31 + i;
    out.insert(out.end(), {p.positions.size(), p.indices.size(), sum,
                           p.material.valid() ? p.material.value() : uint64_t{UINT32_MAX}});
  }
  return out;
}

Spread spreadOf(const Model& model, NodeIndex part, const glm::mat4& world) {
  Spread out{part, {}, 0};
  geometry::Bounds box;
  for (const Primitive& p : model.mesh(model.node(part).mesh).primitives)
    for (const glm::vec3& v : p.positions) {
      out.at.push_back(glm::vec3(world * glm::vec4(v, 1)));
      box.add(out.at.back());
    }
  out.diagonal = glm::length(box.size());
  return out;
}

// Three vertices far from each other and from one line; nothing for what has no extent.
std::optional<std::array<size_t, 3>> tripodOf(const Spread& s) {
  std::array<size_t, 3> out = {0, 0, 0};
  float most = 0;
  for (size_t i = 1; i < s.at.size(); ++i)
    if (const float d = glm::distance(s.at[i], s.at[0]); d > most) most = d, out[1] = i;
  const glm::vec3 along = s.at[out[1]] - s.at[0];
  float widest = 0;
  for (size_t i = 1; i < s.at.size(); ++i)
    if (const float d = glm::length(glm::cross(along, s.at[i] - s.at[0])); d > widest) widest = d, out[2] = i;
  if (!(widest > 1e-6F * s.diagonal * s.diagonal)) return std::nullopt;
  return out;
}

glm::dmat3 frameOf(const Spread& s, const std::array<size_t, 3>& tripod) {
  const glm::dvec3 x = glm::normalize(glm::dvec3(s.at[tripod[1]] - s.at[tripod[0]]));
  const glm::dvec3 z = glm::normalize(glm::cross(x, glm::dvec3(s.at[tripod[2]] - s.at[tripod[0]])));
  return {x, glm::cross(z, x), z};
}

std::optional<glm::mat4> placeOf(const Spread& first, const Spread& other,
                                 const std::array<size_t, 3>& tripod, float tolerance) {
  const glm::dmat3 turn = frameOf(other, tripod) * glm::transpose(frameOf(first, tripod));
  const glm::dvec3 shift = glm::dvec3(other.at[tripod[0]]) - turn * glm::dvec3(first.at[tripod[0]]);
  const double most = static_cast<double>(tolerance * first.diagonal);
  for (size_t i = 0; i < first.at.size(); ++i)
    if (!(glm::distance(turn * glm::dvec3(first.at[i]) + shift, glm::dvec3(other.at[i])) <= most))
      return std::nullopt;
  glm::mat4 out = glm::mat4(glm::dmat4(turn));
  out[3] = glm::vec4(glm::vec3(shift), 1);
  return out;
}

}  // namespace

std::vector<SameParts> sameParts(const Model& model, float tolerance) {
  const auto world = worldMatrices(model);
  std::map<std::vector<uint64_t>, std::vector<NodeIndex>> alike;
  std::vector<const std::vector<NodeIndex>*> in_order;
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (!node.mesh.valid() || node.skin.valid()) continue;
    auto& list = alike[signatureOf(model.mesh(node.mesh))];
    if (list.empty()) in_order.push_back(&list);
    list.push_back(i);
  }
  std::vector<SameParts> out;
  size_t looked = 0;
  for (const auto* list : in_order) {
    std::vector<NodeIndex> left = *list;
    while (left.size() > 1 && looked < kMostLooked) {
      const Spread first = spreadOf(model, left[0], world[left[0].value()]);
      SameParts group{{left[0]}, {glm::mat4(1)}};
      std::vector<NodeIndex> others;
      const auto tripod = first.at.size() < 3 ? std::nullopt : tripodOf(first);
      for (size_t k = 1; k < left.size(); ++k) {
        const Spread other = spreadOf(model, left[k], world[left[k].value()]);
        looked += other.at.size() + 64;  // and what any comparison costs
        const auto place = tripod ? placeOf(first, other, *tripod, tolerance) : std::nullopt;
        if (place) {
          group.parts.push_back(left[k]);
          group.places.push_back(*place);
        } else {
          others.push_back(left[k]);
        }
      }
      if (group.parts.size() > 1) out.push_back(std::move(group));
      left = std::move(others);
    }
  }
  return out;
}

}  // namespace rakugo::scene
