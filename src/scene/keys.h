// Keys of animations, and what lies between them.
#pragma once

#include <span>

#include "scene/model.h"

namespace rakugo::scene {

/// How many numbers a key of the channel has, tangents left out: 3, 4, or as many as its node has weights.
size_t numbersOf(const Channel& channel);

/// The property at a time, into `out` of `numbersOf` numbers; before the first and after the last key theirs.
/// Turns go the shorter way on the sphere. A channel without keys leaves `out` alone. Source: glTF 2.0,
/// appendix C.
void valueAt(const Channel& channel, float time_s, std::span<float> out);

}  // namespace rakugo::scene
