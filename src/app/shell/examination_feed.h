// Background work on the open mod's present state: its examination, the scene for the bench, and the plan of
// a build. Results are announced by signals.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <filesystem>
#include <memory>

#include "app/bench/bench_scene.h"
#include "base/jobs.h"
#include "packing/package_plan.h"

namespace rakugo::app {

/// All members are used on the window's thread. Results of states that are no longer present are dropped.
class ExaminationFeed : public QObject {
  Q_OBJECT
 public:
  using State = std::shared_ptr<const mod::ModState>;
  /// What one looks at.
  struct Shown {
    std::string model;
    SceneAround around;
  };

  explicit ExaminationFeed(QObject* parent = nullptr);
  /// Joins the workers.
  ~ExaminationFeed() override;

  /// Forgets all, for another mod.
  void begin(const std::filesystem::path& folder, std::shared_ptr<const rulebook::Rulebook> book);
  /// Ends what runs.
  void cancel();
  /// Examines the state; `examined` follows, and after it `mendsTried`.
  void examine(State state, Shown shown);
  /// Makes the scene of what one looks at alone; examines where the examination is not of that state.
  /// `examined` follows.
  void show(const State& state, Shown shown);
  /// The game's folder, whose installed mods the examination knows. True when it is another one.
  bool setGame(const std::filesystem::path& game);
  /// What plans are made for from the next examination on.
  void setTarget(const std::string& target) { target_ = target; }
  /// The next examination reads anew what is installed.
  void installedChanged() { *installed_stale_ = true; }

  [[nodiscard]] const check::Examiner* examiner() const { return examiner_.get(); }
  /// The last finished one; null until the first is done.
  [[nodiscard]] const std::shared_ptr<const check::Examination>& examination() const { return examination_; }
  /// Of a mod that was just opened, until it is examined: what one looks at, with its models prepared. Its
  /// findings tell nothing. Else null.
  [[nodiscard]] const std::shared_ptr<const check::Examination>& firstLook() const { return first_look_; }
  [[nodiscard]] const std::shared_ptr<const BenchScene>& scene() const { return scene_; }
  /// What a build of the examined state would hold; empty while findings stop it.
  [[nodiscard]] const std::vector<packing::PlannedEntry>& plan() const { return plan_; }
  /// Why there is no plan though nothing stops the game; empty when there is one.
  [[nodiscard]] const QString& planProblem() const { return plan_problem_; }
  /// True while what is shown lags behind the state.
  [[nodiscard]] bool busy() const { return finished_ != wanted_; }

 Q_SIGNALS:
  void examined();
  void mendsTried();
  void sceneChanged();
  /// firstLook() is there, and the scene with it.
  void firstLooked();
  /// Nothing can be shown yet: what is being done, and the box of the source as soon as that is read, metres.
  void waiting(const QString& what, std::optional<geometry::Bounds> box_m);
  /// Work broke off with a fault of ours; `details` are for a report.
  void failed(const QString& details);

 private:
  struct Found;
  void finish(uint64_t generation, const Found& found);
  void finishScene(uint64_t generation, std::shared_ptr<const BenchScene> scene);
  void tryMends();
  void tellWaiting();
  void sourceRead(const std::string& source, const geometry::Bounds& box_m);
  void lookFirst(uint64_t generation, const std::shared_ptr<const check::Examination>& look,
                 std::shared_ptr<const BenchScene> scene);
  std::shared_ptr<check::Examiner> examiner_;
  std::shared_ptr<PictureCache> pictures_;
  std::shared_ptr<const check::Examination> examination_;
  std::shared_ptr<const check::Examination> untried_;  ///< the same, before any of its mends were tried
  std::shared_ptr<const check::Examination> first_look_;
  std::shared_ptr<const BenchScene> scene_;
  std::vector<packing::PlannedEntry> plan_;
  QString plan_problem_;
  std::filesystem::path game_;
  std::string target_;
  /// Set when what is installed may have changed; the next examination reads it anew.
  std::shared_ptr<std::atomic<bool>> installed_stale_ = std::make_shared<std::atomic<bool>>(true);
  QTimer tells_;           ///< runs while nothing can be shown yet
  std::string waits_for_;  ///< the source of what one looks at
  std::optional<geometry::Bounds> source_box_m_;
  check::Examiner::Looked looked_;
  uint64_t wanted_ = 0, finished_ = 0;  ///< of what the bench and the findings show
  uint64_t edition_ = 0;                ///< of what was examined; trials of mends are of one edition
  std::unique_ptr<base::Worker> examines_;
  std::unique_ptr<base::Worker> trials_;  ///< of mends; never in the way of the next examination
};

}  // namespace rakugo::app
