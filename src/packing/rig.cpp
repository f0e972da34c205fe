#include "packing/rig.h"

#include <algorithm>
#include <cmath>

#include "scene/bones.h"

namespace rakugo::packing {
namespace {

using scene::NodeIndex;

constexpr size_t kMostBones = 65'535, kMostWidth = 256;

// One value of a key, or a tangent of it, in the game's space: both change alike.
void convert(scene::AnimatedPath path, const GameSpace& space, float* v) {
  if (path == scene::AnimatedPath::position) {
    const glm::vec3 p = space.position({v[0], v[1], v[2]});
    for (int c = 0; c < 3; ++c) v[c] = p[c];
  } else if (path == scene::AnimatedPath::turn) {
    const glm::quat q = space.turn(glm::quat(v[3], v[0], v[1], v[2]));
    v[0] = q.x, v[1] = q.y, v[2] = q.z, v[3] = q.w;
  }
}

// Numbers a key has for the value itself, and with its tangents where there are some.
std::pair<size_t, size_t> widthsOf(const scene::Channel& channel) {
  const size_t parts = channel.interpolation == scene::Interpolation::cubic ? 3 : 1;
  const size_t width = channel.path == scene::AnimatedPath::turn ? 4
                       : channel.path == scene::AnimatedPath::weights
                           ? channel.values.size() / channel.times_s.size() / parts
                           : 3;
  return {width, width * parts};
}

// Whether a key can be used: finite, not before the beginning, and after the one before it (below 0: there is
// none).
bool isKey(const scene::Channel& channel, size_t k, size_t stride, float after_s) {
  const float at_s = channel.times_s[k];
  const auto* values = channel.values.data() + k * stride;
  return std::isfinite(at_s) && at_s >= 0 && at_s > after_s &&
         std::all_of(values, values + stride, [](float v) { return std::isfinite(v); });
}

}  // namespace

int Rig::carrierOf(const scene::Model& model, NodeIndex part) const {
  for (NodeIndex up = part; up.valid(); up = model.node(up).parent)
    if (number[up.value()] >= 0) return number[up.value()];
  return -1;
}

std::vector<uint16_t> Rig::numbersOf(const scene::Skin& skin) const {
  std::vector<uint16_t> out;
  for (const NodeIndex joint : skin.joints)
    out.push_back(static_cast<uint16_t>(std::max(number[joint.value()], 0)));
  return out;
}

Rig rigOf(const scene::Model& model) {
  std::vector<bool> moves = scene::boneNodes(model);
  for (const scene::Animation& animation : model.animations)
    for (const scene::Channel& channel : animation.channels)
      if (channel.node.valid()) moves[channel.node.value()] = true;
  const std::vector<NodeIndex> reached = scene::reachedNodes(model);
  // From the leaves up: what carries something that moves belongs to it.
  for (auto i = reached.rbegin(); i != reached.rend(); ++i)
    if (const NodeIndex parent = model.node(*i).parent; moves[i->value()] && parent.valid())
      moves[parent.value()] = true;
  Rig out;
  out.number.assign(model.nodes.size(), -1);
  for (const NodeIndex i : reached)
    if (moves[i.value()] && out.nodes.size() < kMostBones) {
      out.number[i.value()] = static_cast<int>(out.nodes.size());
      out.nodes.push_back(i);
    }
  return out;
}

bundle::SkeletonRecord skeletonRecord(const scene::Model& model, const Rig& rig, const GameSpace& space) {
  bundle::SkeletonRecord out;
  for (const NodeIndex i : rig.nodes) {
    const scene::Node& node = model.node(i);
    bundle::BoneRecord bone;
    bone.name = node.name;
    bone.parent = node.parent.valid() ? rig.number[node.parent.value()] : -1;
    bone.position = arrayOf<3>(space.position(node.local.position));
    const glm::quat turn = space.turn(glm::normalize(node.local.turn));
    bone.turn = {turn.x, turn.y, turn.z, turn.w};
    bone.scale = arrayOf<3>(node.local.scale);
    out.bones.push_back(std::move(bone));
  }
  return out;
}

bool movesRig(const scene::Animation& animation, const Rig& rig) {
  for (const scene::Channel& channel : animation.channels) {
    if (!channel.node.valid() || rig.number[channel.node.value()] < 0 || channel.times_s.empty()) continue;
    const auto [width, stride] = widthsOf(channel);
    if (width == 0 || width > kMostWidth) continue;
    for (size_t k = 0; k < channel.times_s.size() && (k + 1) * stride <= channel.values.size(); ++k)
      if (isKey(channel, k, stride, -1)) return true;
  }
  return false;
}

bundle::AnimationPayload runtimeAnimation(const scene::Model& model, const scene::Animation& animation,
                                          const Rig& rig, const GameSpace& space) {
  bundle::AnimationPayload out;
  for (const scene::Channel& channel : animation.channels) {
    if (!channel.node.valid() || rig.number[channel.node.value()] < 0 || channel.times_s.empty()) continue;
    const auto [width, stride] = widthsOf(channel);
    if (width == 0 || width > kMostWidth) continue;
    const size_t parts = stride / width;
    bundle::Track track;
    track.bone = model.node(channel.node).name;
    track.path = static_cast<bundle::TrackPath>(channel.path);
    track.blend = static_cast<bundle::TrackBlend>(channel.interpolation);
    track.width = static_cast<uint32_t>(width);
    for (size_t k = 0; k < channel.times_s.size() && (k + 1) * stride <= channel.values.size(); ++k) {
      if (!isKey(channel, k, stride, track.times_s.empty() ? -1 : track.times_s.back())) continue;
      const auto* values = channel.values.data() + k * stride;
      track.times_s.push_back(channel.times_s[k]);
      for (size_t part = 0; part < parts; ++part) {
        std::vector<float> v(values + part * track.width, values + (part + 1) * track.width);
        convert(channel.path, space, v.data());
        track.values.insert(track.values.end(), v.begin(), v.end());
      }
    }
    if (track.times_s.empty()) continue;
    out.length_s = std::max(out.length_s, track.times_s.back());
    out.tracks.push_back(std::move(track));
  }
  return out;
}

}  // namespace rakugo::packing
