#include "base/jobs.h"
#include "base/phrase.h"

#include <sys/resource.h>
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/partitioner.h>
#include <tbb/task_arena.h>
#include <unistd.h>

#include <condition_variable>
#include <deque>
#include <optional>

namespace rakugo::base {

void Progress::say(std::string what, double fraction) {
  const std::lock_guard guard(lock_);
  what_ = std::move(what);
  fraction_ = fraction;
}

std::pair<std::string, double> Progress::said() const {
  const std::lock_guard guard(lock_);
  return {what_, fraction_};
}

Error cancelledError() { return Error{"job.cancelled", phrase("This was cancelled."), {}, ""}; }

struct Worker::State {
  mutable std::mutex lock;
  std::condition_variable wake, idle;
  std::deque<Work> waiting;
  std::shared_ptr<Progress> running;
  bool stop = false;
  std::function<void(const std::string&)> told;
};

namespace {

// On Linux a thread has a nice value of its own. Where it cannot be set the work runs as any other.
void lowerPriorityOfThisThread() {
  constexpr int kNice = 10;
  (void)setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), kNice);
}

int halfOfTheCores() { return std::max(1, static_cast<int>(std::thread::hardware_concurrency()) / 2); }

}  // namespace

Worker::Worker(Rank rank) : state_(std::make_shared<State>()) {
  thread_ = std::thread([state = state_, rank] {
    // The loops of background work run in an arena of their own, so that no other loop waits for its pieces.
    std::optional<tbb::task_arena> arena;
    if (rank == Rank::background) {
      lowerPriorityOfThisThread();
      arena.emplace(halfOfTheCores());
    }
    for (;;) {
      Work work;
      std::shared_ptr<Progress> progress;
      {
        std::unique_lock guard(state->lock);
        state->wake.wait(guard, [&] { return state->stop || !state->waiting.empty(); });
        if (state->stop) return;
        work = std::move(state->waiting.front());
        state->waiting.pop_front();
        progress = state->running = std::make_shared<Progress>();
      }
      try {
        if (arena)
          arena->execute([&] { work(*progress); });
        else
          work(*progress);
      } catch (const std::exception& e) {
        if (!state->told) brokenPromise("a job threw", e.what());
        state->told(e.what());
      }
      const std::lock_guard guard(state->lock);
      state->running.reset();
      state->idle.notify_all();
    }
  });
}

Worker::~Worker() {
  {
    const std::lock_guard guard(state_->lock);
    state_->stop = true;
    state_->waiting.clear();
    if (state_->running) state_->running->cancel();
  }
  state_->wake.notify_all();
  thread_.join();
}

void Worker::post(Work work, bool replace) {
  {
    const std::lock_guard guard(state_->lock);
    if (replace) {
      state_->waiting.clear();
      if (state_->running) state_->running->cancel();
    }
    state_->waiting.push_back(std::move(work));
  }
  state_->wake.notify_all();
}

std::shared_ptr<Progress> Worker::running() const {
  const std::lock_guard guard(state_->lock);
  return state_->running;
}

void Worker::cancelAll() {
  const std::lock_guard guard(state_->lock);
  state_->waiting.clear();
  if (state_->running) state_->running->cancel();
}

void Worker::onFault(std::function<void(const std::string&)> told) {
  const std::lock_guard guard(state_->lock);
  state_->told = std::move(told);
}

void Worker::finish() {
  std::unique_lock guard(state_->lock);
  state_->idle.wait(guard, [&] { return state_->waiting.empty() && !state_->running; });
}

void parallelFor(size_t count, const std::function<void(size_t)>& body) {
  // One by one: each is much, and how much differs.
  tbb::parallel_for(
      tbb::blocked_range<size_t>(0, count, 1),
      [&](const tbb::blocked_range<size_t>& some) {
        for (size_t i = some.begin(); i < some.end(); ++i) body(i);
      },
      tbb::simple_partitioner());
}

}  // namespace rakugo::base
