// An examined mod, for tests above `check`.
#pragma once

#include <functional>

#include "check/examiner.h"
#include "mod/store.h"

namespace rakugo::test {

/// A rulebook of the source tree; each is read once.
inline std::shared_ptr<const rulebook::Rulebook> shippedBook(const std::string& id) {
  static std::map<std::string, std::shared_ptr<const rulebook::Rulebook>> read;
  auto& book = read[id];
  if (!book)
    book = std::make_shared<const rulebook::Rulebook>(
        std::move(rulebook::loadRulebook(std::filesystem::path(RAKUGO_SOURCE_DIR) / "rulebooks" / id))
            .value());
  return book;
}
inline std::shared_ptr<const rulebook::Rulebook> kelpwick() { return shippedBook("kelpwick"); }

/// The mod in `folder` as it stands there, after `change` if there is one.
inline std::shared_ptr<const check::Examination> examined(
    const std::filesystem::path& folder, const std::function<void(mod::ModState&)>& change = nullptr,
    std::shared_ptr<const rulebook::Rulebook> book = nullptr) {
  mod::ModState state = std::move(mod::loadMod(folder)).value();
  if (change) change(state);
  if (!book) book = shippedBook(state.card.rulebook);
  check::Examiner examiner(folder, std::move(book));
  return std::move(examiner.examine(std::make_shared<const mod::ModState>(std::move(state)))).value();
}

}  // namespace rakugo::test
