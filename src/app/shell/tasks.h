// Long work, one after another, beside the window: with progress, and cancelled by the person.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <functional>
#include <memory>

#include "app/widgets/theme.h"
#include "base/jobs.h"

namespace rakugo::app {

/// All members are used on the window's thread; work runs on one worker and its result comes back to the
/// window's thread. What a library throws in spite of its promise ends that work, not the program.
class Tasks : public QObject {
  Q_OBJECT
 public:
  explicit Tasks(QObject* parent = nullptr);
  /// Joins the worker.
  ~Tasks() override;

  /// Runs `work` behind the tasks that wait, then `done` with its result on the window's thread.
  template <class T>
  void run(std::function<T(base::Progress&)> work, std::function<void(T)> done);
  /// Runs `work` behind the tasks that wait; it is not counted as work that the person asked for.
  void runQuietly(std::function<void(base::Progress&)> work);
  /// Ends what runs and what waits as soon as they notice; each still says that it ended.
  void cancel();
  /// True while counted work runs or waits.
  [[nodiscard]] bool working() const { return working_ > 0; }

 Q_SIGNALS:
  void progressed(const QString& what, double fraction);
  /// Work broke off with a fault of ours; `details` are for a report.
  void failed(const QString& details);

 private:
  int working_ = 0;
  // Tasks up to this number are cancelled, those too that have not begun.
  uint64_t last_ = 0;
  std::shared_ptr<std::atomic<uint64_t>> cancelled_ = std::make_shared<std::atomic<uint64_t>>(0);
  QTimer progress_;
  std::unique_ptr<base::Worker> worker_;
};

template <class T>
void Tasks::run(std::function<T(base::Progress&)> work, std::function<void(T)> done) {
  ++working_;
  worker_->post([this, number = ++last_, cancelled = cancelled_, work = std::move(work),
                 done = std::move(done)](base::Progress& progress) {
    if (number <= cancelled->load()) progress.cancel();
    try {
      auto result = std::make_shared<T>(work(progress));
      QMetaObject::invokeMethod(
          this,
          [this, result, done] {
            --working_;
            done(std::move(*result));
          },
          Qt::QueuedConnection);
    } catch (const std::exception& fault) {
      QMetaObject::invokeMethod(
          this,
          [this, what = q(fault.what())] {
            --working_;
            Q_EMIT failed(what);
          },
          Qt::QueuedConnection);
    }
  });
}

}  // namespace rakugo::app
