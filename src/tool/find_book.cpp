#include "tool/find_book.h"

#include "tool/tool.h"

namespace rakugo::tool {

base::Result<rulebook::Rulebook> findBook(const std::string& id) {
  auto book = rulebook::findRulebook(id);
  if (book)
    for (const std::filesystem::path& hidden : book->hides)
      complain("note: the rulebook {} is the one in {}; it hides the one in {}\n", book->id,
               book->folder.string(), hidden.string());
  return book;
}

}  // namespace rakugo::tool
