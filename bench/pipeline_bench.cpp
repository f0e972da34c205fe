// The way of a model from file to bundle, each stretch beside what it could at best cost: reading the file,
// copying the bytes, compressing the same bytes. Inputs are seeded; results are verified before anything is
// timed.
#include <benchmark/benchmark.h>
#include <zstd.h>

#include <cmath>
#include <cstring>
#include <filesystem>

#include "base/files.h"
#include "bench_support.h"
#include "bundle/bundle_reader.h"
#include "formats/gltf/gltf.h"
#include "geometry/vertex_cache.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/runtime.h"

namespace {

using namespace rakugo;
using bench::must;
using bench::seconds;
namespace fs = std::filesystem;

// A wavy sheet of n x n squares in one part.
scene::Model sheet(uint32_t n) {
  scene::Model m;
  m.nodes.resize(1);
  m.nodes[0].name = "sheet";
  m.nodes[0].mesh = scene::MeshIndex(0);
  m.roots = {scene::NodeIndex(0)};
  scene::Primitive p;
  for (uint32_t y = 0; y <= n; ++y)
    for (uint32_t x = 0; x <= n; ++x) {
      const auto fx = static_cast<float>(x) / static_cast<float>(n),
                 fy = static_cast<float>(y) / static_cast<float>(n);
      p.positions.emplace_back(fx * 2, 0.1F * std::sin(fx * 20) * std::cos(fy * 17), fy * 2);
      p.normals.emplace_back(0, 1, 0);
      p.uvs[0].emplace_back(fx, fy);
    }
  for (uint32_t y = 0; y < n; ++y)
    for (uint32_t x = 0; x < n; ++x) {
      const uint32_t a = y * (n + 1) + x, b = a + 1, c = a + n + 1, d = c + 1;
      p.indices.insert(p.indices.end(), {a, c, d, a, d, b});
    }
  m.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"sheet", {std::move(p)}}));
  scene::assignKeys(m);
  return m;
}

const base::Bytes& sheetFile() {
  static const base::Bytes kFile = formats::writeGlb(sheet(500));  // 500,000 triangles
  return kFile;
}

base::Result<base::Bytes> none(const std::string& name) {
  return base::Error{"file.missing", "none", base::Place{name}, ""};
}

fs::path lamplight() { return fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight"; }

std::shared_ptr<const check::Examination> examined() {
  auto state = mod::loadMod(lamplight());
  auto book = rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick");
  check::Examiner examiner(lamplight(), std::make_shared<const rulebook::Rulebook>(std::move(book).value()));
  return std::move(examiner.examine(std::make_shared<const mod::ModState>(std::move(state).value()))).value();
}

void glbImportAgainstReadingTheFile(benchmark::State& state) {
  const fs::path path = fs::temp_directory_path() / "rakugo-bench.glb";
  must(base::writeFileAtomic(path, sheetFile()).ok(), "writing");
  must(formats::readModelFile(path)->model.meshes[0]->primitives[0].indices.size() == 1'500'000, "import");
  const double limit = seconds([&] { benchmark::DoNotOptimize(base::readFile(path)); });
  double spent = 0;
  for (auto _ : state) spent += seconds([&] { benchmark::DoNotOptimize(formats::readModelFile(path)); }, 1);
  state.counters["file_MB"] = static_cast<double>(sheetFile().size()) / 1e6;
  state.counters["x_reading_the_file"] = spent / static_cast<double>(state.iterations()) / limit;
  fs::remove(path);
}

void replayAgainstCopyingTheVertices(benchmark::State& state) {
  auto source = std::make_shared<formats::ReadModel>();
  source->model = sheet(500);
  rulebook::Rulebook book;
  mod::ModelDoc doc;
  for (const char* kind : {"read_lengths", "turn", "bake", "origin"})
    doc.steps.push_back(prepare::makeStep(doc, kind));
  const auto& p = source->model.meshes[0]->primitives[0];
  const size_t bytes = p.positions.size() * sizeof(glm::vec3) * 2;
  base::Bytes from(bytes), to(bytes);
  const double limit = seconds([&] {
    std::memcpy(to.data(), from.data(), bytes);
    benchmark::ClobberMemory();
  });
  double spent = 0, last = 0;
  for (auto _ : state) {
    prepare::Replayer replayer;
    spent += seconds([&] { must(replayer.replay(source, doc.steps, book, none).ok(), "replay"); }, 1);
    // Editing the last step costs one step.
    auto changed = doc.steps;
    changed.back().values["to"] = "centre";
    last += seconds([&] { must(replayer.replay(source, changed, book, none).ok(), "replay"); }, 1);
    must(replayer.stepsRun() == 1, "prefixes are kept");
  }
  const auto n = static_cast<double>(state.iterations());
  state.counters["x_memcpy"] = spent / n / limit;
  state.counters["last_step_share"] = last / spent;
}

void checksAgainstOnePassOverTheVertices(benchmark::State& state) {
  const auto x = examined();
  must(x->findings.empty(), "the finished mod is clean");
  const scene::Model& model = *x->context.models.at("quay-lamp").prepared.model;
  const double limit = seconds([&] { benchmark::DoNotOptimize(scene::boundsOf(model)); }, 50);
  double spent = 0;
  for (auto _ : state) spent += seconds([&] { benchmark::DoNotOptimize(check::runChecks(x->context)); }, 1);
  state.counters["x_one_pass"] = spent / static_cast<double>(state.iterations()) / limit;
}

void buildAgainstCompressingTheSameBytes(benchmark::State& state) {
  const auto x = examined();
  const auto file = packing::buildPackage(*x);
  must(file.ok(), "build");
  const auto bundle = bundle::Bundle::parse(*file, "bench.rkb");
  must(bundle->verify().empty(), "verify");
  base::Bytes raw, packed;
  for (const auto& e : bundle->entries()) {
    const auto one = bundle->read(e);
    raw.insert(raw.end(), one->begin(), one->end());
  }
  packed.resize(ZSTD_compressBound(raw.size()));
  const double limit = seconds([&] {
    benchmark::DoNotOptimize(ZSTD_compress(packed.data(), packed.size(), raw.data(), raw.size(), 9));
  });
  double spent = 0;
  for (auto _ : state) spent += seconds([&] { benchmark::DoNotOptimize(packing::buildPackage(*x)); }, 1);
  state.counters["raw_MB"] = static_cast<double>(raw.size()) / 1e6;
  state.counters["x_zstd"] = spent / static_cast<double>(state.iterations()) / limit;
}

// 200 models in one mod; then one of them changes.
void oneChangedModelOf200AgainstTheFullBuild(benchmark::State& state) {
  auto mod = std::move(mod::loadMod(lamplight())).value();
  const mod::ModelDoc model = mod.models.begin()->second;
  const mod::ObjectDoc object = mod.objects.begin()->second;
  mod.models.clear();
  mod.objects.clear();
  for (int i = 0; i < 200; ++i) {
    const std::string name = "lamp-" + std::to_string(i);
    mod::ModelDoc doc = model;
    // Each a size of its own, so that no two have a mesh in common.
    doc.steps.insert(doc.steps.begin() + 1, {"s90", "scale", true, base::Json{{"factor", 1 + i * 0.0005}}});
    mod.models[name] = doc;
    mod.objects[name] = object;
    mod.objects[name].pieces[0].model = name;
  }
  check::Examiner examiner(
      lamplight(),
      std::make_shared<const rulebook::Rulebook>(
          std::move(rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick")).value()));
  const auto before = std::move(examiner.examine(std::make_shared<const mod::ModState>(mod))).value();
  must(before->count(check::Severity::stops) == 0, "the mod can be built");
  const fs::path out = fs::temp_directory_path() / "rakugo-bench.rkb";
  const double full = seconds([&] { must(packing::buildToFile(*before, out).ok(), "full build"); }, 1);
  packing::BuildCache cache(fs::temp_directory_path() / "rakugo-bench-cache");
  must(packing::buildToFile(*before, out, {nullptr, &cache}).ok(), "warm build");
  double spent = 0;
  int round = 0;
  for (auto _ : state) {
    mod.models["lamp-7"].steps[1].values["factor"] = 1.2 + ++round * 0.001;
    const auto after = std::move(examiner.examine(std::make_shared<const mod::ModState>(mod))).value();
    spent += seconds(
        [&] {
          must(packing::buildToFile(*after, out, {nullptr, &cache}).ok(), "small build");
        },
        1);
    must(cache.misses() == 6, "one model and its object are made anew");
  }
  state.counters["bundle_MB"] = static_cast<double>(fs::file_size(out)) / 1e6;
  state.counters["full_s"] = full;
  state.counters["share_of_full"] = spent / static_cast<double>(state.iterations()) / full;
  fs::remove(out);
  fs::remove_all(fs::temp_directory_path() / "rakugo-bench-cache");
}

void bundleLoadAgainstDecompressing(benchmark::State& state) {
  const auto file = packing::buildPackage(*examined());
  const auto bundle = bundle::Bundle::parse(*file, "bench.rkb");
  double limit = 0;
  for (const auto& e : bundle->entries()) {
    base::Bytes raw(e.raw_bytes);
    limit += seconds([&] {
      const auto stored = bundle->stored(e);
      if (e.codec == bundle::Codec::zstd)
        ZSTD_decompress(raw.data(), raw.size(), stored.data(), stored.size());
      else
        std::memcpy(raw.data(), stored.data(), stored.size());
    });
  }
  double spent = 0;
  for (auto _ : state)
    spent += seconds(
        [&] {
          const auto opened = bundle::Bundle::parse(*file, "bench.rkb");
          for (const auto& e : opened->entries()) benchmark::DoNotOptimize(opened->read(e));
        },
        1);
  state.counters["x_decompressing"] = spent / static_cast<double>(state.iterations()) / limit;
}

void vertexOrderAgainstSorting(benchmark::State& state) {
  const scene::Model model = sheet(300);
  const auto& p = model.meshes[0]->primitives[0];
  const auto count = static_cast<uint32_t>(p.positions.size());
  const auto ordered = geometry::orderForVertexCache(p.indices, count);
  must(ordered.size() == p.indices.size(), "ordering");
  const double limit = seconds([&] {
    auto copy = p.indices;
    std::sort(copy.begin(), copy.end());
    benchmark::DoNotOptimize(copy.data());
  });
  double spent = 0;
  for (auto _ : state)
    spent += seconds([&] { benchmark::DoNotOptimize(geometry::orderForVertexCache(p.indices, count)); }, 1);
  state.counters["x_sorting_the_indices"] = spent / static_cast<double>(state.iterations()) / limit;
  state.counters["misses_before"] = geometry::averageCacheMissRatio(p.indices, count);
  state.counters["misses_after"] = geometry::averageCacheMissRatio(ordered, count);
}

BENCHMARK(glbImportAgainstReadingTheFile)->Unit(benchmark::kMillisecond);
BENCHMARK(replayAgainstCopyingTheVertices)->Unit(benchmark::kMillisecond);
BENCHMARK(checksAgainstOnePassOverTheVertices)->Unit(benchmark::kMillisecond);
BENCHMARK(buildAgainstCompressingTheSameBytes)->Unit(benchmark::kMillisecond);
BENCHMARK(oneChangedModelOf200AgainstTheFullBuild)->Unit(benchmark::kMillisecond)->Iterations(5);
BENCHMARK(bundleLoadAgainstDecompressing)->Unit(benchmark::kMillisecond);
BENCHMARK(vertexOrderAgainstSorting)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
