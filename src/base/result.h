// Errors as values. Nothing in Rakugo's libraries throws across its border; everything that can fail returns
// Result.
#pragma once

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace rakugo::base {

/// Where something is wrong. Every field may be empty; `text()` joins those that are not.
struct Place {
  std::string file;     ///< path as the person knows it
  std::string path;     ///< JSON pointer, node path or field name inside the file
  int64_t offset = -1;  ///< byte offset, -1 when unknown
  int line = 0;         ///< 1-based line, 0 when unknown

  /// "lamp.glb, /meshes/0/primitives/1 (byte 812)"; empty when nothing is known.
  [[nodiscard]] std::string text() const;
  bool operator==(const Place&) const = default;
};

/// A refusal for people and for programs: a stable code, one sentence, the place, and what to do about it.
struct Error {
  std::string code;     ///< stable, dotted: "gltf.accessor.range"
  std::string message;  ///< one sentence
  Place place;
  std::string cure;  ///< what the person can do; may be empty

  /// message, place and cure in one line.
  [[nodiscard]] std::string text() const;
};

/// Something that succeeded but is worth saying.
struct Note {
  std::string code;
  std::string message;
  Place place;
};

/// Aborts with `what`: our own promise is broken. Used in release builds too.
[[noreturn]] void brokenPromise(const char* what, const std::string& detail = {});

/// Either a value or an Error. Misuse (`value()` on an error) aborts with the error's text instead of reading
/// garbage.
template <class T>
class [[nodiscard]] Result {
 public:
  Result(T value) : held_(std::move(value)) {}  // NOLINT(google-explicit-constructor)
  Result(Error error)
      : held_(tl::make_unexpected(std::move(error))) {}  // NOLINT(google-explicit-constructor)

  [[nodiscard]] bool ok() const { return held_.has_value(); }
  explicit operator bool() const { return ok(); }
  T& value() & { return check(), *held_; }
  const T& value() const& { return check(), *held_; }
  /// By value: a loop over what a temporary Result holds would read what is gone.
  T value() && { return check(), std::move(*held_); }
  T* operator->() { return check(), &*held_; }
  const T* operator->() const { return check(), &*held_; }
  T& operator*() & { return value(); }
  const T& operator*() const& { return value(); }
  T operator*() && { return std::move(*this).value(); }
  [[nodiscard]] const Error& error() const {
    if (ok()) brokenPromise("error() of a Result that holds a value");
    return held_.error();
  }

 private:
  void check() const {
    if (!ok()) brokenPromise("value() of a Result that holds an error", held_.error().text());
  }
  tl::expected<T, Error> held_;
};

/// A Result without a value.
template <>
class [[nodiscard]] Result<void> {
 public:
  Result() = default;
  Result(Error error)
      : held_(tl::make_unexpected(std::move(error))) {}  // NOLINT(google-explicit-constructor)
  [[nodiscard]] bool ok() const { return held_.has_value(); }
  explicit operator bool() const { return ok(); }
  [[nodiscard]] const Error& error() const {
    if (ok()) brokenPromise("error() of a Result that holds a value");
    return held_.error();
  }

 private:
  tl::expected<void, Error> held_;
};

using Status = Result<void>;

}  // namespace rakugo::base

/// Hands an error of `expression` (a Result) to our caller.
#define RAKUGO_TRY(expression)                          \
  do {                                                  \
    auto rakugo_status_ = (expression);                 \
    if (!rakugo_status_) return rakugo_status_.error(); \
  } while (false)

#define RAKUGO_JOIN2(a, b) a##b
#define RAKUGO_JOIN(a, b) RAKUGO_JOIN2(a, b)
/// Declares `variable` with the value of `expression`, or hands its error to our caller.
#define RAKUGO_ASSIGN(variable, expression)                                                         \
  auto RAKUGO_JOIN(rakugo_result_, __LINE__) = (expression);                                        \
  if (!RAKUGO_JOIN(rakugo_result_, __LINE__)) return RAKUGO_JOIN(rakugo_result_, __LINE__).error(); \
  variable = std::move(RAKUGO_JOIN(rakugo_result_, __LINE__)).value()

#ifdef RAKUGO_ASSERTS
#define RAKUGO_ASSERT(condition)                                 \
  do {                                                           \
    if (!(condition)) ::rakugo::base::brokenPromise(#condition); \
  } while (false)
#else
#define RAKUGO_ASSERT(condition) ((void)0)
#endif
