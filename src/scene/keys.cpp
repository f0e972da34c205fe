#include "scene/keys.h"

#include <algorithm>
#include <cmath>

namespace rakugo::scene {

size_t numbersOf(const Channel& channel) {
  if (channel.path == AnimatedPath::turn) return 4;
  if (channel.path != AnimatedPath::weights) return 3;
  const size_t keys = channel.times_s.size() * (channel.interpolation == Interpolation::cubic ? 3 : 1);
  return keys == 0 ? 0 : channel.values.size() / keys;
}

void valueAt(const Channel& channel, float time_s, std::span<float> out) {
  const size_t n = numbersOf(channel);
  const bool cubic = channel.interpolation == Interpolation::cubic;
  const size_t per_key = cubic ? 3 * n : n;
  if (n == 0 || out.size() < n || channel.times_s.empty() ||
      channel.values.size() < channel.times_s.size() * per_key)
    return;
  // Of a cubic key the value stands between its tangents.
  const auto key = [&](size_t k, size_t i) { return channel.values[k * per_key + (cubic ? n : 0) + i]; };
  const auto& times = channel.times_s;
  const auto after =
      static_cast<size_t>(std::upper_bound(times.begin(), times.end(), time_s) - times.begin());
  const size_t from = after == 0 ? 0 : after - 1;
  if (after == 0 || after == times.size() || channel.interpolation == Interpolation::step) {
    for (size_t i = 0; i < n; ++i) out[i] = key(from, i);
    return;
  }
  const float length = times[after] - times[from];
  const float s = length > 0 ? (time_s - times[from]) / length : 0;
  if (cubic) {
    const float s2 = s * s, s3 = s2 * s;
    for (size_t i = 0; i < n; ++i) {
      const float leave = channel.values[from * per_key + 2 * n + i],
                  arrive = channel.values[after * per_key + i];
      out[i] = (2 * s3 - 3 * s2 + 1) * key(from, i) + length * (s3 - 2 * s2 + s) * leave +
               (-2 * s3 + 3 * s2) * key(after, i) + length * (s3 - s2) * arrive;
    }
  } else if (channel.path == AnimatedPath::turn) {
    const glm::quat a(key(from, 3), key(from, 0), key(from, 1), key(from, 2)),
        b(key(after, 3), key(after, 0), key(after, 1), key(after, 2));
    const glm::quat q = glm::slerp(a, b, s);
    out[0] = q.x, out[1] = q.y, out[2] = q.z, out[3] = q.w;
  } else {
    for (size_t i = 0; i < n; ++i) out[i] = key(from, i) + (key(after, i) - key(from, i)) * s;
  }
  if (channel.path != AnimatedPath::turn) return;
  const float norm = std::sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2] + out[3] * out[3]);
  if (norm > 0)
    for (size_t i = 0; i < 4; ++i) out[i] /= norm;
}

}  // namespace rakugo::scene
