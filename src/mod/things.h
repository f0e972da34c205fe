// What a mod holds, made, renamed, copied and removed: one thing at a time, with every reference to it.
//
// Sources lie in folders of their own. What is to happen to those is returned, for whoever may write there.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "mod/references.h"
#include "mod/renaming.h"

namespace rakugo::mod {

/// "source", "model", "object".
const char* thingName(Thing thing);
/// The names of all things of that sort, sorted.
std::vector<std::string> namesOf(const ModState& state, Thing thing);

/// A place that names a thing: "model tunic, step 3", "object coat, piece tunic".
struct UseOf {
  std::string where;
};
/// Everything in the mod that names that thing. Findings set aside do not count.
std::vector<UseOf> usesOf(const ModState& state, Thing thing, const std::string& name,
                          const NamingValues& naming);

/// Calls a thing otherwise; every reference follows, and an object's icon of the same name too. Errors:
/// mod.name (no name that can be), mod.taken, mod.no_source, mod.no_model, mod.no_object. The folder of a
/// source is still to be moved then: sources/<from> to sources/<to>.
base::Status renameThing(ModState& state, Thing thing, const std::string& from, const std::string& to,
                         const NamingValues& naming);

/// Adds a copy of a thing: a model with the same source and steps, an object with the same pieces and card
/// and an icon of its own. Errors: as above. The folder of a source is still to be copied then.
base::Status copyThing(ModState& state, Thing thing, const std::string& from, const std::string& to);

/// Takes a thing out. What names it is left as it is, unless `references`: then pieces, other sizes, steps
/// and values that name it go too; a source goes only when no model is made of it. Errors: as above;
/// mod.in_use, with the places. The folder of a source is still to be removed then.
base::Status removeThing(ModState& state, Thing thing, const std::string& name, bool references,
                         const NamingValues& naming);

/// Adds a model of a source, without steps. Errors: mod.name, mod.taken, mod.no_source.
base::Status newModel(ModState& state, const std::string& name, const std::string& source);
/// Adds an object of a kind, with a piece for each of the models. Errors: mod.name, mod.taken, mod.no_model.
base::Status newObject(ModState& state, const std::string& name, const std::string& kind,
                       const std::vector<std::string>& models);
/// Adds a piece to an object: that model, at the origin, under a name that no other piece has. Errors:
/// mod.no_object, mod.no_model.
base::Status addPiece(ModState& state, const std::string& object, const std::string& model);

}  // namespace rakugo::mod
