#include "prepare/objects/piece_values.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/srgb.h"
#include "mod/piece_tree.h"
#include "prepare/objects/piece_errors.h"
#include "rulebook/field_value.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

using base::Json;

// The values of one piece by the ids of their fields.
struct Values {
  const mod::PieceDoc& piece;
  const std::vector<rulebook::Field>& fields;

  [[nodiscard]] Json of(const char* id) const {
    for (const rulebook::Field& field : fields)
      if (field.id == id) return valueOf(piece, field);
    return {};
  }
  [[nodiscard]] float number(const char* id) const {
    const Json value = of(id);
    return value.is_number() ? value.get<float>() : 0.0F;
  }
  [[nodiscard]] std::string text(const char* id) const {
    const Json value = of(id);
    return value.is_string() ? value.get<std::string>() : std::string();
  }
  // Linear.
  [[nodiscard]] glm::vec3 color(const char* id) const {
    const Json value = of(id);
    if (!value.is_array() || value.size() != 3) return glm::vec3(1);
    const auto light = [&](size_t i) { return formats::lightOf(value[i].get<double>()); };
    return {light(0), light(1), light(2)};
  }
};

bool isColor(const Json& value) {
  return value.is_array() && value.size() == 3 &&
         std::all_of(value.begin(), value.end(), [](const Json& one) { return one.is_number(); });
}

// The mirror image of a turn about an axis is one about the mirrored axis the other way round.
Json inMirror(const mod::PieceDoc& piece, const std::string& id, const Json& value) {
  if (piece.sort != mod::kMovingSort) return value;
  const auto other_way = [](const Json& one) {
    return one.is_number_integer() ? Json(-one.get<int64_t>()) : Json(-one.get<double>() + 0.0);
  };
  if (id == "rate" && value.is_number()) return other_way(value);
  if (id == "span_deg" && value.is_array() && value.size() == 2 && value[0].is_number() &&
      value[1].is_number())
    return Json::array({other_way(value[1]), other_way(value[0])});
  return value;
}

}  // namespace

std::vector<rulebook::Field> fieldsOfPiece(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                           const mod::PieceDoc& piece) {
  const auto sort = rulebook::pieceSortFrom(piece.sort);
  if (!sort) return {};
  const rulebook::Kind* kind = book.findKind(object.kind);
  const rulebook::PieceRule* rule = kind != nullptr ? kind->findPiece(piece.as) : nullptr;
  return rule != nullptr && rule->sort == *sort ? rule->fields : rulebook::pieceValues(*sort);
}

mod::ListEntry newEntry(const rulebook::GameList& list) {
  mod::ListEntry out;
  out.list = list.id;
  for (const rulebook::Field& field : list.fields)
    if (!field.default_value.is_null()) out.values[field.id] = field.default_value;
  return out;
}

Json valueOf(const mod::PieceDoc& piece, const rulebook::Field& field) {
  const auto found = piece.values.find(field.id);
  if (found == piece.values.end()) return field.default_value;
  if (!rulebook::fieldFault(field, *found)) return *found;
  if (!found->is_number() || field.type != rulebook::FieldType::number) return field.default_value;
  double value = found->get<double>();
  if (field.min) value = std::max(value, *field.min);
  if (field.max) value = std::min(value, *field.max);
  return value;
}

Json pairedValues(const mod::PieceDoc& leads, const Json& own) {
  Json out = Json::object();
  for (const auto& [id, value] : leads.values.items()) {
    const auto had = own.find(id);
    out[id] = isColor(value) && had != own.end() ? *had : inMirror(leads, id, value);
  }
  return out;
}

base::Status setPieceValue(mod::ObjectDoc& object, const std::string& piece, const std::string& field,
                           const Json& value) {
  mod::PieceDoc* found = mod::findPiece(object, piece);
  if (found == nullptr) return unknownPiece(piece);
  mod::PieceDoc* other =
      found->pair.empty() || isColor(value) ? nullptr : mod::findPiece(object, found->pair);
  for (mod::PieceDoc* one : {found, other}) {
    if (one == nullptr) continue;
    if (value.is_null())
      one->values.erase(field);
    else
      one->values[field] = one == found ? value : inMirror(*found, field, value);
  }
  return {};
}

LampValues lampValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields) {
  const Values v{piece, fields};
  LampValues out;
  out.color = v.color("color");
  out.strength = v.number("strength");
  out.reach_m = v.number("reach_m");
  out.cone_deg = v.number("cone_deg");
  out.soft = v.number("soft");
  out.lit = v.text("lit");
  return out;
}

EmitterValues emitterValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields) {
  const Values v{piece, fields};
  EmitterValues out;
  out.look = v.text("look");
  out.runs = v.text("runs");
  out.rate = v.number("rate");
  out.life_s = v.number("life_s");
  out.speed_m_s = v.number("speed_m_s");
  out.spread_deg = v.number("spread_deg");
  out.gravity = v.number("gravity");
  out.size_m = {v.number("size_m"), v.number("size_end_m")};
  out.opacity = {v.number("opacity"), v.number("opacity_end")};
  out.color = {v.color("color"), v.color("color_end")};
  return out;
}

}  // namespace rakugo::prepare
