// Sounds that begin again at their end: whether one hears it, where to cut, and how to let the end run into
// the beginning.
//
// A stretch is the frames [from, to) of a sound; samples are frames x channels, interleaved.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace rakugo::sound {

struct Stretch {
  size_t from = 0, to = 0;  ///< frames; `to` is behind the last
  [[nodiscard]] size_t frames() const { return to > from ? to - from : 0; }
  bool operator==(const Stretch&) const = default;
};

/// What happens where a stretch begins again.
struct Seam {
  double jump =
      0;  ///< from the last sample to the first, in the channel where it is largest; full scale is 1
  double usual = 0;  ///< what 99.9 of 100 steps between neighbouring samples of the stretch stay below
  /// One hears a click: the jump is more than twice the usual step, and more than 0.01 of full scale.
  [[nodiscard]] bool clicks() const { return jump > 0.01 && jump > 2 * usual; }
};
/// Nothing is reckoned for a stretch of fewer than 2 frames, or beyond the samples. Linear in its length.
Seam seamOf(std::span<const float> samples, uint32_t channels, Stretch stretch);

/// The stretch near `wish` that joins itself best: both ends are moved by at most `reach` frames to where the
/// wave crosses zero upwards, and of all such pairs the one is taken round whose ends `window` frames are
/// most alike (least mean square of the difference: value and slope both). Of equal ones that nearest to the
/// wish. The wish itself where there is no crossing within reach. At most 200 crossings an end are compared.
Stretch findLoop(std::span<const float> samples, uint32_t channels, Stretch wish, size_t reach,
                 size_t window = 256);

/// The stretch as a loop of `frames() - blend` frames: its first `blend` frames are mixed into its last, so
/// that the end arrives where the loop begins. The mix keeps the power of what it mixes, by how alike both
/// are. `blend` is at most half of the stretch. Nothing for an empty stretch.
std::vector<float> loopOf(std::span<const float> samples, uint32_t channels, Stretch stretch, size_t blend);

}  // namespace rakugo::sound
