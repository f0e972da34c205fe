// From the pieces of an object to its record: where everything stands in the game's space and units.
#pragma once

#include <functional>
#include <map>
#include <optional>

#include "bundle/records.h"
#include "geometry/bounds.h"
#include "mod/documents.h"
#include "packing/game_space.h"
#include "packing/game_values.h"
#include "prepare/objects/collision_shapes.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/seen_box.h"
#include "rulebook/rulebook.h"

namespace rakugo::packing {

/// What a model became, placed by each piece that is it.
struct PlacedModel {
  const std::vector<bundle::ObjectPiece>& pieces;  ///< in the model's space; metres
  const std::optional<bundle::ObjectRig>& rig;
  const std::vector<mod::PointDoc>& points;
  geometry::Bounds bounds_m;
};

/// The least minor version of the format that an object of those pieces needs; 0 where any will do. `moves`
/// says of a piece that is a model whether bones, animations or morph targets move it: then it needs the one
/// that says how far (`ObjectRecord::seen`).
uint16_t minorOfObject(const mod::ObjectDoc& object, const std::function<bool(const mod::PieceDoc&)>& moves);

/// What a moving part says, as a record has it, at the origin, without what it moves. In a left-handed game
/// the same turn has the opposite sign.
bundle::ObjectMotion motionRecord(const prepare::MovingValues& says, const GameSpace& space);
/// What a lamp or an emitter says, as a record has it, at the origin: lengths in units of `unit_m` metres.
bundle::ObjectLamp lampRecord(const prepare::LampValues& says, double unit_m);
bundle::ObjectEmitter emitterRecord(const prepare::EmitterValues& says, double unit_m);

/// Adds the pieces of an object, one after the other, to its record. All that is given outlives this.
class ObjectPlacing {
 public:
  ObjectPlacing(const rulebook::Rulebook& book, const GameSpace& space, const mod::ObjectDoc& object,
                const NameInPackage& name, bundle::ObjectRecord& record)
      : book_(book), space_(space), object_(object), name_(name), record_(record) {}

  /// A piece that is a model: its parts, its rig and its attachment points, by the game's words for what it
  /// is.
  void addModel(const mod::PieceDoc& piece, const PlacedModel& model);
  /// A lamp, an emitter or a collision shape, which is made of `models` (prepared, by name); nothing for a
  /// group, for a sound, for a moving part, and for a sort that this version does not know.
  void addRuled(const mod::PieceDoc& piece, const prepare::ModelOf& models);
  /// A sound, of which those ids are heard; nothing where there are none.
  void addSound(const mod::PieceDoc& piece, std::vector<std::string> named);
  /// Sets the boxes, and what moving parts move: of `models` (prepared, by name) and their other sizes, once
  /// all pieces are there.
  void finish(const prepare::ModelOf& models, const prepare::SizesOf& sizes);

 private:
  void addMotion(const mod::PieceDoc& piece, const prepare::ModelOf& models);
  void addRig(const bundle::ObjectRig& own, const glm::mat4& place);
  void addPart(bundle::ObjectPiece part, const glm::mat4& place, int rig);
  void addPoint(const mod::PointDoc& point, bundle::ObjectPoint named, const glm::mat4& place);
  void addShape(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields,
                const prepare::ModelOf& models);
  template <class Piece>
  void put(const mod::PieceDoc& piece, Piece& out) const;

  const rulebook::Rulebook& book_;
  const GameSpace& space_;
  const mod::ObjectDoc& object_;
  const NameInPackage& name_;
  bundle::ObjectRecord& record_;
  geometry::Bounds box_;
  /// By piece of the object: the record's first piece, lamp or emitter that it became.
  std::map<std::string, size_t> first_;
};

}  // namespace rakugo::packing
