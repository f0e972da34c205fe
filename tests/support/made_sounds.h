// Sounds that tests make: tones, written as WAV.
#pragma once

#include <cmath>
#include <numbers>

#include "formats/sounds.h"

namespace rakugo::test {

/// A tone of that frequency and amplitude; mono, 44.1 kHz.
inline formats::Sound madeTone(double hz, double amplitude, double seconds) {
  formats::Sound out;
  out.info.rate_hz = 44100;
  out.info.channels = 1;
  const auto frames = static_cast<size_t>(std::llround(seconds * 44100));
  for (size_t f = 0; f < frames; ++f)
    out.samples.push_back(
        static_cast<float>(amplitude * std::sin(2 * std::numbers::pi * hz * static_cast<double>(f) / 44100)));
  out.info.frames = frames;
  return out;
}
inline base::Bytes wavOf(const formats::Sound& sound) {
  return std::move(formats::encodeSound(sound, "wav")).value();
}

}  // namespace rakugo::test
