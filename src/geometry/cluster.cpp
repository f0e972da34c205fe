#include "geometry/cluster.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "geometry/finite.h"

namespace rakugo::geometry {
std::vector<uint32_t> clusterVertices(std::span<const glm::vec3> positions, uint32_t cells) {
  std::vector<uint32_t> out(positions.size());
  glm::vec3 low(std::numeric_limits<float>::max()), high(std::numeric_limits<float>::lowest());
  for (const glm::vec3& p : positions)
    if (finite(p)) low = glm::min(low, p), high = glm::max(high, p);
  const glm::vec3 size = high - low;
  const float longest = std::max({size.x, size.y, size.z});
  const auto count = static_cast<float>(std::clamp(cells, 1U, 1024U));
  const float scale = longest > 0 ? count / longest : 0;
  std::unordered_map<uint32_t, uint32_t> first;
  first.reserve(std::min<size_t>(positions.size(), size_t{1} << 17));
  for (uint32_t v = 0; v < positions.size(); ++v) {
    if (!finite(positions[v])) {
      out[v] = v;
      continue;
    }
    const glm::uvec3 cell(glm::min((positions[v] - low) * scale, glm::vec3(count - 1)));
    out[v] = first.emplace(cell.x | (cell.y << 10) | (cell.z << 20), v).first->second;
  }
  return out;
}

std::vector<uint32_t> coarseTriangles(std::span<const uint32_t> triangles,
                                      std::span<const uint32_t> representatives) {
  std::vector<uint32_t> out;
  for (size_t t = 0; t + 2 < triangles.size(); t += 3) {
    uint32_t corner[3];
    bool known = true;
    for (size_t i = 0; i < 3; ++i) {
      known = known && triangles[t + i] < representatives.size();
      if (known) corner[i] = representatives[triangles[t + i]];
    }
    if (!known || corner[0] == corner[1] || corner[1] == corner[2] || corner[2] == corner[0]) continue;
    out.insert(out.end(), corner, corner + 3);
  }
  return out;
}

}  // namespace rakugo::geometry
