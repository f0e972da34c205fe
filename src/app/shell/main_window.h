// The window: route above; contents left and instrument right, as high as the window; between them the bench,
// or what else the station is about, above preparation and findings.
#pragma once

#include <QMainWindow>
#include <QTimer>
#include <set>

#include "app/bench/bench.h"
#include "app/contents/contents.h"
#include "app/findings/findings_panel.h"
#include "app/shell/guide.h"
#include "app/shell/notice_bar.h"
#include "app/shell/preparation.h"
#include "app/shell/route.h"
#include "app/shell/shortcuts.h"
#include "app/stations/bundle/station_bundle.h"
#include "app/stations/shape/station_shape.h"
#include "app/stations/skeleton/station_skeleton.h"
#include "app/stations/sources/source_work.h"
#include "app/stations/sources/station_sources.h"
#include "app/stations/station_panel.h"
#include "app/stations/tryout/station_tryout.h"

class QLabel;
class QProgressBar;
class QSplitter;
class QStackedWidget;

namespace rakugo::app {

class HelpPanel;
class StartPage;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();
  /// Opens a mod in the background; says why when it cannot. False when the person stays with the one that is
  /// open.
  bool openMod(const QString& folder);
  /// Opens whatever a path is: a mod's folder or mod.json, a bundle or zip to look into, a model to take in.
  void openPath(const QString& path);
  /// Takes files, folders and archives in, in the background; says when they are there, or why they cannot
  /// be.
  void addSources(const QStringList& paths);
  /// Where and how large the window was when it was last closed, and how its areas were divided.
  void restorePlace();
  [[nodiscard]] Session& session() { return session_; }
  [[nodiscard]] SourceWork& sourceWork() { return work_; }
  [[nodiscard]] Bench& bench() { return *bench_; }
  void setStation(Station station);
  /// Looks into a bundle or zip: at the Bundle station, or in a dialog while no mod is open.
  void showPackage(const QString& file);

 protected:
  void changeEvent(QEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void makeMenus();
  void makeModMenu();
  void makeGoMenu();
  void makeViewMenu();
  template <class Target, class Slot>
  QAction* addAction(QMenu* menu, const char* id, const QString& text, const QKeySequence& keys,
                     Target* target, Slot slot);
  /// Gives the keyboard to an area of the window, or to the first control in it.
  static void focusInto(QWidget* area);
  void makeFrame();
  void makeStatusLine();
  QWidget* makeStart();
  QWidget* makeWork();
  QWidget* makeBench();
  QWidget* makeLower();
  void makeStations();
  void layLower();
  /// Gives the middle everything, or gives it back.
  void giveRoom(bool alone);
  /// The instrument as wide as it was left at this station.
  void fitInstrument();
  void refreshPanel(StationPanel* panel);
  /// What stands apart from the findings. Sources, when it is not seen, only `with_sources`.
  void refreshShown(bool with_sources);
  static QString widthKey(Station station);
  // main_wiring.cpp
  void connectSession();
  void connectLongWork();
  void connectParts();
  void ended(bool good, const QString& message);
  void showOpened();
  void showDone(const QStringList& done);
  /// The name of a part that is shown, its triangles and its materials with what they are to the game.
  [[nodiscard]] QString describePart(const std::string& key) const;
  /// Brings an object's field into sight; the Bundle station when no object is named.
  void goTo(const QString& object, const QString& field);
  /// What depends on the mod's documents alone; after each edit.
  void refreshEdited();
  /// All that is shown; after an examination or another choice.
  void refresh();
  /// After an examination, or another scene of the same one.
  void refreshExamined();
  void sayState();
  void tell(const QString& text, bool good);
  /// Puts what a problem report needs into the clipboard.
  void copyDetails();
  void openPaths(const QStringList& paths);
  void openZips(const QStringList& zips, const QStringList& beside);
  /// Goes to a station and brings a place into sight there.
  void showPlace(Station station, const check::FindingPlace& place);
  void askOpen();
  void askNew(const QString& copy_of, const QString& title);
  void askThing();
  /// Copies the first mod's model into a folder of the person's own and goes along with what they do.
  void startFirstMod();
  /// Copies an example into a folder of the person's own and opens it; the guide goes along where `guided`.
  void startFrom(const std::filesystem::path& example, const QString& title, bool guided);
  /// Shows the page of the help about what has the keyboard.
  void helpHere();
  /// Shows that page of the help; the list of all pages where there is none.
  void help(const QString& page);
  void makeHelp(QSplitter* beside);
  void showContents();
  /// Keeps the open mod's state and picture for the start page.
  void remember();
  void setNight(bool night);
  void askSources();
  void chooseSources(const std::vector<prepare::Given>& given);
  void exportModel();
  void save();
  void showOutside();
  void decideOutside();
  void offerFound();
  bool mayClose();
  void build();
  /// Builds, installs and starts the game.
  void tryIt();
  void takeThumbnail();
  void takeTurned();

  static constexpr int kInstrumentLeast = 300, kInstrumentUsual = 324, kInstrumentMost = 560;  // pixels
  static constexpr int kTurns = 12;  ///< pictures of a model all round
  QVector<QImage> turned_;
  QTimer turning_;
  Shortcuts shortcuts_;
  Session session_;
  SourceWork work_{session_};
  Route* route_;
  StartPage* start_page_;
  NoticeBar* notice_;
  Guide* guide_;
  HelpPanel* help_;
  QStackedWidget* pages_;
  Contents* contents_;
  Bench* bench_;
  std::unique_ptr<Bench> hidden_bench_;  ///< owns the bench where no bench can be shown
  Preparation* preparation_;
  FindingsPanel* findings_;
  QSplitter *work_area_, *centre_, *lower_, *bench_sides_;
  QStackedWidget *middles_, *stations_;
  bool lower_is_line_ = false;
  int lower_height_ = 230;  ///< of what lies below the middle, while it is folded
  std::vector<StationPanel*> panels_;
  /// What was shown by the last `refresh`: an examination, a state, and what is chosen.
  std::tuple<const void*, const void*, std::string, std::string> shown_;
  std::set<StationPanel*> waiting_;  ///< those that have not shown the present state yet
  ShapeStation* shape_;
  SkeletonStation* skeleton_;
  SourcesStation* sources_;
  BundleStation* bundle_;
  TryoutStation* tryout_;
  QLabel* told_;
  QString under_way_;     ///< the last that was said of a work that runs
  QLabel* pointed_;       ///< what of the model is pointed at
  QPushButton* details_;  ///< beside an error that was told
  QProgressBar* progress_;
  QPushButton* cancel_;
  QAction* undo_;
  QAction* redo_;
  QAction* save_;
  QAction* alone_;
  std::vector<QAction*> needs_mod_;   ///< what has no use while no mod is open
  std::vector<QAction*> needs_rest_;  ///< and what has none while a task runs, either
  bool asking_new_ = false, copying_example_ = false;
  bool start_after_build_ = false, build_asked_ = false, build_after_save_ = false, guide_wanted_ = false;
};

}  // namespace rakugo::app
