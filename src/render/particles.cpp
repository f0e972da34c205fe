#include "render/particles.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>

namespace rakugo::render {
namespace {

constexpr float kFall_mps2 = 9.81F;

// Evenly spread over 0 to 1, by number. Source: T. Mueller, "A simple hash", the finaliser of MurmurHash3.
float chance(uint32_t n) {
  n ^= n >> 16;
  n *= 0x85EBCA6BU;
  n ^= n >> 13;
  n *= 0xC2B2AE35U;
  n ^= n >> 16;
  return static_cast<float>(n >> 8) / 16777216.0F;
}

glm::vec3 vectorOf(const std::array<float, 3>& v) { return {v[0], v[1], v[2]}; }

// Any direction across.
glm::vec3 across(glm::vec3 v) {
  return glm::normalize(glm::cross(v, std::abs(v.x) < 0.7F ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0)));
}

float glowOf(const std::string& look) { return look == "sparks" ? 1.0F : look == "flame" ? 0.85F : 0.0F; }

}  // namespace

uint32_t ParticleCloud::lookOf(const bundle::ObjectEmitter& e) {
  const Look look{e.size, e.opacity, {vectorOf(e.color[0]), vectorOf(e.color[1])}, glowOf(e.look)};
  const auto known = std::find(looks_.begin(), looks_.end(), look);
  if (known != looks_.end()) return static_cast<uint32_t>(known - looks_.begin());
  looks_.push_back(look);
  return static_cast<uint32_t>(looks_.size() - 1);
}

void ParticleCloud::send(const RunningEmitter& from, Source& source, glm::vec3 up, float age) {
  const bundle::ObjectEmitter& e = from.emitter;
  const uint32_t n = source.sent++;
  // Evenly over the cap of the sphere that the spread cuts off.
  const float cos_most = std::cos(std::min(e.spread, 3.1415927F));
  const float z = 1 - chance(n * 2) * (1 - cos_most), round = chance(n * 2 + 1) * 6.2831853F;
  const float aside = std::sqrt(std::max(0.0F, 1 - z * z));
  const glm::vec3 a = across(up), b = glm::cross(up, a);
  const glm::vec3 way = up * z + (a * std::cos(round) + b * std::sin(round)) * aside;
  const glm::quat turn(e.turn[3], e.turn[0], e.turn[1], e.turn[2]);
  Particle made;
  made.velocity = glm::mat3(from.matrix) * (turn * way) * e.speed;
  made.pull = up * (-kFall_mps2 * e.gravity);
  made.at = glm::vec3(from.matrix * glm::vec4(vectorOf(e.position), 1)) + made.velocity * age +
            made.pull * (age * age / 2);
  made.velocity += made.pull * age;
  made.age = age;
  made.life = e.life;
  made.look = lookOf(e);
  particles_.push_back(made);
}

void ParticleCloud::pass(const std::vector<RunningEmitter>& emitters, glm::vec3 up, float seconds) {
  const float dt = std::clamp(seconds, 0.0F, 1.0F);
  for (Particle& p : particles_) {
    p.at += p.velocity * dt + p.pull * (dt * dt / 2);
    p.velocity += p.pull * dt;
    p.age += dt;
  }
  std::erase_if(particles_, [](const Particle& p) { return p.age >= p.life; });
  // What is not there any more starts anew when it comes back.
  std::erase_if(sources_, [&](const auto& one) {
    return std::none_of(emitters.begin(), emitters.end(),
                        [&](const RunningEmitter& e) { return e.key == one.first; });
  });
  if (particles_.empty()) looks_.clear();
  for (const RunningEmitter& one : emitters) {
    Source& source = sources_[one.key];
    const double rate = static_cast<double>(one.emitter.rate) * std::clamp(one.runs, 0.0F, 1.0F);
    source.owed += rate * dt;
    while (source.owed >= 1) {
      source.owed -= 1;
      // How long ago it was due.
      const auto age = static_cast<float>(source.owed / std::max(rate, 1e-9));
      if (particles_.size() < kMost && age < one.emitter.life) send(one, source, up, age);
    }
  }
}

std::vector<ParticleSprite> ParticleCloud::sprites() const {
  std::vector<ParticleSprite> out;
  out.reserve(particles_.size());
  for (const Particle& p : particles_) {
    const Look& look = looks_[p.look];
    const float t = std::clamp(p.age / p.life, 0.0F, 1.0F);
    ParticleSprite sprite;
    sprite.position = p.at;
    sprite.radius = std::max(0.0F, glm::mix(look.size[0], look.size[1], t)) / 2;
    // It does not spring into being.
    const float rise = std::min(1.0F, p.age * 8);
    sprite.color = glm::vec4(glm::mix(look.color[0], look.color[1], t),
                             glm::mix(look.opacity[0], look.opacity[1], t) * rise);
    sprite.glow = look.glow;
    out.push_back(sprite);
  }
  return out;
}

}  // namespace rakugo::render
