// How loud a sound is, as people hear it.
#pragma once

#include <cstdint>
#include <optional>
#include <span>

namespace rakugo::sound {

/// Integrated loudness in LUFS by EBU R 128 (ITU-R BS.1770-4, gated). `samples` are frames x `channels`,
/// interleaved. A sound shorter than the 400 ms that the measure needs is measured as if it were repeated.
/// Nothing for silence, for no samples, and for what lies below the gate of -70 LUFS.
std::optional<double> loudnessOf(std::span<const float> samples, uint32_t channels, uint32_t rate_hz);

/// The true peak in dBTP (ITU-R BS.1770-4, annex 2): what the wave reaches between its samples. Nothing for
/// silence and for no samples.
std::optional<double> truePeakOf(std::span<const float> samples, uint32_t channels, uint32_t rate_hz);

/// How many samples are at full scale (0.999 and more) next to another one that is: what a recording looks
/// like that was too loud. 0 for one that was not.
size_t clippedSamples(std::span<const float> samples, uint32_t channels);

}  // namespace rakugo::sound
