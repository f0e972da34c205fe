// Texts that the game looks up by their ids: where a mod's objects name them, and what they say.
#pragma once

#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// A value that names a text.
struct TextUse {
  std::string id;
  std::string object;  ///< name of the object
  std::string field;   ///< id of a field of its card; "list-<id>" and "piece-<name>" for the others
  std::string title;   ///< of the field: "Riddle's text id"
};
/// Texts that an object names: on its card, in its entries of lists, at its pieces; in this order, empty ones
/// left out.
std::vector<TextUse> textsNamedBy(const rulebook::Rulebook& book, const std::string& name,
                                  const mod::ObjectDoc& object);
/// Those of all objects, the first for each id. What the game shares is its own, and left out.
std::map<std::string, TextUse> namedTexts(const rulebook::Rulebook& book, const mod::ModState& state);

/// Lets every value of the object that names a text name `now(id)`.
void renameTexts(const rulebook::Rulebook& book, mod::ObjectDoc& object,
                 const std::function<std::string(const std::string& id)>& now);

/// What a text says in a language; null where there is none.
const std::string* textIn(const mod::ModState& state, const std::string& language, const std::string& id);
/// Sets a text; an empty one is taken out, and with its last text the language.
void setText(mod::ModState& state, const std::string& language, const std::string& id,
             const std::string& text);
/// Calls a text otherwise, in all languages and objects. Errors: text.taken, text.unknown, text.id for an
/// empty id.
base::Status renameText(const rulebook::Rulebook& book, mod::ModState& state, const std::string& from,
                        const std::string& to);

}  // namespace rakugo::prepare
