#include "prepare/surface/make_uvs.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/finite.h"
#include "geometry/rect_packing.h"
#include "geometry/unwrap.h"
#include "geometry/welding.h"
#include "prepare/mesh/mesh_ops.h"
#include "scene/corner_split.h"

namespace rakugo::prepare {
namespace {

using base::phrase;

// A primitive laid flat, in metres.
struct Flat {
  scene::MeshIndex mesh;
  size_t primitive = 0;
  geometry::Unwrapped unwrapped;
  std::vector<glm::vec2> sizes;  // of charts
};

std::optional<Flat> layFlat(const scene::Primitive& p, float scale, const base::Progress* progress) {
  if (p.indices.size() < 3) return std::nullopt;
  std::vector<glm::vec3> positions = p.positions;
  for (glm::vec3& at : positions)
    if (!geometry::finite(at)) at = glm::vec3(0);
  const geometry::Welding places = geometry::weldEqual(positions);
  std::vector<glm::vec3> at;
  for (const uint32_t v : places.first) at.push_back(positions[v] * scale);
  std::vector<uint32_t> corners;
  for (const uint32_t v : p.indices) corners.push_back(places.of[v]);
  Flat out;
  out.unwrapped = geometry::unwrap(
      at, geometry::topologyOf(std::move(corners), static_cast<uint32_t>(at.size())), {}, progress);
  out.sizes.assign(out.unwrapped.charts, glm::vec2(0));
  for (size_t c = 0; c < out.unwrapped.uv.size(); ++c) {
    glm::vec2& size = out.sizes[out.unwrapped.chart[c / 3]];
    size = glm::max(size, out.unwrapped.uv[c]);
  }
  return out;
}

struct Sheet {
  std::vector<glm::uvec2> places;
  double texels_per_m = 0, filled = 0;
};

std::optional<Sheet> packAt(const std::vector<Flat>& parts, const UvOptions& options, double texels_per_m) {
  std::vector<glm::uvec2> sizes;
  double area = 0;
  for (const Flat& part : parts)
    for (const glm::vec2 size : part.sizes) {
      const glm::dvec2 pixels = glm::ceil(glm::dvec2(size) * texels_per_m) + 1.0 + 2.0 * options.margin;
      if (std::max(pixels.x, pixels.y) > options.side) return std::nullopt;
      sizes.emplace_back(pixels);
      area += pixels.x * pixels.y;
    }
  const double all = static_cast<double>(options.side) * options.side;
  if (area > all) return std::nullopt;
  auto places = geometry::packRects(sizes, glm::uvec2(options.side));
  if (!places) return std::nullopt;
  return Sheet{std::move(*places), texels_per_m, area / all};
}

// The finest that fits, to about a hundredth.
std::optional<Sheet> packFinest(const std::vector<Flat>& parts, const UvOptions& options) {
  double area = 0, longest = 0;
  for (const Flat& part : parts)
    for (const glm::vec2 size : part.sizes) {
      area += static_cast<double>(size.x) * size.y;
      longest = std::max({longest, static_cast<double>(size.x), static_cast<double>(size.y)});
    }
  if (!(longest > 0)) return packAt(parts, options, 1);
  double high = std::min(options.side / longest, options.side / std::sqrt(std::max(area, 1e-12)));
  std::optional<Sheet> best;
  double low = 0;
  for (int i = 0; i < 14; ++i) {
    const double middle = i == 0 ? high : (low + high) / 2;
    if (auto sheet = packAt(parts, options, middle)) {
      low = middle;
      best = std::move(sheet);
      if (i == 0) break;
    } else {
      high = middle;
    }
    if (best && high - low < high * 0.01) break;
  }
  return best;
}

void give(scene::Primitive& p, const Flat& part, const Sheet& sheet, size_t first, const UvOptions& options) {
  const geometry::Unwrapped& u = part.unwrapped;
  std::vector<glm::vec2> uvs(u.uv.size());
  const auto side = static_cast<float>(options.side);
  for (size_t c = 0; c < uvs.size(); ++c) {
    const glm::vec2 corner =
        glm::vec2(sheet.places[first + u.chart[c / 3]]) + static_cast<float>(options.margin) + 0.5F;
    uvs[c] = (corner + u.uv[c] * static_cast<float>(sheet.texels_per_m)) / side;
  }
  scene::splitCorners(p, [&](uint32_t a, uint32_t b) {
    const glm::vec2 apart = glm::abs(uvs[a] - uvs[b]);
    return u.chart[a / 3] == u.chart[b / 3] && std::max(apart.x, apart.y) < 1e-6F;
  });
  p.uvs[options.set].assign(p.positions.size(), glm::vec2(0));
  for (size_t c = 0; c < uvs.size(); ++c) p.uvs[options.set][p.indices[c]] = uvs[c];
  if (options.set == 0) p.tangents.clear();
}

}  // namespace

base::Result<UvReport> makeUvs(scene::Model& model, const UvOptions& options,
                               const base::Progress* progress) {
  // By material; what wears none has a sheet of its own.
  std::map<uint64_t, std::vector<Flat>> sheets;
  const std::vector<float> scales = meshScales(model);
  for (size_t m = 0; m < model.meshes.size(); ++m) {
    if (options.only.valid() && options.only != scene::MeshIndex(m)) continue;
    for (size_t k = 0; k < model.meshes[m]->primitives.size(); ++k) {
      if (progress != nullptr && progress->cancelled()) return base::cancelledError();
      const scene::Primitive& p = model.meshes[m]->primitives[k];
      if (options.missing_only && p.uvs[options.set].size() == p.positions.size()) continue;
      auto flat = layFlat(p, scales[m], progress);
      if (!flat) continue;
      flat->mesh = scene::MeshIndex(m);
      flat->primitive = k;
      sheets[p.material.valid() ? p.material.value() : UINT64_MAX].push_back(std::move(*flat));
    }
  }
  if (sheets.empty()) return base::Error{"uvs.none", phrase("There are no triangles to lay out."), {}, {}};
  std::map<uint64_t, Sheet> packed;
  UvReport report;
  report.texels_per_m = INFINITY;
  for (const auto& [material, parts] : sheets) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    auto sheet =
        options.texels_per_m > 0 ? packAt(parts, options, options.texels_per_m) : packFinest(parts, options);
    if (!sheet)
      return base::Error{"uvs.full",
                         phrase("The islands do not fit on {0} × {0} pixels.", options.side),
                         {},
                         phrase("Take a larger picture, fewer pixels to a metre or smaller margins.")};
    for (const Flat& part : parts) {
      report.islands += part.unwrapped.charts;
      report.stretch_95 = std::max(report.stretch_95, part.unwrapped.stretch_95);
    }
    report.filled += sheet->filled / static_cast<double>(sheets.size());
    report.texels_per_m = std::min(report.texels_per_m, sheet->texels_per_m);
    packed.emplace(material, std::move(*sheet));
  }
  std::map<size_t, scene::Mesh*> opened;  // each is copied once
  for (const auto& [material, parts] : sheets) {
    size_t first = 0;
    for (const Flat& part : parts) {
      scene::Mesh*& mesh = opened[part.mesh.value()];
      if (mesh == nullptr) mesh = &model.editMesh(part.mesh);
      give(mesh->primitives[part.primitive], part, packed.at(material), first, options);
      first += part.unwrapped.charts;
    }
  }
  return report;
}

}  // namespace rakugo::prepare
