#include "mod/references.h"

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::mod {
namespace {

using base::Json;
using Now = std::function<std::optional<std::string>(const NamedThing&)>;

std::optional<NamedThing> namedBy(const Json& value) {
  return value.is_string() ? namedThing(value.get_ref<const std::string&>()) : std::nullopt;
}

// The texts of a value, down to the cells of rows; nothing stands deeper.
void see(const Json& value, const std::string& where,
         const std::function<void(const NamedThing&, const std::string&)>& found) {
  if (const auto named = namedBy(value)) return found(*named, where);
  if (!value.is_array()) return;
  for (const Json& row : value) {
    if (const auto named = namedBy(row)) found(*named, where);
    if (row.is_object())
      for (const auto& [key, cell] : row.items())
        if (const auto named = namedBy(cell)) found(*named, where);
  }
}

// Whether the value stays.
bool replace(Json& value, const Now& now) {
  if (const auto named = namedBy(value)) {
    const auto text = now(*named);
    if (text) value = *text;
    return text.has_value();
  }
  if (!value.is_array()) return true;
  Json rows = Json::array();
  for (Json& row : value) {
    bool stays = true;
    if (row.is_object()) {
      for (auto& [key, cell] : row.items()) stays = replace(cell, now) && stays;
    } else if (row.is_string()) {
      stays = replace(row, now);
    }
    if (stays) rows.push_back(std::move(row));
  }
  value = std::move(rows);
  return true;
}

void replaceAll(Json& values, const Now& now) {
  Json out = Json::object();
  for (auto& [key, value] : values.items())
    if (replace(value, now)) out[key] = std::move(value);
  values = std::move(out);
}

}  // namespace

std::optional<NamedThing> namedThing(const std::string& text) {
  for (const Thing thing : {Thing::source, Thing::object}) {
    const std::string before = referenceTo(thing, {});
    if (!text.starts_with(before) || text.size() == before.size()) continue;
    std::string name = text.substr(before.size());
    if (name == base::slug(name)) return NamedThing{thing, std::move(name)};
  }
  return std::nullopt;
}

std::string referenceTo(Thing thing, const std::string& name) {
  return (thing == Thing::source ? "sources/" : thing == Thing::model ? "models/" : "objects/") + name;
}

void eachReference(const ObjectDoc& object,
                   const std::function<void(const NamedThing&, const std::string&)>& found) {
  for (const auto& [field, value] : object.card.items()) see(value, base::phrase("card, {0}", field), found);
  for (const ListEntry& one : object.lists)
    for (const auto& [field, value] : one.values.items())
      see(value, base::phrase("list {0}, {1}", one.list, field), found);
  for (const PieceDoc& piece : object.pieces)
    for (const auto& [field, value] : piece.values.items())
      see(value, base::phrase("piece {0}, {1}", piece.name, field), found);
}

void replaceReferences(ObjectDoc& object, const Now& now) {
  replaceAll(object.card, now);
  for (ListEntry& one : object.lists) replaceAll(one.values, now);
  for (PieceDoc& piece : object.pieces) replaceAll(piece.values, now);
}

}  // namespace rakugo::mod
