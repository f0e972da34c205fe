// Where mods' things are to be had in the harbour: the chandler, the broker, the workbench, the sea chest.
#pragma once

#include <string>
#include <vector>

#include "base/json.h"

namespace rakugo::standin {
class Game;

/// One list of the harbour's.
struct HarbourList {
  const char* id;
  const char* title;
  std::vector<const char*> kinds;  ///< of the things that it takes
};
const std::vector<HarbourList>& harbourLists();
/// The list of that name, or null.
const HarbourList* findHarbourList(const std::string& id);

/// What a list offers of a thing.
struct Offer {
  std::string object;  ///< "mod/object"
  std::string text;    ///< "Hand lantern: 35 pennies, 3 in stock, from day 1"
  base::Json values;
};
/// All offers of a list, by the objects' names. Things that a recipe names are called by their names in the
/// game where they are loaded.
std::vector<Offer> offersOf(const Game& game, const HarbourList& list);

}  // namespace rakugo::standin
