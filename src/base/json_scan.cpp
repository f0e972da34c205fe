#include "base/json_scan.h"

#include <algorithm>
#include <charconv>

namespace rakugo::base {
namespace {

bool isSpace(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; }
bool isDigit(char c) { return c >= '0' && c <= '9'; }

// Where the number that begins at `at` ends; `at` itself when it is none.
size_t numberEnd(std::string_view text, size_t at) {
  const auto digits = [&](size_t from) {
    while (from < text.size() && isDigit(text[from])) ++from;
    return from;
  };
  size_t i = at;
  if (i < text.size() && text[i] == '-') ++i;
  if (i >= text.size() || !isDigit(text[i])) return at;
  i = text[i] == '0' ? i + 1 : digits(i);
  if (i < text.size() && text[i] == '.') {
    const size_t end = digits(i + 1);
    if (end == i + 1) return at;
    i = end;
  }
  if (i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
    size_t from = i + 1;
    if (from < text.size() && (text[from] == '+' || text[from] == '-')) ++from;
    const size_t end = digits(from);
    if (end == from) return at;
    i = end;
  }
  return i;
}

size_t plainEnd(std::string_view text, size_t at) {
  for (const std::string_view word : {"true", "false", "null"})
    if (text.substr(at, word.size()) == word) return at + word.size();
  return numberEnd(text, at);
}

// Where the string that begins with the quote at `at` ends, behind its closing quote; nothing when it does
// not end on its line.
std::optional<size_t> stringEnd(std::string_view text, size_t at) {
  for (size_t i = at + 1; i < text.size() && text[i] != '\n'; ++i) {
    if (text[i] == '\\')
      ++i;
    else if (text[i] == '"')
      return i + 1;
  }
  return std::nullopt;
}

}  // namespace

// Goes through the text once; `open_` is its stack, so that no depth of nesting exhausts ours.
class JsonScan::Scanner {
 public:
  explicit Scanner(JsonScan& out) : out_(out), text_(out.text_) {}

  void run() {
    if (text_.substr(0, 3) == "\xEF\xBB\xBF") at_ = 3;
    for (;;) {
      skipSpace();
      if (!one()) return;
    }
  }

 private:
  void skipSpace() {
    while (at_ < text_.size() && isSpace(text_[at_])) ++at_;
  }
  bool fail(Wanted wanted) {
    out_.wanted_ = wanted;
    out_.fault_at_ = at_;
    return false;
  }
  [[nodiscard]] char here() const { return at_ < text_.size() ? text_[at_] : '\0'; }
  [[nodiscard]] bool inObject() const { return !out_.open_.empty() && text_[out_.open_.back()] == '{'; }

  // One token; false at the end of the text or at a fault.
  bool one() {
    switch (wanted_) {
      case Wanted::end_of_text:
        return at_ < text_.size() ? fail(Wanted::end_of_text) : false;
      case Wanted::comma_or_end:
        if (here() == ',') {
          ++at_;
          wanted_ = inObject() ? Wanted::key : Wanted::value;
          return true;
        }
        return close() || fail(Wanted::comma_or_end);
      case Wanted::colon:
        if (here() != ':') return fail(Wanted::colon);
        ++at_;
        wanted_ = Wanted::value;
        return true;
      case Wanted::key: {
        if (may_close_ && close()) return true;
        const auto end = here() == '"' ? stringEnd(text_, at_) : std::nullopt;
        if (!end) return fail(Wanted::key);
        key_at_ = at_ + 1;
        key_size_ = *end - at_ - 2;
        at_ = *end;
        may_close_ = false;
        wanted_ = Wanted::colon;
        return true;
      }
      default:
        if (may_close_ && close()) return true;
        return value();
    }
  }

  bool close() {
    if (out_.open_.empty() || here() != (inObject() ? '}' : ']')) return false;
    ++at_;
    out_.open_.pop_back();
    parents_.pop_back();
    last_.pop_back();
    valueEnds();
    return true;
  }

  void valueEnds() {
    may_close_ = false;
    wanted_ = out_.open_.empty() ? Wanted::end_of_text : Wanted::comma_or_end;
  }

  void note() {
    const auto index = static_cast<uint32_t>(out_.values_.size());
    out_.values_.push_back({at_, inObject() ? key_at_ : 0, inObject() ? key_size_ : 0});
    if (!parents_.empty()) {
      (last_.back() == kNone ? out_.values_[parents_.back()].first : out_.values_[last_.back()].next) = index;
      last_.back() = index;
    }
  }

  bool value() {
    const char c = here();
    if (c == '{' || c == '[') {
      note();
      out_.open_.push_back(at_++);
      parents_.push_back(static_cast<uint32_t>(out_.values_.size() - 1));
      last_.push_back(kNone);
      wanted_ = c == '{' ? Wanted::key : Wanted::value;
      may_close_ = true;
      return true;
    }
    const auto quoted = c == '"' ? stringEnd(text_, at_) : std::nullopt;
    const size_t end = quoted ? *quoted : plainEnd(text_, at_);
    if (end == at_) return fail(Wanted::value);
    note();
    at_ = end;
    valueEnds();
    return true;
  }

  JsonScan& out_;
  std::string_view text_;
  size_t at_ = 0, key_at_ = 0, key_size_ = 0;
  std::vector<uint32_t> parents_, last_;  // of each open bracket: its value, and its newest member
  Wanted wanted_ = Wanted::value;
  bool may_close_ = false;  // just behind an opening bracket
};

JsonScan::JsonScan(std::string_view text) : text_(text) { Scanner(*this).run(); }

std::optional<uint32_t> JsonScan::child(uint32_t parent, std::string_view key) const {
  const bool list = text_[values_[parent].at] == '[';
  size_t index = 0;
  if (list) {
    const auto [end, error] = std::from_chars(key.data(), key.data() + key.size(), index);
    if (error != std::errc() || end != key.data() + key.size()) return std::nullopt;
  }
  size_t passed = 0;
  for (uint32_t i = values_[parent].first; i != kNone; i = values_[i].next, ++passed)
    if (list ? passed == index : text_.substr(values_[i].key_at, values_[i].key_size) == key) return i;
  return std::nullopt;
}

size_t JsonScan::offsetOf(std::string_view pointer) const {
  if (values_.empty()) return 0;
  uint32_t at = 0;
  while (!pointer.empty()) {
    pointer.remove_prefix(1);
    // A key may hold a slash: the longest piece that is a key wins.
    size_t end = pointer.size();
    std::optional<uint32_t> found = child(at, pointer);
    while (!found &&
           (end = end == 0 ? std::string_view::npos : pointer.rfind('/', end - 1)) != std::string_view::npos)
      found = child(at, pointer.substr(0, end));
    if (!found) break;
    at = *found;
    pointer.remove_prefix(std::min(end, pointer.size()));
  }
  return values_[at].at;
}

int JsonScan::lineAt(size_t offset) const {
  const auto end = text_.begin() + static_cast<std::ptrdiff_t>(std::min(offset, text_.size()));
  return 1 + static_cast<int>(std::count(text_.begin(), end, '\n'));
}

std::string_view JsonScan::plainText(std::string_view pointer) const {
  const size_t at = offsetOf(pointer);
  return at < text_.size() ? text_.substr(at, plainEnd(text_, at) - at) : std::string_view();
}

}  // namespace rakugo::base
