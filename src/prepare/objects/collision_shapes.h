// Collision shapes of an object: what they are, made and fitted to models, and how well they hold them.
#pragma once

#include <functional>
#include <optional>

#include "base/result.h"
#include "geometry/fitted_shapes.h"
#include "prepare/objects/piece_edits.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// What a shape says. Metres; sizes along the game's forward, side and up as the piece is turned.
struct ShapeValues {
  std::string form;                ///< "hull", "hulls", "box", "sphere", "capsule", "cylinder", "mesh"
  std::vector<std::string> parts;  ///< keys of what it is made of and fitted to; none: the whole model
  glm::dvec3 size_m{1};
  int64_t corners = 0, triangles = 0, hulls = 0;
  double friction = 0, bounce = 0;
  bool operator==(const ShapeValues&) const = default;
};
ShapeValues shapeValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields);
/// Whether a field means something for what the piece says otherwise: the size of a box does, that of a hull
/// does not, nor the span of what turns round and round. True for pieces that are no shape and move nothing.
bool fieldCounts(const mod::PieceDoc& piece, const std::string& field);

/// Prepared models by name; null for one that cannot be read.
using ModelOf = std::function<const scene::Model*(const std::string& model)>;

/// Triangles in a piece's space; metres.
struct ShapeMesh {
  std::vector<glm::vec3> corners;
  std::vector<uint32_t> triangles;  ///< 3 x n, counter-clockwise from outside
  /// Of several convex bodies: where the triangles and the corners of each end, in their order; none of them
  /// shares a corner with another. Empty for one body.
  struct End {
    size_t corners = 0, triangles = 0;
  };
  std::vector<End> ends;
  [[nodiscard]] bool empty() const { return triangles.empty(); }
};
/// Whether a form is made of the model under it and follows it by itself.
bool isMadeOfModel(const std::string& form);
/// What a shape is made of and held against, in the shape's own space: the drawn triangles of the model that
/// carries it, or, where no model does, of all models of the object; where the shape names parts, of those
/// and all below them alone, and nothing where none of them is there. Skinned parts as they stand at rest.
ShapeMesh modelUnderShape(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                          const mod::PieceDoc& shape, const ModelOf& model);
/// The shape itself as triangles; those of round forms have 24 sides. Empty where nothing can be made: a hull
/// of what lies in a plane. What is made of a model is kept for as long as the program runs, the last few
/// hundred of them by content, so that an edit of something else makes none anew. Several hulls of more than
/// 40,000 triangles are made of a mesh simplified to so many. Safe on any thread.
ShapeMesh shapeMesh(const ShapeValues& says, const ShapeMesh& under, const GameAxes& axes);

/// Places a shape and sets its size, so that it holds what it lies over as closely as its form can: the least
/// box, sphere, capsule or cylinder. A hull and a mesh follow by themselves and are left as they are. The
/// pair follows. Errors: piece.unknown; piece.shape where there is nothing to hold.
base::Status fitShape(mod::ObjectDoc& object, const std::string& piece, const rulebook::Rulebook& book,
                      const ModelOf& model);

/// How a shape lies over a surface, in the shape's space; metres.
struct ShapeOff {
  double short_m = 0;   ///< how far the surface reaches out of the shape at most
  double beyond_m = 0;  ///< how far the shape stands off the surface at most
  glm::vec3 short_at{0}, beyond_at{0};
};
/// `shape` is closed. Where it is no `mesh`, it is convex or of convex bodies, and the first is exact; the
/// second, and both of a mesh, are by places spread over the surfaces. Cost: n log n.
ShapeOff shapeOff(const ShapeMesh& shape, const ShapeMesh& under, bool convex);

}  // namespace rakugo::prepare
