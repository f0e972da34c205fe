// Several materials onto one sheet: how full it gets, how long the packing takes, and how long the whole of
// it with pictures read and written. Fifty seeded models whose pictures do not all fit.
#include <benchmark/benchmark.h>

#include <chrono>
#include <random>

#include "bench_support.h"
#include "formats/pictures/pictures.h"
#include "prepare/surface/atlas.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

scene::ImageIndex plain(scene::Model& model, uint32_t side, unsigned tone) {
  formats::Picture picture{side, side, base::Bytes(size_t{side} * side * 4)};
  for (size_t i = 0; i < picture.pixels.size(); ++i)
    picture.pixels[i] = static_cast<std::byte>(i % 4 == 3 ? 255 : tone + 40 * (i % 4));
  model.images.push_back(
      {"", "", "image/png",
       std::make_shared<const base::Bytes>(formats::encodePng(picture, formats::PngEffort::quick))});
  return scene::ImageIndex(model.images.size() - 1);
}

// Islands as modellers lay them: rows of rectangles of many sizes, a few long ones among them.
scene::Model model(unsigned seed) {
  std::mt19937 random(seed);
  const auto from = [&](double low, double high) {
    return static_cast<float>(std::uniform_real_distribution<double>(low, high)(random));
  };
  scene::Model out;
  auto mesh = std::make_shared<scene::Mesh>();
  const size_t materials = 4 + seed % 6;
  for (size_t i = 0; i < materials; ++i) {
    scene::Material& m = out.materials.emplace_back();
    m.name = "m" + std::to_string(i);
    m.base_color_texture.image = plain(out, 2048, static_cast<unsigned>(i) * 20);
    scene::Primitive& p = mesh->primitives.emplace_back();
    p.material = scene::MaterialIndex(i);
    float y = 0.005F;
    while (y < 0.9F) {
      const float high = std::min(0.99F - y, from(0.03, 0.22));
      float x = 0.005F;
      while (x < 0.9F) {
        const float wide = std::min(0.99F - x, random() % 9 == 0 ? from(0.3, 0.6) : from(0.03, 0.25));
        const auto base = static_cast<uint32_t>(p.positions.size());
        const float used = from(0.6, 1);
        for (const auto& [u, v] : {std::pair(0.F, 0.F), {1.F, 0.F}, {1.F, 1.F}, {0.F, 1.F}}) {
          p.positions.emplace_back(u, v, static_cast<float>(i));
          p.uvs[0].emplace_back(x + u * wide * used, y + v * high);
        }
        p.indices.insert(p.indices.end(), {base, base + 1, base + 2, base, base + 2, base + 3});
        x += wide + 0.008F;
      }
      y += high + 0.008F;
    }
  }
  out.meshes.push_back(std::move(mesh));
  out.nodes.resize(1);
  out.nodes[0].mesh = scene::MeshIndex(0);
  out.roots = {scene::NodeIndex(0)};
  scene::assignKeys(out);
  return out;
}

void atlas(benchmark::State& state) {
  double least = 1, sum = 0, longest_s = 0, packing_s = 0, islands = 0;
  constexpr unsigned kModels = 50;
  for (auto _ : state)
    for (unsigned seed = 1; seed <= kModels; ++seed) {
      scene::Model one = model(seed);
      std::vector<scene::MaterialIndex> all;
      for (size_t i = 0; i < one.materials.size(); ++i) all.emplace_back(i);
      auto begin = Clock::now();
      const auto packed = prepare::packAtlas(one, all, {"sheet", 2048, 4});
      packing_s = std::max(packing_s, std::chrono::duration<double>(Clock::now() - begin).count());
      begin = Clock::now();
      const auto report = prepare::mergeIntoAtlas(one, all, {"sheet", 2048, 4});
      longest_s = std::max(longest_s, std::chrono::duration<double>(Clock::now() - begin).count());
      must(report.ok(), "the materials become one");
      must(packed.ok() && packed->filled == report->filled, "packed as it is made");
      must(report->side == 2048 && report->scale < 1, "the pictures do not fit as they are");
      least = std::min(least, report->filled);
      sum += report->filled;
      islands += static_cast<double>(report->islands);
    }
  state.counters["least_fill"] = least;
  state.counters["mean_fill"] = sum / kModels;
  state.counters["longest_packing_of_1_s"] = packing_s;
  state.counters["longest_s"] = longest_s;
  state.counters["mean_islands"] = islands / kModels;
}

BENCHMARK(atlas)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
