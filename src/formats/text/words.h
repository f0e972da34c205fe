// Words of a line of text, as the line-based formats have them.
#pragma once

#include <string_view>

namespace rakugo::formats {

/// Space, tab, carriage return, vertical tab, form feed; a line feed ends a line and is none.
inline bool isSpace(char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\v' || c == '\f'; }

/// `text` without the white space around it.
inline std::string_view trimmed(std::string_view text) {
  while (!text.empty() && isSpace(text.front())) text.remove_prefix(1);
  while (!text.empty() && isSpace(text.back())) text.remove_suffix(1);
  return text;
}

/// Takes the next word off the front; empty at the end.
inline std::string_view nextWord(std::string_view& text) {
  text = trimmed(text);
  size_t end = 0;
  while (end < text.size() && !isSpace(text[end])) ++end;
  const std::string_view word = text.substr(0, end);
  text.remove_prefix(end);
  return word;
}

/// Takes the next line off the front, without its end: line feed, carriage return, or both.
inline std::string_view nextLine(std::string_view& text) {
  size_t end = text.find_first_of("\r\n");
  if (end == std::string_view::npos) end = text.size();
  const std::string_view line = text.substr(0, end);
  const bool both = end + 1 < text.size() && text[end] == '\r' && text[end + 1] == '\n';
  text.remove_prefix(end == text.size() ? end : end + (both ? 2 : 1));
  return line;
}

}  // namespace rakugo::formats
