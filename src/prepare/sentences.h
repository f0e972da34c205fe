// The sentences of the steps. Internal to prepare.
#pragma once

#include "prepare/steps.h"

namespace rakugo::prepare {

using Words = std::vector<Word>;
using Choices = std::vector<std::pair<std::string, std::string>>;

/// Text without a value.
Word plainWord(std::string text);
/// A value out of a list.
Word choiceWord(const base::Json& values, const char* key, Choices choices);
/// A number with at most so many decimals.
Word numberWord(const base::Json& values, const char* key, double fallback, int decimals);
/// Three numbers.
Word pointWord(const base::Json& values, const char* key);
/// The parts, or the one part, that values name; the choices are those of the model.
Word partsWord(const base::Json& values, const scene::Model* before);
Word partWord(const base::Json& values, const scene::Model* before);
/// Any part or all of them: an empty value is "every part".
Word anyPartWord(const base::Json& values, const scene::Model* before);
/// What was picked, by the part it is of.
Word pickWord(const base::Json& values);
/// Kinds of the game that are worn on a body.
Word bodyWord(const base::Json& values, const rulebook::Rulebook* book);
/// The last names of the keys that a list of the values holds: "oar, rudder and 3 others".
std::string namesOf(const base::Json& values, const char* key);
/// The parts of a model by key and name.
Choices partChoices(const scene::Model* before);
/// Regions of any kind of the game.
Choices regionChoices(const rulebook::Rulebook* book);
/// What a value is called in a list of choices; "…" for none.
std::string choiceLabel(const Choices& choices, const std::string& value);

Words lengthsSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words turnSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words scaleSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words stretchSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words originSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words dropSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words keepSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words splitSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words joinSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words duplicateSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words pivotSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words mirrorSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words freeSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words renameSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words bakeSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words roleSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words regionSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words pictureSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words degenerateSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words weldSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words duplicatesSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words fillSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words orientSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words unusedSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words normalsSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words rotateSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words nameBonesSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words addBonesSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words hangBonesSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words dropBonesSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words mendWeightsSentence(const base::Json& values, const scene::Model* before,
                          const rulebook::Rulebook* book);
Words gamePoseSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words straightenSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words firstWeightsSentence(const base::Json& values, const scene::Model* before,
                           const rulebook::Rulebook* book);
Words smoothWeightsSentence(const base::Json& values, const scene::Model* before,
                            const rulebook::Rulebook* book);
Words mirrorWeightsSentence(const base::Json& values, const scene::Model* before,
                            const rulebook::Rulebook* book);
Words copyWeightsSentence(const base::Json& values, const scene::Model* before,
                          const rulebook::Rulebook* book);
Words giveToBoneSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words dropLooseSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words turnBoneSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words lighterSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words simplifySentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words dissolveSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words needlesSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words specksSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words hiddenSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words tangentsSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words movePickedSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words turnPickedSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words scalePickedSentence(const base::Json& values, const scene::Model* before,
                          const rulebook::Rulebook* book);
Words bendPickedSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words flattenPickedSentence(const base::Json& values, const scene::Model* before,
                            const rulebook::Rulebook* book);
Words snapPickedSentence(const base::Json& values, const scene::Model* before,
                         const rulebook::Rulebook* book);
Words splitPickedSentence(const base::Json& values, const scene::Model* before,
                          const rulebook::Rulebook* book);
Words regionPickedSentence(const base::Json& values, const scene::Model* before,
                           const rulebook::Rulebook* book);
Words regionMaterialSentence(const base::Json& values, const scene::Model* before,
                             const rulebook::Rulebook* book);
Words handOverSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words regionNearestSentence(const base::Json& values, const scene::Model* before,
                            const rulebook::Rulebook* book);
Words orderRegionsSentence(const base::Json& values, const scene::Model* before,
                           const rulebook::Rulebook* book);
Words likeFirstSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);
Words snapSeamSentence(const base::Json& values, const scene::Model* before, const rulebook::Rulebook* book);

}  // namespace rakugo::prepare
