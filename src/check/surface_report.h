// What a model is clothed in: each material with its role, its pictures, and what they cost in the game.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "check/role_proposals.h"
#include "prepare/surface/picture_needs.h"

namespace rakugo::check {

struct SlotReport {
  std::string slot;     ///< one of `scene::kTextureSlots`
  std::string picture;  ///< as the source names it; may be empty
  bool found = false;   ///< it is there and can be read; what follows is known then
  std::string format;
  uint32_t width = 0, height = 0;                             ///< pixels
  bool normal_map = false;                                    ///< by its values
  double transparent = 0;                                     ///< share of its pixels
  rulebook::PictureRole role = rulebook::PictureRole::color;  ///< which decides how it is stored
  /// In the game's memory, with all that is stored of it, at the size that the game takes; for each of
  /// `SurfaceReport::targets`.
  std::vector<uint64_t> bytes;
};

struct MaterialReport {
  std::string key, name, role;  ///< role: an id, or empty
  std::optional<RoleProposal> proposal;
  std::vector<std::string> parts;  ///< names of those that wear it
  uint64_t triangles = 0;
  std::string alpha;  ///< "opaque", "mask", "blend"
  std::array<float, 3> color{};
  float metal = 0, roughness = 0;
  std::optional<double> texels_per_m;  ///< of its base colour
  std::vector<SlotReport> slots;       ///< those with a picture
  /// Pictures that the game reads it from, packed: id and what their channels hold.
  std::vector<std::pair<std::string, std::string>> packed;
};

struct SurfaceReport {
  std::vector<MaterialReport> materials;                   ///< those that are worn, in the model's order
  std::vector<rulebook::Target> targets;                   ///< the rulebook's, the usual one first
  std::vector<uint64_t> bytes;                             ///< for each of them, all pictures once
  std::vector<std::vector<std::string>> groups;            ///< keys of materials that can become one
  std::vector<std::pair<std::string, std::string>> apart;  ///< keys of others, and why not
};

/// What the pictures of a material of the model take in the game's memory, each once, for each target of the
/// rulebook. `needs`: `prepare::pictureNeeds` of the model.
std::vector<uint64_t> bytesOf(
    const rulebook::Rulebook& book, const ModelState& state, const scene::Material& material,
    const std::map<std::pair<scene::ImageIndex, formats::PictureUse>, prepare::PictureNeed>& needs);

/// Sides of the model's pictures in pixels, one each; (0, 0) for one that cannot be read.
std::vector<glm::uvec2> pictureSizes(const ModelState& state);

/// The report of a model of the examination; empty where there is none of that name, or it could not be read.
SurfaceReport surfaceReport(const Context& context, const std::string& model);

}  // namespace rakugo::check
