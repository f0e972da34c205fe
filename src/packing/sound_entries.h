// The sounds that go into a package: each recording as often as it is made differently.
#pragma once

#include <map>
#include <set>
#include <string>
#include <vector>

#include "bundle/records.h"
#include "packing/package_plan.h"
#include "prepare/objects/sound_pieces.h"

namespace rakugo::packing {

/// What the game reads of a sound piece, but for its name and place. `named` are the ids of what is heard.
bundle::ObjectSound soundRecord(const prepare::SoundValues& says, std::vector<std::string> named,
                                double unit_m);

/// Collects them while a package is planned. `examination` outlives this.
class SoundEntries {
 public:
  explicit SoundEntries(const check::Examination& examination) : x_(examination) {}

  /// The id of the entry that holds a source's sound, made so; `why` says what pulls it in. Empty where the
  /// source is no sound that could be read: a finding has said so.
  std::string add(const std::string& source, const prepare::SoundMaking& how, const std::string& why);
  /// What a card or a list names: the sound as the game takes it, all of it, once.
  std::string addWhole(const std::string& source, const std::string& why);

  /// The entries, in the order in which they were added; then none are left.
  std::vector<PlannedEntry> take() { return std::move(entries_); }
  [[nodiscard]] const std::set<std::string>& sources() const { return sources_; }

 private:
  const check::Examination& x_;
  std::map<std::pair<std::string, std::string>, std::string> ids_;  // by source and making
  std::set<std::string> taken_, sources_;
  std::vector<PlannedEntry> entries_;
};

}  // namespace rakugo::packing
