// Pictures: mip chains against copying the picture and the chain; what a picture is, against decoding it.
#include <benchmark/benchmark.h>

#include <chrono>
#include <cstring>
#include <random>

#include "bench_support.h"
#include "formats/pictures/picture_traits.h"
#include "formats/pictures/resample.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

formats::Picture noise(uint32_t side) {
  std::mt19937 random(7);
  formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4)};
  for (size_t i = 0; i < out.pixels.size(); i += 4) {
    const uint32_t value = random();
    std::memcpy(out.pixels.data() + i, &value, 4);
  }
  return out;
}

double since_s(Clock::time_point begin) {
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

std::vector<formats::Picture> chainOf(const formats::Picture& picture, formats::PictureUse use) {
  std::vector<formats::Picture> out;
  for (const formats::Picture* level = &picture; level->width > 1 || level->height > 1; level = &out.back())
    out.push_back(formats::halved(*level, use));
  return out;
}

void mipChain(benchmark::State& state, formats::PictureUse use) {
  const formats::Picture picture = noise(4096);
  const std::vector<formats::Picture> chain = chainOf(picture, use);
  must(chain.size() == 12 && chain.back().width == 1, "the chain goes down to one pixel");
  double made_s = 0, copied_s = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    benchmark::DoNotOptimize(chainOf(picture, use));
    made_s += since_s(begin);
    begin = Clock::now();
    // The same bytes read and written once.
    formats::Picture copy = picture;
    std::vector<formats::Picture> copies = chain;
    benchmark::DoNotOptimize(copy);
    benchmark::DoNotOptimize(copies);
    copied_s += since_s(begin);
  }
  state.counters["times_copying"] = made_s / copied_s;
}

void traits(benchmark::State& state) {
  const formats::Picture picture = noise(2048);
  const base::Bytes png = formats::encodePng(picture, formats::PngEffort::quick);
  double told_s = 0, decoded_s = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    benchmark::DoNotOptimize(formats::pictureTraits(picture));
    told_s += since_s(begin);
    begin = Clock::now();
    must(formats::decodePicture(png, "x.png").ok(), "it is read");
    decoded_s += since_s(begin);
  }
  state.counters["of_decoding"] = told_s / decoded_s;
}

BENCHMARK_CAPTURE(mipChain, color, formats::PictureUse::color)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(mipChain, data, formats::PictureUse::data)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(mipChain, normal, formats::PictureUse::normal)->Unit(benchmark::kMillisecond);
BENCHMARK(traits)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
