#include "standin/harbour_shapes.h"

#include <cmath>
#include <functional>

#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::standin {
namespace {

constexpr float kPi = 3.14159265F;

// Collects triangles of one surface: position, normal, uv, tone.
class Builder {
 public:
  explicit Builder(std::string surface) : surface_(std::move(surface)) {}
  void tone(glm::vec3 t) { tone_ = t; }
  void place(const glm::mat4& m) { matrix_ = m; }

  void polygon(const std::vector<glm::vec3>& corners, float picture_m = 1) {
    const glm::vec3 n = glm::normalize(glm::cross(corners[1] - corners[0], corners[2] - corners[0]));
    const glm::vec3 u =
        glm::normalize(std::abs(n.z) > 0.9F ? glm::vec3(0, 1, 0) : glm::cross(glm::vec3(0, 0, 1), n));
    const glm::vec3 v = glm::cross(n, u);
    const auto base = count_;
    for (const glm::vec3& c : corners)
      vertex(c, n, {glm::dot(c, u) / picture_m, -glm::dot(c, v) / picture_m});
    for (uint32_t i = 2; i < corners.size(); ++i)
      indices_.insert(indices_.end(), {base, base + i - 1, base + i});
  }

  void box(glm::vec3 a, glm::vec3 b, float picture_m = 1, float chamfer = 0) {
    const float c = chamfer;
    const auto p = [](float x, float y, float z) { return glm::vec3(x, y, z); };
    polygon({p(a.x + c, a.y + c, b.z), p(b.x - c, a.y + c, b.z), p(b.x - c, b.y - c, b.z),
             p(a.x + c, b.y - c, b.z)},
            picture_m);
    polygon({p(a.x, b.y, a.z), p(b.x, b.y, a.z), p(b.x, a.y, a.z), p(a.x, a.y, a.z)}, picture_m);
    const std::vector<glm::vec2> low = {{a.x, a.y}, {b.x, a.y}, {b.x, b.y}, {a.x, b.y}};
    const std::vector<glm::vec2> top = {
        {a.x + c, a.y + c}, {b.x - c, a.y + c}, {b.x - c, b.y - c}, {a.x + c, b.y - c}};
    for (size_t i = 0; i < 4; ++i) {
      const size_t j = (i + 1) % 4;
      polygon({glm::vec3(low[i], a.z), glm::vec3(low[j], a.z), glm::vec3(low[j], b.z - c),
               glm::vec3(low[i], b.z - c)},
              picture_m);
      if (c > 0)
        polygon({glm::vec3(low[i], b.z - c), glm::vec3(low[j], b.z - c), glm::vec3(top[j], b.z),
                 glm::vec3(top[i], b.z)},
                picture_m);
    }
  }

  void lathe(const std::vector<glm::vec2>& profile, int segments, glm::vec3 center, float u_repeat = 2,
             float picture_m = 1) {
    float along = 0;
    for (size_t i = 0; i + 1 < profile.size(); ++i) {
      const glm::vec2 d = glm::normalize(profile[i + 1] - profile[i]);
      const glm::vec2 n(d.y, -d.x);
      const float length = glm::distance(profile[i], profile[i + 1]);
      const auto base = count_;
      for (int s = 0; s <= segments; ++s) {
        const float a = static_cast<float>(s) / static_cast<float>(segments) * 2 * kPi;
        const glm::vec3 out(std::cos(a), std::sin(a), 0);
        const float u = static_cast<float>(s) / static_cast<float>(segments) * u_repeat;
        vertex(center + out * profile[i].x + glm::vec3(0, 0, profile[i].y), out * n.x + glm::vec3(0, 0, n.y),
               {u, along / picture_m});
        vertex(center + out * profile[i + 1].x + glm::vec3(0, 0, profile[i + 1].y),
               out * n.x + glm::vec3(0, 0, n.y), {u, (along + length) / picture_m});
      }
      for (uint32_t s = 0; s < static_cast<uint32_t>(segments); ++s) {
        const uint32_t a = base + 2 * s;
        indices_.insert(indices_.end(), {a, a + 2, a + 3, a, a + 3, a + 1});
      }
      along += length;
    }
  }

  // A skin between neighbouring sections (each with the same number of points).
  void loft(const std::vector<std::vector<glm::vec3>>& sections, bool both_sides) {
    for (size_t i = 0; i + 1 < sections.size(); ++i)
      for (size_t k = 0; k + 1 < sections[i].size(); ++k) {
        const std::vector<glm::vec3> quad = {sections[i][k], sections[i + 1][k], sections[i + 1][k + 1],
                                             sections[i][k + 1]};
        if (glm::distance(quad[0], quad[2]) < 1e-4F ||
            glm::length(glm::cross(quad[1] - quad[0], quad[2] - quad[0])) < 1e-7F)
          continue;
        polygon(quad, 0.8F);
        if (both_sides) polygon({quad[3], quad[2], quad[1], quad[0]}, 0.8F);
      }
  }

  HarbourPart finish() {
    HarbourPart out;
    out.surface = surface_;
    out.mesh.vertex_count = count_;
    out.mesh.stride = 36;
    using bundle::AttributeFormat;
    using bundle::Semantic;
    out.mesh.attributes = {{Semantic::position, AttributeFormat::f32x3, 0},
                           {Semantic::normal, AttributeFormat::f32x3, 12},
                           {Semantic::uv0, AttributeFormat::f32x2, 24},
                           {Semantic::color, AttributeFormat::unorm8x4, 32}};
    out.mesh.vertices = vertices_.take();
    out.mesh.indices = std::move(indices_);
    out.mesh.submeshes = {{0, static_cast<uint32_t>(out.mesh.indices.size()), 0}};
    out.mesh.materials = {surface_};
    return out;
  }

 private:
  void vertex(glm::vec3 p, glm::vec3 n, glm::vec2 uv) {
    p = glm::vec3(matrix_ * glm::vec4(p, 1));
    n = glm::mat3(matrix_) * n;
    for (int i = 0; i < 3; ++i) vertices_.write<float>(p[i]);
    for (int i = 0; i < 3; ++i) vertices_.write<float>(n[i]);
    vertices_.write<float>(uv.x);
    vertices_.write<float>(uv.y);
    for (int i = 0; i < 3; ++i)
      vertices_.write<uint8_t>(static_cast<uint8_t>(std::pow(std::clamp(tone_[i], 0.0F, 1.0F), 2.2F) * 255));
    vertices_.write<uint8_t>(255);
    ++count_;
  }
  std::string surface_;
  glm::vec3 tone_{1};
  glm::mat4 matrix_{1};
  base::ByteWriter vertices_;
  std::vector<uint32_t> indices_;
  uint32_t count_ = 0;
};

float hash(int x, int y) {
  uint32_t h = static_cast<uint32_t>(x) * 374761393u + static_cast<uint32_t>(y) * 668265263u + 77u;
  h = (h ^ (h >> 13)) * 1274126177u;
  return static_cast<float>((h ^ (h >> 16)) & 0xFFFFu) / 65535.0F;
}

float noise(float x, float y, int period) {
  const int ix = static_cast<int>(std::floor(x)), iy = static_cast<int>(std::floor(y));
  const auto at = [&](int a, int b) {
    return hash(((a % period) + period) % period, ((b % period) + period) % period);
  };
  float u = x - static_cast<float>(ix), v = y - static_cast<float>(iy);
  u = u * u * (3 - 2 * u);
  v = v * v * (3 - 2 * v);
  return glm::mix(glm::mix(at(ix, iy), at(ix + 1, iy), u), glm::mix(at(ix, iy + 1), at(ix + 1, iy + 1), u),
                  v);
}

void quay(std::vector<HarbourPart>& out) {
  Builder stone("stone"), wall("wall"), planks("planks"), iron("iron");
  stone.tone({0.82F, 0.8F, 0.75F});
  stone.box({-14, -32, -0.5F}, {2.35F, 32, 0}, 2.4F);
  // Coping stones along the edge, each a little different.
  for (int i = -21; i < 21; ++i) {
    const float y = static_cast<float>(i) * 1.5F, d = hash(i + 40, 3) * 0.025F;
    stone.tone(glm::vec3(0.86F, 0.84F, 0.79F) * (0.86F + 0.16F * hash(i + 50, 9)));
    stone.box({2.3F, y + 0.015F, -0.42F}, {2.92F + d, y + 1.485F, 0.03F + d}, 2.4F, 0.035F);
  }
  wall.tone({0.62F, 0.6F, 0.56F});
  wall.polygon({{2.8F, -32, -4}, {2.8F, 32, -4}, {2.8F, 32, -0.4F}, {2.8F, -32, -0.4F}}, 2.4F);
  // Timber fenders and a ladder on the wall.
  for (int i = -6; i <= 6; ++i) {
    planks.tone(glm::vec3(0.42F, 0.36F, 0.3F) * (0.8F + 0.3F * hash(i + 9, 2)));
    planks.box({2.8F, static_cast<float>(i) * 4.6F - 0.14F, -3},
               {3.05F, static_cast<float>(i) * 4.6F + 0.14F, -0.1F}, 1, 0.02F);
  }
  iron.tone({0.35F, 0.22F, 0.16F});
  for (int i = 0; i < 8; ++i)
    iron.box({2.86F, 3.1F, -2.5F + 0.32F * static_cast<float>(i)},
             {3.0F, 3.5F, -2.46F + 0.32F * static_cast<float>(i)});
  for (const float y : {3.08F, 3.5F}) iron.box({2.95F, y, -2.8F}, {3.0F, y + 0.04F, 0.1F});
  // Bollards.
  iron.tone({0.13F, 0.14F, 0.16F});
  for (const float y : kBollards_m)
    iron.lathe({{0.26F, 0},
                {0.26F, 0.05F},
                {0.17F, 0.1F},
                {0.15F, 0.34F},
                {0.2F, 0.42F},
                {0.24F, 0.47F},
                {0.22F, 0.55F},
                {0.1F, 0.6F},
                {0, 0.6F}},
               20, {kBollardLine_m, y, 0});
  // A timber jetty to the right.
  for (int i = 0; i < 34; ++i) {
    planks.tone(glm::vec3(0.72F, 0.64F, 0.54F) * (0.8F + 0.28F * hash(i, 5)));
    const float x = 2.95F + static_cast<float>(i) * 0.27F;
    planks.box({x, -15.4F, -0.33F}, {x + 0.25F, -12.6F + 0.06F * hash(i, 8), -0.26F + 0.012F * hash(i, 4)},
               1.2F, 0.01F);
  }
  planks.tone({0.4F, 0.34F, 0.28F});
  for (int i = 0; i < 4; ++i)
    for (const float y : {-15.3F, -12.7F})
      planks.lathe({{0.15F, -4}, {0.15F, 0.55F}, {0.12F, 0.6F}, {0, 0.6F}}, 12,
                   {4.6F + static_cast<float>(i) * 2.4F, y, -0.3F});
  for (Builder* b : {&stone, &wall, &planks, &iron}) out.push_back(b->finish());
}

void shed(std::vector<HarbourPart>& out) {
  Builder boards("boards"), roof("roof"), trim("planks"), window("window"), stone("stone");
  const float x0 = -9.5F, x1 = -4.6F, y0 = -7, y1 = 4.5F, h = 3.1F, ridge = 4.9F, xm = (x0 + x1) / 2;
  boards.tone({0.62F, 0.2F, 0.16F});
  boards.polygon({{x1, y0, 0}, {x1, y1, 0}, {x1, y1, h}, {x1, y0, h}}, 1.6F);
  boards.polygon({{x0, y1, 0}, {x0, y0, 0}, {x0, y0, h}, {x0, y1, h}}, 1.6F);
  boards.polygon({{x0, y0, 0}, {x1, y0, 0}, {x1, y0, h}, {xm, y0, ridge}, {x0, y0, h}}, 1.6F);
  boards.polygon({{x1, y1, 0}, {x0, y1, 0}, {x0, y1, h}, {xm, y1, ridge}, {x1, y1, h}}, 1.6F);
  roof.tone({0.46F, 0.48F, 0.52F});
  const float over = 0.45F, drop = over * (ridge - h) / (x1 - xm);
  roof.polygon({{x1 + over, y0 - 0.4F, h - drop},
                {x1 + over, y1 + 0.4F, h - drop},
                {xm, y1 + 0.4F, ridge + 0.1F},
                {xm, y0 - 0.4F, ridge + 0.1F}},
               1.8F);
  roof.polygon({{x0 - over, y1 + 0.4F, h - drop},
                {x0 - over, y0 - 0.4F, h - drop},
                {xm, y0 - 0.4F, ridge + 0.1F},
                {xm, y1 + 0.4F, ridge + 0.1F}},
               1.8F);
  trim.tone({0.93F, 0.91F, 0.86F});
  const auto frame = [&](float a, float b, float low, float high) {
    trim.box({x1, a - 0.1F, low - 0.1F}, {x1 + 0.06F, b + 0.1F, low});
    trim.box({x1, a - 0.1F, high}, {x1 + 0.07F, b + 0.1F, high + 0.12F});
    trim.box({x1, a - 0.1F, low}, {x1 + 0.06F, a, high});
    trim.box({x1, b, low}, {x1 + 0.06F, b + 0.1F, high});
  };
  for (const float y : {-5.4F, 1.2F}) {
    frame(y, y + 1.5F, 1.1F, 2.2F);
    window.polygon({{x1 + 0.02F, y, 1.1F},
                    {x1 + 0.02F, y + 1.5F, 1.1F},
                    {x1 + 0.02F, y + 1.5F, 2.2F},
                    {x1 + 0.02F, y, 2.2F}});
    trim.box({x1 + 0.02F, y + 0.73F, 1.1F}, {x1 + 0.05F, y + 0.78F, 2.2F});
    trim.box({x1 + 0.02F, y, 1.63F}, {x1 + 0.05F, y + 1.5F, 1.67F});
  }
  frame(-2.5F, -0.6F, 0, 2.35F);
  trim.tone({0.2F, 0.33F, 0.36F});
  trim.box({x1, -2.5F, 0}, {x1 + 0.04F, -1.56F, 2.35F}, 0.9F);
  trim.box({x1, -1.54F, 0}, {x1 + 0.04F, -0.6F, 2.35F}, 0.9F);
  stone.tone({0.6F, 0.58F, 0.54F});
  stone.box({x0 - 0.1F, y0 - 0.1F, 0}, {x1 + 0.1F, y1 + 0.1F, 0.22F});
  // Crates and barrels.
  trim.tone({0.72F, 0.6F, 0.42F});
  trim.box({-3.9F, -5.8F, 0}, {-2.9F, -4.8F, 0.8F}, 0.8F, 0.02F);
  trim.box({-3.8F, -4.6F, 0}, {-3.0F, -3.8F, 0.65F}, 0.8F, 0.02F);
  trim.tone({0.64F, 0.5F, 0.36F});
  trim.box({-3.7F, -5.6F, 0.8F}, {-3.0F, -4.9F, 1.4F}, 0.8F, 0.02F);
  trim.tone({0.5F, 0.36F, 0.24F});
  for (const glm::vec2 at : {glm::vec2(-3.5F, 3.0F), glm::vec2(-2.8F, 3.5F), glm::vec2(-3.7F, 3.9F)})
    trim.lathe({{0.26F, 0},
                {0.33F, 0.22F},
                {0.35F, 0.45F},
                {0.33F, 0.68F},
                {0.27F, 0.9F},
                {0.24F, 0.87F},
                {0, 0.87F}},
               18, {at, 0}, 5, 0.9F);
  for (Builder* b : {&boards, &roof, &trim, &window, &stone}) out.push_back(b->finish());
}

void boat(std::vector<HarbourPart>& out) {
  Builder hull("planks");
  hull.place(glm::translate(glm::mat4(1), {5.2F, 5.4F, kWaterLevel_m + 0.05F}) *
             glm::rotate(glm::mat4(1), 1.42F, {0, 0, 1}));
  std::vector<std::vector<glm::vec3>> sections;
  for (int i = 0; i <= 14; ++i) {
    const float t = static_cast<float>(i) / 14, x = -2.1F + 4.4F * t;
    const float beam =
        0.82F * std::pow(std::max(std::sin(std::clamp(t * 0.72F + 0.28F, 0.0F, 1.0F) * kPi), 0.0F), 0.55F) *
        (i == 14 ? 0 : 1);
    const float sheer = 0.42F + 0.34F * std::pow(std::abs(t - 0.4F) * 1.6F, 2.0F),
                keel = -0.22F + 0.3F * std::pow(t, 5.0F);
    std::vector<glm::vec3> section;
    for (int k = 0; k <= 10; ++k) {
      const float a = static_cast<float>(k) / 10 * kPi;
      const float round = std::pow(std::max(std::sin(a), 0.0F), 0.6F);
      section.emplace_back(x, -std::cos(a) * beam * (0.75F + 0.25F * (1 - round)),
                           glm::mix(sheer, keel, round));
    }
    sections.push_back(section);
  }
  hull.tone({0.25F, 0.4F, 0.44F});
  hull.loft(sections, true);
  hull.tone({0.74F, 0.58F, 0.4F});
  for (const float x : {-1.4F, -0.1F, 1.0F}) hull.box({x, -0.72F, 0.22F}, {x + 0.26F, 0.72F, 0.27F}, 0.6F);
  hull.box({-2.12F, -0.55F, -0.1F}, {-2.06F, 0.55F, 0.66F}, 0.6F);
  out.push_back(hull.finish());
}

void farShore(std::vector<HarbourPart>& out) {
  Builder far("far");
  // Two ranges of hills, and a headland with a light tower.
  for (int range = 0; range < 2; ++range) {
    const float radius = range == 0 ? 150.0F : 110.0F;
    far.tone(range == 0 ? glm::vec3(0.42F, 0.5F, 0.5F) : glm::vec3(0.34F, 0.43F, 0.36F));
    glm::vec3 low_before(0), high_before(0);
    for (int i = 0; i <= 90; ++i) {
      const float a = static_cast<float>(i) / 90 * 2 * kPi;
      const float rise = range == 0 ? 9 + 15 * noise(static_cast<float>(i) * 0.3F, 2, 27)
                                    : 2 + 9 * noise(static_cast<float>(i) * 0.42F, 7, 38);
      const bool open_sea = std::cos(a - 0.35F) > 0.45F;
      const glm::vec3 out_dir(std::cos(a), std::sin(a), 0);
      const glm::vec3 low = out_dir * (radius * 0.86F) + glm::vec3(0, 0, kWaterLevel_m - 0.4F);
      const glm::vec3 high = out_dir * radius + glm::vec3(0, 0, open_sea ? kWaterLevel_m - 0.5F : rise);
      if (i > 0) far.polygon({low, low_before, high_before, high}, 40);
      low_before = low;
      high_before = high;
    }
  }
  far.tone({0.36F, 0.4F, 0.34F});
  far.lathe({{16, -3}, {13, 0.5F}, {9, 2.4F}, {4, 3.4F}, {0, 3.6F}}, 16, {78, 46, kWaterLevel_m});
  far.tone({0.93F, 0.91F, 0.88F});
  far.lathe({{1.9F, 2},
             {1.35F, 11.5F},
             {1.9F, 11.7F},
             {1.9F, 12.2F},
             {1.0F, 12.2F},
             {1.0F, 14},
             {1.5F, 14.1F},
             {0, 15.6F}},
            14, {78, 46, kWaterLevel_m});
  out.push_back(far.finish());
}

}  // namespace

std::vector<HarbourPart> buildHarbour() {
  std::vector<HarbourPart> out;
  quay(out);
  shed(out);
  boat(out);
  farShore(out);
  return out;
}

HarbourPart buildLine() {
  Builder line("cloth");
  line.tone({0.72F, 0.62F, 0.44F});
  line.box({0, -0.5F, -0.5F}, {1, 0.5F, 0.5F}, 0.2F);
  return line.finish();
}

std::vector<HarbourPart> buildPerson(bool own_coat) {
  std::vector<HarbourPart> out;
  const auto part = [&](glm::vec3 tone, std::vector<std::string> bones,
                        const std::function<void(Builder&)>& build) {
    Builder cloth("cloth");
    cloth.place(glm::scale(glm::mat4(1), {0.8F, 1.1F, 1}));
    cloth.tone(tone);
    build(cloth);
    out.push_back(cloth.finish());
    out.back().bones = std::move(bones);
  };
  const float thin = own_coat ? 1.0F : 0.72F;
  // An oilskin coat, or a jersey.
  const glm::vec3 worn = own_coat ? glm::vec3(0.84F, 0.62F, 0.16F) : glm::vec3(0.3F, 0.34F, 0.42F);
  for (const auto& [end, side] : {std::pair(".port", 1.0F), std::pair(".starboard", -1.0F)}) {
    const std::string of = end;
    const float y = side;
    part({0.17F, 0.2F, 0.26F}, {"leg" + of, "knee" + of, "foot" + of}, [&](Builder& cloth) {
      cloth.lathe({{0, 0},
                   {0.085F, 0},
                   {0.095F, 0.06F},
                   {0.075F, 0.12F},
                   {0.08F, 0.4F},
                   {0.085F, 0.5F},
                   {0.09F, 0.6F},
                   {0.1F, 0.85F}},
                  14, {0.01F, 0.09F * y, 0});
    });
    part(worn, {"arm" + of, "elbow" + of, "hand" + of}, [&](Builder& cloth) {
      cloth.lathe({{0, 0.72F},
                   {0.05F * thin, 0.73F},
                   {0.062F * thin, 0.8F},
                   {0.06F * thin, 0.95F},
                   {0.06F * thin, 1.1F},
                   {0.07F * thin, 1.25F},
                   {0.078F * thin, 1.36F},
                   {0.05F * thin, 1.42F},
                   {0, 1.43F}},
                  12, {0.02F, 0.235F * y * (own_coat ? 1.0F : 0.86F), 0});
    });
  }
  part(worn, {"ballast", "waist", "chest"}, [&](Builder& cloth) {
    if (own_coat)
      cloth.lathe({{0.235F, 0.58F},
                   {0.225F, 0.7F},
                   {0.19F, 1.0F},
                   {0.2F, 1.2F},
                   {0.2F, 1.34F},
                   {0.15F, 1.43F},
                   {0.075F, 1.47F},
                   {0.07F, 1.5F},
                   {0, 1.5F}},
                  20, {0, 0, 0});
    else
      cloth.lathe({{0, 0.84F},
                   {0.17F, 0.85F},
                   {0.155F, 1.0F},
                   {0.165F, 1.2F},
                   {0.165F, 1.34F},
                   {0.12F, 1.42F},
                   {0.07F, 1.46F},
                   {0.06F, 1.5F},
                   {0, 1.5F}},
                  20, {0, 0, 0});
  });
  part({0.8F, 0.6F, 0.48F}, {"head"}, [&](Builder& cloth) {
    cloth.lathe({{0.05F, 1.46F}, {0.085F, 1.5F}, {0.105F, 1.57F}, {0.1F, 1.63F}, {0.08F, 1.66F}}, 16,
                {0.015F, 0, 0});
    cloth.tone({0.78F, 0.55F, 0.13F});
    cloth.lathe({{0.2F, 1.6F}, {0.17F, 1.625F}, {0.108F, 1.645F}, {0.1F, 1.69F}, {0.06F, 1.715F}, {0, 1.72F}},
                18, {-0.01F, 0, 0});
  });
  return out;
}

namespace {

// The next mip level: `side` x `side` pixels of RGBA8, each the mean of four of `big`.
base::Bytes halved(const base::Bytes& big, uint32_t side) {
  base::Bytes small(size_t{side} * side * 4);
  for (uint32_t y = 0; y < side; ++y)
    for (uint32_t x = 0; x < side; ++x)
      for (size_t c = 0; c < 4; ++c) {
        const auto at = [&](uint32_t px, uint32_t py) {
          return std::to_integer<unsigned>(big[(size_t{py} * side * 2 + px) * 4 + c]);
        };
        small[(size_t{y} * side + x) * 4 + c] = static_cast<std::byte>(
            (at(2 * x, 2 * y) + at(2 * x + 1, 2 * y) + at(2 * x, 2 * y + 1) + at(2 * x + 1, 2 * y + 1)) / 4);
      }
  return small;
}

// How light a surface of the harbour is at a point of its picture, 0 to 1; u and v from 0 to 1. Null for a
// surface that has no picture.
std::function<float(float, float)> shadeOf(const std::string& surface) {
  const auto joint = [](float f, float width) {
    return glm::smoothstep(0.0F, width, f) * glm::smoothstep(0.0F, width, 1 - f);
  };
  if (surface == "stone" || surface == "wall") {
    const float rows = surface == "wall" ? 6.0F : 4.0F;
    return [=](float u, float v) {
      const float row = std::floor(v * rows),
                  shifted = u * 3 + (static_cast<int>(row) % 2 == 0 ? 0.0F : 0.5F);
      const float own = hash(static_cast<int>(std::floor(shifted)) % 3 + 5, static_cast<int>(row));
      const float grain = 0.5F * noise(u * 32, v * 32, 32) + 0.5F * noise(u * 90, v * 90, 90);
      return (0.74F + 0.16F * own + 0.16F * grain) *
             (0.62F + 0.38F * joint(v * rows - row, 0.07F) * joint(shifted - std::floor(shifted), 0.045F));
    };
  }
  if (surface == "boards" || surface == "planks") {
    const float boards = surface == "boards" ? 8.0F : 4.0F;
    return [=](float u, float v) {
      const float b = std::floor(u * boards);
      const float grain = noise(u * 90, v * 5 + b * 3, 90) * 0.6F + noise(u * 40, v * 11, 40) * 0.4F;
      return (0.74F + 0.14F * hash(static_cast<int>(b), 21) + 0.18F * grain) *
             (0.6F + 0.4F * joint(u * boards - b, 0.06F));
    };
  }
  if (surface == "roof") {
    return [=](float u, float v) {
      const float row = std::floor(v * 8), shifted = u * 8 + (static_cast<int>(row) % 2 == 0 ? 0.0F : 0.5F),
                  f = v * 8 - row;
      return (0.66F + 0.25F * hash(static_cast<int>(std::floor(shifted)) % 8, static_cast<int>(row) + 60) +
              0.1F * noise(u * 50, v * 50, 50)) *
             (0.65F + 0.35F * joint(shifted - std::floor(shifted), 0.06F)) *
             (0.7F + 0.3F * glm::smoothstep(0.0F, 0.3F, f));
    };
  }
  if (surface == "iron" || surface == "cloth") {
    return [](float u, float v) { return 0.86F + 0.14F * noise(u * 40, v * 40, 40); };
  }
  return nullptr;
}

}  // namespace

bundle::Ktx2Picture drawSurface(const std::string& surface) {
  bundle::Ktx2Picture out;
  constexpr uint32_t kSide = 256;
  const auto shade = shadeOf(surface);
  if (!shade) return out;
  out.width = out.height = kSide;
  base::Bytes pixels(size_t{kSide} * kSide * 4);
  for (uint32_t y = 0; y < kSide; ++y)
    for (uint32_t x = 0; x < kSide; ++x) {
      const float s =
          std::clamp(shade(static_cast<float>(x) / kSide, static_cast<float>(y) / kSide), 0.0F, 1.0F);
      for (size_t c = 0; c < 3; ++c)
        pixels[(size_t{y} * kSide + x) * 4 + c] = static_cast<std::byte>(std::lround(s * 255));
      pixels[(size_t{y} * kSide + x) * 4 + 3] = std::byte{255};
    }
  out.levels.push_back(std::move(pixels));
  for (uint32_t side = kSide / 2; side >= 1; side /= 2) out.levels.push_back(halved(out.levels.back(), side));
  return out;
}

}  // namespace rakugo::standin
