#include "prepare/outfit/ghosts.h"

#include <map>
#include <mutex>

#include "base/text.h"
#include "formats/read_model.h"

namespace rakugo::prepare {
namespace {

// Null where what the kind shows follows no bones.
base::Result<std::shared_ptr<const scene::Model>> skinnedGhost(const rulebook::Rulebook& book,
                                                               const rulebook::Kind& kind) {
  // A rulebook's files do not change while a program runs.
  static std::mutex lock;
  static std::map<std::filesystem::path, std::shared_ptr<const scene::Model>> read;
  const std::filesystem::path path = book.folder / kind.ghost;
  const std::lock_guard guard(lock);
  if (const auto known = read.find(path); known != read.end()) return known->second;
  RAKUGO_ASSIGN(formats::ReadModel model, formats::readModelFile(path));
  std::shared_ptr<const scene::Model> made;
  if (!scene::usedJoints(model.model).empty())
    made = std::make_shared<const scene::Model>(std::move(model.model));
  return read[path] = made;
}

}  // namespace

base::Result<std::shared_ptr<const scene::Model>> weightDonor(const rulebook::Rulebook& book,
                                                              const std::string& kind) {
  for (const rulebook::Kind& k : book.kinds) {
    if (k.ghost.empty() || k.skeleton.empty() || (!kind.empty() && k.id != kind)) continue;
    RAKUGO_ASSIGN(auto ghost, skinnedGhost(book, k));
    if (ghost) return ghost;
  }
  return base::Error{"donor.none", "The game has no example whose vertices follow bones.", {}, {}};
}

std::vector<std::string> donorKinds(const rulebook::Rulebook& book) {
  std::vector<std::string> out;
  for (const rulebook::Kind& k : book.kinds)
    if (!k.ghost.empty() && !k.skeleton.empty()) out.push_back(k.id);
  return out;
}

}  // namespace rakugo::prepare
