// Keys of animations, and what lies between them.
#pragma once

#include <span>

#include "scene/model.h"

namespace rakugo::scene {

/// How many numbers a key of the channel has, tangents left out: 3, 4, or as many as its node has weights.
size_t numbersOf(const Channel& channel);

/// The value of the animated property at a time, written into `out` (`numbersOf` numbers). Before the first
/// key it is the value of the first key, after the last key that of the last. Rotations take the shorter arc.
/// A channel without keys leaves `out` unchanged. Source: glTF 2.0, appendix C.
void valueAt(const Channel& channel, float time_s, std::span<float> out);

}  // namespace rakugo::scene
