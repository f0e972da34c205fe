#include "prepare/outfit/body.h"

#include <map>
#include <mutex>

#include "formats/read_model.h"

namespace rakugo::prepare {

base::Result<std::shared_ptr<const scene::Model>> gameBody(const rulebook::Rulebook& book,
                                                           const std::string& kind) {
  const rulebook::Kind* found = nullptr;
  for (const rulebook::Kind& k : book.kinds)
    if (!k.body.empty() && (kind.empty() ? found == nullptr : k.id == kind)) found = &k;
  if (found == nullptr)
    return base::Error{"body.none", "The game has no body that such a thing is worn on.", {}, {}};
  // A rulebook's files do not change while a program runs.
  static std::mutex lock;
  static std::map<std::filesystem::path, std::shared_ptr<const scene::Model>> read;
  const std::filesystem::path path = book.folder / found->body;
  const std::lock_guard guard(lock);
  if (const auto known = read.find(path); known != read.end()) return known->second;
  RAKUGO_ASSIGN(formats::ReadModel model, formats::readModelFile(path));
  return read[path] = std::make_shared<const scene::Model>(std::move(model.model));
}

}  // namespace rakugo::prepare
