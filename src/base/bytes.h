// Little-endian reading that cannot leave its buffer, and the writer that mirrors it.
#pragma once

#include <bit>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include "base/result.h"

namespace rakugo::base {

using Bytes = std::vector<std::byte>;
using ByteSpan = std::span<const std::byte>;

static_assert(std::endian::native == std::endian::little,
              "Rakugo's byte layouts assume a little-endian machine");

/// The bytes of a text, without a copy.
inline ByteSpan asBytes(std::string_view text) { return std::as_bytes(std::span(text.data(), text.size())); }
/// The text in some bytes, without a copy and without a check for UTF-8.
inline std::string_view asText(ByteSpan bytes) {
  return {reinterpret_cast<const char*>(bytes.data()), bytes.size()};
}

/// Reads a value of a trivially copyable type at `offset`; the caller has checked that it fits.
template <class T>
T loadAt(ByteSpan bytes, size_t offset) {
  static_assert(std::is_trivially_copyable_v<T>);
  if (offset > bytes.size() || bytes.size() - offset < sizeof(T)) brokenPromise("loadAt outside its buffer");
  T value;
  std::memcpy(&value, bytes.data() + offset, sizeof(T));
  return value;
}

/// Writes a value of a trivially copyable type at `offset`, where it must fit.
template <class T>
void storeAt(Bytes& bytes, size_t offset, const T& value) {
  static_assert(std::is_trivially_copyable_v<T>);
  if (offset > bytes.size() || bytes.size() - offset < sizeof(T)) brokenPromise("storeAt outside its buffer");
  std::memcpy(bytes.data() + offset, &value, sizeof(T));
}

/// Copies the bytes of values that lie close together; `to` is filled whole, and `from` must hold as many
/// bytes.
template <class T>
void copyInto(ByteSpan from, std::span<T> to) {
  static_assert(std::is_trivially_copyable_v<T>);
  if (from.size() < to.size_bytes()) brokenPromise("copyInto from a shorter buffer");
  if (!to.empty()) std::memcpy(static_cast<void*>(to.data()), from.data(), to.size_bytes());
}

/// Appends `count` values of type T that lie side by side, widened where the list's type is wider; `from`
/// must hold as many bytes.
template <class T, class To>
void appendValues(ByteSpan from, size_t count, std::vector<To>& to) {
  static_assert(std::is_trivially_copyable_v<T>);
  if (count > from.size() / sizeof(T)) brokenPromise("appendValues from a shorter buffer");
  if (reinterpret_cast<uintptr_t>(from.data()) % alignof(T) == 0) {
    const T* values = reinterpret_cast<const T*>(from.data());
    to.insert(to.end(), values, values + count);
  } else {
    for (size_t i = 0; i < count; ++i) to.push_back(loadAt<T>(from, i * sizeof(T)));
  }
}

/// Walks a buffer. After the first read that does not fit, `ok()` is false and every further read gives zero.
class ByteReader {
 public:
  explicit ByteReader(ByteSpan bytes) : bytes_(bytes) {}
  template <class T>
  T read() {
    static_assert(std::is_arithmetic_v<T>);
    if (!take(sizeof(T))) return T{};
    return loadAt<T>(bytes_, at_ - sizeof(T));
  }
  /// The next `count` bytes, or an empty span.
  ByteSpan bytes(uint64_t count) { return take(count) ? bytes_.subspan(at_ - count, count) : ByteSpan{}; }
  [[nodiscard]] bool ok() const { return ok_; }
  [[nodiscard]] uint64_t at() const { return at_; }
  [[nodiscard]] uint64_t left() const { return bytes_.size() - at_; }

 private:
  bool take(uint64_t count) {
    if (!ok_ || count > left()) return ok_ = false;
    at_ += count;
    return true;
  }
  ByteSpan bytes_;
  uint64_t at_ = 0;
  bool ok_ = true;
};

/// Appends values to a buffer.
class ByteWriter {
 public:
  template <class T>
  void write(T value) {
    static_assert(std::is_arithmetic_v<T>);
    const auto* from = reinterpret_cast<const std::byte*>(&value);
    out_.insert(out_.end(), from, from + sizeof(T));
  }
  void bytes(ByteSpan more) { out_.insert(out_.end(), more.begin(), more.end()); }
  void zeros(size_t count) { out_.insert(out_.end(), count, std::byte{0}); }
  /// Zeros up to the next multiple of `alignment`.
  void align(size_t alignment) { zeros((alignment - out_.size() % alignment) % alignment); }
  template <class T>
  void overwrite(size_t offset, T value) {
    if (offset > out_.size() || out_.size() - offset < sizeof(T))
      brokenPromise("overwrite outside its buffer");
    std::memcpy(out_.data() + offset, &value, sizeof(T));
  }
  [[nodiscard]] size_t size() const { return out_.size(); }
  /// Makes room for `count` bytes in all.
  void reserve(size_t count) { out_.reserve(count); }
  [[nodiscard]] ByteSpan view() const { return out_; }
  Bytes take() { return std::move(out_); }

 private:
  Bytes out_;
};

}  // namespace rakugo::base
