#include "sound/loudness.h"

#include <algorithm>
#include <cmath>
#include <memory>

#include <ebur128.h>

namespace rakugo::sound {
namespace {

struct Closer {
  void operator()(ebur128_state* state) const { ebur128_destroy(&state); }
};
using Meter = std::unique_ptr<ebur128_state, Closer>;

// A meter that has heard the sound for at least so many frames, again and again where it is shorter.
Meter heard(std::span<const float> samples, uint32_t channels, uint32_t rate_hz, int mode, size_t least) {
  if (channels == 0 || rate_hz == 0 || samples.size() < channels) return nullptr;
  Meter meter(ebur128_init(channels, rate_hz, mode));
  if (meter == nullptr) return nullptr;
  const size_t frames = samples.size() / channels;
  for (size_t sofar = 0; sofar < std::max(least, frames); sofar += frames)
    if (ebur128_add_frames_float(meter.get(), samples.data(), frames) != EBUR128_SUCCESS) return nullptr;
  return meter;
}

}  // namespace

std::optional<double> loudnessOf(std::span<const float> samples, uint32_t channels, uint32_t rate_hz) {
  const Meter meter = heard(samples, channels, rate_hz, EBUR128_MODE_I, rate_hz);
  double out = 0;
  if (meter == nullptr || ebur128_loudness_global(meter.get(), &out) != EBUR128_SUCCESS) return std::nullopt;
  return std::isfinite(out) && out > -70 ? std::optional(out) : std::nullopt;
}

std::optional<double> truePeakOf(std::span<const float> samples, uint32_t channels, uint32_t rate_hz) {
  const Meter meter = heard(samples, channels, rate_hz, EBUR128_MODE_TRUE_PEAK, 1);
  if (meter == nullptr) return std::nullopt;
  double most = 0;
  for (uint32_t c = 0; c < channels; ++c)
    if (double peak = 0; ebur128_true_peak(meter.get(), c, &peak) == EBUR128_SUCCESS)
      most = std::max(most, peak);
  return most > 0 ? std::optional(20 * std::log10(most)) : std::nullopt;
}

size_t clippedSamples(std::span<const float> samples, uint32_t channels) {
  constexpr float kFull = 0.999F;
  size_t out = 0;
  for (size_t i = channels; channels > 0 && i < samples.size(); ++i)
    if (std::abs(samples[i]) >= kFull && std::abs(samples[i - channels]) >= kFull) ++out;
  return out;
}

}  // namespace rakugo::sound
