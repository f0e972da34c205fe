#include "formats/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/files.h"
#include "base/text.h"
#include "formats/collada/collada.h"
#include "formats/gltf/gltf.h"
#include "scene/rest_pose.h"
#include "scene/written_model.h"

namespace rakugo::formats {
namespace {

using scene::Primitive;

base::Bytes bytesOf(const std::string& text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

// The shortest text that reads back as this very float.
std::string shortestNumber(float v) { return std::isfinite(v) ? fmt::format("{}", v) : std::string("nan"); }

// Where a part stands: its points and directions, and whether it is turned inside out there.
struct Stand {
  glm::mat4 point;
  glm::mat3 direction;
  bool mirrored;
  explicit Stand(const glm::mat4& world)
      : point(world),
        direction(glm::transpose(glm::inverse(glm::mat3(world)))),
        mirrored(glm::determinant(glm::mat3(world)) < 0) {
    if (!(std::abs(glm::determinant(glm::mat3(world))) > 0)) direction = glm::mat3(1);
  }
  [[nodiscard]] bool still() const { return point == glm::mat4(1); }
  // Untouched where nothing moves: a product with the identity would cost minus zeros their sign.
  [[nodiscard]] glm::vec3 at(glm::vec3 p) const { return still() ? p : glm::vec3(point * glm::vec4(p, 1)); }
  [[nodiscard]] glm::vec3 normal(glm::vec3 n) const {
    if (still()) return n;
    const glm::vec3 turned = direction * n;
    const float length = glm::length(turned);
    return length > 0 ? turned / length : n;
  }
};

// Calls visit(node, primitive, stand) for all that is drawn.
template <class Visit>
void eachPrimitive(const scene::Model& model, const base::Progress* progress, Visit visit) {
  const auto world = scene::worldMatrices(model);
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    // A skinned part stands where its bones put it, not where its node is.
    const Stand stand(node.skin.valid() ? glm::mat4(1) : world[i.value()]);
    const std::shared_ptr<const scene::Mesh> mesh = scene::restMesh(model, i, world);
    for (const Primitive& p : mesh->primitives) {
      if (progress != nullptr && progress->cancelled()) return;
      visit(node, p, stand);
    }
  }
}

// A name on one line, as OBJ takes it.
std::string lineName(const std::string& name) {
  std::string out;
  for (const char c : name) out += c == '\n' || c == '\r' ? ' ' : c;
  const size_t begin = out.find_first_not_of(" \t");
  if (begin == std::string::npos) return "unnamed";
  out = out.substr(begin, out.find_last_not_of(" \t") - begin + 1);
  if (out.back() == '\\') out += '_';  // it would take the next line with it
  return out;
}

// What a picture's file is called: as the source names it where that stays inside, else after the model.
std::string pictureFile(const scene::Image& image, size_t number_of, const std::string& stem) {
  if (!image.uri.empty() && base::isInnerPath(image.uri)) return image.uri;
  const char* ending = image.mime == "image/jpeg" ? ".jpg" : image.mime == "image/webp" ? ".webp" : ".png";
  return stem + "-" + std::to_string(number_of) + ending;
}

class ObjWriter {
 public:
  ObjWriter(const scene::Model& model, std::string stem, const base::Progress* progress)
      : model_(model), stem_(std::move(stem)), progress_(progress) {}

  Exported run() {
    name();
    text_ = "# lengths in metres\n";
    if (!model_.materials.empty()) text_ += "mtllib " + stem_ + ".mtl\n";
    size_t part = SIZE_MAX;
    eachPrimitive(model_, progress_, [&](const scene::Node& node, const Primitive& p, const Stand& stand) {
      const size_t now = static_cast<size_t>(&node - model_.nodes.data());
      if (now != part) text_ += "o " + lineName(node.name) + "\n";
      part = now;
      primitive(p, stand);
    });
    Exported out;
    out.files[stem_ + ".obj"] = bytesOf(text_);
    if (!model_.materials.empty()) out.files[stem_ + ".mtl"] = bytesOf(library(out));
    return out;
  }

 private:
  // Names by which the library's materials are told apart.
  void name() {
    std::set<std::string> taken;
    for (const scene::Material& m : model_.materials) {
      std::string own = lineName(m.name);
      for (int n = 2; !taken.insert(own).second; ++n) own = lineName(m.name) + "#" + std::to_string(n);
      names_.push_back(own);
    }
  }

  void primitive(const Primitive& p, const Stand& stand) {
    if (p.material.valid()) text_ += "usemtl " + names_[p.material.value()] + "\n";
    for (size_t v = 0; v < p.positions.size(); ++v) {
      const glm::vec3 at = stand.at(p.positions[v]);
      text_ += "v " + shortestNumber(at.x) + " " + shortestNumber(at.y) + " " + shortestNumber(at.z);
      if (!p.colors.empty())
        for (int c = 0; c < 4; ++c) text_ += " " + shortestNumber(p.colors[v][c]);
      text_ += "\n";
    }
    for (const glm::vec2& uv : p.uvs[0])
      text_ += "vt " + shortestNumber(uv.x) + " " + shortestNumber(1 - uv.y) + "\n";
    for (const glm::vec3& n : p.normals) {
      const glm::vec3 turned = stand.normal(n);
      text_ += "vn " + shortestNumber(turned.x) + " " + shortestNumber(turned.y) + " " +
               shortestNumber(turned.z) + "\n";
    }
    for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
      text_ += "f";
      for (size_t k = 0; k < 3; ++k) {
        const size_t i = p.indices[t + (stand.mirrored ? 2 - k : k)];
        text_ += " " + std::to_string(positions_ + i);
        if (!p.uvs[0].empty()) text_ += "/" + std::to_string(uvs_ + i);
        if (!p.normals.empty()) text_ += (p.uvs[0].empty() ? "//" : "/") + std::to_string(normals_ + i);
      }
      text_ += "\n";
    }
    positions_ += p.positions.size();
    uvs_ += p.uvs[0].size();
    normals_ += p.normals.size();
  }

  std::string library(Exported& out) {
    std::string text;
    for (size_t i = 0; i < model_.materials.size(); ++i) {
      const scene::Material& m = model_.materials[i];
      text += "newmtl " + names_[i] + "\nKd " + shortestNumber(m.base_color.x) + " " +
              shortestNumber(m.base_color.y) + " " + shortestNumber(m.base_color.z) + "\nd " +
              shortestNumber(m.base_color.w) + "\nKe " + shortestNumber(m.emissive.x) + " " +
              shortestNumber(m.emissive.y) + " " + shortestNumber(m.emissive.z) + "\nPr " +
              shortestNumber(m.roughness) + "\nPm " + shortestNumber(m.metallic) + "\n";
      map(text, "map_Kd", m.base_color_texture, out);
      map(text, "norm", m.normal_texture, out);
      map(text, "map_Ke", m.emissive_texture, out);
      map(text, "map_Pr", m.metallic_roughness_texture, out);
    }
    return text;
  }

  void map(std::string& text, const char* what, const scene::TextureUse& use, Exported& out) {
    if (!use.image.valid()) return;
    const scene::Image& image = model_.images[use.image.value()];
    const std::string file = pictureFile(image, use.image.value(), stem_);
    const bool clamp = use.wrap_u == scene::Wrap::clamp && use.wrap_v == scene::Wrap::clamp;
    std::string moved;
    // A library counts from the picture's lower edge, and knows no turning.
    if (!use.plain() && use.turn_rad == 0)
      moved = "-o " + shortestNumber(use.offset.x) + " " + shortestNumber(1 - use.scale.y - use.offset.y) +
              " 0 -s " + shortestNumber(use.scale.x) + " " + shortestNumber(use.scale.y) + " 1 ";
    text += std::string(what) + (clamp ? " -clamp on " : " ") + moved + file + "\n";
    if (image.bytes) out.files[file] = *image.bytes;
  }

  const scene::Model& model_;
  const std::string stem_;
  const base::Progress* progress_;
  std::string text_;
  std::vector<std::string> names_;
  size_t positions_ = 1, uvs_ = 1, normals_ = 1;
};

base::Bytes writePly(const scene::Model& model, const base::Progress* progress) {
  // One mesh: an attribute is there when all parts have it.
  uint64_t vertices = 0, faces = 0;
  bool normals = true, uvs = true, colors = true;
  eachPrimitive(model, progress, [&](const scene::Node&, const Primitive& p, const Stand&) {
    vertices += p.positions.size();
    faces += p.indices.size() / 3;
    normals = normals && !p.normals.empty();
    uvs = uvs && !p.uvs[0].empty();
    colors = colors && !p.colors.empty();
  });
  std::string head = "ply\nformat binary_little_endian 1.0\ncomment lengths in metres\nelement vertex " +
                     std::to_string(vertices) + "\n";
  const auto floats = [&](bool there, std::initializer_list<const char*> names) {
    for (const char* name : names)
      if (there) head += std::string("property float ") + name + "\n";
  };
  floats(true, {"x", "y", "z"});
  floats(normals, {"nx", "ny", "nz"});
  floats(uvs, {"s", "t"});
  floats(colors, {"red", "green", "blue", "alpha"});
  head += "element face " + std::to_string(faces) + "\nproperty list uchar uint vertex_indices\nend_header\n";
  base::ByteWriter out;
  out.bytes(base::asBytes(head));
  const auto put = [&](auto v, int count) {
    for (int i = 0; i < count; ++i) out.write<float>(v[i]);
  };
  eachPrimitive(model, progress, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
    for (size_t v = 0; v < p.positions.size(); ++v) {
      put(stand.at(p.positions[v]), 3);
      if (normals) put(stand.normal(p.normals[v]), 3);
      if (uvs) put(glm::vec2(p.uvs[0][v].x, 1 - p.uvs[0][v].y), 2);
      if (colors) put(p.colors[v], 4);
    }
  });
  uint32_t base = 0;
  eachPrimitive(model, progress, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
    for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
      out.write<uint8_t>(3);
      for (size_t k = 0; k < 3; ++k) out.write<uint32_t>(base + p.indices[t + (stand.mirrored ? 2 - k : k)]);
    }
    base += static_cast<uint32_t>(p.positions.size());
  });
  return out.take();
}

base::Bytes writeStl(const scene::Model& model, const base::Progress* progress) {
  uint32_t count = 0;
  eachPrimitive(model, progress, [&](const scene::Node&, const Primitive& p, const Stand&) {
    count += static_cast<uint32_t>(p.indices.size() / 3);
  });
  base::ByteWriter out;
  std::string head = "facets, lengths in metres";
  head.resize(80, ' ');
  out.bytes(base::asBytes(head));
  out.write<uint32_t>(count);
  eachPrimitive(model, progress, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
    for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
      glm::vec3 c[3];
      for (size_t k = 0; k < 3; ++k)
        c[k] = stand.at(p.positions[p.indices[t + (stand.mirrored ? 2 - k : k)]]);
      const glm::vec3 n = glm::cross(c[1] - c[0], c[2] - c[0]);
      const float length = glm::length(n);
      for (const glm::vec3& v : {length > 0 ? n / length : glm::vec3(0), c[0], c[1], c[2]})
        for (int i = 0; i < 3; ++i) out.write<float>(v[i]);
      out.write<uint16_t>(0);
    }
  });
  return out.take();
}

// File names of the pictures of a model, one an image; those that are not there keep their name. The bytes go
// into `out`.
std::vector<std::string> putPictures(const scene::Model& model, const std::string& stem, Exported& out) {
  std::vector<std::string> names;
  for (size_t i = 0; i < model.images.size(); ++i) {
    const scene::Image& image = model.images[i];
    if (!image.bytes) {
      names.push_back(image.uri);
      continue;
    }
    const std::string file = pictureFile(image, i, stem);
    out.files[file] = *image.bytes;
    names.push_back(file);
  }
  return names;
}

// glTF has +Y up and +Z forward (section 3.3); a model that stands otherwise gets a node above all that turns
// it.
scene::Model standingUp(const scene::Model& model) {
  scene::Model out = model;
  const glm::mat3 turn = geometry::quarterTurn(model.frame.forward, model.frame.up, geometry::Axis::plus_z,
                                               geometry::Axis::plus_y);
  if (turn == glm::mat3(1)) return out;
  scene::Node above;
  above.name = "upright";
  above.local.turn = glm::normalize(glm::quat_cast(turn));
  above.children = out.roots;
  const scene::NodeIndex index(out.nodes.size());
  for (const scene::NodeIndex root : out.roots) out.node(root).parent = index;
  out.nodes.push_back(std::move(above));
  out.roots = {index};
  return out;
}

// What is in a model that some format or other cannot carry.
struct Contents {
  bool second_uvs = false, colors = false, uvs = false, normals = false, morphs = false,
       morph_normals = false, moved_pictures = false, turned_pictures = false, cubic = false, kept = false;
  size_t parts = 0, cameras = 0, lights = 0;
};

Contents contentsOf(const scene::Model& model) {
  Contents out;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    out.kept = out.kept || !node.kept.empty();
    out.cameras += node.camera.valid() ? 1 : 0;
    out.lights += node.light.valid() ? 1 : 0;
    if (!node.mesh.valid()) continue;
    const scene::Mesh& mesh = model.mesh(node.mesh);
    out.morphs = out.morphs || !mesh.morph_names.empty();
    for (const Primitive& p : mesh.primitives) {
      out.second_uvs = out.second_uvs || !p.uvs[1].empty();
      out.uvs = out.uvs || !p.uvs[0].empty();
      out.colors = out.colors || !p.colors.empty();
      out.normals = out.normals || !p.normals.empty();
      for (const scene::MorphTarget& m : p.morphs)
        out.morph_normals = out.morph_normals || !m.normals.empty();
      ++out.parts;
    }
  }
  for (const scene::Material& m : model.materials) {
    out.kept = out.kept || !m.kept.empty();
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = m.*slot.use;
      out.moved_pictures = out.moved_pictures || (use.image.valid() && !use.plain());
      out.turned_pictures = out.turned_pictures || (use.image.valid() && use.turn_rad != 0);
    }
  }
  for (const scene::Animation& a : model.animations)
    for (const scene::Channel& c : a.channels)
      out.cubic = out.cubic || c.interpolation == scene::Interpolation::cubic;
  out.kept = out.kept || !model.kept.empty();
  return out;
}

std::vector<std::string> lostIn(const scene::Model& model, const std::string& ending) {
  std::vector<std::string> out;
  const auto lose = [&](bool there, const std::string& what) {
    if (there) out.push_back(what);
  };
  const Contents in = contentsOf(model);
  if (ending == "glb" || ending == "gltf") return out;
  if (ending == "obj")
    lose(in.turned_pictures, "the turning of pictures");
  else
    lose(in.moved_pictures, "the shifting and scaling of pictures");
  lose(in.kept, "extensions of the source's format");
  if (ending == "dae") {
    lose(in.morph_normals, "normals of morph targets");
    lose(in.cubic, "curves between keys (they are taken thirty times a second)");
    return out;
  }
  lose(!model.skins.empty(),
       base::countText(model.skins.size(), "skeleton with its weights", "skeletons with their weights"));
  lose(in.morphs, "morph targets");
  lose(!model.animations.empty(), base::countText(model.animations.size(), "animation", "animations"));
  lose(in.cameras > 0, base::countText(in.cameras, "camera", "cameras"));
  lose(in.lights > 0, base::countText(in.lights, "light", "lights"));
  lose(in.second_uvs, "second texture coordinates");
  if (ending == "obj") return out;
  lose(!model.materials.empty(), base::countText(model.materials.size(), "material", "materials"));
  lose(in.parts > 1, "the division into parts");
  if (ending == "ply") return out;
  lose(in.uvs, "texture coordinates");
  lose(in.colors, "vertex colours");
  lose(in.normals, "smooth normals");
  return out;
}

}  // namespace

const std::vector<std::string>& exportEndings() {
  static const std::vector<std::string> kEndings = {"glb", "gltf", "dae", "obj", "ply", "stl"};
  return kEndings;
}

base::Result<Exported> exportModel(const scene::Model& whole, const std::string& name,
                                   const base::Progress* progress) {
  const auto cancelled = [&] { return progress != nullptr && progress->cancelled(); };
  // What nothing uses does not go out.
  const scene::Model model = scene::reachedModel(whole);
  if (cancelled()) return base::cancelledError();
  const size_t dot = name.rfind('.');
  const std::string ending =
      dot == std::string::npos ? std::string() : base::lowerAscii(name.substr(dot + 1));
  const std::string stem = name.substr(0, dot);
  Exported out;
  if (ending == "glb") {
    out.files[name] = writeGlb(standingUp(scene::writtenModel(model)), progress);
  } else if (ending == "gltf") {
    const scene::Model written = scene::writtenModel(model);
    const std::vector<std::string> pictures = putPictures(written, stem, out);
    out.files[name] =
        bytesOf(writeGltf(standingUp(written), pictures, stem + ".bin", out.files[stem + ".bin"], progress));
  } else if (ending == "dae") {
    const std::vector<std::string> pictures = putPictures(model, stem, out);
    out.files[name] = bytesOf(writeCollada(model, pictures, progress));
  } else if (ending == "obj")
    out = ObjWriter(model, stem, progress).run();
  else if (ending == "ply")
    out.files[name] = writePly(model, progress);
  else if (ending == "stl")
    out.files[name] = writeStl(model, progress);
  else
    return base::Error{"export.unknown_format",
                       "\"" + base::presentable(name, 80) + "\" names no format that can be written.",
                       {},
                       "End the name in .glb, .gltf, .dae, .obj, .ply or .stl."};
  if (cancelled()) return base::cancelledError();
  out.lost = lostIn(whole, ending);
  return out;
}

}  // namespace rakugo::formats
