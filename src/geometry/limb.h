// Limbs that reach for a place: two bones by the law of cosines, longer chains step by step.
#pragma once

#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// The shortest turn from one direction to another; both unit. Straight back is about any axis across.
glm::quat turnFromTo(glm::vec3 from, glm::vec3 to);

/// How two bones turn so that the end of the second comes to a place.
struct LimbTurns {
  glm::quat first{1, 0, 0, 0};   ///< of the first bone about `root`, in the space of the points
  glm::quat second{1, 0, 0, 0};  ///< of the second bone about the middle joint, on top of the first
  bool reached = true;           ///< false: the place is farther (or nearer) than the bones can go
};

/// Turns the limb root-middle-end (3 points, any one space and unit) so that `end` comes to `target`; lengths
/// stay. The middle joint keeps the side it bends to; a limb that is straight bends towards `bend` (a
/// direction, need not be unit). Beyond reach the limb points at the target, stretched or folded as far as it
/// goes. A limb without length, or points that are no numbers, stays as it is and is not `reached`. Source:
/// law of cosines.
LimbTurns reachWithLimb(glm::vec3 root, glm::vec3 middle, glm::vec3 end, glm::vec3 target, glm::vec3 bend);

/// How far a joint of a chain may turn off from how it stands: an angle from 0 to pi, in radians.
struct JointLimit {
  float most_rad = 3.14159265F;
};

struct ChainReach {
  std::vector<glm::quat> turns;  ///< one a joint but the last: of the bone that begins there, in the space of
                                 ///< the points
  float left = 0;                ///< how far the end stays from the target, in the points' unit
};

/// Turns a chain of joints (at least 2 points) so that its end comes as near to `target` as limits allow:
/// cyclic coordinate descent from the end to the root, each joint held within its limit of its own turn in
/// the chain (against the bone before it). `limits` has one value a joint but the last, or none. Ends when
/// the end is within a thousandth of the chain's length, or after 60 rounds. Deterministic. Source: L.-C. T.
/// Wang and C. C. Chen, "A combined optimization method for solving the inverse kinematics problem" (1991).
ChainReach reachWithChain(std::span<const glm::vec3> joints, glm::vec3 target,
                          std::span<const JointLimit> limits);

}  // namespace rakugo::geometry
