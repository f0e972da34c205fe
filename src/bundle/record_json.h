// What the records of a bundle share when they are written and read.
#pragma once

#include <cmath>

#include "base/json.h"
#include "base/phrase.h"
#include "bundle/records.h"

namespace rakugo::bundle {

using base::Json;
using base::JsonFields;

template <size_t N>
Json numbers(const std::array<float, N>& values) {
  Json out = Json::array();
  for (const float v : values) out.push_back(v);
  return out;
}

template <size_t N>
void readNumbers(JsonFields& in, const char* key, std::array<float, N>& values) {
  const auto found = in.numbers(key, N);
  if (!found) return;
  for (size_t i = 0; i < N; ++i) values[i] = static_cast<float>((*found)[i]);
}

inline Json placement(const std::string& name, const std::array<float, 3>& position,
                      const std::array<float, 4>& turn) {
  Json out = Json::object();
  out["name"] = name;
  out["position"] = numbers(position);
  out["turn"] = numbers(turn);
  return out;
}

inline void readTurn(JsonFields& in, std::array<float, 4>& turn) {
  readNumbers(in, "turn", turn);
  const float length = turn[0] * turn[0] + turn[1] * turn[1] + turn[2] * turn[2] + turn[3] * turn[3];
  if (!(std::abs(length - 1) < 1e-2F))
    in.complain("bundle.record", base::phrase("A turn must be a unit quaternion."), "turn");
}

/// records_lamps.cpp
Json toRecordJson(const ObjectLamp& lamp);
Json toRecordJson(const ObjectEmitter& emitter);
Json toRecordJson(const ObjectShape& shape);
Json toRecordJson(const ObjectSound& sound);
Json toRecordJson(const ObjectMotion& motion);
/// Complaints: bundle.record, for what is outside of its range.
ObjectLamp lampFrom(JsonFields& in);
ObjectEmitter emitterFrom(JsonFields& in);
ObjectShape shapeFrom(JsonFields& in);
ObjectSound soundFrom(JsonFields& in);
ObjectMotion motionFrom(JsonFields& in);

}  // namespace rakugo::bundle
