// Imports beside a peer that many programs use for the same files; complete imports, indexed meshes on both
// sides.
#include <benchmark/benchmark.h>

#include <tiny_obj_loader.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <random>
#include <sstream>
#include <unordered_map>

#include "formats/read_model.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;

double seconds(Clock::time_point since) {
  return std::chrono::duration<double>(Clock::now() - since).count();
}

// A wavy sheet of `side` x `side` quads with texture coordinates and normals, in eight materials; the faces
// in the order of the rows, or shuffled.
std::string sheet(uint32_t side, bool shuffled) {
  std::string out = "mtllib none.mtl\no sheet\n";
  char line[160];
  for (uint32_t y = 0; y <= side; ++y)
    for (uint32_t x = 0; x <= side; ++x) {
      const double u = static_cast<double>(x) / side, v = static_cast<double>(y) / side;
      std::snprintf(line, sizeof line, "v %.6f %.6f %.6f\nvt %.6f %.6f\nvn %.4f %.4f %.4f\n", u * 10, v * 10,
                    0.3 * u * v + 0.01 * static_cast<double>((x * 7 + y * 13) % 17), u, v, -0.03 * v,
                    -0.03 * u, 0.9991);
      out += line;
    }
  std::vector<uint32_t> order(side * side);
  for (uint32_t i = 0; i < order.size(); ++i) order[i] = i;
  if (shuffled) std::shuffle(order.begin(), order.end(), std::mt19937(5));
  for (size_t i = 0; i < order.size(); ++i) {
    if (i % (order.size() / 8) == 0) out += "usemtl m" + std::to_string(i / (order.size() / 8) % 8) + "\n";
    const uint32_t x = order[i] % side, y = order[i] / side, a = y * (side + 1) + x + 1, b = a + 1,
                   c = b + side + 1, d = a + side + 1;
    std::snprintf(line, sizeof line, "f %u/%u/%u %u/%u/%u %u/%u/%u\nf %u/%u/%u %u/%u/%u %u/%u/%u\n", a, a, a,
                  b, b, b, c, c, c, a, a, a, c, c, c, d, d, d);
    out += line;
  }
  return out;
}

// The peer's parse, and what everybody does next: corners that are alike become one vertex.
size_t peerImport(const std::string& text) {
  tinyobj::attrib_t attributes;
  std::vector<tinyobj::shape_t> shapes;
  std::vector<tinyobj::material_t> materials;
  std::string warnings, errors;
  std::istringstream stream(text);
  if (!tinyobj::LoadObj(&attributes, &shapes, &materials, &warnings, &errors, &stream, nullptr)) return 0;
  struct Key {
    int v, t, n;
    bool operator==(const Key&) const = default;
  };
  struct Hash {
    size_t operator()(const Key& k) const {
      return static_cast<size_t>(k.v) * 73856093U ^ static_cast<size_t>(k.t) * 19349663U ^
             static_cast<size_t>(k.n) * 83492791U;
    }
  };
  size_t triangles = 0;
  for (const auto& shape : shapes) {
    std::unordered_map<Key, uint32_t, Hash> known;
    std::vector<float> vertices;
    std::vector<uint32_t> indices;
    for (const auto& corner : shape.mesh.indices) {
      const auto [at, fresh] =
          known.try_emplace({corner.vertex_index, corner.texcoord_index, corner.normal_index},
                            static_cast<uint32_t>(known.size()));
      if (fresh)
        for (int i = 0; i < 3; ++i)
          vertices.push_back(
              attributes.vertices[static_cast<size_t>(corner.vertex_index) * 3 + static_cast<size_t>(i)]);
      indices.push_back(at->second);
    }
    triangles += indices.size() / 3;
    benchmark::DoNotOptimize(vertices.data());
  }
  return triangles;
}

void BM_ObjImport(benchmark::State& state) {
  const std::string text = sheet(707, state.range(0) != 0);  // 999,698 triangles
  const auto check = formats::readModel(base::asBytes(text), "sheet.obj", nullptr);
  if (!check || scene::countsOf(check->model).triangles != peerImport(text))
    return state.SkipWithError("the two differ");
  double ours = 0, peers = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    const auto read = formats::readModel(base::asBytes(text), "sheet.obj", nullptr);
    const double took = seconds(begin);
    benchmark::DoNotOptimize(read);
    begin = Clock::now();
    benchmark::DoNotOptimize(peerImport(text));
    peers += seconds(begin);
    ours += took;
    state.SetIterationTime(took);
  }
  state.counters["of_peer"] = ours / peers;
  state.counters["MB"] = static_cast<double>(text.size()) / 1e6;
}
BENCHMARK(BM_ObjImport)
    ->Arg(0)
    ->Arg(1)
    ->ArgName("shuffled")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(5);

}  // namespace

BENCHMARK_MAIN();
