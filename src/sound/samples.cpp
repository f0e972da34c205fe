#include "sound/samples.h"

#include <algorithm>
#include <cmath>

#include <samplerate.h>

namespace rakugo::sound {
namespace {

std::vector<float> converted(std::span<const float> samples, uint32_t channels, double ratio) {
  const size_t frames = samples.size() / channels;
  std::vector<float> out((static_cast<size_t>(std::ceil(static_cast<double>(frames) * ratio)) + 64) *
                         channels);
  SRC_DATA data{};
  data.data_in = samples.data();
  data.data_out = out.data();
  data.input_frames = static_cast<long>(frames);
  data.output_frames = static_cast<long>(out.size() / channels);
  data.src_ratio = ratio;
  if (src_simple(&data, SRC_SINC_MEDIUM_QUALITY, static_cast<int>(channels)) != 0) return {};
  out.resize(static_cast<size_t>(data.output_frames_gen) * channels);
  return out;
}

}  // namespace

std::vector<float> monoOf(std::span<const float> samples, uint32_t channels) {
  std::vector<float> out(channels > 0 ? samples.size() / channels : 0);
  for (size_t f = 0; f < out.size(); ++f) {
    float sum = 0;
    for (uint32_t c = 0; c < channels; ++c) sum += samples[f * channels + c];
    out[f] = sum / static_cast<float>(channels);
  }
  return out;
}

std::vector<float> resampled(std::span<const float> samples, uint32_t channels, uint32_t rate_hz,
                             uint32_t to_hz, bool loops) {
  if (channels == 0 || samples.size() < channels) return {};
  if (rate_hz == to_hz) return {samples.begin(), samples.end()};
  if (rate_hz == 0 || to_hz == 0) return {};
  const double ratio = static_cast<double>(to_hz) / rate_hz;
  if (!(ratio > 1.0 / 256 && ratio < 256)) return {};
  const size_t frames = samples.size() / channels;
  const auto wanted = static_cast<size_t>(std::max(1.0, std::round(static_cast<double>(frames) * ratio)));
  std::vector<float> made;
  size_t skip = 0;
  if (loops) {
    // Three times over; the middle one has its own end before it and its own beginning behind it.
    std::vector<float> thrice;
    for (int i = 0; i < 3; ++i) thrice.insert(thrice.end(), samples.begin(), samples.end());
    made = converted(thrice, channels, ratio);
    skip = static_cast<size_t>(std::llround(static_cast<double>(frames) * ratio));
  } else {
    made = converted(samples, channels, ratio);
  }
  if (made.empty()) return {};
  made.resize(std::max(made.size(), (skip + wanted) * channels), 0);
  return {made.begin() + static_cast<ptrdiff_t>(skip * channels),
          made.begin() + static_cast<ptrdiff_t>((skip + wanted) * channels)};
}

}  // namespace rakugo::sound
