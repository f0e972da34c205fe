// Bones taken away, added and set straight, and the weights that follow them. Kernels of the steps in
// steps_bones.cpp.
#pragma once

#include <string>
#include <vector>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Who takes the weights of a bone that goes.
enum class HeirOf : unsigned char {
  parent,  ///< the nearest bone above it that stays
  nearest  ///< for each vertex, the bone that stays and runs nearest by
};

/// Takes bones out of the tree and out of all skins; what hangs on them keeps its place and hangs on their
/// parent, animations of theirs go. Of a skin whose bones would all go, the first stays. Vertices keep the
/// sum of their weights. Parts with a mesh are left alone. Returns how many vertices got another bone. Cost:
/// linear in vertices, times bones for `nearest`.
uint64_t dropBones(scene::Model& model, const std::vector<scene::NodeIndex>& bones, HeirOf heir);

struct MendedWeights {
  uint64_t over = 0;      ///< vertices that followed more bones than `most`
  uint64_t sums = 0;      ///< others whose weights did not sum to one
  uint64_t without = 0;   ///< that followed none, and were given the bone that runs nearest by
  float largest_cut = 0;  ///< the greatest share of a vertex's weights that was cut off
};
/// Leaves each vertex its `most` (1 to 8) largest weights and makes them sum to one. Weights below a
/// thousandth and those of bones that a skin does not have count as none. What is right already stays as it
/// is to the bit.
MendedWeights mendWeights(scene::Model& model, int most);

/// The turn of a slot's own axes at rest, in the game's axes.
glm::quat slotTurn(const rulebook::Bone& bone);

/// Turns bones that bear a skeleton's names to the axes that it has for them, all others to those of the
/// model's space (null: all of them), and gives them scale one, each where it is: the mesh does not move,
/// animations are carried over. `scaled`: a bone had a scale, which an animation cannot carry.
struct StraightenedBones {
  uint64_t bones = 0;      ///< that were turned or scaled
  double largest_rad = 0;  ///< the widest turn among them
  bool scaled = false;
};
StraightenedBones straightenBones(scene::Model& model, const rulebook::Skeleton* skeleton = nullptr);

/// Puts a bone of the game's skeleton between its neighbours, which bear the game's names already: on its
/// parent's bone (or on the ground, for the first), before the bones of its children, in the place that it
/// has between them in the game. Vertices that follow the parent beyond it follow it. False when neither its
/// parent nor a child of it is there.
bool addBone(scene::Model& model, const rulebook::Skeleton& skeleton, const std::string& slot,
             const rulebook::Rulebook& book);

/// How far a bone points elsewhere than the game's in its rest pose: towards the next one of its chain.
struct PoseOff {
  std::string slot;
  scene::NodeIndex bone, next;
  double angle_rad = 0;
  glm::vec3 wanted{0};  ///< the game's direction in the model's space; unit
};
/// Of all bones of the skeleton's chains that bear the game's names, as the next one does; parents first.
std::vector<PoseOff> poseOff(const scene::Model& model, const rulebook::Skeleton& skeleton,
                             const rulebook::Rulebook& book);

/// Turns bones that point more than `least_rad` elsewhere than the game's, each with all that hangs on it,
/// the shortest way; the skin follows its bones into the new rest pose, normals, tangents and morph targets
/// along. Lengths stay. Returns how many were turned, and the widest angle.
std::pair<uint64_t, double> poseAsGame(scene::Model& model, const rulebook::Skeleton& skeleton,
                                       const rulebook::Rulebook& book, float least_rad);

/// Turns a bone at rest by so much (the model's space), about its own place, with all that hangs on it; the
/// skin follows. The bones' own axes stay as they are: whatever the game turns them by, the skin stands by so
/// much otherwise. What the model's own animations do is left alone.
void turnBoneAtRest(scene::Model& model, scene::NodeIndex bone, glm::quat by);

/// Hangs a part on another, in place. False when the other hangs on it.
bool hangOn(scene::Model& model, scene::NodeIndex part, scene::NodeIndex parent);

}  // namespace rakugo::prepare
