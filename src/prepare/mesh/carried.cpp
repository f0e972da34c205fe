#include "prepare/mesh/carried.h"

#include <algorithm>
#include <cmath>

#include "base/jobs.h"
#include "geometry/bounds.h"
#include "geometry/shells.h"

namespace rakugo::prepare {
namespace {

// Two numbers of coordinates each, three that stand for bones, and so many at most for morph targets.
constexpr uint32_t kPictureNumbers = 4, kBoneNumbers = 3, kMostMorphNumbers = 9;

uint32_t mixed(uint32_t number, uint32_t salt) {
  uint32_t h = (number + 1) * 2654435761U + salt;
  h = (h ^ (h >> 15)) * 2246822519U;
  return h >> 8;
}

// A number for each bone, so that mixtures of bones can be told apart by mixing these.
glm::vec3 boneMark(uint32_t joint) {
  const auto part = [&](uint32_t salt) {
    return static_cast<float>(mixed(joint, salt)) / 16777216.0F - 0.5F;
  };
  return {part(1), part(77), part(4099)};
}

size_t mostMorphs(const scene::Mesh& mesh) {
  size_t out = 0;
  for (const scene::Primitive& p : mesh.primitives) out = std::max(out, p.morphs.size());
  return out;
}

// How morph targets become numbers: each axis of each its own; or, where that would be too many, so mixed
// that a change of any is as large in the numbers as it is itself, about (W. Johnson and J. Lindenstrauss,
// "Extensions of Lipschitz mappings into a Hilbert space", 1984; D. Achlioptas, "Database-friendly random
// projections", 2003).
struct MorphMix {
  uint32_t numbers = 0;
  bool each = true;
  float weight = 1;
  MorphMix(size_t morphs, float weight_of_all)
      : numbers(static_cast<uint32_t>(std::min<size_t>(morphs * 3, kMostMorphNumbers))),
        each(morphs * 3 <= kMostMorphNumbers),
        weight(weight_of_all) {}
  [[nodiscard]] float share(size_t morph, int axis, uint32_t number) const {
    const auto own = static_cast<uint32_t>(morph) * 3 + static_cast<uint32_t>(axis);
    if (each) return own == number ? weight : 0;
    const float one = weight / std::sqrt(static_cast<float>(kMostMorphNumbers));
    return (mixed(own, number * 131) & 1) != 0 ? one : -one;
  }
};

void carryPicture(const scene::Primitive& p, uint32_t set, float* to, uint32_t count) {
  const size_t n = p.positions.size();
  if (p.uvs[set].size() != n) return;
  double shown = 0;
  for (size_t i = 0; i + 2 < p.indices.size(); i += 3) {
    const glm::dvec2 a(p.uvs[set][p.indices[i]]), b(p.uvs[set][p.indices[i + 1]]),
        c(p.uvs[set][p.indices[i + 2]]);
    shown += std::abs((b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y)) * 0.5;
  }
  const double area = geometry::areaOf(p.positions, p.indices);
  const auto metres =
      static_cast<float>(shown > 0 && std::isfinite(area / shown) ? std::sqrt(area / shown) : 0);
  for (size_t v = 0; v < n; ++v)
    for (uint32_t k = 0; k < 2; ++k)
      to[v * count + set * 2 + k] = p.uvs[set][v][static_cast<int>(k)] * metres;
}

void carryBones(const scene::Primitive& p, float diagonal, float* to, uint32_t count) {
  const size_t n = p.positions.size();
  const auto bones = [&](const auto& joints, const auto& weights) {
    if (joints.size() != n || weights.size() != n) return;
    for (size_t v = 0; v < n; ++v)
      for (int k = 0; k < 4; ++k) {
        const glm::vec3 mark = boneMark(joints[v][k]) * weights[v][k] * (0.2F * diagonal);
        for (int i = 0; i < 3; ++i) to[v * count + static_cast<size_t>(i)] += mark[i];
      }
  };
  bones(p.joints, p.weights);
  bones(p.more_joints, p.more_weights);
}

void carryMorphs(const scene::Primitive& p, const MorphMix& mix, float* to, uint32_t count) {
  const size_t n = p.positions.size();
  for (size_t m = 0; m < p.morphs.size(); ++m) {
    if (p.morphs[m].positions.size() != n) continue;
    for (uint32_t i = 0; i < mix.numbers; ++i) {
      const glm::vec3 share(mix.share(m, 0, i), mix.share(m, 1, i), mix.share(m, 2, i));
      if (share == glm::vec3(0)) continue;
      for (size_t v = 0; v < n; ++v) to[v * count + i] += glm::dot(share, p.morphs[m].positions[v]);
    }
  }
}

}  // namespace

Carried carriedBy(const scene::Mesh& mesh, const CarriedOptions& options) {
  Carried out;
  geometry::Bounds box;
  for (const scene::Primitive& p : mesh.primitives) box.add(geometry::boundsOf(p.positions));
  const float diagonal = glm::length(box.size());
  const MorphMix mix(mostMorphs(mesh), options.morph_weight);
  const uint32_t others = options.others ? kPictureNumbers + kBoneNumbers : 0;
  out.count = others + mix.numbers;
  for (const scene::Primitive& p : mesh.primitives) {
    const size_t first = out.numbers.size();
    out.numbers.resize(first + p.positions.size() * out.count, 0);
    float* const to = out.numbers.data() + first;
    if (options.others) {
      for (uint32_t set = 0; set < 2; ++set) carryPicture(p, set, to, out.count);
      carryBones(p, diagonal, to + kPictureNumbers, out.count);
    }
    carryMorphs(p, mix, to + others, out.count);
  }
  return out;
}

bool hasMorphs(const scene::Mesh& mesh) { return mostMorphs(mesh) > 0; }

double morphsOff(const scene::Mesh& mesh, const scene::WholeMesh& whole, const geometry::Surface& surface,
                 const std::vector<uint32_t>& corners) {
  const auto deltaOf = [&](uint32_t vertex, size_t morph) {
    const size_t k = scene::primitiveOf(whole.first_vertex, vertex);
    const auto& morphs = mesh.primitives[k].morphs;
    const uint32_t own = vertex - whole.first_vertex[k];
    return morph < morphs.size() && own < morphs[morph].positions.size() ? morphs[morph].positions[own]
                                                                         : glm::vec3(0);
  };
  constexpr size_t kMany = 4096;
  const size_t n = whole.positions.size();
  std::vector<double> largest(base::piecesOf(n, kMany), 0);
  base::parallelPieces(n, kMany, [&](size_t piece, size_t begin, size_t end) {
    for (auto v = static_cast<uint32_t>(begin); v < end; ++v) {
      const auto near = surface.nearest(whole.positions[v]);
      if (!near) continue;
      const uint32_t* c = corners.data() + size_t{near->triangle} * 3;
      const size_t morphs =
          std::max(mesh.primitives[scene::primitiveOf(whole.first_vertex, v)].morphs.size(),
                   mesh.primitives[scene::primitiveOf(whole.first_vertex, c[0])].morphs.size());
      for (size_t m = 0; m < morphs; ++m) {
        const glm::vec3 there = near->at + near->share.x * deltaOf(c[0], m) +
                                near->share.y * deltaOf(c[1], m) + near->share.z * deltaOf(c[2], m);
        const float off = glm::distance(whole.positions[v] + deltaOf(v, m), there);
        if (std::isfinite(off)) largest[piece] = std::max(largest[piece], double{off});
      }
    }
  });
  return largest.empty() ? 0 : *std::max_element(largest.begin(), largest.end());
}

}  // namespace rakugo::prepare
