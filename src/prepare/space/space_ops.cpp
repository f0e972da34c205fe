#include "prepare/space/space_ops.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace rakugo::prepare {
namespace {

using scene::Model;
using scene::NodeIndex;

glm::vec3 absProduct(const glm::mat3& m, glm::vec3 v) {
  glm::vec3 out(0);
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) out[r] += std::abs(m[c][r]) * v[c];
  return out;
}

}  // namespace

void moveMesh(scene::Mesh& mesh, const glm::mat4& matrix) {
  const glm::mat3 linear(matrix);
  const float determinant = glm::determinant(linear);
  const glm::mat3 for_normals =
      std::abs(determinant) > 1e-20F ? glm::transpose(glm::inverse(linear)) : linear;
  const auto unit = [](glm::vec3 v, glm::vec3 fallback) {
    const float length = glm::length(v);
    return length > 0 && std::isfinite(length) ? v / length : fallback;
  };
  for (scene::Primitive& p : mesh.primitives) {
    for (glm::vec3& v : p.positions) v = glm::vec3(matrix * glm::vec4(v, 1));
    for (glm::vec3& n : p.normals) n = unit(for_normals * n, n);
    for (glm::vec4& t : p.tangents)
      t = glm::vec4(unit(linear * glm::vec3(t), glm::vec3(t)), determinant < 0 ? -t.w : t.w);
    for (scene::MorphTarget& morph : p.morphs) {
      for (glm::vec3& v : morph.positions) v = linear * v;
      for (glm::vec3& n : morph.normals) n = for_normals * n;
      for (glm::vec3& t : morph.tangents) t = linear * t;
    }
    if (determinant < 0)
      for (size_t i = 0; i + 2 < p.indices.size(); i += 3) std::swap(p.indices[i + 1], p.indices[i + 2]);
  }
}

void transformAll(Model& model, const glm::mat3& turn, float factor) {
  const glm::quat q = glm::normalize(glm::quat_cast(turn));
  const glm::quat back = glm::conjugate(q);
  const glm::mat4 whole = glm::mat4(turn * factor);
  glm::mat4 undo = glm::mat4(glm::transpose(turn) * (1.0F / factor));
  for (size_t i = 0; i < model.meshes.size(); ++i) {
    scene::Mesh& mesh = model.editMesh(scene::MeshIndex(i));
    for (scene::Primitive& p : mesh.primitives) {
      for (glm::vec3& v : p.positions) v = turn * v * factor;
      for (glm::vec3& n : p.normals) n = turn * n;
      for (glm::vec4& t : p.tangents) t = glm::vec4(turn * glm::vec3(t), t.w);
      for (scene::MorphTarget& morph : p.morphs) {
        for (glm::vec3& v : morph.positions) v = turn * v * factor;
        for (glm::vec3& n : morph.normals) n = turn * n;
        for (glm::vec3& t : morph.tangents) t = turn * t;
      }
    }
  }
  for (scene::Node& node : model.nodes) {
    node.local.position = turn * node.local.position * factor;
    node.local.turn = q * node.local.turn * back;
    node.local.scale = absProduct(turn, node.local.scale);
  }
  for (scene::Skin& skin : model.skins)
    for (glm::mat4& m : skin.inverse_bind) m = whole * m * undo;
  for (scene::Animation& animation : model.animations)
    for (scene::Channel& channel : animation.channels) {
      const size_t width = channel.path == scene::AnimatedPath::turn ? 4 : 3;
      if (channel.path == scene::AnimatedPath::weights) continue;
      for (size_t i = 0; i + width <= channel.values.size(); i += width) {
        float* v = &channel.values[i];
        if (width == 4) {
          // Tangents of cubic keys turn as the quaternions do; the map is linear.
          const glm::quat r = q * glm::quat(v[3], v[0], v[1], v[2]) * back;
          v[0] = r.x, v[1] = r.y, v[2] = r.z, v[3] = r.w;
        } else {
          const glm::vec3 r = channel.path == scene::AnimatedPath::scale
                                  ? absProduct(turn, {v[0], v[1], v[2]})
                                  : turn * glm::vec3(v[0], v[1], v[2]) * factor;
          v[0] = r.x, v[1] = r.y, v[2] = r.z;
        }
      }
    }
}

void shiftAll(Model& model, glm::vec3 shift) {
  const auto reached = scene::reachedNodes(model);
  const std::vector<bool> carries = carriesMesh(model);
  const bool at_rest = model.skins.empty() && model.animations.empty() &&
                       std::all_of(reached.begin(), reached.end(), [&](NodeIndex i) {
                         return !carries[i.value()] || model.node(i).local.atRest();
                       });
  if (!at_rest) {
    for (const NodeIndex root : model.roots) model.node(root).local.position += shift;
    return;
  }
  // What has no vertices goes by itself, with what hangs on it.
  for (const NodeIndex i : reached) {
    const NodeIndex parent = model.node(i).parent;
    if (!carries[i.value()] && (!parent.valid() || carries[parent.value()]))
      model.node(i).local.position += shift;
  }
  std::set<uint32_t> moved;
  for (const NodeIndex i : reached) {
    const scene::MeshIndex mesh = model.node(i).mesh;
    if (!mesh.valid() || !moved.insert(mesh.value()).second) continue;
    for (scene::Primitive& p : model.editMesh(mesh).primitives)
      for (glm::vec3& v : p.positions) v += shift;
  }
}

std::vector<bool> heldInPlace(const Model& model) {
  std::vector<bool> held(model.nodes.size(), false);
  const auto hold = [&](NodeIndex at) {
    for (; at.valid() && !held[at.value()]; at = model.node(at).parent) held[at.value()] = true;
  };
  for (const scene::Skin& skin : model.skins)
    for (const NodeIndex joint : skin.joints) hold(joint);
  for (const scene::Animation& animation : model.animations)
    for (const scene::Channel& channel : animation.channels) hold(channel.node);
  return held;
}

std::vector<bool> carriesMesh(const Model& model) {
  std::vector<bool> out(model.nodes.size(), false);
  const auto reached = scene::reachedNodes(model);
  // Parents come before their children.
  for (auto i = reached.rbegin(); i != reached.rend(); ++i) {
    const scene::Node& node = model.node(*i);
    if (node.mesh.valid()) out[i->value()] = true;
    if (out[i->value()] && node.parent.valid()) out[node.parent.value()] = true;
  }
  return out;
}

std::vector<std::string> bakeAll(Model& model) {
  const std::vector<bool> held = heldInPlace(model), carries = carriesMesh(model);
  const auto before = scene::worldMatrices(model);
  const auto reached = scene::reachedNodes(model);
  std::vector<std::string> kept;
  for (const NodeIndex i : reached) {
    scene::Node& node = model.node(i);
    if (held[i.value()]) {
      if (!node.local.atRest()) kept.push_back(node.name);
    } else if (carries[i.value()]) {
      node.local = {};
    }
  }
  const auto after = scene::worldMatrices(model);
  // What has no mesh to put its placement into stays where it is: a lamp, a camera, an empty that means a
  // place. One by one, for a turned part above an uneven scale leaves a slant that no placement holds.
  std::vector<glm::mat4> world = after;
  for (const NodeIndex i : reached) {
    scene::Node& node = model.node(i);
    if (held[i.value()] || carries[i.value()] || !node.parent.valid()) continue;
    const size_t parent = node.parent.value();
    if (world[parent] != before[parent]) {
      bool exact = true;
      node.local = scene::placementOf(glm::inverse(world[parent]) * before[i.value()], exact);
    }
    world[i.value()] = world[parent] * node.local.matrix();
  }
  std::set<uint32_t> used;
  for (const NodeIndex i : reached) {
    scene::Node& node = model.node(i);
    if (!node.mesh.valid() || node.skin.valid()) continue;
    // A mesh that several parts share needs one copy for each place it stands at.
    if (!used.insert(node.mesh.value()).second) {
      model.meshes.push_back(model.meshes[node.mesh.value()]);
      node.mesh = scene::MeshIndex(model.meshes.size() - 1);
      used.insert(node.mesh.value());
    }
  }
  for (const NodeIndex i : reached) {
    scene::Node& node = model.node(i);
    if (!node.mesh.valid() || node.skin.valid()) continue;
    const glm::mat4 move = glm::inverse(after[i.value()]) * before[i.value()];
    if (move != glm::mat4(1)) moveMesh(model.editMesh(node.mesh), move);
  }
  return kept;
}

void stretchAll(Model& model, glm::vec3 factors) {
  const auto before = scene::worldMatrices(model);
  const glm::mat4 stretch(glm::vec4(factors.x, 0, 0, 0), glm::vec4(0, factors.y, 0, 0),
                          glm::vec4(0, 0, factors.z, 0), glm::vec4(0, 0, 0, 1));
  const auto reached = scene::reachedNodes(model);
  // As seen from the part above, which keeps its turn and scale; one scaled to nothing shows nothing.
  const auto seenFromAbove = [&](NodeIndex i) {
    const NodeIndex parent = model.node(i).parent;
    const glm::mat3 above = parent.valid() ? glm::mat3(before[parent.value()]) : glm::mat3(1);
    return glm::determinant(above) == 0 ? glm::mat3(1) : glm::inverse(above) * glm::mat3(stretch) * above;
  };
  for (const NodeIndex i : reached)
    model.node(i).local.position = seenFromAbove(i) * model.node(i).local.position;
  for (scene::Animation& animation : model.animations)
    for (scene::Channel& channel : animation.channels) {
      if (channel.path != scene::AnimatedPath::position || !channel.node.valid()) continue;
      // Tangents of cubic keys go along; the map is linear.
      const glm::mat3 map = seenFromAbove(channel.node);
      for (size_t k = 0; k + 3 <= channel.values.size(); k += 3) {
        float* v = &channel.values[k];
        const glm::vec3 at = map * glm::vec3(v[0], v[1], v[2]);
        v[0] = at.x, v[1] = at.y, v[2] = at.z;
      }
    }
  const auto after = scene::worldMatrices(model);
  // What a bone does to its vertices at rest is done to where those stand now.
  for (scene::Skin& skin : model.skins)
    for (size_t j = 0; j < skin.joints.size() && j < skin.inverse_bind.size(); ++j) {
      const size_t joint = skin.joints[j].value();
      skin.inverse_bind[j] =
          glm::inverse(after[joint]) * stretch * before[joint] * skin.inverse_bind[j] * glm::inverse(stretch);
    }
  std::set<uint32_t> used;
  for (const NodeIndex i : reached) {
    scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    // A mesh that several parts share needs one copy for each way it stands.
    if (!used.insert(node.mesh.value()).second) {
      model.meshes.push_back(model.meshes[node.mesh.value()]);
      node.mesh = scene::MeshIndex(model.meshes.size() - 1);
      used.insert(node.mesh.value());
    }
  }
  for (const NodeIndex i : reached)
    if (model.node(i).mesh.valid())
      moveMesh(model.editMesh(model.node(i).mesh),
               model.node(i).skin.valid() ? stretch
                                          : glm::inverse(after[i.value()]) * stretch * before[i.value()]);
}

}  // namespace rakugo::prepare
