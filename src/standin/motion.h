// How the harbour's figures move: its own movements, put on whatever has bones of the same names. No OpenGL
// here.
#pragma once

#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <map>
#include <string>
#include <vector>

#include "bundle/animation_payload.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"

namespace rakugo::standin {

/// The game's own skeleton and movements; they lie in the program itself.
class Movements {
 public:
  /// Of the harbour's keepers. Breaks its promise when the data in the program is damaged, for it is ours.
  static const Movements& keepers();
  [[nodiscard]] const bundle::SkeletonRecord& skeleton() const { return skeleton_; }
  [[nodiscard]] const bundle::AnimationPayload* find(const std::string& name) const;
  [[nodiscard]] std::vector<std::string> names() const;
  /// Names of bones that the harbour's movements move and that a skeleton does not have.
  [[nodiscard]] std::vector<std::string> missingIn(const bundle::SkeletonRecord& skeleton) const;

 private:
  bundle::SkeletonRecord skeleton_;
  std::map<std::string, bundle::AnimationPayload> animations_;
};

/// Bones as they stand against their parents, one a bone of a skeleton.
struct BonePlace {
  glm::vec3 position{0};
  glm::quat turn{1, 0, 0, 0};
  glm::vec3 scale{1};
};
using BonePose = std::vector<BonePlace>;
BonePose restPose(const bundle::SkeletonRecord& skeleton);

/// Puts bones where a movement has them at that moment. Turns take the place of the bones' own; ways are
/// those from the rest of `made_for` (null: positions are those of the skeleton itself). `only`: nothing but
/// bones of these names; empty: all.
void play(const bundle::AnimationPayload& movement, float at_s, const bundle::SkeletonRecord& skeleton,
          const bundle::SkeletonRecord* made_for, BonePose& pose, const std::vector<std::string>& only = {});

/// Matrices that carry what stands at rest to where the bones are, in the skeleton's space; one a bone.
std::vector<glm::mat4> bentBy(const bundle::SkeletonRecord& skeleton, const BonePose& pose);

/// The same for what stands where `bind` puts the bones.
std::vector<glm::mat4> bentFrom(const bundle::SkeletonRecord& skeleton, const BonePose& bind,
                                const BonePose& pose);

/// The mesh with bones and weights: each vertex follows the nearest of those bones, and the next one near a
/// joint. It stands where `bind` puts the bones; a mesh that has bones already, and one for which none of
/// those is there, is given back as it is.
bundle::MeshPayload followBones(const bundle::MeshPayload& mesh, const bundle::SkeletonRecord& skeleton,
                                const BonePose& bind, const std::vector<std::string>& bones);

/// A moment of a movement that goes on and on.
float looped(float at_s, const bundle::AnimationPayload& movement);

}  // namespace rakugo::standin
