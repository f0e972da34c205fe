// Lines out of what arrives in pieces, from a peer that may never end one.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace rakugo::base {

/// Keeps what belongs to no whole line yet.
class LineBuffer {
 public:
  static constexpr size_t kLongest = size_t{1} << 20;
  void add(std::string_view more) { pending_ += more; }
  /// The next line without its line feed; nothing until it is whole.
  std::optional<std::string> next() {
    const size_t end = pending_.find('\n');
    if (end == std::string::npos) return std::nullopt;
    std::string line = pending_.substr(0, end);
    pending_.erase(0, end + 1);
    return line;
  }
  /// What is left once `next` gives nothing is longer than any line should be.
  [[nodiscard]] bool overlong() const { return pending_.size() > kLongest; }
  void clear() { pending_.clear(); }

 private:
  std::string pending_;
};

}  // namespace rakugo::base
