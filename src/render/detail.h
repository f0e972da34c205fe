// Chooses the resolution of moving pictures, so that software rendering keeps up with the pointer.
#pragma once

#include <algorithm>

namespace rakugo::render {

/// Learns from how long frames take. 1 is all pixels; a share counts in each direction.
class Detail {
 public:
  [[nodiscard]] float share() const { return share_; }
  /// After each moving frame that was drawn with `share`.
  void frameTook(double milliseconds) {
    constexpr double kSlow_ms = 50, kFast_ms = 18;
    constexpr float kLeast = 0.4F, kStep = 0.8F;
    if (milliseconds > kSlow_ms)
      share_ = std::max(kLeast, share_ * kStep);
    else if (milliseconds < kFast_ms)
      share_ = std::min(1.0F, share_ / kStep);
  }

 private:
  float share_ = 1;
};

}  // namespace rakugo::render
