// Values that are made when they are first asked for, once, whichever thread asks.
#pragma once

#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace rakugo::packing {

/// Copies share the value. `get` may be called from several threads; those that come while it is being made
/// wait.
template <class T>
class Lazy {
 public:
  explicit Lazy(std::function<T()> make) : state_(std::make_shared<State>()) {
    state_->make = std::move(make);
  }
  [[nodiscard]] const T& get() const {
    std::call_once(state_->once, [this] {
      state_->value.emplace(state_->make());
      state_->make = nullptr;  // what it held is let go of
    });
    return *state_->value;
  }

 private:
  struct State {
    std::once_flag once;
    std::function<T()> make;
    std::optional<T> value;
  };
  std::shared_ptr<State> state_;
};

}  // namespace rakugo::packing
