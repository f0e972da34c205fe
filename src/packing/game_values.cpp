#include "packing/game_values.h"

#include <algorithm>

namespace rakugo::packing {

using base::Json;

Json gameValue(const rulebook::Field* field, const Json& value, const NameInPackage& name) {
  using rulebook::FieldType;
  if (field == nullptr) return value;
  if (field->type == FieldType::reference && value.is_string()) {
    const auto named = mod::namedThing(value.get_ref<const std::string&>());
    const std::string called = named ? name(*named) : std::string();
    return called.empty() ? value : Json(called);
  }
  const bool rows = field->type == FieldType::list || field->type == FieldType::curve;
  if (!rows || !value.is_array()) return value;
  Json out = Json::array();
  for (const Json& row : value)
    out.push_back(row.is_object()              ? gameValues(field->columns, row, name)
                  : field->columns.size() == 1 ? gameValue(&field->columns.front(), row, name)
                                               : row);
  return out;
}

Json gameValues(const std::vector<rulebook::Field>& fields, const Json& values, const NameInPackage& name) {
  Json out = Json::object();
  for (const auto& [id, value] : values.items()) {
    const auto field = std::find_if(fields.begin(), fields.end(),
                                    [id = id](const rulebook::Field& one) { return one.id == id; });
    if (field == fields.end())
      out[id] = value;
    else
      out[field->word.empty() ? id : field->word] = gameValue(&*field, value, name);
  }
  return out;
}

}  // namespace rakugo::packing
