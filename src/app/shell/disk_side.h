// The open mod on disk: saving it, journaling what is not saved, and noticing what other programs change.
#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <filesystem>
#include <memory>

#include "base/jobs.h"
#include "mod/changes.h"
#include "mod/journal.h"

namespace rakugo::app {

/// Everything here is asked for on the window's thread and done on one worker, in the order asked.
/// Invariants:
///  1. The footprint and the journal are touched by the worker alone.
///  2. A journal is emptied only after a save that wrote all it holds.
///  3. A file that another program changed is written over only after `acknowledge`.
class DiskSide : public QObject {
  Q_OBJECT
 public:
  using State = std::shared_ptr<const mod::ModState>;
  using Changes = std::shared_ptr<const std::vector<mod::DiskChange>>;

  DiskSide(std::filesystem::path folder, mod::Footprint footprint, QObject* parent);
  /// Finishes what was asked for. The journal stays when it holds edits.
  ~DiskSide() override;

  /// The journal's place of this mod.
  [[nodiscard]] static std::filesystem::path journalOf(const std::filesystem::path& folder);
  /// Begins to journal; what an old journal held is gone. `saved` is what is on disk, `now` what is open.
  void beginJournal(State saved, State now);
  void record(const QString& label, State state);
  /// Writes what differs between `before`, the state on disk, and `state`; `saved` follows.
  void save(State state, State before);
  /// Looks soon at what other programs changed; `changed` follows when there is something new.
  void look();
  /// The person has decided about these changes: they are known from now on.
  void acknowledge(const Changes& changes, State saved, State now);
  /// Waits until everything asked for is done.
  void finish() { worker_.finish(); }
  /// Removes the journal: the mod is closed and nothing unsaved is wanted.
  void dropJournal();

 Q_SIGNALS:
  void saved(const rakugo::app::DiskSide::State& state, const QString& problem, const QString& code);
  void changed(const rakugo::app::DiskSide::Changes& changes);
  void journalFailed(const QString& problem);

 private:
  struct Kept;
  void watch();
  void checkNow();
  std::filesystem::path folder_;
  std::shared_ptr<Kept> kept_;
  QFileSystemWatcher watcher_;
  QTimer soon_;
  base::Worker worker_;
};

}  // namespace rakugo::app
