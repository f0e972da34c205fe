// A model before and after one of its steps, for the bench to show in its place.
#pragma once

#include "app/bench/bench_scene.h"
#include "base/jobs.h"

namespace rakugo::app {

struct StepScenes {
  std::shared_ptr<const BenchScene> before;
  std::shared_ptr<const BenchScene> after;  ///< what the step changed is parted off, and marked as changed
  size_t changed = 0;                       ///< triangles of `after` that `before` has not just so
  size_t triangles = 0;                     ///< of `after`
  size_t gone = 0;                          ///< triangles of `before` that `after` has not just so
};

/// The scenes of a model of the examination before and after the step of that number; nothing when there is
/// no such step, or it is cancelled. Cost: linear in triangles; for a job.
std::optional<StepScenes> makeStepScenes(const check::Examination& examination, const std::string& model,
                                         size_t step, PictureCache& pictures, const base::Progress& progress);

/// Which triangles of `now` no triangle of `then` is like: corners nearer than `near_m`, with the same
/// material, coordinates of pictures, colours and weights. One flag a triangle, part after part.
std::vector<bool> changedTriangles(const BenchScene& now, const BenchScene& then, float near_m);

/// Parts off what is marked: each part that has both keeps the unmarked triangles, and one that is `changed`
/// follows it.
void setApart(std::vector<BenchPart>& parts, const std::vector<bool>& marked);

}  // namespace rakugo::app
