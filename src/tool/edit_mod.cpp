#include "tool/edit_mod.h"

#include "base/text.h"
#include "check/related.h"
#include "mod/following.h"
#include "mod/store.h"
#include "tool/find_book.h"

namespace rakugo::tool {

base::Result<OpenMod> openMod(const std::string& folder) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, findBook(state.card.rulebook));
  return OpenMod{folder, std::move(state), std::make_shared<const rulebook::Rulebook>(std::move(book))};
}

base::Status saveChanges(OpenMod& open, const mod::ModState& before) {
  mod::followDesigns(open.state, before);
  return mod::saveMod(open.folder, open.state, before);
}

base::Error unknownThing(const std::string& code, const char* what, const std::string& name,
                         const std::vector<std::string>& known, const std::string& folder) {
  return {code, std::string("The mod has no ") + what + " " + base::presentable(name, 60) + ".",
          base::Place{folder}, known.empty() ? "It has none." : "It has " + base::listText(known, 12) + "."};
}

base::Result<std::shared_ptr<const rakugo::check::Examination>> examineModel(const OpenMod& open,
                                                                             const std::string& model) {
  rakugo::check::FindingPlace place;
  place.model = model;
  auto part = std::make_shared<const mod::ModState>(rakugo::check::relatedTo(open.state, place));
  return rakugo::check::Examiner(open.folder, open.book).examine(part);
}

}  // namespace rakugo::tool
