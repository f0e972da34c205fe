// The open mod: its history, what is saved of it, and what other programs changed.
#pragma once

#include <QObject>
#include <filesystem>
#include <map>
#include <memory>
#include <set>

#include "app/shell/disk_side.h"
#include "mod/history.h"

namespace rakugo::app {

/// One mod at a time. All members are used on the window's thread.
class Document : public QObject {
  Q_OBJECT
 public:
  using State = std::shared_ptr<const mod::ModState>;
  /// What is read from disk before a mod is open; made on a worker.
  struct Opened {
    std::filesystem::path folder;
    base::Result<mod::ModState> state = base::cancelledError();
    mod::Footprint footprint;
    std::shared_ptr<const mod::JournalContent> journal;  ///< of an earlier run; null when there is none
    /// `known`: mods whose undo of this run may need files that nothing else needs. Errors, in `state`: those
    /// of mod::loadMod, job.cancelled.
    static Opened read(const std::filesystem::path& folder, const std::set<std::filesystem::path>& known,
                       base::Progress& progress);
  };

  using QObject::QObject;
  /// Finishes what was asked of the disk.
  ~Document() override;

  [[nodiscard]] bool isOpen() const { return history_ != nullptr; }
  [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
  [[nodiscard]] mod::History& history() { return *history_; }
  [[nodiscard]] const mod::History& history() const { return *history_; }
  [[nodiscard]] State now() const { return history_->current(); }
  /// Folders of the mods that were open in this run, this one among them: their undo comes back with them.
  [[nodiscard]] std::set<std::filesystem::path> known() const;

  /// Takes over what was read without an error; the mod that was open before is kept with its undo.
  void take(Opened opened);
  /// Before the program ends or another mod is opened: without unsaved edits the journal goes.
  void close();
  /// Saves in the background; `saved` follows.
  void save();
  /// Saves and waits; for the moment before the window goes. The problem, or empty.
  QString saveNow();
  [[nodiscard]] bool saving() const { return saving_ > 0; }

  // Each makes a state of its own, and says `edited`.
  void edit(const QString& label, const std::function<void(mod::ModState&)>& change, const QString& group);
  /// False when there is nothing to undo, or to redo.
  bool undo();
  bool redo();
  /// Goes to a state of the history. False: it is there already, or there is no such one.
  bool goTo(size_t place);
  /// Leaves unsaved edits out: the history steps back to what is on disk. False when there are none.
  bool leaveUnsaved();

  /// Unsaved edits of an earlier run that ended badly; null when there are none or they are decided on.
  [[nodiscard]] const std::shared_ptr<const mod::JournalContent>& found() const { return found_; }
  /// Makes them again, as edits that can be undone. The result names what could not be given back.
  std::vector<base::Error> takeFound();
  void leaveFound();

  /// What other programs changed on disk since it was read; null when nothing did.
  [[nodiscard]] const DiskSide::Changes& outside() const { return outside_; }
  /// What it would change here, in words.
  [[nodiscard]] std::vector<mod::Difference> outsideDifferences() const;
  /// Takes it in, as an edit that can be undone, or keeps what is open here, to be written by the next save.
  base::Status takeOutside();
  void keepOurs();
  /// Looks soon whether other programs changed something.
  void lookOutside();

 Q_SIGNALS:
  void edited();  ///< the state changed, or whether it is saved
  void saved(bool good, const QString& message);
  void outsideChanged();  ///< outside() is another one
  void journalFailed(const QString& message);

 private:
  void beginDiskSide(mod::Footprint footprint);
  void finishSave(const State& state, const QString& problem, const QString& code);
  void record(const QString& label);
  std::filesystem::path folder_;
  std::unique_ptr<mod::History> history_;
  std::map<std::filesystem::path, std::unique_ptr<mod::History>> kept_;  ///< of mods open before in this run
  std::unique_ptr<DiskSide> disk_;
  std::shared_ptr<const mod::JournalContent> found_;
  DiskSide::Changes outside_;
  int saving_ = 0;
};

}  // namespace rakugo::app
