#include "prepare/outfit/ghosts.h"

#include "base/phrase.h"
#include "prepare/shipped_models.h"

namespace rakugo::prepare {
namespace {

// Null where what the kind shows follows no bones.
base::Result<std::shared_ptr<const scene::Model>> skinnedGhost(const rulebook::Rulebook& book,
                                                               const rulebook::Kind& kind) {
  RAKUGO_ASSIGN(auto ghost, shippedModel(book, kind.ghost));
  if (scene::usedJoints(*ghost).empty()) ghost.reset();
  return ghost;
}

}  // namespace

base::Result<std::shared_ptr<const scene::Model>> weightDonor(const rulebook::Rulebook& book,
                                                              const std::string& kind) {
  for (const rulebook::Kind* k : book.modelKinds()) {
    if (k->ghost.empty() || k->skeleton.empty() || (!kind.empty() && k->id != kind)) continue;
    RAKUGO_ASSIGN(auto ghost, skinnedGhost(book, *k));
    if (ghost) return ghost;
  }
  return base::Error{
      "donor.none", base::phrase("The game has no example whose vertices follow bones."), {}, {}};
}

std::vector<std::string> donorKinds(const rulebook::Rulebook& book) {
  std::vector<std::string> out;
  for (const rulebook::Kind* k : book.modelKinds())
    if (!k->ghost.empty() && !k->skeleton.empty()) out.push_back(k->id);
  return out;
}

}  // namespace rakugo::prepare
