// Values of card fields as people type them.
#pragma once

#include <string>

#include "base/json.h"
#include "base/result.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {

/// What was typed as a value of the field's type: a number, a whole number, true or false, one of the
/// choices, or the text itself. Limits are not looked at: a card may hold what is outside of them, and is
/// told. Errors: field.type, with what the field takes.
base::Result<base::Json> typedValue(const Field& field, const std::string& typed);

}  // namespace rakugo::rulebook
