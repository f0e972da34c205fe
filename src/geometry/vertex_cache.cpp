#include "geometry/vertex_cache.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace rakugo::geometry {
namespace {

constexpr int kCache = 32;
constexpr uint32_t kNone = 0xFFFFFFFFu;

// Forsyth's score. The last triangle's three vertices get a fixed middling score, so that strips do not run
// straight.
float vertexScore(int cache_place, uint32_t triangles_left) {
  if (triangles_left == 0) return -1;
  float score = 0;
  if (cache_place >= 0 && cache_place < 3)
    score = 0.75F;
  else if (cache_place >= 3)
    score = std::pow(1.0F - static_cast<float>(cache_place - 3) / static_cast<float>(kCache - 3), 1.5F);
  return score + 2.0F / std::sqrt(static_cast<float>(triangles_left));
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
  const auto triangles = static_cast<uint32_t>(indices.size() / 3);
  std::vector<uint32_t> first(size_t{vertex_count} + 1, 0);
  for (size_t i = 0; i < size_t{triangles} * 3; ++i) ++first[indices[i] + 1];
  std::partial_sum(first.begin(), first.end(), first.begin());
  std::vector<uint32_t> around(size_t{triangles} * 3);
  std::vector<uint32_t> left(vertex_count, 0);
  for (uint32_t t = 0; t < triangles; ++t)
    for (uint32_t k = 0; k < 3; ++k) {
      const uint32_t v = indices[3 * t + k];
      around[first[v] + left[v]++] = t;
    }

  std::vector<int> place(vertex_count, -1);
  std::vector<float> score(vertex_count);
  for (uint32_t v = 0; v < vertex_count; ++v) score[v] = vertexScore(-1, left[v]);
  std::vector<bool> done(triangles, false);
  std::vector<uint32_t> out;
  out.reserve(size_t{triangles} * 3);
  std::vector<uint32_t> cache, next;
  uint32_t scan = 0;
  uint32_t best = kNone;
  for (uint32_t emitted = 0; emitted < triangles; ++emitted) {
    if (best == kNone) {
      while (done[scan]) ++scan;
      best = scan;
    }
    done[best] = true;
    next.clear();
    for (uint32_t k = 0; k < 3; ++k) {
      const uint32_t v = indices[3 * best + k];
      out.push_back(v);
      if (std::find(next.begin(), next.end(), v) == next.end()) next.push_back(v);
      // Take the triangle from the vertex's remaining list (swap with its last).
      uint32_t* begin = &around[first[v]];
      uint32_t* at = std::find(begin, begin + left[v], best);
      if (at != begin + left[v]) std::swap(*at, begin[--left[v]]);
    }
    for (const uint32_t v : cache)
      if (std::find(next.begin(),
                    next.begin() + static_cast<std::ptrdiff_t>(std::min<size_t>(3, next.size())),
                    v) == next.begin() + static_cast<std::ptrdiff_t>(std::min<size_t>(3, next.size())))
        next.push_back(v);
    for (size_t i = 0; i < next.size(); ++i) {
      place[next[i]] = i < kCache ? static_cast<int>(i) : -1;
      score[next[i]] = vertexScore(place[next[i]], left[next[i]]);
    }
    if (next.size() > kCache) next.resize(kCache);
    cache.swap(next);
    best = kNone;
    float best_score = -1;
    for (const uint32_t v : cache)
      for (uint32_t i = 0; i < left[v]; ++i) {
        const uint32_t t = around[first[v] + i];
        const float s = score[indices[3 * t]] + score[indices[3 * t + 1]] + score[indices[3 * t + 2]];
        if (s > best_score || (s == best_score && t < best)) {
          best_score = s;
          best = t;
        }
      }
  }
  return out;
}

std::vector<uint32_t> orderOfFirstUse(std::span<const uint32_t> indices, uint32_t vertex_count,
                                      uint32_t& used) {
  std::vector<uint32_t> out(vertex_count, kNone);
  used = 0;
  for (const uint32_t v : indices)
    if (out[v] == kNone) out[v] = used++;
  return out;
}

}  // namespace rakugo::geometry
