// What is heard in the harbour: sounds of things, decoded, nearer and farther, mixed. No device here.
#pragma once

#include <filesystem>
#include <glm/glm.hpp>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace rakugo::standin {

/// A decoded sound, all channels mixed into one; full scale is -1..1.
struct PlayedSound {
  uint32_t rate_hz = 0;
  std::vector<float> samples;
};
/// From the bytes of a WAV, OGG or FLAC file; at most a minute is taken. Errors: game.sound.
base::Result<PlayedSound> decodePlayed(base::ByteSpan bytes, const std::string& id);
/// One of the harbour's own, by the name that mods refer to it by: made here, a second that loops. Null for a
/// name that it does not have.
std::shared_ptr<const PlayedSound> harbourSound(const std::string& name);

/// A sound that is heard in this moment.
struct Heard {
  std::string key;  ///< the same as long as it is the same sound of the same thing
  std::shared_ptr<const PlayedSound> sound;
  glm::vec3 at{0};
  float gain = 1, pitch = 1;  ///< of the amplitude; of the rate
  float near = 1, far = 1;    ///< metres: full within, silent beyond
  bool loop = false;
};

/// Writes what was mixed as a WAV file of 16 bits; false where that cannot be.
bool writeHeard(const std::filesystem::path& file, const std::vector<float>& samples);

/// What of a sound's amplitude arrives: 1 within `near`, then less as the distance grows, down to 0 at `far`.
float arriving(float distance_m, float near, float far);

/// Mixes what is heard, sample by sample.
class Mixer {
 public:
  static constexpr uint32_t kRate_hz = 32000;
  /// The next `frames` samples as they are heard at `ear`. A sound that is new begins at its beginning; one
  /// that does not loop ends by itself. What is no longer among `heard` falls silent within a few samples.
  std::vector<float> mix(const std::vector<Heard>& heard, glm::vec3 ear, size_t frames);

 private:
  struct Voice {
    Heard last;
    double at = 0;    ///< samples of the sound
    float level = 0;  ///< what arrived last
  };
  std::map<std::string, Voice> voices_;
};

}  // namespace rakugo::standin
