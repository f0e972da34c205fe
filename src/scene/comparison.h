// Two models side by side: a known-good one and one's own.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "scene/model.h"
#include "scene/named_places.h"

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

/// An attachment point that both have, by name.
struct PlacePair {
  std::string name;
  glm::vec3 a_m{0}, b_m{0};
};

/// What is compared, and what belongs to it that its model does not say.
struct Compared {
  const Model& model;
  double unit_m = 1;                   ///< metres of one of its units
  std::span<const NamedPlace> points;  ///< its attachment points, in its space and unit
};

struct ModelComparison {
  glm::vec3 extents_a_m{0}, extents_b_m{0};
  Counts a, b;
  NameComparison parts, materials, bones, regions, points, roles, morphs, animations;
  std::vector<PartPair> pairs;         ///< one a name in `parts.both`, in that order
  std::vector<PlacePair> point_pairs;  ///< one a name in `points.both`, in that order
  /// What differs, as sentences, the ones that matter most first: bones, regions, attachment points, parts,
  /// sizes, counts, materials.
  std::vector<std::string> differences;
};

/// Compares what the reached parts are. Extents count as equal within a thousandth, attachment points within
/// a millimetre.
ModelComparison compareModels(const Compared& a, const Compared& b);

}  // namespace rakugo::scene
