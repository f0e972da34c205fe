#include "prepare/fault_mends.h"

#include <algorithm>
#include <cmath>

namespace rakugo::prepare {

using base::Json;
using scene::FaultCode;

std::vector<FaultMend> mendsOf(FaultCode fault, double diagonal_m) {
  const Json none = Json::object();
  switch (fault) {
    case FaultCode::degenerate_triangles:
      return {{"remove_degenerate", none, "Remove them"}};
    case FaultCode::needle_triangles:
      return {{"remove_needles", none, "Remove them"}};
    case FaultCode::duplicate_triangles:
      return {{"remove_duplicates", none, "Remove the doubles"}};
    case FaultCode::unused_vertices:
      return {{"remove_unused", none, "Remove them"}};
    case FaultCode::coincident_vertices:
      return {{"weld", Json{{"distance_mm", 0.01}}, "Make them one"}};
    case FaultCode::open_edges:
      return {{"fill_holes", Json{{"most_edges", 64.0}}, "Fill the holes"}};
    case FaultCode::flipped_triangles:
      return {{"orient", none, "Turn them"}};
    case FaultCode::inside_out_shells:
      return {{"orient", none, "Turn them outward"}};
    case FaultCode::hidden_triangles:
      return {{"remove_hidden", none, "Remove them"}};
    case FaultCode::normals_missing:
      return {{"make_normals", Json{{"which", "missing"}}, "Make them"}};
    case FaultCode::normals_bad:
      return {{"make_normals", Json{{"which", "wrong"}}, "Make them anew"}};
    case FaultCode::shapeless_vertices:
      return {{"dissolve", Json{{"where", "same_picture"}}, "Remove them"},
              {"dissolve", Json{{"where", "everywhere"}}, "Remove all, even if pictures shift"}};
    case FaultCode::specks: {
      // Rounded up, so that the sentence reads well and no speck is missed.
      const double size_mm = diagonal_m * scene::StructureOptions().speck_ratio * 1000;
      const double step = std::pow(10.0, std::floor(std::log10(std::max(size_mm, 1e-3))) - 1);
      return {{"remove_specks", Json{{"size_mm", std::ceil(size_mm / step) * step}}, "Remove them"}};
    }
    case FaultCode::nonmanifold_edges:
    case FaultCode::nonmanifold_vertices:
    case FaultCode::self_intersections:
    case FaultCode::uvs_missing:
    case FaultCode::uvs_outside:
    case FaultCode::uvs_overlapping:
    case FaultCode::uvs_mirrored:
    case FaultCode::uvs_collapsed:
    case FaultCode::uvs_stretched:
    case FaultCode::unaligned_edges:
      return {};
  }
  return {};
}

}  // namespace rakugo::prepare
