#include "tool/examine.h"

#include "mod/store.h"
#include "packing/install.h"
#include "tool/find_book.h"

namespace rakugo::tool {

base::Result<std::shared_ptr<const rakugo::check::Examination>> examineFolder(const std::string& folder,
                                                                              const std::string& game,
                                                                              bool try_mends) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, findBook(state.card.rulebook));
  rakugo::check::Examiner examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book)));
  if (!game.empty()) examiner.setInstalled(packing::installedMods(game));
  RAKUGO_ASSIGN(auto x, examiner.examine(std::make_shared<const mod::ModState>(std::move(state))));
  return try_mends ? examiner.tryMends(x) : x;
}

}  // namespace rakugo::tool
