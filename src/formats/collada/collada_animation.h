// Animations of COLLADA: curves on single numbers gathered into keys of whole nodes. Private to this library.
#pragma once

#include "formats/collada/collada_document.h"

namespace rakugo::formats::collada {

/// One transform element of a node, as written.
struct Transform {
  enum class Kind : unsigned char { matrix, rotate, translate, scale, skew, lookat };
  Kind kind = Kind::matrix;
  std::string sid;
  std::vector<float> values;  ///< 16, 4, 3, 3, 7 or 9
};

/// The transform elements of a <node> in their order. Errors: collada.number.
base::Result<std::vector<Transform>> transformsOf(Library& library, const Element& node);
/// Their product, the first one outermost (1.4.1, section 5.3, node).
glm::mat4 productOf(const std::vector<Transform>& transforms);

/// What animations need to know of the tree that was made.
struct AnimatedTree {
  std::map<const void*, scene::NodeIndex> nodes;  ///< by <node> element: its first use
  std::map<const void*, std::vector<Transform>> transforms;
  std::map<const void*, std::vector<scene::NodeIndex>>
      morph_weights;                           ///< by <source> of weights: who wears them
  std::map<const void*, size_t> morph_counts;  ///< by the same: number of targets
};

/// All animations: one a clip, or one for all where the file has no clips. Errors: collada.source,
/// collada.number, collada.too_large.
base::Result<std::vector<scene::Animation>> readAnimations(Library& library, const AnimatedTree& tree);

}  // namespace rakugo::formats::collada
