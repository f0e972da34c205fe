// Two models side by side: a known-good one and one's own.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Names that only one of two things has, and those of both; sorted.
struct NameComparison {
  std::vector<std::string> only_a, only_b, both;
  [[nodiscard]] bool same() const { return only_a.empty() && only_b.empty(); }
};
NameComparison compareNames(std::vector<std::string> a, std::vector<std::string> b);

/// A part that both have, by name.
struct PartPair {
  std::string name;
  Counts a, b;
  glm::vec3 extents_a_m{0}, extents_b_m{0};
};

struct ModelComparison {
  glm::vec3 extents_a_m{0}, extents_b_m{0};
  Counts a, b;
  NameComparison parts, materials, bones, regions, roles, morphs, animations;
  std::vector<PartPair> pairs;  ///< one a name in `parts.both`, in that order
  /// What differs, as sentences, the ones that matter most first: bones, regions, parts, sizes, counts,
  /// materials.
  std::vector<std::string> differences;
};

/// Compares what the reached parts are. `unit_a_m`, `unit_b_m`: metres of one unit of each. Extents count as
/// equal within a thousandth.
ModelComparison compareModels(const Model& a, const Model& b, double unit_a_m = 1, double unit_b_m = 1);

}  // namespace rakugo::scene
