// The slips that people make in JSON, told from where the text first goes wrong.
#include <algorithm>

#include "base/json_scan.h"
#include "base/text.h"

namespace rakugo::base {
namespace {

using Wanted = JsonScan::Wanted;

bool isLetter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; }
bool isDecimal(char c) { return c >= '0' && c <= '9'; }

struct Slip {
  std::string message, cure;
};

// The text around a fault.
struct Around {
  std::string_view before, from;
  [[nodiscard]] char here() const { return from.empty() ? '\0' : from[0]; }
  // The last character before it that is no space.
  [[nodiscard]] char last() const {
    const size_t at = before.find_last_not_of(" \t\r\n");
    return at == std::string_view::npos ? '\0' : before[at];
  }
  [[nodiscard]] std::string word() const {
    size_t end = 0;
    while (end < from.size() && (isLetter(from[end]) || isDecimal(from[end]))) ++end;
    return presentable(from.substr(0, end), 40);
  }
  [[nodiscard]] bool begins(std::string_view text) const { return from.substr(0, text.size()) == text; }
};

std::optional<Slip> wrongMark(const Around& a, Wanted wanted) {
  if (a.begins("//") || a.begins("/*") || a.here() == '#')
    return Slip{"JSON has no comments.", "Take the comment out."};
  if (a.begins("\xE2\x80\x9C") || a.begins("\xE2\x80\x9D") || a.begins("\xE2\x80\x9E") || a.here() == '\'' ||
      a.here() == '`')
    return Slip{"Texts and keys stand between straight double quotes.", "Write \" for the quotation mark."};
  if (a.here() == '"')
    if (wanted == Wanted::value || wanted == Wanted::key)
      return Slip{"The text that begins here does not end on its line.",
                  "Close it with \"; write \\n for a new line inside of it."};
  if (a.here() == '(' || a.here() == ')') return Slip{"A list stands between [ and ].", "Write [ and ]."};
  if (a.here() == ';' || a.here() == '=')
    return Slip{std::string("A \"") + a.here() + "\" cannot stand here.",
                a.here() == ';' ? "Write a comma." : "Write a colon between a key and its value."};
  return std::nullopt;
}

std::optional<Slip> wrongWord(const Around& a) {
  const std::string word = a.word(), low = lowerAscii(word);
  if (low == "true" || low == "false" || low == "null")
    return Slip{"\"" + word + "\" is written in small letters.", "Write " + low + "."};
  if (low == "yes" || low == "no" || low == "on" || low == "off")
    return Slip{"\"" + word + "\" is no value of JSON.",
                std::string("Write ") + (low == "yes" || low == "on" ? "true." : "false.")};
  if (low == "none" || low == "nil")
    return Slip{"\"" + word + "\" is no value of JSON.", "Leave the key out where there is no value."};
  if (low == "nan" || low == "inf" || low == "infinity")
    return Slip{"JSON knows no " + word + ".", "Write a number."};
  if (word.empty() || !isLetter(word[0])) return std::nullopt;
  return Slip{"The text " + word + " stands without quotes.", "Write \"" + word + "\"."};
}

std::optional<Slip> wrongNumber(const Around& a) {
  if (a.here() == '+') return Slip{"A number has no plus sign.", "Leave the + out."};
  if (a.here() == '.') return Slip{"A number begins with a digit.", "Write 0 before the point."};
  size_t digits = 0;
  while (digits < a.from.size() && isDecimal(a.from[digits])) ++digits;
  if (digits > 0 && a.from.substr(digits, 1) == ".")
    return Slip{"A number with a point has digits behind it.", "Write 5 or 5.0."};
  if (isDecimal(a.here()) || a.here() == '-')
    return Slip{"This is no number.", "Write digits, and a point before the decimals: 20000, 0.5."};
  return std::nullopt;
}

// Something stands where a comma or a closing bracket should.
std::optional<Slip> noComma(const Around& a, bool in_object) {
  const bool behind_number = isDecimal(a.last()) && !a.before.empty() && isDecimal(a.before.back());
  if (behind_number && (a.here() == '_' || a.here() == '\''))
    return Slip{"The digits of a number stand together.", "Write 20000 for twenty thousand."};
  if (behind_number && isDecimal(a.here()))
    return Slip{"A number does not begin with 0 and another digit.", "Leave the zeros in front out."};
  if (behind_number && isLetter(a.here()))
    return Slip{
        "A number stands without its unit.",
        "Write the digits alone; docs/rulebook.md and the other documents say which unit each key has."};
  if (in_object && isDecimal(a.last()) && isDecimal(a.here()))
    return Slip{"The digits of a number stand together.", "Write 20000 for twenty thousand."};
  if (a.here() == (in_object ? ']' : '}'))
    return Slip{
        std::string("A \"") + a.here() + "\" stands where \"" + (in_object ? '}' : ']') + "\" is to close.",
        "Close brackets in the order in which they were opened."};
  if (a.here() == ':' && !in_object)
    return Slip{"A list holds values, not keys.", "Put { and } around keys and their values."};
  if (a.here() == '"' || a.here() == '{' || a.here() == '[' || isDecimal(a.here()) || a.here() == '-' ||
      isLetter(a.here()))
    return Slip{"A comma is missing before this.", "Write a comma between one value and the next."};
  return std::nullopt;
}

std::optional<Slip> slipAt(const JsonScan& scan, const Around& a) {
  const bool in_object = !scan.open().empty() && scan.faultAt() > 0 && a.before[scan.open().back()] == '{';
  if (a.from.empty()) {
    if (scan.open().empty()) return Slip{"There is nothing in this file.", ""};
    const size_t bracket = scan.open().back();
    return Slip{std::string("The text ends, and the \"") + a.before[bracket] + "\" of line " +
                    std::to_string(scan.lineAt(bracket)) + " is still open.",
                std::string("Close it with \"") + (in_object ? '}' : ']') + "\"."};
  }
  if (const auto mark = wrongMark(a, scan.wanted())) return mark;
  switch (scan.wanted()) {
    case Wanted::nothing:
      return std::nullopt;
    case Wanted::end_of_text:
      return Slip{"Something follows behind the end of the JSON.", "Look for a bracket too many."};
    case Wanted::comma_or_end:
      return noComma(a, in_object);
    case Wanted::colon:
      return Slip{"A colon is missing between a key and its value.", "Write : here."};
    case Wanted::key:
    case Wanted::value:
      break;
  }
  if ((a.here() == '}' || a.here() == ']') && a.last() == ',')
    return Slip{"A comma stands before the closing bracket.", "Take the comma out."};
  if (a.here() == ',') return Slip{"There is nothing between two commas.", "Take one of them out."};
  if (scan.wanted() == Wanted::key && in_object && a.last() == ',' && isDecimal(a.here()))
    return Slip{"A comma stands inside of a number, or a key is missing.",
                "Write a point before the decimals, and nothing between thousands: 0.5, 20000."};
  if (const auto word = wrongWord(a)) return word;
  if (scan.wanted() == Wanted::value) return wrongNumber(a);
  return Slip{"A key is expected here.", "A key is a text between double quotes."};
}

}  // namespace

std::optional<Error> jsonSlip(std::string_view text, const std::string& file) {
  const JsonScan scan(text);
  if (scan.wellFormed()) return std::nullopt;
  const size_t at = scan.faultAt();
  const auto slip = slipAt(scan, {text.substr(0, at), text.substr(at)});
  if (!slip) return std::nullopt;
  Error out{"json.syntax", slip->message, Place{file}, slip->cure};
  out.place.line = scan.lineAt(at);
  out.place.offset = static_cast<int64_t>(at);
  return out;
}

}  // namespace rakugo::base
