// Facts: what is known of a mod, its objects and its models, by name. Checks say which of them they look at;
// rules that a rulebook writes use the same names.
#pragma once

#include <string>
#include <vector>

#include "check/context.h"

namespace rakugo::check {

/// What a fact is of.
enum class FactOf : unsigned char { mod, rulebook, source, object, model };
/// "mod", "rulebook", ...
const char* factOfName(FactOf of);

enum class FactType : unsigned char {
  number,  ///< with a unit
  count,   ///< a whole number
  flag,
  detail  ///< more than a value: what the check itself reads
};

/// One row of the registry.
struct Fact {
  const char* id;  ///< "model.height_m": of what it is, and its name with the unit
  FactType type;
  FactOf of;
  const char* unit;   ///< "m", "mm"; empty for counts and flags
  const char* title;  ///< "height, along the game's up"
  /// The value of a model; null where it is not known. Null itself for facts that have no single value.
  base::Json (*value)(const Context& context, const ModelState& model);
};

/// All facts, those of models last.
const std::vector<Fact>& facts();
/// The row of that id, or null.
const Fact* findFact(const std::string& id);
/// The values of all facts of one model that have one, by id.
base::Json factsOf(const Context& context, const ModelState& model);

}  // namespace rakugo::check
