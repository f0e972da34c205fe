// Values of fields as the game reads them: by its words, and things by the names they have in the package.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/json.h"
#include "mod/references.h"
#include "rulebook/rulebook.h"

namespace rakugo::packing {

/// What a source or an object of the mod is called in the package; empty where it is not in it.
using NameInPackage = std::function<std::string(const mod::NamedThing& named)>;

/// A value of a field: columns of lists by their words, references by the names in the package. As it is for
/// a field that the rulebook does not know (null).
base::Json gameValue(const rulebook::Field* field, const base::Json& value, const NameInPackage& name);
/// Values by field ids, as the game has them. Those of fields that are not among the given ones stay.
base::Json gameValues(const std::vector<rulebook::Field>& fields, const base::Json& values,
                      const NameInPackage& name);

}  // namespace rakugo::packing
