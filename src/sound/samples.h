// Samples made into others: fewer channels, another rate.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace rakugo::sound {

/// The mean of all channels: one sample a frame. `samples` are frames x `channels`, interleaved.
std::vector<float> monoOf(std::span<const float> samples, uint32_t channels);

/// The same sound at another rate, by band-limited interpolation (sinc, of middling quality: 121 dB signal to
/// noise). The length is that of the sound to within one sample. As it is where both rates are the same;
/// nothing for no samples, and for rates of 0 or more than 256 times each other. Of a sound that `loops` what
/// lies before its beginning is its end, so that its seam stays whole.
std::vector<float> resampled(std::span<const float> samples, uint32_t channels, uint32_t rate_hz,
                             uint32_t to_hz, bool loops);

}  // namespace rakugo::sound
