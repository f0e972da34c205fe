#include "formats/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/files.h"
#include "base/text.h"

namespace rakugo::formats {
namespace {

using scene::Primitive;

base::Bytes bytesOf(const std::string& text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

// The shortest text that reads back as this very float.
std::string number(float v) { return std::isfinite(v) ? fmt::format("{}", v) : std::string("nan"); }

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
void eachPrimitive(const scene::Model& model, Visit visit) {
  const auto world = scene::worldMatrices(model);
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    // A skinned part stands where its bones put it, not where its node is; at rest that is the mesh itself.
    const Stand stand(node.skin.valid() ? glm::mat4(1) : world[i.value()]);
    for (const Primitive& p : model.mesh(node.mesh).primitives) visit(node, p, stand);
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

class ObjWriter {
 public:
  ObjWriter(const scene::Model& model, std::string stem) : model_(model), stem_(std::move(stem)) {}

  Exported run() {
    name();
    text_ = "# lengths in metres\n";
    if (!model_.materials.empty()) text_ += "mtllib " + stem_ + ".mtl\n";
    size_t part = SIZE_MAX;
    eachPrimitive(model_, [&](const scene::Node& node, const Primitive& p, const Stand& stand) {
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
      text_ += "v " + number(at.x) + " " + number(at.y) + " " + number(at.z);
      if (!p.colors.empty())
        for (int c = 0; c < 4; ++c) text_ += " " + number(p.colors[v][c]);
      text_ += "\n";
    }
    for (const glm::vec2& uv : p.uvs[0]) text_ += "vt " + number(uv.x) + " " + number(1 - uv.y) + "\n";
    for (const glm::vec3& n : p.normals) {
      const glm::vec3 turned = stand.normal(n);
      text_ += "vn " + number(turned.x) + " " + number(turned.y) + " " + number(turned.z) + "\n";
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
      text += "newmtl " + names_[i] + "\nKd " + number(m.base_color.x) + " " + number(m.base_color.y) + " " +
              number(m.base_color.z) + "\nd " + number(m.base_color.w) + "\nKe " + number(m.emissive.x) +
              " " + number(m.emissive.y) + " " + number(m.emissive.z) + "\nPr " + number(m.roughness) +
              "\nPm " + number(m.metallic) + "\n";
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
    std::string file = image.uri;
    if (file.empty() || !base::isInnerPath(file)) {
      const bool jpeg = image.mime == "image/jpeg";
      file = stem_ + "-" + std::to_string(use.image.value()) + (jpeg ? ".jpg" : ".png");
    }
    const bool clamp = use.wrap_u == scene::Wrap::clamp && use.wrap_v == scene::Wrap::clamp;
    text += std::string(what) + (clamp ? " -clamp on " : " ") + file + "\n";
    if (image.bytes) out.files[file] = *image.bytes;
  }

  const scene::Model& model_;
  const std::string stem_;
  std::string text_;
  std::vector<std::string> names_;
  size_t positions_ = 1, uvs_ = 1, normals_ = 1;
};

base::Bytes writePly(const scene::Model& model) {
  // One mesh: an attribute is there when all parts have it.
  uint64_t vertices = 0, faces = 0;
  bool normals = true, uvs = true, colors = true;
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand&) {
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
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
    for (size_t v = 0; v < p.positions.size(); ++v) {
      put(stand.at(p.positions[v]), 3);
      if (normals) put(stand.normal(p.normals[v]), 3);
      if (uvs) put(glm::vec2(p.uvs[0][v].x, 1 - p.uvs[0][v].y), 2);
      if (colors) put(p.colors[v], 4);
    }
  });
  uint32_t base = 0;
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
    for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
      out.write<uint8_t>(3);
      for (size_t k = 0; k < 3; ++k) out.write<uint32_t>(base + p.indices[t + (stand.mirrored ? 2 - k : k)]);
    }
    base += static_cast<uint32_t>(p.positions.size());
  });
  return out.take();
}

base::Bytes writeStl(const scene::Model& model) {
  uint32_t count = 0;
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand&) {
    count += static_cast<uint32_t>(p.indices.size() / 3);
  });
  base::ByteWriter out;
  std::string head = "facets, lengths in metres";
  head.resize(80, ' ');
  out.bytes(base::asBytes(head));
  out.write<uint32_t>(count);
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand& stand) {
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

std::vector<std::string> lostIn(const scene::Model& model, const std::string& ending) {
  std::vector<std::string> out;
  const auto lose = [&](bool there, const std::string& what) {
    if (there) out.push_back(what);
  };
  bool second_uvs = false, colors = false, uvs = false, normals = false;
  size_t parts = 0;
  eachPrimitive(model, [&](const scene::Node&, const Primitive& p, const Stand&) {
    second_uvs = second_uvs || !p.uvs[1].empty();
    uvs = uvs || !p.uvs[0].empty();
    colors = colors || !p.colors.empty();
    normals = normals || !p.normals.empty();
    ++parts;
  });
  lose(!model.skins.empty(),
       base::countText(model.skins.size(), "skeleton with its weights", "skeletons with their weights"));
  lose(!model.animations.empty(), base::countText(model.animations.size(), "animation", "animations"));
  lose(second_uvs, "second texture coordinates");
  if (ending == "obj") return out;
  lose(!model.materials.empty(), base::countText(model.materials.size(), "material", "materials"));
  lose(parts > 1, "the division into parts");
  if (ending == "ply") return out;
  lose(uvs, "texture coordinates");
  lose(colors, "vertex colours");
  lose(normals, "smooth normals");
  return out;
}

}  // namespace

const std::vector<std::string>& exportEndings() {
  static const std::vector<std::string> kEndings = {"obj", "ply", "stl"};
  return kEndings;
}

base::Result<Exported> exportModel(const scene::Model& model, const std::string& name) {
  const size_t dot = name.rfind('.');
  const std::string ending =
      dot == std::string::npos ? std::string() : base::lowerAscii(name.substr(dot + 1));
  const std::string stem = name.substr(0, dot);
  Exported out;
  if (ending == "obj")
    out = ObjWriter(model, stem).run();
  else if (ending == "ply")
    out.files[name] = writePly(model);
  else if (ending == "stl")
    out.files[name] = writeStl(model);
  else
    return base::Error{"export.unknown_format",
                       "\"" + base::presentable(name, 80) + "\" names no format that can be written.",
                       {},
                       "End the name in .obj, .ply or .stl."};
  out.lost = lostIn(model, ending);
  return out;
}

}  // namespace rakugo::formats
