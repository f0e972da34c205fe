// What differs between two states of a mod, and what another program changed on disk.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "mod/store.h"

namespace rakugo::mod {

/// One value that two states do not share, in words for people.
struct Difference {
  std::string document;      ///< path in the mod
  std::string pointer;       ///< JSON pointer inside it; empty for the whole document
  std::string ours, theirs;  ///< the values as short JSON; "" for one that is not there
  /// "models/lamp.model.json, /steps/0/factor: 0.01, on disk 0.02"
  [[nodiscard]] std::string text(std::string_view other_side) const;
};

/// Differences of the documents at `paths`; at most `most`. Lists are compared place by place.
std::vector<Difference> differences(const ModState& ours, const ModState& theirs,
                                    const std::vector<std::string>& paths, size_t most = 200);

/// A document or icon that another program changed, added or removed.
struct DiskChange {
  enum class Sort : unsigned char { added, changed, removed };
  std::string path;
  Sort sort = Sort::changed;
  bool unreadable = false;  ///< what is there now cannot be read; `error` says why
  base::Error error;
  std::shared_ptr<const base::Bytes> content;  ///< what is there now; null when removed or unreadable
};

/// What differs on disk from `footprint`, sorted by path. Cost: reads every document of the mod.
std::vector<DiskChange> diskChanges(const std::filesystem::path& folder, const Footprint& footprint);

/// `state` with those changes taken in. Errors: of `putDocument`; `state` is then as it was.
base::Status takeChanges(ModState& state, const std::vector<DiskChange>& changes);
/// The footprint with those changes known: they are taken, or knowingly to be written over.
void acknowledge(Footprint& footprint, const std::vector<DiskChange>& changes);

}  // namespace rakugo::mod
