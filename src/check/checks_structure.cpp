// Checks of how meshes hang together; what is counted and how stands in `scene/structure.h`.
#include "base/text.h"
#include "check/checks.h"
#include "check/structure_faults.h"

namespace rakugo::check {

void checkFault(const Context& context, const CheckRow& row, Findings& out) {
  const FaultRow& words = *faultOfCheck(row.id);
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure) return;
    const FoundFault found =
        foundFault(words.code, *state.prepared.model, *state.structure, *context.book, state.kind);
    if (!found.asked) return;
    const bool one = found.count == 1;
    Finding f =
        aboutModel(context, row, name,
                   base::countText(found.count, words.one, words.many) + " of " +
                       base::listText(found.parts, 4) + " " + (one ? words.is_one : words.is_many) + ".");
    f.measured = base::groupedText(found.count);
    f.expected = "none";
    f.place.part = found.first_part;
    f.place.marks_m = found.marks_m;
    for (const FaultMend& mend : mendsOf(words.code, glm::length(state.box_m.size())))
      f.mends.push_back(stepOrEditMend(name, mend.step, mend.values, mend.label));
    out.push_back(std::move(f));
  });
}

void checkTangents(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    std::vector<std::string> parts;
    std::string first;
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      const scene::Node& part = model.node(i);
      if (!part.mesh.valid()) continue;
      for (const scene::Primitive& p : model.mesh(part.mesh).primitives) {
        // Those that could have some; what else is missing is another finding's business.
        if (!p.material.valid() || !model.materials[p.material.value()].normal_texture.image.valid() ||
            p.indices.empty() || !p.tangents.empty() || p.uvs[0].size() != p.positions.size())
          continue;
        if (parts.empty()) first = part.key;
        parts.push_back(part.name.empty() ? part.key : part.name);
        break;
      }
    }
    if (parts.empty()) return;
    Finding f = begin(
        context, row,
        base::listText(parts, 4) + (parts.size() == 1 ? " has" : " have") + " a normal map but no tangents.");
    f.measured = "none";
    f.expected = "one a vertex";
    f.place.part = std::move(first);
    f.mends.push_back(stepOrEditMend(name, "make_tangents", base::Json::object(), "Make them"));
    out.push_back(std::move(f));
  });
}

}  // namespace rakugo::check
