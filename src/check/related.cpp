#include "check/related.h"

#include <set>

#include "prepare/step.h"

namespace rakugo::check {

mod::ModState relatedTo(const mod::ModState& mod, const FindingPlace& place) {
  std::set<std::string> models, objects;
  if (!place.model.empty()) models.insert(place.model);
  if (!place.object.empty()) objects.insert(place.object);
  if (!place.source.empty())
    for (const auto& [name, doc] : mod.models)
      if (mod::usesSource(doc, place.source)) models.insert(name);
  if (models.empty() && objects.empty()) return mod;
  // Objects of the models, models of those objects, models that they are made from, and what a variant follows;
  // until nothing is added.
  for (size_t before = 0; before != models.size() + objects.size();) {
    before = models.size() + objects.size();
    for (const auto& [name, doc] : mod.objects)
      for (const mod::PieceDoc& piece : doc.pieces)
        if (objects.count(name) != 0 || models.count(piece.model) != 0)
          objects.insert(name), models.insert(piece.model);
    for (const auto& [name, doc] : mod.models) {
      if (models.count(name) == 0) continue;
      for (const std::string& giver : prepare::modelsNamedBy(doc))
        if (mod.models.count(giver) != 0) models.insert(giver);
      if (mod.models.count(doc.follows.name) != 0) models.insert(doc.follows.name);
    }
    for (const auto& [name, doc] : mod.objects)
      if (objects.count(name) != 0 && mod.objects.count(doc.follows.name) != 0)
        objects.insert(doc.follows.name);
  }
  mod::ModState out = mod;
  out.models.eraseIf([&](const std::string& name, const auto&) { return models.count(name) == 0; });
  out.objects.eraseIf([&](const std::string& name, const auto&) { return objects.count(name) == 0; });
  std::set<std::string> sources = {place.source};
  for (const auto& [name, doc] : std::as_const(out.models))
    for (std::string& source : mod::sourcesOf(doc)) sources.insert(std::move(source));
  out.sources.eraseIf([&](const std::string& name, const auto&) { return sources.count(name) == 0; });
  return out;
}

}  // namespace rakugo::check
