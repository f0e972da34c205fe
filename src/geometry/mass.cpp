#include "geometry/mass.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "geometry/finite.h"

namespace rakugo::geometry {

MassProperties massOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners) {
  MassProperties out;
  glm::dvec3 from(0);
  size_t counted = 0;
  for (const uint32_t i : corners)
    if (finite(positions[i])) from += glm::dvec3(positions[i]), ++counted;
  if (counted == 0) return out;
  from /= static_cast<double>(counted);
  glm::dvec3 first(0);   // volume x place
  glm::dmat3 second(0);  // volume x place x place
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    const glm::vec3 &pa = positions[corners[t]], &pb = positions[corners[t + 1]],
                    &pc = positions[corners[t + 2]];
    if (!finite(pa) || !finite(pb) || !finite(pc)) continue;
    const glm::dvec3 a = glm::dvec3(pa) - from, b = glm::dvec3(pb) - from, c = glm::dvec3(pc) - from;
    const double volume = glm::dot(a, glm::cross(b, c)) / 6;
    const glm::dvec3 sum = a + b + c;
    out.volume += volume;
    first += volume / 4 * sum;
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j)
        second[i][j] += volume / 20 * (a[i] * a[j] + b[i] * b[j] + c[i] * c[j] + sum[i] * sum[j]);
  }
  out.center = from;
  if (out.volume == 0) return out;
  const glm::dvec3 off = first / out.volume;
  out.center += off;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) second[i][j] -= out.volume * off[i] * off[j];
  const double trace = second[0][0] + second[1][1] + second[2][2];
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) out.inertia[i][j] = (i == j ? trace : 0) - second[i][j];
  return out;
}

PrincipalAxes principalAxes(const glm::dmat3& inertia) {
  glm::dmat3 m = inertia, axes(1);
  const auto off = [&] { return std::abs(m[0][1]) + std::abs(m[0][2]) + std::abs(m[1][2]); };
  const double size = std::abs(m[0][0]) + std::abs(m[1][1]) + std::abs(m[2][2]);
  for (int round = 0; round < 60 && off() > 1e-15 * size; ++round)
    for (const auto& [p, q] : {std::pair(0, 1), std::pair(0, 2), std::pair(1, 2)}) {
      if (m[p][q] == 0) continue;
      const double theta = (m[q][q] - m[p][p]) / (2 * m[p][q]);
      const double t = (theta >= 0 ? 1 : -1) / (std::abs(theta) + std::sqrt(theta * theta + 1));
      const double c = 1 / std::sqrt(t * t + 1), s = t * c;
      glm::dmat3 turn(1);  // columns
      turn[p][p] = turn[q][q] = c;
      turn[q][p] = s;
      turn[p][q] = -s;
      m = glm::transpose(turn) * m * turn;
      axes = axes * turn;
    }
  std::array<int, 3> order = {0, 1, 2};
  std::sort(order.begin(), order.end(), [&](int a, int b) { return m[a][a] < m[b][b]; });
  PrincipalAxes out;
  for (int i = 0; i < 3; ++i) {
    const int from = order[static_cast<size_t>(i)];
    out.moments[i] = m[from][from];
    out.axes[i] = axes[from];
  }
  if (glm::determinant(out.axes) < 0) out.axes[2] = -out.axes[2];
  return out;
}

}  // namespace rakugo::geometry
