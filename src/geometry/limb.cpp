#include "geometry/limb.h"

#include <algorithm>
#include <cmath>

#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

constexpr float kTiny = 1e-6F;

float angleOf(glm::quat q) { return 2 * std::atan2(glm::length(glm::vec3(q.x, q.y, q.z)), std::abs(q.w)); }

// What is left of `v` across a unit direction.
glm::vec3 across(glm::vec3 v, glm::vec3 direction) { return v - direction * glm::dot(v, direction); }

glm::vec3 anyAcross(glm::vec3 direction) {
  return across(std::abs(direction.x) < 0.9F ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0), direction);
}

}  // namespace

glm::quat turnFromTo(glm::vec3 from, glm::vec3 to) {
  const float cosine = std::clamp(glm::dot(from, to), -1.0F, 1.0F);
  const glm::vec3 axis = glm::cross(from, to);
  const float sine = glm::length(axis);
  if (sine > kTiny) return glm::angleAxis(std::atan2(sine, cosine), axis / sine);
  if (cosine > 0) return {1, 0, 0, 0};
  return glm::angleAxis(3.14159265F, glm::normalize(anyAcross(from)));
}

LimbTurns reachWithLimb(glm::vec3 root, glm::vec3 middle, glm::vec3 end, glm::vec3 target, glm::vec3 bend) {
  LimbTurns out;
  const float upper = glm::distance(root, middle), lower = glm::distance(middle, end);
  const float away = glm::distance(root, target);
  if (!finite(root) || !finite(middle) || !finite(end) || !finite(target) || upper < kTiny || lower < kTiny ||
      away < kTiny) {
    out.reached = false;
    return out;
  }
  const float reach = std::clamp(away, std::abs(upper - lower), upper + lower);
  out.reached = std::abs(reach - away) <= 1e-4F * (upper + lower);
  const glm::vec3 towards = (target - root) / away;
  // The side the joint lies on, seen along the line to the target: as it bends now, else as it should.
  const glm::vec3 now = glm::distance(root, end) > kTiny ? glm::normalize(end - root) : towards;
  glm::vec3 side = across(middle - root, now);
  if (glm::length(side) < 1e-3F * upper) side = finite(bend) ? across(bend, now) : glm::vec3(0);
  if (glm::length(side) < kTiny) side = anyAcross(now);
  side = turnFromTo(now, towards) * glm::normalize(side);
  side = glm::normalize(across(side, towards));
  const float cosine = std::clamp(
      (upper * upper + reach * reach - lower * lower) / (2 * upper * std::max(reach, kTiny)), -1.0F, 1.0F);
  const glm::vec3 joint =
      root + upper * (towards * cosine + side * std::sqrt(std::max(1 - cosine * cosine, 0.0F)));
  const glm::vec3 hand = root + towards * reach;
  out.first = turnFromTo((middle - root) / upper, glm::normalize(joint - root));
  const glm::vec3 lower_now = out.first * ((end - middle) / lower);
  out.second = turnFromTo(lower_now, glm::normalize(hand - joint));
  return out;
}

ChainReach reachWithChain(std::span<const glm::vec3> joints, glm::vec3 target,
                          std::span<const JointLimit> limits) {
  ChainReach out;
  const size_t bones = joints.empty() ? 0 : joints.size() - 1;
  out.turns.assign(bones, glm::quat(1, 0, 0, 0));
  if (bones == 0) return out;
  std::vector<glm::vec3> at(joints.begin(), joints.end());
  // Of each joint against the bone before it: what its limit holds.
  std::vector<glm::quat> own(bones, glm::quat(1, 0, 0, 0));
  float length = 0;
  for (size_t i = 0; i < bones; ++i) length += glm::distance(at[i], at[i + 1]);
  if (!finite(target) || !(length > kTiny) || !std::all_of(at.begin(), at.end(), finite)) {
    out.left = finite(target) && finite(at.back()) ? glm::distance(at.back(), target) : 0;
    return out;
  }
  const auto place = [&] {
    glm::quat turn(1, 0, 0, 0);
    for (size_t i = 0; i < bones; ++i) {
      turn = glm::normalize(turn * own[i]);
      out.turns[i] = turn;
      at[i + 1] = at[i] + turn * (joints[i + 1] - joints[i]);
    }
  };
  for (int round = 0; round < 60 && glm::distance(at.back(), target) > 1e-3F * length; ++round)
    for (size_t i = bones; i-- > 0;) {
      const glm::vec3 has = at.back() - at[i], wants = target - at[i];
      if (glm::length(has) < kTiny || glm::length(wants) < kTiny) continue;
      const glm::quat more = turnFromTo(glm::normalize(has), glm::normalize(wants));
      const glm::quat before = i == 0 ? glm::quat(1, 0, 0, 0) : out.turns[i - 1];
      glm::quat turned = glm::normalize(glm::conjugate(before) * more * before * own[i]);
      if (i < limits.size())
        if (const float angle = angleOf(turned); angle > limits[i].most_rad) {
          if (turned.w < 0) turned = -turned;
          turned = glm::slerp(glm::quat(1, 0, 0, 0), turned, limits[i].most_rad / angle);
        }
      own[i] = turned;
      place();
    }
  out.left = glm::distance(at.back(), target);
  return out;
}

}  // namespace rakugo::geometry
