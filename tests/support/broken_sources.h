// Sources of a mod broken in all ways that a file can be, for mutants of the mod.
#pragma once

#include <filesystem>
#include <functional>
#include <limits>
#include <random>
#include <string>

#include "base/files.h"
#include "base/sha256.h"
#include "formats/gltf/gltf.h"
#include "formats/pictures/pictures.h"
#include "formats/read_model.h"
#include "mod/documents.h"

namespace rakugo::test {

struct SourceFault {
  const char* name;
  void (*make)(scene::Model& model);
};

inline void eachPicture(scene::Model& model, const std::function<void(base::Bytes& bytes)>& change) {
  for (scene::Image& image : model.images) {
    if (!image.bytes) continue;
    base::Bytes bytes = *image.bytes;
    change(bytes);
    image.bytes = std::make_shared<const base::Bytes>(std::move(bytes));
  }
}
inline void eachMeshPiece(scene::Model& model,
                          const std::function<void(scene::Primitive& primitive)>& change) {
  for (size_t i = 0; i < model.meshes.size(); ++i)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(i)).primitives) change(p);
}
inline void renameAll(scene::Model& model, const std::string& name) {
  for (scene::Node& node : model.nodes) node.name = node.key = name;
  for (scene::Material& material : model.materials) material.name = material.key = name;
}
inline base::Bytes plainPng(uint32_t width, uint32_t height) {
  return formats::encodePng({width, height, base::Bytes(size_t{4} * width * height, std::byte{0x90})});
}

inline const std::vector<SourceFault>& sourceFaults() {
  using scene::Model;
  using scene::Primitive;
  static const std::vector<SourceFault> kFaults = {
      {"picture-cut", [](Model& m) { eachPicture(m, [](auto& b) { b.resize(b.size() * 2 / 3); }); }},
      {"picture-garbage", [](Model& m) { eachPicture(m, [](auto& b) { b.assign(40, std::byte{3}); }); }},
      {"picture-empty", [](Model& m) { eachPicture(m, [](auto& b) { b.clear(); }); }},
      {"picture-missing",
       [](Model& m) {
         for (scene::Image& image : m.images) image.bytes = nullptr, image.uri = "none.png";
       }},
      {"picture-odd", [](Model& m) { eachPicture(m, [](auto& b) { b = plainPng(37, 5); }); }},
      {"picture-long", [](Model& m) { eachPicture(m, [](auto& b) { b = plainPng(5000, 3); }); }},
      {"picture-pixel", [](Model& m) { eachPicture(m, [](auto& b) { b = plainPng(1, 1); }); }},
      {"not-a-number",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           if (!p.positions.empty()) p.positions[0].y = std::numeric_limits<float>::quiet_NaN();
         });
       }},
      {"beyond-numbers",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           for (glm::vec3& at : p.positions) at.x = std::numeric_limits<float>::infinity();
         });
       }},
      {"far-off",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           for (glm::vec3& at : p.positions) at *= 1e30F;
         });
       }},
      {"without-triangles", [](Model& m) { eachMeshPiece(m, [](Primitive& p) { p.indices.clear(); }); }},
      {"without-meshes",
       [](Model& m) {
         for (scene::Node& node : m.nodes) node.mesh = {}, node.skin = {};
       }},
      {"without-scene", [](Model& m) { m.roots.clear(); }},
      {"flat",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           for (glm::vec3& at : p.positions) at.y = 0;
         });
       }},
      {"in-one-point",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) { p.positions.assign(p.positions.size(), glm::vec3(0)); });
       }},
      {"bare",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           p.normals.clear();
           for (auto& uvs : p.uvs) uvs.clear();
         });
       }},
      {"many-triangles",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           const std::vector<uint32_t> once = p.indices;
           while (!once.empty() && p.indices.size() < 90'000)
             p.indices.insert(p.indices.end(), once.begin(), once.end());
         });
       }},
      {"many-vertices",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           Primitive more;
           for (uint32_t v = 0; v < 70'000; ++v)
             more.positions.emplace_back(0.001F * static_cast<float>(v % 300), 0.3F,
                                         0.001F * static_cast<float>(v / 300));
           for (uint32_t v = 0; v + 301 < more.positions.size(); v += 2)
             more.indices.insert(more.indices.end(), {v, v + 300, v + 1});
           more.material = p.material;
           p = std::move(more);
         });
       }},
      {"without-weights",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) {
           p.joints.clear(), p.weights.clear(), p.more_joints.clear(), p.more_weights.clear();
         });
       }},
      {"weights-of-nothing",
       [](Model& m) {
         eachMeshPiece(m, [](Primitive& p) { p.weights.assign(p.weights.size(), glm::vec4(0)); });
       }},
      {"without-bones",
       [](Model& m) {
         for (scene::Node& node : m.nodes) node.skin = {};
       }},
      {"scaled-to-nothing",
       [](Model& m) {
         for (const scene::NodeIndex root : m.roots) m.node(root).local.scale = glm::vec3(0);
       }},
      {"unnamed", [](Model& m) { renameAll(m, ""); }},
      {"of-one-name", [](Model& m) { renameAll(m, "x"); }},
      {"of-odd-names", [](Model& m) { renameAll(m, "../\"ü\"\n\t\\ \x01" + std::string(200, 'n')); }}};
  return kFaults;
}

/// The document of a source that is `source` with that fault; written below `folder` when it is asked for
/// first.
inline mod::SourceDoc brokenSource(const std::filesystem::path& folder, const std::string& source,
                                   const mod::SourceDoc& doc, const SourceFault& fault) {
  const std::string file = std::string(fault.name) + ".glb";
  const std::filesystem::path path = folder / "sources" / source / file;
  if (!std::filesystem::exists(path)) {
    auto read = formats::readModelFile(folder / mod::versionFolder(source, doc) / doc.file);
    if (!read) return doc;
    fault.make(read->model);
    for (scene::Image& image : read->model.images)
      if (image.bytes) image.uri.clear();
    if (!base::writeFileAtomic(path, formats::writeGlb(read->model))) return doc;
  }
  mod::SourceDoc out = doc;
  out.file = file;
  out.files = {{file, base::hex(base::sha256(std::move(base::readFile(path)).value()))}};
  return out;
}

}  // namespace rakugo::test
