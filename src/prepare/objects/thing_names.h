// What a field of the type `reference` may name, and whether what it names is there.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// Something that a reference can name.
struct ThingName {
  std::string
      value;  ///< as documents write it: "sources/engine", "objects/lamp", or the id of a shared asset
  std::string title;  ///< for people; of several that are called the same, with the value
};
/// All that the field may name: objects and sounds of the mod by name, then what the game shares.
std::vector<ThingName> thingsFor(const rulebook::Rulebook& book, const mod::ModState& mod,
                                 const rulebook::Field& field);
/// The title of what a reference names; the text itself where it names nothing.
std::string thingTitle(const rulebook::Rulebook& book, const mod::ModState& mod, const std::string& value);

/// Why a reference is none: it names nothing, or something that the field does not take. Nothing where it is
/// good.
std::optional<std::string> referenceFault(const rulebook::Rulebook& book, const mod::ModState& mod,
                                          const rulebook::Field& field, const std::string& value);

/// Calls `see` for each reference in a value of the field: the value itself, or the cells of a list's rows.
/// `field` is then the reference or the column, `row` counts from 0; -1 where there are no rows.
void eachReferenceOf(
    const rulebook::Field& field, const base::Json& value,
    const std::function<void(const rulebook::Field& field, int row, const std::string& named)>& see);

}  // namespace rakugo::prepare
