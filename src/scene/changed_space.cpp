#include "scene/changed_space.h"

#include <algorithm>
#include <cmath>

namespace rakugo::scene {
namespace {

void changeMesh(Mesh& mesh, const SpaceChange& change) {
  const bool mirrors = change.mirrors();
  for (Primitive& p : mesh.primitives) {
    for (glm::vec3& v : p.positions) v = change.position(v);
    for (glm::vec3& n : p.normals) n = change.direction(n);
    for (glm::vec4& t : p.tangents) t = glm::vec4(change.direction(glm::vec3(t)), mirrors ? -t.w : t.w);
    for (MorphTarget& morph : p.morphs) {
      for (glm::vec3& v : morph.positions) v = change.position(v);
      for (glm::vec3& n : morph.normals) n = change.direction(n);
      for (glm::vec3& t : morph.tangents) t = change.direction(t);
    }
    if (mirrors)
      for (size_t t = 0; t + 2 < p.indices.size(); t += 3) std::swap(p.indices[t + 1], p.indices[t + 2]);
  }
}

glm::vec3 scaleOf(const SpaceChange& change, const glm::vec3& scale) {
  return {scale[change.from[0]], scale[change.from[1]], scale[change.from[2]]};
}

void changeChannel(Channel& channel, const SpaceChange& change) {
  std::vector<float>& v = channel.values;
  if (channel.path == AnimatedPath::weights) return;
  const size_t each = channel.path == AnimatedPath::turn ? 4 : 3;
  for (size_t i = 0; i + each <= v.size(); i += each) {
    if (channel.path == AnimatedPath::turn) {
      const glm::quat q = change.turn(glm::quat(v[i + 3], v[i], v[i + 1], v[i + 2]));
      v[i] = q.x, v[i + 1] = q.y, v[i + 2] = q.z, v[i + 3] = q.w;
      continue;
    }
    const glm::vec3 was(v[i], v[i + 1], v[i + 2]),
        now = channel.path == AnimatedPath::position ? change.position(was) : scaleOf(change, was);
    for (int c = 0; c < 3; ++c) v[i + static_cast<size_t>(c)] = now[c];
  }
}

}  // namespace

bool SpaceChange::mirrors() const {
  const bool odd = (from[0] > from[1]) != ((from[0] > from[2]) != (from[1] > from[2]));
  return odd != (sign[0] * sign[1] * sign[2] < 0);
}

glm::vec3 SpaceChange::direction(const glm::vec3& v) const {
  return {v[from[0]] * sign[0], v[from[1]] * sign[1], v[from[2]] * sign[2]};
}

glm::quat SpaceChange::turn(const glm::quat& q) const {
  // The axis of a rotation is none that a mirror keeps: it goes the other way.
  const glm::vec3 axis = direction({q.x, q.y, q.z}) * (mirrors() ? -1.0F : 1.0F);
  return {q.w, axis.x, axis.y, axis.z};
}

glm::mat4 SpaceChange::matrix(const glm::mat4& m) const {
  glm::mat4 out(1);
  for (int column = 0; column < 3; ++column)
    for (int row = 0; row < 3; ++row) {
      const auto c = static_cast<size_t>(column), r = static_cast<size_t>(row);
      out[column][row] = m[from[c]][from[r]] * sign[c] * sign[r];
    }
  out[3] = glm::vec4(position(glm::vec3(m[3])), 1);
  return out;
}

SpaceChange SpaceChange::reversed() const {
  SpaceChange out;
  for (size_t i = 0; i < 3; ++i) {
    const auto at = static_cast<size_t>(from[i]);
    out.from[at] = static_cast<int>(i);
    out.sign[at] = sign[i];
  }
  out.scale = 1 / scale;
  return out;
}

SpaceChange spaceChange(geometry::Axis up, geometry::Axis forward, geometry::Axis to_up,
                        geometry::Axis to_forward, bool to_right_handed, double unit_m) {
  const glm::mat3 turn = geometry::quarterTurn(forward, up, to_forward, to_up);
  const glm::vec3 side = glm::cross(geometry::axisVector(to_up), geometry::axisVector(to_forward));
  SpaceChange out;
  out.scale = static_cast<float>(1 / unit_m);
  for (int i = 0; i < 3; ++i)
    for (int c = 0; c < 3; ++c)
      if (turn[c][i] != 0) {
        out.from[static_cast<size_t>(i)] = c;
        out.sign[static_cast<size_t>(i)] = !to_right_handed && side[i] != 0 ? -turn[c][i] : turn[c][i];
      }
  return out;
}

Model inSpace(const Model& model, const SpaceChange& change) {
  Model out = model;
  for (size_t i = 0; i < out.meshes.size(); ++i) changeMesh(out.editMesh(MeshIndex(i)), change);
  for (Node& node : out.nodes) {
    node.local.position = change.position(node.local.position);
    node.local.turn = change.turn(node.local.turn);
    node.local.scale = scaleOf(change, node.local.scale);
    node.camera = {};
    node.light = {};
  }
  out.cameras.clear();
  out.lights.clear();
  for (Skin& skin : out.skins)
    for (glm::mat4& m : skin.inverse_bind) m = change.matrix(m);
  for (Animation& animation : out.animations)
    for (Channel& channel : animation.channels) changeChannel(channel, change);
  return out;
}

}  // namespace rakugo::scene
