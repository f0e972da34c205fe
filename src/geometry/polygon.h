// Polygons of any number of corners into triangles.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Appends n - 2 triangles (positions in `corners`, 3 each, in the polygon's winding) to `out`; nothing for
/// fewer than three corners. The polygon may be concave and a little out of plane, but without holes; it is
/// looked at along its Newell normal (Sutherland, Sproull and Schumacker, 1974) and cut ear by ear (Meisters,
/// "Polygons have ears", 1975). One that crosses itself, is degenerate, holds numbers that are not finite, or
/// has more than `kMostEars` corners becomes a fan. Cost: linear for up to four corners, else quadratic at
/// worst.
void triangulatePolygon(std::span<const glm::vec3> corners, std::vector<uint32_t>& out);
inline constexpr size_t kMostEars = 2000;

/// The same for a polygon with holes: `corners` holds the outline and then each hole, `holes` where each of
/// those begins (ascending). The holes' winding does not matter. Each hole is joined to the outline by a cut
/// to the nearest corner that it sees (Held, "FIST", 2001, section 3.3), and the whole is cut ear by ear.
/// Where that fails, the outline alone is cut as above. Cost: quadratic in all corners, cubic at worst.
void triangulateWithHoles(std::span<const glm::vec3> corners, std::span<const size_t> holes,
                          std::vector<uint32_t>& out);

/// The area-weighted normal of a polygon, not normalised: its length is twice the area.
glm::vec3 newellNormal(std::span<const glm::vec3> corners);

}  // namespace rakugo::geometry
