// Long work off the calling thread: a snapshot goes in, progress and a result come out, and it can be
// cancelled.
#pragma once

#include <algorithm>
#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <string>
#include <thread>

#include "base/result.h"

namespace rakugo::base {

/// What a running job may ask and say. Passed by reference down into the libraries; a default one never
/// cancels.
class Progress {
 public:
  Progress() = default;
  Progress(const Progress&) = delete;
  Progress& operator=(const Progress&) = delete;
  /// Asks the work to end soon; it then returns the error `cancelled()`.
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  [[nodiscard]] bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
  /// What is being done now and how much of it, 0..1.
  void say(std::string what, double fraction);
  [[nodiscard]] std::pair<std::string, double> said() const;

 private:
  std::atomic<bool> cancelled_{false};
  mutable std::mutex lock_;
  std::string what_;
  double fraction_ = 0;
};

/// The error every cancelled work returns; code "job.cancelled".
Error cancelledError();

/// Runs jobs one after another on one thread of its own; the destructor cancels and joins.
/// A job that throws breaks its promise. What it threw is told to `onFault`, on the worker's thread, and the
/// next job runs; without one the process ends with it.
class Worker {
 public:
  using Work = std::function<void(Progress&)>;
  /// `background`: what nobody waits for. It runs at a lower priority and leaves half of the cores to others.
  enum class Rank { usual, background };
  explicit Worker(Rank rank = Rank::usual);
  ~Worker();
  Worker(const Worker&) = delete;
  Worker& operator=(const Worker&) = delete;
  /// Queues `work`. With `replace`, work that waits is dropped and the running work is asked to end.
  void post(Work work, bool replace = false);
  /// The progress of what runs now; null when idle.
  [[nodiscard]] std::shared_ptr<Progress> running() const;
  void cancelAll();
  /// Set before the first job is posted.
  void onFault(std::function<void(const std::string& what)> told);
  /// Waits until all that was posted is done.
  void finish();

 private:
  struct State;
  std::shared_ptr<State> state_;
  std::thread thread_;
};

/// Calls body(i) for i in [0, count) on all cores, in no order. Each call should be worth a thread's while
/// (ten microseconds or more); the body must not throw.
void parallelFor(size_t count, const std::function<void(size_t)>& body);

/// How many pieces of `size` [0, count) falls into; the last may be shorter.
inline size_t piecesOf(size_t count, size_t size) { return (count + size - 1) / size; }

/// Calls body(piece, begin, end) for each such piece on all cores, in no order. What is put together in the
/// order of the pieces is the same on any number of cores.
template <class Body>
void parallelPieces(size_t count, size_t size, Body body) {
  parallelFor(piecesOf(count, size),
              [&](size_t piece) { body(piece, piece * size, std::min(count, (piece + 1) * size)); });
}

}  // namespace rakugo::base
