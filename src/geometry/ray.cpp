#include "geometry/ray.h"

namespace rakugo::geometry {

std::optional<RayHit> rayMeets(glm::vec3 origin, glm::vec3 direction, glm::vec3 a, glm::vec3 b, glm::vec3 c) {
  using glm::dvec3;
  const dvec3 along(direction), e1 = dvec3(b) - dvec3(a), e2 = dvec3(c) - dvec3(a), p = glm::cross(along, e2);
  const double det = glm::dot(e1, p);
  if (det == 0) return std::nullopt;
  const dvec3 s = dvec3(origin) - dvec3(a), q = glm::cross(s, e1);
  const RayHit hit{glm::dot(e2, q) / det, glm::dot(s, p) / det, glm::dot(along, q) / det};
  // Comparisons with NaN fail.
  if (!(hit.u >= 0 && hit.v >= 0 && hit.u + hit.v <= 1 && hit.distance > 0)) return std::nullopt;
  return hit;
}

std::optional<NearestHit> nearestHit(const Bvh& tree, std::span<const glm::vec3> positions,
                                     std::span<const uint32_t> indices, glm::vec3 origin, glm::vec3 direction,
                                     double most) {
  std::optional<NearestHit> best;
  tree.first(origin, direction, static_cast<float>(std::min<double>(most, std::numeric_limits<float>::max())),
             [&](uint32_t triangle) {
               const uint32_t* corner = indices.data() + size_t{triangle} * 3;
               const auto hit = rayMeets(origin, direction, positions[corner[0]], positions[corner[1]],
                                         positions[corner[2]]);
               if (hit && hit->distance < (best ? best->distance : most)) best = NearestHit{*hit, triangle};
               return best ? static_cast<float>(best->distance) : std::numeric_limits<float>::max();
             });
  return best;
}

}  // namespace rakugo::geometry
