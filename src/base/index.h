// Typed indices into dense arrays: an Index<Node> cannot be used where an Index<Mesh> is meant.
#pragma once

#include <compare>
#include <cstddef>
#include <cstdint>

namespace rakugo::base {

/// A 32-bit position in one array. Invalid by default.
template <class Tag>
class Index {
 public:
  static constexpr uint32_t kInvalid = 0xFFFFFFFFu;
  constexpr Index() = default;
  constexpr explicit Index(size_t value) : value_(static_cast<uint32_t>(value)) {}
  [[nodiscard]] constexpr bool valid() const { return value_ != kInvalid; }
  [[nodiscard]] constexpr uint32_t value() const { return value_; }
  constexpr auto operator<=>(const Index&) const = default;

 private:
  uint32_t value_ = kInvalid;
};

}  // namespace rakugo::base
