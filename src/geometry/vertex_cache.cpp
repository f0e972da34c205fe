#include "geometry/vertex_cache.h"

#include <algorithm>
#include <memory>
#include <numeric>

#include "base/jobs.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kNoTriangle = 0xFFFFFFFFu;

// How many vertices back a fan may still be begun from. A little more than the 16 of the smallest caches:
// rows of fans then come out as wide as such a cache can carry to the next row.
constexpr uint32_t kReach = 18;

// Small meshes are not worth a second thread.
constexpr size_t kParallelTriangles = 20'000;

// What is known of a vertex while fans are walked.
struct Walked {
  uint32_t entered = 0;  // the time at which it came into the cache
  uint32_t left : 31;    // triangles that are not out yet
  uint32_t fanned : 1;   // all of its triangles are out
};

// Triangles by vertex: for each corner there, the two others in the order of its winding.
struct Fans {
  std::vector<uint32_t> begin;
  std::unique_ptr<uint64_t[]> others;  // not filled before it is written: that costs as much as a pass
  std::vector<Walked> vertices;
  std::vector<uint32_t> collapsed;  // triangles with two equal corners
};

Fans fansOf(std::span<const uint32_t> indices, uint32_t vertex_count) {
  Fans out;
  const size_t corners = indices.size() / 3 * 3;
  const auto collapsed = [&](size_t t) {
    const uint32_t a = indices[t], b = indices[t + 1], c = indices[t + 2];
    return a == b || b == c || c == a;
  };
  // Each share of the vertices is one core's, so that no two write to the same number.
  const uint32_t shares = corners / 3 < kParallelTriangles ? 1 : 2;
  const auto share = [&](size_t k) {
    return std::pair(static_cast<uint32_t>(uint64_t{vertex_count} * k / shares),
                     static_cast<uint32_t>(uint64_t{vertex_count} * (k + 1) / shares));
  };
  std::vector<uint32_t> at(vertex_count, 0);
  base::parallelFor(shares, [&](size_t k) {
    const auto [low, high] = share(k);
    for (size_t t = 0; t < corners; t += 3) {
      if (collapsed(t)) continue;
      for (size_t c = t; c < t + 3; ++c)
        if (indices[c] >= low && indices[c] < high) ++at[indices[c]];
    }
  });
  out.begin.resize(size_t{vertex_count} + 1);
  out.vertices.resize(vertex_count);
  uint32_t sum = 0;
  for (uint32_t v = 0; v < vertex_count; ++v) {
    out.begin[v] = sum;
    out.vertices[v].left = at[v] & 0x7FFFFFFFU;
    out.vertices[v].fanned = 0;
    sum += at[v];
    at[v] = out.begin[v];
  }
  out.begin[vertex_count] = sum;
  out.others.reset(new uint64_t[std::max<size_t>(sum, 1)]);
  base::parallelFor(shares, [&](size_t k) {
    const auto [low, high] = share(k);
    for (size_t t = 0; t < corners; t += 3) {
      if (collapsed(t)) continue;
      const uint32_t a = indices[t], b = indices[t + 1], c = indices[t + 2];
      if (a >= low && a < high) out.others[at[a]++] = uint64_t{c} << 32 | b;
      if (b >= low && b < high) out.others[at[b]++] = uint64_t{a} << 32 | c;
      if (c >= low && c < high) out.others[at[c]++] = uint64_t{b} << 32 | a;
    }
  });
  for (size_t t = 0; t < corners; t += 3)
    if (collapsed(t)) out.collapsed.push_back(static_cast<uint32_t>(t));
  return out;
}

}  // namespace

double averageCacheMissRatio(std::span<const uint32_t> indices, uint32_t vertex_count, uint32_t cache_size) {
  if (indices.size() < 3) return 0;
  std::vector<uint64_t> entered(vertex_count, 0);  // the miss number at which a vertex entered; 0 = never
  uint64_t misses = 0;
  for (const uint32_t v : indices) {
    if (entered[v] == 0 || misses - entered[v] >= cache_size) entered[v] = ++misses;
  }
  return static_cast<double>(misses) / (static_cast<double>(indices.size()) / 3.0);
}

std::vector<uint32_t> orderForVertexCache(std::span<const uint32_t> indices, uint32_t vertex_count) {
  Fans fans = fansOf(indices, vertex_count);
  std::vector<uint32_t> out, touched;  // touched: where to go on from when a walk comes to its end
  out.reserve(indices.size());
  touched.reserve(indices.size());
  uint32_t time = kReach + 1, scan = 0, at = kNoTriangle;
  while (true) {
    if (at == kNoTriangle) {
      while (!touched.empty() && fans.vertices[touched.back()].left == 0) touched.pop_back();
      if (!touched.empty()) {
        at = touched.back();
      } else {
        while (scan < vertex_count && fans.vertices[scan].left == 0) ++scan;
        if (scan == vertex_count) break;
        at = scan;
      }
    }
    const size_t before = out.size();
    for (uint32_t i = fans.begin[at]; i < fans.begin[at + 1]; ++i) {
      const auto b = static_cast<uint32_t>(fans.others[i]), c = static_cast<uint32_t>(fans.others[i] >> 32);
      // A triangle is out when one of its corners has been fanned.
      if (fans.vertices[b].fanned != 0 || fans.vertices[c].fanned != 0) continue;
      for (const uint32_t v : {at, b, c}) {
        Walked& w = fans.vertices[v];
        if (time - w.entered > kReach) w.entered = time++;
        --w.left;
        out.push_back(v);
        touched.push_back(v);
      }
    }
    fans.vertices[at].fanned = 1;
    // On from the one that has been in the cache longest, and whose fan still fits.
    at = kNoTriangle;
    int64_t best = -1;
    for (size_t i = before; i < out.size(); ++i) {
      const Walked& w = fans.vertices[out[i]];
      if (w.left == 0) continue;
      const uint32_t age = time - w.entered;
      const int64_t worth = age + 2 * uint64_t{w.left} <= kReach ? int64_t{age} : 0;
      if (worth > best) {
        best = worth;
        at = out[i];
      }
    }
  }
  for (const uint32_t t : fans.collapsed)
    for (uint32_t k = 0; k < 3; ++k) out.push_back(indices[t + k]);
  return out;
}

std::vector<uint32_t> orderOfFirstUse(std::span<const uint32_t> indices, uint32_t vertex_count,
                                      uint32_t& used) {
  std::vector<uint32_t> out(vertex_count, kNoTriangle);
  used = 0;
  for (const uint32_t v : indices)
    if (out[v] == kNoTriangle) out[v] = used++;
  return out;
}

}  // namespace rakugo::geometry
