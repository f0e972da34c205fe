// A model made ready for a file format: without unused data, and valid by the format's standard.
#pragma once

#include "scene/model.h"

namespace rakugo::scene {

/// The model without what no root reaches: nodes (bones of skins that are worn stay), meshes, skins,
/// materials, images, cameras, lamps, channels of animations, and animations without a channel. Order stays.
/// Where something of the source's own extensions is kept, which may name nodes, materials and images by
/// their numbers, those keep their places, bare.
Model reachedModel(const Model& model);

/// Takes nodes that wear a skin out of the tree, to its roots: a reader ignores where they stand (glTF 2.0,
/// section 3.7.3.3). Children stay where they are, below a node without the mesh.
void skinnedToRoots(Model& model);

/// A primitive whose vertex attributes a standard reader takes: weights sum to one (a vertex without any
/// follows its first bone), normals and tangents are unit and finite, or left out for all vertices where one
/// has none (tangents too where normals are). Equal to `primitive` where that is so already. Source:
/// glTF 2.0, section 3.7.
Primitive validAttributes(const Primitive& primitive);

/// All of that: what is reached, skinned nodes as roots, valid attributes; primitives without a triangle, and
/// meshes without a primitive, are left out.
Model writtenModel(const Model& model);

}  // namespace rakugo::scene
