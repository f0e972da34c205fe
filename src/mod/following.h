// Objects and models that follow another: a variant says only what is its own, and the rest stays as it is
// in the design, through every edit of that. Both are whole documents; what is its own is listed in it.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// What differs between an object and what it follows, as it would follow it (places and sizes by
/// `Follows::scale`): JSON pointers (RFC 6901), sorted, with pieces and lists by their names in place of their
/// numbers: "/title", "/card/price", "/pieces/hull/model". Where one of the two lacks something whole, the
/// pointer is of that. Not compared: icons, and what of the game it stands in place of, which are always its
/// own. Empty where the other is not there. Cost: linear in both.
std::vector<std::string> differencesFromFollowed(const ModState& state, const ObjectDoc& doc);

/// What stands at such a pointer in a document and in what it follows; null where there is nothing.
struct OwnValue {
  base::Json here, there;
};
OwnValue valuesAt(const ModState& state, const ObjectDoc& doc, const std::string& pointer);

/// Brings all documents that follow others up to date after an edit, those first that are followed
/// themselves. What the edit has changed in a follower becomes its own; what became equal to the other is its
/// own no more; what the edit has changed in the other comes along; a piece that got another name there gets
/// it here too. What differed before without being its own (changed by another program) stays as it is, and
/// is not made its own. Documents that follow each other in a circle, or what is not there, stay as they are.
/// Without followers it costs a look at each document.
void followDesigns(ModState& state, const ModState& before);

/// Lets an object follow another from now on, with all that differs as its own. Errors: mod.no_object,
/// mod.scale, mod.follows_round (the other follows this one).
base::Status followObject(ModState& state, const std::string& object, const std::string& design,
                          double scale);
/// Takes the value of the other for what differs at that pointer and below it; an empty pointer: for all.
/// Errors: mod.no_object, mod.not_own.
base::Status likeDesign(ModState& state, const std::string& object, const std::string& pointer);
/// What differs is its own from now on, also where another program has changed it. Errors: mod.no_object.
base::Status keepDifferences(ModState& state, const std::string& object);
/// Both stay as they are, and no longer change together. Errors: mod.no_object.
base::Status standAlone(ModState& state, const std::string& object);

/// The objects that follow `object`, by name.
std::vector<std::string> variantsOf(const ModState& state, const std::string& object);

}  // namespace rakugo::mod
