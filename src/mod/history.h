// Every edit of a mod, forwards and backwards.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "mod/documents.h"

namespace rakugo::mod {

/// The states a mod went through. Invariants:
///  1. `current()` is always one whole state; an edit makes a new one and never changes an old one.
///  2. After n undos and n redos the state is the same object as before.
///  3. An edit after an undo forgets what was undone.
class History {
 public:
  explicit History(ModState state);

  [[nodiscard]] const std::shared_ptr<const ModState>& current() const { return states_[at_].state; }
  /// Makes a new state by changing a copy; what follows what was changed comes along (following.h). `label`
  /// is what the Edit menu says ("Scale by 2"). With a `group` equal to that of the edit before (a dragged
  /// value), the two become one.
  void edit(const std::string& label, const std::function<void(ModState&)>& change,
            const std::string& group = {});
  /// Ends a group: the next edit stands alone.
  void endGroup() { states_[at_].group.clear(); }
  [[nodiscard]] bool canUndo() const { return at_ > 0; }
  [[nodiscard]] bool canRedo() const { return at_ + 1 < states_.size(); }
  [[nodiscard]] std::string undoLabel() const { return canUndo() ? states_[at_].label : std::string(); }
  [[nodiscard]] std::string redoLabel() const { return canRedo() ? states_[at_ + 1].label : std::string(); }
  void undo();
  void redo();
  /// All states that can be gone to, the first one first: the edit that led there ("" for the first), and the
  /// state.
  [[nodiscard]] std::vector<std::pair<std::string, std::shared_ptr<const ModState>>> all() const;
  /// Which of them is the current one.
  [[nodiscard]] size_t at() const { return at_; }
  /// Goes to one of them, as so many undos or redos would; nothing happens where there is none.
  void goTo(size_t place);
  /// Marks a state, the current one when none is given, as what is on disk.
  void markSaved(std::shared_ptr<const ModState> state = nullptr) {
    saved_ = state ? std::move(state) : current();
  }
  /// True when a save would write something: the current state differs from what is on disk.
  [[nodiscard]] bool dirty() const;
  /// Says what is on disk now, when that is none of our states: another program wrote there.
  void setSaved(ModState on_disk);
  [[nodiscard]] const std::shared_ptr<const ModState>& saved() const { return saved_; }

 private:
  struct Entry {
    std::shared_ptr<const ModState> state;
    std::string label, group;
  };
  std::vector<Entry> states_;
  size_t at_ = 0;
  std::shared_ptr<const ModState> saved_;
  // The pair of states that was compared last; comparing whole mods again and again would cost.
  mutable std::pair<std::shared_ptr<const ModState>, std::shared_ptr<const ModState>> compared_;
  mutable bool differed_ = false;
};

}  // namespace rakugo::mod
