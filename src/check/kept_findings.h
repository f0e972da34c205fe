// Findings of the parts of a mod that did not change are kept.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <set>

#include "check/context.h"

namespace rakugo::check {

/// Runs the table of checks, again and again for one mod. Checks that look at facts of models and objects
/// alone run for each *group* by itself: models and objects that are linked by pieces, or by steps that take
/// something from another model. A group that is as it was the last time has the findings that it had. The
/// other checks run over the whole mod each time. Not thread-safe.
class KeptFindings {
 public:
  /// The models and objects that may differ from the last run in their documents, states, sources or icons:
  /// all others are known to be the same. A hint that saves comparing them.
  struct Changed {
    std::set<std::string> models, objects;
  };
  /// Findings are sorted: stops, shows, tidy; then by table order; then by place (model, object). Those that
  /// the mod sets aside are marked and come last. Once cancelled, what is left of the table is not run. The
  /// same whatever was kept. `made_for`: the mod of `context`; with it, a mend that was applied already does
  /// nothing when it is applied again.
  std::vector<Finding> run(const Context& context, const base::Progress* progress = nullptr,
                           const Changed* changed = nullptr,
                           const std::shared_ptr<const mod::ModState>& made_for = nullptr);
  /// How many groups were checked anew in the last run.
  [[nodiscard]] size_t checkedGroups() const { return checked_; }

 private:
  struct Group;
  using Groups = std::map<std::string, std::shared_ptr<const Group>>;
  [[nodiscard]] std::optional<std::vector<std::string>> groupsToCheck(const Context& context,
                                                                      const Changed& changed) const;
  Groups groups_;  ///< by the first name in them
  size_t checked_ = 0;
};

}  // namespace rakugo::check
