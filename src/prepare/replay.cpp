#include "prepare/replay.h"

#include "prepare/steps.h"

namespace rakugo::prepare {

void Replayer::run(Kept& kept, const StepContext& context) {
  kept.after = kept.before;
  if (!kept.step.enabled) {
    kept.outcome.state = StepState::off;
    return;
  }
  const StepKind* kind = findStepKind(kept.step.kind);
  if (kind == nullptr) {
    kept.outcome = {StepState::wrong, {"This step comes from a newer Rakugo and is kept as it is."}, {}};
    return;
  }
  auto model = std::make_shared<scene::Model>(*kept.before);
  kept.outcome = applyStep(*kind, *model, kept.step.values, context);
  ++steps_run_;
  if (const base::Status within = scene::drawnWithin(*model, base::Limits{}); !within)
    kept.outcome = {StepState::wrong, {within.error().message}, {}};
  if (kept.outcome.state != StepState::wrong && kept.outcome.state != StepState::missed)
    kept.after = std::move(model);
}

base::Result<Prepared> Replayer::replay(const SourceModel& source, const std::vector<mod::StepDoc>& steps,
                                        const rulebook::Rulebook& book, const formats::Fetch& fetch,
                                        base::Progress* progress, const Prepared* first,
                                        const DonorModels& donors) {
  const std::string book_key = book.id + " " + book.version;
  if (source != source_ || book_key != book_) {
    kept_.clear();
    source_ = source;
    book_ = book_key;
    start_ = std::shared_ptr<const scene::Model>(source, &source->model);
    start_figures_.reset();
  }
  const auto like = [&](size_t i) -> std::shared_ptr<const scene::Model> {
    const StepKind* kind = findStepKind(steps[i].kind);
    return first != nullptr && i < first->before.size() && kind != nullptr && kind->follows_first_size
               ? first->before[i]
               : nullptr;
  };
  const auto donor = [&](size_t i) -> std::shared_ptr<const scene::Model> {
    const StepKind* kind = findStepKind(steps[i].kind);
    const Parameter* model = kind != nullptr ? kind->findType(ParameterType::model) : nullptr;
    if (!donors || !steps[i].enabled || model == nullptr) return nullptr;
    const std::string name = base::textOf(steps[i].values, model->key.c_str());
    return name.empty() ? nullptr : donors(name);
  };
  size_t same = 0;
  while (same < kept_.size() && same < steps.size() && kept_[same].step == steps[same] &&
         kept_[same].like == like(same) && kept_[same].donor == donor(same))
    ++same;
  kept_.resize(same);
  steps_run_ = 0;
  if (!start_figures_) start_figures_ = figuresOf(*start_);
  StepContext context{&book, fetch};
  context.progress = progress;
  for (size_t i = same; i < steps.size(); ++i) {
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    Kept kept{steps[i], kept_.empty() ? start_ : kept_.back().after, nullptr, {}, {}, like(i), donor(i)};
    context.like = kept.like.get();
    context.donor = kept.donor.get();
    run(kept, context);
    // What a cancelled step has left is half done, and not remembered.
    if (progress != nullptr && progress->cancelled()) return base::cancelledError();
    kept.figures = kept.after != kept.before ? figuresOf(*kept.after)
                   : kept_.empty()           ? *start_figures_
                                             : kept_.back().figures;
    kept_.push_back(std::move(kept));
  }
  Prepared out;
  out.model = kept_.empty() ? start_ : kept_.back().after;
  for (const Kept& kept : kept_) {
    out.outcomes.push_back(kept.outcome);
    out.before.push_back(kept.before);
  }
  out.figures.push_back(*start_figures_);
  for (const Kept& kept : kept_) out.figures.push_back(kept.figures);
  return out;
}

}  // namespace rakugo::prepare
