// The slips that people make in JSON, told from where the text first goes wrong.
#include <algorithm>

#include "base/json_scan.h"
#include "base/phrase.h"
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
    return Slip{phrase("JSON has no comments."), phrase("Take the comment out.")};
  if (a.begins("\xE2\x80\x9C") || a.begins("\xE2\x80\x9D") || a.begins("\xE2\x80\x9E") || a.here() == '\'' ||
      a.here() == '`')
    return Slip{phrase("Texts and keys stand between straight double quotes."),
                phrase("Write \" for the quotation mark.")};
  if (a.here() == '"')
    if (wanted == Wanted::value || wanted == Wanted::key)
      return Slip{phrase("The text that begins here does not end on its line."),
                  phrase("Close it with \"; write \\n for a new line inside of it.")};
  if (a.here() == '(' || a.here() == ')')
    return Slip{phrase("A list stands between [ and ]."), phrase("Write [ and ].")};
  if (a.here() == ';' || a.here() == '=')
    return Slip{
        phrase("A \"{0}\" cannot stand here.", a.here()),
        a.here() == ';' ? phrase("Write a comma.") : phrase("Write a colon between a key and its value.")};
  return std::nullopt;
}

std::optional<Slip> wrongWord(const Around& a) {
  const std::string word = a.word(), low = lowerAscii(word);
  if (low == "true" || low == "false" || low == "null")
    return Slip{phrase("\"{0}\" is written in small letters.", word), phrase("Write {0}.", low)};
  if (low == "yes" || low == "no" || low == "on" || low == "off")
    return Slip{phrase("\"{0}\" is no value of JSON.", word),
                phrase("Write {0}.", low == "yes" || low == "on" ? "true" : "false")};
  if (low == "none" || low == "nil")
    return Slip{phrase("\"{0}\" is no value of JSON.", word),
                phrase("Leave the key out where there is no value.")};
  if (low == "nan" || low == "inf" || low == "infinity")
    return Slip{phrase("JSON knows no {0}.", word), phrase("Write a number.")};
  if (word.empty() || !isLetter(word[0])) return std::nullopt;
  return Slip{phrase("The text {0} stands without quotes.", word), phrase("Write \"{0}\".", word)};
}

std::optional<Slip> wrongNumber(const Around& a) {
  if (a.here() == '+') return Slip{phrase("A number has no plus sign."), phrase("Leave the + out.")};
  if (a.here() == '.')
    return Slip{phrase("A number begins with a digit."), phrase("Write 0 before the point.")};
  size_t digits = 0;
  while (digits < a.from.size() && isDecimal(a.from[digits])) ++digits;
  if (digits > 0 && a.from.substr(digits, 1) == ".")
    return Slip{phrase("A number with a point has digits behind it."), phrase("Write 5 or 5.0.")};
  if (isDecimal(a.here()) || a.here() == '-')
    return Slip{phrase("This is no number."),
                phrase("Write digits, and a point before the decimals: 20000, 0.5.")};
  return std::nullopt;
}

// Something stands where a comma or a closing bracket should.
std::optional<Slip> noComma(const Around& a, bool in_object) {
  const bool behind_number = isDecimal(a.last()) && !a.before.empty() && isDecimal(a.before.back());
  if (behind_number && (a.here() == '_' || a.here() == '\''))
    return Slip{phrase("The digits of a number stand together."), phrase("Write 20000 for twenty thousand.")};
  if (behind_number && isDecimal(a.here()))
    return Slip{phrase("A number does not begin with 0 and another digit."),
                phrase("Leave the zeros in front out.")};
  if (behind_number && isLetter(a.here()))
    return Slip{
        phrase("A number stands without its unit."),
        phrase(
            "Write the digits alone; docs/rulebook.md and the other documents say which unit each key has.")};
  if (in_object && isDecimal(a.last()) && isDecimal(a.here()))
    return Slip{phrase("The digits of a number stand together."), phrase("Write 20000 for twenty thousand.")};
  if (a.here() == (in_object ? ']' : '}'))
    return Slip{phrase("A \"{0}\" stands where \"{1}\" is to close.", a.here(), (in_object ? '}' : ']')),
                phrase("Close brackets in the order in which they were opened.")};
  if (a.here() == ':' && !in_object)
    return Slip{phrase("A list holds values, not keys."),
                phrase("Put { and } around keys and their values.")};
  if (a.here() == '"' || a.here() == '{' || a.here() == '[' || isDecimal(a.here()) || a.here() == '-' ||
      isLetter(a.here()))
    return Slip{phrase("A comma is missing before this."),
                phrase("Write a comma between one value and the next.")};
  return std::nullopt;
}

std::optional<Slip> slipAt(const JsonScan& scan, const Around& a) {
  const bool in_object = !scan.open().empty() && scan.faultAt() > 0 && a.before[scan.open().back()] == '{';
  if (a.from.empty()) {
    if (scan.open().empty()) return Slip{phrase("There is nothing in this file."), ""};
    const size_t bracket = scan.open().back();
    return Slip{phrase("The text ends, and the \"{0}\" of line {1} is still open.", a.before[bracket],
                       scan.lineAt(bracket)),
                phrase("Close it with \"{0}\".", in_object ? "}" : "]")};
  }
  if (const auto mark = wrongMark(a, scan.wanted())) return mark;
  switch (scan.wanted()) {
    case Wanted::nothing:
      return std::nullopt;
    case Wanted::end_of_text:
      return Slip{phrase("Something follows behind the end of the JSON."),
                  phrase("Look for a bracket too many.")};
    case Wanted::comma_or_end:
      return noComma(a, in_object);
    case Wanted::colon:
      return Slip{phrase("A colon is missing between a key and its value."), phrase("Write : here.")};
    case Wanted::key:
    case Wanted::value:
      break;
  }
  if ((a.here() == '}' || a.here() == ']') && a.last() == ',')
    return Slip{phrase("A comma stands before the closing bracket."), phrase("Take the comma out.")};
  if (a.here() == ',')
    return Slip{phrase("There is nothing between two commas."), phrase("Take one of them out.")};
  if (scan.wanted() == Wanted::key && in_object && a.last() == ',' && isDecimal(a.here()))
    return Slip{phrase("A comma stands inside of a number, or a key is missing."),
                phrase("Write a point before the decimals, and nothing between thousands: 0.5, 20000.")};
  if (const auto word = wrongWord(a)) return word;
  if (scan.wanted() == Wanted::value) return wrongNumber(a);
  return Slip{phrase("A key is expected here."), phrase("A key is a text between double quotes.")};
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
