// Which bones of a model are the game's: by their names, their places, their sides and how they hang
// together, as one whole.
#pragma once

#include <string>
#include <vector>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// What was found for one slot (a bone that the game looks for).
struct SlotMatch {
  std::string slot;  ///< id of the rulebook's bone
  bool required = true;
  scene::NodeIndex bone;  ///< invalid: nothing was found
  double confidence = 0;  ///< 0 to 1
  bool sure = false;      ///< nothing speaks against it, and more than one thing for it
  std::string reason;     ///< a sentence for people
};

struct BoneMatch {
  std::vector<SlotMatch> slots;           ///< one a bone of the rulebook's skeleton, in its order
  std::vector<scene::NodeIndex> surplus;  ///< bones that no slot has taken, in the model's order
  /// Where the figure faces, as its body says: toes, feet, knees, elbows, thumbs, eyes and jaw. `backward`:
  /// against the model's forward, so that its own left lies on the model's right.
  enum class Facing : unsigned char { unknown, forward, backward };
  Facing facing = Facing::unknown;
  /// The names say left where the figure's own left is right, or the other way; where its body does not tell
  /// where it faces, the model's left counts: either the names are wrong or it faces backwards. Nothing sided
  /// is sure then.
  bool sides_swapped = false;
  [[nodiscard]] const SlotMatch* find(const std::string& slot) const;
};

/// Matches the bones of a model (joints that parts follow, and what they hang on) to a skeleton's slots. The
/// tree of slots is laid into the tree of bones so that what hangs on what is kept (bones may lie between,
/// slots may be missing), with the greatest sum over all slots of what names, places and sides say: exact, by
/// dynamic programming over pairs of slots and bones, siblings told apart by all ways to share them among
/// branches. Which side is left is worked out from the body where names do not say it. `decided` (slot, key
/// of a bone; an empty key: none) were settled by a person and are kept. Deterministic. Cost: slots x bones x
/// 3^(children of a slot, at most 8; of more, the rest is left unmatched).
BoneMatch matchBones(const scene::Model& model, const rulebook::Skeleton& skeleton,
                     const rulebook::Rulebook& book,
                     const std::vector<std::pair<std::string, std::string>>& decided = {});

}  // namespace rakugo::prepare
