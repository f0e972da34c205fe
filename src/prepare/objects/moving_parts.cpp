#include "prepare/objects/moving_parts.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/constants.hpp>

#include "base/phrase.h"
#include "prepare/objects/piece_errors.h"
#include "prepare/objects/piece_parts.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

void addNodes(const scene::Model& model, const std::set<scene::NodeIndex>* only, const glm::mat4& place,
              geometry::Bounds& box) {
  const auto world = scene::worldMatrices(model);
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).mesh.valid() || (only != nullptr && only->count(i) == 0)) continue;
    const glm::mat4 at = place * world[i.value()];
    for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
      for (const glm::vec3& v : p.positions) {
        const glm::vec3 there(at * glm::vec4(v, 1));
        if (std::isfinite(there.x) && std::isfinite(there.y) && std::isfinite(there.z)) box.add(there);
      }
  }
}

// Puts a piece there in the object; what hangs on it stays where it is.
base::Status moveAlone(mod::ObjectDoc& object, const std::string& piece, const PiecePlace& place,
                       const glm::vec3& side) {
  std::vector<std::pair<std::string, PiecePlace>> carried;
  for (const mod::PieceDoc& one : object.pieces)
    if (one.parent == piece) carried.emplace_back(one.name, objectPlace(object, one));
  RAKUGO_TRY(placePiece(object, piece, placeUnder(object, *findPiece(object, piece), place), side));
  for (const auto& [name, before] : carried)
    RAKUGO_TRY(placePiece(object, name, placeUnder(object, *findPiece(object, name), before), side));
  return {};
}

// The turn that brings the game's forward onto an axis of the piece's present space.
glm::dquat forwardOnto(const glm::vec3& forward, const glm::vec3& axis) {
  const glm::dvec3 from(forward), to(axis);
  const double along = glm::dot(from, to);
  if (along > 0.999999) return {1, 0, 0, 0};
  if (along < -0.999999) {
    const glm::dvec3 across = std::abs(from.x) > 0.5 ? glm::dvec3(0, 0, 1) : glm::dvec3(1, 0, 0);
    return glm::angleAxis(glm::pi<double>(), across);
  }
  return glm::normalize(glm::dquat(1 + along, glm::cross(from, to)));
}

}  // namespace

MovingValues movingValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields) {
  const auto of = [&](const char* id) -> base::Json {
    for (const rulebook::Field& field : fields)
      if (field.id == id) return valueOf(piece, field);
    return {};
  };
  const auto text = [&](const char* id) {
    const base::Json value = of(id);
    return value.is_string() ? value.get<std::string>() : std::string();
  };
  MovingValues out{text("part"), text("moves"), text("runs"), 0, {0, 0}};
  if (const base::Json rate = of("rate"); rate.is_number()) out.rate = rate.get<float>();
  if (const base::Json span = of("span_deg"); span.is_array() && span.size() == 2)
    out.span_deg = {span[0].get<float>(), span[1].get<float>()};
  return out;
}

float movedAngle(const MovingValues& says, float seconds) {
  const float turns = says.rate * seconds, whole = glm::two_pi<float>();
  if (!std::isfinite(turns)) return 0;
  if (says.moves != "swings") return whole * (turns - std::floor(turns));
  const float middle = (says.span_deg[0] + says.span_deg[1]) / 2,
              half = (says.span_deg[1] - says.span_deg[0]) / 2;
  return glm::radians(middle + half * std::sin(whole * turns));
}

Moved movedBy(const mod::ObjectDoc& object, const mod::PieceDoc& moving, const ModelOf& models) {
  Moved out;
  for (size_t i = 0; i < object.pieces.size(); ++i)
    if (mod::hangsOn(object, object.pieces[i], moving.name)) out.pieces.push_back(i);
  const auto value = moving.values.find("part");
  if (value == moving.values.end() || !value->is_string() || value->get<std::string>().empty()) return out;
  for (const size_t i : modelsOfPiece(object, moving)) {
    const scene::Model* model = models(object.pieces[i].model);
    if (model == nullptr) continue;
    if (const scene::NodeIndex part = scene::findPart(*model, value->get<std::string>()); part.valid())
      out.parts.emplace_back(i, partTree(*model, part));
  }
  return out;
}

geometry::Bounds movedBox(const mod::ObjectDoc& object, const mod::PieceDoc& moving, const ModelOf& models) {
  geometry::Bounds out;
  const glm::mat4 back = glm::inverse(placeInObject(object, moving));
  const Moved moved = movedBy(object, moving, models);
  for (const auto& [piece, nodes] : moved.parts)
    addNodes(*models(object.pieces[piece].model), &nodes, back * placeInObject(object, object.pieces[piece]),
             out);
  for (const size_t i : moved.pieces)
    if (const scene::Model* model = object.pieces[i].isModel() ? models(object.pieces[i].model) : nullptr;
        model != nullptr)
      addNodes(*model, nullptr, back * placeInObject(object, object.pieces[i]), out);
  return out;
}

base::Status centerMoving(mod::ObjectDoc& object, const std::string& piece, const rulebook::Rulebook& book,
                          const ModelOf& models) {
  const mod::PieceDoc* found = findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  // Measured in the object's own axes, where the shortest side is a direction of the game.
  mod::ObjectDoc level = object;
  RAKUGO_TRY(moveAlone(level, piece, {}, book.side()));
  const geometry::Bounds box = movedBox(level, *findPiece(level, piece), models);
  if (box.empty())
    return base::Error{"piece.moves_nothing",
                       base::phrase("{0} moves nothing.", piece),
                       {},
                       base::phrase("Name a part of the model that carries it, or let pieces hang on it.")};
  const double scale = scaleInObject(object, *found);
  const glm::vec3 middle = (box.min + box.max) * 0.5F * static_cast<float>(scale), size = box.size();
  // Of sides that are alike the game's side axis comes first: wheels turn about that.
  const GameAxes axes = gameAxes(book);
  glm::vec3 axis = axes.side;
  const auto along = [&](const glm::vec3& way) { return std::abs(glm::dot(size, way)); };
  for (const glm::vec3& way : {axes.forward, axes.up})
    if (along(way) < along(axis) * 0.999F) axis = way;
  PiecePlace to;
  const glm::dquat turn = forwardOnto(axes.forward, axis);
  for (int i = 0; i < 3; ++i)
    to.position_m[static_cast<size_t>(i)] = std::round(static_cast<double>(middle[i]) * 1e6) / 1e6 + 0.0;
  to.turn = {turn.x + 0.0, turn.y + 0.0, turn.z + 0.0, turn.w + 0.0};
  mod::ObjectDoc next = object;
  RAKUGO_TRY(moveAlone(next, piece, to, book.side()));
  object = std::move(next);
  return {};
}

}  // namespace rakugo::prepare
