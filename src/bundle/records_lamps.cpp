// Lamps, emitters, collision shapes, sounds and motions in the record of an object.
#include <algorithm>

#include "bundle/record_json.h"

namespace rakugo::bundle {
namespace {

float within(JsonFields& in, const char* key, double least, double most, bool above_least = false) {
  const double value = in.number(key, 0);
  if (value < least || value > most || (above_least && value == least))
    in.complain("bundle.record", base::phrase("The number is outside of its range."), key);
  return static_cast<float>(std::clamp(value, least, most));
}

template <size_t N>
void readWithin(JsonFields& in, const char* key, std::array<float, N>& values, float most) {
  readNumbers(in, key, values);
  for (float& v : values) {
    if (!(v >= 0 && v <= most))
      in.complain("bundle.record", base::phrase("The number is outside of its range."), key);
    v = std::clamp(v, 0.0F, most);
  }
}

template <class Piece>
void readPlace(JsonFields& in, Piece& out) {
  out.name = in.text("name");
  out.as = in.text("as");
  readNumbers(in, "position", out.position);
  readTurn(in, out.turn);
  if (in.has("values")) out.values = in.json()["values"];
  if (!out.values.is_object()) {
    in.complain("bundle.record", base::phrase("The values must be an object."), "values");
    out.values = Json::object();
  }
}

template <class Piece>
Json placed(const Piece& piece) {
  Json out = placement(piece.name, piece.position, piece.turn);
  out["as"] = piece.as;
  return out;
}

constexpr double kFullTurn = 6.2831855;  // of a float, rounded up
constexpr float kMostLength = 1e7F;

constexpr std::array<const char*, 6> kForms = {"box", "sphere", "capsule", "cylinder", "hull", "mesh"};

// A list of lists of three numbers, no more than `most`; complains of what is none.
template <class Number, class Good>
void readTriples(JsonFields& in, const char* key, size_t most, const Good& good,
                 std::vector<std::array<Number, 3>>& out) {
  const Json* list = base::memberOf(in.json(), key);
  if (list == nullptr) return;
  bool whole = list->is_array() && list->size() <= most;
  for (size_t i = 0; whole && i < list->size(); ++i) {
    const Json& one = (*list)[i];
    whole = one.is_array() && one.size() == 3 && good(one[0]) && good(one[1]) && good(one[2]);
    if (whole) out.push_back({one[0].get<Number>(), one[1].get<Number>(), one[2].get<Number>()});
  }
  if (!whole) in.complain("bundle.record", base::phrase("A list of three numbers each is needed."), key);
}

}  // namespace

Json toRecordJson(const ObjectShape& shape) {
  Json out = placed(shape);
  out["form"] = shape.form;
  out["size"] = numbers(shape.size);
  out["friction"] = shape.friction;
  out["bounce"] = shape.bounce;
  for (const auto& corner : shape.corners) out["corners"].push_back(numbers(corner));
  for (const auto& triangle : shape.triangles)
    out["triangles"].push_back(Json::array({triangle[0], triangle[1], triangle[2]}));
  if (!shape.values.empty()) out["values"] = shape.values;
  return out;
}

ObjectShape shapeFrom(JsonFields& in) {
  ObjectShape out;
  readPlace(in, out);
  out.form = in.text("form");
  if (std::find(kForms.begin(), kForms.end(), out.form) == kForms.end())
    in.complain("bundle.record", base::phrase("This is no form of a shape."), "form");
  readWithin(in, "size", out.size, kMostLength);
  out.friction = within(in, "friction", 0, 100);
  out.bounce = within(in, "bounce", 0, 1);
  readTriples(
      in, "corners", kMostShapeCorners,
      [](const Json& v) { return v.is_number() && std::abs(v.get<double>()) <= kMostLength; }, out.corners);
  readTriples(
      in, "triangles", kMostShapeTriangles,
      [&](const Json& v) { return v.is_number_unsigned() && v.get<uint64_t>() < out.corners.size(); },
      out.triangles);
  const bool made = out.form == "hull" || out.form == "mesh";
  if (made && (out.corners.size() < 3 || out.triangles.empty()))
    in.complain("bundle.record", base::phrase("A hull and a mesh have corners and triangles."), "corners");
  return out;
}

Json toRecordJson(const ObjectLamp& lamp) {
  Json out = placed(lamp);
  out["color"] = numbers(lamp.color);
  out["strength"] = lamp.strength;
  out["reach"] = lamp.reach;
  out["cone"] = lamp.cone;
  out["soft"] = lamp.soft;
  out["lit"] = lamp.lit;
  if (!lamp.values.empty()) out["values"] = lamp.values;
  return out;
}

ObjectLamp lampFrom(JsonFields& in) {
  ObjectLamp out;
  readPlace(in, out);
  readWithin(in, "color", out.color, 1);
  out.strength = within(in, "strength", 0, 1e9);
  out.reach = within(in, "reach", 0, kMostLength);
  out.cone = within(in, "cone", 0, kFullTurn, true);
  out.soft = within(in, "soft", 0, 1);
  out.lit = in.text("lit");
  return out;
}

Json toRecordJson(const ObjectEmitter& emitter) {
  Json out = placed(emitter);
  out["look"] = emitter.look;
  out["runs"] = emitter.runs;
  out["rate"] = emitter.rate;
  out["life"] = emitter.life;
  out["speed"] = emitter.speed;
  out["spread"] = emitter.spread;
  out["gravity"] = emitter.gravity;
  out["size"] = numbers(emitter.size);
  out["opacity"] = numbers(emitter.opacity);
  out["color"] = Json::array({numbers(emitter.color[0]), numbers(emitter.color[1])});
  if (!emitter.values.empty()) out["values"] = emitter.values;
  return out;
}

ObjectEmitter emitterFrom(JsonFields& in) {
  ObjectEmitter out;
  readPlace(in, out);
  out.look = in.text("look");
  out.runs = in.text("runs");
  out.rate = within(in, "rate", 0, kMostParticleRate);
  out.life = within(in, "life", 0, kMostParticleLife, true);
  out.speed = within(in, "speed", 0, kMostLength);
  out.spread = within(in, "spread", 0, kFullTurn / 2);
  out.gravity = within(in, "gravity", -100, 100);
  readWithin(in, "size", out.size, kMostLength);
  readWithin(in, "opacity", out.opacity, 1);
  const Json* colors = base::memberOf(in.json(), "color");
  bool good = colors != nullptr && colors->is_array() && colors->size() == 2;
  for (size_t i = 0; good && i < 2; ++i) {
    const Json& one = (*colors)[i];
    good = one.is_array() && one.size() == 3;
    for (size_t c = 0; good && c < 3; ++c) {
      good = one[c].is_number() && one[c].get<double>() >= 0 && one[c].get<double>() <= 1;
      if (good) out.color[i][c] = one[c].get<float>();
    }
  }
  if (!good)
    in.complain("bundle.record", base::phrase("Two colours of three numbers from 0 to 1 are needed."),
                "color");
  return out;
}

Json toRecordJson(const ObjectSound& sound) {
  Json out = placed(sound);
  out["plays"] = sound.plays;
  out["sounds"] = sound.sounds;
  out["loop"] = sound.loop;
  out["gain"] = sound.gain;
  out["pitch"] = numbers(sound.pitch);
  out["near"] = sound.near;
  out["far"] = sound.far;
  if (!sound.values.empty()) out["values"] = sound.values;
  return out;
}

ObjectSound soundFrom(JsonFields& in) {
  ObjectSound out;
  readPlace(in, out);
  out.plays = in.text("plays");
  out.sounds = in.texts("sounds");
  if (out.sounds.empty())
    in.complain("bundle.record", base::phrase("A sound names at least one that is heard."), "sounds");
  out.loop = in.flag("loop");
  out.gain = within(in, "gain", 0, kMostGain);
  readWithin(in, "pitch", out.pitch, 16);
  if (out.pitch[0] <= 0 || out.pitch[1] <= 0)
    in.complain("bundle.record", base::phrase("The number is outside of its range."), "pitch");
  out.near = within(in, "near", 0, kMostLength);
  out.far = within(in, "far", out.near, kMostLength);
  return out;
}

Json toRecordJson(const ObjectMotion& motion) {
  Json out = placed(motion);
  out["moves"] = motion.swings ? "swings" : "turns";
  out["runs"] = motion.runs;
  out["rate"] = motion.rate;
  if (motion.swings) out["span"] = numbers(motion.span);
  for (const auto& [key, moved] :
       {std::pair{"pieces", &motion.pieces}, {"lamps", &motion.lamps}, {"emitters", &motion.emitters}})
    if (!moved->empty()) out[key] = *moved;
  if (!motion.values.empty()) out["values"] = motion.values;
  return out;
}

ObjectMotion motionFrom(JsonFields& in) {
  ObjectMotion out;
  readPlace(in, out);
  const std::string moves = in.text("moves");
  out.swings = moves == "swings";
  if (!out.swings && moves != "turns")
    in.complain("bundle.record", base::phrase("This is no way of moving."), "moves");
  out.runs = in.text("runs");
  out.rate = within(in, "rate", -static_cast<double>(kMostMotionRate), static_cast<double>(kMostMotionRate));
  readNumbers(in, "span", out.span);
  for (float& angle : out.span) {
    if (!(std::abs(angle) <= static_cast<float>(kFullTurn / 2)))
      in.complain("bundle.record", base::phrase("The number is outside of its range."), "span");
    angle = std::clamp(angle, static_cast<float>(-kFullTurn / 2), static_cast<float>(kFullTurn / 2));
  }
  for (const auto& [key, moved] :
       {std::pair{"pieces", &out.pieces}, {"lamps", &out.lamps}, {"emitters", &out.emitters}}) {
    const Json* list = base::memberOf(in.json(), key);
    if (list == nullptr) continue;
    bool whole = list->is_array();
    for (size_t i = 0; whole && i < list->size(); ++i) {
      whole = (*list)[i].is_number_unsigned() && (*list)[i].get<uint64_t>() <= UINT32_MAX;
      if (whole) moved->push_back((*list)[i].get<uint32_t>());
    }
    if (!whole) in.complain("bundle.record", base::phrase("A list of places is needed."), key);
  }
  return out;
}

}  // namespace rakugo::bundle
