// Checks of how meshes hang together; what is counted and how stands in `scene/structure.h`.
#include <algorithm>
#include <iterator>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/fault_mends.h"

namespace rakugo::check {
namespace {

using scene::FaultCode;

// A sort of fault in words: "3 triangles of lid face inward".
struct Words {
  FaultCode code;
  const char *one, *many, *is_one, *is_many;
};
constexpr Words kWords[] = {
    {FaultCode::flipped_triangles, "triangle", "triangles", "faces another way than the rest of its shell",
     "face another way than the rest of their shell"},
    {FaultCode::inside_out_shells, "closed shell", "closed shells", "faces inward", "face inward"},
    {FaultCode::duplicate_triangles, "triangle", "triangles", "is there twice", "are there twice"},
    {FaultCode::normals_bad, "vertex", "vertices", "has a wrong normal", "have wrong normals"},
    {FaultCode::unused_vertices, "vertex", "vertices", "is used by no triangle", "are used by no triangle"},
    {FaultCode::coincident_vertices, "vertex", "vertices", "could be one with another",
     "could be one with others"},
    {FaultCode::needle_triangles, "triangle", "triangles", "is as thin as a needle",
     "are as thin as needles"},
    {FaultCode::specks, "loose piece", "loose pieces", "is hardly to be seen", "are hardly to be seen"},
    {FaultCode::shapeless_vertices, "vertex", "vertices", "carries no shape", "carry no shape"},
    {FaultCode::unaligned_edges, "edge", "edges", "runs along none of the box's axes",
     "run along none of the box's axes"}};

// Kinds that are flat faces along a grid and nothing else.
bool isLinear(const ModelState& state) { return state.kind != nullptr && state.kind->grid.linear; }

// Faults that are such only where a kind asks for it.
bool isFault(FaultCode code, const ModelState& state) {
  return (code != FaultCode::shapeless_vertices && code != FaultCode::unaligned_edges) || isLinear(state);
}

}  // namespace

template <scene::FaultCode Code>
void checkFault(const Context& context, const CheckRow& row, Findings& out) {
  const Words& words =
      *std::find_if(std::begin(kWords), std::end(kWords), [](const Words& w) { return w.code == Code; });
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure || !isFault(Code, state)) return;
    const scene::Model& model = *state.prepared.model;
    uint64_t count = 0;
    std::vector<std::string> parts;
    FindingPlace place;
    for (const scene::PartStructure& s : *state.structure) {
      const scene::Fault& fault = s.fault(Code);
      // Vertices that are alike without normals or coordinates may not be once they have them.
      const bool bare = s.fault(FaultCode::normals_missing).count + s.fault(FaultCode::uvs_missing).count > 0;
      if (fault.count == 0 || (Code == FaultCode::coincident_vertices && bare)) continue;
      const scene::Node& part = model.node(s.node);
      if (count == 0) place.part = part.key;
      count += fault.count;
      parts.push_back(part.name.empty() ? part.key : part.name);
      for (const glm::vec3& at : fault.marks)
        if (place.marks_m.size() < scene::kMostMarks) place.marks_m.push_back(at);
    }
    if (count == 0) return;
    Finding f = aboutModel(context, row, name,
                           base::countText(count, words.one, words.many) + " of " + base::listText(parts, 4) +
                               " " + (count == 1 ? words.is_one : words.is_many) + ".");
    f.measured = base::groupedText(count);
    f.expected = "none";
    f.place.part = std::move(place.part);
    f.place.marks_m = std::move(place.marks_m);
    for (const prepare::FaultMend& mend : prepare::mendsOf(Code, glm::length(state.box_m.size())))
      f.mends.push_back(stepOrEditMend(name, mend.step, mend.values, mend.label));
    out.push_back(std::move(f));
  });
}

template void checkFault<FaultCode::flipped_triangles>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::inside_out_shells>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::duplicate_triangles>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::normals_bad>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::unused_vertices>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::coincident_vertices>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::needle_triangles>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::specks>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::shapeless_vertices>(const Context&, const CheckRow&, Findings&);
template void checkFault<FaultCode::unaligned_edges>(const Context&, const CheckRow&, Findings&);

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
