// The bridge for reading beside the main work: a job off the window's thread whose result comes back to it.
#pragma once

#include <QObject>
#include <functional>
#include <memory>

#include "base/jobs.h"

namespace rakugo::app {

/// Runs jobs one after another. What a job returns is called on the window's thread, unless this is gone by
/// then. Jobs may not hold pointers to widgets; what they return may, for it runs on the window's thread
/// only. What a job throws ends that job alone, and is told to `onFault`.
class Background : public QObject {
  Q_OBJECT
 public:
  using Finish = std::function<void()>;
  explicit Background(QObject* parent = nullptr)
      : QObject(parent), worker_(std::make_unique<base::Worker>()) {}
  ~Background() override { worker_.reset(); }

  void post(std::function<Finish(base::Progress&)> work) {
    ++waiting_;
    worker_->post(
        [this, number = ++last_, cancelled = cancelled_, work = std::move(work)](base::Progress& progress) {
          if (number <= cancelled->load()) progress.cancel();
          Finish finish;
          try {
            finish = work(progress);
          } catch (const std::exception& fault) {
            finish = [what = QString::fromUtf8(fault.what())] {
              if (told()) told()(what);
            };
          }
          QMetaObject::invokeMethod(
              this,
              [this, finish = std::move(finish)] {
                --waiting_;
                if (finish) finish();
              },
              Qt::QueuedConnection);
        });
  }
  [[nodiscard]] bool busy() const { return waiting_ > 0; }
  /// Asks all that was posted until now to end soon; what it returns is called all the same.
  void cancel() {
    cancelled_->store(last_);
    if (const auto running = worker_->running()) running->cancel();
  }
  /// Where what any job threw is said, on the window's thread. Of the window; nothing takes it away.
  static void onFault(std::function<void(const QString& what)> say) { told() = std::move(say); }

 private:
  static std::function<void(const QString&)>& told() {
    static std::function<void(const QString&)> kTold;
    return kTold;
  }
  int waiting_ = 0;
  uint64_t last_ = 0;
  /// Jobs up to this number are cancelled; shared with the jobs, which may outlive this by a moment.
  std::shared_ptr<std::atomic<uint64_t>> cancelled_ = std::make_shared<std::atomic<uint64_t>>(0);
  std::unique_ptr<base::Worker> worker_;
};

}  // namespace rakugo::app
