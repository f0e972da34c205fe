// What a model is clothed in: each material with its role, its pictures, and what they cost in the game.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "check/role_proposals.h"

namespace rakugo::check {

struct SlotReport {
  std::string slot;     ///< one of `scene::kTextureSlots`
  std::string picture;  ///< as the source names it; may be empty
  bool found = false;   ///< it is there and can be read; what follows is known then
  std::string format;
  uint32_t width = 0, height = 0;  ///< pixels
  bool normal_map = false;         ///< by its values
  double transparent = 0;          ///< share of its pixels
  uint64_t bytes = 0;  ///< in the game's memory, with all mip levels, at the size that the game takes
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
};

struct SurfaceReport {
  std::vector<MaterialReport> materials;                   ///< those that are worn, in the model's order
  uint64_t bytes = 0;                                      ///< of all pictures, each once
  std::vector<std::vector<std::string>> groups;            ///< keys of materials that can become one
  std::vector<std::pair<std::string, std::string>> apart;  ///< keys of others, and why not
};

/// The report of a model of the examination; empty where there is none of that name, or it could not be read.
SurfaceReport surfaceReport(const Context& context, const std::string& model);

}  // namespace rakugo::check
