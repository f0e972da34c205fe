#include "prepare/weights/weight_faults.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>
#include <tuple>

#include "geometry/nearest.h"
#include "geometry/welding.h"
#include "prepare/edit_steps.h"
#include "prepare/mesh/worn_meshes.h"
#include "prepare/weights/influence_list.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Model;
using scene::NodeIndex;
using scene::Primitive;

constexpr float kStrayWeight = 0.05F, kIslandWeight = 0.1F;

struct Line {
  glm::vec3 a, b;
};

// A skinned part with all its primitives as one.
struct Worn {
  NodeIndex part;
  scene::WholeMesh mesh;                 // at rest, in the model's space
  std::vector<Influences> follows;       // by vertex
  std::vector<std::vector<Line>> lines;  // by joint of the skin
};

Worn wornPart(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world) {
  Worn out;
  out.part = part;
  out.mesh = scene::placedMesh(model, part, world);
  for (const Primitive& p : model.mesh(model.node(part).mesh).primitives)
    for (size_t v = 0; v < p.positions.size(); ++v) {
      out.follows.emplace_back();
      readInfluences(p, v, out.follows.back());
    }
  const scene::Skin& skin = model.skins[model.node(part).skin.value()];
  const std::set<NodeIndex> joints(skin.joints.begin(), skin.joints.end());
  for (const NodeIndex joint : skin.joints) {
    const glm::vec3 head(world[joint.value()][3]);
    std::vector<Line> lines;
    for (const NodeIndex child : model.node(joint).children)
      if (joints.count(child) != 0) lines.push_back({head, glm::vec3(world[child.value()][3])});
    if (lines.empty()) lines.push_back({head, head});
    out.lines.push_back(std::move(lines));
  }
  return out;
}

float awayFromBone(const Worn& worn, uint32_t joint, glm::vec3 p) {
  float out = 1e30F;
  for (const Line& line : worn.lines[joint])
    out = std::min(out, geometry::distanceFromLine(p, line.a, line.b));
  return out;
}

void findStray(const Worn& worn, float far_m, std::vector<LooseInfluence>& out) {
  for (uint32_t v = 0; v < worn.follows.size(); ++v)
    for (const Influence& one : worn.follows[v]) {
      if (one.weight < kStrayWeight || one.joint >= worn.lines.size()) continue;
      const glm::vec3 p = worn.mesh.positions[v];
      const float own = awayFromBone(worn, one.joint, p);
      if (!(own > far_m)) continue;
      float nearest = own;
      for (uint32_t j = 0; j < worn.lines.size(); ++j) nearest = std::min(nearest, awayFromBone(worn, j, p));
      if (own > 4 * nearest + far_m) out.push_back({worn.part, v, one.joint, p});
    }
}

// Sets that are joined step by step.
class Joined {
 public:
  explicit Joined(size_t count) : of_(count) { std::iota(of_.begin(), of_.end(), 0U); }
  uint32_t find(uint32_t i) {
    while (of_[i] != i) i = of_[i] = of_[of_[i]];
    return i;
  }
  void join(uint32_t a, uint32_t b) { of_[find(a)] = find(b); }

 private:
  std::vector<uint32_t> of_;
};

void findIslands(const Worn& worn, std::vector<LooseInfluence>& out) {
  const geometry::Welding welding = geometry::weldEqual(worn.mesh.positions);
  const size_t places = welding.places();
  Joined pieces(places);
  // By joint, its places; and by place what it follows enough.
  std::vector<std::vector<uint32_t>> strong(places);
  for (uint32_t v = 0; v < worn.follows.size(); ++v)
    for (const Influence& one : worn.follows[v])
      if (one.weight >= kIslandWeight && one.joint < worn.lines.size()) {
        auto& list = strong[welding.of[v]];
        if (std::find(list.begin(), list.end(), one.joint) == list.end()) list.push_back(one.joint);
      }
  // A node for each place and joint that it follows; neighbours with the same joint are joined.
  std::vector<uint32_t> begin(places + 1, 0);
  for (size_t p = 0; p < places; ++p) begin[p + 1] = begin[p] + static_cast<uint32_t>(strong[p].size());
  Joined patches(begin[places]);
  for (size_t t = 0; t + 2 < worn.mesh.indices.size(); t += 3)
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t a = welding.of[worn.mesh.indices[t + k]],
                     b = welding.of[worn.mesh.indices[t + (k + 1) % 3]];
      pieces.join(a, b);
      for (uint32_t i = 0; i < strong[a].size(); ++i)
        for (uint32_t j = 0; j < strong[b].size(); ++j)
          if (strong[a][i] == strong[b][j]) patches.join(begin[a] + i, begin[b] + j);
    }
  std::vector<uint32_t> size(begin[places], 0);
  for (uint32_t i = 0; i < size.size(); ++i) ++size[patches.find(i)];
  // The largest patch of each joint on each piece.
  std::map<std::pair<uint32_t, uint32_t>, uint32_t> largest;
  for (uint32_t p = 0; p < places; ++p)
    for (uint32_t i = 0; i < strong[p].size(); ++i) {
      const uint32_t patch = patches.find(begin[p] + i);
      uint32_t& best = largest.emplace(std::pair(pieces.find(p), strong[p][i]), patch).first->second;
      if (size[patch] > size[best]) best = patch;
    }
  for (uint32_t v = 0; v < worn.follows.size(); ++v) {
    const uint32_t p = welding.of[v];
    for (uint32_t i = 0; i < strong[p].size(); ++i) {
      const uint32_t patch = patches.find(begin[p] + i), best = largest.at({pieces.find(p), strong[p][i]});
      // A patch nearly as large as the largest is no island: a bone may move two things.
      if (patch != best && size[patch] * 4 < size[best])
        out.push_back({worn.part, v, strong[p][i], worn.mesh.positions[v]});
    }
  }
}

void findLopsided(const Model& model, const Worn& worn, glm::vec3 side, float height,
                  const std::vector<std::pair<NodeIndex, NodeIndex>>& pairs, WeightFaults& out) {
  const scene::Skin& skin = model.skins[model.node(worn.part).skin.value()];
  const float cell = std::max(height / 1000, 1e-6F);
  using Key = std::tuple<int, int, int>;
  const auto key = [&](glm::vec3 p) {
    return Key(static_cast<int>(std::lround(p.x / cell)), static_cast<int>(std::lround(p.y / cell)),
               static_cast<int>(std::lround(p.z / cell)));
  };
  std::map<Key, uint32_t> at;
  for (uint32_t v = 0; v < worn.mesh.positions.size(); ++v) {
    const glm::vec3& p = worn.mesh.positions[v];
    if (glm::length(p) < 1e6F * cell) at.emplace(key(p), v);
  }
  const auto otherOf = [&](NodeIndex bone) {
    for (const auto& [a, b] : pairs) {
      if (a == bone) return b;
      if (b == bone) return a;
    }
    return bone;
  };
  for (uint32_t v = 0; v < worn.mesh.positions.size(); ++v) {
    const glm::vec3 p = worn.mesh.positions[v];
    if (!(glm::dot(p, side) > cell)) continue;  // each pair once
    const auto found = at.find(key(p - 2 * glm::dot(p, side) * side));
    if (found == at.end()) continue;
    out.mirrored += 2;
    std::map<NodeIndex, float> off;
    for (const Influence& one : worn.follows[v])
      if (one.joint < skin.joints.size()) off[skin.joints[one.joint]] += one.weight;
    for (const Influence& one : worn.follows[found->second])
      if (one.joint < skin.joints.size()) off[otherOf(skin.joints[one.joint])] -= one.weight;
    float sum = 0;
    for (const auto& [bone, weight] : off) sum += std::abs(weight);
    if (sum * 0.5F >= 0.2F) out.lopsided += 2;
  }
}

}  // namespace

std::vector<std::pair<NodeIndex, NodeIndex>> mirrorPairs(const Model& model,
                                                         const rulebook::Skeleton& skeleton) {
  const auto named = scene::bonesByName(model);
  std::vector<std::pair<NodeIndex, NodeIndex>> out;
  for (const rulebook::Bone& left : skeleton.bones) {
    if (left.side != rulebook::Side::left || named.count(left.id) == 0) continue;
    const rulebook::Bone* best = nullptr;
    double nearest = 0.05;
    for (const rulebook::Bone& right : skeleton.bones) {
      if (right.side != rulebook::Side::right || named.count(right.id) == 0) continue;
      const double off = std::hypot(left.at_m[0] - right.at_m[0], left.at_m[1] + right.at_m[1],
                                    left.at_m[2] - right.at_m[2]);
      if (off < nearest) nearest = off, best = &right;
    }
    if (best != nullptr) out.emplace_back(named.at(left.id), named.at(best->id));
  }
  return out;
}

WeightFaults weightFaults(const Model& model, const rulebook::Skeleton& skeleton,
                          const rulebook::Rulebook& book) {
  WeightFaults out;
  const auto world = scene::worldMatrices(model);
  const GameAxes axes = gameAxes(model.frame, book);
  const float height = std::abs(glm::dot(scene::boundsOf(model).size(), axes.up));
  const auto pairs = mirrorPairs(model, skeleton);
  uint64_t vertices = 0;
  for (const NodeIndex part : scene::reachedNodes(model)) {
    if (!model.node(part).skin.valid() || !model.node(part).mesh.valid()) continue;
    const Worn worn = wornPart(model, part, world);
    vertices += worn.follows.size();
    findStray(worn, height / 6, out.stray);
    findIslands(worn, out.islands);
    if (!pairs.empty()) findLopsided(model, worn, axes.side, height, pairs, out);
  }
  if (out.mirrored * 2 < vertices) out.lopsided = 0;
  return out;
}

uint64_t dropLooseWeights(Model& model, const rulebook::Skeleton& skeleton, const rulebook::Rulebook& book) {
  const WeightFaults faults = weightFaults(model, skeleton, book);
  std::map<NodeIndex, std::map<uint32_t, std::vector<uint32_t>>> loose;  // by part and vertex
  for (const auto* list : {&faults.stray, &faults.islands})
    for (const LooseInfluence& one : *list) loose[one.part][one.vertex].push_back(one.joint);
  uint64_t changed = 0;
  for (const auto& [part, by_vertex] : loose) {
    scene::Node& node = model.node(part);
    auto mesh = std::make_shared<scene::Mesh>(model.mesh(node.mesh));
    uint32_t whole = 0;
    for (Primitive& p : mesh->primitives)
      for (size_t v = 0; v < p.positions.size(); ++v, ++whole) {
        const auto found = by_vertex.find(whole);
        if (found == by_vertex.end()) continue;
        Influences list;
        readInfluences(p, v, list);
        const auto largest =
            std::max_element(list.begin(), list.end(),
                             [](const Influence& a, const Influence& b) { return a.weight < b.weight; });
        const uint32_t keeps = largest->joint;
        const size_t had = list.size();
        std::erase_if(list, [&](const Influence& one) {
          return one.joint != keeps &&
                 std::find(found->second.begin(), found->second.end(), one.joint) != found->second.end();
        });
        if (list.size() == had) continue;
        settleInfluences(list, 8);
        writeInfluences(p, v, list);
        ++changed;
      }
    node.mesh = scene::MeshIndex(model.meshes.size());
    model.meshes.push_back(std::move(mesh));
  }
  return changed;
}

}  // namespace rakugo::prepare
