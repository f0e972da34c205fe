// What can be told of materials and of texture coordinates without looking at pixels.
#pragma once

#include <optional>
#include <string>

#include "scene/model.h"

namespace rakugo::scene {

/// Whether two materials draw alike: all is equal but their names and keys.
bool drawAlike(const Material& a, const Material& b);

/// The position of a slot in `kTextureSlots` by its name ("base colour"), or nothing.
std::optional<size_t> slotOfName(const std::string& name);

/// Why a slot's picture is never seen, whatever it shows.
enum class Unseen : unsigned char {
  no,        ///< it is seen, or there is none
  by_factor  ///< a factor of 0 takes it away: a black base colour or glow, a normal scale or occlusion of 0
};
Unseen unseenSlot(const Material& material, size_t slot);

/// Sets of texture coordinates that pictures of the material use (bit 0: the first set, bit 1: the second).
unsigned usedUvSets(const Material& material);

/// For each vertex of a primitive, the whole numbers by which its texture coordinates move so that their
/// island lies on the picture (0 to 1, within 1e-4): nothing changes where the picture repeats. Empty when no
/// island moves, where a picture of that set does not repeat in both directions or is looked up in a way of
/// its own, or the primitive lacks the set. An island is what hangs together by vertices of equal place and
/// equal coordinates; one that is larger than the picture, or lies across its border, stays. Cost: n log n.
std::vector<glm::vec2> movesOntoPicture(const Primitive& primitive, const Material& material, size_t uv_set);

/// Vertex colours that darken a primitive evenly: all are alike within 1/64 and red, green and blue below
/// 0.98. The colour, or nothing.
std::optional<glm::vec3> evenDarkening(const Primitive& primitive);

}  // namespace rakugo::scene
