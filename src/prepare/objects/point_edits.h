// Edits of a model's attachment points: where they are, and which are mirror images of each other.
#pragma once

#include <vector>

#include "base/result.h"
#include "mod/documents.h"
#include "prepare/objects/piece_edits.h"
#include "rulebook/rulebook.h"
#include "scene/named_places.h"

namespace rakugo::prepare {

/// The point of that id, or null. Of several the first.
mod::PointDoc* findPoint(mod::ModelDoc& model, const std::string& point);
const mod::PointDoc* findPoint(const mod::ModelDoc& model, const std::string& point);
PiecePlace placeOf(const mod::PointDoc& point);

/// Places are in the prepared model's space, metres; `side` is the game's (Rulebook::side). All of the
/// following leave the model as it is where they return an error. Errors: point.unknown for an id that no
/// point of the model has.

/// Adds a point, or moves the one that is there; the one that it is a pair with becomes its mirror image.
void placePoint(mod::ModelDoc& model, const std::string& point, const PiecePlace& place,
                const glm::vec3& side);
/// The same for several, rounded: positions to a millimetre, turns to a millionth.
void putPoints(mod::ModelDoc& model, const std::vector<scene::NamedPlace>& points, const glm::vec3& side);
/// Takes a point out; its pair stands alone then.
base::Status removePoint(mod::ModelDoc& model, const std::string& point);
/// Makes `other` the mirror image of `point`, now and through every later edit of either; adds it where the
/// model has none. What either was a pair with stands alone. An empty `other` unties. Errors: also point.pair
/// for a point with itself.
base::Status pairPoints(mod::ModelDoc& model, const std::string& point, const std::string& other,
                        const glm::vec3& side);

/// The id under which one more point of a sort would be placed: its own, or its own with the lowest free
/// number where there may be several. Empty where the model has as many as the game takes.
std::string freePointId(const mod::ModelDoc& model, const rulebook::Point& point);

/// What a point is called in the window: the title of its sort, with its number among several; its id where
/// the kind, which may be null, does not know it.
std::string pointTitle(const rulebook::Kind* kind, const std::string& point);

}  // namespace rakugo::prepare
