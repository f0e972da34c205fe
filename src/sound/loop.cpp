#include "sound/loop.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace rakugo::sound {
namespace {

bool within(std::span<const float> samples, uint32_t channels, Stretch s) {
  return channels > 0 && s.from < s.to && s.to <= samples.size() / channels;
}

// All channels as one, from frame `begin` on; 0 beyond the ends.
struct Mixed {
  std::span<const float> samples;
  uint32_t channels;
  [[nodiscard]] float at(ptrdiff_t frame) const {
    const auto frames = static_cast<ptrdiff_t>(samples.size() / channels);
    if (frame < 0 || frame >= frames) return 0;
    float sum = 0;
    for (uint32_t c = 0; c < channels; ++c) sum += samples[static_cast<size_t>(frame) * channels + c];
    return sum / static_cast<float>(channels);
  }
};

// Frames at which the wave crosses zero upwards, at most so far from `wish`, the nearest ones.
std::vector<size_t> crossings(const Mixed& wave, size_t wish, size_t reach, size_t frames) {
  constexpr size_t kMost = 200;
  std::vector<size_t> out;
  const size_t begin = wish > reach ? wish - reach : 0, end = std::min(frames, wish + reach);
  for (size_t f = std::max<size_t>(begin, 1); f <= end; ++f)
    if (wave.at(static_cast<ptrdiff_t>(f) - 1) < 0 && wave.at(static_cast<ptrdiff_t>(f)) >= 0)
      out.push_back(f);
  if (out.size() > kMost) {
    const auto away = [&](size_t f) { return f > wish ? f - wish : wish - f; };
    std::nth_element(out.begin(), out.begin() + kMost, out.end(),
                     [&](size_t a, size_t b) { return std::pair(away(a), a) < std::pair(away(b), b); });
    out.resize(kMost);
    std::sort(out.begin(), out.end());
  }
  return out;
}

// The frames round a place, as one looks at them for likeness.
std::vector<float> surroundings(const Mixed& wave, size_t frame, size_t window) {
  std::vector<float> out(window);
  for (size_t i = 0; i < window; ++i)
    out[i] = wave.at(static_cast<ptrdiff_t>(frame + i) - static_cast<ptrdiff_t>(window / 2));
  return out;
}

double difference(const std::vector<float>& a, const std::vector<float>& b, double stop) {
  double sum = 0;
  for (size_t i = 0; i < a.size(); i += 32) {
    for (size_t j = i; j < std::min(a.size(), i + 32); ++j) {
      const double d = static_cast<double>(a[j]) - static_cast<double>(b[j]);
      sum += d * d;
    }
    if (sum > stop) break;
  }
  return sum;
}

}  // namespace

Seam seamOf(std::span<const float> samples, uint32_t channels, Stretch stretch) {
  Seam out;
  if (!within(samples, channels, stretch) || stretch.frames() < 2) return out;
  std::vector<float> steps;
  steps.reserve(stretch.frames() * channels);
  for (uint32_t c = 0; c < channels; ++c) {
    const auto at = [&](size_t frame) { return samples[frame * channels + c]; };
    for (size_t f = stretch.from + 1; f < stretch.to; ++f) steps.push_back(std::abs(at(f) - at(f - 1)));
    out.jump = std::max(out.jump, static_cast<double>(std::abs(at(stretch.from) - at(stretch.to - 1))));
  }
  const auto rank = static_cast<ptrdiff_t>(static_cast<double>(steps.size() - 1) * 0.999);
  std::nth_element(steps.begin(), steps.begin() + rank, steps.end());
  out.usual = static_cast<double>(steps[static_cast<size_t>(rank)]);
  return out;
}

Stretch findLoop(std::span<const float> samples, uint32_t channels, Stretch wish, size_t reach,
                 size_t window) {
  if (!within(samples, channels, wish)) return wish;
  const size_t frames = samples.size() / channels;
  const Mixed wave{samples, channels};
  const std::vector<size_t> begins = crossings(wave, wish.from, reach, frames),
                            ends = crossings(wave, wish.to, reach, frames);
  std::vector<std::vector<float>> round_begins, round_ends;
  for (const size_t f : begins) round_begins.push_back(surroundings(wave, f, window));
  for (const size_t f : ends) round_ends.push_back(surroundings(wave, f, window));
  const auto away = [&](const Stretch& s) {
    const auto off = [](size_t a, size_t b) { return a > b ? a - b : b - a; };
    return off(s.from, wish.from) + off(s.to, wish.to);
  };
  std::optional<Stretch> best;
  double least = std::numeric_limits<double>::infinity();
  for (size_t b = 0; b < begins.size(); ++b)
    for (size_t e = 0; e < ends.size(); ++e) {
      if (ends[e] < begins[b] + window) continue;
      const Stretch one{begins[b], ends[e]};
      const double off = difference(round_begins[b], round_ends[e], least);
      if (off < least || (off == least && best && away(one) < away(*best))) least = off, best = one;
    }
  return best.value_or(wish);
}

std::vector<float> loopOf(std::span<const float> samples, uint32_t channels, Stretch stretch, size_t blend) {
  if (!within(samples, channels, stretch)) return {};
  blend = std::min(blend, stretch.frames() / 2);
  const size_t length = stretch.frames() - blend;
  const std::span<const float> body = samples.subspan((stretch.from + blend) * channels, length * channels);
  std::vector<float> out(body.begin(), body.end());
  if (blend == 0) return out;
  // The last frames of the loop are the last of the stretch; they become the first of it.
  const size_t tail = (length - blend) * channels, count = blend * channels;
  const std::span<const float> head = samples.subspan(stretch.from * channels, count);
  double both = 0, first = 0, last = 0;
  for (size_t i = 0; i < count; ++i) {
    const auto a = static_cast<double>(head[i]), b = static_cast<double>(out[tail + i]);
    both += a * b, first += a * a, last += b * b;
  }
  const double alike = first > 0 && last > 0 ? std::clamp(both / std::sqrt(first * last), 0.0, 1.0) : 1;
  for (size_t i = 0; i < blend; ++i) {
    // At the end of the tail the head is all there is: the frame behind it is the loop's first.
    const double t = (static_cast<double>(i) + 1) / (static_cast<double>(blend) + 1);
    const double power = std::sqrt(t * t + (1 - t) * (1 - t) + 2 * t * (1 - t) * alike);
    for (uint32_t c = 0; c < channels; ++c) {
      float& sample = out[tail + i * channels + c];
      sample = static_cast<float>(
          (static_cast<double>(sample) * (1 - t) + static_cast<double>(head[i * channels + c]) * t) / power);
    }
  }
  return out;
}

}  // namespace rakugo::sound
