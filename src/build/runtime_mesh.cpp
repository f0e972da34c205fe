#include <algorithm>
#include <cmath>

#include "build/runtime.h"
#include "geometry/vertex_cache.h"

namespace rakugo::build {
namespace {

using bundle::Attribute;
using bundle::AttributeFormat;
using bundle::Semantic;

struct Layout {
  bool tangent = false, uv0 = false, uv1 = false, color = false;
};

Layout layoutOf(const scene::Mesh& mesh) {
  Layout out;
  for (const scene::Primitive& p : mesh.primitives) {
    out.tangent = out.tangent || !p.tangents.empty();
    out.uv0 = out.uv0 || !p.uvs[0].empty();
    out.uv1 = out.uv1 || !p.uvs[1].empty();
    out.color = out.color || !p.colors.empty();
  }
  return out;
}

void describe(const Layout& layout, bundle::MeshPayload& out) {
  const auto add = [&](Semantic semantic, AttributeFormat format) {
    out.attributes.push_back({semantic, format, out.stride});
    out.stride += bundle::formatBytes(format);
  };
  add(Semantic::position, AttributeFormat::f32x3);
  add(Semantic::normal, AttributeFormat::f32x3);
  if (layout.tangent) add(Semantic::tangent, AttributeFormat::f32x4);
  if (layout.uv0) add(Semantic::uv0, AttributeFormat::f32x2);
  if (layout.uv1) add(Semantic::uv1, AttributeFormat::f32x2);
  if (layout.color) add(Semantic::color, AttributeFormat::unorm8x4);
}

template <class T>
T at(const std::vector<T>& values, uint32_t i, T fallback) {
  return i < values.size() ? values[i] : fallback;
}

float finiteOr(float value, float fallback) { return std::isfinite(value) ? value : fallback; }

void writeVertex(base::ByteWriter& out, const scene::Primitive& p, uint32_t i, const Layout& layout,
                 float factor) {
  const auto write = [&](auto v, int n, float fallback) {
    for (int c = 0; c < n; ++c) out.write<float>(finiteOr(v[c], fallback));
  };
  write(p.positions[i] * factor, 3, 0);
  write(at(p.normals, i, glm::vec3(0, 0, 1)), 3, 0);
  if (layout.tangent) write(at(p.tangents, i, glm::vec4(1, 0, 0, 1)), 4, 0);
  if (layout.uv0) write(at(p.uvs[0], i, glm::vec2(0)), 2, 0);
  if (layout.uv1) write(at(p.uvs[1], i, glm::vec2(0)), 2, 0);
  if (layout.color) {
    const glm::vec4 color = at(p.colors, i, glm::vec4(1));
    for (int c = 0; c < 4; ++c)
      out.write<uint8_t>(
          static_cast<uint8_t>(std::lround(std::clamp(finiteOr(color[c], 1), 0.0F, 1.0F) * 255)));
  }
}

}  // namespace

std::vector<RuntimePart> runtimeParts(const scene::Model& model, double unit_m) {
  std::vector<RuntimePart> out;
  const auto world = scene::worldMatrices(model);
  const auto factor = static_cast<float>(1 / unit_m);
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    const scene::Mesh& mesh = model.mesh(node.mesh);
    RuntimePart part;
    part.node = i;
    part.name = node.name;
    part.world = node.skin.valid() ? glm::mat4(1) : world[i.value()];
    const Layout layout = layoutOf(mesh);
    describe(layout, part.mesh);
    base::ByteWriter vertices;
    geometry::Bounds box;
    for (const scene::Primitive& p : mesh.primitives) {
      if (p.indices.empty()) continue;
      const auto count = static_cast<uint32_t>(p.positions.size());
      const std::vector<uint32_t> ordered = geometry::orderForVertexCache(p.indices, count);
      uint32_t used = 0;
      const std::vector<uint32_t> place = geometry::orderOfFirstUse(ordered, count, used);
      std::vector<uint32_t> back(used);
      for (uint32_t v = 0; v < count; ++v)
        if (place[v] != 0xFFFFFFFFu) back[place[v]] = v;
      bundle::Submesh submesh{static_cast<uint32_t>(part.mesh.indices.size()),
                              static_cast<uint32_t>(ordered.size()),
                              static_cast<uint32_t>(part.materials.size())};
      for (const uint32_t v : ordered) part.mesh.indices.push_back(part.mesh.vertex_count + place[v]);
      for (const uint32_t v : back) {
        writeVertex(vertices, p, v, layout, factor);
        box.add(p.positions[v] * factor);
      }
      part.mesh.vertex_count += used;
      part.mesh.submeshes.push_back(submesh);
      part.materials.push_back(p.material);
    }
    if (part.mesh.indices.empty()) continue;
    part.mesh.vertices = vertices.take();
    for (int c = 0; c < 3; ++c) {
      part.mesh.bounds_min[static_cast<size_t>(c)] = box.empty() ? 0 : box.min[c];
      part.mesh.bounds_max[static_cast<size_t>(c)] = box.empty() ? 0 : box.max[c];
    }
    out.push_back(std::move(part));
  }
  return out;
}

}  // namespace rakugo::build
