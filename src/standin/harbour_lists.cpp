#include "standin/harbour_lists.h"

#include <algorithm>

#include "base/text.h"
#include "standin/game.h"

namespace rakugo::standin {
namespace {

using base::Json;

std::string cellText(const Json& value) {
  if (value.is_string()) return base::presentable(value.get<std::string>(), 60);
  if (value.is_number()) return base::numberText(value.get<double>(), 2);
  return base::presentable(base::jsonLine(value), 60);
}

// What a recipe names: a thing of the mod by its name, else the end of the game's own name.
std::string thingText(const Game& game, const std::string& mod, const std::string& named) {
  if (named.starts_with("object/"))
    if (const auto found = game.objects().find(mod + "/" + named.substr(7)); found != game.objects().end())
      return base::presentable(found->second.record.name, 60);
  return base::presentable(named.substr(named.rfind('/') + 1), 40);
}

std::string needsText(const Game& game, const std::string& mod, const Json& needs) {
  std::string out;
  for (const Json& row : needs) {
    if (!row.is_object()) continue;
    const Json *good = base::memberOf(row, "good"), *amount = base::memberOf(row, "amount");
    if (good == nullptr || !good->is_string()) continue;
    out += (out.empty() ? "" : " and ") + (amount != nullptr ? cellText(*amount) + " " : std::string()) +
           thingText(game, mod, good->get<std::string>());
  }
  return out.empty() ? "nothing" : out;
}

std::string offerText(const Game& game, const LoadedThing& thing, const Json& values) {
  std::string out = base::presentable(thing.record.name, 60) + ":";
  std::string between = " ";
  const auto add = [&](const std::string& text) {
    out += between + text;
    between = ", ";
  };
  for (const auto& [key, value] : values.items()) {
    if (key == "needs" && value.is_array())
      add("of " + needsText(game, thing.mod, value));
    else
      add(base::presentable(key, 40) + " " + cellText(value));
  }
  const Json* price = base::memberOf(thing.record.card, "price");
  if (price != nullptr && price->is_number()) add(cellText(*price) + " pennies");
  return out;
}

}  // namespace

const std::vector<HarbourList>& harbourLists() {
  static const std::vector<HarbourList> kLists = {
      {"chandlery", "Chandler's shop", {"fitting", "gear", "coat"}},
      {"broker", "Boat broker", {"craft"}},
      {"workbench", "Workbench", {"fitting", "gear", "pier-block"}},
      {"start-kit", "Sea chest", {"gear", "coat"}}};
  return kLists;
}

const HarbourList* findHarbourList(const std::string& id) {
  for (const HarbourList& list : harbourLists())
    if (id == list.id) return &list;
  return nullptr;
}

std::vector<Offer> offersOf(const Game& game, const HarbourList& list) {
  std::vector<Offer> out;
  for (const auto& [name, thing] : game.objects())
    for (const bundle::ObjectListEntry& one : thing.record.lists)
      if (one.list == list.id) out.push_back({name, offerText(game, thing, one.values), one.values});
  return out;
}

}  // namespace rakugo::standin
