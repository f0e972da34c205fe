// Collision shapes and bodies for the bench, made off the window's thread.
#pragma once

#include "app/bench/bench_scene.h"

namespace rakugo::app {

/// A shape of an object as the bench shows it; `known`, where that was made of the same; null where there is
/// nothing to show.
std::shared_ptr<const BenchShape> benchShape(const check::Examination& x, const mod::ObjectDoc& object,
                                             const mod::PieceDoc& piece,
                                             const std::shared_ptr<const BenchShape>& known);

/// The body of an object; `known`, where that was reckoned from the same; null where it holds no volume.
std::shared_ptr<const BenchBody> benchBody(const check::Examination& x, const mod::ObjectDoc& object,
                                           const std::shared_ptr<const BenchBody>& known);

}  // namespace rakugo::app
