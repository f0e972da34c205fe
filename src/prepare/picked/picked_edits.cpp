#include "prepare/picked/picked_edits.h"

namespace rakugo::prepare {

std::string addPickedStep(mod::ModelDoc& doc, const Prepared& prepared, const std::string& kind,
                          base::Json values, const Selection& selection) {
  Selection own = selection;
  if (const scene::NodeIndex part = scene::findPart(*prepared.model, selection.part); part.valid()) {
    own.seen = scene::partBounds(*prepared.model, part, scene::worldMatrices(*prepared.model));
  }
  mod::StepDoc step = makeStep(doc, kind, std::move(values));
  const std::string id = step.id;
  const size_t place = insertByRank(doc, std::move(step));
  // While newer steps wait to be prepared, places in the two lists are not the same.
  if (place < prepared.before.size() && prepared.before.size() + 1 == doc.steps.size()) {
    const geometry::Bounds there = scene::boundsOf(*prepared.before[place]),
                           here = scene::boundsOf(*prepared.model);
    // Where more than a shift lies between, the part's own box carries the selection.
    if (glm::distance(there.size(), here.size()) <= 1e-4F * glm::length(here.size()))
      own = shifted(own, there.min - here.min);
  }
  doc.steps[place].values["pick"] = toJson(own);
  return id;
}

std::vector<glm::vec3> placesPickedAt(const Prepared& prepared, size_t step, const Selection& selection,
                                      std::string& why) {
  if (step >= prepared.before.size()) return {};
  const scene::Model& before = *prepared.before[step];
  const auto picked = pick(before, selection, why);
  if (!picked) return {};
  std::vector<glm::vec3> out = pickedPlaces(*picked);
  const glm::vec3 shift = scene::boundsOf(*prepared.model).min - scene::boundsOf(before).min;
  for (glm::vec3& place : out) place += shift;
  return out;
}

std::string partInOutline(const scene::Model& model, const Selection& outline) {
  std::string best;
  uint64_t most = 0;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).mesh.valid()) continue;
    Selection one = outline;
    one.part = model.node(i).key;
    std::string why;
    const auto picked = pick(model, one, why);
    if (picked && picked->places > most) {
      most = picked->places;
      best = one.part;
    }
  }
  return best;
}

}  // namespace rakugo::prepare
