#include "rulebook/field_value.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::rulebook {
namespace {

using base::Json;

base::Error refused(const Field& field, const std::string& typed, const std::string& takes) {
  return {"field.type",
          base::phrase("\"{0}\" is no value of {1}.", base::presentable(typed, 60), field.title),
          {{}, field.id},
          base::phrase("{0} takes {1}.", field.title, takes)};
}

// Three numbers with commas or blanks between them.
base::Result<Json> typedColor(const Field& field, const std::string& typed) {
  Json out = Json::array();
  const char *at = typed.data(), *end = at + typed.size();
  while (at != end) {
    if (*at == ',' || *at == ' ') {
      ++at;
      continue;
    }
    double value = 0;
    const auto [next, error] = std::from_chars(at, end, value);
    if (error != std::errc() || !(value >= 0 && value <= 1)) break;
    out.push_back(value);
    at = next;
  }
  if (at == end && out.size() == 3) return out;
  return refused(field, typed, base::phrase("red, green and blue, each 0 to 1: 0.9,0.4,0.2"));
}

std::string limitFault(const Field& field, const Json& value, std::string& expected);

// The limits in words; empty where there are none.
std::string limitText(const Field& field) {
  const auto unit = field.unit.empty() ? "" : " " + field.unit;
  if (field.min && field.max)
    return base::phrase("{0} to {1}{2}", base::numberText(*field.min), base::numberText(*field.max), unit);
  if (field.min) return base::phrase("at least {0}{1}", base::numberText(*field.min), unit);
  if (field.max) return base::phrase("at most {0}{1}", base::numberText(*field.max), unit);
  return {};
}

bool outside(const Field& field, double n) {
  return (field.min && n < *field.min) || (field.max && n > *field.max);
}

std::string rangeFault(const Field& field, const Json& value, std::string& expected) {
  expected = base::phrase("two numbers, the lower first");
  if (!value.is_array() || value.size() != 2 || !value[0].is_number() || !value[1].is_number())
    return base::phrase("is no range");
  const double low = value[0].get<double>(), high = value[1].get<double>();
  if (low > high) return base::phrase("begins above its end");
  if (const std::string limits = limitText(field); !limits.empty()) expected = limits;
  if (!outside(field, low) && !outside(field, high)) return {};
  return base::phrase("is {0} to {1}{2}", base::numberText(low), base::numberText(high),
                      field.unit.empty() ? "" : " " + field.unit);
}

// One row of a list: the fault of the first cell that has one.
std::string rowFault(const Field& field, const Json& row, std::string& expected) {
  if (field.columns.size() == 1) {
    const Field& column = field.columns.front();
    if (!isEmpty(row)) return limitFault(column, row, expected);
    return column.required ? base::phrase("{0} is empty", column.title) : std::string();
  }
  if (!row.is_object()) return expected = base::phrase("named values"), base::phrase("is no row");
  for (const Field& column : field.columns) {
    const Json* cell = base::memberOf(row, column.id.c_str());
    const bool empty = cell == nullptr || cell->is_null() ||
                       (cell->is_string() && cell->get_ref<const std::string&>().empty());
    std::string fault;
    if (!empty)
      fault = limitFault(column, *cell, expected);
    else if (column.required)
      fault = base::phrase("is empty"), expected.clear();
    if (!fault.empty()) return base::phrase("{0} {1}", column.title, fault);
  }
  return {};
}

std::string listFault(const Field& field, const Json& value, std::string& expected) {
  if (!value.is_array()) return expected = base::phrase("rows"), base::phrase("is no list");
  const auto rows = static_cast<double>(value.size());
  if (outside(field, rows)) {
    Field count = field;
    count.unit.clear();
    expected = base::phrase("{0} rows", limitText(count));
    return base::phrase("has {0} rows", value.size());
  }
  double before = 0;
  for (size_t i = 0; i < value.size(); ++i) {
    std::string fault = rowFault(field, value[i], expected);
    if (fault.empty() && field.type == FieldType::curve && field.columns.size() == 2) {
      const Json* along = base::memberOf(value[i], field.columns.front().id.c_str());
      if (along == nullptr) {
        fault = base::phrase("{0} is empty", field.columns.front().title);
      } else if (i > 0 && !(along->get<double>() > before)) {
        expected = base::phrase("more in each row than in the one before");
        fault = base::phrase("{0} does not ascend", field.columns.front().title);
      }
      before = along != nullptr ? along->get<double>() : before;
    }
    if (!fault.empty()) return base::phrase("in row {0}: {1}", i + 1, fault);
  }
  return {};
}

// Empty when there is no fault. `expected` receives the limits in words.
std::string limitFault(const Field& field, const Json& value, std::string& expected) {
  const auto unit = field.unit.empty() ? "" : " " + field.unit;
  switch (field.type) {
    case FieldType::range:
      return rangeFault(field, value, expected);
    case FieldType::list:
    case FieldType::curve:
      return listFault(field, value, expected);
    case FieldType::reference:
      return value.is_string() ? ""
                               : (expected = base::phrase("the name of a thing"), base::phrase("is no name"));
    case FieldType::text:
    case FieldType::text_id:
    case FieldType::long_text: {
      if (!value.is_string()) return expected = base::phrase("a text"), base::phrase("is not a text");
      if (field.type == FieldType::text_id &&
          value.get_ref<const std::string&>().find_first_not_of(
              "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_./:") != std::string::npos)
        return expected = base::phrase("letters, digits and - _ . / :"), base::phrase("is no name of a text");
      // Characters, not bytes: continuation bytes of UTF-8 do not count.
      const auto text = value.get<std::string>();
      const auto length = std::count_if(
          text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; });
      expected = base::phrase("at most {0} characters", field.max_length);
      return field.max_length > 0 && length > field.max_length ? base::phrase("has {0} characters", length)
                                                               : "";
    }
    case FieldType::number:
    case FieldType::integer: {
      if (!value.is_number() || (field.type == FieldType::integer && !value.is_number_integer()))
        return expected = field.type == FieldType::integer ? base::phrase("a whole number")
                                                           : base::phrase("a number"),
               base::phrase("is not {0}", expected);
      const auto n = value.get<double>();
      expected = limitText(field);
      return outside(field, n) ? base::phrase("is {0}{1}", base::numberText(n), unit) : "";
    }
    case FieldType::choice: {
      expected = base::phrase("one of {0}", base::listText(field.choices, 12));
      const bool good = value.is_string() && std::find(field.choices.begin(), field.choices.end(),
                                                       value.get<std::string>()) != field.choices.end();
      return good ? "" : base::phrase("is none of the choices");
    }
    case FieldType::color: {
      expected = base::phrase("red, green and blue, each 0 to 1");
      bool good = value.is_array() && value.size() == 3;
      for (size_t i = 0; good && i < 3; ++i)
        good = value[i].is_number() && value[i].get<double>() >= 0 && value[i].get<double>() <= 1;
      return good ? "" : base::phrase("is no colour");
    }
    case FieldType::flag:
      return value.is_boolean()
                 ? ""
                 : (expected = base::phrase("yes or no"), base::phrase("is neither yes nor no"));
  }
  return {};
}

}  // namespace

bool isEmpty(const Json& value) {
  return value.is_null() || (value.is_string() && value.get_ref<const std::string&>().empty()) ||
         (value.is_array() && value.empty());
}

std::optional<FieldFault> fieldFault(const Field& field, const Json& value) {
  FieldFault out;
  out.what = limitFault(field, value, out.expected);
  if (out.what.empty()) return std::nullopt;
  return out;
}

namespace {

std::string trimmed(std::string_view text) {
  const size_t begin = text.find_first_not_of(" \t"), end = text.find_last_not_of(" \t");
  return begin == std::string_view::npos ? std::string() : std::string(text.substr(begin, end - begin + 1));
}

std::vector<std::string> splitAt(const std::string& text, char mark) {
  std::vector<std::string> out;
  for (size_t at = 0; at <= text.size();) {
    const size_t end = std::min(text.find(mark, at), text.size());
    out.push_back(trimmed(std::string_view(text).substr(at, end - at)));
    at = end + 1;
  }
  return out;
}

base::Result<Json> typedRange(const Field& field, const std::string& typed) {
  Field number;
  number.title = field.title;
  number.type = FieldType::number;
  const size_t dots = typed.find("..");
  if (dots == std::string::npos)
    return refused(field, typed, base::phrase("two numbers with dots between them: 2..5"));
  RAKUGO_ASSIGN(Json low, typedValue(number, trimmed(std::string_view(typed).substr(0, dots))));
  RAKUGO_ASSIGN(Json high, typedValue(number, trimmed(std::string_view(typed).substr(dots + 2))));
  return Json::array({std::move(low), std::move(high)});
}

// Rows with semicolons between them, cells with commas: "good/coal, 3; good/rope, 1". Or JSON.
base::Result<Json> typedList(const Field& field, const std::string& typed) {
  if (typed.starts_with("[")) {
    auto json = base::parseJson(typed, {});
    if (json && json->is_array()) return *json;
    return refused(field, typed, base::phrase("rows, as JSON or as \"coal, 3; rope, 1\""));
  }
  Json out = Json::array();
  if (trimmed(typed).empty()) return out;
  for (const std::string& row : splitAt(typed, ';')) {
    if (row.empty()) continue;
    const std::vector<std::string> cells = splitAt(row, ',');
    if (cells.size() > field.columns.size())
      return refused(field, row, base::phrase("{0} values in a row", field.columns.size()));
    Json made = Json::object();
    for (size_t c = 0; c < cells.size(); ++c) {
      if (cells[c].empty() && field.columns.size() > 1) continue;
      RAKUGO_ASSIGN(made[field.columns[c].id], typedValue(field.columns[c], cells[c]));
    }
    out.push_back(field.columns.size() == 1 ? made.front() : std::move(made));
  }
  return out;
}

}  // namespace

base::Result<Json> typedValue(const Field& field, const std::string& typed) {
  const char *begin = typed.data(), *end = begin + typed.size();
  switch (field.type) {
    case FieldType::number: {
      double value = 0;
      const auto [at, error] = std::from_chars(begin, end, value);
      if (error != std::errc() || at != end || !std::isfinite(value))
        return refused(
            field, typed,
            base::phrase("a number{0}", (field.unit.empty() ? "" : base::phrase(" in {0}", field.unit))));
      return Json(value);
    }
    case FieldType::integer: {
      int64_t value = 0;
      const auto [at, error] = std::from_chars(begin, end, value);
      if (error != std::errc() || at != end)
        return refused(field, typed,
                       base::phrase("a whole number{0}",
                                    (field.unit.empty() ? "" : base::phrase(" in {0}", field.unit))));
      return Json(value);
    }
    case FieldType::flag:
      if (typed == "true" || typed == "yes") return Json(true);
      if (typed == "false" || typed == "no") return Json(false);
      return refused(field, typed, base::phrase("yes or no"));
    case FieldType::choice:
      if (std::find(field.choices.begin(), field.choices.end(), typed) == field.choices.end())
        return refused(field, typed, base::phrase("one of {0}", base::listText(field.choices, 20)));
      return Json(typed);
    case FieldType::color:
      return typedColor(field, typed);
    case FieldType::range:
      return typedRange(field, typed);
    case FieldType::list:
    case FieldType::curve:
      return typedList(field, typed);
    case FieldType::text:
    case FieldType::long_text:
    case FieldType::text_id:
    case FieldType::reference:
      break;
  }
  if (!base::isUtf8(typed)) return refused(field, typed, base::phrase("text in UTF-8"));
  return Json(typed);
}

}  // namespace rakugo::rulebook
