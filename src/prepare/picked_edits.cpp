#include "prepare/picked_edits.h"

#include "geometry/welding.h"
#include "scene/whole_mesh.h"

namespace rakugo::prepare {

std::string addPickedStep(mod::ModelDoc& doc, const Prepared& prepared, const std::string& kind,
                          base::Json values, const Selection& selection) {
  Selection own = selection;
  if (const scene::NodeIndex part = scene::findPart(*prepared.model, selection.part); part.valid()) {
    const auto world = scene::worldMatrices(*prepared.model);
    if (!prepared.model->node(part).skin.valid()) own.seen = scene::partBounds(*prepared.model, part, world);
  }
  mod::StepDoc step = makeStep(doc, kind, std::move(values));
  const std::string id = step.id;
  const size_t place = insertByRank(doc, std::move(step));
  if (place < prepared.before.size()) {
    const geometry::Bounds there = scene::boundsOf(*prepared.before[place]),
                           here = scene::boundsOf(*prepared.model);
    // Where more than a shift lies between, the part's own box carries the selection.
    if (glm::distance(there.size(), here.size()) <= 1e-4F * glm::length(here.size()))
      own = shifted(own, there.min - here.min);
  }
  doc.steps[place].values["pick"] = toJson(own);
  return id;
}

std::vector<glm::vec3> pickedPlaces(const scene::Model& model, const Selection& selection, std::string& why) {
  std::vector<glm::vec3> out;
  const auto picked = pick(model, selection, why);
  if (!picked) return out;
  const scene::WholeMesh whole = scene::wholeMesh(model.mesh(model.node(picked->part).mesh));
  const glm::mat4 matrix = scene::worldMatrices(model)[picked->part.value()];
  const geometry::Welding welding = geometry::weldEqual(whole.positions);
  for (const uint32_t v : welding.first)
    if (picked->vertices[v]) out.push_back(glm::vec3(matrix * glm::vec4(whole.positions[v], 1)));
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
