// Sounds: WAV, OGG (Vorbis, Opus) and FLAC, by libsndfile.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::formats {

struct SoundInfo {
  std::string format;  ///< "WAV", "OGG", "FLAC"
  uint32_t rate_hz = 0, channels = 0;
  uint64_t frames = 0;  ///< samples a channel
  float peak = 0;       ///< the largest sample, 1 being full scale
  [[nodiscard]] double seconds() const { return rate_hz > 0 ? static_cast<double>(frames) / rate_hz : 0; }
};

/// A decoded sound.
struct Sound {
  SoundInfo info;
  std::vector<float> samples;  ///< frames x channels, interleaved; full scale is -1..1
};

/// True for bytes that begin like one of the formats.
bool isSound(base::ByteSpan bytes);

/// All samples. Errors: sound.unknown_format, sound.damaged, sound.too_large.
base::Result<Sound> decodeSound(base::ByteSpan bytes, const std::string& name,
                                const base::Limits& limits = {});

/// A sound as a file of the format "wav" or "flac" (16 bits, rounded, without dither) or "ogg" (Vorbis). What
/// is beyond full scale is cut off. Equal sounds give equal bytes. Errors: sound.not_written, for rates and
/// numbers of channels that the format does not take.
base::Result<base::Bytes> encodeSound(const Sound& sound, const std::string& format);

/// The lowest and the highest sample of each of `columns` equal stretches, all channels together: what a
/// picture of the wave needs. Empty sounds give zeros.
std::vector<std::pair<float, float>> waveOf(const Sound& sound, size_t columns);

/// The endings that can be read: "wav", "ogg", ...
const std::vector<std::string>& soundEndings();

}  // namespace rakugo::formats
