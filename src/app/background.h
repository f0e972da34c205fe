// The bridge for reading beside the main work: a job off the window's thread whose result comes back to it.
#pragma once

#include <QObject>
#include <functional>
#include <memory>

#include "base/jobs.h"

namespace rakugo::app {

/// Runs jobs one after another. What a job returns is called on the window's thread, unless this is gone by
/// then. Jobs may not hold pointers to widgets; what they return may, for it runs on the window's thread
/// only.
class Background : public QObject {
  Q_OBJECT
 public:
  using Finish = std::function<void()>;
  explicit Background(QObject* parent = nullptr)
      : QObject(parent), worker_(std::make_unique<base::Worker>()) {}
  ~Background() override { worker_.reset(); }

  void post(std::function<Finish(base::Progress&)> work) {
    ++waiting_;
    worker_->post([this, work = std::move(work)](base::Progress& progress) {
      auto finish = work(progress);
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

 private:
  int waiting_ = 0;
  std::unique_ptr<base::Worker> worker_;
};

}  // namespace rakugo::app
