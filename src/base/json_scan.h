// JSON text as characters: where each value stands, and where text that is no JSON first goes wrong.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace rakugo::base {

/// Positions of the values of one JSON text (RFC 8259). Holds no copies: `text` must outlive it. Nesting is
/// limited by memory alone; 40 bytes a value.
class JsonScan {
 public:
  /// What should have stood where the text goes wrong.
  enum class Wanted : unsigned char { nothing, value, key, colon, comma_or_end, end_of_text };

  explicit JsonScan(std::string_view text);

  /// True when the text is well-formed. Escapes inside of strings are not looked at.
  [[nodiscard]] bool wellFormed() const { return wanted_ == Wanted::nothing; }
  [[nodiscard]] Wanted wanted() const { return wanted_; }
  /// Offset of the first character that cannot stand where it stands; the text's size when it ends too early.
  [[nodiscard]] size_t faultAt() const { return fault_at_; }
  /// Offsets of the brackets that are open at the fault, the outermost first.
  [[nodiscard]] const std::vector<size_t>& open() const { return open_; }

  /// Offset of the value at `pointer` ("/kinds/0/title"; keys stand in it as they do in the text), or of the
  /// innermost value on the way to it that is there.
  [[nodiscard]] size_t offsetOf(std::string_view pointer) const;
  /// 1-based.
  [[nodiscard]] int lineOf(std::string_view pointer) const { return lineAt(offsetOf(pointer)); }
  [[nodiscard]] int lineAt(size_t offset) const;
  /// The value's own characters, for a number or a word; empty for strings, lists and objects.
  [[nodiscard]] std::string_view plainText(std::string_view pointer) const;

 private:
  static constexpr uint32_t kNone = UINT32_MAX;
  struct Value {
    size_t at;
    size_t key_at = 0, key_size = 0;  // without the quotes
    uint32_t first = kNone, next = kNone;
  };
  class Scanner;
  [[nodiscard]] std::optional<uint32_t> child(uint32_t parent, std::string_view key) const;

  std::string_view text_;
  std::vector<Value> values_;
  std::vector<size_t> open_;
  Wanted wanted_ = Wanted::nothing;
  size_t fault_at_ = 0;
};

/// What is wrong with text that is no JSON, and the cure: the slips that people make (a comma before a
/// closing bracket, comments, a comma forgotten, other quotation marks, 0,5 and 20 000 for numbers). Nothing
/// when the text is well-formed, or nothing better can be said than that it is not.
std::optional<Error> jsonSlip(std::string_view text, const std::string& file);

}  // namespace rakugo::base
