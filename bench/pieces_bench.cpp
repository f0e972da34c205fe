// An object of 500 pieces, one of a pair dragged: what the core does for each place that the hand goes
// through.
#include <benchmark/benchmark.h>

#include <chrono>

#include "bench_support.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/parts/pieces.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

void dragOne(benchmark::State& state) {
  mod::ObjectDoc object;
  for (int i = 0; i < 500; ++i) {
    mod::PieceDoc piece;
    piece.name = "rivet-" + std::to_string(i);
    piece.model = "rivet";
    piece.position_m = {0.01 * i, 0.3, 0.1};
    if (i % 2 != 0) piece.parent = "rivet-0";  // half of them hang on one
    object.pieces.push_back(std::move(piece));
  }
  const glm::vec3 side(0, 1, 0);
  must(prepare::pairPieces(object, "rivet-497", "rivet-499", side).ok(), "a pair");
  double longest_ms = 0;
  int step = 0;
  for (auto _ : state) {
    const auto begin = Clock::now();
    mod::ObjectDoc next = object;
    const prepare::PiecePlace place{{0.001 * ++step, 0.2, 0.4}, {0, 0, 0, 1}};
    must(prepare::placePiece(next, "rivet-497", place, side).ok(), "it is placed");
    glm::mat4 all(0);
    for (const mod::PieceDoc& piece : next.pieces) all += prepare::placeInObject(next, piece);
    benchmark::DoNotOptimize(all);
    object = std::move(next);
    longest_ms =
        std::max(longest_ms, std::chrono::duration<double, std::milli>(Clock::now() - begin).count());
  }
  must(object.pieces[499].position_m[1] == -0.2, "the pair follows");
  state.counters["longest_ms"] = longest_ms;
  state.counters["longest_of_2_ms"] = longest_ms / 2;
}

BENCHMARK(dragOne)->Iterations(2000)->Unit(benchmark::kMicrosecond);

}  // namespace

BENCHMARK_MAIN();
