#include "geometry/skinning.h"

#include <algorithm>
#include <array>
#include <vector>

#include "base/jobs.h"

namespace rakugo::geometry {
namespace {

// The upper three rows of a matrix, so that a blend of them is three vectors.
struct Rows {
  std::array<glm::vec4, 3> row{};
};

}  // namespace

void addSkinned(std::span<const glm::vec3> positions, std::span<const glm::u16vec4> joints,
                std::span<const glm::vec4> weights, std::span<const glm::mat4> matrices,
                std::span<glm::vec3> out) {
  const size_t n = std::min({positions.size(), joints.size(), weights.size(), out.size()});
  // One more, of zeros, for numbers beyond.
  std::vector<Rows> rows(matrices.size() + 1);
  for (size_t m = 0; m < matrices.size(); ++m)
    for (int r = 0; r < 3; ++r)
      rows[m].row[static_cast<size_t>(r)] = {matrices[m][0][r], matrices[m][1][r], matrices[m][2][r],
                                             matrices[m][3][r]};
  const size_t none = matrices.size();
  constexpr size_t kRun = 16'384;
  base::parallelFor((n + kRun - 1) / kRun, [&](size_t run) {
    for (size_t v = run * kRun; v < std::min(n, (run + 1) * kRun); ++v) {
      const glm::vec4 weight = glm::max(weights[v], glm::vec4(0));
      Rows sum;
      for (int k = 0; k < 4; ++k) {
        const Rows& one = rows[std::min<size_t>(joints[v][k], none)];
        for (size_t r = 0; r < 3; ++r) sum.row[r] += one.row[r] * weight[k];
      }
      const glm::vec4 p(positions[v], 1);
      out[v] += glm::vec3(glm::dot(sum.row[0], p), glm::dot(sum.row[1], p), glm::dot(sum.row[2], p));
    }
  });
}

}  // namespace rakugo::geometry
