// What the window works on: the open mod, what is known of its present state, what one looks at, and the long
// work on it.
#pragma once

#include <QObject>
#include <filesystem>
#include <memory>

#include "app/bench/step_scene.h"
#include "app/shell/background.h"
#include "app/shell/document.h"
#include "app/shell/examination_feed.h"
#include "app/shell/tasks.h"
#include "app/stations/bundle/package_view.h"
#include "packing/build_package.h"
#include "packing/install.h"

namespace rakugo::app {

/// One mod at a time. All members are used on the window's thread. Puts together what its three parts know:
/// the document (document.h), the feed of examinations (examination_feed.h) and the tasks (tasks.h).
class Session : public QObject {
  Q_OBJECT
 public:
  explicit Session(QObject* parent = nullptr);

  [[nodiscard]] bool isOpen() const { return document_.isOpen(); }
  [[nodiscard]] const std::filesystem::path& folder() const { return document_.folder(); }
  [[nodiscard]] const mod::ModState& state() const { return *document_.now(); }
  [[nodiscard]] mod::History& history() { return document_.history(); }
  [[nodiscard]] const rulebook::Rulebook& book() const { return *feed_.examiner()->book(); }
  /// The last finished examination; null until the first is done.
  [[nodiscard]] const std::shared_ptr<const check::Examination>& examination() const {
    return feed_.examination();
  }
  [[nodiscard]] const std::shared_ptr<const BenchScene>& scene() const { return feed_.scene(); }
  /// The game's folder, whose installed mods the examination knows: clashing ids, things defined twice.
  void setGame(const std::filesystem::path& game);
  /// True once the examination is of the present state and its mends were tried.
  [[nodiscard]] bool triedMends() const { return !busy() && examination() && examination()->mends_tried; }
  /// True when the examination is of the present state, whatever else is still made.
  [[nodiscard]] bool isExamined() const { return examination() && examination()->mod.get() == &state(); }
  /// True while the examination, or the scene, lags behind the state.
  [[nodiscard]] bool busy() const { return feed_.busy(); }
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
  void close() { document_.close(); }
  /// Saves in the background; `saved` follows.
  void save() { document_.save(); }
  /// Saves and waits; for the moment before the window goes. The problem, or empty.
  QString saveNow() { return document_.saveNow(); }
  /// Unsaved edits of an earlier run that ended badly; null when there are none or they are decided on.
  [[nodiscard]] const std::shared_ptr<const mod::JournalContent>& found() const { return document_.found(); }
  /// Makes them again, as edits that can be undone. The result names what could not be given back.
  std::vector<base::Error> takeFound();
  void leaveFound() { document_.leaveFound(); }
  /// What other programs changed on disk since it was read; null when nothing did.
  [[nodiscard]] const DiskSide::Changes& outside() const { return document_.outside(); }
  /// What it would change here, in words.
  [[nodiscard]] std::vector<mod::Difference> outsideDifferences() const {
    return document_.outsideDifferences();
  }
  /// Takes it in, as an edit that can be undone, or keeps what is open here, to be written by the next save.
  base::Status takeOutside();
  void keepOurs() { document_.keepOurs(); }
  /// Looks soon whether other programs changed something.
  void lookOutside() { document_.lookOutside(); }
  void edit(const QString& label, const std::function<void(mod::ModState&)>& change,
            const QString& group = {});
  void undo();
  void redo();
  /// Goes to a state of the history, as so many undos or redos would.
  void goTo(size_t place);
  /// Whose silhouette stands behind the model.
  /// The chosen model before and after one of its steps, made in the background; `done` is called on the
  /// window's thread, with nothing where there is none.
  void compareStep(size_t step, std::function<void(const std::optional<StepScenes>&)> done);
  void setGhost(GhostChoice choice);
  [[nodiscard]] const GhostChoice& ghost() const { return ghost_; }
  /// What is seen hanging at attachment points of the model, by the points' ids. A view only.
  void setHung(std::map<std::string, prepare::HangChoice> hung);
  [[nodiscard]] const std::map<std::string, prepare::HangChoice>& hung() const { return hung_; }
  void selectModel(const std::string& name);
  void selectObject(const std::string& name);
  void select(const std::string& model, const std::string& object);
  /// Long work on the open mod, behind the work that waits, with progress and cancel. What it returns is
  /// called on the window's thread, unless another mod was opened meanwhile; it may be empty.
  using Finish = std::function<void()>;
  void post(std::function<Finish(base::Progress&)> work);
  /// What such work may hold: the present state and the rulebook, both unchanging.
  [[nodiscard]] std::shared_ptr<const mod::ModState> snapshot() const { return document_.now(); }
  [[nodiscard]] std::shared_ptr<const rulebook::Rulebook> sharedBook() const {
    return feed_.examiner()->book();
  }
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
  void cancelWork() { tasks_.cancel(); }
  /// What a build of the examined state would hold, and why; empty while findings stop it.
  [[nodiscard]] const std::vector<packing::PlannedEntry>& plan() const { return feed_.plan(); }
  /// Why there is no plan though nothing stops the game; empty when there is one.
  [[nodiscard]] const QString& planProblem() const { return feed_.planProblem(); }
  /// Looks into a package in the background.
  void look(const QString& file, std::function<void(LookedInto)> done);
  /// True while a mod is opened or saved, a source is read, a build or an install runs.
  [[nodiscard]] bool working() const { return tasks_.working() || document_.saving(); }
  [[nodiscard]] std::filesystem::path output() const {
    return examination() ? packing::defaultOutput(*examination(), target_) : std::filesystem::path();
  }
  /// The target that is built for and tried out: an id of the rulebook's; kept for each game.
  [[nodiscard]] const std::string& target() const { return target_; }
  /// One that the rulebook does not have changes nothing.
  void setTarget(const std::string& target);

 Q_SIGNALS:
  void opened();
  void openFailed(const QString& message);
  void saved(bool good, const QString& message);
  void outsideChanged();  ///< outside() is another one
  void journalFailed(const QString& message);
  void edited();    ///< the state changed
  void examined();  ///< examination() is of the present state
  /// Nothing can be shown yet: what is being done, and the box of the source once it is read, metres.
  void waiting(const QString& what, std::optional<geometry::Bounds> box_m);
  void firstLooked();   ///< prepared() and scene() are there, of a mod that is still examined
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
  void examine();
  /// Another model, object or ghost is looked at.
  void showSelected();
  Document document_;
  ExaminationFeed feed_;
  Tasks tasks_;
  std::shared_ptr<packing::BuildCache> cache_;
  std::string model_, object_, target_;
  GhostChoice ghost_;
  std::map<std::string, prepare::HangChoice> hung_;
  std::shared_ptr<PictureCache> step_pictures_;  ///< of the comparison of steps, which runs beside the feed
  Background background_;
};

}  // namespace rakugo::app
