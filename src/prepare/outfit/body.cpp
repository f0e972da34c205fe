#include "prepare/outfit/body.h"

#include "base/phrase.h"
#include "prepare/shipped_models.h"

namespace rakugo::prepare {

base::Result<std::shared_ptr<const scene::Model>> gameBody(const rulebook::Rulebook& book,
                                                           const std::string& kind) {
  const rulebook::Kind* found = nullptr;
  for (const rulebook::Kind* k : book.modelKinds())
    if (!k->body.empty() && (kind.empty() ? found == nullptr : k->id == kind)) found = k;
  if (found == nullptr)
    return base::Error{
        "body.none", base::phrase("The game has no body that such a thing is worn on."), {}, {}};
  return shippedModel(book, found->body);
}

}  // namespace rakugo::prepare
