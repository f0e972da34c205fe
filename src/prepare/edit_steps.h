// Edits of a preparation that mends and stations share: each joins a step that is there before it adds
// another.
#pragma once

#include <string>
#include <vector>

#include "prepare/replay.h"
#include "scene/named_places.h"
#include "scene/same_parts.h"

namespace rakugo::prepare {

/// Sets `values` in the first enabled step of `kind`; adds such a step by rank when there is none.
void setOrAddStep(mod::ModelDoc& doc, const std::string& kind, const base::Json& values);

/// Adds part keys to the first enabled drop step, or adds one. Keys that it names already are not named
/// twice.
void dropParts(mod::ModelDoc& doc, const std::vector<std::string>& keys);

/// Gives a material a role by the first enabled role step that names it, or by a new one; an empty role
/// removes every such step.
void setRole(mod::ModelDoc& doc, const std::string& material, const std::string& role);

/// Multiplies the first enabled scale step's factor, or adds one. `factor` must be positive.
void scaleBy(mod::ModelDoc& doc, double factor);

/// Gives bones (by key) the game's names, in the first enabled step that does so or in one that is added. A
/// bone has one name and a name one bone: what was said of either before goes. An empty key takes a name
/// back.
void nameBones(mod::ModelDoc& doc, const std::vector<std::pair<std::string, std::string>>& names);

/// Whether that step gives some bone that name of the game's.
bool boneNamedAs(const mod::ModelDoc& doc, const std::string& name);

/// The first enabled step that turns that bone at rest, or null.
const mod::StepDoc* boneTurn(const mod::ModelDoc& doc, const std::string& bone);

/// Sets one angle ("forward_deg", "side_deg", "up_deg"; degrees) of that step, or adds one; a step that turns
/// nothing any more goes.
void turnBone(mod::ModelDoc& doc, const std::string& bone, const std::string& which, double degrees);

/// Turns everything about the game's "up", "forward" or "side" by so many degrees more: the last enabled turn
/// by an angle is added to when it is about the same axis (and goes when nothing is left of it), else one is
/// added.
void rotateBy(mod::ModelDoc& doc, const std::string& about, double degrees);

/// Multiplies the first enabled stretch step along "length", "width" or "height", or adds one. `factor` must
/// be positive.
void stretchBy(mod::ModelDoc& doc, const std::string& along, double factor);

/// Where parts that are copies of each other stand in the model once they (all but the first, where it stays)
/// are dropped, as points "NAME-1", "NAME-2"...: as `keepFirst` says.
std::vector<mod::PointDoc> placesOfCopies(const mod::ModelDoc& doc, const scene::Model& prepared,
                                          const rulebook::Rulebook& book, const scene::SameParts& same,
                                          bool first_stays);

/// Drops all but the first of parts that are copies of each other, and notes where each stood, the first too,
/// as attachment points "NAME-1", "NAME-2"...: the middle of the copy, turned as it is against the first.
/// `prepared` is the model that the document gives now; where its origin is put by its extents, the points
/// move with it.
void keepFirst(mod::ModelDoc& doc, const scene::Model& prepared, const rulebook::Rulebook& book,
               const scene::SameParts& same);

/// The values of a turn step that make what now looks towards `direction` (a unit axis of the prepared
/// model's space) face forward. A turn speaks in the sides of what it turns: the direction is carried back
/// through the enabled turn step that is there, if there is one, and that step's up is kept.
base::Json turnToFace(const mod::ModelDoc& doc, const scene::Frame& frame, const rulebook::Rulebook& book,
                      glm::vec3 direction);

/// Which axes of the model's space stand for the game's: its own before a turn step, the game's after.
struct GameAxes {
  glm::vec3 forward, side, up;  ///< unit vectors
};
GameAxes gameAxes(const scene::Frame& frame, const rulebook::Rulebook& book);

/// Degrees about the game's forward, side and up that make that turn when they are done in this order, as the
/// step `turn_bone` does; each from -180 to 180.
glm::dvec3 anglesOf(const GameAxes& axes, glm::quat turn);

/// A model's attachment points, in the prepared model's space.
std::vector<scene::NamedPlace> pointsOf(const mod::ModelDoc& doc);
/// How far the farthest vertex of the model lies from its origin, in metres.
double reachOf(const scene::Model& model);

/// Puts the origin at a place of the prepared model that was clicked: in the first enabled origin step, which
/// speaks of the space before it, or in a new one.
void originAt(mod::ModelDoc& doc, const Prepared& prepared, glm::vec3 point);

/// A place as steps keep it: three numbers, to a thousandth of a millimetre.
base::Json pointJson(glm::vec3 point);

/// Puts a part's pivot where `values` say (`to`, `point`): in its first enabled pivot step, or in a new one.
void setPivot(mod::ModelDoc& doc, const std::string& part, const base::Json& values);

/// Extents of the model along the game's forward, side and up, in metres.
glm::vec3 gameExtents(const scene::Model& model, const rulebook::Rulebook& book);
/// The same of a box that is known already.
glm::vec3 gameExtents(const geometry::Bounds& box, const scene::Frame& frame, const rulebook::Rulebook& book);

}  // namespace rakugo::prepare
