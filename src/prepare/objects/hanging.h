// What the game hangs at an attachment point, and what it hangs itself: things of other kinds, the game's
// examples or objects of the mod, each with the place at which it comes to lie.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <glm/glm.hpp>

#include "mod/documents.h"
#include "rulebook/rulebook.h"
#include "scene/named_places.h"

namespace rakugo::prepare {

/// Something that may hang at a point, or that the point may hang on.
struct HangChoice {
  std::string kind;    ///< id of its kind
  std::string object;  ///< of the mod; empty: the game's example of the kind
  std::string point;   ///< id of the point of it that comes to lie on the one asked about; empty: its origin
  bool operator==(const HangChoice&) const = default;
};

/// All of them: what the rulebook lets hang at the point, and points of other kinds at which it lets things
/// of this kind hang by this point. The game's examples first; objects by name, without `self`.
std::vector<HangChoice> hangChoices(const rulebook::Rulebook& book, const mod::ModState& mod,
                                    const rulebook::Kind& kind, const std::string& point,
                                    const std::string& self);

/// What a choice is called: "Hand lantern by grip".
std::string hangTitle(const rulebook::Rulebook& book, const mod::ModState& mod, const HangChoice& choice);

/// The matrix that brings what has the place `theirs` in its own space to where that lies on `ours`; metres,
/// turns are unit quaternions.
glm::mat4 hangMatrix(const scene::NamedPlace& ours, const scene::NamedPlace& theirs);

/// The point among `places` that is meant by an id: called so in whatever case, with whatever between words;
/// the origin for an empty id, and where there is none of that name.
scene::NamedPlace hangPlace(const std::vector<scene::NamedPlace>& places, const std::string& point);

}  // namespace rakugo::prepare
