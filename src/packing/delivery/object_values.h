// Values of a mod and of its objects by name, from which the paths and texts of a delivery are filled: in the
// game's units, handedness and words.
#pragma once

#include "base/json.h"
#include "check/examiner.h"
#include "packing/game_space.h"

namespace rakugo::packing {

/// What a whole mod says:
/// - `mod`: id, title, author, version, description;
/// - `game`: id, title and version of the rulebook, and `target`, the id of what is built for;
/// - `objects`: of each its `object` as below.
base::Json modValues(const check::Examination& examination, const std::string& target);

/// What one object says, to stand inside the values of its mod:
/// - `object`: id (lower-case letters, digits and dashes), title, kind, replaces, and number, from 1;
/// - `card`: each field of its kind by id; null where it is empty;
/// - `points`: by the id of each point that the kind has, a list of those placed: id, position, turn,
/// forward, up,
///   angles, and side ("left", "right" or "middle");
/// - `pieces`: what it is put together from: name, as (the game's word for what it is), sort, model, on (the
/// piece
///   that carries it), number, position, turn, forward, up, angles, scale, and values, what it says;
/// - `models`: of each model once: id, as, min, max, size, triangles, vertices, parts (id, name, region) and
/// materials
///   (id, name, role, color);
/// - `lists`: by the id of each of the game's lists, its entries there.
/// Positions and sizes are in units of the game; `turn` is a quaternion (x, y, z, w), `angles` are degrees
/// about the game's forward, side and up, in the order in which the window has them. Numbers have six
/// digits. References to objects and sounds are their ids. An object that the mod does not have: an
/// empty object.
base::Json objectValues(const check::Examination& examination, const std::string& object);

}  // namespace rakugo::packing
