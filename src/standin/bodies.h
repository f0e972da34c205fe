// Things that fall, bounce, roll and float by their mass and shapes. The physics library is behind this file
// alone.
#pragma once

#include <glm/glm.hpp>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "bundle/records.h"

namespace rakugo::standin {

/// What a body has come to.
enum class Settled { moving, lies, floats, sunk };

/// Metres, kilograms, seconds; +Z is up, gravity 9.81 m/s2, water 1025 kg/m3. Steps of 1/240 s: equal calls
/// give equal results. All bodies bounce by their own restitution, whatever they fall upon.
class Bodies {
 public:
  /// What they fall upon.
  struct Ground {
    struct Box {
      glm::vec3 low, high;
    };
    std::vector<Box> boxes;
    /// The height of the water where there is some. Its bed lies 6 m below.
    std::optional<float> water_m;
  };
  explicit Bodies(const Ground& ground);
  ~Bodies();
  Bodies(const Bodies&) = delete;
  Bodies& operator=(const Bodies&) = delete;

  /// Lets go of an object: its collision shapes, or its bounding box where it has none, of the mass that its
  /// card says (1 kg where it says none). `place` has no scale. The number of the body.
  size_t add(const bundle::ObjectRecord& object, const glm::mat4& place);
  /// Something that stays where it is, and others bump into.
  size_t addFixed(const bundle::ObjectRecord& object, const glm::mat4& place);
  void remove(size_t body);
  void pass(float seconds);
  [[nodiscard]] glm::mat4 place(size_t body) const;
  /// Metres a second.
  [[nodiscard]] glm::vec3 speed(size_t body) const;
  /// Whether it has been nearly still for half a second, and where.
  [[nodiscard]] Settled settled(size_t body) const;
  /// How deep its lowest point lies below the water's level, metres; 0 above it.
  [[nodiscard]] float depth(size_t body) const;
  /// How fast it was when it last struck something, and how often it has; m/s.
  struct Struck {
    int times = 0;
    float speed = 0;
  };
  [[nodiscard]] Struck struck(size_t body) const;

 private:
  struct World;
  size_t put(const bundle::ObjectRecord& object, const glm::mat4& place, bool fixed);
  std::unique_ptr<World> world_;
};

}  // namespace rakugo::standin
