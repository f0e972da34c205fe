#include "prepare/surface/atlas.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <functional>
#include <map>
#include <optional>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/resample.h"
#include "geometry/rect_packing.h"
#include "geometry/union_find.h"
#include "prepare/surface/material_factors.h"
#include "scene/material_facts.h"

namespace rakugo::prepare {
namespace {

using base::phrase;
using formats::Picture;
using formats::PictureUse;

constexpr size_t kSlots = scene::kTextureSlots.size();
constexpr uint32_t kLeastSide = 16, kConstantSide = 8;
constexpr uint32_t kScaleSteps = 64, kLeastScale = 8;  // of kScaleSteps
constexpr size_t kMostIslands = 1500;                  // of one material; above, its picture goes as a whole
constexpr float kBorder = 1e-4F;
// A picture that repeats more often across one island would take most of the sheet for itself.
constexpr float kMostRepeats = 4;

// A rectangle of a material's picture, in pixels of the scaled picture, and where it goes. Where the picture
// repeats it may reach beyond the picture's own pixels.
struct Region {
  glm::uvec2 least{0}, most{0};  // most: one beyond
  glm::uvec2 place{0};           // of its first pixel, inside of the margin
  [[nodiscard]] glm::uvec2 size() const { return most - least; }
};

// The texture coordinates of one primitive that go onto the sheet.
struct Coordinates {
  scene::MeshIndex mesh;
  size_t primitive = 0;
  std::vector<glm::vec2> uvs;    // brought to begin on the picture, or on its mirror image
  std::vector<uint32_t> island;  // a vertex's, in `Part::boxes`
};

// One of the materials.
struct Part {
  scene::MaterialIndex index;
  std::array<bool, kSlots> pictures{};  // whether a slot has one; decoded when it is put on the sheet
  glm::uvec2 size{0};                   // of its largest picture; 0: it has none
  std::array<scene::Wrap, 2> wrap{};
  std::vector<Coordinates> coordinates;
  std::vector<std::pair<glm::vec2, glm::vec2>> boxes;  // of islands
  std::vector<Region> regions;
  std::vector<size_t> region_of;  // an island's
  glm::uvec2 scaled{0};
};

bool hasPictures(const scene::Material& m) {
  return std::any_of(scene::kTextureSlots.begin(), scene::kTextureSlots.end(),
                     [&](const scene::TextureSlot& slot) { return (m.*slot.use).image.valid(); });
}

// Whether pictures of the materials are pixel art; those that have any agree.
bool pixelArt(const scene::Model& model, const std::vector<Part>& parts) {
  return std::any_of(parts.begin(), parts.end(), [&](const Part& part) {
    const scene::Material& m = model.materials[part.index.value()];
    const auto lookup = commonLookup(m);
    return hasPictures(m) && lookup && lookup->filter == scene::Filter::nearest;
  });
}

// Calls body(mesh, primitive) for all that wears the material.
void eachWearing(const scene::Model& model, scene::MaterialIndex material,
                 const std::function<void(scene::MeshIndex, size_t, const scene::Primitive&)>& body) {
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (size_t k = 0; k < model.meshes[m]->primitives.size(); ++k)
      if (const scene::Primitive& p = model.meshes[m]->primitives[k]; p.material == material)
        body(scene::MeshIndex(m), k, p);
}

// Coordinates as they are looked up, each island moved to begin on the picture where that shows the same;
// nothing where one repeats the picture too often, or lies beside one that does not repeat. Adds to `boxes`.
std::optional<Coordinates> coordinatesOf(const scene::Primitive& p, const scene::TextureUse& lookup,
                                         std::vector<std::pair<glm::vec2, glm::vec2>>& boxes) {
  Coordinates out;
  const std::vector<glm::vec2>& given = p.uvs[lookup.uv_set < 2 ? lookup.uv_set : 0];
  out.uvs.resize(p.positions.size(), glm::vec2(0.5F));
  if (given.size() == p.positions.size())
    for (size_t v = 0; v < given.size(); ++v) {
      out.uvs[v] = lookup.lookedUp(given[v]);
      if (!std::isfinite(out.uvs[v].x) || !std::isfinite(out.uvs[v].y)) out.uvs[v] = glm::vec2(0.5F);
    }
  geometry::UnionFind sets(out.uvs.size());
  for (size_t c = 0; c + 2 < p.indices.size(); c += 3) {
    sets.join(p.indices[c], p.indices[c + 1]);
    sets.join(p.indices[c], p.indices[c + 2]);
  }
  std::map<uint32_t, uint32_t> number;
  const size_t first = boxes.size();
  out.island.resize(out.uvs.size());
  for (uint32_t v = 0; v < out.uvs.size(); ++v) {
    const auto [at, fresh] = number.emplace(sets.first(v), static_cast<uint32_t>(boxes.size()));
    if (fresh) boxes.push_back({out.uvs[v], out.uvs[v]});
    out.island[v] = at->second;
    auto& [least, most] = boxes[at->second];
    least = glm::min(least, out.uvs[v]);
    most = glm::max(most, out.uvs[v]);
  }
  std::vector<glm::vec2> moves;
  for (size_t i = first; i < boxes.size(); ++i) {
    auto& [least, most] = boxes[i];
    glm::vec2 move(0);
    for (int c = 0; c < 2; ++c) {
      const scene::Wrap wrap = c == 0 ? lookup.wrap_u : lookup.wrap_v;
      if (most[c] - least[c] > kMostRepeats) return std::nullopt;
      if (wrap == scene::Wrap::repeat) move[c] = -std::floor(least[c] + kBorder);
      // Every second copy is a mirror image.
      if (wrap == scene::Wrap::mirror) move[c] = -2 * std::floor((least[c] + kBorder) / 2);
      if (wrap == scene::Wrap::clamp && (least[c] < -kBorder || most[c] > 1 + kBorder)) return std::nullopt;
      least[c] = std::max(least[c] + move[c], 0.0F);
      most[c] += move[c];
      // What ends at a border ends there.
      if (std::abs(most[c] - std::round(most[c])) < kBorder)
        most[c] = std::max(std::round(most[c]), least[c]);
    }
    moves.push_back(move);
  }
  for (size_t v = 0; v < out.uvs.size(); ++v) out.uvs[v] += moves[out.island[v] - first];
  return out;
}

// A material of one colour: any place of it will do.
void collapse(Coordinates& coordinates, const std::vector<std::pair<glm::vec2, glm::vec2>>& boxes) {
  for (size_t v = 0; v < coordinates.uvs.size(); ++v) {
    const auto& [least, most] = boxes[coordinates.island[v]];
    const glm::vec2 extent = glm::max(most - least, glm::vec2(1e-6F));
    coordinates.uvs[v] = (coordinates.uvs[v] - least) / extent;
  }
}

base::Status readPart(const scene::Model& model, Part& part) {
  const scene::Material& m = model.materials[part.index.value()];
  for (size_t s = 0; s < kSlots; ++s) {
    const scene::TextureUse& use = m.*scene::kTextureSlots[s].use;
    if (!use.image.valid()) continue;
    const scene::Image& image = model.images[use.image.value()];
    RAKUGO_ASSIGN(const formats::PictureInfo info,
                  formats::pictureInfo(*image.bytes, image.uri.empty() ? image.name : image.uri));
    part.pictures[s] = true;
    part.size = glm::max(part.size, glm::uvec2(info.width, info.height));
  }
  const auto lookup = commonLookup(m);
  part.wrap = {lookup->wrap_u, lookup->wrap_v};
  const bool constant = part.size == glm::uvec2(0);
  eachWearing(model, part.index, [&](scene::MeshIndex mesh, size_t primitive, const scene::Primitive& p) {
    std::vector<std::pair<glm::vec2, glm::vec2>> boxes = part.boxes;
    auto coordinates = coordinatesOf(p, *lookup, boxes);
    if (!coordinates && constant) {
      // However often it would repeat: it is one colour.
      coordinates = Coordinates{};
      coordinates->uvs.assign(p.positions.size(), glm::vec2(0.5F));
      coordinates->island.assign(p.positions.size(), static_cast<uint32_t>(part.boxes.size()));
      boxes = part.boxes;
      boxes.push_back({glm::vec2(0), glm::vec2(1)});
    } else if (constant) {
      collapse(*coordinates, boxes);
    }
    part.boxes = std::move(boxes);
    coordinates->mesh = mesh;
    coordinates->primitive = primitive;
    part.coordinates.push_back(std::move(*coordinates));
  });
  return {};
}

// Islands as rectangles of pixels; those that overlap become one, so that no pixel is there twice.
void makeRegions(Part& part, double scale) {
  part.regions.clear();
  part.region_of.assign(part.boxes.size(), 0);
  if (part.size == glm::uvec2(0)) {
    part.scaled = glm::uvec2(kConstantSide);
    part.regions.push_back({glm::uvec2(0), part.scaled, {}});
    return;
  }
  for (int c = 0; c < 2; ++c)
    part.scaled[c] = std::max(1U, static_cast<uint32_t>(std::lround(part.size[c] * scale)));
  std::vector<Region> boxes;
  for (const auto& [least, most] : part.boxes) {
    Region one;
    for (int c = 0; c < 2; ++c) {
      const auto side = static_cast<float>(part.scaled[c]);
      const auto last = static_cast<uint32_t>(std::max(1.0F, std::ceil(most[c] - kBorder))) * part.scaled[c];
      one.least[c] = std::min(last - 1, static_cast<uint32_t>(std::floor(least[c] * side + kBorder)));
      one.most[c] =
          std::clamp(static_cast<uint32_t>(std::ceil(most[c] * side - kBorder)), one.least[c] + 1, last);
    }
    boxes.push_back(one);
  }
  if (boxes.size() > kMostIslands) {
    Region all{glm::uvec2(0), part.scaled, {}};
    for (const Region& one : boxes) all.most = glm::max(all.most, one.most);
    part.regions.push_back(all);
    return;
  }
  geometry::UnionFind same(part.boxes.size());
  // Until nothing overlaps: a joined rectangle may reach others.
  for (bool joined = true; joined;) {
    joined = false;
    for (size_t i = 0; i < boxes.size(); ++i)
      for (size_t k = i + 1; k < boxes.size(); ++k) {
        const uint32_t a = same.first(static_cast<uint32_t>(i)), b = same.first(static_cast<uint32_t>(k));
        if (a == b) continue;
        Region &x = boxes[a], &y = boxes[b];
        if (x.least.x >= y.most.x || y.least.x >= x.most.x || x.least.y >= y.most.y || y.least.y >= x.most.y)
          continue;
        const Region both{glm::min(x.least, y.least), glm::max(x.most, y.most), {}};
        boxes[same.join(a, b)] = both;
        joined = true;
      }
  }
  std::map<uint32_t, size_t> number;
  for (uint32_t i = 0; i < boxes.size(); ++i) {
    const auto [at, fresh] = number.emplace(same.first(i), part.regions.size());
    if (fresh) part.regions.push_back(boxes[same.first(i)]);
    part.region_of[i] = at->second;
  }
  if (part.regions.empty()) part.regions.push_back({glm::uvec2(0), glm::uvec2(1), {}});
}

// Places for all regions on a sheet of that side; false when they do not fit.
bool place(std::vector<Part>& parts, uint32_t side, uint32_t margin, AtlasReport& report) {
  std::vector<glm::uvec2> sizes;
  uint64_t area = 0;
  for (const Part& part : parts)
    for (const Region& region : part.regions) {
      sizes.push_back(region.size() + 2 * margin);
      area += uint64_t{sizes.back().x} * sizes.back().y;
    }
  if (area > uint64_t{side} * side) return false;
  const auto places = geometry::packRects(sizes, glm::uvec2(side));
  if (!places) return false;
  size_t i = 0;
  for (Part& part : parts)
    for (Region& region : part.regions) region.place = (*places)[i++] + margin;
  report.side = side;
  report.filled = static_cast<double>(area) / (static_cast<double>(side) * side);
  report.islands = sizes.size();
  return true;
}

// The smallest sheet that holds all as they are, else the largest scale that fits the largest sheet.
bool pack(std::vector<Part>& parts, const AtlasOptions& options, AtlasReport& report) {
  for (Part& part : parts) makeRegions(part, 1);
  for (uint32_t side = kLeastSide; side <= options.most_side; side *= 2)
    if (place(parts, side, options.margin, report)) return true;
  uint32_t largest = kLeastSide;
  while (largest * 2 <= options.most_side) largest *= 2;
  uint32_t low = kLeastScale, high = kScaleSteps;  // fits at low (to be seen), not at high
  const auto fits = [&](uint32_t step) {
    for (Part& part : parts) makeRegions(part, static_cast<double>(step) / kScaleSteps);
    return place(parts, largest, options.margin, report);
  };
  if (!fits(low)) return false;
  while (high - low > 1) {
    const uint32_t middle = (low + high) / 2;
    (fits(middle) ? low : high) = middle;
  }
  report.scale = static_cast<double>(low) / kScaleSteps;
  return fits(low);
}

// Moves all to a quarter of a sheet twice as large as `room`, brought down to a power of two.
void intoQuarter(std::vector<Part>& parts, uint32_t room, uint32_t quarter, AtlasReport& report) {
  uint32_t half = kLeastSide;
  while (half * 2 <= room) half *= 2;
  const glm::uvec2 corner((quarter - 1) % 2 * half, (quarter - 1) / 2 * half);
  for (Part& part : parts)
    for (Region& region : part.regions) region.place += corner;
  report.filled *= static_cast<double>(report.side) * report.side / (4.0 * half * half);
  report.side = 2 * half;
}

// Whether the sheet needs a picture in a slot: one has a picture there, or constants differ.
bool needed(const scene::Model& model, const std::vector<Part>& parts, size_t slot) {
  const scene::Material& first = model.materials[parts[0].index.value()];
  return std::any_of(parts.begin(), parts.end(), [&](const Part& part) {
    const scene::Material& m = model.materials[part.index.value()];
    if (part.pictures[slot]) return true;
    if (slot == kBaseColor) return m.base_color != first.base_color;
    if (slot == kMetalRough) return m.metallic != first.metallic || m.roughness != first.roughness;
    return slot == kGlow && m.emissive != first.emissive;
  });
}

// One picture at a time is decoded: a sheet of many large ones takes no more memory than of one.
base::Result<Picture> compose(const scene::Model& model, const std::vector<Part>& parts, size_t slot,
                              const AtlasReport& report, uint32_t margin, const base::Progress* progress) {
  const PictureUse use = formats::useOf(scene::kTextureSlots[slot]);
  Picture out = filled(report.side, report.side, neutral(slot));
  for (const Part& part : parts) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    Picture from = filled(1, 1, neutral(slot));
    if (part.pictures[slot]) {
      const scene::Material& m = model.materials[part.index.value()];
      const scene::Image& image = model.images[(m.*scene::kTextureSlots[slot].use).image.value()];
      RAKUGO_ASSIGN(from, formats::decodePicture(*image.bytes, image.uri.empty() ? image.name : image.uri));
    }
    takeFactors(from, model.materials[part.index.value()], slot);
    if (from.width != part.scaled.x || from.height != part.scaled.y)
      from = formats::resized(
          from, part.scaled.x, part.scaled.y, use,
          pixelArt(model, parts) ? formats::Resampling::pixels : formats::Resampling::smooth);
    for (const Region& region : part.regions) {
      // The margin goes on as the picture does: with what is looked up there.
      const auto source = [&](uint32_t at, int c) {
        const int64_t wanted = int64_t{region.least[c]} + at - margin, side = part.scaled[c];
        const scene::Wrap wrap = part.wrap[static_cast<size_t>(c)];
        if (wrap == scene::Wrap::clamp) return static_cast<size_t>(std::clamp<int64_t>(wanted, 0, side - 1));
        const int64_t period = wrap == scene::Wrap::mirror ? 2 * side : side;
        const int64_t within = (wanted % period + period) % period;
        return static_cast<size_t>(within < side ? within : period - 1 - within);
      };
      const glm::uvec2 size = region.size() + 2 * margin, corner = region.place - margin;
      for (uint32_t y = 0; y < size.y; ++y)
        for (uint32_t x = 0; x < size.x; ++x)
          std::memcpy(out.pixels.data() + ((size_t{corner.y} + y) * report.side + corner.x + x) * 4,
                      from.pixels.data() + (source(y, 1) * part.scaled.x + source(x, 0)) * 4, 4);
    }
  }
  return out;
}

// One more material, that shows the sheet.
base::Result<scene::MaterialIndex> addMaterial(scene::Model& model, const std::vector<Part>& parts,
                                               const AtlasReport& report, const AtlasOptions& options,
                                               const base::Progress* progress) {
  scene::Material made = model.materials[parts[0].index.value()];
  made.name = options.name;
  made.key = options.name;
  for (int n = 2; scene::findMaterial(model, made.key).valid(); ++n)
    made.key = options.name + "#" + std::to_string(n);
  made.kept.clear();
  std::array<std::optional<Picture>, kSlots> sheets;
  const auto anyPicture = [&](size_t slot) {
    return std::any_of(parts.begin(), parts.end(), [&](const Part& part) { return part.pictures[slot]; });
  };
  for (size_t s = 0; s < kSlots; ++s) {
    made.*scene::kTextureSlots[s].use = {};
    if (!needed(model, parts, s)) continue;
    RAKUGO_ASSIGN(sheets[s], compose(model, parts, s, report, options.margin, progress));
    // Constants alone need no such sharpness. Between two pixels of half the sharpness lies no more than the
    // margin, so that nothing takes its neighbour's.
    const bool with_other =
        (s == kOcclusion && anyPicture(kMetalRough)) || (s == kMetalRough && anyPicture(kOcclusion));
    if (!anyPicture(s) && !with_other && options.margin >= 4 && report.side > kLeastSide &&
        options.quarter == 0)
      sheets[s] = formats::resized(*sheets[s], report.side / 2, report.side / 2,
                                   formats::useOf(scene::kTextureSlots[s]), formats::Resampling::pixels);
  }
  // Occlusion is red, roughness green, metal blue: one picture holds all (glTF 2.0, section 3.9.3).
  if (sheets[kOcclusion] && sheets[kMetalRough])
    for (size_t i = 0; i < sheets[kMetalRough]->pixels.size(); i += 4)
      sheets[kMetalRough]->pixels[i] = sheets[kOcclusion]->pixels[i];
  scene::TextureUse use;
  use.wrap_u = use.wrap_v = scene::Wrap::clamp;
  if (pixelArt(model, parts)) use.filter = scene::Filter::nearest;
  const auto add = [&](size_t slot, const char* ending) {
    scene::Image image;
    image.name = base::slug(options.name) + ending;
    image.mime = "image/png";
    if (options.quarter > 0) {
      const uint32_t half = report.side / 2;
      image.shared = options.name;
      image.part = {(options.quarter - 1) % 2 * half, (options.quarter - 1) / 2 * half, half, half};
    }
    image.bytes =
        std::make_shared<const base::Bytes>(formats::encodePng(*sheets[slot], formats::PngEffort::quick));
    use.image = scene::ImageIndex(model.images.size());
    model.images.push_back(std::move(image));
    made.*scene::kTextureSlots[slot].use = use;
  };
  if (sheets[kBaseColor]) {
    add(kBaseColor, "");
    made.base_color = glm::vec4(1);
  }
  if (sheets[kMetalRough]) {
    add(kMetalRough, "-surface");
    made.metallic = made.roughness = 1;
    if (sheets[kOcclusion]) made.occlusion_texture = made.metallic_roughness_texture;
  } else if (sheets[kOcclusion]) {
    add(kOcclusion, "-occlusion");
  }
  made.occlusion_strength = 1;
  made.normal_scale = 1;
  if (sheets[kNormal]) add(kNormal, "-normal");
  if (sheets[kGlow]) {
    add(kGlow, "-glow");
    made.emissive = glm::vec3(1);
  }
  model.materials.push_back(std::move(made));
  return scene::MaterialIndex(model.materials.size() - 1);
}

void moveCoordinates(scene::Model& model, const std::vector<Part>& parts, const AtlasReport& report,
                     scene::MaterialIndex made) {
  std::map<size_t, scene::Mesh*> opened;  // each is copied once
  for (const Part& part : parts)
    for (const Coordinates& one : part.coordinates) {
      scene::Mesh*& mesh = opened[one.mesh.value()];
      if (mesh == nullptr) mesh = &model.editMesh(one.mesh);
      scene::Primitive& p = mesh->primitives[one.primitive];
      p.uvs[0].resize(p.positions.size());
      for (size_t v = 0; v < one.uvs.size(); ++v) {
        const Region& region = part.regions[part.boxes.size() > kMostIslands || part.size == glm::uvec2(0)
                                                ? 0
                                                : part.region_of[one.island[v]]];
        const glm::vec2 pixel = one.uvs[v] * glm::vec2(part.scaled) - glm::vec2(region.least);
        p.uvs[0][v] = (glm::vec2(region.place) + pixel) / static_cast<float>(report.side);
      }
      p.material = made;
    }
}

}  // namespace

std::string whyApart(const scene::Material& a, const scene::Material& b) {
  if (a.role != b.role) return phrase("they have different roles");
  if (a.alpha != b.alpha) return phrase("one is see-through in another way than the other");
  if (a.alpha == scene::AlphaMode::mask && a.alpha_cutoff != b.alpha_cutoff)
    return phrase("they are cut out at different values");
  if (a.double_sided != b.double_sided) return phrase("one is seen from both sides, the other is not");
  if (a.unlit != b.unlit) return phrase("one is drawn without light, the other is not");
  if (a.emissive_strength != b.emissive_strength) return phrase("they glow at different strengths");
  const auto x = commonLookup(a), y = commonLookup(b);
  if (x && y && hasPictures(a) && hasPictures(b) && x->filter != y->filter)
    return phrase("the pictures of one are pixel art, those of the other are not");
  return {};
}

std::string whyNotOnSheet(const scene::Model& model, scene::MaterialIndex material) {
  const scene::Material& m = model.materials[material.value()];
  const auto lookup = commonLookup(m);
  if (!lookup) return phrase("its pictures lie on it in different ways");
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const scene::TextureUse& use = m.*slot.use;
    if (use.image.valid() && !model.images[use.image.value()].bytes)
      return phrase("a picture of it is not there");
  }
  if (!hasPictures(m)) return {};
  // On the sheet nobody would see any more that this is a fault.
  if (m.base_color_texture.image.valid() &&
      glm::max(glm::max(m.base_color.x, m.base_color.y), m.base_color.z) <= 0)
    return phrase("its colour of 0 takes its picture away, which is to be mended first");
  bool repeats = false;
  std::vector<std::pair<glm::vec2, glm::vec2>> boxes;
  eachWearing(model, material, [&](scene::MeshIndex, size_t, const scene::Primitive& p) {
    repeats = repeats || !coordinatesOf(p, *lookup, boxes);
  });
  return repeats ? phrase(
                       "its picture repeats too often across one island, or its UVs lie beside a picture "
                       "that does not repeat")
                 : std::string();
}

AtlasGroups atlasGroups(const scene::Model& model) {
  AtlasGroups out;
  std::vector<std::vector<scene::MaterialIndex>> all;
  const std::vector<scene::MaterialIndex> used = scene::usedMaterials(model);
  for (const scene::MaterialIndex i : used) {
    if (std::string why = whyNotOnSheet(model, i); !why.empty()) {
      out.apart.emplace_back(i, std::move(why));
      continue;
    }
    const auto group = std::find_if(all.begin(), all.end(), [&](const auto& one) {
      return std::all_of(one.begin(), one.end(), [&](scene::MaterialIndex other) {
        return whyApart(model.materials[other.value()], model.materials[i.value()]).empty();
      });
    });
    if (group != all.end())
      group->push_back(i);
    else
      all.push_back({i});
  }
  for (auto& group : all) {
    if (group.size() > 1) {
      out.groups.push_back(std::move(group));
      continue;
    }
    // Why it is not with the first of the others.
    const scene::MaterialIndex alone = group.front();
    for (const scene::MaterialIndex i : used)
      if (i != alone) {
        out.apart.emplace_back(alone, whyApart(model.materials[alone.value()], model.materials[i.value()]));
        if (!out.apart.back().second.empty()) break;
        out.apart.pop_back();
      }
  }
  return out;
}

namespace {

// Where all goes on the sheet: `parts` with their places.
base::Result<AtlasReport> arrange(const scene::Model& model,
                                  const std::vector<scene::MaterialIndex>& materials,
                                  const AtlasOptions& options, std::vector<Part>& parts,
                                  const base::Progress* progress) {
  if (materials.empty()) return base::Error{"atlas.apart", phrase("Choose materials to merge."), {}, {}};
  for (size_t n = 0; n < materials.size(); ++n) {
    const scene::MaterialIndex i = materials[n];
    const scene::Material& m = model.materials[i.value()];
    // Each with all before it: one of a single colour says nothing of the filter.
    for (size_t k = 0; k < n; ++k) {
      const scene::Material& other = model.materials[materials[k].value()];
      if (const std::string why = whyApart(other, m); !why.empty())
        return base::Error{
            "atlas.apart", phrase("{0} and {1} cannot be one: {2}.", other.name, m.name, why), {}, {}};
    }
    if (const std::string why = whyNotOnSheet(model, i); !why.empty())
      return base::Error{"atlas.sheet", phrase("{0} cannot go onto a sheet: {1}.", m.name, why), {}, {}};
  }
  for (const scene::MaterialIndex i : materials) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    Part part;
    part.index = i;
    RAKUGO_TRY(readPart(model, part));
    parts.push_back(std::move(part));
  }
  AtlasReport report;
  report.materials = materials.size();
  AtlasOptions room = options;
  if (options.quarter > 0) room.most_side = std::max(kLeastSide, options.most_side / 2);
  if (!pack(parts, room, report))
    return base::Error{
        "atlas.full",
        phrase("The pictures do not fit on {0} pixels, even at an eighth of their size.", options.most_side),
        {},
        phrase("Allow a larger sheet, or choose fewer materials.")};
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  if (options.quarter > 0) intoQuarter(parts, room.most_side, options.quarter, report);
  return report;
}

}  // namespace

base::Result<AtlasReport> packAtlas(const scene::Model& model,
                                    const std::vector<scene::MaterialIndex>& materials,
                                    const AtlasOptions& options, const base::Progress* progress) {
  std::vector<Part> parts;
  return arrange(model, materials, options, parts, progress);
}

base::Result<AtlasReport> mergeIntoAtlas(scene::Model& model,
                                         const std::vector<scene::MaterialIndex>& materials,
                                         const AtlasOptions& options, const base::Progress* progress) {
  std::vector<Part> parts;
  RAKUGO_ASSIGN(const AtlasReport report, arrange(model, materials, options, parts, progress));
  RAKUGO_ASSIGN(const scene::MaterialIndex made, addMaterial(model, parts, report, options, progress));
  moveCoordinates(model, parts, report, made);
  return report;
}

}  // namespace rakugo::prepare
