// The open mod: its history, what the examination of its present state says, and the long work on it.
#pragma once

#include <QObject>
#include <QTimer>
#include <filesystem>
#include <memory>

#include "app/bench_scene.h"
#include "build/build_bundle.h"
#include "mod/history.h"

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
  /// True while the examination lags behind the state.
  [[nodiscard]] bool busy() const { return finished_ != wanted_; }
  /// The chosen model as prepared; null when there is none or its source could not be read.
  [[nodiscard]] const check::ModelState* prepared() const;
  [[nodiscard]] const std::string& model() const { return model_; }
  [[nodiscard]] const std::string& object() const { return object_; }

  base::Status open(const std::filesystem::path& folder);
  base::Status save();
  void edit(const QString& label, const std::function<void(mod::ModState&)>& change,
            const QString& group = {});
  void undo();
  void redo();
  void selectModel(const std::string& name);
  void selectObject(const std::string& name);
  /// Reads a model file and copies it into the mod, in the background; makes a model of it, and an object
  /// when the rulebook leaves no choice of kind. `added` follows; on failure the mod is as it was.
  void addSource(const std::filesystem::path& file);
  /// Builds in the background; `built` follows.
  void build();
  /// Verifies what was built and copies it to the game, in the background; `installed` follows.
  void install(const std::filesystem::path& game);
  void cancelWork() { tasks_->cancelAll(); }
  /// True while a source is added, a build or an install runs.
  [[nodiscard]] bool working() const { return working_ > 0; }
  [[nodiscard]] std::filesystem::path output() const {
    return examination_ ? build::defaultOutput(*examination_) : std::filesystem::path();
  }

 Q_SIGNALS:
  void opened();
  void edited();        ///< the state changed
  void examined();      ///< examination() is of the present state
  void sceneChanged();  ///< scene() is another one; an edit that it does not show keeps it
  void selectionChanged();
  void progressed(const QString& what, double fraction);
  void added(bool good, const QString& message);
  void built(bool good, const QString& message);
  void installed(bool good, const QString& message);

 private:
  void examine();
  /// Runs `work` behind the tasks that wait, then `done` with its result on the window's thread.
  template <class T>
  void run(std::function<T(base::Progress&)> work, std::function<void(T)> done);
  void finishExamination(uint64_t generation, std::shared_ptr<const check::Examination> x,
                         std::shared_ptr<const BenchScene> scene);
  std::filesystem::path folder_;
  std::unique_ptr<mod::History> history_;
  std::shared_ptr<check::Examiner> examiner_;
  std::shared_ptr<PictureCache> pictures_;
  std::shared_ptr<const check::Examination> examination_;
  std::shared_ptr<const BenchScene> scene_;
  std::string model_, object_;
  uint64_t wanted_ = 0, finished_ = 0;
  int working_ = 0;
  QTimer progress_;
  std::unique_ptr<base::Worker> examiner_thread_, tasks_;
};

}  // namespace rakugo::app
