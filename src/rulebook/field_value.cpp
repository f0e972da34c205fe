#include "rulebook/field_value.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/text.h"

namespace rakugo::rulebook {
namespace {

using base::Json;

base::Error refused(const Field& field, const std::string& typed, const std::string& takes) {
  return {"field.type",
          "\"" + base::presentable(typed, 60) + "\" is no value of " + field.title + ".",
          {{}, field.id},
          field.title + " takes " + takes + "."};
}

}  // namespace

base::Result<Json> typedValue(const Field& field, const std::string& typed) {
  const char *begin = typed.data(), *end = begin + typed.size();
  switch (field.type) {
    case FieldType::number: {
      double value = 0;
      const auto [at, error] = std::from_chars(begin, end, value);
      if (error != std::errc() || at != end || !std::isfinite(value))
        return refused(field, typed, "a number" + (field.unit.empty() ? "" : " in " + field.unit));
      return Json(value);
    }
    case FieldType::integer: {
      int64_t value = 0;
      const auto [at, error] = std::from_chars(begin, end, value);
      if (error != std::errc() || at != end)
        return refused(field, typed, "a whole number" + (field.unit.empty() ? "" : " in " + field.unit));
      return Json(value);
    }
    case FieldType::flag:
      if (typed == "true" || typed == "yes") return Json(true);
      if (typed == "false" || typed == "no") return Json(false);
      return refused(field, typed, "yes or no");
    case FieldType::choice:
      if (std::find(field.choices.begin(), field.choices.end(), typed) == field.choices.end())
        return refused(field, typed, "one of " + base::listText(field.choices, 20));
      return Json(typed);
    case FieldType::text:
    case FieldType::long_text:
    case FieldType::text_id:
      break;
  }
  if (!base::isUtf8(typed)) return refused(field, typed, "text in UTF-8");
  return Json(typed);
}

}  // namespace rakugo::rulebook
