// Block formats on all cores against their library called on one thread, at no worse quality. The library
// spreads whole pictures over all cores of its own accord (OpenMP): that is turned off for it.
#include <benchmark/benchmark.h>
#include <omp.h>
#include <squish.h>

#include <chrono>
#include <cmath>
#include <random>

#include "bench_support.h"
#include "texture/block_decoder.h"
#include "texture/block_encoder.h"
#include "texture/picture_quality.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

constexpr uint32_t kSide = 1024;

// Grain over slow waves, with edges: each picture another.
base::Bytes painted(unsigned seed) {
  std::mt19937 random(seed);
  base::Bytes out(size_t{kSide} * kSide * 4);
  for (uint32_t y = 0; y < kSide; ++y)
    for (uint32_t x = 0; x < kSide; ++x)
      for (uint32_t c = 0; c < 4; ++c) {
        const bool edge = ((x / 37 + y / 53 + seed) % 5) == 0;
        const double wave = std::sin(0.013 * (x + seed * 7) * (c + 1)) * std::cos(0.011 * y);
        const double v = 120 + 70 * wave + (edge ? 40 : 0) + random() % 17;
        out[(size_t{y} * kSide + x) * 4 + c] =
            static_cast<std::byte>(std::clamp(static_cast<int>(v), 0, 255));
      }
  return out;
}

double since_s(Clock::time_point begin) {
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

// Colour blocks take seconds a picture, so there are fewer of those.
void blocks(benchmark::State& state, bundle::PixelFormat format, int flags, unsigned channels,
            unsigned pictures) {
  omp_set_num_threads(1);
  double own_s = 0, library_s = 0, worst_difference = 99;
  for (auto _ : state)
    for (unsigned i = 0; i < pictures; ++i) {
      base::Bytes picture = painted(i);
      // BC1 holds no alpha: the library is to spend nothing on it either.
      for (size_t p = 3; format == bundle::PixelFormat::bc1 && p < picture.size(); p += 4)
        picture[p] = std::byte{255};
      auto begin = Clock::now();
      const base::Bytes own = texture::encodeLevel(picture, kSide, kSide, format, false);
      own_s += since_s(begin);
      base::Bytes peer(own.size());
      begin = Clock::now();
      squish::CompressImage(reinterpret_cast<const squish::u8*>(picture.data()), kSide, kSide, peer.data(),
                            flags);
      library_s += since_s(begin);
      const auto quality = [&](const base::Bytes& level) {
        return texture::pictureQuality(picture, texture::decodeLevel(level, kSide, kSide, format), kSide,
                                       kSide, channels)
            .psnr_db;
      };
      worst_difference = std::min(worst_difference, quality(own) - quality(peer));
    }
  must(worst_difference > -1e-9, "at least the library's quality");
  state.counters["of_the_library"] = own_s / library_s;
  state.counters["pictures"] = pictures;
  state.counters["worst_psnr_difference_db"] = worst_difference;
  state.counters["own_s"] = own_s / static_cast<double>(state.iterations());
}

BENCHMARK_CAPTURE(blocks, bc1, bundle::PixelFormat::bc1, squish::kDxt1 | squish::kColourClusterFit,
                  texture::kColor, 6)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(blocks, bc3, bundle::PixelFormat::bc3, squish::kDxt5 | squish::kColourClusterFit,
                  texture::kColorAlpha, 6)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(blocks, bc5, bundle::PixelFormat::bc5, squish::kBc5, texture::kRedGreen, 64)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
