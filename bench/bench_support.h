// What every benchmark needs: the best time of some runs, and a check before anything is timed.
#pragma once

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <functional>

namespace rakugo::bench {

inline double seconds(const std::function<void()>& work, int times = 5) {
  double best = 1e9;
  for (int i = 0; i < times; ++i) {
    const auto start = std::chrono::steady_clock::now();
    work();
    best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
  }
  return best;
}

inline void must(bool good, const char* what) {
  if (good) return;
  std::fprintf(stderr, "bench: %s does not hold\n", what);
  std::exit(1);
}

}  // namespace rakugo::bench
