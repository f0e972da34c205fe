// A parameter: one typed value of a step. What a value may be, how it is changed, shown, typed and described,
// and what of a model it refers to, all follow from its row.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "base/json.h"
#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// What a parameter holds.
enum class ParameterType : unsigned char {
  number,       ///< within a range
  count,        ///< a whole number within a range
  choice,       ///< one of a fixed list
  text,         ///< any text
  point,        ///< three numbers
  part,         ///< key of a part
  any_part,     ///< key of a part; empty: every part
  parts,        ///< list of keys of parts
  bone,         ///< key of a bone, or a name that an earlier step gave
  bones,        ///< list of keys of bones
  bone_names,   ///< object: the game's name of a bone, and the key of the bone that gets it
  slots,        ///< list of the game's bones
  skeleton,     ///< a skeleton of the rulebook; empty: its first
  material,     ///< key of a material
  materials,    ///< list of keys of materials
  picture,      ///< a picture as the source names it
  file,         ///< a file below the folder of the source's present version
  pick,         ///< what was picked in the bench (selection.h)
  model,        ///< another model of the mod
  role,         ///< a role of any kind of the rulebook
  region,       ///< a region of any kind of the rulebook
  any_region,   ///< a region of the rulebook or of the model
  body_kind,    ///< a kind that is worn on a body; empty: the first
  region_kind,  ///< a kind that has regions; empty: the first
  weight_kind   ///< a kind whose example follows bones; empty: the first
};

/// How a window lets one change a value.
enum class Editor : unsigned char { none, number, text, point, one, several, file, pick };

/// What of a model a value refers to; it is renamed along with that when a newer source calls it otherwise.
enum class Reference : unsigned char { none, part, bone, material };

/// A value out of a list, and what it is called.
using Choices = std::vector<std::pair<std::string, std::string>>;

/// One parameter. Made by the functions below, which set what their type needs.
struct Parameter {
  std::string key;    ///< in the document
  std::string title;  ///< "distance": for messages ("The distance lies between ..."), help and documents
  ParameterType type = ParameterType::text;
  base::Json initial;          ///< what a new step begins with; null where `optional`
  double least = 0, most = 0;  ///< number and count: the range, both included
  bool above_least = false;    ///< number: `least` itself is not allowed
  int decimals = 3;            ///< number and point: as shown in a sentence
  std::string unit;            ///< number and point: "mm", "m", "degrees", "%"; may be empty
  Choices choices;             ///< choice alone
  bool optional = false;       ///< may be absent
  std::string help;            ///< one more sentence for documents and help; may be empty

  Parameter& between(double low, double high);
  Parameter& above(double low, double high);
  Parameter& shown(int most_decimals);
  Parameter& in(std::string unit_name);
  Parameter& orAbsent();
  Parameter& means(std::string sentence);
};

Parameter numberParameter(const char* key, const char* title, double initial);
Parameter countParameter(const char* key, const char* title, int initial);
/// The first choice is the initial one.
Parameter choiceParameter(const char* key, const char* title, Choices choices);
Parameter textParameter(const char* key, const char* title);
Parameter pointParameter(const char* key, const char* title, double initial = 0);
/// One of the axes x, y and z of the model's space.
Parameter axisParameter(const char* key, const char* title, const char* initial);
/// Any type whose initial value is empty: a reference, a list, an object, a pick.
Parameter referenceParameter(const char* key, const char* title, ParameterType type);
/// "pick" and, unless `soft` is false, "soft_mm": what was picked and how far round it the surface follows.
Parameter pickParameter();
Parameter softParameter();

/// Why `value` cannot be what the parameter holds: a sentence. Nothing where it can. References are held
/// against type alone: whether a part is there is known when the step runs.
std::optional<std::string> misfit(const Parameter& parameter, const base::Json& value);

/// The values one may choose from, with what they are called. `before` (the model that the step will see) and
/// `book` may be null.
Choices choicesOf(const Parameter& parameter, const scene::Model* before, const rulebook::Rulebook* book);

/// The value as words of a sentence; "…" where it is empty.
std::string valueText(const Parameter& parameter, const base::Json& value, const Choices& choices);

Editor editorOf(ParameterType type);
Reference referenceOf(ParameterType type);

/// The value that a person typed: a number, a text, a list with commas, three numbers with commas, a JSON
/// object. Fails with the sentence of `misfit`.
base::Result<base::Json> typedValue(const Parameter& parameter, const std::string& typed);

/// What may be typed, for help and documents: "number from 0 to 1,000, in mm", "one of cm, m", "parts of the
/// model".
std::string rangeText(const Parameter& parameter);

/// Calls `change` with each key of a part, bone or material that the value holds, to read or to change it:
/// elements of lists, values of `bone_names`, the part and the material of a pick.
void eachReference(const Parameter& parameter, base::Json& value,
                   const std::function<void(base::Json& key, Reference)>& change);

}  // namespace rakugo::prepare
