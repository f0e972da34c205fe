// The table of what can be wrong with a mesh: names and the rules by which it is counted.
#include <array>

#include "scene/structure.h"

namespace rakugo::scene {
namespace {

struct SortRow {
  const char* name;
  bool thorough;
  const char* rule;
};

// In the order of `FaultCode`.
constexpr std::array<SortRow, kFaultCodes> kSortRows = {{
    {"degenerate_triangles", false,
     "Triangles with two corners at one place, or with an area below 1e-12 of the square of the part's "
     "longest extent."},
    {"needle_triangles", false,
     "Other triangles whose least height is below a thousandth of their longest side."},
    {"duplicate_triangles", false,
     "Triangles with the same three places as an earlier one, whichever way they are wound."},
    {"unused_vertices", false, "Vertices that no triangle names."},
    {"coincident_vertices", false,
     "Vertices that could be one with an earlier vertex of the same primitive: within 1e-5 of the part's "
     "diagonal, and "
     "alike in normal, coordinates, colour, bones and weights. Vertices of a seam are not."},
    {"open_edges", false, "Edges with one triangle."},
    {"nonmanifold_edges", false, "Edges with three triangles or more."},
    {"nonmanifold_vertices", false,
     "Places where the triangles form more than one fan, not counting the ends of edges with three "
     "triangles."},
    {"flipped_triangles", false, "Triangles wound against the majority of their shell."},
    {"inside_out_shells", false,
     "Closed shells wound inward that are no hollows (a hollow lies within an odd number of others)."},
    {"self_intersections", true,
     "Pairs of triangles that pass through each other, or cover a common area of one plane. Touching does "
     "not count, "
     "nor do duplicates; a triangle is paired with 64 others at most."},
    {"hidden_triangles", true,
     "Triangles that lie wholly within a closed shell of the same part other than their own."},
    {"normals_missing", false, "Vertices of primitives without normals."},
    {"normals_bad", false,
     "Vertices whose normal is not finite, a hundredth off unit length, or turned away from the mean of its "
     "faces."},
    {"uvs_missing", false, "Vertices of primitives without texture coordinates."},
    {"uvs_outside", false,
     "Corners of triangles with a coordinate that is not finite, or more than 1e-4 outside 0 to 1."},
    {"uvs_overlapping", true,
     "Triangles that cover, on their picture, an area that another triangle of the primitive covers too."},
    {"uvs_mirrored", false, "Triangles that show their picture mirrored."},
    {"uvs_collapsed", false,
     "Triangles that have a surface but none on their picture: a point or a line of it is drawn over them."},
    {"uvs_stretched", false,
     "Other triangles whose picture is drawn out more than eight times as far one way as across, as if it "
     "were square."},
    {"shapeless_vertices", false,
     "Places that could go without changing the shape: inside a flat face, or where a straight border or "
     "ridge goes on "
     "(to a tenth of a degree)."},
    {"unaligned_edges", false,
     "Borders and ridges that run along none of the three axes (to a tenth of a degree)."},
    {"specks", false, "Shells whose diagonal is below a hundredth of the model's."},
}};

}  // namespace

const char* faultName(FaultCode code) { return kSortRows[static_cast<size_t>(code)].name; }
const char* faultRule(FaultCode code) { return kSortRows[static_cast<size_t>(code)].rule; }
bool needsThoroughLook(FaultCode code) { return kSortRows[static_cast<size_t>(code)].thorough; }

}  // namespace rakugo::scene
