#include "check/structure_faults.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "check/consequence.h"
#include "check/context.h"

namespace rakugo::check {
namespace {

using base::Json;
using scene::FaultCode;

// Whether the parts that lack UVs show a picture with them.
bool showsPicture(const scene::Model& model, const scene::PartStructure& part) {
  for (const scene::Primitive& p : model.mesh(model.node(part.node).mesh).primitives) {
    if (!p.material.valid() || p.indices.empty() || p.uvs[0].size() == p.positions.size()) continue;
    const scene::Material& material = model.materials[p.material.value()];
    for (const scene::TextureSlot& slot : scene::kTextureSlots)
      if ((material.*slot.use).image.valid()) return true;
  }
  return false;
}

}  // namespace

const std::vector<FaultRow>& faultTable() {
  static const std::vector<FaultRow> kTable = {
      {FaultCode::flipped_triangles, "mesh.flipped", true, "triangle", "triangles",
       "faces another way than the rest of its shell", "face another way than the rest of their shell",
       "triangle faces the wrong way", "triangles face the wrong way", ""},
      {FaultCode::inside_out_shells, "mesh.inside_out", true, "closed shell", "closed shells", "faces inward",
       "face inward", "shell faces inward", "shells face inward", ""},
      {FaultCode::duplicate_triangles, "mesh.duplicates", true, "triangle", "triangles", "is there twice",
       "are there twice", "triangle is there twice", "triangles are there twice", ""},
      {FaultCode::nonmanifold_edges, "mesh.nonmanifold_edges", false, "edge", "edges",
       "belongs to three triangles or more", "belong to three triangles or more",
       "edge of three triangles or more", "edges of three triangles or more",
       "Surfaces of no thickness often meet like this."},
      {FaultCode::nonmanifold_vertices, "mesh.nonmanifold_vertices", false, "vertex", "vertices",
       "joins surfaces that touch there alone", "join surfaces that touch there alone",
       "vertex where surfaces only touch", "vertices where surfaces only touch",
       "It is not seen where nothing bends."},
      {FaultCode::degenerate_triangles, "mesh.degenerate", true, "triangle", "triangles", "has no surface",
       "have no surface", "triangle without a surface", "triangles without a surface", ""},
      {FaultCode::needle_triangles, "mesh.needles", true, "triangle", "triangles", "is as thin as a needle",
       "are as thin as needles", "triangle thin as a needle", "triangles thin as needles", ""},
      {FaultCode::normals_missing, "mesh.normals", true, "vertex", "vertices", "has no normal",
       "have no normal", "vertex without a normal", "vertices without a normal", ""},
      {FaultCode::normals_bad, "mesh.normals_wrong", true, "vertex", "vertices", "has a wrong normal",
       "have wrong normals", "wrong normal", "wrong normals", ""},
      {FaultCode::unused_vertices, "mesh.unused", true, "vertex", "vertices", "is used by no triangle",
       "are used by no triangle", "vertex that nothing uses", "vertices that nothing uses", ""},
      {FaultCode::coincident_vertices, "mesh.coincident", true, "vertex", "vertices",
       "could be one with another", "could be one with others", "vertex that could be joined",
       "vertices that could be joined", ""},
      {FaultCode::specks, "mesh.specks", true, "loose piece", "loose pieces", "is hardly to be seen",
       "are hardly to be seen", "speck", "specks", ""},
      {FaultCode::self_intersections, "mesh.crossings", false, "pair", "pairs", "of triangles cross",
       "of triangles cross", "pair of triangles that cross", "pairs of triangles that cross",
       "Things that are stuck into each other are made that way."},
      {FaultCode::hidden_triangles, "mesh.hidden", false, "triangle", "triangles",
       "is hidden inside a closed shell", "are hidden inside closed shells", "triangle hidden inside",
       "triangles hidden inside", "Not a fault if the outer shell opens or is glass."},
      {FaultCode::open_edges, "mesh.open_edges", false, "edge", "edges", "is open", "are open", "open edge",
       "open edges", "Sheets, sails and sleeves end somewhere."},
      {FaultCode::shapeless_vertices, "mesh.shapeless", false, "vertex", "vertices", "carries no shape",
       "carry no shape", "vertex that carries no shape", "vertices that carry no shape",
       "Elsewhere than in blocks they only cost memory, and may hold the picture or a bend in place."},
      {FaultCode::unaligned_edges, "mesh.unaligned", false, "edge", "edges",
       "runs along none of the box's axes", "run along none of the box's axes", "edge off the block's axes",
       "edges off the block's axes", "Only blocks have to be square."},
      {FaultCode::uvs_missing, "mesh.uvs", true, "vertex", "vertices", "has no UVs", "have no UVs",
       "vertex without UVs", "vertices without UVs", "Surfaces of one plain colour need none."},
      {FaultCode::uvs_outside, "mesh.uvs_outside", false, "vertex", "vertices", "lies outside its picture",
       "lie outside their picture", "vertex beyond its picture", "vertices beyond their picture",
       "Planks and bricks repeat."},
      {FaultCode::uvs_overlapping, "mesh.uvs_overlapping", false, "triangle", "triangles",
       "shares its place on the picture", "share their place on the picture", "triangle that shares its UVs",
       "triangles that share their UVs", "Equal things often share their place."},
      {FaultCode::uvs_mirrored, "mesh.uvs_mirrored", false, "triangle", "triangles",
       "shows its picture mirrored", "show their picture mirrored", "triangle mirrored on its picture",
       "triangles mirrored on their picture", "Left and right often share their picture."},
      {FaultCode::uvs_collapsed, "mesh.uvs_collapsed", false, "triangle", "triangles",
       "shows one point or line of its picture", "show one point or line of their picture",
       "triangle on one point of its picture", "triangles on one point of a picture",
       "A palette of plain colours is used that way."},
      {FaultCode::uvs_stretched, "mesh.uvs_stretched", false, "triangle", "triangles",
       "draws its picture out more than eight times", "draw their picture out more than eight times",
       "triangle whose picture is drawn out", "triangles whose picture is drawn out",
       "Stripes and plain colours do not show it."}};
  return kTable;
}

const FaultRow& faultRow(FaultCode code) {
  return *std::find_if(faultTable().begin(), faultTable().end(),
                       [&](const FaultRow& row) { return row.code == code; });
}

const FaultRow* faultOfCheck(std::string_view check) {
  for (const FaultRow& row : faultTable())
    if (check == row.check) return &row;
  return nullptr;
}

bool asksFor(FaultCode code, const rulebook::Rulebook& book, const rulebook::Kind* kind) {
  const FaultRow& row = faultRow(code);
  if (const auto outcome = rulebook::outcomeOf(book, kind, nullptr, row.check))
    return *outcome != rulebook::Outcome::meant;
  if (code == FaultCode::shapeless_vertices || code == FaultCode::unaligned_edges)
    return kind != nullptr && kind->grid.linear;
  return row.asked;
}

bool asksThoroughLook(const rulebook::Rulebook& book, const rulebook::Kind* kind) {
  return std::any_of(faultTable().begin(), faultTable().end(), [&](const FaultRow& row) {
    return scene::needsThoroughLook(row.code) && asksFor(row.code, book, kind);
  });
}

FoundFault foundFault(FaultCode code, const scene::Model& model,
                      const std::vector<scene::PartStructure>& structure, const rulebook::Rulebook& book,
                      const rulebook::Kind* kind, const std::string& part) {
  FoundFault out{code};
  for (const scene::PartStructure& s : structure) {
    const scene::Node& node = model.node(s.node);
    if (!part.empty() && node.key != part) continue;
    const scene::Fault& fault = s.fault(code);
    // Vertices that are alike without normals or coordinates may not be once they have them.
    const bool bare = s.fault(FaultCode::normals_missing).count + s.fault(FaultCode::uvs_missing).count > 0;
    if (fault.count == 0 || (code == FaultCode::coincident_vertices && bare)) continue;
    if (code == FaultCode::uvs_missing && showsPicture(model, s)) out.asked = true;
    if (out.count == 0) out.first_part = node.key;
    out.count += fault.count;
    out.parts.push_back(node.name.empty() ? node.key : node.name);
    for (const glm::vec3& at : fault.marks)
      if (out.marks_m.size() < scene::kMostMarks) out.marks_m.push_back(at);
  }
  if (code != FaultCode::uvs_missing) out.asked = true;
  out.asked = out.asked && out.count > 0 && asksFor(code, book, kind);
  return out;
}

FaultMeaning meaningOf(FaultCode fault, const rulebook::Rulebook& book) {
  const FaultRow& row = faultRow(fault);
  FaultMeaning out{"", "", base::phrase(row.fine)};
  for (const CheckRow& check : checkTable())
    if (std::string_view(check.id) == row.check) {
      out.reason = reasonFor(reasonOf(check, book), nullptr);
      out.cure = base::phrase(check.cure);
    }
  return out;
}

std::vector<FaultMend> mendsOf(FaultCode fault, double diagonal_m) {
  const Json none = Json::object();
  switch (fault) {
    case FaultCode::degenerate_triangles:
      return {{"remove_degenerate", none, "Remove them"}};
    case FaultCode::needle_triangles:
      return {{"remove_needles", none, "Remove them"}};
    case FaultCode::duplicate_triangles:
      return {{"remove_duplicates", none, "Remove the doubles"}};
    case FaultCode::unused_vertices:
      return {{"remove_unused", none, "Remove them"}};
    case FaultCode::coincident_vertices:
      return {{"weld", Json{{"distance_mm", 0.01}}, "Make them one"}};
    case FaultCode::open_edges:
      return {{"fill_holes", Json{{"most_edges", 64.0}}, "Fill the holes"}};
    case FaultCode::flipped_triangles:
      return {{"orient", none, "Turn them"}};
    case FaultCode::inside_out_shells:
      return {{"orient", none, "Turn them outward"}};
    case FaultCode::hidden_triangles:
      return {{"remove_hidden", none, "Remove them"}};
    case FaultCode::normals_missing:
      return {{"make_normals", Json{{"which", "missing"}}, "Make them"}};
    case FaultCode::normals_bad:
      return {{"make_normals", Json{{"which", "wrong"}}, "Make them anew"}};
    case FaultCode::shapeless_vertices:
      return {{"dissolve", Json{{"where", "same_picture"}}, "Remove them"},
              {"dissolve", Json{{"where", "everywhere"}}, "Remove all, even if pictures shift"}};
    case FaultCode::specks: {
      // Rounded up, so that the sentence reads well and no speck is missed.
      const double size_mm = diagonal_m * scene::StructureOptions().speck_ratio * 1000;
      const double step = std::pow(10.0, std::floor(std::log10(std::max(size_mm, 1e-3))) - 1);
      return {{"remove_specks", Json{{"size_mm", std::ceil(size_mm / step) * step}}, "Remove them"}};
    }
    case FaultCode::uvs_missing:
      return {{"make_uvs", Json{{"which", "missing"}}, "Make them"}};
    case FaultCode::uvs_outside:
      return {{"uvs_home", Json::object(), "Bring them back where nothing changes"}};
    case FaultCode::nonmanifold_edges:
    case FaultCode::nonmanifold_vertices:
    case FaultCode::self_intersections:
    case FaultCode::uvs_overlapping:
    case FaultCode::uvs_mirrored:
    case FaultCode::uvs_collapsed:
    case FaultCode::uvs_stretched:
    case FaultCode::unaligned_edges:
      return {};
  }
  return {};
}

}  // namespace rakugo::check
