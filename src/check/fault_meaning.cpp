#include "check/fault_meaning.h"

#include <string_view>

#include "check/context.h"

namespace rakugo::check {
namespace {

using scene::FaultCode;

// Of faults that a check looks for, its id alone.
struct MeaningWords {
  FaultCode code;
  const char* check = "";
  const char *reason = "", *cure = "", *fine = "";
};
constexpr MeaningWords kMeaningWords[] = {
    {FaultCode::degenerate_triangles, "mesh.degenerate"},
    {FaultCode::needle_triangles, "mesh.needles"},
    {FaultCode::duplicate_triangles, "mesh.duplicates"},
    {FaultCode::unused_vertices, "mesh.unused"},
    {FaultCode::coincident_vertices, "mesh.coincident"},
    {FaultCode::flipped_triangles, "mesh.flipped"},
    {FaultCode::inside_out_shells, "mesh.inside_out"},
    {FaultCode::normals_missing, "mesh.normals"},
    {FaultCode::normals_bad, "mesh.normals_wrong"},
    {FaultCode::uvs_missing, "mesh.uvs", "", "", "Surfaces of one plain colour need none."},
    {FaultCode::shapeless_vertices, "mesh.shapeless", "", "",
     "Elsewhere than in blocks they only cost memory, and may hold the picture or a bend in place."},
    {FaultCode::unaligned_edges, "mesh.unaligned", "", "", "Only blocks have to be square."},
    {FaultCode::specks, "mesh.specks"},
    {FaultCode::open_edges, "",
     "From behind one looks through the surface there: most games draw one side only. Shadows leak, and "
     "nothing floats on it.",
     "Fill the holes.", "Sheets, sails and sleeves end somewhere."},
    {FaultCode::nonmanifold_edges, "",
     "What is inside and what outside cannot be told there: light flickers along the edge, and the shape "
     "does not bend or get lighter as it should.",
     "Take the face that is one too many away, or part the surfaces, in the modelling program.", ""},
    {FaultCode::nonmanifold_vertices, "",
     "Surfaces that meet in one point only are shaded as one there, and tear apart when they move.",
     "Part or join them in the modelling program.", ""},
    {FaultCode::self_intersections, "",
     "A ragged line flickers where the faces cross, and what lies behind them is drawn for nothing.",
     "Move the vertices apart (Corrections), or join the shapes in the modelling program.",
     "Things that are stuck into each other are made that way."},
    {FaultCode::hidden_triangles, "", "Nobody sees them, and the game draws them in every frame.",
     "Remove them.", "Not if the outer shell opens or is glass."},
    {FaultCode::uvs_outside, "",
     "The picture is repeated there; where the game does not repeat it, its last row of pixels is drawn out.",
     "Move the coordinates into the picture in the modelling program.", "Planks and bricks repeat."},
    {FaultCode::uvs_overlapping, "",
     "What is painted on one appears on the other as well: letters, dirt, baked shadows.",
     "Give each its own place on the picture in the modelling program.",
     "Equal things often share their place."},
    {FaultCode::uvs_mirrored, "", "Letters read backwards there, and light on a normal map comes from below.",
     "Turn the coordinates over in the modelling program.", "Left and right often share their picture."},
    {FaultCode::uvs_collapsed, "",
     "One point or one line of the picture is drawn over the whole surface, and a normal map has no "
     "direction "
     "there.",
     "Unwrap those faces in the modelling program.", "A palette of plain colours is used that way."},
    {FaultCode::uvs_stretched, "", "The picture looks drawn out, its pixels as long stripes.",
     "Unwrap those faces anew in the modelling program.", "Stripes and plain colours do not show it."}};

}  // namespace

FaultMeaning meaningOf(FaultCode fault, const rulebook::Rulebook& book) {
  FaultMeaning out;
  for (const MeaningWords& words : kMeaningWords) {
    if (words.code != fault) continue;
    out = {words.reason, words.cure, words.fine};
    for (const CheckRow& row : checkTable())
      if (std::string_view(row.id) == words.check) {
        out.reason = reasonOf(row, book);
        out.cure = row.cure;
      }
  }
  return out;
}

}  // namespace rakugo::check
