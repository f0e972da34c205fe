#include "packing/delivery/placeholders.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::packing {
namespace {

using base::Json;
using base::phrase;

constexpr size_t kLongestName = 200;

std::vector<std::string> membersOf(const Json& value) {
  std::vector<std::string> out;
  if (value.is_object())
    for (const auto& [key, one] : value.items()) out.push_back(key);
  if (value.is_array()) out.emplace_back("count");
  return out;
}

base::Error unknown(std::string_view name, const std::string& part, const std::vector<std::string>& known) {
  const std::string near = base::nearMiss(part, known);
  return base::Error{"place.unknown",
                     phrase("There is no value \"{0}\" here.", base::presentable(name, 60)),
                     {},
                     !near.empty()   ? phrase("\"{0}\" is probably meant.", near)
                     : known.empty() ? phrase("It has no values inside.")
                                     : phrase("There are {0}.", base::listText(known, 16))};
}

// The member of a value, or null.
const Json* memberNamed(const Json& value, const std::string& part) {
  if (value.is_object()) return base::memberOf(value, part.c_str());
  if (!value.is_array()) return nullptr;
  size_t number = 0;
  const auto [end, error] = std::from_chars(part.data(), part.data() + part.size(), number);
  const bool whole = error == std::errc() && end == part.data() + part.size();
  return whole && number >= 1 && number <= value.size() ? &value[number - 1] : nullptr;
}

base::Error syntax(const std::string& message, const std::string& cure) {
  return base::Error{"place.syntax", message, {}, cure};
}

base::Result<PlaceholderText::Piece> parsePlaceholder(std::string_view inside) {
  PlaceholderText::Piece out;
  size_t from = 0;
  bool first = true;
  while (from <= inside.size()) {
    const size_t bar = std::min(inside.find('|', from), inside.size());
    const std::string_view part = inside.substr(from, bar - from);
    from = bar + 1;
    if (first) {
      first = false;
      const bool good = !part.empty() && part.size() <= kLongestName && part.front() != '.' &&
                        part.back() != '.' && part.find("..") == std::string_view::npos &&
                        std::all_of(part.begin(), part.end(), [](char c) {
                          return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                                 c == '_' || c == '-' || c == '.';
                        });
      if (!good)
        return syntax(phrase("\"{0}\" is no name of a value.", base::presentable(part, 60)),
                      phrase("Names are letters, digits, dashes and underscores, joined by dots. For a brace "
                             "itself write two."));
      out.name = part;
      continue;
    }
    const size_t colon = std::min(part.find(':'), part.size());
    PlaceholderText::Filter filter{std::string(part.substr(0, colon)),
                                   std::string(part.substr(std::min(colon + 1, part.size())))};
    const bool plain = filter.name == "lower" || filter.name == "upper" || filter.name == "slug";
    const bool digits = filter.name == "digits" && filter.value.size() == 1 && filter.value[0] >= '1' &&
                        filter.value[0] <= '9';
    if (!(plain && colon == part.size()) && !digits && filter.name != "or")
      return base::Error{"place.filter",
                         phrase("\"{0}\" is no filter.", base::presentable(part, 60)),
                         {},
                         phrase("There are lower, upper, slug, digits:1 to digits:9, and or:TEXT.")};
    out.filters.push_back(std::move(filter));
  }
  return out;
}

base::Result<Json> filtered(Json value, const std::vector<PlaceholderText::Filter>& filters) {
  for (const PlaceholderText::Filter& filter : filters) {
    if (filter.name == "or") {
      if (isEmptyValue(value)) value = filter.value;
      continue;
    }
    RAKUGO_ASSIGN(std::string text, printedValue(value));
    if (filter.name == "lower") text = base::lowerAscii(text);
    if (filter.name == "upper")
      std::transform(text.begin(), text.end(), text.begin(),
                     [](char c) { return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c; });
    if (filter.name == "slug") text = base::slug(text);
    if (filter.name == "digits") {
      const auto wanted = static_cast<size_t>(filter.value[0] - '0');
      if (text.size() < wanted) text.insert(0, wanted - text.size(), '0');
    }
    value = std::move(text);
  }
  return value;
}

base::Result<Json> valueFor(const PlaceholderText::Piece& piece, const Scope& scope) {
  RAKUGO_ASSIGN(Json value, scope.valueOf(piece.name));
  return filtered(std::move(value), piece.filters);
}

}  // namespace

bool isEmptyValue(const Json& value) {
  return value.is_null() || (value.is_string() && value.get_ref<const std::string&>().empty()) ||
         (value.is_structured() && value.empty());
}

base::Result<const Json*> Scope::find(std::string_view name) const {
  size_t dot = std::min(name.find('.'), name.size());
  const std::string first(name.substr(0, dot));
  const Json* value = nullptr;
  for (const Scope* scope = this; scope != nullptr && value == nullptr; scope = scope->around_)
    value = memberNamed(*scope->values_, first);
  if (value == nullptr) return unknown(name, first, names());
  while (dot < name.size()) {
    const size_t from = dot + 1;
    dot = std::min(name.find('.', from), name.size());
    const std::string part(name.substr(from, dot - from));
    const Json* inside = memberNamed(*value, part);
    if (inside == nullptr) return unknown(name, part, membersOf(*value));
    value = inside;
  }
  return value;
}

base::Result<Json> Scope::valueOf(std::string_view name) const {
  constexpr std::string_view kCount = ".count";
  if (name.ends_with(kCount))
    if (const auto list = find(name.substr(0, name.size() - kCount.size())); list && (*list)->is_array())
      return Json((*list)->size());
  RAKUGO_ASSIGN(const Json* value, find(name));
  return Json(*value);
}

std::vector<std::string> Scope::names() const {
  std::vector<std::string> out;
  for (const Scope* scope = this; scope != nullptr; scope = scope->around_)
    for (std::string& name : membersOf(*scope->values_))
      if (std::find(out.begin(), out.end(), name) == out.end()) out.push_back(std::move(name));
  return out;
}

base::Result<PlaceholderText> parsePlaceholders(std::string_view text) {
  PlaceholderText out;
  std::string literal;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c != '{' && c != '}') {
      literal += c;
      continue;
    }
    if (i + 1 < text.size() && text[i + 1] == c) {
      literal += c;
      ++i;
      continue;
    }
    const size_t end = c == '{' ? text.find('}', i) : std::string_view::npos;
    if (end == std::string_view::npos)
      return syntax(c == '{' ? phrase("A brace is opened and not closed.")
                             : phrase("A brace is closed that was not opened."),
                    phrase("A placeholder is a name in braces; for a brace itself write two."));
    if (!literal.empty()) out.pieces.push_back({std::move(literal), {}, {}});
    literal.clear();
    RAKUGO_ASSIGN(PlaceholderText::Piece piece, parsePlaceholder(text.substr(i + 1, end - i - 1)));
    out.pieces.push_back(std::move(piece));
    i = end;
  }
  if (!literal.empty() || out.pieces.empty()) out.pieces.push_back({std::move(literal), {}, {}});
  return out;
}

base::Result<std::string> printedValue(const Json& value) {
  if (value.is_null()) return std::string();
  if (value.is_string()) return value.get<std::string>();
  if (value.is_boolean()) return std::string(value.get<bool>() ? "true" : "false");
  if (value.is_number_float()) {
    const double number = value.get<double>();
    return fmt::format("{}", number == 0 ? 0.0 : number);  // never "-0"
  }
  if (value.is_number_unsigned()) return std::to_string(value.get<uint64_t>());
  if (value.is_number()) return std::to_string(value.get<int64_t>());
  return base::Error{"place.type",
                     value.is_array() ? phrase("A list cannot stand in a text.")
                                      : phrase("A value with others inside cannot stand in a text."),
                     {},
                     phrase("Name one of what is inside, or write it for each.")};
}

base::Result<std::string> filledText(const PlaceholderText& text, const Scope& scope) {
  std::string out;
  for (const PlaceholderText::Piece& piece : text.pieces) {
    out += piece.literal;
    if (piece.name.empty()) continue;
    RAKUGO_ASSIGN(const Json value, valueFor(piece, scope));
    RAKUGO_ASSIGN(const std::string printed, printedValue(value));
    out += printed;
  }
  return out;
}

base::Result<std::string> filledText(std::string_view text, const Scope& scope) {
  RAKUGO_ASSIGN(const PlaceholderText parsed, parsePlaceholders(text));
  return filledText(parsed, scope);
}

base::Result<Json> filledValue(const PlaceholderText& text, const Scope& scope) {
  if (text.isOneValue()) return valueFor(text.pieces.front(), scope);
  RAKUGO_ASSIGN(std::string filled, filledText(text, scope));
  return Json(std::move(filled));
}

base::Result<Json> filledValue(std::string_view text, const Scope& scope) {
  RAKUGO_ASSIGN(const PlaceholderText parsed, parsePlaceholders(text));
  return filledValue(parsed, scope);
}

}  // namespace rakugo::packing
