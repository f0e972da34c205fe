// Values in objects that name a source or another object of the mod: "sources/engine", "objects/lamp".
#pragma once

#include <functional>
#include <optional>
#include <string>

#include "mod/documents.h"

namespace rakugo::mod {

enum class Thing : unsigned char { source, model, object };

struct NamedThing {
  Thing thing = Thing::source;
  std::string name;
};
/// The source or object that a text names by its folder; nothing for other texts. It need not be there.
std::optional<NamedThing> namedThing(const std::string& text);
/// The text that names a source or an object.
std::string referenceTo(Thing thing, const std::string& name);

/// Calls `see` for every text in an object's card, its entries in lists and its pieces' values that names a
/// thing. `where` says the place: "card, makes".
void eachReference(const ObjectDoc& object,
                   const std::function<void(const NamedThing& named, const std::string& where)>& see);
/// Replaces such texts: `now` is given what is named, and gives the text that stands there then; nothing
/// takes the value out, of a list the row.
void replaceReferences(ObjectDoc& object,
                       const std::function<std::optional<std::string>(const NamedThing& named)>& now);

}  // namespace rakugo::mod
