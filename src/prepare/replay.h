// Prepared model = steps replayed on the source.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "base/jobs.h"
#include "prepare/step.h"
#include "prepare/step_figures.h"

namespace rakugo::prepare {

/// A source as read, shared between replays.
using SourceModel = std::shared_ptr<const formats::ReadModel>;

struct Prepared {
  std::shared_ptr<const scene::Model> model;                ///< after the last step
  std::vector<StepOutcome> outcomes;                        ///< one a step
  std::vector<std::shared_ptr<const scene::Model>> before;  ///< what each step saw
  std::vector<StepFigures> figures;                         ///< the same in figures, and of `model` last
};

/// Another model of the mod by its name, prepared; null when there is none, or when it takes something from
/// the one that asks.
using DonorModels = std::function<std::shared_ptr<const scene::Model>(const std::string& model)>;

/// Replays preparations of one model document and remembers each prefix, so that editing the last of n steps
/// costs one step. Not thread-safe; one at a time.
class Replayer {
 public:
  /// Steps that cannot do all they say are kept and say so in their outcome; nothing here fails but a cancel.
  /// Errors: job.cancelled. `first` is the first size, where this is another size of it: replayed with the
  /// same steps. `donors`: whom steps that name another model of the mod take from.
  base::Result<Prepared> replay(const SourceModel& source, const std::vector<mod::StepDoc>& steps,
                                const rulebook::Rulebook& book, const formats::Fetch& fetch,
                                base::Progress* progress = nullptr, const Prepared* first = nullptr,
                                const DonorModels& donors = nullptr);
  /// Steps that the last replay had to run, the others were remembered. For tests and benchmarks.
  [[nodiscard]] size_t stepsRun() const { return steps_run_; }

 private:
  struct Kept {
    mod::StepDoc step;
    std::shared_ptr<const scene::Model> before, after;
    StepOutcome outcome;
    StepFigures figures;                       ///< after it
    std::shared_ptr<const scene::Model> like;  ///< of the first size, for a step that looks at it
    std::shared_ptr<const scene::Model> donor;
  };
  /// Runs the step of `kept` on what stands before it, and puts down its outcome and what stands after it.
  void run(Kept& kept, const StepContext& context);
  SourceModel source_;
  std::string book_;
  std::shared_ptr<const scene::Model> start_;
  std::optional<StepFigures> start_figures_;
  std::vector<Kept> kept_;
  size_t steps_run_ = 0;
};

}  // namespace rakugo::prepare
