#include "prepare/weights/weight_ops.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "geometry/nearest.h"
#include "geometry/volume_weights.h"
#include "geometry/welding.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/parts/part_ops.h"
#include "prepare/weights/influence_list.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Model;
using scene::NodeIndex;
using scene::Primitive;
using scene::Skin;

// Gives a part that has no skin one of those bones; its mesh stands where it did.
void wearSkin(Model& model, NodeIndex part, const std::vector<NodeIndex>& bones,
              const std::vector<glm::mat4>& world) {
  Skin skin;
  skin.name = model.node(part).name;
  skin.joints = bones;
  // A part with a skin stands where its bones put it, not where its node does.
  for (const NodeIndex bone : bones)
    skin.inverse_bind.push_back(glm::inverse(world[bone.value()]) * world[part.value()]);
  model.node(part).skin = scene::SkinIndex(model.skins.size());
  model.skins.push_back(std::move(skin));
}

void makeRoom(Primitive& p) {
  const size_t n = p.positions.size();
  if (weighed(p)) return;
  p.joints.assign(n, glm::u16vec4(0));
  p.weights.assign(n, glm::vec4(0));
  p.more_joints.clear();
  p.more_weights.clear();
}

// A copy of the part's own mesh, for it alone.
Mesh& ownMesh(Model& model, NodeIndex part) {
  scene::Node& node = model.node(part);
  auto copy = std::make_shared<Mesh>(model.mesh(node.mesh));
  Mesh& out = *copy;
  node.mesh = scene::MeshIndex(model.meshes.size());
  model.meshes.push_back(std::move(copy));
  return out;
}

// The lines of bones: from each to those that hang on it; what ends a chain goes on as the bone before it
// did, half as far.
std::vector<geometry::BoneLine> linesOf(const Model& model, const std::vector<NodeIndex>& bones,
                                        const std::vector<glm::mat4>& world) {
  std::map<uint32_t, uint32_t> number;
  for (uint32_t i = 0; i < bones.size(); ++i) number[bones[i].value()] = i;
  const auto head = [&](NodeIndex i) { return glm::vec3(world[i.value()][3]); };
  std::vector<geometry::BoneLine> out;
  for (uint32_t i = 0; i < bones.size(); ++i) {
    bool any = false;
    for (const NodeIndex child : model.node(bones[i]).children)
      if (number.count(child.value()) != 0) {
        out.push_back({i, head(bones[i]), head(child)});
        any = true;
      }
    if (any) continue;
    const NodeIndex parent = model.node(bones[i]).parent;
    const glm::vec3 way =
        parent.valid() && number.count(parent.value()) != 0 ? head(bones[i]) - head(parent) : glm::vec3(0);
    out.push_back({i, head(bones[i]), head(bones[i]) + way * 0.5F});
  }
  return out;
}

std::vector<NodeIndex> meshParts(const Model& model) {
  std::vector<NodeIndex> out;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid()) out.push_back(i);
  return out;
}

// Calls body(primitive, vertex of it, vertex of the whole) for all vertices.
template <class Body>
void eachVertex(Mesh& mesh, const Body& body) {
  size_t whole = 0;
  for (Primitive& p : mesh.primitives)
    for (size_t v = 0; v < p.positions.size(); ++v, ++whole) body(p, v, whole);
}

// A joint for a bone in a part's skin, bound as the part stands at rest now.
uint32_t jointFor(Model& model, NodeIndex part, NodeIndex bone, const std::vector<glm::mat4>& world) {
  Skin& skin = model.skins[model.node(part).skin.value()];
  if (const uint32_t known = jointOf(skin, bone); known != kNoJoint) return known;
  // Where the others put the mesh's space, so that what follows it stands where it stood.
  const glm::mat4 stands =
      skin.joints.empty()
          ? glm::mat4(1)
          : world[skin.joints[0].value()] * (skin.inverse_bind.empty() ? glm::mat4(1) : skin.inverse_bind[0]);
  skin.inverse_bind.resize(skin.joints.size(), glm::mat4(1));
  skin.joints.push_back(bone);
  skin.inverse_bind.push_back(glm::inverse(world[bone.value()]) * stands);
  return static_cast<uint32_t>(skin.joints.size() - 1);
}

}  // namespace

NodeIndex addGameBones(Model& model, const rulebook::Skeleton& skeleton, const rulebook::Rulebook& book) {
  const geometry::Bounds box = scene::boundsOf(model);
  const GameAxes axes = gameAxes(model.frame, book);
  const float height = box.empty() ? 0 : std::abs(glm::dot(box.size(), axes.up));
  const float scale = height > 1e-5F ? height / static_cast<float>(std::max(book.person_height_m, 0.01)) : 1;
  glm::vec3 floor(0);
  if (!box.empty()) floor = box.center() - axes.up * (height / 2);
  std::map<std::string, NodeIndex> made;
  std::map<std::string, glm::vec3> at;
  NodeIndex first;
  for (const rulebook::Bone& bone : skeleton.bones) {
    const NodeIndex parent = bone.parent.empty() ? NodeIndex() : made.at(bone.parent);
    at[bone.id] =
        floor + (axes.forward * static_cast<float>(bone.at_m[0]) +
                 axes.side * static_cast<float>(bone.at_m[1]) + axes.up * static_cast<float>(bone.at_m[2])) *
                    scale;
    const NodeIndex own = addPart(model, bone.id, parent);
    const glm::quat above =
        parent.valid() ? slotTurn(*skeleton.findBone(bone.parent)) : glm::quat(1, 0, 0, 0);
    model.node(own).local.position =
        glm::conjugate(above) * (at[bone.id] - (parent.valid() ? at[bone.parent] : glm::vec3(0)));
    model.node(own).local.turn = glm::normalize(glm::conjugate(above) * slotTurn(bone));
    made[bone.id] = own;
    if (!first.valid()) first = own;
  }
  return first;
}

base::Result<FirstWeights> firstWeights(Model& model, const std::vector<NodeIndex>& bones,
                                        base::Progress* progress) {
  FirstWeights out;
  const auto world = scene::worldMatrices(model);
  std::set<uint32_t> followed;
  for (const NodeIndex part : meshParts(model)) {
    const bool bare = !model.node(part).skin.valid();
    if (bare && bones.empty()) continue;
    // Whether there is anything to do before it is measured.
    std::vector<bool> needs;
    for (const Primitive& p : model.mesh(model.node(part).mesh).primitives)
      for (size_t v = 0; v < p.positions.size(); ++v) {
        bool any = false;
        if (!bare) scene::eachInfluence(p, v, [&](uint32_t, float) { any = true; });
        needs.push_back(!any);
      }
    if (std::find(needs.begin(), needs.end(), true) == needs.end()) continue;
    const scene::WholeMesh whole = scene::placedMesh(model, part, world);
    Mesh& mesh = ownMesh(model, part);
    if (bare) wearSkin(model, part, bones, world);
    const Skin& skin = model.skins[model.node(part).skin.value()];
    RAKUGO_ASSIGN(const std::vector<geometry::VertexWeights> weights,
                  geometry::volumeWeights(whole.positions, whole.indices, linesOf(model, skin.joints, world),
                                          {}, progress));
    eachVertex(mesh, [&](Primitive& p, size_t v, size_t i) {
      makeRoom(p);
      if (!needs[i]) return;
      Influences list;
      for (size_t k = 0; k < 4; ++k)
        if (weights[i].weight[k] > 0) {
          list.push_back({weights[i].bone[k], weights[i].weight[k]});
          followed.insert(skin.joints[weights[i].bone[k]].value());
        }
      writeInfluences(p, v, list);
      ++out.vertices;
    });
  }
  out.bones = followed.size();
  return out;
}

uint64_t smoothWeights(Model& model, NodeIndex part, int rounds, float share,
                       const std::vector<float>& chosen) {
  if (!model.node(part).mesh.valid() || !model.node(part).skin.valid()) return 0;
  Mesh& mesh = ownMesh(model, part);
  const scene::WholeMesh whole = scene::wholeMesh(mesh);
  const geometry::Welding welding = geometry::weldEqual(whole.positions);
  // By place: what it follows, and its neighbours.
  std::vector<Influences> now(welding.places());
  std::vector<float> reached(welding.places(), 0);
  std::vector<size_t> most(welding.places(), 4);
  eachVertex(mesh, [&](Primitive& p, size_t v, size_t i) {
    Influences list;
    readInfluences(p, v, list);
    const uint32_t place = welding.of[i];
    most[place] = std::max(most[place], list.size());
    for (const Influence& one : list) addInfluence(now[place], one.joint, one.weight);
    reached[place] = std::max(reached[place], chosen.empty() ? 1.0F : i < chosen.size() ? chosen[i] : 0.0F);
  });
  std::vector<std::vector<uint32_t>> beside(welding.places());
  const auto link = [&](uint32_t a, uint32_t b) {
    if (a != b && std::find(beside[a].begin(), beside[a].end(), b) == beside[a].end()) beside[a].push_back(b);
  };
  for (size_t t = 0; t + 2 < whole.indices.size(); t += 3)
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t a = welding.of[whole.indices[t + k]], b = welding.of[whole.indices[t + (k + 1) % 3]];
      link(a, b);
      link(b, a);
    }
  for (size_t i = 0; i < now.size(); ++i) settleInfluences(now[i], 64);
  for (int round = 0; round < rounds; ++round) {
    std::vector<Influences> next = now;
    for (size_t i = 0; i < now.size(); ++i) {
      if (reached[i] <= 0 || beside[i].empty()) continue;
      const float own = 1 - share * reached[i],
                  each = share * reached[i] / static_cast<float>(beside[i].size());
      Influences& list = next[i];
      for (Influence& one : list) one.weight *= own;
      for (const uint32_t other : beside[i])
        for (const Influence& one : now[other]) addInfluence(list, one.joint, one.weight * each);
      settleInfluences(list, most[i]);
    }
    now = std::move(next);
  }
  uint64_t changed = 0;
  eachVertex(mesh, [&](Primitive& p, size_t v, size_t i) {
    const uint32_t place = welding.of[i];
    if (!weighed(p) || now[place].empty() || reached[place] <= 0) return;
    float most_off = 0;
    Influences own;
    readInfluences(p, v, own);
    for (const Influence& one : now[place]) {
      float had = 0;
      for (const Influence& other : own) had += other.joint == one.joint ? other.weight : 0;
      most_off = std::max(most_off, std::abs(had - one.weight));
    }
    if (most_off <= 1e-6F) return;
    Influences list = now[place];
    writeInfluences(p, v, list);
    ++changed;
  });
  return changed;
}

uint64_t mirrorWeights(Model& model, glm::vec3 side, bool from_left, float most_m,
                       const std::vector<std::pair<NodeIndex, NodeIndex>>& pairs) {
  const auto world = scene::worldMatrices(model);
  const auto otherOf = [&](NodeIndex bone) {
    for (const auto& [a, b] : pairs) {
      if (a == bone) return b;
      if (b == bone) return a;
    }
    return bone;
  };
  uint64_t changed = 0;
  for (const NodeIndex part : meshParts(model)) {
    if (!model.node(part).skin.valid()) continue;
    const scene::WholeMesh whole = scene::placedMesh(model, part, world);
    const geometry::Surface surface(whole.positions, whole.indices);
    const float sign = from_left ? 1.0F : -1.0F;
    // What each vertex follows before anything is changed, by node.
    std::vector<std::vector<std::pair<NodeIndex, float>>> follows(whole.positions.size());
    {
      const Skin& skin = model.skins[model.node(part).skin.value()];
      size_t i = 0;
      for (const Primitive& p : model.mesh(model.node(part).mesh).primitives)
        for (size_t v = 0; v < p.positions.size(); ++v, ++i)
          scene::eachInfluence(p, v, [&](uint32_t joint, float weight) {
            if (joint < skin.joints.size()) follows[i].emplace_back(skin.joints[joint], weight);
          });
    }
    Mesh& mesh = ownMesh(model, part);
    eachVertex(mesh, [&](Primitive& p, size_t v, size_t i) {
      const float off = glm::dot(whole.positions[i], side) * sign;
      if (!weighed(p) || !(off < -1e-5F)) return;
      const glm::vec3 mirrored = whole.positions[i] - 2 * glm::dot(whole.positions[i], side) * side;
      const auto near = surface.nearest(mirrored, most_m);
      if (!near) return;
      Influences list;
      for (int k = 0; k < 3; ++k)
        for (const auto& [bone, weight] :
             follows[whole.indices[size_t{near->triangle} * 3 + static_cast<size_t>(k)]])
          if (near->share[k] > 0)
            addInfluence(list, jointFor(model, part, otherOf(bone), world), weight * near->share[k]);
      settleInfluences(list, p.more_weights.empty() ? 4 : 8);
      if (list.empty()) return;
      writeInfluences(p, v, list);
      ++changed;
    });
  }
  return changed;
}

namespace {

// All of a donor's skinned parts as one surface, with the bones that each vertex follows.
struct DonorSurface {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  std::vector<std::vector<std::pair<NodeIndex, float>>> follows;
};

DonorSurface donorSurface(const Model& donor) {
  DonorSurface out;
  const auto donor_world = scene::worldMatrices(donor);
  for (const NodeIndex part : meshParts(donor)) {
    const scene::SkinIndex worn = donor.node(part).skin;
    if (!worn.valid()) continue;
    const scene::WholeMesh whole = scene::placedMesh(donor, part, donor_world);
    const auto first = static_cast<uint32_t>(out.positions.size());
    out.positions.insert(out.positions.end(), whole.positions.begin(), whole.positions.end());
    for (const uint32_t c : whole.indices) out.corners.push_back(first + c);
    for (const Primitive& p : donor.mesh(donor.node(part).mesh).primitives)
      for (size_t v = 0; v < p.positions.size(); ++v) {
        out.follows.emplace_back();
        scene::eachInfluence(p, v, [&](uint32_t joint, float weight) {
          const auto& joints = donor.skins[worn.value()].joints;
          if (joint < joints.size()) out.follows.back().emplace_back(joints[joint], weight);
        });
      }
  }
  return out;
}

// The model's bone for each of a donor's, by its name; added, with all that carries it, where it is missing.
class DonorBones {
 public:
  DonorBones(Model& model, const Model& donor)
      : model_(model), donor_(donor), world_(scene::worldMatrices(donor)), bones_(scene::boneNodes(donor)) {
    for (const NodeIndex i : scene::reachedNodes(model))
      if (!model.node(i).mesh.valid()) named_.emplace(model.node(i).name, i);
  }
  void add(NodeIndex wanted) {
    std::vector<NodeIndex> chain;  // from it up to one that is there
    for (NodeIndex up = wanted; up.valid() && bones_[up.value()] && known.count(up.value()) == 0;
         up = donor_.node(up).parent)
      chain.push_back(up);
    for (auto i = chain.rbegin(); i != chain.rend(); ++i) {
      const std::string& name = donor_.node(*i).name;
      if (const auto found = named_.find(name); found != named_.end()) {
        known[i->value()] = found->second;
        continue;
      }
      const NodeIndex above = donor_.node(*i).parent;
      const auto parent = above.valid() ? known.find(above.value()) : known.end();
      const NodeIndex made = addPart(model_, name, parent != known.end() ? parent->second : NodeIndex());
      putAt(model_, made, world_[i->value()], scene::worldMatrices(model_));
      named_[name] = known[i->value()] = made;
      ++added;
    }
  }
  std::map<uint32_t, NodeIndex> known;  ///< by the donor's
  uint32_t added = 0;

 private:
  Model& model_;
  const Model& donor_;
  const std::vector<glm::mat4> world_;
  const std::vector<bool> bones_;
  std::map<std::string, NodeIndex> named_;
};

}  // namespace

CopiedWeights copyWeights(Model& model, const Model& donor, float most_m) {
  CopiedWeights out;
  const auto [positions, corners, follows] = donorSurface(donor);
  if (corners.empty()) return out;
  const geometry::Surface surface(positions, corners);
  DonorBones donor_bones(model, donor);
  const std::map<uint32_t, NodeIndex>& known = donor_bones.known;
  for (const auto& list : follows)
    for (const auto& [bone, weight] : list)
      if (known.count(bone.value()) == 0) donor_bones.add(bone);
  out.bones = donor_bones.added;
  const auto world = scene::worldMatrices(model);
  std::vector<NodeIndex> bones;
  for (const auto& [theirs, own] : known) bones.push_back(own);
  for (const NodeIndex part : meshParts(model)) {
    const scene::WholeMesh whole = scene::placedMesh(model, part, world);
    Mesh& mesh = ownMesh(model, part);
    if (!model.node(part).skin.valid()) wearSkin(model, part, bones, world);
    eachVertex(mesh, [&, &corners = corners, &follows = follows](Primitive& p, size_t v, size_t i) {
      makeRoom(p);
      Influences had;
      readInfluences(p, v, had);
      const auto near = surface.nearest(whole.positions[i], had.empty() ? 1e18F : most_m);
      if (!near) return void(++out.left);
      Influences list;
      for (int k = 0; k < 3; ++k)
        for (const auto& [bone, weight] :
             follows[corners[size_t{near->triangle} * 3 + static_cast<size_t>(k)]])
          if (near->share[k] > 0)
            addInfluence(list, jointFor(model, part, known.at(bone.value()), world), weight * near->share[k]);
      settleInfluences(list, 4);
      if (list.empty()) return void(++out.left);
      writeInfluences(p, v, list);
      ++out.vertices;
    });
  }
  return out;
}

uint64_t giveToBone(Model& model, NodeIndex part, NodeIndex bone, const std::vector<float>& amount) {
  const auto world = scene::worldMatrices(model);
  if (!model.node(part).skin.valid()) {
    const std::vector<bool> are = scene::boneNodes(model);
    std::vector<NodeIndex> bones = {bone};
    for (const NodeIndex i : scene::reachedNodes(model))
      if (are[i.value()] && i != bone) bones.push_back(i);
    wearSkin(model, part, bones, world);
  }
  const uint32_t joint = jointFor(model, part, bone, world);
  uint64_t changed = 0;
  Mesh& mesh = ownMesh(model, part);
  eachVertex(mesh, [&](Primitive& p, size_t v, size_t i) {
    makeRoom(p);
    const float share = i < amount.size() ? std::clamp(amount[i], 0.0F, 1.0F) : 0;
    if (share <= 0) return;
    Influences list;
    readInfluences(p, v, list);
    // The bone's own part of what is left stays with it.
    settleInfluences(list, 8);
    for (Influence& one : list) one.weight *= 1 - share;
    addInfluence(list, joint, list.empty() ? 1 : share);
    settleInfluences(list, p.more_weights.empty() ? 4 : 8);
    writeInfluences(p, v, list);
    ++changed;
  });
  return changed;
}

}  // namespace rakugo::prepare
