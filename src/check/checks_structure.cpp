// Checks of how meshes hang together; what is counted and how stands in `scene/structure.h`.
#include "base/text.h"
#include "check/checks.h"

namespace rakugo::check {
namespace {

using base::Json;
using scene::FaultCode;

// One finding a model for a sort of fault, with the marks of all its parts.
void report(const Context& context, const CheckRow& row, Findings& out, FaultCode code, const char* one,
            const char* many, const char* is_one, const char* is_many, const char* step, const Json& values,
            const char* label) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure) return;
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
    f.mends.push_back(stepMend(name, step, values, label));
    out.push_back(std::move(f));
  });
}

}  // namespace

void checkFlipped(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::flipped_triangles, "triangle", "triangles",
         "faces another way than the rest of its shell", "face another way than the rest of their shell",
         "orient", Json::object(), "Turn them");
}

void checkInsideOut(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::inside_out_shells, "closed shell", "closed shells", "faces inward",
         "face inward", "orient", Json::object(), "Turn them outward");
}

void checkDuplicates(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::duplicate_triangles, "triangle", "triangles", "is there twice",
         "are there twice", "remove_duplicates", Json::object(), "Remove the doubles");
}

void checkWrongNormals(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::normals_bad, "vertex", "vertices", "has a wrong normal",
         "have wrong normals", "make_normals", Json{{"which", "wrong"}, {"crease_deg", 40.0}},
         "Make them anew");
}

void checkUnused(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::unused_vertices, "vertex", "vertices", "is used by no triangle",
         "are used by no triangle", "remove_unused", Json::object(), "Remove them");
}

void checkCoincident(const Context& context, const CheckRow& row, Findings& out) {
  report(context, row, out, FaultCode::coincident_vertices, "vertex", "vertices", "could be one with another",
         "could be one with others", "weld", Json{{"distance_mm", 0.01}}, "Make them one");
}

}  // namespace rakugo::check
