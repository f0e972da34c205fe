// Values of card fields as people type them.
#pragma once

#include <optional>
#include <string>

#include "base/json.h"
#include "base/result.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {

/// What was typed as a value of the field's type: a number, a whole number, true or false, one of the
/// choices, a range "2..5", rows of a list "coal, 3; rope, 1" (or JSON), or the text itself. Limits are not
/// looked at: a card may hold what is outside of them, and is told. Errors: field.type, with what the field
/// takes.
base::Result<base::Json> typedValue(const Field& field, const std::string& typed);

/// Whether the field's value is rows: of a list or a curve.
inline bool hasRows(const Field& field) {
  return field.type == FieldType::list || field.type == FieldType::curve;
}

/// Whether a value says nothing: null, an empty text, a list without rows.
bool isEmpty(const base::Json& value);

/// Why a field cannot have, or must not have, a value.
struct FieldFault {
  std::string what;      ///< "is 12 kg", "is not a number"
  std::string expected;  ///< "1 to 10 kg", "a number"; empty when there is nothing to say
};
/// How a value is of another type than the field's or outside of its limits; nothing when it is neither.
std::optional<FieldFault> fieldFault(const Field& field, const base::Json& value);

}  // namespace rakugo::rulebook
