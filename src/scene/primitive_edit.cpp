#include "scene/primitive_edit.h"

#include "scene/attribute_faults.h"

namespace rakugo::scene {
namespace {

// The vertices of that order, from every list that has one value a vertex.
void pickAll(Primitive& to, const Primitive& from, const std::vector<uint32_t>& order) {
  const auto pick = [&, n = from.positions.size()](auto& into, const auto& list) {
    if (list.size() != n) return into = list, void();
    std::remove_reference_t<decltype(into)> out;
    out.reserve(order.size());
    for (const uint32_t v : order) out.push_back(list[v]);
    into = std::move(out);
  };
  // Positions last: they say how many vertices there were, where the two are one.
  pick(to.normals, from.normals);
  pick(to.tangents, from.tangents);
  for (size_t set = 0; set < 2; ++set) pick(to.uvs[set], from.uvs[set]);
  pick(to.colors, from.colors);
  pick(to.joints, from.joints);
  pick(to.weights, from.weights);
  pick(to.more_joints, from.more_joints);
  pick(to.more_weights, from.more_weights);
  to.morphs.resize(from.morphs.size());
  for (size_t m = 0; m < from.morphs.size(); ++m) {
    pick(to.morphs[m].positions, from.morphs[m].positions);
    pick(to.morphs[m].normals, from.morphs[m].normals);
    pick(to.morphs[m].tangents, from.morphs[m].tangents);
  }
  pick(to.positions, from.positions);
}

}  // namespace

void keepVertices(Primitive& p, const std::vector<uint32_t>& order) {
  const size_t n = p.positions.size();
  std::vector<uint32_t> place(n, UINT32_MAX);
  for (uint32_t i = 0; i < order.size(); ++i) place[order[i]] = i;
  std::vector<uint32_t> indices;
  indices.reserve(p.indices.size());
  for (size_t i = 0; i + 2 < p.indices.size(); i += 3) {
    const uint32_t a = place[p.indices[i]], b = place[p.indices[i + 1]], c = place[p.indices[i + 2]];
    if (a != UINT32_MAX && b != UINT32_MAX && c != UINT32_MAX) indices.insert(indices.end(), {a, b, c});
  }
  p.indices = std::move(indices);
  pickAll(p, p, order);
}

Primitive takenTriangles(const Primitive& p, const std::vector<uint32_t>& triangles,
                         std::vector<uint32_t>& scratch) {
  Primitive out;
  std::vector<uint32_t> order;
  out.indices.reserve(triangles.size() * 3);
  for (const uint32_t t : triangles)
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t v = p.indices[size_t{t} * 3 + k];
      if (scratch[v] == UINT32_MAX) {
        scratch[v] = static_cast<uint32_t>(order.size());
        order.push_back(v);
      }
      out.indices.push_back(scratch[v]);
    }
  for (const uint32_t v : order) scratch[v] = UINT32_MAX;
  pickAll(out, p, order);
  out.material = p.material;
  out.kept = p.kept;
  return out;
}

size_t dropUnusedVertices(Primitive& p) {
  std::vector<bool> used(p.positions.size(), false);
  for (const uint32_t i : p.indices) used[i] = true;
  std::vector<uint32_t> order;
  for (uint32_t v = 0; v < used.size(); ++v)
    if (used[v]) order.push_back(v);
  const size_t gone = p.positions.size() - order.size();
  if (gone > 0) keepVertices(p, order);
  return gone;
}

void dropTriangles(Primitive& p, const std::vector<uint32_t>& triangles) {
  std::vector<uint32_t> kept;
  size_t next = 0;
  for (uint32_t t = 0; t < p.indices.size() / 3; ++t) {
    if (next < triangles.size() && triangles[next] == t) {
      ++next;
      continue;
    }
    for (size_t k = 0; k < 3; ++k) kept.push_back(p.indices[size_t{t} * 3 + k]);
  }
  p.indices = std::move(kept);
}

size_t weldVertices(Primitive& p, float tolerance) {
  const std::vector<uint8_t> used = usedVertices(p);
  std::vector<uint32_t> among;
  for (uint32_t v = 0; v < used.size(); ++v)
    if (used[v] != 0) among.push_back(v);
  const std::vector<VertexTwin> twins = coincidentTwins(p, p.positions, among, tolerance);
  if (twins.empty()) return 0;
  std::vector<uint32_t> instead(p.positions.size());
  for (uint32_t v = 0; v < instead.size(); ++v) instead[v] = v;
  std::vector<uint32_t> order;
  for (const VertexTwin& t : twins) instead[t.vertex] = t.earlier;
  for (uint32_t& i : p.indices) i = instead[i];
  for (uint32_t v = 0; v < instead.size(); ++v)
    if (instead[v] == v) order.push_back(v);
  std::vector<uint32_t> collapsed;
  for (uint32_t t = 0; t < p.indices.size() / 3; ++t) {
    const uint32_t a = p.indices[size_t{t} * 3], b = p.indices[size_t{t} * 3 + 1],
                   c = p.indices[size_t{t} * 3 + 2];
    if (a == b || b == c || c == a) collapsed.push_back(t);
  }
  dropTriangles(p, collapsed);
  keepVertices(p, order);
  return twins.size();
}

uint32_t appendVertex(Primitive& to, const Primitive& from, uint32_t v, glm::vec3 position,
                      glm::vec3 normal) {
  // Taken by value first: the two may be one, and a list moves when it grows.
  const auto carry = [v](auto& list, const auto& source, auto otherwise, bool wanted) {
    using T = typename std::remove_reference_t<decltype(list)>::value_type;
    const T value = v < source.size() ? source[v] : T(otherwise);
    if (wanted) list.push_back(value);
  };
  const size_t n = to.positions.size();
  const auto has = [n](const auto& list) { return n > 0 && list.size() == n; };
  carry(to.tangents, from.tangents, glm::vec4(1, 0, 0, 1), has(to.tangents));
  for (size_t set = 0; set < 2; ++set) carry(to.uvs[set], from.uvs[set], glm::vec2(0), has(to.uvs[set]));
  carry(to.colors, from.colors, glm::vec4(1), has(to.colors));
  carry(to.joints, from.joints, glm::u16vec4(0), has(to.joints));
  carry(to.weights, from.weights, glm::vec4(0), has(to.weights));
  carry(to.more_joints, from.more_joints, glm::u16vec4(0), has(to.more_joints));
  carry(to.more_weights, from.more_weights, glm::vec4(0), has(to.more_weights));
  for (size_t m = 0; m < to.morphs.size(); ++m) {
    static const MorphTarget kNone;
    const MorphTarget& source = m < from.morphs.size() ? from.morphs[m] : kNone;
    carry(to.morphs[m].positions, source.positions, glm::vec3(0), has(to.morphs[m].positions));
    carry(to.morphs[m].normals, source.normals, glm::vec3(0), has(to.morphs[m].normals));
    carry(to.morphs[m].tangents, source.tangents, glm::vec3(0), has(to.morphs[m].tangents));
  }
  if (has(to.normals)) to.normals.push_back(normal);
  to.positions.push_back(position);
  return static_cast<uint32_t>(n);
}

}  // namespace rakugo::scene
