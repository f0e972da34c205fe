#include "geometry/falling.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <glm/gtc/matrix_transform.hpp>

#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

constexpr double kGravity = 9.81;
constexpr int kRounds = 12;          // of impulses over all contacts
constexpr double kNear_m = 1e-4;     // a corner no higher touches the floor
constexpr double kSlow_m_s = 0.05;   // what comes down more slowly does not bounce
constexpr double kStill_m_s = 0.01;  // and is at rest below this
constexpr int kStillSteps = 200;

}  // namespace

Fall::Fall(FallingBody body, const glm::dvec3& up, double height_m) : body_(std::move(body)), up_(up) {
  std::erase_if(body_.corners, [](const glm::vec3& v) { return !finite(v); });
  const double turned = glm::determinant(body_.inertia);
  rests_ = body_.corners.empty() || !(body_.mass_kg > 0) || !std::isfinite(body_.mass_kg) ||
           !std::isfinite(turned) || !(turned > 0) || !std::isfinite(height_m);
  if (rests_) return;
  loose_ = glm::inverse(body_.inertia);
  at_ = body_.center_m;
  at_ += up_ * (height_m - lowest_m());
}

glm::dvec3 Fall::arm(const glm::vec3& corner) const { return turn_ * (glm::dvec3(corner) - body_.center_m); }

double Fall::lowest_m() const {
  double out = std::numeric_limits<double>::infinity();
  for (const glm::vec3& corner : body_.corners) out = std::min(out, glm::dot(at_ + arm(corner), up_));
  return body_.corners.empty() ? 0 : out;
}

glm::mat4 Fall::place() const {
  if (body_.corners.empty()) return glm::mat4(1);
  return glm::mat4(glm::translate(glm::dmat4(1), at_) * glm::mat4_cast(turn_) *
                   glm::translate(glm::dmat4(1), -body_.center_m));
}

double Fall::lean_rad() const { return std::acos(std::clamp(glm::dot(turn_ * up_, up_), -1.0, 1.0)); }

void Fall::advance(double seconds) {
  const auto steps = static_cast<int64_t>(std::llround(seconds / kStep_s));
  for (int64_t i = 0; i < steps && !rests_; ++i) step();
}

void Fall::step() {
  velocity_ -= up_ * (kGravity * kStep_s);
  collide();
  at_ += velocity_ * kStep_s;
  const glm::dquat spin(0, spin_.x, spin_.y, spin_.z);
  turn_ = glm::normalize(turn_ + spin * turn_ * (0.5 * kStep_s));
  const double low = lowest_m();
  if (low < 0) at_ -= up_ * low;  // what the step took into the floor
  // On its way up alone: what still comes down is nearer to the floor with each step.
  if (touched_ && glm::dot(velocity_, up_) >= -kSlow_m_s) bounced_m_ = std::max(bounced_m_, low);
  ++steps_;
  const bool still =
      low < 10 * kNear_m && glm::length(velocity_) < kStill_m_s && glm::length(spin_) < 3 * kStill_m_s;
  still_ = still ? still_ + 1 : 0;
  rests_ = still_ >= kStillSteps;
}

void Fall::collide() {
  struct Contact {
    glm::dvec3 arm;
    double target = 0;  // speed upward that it is to leave with
    double pushed = 0;
    glm::dvec3 rubbed{0};
  };
  std::vector<Contact> contacts;
  for (const glm::vec3& corner : body_.corners) {
    const glm::dvec3 r = arm(corner);
    // Where the step would take it to the floor or through it.
    const double up = glm::dot(velocity_ + glm::cross(spin_, r), up_);
    const double high = glm::dot(at_ + r, up_);
    if (high + std::min(up, 0.0) * kStep_s > kNear_m) continue;
    // Of gravity's own step nothing bounces.
    const double before = up + kGravity * kStep_s;
    contacts.push_back({r, before < -kSlow_m_s ? -body_.bounce * before : 0});
  }
  if (contacts.empty()) return;
  touched_ = true;
  const glm::dmat3 turned = glm::mat3_cast(turn_);
  const glm::dmat3 loose = turned * loose_ * glm::transpose(turned);
  const auto push = [&](const Contact& at, const glm::dvec3& impulse) {
    velocity_ += impulse / body_.mass_kg;
    spin_ += loose * glm::cross(at.arm, impulse);
  };
  // What a unit impulse along a direction changes of the speed along it there.
  const auto give = [&](const Contact& at, const glm::dvec3& along) {
    return 1 / body_.mass_kg + glm::dot(glm::cross(loose * glm::cross(at.arm, along), at.arm), along);
  };
  for (int round = 0; round < kRounds; ++round)
    for (Contact& one : contacts) {
      const double up = glm::dot(velocity_ + glm::cross(spin_, one.arm), up_);
      const double wanted = std::max(0.0, one.pushed + (one.target - up) / give(one, up_));
      push(one, up_ * (wanted - one.pushed));
      one.pushed = wanted;
      const glm::dvec3 speed = velocity_ + glm::cross(spin_, one.arm);
      const glm::dvec3 slide = speed - up_ * glm::dot(speed, up_);
      const double slides = glm::length(slide);
      if (slides < 1e-9) continue;
      glm::dvec3 rub = one.rubbed - slide / give(one, slide / slides);
      if (const double most = body_.friction * one.pushed; glm::length(rub) > most)
        rub *= most / std::max(glm::length(rub), 1e-12);
      push(one, rub - one.rubbed);
      one.rubbed = rub;
    }
}

}  // namespace rakugo::geometry
