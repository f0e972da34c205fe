// The one table of checks.
#include <algorithm>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "check/consequence.h"
#include "check/structure_faults.h"
#include "mod/set_aside_place.h"
#include "prepare/edit_steps.h"

namespace rakugo::check {

const char* severityName(Severity severity) {
  return severity == Severity::stops ? "stops" : severity == Severity::shows ? "shows" : "tidy";
}

std::string FindingPlace::text() const {
  std::string out;
  const auto add = [&](const std::string& what, const std::string& name) {
    if (!name.empty()) out += (out.empty() ? "" : ", ") + what + name;
  };
  add("", object);
  add("", model);
  add("", source);
  add("part ", part);
  add("material ", material);
  add("field ", field);
  add("point ", point);
  return out.empty() ? document : out;
}

std::string placeKey(const FindingPlace& p) {
  return mod::placeText(
      {p.document, p.model, p.object, p.source, p.part, p.material, p.field, p.point, p.step});
}

std::string findingKey(const Finding& f) {
  std::string words = f.sentence;
  std::erase_if(words, [](char c) { return (c >= '0' && c <= '9') || c == '.' || c == ','; });
  return f.check + " " + placeKey(f.place) + " " + words;
}

Mend setAside(const Finding& finding, std::string reason) {
  return {"Set aside: " + finding.check, [check = finding.check, place = placeKey(finding.place),
                                          reason = std::move(reason)](mod::ModState& mod) {
            std::erase_if(mod.card.set_aside,
                          [&](const mod::SetAside& a) { return a.check == check && a.place == place; });
            mod.card.set_aside.push_back({check, place, reason});
          }};
}

namespace {

// Whether what was set aside is such a finding: at its place, or at that place as earlier versions wrote it,
// without the step, and for sizes without the field.
bool isAside(const mod::SetAside& aside, const std::string& check, const FindingPlace& place) {
  if (aside.check != check) return false;
  FindingPlace older = place;
  older.step.clear();
  FindingPlace oldest = older;
  if (check == "size.range") oldest.field.clear();
  return aside.place == placeKey(place) || aside.place == placeKey(older) || aside.place == placeKey(oldest);
}

}  // namespace

Mend takeUp(const Finding& finding) {
  return {
      "Take up again: " + finding.check, [check = finding.check, place = finding.place](mod::ModState& mod) {
        std::erase_if(mod.card.set_aside, [&](const mod::SetAside& a) { return isAside(a, check, place); });
      }};
}

const std::vector<CheckRow>& checkTable() {
  using S = Severity;
  static const std::vector<CheckRow> kTable = {
      {"source.unreadable", S::stops, "A source cannot be read",
       "Without its source a model cannot be prepared or built.",
       "Fetch or export the file again and take it in anew.", checkSourceReadable},
      {"source.changed", S::shows, "A source's copy was changed",
       "What is built may differ from what its author made, and a step may meet other parts.",
       "Take the file in again as a new version.", checkSourceChanged},
      {"step.misses", S::shows, "A step no longer finds what it names",
       "The step does nothing, so what it cured is wrong again.",
       "Choose another part in its sentence, or switch it off.", checkStepFits},
      {"step.recovered", S::shows, "A step was damaged by an earlier version",
       "Its kind was lost when it was saved and is guessed from its values: a wrong guess does something "
       "else.",
       "Look at its sentence, and say whether it is right.", checkStepRecovered},
      {"object.none", S::stops, "The mod holds no object", "The game finds nothing to load.",
       "Make an object from a model.", checkObjects},
      {"object.kind", S::stops, "An object's kind is not in the rulebook",
       "The game does not know what to do with it and refuses it.", "Choose a kind of the rulebook.",
       checkObjectKind},
      {"object.pieces", S::stops, "An object has no model", "The game would place an invisible thing.",
       "Choose a model for it.", checkObjectPieces},
      {"object.same_id", S::stops, "Two objects have one name in the game",
       "The game tells things apart by their names; letters that a name cannot hold are left out of it.",
       "Rename one of them.", checkObjectSameId},
      {"file.missing", S::shows, "A file that is named does not exist",
       "The build leaves out what is not there, and what shows it stays blank.",
       "Put the file back, or change the name.", checkFileMissing},
      {"mesh.no_triangles", S::stops, "A model has no triangles", "The game would load an invisible thing.",
       "Check what the steps dropped, or export the model again.", checkNoTriangles},
      {"mesh.no_surface", S::shows, "A model of which nothing can be seen",
       "Players find nothing where the thing stands.",
       "Look at what the steps did to its size, or export the model again.", checkNoSurface},
      {"mesh.not_finite", S::stops, "Vertices that are not numbers",
       "A single such vertex makes the thing flicker, vanish, or crash the game.",
       "Mend it in the modelling program and take the new version in.", checkNotFinite},
      {"mesh.triangles", S::stops, "More triangles than the game takes",
       "The game refuses meshes beyond its budget.", "Drop parts, or simplify the model.",
       checkTriangleLimit},
      {"mesh.vertices", S::stops, "More vertices than the game takes",
       "The game refuses meshes beyond its budget.", "Drop parts, or simplify the model.", checkVertexLimit},
      {"mesh.part_triangles", S::stops, "A part with more triangles than the game takes",
       "The game refuses meshes beyond its budget.", "Split the part, or simplify the model.",
       checkPartTriangles},
      {"mesh.indices", S::stops, "More vertices in one draw than the game can number",
       "The game numbers vertices with 16 bits: what lies beyond is drawn from the wrong ones, in shards.",
       "Split the part, or simplify the model.", checkIndices},
      {"lighter.missing", S::tidy, "A heavy model has no lighter version",
       "The game draws every triangle of it even where it is a speck on the horizon.",
       "Make lighter versions for the distance.", checkLighter},
      {"size.unit", S::shows, "Lengths look like another unit",
       "The thing appears a hundred times too large or too small.",
       "Read lengths in the unit they were made in.", checkUnit},
      {"size.range", S::shows, "Size outside the kind's range",
       "The thing looks like a toy or a giant beside everything else.", "Scale it.", checkSize},
      {"size.reach", S::shows, "Reaches too far, or holds too much or too little",
       "The game keeps room about the origin and works with the volume; beyond it the thing is cut or falls "
       "through.",
       "Scale it, or move its origin.", checkReach},
      {"axes.differ", S::shows, "Up and forward are not the game's",
       "The thing lies on its side or looks the wrong way.", "Turn it to the game's axes.", checkAxes},
      {"axes.facing", S::shows, "Looks the other way than the game's own example",
       "The thing is placed with its back to where it should face.", "Turn it.", checkFacing},
      {"origin.place", S::shows, "The origin is not where the kind wants it",
       "The thing floats, sinks, or turns about the wrong place.", "Move the origin.", checkOrigin},
      {"placement.not_baked", S::shows, "Placement is not in the mesh",
       "The game ignores or doubles what parts carry beside their mesh: sizes and directions come out wrong.",
       "Bake position, turn and scale.", checkBaked},
      {"mesh.normals", S::shows, "Normals are missing", "The surface looks black or flat in the light.",
       "Make them from the faces.", checkFault},
      {"mesh.flipped", S::shows, "Triangles that face the wrong way",
       "Games draw one side only: one looks through a hole there.", "Turn them the way their shell faces.",
       checkFault},
      {"mesh.inside_out", S::shows, "A closed shell that faces inward",
       "Games draw one side only: its front is missing and one sees the back of its far side.",
       "Turn it outward.", checkFault},
      {"mesh.duplicates", S::shows, "Triangles that are there twice",
       "Two faces in one place fight for every pixel and flicker when the view moves.", "Remove the doubles.",
       checkFault},
      {"mesh.normals_wrong", S::shows, "Normals that are wrong",
       "Light falls on the surface from the wrong side: dark or glaring spots.",
       "Make them anew from the faces.", checkFault},
      {"mesh.shapeless", S::shows, "Vertices that carry no shape",
       "The game takes blocks of flat faces alone and reads each vertex as a corner; one without a shape "
       "tears the face it lies in.",
       "Remove them.", checkFault},
      {"mesh.unaligned", S::shows, "Edges off the axes of a block",
       "The game joins blocks face to face along its grid; a slanted face leaves a wedge open.",
       "Move the vertices onto the grid.", checkFault},
      {"mesh.open_edges", S::shows, "Open edges where the game wants closed surfaces",
       "From behind one looks through the surface there: most games draw one side only. Shadows leak, and "
       "nothing floats on it.",
       "Fill the holes.", checkFault},
      {"mesh.nonmanifold_edges", S::shows, "Edges of three triangles or more",
       "What is inside and what outside cannot be told there: light flickers along the edge, and the shape "
       "does not bend or get lighter as it should.",
       "Take the face that is one too many away, or part the surfaces, in the modelling program.",
       checkFault},
      {"mesh.nonmanifold_vertices", S::shows, "Vertices where surfaces only touch",
       "Surfaces that meet in one point only are shaded as one there, and tear apart when they move.",
       "Part or join them in the modelling program.", checkFault},
      {"mesh.crossings", S::shows, "Triangles that cross",
       "A ragged line flickers where the faces cross, and what lies behind them is drawn for nothing.",
       "Move the vertices apart (Corrections), or join the shapes in the modelling program.", checkFault},
      {"mesh.hidden", S::tidy, "Triangles hidden inside",
       "Nobody sees them, and the game draws them in every frame.", "Remove them.", checkFault},
      {"mesh.uvs_outside", S::shows, "UVs outside the picture",
       "The picture is repeated there; where the game does not repeat it, its last row of pixels is drawn "
       "out.",
       "Move the coordinates into the picture in the modelling program.", checkFault},
      {"mesh.uvs_overlapping", S::shows, "UVs that overlap",
       "What is painted on one appears on the other as well: letters, dirt, baked shadows.",
       "Give each its own place on the picture in the modelling program.", checkFault},
      {"mesh.uvs_mirrored", S::shows, "Mirrored UVs",
       "Letters read backwards there, and light on a normal map comes from below.",
       "Turn the coordinates over in the modelling program.", checkFault},
      {"mesh.uvs_collapsed", S::shows, "UVs without an area",
       "One point or one line of the picture is drawn over the whole surface, and a normal map has no "
       "direction there.",
       "Unwrap those faces in the modelling program.", checkFault},
      {"mesh.uvs_stretched", S::shows, "UVs that draw the picture out",
       "The picture looks drawn out, its pixels as long stripes.",
       "Unwrap those faces anew in the modelling program.", checkFault},
      {"mesh.uvs", S::shows, "A picture but no UVs", "The surface shows one single colour of its picture.",
       "Unwrap the mesh in the modelling program.", checkUvs},
      {"picture.missing", S::shows, "A picture is missing", "The surface is plain white in the game.",
       "Take the picture from the file that is there, or put it beside the model.", checkPictureMissing},
      {"picture.damaged", S::shows, "A picture cannot be read", "The surface is plain white in the game.",
       "Save the picture again as PNG.", checkPictureDamaged},
      {"picture.size", S::tidy, "A picture larger or odder than the game wants",
       "The build makes it smaller; fine detail is lost in a way you did not choose.",
       "Save it in a size the game takes.", checkPictureSize},
      {"picture.density", S::tidy, "A picture too coarse or too fine for its surface",
       "Too coarse it looks smeared beside everything else; too fine it costs memory that nobody sees.",
       "Use a picture of another size, or unwrap the mesh anew.", checkTexelDensity},
      {"role.missing", S::shows, "A role the kind needs is given to no material",
       "The game does not find the surface it wants to paint or light.",
       "Give the role to the right material.", checkRoles},
      {"role.unknown", S::shows, "A role the kind does not have", "The game ignores it.",
       "Choose a role of the kind.", checkRoleUnknown},
      {"point.missing", S::shows, "An attachment point is missing",
       "What the game hangs there appears at the origin, or not at all.", "Place the point.", checkPoints},
      {"bones.none", S::stops, "The model has no bones", "The game's movements have nothing to move.",
       "Export the model with its skeleton, take the game's bones, or choose another kind.", checkBonesNone},
      {"bones.missing", S::shows, "Bones that the game looks for are missing",
       "The game finds bones by their exact names; a limb whose bone is missing does not move.",
       "Give the bones the game's names, and add those that are not there.", checkBonesMissing},
      {"bones.parent", S::shows, "A bone hangs on another one than in the game",
       "The game turns a limb together with what it hangs on: it moves along with the wrong one.",
       "Hang the bones as the game does.", checkBonesParent},
      {"bones.sides", S::shows, "Left and right are swapped",
       "It waves with the other hand, and walks as before a mirror.",
       "Turn the model round, or give the bones the right names.", checkBonesSides},
      {"bones.pose", S::shows, "Another rest pose than the game's",
       "The game's movements begin from its own rest pose: from another, arms cut through the body or stand "
       "off.",
       "Change the rest pose to the game's.", checkBonesPose},
      {"bones.turned", S::shows, "Bones lie along other axes than the game's",
       "The game's movements turn each bone about its own axes: with others, limbs bend sideways.",
       "Set the bones straight.", checkBonesTurned},
      {"bones.bends", S::shows, "A joint bends the wrong way in the game's movements",
       "Knees or elbows fold backwards as soon as the game moves them.",
       "Set all bones straight, or give the two bones of the limb their right names.", checkBonesBend},
      {"bones.aims", S::shows, "The game's movements turn bones elsewhere",
       "Hands hold things askew, heads look past whom they speak to.",
       "Set all bones straight and change the rest pose to the game's.", checkBonesAim},
      {"bones.floor", S::shows, "Feet leave the floor in the game's movements",
       "The game lowers hips by what its own legs fold away: longer or shorter ones sink in or float.",
       "Scale the model so that its legs are as long as the game's, or accept it.", checkBonesFloor},
      {"bones.gone", S::shows, "Vertices follow bones that were dropped",
       "The game finds no such bone: what follows it is drawn at the origin, or stays behind.",
       "Take the step back that drops them as parts; drop bones by their own step, which hands weights over.",
       checkBonesGone},
      {"weights.loose", S::shows, "Weights of bones far away, or of none beside",
       "Single vertices fly along with a hand or a foot, and tear the skin into spikes.",
       "Let go of those bones.", checkStrayWeights},
      {"weights.sides", S::tidy, "Left and right follow their bones differently",
       "What looks right on one side creases on the other.", "Mirror the weights of the better side.",
       checkLopsidedWeights},
      {"skin.breaks", S::shows, "The skin breaks in the game's movements",
       "Stretched triangles, pinched joints and spikes are seen as soon as the game moves it.",
       "Look at the place in its moment; smooth the weights there, or give what was picked to the right "
       "bone.",
       checkSkinFaults},
      {"animation.tracks", S::tidy, "A movement of the model's own moves what is not there",
       "Nothing happens, but the game keeps the keys in memory.",
       "Keep the part, or export the model without that movement.", checkTracks},
      {"bones.unequal", S::tidy, "A limb is longer than that of the other side",
       "It limps: the game's movements are made for two of one length.",
       "Even them out where the model was made, or live with it.", checkBonesUnequal},
      {"bones.limit", S::stops, "Too many bones", "The game refuses the model.",
       "Remove bones that nothing needs.", checkBoneLimit},
      {"bones.weights", S::shows, "Vertices follow too many bones, or none",
       "The game drops what it does not read: the skin sags, or stays behind.",
       "Limit the influences a vertex, and give every vertex a bone.", checkInfluences},
      {"bones.sums", S::shows, "Weights that do not sum to one",
       "The skin is drawn too little or too far: it shrinks, or flies apart.", "Mend the weights.",
       checkWeightSums},
      {"bones.ends", S::tidy, "End bones that an exporter added",
       "Each costs the game a matrix and the person a look, for nothing.", "Drop them.", checkBonesEnds},
      {"bones.needless", S::tidy, "Bones that no vertex follows",
       "Each costs the game a matrix, for nothing.", "Drop them.", checkBonesNeedless},
      {"parts.limit", S::stops, "Too many parts", "The game refuses the model.", "Join or drop parts.",
       checkPartLimit},
      {"part.name", S::shows, "A part that the game looks for has another name",
       "The game finds it by its exact name; under another it is not there.", "Call the right part so.",
       checkPartNames},
      {"materials.limit", S::stops, "Too many materials", "The game refuses the model.",
       "Let parts share materials.", checkMaterialLimit},
      {"grid.size", S::shows, "The block does not fill cells of the grid",
       "Blocks join by their cells; one of another size leaves a gap or stands in its neighbour.",
       "Scale it to the cells.", checkGrid},
      {"region.missing", S::shows, "A region of the body is not covered by name",
       "The game hides the body under an outfit region by region; the skin comes through.",
       "Say which part covers the region.", checkRegions},
      {"region.surplus", S::stops, "A region that the game's record does not list",
       "The game compares the regions of an outfit with its record and refuses one that differs.",
       "Hand it over to a region of the record.", checkRegionSurplus},
      {"region.order", S::shows, "Regions in another order than the game's record",
       "The game takes regions by their number: the sleeve is hidden where the collar should be.",
       "Put them in the record's order.", checkRegionOrder},
      {"variant.differs", S::stops, "A size that does not go with the first",
       "The game blends sizes vertex by vertex; where they differ it refuses the outfit, or tears it.",
       "Put the vertices in the order of the first size, or export both from one mesh.", checkVariants},
      {"variant.missing", S::shows, "A size is missing",
       "On a body of that size the outfit is worn as it is, and the body shows through.",
       "Name the source of the other size, at the Shape station.", checkVariantMissing},
      {"seam.gap", S::shows, "A seam to the body gapes",
       "One looks through the gap into the hollow body at every movement.",
       "Put the border's vertices onto the body's.", checkSeams},
      {"field.empty", S::shows, "A field of the card is empty",
       "The game shows a blank, or falls back to a default.", "Fill it in.", checkFieldEmpty},
      {"field.limits", S::stops, "A field of the card is outside its limits", "The game refuses the object.",
       "Bring it inside its limits.", checkFieldLimits},
      {"icon.missing", S::shows, "The icon is missing", "The shop shows an empty frame.",
       "Take it in the bench.", checkIconMissing},
      {"icon.size", S::shows, "The icon has the wrong size", "The shop shows it blurred or cut.",
       "Take it in the bench.", checkIconSize},
      {"part.stray", S::tidy, "Cameras, lights or empties left behind",
       "They are carried along for nothing, and some games trip over them.", "Drop them.", checkStray},
      {"mesh.degenerate", S::tidy, "Triangles without a surface",
       "They cost work, draw nothing, and can flicker.", "Remove them.", checkFault},
      {"mesh.unused", S::tidy, "Vertices that no triangle uses",
       "They are shipped for nothing, and make the thing's box larger than what is seen.", "Remove them.",
       checkFault},
      {"mesh.coincident", S::tidy, "Vertices that could be one",
       "They cost memory and work, and a surface that is not joined can tear when it is bent.",
       "Make them one.", checkFault},
      {"mesh.needles", S::tidy, "Triangles as thin as needles",
       "They shade in streaks and cost as much as any other.", "Remove them.", checkFault},
      {"mesh.specks", S::tidy, "Loose pieces too small to see",
       "They cost work for nothing, and often are what was left behind by mistake.", "Remove them.",
       checkFault},
      {"mesh.tangents", S::tidy, "A normal map without tangents",
       "The game makes its own, and the surface may be lit otherwise than where the map was made.",
       "Make them.", checkTangents},
      {"source.left_out", S::tidy, "A source that is not read as it stands",
       "What is left out does not reach the game, and what is taken otherwise may look otherwise.",
       "Look whether it matters; else change it in the modelling program and take the new version in.",
       checkSourceLeftOut},
      {"model.not_carried", S::tidy, "Descriptions that the package does not carry",
       "The game draws the model without them.",
       "Put what they do into pictures, materials or the mesh in the modelling program, or do without.",
       checkNotCarried},
      {"file.unused", S::tidy, "A file that nothing uses",
       "It is not shipped, but it makes the mod harder to keep.", "Remove it from the folder.",
       checkFileUnused},
      {"document.unknown_key", S::tidy, "A key that no one knows",
       "It is kept and does nothing; a misspelt one leaves what it should set as it was.",
       "Correct its spelling in the file, or take it out.", checkUnknownKeys},
      {"credit.missing", S::tidy, "A source without author or licence",
       "Whoever made it is owed the credit, and without a licence the mod may not be shared.",
       "Fill in where it comes from, at the Sources station.", checkCredit},
      {"rulebook.unreadable", S::shows, "A file of the rulebook cannot be read",
       "What is checked by it is not checked: faults of that sort are passed in silence.",
       "Put the rulebook's file back, or install the rulebook again.", checkRulebookReadable},
      {"rulebook.version", S::tidy, "The mod follows another version of the rulebook",
       "Rules may have changed since the mod was made.",
       "Adopt the present version and look through the findings.", checkRulebookVersion},
      {"mod.id_taken", S::stops, "Another installed mod has this id",
       "Of two mods with one id the game loads one, and which is chance.", "Give the mod an id of its own.",
       checkIdTaken},
      {"mod.defined_twice", S::tidy, "Another installed mod defines the same thing",
       "Only one of the two is seen in the game.", "Rename the object, or live with it.", checkDefinedTwice},
      {"mod.card", S::tidy, "The mod's own card is not complete", "Players do not see who made the mod.",
       "Fill it in.", checkModCard},
  };
  return kTable;
}

std::vector<Finding> runChecks(const Context& context, const base::Progress* progress) {
  std::vector<Finding> out;
  for (const CheckRow& row : checkTable()) {
    if (progress != nullptr && progress->cancelled()) break;
    const auto before = static_cast<std::ptrdiff_t>(out.size());
    row.run(context, row, out);
    // Held against several kinds a model can give the same finding twice.
    std::set<std::pair<std::string, std::string>> said;
    out.erase(
        std::remove_if(out.begin() + before, out.end(),
                       [&](const Finding& f) { return !said.emplace(placeKey(f.place), f.sentence).second; }),
        out.end());
    for (size_t i = static_cast<size_t>(before); i < out.size(); ++i) settle(context, row, out[i]);
    std::erase_if(out, [](const Finding& f) { return f.outcome == rulebook::Outcome::meant; });
  }
  for (Finding& f : out) {
    if (f.severity == Severity::stops) continue;
    for (const mod::SetAside& a : context.mod->card.set_aside)
      if (isAside(a, f.check, f.place)) {
        f.set_aside = true;
        f.aside_reason = a.reason;
      }
  }
  std::stable_sort(out.begin(), out.end(), [](const Finding& a, const Finding& b) {
    return std::pair(a.set_aside, a.severity) < std::pair(b.set_aside, b.severity);
  });
  return out;
}

std::string checksDocument() {
  std::string out =
      "# Checks\n\nGenerated from the table in `src/check/check_table.cpp` by `rakugo-tool checks "
      "--markdown`; a test compares the two.\n\n"
      "Severity says what happens in the game: `stops` (will not load or crashes), `shows` (players see it), "
      "`tidy` (wasteful or risky later).\n"
      "A rulebook may give its own reason for a check (`reasons`).\n\n"
      "| id | severity | what | why it matters | cure |\n| --- | --- | --- | --- | --- |\n";
  for (const CheckRow& row : checkTable())
    out += std::string("| `") + row.id + "` | " + severityName(row.severity) + " | " + row.title + " | " +
           row.reason + " | " + row.cure + " |\n";
  out +=
      "\n## How faults of a mesh are counted\n\n"
      "`rakugo-tool measure` counts these in each part, in the model's space and in metres, skinned parts as "
      "their bones "
      "put them at rest. A *place* is all vertices of equal position: seams of normals and UVs are no "
      "borders. A *shell* "
      "is what hangs together by edges. A part is closed when every edge has exactly two triangles; its "
      "volume is that of "
      "its closed shells, hollows taken off, by their own winding; Euler's number is places − edges + "
      "triangles, without "
      "triangles that have two corners in one place. With `--json` the codes stand under `faults`; how the "
      "picture lies, `uvs_collapsed` and `uvs_stretched`, under `pictures`.\n\n"
      "A rulebook asks for a fault by giving its check an outcome (`outcomes` in docs/rulebook.md), at the "
      "severity that goes with it, or says that it is `meant`. Without a word of the rulebook, those marked "
      "*always* are asked for; of `grid` kinds of flat faces, `mesh.shapeless` and `mesh.unaligned` too. The "
      "Shape station lists the others under \"As it may be meant\".\n\n"
      "| code | check | asked for | what is counted |\n| --- | --- | --- | --- |\n";
  for (size_t i = 0; i < scene::kFaultCodes; ++i) {
    const auto code = static_cast<scene::FaultCode>(i);
    const FaultRow& row = faultRow(code);
    out += std::string("| `") + scene::faultName(code) + "` | `" + row.check + "` | " +
           (row.asked ? "always" : "by rulebooks") + " | " + scene::faultRule(code) + " |\n";
  }
  return out;
}

Finding begin(const Context& context, const CheckRow& row, std::string sentence) {
  Finding f;
  f.check = row.id;
  f.severity = row.severity;
  f.sentence = std::move(sentence);
  f.reason = reasonOf(row, *context.book);
  f.cure = row.cure;
  return f;
}

std::string reasonOf(const CheckRow& row, const rulebook::Rulebook& book) {
  for (const auto& [id, reason] : book.reasons)
    if (id == row.id) return reason;
  return row.reason;
}

void overLimit(const Context& context, const CheckRow& row, Findings& out, const std::string& name,
               int64_t most, uint64_t count, const char* one, const char* many) {
  if (most <= 0 || count <= static_cast<uint64_t>(most)) return;
  Finding f = aboutModel(context, row, name,
                         name + " has " + base::countText(count, one, many) + "; " + context.book->title +
                             " takes " + std::to_string(most) + " at most.");
  f.measured = std::to_string(count);
  f.expected = "at most " + std::to_string(most);
  out.push_back(std::move(f));
}

Finding aboutModel(const Context& context, const CheckRow& row, const std::string& model,
                   std::string sentence) {
  Finding f = begin(context, row, std::move(sentence));
  f.place.model = model;
  f.place.document = "models/" + model + ".model.json";
  return f;
}

glm::vec3 extentsOf(const ModelState& state, const Context& context) {
  return prepare::gameExtents(state.box_m, state.prepared.model->frame, *context.book);
}

void eachModel(const Context& context,
               const std::function<void(const std::string&, const mod::ModelDoc&, const ModelState&)>& body) {
  for (const auto& [name, doc] : context.mod->models) {
    const auto state = context.models.find(name);
    if (state == context.models.end() || !state->second.prepared.model) continue;
    body(name, doc, state->second);
    if (const auto further = context.further_kinds.find(name); further != context.further_kinds.end())
      for (const ModelState& other : further->second) body(name, doc, other);
  }
}

ObjectCounts modelCounts(const scene::Model& model) {
  ObjectCounts out;
  const scene::Counts counts = scene::countsOf(model);
  out.triangles = counts.triangles, out.vertices = counts.vertices, out.parts = counts.parts;
  out.materials = scene::usedMaterials(model).size();
  for (const scene::NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid())
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
        if (!p.material.valid() && !p.indices.empty()) return ++out.materials, out;
  return out;
}

ObjectCounts objectCounts(const Context& context, const mod::ObjectDoc& object) {
  ObjectCounts out;
  for (const mod::PieceDoc& piece : object.pieces) {
    const auto state = context.models.find(piece.model);
    if (state == context.models.end() || !state->second.prepared.model) continue;
    const ObjectCounts one = modelCounts(*state->second.prepared.model);
    out.triangles += one.triangles, out.vertices += one.vertices, out.parts += one.parts;
    if (std::find(out.models.begin(), out.models.end(), piece.model) != out.models.end()) continue;
    out.models.push_back(piece.model);
    out.materials += one.materials;
  }
  return out;
}

bool holdsForAny(const Context& context, const ModelState& state, const rulebook::Condition& when) {
  if (state.objects.empty()) return true;
  return std::any_of(state.objects.begin(), state.objects.end(),
                     [&](const std::string& name) { return when.holds(context.mod->objects.at(name).card); });
}

void overLimitTogether(const Context& context, const CheckRow& row, Findings& out,
                       int64_t rulebook::Kind::*limit,
                       const std::function<uint64_t(const ObjectCounts&)>& count, const char* one,
                       const char* many) {
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    if (kind == nullptr || kind->*limit <= 0 || doc.pieces.size() < 2) continue;
    const auto most = static_cast<uint64_t>(kind->*limit);
    const ObjectCounts all = objectCounts(context, doc);
    const bool told = std::any_of(all.models.begin(), all.models.end(), [&](const std::string& model) {
      return count(modelCounts(*context.models.at(model).prepared.model)) > most;
    });
    if (told || count(all) <= most) continue;
    Finding f = begin(context, row,
                      name + " has " + base::countText(count(all), one, many) + " in all its pieces; a " +
                          base::lowerAscii(kind->title) + " may have " + base::groupedText(most) + ".");
    f.measured = base::groupedText(count(all));
    f.expected = "at most " + base::groupedText(most);
    f.place.object = name;
    f.place.document = "objects/" + name + ".object.json";
    out.push_back(std::move(f));
  }
}

Mend stepMend(const std::string& model, const std::string& kind, base::Json values, std::string label) {
  return {std::move(label), [model, kind, values = std::move(values)](mod::ModState& state) {
            const auto doc = state.models.find(model);
            if (doc != state.models.end())
              prepare::insertByRank(doc->second, prepare::makeStep(doc->second, kind, values));
          }};
}

Mend stepOrEditMend(const std::string& model, const std::string& kind, base::Json values, std::string label) {
  return {std::move(label), [model, kind, values = std::move(values)](mod::ModState& state) {
            if (const auto doc = state.models.find(model); doc != state.models.end())
              prepare::setOrAddStep(doc->second, kind, values);
          }};
}

}  // namespace rakugo::check
