#include "shapes.h"

#include <cmath>

namespace rakugo::demo {
uint32_t Shape::vertex(glm::vec3 p, glm::vec3 n, glm::vec2 uv) {
  primitive_.positions.push_back(p);
  primitive_.normals.push_back(n);
  primitive_.uvs[0].push_back(uv);
  return static_cast<uint32_t>(primitive_.positions.size() - 1);
}

void Shape::quad(uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
  const auto distinct = [&](uint32_t i, uint32_t j) {
    return glm::distance(primitive_.positions[i], primitive_.positions[j]) > 1e-6F;
  };
  if (distinct(a, b) && distinct(b, c) && distinct(a, c))
    primitive_.indices.insert(primitive_.indices.end(), {a, b, c});
  if (distinct(a, c) && distinct(c, d) && distinct(a, d))
    primitive_.indices.insert(primitive_.indices.end(), {a, c, d});
}

void Shape::lathe(const std::vector<glm::vec2>& profile, int segments, glm::vec3 center, float u_repeat,
                  float picture_m, float crease_deg) {
  const size_t edges = profile.size() - 1;
  std::vector<glm::vec2> normal(edges);
  for (size_t i = 0; i < edges; ++i) {
    const glm::vec2 along = glm::normalize(profile[i + 1] - profile[i]);
    normal[i] = {along.y, -along.x};
  }
  const float least = std::cos(crease_deg * kPi / 180);
  float v = 0;
  for (size_t i = 0; i < edges; ++i) {
    const float length = glm::distance(profile[i], profile[i + 1]);
    const auto shared = [&](size_t other) {
      return glm::dot(normal[i], normal[other]) >= least ? glm::normalize(normal[i] + normal[other])
                                                         : normal[i];
    };
    const glm::vec2 n0 = i > 0 ? shared(i - 1) : normal[i];
    const glm::vec2 n1 = i + 1 < edges ? shared(i + 1) : normal[i];
    std::vector<uint32_t> low, high;
    for (int s = 0; s <= segments; ++s) {
      const float a = static_cast<float>(s) / static_cast<float>(segments) * 2 * kPi;
      const glm::vec3 out(std::cos(a), std::sin(a), 0);
      const float u = static_cast<float>(s) / static_cast<float>(segments) * u_repeat;
      low.push_back(vertex(center + out * profile[i].x + glm::vec3(0, 0, profile[i].y),
                           glm::normalize(out * n0.x + glm::vec3(0, 0, n0.y)), {u, 1 - v / picture_m}));
      high.push_back(vertex(center + out * profile[i + 1].x + glm::vec3(0, 0, profile[i + 1].y),
                            glm::normalize(out * n1.x + glm::vec3(0, 0, n1.y)),
                            {u, 1 - (v + length) / picture_m}));
    }
    for (size_t s = 0; s < static_cast<size_t>(segments); ++s) quad(low[s], low[s + 1], high[s + 1], high[s]);
    v += length;
  }
}

void Shape::tube(const std::vector<glm::vec3>& path, const std::function<float(float)>& radius, int segments,
                 float u_repeat, float picture_m) {
  glm::vec3 side(0);
  std::vector<uint32_t> before;
  float v = 0;
  for (size_t i = 0; i < path.size(); ++i) {
    const glm::vec3 along = glm::normalize(path[std::min(i + 1, path.size() - 1)] - path[i > 0 ? i - 1 : 0]);
    // The frame is carried along the path, so that the pipe does not twist.
    if (i == 0)
      side = glm::normalize(std::abs(along.z) < 0.9F ? glm::cross(along, glm::vec3(0, 0, 1))
                                                     : glm::cross(along, glm::vec3(0, 1, 0)));
    side = glm::normalize(side - along * glm::dot(side, along));
    const glm::vec3 other = glm::cross(along, side);
    const float r = radius(static_cast<float>(i) / static_cast<float>(path.size() - 1));
    if (i > 0) v += glm::distance(path[i], path[i - 1]);
    std::vector<uint32_t> ring;
    for (int s = 0; s <= segments; ++s) {
      const float a = static_cast<float>(s) / static_cast<float>(segments) * 2 * kPi;
      const glm::vec3 n = side * std::cos(a) + other * std::sin(a);
      ring.push_back(
          vertex(path[i] + n * r, n,
                 {static_cast<float>(s) / static_cast<float>(segments) * u_repeat, v / picture_m}));
    }
    if (i > 0)
      for (size_t s = 0; s < static_cast<size_t>(segments); ++s)
        quad(before[s], before[s + 1], ring[s + 1], ring[s]);
    for (const bool start : {true, false}) {
      if ((start && i != 0) || (!start && i + 1 != path.size())) continue;
      const glm::vec3 n = start ? -along : along;
      const uint32_t middle = vertex(path[i], n, {0.5F, 0.5F});
      std::vector<uint32_t> rim;
      for (int s = 0; s <= segments; ++s) {
        const glm::vec3 p = primitive_.positions[ring[static_cast<size_t>(s)]];
        rim.push_back(vertex(
            p, n, {0.5F + (static_cast<float>(s) / static_cast<float>(segments) - 0.5F) * 0.2F, 0.45F}));
      }
      for (size_t s = 0; s < static_cast<size_t>(segments); ++s) {
        if (start)
          primitive_.indices.insert(primitive_.indices.end(), {middle, rim[s + 1], rim[s]});
        else
          primitive_.indices.insert(primitive_.indices.end(), {middle, rim[s], rim[s + 1]});
      }
    }
    before = ring;
  }
}

void Shape::sheet(const std::vector<std::vector<glm::vec3>>& rows, float picture_m, bool flip) {
  const size_t across = rows.front().size();
  std::vector<std::vector<uint32_t>> at(rows.size());
  std::vector<size_t> points;
  const size_t before = primitive_.indices.size();
  for (size_t r = 0; r < rows.size(); ++r)
    for (size_t c = 0; c < across; ++c) {
      const glm::vec3 along = rows[std::min(r + 1, rows.size() - 1)][c] - rows[r > 0 ? r - 1 : 0][c];
      const glm::vec3 over = rows[r][std::min(c + 1, across - 1)] - rows[r][c > 0 ? c - 1 : 0];
      glm::vec3 n = glm::cross(along, over);
      // Where rows meet in a point, the triangles about it know the surface better.
      if (glm::length(n) < 1e-9F) points.push_back(primitive_.positions.size()), n = glm::vec3(0, 0, 1);
      at[r].push_back(
          vertex(rows[r][c], glm::normalize(flip ? -n : n),
                 {rows[r][c].x / picture_m, static_cast<float>(c) / static_cast<float>(across - 1)}));
    }
  for (size_t r = 0; r + 1 < rows.size(); ++r)
    for (size_t c = 0; c + 1 < across; ++c) {
      if (flip)
        quad(at[r][c], at[r][c + 1], at[r + 1][c + 1], at[r + 1][c]);
      else
        quad(at[r][c], at[r + 1][c], at[r + 1][c + 1], at[r][c + 1]);
    }
  for (const size_t point : points) {
    const glm::vec3 p = primitive_.positions[point];
    glm::vec3 n(0);
    for (size_t t = before; t < primitive_.indices.size(); t += 3) {
      const auto corner = [&](size_t k) { return primitive_.positions[primitive_.indices[t + k]]; };
      bool near = false;
      for (size_t k = 0; k < 3; ++k) near = near || glm::distance(corner(k), p) < 1e-5F;
      if (near) n += glm::cross(corner(1) - corner(0), corner(2) - corner(0));
    }
    if (glm::length(n) > 1e-12F) primitive_.normals[point] = glm::normalize(n);
  }
}

void Shape::polygon(const std::vector<glm::vec3>& corners, float picture_m) {
  const glm::vec3 n = glm::normalize(glm::cross(corners[1] - corners[0], corners[2] - corners[0]));
  const glm::vec3 u =
      glm::normalize(std::abs(n.z) > 0.9F ? glm::vec3(1, 0, 0) : glm::cross(glm::vec3(0, 0, 1), n));
  const glm::vec3 w = glm::cross(n, u);
  std::vector<uint32_t> at;
  for (const glm::vec3& c : corners)
    at.push_back(vertex(c, n, {glm::dot(c, u) / picture_m, -glm::dot(c, w) / picture_m}));
  for (size_t i = 2; i < at.size(); ++i)
    primitive_.indices.insert(primitive_.indices.end(), {at[0], at[i - 1], at[i]});
}

void Shape::box(glm::vec3 min, glm::vec3 max, float chamfer, float picture_m) {
  // Each face is drawn in by the chamfer; bevels join neighbouring faces, small triangles close the corners.
  const glm::vec3 center = (min + max) * 0.5F, half = (max - min) * 0.5F;
  const auto facing = [&](std::vector<glm::vec3> corners) {
    const glm::vec3 n = glm::cross(corners[1] - corners[0], corners[2] - corners[0]);
    glm::vec3 middle(0);
    for (const glm::vec3& c : corners) middle += c / static_cast<float>(corners.size());
    if (glm::dot(n, middle - center) < 0) std::reverse(corners.begin(), corners.end());
    polygon(corners, picture_m);
  };
  // The point of corner (sx, sy, sz) that lies on the face of axis `axis`.
  const auto corner = [&](glm::vec3 s, int axis) {
    glm::vec3 p = s * (half - glm::vec3(chamfer));
    p[axis] = s[axis] * half[axis];
    return center + p;
  };
  for (int a = 0; a < 3; ++a) {
    const int b = (a + 1) % 3, c = (a + 2) % 3;
    for (const float s : {-1.0F, 1.0F}) {
      const auto sign = [&](float sb, float sc) {
        glm::vec3 v;
        v[a] = s, v[b] = sb, v[c] = sc;
        return v;
      };
      facing(
          {corner(sign(-1, -1), a), corner(sign(1, -1), a), corner(sign(1, 1), a), corner(sign(-1, 1), a)});
      for (const float sb : {-1.0F, 1.0F}) {
        facing({corner(sign(sb, -1), a), corner(sign(sb, 1), a), corner(sign(sb, 1), b),
                corner(sign(sb, -1), b)});
        if (a == 0)
          for (const float sc : {-1.0F, 1.0F})
            facing({corner(sign(sb, sc), 0), corner(sign(sb, sc), 1), corner(sign(sb, sc), 2)});
      }
    }
  }
}

void Shape::add(const Shape& other) {
  const auto first = static_cast<uint32_t>(primitive_.positions.size());
  const scene::Primitive& from = other.primitive_;
  primitive_.positions.insert(primitive_.positions.end(), from.positions.begin(), from.positions.end());
  primitive_.normals.insert(primitive_.normals.end(), from.normals.begin(), from.normals.end());
  primitive_.uvs[0].insert(primitive_.uvs[0].end(), from.uvs[0].begin(), from.uvs[0].end());
  for (const uint32_t i : from.indices) primitive_.indices.push_back(first + i);
}

void Shape::move(size_t from, const glm::mat4& matrix) {
  for (size_t i = from; i < primitive_.positions.size(); ++i) {
    primitive_.positions[i] = glm::vec3(matrix * glm::vec4(primitive_.positions[i], 1));
    primitive_.normals[i] = glm::normalize(glm::mat3(matrix) * primitive_.normals[i]);
  }
}

scene::Primitive Shape::finish(const glm::mat4& to_source, scene::MaterialIndex material) const {
  scene::Primitive out = primitive_;
  const glm::mat3 for_normals = glm::transpose(glm::inverse(glm::mat3(to_source)));
  for (glm::vec3& p : out.positions) p = glm::vec3(to_source * glm::vec4(p, 1));
  for (glm::vec3& n : out.normals) n = glm::normalize(for_normals * n);
  out.material = material;
  return out;
}

}  // namespace rakugo::demo
