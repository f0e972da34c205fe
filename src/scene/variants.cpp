#include "scene/variants.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "scene/primitive_edit.h"

namespace rakugo::scene {
namespace {

using What = VariantDifference::What;

constexpr float kSameUv = 1e-4F;

struct Part {
  std::string name;
  const Mesh* mesh;
};

std::vector<Part> partsOf(const Model& model) {
  std::vector<Part> out;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).mesh.valid()) out.push_back({model.node(i).name, &model.mesh(model.node(i).mesh)});
  return out;
}

// Numbers that are none count as equal: they are the same fault in both.
bool sameUv(const Primitive& a, const Primitive& b, size_t v) {
  return a.uvs[0].empty() ||
         !glm::any(glm::greaterThan(glm::abs(a.uvs[0][v] - b.uvs[0][v]), glm::vec2(kSameUv)));
}

std::optional<VariantDifference> firstIn(const Primitive& a, const Primitive& b, bool ordered) {
  VariantDifference d;
  const auto counts = [&](What what, size_t x, size_t y) {
    d.what = what;
    d.a = x;
    d.b = y;
    return d;
  };
  if (a.positions.size() != b.positions.size())
    return counts(What::vertices, a.positions.size(), b.positions.size());
  if (a.indices.size() != b.indices.size())
    return counts(What::triangles, a.indices.size() / 3, b.indices.size() / 3);
  if (a.uvs[0].size() != b.uvs[0].size()) return counts(What::coordinates, a.uvs[0].size(), b.uvs[0].size());
  if (!ordered) return {};
  for (size_t i = 0; i < a.indices.size(); ++i)
    if (a.indices[i] != b.indices[i]) {
      d.index = i;
      return counts(What::corner, a.indices[i], b.indices[i]);
    }
  for (size_t v = 0; v < a.positions.size(); ++v)
    if (!sameUv(a, b, v)) {
      d.index = v;
      return counts(What::coordinates, v, v);
    }
  return {};
}

uint64_t mixed(uint64_t h) {
  h ^= h >> 30;
  h *= 0xBF58476D1CE4E5B9ull;
  h ^= h >> 27;
  h *= 0x94D049BB133111EBull;
  return h ^ h >> 31;
}

// A number for each vertex that says how it hangs in the mesh and what coordinates it and its neighbours
// have. Alike in both models for vertices that are the same, however they are ordered.
std::vector<uint64_t> coloursOf(const Primitive& p) {
  std::vector<uint64_t> now(p.positions.size(), 1);
  for (size_t v = 0; v < now.size() && !p.uvs[0].empty(); ++v) {
    const auto cell = [](float value) {
      return std::isfinite(value)
                 ? static_cast<uint64_t>(std::llround(std::clamp(value, -1e6F, 1e6F) / kSameUv))
                 : 0;
    };
    now[v] = mixed(cell(p.uvs[0][v].x) * 0x9E3779B97F4A7C15ull ^ mixed(cell(p.uvs[0][v].y)));
  }
  size_t known = 0;
  for (int round = 0; round < 64; ++round) {
    std::vector<uint64_t> next = now;
    for (size_t i = 0; i + 2 < p.indices.size(); i += 3)
      for (size_t k = 0; k < 3; ++k) {
        // A sum, so that the order of the triangles round a vertex does not matter.
        const uint64_t after = now[p.indices[i + (k + 1) % 3]], last = now[p.indices[i + (k + 2) % 3]];
        next[p.indices[i + k]] += mixed(after * 3 + mixed(last));
      }
    for (uint64_t& h : next) h = mixed(h);
    now = std::move(next);
    std::vector<uint64_t> sorted = now;
    std::sort(sorted.begin(), sorted.end());
    const auto distinct = static_cast<size_t>(std::unique(sorted.begin(), sorted.end()) - sorted.begin());
    if (distinct == known) break;  // nothing more is told apart
    known = distinct;
  }
  return now;
}

// Positions in the unit of the primitive's own box, so that broad and slim ones lie over each other.
std::vector<glm::vec3> withinBox(const Primitive& p) {
  const geometry::Bounds box = geometry::boundsOf(p.positions);
  const glm::vec3 size = glm::max(box.size(), glm::vec3(1e-12F));
  std::vector<glm::vec3> out;
  for (const glm::vec3& at : p.positions) out.push_back((at - box.min) / size);
  return out;
}

std::vector<std::array<uint32_t, 3>> trianglesOf(const Primitive& p, const std::vector<uint32_t>* rename) {
  std::vector<std::array<uint32_t, 3>> out;
  for (size_t i = 0; i + 2 < p.indices.size(); i += 3) {
    std::array<uint32_t, 3> t = {p.indices[i], p.indices[i + 1], p.indices[i + 2]};
    if (rename != nullptr)
      for (uint32_t& c : t) c = (*rename)[c];
    std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end());
    out.push_back(t);
  }
  std::sort(out.begin(), out.end());
  return out;
}

// The order that makes b's vertices a's; empty when there is none.
std::vector<uint32_t> orderFor(const Primitive& a, const Primitive& b) {
  const auto colour_a = coloursOf(a), colour_b = coloursOf(b);
  const auto sorted = [](const std::vector<uint64_t>& colours) {
    std::vector<uint32_t> out(colours.size());
    for (uint32_t i = 0; i < out.size(); ++i) out[i] = i;
    std::stable_sort(out.begin(), out.end(), [&](uint32_t x, uint32_t y) { return colours[x] < colours[y]; });
    return out;
  };
  const auto by_a = sorted(colour_a), by_b = sorted(colour_b);
  for (size_t i = 0; i < by_a.size(); ++i)
    if (colour_a[by_a[i]] != colour_b[by_b[i]]) return {};
  const auto at_a = withinBox(a), at_b = withinBox(b);
  std::vector<uint32_t> order(a.positions.size());
  for (size_t begin = 0, end = 0; begin < by_a.size(); begin = end) {
    while (end < by_a.size() && colour_a[by_a[end]] == colour_a[by_a[begin]]) ++end;
    if (end - begin > 512) return {};  // a shape without any mark: which is which cannot be told
    std::vector<uint32_t> left(by_b.begin() + static_cast<ptrdiff_t>(begin),
                               by_b.begin() + static_cast<ptrdiff_t>(end));
    for (size_t i = begin; i < end; ++i) {
      const auto nearest = std::min_element(left.begin(), left.end(), [&](uint32_t x, uint32_t y) {
        return glm::distance(at_a[by_a[i]], at_b[x]) < glm::distance(at_a[by_a[i]], at_b[y]);
      });
      order[by_a[i]] = *nearest;
      left.erase(nearest);
    }
  }
  std::vector<uint32_t> back(order.size());
  for (uint32_t i = 0; i < order.size(); ++i) back[order[i]] = i;
  return trianglesOf(a, nullptr) == trianglesOf(b, &back) ? order : std::vector<uint32_t>();
}

}  // namespace

const char* differenceName(What what) {
  static constexpr const char* kNames[] = {"parts",     "primitives", "vertices",
                                           "triangles", "corner",     "coordinates"};
  return kNames[static_cast<size_t>(what)];
}

VariantReport compareVariants(const Model& a, const Model& b) {
  VariantReport out;
  const std::vector<Part> parts[2] = {partsOf(a), partsOf(b)};
  for (size_t side = 0; side < 2; ++side)
    for (const Part& part : parts[side])
      for (const Primitive& p : part.mesh->primitives) {
        out.vertices[side] += p.positions.size();
        out.triangles[side] += p.indices.size() / 3;
      }
  if (parts[0].size() != parts[1].size()) {
    out.first = VariantDifference{What::parts, {}, 0, 0, parts[0].size(), parts[1].size()};
    return out;
  }
  bool countable = true;
  for (size_t i = 0; i < parts[0].size(); ++i) {
    const auto& pa = parts[0][i].mesh->primitives;
    const auto& pb = parts[1][i].mesh->primitives;
    if (pa.size() != pb.size()) {
      if (!out.first)
        out.first = VariantDifference{What::primitives, parts[0][i].name, 0, 0, pa.size(), pb.size()};
      countable = false;
      continue;
    }
    for (size_t k = 0; k < pa.size(); ++k) {
      countable = countable && !firstIn(pa[k], pb[k], false);
      if (out.first) continue;
      if ((out.first = firstIn(pa[k], pb[k], true))) {
        out.first->part = parts[0][i].name;
        out.first->primitive = k;
      }
    }
  }
  out.same = !out.first;
  if (out.same || !countable) return out;
  for (size_t i = 0; i < parts[0].size(); ++i)
    for (size_t k = 0; k < parts[0][i].mesh->primitives.size(); ++k) {
      const Primitive &pa = parts[0][i].mesh->primitives[k], &pb = parts[1][i].mesh->primitives[k];
      PrimitiveOrder order{parts[0][i].name, k, orderFor(pa, pb)};
      if (order.order.size() != pa.positions.size()) {
        out.proposal.clear();
        return out;
      }
      out.proposal.push_back(std::move(order));
    }
  out.only_order = true;
  return out;
}

void orderLike(Model& b, const Model& a, const VariantReport& report) {
  if (!report.only_order) return;
  const auto nodes = [](const Model& model) {
    std::vector<NodeIndex> out;
    for (const NodeIndex i : reachedNodes(model))
      if (model.node(i).mesh.valid()) out.push_back(i);
    return out;
  };
  const std::vector<NodeIndex> na = nodes(a), nb = nodes(b);
  size_t next = 0;
  for (size_t i = 0; i < na.size(); ++i) {
    const Mesh& like = a.mesh(a.node(na[i]).mesh);
    // A mesh that two parts wear is ordered for each of them on its own.
    Mesh mesh = b.mesh(b.node(nb[i]).mesh);
    for (size_t k = 0; k < mesh.primitives.size(); ++k) {
      keepVertices(mesh.primitives[k], report.proposal[next++].order);
      mesh.primitives[k].indices = like.primitives[k].indices;
    }
    b.node(nb[i]).mesh = MeshIndex(b.meshes.size());
    b.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  }
}

Model blendedVariants(const Model& a, const Model& b, float share) {
  Model out = a;
  const auto world_a = worldMatrices(a), world_b = worldMatrices(b);
  std::vector<NodeIndex> nb;
  for (const NodeIndex i : reachedNodes(b))
    if (b.node(i).mesh.valid()) nb.push_back(i);
  size_t next = 0;
  for (const NodeIndex i : reachedNodes(a)) {
    if (!a.node(i).mesh.valid()) continue;
    const NodeIndex other = nb[next++];
    // From where the other's part stands to the space of this one.
    const bool skinned = a.node(i).skin.valid();
    const glm::mat4 to = skinned ? glm::mat4(1) : glm::inverse(world_a[i.value()]) * world_b[other.value()];
    const glm::mat3 normals = glm::transpose(glm::inverse(glm::mat3(to)));
    Mesh mesh = a.mesh(a.node(i).mesh);
    const Mesh& from = b.mesh(b.node(other).mesh);
    for (size_t k = 0; k < mesh.primitives.size(); ++k) {
      Primitive& p = mesh.primitives[k];
      const Primitive& q = from.primitives[k];
      for (size_t v = 0; v < p.positions.size(); ++v)
        p.positions[v] = glm::mix(p.positions[v], glm::vec3(to * glm::vec4(q.positions[v], 1)), share);
      for (size_t v = 0; v < std::min(p.normals.size(), q.normals.size()); ++v) {
        const glm::vec3 n = glm::mix(p.normals[v], normals * q.normals[v], share);
        if (glm::length(n) > 0) p.normals[v] = glm::normalize(n);
      }
    }
    out.node(i).mesh = MeshIndex(out.meshes.size());
    out.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  }
  return out;
}

}  // namespace rakugo::scene
