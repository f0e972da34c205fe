#include "bundle/animation_payload.h"

#include <algorithm>
#include <cmath>

#include "base/limits.h"
#include "base/phrase.h"
#include "bundle/layout.h"

namespace rakugo::bundle {
namespace {

constexpr uint32_t kAnimationMagic = 0x414B5221;  // "!RKA"
constexpr uint32_t kVersion = 1;

uint32_t valuesOfKey(const Track& track) { return track.width * (track.blend == TrackBlend::cubic ? 3 : 1); }

bool rightWidth(const Track& track) {
  switch (track.path) {
    case TrackPath::position:
    case TrackPath::scale:
      return track.width == 3;
    case TrackPath::turn:
      return track.width == 4;
    case TrackPath::weights:
      return track.width >= 1 && track.width <= kMostMorphs;
  }
  return false;
}

bool finite(const std::vector<float>& list) {
  return std::all_of(list.begin(), list.end(), [](float v) { return std::isfinite(v); });
}

// Makes a turn unit; what has no length is none.
void makeUnit(std::vector<float>& q) {
  const float length = std::sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
  if (!(length > 1e-6F)) {
    q = {0, 0, 0, 1};
    return;
  }
  for (float& c : q) c /= length;
}

// Between two unit turns, on the shorter arc.
std::vector<float> blendTurns(std::vector<float> a, std::vector<float> b, float share) {
  makeUnit(a);
  makeUnit(b);
  float cosine = 0;
  for (size_t c = 0; c < 4; ++c) cosine += a[c] * b[c];
  const float sign = cosine < 0 ? -1.0F : 1.0F;
  const float angle = std::acos(std::min(std::abs(cosine), 1.0F));
  const float sine = std::sin(angle);
  const float first = sine > 1e-4F ? std::sin((1 - share) * angle) / sine : 1 - share;
  const float second = sign * (sine > 1e-4F ? std::sin(share * angle) / sine : share);
  for (size_t c = 0; c < 4; ++c) a[c] = a[c] * first + b[c] * second;
  makeUnit(a);
  return a;
}

}  // namespace

std::vector<float> valueAt(const Track& track, float at_s) {
  const auto after = std::upper_bound(track.times_s.begin(), track.times_s.end(), at_s);
  const size_t second =
      std::min<size_t>(static_cast<size_t>(after - track.times_s.begin()), track.times_s.size() - 1);
  const size_t first =
      after == track.times_s.begin() ? 0 : static_cast<size_t>(after - track.times_s.begin()) - 1;
  const size_t stride = valuesOfKey(track), middle = track.blend == TrackBlend::cubic ? track.width : 0;
  const auto part = [&](size_t key, size_t from) {
    const float* begin = track.values.data() + key * stride + from;
    return std::vector<float>(begin, begin + track.width);
  };
  std::vector<float> out = part(first, middle);
  if (first != second && track.blend != TrackBlend::step) {
    const float length = track.times_s[second] - track.times_s[first];
    const float t = (at_s - track.times_s[first]) / length;
    if (track.blend == TrackBlend::linear && track.path == TrackPath::turn)
      return blendTurns(std::move(out), part(second, 0), t);
    const std::vector<float> next = part(second, middle);
    const std::vector<float> leaving = middle > 0 ? part(first, 2 * track.width) : next,
                             entering = middle > 0 ? part(second, 0) : next;
    const float t2 = t * t, t3 = t2 * t;
    for (size_t c = 0; c < out.size(); ++c)
      out[c] = middle == 0 ? out[c] + (next[c] - out[c]) * t
                           : (2 * t3 - 3 * t2 + 1) * out[c] + length * (t3 - 2 * t2 + t) * leaving[c] +
                                 (3 * t2 - 2 * t3) * next[c] + length * (t3 - t2) * entering[c];
  }
  if (track.path == TrackPath::turn) makeUnit(out);
  return out;
}

base::Bytes encodeAnimation(const AnimationPayload& animation) {
  base::ByteWriter out;
  out.write<uint32_t>(kAnimationMagic);
  out.write<uint32_t>(kVersion);
  out.write<float>(animation.length_s);
  out.write<uint32_t>(static_cast<uint32_t>(animation.tracks.size()));
  for (const Track& track : animation.tracks) {
    out.write<uint16_t>(static_cast<uint16_t>(track.path));
    out.write<uint16_t>(static_cast<uint16_t>(track.blend));
    out.write<uint32_t>(track.width);
    out.write<uint32_t>(static_cast<uint32_t>(track.times_s.size()));
    out.write<uint32_t>(static_cast<uint32_t>(track.bone.size()));
    out.bytes(base::asBytes(track.bone));
    out.align(4);
    for (const auto* list : {&track.times_s, &track.values})
      for (const float v : *list) out.write<float>(v);
  }
  return out.take();
}

base::Result<AnimationPayload> decodeAnimation(base::ByteSpan bytes, const std::string& id) {
  base::ByteReader in(bytes);
  const auto bad = [&](const std::string& what) {
    return base::Error{
        "bundle.animation", base::phrase("The animation {0} is not well formed: {1}.", id, what),
        base::Place{id, "", static_cast<int64_t>(in.at())}, base::phrase("Build the bundle again.")};
  };
  if (in.read<uint32_t>() != kAnimationMagic || in.read<uint32_t>() != kVersion)
    return bad(base::phrase("unknown mark or version"));
  AnimationPayload out;
  out.length_s = in.read<float>();
  const auto count = in.read<uint32_t>();
  if (!in.ok() || !(out.length_s >= 0 && std::isfinite(out.length_s))) return bad(base::phrase("its header"));
  if (uint64_t{count} * 16 > in.left()) return bad(base::phrase("the number of tracks"));
  for (uint32_t i = 0; i < count; ++i) {
    Track track;
    const auto path = in.read<uint16_t>(), blend = in.read<uint16_t>();
    track.width = in.read<uint32_t>();
    const auto keys = in.read<uint32_t>(), name = in.read<uint32_t>();
    if (!in.ok() || path > 3 || blend > 2) return bad(base::phrase("an unknown sort of track"));
    track.path = static_cast<TrackPath>(path);
    track.blend = static_cast<TrackBlend>(blend);
    if (!rightWidth(track) || keys == 0) return bad(base::phrase("the size of a track"));
    if (name > base::BundleLimits{}.id_bytes) return bad(base::phrase("the name of a bone"));
    track.bone = std::string(base::asText(in.bytes(name)));
    for (const std::byte b : in.bytes((4 - in.at() % 4) % 4))
      if (b != std::byte{0}) return bad("padding");
    const uint64_t values = uint64_t{keys} * valuesOfKey(track);
    if ((keys + values) * 4 > in.left()) return bad(base::phrase("fewer keys than promised"));
    for (uint32_t k = 0; k < keys; ++k) track.times_s.push_back(in.read<float>());
    track.values.reserve(values);
    for (uint64_t k = 0; k < values; ++k) track.values.push_back(in.read<float>());
    if (!finite(track.times_s) || !finite(track.values))
      return bad(base::phrase("a key that is not a number"));
    if (track.times_s[0] < 0 || std::adjacent_find(track.times_s.begin(), track.times_s.end(),
                                                   std::greater_equal<>()) != track.times_s.end())
      return bad(base::phrase("keys that do not ascend"));
    out.tracks.push_back(std::move(track));
  }
  if (!in.ok() || in.left() != 0) return bad(base::phrase("bytes behind its end"));
  return out;
}

}  // namespace rakugo::bundle
