// The open mod: its history, what the examination of its present state says, and the long work on it.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <filesystem>
#include <memory>

#include "app/bench/bench_scene.h"
#include "app/shell/background.h"
#include "app/shell/disk_side.h"
#include "app/stations/bundle/package_view.h"
#include "mod/history.h"
#include "packing/build_package.h"
#include "packing/install.h"
#include "packing/package_plan.h"

namespace rakugo::app {

/// One mod at a time. All members are used on the window's thread; work runs on a worker and comes back
/// through one bridge that drops results of states that are no longer present.
class Session : public QObject {
  Q_OBJECT
 public:
  explicit Session(QObject* parent = nullptr);
  ~Session() override;

  [[nodiscard]] bool isOpen() const { return history_ != nullptr; }
  [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
  [[nodiscard]] const mod::ModState& state() const { return *history_->current(); }
  [[nodiscard]] mod::History& history() { return *history_; }
  [[nodiscard]] const rulebook::Rulebook& book() const { return *examiner_->book(); }
  /// The last finished examination; null until the first is done.
  [[nodiscard]] const std::shared_ptr<const check::Examination>& examination() const { return examination_; }
  [[nodiscard]] const std::shared_ptr<const BenchScene>& scene() const { return scene_; }
  /// The game's folder, whose installed mods the examination knows: clashing ids, things defined twice.
  void setGame(const std::filesystem::path& game);
  /// True once the examination is of the present state and its mends were tried.
  [[nodiscard]] bool triedMends() const { return !busy() && examination_ && examination_->mends_tried; }
  /// True while the examination lags behind the state.
  [[nodiscard]] bool busy() const { return finished_ != wanted_; }
  /// The chosen model as prepared; null when there is none or its source could not be read.
  [[nodiscard]] const check::ModelState* prepared() const;
  [[nodiscard]] const std::string& model() const { return model_; }
  [[nodiscard]] const std::string& object() const { return object_; }

  /// Reads a mod in the background; `opened` or `openFailed` follows. A mod that was open before in this run
  /// comes back with its undo and redo. The mod that is open stays so until then.
  void open(const std::filesystem::path& folder);
  /// Leaves the unsaved edits of the open mod out: its history steps back to what is on disk.
  void leaveUnsaved();
  /// Before the program ends or another mod is opened: without unsaved edits the journal goes.
  void close();
  /// Saves in the background; `saved` follows.
  void save();
  /// Saves and waits; for the moment before the window goes. The problem, or empty.
  QString saveNow();
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
  void edit(const QString& label, const std::function<void(mod::ModState&)>& change,
            const QString& group = {});
  void undo();
  void redo();
  /// Whose silhouette stands behind the model.
  void setGhost(GhostChoice choice);
  [[nodiscard]] const GhostChoice& ghost() const { return ghost_; }
  void selectModel(const std::string& name);
  void selectObject(const std::string& name);
  void select(const std::string& model, const std::string& object);
  /// Long work on the open mod, behind the work that waits, with progress and cancel. What it returns is
  /// called on the window's thread, unless another mod was opened meanwhile; it may be empty.
  using Finish = std::function<void()>;
  void post(std::function<Finish(base::Progress&)> work);
  /// What such work may hold: the present state and the rulebook, both unchanging.
  [[nodiscard]] std::shared_ptr<const mod::ModState> snapshot() const { return history_->current(); }
  [[nodiscard]] std::shared_ptr<const rulebook::Rulebook> sharedBook() const { return examiner_->book(); }
  /// Builds in the background; `built` follows.
  void build();
  /// Verifies what was built and copies it to the game, in the background; `installed` follows.
  void install(const std::filesystem::path& game);
  /// Brings a running game up to date with what is open here, saved or not: builds the examined state into a
  /// file of its own and installs it, beside all other work; `gameRefreshed` follows.
  void refreshGame(const std::filesystem::path& game);
  /// Reads beside the main work.
  [[nodiscard]] Background& background() { return background_; }
  /// Takes an installed mod out of the game and puts back what was there before; `installed` follows.
  void uninstall(const std::string& mod, const std::filesystem::path& game);
  /// Ends what runs and what waits as soon as they notice; each still says that it ended.
  void cancelWork();
  /// What a build of the examined state would hold, and why; empty while findings stop it.
  [[nodiscard]] const std::vector<packing::PlannedEntry>& plan() const { return plan_; }
  /// Why there is no plan though nothing stops the game; empty when there is one.
  [[nodiscard]] const QString& planProblem() const { return plan_problem_; }
  /// Looks into a package in the background.
  void look(const QString& file, std::function<void(LookedInto)> done);
  /// True while a mod is opened or saved, a source is read, a build or an install runs.
  [[nodiscard]] bool working() const { return working_ > 0 || saving_ > 0; }
  [[nodiscard]] std::filesystem::path output() const {
    return examination_ ? packing::defaultOutput(*examination_) : std::filesystem::path();
  }

 Q_SIGNALS:
  void opened();
  void openFailed(const QString& message);
  void saved(bool good, const QString& message);
  void outsideChanged();  ///< outside() is another one
  void journalFailed(const QString& message);
  void edited();        ///< the state changed
  void examined();      ///< examination() is of the present state
  void mendsTried();    ///< examination() is the same, its mends tried and its causes known
  void sceneChanged();  ///< scene() is another one; an edit that it does not show keeps it
  void selectionChanged();
  void progressed(const QString& what, double fraction);
  void built(bool good, const QString& message);
  void installed(bool good, const QString& message);
  void gameRefreshed(bool good, const QString& message);
  void lookedInto();
  void workEnded();  ///< of `post`
  /// Work broke off with a fault of ours; nothing of it was done. `details` are for a report.
  void workFailed(const QString& details);

 private:
  struct Opened;
  void finishOpen(Opened opened);
  void beginDiskSide(mod::Footprint footprint);
  void afterEdit(const QString& label);
  void tryMends();
  void examine();
  /// Runs `work` behind the tasks that wait, then `done` with its result on the window's thread.
  template <class T>
  void run(std::function<T(base::Progress&)> work, std::function<void(T)> done);
  /// Another model, object or ghost is looked at: the bench's scene alone is made anew.
  void showSelected();
  void finishScene(uint64_t generation, std::shared_ptr<const BenchScene> scene);
  void finishExamination(uint64_t generation, std::shared_ptr<const check::Examination> x,
                         std::shared_ptr<const BenchScene> scene, std::vector<packing::PlannedEntry> plan);
  std::filesystem::path folder_;
  std::unique_ptr<mod::History> history_;
  std::shared_ptr<check::Examiner> examiner_;
  std::shared_ptr<PictureCache> pictures_;
  std::shared_ptr<packing::BuildCache> cache_;
  std::shared_ptr<const check::Examination> examination_;
  std::filesystem::path game_;
  /// Set when what is installed may have changed; the next examination reads it anew.
  std::shared_ptr<std::atomic<bool>> installed_stale_ = std::make_shared<std::atomic<bool>>(true);
  std::shared_ptr<const BenchScene> scene_;
  std::vector<packing::PlannedEntry> plan_;
  QString plan_problem_;
  std::string model_, object_;
  GhostChoice ghost_;
  uint64_t wanted_ = 0, finished_ = 0;  ///< of what the bench and the findings show
  uint64_t edition_ = 0;                ///< of what was examined; trials of mends are of one edition
  int working_ = 0, saving_ = 0;
  std::map<std::filesystem::path, std::unique_ptr<mod::History>> kept_;  ///< of mods open before in this run
  std::unique_ptr<DiskSide> disk_;
  std::shared_ptr<const mod::JournalContent> found_;
  DiskSide::Changes outside_;
  // Tasks up to this number are cancelled, those too that have not begun.
  uint64_t last_task_ = 0;
  std::shared_ptr<std::atomic<uint64_t>> cancelled_tasks_ = std::make_shared<std::atomic<uint64_t>>(0);
  QTimer progress_;
  Background background_;
  std::unique_ptr<base::Worker> examiner_thread_, tasks_;
  std::unique_ptr<base::Worker> trials_;  ///< of mends; never in the way of the next examination
};

}  // namespace rakugo::app
