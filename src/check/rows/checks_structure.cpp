// Checks of how meshes hang together; what is counted and how stands in `scene/structure.h`.
#include "base/text.h"
#include "check/checks.h"
#include "check/structure_faults.h"

namespace rakugo::check {
namespace {

void checkFault(const Context& context, const CheckRow& row, Findings& out) {
  const FaultRow& words = *faultOfCheck(row.id);
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure) return;
    const FoundFault found =
        foundFault(words.code, *state.prepared.model, *state.structure, *context.book, state.kind);
    if (!found.asked) return;
    const auto pattern = [](std::string counted_as, const char* is) {
      return "{0} " + counted_as + " of {1} " + is + ".";
    };
    Finding f = aboutModel(context, row, name,
                           counted(found.count, pattern(words.one, words.is_one),
                                   pattern(words.many, words.is_many), base::listText(found.parts, 4)));
    f.measured = base::groupedText(found.count);
    f.expected = phrase("none");
    f.place.part = found.first_part;
    f.place.marks_m = found.marks_m;
    for (const FaultMend& mend : mendsOf(words.code, glm::length(state.box_m.size())))
      f.mends.push_back(stepOrEditMend(name, mend.step, mend.values, phrase(mend.label)));
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
    Finding f = begin(context, row,
                      phrase(parts.size() == 1 ? "{0} has a normal map but no tangents."
                                               : "{0} have a normal map but no tangents.",
                             base::listText(parts, 4)));
    f.measured = phrase("none");
    f.expected = phrase("one a vertex");
    f.place.part = std::move(first);
    f.mends.push_back(stepOrEditMend(name, "make_tangents", base::Json::object(), phrase("Make them")));
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> structureChecks() {
  using S = Severity;
  return {
      {"mesh.normals",
       250,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Normals are missing",
       "The surface looks black or flat in the light.",
       "Make them from the faces.",
       checkFault},
      {"mesh.flipped",
       260,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Triangles that face the wrong way",
       "Games draw one side only: one looks through a hole there.",
       "Turn them the way their shell faces.",
       checkFault},
      {"mesh.inside_out",
       270,
       S::shows,
       Station::shape,
       {"model.structure"},
       "A closed shell that faces inward",
       "Games draw one side only: its front is missing and one sees the back of its far side.",
       "Turn it outward.",
       checkFault},
      {"mesh.duplicates",
       280,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Triangles that are there twice",
       "Two faces in one place fight for every pixel and flicker when the view moves.",
       "Remove the doubles.",
       checkFault},
      {"mesh.normals_wrong",
       290,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Normals that are wrong",
       "Light falls on the surface from the wrong side: dark or glaring spots.",
       "Make them anew from the faces.",
       checkFault},
      {"mesh.shapeless",
       300,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Vertices that carry no shape",
       "The game takes blocks of flat faces alone and reads each vertex as a corner; one without a shape "
       "tears the face it lies in.",
       "Remove them.",
       checkFault},
      {"mesh.unaligned",
       310,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Edges off the axes of a block",
       "The game joins blocks face to face along its grid; a slanted face leaves a wedge open.",
       "Move the vertices onto the grid.",
       checkFault},
      {"mesh.open_edges",
       320,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Open edges where the game wants closed surfaces",
       "From behind one looks through the surface there: most games draw one side only. Shadows leak, and "
       "nothing floats on it.",
       "Fill the holes.",
       checkFault},
      {"mesh.nonmanifold_edges",
       330,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Edges of three triangles or more",
       "What is inside and what outside cannot be told there: light flickers along the edge, and the shape "
       "does not bend or get lighter as it should.",
       "Take the face that is one too many away, or part the surfaces, in the modelling program.",
       checkFault},
      {"mesh.nonmanifold_vertices",
       340,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Vertices where surfaces only touch",
       "Surfaces that meet in one point only are shaded as one there, and tear apart when they move.",
       "Part or join them in the modelling program.",
       checkFault},
      {"mesh.crossings",
       350,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Triangles that cross",
       "A ragged line flickers where the faces cross, and what lies behind them is drawn for nothing.",
       "Move the vertices apart (Corrections), or join the shapes in the modelling program.",
       checkFault},
      {"mesh.hidden",
       360,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Triangles hidden inside",
       "Nobody sees them, and the game draws them in every frame.",
       "Remove them.",
       checkFault},
      {"mesh.uvs_outside",
       370,
       S::shows,
       Station::shape,
       {"model.structure"},
       "UVs outside the picture",
       "The picture is repeated there; where the game does not repeat it, its last row of pixels is drawn "
       "out.",
       "Move the coordinates into the picture in the modelling program.",
       checkFault},
      {"mesh.uvs_overlapping",
       380,
       S::shows,
       Station::shape,
       {"model.structure"},
       "UVs that overlap",
       "What is painted on one appears on the other as well: letters, dirt, baked shadows.",
       "Give each its own place on the picture in the modelling program.",
       checkFault},
      {"mesh.uvs_mirrored",
       390,
       S::shows,
       Station::shape,
       {"model.structure"},
       "Mirrored UVs",
       "Letters read backwards there, and light on a normal map comes from below.",
       "Turn the coordinates over in the modelling program.",
       checkFault},
      {"mesh.uvs_collapsed",
       400,
       S::shows,
       Station::shape,
       {"model.structure"},
       "UVs without an area",
       "One point or one line of the picture is drawn over the whole surface, and a normal map has no "
       "direction there.",
       "Unwrap those faces in the modelling program.",
       checkFault},
      {"mesh.uvs_stretched",
       410,
       S::shows,
       Station::shape,
       {"model.structure"},
       "UVs that draw the picture out",
       "The picture looks drawn out, its pixels as long stripes.",
       "Unwrap those faces anew in the modelling program.",
       checkFault},
      {"mesh.degenerate",
       850,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Triangles without a surface",
       "They cost work, draw nothing, and can flicker.",
       "Remove them.",
       checkFault},
      {"mesh.unused",
       860,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Vertices that no triangle uses",
       "They are shipped for nothing, and make the thing's box larger than what is seen.",
       "Remove them.",
       checkFault},
      {"mesh.coincident",
       870,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Vertices that could be one",
       "They cost memory and work, and a surface that is not joined can tear when it is bent.",
       "Make them one.",
       checkFault},
      {"mesh.needles",
       880,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Triangles as thin as needles",
       "They shade in streaks and cost as much as any other.",
       "Remove them.",
       checkFault},
      {"mesh.specks",
       890,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "Loose pieces too small to see",
       "They cost work for nothing, and often are what was left behind by mistake.",
       "Remove them.",
       checkFault},
      {"mesh.tangents",
       900,
       S::tidy,
       Station::shape,
       {"model.structure"},
       "A normal map without tangents",
       "The game makes its own, and the surface may be lit otherwise than where the map was made.",
       "Make them.",
       checkTangents},
  };
}

}  // namespace rakugo::check
