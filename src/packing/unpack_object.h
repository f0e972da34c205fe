// An object of a bundle as documents and models of a mod: where work on something that works can begin.
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "bundle/bundle_reader.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::packing {

/// An object of a bundle, named and sorted for people.
struct ObjectInBundle {
  std::string id;  ///< in the bundle, without "object/"
  std::string kind, title;
};
/// The objects that a bundle holds, by title. Those that cannot be read are left out.
std::vector<ObjectInBundle> objectsIn(const bundle::Bundle& bundle);

/// The icon of an object as PNG; empty where it has none, or one that cannot be read.
base::Bytes iconIn(const bundle::Bundle& bundle, const std::string& id);

/// A model of an object: what its parts were, in the game's axes and metres.
struct UnpackedModel {
  std::string name;  ///< among the object's models
  scene::Model model;
  std::vector<mod::PointDoc> points;
  std::map<std::string, std::string> roles;  ///< ids of roles by material's key
};

struct UnpackedObject {
  mod::ObjectDoc object;  ///< pieces name the models below; sounds are "sources/<name>" of those below
  std::vector<UnpackedModel> models;
  std::map<std::string, base::Bytes> sounds;  ///< files by the name of the source
  /// Of texts that the object names, by language and id.
  std::map<std::string, std::map<std::string, std::string>> texts;
  base::Bytes icon_png;           ///< empty: it has none
  std::vector<std::string> lost;  ///< what does not come along, for people
};

/// Takes an object apart. Words that the game reads become the rulebook's ids. Parts that are the main model
/// become one model; of the others, such as a screw, each is a model once, however often it is placed. What a
/// bundle does not have (the steps of a preparation, collision hulls' settings) begins as usual. Errors:
/// bundle.no_object (with the objects there are), bundle.* of entries that are damaged.
base::Result<UnpackedObject> unpackObject(const bundle::Bundle& bundle, const std::string& id,
                                          const rulebook::Rulebook& book);

struct TakenObject {
  std::string object;  ///< its name in the mod
  std::vector<std::string> lost;
};
/// Takes an object out of a bundle into a mod as one of the mod's own: its models and sounds become sources
/// (GLB, and as the bundle has them) in `folder`, with the bundle's credits; every name is made from `name`
/// and free in the mod; ids of texts have `name` in place of the object's id. `title` empty: that of the
/// object. The documents are not saved. Errors: those of `unpackObject`, mod.taken, mod.name, file.*.
base::Result<TakenObject> takeObject(const std::filesystem::path& folder, mod::ModState& state,
                                     const rulebook::Rulebook& book, const bundle::Bundle& bundle,
                                     const std::string& id, const std::string& name,
                                     const std::string& title);

}  // namespace rakugo::packing
