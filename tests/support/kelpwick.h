// The rulebook that ships with Rakugo, read once for all tests of a program.
#pragma once

#include <filesystem>
#include <utility>

#include "rulebook/rulebook.h"

namespace rakugo::test {

inline const rulebook::Rulebook& book() {
  static const rulebook::Rulebook kBook =
      std::move(rulebook::loadRulebook(std::filesystem::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick"))
          .value();
  return kBook;
}
/// The skeleton of its people.
inline const rulebook::Skeleton& keeper() { return book().skeletons[0]; }

}  // namespace rakugo::test
