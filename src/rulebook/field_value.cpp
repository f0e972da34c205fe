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

// Empty when there is no fault. `expected` receives the limits in words.
std::string limitFault(const Field& field, const Json& value, std::string& expected) {
  const auto unit = field.unit.empty() ? "" : " " + field.unit;
  switch (field.type) {
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
      if (field.min && field.max)
        expected =
            base::phrase("{0} to {1}{2}", base::numberText(*field.min), base::numberText(*field.max), unit);
      else if (field.min)
        expected = base::phrase("at least {0}{1}", base::numberText(*field.min), unit);
      else if (field.max)
        expected = base::phrase("at most {0}{1}", base::numberText(*field.max), unit);
      const bool out = (field.min && n < *field.min) || (field.max && n > *field.max);
      return out ? base::phrase("is {0}{1}", base::numberText(n), unit) : "";
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

std::optional<FieldFault> fieldFault(const Field& field, const Json& value) {
  FieldFault out;
  out.what = limitFault(field, value, out.expected);
  if (out.what.empty()) return std::nullopt;
  return out;
}

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
    case FieldType::text:
    case FieldType::long_text:
    case FieldType::text_id:
      break;
  }
  if (!base::isUtf8(typed)) return refused(field, typed, base::phrase("text in UTF-8"));
  return Json(typed);
}

}  // namespace rakugo::rulebook
