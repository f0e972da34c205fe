// What emitters send out, moved on by steps of time. No OpenGL here.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "bundle/records.h"
#include "render/renderer.h"

namespace rakugo::render {

/// An emitter where it stands in this moment.
struct RunningEmitter {
  std::string key;  ///< unique among all; the same from step to step
  bundle::ObjectEmitter emitter;
  glm::mat4 matrix{1};  ///< of its object, metres
  float runs = 1;       ///< share of its rate: 0 sends nothing
};

/// Particles of all emitters. Each moves as a thing thrown without resistance: the place after t seconds is
/// p + v t + g t^2 / 2. Which way each leaves within the spread follows from its number alone, so that equal
/// steps give equal clouds.
class ParticleCloud {
 public:
  /// No more than this are in the air; emitters wait until others are gone.
  static constexpr size_t kMost = 4000;

  /// `seconds` go by, 0 to 1. `up`: the game's, along which particles leave.
  void pass(const std::vector<RunningEmitter>& emitters, glm::vec3 up, float seconds);
  void clear() { *this = {}; }
  [[nodiscard]] size_t size() const { return particles_.size(); }
  /// As they look now, in any order.
  [[nodiscard]] std::vector<ParticleSprite> sprites() const;

 private:
  struct Look {
    std::array<float, 2> size{}, opacity{};
    std::array<glm::vec3, 2> color{};
    float glow = 0;
    bool operator==(const Look&) const = default;
  };
  struct Particle {
    glm::vec3 at, velocity, pull;
    float age = 0, life = 1;
    uint32_t look = 0;
  };
  struct Source {
    double owed = 0;  // particles that are due, and a fraction
    uint32_t sent = 0;
  };
  uint32_t lookOf(const bundle::ObjectEmitter& emitter);
  void send(const RunningEmitter& from, Source& source, glm::vec3 up, float age);
  std::vector<Particle> particles_;
  std::map<std::string, Source> sources_;
  std::vector<Look> looks_;
};

}  // namespace rakugo::render
