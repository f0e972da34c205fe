// How long the window's thread leaves input waiting: a watchdog for tests and benchmarks.
#pragma once

#include <QCoreApplication>
#include <QEvent>
#include <algorithm>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>
#include <vector>

namespace rakugo::test {

/// Knocks at the thread that it was made on, every few milliseconds from another one, and takes the time
/// until the event loop answers: what a key or a click would have had to wait. Knocks come before other
/// events.
class StallWatch : public QObject {
 public:
  StallWatch() : knocks_([this](const std::stop_token& stop) { knock(stop); }) {}
  StallWatch(const StallWatch&) = delete;
  StallWatch& operator=(const StallWatch&) = delete;
  ~StallWatch() override {
    knocks_.request_stop();
    answered_.notify_all();
  }

  /// Milliseconds of the longest wait since the last call.
  double longest_ms() {
    const std::lock_guard lock(lock_);
    return std::exchange(longest_ms_, 0);
  }

 protected:
  bool event(QEvent* event) override {
    if (event->type() != QEvent::User) return QObject::event(event);
    const std::lock_guard lock(lock_);
    longest_ms_ =
        std::max(longest_ms_,
                 std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - sent_).count());
    waiting_ = false;
    answered_.notify_all();
    return true;
  }

 private:
  void knock(const std::stop_token& stop) {
    while (!stop.stop_requested()) {
      {
        std::unique_lock lock(lock_);
        sent_ = std::chrono::steady_clock::now();
        waiting_ = true;
        QCoreApplication::postEvent(this, new QEvent(QEvent::User), Qt::HighEventPriority);
        answered_.wait(lock, [&] { return !waiting_ || stop.stop_requested(); });
      }
      std::this_thread::sleep_for(std::chrono::milliseconds(3));
    }
  }

  std::mutex lock_;
  std::condition_variable answered_;
  std::chrono::steady_clock::time_point sent_;
  double longest_ms_ = 0;
  bool waiting_ = false;
  std::jthread knocks_;  ///< last: it uses the others
};

}  // namespace rakugo::test
