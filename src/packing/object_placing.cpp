#include "packing/object_placing.h"

#include <algorithm>
#include <cmath>

#include "bundle/layout.h"
#include "packing/runtime.h"
#include "packing/sound_entries.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "rulebook/piece_sorts.h"
#include "scene/model.h"

namespace rakugo::packing {
namespace {

std::array<float, 4> turnArray(const glm::quat& turn) { return {turn.x, turn.y, turn.z, turn.w}; }

}  // namespace

bundle::ObjectLamp lampRecord(const prepare::LampValues& says, double unit_m) {
  bundle::ObjectLamp out;
  out.color = arrayOf<3>(says.color);
  out.strength = says.strength;
  out.reach = static_cast<float>(says.reach_m / unit_m);
  out.cone = glm::radians(says.cone_deg);
  out.soft = says.soft;
  out.lit = says.lit;
  return out;
}

bundle::ObjectEmitter emitterRecord(const prepare::EmitterValues& says, double unit_m) {
  bundle::ObjectEmitter out;
  out.look = says.look;
  out.runs = says.runs;
  out.rate = says.rate;
  out.life = says.life_s;
  out.speed = static_cast<float>(says.speed_m_s / unit_m);
  out.spread = glm::radians(says.spread_deg);
  out.gravity = says.gravity;
  out.opacity = says.opacity;
  for (size_t i = 0; i < 2; ++i) {
    out.size[i] = static_cast<float>(says.size_m[i] / unit_m);
    out.color[i] = arrayOf<3>(says.color[i]);
  }
  return out;
}

bundle::ObjectMotion motionRecord(const prepare::MovingValues& says, const GameSpace& space) {
  const float way = space.mirrored >= 0 ? -1.0F : 1.0F;
  bundle::ObjectMotion out;
  out.swings = says.moves == "swings";
  out.runs = says.runs;
  out.rate = way * says.rate;
  if (out.swings)
    out.span = {glm::radians(way * says.span_deg[space.mirrored >= 0 ? 1 : 0]),
                glm::radians(way * says.span_deg[space.mirrored >= 0 ? 0 : 1])};
  return out;
}

uint16_t minorOfObject(const mod::ObjectDoc& object, const std::function<bool(const mod::PieceDoc&)>& moves) {
  const auto needs = [&](const mod::PieceDoc& piece) {
    if (piece.isModel()) return !piece.as.empty() || moves(piece);
    return rulebook::pieceSortFrom(piece.sort).has_value();
  };
  return !object.lists.empty() || !object.replaces.empty() ||
                 std::any_of(object.pieces.begin(), object.pieces.end(), needs)
             ? bundle::kMinorOfLamps
             : 0;
}

void ObjectPlacing::addModel(const mod::PieceDoc& piece, const PlacedModel& model) {
  const glm::mat4 place = prepare::placeWhereShown(book_, object_, piece);
  const mod::PieceDoc* apart = prepare::apartRoot(book_, object_, piece);
  const rulebook::Kind* whole = book_.findKind(object_.kind);
  const rulebook::Kind* kind = prepare::kindOfPiece(book_, object_, piece);
  const int rig = model.rig ? static_cast<int>(record_.rigs.size()) : -1;
  if (model.rig) {
    addRig(*model.rig, place);
    record_.rigs.back().scale = static_cast<float>(prepare::scaleInObject(object_, piece));
  }
  const std::string as = whole != nullptr ? whole->pieceWord(piece.as) : piece.as;
  first_[piece.name] = record_.pieces.size();
  for (bundle::ObjectPiece part : model.pieces) {
    part.as = apart != nullptr && whole != nullptr ? whole->pieceWord(apart->as) : as;
    part.apart = apart != nullptr;
    addPart(std::move(part), place, rig);
  }
  for (const mod::PointDoc& point : model.points)
    addPoint(point,
             {kind != nullptr ? kind->pointWord(point.id) : point.id,
              {},
              {},
              apart != nullptr ? as : std::string()},
             place);
  const geometry::Bounds& own = model.bounds_m;
  if (own.empty() || apart != nullptr) return;
  for (const float x : {own.min.x, own.max.x})
    for (const float y : {own.min.y, own.max.y})
      for (const float z : {own.min.z, own.max.z})
        box_.add(space_.position(glm::vec3(place * glm::vec4(x, y, z, 1))));
}

void ObjectPlacing::finish(const prepare::ModelOf& models, const prepare::SizesOf& sizes) {
  // Those that carry others first.
  std::vector<std::pair<size_t, const mod::PieceDoc*>> moving;
  for (const mod::PieceDoc& piece : object_.pieces)
    if (rulebook::pieceSortFrom(piece.sort) == rulebook::PieceSort::moving &&
        prepare::apartRoot(book_, object_, piece) == nullptr)
      moving.emplace_back(mod::carriersOf(object_, piece).size(), &piece);
  std::stable_sort(moving.begin(), moving.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [depth, piece] : moving) addMotion(*piece, models);
  record_.bounds_min = arrayOf<3>(box_.empty() ? glm::vec3(0) : box_.min);
  record_.bounds_max = arrayOf<3>(box_.empty() ? glm::vec3(0) : box_.max);
  const geometry::Bounds seen_m = prepare::seenBox(book_, object_, models, sizes);
  if (box_.empty() || seen_m.empty()) return;
  geometry::Bounds seen = box_;
  seen.add(space_.position(seen_m.min));
  seen.add(space_.position(seen_m.max));
  // What moves by less than it is measured to stands still.
  const float least = 1e-4F * glm::length(box_.size());
  if (glm::all(glm::lessThan(box_.min - seen.min, glm::vec3(least))) &&
      glm::all(glm::lessThan(seen.max - box_.max, glm::vec3(least))))
    return;
  record_.seen = {{arrayOf<3>(seen.min), arrayOf<3>(seen.max)}};
}

void ObjectPlacing::addMotion(const mod::PieceDoc& piece, const prepare::ModelOf& models) {
  const prepare::Moved moved = prepare::movedBy(object_, piece, models);
  bundle::ObjectMotion motion =
      motionRecord(prepare::movingValues(piece, prepare::fieldsOfPiece(book_, object_, piece)), space_);
  put(piece, motion);
  const auto first = [&](const mod::PieceDoc& one) -> std::optional<uint32_t> {
    const auto found = first_.find(one.name);
    if (found == first_.end()) return std::nullopt;
    return static_cast<uint32_t>(found->second);
  };
  // A model's parts that are drawn are its pieces in the record, in the same order.
  const auto add_parts = [&](const mod::PieceDoc& one, const std::set<scene::NodeIndex>* only) {
    const scene::Model* model = models(one.model);
    const auto from = first(one);
    if (model == nullptr || !from) return;
    uint32_t at = *from;
    for (const DrawnPart& part : drawnParts(*model)) {
      if (only == nullptr || only->count(part.node) != 0) motion.pieces.push_back(at);
      ++at;
    }
  };
  for (const auto& [i, nodes] : moved.parts) add_parts(object_.pieces[i], &nodes);
  for (const size_t i : moved.pieces) {
    const mod::PieceDoc& one = object_.pieces[i];
    const auto sort = rulebook::pieceSortFrom(one.sort);
    if (one.isModel())
      add_parts(one, nullptr);
    else if (const auto at = first(one); at && sort == rulebook::PieceSort::lamp)
      motion.lamps.push_back(*at);
    else if (at && sort == rulebook::PieceSort::emitter)
      motion.emitters.push_back(*at);
  }
  for (std::vector<uint32_t>* list : {&motion.pieces, &motion.lamps, &motion.emitters}) {
    std::sort(list->begin(), list->end());
    list->erase(std::unique(list->begin(), list->end()), list->end());
  }
  // What moves nothing the game need not know of: a finding has said so.
  if (motion.pieces.empty() && motion.lamps.empty() && motion.emitters.empty()) return;
  record_.motions.push_back(std::move(motion));
}

void ObjectPlacing::addRig(const bundle::ObjectRig& own, const glm::mat4& place) {
  bool exact = true;
  const scene::Placement at = scene::placementOf(place, exact);
  record_.rigs.push_back(own);
  bundle::ObjectRig& rig = record_.rigs.back();
  rig.position = arrayOf<3>(space_.position(at.position));
  rig.turn = turnArray(space_.turn(at.turn));
}

void ObjectPlacing::addPart(bundle::ObjectPiece part, const glm::mat4& place, int rig) {
  scene::Placement own;
  own.position = {part.position[0], part.position[1], part.position[2]};
  own.turn = glm::quat(part.turn[3], part.turn[0], part.turn[1], part.turn[2]);
  own.scale = {part.scale[0], part.scale[1], part.scale[2]};
  bool exact = true;
  const scene::Placement whole = scene::placementOf(place * own.matrix(), exact);
  part.position = arrayOf<3>(space_.position(whole.position));
  part.turn = turnArray(space_.turn(whole.turn));
  part.scale = arrayOf<3>(whole.scale);
  if (part.rig >= 0) part.rig = rig;
  record_.pieces.push_back(std::move(part));
}

void ObjectPlacing::addPoint(const mod::PointDoc& point, bundle::ObjectPoint named, const glm::mat4& place) {
  const glm::vec4 at =
      place * glm::vec4(static_cast<float>(point.position_m[0]), static_cast<float>(point.position_m[1]),
                        static_cast<float>(point.position_m[2]), 1);
  bool exact = true;
  const glm::quat turn =
      glm::normalize(scene::placementOf(place, exact).turn *
                     glm::quat(static_cast<float>(point.turn[3]), static_cast<float>(point.turn[0]),
                               static_cast<float>(point.turn[1]), static_cast<float>(point.turn[2])));
  named.position = arrayOf<3>(space_.position(glm::vec3(at)));
  named.turn = turnArray(space_.turn(turn));
  record_.points.push_back(std::move(named));
}

template <class Piece>
void ObjectPlacing::put(const mod::PieceDoc& piece, Piece& out) const {
  const rulebook::Kind* kind = book_.findKind(object_.kind);
  const prepare::PiecePlace at = prepare::objectPlace(object_, piece);
  out.name = piece.name;
  out.as = kind != nullptr ? kind->pieceWord(piece.as) : piece.as;
  out.position =
      arrayOf<3>(space_.position({static_cast<float>(at.position_m[0]), static_cast<float>(at.position_m[1]),
                                  static_cast<float>(at.position_m[2])}));
  out.turn = turnArray(space_.turn(glm::quat(glm::dquat(at.turn[3], at.turn[0], at.turn[1], at.turn[2]))));
  // What every piece of its sort says has keys of its own in the record.
  const rulebook::PieceRule* rule = kind != nullptr ? kind->findPiece(piece.as) : nullptr;
  const std::vector<rulebook::Field> common = rulebook::pieceValues(*rulebook::pieceSortFrom(piece.sort));
  base::Json own = base::Json::object();
  for (const auto& [id, value] : piece.values.items())
    if (std::none_of(common.begin(), common.end(),
                     [id = id](const rulebook::Field& field) { return field.id == id; }))
      own[id] = value;
  out.values = gameValues(rule != nullptr ? rule->fields : common, own, name_);
}

void ObjectPlacing::addShape(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields,
                             const prepare::ModelOf& models) {
  const prepare::ShapeValues says = prepare::shapeValues(piece, fields);
  const auto scale = static_cast<float>(prepare::scaleInObject(object_, piece) / space_.unit_m);
  const size_t first = record_.shapes.size();
  bundle::ObjectShape shape;
  put(piece, shape);
  shape.form = says.form;
  shape.friction = static_cast<float>(says.friction);
  shape.bounce = static_cast<float>(says.bounce);
  if (!prepare::isMadeOfModel(says.form)) {
    for (int i = 0; i < 3; ++i)
      shape.size[static_cast<size_t>(i)] = static_cast<float>(says.size_m[i]) * scale;
    record_.shapes.push_back(std::move(shape));
    return;
  }
  const prepare::ShapeMesh made = prepare::shapeMesh(
      says, prepare::modelUnderShape(book_, object_, piece, models), prepare::gameAxes(book_));
  const bool mirrored = space_.mirrored >= 0;  // then triangles turn the other way
  // Of several hulls each is a shape of its own to the game.
  if (says.form == "hulls") shape.form = "hull";
  prepare::ShapeMesh::End from;
  const std::vector<prepare::ShapeMesh::End> whole = {{made.corners.size(), made.triangles.size()}};
  for (const prepare::ShapeMesh::End& end : made.ends.empty() ? whole : made.ends) {
    bundle::ObjectShape one = shape;
    if (made.ends.size() > 1) one.name += "-" + std::to_string(record_.shapes.size() - first + 1);
    for (size_t i = from.corners; i < end.corners; ++i)
      one.corners.push_back(arrayOf<3>(space_.direction(made.corners[i]) * scale));
    const auto corner = [&](size_t i) { return made.triangles[i] - static_cast<uint32_t>(from.corners); };
    for (size_t t = from.triangles; t + 2 < end.triangles; t += 3)
      one.triangles.push_back({corner(t), corner(t + (mirrored ? 2 : 1)), corner(t + (mirrored ? 1 : 2))});
    from = end;
    // Nothing that one could bump into: a finding has said so.
    if (!one.triangles.empty() && one.corners.size() <= bundle::kMostShapeCorners &&
        one.triangles.size() <= bundle::kMostShapeTriangles)
      record_.shapes.push_back(std::move(one));
  }
}

void ObjectPlacing::addSound(const mod::PieceDoc& piece, std::vector<std::string> named) {
  if (named.empty() || prepare::apartRoot(book_, object_, piece) != nullptr) return;
  const prepare::SoundValues says =
      prepare::soundValues(piece, prepare::fieldsOfPiece(book_, object_, piece));
  record_.sounds.push_back(soundRecord(says, std::move(named), space_.unit_m));
  put(piece, record_.sounds.back());
}

void ObjectPlacing::addRuled(const mod::PieceDoc& piece, const prepare::ModelOf& models) {
  const auto sort = rulebook::pieceSortFrom(piece.sort);
  if (!sort || *sort == rulebook::PieceSort::sound || *sort == rulebook::PieceSort::moving) return;
  if (prepare::apartRoot(book_, object_, piece) != nullptr) return;  // a finding has said so
  const auto fields = prepare::fieldsOfPiece(book_, object_, piece);
  if (*sort == rulebook::PieceSort::lamp) {
    first_[piece.name] = record_.lamps.size();
    record_.lamps.push_back(lampRecord(prepare::lampValues(piece, fields), space_.unit_m));
    put(piece, record_.lamps.back());
  } else if (*sort == rulebook::PieceSort::shape) {
    addShape(piece, fields, models);
  } else {
    first_[piece.name] = record_.emitters.size();
    record_.emitters.push_back(emitterRecord(prepare::emitterValues(piece, fields), space_.unit_m));
    put(piece, record_.emitters.back());
  }
}

}  // namespace rakugo::packing
