// The journal: edits that are not saved yet, so that a crash or a kill loses none. docs/mod-folder.md, "The
// journal".
//
// One file a mod, kept outside the mod's folder. Its first line says which mod and what its documents held
// when the journal began; each further line is one edit with the whole content of every document it changed.
// A line begins with the SHA-256 of its rest, so that a line cut off by a crash is known as such and left
// out.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "mod/history.h"
#include "mod/store.h"

namespace rakugo::mod {

/// Where the journal of a mod's folder lies below `journals`: a name made from the folder's real path.
std::filesystem::path journalPath(const std::filesystem::path& journals, const std::filesystem::path& folder);

/// Appends edits. One writer a mod: the file is locked while this lives.
class Journal {
 public:
  Journal() = default;
  Journal(Journal&& other) noexcept;
  Journal& operator=(Journal&& other) noexcept;
  ~Journal();

  /// Begins an empty journal at `path` for `folder`, whose documents are `saved` and whose files are
  /// `footprint`. What the file held before is gone. Errors: journal.in_use (another Rakugo has the mod
  /// open), file.unwritable.
  static base::Result<Journal> begin(const std::filesystem::path& path, const std::filesystem::path& folder,
                                     ModState saved, const Footprint& footprint);
  /// Appends what differs between `state` and the state recorded last. Cost: of the documents that differ.
  /// The line has reached the system when this returns, and the disk when `sync` is set.
  base::Status record(const std::string& label, const ModState& state, bool sync = false);
  /// Forgets all edits: they are saved, or given up.
  base::Status restart(ModState saved, const Footprint& footprint);
  /// Removes the file; for a mod that is closed with nothing unsaved.
  void remove();
  [[nodiscard]] bool isOpen() const { return descriptor_ >= 0; }

 private:
  base::Status append(const std::string& json);
  base::Status writeHead(const Footprint& footprint);
  std::filesystem::path path_, folder_;
  int descriptor_ = -1;
  ModState last_;
};

/// One edit as it was journaled.
struct JournalEdit {
  std::string label, at;  ///< at: UTC, "2026-03-01T12:00:00Z"
  /// Whole contents by path; null for a document that the edit removed.
  std::vector<std::pair<std::string, std::shared_ptr<const base::Bytes>>> changes;
};

struct JournalContent {
  std::filesystem::path folder;  ///< of the mod
  Footprint base;                ///< the mod's files when the journal began
  std::vector<JournalEdit> edits;
  bool cut_off = false;  ///< the last line was not whole and is left out
};

/// Reads a journal. Damage at the end is what a crash leaves and no error. Errors: file.*, journal.damaged
/// (the first line is not one of ours).
base::Result<JournalContent> readJournal(const std::filesystem::path& path);
/// The same over bytes; for tests and fuzzing.
base::Result<JournalContent> parseJournal(base::ByteSpan bytes, const std::string& file);

/// True when another process holds the journal open.
bool journalInUse(const std::filesystem::path& path);

/// Makes every journaled edit again on `history`, one undoable edit each. Documents that the journal cannot
/// give back whole are named in the result and stay as they are.
std::vector<base::Error> recover(History& history, const JournalContent& journal);

}  // namespace rakugo::mod
