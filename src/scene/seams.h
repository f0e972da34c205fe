// Where an outfit meets a body: borders of the one that lie at borders of the other.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "scene/model.h"

namespace rakugo::scene {

/// A border of a part: its vertices' places along it, in the model's space.
struct Border {
  NodeIndex part;
  std::vector<glm::vec3> places_m;
  bool closed = true;
};

/// All borders of all reached parts; vertices of equal position are one. `unit_m`: metres of one of the
/// model's.
std::vector<Border> bordersOf(const Model& model, double unit_m = 1);

struct SeamPair {
  size_t outfit = 0, body = 0;  ///< numbers of borders
  double largest_m = 0,
         mean_m = 0;  ///< from each of the outfit's vertices to the nearest vertex of the body's border
  double largest_back_m =
      0;  ///< the same the other way round: a vertex more on the body's side is a crack too
  glm::vec3 largest_at_m{0};  ///< the outfit's vertex with the largest gap
};

struct SeamOptions {
  float most_ratio =
      0.25F;  ///< mean gap beside the diagonal of the outfit's border, above which two are no pair
};

struct Seams {
  std::vector<SeamPair> pairs;                   ///< smallest mean gap first
  std::vector<size_t> loose_outfit, loose_body;  ///< borders without a partner
};

/// Pairs borders, nearest first, each at most once. Cost: the product of the numbers of border vertices.
Seams pairBorders(const std::vector<Border>& outfit, const std::vector<Border>& body,
                  const SeamOptions& options = {});

/// All borders of both, the names of the parts they belong to, and how they pair. Both in metres.
struct SeamReport {
  std::vector<Border> outfit, body;
  std::vector<std::string> outfit_parts, body_parts;
  Seams seams;
  /// The widest crack of a pair, from either side; metres.
  [[nodiscard]] static double widest_m(const SeamPair& pair) {
    return pair.largest_m > pair.largest_back_m ? pair.largest_m : pair.largest_back_m;
  }
};
SeamReport seamsBetween(const Model& outfit, const Model& body);

}  // namespace rakugo::scene
