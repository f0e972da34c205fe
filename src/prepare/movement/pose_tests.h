// A model in the game's movements: what the game will make of it beside what it should look like.
#pragma once

#include <optional>
#include <vector>

#include "prepare/movement/retarget.h"

namespace rakugo::prepare {

/// One bone in one moment of a movement as the game plays it, against the same bone as it should be.
struct BoneOff {
  size_t slot = 0;          ///< in the skeleton's list
  double turned_rad = 0;    ///< how far it is turned off, 0 to pi
  double moved_m = 0;       ///< how far its head is from where it should be
  double risen_m = 0;       ///< of that, upwards (below 0: down)
  bool bends_back = false;  ///< a middle joint that bends to the other side than it should
};

struct MomentOff {
  size_t movement = 0;  ///< in the skeleton's list
  double at_s = 0;
  std::vector<BoneOff> bones;  ///< one a slot that the model has, in the skeleton's order
};

/// At one moment. `bones` are those that bear the game's names.
MomentOff momentOff(const scene::Model& model, const Retarget& retarget, const rulebook::Skeleton& skeleton,
                    const GameFigure& figure, const SlotBones& bones, size_t movement, double at_s);

/// At all moments that the skeleton's movements name. Cost: a few milliseconds.
std::vector<MomentOff> momentsOff(const scene::Model& model, const rulebook::Skeleton& skeleton,
                                  const rulebook::Rulebook& book,
                                  const std::shared_ptr<const GameFigure>& figure);

/// The largest distance, in metres, between equal vertices of two models that differ in weights alone, over
/// all moments of the first skeleton of the rulebook of which the model has a bone. Nothing where there is no
/// such skeleton or no movement. Cost: skinning, at each moment.
std::optional<double> farthestInMovements(const scene::Model& a, const scene::Model& b,
                                          const rulebook::Rulebook& book);

}  // namespace rakugo::prepare
