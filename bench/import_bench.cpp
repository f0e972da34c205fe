// Imports beside a peer that many programs use for the same files; complete imports, indexed meshes on both
// sides, each the first call of a process of its own. What they give is counted before a time counts.
#include <benchmark/benchmark.h>

#include <malloc.h>
#include <tiny_gltf.h>
#include <tiny_obj_loader.h>
#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <istream>
#include <pugixml.hpp>
#include <random>
#include <streambuf>
#include <unordered_map>

#include "base/files.h"
#include "base/jobs.h"
#include "formats/collada/collada.h"
#include "formats/gltf/gltf.h"
#include "formats/pictures/pictures.h"
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
size_t peerObj(const base::Bytes& file) {
  // Reads where the file lies, without a copy.
  struct Buffer : std::streambuf {
    explicit Buffer(const base::Bytes& bytes) {
      char* begin = const_cast<char*>(reinterpret_cast<const char*>(bytes.data()));
      setg(begin, begin, begin + bytes.size());
    }
  } buffer(file);
  std::istream stream(&buffer);
  tinyobj::attrib_t attributes;
  std::vector<tinyobj::shape_t> shapes;
  std::vector<tinyobj::material_t> materials;
  std::string warnings, errors;
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

// The sheet as a model, to be written in the other formats.
scene::Model sheetModel(uint32_t side) {
  return std::move(formats::readModel(base::asBytes(sheet(side, false)), "sheet.obj", nullptr)).value().model;
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

// The XML library's parse, std::from_chars of all lists, and corners that are alike made one.
size_t peerCollada(const base::Bytes& text) {
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

// Two hundred small things with a picture of their own each, as a folder of a download holds them.
std::vector<base::Bytes> smallGlbs() {
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
  return files;
}

base::Bytes bytesOf(const std::string& text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

using Files = std::vector<base::Bytes>;

struct Case {
  const char* name;
  const char* file;  // its name in messages, and for the ending
  Files (*make)();
  size_t (*peer)(const base::Bytes&);  // triangles of one file
};

const Case kCases[] = {
    {"obj", "sheet.obj", [] { return Files{bytesOf(sheet(707, false))}; },  // 999,698 triangles
     peerObj},
    {"obj_shuffled", "sheet.obj", [] { return Files{bytesOf(sheet(707, true))}; }, peerObj},
    {"glb", "sheet.glb", [] { return Files{formats::writeGlb(sheetModel(707))}; }, peerGlb},
    {"glb_skinned", "tube.glb",  // 200,000 triangles, 64 joints
     [] { return Files{formats::writeGlb(skinnedModel(500, 200))}; }, peerGlb},
    {"glb_small", "small.glb", smallGlbs, peerGlb},
    {"collada", "sheet.dae",  // 299,538 triangles
     [] { return Files{bytesOf(formats::writeCollada(sheetModel(387), {}))}; }, peerCollada},
};

// What one process measured of itself.
struct Measured {
  double seconds = 0;
  double triangles = 0;
  double peak_of_model = 0;  // memory above the program and the file, beside the Model
};

template <class T>
size_t sizeOf(const std::vector<T>& list) {
  return list.size() * sizeof(T);
}

size_t sizeOf(const scene::Model& model) {
  size_t out = 0;
  for (const auto& mesh : model.meshes)
    for (const scene::Primitive& p : mesh->primitives)
      out += sizeOf(p.positions) + sizeOf(p.normals) + sizeOf(p.tangents) + sizeOf(p.uvs[0]) +
             sizeOf(p.uvs[1]) + sizeOf(p.colors) + sizeOf(p.joints) + sizeOf(p.weights) + sizeOf(p.indices);
  for (const scene::Image& image : model.images) out += image.bytes ? image.bytes->size() : 0;
  return out;
}

// A line of /proc/self/status, in bytes.
double statusOf(const char* key) {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);)
    if (line.rfind(key, 0) == 0) return std::atof(line.c_str() + std::strlen(key) + 1) * 1024;
  return 0;
}

// The files in one, each behind its length.
base::Bytes packed(const std::vector<base::Bytes>& files) {
  base::ByteWriter out;
  for (const base::Bytes& file : files) {
    out.write(static_cast<uint64_t>(file.size()));
    out.bytes(file);
  }
  return out.take();
}

std::vector<base::Bytes> unpacked(base::ByteSpan all) {
  std::vector<base::Bytes> out;
  base::ByteReader in(all);
  while (in.left() > 0) {
    const auto one = in.bytes(in.read<uint64_t>());
    out.emplace_back(one.begin(), one.end());
  }
  return out;
}

// Our import of all files, pictures decoded; the models, to be weighed.
std::vector<scene::Model> oursOf(const Case& c, const std::vector<base::Bytes>& files) {
  std::vector<scene::Model> out(files.size());
  const auto one = [&](size_t i) {
    auto read = formats::readModel(files[i], c.file, nullptr);
    if (!read) return;
    for (const scene::Image& image : read->model.images)
      if (!formats::decodePicture(*image.bytes, "picture")) return;
    out[i] = std::move(read->model);
  };
  if (files.size() == 1)
    one(0);
  else
    base::parallelFor(files.size(), one);
  return out;
}

// The first call of a fresh process: what a person waits for.
Measured measureHere(const Case& c, bool ours, const std::string& path) {
  std::vector<base::Bytes> files;
  {
    std::ifstream in(path, std::ios::binary);
    const std::string all((std::istreambuf_iterator<char>(in)), {});
    files = unpacked(base::asBytes(all));
  }
  malloc_trim(0);
  std::ofstream("/proc/self/clear_refs") << 5;  // the peak is counted from here
  const double before = statusOf("VmRSS:");
  Measured out;
  const auto begin = Clock::now();
  if (ours) {
    const auto models = oursOf(c, files);
    out.seconds = seconds(begin);
    double size = 0;
    for (const scene::Model& model : models) {
      size += static_cast<double>(sizeOf(model));
      out.triangles += static_cast<double>(scene::countsOf(model).triangles);
    }
    out.peak_of_model = (statusOf("VmHWM:") - before) / size;
  } else {
    for (const base::Bytes& file : files) out.triangles += static_cast<double>(c.peer(file));
    out.seconds = seconds(begin);
  }
  return out;
}

Measured measureApart(const Case& c, bool ours, const std::string& path) {
  const std::string command = std::filesystem::read_symlink("/proc/self/exe").string() + " --one " + c.name +
                              (ours ? " ours " : " peer ") + path;
  Measured out;
  FILE* pipe = popen(command.c_str(), "r");
  if (pipe == nullptr) return out;
  if (std::fscanf(pipe, "%lf %lf %lf", &out.seconds, &out.triangles, &out.peak_of_model) != 3) out = {};
  pclose(pipe);
  return out;
}

double median(std::vector<double> list) {
  std::nth_element(list.begin(), list.begin() + static_cast<ptrdiff_t>(list.size() / 2), list.end());
  return list[list.size() / 2];
}

// Each pair of processes in turn, so that both meet the same machine.
void importBeside(benchmark::State& state, const Case& c) {
  const std::string path =
      (std::filesystem::temp_directory_path() / ("rakugo-bench-" + std::to_string(getpid()))).string();
  size_t bytes = 0;
  {
    const auto files = c.make();
    for (const auto& file : files) bytes += file.size();
    if (!base::writeFileAtomic(path, packed(files))) return state.SkipWithError("the input is not written");
  }
  std::vector<double> ratios, peaks;
  for (auto _ : state) {
    const Measured ours = measureApart(c, true, path), peer = measureApart(c, false, path);
    if (ours.triangles == 0 || ours.triangles != peer.triangles) {
      state.SkipWithError("the two differ");
      break;
    }
    ratios.push_back(ours.seconds / peer.seconds);
    peaks.push_back(ours.peak_of_model);
    state.SetIterationTime(ours.seconds);
  }
  std::filesystem::remove(path);
  if (ratios.empty()) return;
  state.counters["of_peer"] = median(ratios);
  state.counters["peak_of_model"] = median(peaks);
  state.counters["MB"] = static_cast<double>(bytes) / 1e6;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc == 5 && std::string_view(argv[1]) == "--one") {
    for (const Case& c : kCases)
      if (c.name == std::string_view(argv[2])) {
        const Measured m = measureHere(c, std::string_view(argv[3]) == "ours", argv[4]);
        std::printf("%.9f %.0f %.4f\n", m.seconds, m.triangles, m.peak_of_model);
        return 0;
      }
    return 2;
  }
  for (const Case& c : kCases)
    benchmark::RegisterBenchmark(c.name, [&c](benchmark::State& state) { importBeside(state, c); })
        ->UseManualTime()
        ->Unit(benchmark::kMillisecond)
        ->Iterations(9);
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
