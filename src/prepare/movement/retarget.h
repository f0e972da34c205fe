// The game's movements on another figure: as they should look, and as the game will play them.
#pragma once

#include <vector>

#include "prepare/movement/movements.h"
#include "scene/pose.h"

namespace rakugo::prepare {

/// Which bone of a model stands for each bone of the game's skeleton; invalid: none.
using SlotBones = std::vector<scene::NodeIndex>;

/// By the bones' names, as the game finds them.
SlotBones bonesByGameName(const scene::Model& model, const rulebook::Skeleton& skeleton);

/// How movements of the game's figure are carried over to a model whatever its bones' directions, lengths and
/// rest pose are. Made once a model, asked for each moment. The model, the figure and the rulebook must
/// outlive it.
///
/// In the game's axes each bone turns by what the figure's bone turns from its rest, after it has been laid
/// into the game's rest pose (the shortest way, parents first, along the skeleton's chains). Ways are scaled
/// by the lengths of the chains that stand on the ground; the last bone of those is put where the figure has
/// it, scaled, so that a foot that stands does not slide (two bones in closed form, more by
/// `geometry::reachWithChain`). Bones that stand for none keep their placement against their parent. Carrying
/// over to the figure itself changes nothing.
class Retarget {
 public:
  Retarget(const scene::Model& model, SlotBones bones, const rulebook::Skeleton& skeleton,
           const rulebook::Rulebook& book, std::shared_ptr<const GameFigure> figure);

  /// Where the model's nodes are at that moment of a movement (a number in the skeleton's list). Before its
  /// beginning and after its end the movement stands still. Cost: linear in nodes.
  [[nodiscard]] scene::Pose at(size_t movement, float at_s) const;
  /// The same for a figure that is posed already; one placement a node of the figure's model.
  [[nodiscard]] scene::Pose of(const scene::Pose& figure) const;
  /// In the game's rest pose.
  [[nodiscard]] scene::Pose atRest() const { return of(figure_rest_); }
  /// Length of the model's legs against the figure's: 1 where neither has any.
  [[nodiscard]] float scale() const { return scale_; }
  /// A direction or way in the game's axes, in the model's space.
  [[nodiscard]] glm::vec3 inModel(glm::vec3 game) const { return to_model_ * game; }
  /// How a slot's bone turns against the one above it so as to point as the game's does at rest: what
  /// `turnBoneAtRest` takes to lay it so, once those above it are. Identity where it points so already.
  [[nodiscard]] glm::quat proposedTurn(size_t slot) const;
  /// The game's up in the model's space; unit.
  [[nodiscard]] glm::vec3 up() const { return up_; }
  [[nodiscard]] const SlotBones& bones() const { return bones_; }
  /// Where the middle one of three bones of a limb goes when that bends, by the figure at rest; the model's
  /// space. Zero where the figure's own is straight.
  [[nodiscard]] glm::vec3 bendOf(size_t first, size_t middle, size_t last) const;

 private:
  struct Leg {
    std::vector<size_t> slots;
    glm::vec3 stands_m{0};  ///< of its last bone at rest, laid into the game's pose; the model's space
    glm::vec3 figure_m{0};  ///< the same of the figure; the game's space
    glm::vec3 bend{0};      ///< where its middle joint goes when it is straight; the model's space
  };
  void layIntoGamePose(const rulebook::Skeleton& skeleton);
  void findLegs(const rulebook::Skeleton& skeleton);
  void plant(const std::vector<glm::mat4>& figure_world, std::vector<glm::quat>& turn,
             std::vector<glm::vec3>& head) const;

  const scene::Model& model_;
  std::shared_ptr<const GameFigure> figure_;
  SlotBones bones_;
  glm::quat to_model_{1, 0, 0, 0};  ///< from the game's axes
  glm::vec3 up_{0, 0, 1};           ///< the model's
  float scale_ = 1;
  glm::vec3 lift_{0};  ///< so that feet stand as high as at rest once laid into the game's pose
  scene::Pose rest_, figure_rest_;
  std::vector<glm::mat4> world_, figure_world_;  ///< at rest
  std::vector<glm::quat> turn_, figure_turn_;    ///< of the rest worlds
  std::vector<glm::quat> laid_;                  ///< a node's own turn into the game's pose
  std::vector<int> slot_of_;                     ///< of each node; -1: none
  std::vector<scene::NodeIndex> order_;          ///< reached nodes, parents first
  std::vector<Leg> legs_;
};

/// Where the model's nodes are when the game plays the movement itself: it finds bones by their names, puts
/// the movement's own turns in place of theirs and moves them by its own ways. Rightly only where the bones
/// lie and are turned as the game's. `bones` are those of `bonesByGameName`.
scene::Pose playedByGame(const scene::Model& model, const SlotBones& bones, const GameFigure& figure,
                         const scene::Pose& figure_pose);

}  // namespace rakugo::prepare
