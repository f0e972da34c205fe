// Variants of an object of the mod: plain and reinforced, four colours, three sizes of one design.
#pragma once

#include <string>

#include "base/result.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// Adds an object that follows `design` (mod/following.h) in all but its title. Its pieces stand as far from
/// the origin and are as large as `scale` says. It has no icon yet: that is another's. An empty title: that
/// of the design. Errors: mod.no_object, mod.taken, mod.name, mod.scale.
base::Status addVariant(mod::ModState& state, const std::string& design, const std::string& name,
                        const std::string& title, double scale);

/// Gives an object a model of its own for all pieces that are `model` now: the new one begins as that does
/// when prepared, with its lighter versions, and its points follow. What is then done to it is done to this
/// object alone. Returns its name. Errors: mod.no_object, mod.no_model (the mod has none of that name, or the
/// object has no such piece).
base::Result<std::string> giveOwnModel(mod::ModState& state, const std::string& object,
                                       const std::string& model);

/// What a pointer of what is a document's own (mod::Follows::own) says, for people: "title", "price",
/// "hull: model", "list broker". `kind` may be null.
std::string ownText(const std::string& pointer, const rulebook::Kind* kind);

}  // namespace rakugo::prepare
