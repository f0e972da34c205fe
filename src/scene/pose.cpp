#include "scene/pose.h"

#include <algorithm>
#include <cmath>

namespace rakugo::scene {
namespace {

// The two keys around a moment, and how far it is from one to the other.
struct Between {
  size_t first = 0, second = 0;
  float share = 0, length_s = 0;
};

Between between(const std::vector<float>& times, float at_s) {
  const auto after = std::upper_bound(times.begin(), times.end(), at_s);
  if (after == times.begin()) return {};
  const auto first = static_cast<size_t>(after - times.begin()) - 1;
  if (after == times.end()) return {first, first, 0, 0};
  const float length = *after - times[first];
  return {first, first + 1, length > 0 ? (at_s - times[first]) / length : 0, length};
}

// `width` numbers at that moment; false where the channel holds too few.
bool sample(const Channel& channel, float at_s, size_t width, float* out) {
  const bool cubic = channel.interpolation == Interpolation::cubic;
  const size_t stride = cubic ? 3 * width : width;
  if (channel.times_s.empty() || channel.values.size() / stride < channel.times_s.size()) return false;
  const Between at = between(channel.times_s, at_s);
  const auto value = [&](size_t key, size_t part, size_t c) {
    return channel.values[key * stride + part * width + c];
  };
  const size_t middle = cubic ? 1 : 0;
  for (size_t c = 0; c < width; ++c) {
    const float a = value(at.first, middle, c);
    if (channel.interpolation == Interpolation::step || at.first == at.second) {
      out[c] = a;
      continue;
    }
    const float b = value(at.second, middle, c), t = at.share;
    if (!cubic) {
      out[c] = a + (b - a) * t;
      continue;
    }
    const float t2 = t * t, t3 = t2 * t;
    out[c] = (2 * t3 - 3 * t2 + 1) * a + at.length_s * (t3 - 2 * t2 + t) * value(at.first, 2, c) +
             (-2 * t3 + 3 * t2) * b + at.length_s * (t3 - t2) * value(at.second, 0, c);
  }
  return true;
}

glm::quat unit(glm::quat q) {
  const float length = glm::length(q);
  return std::isfinite(length) && length > 1e-6F ? q / length : glm::quat(1, 0, 0, 0);
}

// On the shortest arc, as linear turns are blended.
bool sampleTurn(const Channel& channel, float at_s, glm::quat& out) {
  const auto read = [](const float* v) { return unit(glm::quat(v[3], v[0], v[1], v[2])); };
  if (channel.interpolation != Interpolation::linear) {
    float v[4];
    if (!sample(channel, at_s, 4, v)) return false;
    out = read(v);
    return true;
  }
  if (channel.times_s.empty() || channel.values.size() / 4 < channel.times_s.size()) return false;
  const Between at = between(channel.times_s, at_s);
  const glm::quat a = read(&channel.values[at.first * 4]);
  out = at.first == at.second ? a : unit(glm::slerp(a, read(&channel.values[at.second * 4]), at.share));
  return true;
}

}  // namespace

glm::quat turnOf(const glm::mat4& matrix) {
  bool exact = true;
  return placementOf(matrix, exact).turn;
}

Pose restPose(const Model& model) {
  Pose out;
  out.reserve(model.nodes.size());
  for (const Node& node : model.nodes) out.push_back(node.local);
  return out;
}

float durationOf(const Animation& animation) {
  float out = 0;
  for (const Channel& channel : animation.channels)
    if (!channel.times_s.empty()) out = std::max(out, channel.times_s.back());
  return out;
}

void poseAt(const Animation& animation, float at_s, Pose& pose) {
  for (const Channel& channel : animation.channels) {
    if (!channel.node.valid() || channel.node.value() >= pose.size()) continue;
    Placement& place = pose[channel.node.value()];
    float v[3];
    switch (channel.path) {
      case AnimatedPath::position:
        if (sample(channel, at_s, 3, v)) place.position = {v[0], v[1], v[2]};
        break;
      case AnimatedPath::scale:
        if (sample(channel, at_s, 3, v)) place.scale = {v[0], v[1], v[2]};
        break;
      case AnimatedPath::turn:
        sampleTurn(channel, at_s, place.turn);
        break;
      case AnimatedPath::weights:
        break;
    }
  }
}

std::vector<float> morphWeightsAt(const Animation& animation, NodeIndex node, float at_s) {
  for (const Channel& channel : animation.channels) {
    if (channel.node != node || channel.path != AnimatedPath::weights || channel.times_s.empty()) continue;
    const size_t parts = channel.interpolation == Interpolation::cubic ? 3 : 1;
    std::vector<float> out(channel.values.size() / channel.times_s.size() / parts);
    if (!out.empty() && sample(channel, at_s, out.size(), out.data())) return out;
  }
  return {};
}

std::vector<glm::mat4> worldMatrices(const Model& model, const Pose& pose) {
  std::vector<glm::mat4> out(model.nodes.size(), glm::mat4(1));
  for (const NodeIndex i : reachedNodes(model)) {
    const glm::mat4 local = pose[i.value()].matrix();
    const NodeIndex parent = model.node(i).parent;
    out[i.value()] = parent.valid() ? out[parent.value()] * local : local;
  }
  return out;
}

}  // namespace rakugo::scene
