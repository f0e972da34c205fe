// A key of rulebook.json: what it holds, what it means, and which checks hold mods against it. Reading,
// validation, the tables of docs/rulebook.md, the JSON Schema and the smallest rulebook all follow from its
// row.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "base/json.h"

namespace rakugo::rulebook {

/// What a key holds.
enum class KeyType : unsigned char {
  text,       ///< one line without control codes
  id,         ///< lower-case letters, digits, dash, underscore
  name,       ///< a name that is the game's own: one line, at most 64 bytes
  path,       ///< of a file or folder inside the rulebook
  reference,  ///< the id of an entry of the list `refers_to`, near or far above
  number,     ///< within a range
  whole,      ///< a whole number within a range
  flag,       ///< true or false
  choice,     ///< one of `choices`
  band,       ///< [smallest, largest], both within the range
  numbers,    ///< a list of `count` numbers within the range; `count` 0: of at most `most_entries`
  words,      ///< a list of texts, none of them twice
  value,      ///< a text, a number, true or false
  object,     ///< an object of `members`
  list,       ///< a list of objects of `members`
  by_check    ///< an object: check id to one of `choices`, or to a text when there are none
};

/// The most rows of a value that is a list.
inline constexpr size_t kMostRows = 64;

struct KeyTable;

/// One row. Made by the functions of key_rows.h, which set what their type needs.
struct Key {
  std::string name;
  KeyType type = KeyType::text;
  std::string means;           ///< one sentence for documents and editors
  std::string unit;            ///< of numbers; may be empty
  double least = 0, most = 0;  ///< of numbers: the range, both included
  bool above_least = false;    ///< `least` itself is not allowed
  size_t count = 0;            ///< of `numbers`
  size_t most_length = 80;     ///< of texts, in bytes
  size_t most_entries = 0;     ///< of lists
  size_t least_entries = 0;
  bool required = false;
  base::Json initial;  ///< what holds when the key is absent; null where that is nothing
  base::Json example;  ///< of a required key: what the smallest rulebook writes
  std::vector<std::string> choices;
  std::string refers_to;             ///< name of the list: "skeletons", "fields"
  std::vector<std::string> checks;   ///< ids of the checks that hold mods against it
  std::vector<std::string> slips;    ///< other words that people write for this key
  KeyTable& (*members)() = nullptr;  ///< of object and list
  /// Puts a value that has the type into its place.
  std::function<void(void* owner, const base::Json&)> store;
  /// Of an object: where its members are stored. Of a list: adds an entry, whose members are stored there.
  std::function<void*(void* owner)> inside;
};

/// The keys of one sort of object.
struct KeyTable {
  std::string id;     ///< "kind"
  std::string title;  ///< "A kind"
  std::string means;  ///< a sentence; may be empty
  std::vector<Key> keys;
  [[nodiscard]] const Key* find(const std::string& name) const;
};

/// The keys at the top level; those below hang on them.
KeyTable& rulebookKeys();
/// All tables in the order in which a reader meets them, each once.
std::vector<const KeyTable*> keyTables();
/// Adds a key to the table of that id. For what is built upon Rakugo; not while other threads read rulebooks.
void addRulebookKey(const std::string& table, Key key);

/// What the key takes: "a whole number from 0 to 1,000", "any, floor_centre or centre".
std::string takesText(const Key& key);
/// Why `value` cannot be what the key holds, as a cure where there is one: {message, cure}. Nothing where it
/// can. References and members of objects are not looked at.
std::optional<std::pair<std::string, std::string>> misfit(const Key& key, const base::Json& value);

/// The tables of docs/rulebook.md.
std::string keysMarkdown();
/// The JSON Schema (2020-12) of rulebook.json.
base::Json rulebookSchema();
/// The smallest rulebook that is whole: every required key, and no other.
base::Json smallestRulebook(const std::string& id, const std::string& title);

}  // namespace rakugo::rulebook
