#include "prepare/surface/uv_cover.h"

#include <algorithm>
#include <cmath>

namespace rakugo::prepare {
namespace {

// Marks what a triangle touches, in pixels; pixels beyond the sides come back on the other.
void mark(const std::array<glm::dvec2, 3>& c, uint32_t width, uint32_t height, std::vector<uint8_t>& out) {
  const glm::dvec2 least = glm::floor(glm::min(c[0], glm::min(c[1], c[2]))),
                   most = glm::ceil(glm::max(c[0], glm::max(c[1], c[2])));
  const auto wrapped = [](double v, uint32_t side) {
    const auto i = static_cast<int64_t>(v);
    return static_cast<size_t>(((i % side) + side) % side);
  };
  const double turn = (c[1].x - c[0].x) * (c[2].y - c[0].y) - (c[1].y - c[0].y) * (c[2].x - c[0].x);
  for (double y = least.y; y < std::max(most.y, least.y + 1); ++y)
    for (double x = least.x; x < std::max(most.x, least.x + 1); ++x) {
      // A pixel is touched unless it lies wholly beyond one of the sides.
      bool beyond = false;
      for (size_t k = 0; k < 3 && turn != 0 && !beyond; ++k) {
        const glm::dvec2 a = c[k], b = c[(k + 1) % 3];
        const double sign = turn > 0 ? 1 : -1;
        double inmost = -1e300;
        for (const glm::dvec2 corner : {glm::dvec2(x, y), {x + 1, y}, {x, y + 1}, {x + 1, y + 1}})
          inmost = std::max(inmost, sign * ((b.x - a.x) * (corner.y - a.y) - (b.y - a.y) * (corner.x - a.x)));
        beyond = inmost < 0;
      }
      if (!beyond) out[wrapped(y, height) * width + wrapped(x, width)] = 1;
    }
}

}  // namespace

std::vector<uint8_t> shownPixels(const scene::Model& model, scene::ImageIndex image, size_t slot,
                                 uint32_t width, uint32_t height) {
  std::vector<uint8_t> out(size_t{width} * height, 0);
  constexpr double kFar = 64;  // pictures; what repeats more often shows everything
  for (const auto& mesh : model.meshes)
    for (const scene::Primitive& p : mesh->primitives) {
      if (!p.material.valid()) continue;
      const scene::TextureUse& use = model.materials[p.material.value()].*scene::kTextureSlots[slot].use;
      if (use.image != image || use.uv_set > 1 || p.uvs[use.uv_set].size() != p.positions.size()) continue;
      for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
        std::array<glm::dvec2, 3> c;
        bool whole = false, finite = true;
        for (size_t k = 0; k < 3; ++k) {
          const glm::vec2 uv = use.lookedUp(p.uvs[use.uv_set][p.indices[t + k]]);
          finite = finite && std::isfinite(uv.x) && std::isfinite(uv.y);
          const bool beside = uv.x < -1e-4F || uv.y < -1e-4F || uv.x > 1 + 1e-4F || uv.y > 1 + 1e-4F;
          whole = whole ||
                  (beside && (use.wrap_u != scene::Wrap::repeat || use.wrap_v != scene::Wrap::repeat)) ||
                  std::abs(uv.x) > kFar || std::abs(uv.y) > kFar;
          c[k] = glm::dvec2(uv) * glm::dvec2(width, height);
        }
        if (!finite) continue;
        const glm::dvec2 size = glm::max(c[0], glm::max(c[1], c[2])) - glm::min(c[0], glm::min(c[1], c[2]));
        if (whole || size.x > 4.0 * width || size.y > 4.0 * height) {
          std::fill(out.begin(), out.end(), uint8_t{1});
          return out;
        }
        mark(c, width, height, out);
      }
    }
  return out;
}

}  // namespace rakugo::prepare
