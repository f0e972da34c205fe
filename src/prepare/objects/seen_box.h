// The box that nothing of an object ever leaves, however it moves: a game draws the object while that is in
// view.
#pragma once

#include "geometry/bounds.h"
#include "prepare/objects/moving_parts.h"

namespace rakugo::prepare {

/// Other sizes of a model that blend with it, by its name; may be empty.
using SizesOf = std::function<std::vector<const scene::Model*>(const std::string& model)>;

/// In the object's space, metres; empty where the object has no vertices. What turns or swings is taken in
/// every angle that it goes through, exactly for the corners of its box. What follows bones or animations is
/// taken as far as its bones reach, stretched in any direction, so that no movement can leave it: where they
/// reach is a ball round the bone that carries all others. Morph targets count in full. What the game shows
/// by itself counts for nothing. Cost: linear in vertices.
geometry::Bounds seenBox(const rulebook::Rulebook& book, const mod::ObjectDoc& object, const ModelOf& models,
                         const SizesOf& sizes = nullptr);

/// The box of eight corners that go round a line through `at` along `axis` (a unit vector), through the
/// angles from `from_rad` to `to_rad`. Source: each coordinate of a point on a circle is c + u cos a + v sin
/// a, with its ends at atan2(v, u) and half a turn further.
geometry::Bounds sweptBox(const geometry::Bounds& box, const glm::dvec3& at, const glm::dvec3& axis,
                          double from_rad, double to_rad);

}  // namespace rakugo::prepare
