#include "mod/document_entries.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::mod {

using base::Json;
using base::JsonFields;

namespace {

template <size_t N>
Json list(const std::array<double, N>& values) {
  Json out = Json::array();
  for (const double v : values) out.push_back(v);
  return out;
}

template <size_t N>
void read(JsonFields& in, const char* key, std::array<double, N>& values) {
  if (const auto found = in.numbers(key, N))
    for (size_t i = 0; i < N; ++i) values[i] = (*found)[i];
}

}  // namespace

Json entry(Json own, const Json& more) {
  for (const auto& [key, value] : more.items())
    if (!own.contains(key)) own[key] = value;
  return own;
}

Json toJson(const PieceDoc& p) {
  Json piece{{"name", p.name}};
  if (!p.isModel()) piece["sort"] = p.sort;
  if (p.isModel() || !p.model.empty()) piece["model"] = p.model;
  if (!p.parent.empty()) piece["parent"] = p.parent;
  if (!p.as.empty()) piece["as"] = p.as;
  if (!p.pair.empty()) piece["pair"] = p.pair;
  piece["position_m"] = list(p.position_m);
  piece["turn"] = list(p.turn);
  if (p.scale != 1) piece["scale"] = p.scale;
  if (!p.values.empty()) piece["values"] = p.values;
  return entry(std::move(piece), p.more);
}

PieceDoc pieceFrom(JsonFields& one) {
  PieceDoc piece;
  piece.name = one.text("name");
  piece.sort = one.text("sort");
  piece.model = piece.isModel() ? one.requiredText("model") : one.text("model");
  piece.parent = one.text("parent");
  read(one, "position_m", piece.position_m);
  read(one, "turn", piece.turn);
  piece.as = one.text("as");
  piece.pair = one.text("pair");
  piece.scale = one.number("scale", 1);
  if (!(piece.scale > 0)) {
    one.complain("mod.scale", base::phrase("A scale is above 0."), "scale");
    piece.scale = 1;
  }
  if (auto values = one.object("values"); values && values->json().is_object()) piece.values = values->json();
  piece.more = one.others(kPieceKeys);
  return piece;
}

Json toJson(const PointDoc& p) {
  Json point = entry({{"id", p.id}, {"position_m", list(p.position_m)}, {"turn", list(p.turn)}}, p.more);
  if (!p.pair.empty()) point["pair"] = p.pair;
  return point;
}

PointDoc pointFrom(JsonFields& one) {
  PointDoc point;
  point.id = one.requiredText("id");
  read(one, "position_m", point.position_m);
  read(one, "turn", point.turn);
  point.pair = one.text("pair");
  point.more = one.others({"id", "pair", "position_m", "turn"});
  return point;
}

Json toJson(const ListEntry& one) { return entry({{"list", one.list}, {"values", one.values}}, one.more); }

ListEntry listEntryFrom(JsonFields& one) {
  ListEntry made;
  made.list = one.requiredText("list");
  if (auto values = one.object("values"); values && values->json().is_object()) made.values = values->json();
  made.more = one.others({"list", "values"});
  return made;
}

void putFollows(const Follows& follows, const char* of, Json& out) {
  out.erase("follows");
  if (follows.name.empty()) return;
  Json json = follows.more;
  json[of] = follows.name;
  if (follows.scale != 1) json["scale"] = follows.scale;
  json["own"] = follows.own;
  out["follows"] = std::move(json);
}

Follows followsFrom(JsonFields& in, const char* of) {
  Follows out;
  if (!in.has("follows")) return out;
  auto json = in.object("follows");
  if (!json) return out;
  out.name = json->requiredText(of);
  out.scale = json->number("scale", 1);
  if (!(out.scale > 0) || out.scale > kMostFollowedScale) {
    json->complain(
        "mod.scale",
        base::phrase("A scale is above 0, and at most {0}.", base::groupedText(kMostFollowedScale)), "scale");
    out.scale = 1;
  }
  const Json own = json->json().value("own", Json::array());
  for (const Json& one : own.is_array() ? own : Json::array())
    if (one.is_string() && one.get<std::string>().starts_with('/')) out.own.push_back(one.get<std::string>());
  if (!own.is_array() || out.own.size() != own.size())
    json->complain("json.type", base::phrase("\"own\" is a list of JSON pointers, such as \"/card/price\"."),
                   "own");
  std::sort(out.own.begin(), out.own.end());
  out.more = json->others({of, "scale", "own"});
  return out;
}

}  // namespace rakugo::mod
