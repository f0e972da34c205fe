#include "app/bench/step_scene.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace rakugo::app {
namespace {

// A corner as it is compared: where it is, and what it carries.
struct Corner {
  glm::vec3 at{0};
  glm::vec2 uv[2] = {glm::vec2(0), glm::vec2(0)};
  std::array<uint8_t, 4> color{};
  // Bones that it follows, by their number among all names, and how far.
  std::array<std::pair<uint32_t, uint16_t>, 4> follows{};
};

// Bones are numbered otherwise once one of them has gone: they are compared by their keys.
using BoneNames = std::map<std::string, uint32_t>;

std::vector<uint32_t> bonesOf(const BenchScene& scene, BoneNames& names) {
  std::vector<uint32_t> out(scene.rig.nodes.size(), 0);
  for (const BenchBone& bone : scene.bones)
    if (bone.number >= 0 && static_cast<size_t>(bone.number) < out.size())
      out[static_cast<size_t>(bone.number)] =
          names.emplace(bone.key, static_cast<uint32_t>(names.size() + 1)).first->second;
  return out;
}

struct Triangle {
  Corner corners[3];
  std::string material;
};

glm::vec2 pairAt(const BenchPart& part, bundle::Semantic semantic, uint32_t vertex) {
  const bundle::Attribute* found = part.mesh.find(semantic);
  if (found == nullptr || found->format != bundle::AttributeFormat::f32x2) return glm::vec2(0);
  return base::loadAt<glm::vec2>(part.mesh.vertices, size_t{vertex} * part.mesh.stride + found->offset);
}

Corner cornerOf(const BenchPart& part, uint32_t vertex, const std::vector<uint32_t>& bones) {
  Corner out;
  out.at = glm::vec3(part.world * glm::vec4(part.places[vertex], 1));
  out.uv[0] = pairAt(part, bundle::Semantic::uv0, vertex);
  out.uv[1] = pairAt(part, bundle::Semantic::uv1, vertex);
  const size_t at = size_t{vertex} * part.mesh.stride;
  if (const bundle::Attribute* color = part.mesh.find(bundle::Semantic::color))
    out.color = base::loadAt<std::array<uint8_t, 4>>(part.mesh.vertices, at + color->offset);
  const bundle::Attribute* joints = part.mesh.find(bundle::Semantic::joints);
  const bundle::Attribute* weights = part.mesh.find(bundle::Semantic::weights);
  if (joints == nullptr || weights == nullptr) return out;
  using Four = std::array<uint16_t, 4>;
  const auto numbers = base::loadAt<Four>(part.mesh.vertices, at + joints->offset),
             shares = base::loadAt<Four>(part.mesh.vertices, at + weights->offset);
  for (size_t k = 0; k < 4; ++k)
    if (shares[k] > 0 && numbers[k] < bones.size()) out.follows[k] = {bones[numbers[k]], shares[k]};
  std::sort(out.follows.begin(), out.follows.end());
  return out;
}

bool areAlike(const Corner& a, const Corner& b, float near_m) {
  constexpr float kNearUv = 1e-4F;
  return glm::distance(a.at, b.at) <= near_m && glm::distance(a.uv[0], b.uv[0]) <= kNearUv &&
         glm::distance(a.uv[1], b.uv[1]) <= kNearUv && a.color == b.color && a.follows == b.follows;
}

// Whichever corner comes first.
bool areAlike(const Triangle& a, const Triangle& b, float near_m) {
  if (a.material != b.material) return false;
  for (int turn = 0; turn < 3; ++turn) {
    bool all = true;
    for (int k = 0; k < 3 && all; ++k) all = areAlike(a.corners[k], b.corners[(k + turn) % 3], near_m);
    if (all) return true;
  }
  return false;
}

std::vector<Triangle> trianglesOf(const BenchScene& scene, BoneNames& names) {
  const std::vector<uint32_t> bones = bonesOf(scene, names);
  std::vector<Triangle> out;
  for (const BenchPart& part : scene.parts)
    for (const bundle::Submesh& s : part.mesh.submeshes)
      for (uint32_t i = s.first_index; i + 2 < s.first_index + s.index_count; i += 3) {
        Triangle t;
        for (uint32_t k = 0; k < 3; ++k) t.corners[k] = cornerOf(part, part.mesh.indices[i + k], bones);
        t.material = scene.materials[part.materials[s.material]].key;
        out.push_back(std::move(t));
      }
  return out;
}

glm::vec3 middleOf(const Triangle& t) { return (t.corners[0].at + t.corners[1].at + t.corners[2].at) / 3.0F; }

using Cell = std::array<int64_t, 3>;
struct CellHash {
  size_t operator()(const Cell& c) const {
    size_t out = 0;
    for (const int64_t one : c) out = out * 1'000'003U + static_cast<size_t>(one);
    return out;
  }
};

// Cells so large that what is near lies in the same one or a neighbour.
Cell cellOf(glm::vec3 at, float side) {
  Cell out{};
  for (int i = 0; i < 3; ++i) {
    const double number = std::floor(static_cast<double>(at[i]) / static_cast<double>(side));
    out[static_cast<size_t>(i)] =
        std::isfinite(number) && std::abs(number) < 1e15 ? static_cast<int64_t>(number) : 0;
  }
  return out;
}

}  // namespace

std::vector<bool> changedTriangles(const BenchScene& now, const BenchScene& then, float near_m) {
  const float side = std::max(near_m * 4, 1e-9F);
  BoneNames names;
  const std::vector<Triangle> before = trianglesOf(then, names), after = trianglesOf(now, names);
  std::unordered_multimap<Cell, size_t, CellHash> by_cell;
  by_cell.reserve(before.size());
  for (size_t i = 0; i < before.size(); ++i) by_cell.emplace(cellOf(middleOf(before[i]), side), i);
  const auto isThere = [&](const Triangle& t) {
    const glm::vec3 middle = middleOf(t);
    // Most are found where they lie; only at a cell's border the neighbours are asked.
    std::array<Cell, 8> looked{};
    size_t count = 0;
    for (int corner = 0; corner < 8; ++corner) {
      const glm::vec3 by((corner & 1) != 0 ? near_m : -near_m, (corner & 2) != 0 ? near_m : -near_m,
                         (corner & 4) != 0 ? near_m : -near_m);
      const Cell cell = cellOf(middle + by, side);
      if (std::find(looked.begin(), looked.begin() + static_cast<std::ptrdiff_t>(count), cell) !=
          looked.begin() + static_cast<std::ptrdiff_t>(count))
        continue;
      looked[count++] = cell;
      const auto [from, to] = by_cell.equal_range(cell);
      for (auto one = from; one != to; ++one)
        if (areAlike(t, before[one->second], near_m)) return true;
    }
    return false;
  };
  // Bytes, for the cores write beside each other.
  std::vector<uint8_t> changed(after.size(), 0);
  base::parallelPieces(after.size(), 2048, [&](size_t, size_t begin, size_t end) {
    for (size_t i = begin; i < end; ++i) changed[i] = isThere(after[i]) ? 0 : 1;
  });
  return {changed.begin(), changed.end()};
}

void setApart(std::vector<BenchPart>& parts, const std::vector<bool>& marked) {
  std::vector<BenchPart> out;
  size_t triangle = 0;
  for (BenchPart& part : parts) {
    BenchPart same = part, other = part;
    for (BenchPart* one : {&same, &other}) {
      one->mesh.indices.clear();
      one->mesh.submeshes.clear();
      one->coarse.clear();
      one->coarse_submeshes.clear();
    }
    for (const bundle::Submesh& s : part.mesh.submeshes) {
      for (BenchPart* one : {&same, &other})
        one->mesh.submeshes.push_back({static_cast<uint32_t>(one->mesh.indices.size()), 0, s.material});
      for (uint32_t i = s.first_index; i + 2 < s.first_index + s.index_count; i += 3) {
        BenchPart& to = marked[triangle++] ? other : same;
        to.mesh.indices.insert(to.mesh.indices.end(), part.mesh.indices.begin() + i,
                               part.mesh.indices.begin() + i + 3);
        to.mesh.submeshes.back().index_count += 3;
      }
    }
    other.changed = true;
    if (other.mesh.indices.empty()) {
      out.push_back(std::move(part));
    } else if (same.mesh.indices.empty()) {
      part.changed = true;
      out.push_back(std::move(part));
    } else {
      out.push_back(std::move(same));
      out.push_back(std::move(other));
    }
  }
  parts = std::move(out);
}

std::optional<StepScenes> makeStepScenes(const check::Examination& x, const std::string& name, size_t step,
                                         PictureCache& pictures, const base::Progress& progress) {
  const auto state = x.context.models.find(name);
  if (state == x.context.models.end() || !state->second.prepared.model) return std::nullopt;
  const prepare::Prepared& prepared = state->second.prepared;
  if (step >= prepared.before.size()) return std::nullopt;
  const auto before = makePlainScene(x, name, prepared.before[step], pictures);
  const auto after = makePlainScene(
      x, name, step + 1 < prepared.before.size() ? prepared.before[step + 1] : prepared.model, pictures);
  if (progress.cancelled()) return std::nullopt;
  StepScenes out;
  const float near_m = std::max(glm::length(after->bounds_m.size()) * 1e-5F, 1e-7F);
  const std::vector<bool> changed = changedTriangles(*after, *before, near_m);
  if (progress.cancelled()) return std::nullopt;
  const std::vector<bool> gone = changedTriangles(*before, *after, near_m);
  out.triangles = changed.size();
  out.changed = static_cast<size_t>(std::count(changed.begin(), changed.end(), true));
  out.gone = static_cast<size_t>(std::count(gone.begin(), gone.end(), true));
  setApart(after->parts, changed);
  out.before = before;
  out.after = after;
  return out;
}

}  // namespace rakugo::app
