#include "base/text.h"

#include "base/phrase.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace rakugo::base {
namespace {

// Length of the well-formed UTF-8 sequence at the front of `text`, 0 when there is none.
size_t sequenceLength(std::string_view text) {
  const auto byte = [&](size_t i) { return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u; };
  const auto tail = [&](size_t i) { return (byte(i) & 0xC0u) == 0x80u; };
  const unsigned a = byte(0);
  if (a < 0x80) return 1;
  if (a >= 0xC2 && a <= 0xDF) return tail(1) ? 2 : 0;
  if (a >= 0xE0 && a <= 0xEF) {
    if (!tail(1) || !tail(2)) return 0;
    if (a == 0xE0 && byte(1) < 0xA0) return 0;
    if (a == 0xED && byte(1) > 0x9F) return 0;
    return 3;
  }
  if (a >= 0xF0 && a <= 0xF4) {
    if (!tail(1) || !tail(2) || !tail(3)) return 0;
    if (a == 0xF0 && byte(1) < 0x90) return 0;
    if (a == 0xF4 && byte(1) > 0x8F) return 0;
    return 4;
  }
  return 0;
}

// The code point of the well-formed sequence of `n` bytes at the front of `text`.
uint32_t codePoint(std::string_view text, size_t n) {
  const auto byte = [&](size_t i) { return static_cast<uint32_t>(static_cast<unsigned char>(text[i])); };
  uint32_t out = n == 1 ? byte(0) : byte(0) & (0xFFU >> (n + 1));
  for (size_t i = 1; i < n; ++i) out = out << 6U | (byte(i) & 0x3FU);
  return out;
}

// Ill-formed bytes become U+FFFD; controls are left out, but for line feeds and tabs when `lines`.
std::string cleaned(std::string_view text, size_t most, bool lines) {
  std::string out;
  while (!text.empty() && out.size() < most) {
    const size_t n = sequenceLength(text);
    if (n == 0)
      out += "\xEF\xBF\xBD";
    else if (!isControl(codePoint(text, n)) || (lines && (text[0] == '\n' || text[0] == '\t')))
      out += text.substr(0, n);
    text.remove_prefix(std::max<size_t>(n, 1));
  }
  return out;
}

}  // namespace

bool isControl(uint32_t c) {
  return c < 0x20 || (c >= 0x7F && c < 0xA0) || (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069);
}

bool holdsControls(std::string_view text, bool lines) {
  while (!text.empty()) {
    const size_t n = sequenceLength(text);
    if (n > 0 && isControl(codePoint(text, n)) && !(lines && (text[0] == '\n' || text[0] == '\t')))
      return true;
    text.remove_prefix(std::max<size_t>(n, 1));
  }
  return false;
}

std::string lowerAscii(std::string_view text) {
  std::string out(text);
  for (char& c : out)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return out;
}

bool sameWords(std::string_view one, std::string_view other) {
  const auto plain = [](std::string_view text) {
    std::string out = lowerAscii(text);
    std::erase_if(out, [](char c) { return c == ' ' || c == '-' || c == '_' || c == '.'; });
    return out;
  };
  return plain(one) == plain(other);
}

bool isUtf8(std::string_view text) {
  while (!text.empty()) {
    const size_t n = sequenceLength(text);
    if (n == 0) return false;
    text.remove_prefix(n);
  }
  return true;
}

std::string presentable(std::string_view text, size_t most) { return cleaned(text, most, false); }
std::string printable(std::string_view text) { return cleaned(text, SIZE_MAX, true); }

std::string escapedControls(std::string text) {
  if (!holdsControls(text, true)) return text;
  std::string out;
  std::string_view rest = text;
  while (!rest.empty()) {
    const size_t n = std::max<size_t>(sequenceLength(rest), 1);
    const uint32_t c = codePoint(rest, n);
    if (isControl(c) && c != '\n')
      out += fmt::format("\\u{:04x}", c);
    else
      out += rest.substr(0, n);
    rest.remove_prefix(n);
  }
  return out;
}

std::string numberText(double value, int digits) {
  if (!std::isfinite(value)) return phrase("not a number");
  if (std::abs(value) >= 1e12) return fmt::format("{:.2e}", value);  // no one counts so many digits
  std::string out = fmt::format("{:.{}f}", value, digits);
  if (out.find('.') != std::string::npos) {
    while (out.back() == '0') out.pop_back();
    if (out.back() == '.') out.pop_back();
  }
  return out == "-0" ? "0" : out;
}

std::string lengthText(double length_m) {
  if (!std::isfinite(length_m)) return phrase("not a number");
  const double size = std::abs(length_m);
  if (size == 0) return "0 m";
  if (size >= 1e7) return fmt::format("{:.2e} m", length_m);
  if (size >= 100) return fmt::format("{:.0f} m", length_m);
  if (size >= 10) return fmt::format("{:.1f} m", length_m);
  if (size >= 0.995) return fmt::format("{:.2f} m", length_m);
  if (size >= 0.0095) return phrase("{0} cm", numberText(length_m * 100, 1));
  return phrase("{0} mm", numberText(length_m * 1000, 2));
}

std::string countText(uint64_t count, std::string_view one, std::string_view many) {
  return counted(count, "{0} " + std::string(one), "{0} " + std::string(many));
}

std::string groupedText(uint64_t value) {
  std::string out = std::to_string(value);
  for (int at = static_cast<int>(out.size()) - 3; at > 0; at -= 3) out.insert(static_cast<size_t>(at), ",");
  return out;
}

std::string sizeText(uint64_t bytes) {
  if (bytes < 1000) return countText(bytes, "byte", "bytes");
  if (bytes < 1'000'000) return phrase("{0} kB", numberText(static_cast<double>(bytes) / 1e3, 1));
  if (bytes < 1'000'000'000) return phrase("{0} MB", numberText(static_cast<double>(bytes) / 1e6, 1));
  return phrase("{0} GB", numberText(static_cast<double>(bytes) / 1e9, 2));
}

std::string slug(std::string_view title) {
  std::string out;
  for (char c : lowerAscii(title)) {
    const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
    if (plain)
      out += c;
    else if (!out.empty() && out.back() != '-')
      out += '-';
  }
  while (!out.empty() && out.back() == '-') out.pop_back();
  return out.empty() ? "thing" : out.substr(0, 48);
}

std::string listText(const std::vector<std::string>& items, size_t most) {
  if (items.empty()) return phrase("nothing");
  if (items.size() == 1) return items[0];
  if (items.size() > most) {
    std::string out;
    for (size_t i = 0; i + 1 < most; ++i) out += items[i] + ", ";
    out.resize(out.size() - 2);
    return phrase("{0} and {1} others", out, items.size() - most + 1);
  }
  std::string out = items[0];
  for (size_t i = 1; i + 1 < items.size(); ++i) out += ", " + items[i];
  return phrase("{0} and {1}", out, items.back());
}

std::string withoutDots(std::string_view path) {
  std::string out;
  for (size_t at = 0; at <= path.size();) {
    const size_t end = std::min(path.find('/', at), path.size());
    const std::string_view segment = path.substr(at, end - at);
    if (segment != ".") {
      out += segment;
      if (end < path.size()) out += '/';
    }
    at = end + 1;
  }
  return out;
}

int editDistance(std::string_view a, std::string_view b) {
  a = a.substr(0, 64);
  b = b.substr(0, 64);
  std::array<std::array<int, 65>, 3> rows{};  // before the last, the last, this one
  for (size_t j = 0; j <= b.size(); ++j) rows[1][j] = static_cast<int>(j);
  for (size_t i = 1; i <= a.size(); ++i) {
    auto& row = rows[2];
    row[0] = static_cast<int>(i);
    for (size_t j = 1; j <= b.size(); ++j) {
      row[j] = std::min({rows[1][j] + 1, row[j - 1] + 1, rows[1][j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1)});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
        row[j] = std::min(row[j], rows[0][j - 2] + 1);
    }
    rows[0] = rows[1];
    rows[1] = rows[2];
  }
  return rows[1][b.size()];
}

}  // namespace rakugo::base
