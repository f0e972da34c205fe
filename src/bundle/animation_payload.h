// What moves bones: keys over time. docs/bundle-format.md section 8.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace rakugo::bundle {

/// What a track moves. Positions are in the game's units, turns unit quaternions x y z w; weights are those
/// of the morph targets of meshes that go with the bone.
enum class TrackPath : uint16_t { position = 0, turn = 1, scale = 2, weights = 3 };
/// How a value between two keys is found, as in glTF 2.0, appendix C. Cubic keys have three values: the
/// tangent in, the value, the tangent out.
enum class TrackBlend : uint16_t { step = 0, linear = 1, cubic = 2 };

struct Track {
  std::string bone;  ///< by name, so that any skeleton that has it can be moved
  TrackPath path = TrackPath::turn;
  TrackBlend blend = TrackBlend::linear;
  uint32_t width = 4;          ///< numbers of one value: 3, 4, or the number of morph targets
  std::vector<float> times_s;  ///< ascending, from 0
  std::vector<float> values;   ///< width x keys, times 3 for cubic ones
};

struct AnimationPayload {
  float length_s = 0;
  std::vector<Track> tracks;
};

/// The track's value at that moment, `width` numbers; turns are unit. Before the first key and after the last
/// the nearest one holds.
std::vector<float> valueAt(const Track& track, float at_s);

/// The bytes of an entry of kind animation. The payload must fulfil what `decodeAnimation` checks.
base::Bytes encodeAnimation(const AnimationPayload& animation);
/// Errors: bundle.animation with the byte offset inside the entry. `id` names the entry in messages.
base::Result<AnimationPayload> decodeAnimation(base::ByteSpan bytes, const std::string& id);

}  // namespace rakugo::bundle
