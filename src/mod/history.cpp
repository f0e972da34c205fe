#include "mod/history.h"

#include "mod/following.h"

namespace rakugo::mod {

History::History(ModState state) {
  states_.push_back({std::make_shared<const ModState>(std::move(state)), {}, {}});
  saved_ = current();
}

void History::edit(const std::string& label, const std::function<void(ModState&)>& change,
                   const std::string& group) {
  auto next = std::make_shared<ModState>(*current());
  change(*next);
  followDesigns(*next, *current());
  states_.resize(at_ + 1);
  const bool joins = at_ > 0 && !group.empty() && states_[at_].group == group && states_[at_].state != saved_;
  if (joins) {
    states_[at_].state = std::move(next);
    return;
  }
  states_.push_back({std::move(next), label, group});
  ++at_;
}

bool History::dirty() const {
  if (current() == saved_) return false;
  if (compared_ != std::make_pair(current(), saved_)) {
    differed_ = !changedPaths(*current(), *saved_).empty();
    compared_ = {current(), saved_};
  }
  return differed_;
}

void History::setSaved(ModState on_disk) { saved_ = std::make_shared<const ModState>(std::move(on_disk)); }

void History::undo() {
  if (canUndo()) --at_;
}

std::vector<std::pair<std::string, std::shared_ptr<const ModState>>> History::all() const {
  std::vector<std::pair<std::string, std::shared_ptr<const ModState>>> out;
  for (const Entry& entry : states_) out.emplace_back(entry.label, entry.state);
  return out;
}

void History::goTo(size_t place) {
  if (place < states_.size()) at_ = place;
}

void History::redo() {
  if (canRedo()) ++at_;
}

}  // namespace rakugo::mod
