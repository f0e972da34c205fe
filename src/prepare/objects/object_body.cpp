#include "prepare/objects/object_body.h"

#include <algorithm>
#include <cmath>

#include "geometry/hull.h"
#include "geometry/welding.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

constexpr double kWater_kg_m3 = 1000, kFeet_m = 0.005;

// Whether each edge of the surface has as many triangles one way as the other.
bool closed(const ShapeMesh& mesh) {
  const geometry::Welding welding = geometry::weldEqual(mesh.corners);
  std::vector<std::pair<uint64_t, int>> edges;
  for (size_t t = 0; t + 2 < mesh.triangles.size(); t += 3)
    for (size_t i = 0; i < 3; ++i) {
      const uint64_t a = welding.of[mesh.triangles[t + i]], b = welding.of[mesh.triangles[t + (i + 1) % 3]];
      if (a != b) edges.emplace_back(std::min(a, b) << 32 | std::max(a, b), a < b ? 1 : -1);
    }
  std::sort(edges.begin(), edges.end());
  int sum = 0;
  for (size_t i = 0; i < edges.size(); ++i) {
    sum += edges[i].second;
    if (i + 1 == edges.size() || edges[i + 1].first != edges[i].first) {
      if (sum != 0) return false;
    }
  }
  return !edges.empty();
}

void add(const ShapeMesh& mesh, const glm::mat4& place, ShapeMesh& out) {
  const auto first = static_cast<uint32_t>(out.corners.size());
  for (const glm::vec3& v : mesh.corners) out.corners.push_back(glm::vec3(place * glm::vec4(v, 1)));
  for (const uint32_t v : mesh.triangles) out.triangles.push_back(first + v);
}

// All models of the object, in its space: what lies under a shape that nothing carries.
ShapeMesh allModels(const mod::ObjectDoc& object, const rulebook::Rulebook& book, const ModelOf& model) {
  return modelUnderShape(book, object, mod::PieceDoc(), model);
}

bool isBodyShape(const rulebook::Rulebook& book, const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  return piece.sort == rulebook::pieceSortName(rulebook::PieceSort::shape) &&
         apartRoot(book, object, piece) == nullptr;
}

ShapeMesh allShapes(const mod::ObjectDoc& object, const rulebook::Rulebook& book, const ModelOf& model) {
  ShapeMesh out;
  for (const mod::PieceDoc& piece : object.pieces)
    if (isBodyShape(book, object, piece)) {
      const ShapeValues says = shapeValues(piece, fieldsOfPiece(book, object, piece));
      add(shapeMesh(says, modelUnderShape(book, object, piece, model), gameAxes(book)),
          placeInObject(object, piece), out);
    }
  return out;
}

}  // namespace

BodyWeight weightOnCard(const rulebook::Rulebook& book, const mod::ObjectDoc& object) {
  BodyWeight out;
  if (const rulebook::Kind* kind = book.findKind(object.kind))
    for (const rulebook::Field& field : kind->fields) {
      if (field.unit != "kg") continue;
      const base::Json* value = base::memberOf(object.card, field.id.c_str());
      if (value != nullptr && value->is_number() && value->get<double>() > 0)
        out.mass_kg = value->get<double>();
      break;
    }
  return out;
}

geometry::FallingBody fallingBody(const ObjectBody& body) {
  geometry::FallingBody out;
  out.corners = body.outline;
  out.mass_kg = body.mass_kg;
  out.center_m = body.center_m;
  glm::dmat3 moments(0);
  for (int i = 0; i < 3; ++i) moments[i][i] = body.inertia.moments[i];
  out.inertia = body.inertia.axes * moments * glm::transpose(body.inertia.axes);
  out.friction = body.friction;
  out.bounce = body.bounce;
  return out;
}

std::optional<ObjectBody> objectBody(const mod::ObjectDoc& object, const rulebook::Rulebook& book,
                                     const ModelOf& model, const BodyWeight& weight) {
  ObjectBody out;
  out.from = BodyFrom::shapes;
  ShapeMesh body = allShapes(object, book, model);
  if (body.empty() || !closed(body)) {
    body = allModels(object, book, model);
    out.from = BodyFrom::model;
  }
  if (out.from == BodyFrom::model && !closed(body)) {
    geometry::Hull hull = geometry::convexHull(body.corners);
    body = {std::move(hull.corners), std::move(hull.triangles)};
    out.from = BodyFrom::hull;
  }
  const geometry::MassProperties mass = geometry::massOf(body.corners, body.triangles);
  if (!(mass.volume > 0)) return std::nullopt;
  out.volume_m3 = mass.volume;
  out.mass_kg = weight.mass_kg.value_or(weight.density_kg_m3 * mass.volume);
  out.center_m = mass.center;
  out.inertia = geometry::principalAxes(mass.inertia * (out.mass_kg / mass.volume));
  geometry::HullOptions limits;
  limits.most_corners = kMostOutline;
  out.outline = geometry::convexHull(body.corners, limits).corners;
  for (const mod::PieceDoc& piece : object.pieces)
    if (isBodyShape(book, object, piece)) {
      const ShapeValues says = shapeValues(piece, fieldsOfPiece(book, object, piece));
      out.friction = says.friction;
      out.bounce = says.bounce;
      break;
    }
  const GameAxes axes = gameAxes(book);
  const glm::dvec3 up(axes.up), along(axes.forward);
  out.stands = geometry::standingOf(body.corners, up, mass.center, kFeet_m);
  out.floats =
      geometry::floatingOf(body.corners, body.triangles, up, along, out.mass_kg / kWater_kg_m3, mass.center);
  return out;
}

}  // namespace rakugo::prepare
