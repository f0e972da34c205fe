// One thing that is wrong: what, where, what it will do in the game, and how to mend it.
#pragma once

#include <functional>
#include <glm/glm.hpp>
#include <optional>
#include <string>
#include <vector>

#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::check {

/// What happens in the game.
enum class Severity : unsigned char {
  stops,  ///< will not load, or crashes
  shows,  ///< players see it
  tidy    ///< wasteful, or risky later
};
const char* severityName(Severity severity);

/// Where to look. Empty fields do not apply.
struct FindingPlace {
  std::string document;               ///< path in the mod: "models/lamp.model.json"
  std::string model, object, source;  ///< names
  std::string part, material;         ///< keys
  std::string field;                  ///< of a card
  std::string point;                  ///< attachment point
  std::string step;                   ///< step id
  std::vector<glm::vec3>
      marks_m;  ///< positions in the prepared model's space, to be marked in the bench; at most 200
  /// "lamp, part Lamp/Post"
  [[nodiscard]] std::string text() const;
};

/// A cure: an edit of the mod that can be undone.
struct Mend {
  std::string label;  ///< "Read lengths as centimetres"
  std::function<void(mod::ModState&)> apply;
};

struct Finding {
  std::string check;  ///< id in the table
  Severity severity = Severity::shows;
  std::string sentence;                      ///< "The height is 241 m; a fitting is 0.3 to 6 m."
  std::string measured, expected;            ///< "241 m", "0.3 to 6 m"; may be empty
  std::string reason;                        ///< why it matters in this game
  std::optional<rulebook::Outcome> outcome;  ///< what the game does, where the rulebook says it
  FindingPlace place;
  std::string cure;         ///< in words: what a mend does, or what the person can do
  std::vector<Mend> mends;  ///< best first
  /// Once mends were tried (`Examiner::tryMends`): the finding, by its place in the list, whose first mend
  /// takes this one away too; and how many this one takes along.
  std::optional<size_t> caused_by;
  size_t causes = 0;
  bool set_aside = false;    ///< looked at, and lived with
  std::string aside_reason;  ///< why, in the person's words
};

/// What tells a place from others, for ever: without positions and sentences, which change with the numbers.
std::string placeKey(const FindingPlace& place);
/// What makes a finding the same one after an edit: what is looked for, where, and what is said but for its
/// numbers.
std::string findingKey(const Finding& finding);
/// An edit that sets a finding aside with a reason, or takes it up again. What stops the game cannot be set
/// aside.
Mend setAside(const Finding& finding, std::string reason);
/// Marks those that the mod's card sets aside; none that stops the game.
void markSetAside(const mod::ModState& mod, std::vector<Finding>& findings);
Mend takeUp(const Finding& finding);

}  // namespace rakugo::check
