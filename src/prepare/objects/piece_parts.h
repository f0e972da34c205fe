// Parts of the models of an object that a piece can name: a moving part what it moves, a shape what it holds.
#pragma once

#include <set>

#include "mod/documents.h"
#include "prepare/objects/collision_shapes.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Indices of the model pieces in which a piece looks for parts: the nearest model that carries it; where
/// none does, all models of the object.
std::vector<size_t> modelsOfPiece(const mod::ObjectDoc& object, const mod::PieceDoc& piece);

/// A node and all below it. Cost: linear in those.
std::set<scene::NodeIndex> partTree(const scene::Model& model, scene::NodeIndex root);

/// Keys of the parts that a piece can name, in the order of its models: nodes that have a mesh, or one below
/// them. Models that `models` does not know are passed over. Cost: linear in nodes.
std::vector<std::string> partsForPiece(const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                                       const ModelOf& models);

}  // namespace rakugo::prepare
