// One sort of step of a preparation: its row in the table, its effect on a model, its sentence.
#pragma once

#include <string>
#include <vector>

#include "base/json.h"
#include "formats/read_model.h"
#include "mod/documents.h"
#include "prepare/parameter.h"
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
  /// The prepared model of the mod that a parameter of type `model` names; null: there is none of that name.
  const scene::Model* donor = nullptr;
  /// Of the replay; a step that takes long ends soon when it is cancelled. May be null.
  base::Progress* progress = nullptr;
};

/// A run of a step's sentence. Words with an empty `value_key` are plain text.
struct Word {
  std::string text;
  std::string value_key;
  Editor editor = Editor::none;
  Choices choices;
};

/// What a step works on, for menus.
enum class StepGroup : unsigned char { space, parts, mesh, bones, surface };
/// "Size and direction", "Parts", "Mesh", "Bones and weights", "Surface and regions".
const char* groupTitle(StepGroup group);

/// One row of the table of steps: all that is said of a step, beside its effect. Validation, defaults, the
/// editor in the sentence, the command line, the table in docs/mod-folder.md, and what follows a newer source
/// come from it.
struct StepKind {
  const char* id;
  const char* title;  ///< "Read lengths"
  StepGroup group;
  int rank;  ///< a new step goes behind the last one of its rank or lower
  /// The sentence: "Move {pick} by {by} m". A text in brackets is shown where a value is not empty, where it
  /// is, or where it has one value: "[pick|of {pick}, ]", "[!model|{kind}]", "[to=point| {point}]". Brackets
  /// hold no others.
  std::string sentence;
  std::vector<Parameter> parameters;
  /// Changes the model. Values are complete and each fits its parameter.
  StepOutcome (*apply)(scene::Model& model, const base::Json& values, const StepContext& context);
  const char* about = "";  ///< one more sentence for documents and help
  /// Whether the effect on another size depends on the first size (`StepContext::like`).
  bool follows_first_size = false;

  /// The parameter of that key, or null.
  [[nodiscard]] const Parameter* find(const std::string& key) const;
  /// The first parameter of that type, or null.
  [[nodiscard]] const Parameter* findType(ParameterType type) const;
};

/// The initial values of all parameters that must be there.
base::Json initialValues(const StepKind& kind);

/// The keys of all values that the step has or may have.
std::vector<std::string> valueKeys(const StepKind& kind);

/// Whether the step needs something picked in the bench, and so cannot be added from a menu.
bool needsPick(const StepKind& kind);

/// Whether that value of a step names a model of the mod. Values of a kind of step that is not known may.
bool namesModel(const std::string& kind, const std::string& key);

/// The models of the mod that the steps of a preparation name, in their order.
std::vector<std::string> modelsNamedBy(const mod::ModelDoc& doc);

/// Completes the values (an absent one has its initial value), holds each against its parameter, and applies
/// the step. Outcome `wrong` with a sentence for each value that does not fit; the model is unchanged then.
StepOutcome applyStep(const StepKind& kind, scene::Model& model, const base::Json& values,
                      const StepContext& context);

/// All kinds of steps, by rank; of one rank in the order of their files.
const std::vector<StepKind>& stepKinds();
/// Adds a row to the table for the rest of the program, in its rank's place; replaces one of that id. Call it
/// before the first thread is started.
void addStepKind(StepKind kind);
/// The row of that id, or null.
const StepKind* findStepKind(const std::string& id);

/// The step as a sentence. `before` (the model the step will see) supplies choices and present names; it may
/// be null.
std::vector<Word> sentence(const mod::StepDoc& step, const scene::Model* before,
                           const rulebook::Rulebook* book);
/// The sentence as one line of text.
std::string sentenceText(const mod::StepDoc& step, const scene::Model* before = nullptr,
                         const rulebook::Rulebook* book = nullptr);

/// The table of steps for docs/mod-folder.md.
std::string stepsMarkdown();

/// The step with initial values for all that are not given, and an id of its own.
mod::StepDoc makeStep(const mod::ModelDoc& doc, const std::string& kind,
                      base::Json values = base::Json::object());
/// Where among the steps one of that kind belongs: behind all whose rank is not higher.
size_t placeByRank(const mod::ModelDoc& doc, const std::string& kind);
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
