#include "app/shell/tasks.h"

namespace rakugo::app {

Tasks::Tasks(QObject* parent) : QObject(parent), worker_(std::make_unique<base::Worker>()) {
  worker_->onFault([this](const std::string& what) {
    QMetaObject::invokeMethod(
        this, [this, what = q(what)] { Q_EMIT failed(what); }, Qt::QueuedConnection);
  });
  connect(&progress_, &QTimer::timeout, this, [this] {
    const auto running = worker_->running();
    if (!running) return;
    const auto [what, fraction] = running->said();
    Q_EMIT progressed(q(what), fraction);
  });
  progress_.start(120);
}

Tasks::~Tasks() { worker_.reset(); }

void Tasks::runQuietly(std::function<void(base::Progress&)> work) { worker_->post(std::move(work)); }

void Tasks::cancel() {
  cancelled_->store(last_);
  if (const auto running = worker_->running()) running->cancel();
}

}  // namespace rakugo::app
