#include "scene/texel_density.h"

#include <cmath>

namespace rakugo::scene {

std::map<uint32_t, double> texelDensities(const Model& model, std::span<const glm::uvec2> sizes_px) {
  struct Worn {
    double area_m2 = 0, pixels = 0;
  };
  std::map<uint32_t, Worn> worn;
  const auto world = worldMatrices(model);
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    const glm::mat4 matrix = node.skin.valid() ? glm::mat4(1) : world[i.value()];
    for (const Primitive& p : model.mesh(node.mesh).primitives) {
      if (!p.material.valid() || p.uvs[0].size() != p.positions.size()) continue;
      const ImageIndex image = model.materials[p.material.value()].base_color_texture.image;
      if (!image.valid() || sizes_px[image.value()] == glm::uvec2(0)) continue;
      const glm::uvec2 size = sizes_px[image.value()];
      Worn& w = worn[static_cast<uint32_t>(p.material.value())];
      for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
        const auto at = [&](size_t k) {
          return glm::dvec3(matrix * glm::vec4(p.positions[p.indices[t + k]], 1));
        };
        const auto uv = [&](size_t k) { return glm::dvec2(p.uvs[0][p.indices[t + k]]); };
        const double area = glm::length(glm::cross(at(1) - at(0), at(2) - at(0))) * 0.5;
        const glm::dvec2 a = uv(1) - uv(0), b = uv(2) - uv(0);
        const double shown = std::abs(a.x * b.y - a.y * b.x) * 0.5 * size.x * size.y;
        if (!std::isfinite(area) || !std::isfinite(shown)) continue;
        w.area_m2 += area;
        w.pixels += shown;
      }
    }
  }
  std::map<uint32_t, double> out;
  for (const auto& [material, w] : worn)
    if (w.area_m2 > 0) out[material] = std::sqrt(w.pixels / w.area_m2);
  return out;
}

}  // namespace rakugo::scene
