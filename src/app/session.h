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
  /// Copies a model file into the mod; makes a model of it, and an object when the rulebook leaves no choice
  /// of kind.
  base::Status addSource(const std::filesystem::path& file);

  /// Builds in the background; `built` follows.
  void build();
  void cancelBuild();
  [[nodiscard]] bool building() const { return building_; }
  [[nodiscard]] std::filesystem::path output() const {
    return examination_ ? build::defaultOutput(*examination_) : std::filesystem::path();
  }

 Q_SIGNALS:
  void opened();
  void edited();        ///< the state changed
  void examined();      ///< examination() is of the present state
  void sceneChanged();  ///< scene() is new
  void selectionChanged();
  void progressed(const QString& what, double fraction);
  void built(bool good, const QString& message);

 private:
  void examine();
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
  bool building_ = false;
  QTimer progress_;
  std::unique_ptr<base::Worker> worker_, builder_;
};

}  // namespace rakugo::app
