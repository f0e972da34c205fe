// Imports beside a peer that many programs use for the same files; complete imports, indexed meshes on both
// sides.
#include <benchmark/benchmark.h>

#include <tiny_gltf.h>
#include <tiny_obj_loader.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <pugixml.hpp>
#include <random>
#include <sstream>
#include <unordered_map>

#include "base/jobs.h"
#include "formats/collada.h"
#include "formats/gltf.h"
#include "formats/pictures.h"
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

// The sheet as a model, to be written in the other formats.
scene::Model sheetModel(uint32_t side) {
  return std::move(formats::readModel(base::asBytes(sheet(side, false)), "sheet.obj", nullptr)).value().model;
}

// Each pair of runs in turn, so that both meet the same machine.
template <class Ours, class Peer>
void pairs(benchmark::State& state, Ours ours_run, Peer peer_run, size_t bytes) {
  std::vector<double> ratios;
  for (auto _ : state) {
    auto begin = Clock::now();
    ours_run();
    const double ours = seconds(begin);
    begin = Clock::now();
    peer_run();
    ratios.push_back(ours / seconds(begin));
    state.SetIterationTime(ours);
  }
  std::nth_element(ratios.begin(), ratios.begin() + static_cast<ptrdiff_t>(ratios.size() / 2), ratios.end());
  state.counters["of_peer"] = ratios[ratios.size() / 2];
  state.counters["MB"] = static_cast<double>(bytes) / 1e6;
}

// The peer's load, and a copy of every attribute and index out of its buffers.
size_t peerGlb(const base::Bytes& file) {
  tinygltf::TinyGLTF loader;
  tinygltf::Model model;
  std::string errors, warnings;
  if (!loader.LoadBinaryFromMemory(&model, &errors, &warnings,
                                   reinterpret_cast<const unsigned char*>(file.data()),
                                   static_cast<unsigned int>(file.size()))) {
    std::fprintf(stderr, "the peer: %s\n", errors.c_str());
    return 0;
  }
  size_t triangles = 0;
  for (const auto& mesh : model.meshes)
    for (const auto& p : mesh.primitives) {
      const auto copy = [&](int index) {
        const tinygltf::Accessor& a = model.accessors[static_cast<size_t>(index)];
        const tinygltf::BufferView& v = model.bufferViews[static_cast<size_t>(a.bufferView)];
        const unsigned char* from =
            model.buffers[static_cast<size_t>(v.buffer)].data.data() + v.byteOffset + a.byteOffset;
        const std::vector<unsigned char> out(from, from + v.byteLength - a.byteOffset);
        benchmark::DoNotOptimize(out.data());
        return a.count;
      };
      for (const auto& [name, index] : p.attributes) copy(index);
      triangles += copy(p.indices) / 3;
    }
  return triangles;
}

void BM_GlbImport(benchmark::State& state) {
  const base::Bytes file = formats::writeGlb(sheetModel(707));
  const auto check = formats::readModel(file, "sheet.glb", nullptr);
  if (!check || scene::countsOf(check->model).triangles != peerGlb(file))
    return state.SkipWithError("the two differ");
  pairs(
      state, [&] { benchmark::DoNotOptimize(formats::readModel(file, "sheet.glb", nullptr)); },
      [&] { benchmark::DoNotOptimize(peerGlb(file)); }, file.size());
}
BENCHMARK(BM_GlbImport)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(7);

// The XML library's parse, std::from_chars of all lists, and corners that are alike made one.
size_t peerCollada(const std::string& text) {
  pugi::xml_document xml;
  if (!xml.load_buffer(text.data(), text.size())) return 0;
  std::vector<std::vector<float>> arrays;
  size_t triangles = 0;
  for (const auto& found : xml.select_nodes("//float_array")) {
    const std::string_view list = found.node().child_value();
    std::vector<float>& out = arrays.emplace_back();
    for (const char *at = list.data(), *end = at + list.size(); at < end;) {
      float v = 0;
      const auto [next, error] = std::from_chars(at, end, v);
      if (error != std::errc()) break;
      out.push_back(v);
      at = next + 1;
    }
  }
  for (const auto& found : xml.select_nodes("//triangles/p")) {
    const std::string_view list = found.node().child_value();
    std::vector<uint32_t> rows;
    for (const char *at = list.data(), *end = at + list.size(); at < end;) {
      uint32_t v = 0;
      const auto [next, error] = std::from_chars(at, end, v);
      if (error != std::errc()) break;
      rows.push_back(v);
      at = next + 1;
    }
    std::unordered_map<uint64_t, uint32_t> known;
    std::vector<uint32_t> indices;
    for (size_t i = 0; i + 1 < rows.size(); i += 2)
      indices.push_back(
          known.try_emplace(uint64_t{rows[i]} << 32 | rows[i + 1], static_cast<uint32_t>(known.size()))
              .first->second);
    triangles += indices.size() / 3;
  }
  benchmark::DoNotOptimize(arrays.data());
  return triangles;
}

void BM_ColladaImport(benchmark::State& state) {
  const std::string text = formats::writeCollada(sheetModel(387), {});  // 299,538 triangles
  const auto check = formats::readModel(base::asBytes(text), "sheet.dae", nullptr);
  if (!check || scene::countsOf(check->model).triangles != peerCollada(text))
    return state.SkipWithError("the two differ");
  pairs(
      state, [&] { benchmark::DoNotOptimize(formats::readModel(base::asBytes(text), "sheet.dae", nullptr)); },
      [&] { benchmark::DoNotOptimize(peerCollada(text)); }, text.size());
}
BENCHMARK(BM_ColladaImport)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(7);

// A tube of `rings` x `around` quads that bends over 64 joints, two a vertex.
scene::Model skinnedModel(uint32_t rings, uint32_t around) {
  scene::Model model;
  scene::Skin skin;
  constexpr uint32_t kJoints = 64;
  for (uint32_t j = 0; j < kJoints; ++j) {
    scene::Node node;
    node.name = "joint" + std::to_string(j);
    node.local.position = {0, 0, j == 0 ? 0.0F : 0.1F};
    if (j > 0) model.nodes[j - 1].children.emplace_back(j);
    model.nodes.push_back(node);
    skin.joints.emplace_back(j);
    glm::mat4 inverse(1);
    inverse[3] = {0, 0, -0.1F * static_cast<float>(j), 1};
    skin.inverse_bind.push_back(inverse);
  }
  scene::Primitive p;
  for (uint32_t r = 0; r <= rings; ++r)
    for (uint32_t a = 0; a < around; ++a) {
      const float t = static_cast<float>(r) / static_cast<float>(rings),
                  turn = 6.2831853F * static_cast<float>(a) / static_cast<float>(around);
      const float along = t * (kJoints - 1);
      const auto joint = std::min(static_cast<uint16_t>(along), static_cast<uint16_t>(kJoints - 2));
      p.positions.emplace_back(std::cos(turn), std::sin(turn), t * 6.3F);
      p.normals.emplace_back(std::cos(turn), std::sin(turn), 0);
      p.uvs[0].emplace_back(static_cast<float>(a) / static_cast<float>(around), t);
      p.joints.emplace_back(joint, joint + 1, 0, 0);
      p.weights.emplace_back(1 - (along - joint), along - joint, 0, 0);
      if (r == rings) continue;
      const uint32_t i = r * around + a, next = r * around + (a + 1) % around;
      p.indices.insert(p.indices.end(), {i, next, next + around, i, next + around, i + around});
    }
  model.skins.push_back(skin);
  model.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"tube", {p}}));
  scene::Node body;
  body.name = "tube";
  body.mesh = scene::MeshIndex(0);
  body.skin = scene::SkinIndex(0);
  model.roots = {scene::NodeIndex(0), scene::NodeIndex(model.nodes.size())};
  model.nodes.push_back(body);
  scene::assignKeys(model);
  return model;
}

void BM_SkinnedGlbImport(benchmark::State& state) {
  const base::Bytes file = formats::writeGlb(skinnedModel(500, 200));  // 200,000 triangles, 64 joints
  const auto check = formats::readModel(file, "tube.glb", nullptr);
  if (!check || scene::countsOf(check->model).triangles != peerGlb(file) || check->model.skins.size() != 1)
    return state.SkipWithError("the two differ");
  pairs(
      state, [&] { benchmark::DoNotOptimize(formats::readModel(file, "tube.glb", nullptr)); },
      [&] { benchmark::DoNotOptimize(peerGlb(file)); }, file.size());
}
BENCHMARK(BM_SkinnedGlbImport)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(9);

// Two hundred small things with a picture of their own each, as a folder of a download holds them; pictures
// decoded.
void BM_SmallGlbs(benchmark::State& state) {
  std::vector<base::Bytes> files;
  std::mt19937 random(11);
  for (int i = 0; i < 200; ++i) {
    scene::Model model = sheetModel(20);
    formats::Picture picture{256, 256, base::Bytes(256 * 256 * 4)};
    for (size_t k = 0; k < picture.pixels.size(); ++k)
      picture.pixels[k] =
          static_cast<std::byte>(k % 4 == 3 ? 255 : (k / 64 + (k >> 10) + random() % 12) & 255);
    scene::Image image;
    image.name = "picture";
    image.mime = "image/png";
    image.bytes = std::make_shared<const base::Bytes>(formats::encodePng(picture));
    model.images.push_back(image);
    model.materials.resize(std::max<size_t>(model.materials.size(), 1));
    model.materials[0].base_color_texture.image = scene::ImageIndex(0);
    files.push_back(formats::writeGlb(model));
  }
  const auto ours = [&](size_t i) {
    const auto read = formats::readModel(files[i], "small.glb", nullptr);
    return read ? formats::decodePicture(*read->model.images[0].bytes, "picture")
                : base::Result<formats::Picture>(read.error());
  };
  if (const auto one = ours(7); !one || one->width != 256)
    return state.SkipWithError("the picture is not read");
  if (peerGlb(files[7]) != 800) return state.SkipWithError("the peer does not read it");
  pairs(
      state, [&] { base::parallelFor(files.size(), [&](size_t i) { benchmark::DoNotOptimize(ours(i)); }); },
      [&] {
        for (const base::Bytes& file : files) benchmark::DoNotOptimize(peerGlb(file));
      },
      files[0].size() * files.size());
}
BENCHMARK(BM_SmallGlbs)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(7);

}  // namespace

BENCHMARK_MAIN();
