// Checks of how meshes hang together; what is counted and how stands in `scene/structure.h`.
#include "base/text.h"
#include "check/checks.h"
#include "prepare/fault_mends.h"

namespace rakugo::check {
namespace {

using scene::FaultCode;

// One finding a model for a sort of fault, with the marks of all its parts.
void report(const Context& context, const CheckRow& row, Findings& out, FaultCode code, const char* one,
            const char* many, const char* is_one, const char* is_many,
            bool (*wanted)(const ModelState&) = nullptr) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure || (wanted != nullptr && !wanted(state))) return;
    const scene::Model& model = *state.prepared.model;
    uint64_t count = 0;
    std::vector<std::string> parts;
    FindingPlace place;
    for (const scene::PartStructure& s : *state.structure) {
      const scene::Fault& fault = s.fault(code);
      // Vertices that are alike without normals or coordinates may not be once they have them.
      const bool bare = s.fault(FaultCode::normals_missing).count + s.fault(FaultCode::uvs_missing).count > 0;
      if (fault.count == 0 || (code == FaultCode::coincident_vertices && bare)) continue;
      const scene::Node& part = model.node(s.node);
      if (count == 0) place.part = part.key;
      count += fault.count;
      parts.push_back(part.name.empty() ? part.key : part.name);
      for (const glm::vec3& at : fault.marks)
        if (place.marks_m.size() < scene::kMostMarks) place.marks_m.push_back(at);
    }
    if (count == 0) return;
    Finding f = begin(context, row,
                      base::countText(count, one, many) + " of " + base::listText(parts, 4) + " " +
                          (count == 1 ? is_one : is_many) + ".");
    f.measured = base::groupedText(count);
    f.expected = "none";
    f.place = std::move(place);
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    const double diagonal_m = glm::length(scene::boundsOf(model).size());
    for (const prepare::FaultMend& mend : prepare::mendsOf(code, diagonal_m))
      f.mends.push_back(stepOrEditMend(name, mend.step, mend.values, mend.label));
    out.push_back(std::move(f));
  });
}

}  // namespace

void checkFlipped(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::flipped_triangles, "triangle", "triangles",
         "faces another way than the rest of its shell", "face another way than the rest of their shell");
}

void checkInsideOut(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::inside_out_shells, "closed shell", "closed shells", "faces inward",
         "face inward");
}

void checkDuplicates(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::duplicate_triangles, "triangle", "triangles", "is there twice",
         "are there twice");
}

void checkWrongNormals(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::normals_bad, "vertex", "vertices", "has a wrong normal",
         "have wrong normals");
}

void checkUnused(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::unused_vertices, "vertex", "vertices", "is used by no triangle",
         "are used by no triangle");
}

void checkCoincident(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::coincident_vertices, "vertex", "vertices", "could be one with another",
         "could be one with others");
}

void checkNeedles(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::needle_triangles, "triangle", "triangles", "is as thin as a needle",
         "are as thin as needles");
}

void checkSpecks(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::specks, "loose piece", "loose pieces", "is hardly to be seen",
         "are hardly to be seen");
}

namespace {

// Kinds that are flat faces along a grid and nothing else.
bool isLinear(const ModelState& state) { return state.kind != nullptr && state.kind->grid.linear; }

}  // namespace

void checkShapeless(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::shapeless_vertices, "vertex", "vertices", "carries no shape",
         "carry no shape", isLinear);
}

void checkUnaligned(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::unaligned_edges, "edge", "edges", "runs along none of the box's axes",
         "run along none of the box's axes", isLinear);
}

void checkTangents(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    std::vector<std::string> parts;
    FindingPlace place;
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      const scene::Node& part = model.node(i);
      if (!part.mesh.valid()) continue;
      for (const scene::Primitive& p : model.mesh(part.mesh).primitives) {
        // Those that could have some; what else is missing is another finding's business.
        if (!p.material.valid() || !model.materials[p.material.value()].normal_texture.image.valid() ||
            p.indices.empty() || !p.tangents.empty() || p.uvs[0].size() != p.positions.size())
          continue;
        if (parts.empty()) place.part = part.key;
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
    f.place = std::move(place);
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    f.mends.push_back(stepOrEditMend(name, "make_tangents", base::Json::object(), "Make them"));
    out.push_back(std::move(f));
  });
}

}  // namespace rakugo::check
