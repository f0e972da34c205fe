// One step of a preparation: its effect on a model and its sentence.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/json.h"
#include "formats/read_model.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// How a step went.
enum class StepState : unsigned char {
  good,    ///< did all it says
  partly,  ///< did some; `misses` says what it did not find
  missed,  ///< found nothing of what it names; the model is unchanged by it
  off,     ///< switched off
  wrong    ///< unknown kind or values out of range; `misses` says why
};

struct StepOutcome {
  StepState state = StepState::good;
  std::vector<std::string> misses;  ///< sentences
  std::string did;                  ///< "3 parts", "1 lengthened by 0.01"; may be empty
};

/// What a step may use beside the model.
struct StepContext {
  const rulebook::Rulebook* book = nullptr;  ///< never null while applying
  formats::Fetch fetch;                      ///< files beside the source
  /// For another size of a model: the first size as this step sees it. Null for the first size itself.
  const scene::Model* like = nullptr;
  /// Another model of the mod, prepared, that the step takes something from; null: there is none of that
  /// name.
  const scene::Model* donor = nullptr;
  /// Of the replay; a step that takes long ends soon when it is cancelled. May be null.
  base::Progress* progress = nullptr;
};

/// What a value inside a sentence is, so that a window can offer the right way to change it.
enum class ValueType : unsigned char {
  words,
  choice,
  number,
  parts,
  part,
  text,
  point,
  material,
  picture_file,
  pick  ///< what was picked in the bench (selection.h)
};

/// A run of a step's sentence. Words with an empty `value_key` are plain text.
struct Word {
  std::string text;
  std::string value_key;
  ValueType type = ValueType::words;
  std::vector<std::pair<std::string, std::string>> choices;  ///< value, label
};

/// What a step works on, for menus.
enum class StepGroup : unsigned char { space, parts, mesh, bones, surface };
/// "Size and direction", "Parts", "Mesh", "Bones and weights", "Surface and regions".
const char* groupTitle(StepGroup group);

/// One row of the table of steps.
struct StepKind {
  const char* id;
  const char* title;  ///< "Read lengths"
  StepGroup group;
  int rank;  ///< a new step goes behind the last one of its rank or lower
  base::Json (*defaults)();
  StepOutcome (*apply)(scene::Model& model, const base::Json& values, const StepContext& context);
  std::vector<Word> (*sentence)(const base::Json& values, const scene::Model* before,
                                const rulebook::Rulebook* book);
  /// Keys of values that may be absent, beside those of `defaults`.
  std::vector<std::string> optional = {};
};

/// The keys of all values that the step has or may have.
std::vector<std::string> valueKeys(const StepKind& kind);

/// Whether the step needs something picked in the bench, and so cannot be added from a menu.
bool needsPick(const StepKind& kind);

/// Whether that value of a step names a model of the mod. Values of a kind of step that is not known may.
bool namesModel(const std::string& kind, const std::string& key);

/// All kinds of steps, by rank.
const std::vector<StepKind>& stepKinds();
/// The row of that id, or null.
const StepKind* findStepKind(const std::string& id);

/// The step as a sentence. `before` (the model the step will see) supplies choices and present names; it may
/// be null.
std::vector<Word> sentence(const mod::StepDoc& step, const scene::Model* before,
                           const rulebook::Rulebook* book);
/// The sentence as one line of text.
std::string sentenceText(const mod::StepDoc& step, const scene::Model* before = nullptr,
                         const rulebook::Rulebook* book = nullptr);

/// The step with defaults for all values that are not given, and an id of its own.
mod::StepDoc makeStep(const mod::ModelDoc& doc, const std::string& kind,
                      base::Json values = base::Json::object());
/// Puts a step where its rank says; returns its place.
size_t insertByRank(mod::ModelDoc& doc, mod::StepDoc step);

/// Units a length may be read as: id and metres. "mm", "cm", "m", "in", "ft".
struct LengthUnit {
  const char* id;
  const char* title;
  double metres;
};
const std::vector<LengthUnit>& lengthUnits();

}  // namespace rakugo::prepare
