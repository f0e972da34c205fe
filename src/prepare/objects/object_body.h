// The body of an object: what it weighs, where its weight lies, how it stands and floats.
#pragma once

#include <optional>

#include "geometry/falling.h"
#include "geometry/floating.h"
#include "geometry/mass.h"
#include "prepare/objects/collision_shapes.h"

namespace rakugo::prepare {

/// What a body is reckoned from.
enum class BodyFrom : unsigned char {
  shapes,  ///< the object's collision shapes, which games reckon with
  model,   ///< its models, all closed
  hull     ///< the convex hull of its models, some of which are open
};

/// In the object's space; metres, kilograms.
struct ObjectBody {
  BodyFrom from = BodyFrom::hull;
  double volume_m3 = 0, mass_kg = 0;
  glm::dvec3 center_m{0};
  geometry::PrincipalAxes inertia;  ///< kg m^2
  std::optional<geometry::Standing> stands;
  std::optional<geometry::Floating> floats;  ///< in fresh water; nothing where it sinks
  std::vector<glm::vec3> outline;            ///< corners of its convex hull, at most kMostOutline
  double friction = 0.6, bounce = 0.2;       ///< of its first collision shape
};
inline constexpr size_t kMostOutline = 96;
/// What falls when the object does, in the object's space. Open hollows count as filled.
geometry::FallingBody fallingBody(const ObjectBody& body);

struct BodyWeight {
  std::optional<double> mass_kg;  ///< else by its density
  double density_kg_m3 = 700;     ///< of wood
};
/// The first field of the kind's card that is in kilograms, where the object says a number; else the default.
BodyWeight weightOnCard(const rulebook::Rulebook& book, const mod::ObjectDoc& object);

/// The matter is spread evenly over the body. Nothing for an object without volume. Cost: n log n of the
/// vertices, and some fifty times linear.
std::optional<ObjectBody> objectBody(const mod::ObjectDoc& object, const rulebook::Rulebook& book,
                                     const ModelOf& model, const BodyWeight& weight);

}  // namespace rakugo::prepare
