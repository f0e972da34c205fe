// Checks of size, direction, origin and placement.
#include <array>
#include <cmath>

#include "base/text.h"
#include "check/checks.h"
#include "check/space_guess.h"
#include "geometry/moved_box.h"
#include "prepare/edit_steps.h"
#include "prepare/parts/pieces.h"
#include "prepare/space/space_ops.h"

namespace rakugo::check {
namespace {

using base::Json;
using base::lengthText;

constexpr std::array<const char*, 3> kExtentNames = {"length", "width", "height"};

std::string bandText(const rulebook::Band& band) {
  return phrase("{0} to {1}", lengthText(band.min), lengthText(band.max));
}

// The factor nearest to 1 that brings the size to its bands from the side it is off on; rounded to three
// digits towards the inside, so that the sentence stays readable. It need not succeed: a thing may be too
// long and too low at once.
double factorIntoBands(glm::dvec3 extents, const rulebook::Kind& kind) {
  double shrink = 1, grow = 1;
  const auto bands = bandsOf(kind);
  for (int i = 0; i < 3; ++i) {
    const auto& band = bands[static_cast<size_t>(i)];
    if (!band || extents[i] <= 0) continue;
    shrink = std::min(shrink, band->max / extents[i]);
    grow = std::max(grow, band->min / extents[i]);
  }
  const double factor = shrink < 1 ? shrink : grow;
  if (!(factor > 0)) return 1;
  const double grain = std::pow(10.0, std::floor(std::log10(factor)) - 2);
  return (shrink < 1 ? std::floor(factor / grain) : std::ceil(factor / grain)) * grain;
}

// What an object is as a whole, where it is more than one model at its origin.
void checkSizeOfObjects(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects) {
    const rulebook::Kind* kind = context.book->findKind(doc.kind);
    const mod::PieceDoc* only = mod::firstModelPiece(doc);
    const auto with_it = [&, &object = doc](const mod::PieceDoc& piece) {
      return piece.isModel() && prepare::apartRoot(*context.book, object, piece) == nullptr;
    };
    const bool alone = only != nullptr && std::count_if(doc.pieces.begin(), doc.pieces.end(), with_it) == 1 &&
                       prepare::placeInObject(doc, *only) == glm::mat4(1);
    if (kind == nullptr || alone) continue;
    geometry::Bounds box;
    for (const mod::PieceDoc& piece : doc.pieces)
      if (const auto state = context.models.find(piece.model);
          state != context.models.end() && with_it(piece))
        box.add(geometry::movedBox(state->second.box_m, prepare::placeInObject(doc, piece)));
    if (box.empty()) continue;
    const auto along = [&](glm::vec3 axis) { return std::abs(glm::dot(box.size(), axis)); };
    const double extents[3] = {along(geometry::axisVector(context.book->forward)),
                               along(context.book->side()), along(geometry::axisVector(context.book->up))};
    const auto bands = bandsOf(*kind);
    for (size_t i = 0; i < 3; ++i) {
      const auto& band = bands[i];
      if (!band || (extents[i] <= band->max * 1.0005 && extents[i] >= band->min * 0.9995)) continue;
      Finding f =
          begin(context, row,
                phrase("With all its pieces the {0} of {1} is {2}; a {3} is {4}.", phrase(kExtentNames[i]),
                       name, lengthText(extents[i]), base::lowerAscii(kind->title), bandText(*band)));
      f.measured = lengthText(extents[i]);
      f.expected = bandText(*band);
      f.place.object = name;
      f.place.document = "objects/" + name + ".object.json";
      f.place.field = kExtentNames[i];
      out.push_back(std::move(f));
    }
  }
}

void checkUnit(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const std::optional<Proposal>& unit = state.unit;
    if (!unit || unit->taken || unit->confidence == Confidence::guess) return;
    const glm::dvec3 extents = extentsOf(state, context);
    Finding f =
        begin(context, row,
              phrase(unit->from_file ? "The file says that its lengths are {0}: {1} is {2} high, and {3} "
                                       "when read so."
                                     : "The lengths look like {0}: {1} is {2} high, and {3} when read so.",
                     unit->title, name, lengthText(extents.z), lengthText(extents.z * unit->factor)));
    f.measured = lengthText(extents.z);
    f.expected =
        state.kind != nullptr && state.kind->height_m ? bandText(*state.kind->height_m) : unit->title;
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    f.mends.push_back(unit->mend);
    out.push_back(std::move(f));
  });
}

void checkSize(const Context& context, const CheckRow& row, Findings& out) {
  checkSizeOfObjects(context, row, out);
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (state.kind == nullptr) return;
    // A wrong unit explains the size; it is told once.
    if (state.unit && !state.unit->taken && state.unit->confidence != Confidence::guess) return;
    if (state.box_m.empty()) return;  // there is nothing of it
    const glm::dvec3 extents = extentsOf(state, context);
    const auto bands = bandsOf(*state.kind);
    const double factor = factorIntoBands(extents, *state.kind);
    for (int i = 0; i < 3; ++i) {
      const auto& band = bands[static_cast<size_t>(i)];
      if (!band || (extents[i] <= band->max * 1.0005 && extents[i] >= band->min * 0.9995)) continue;
      const char* what = kExtentNames[static_cast<size_t>(i)];
      Finding f = begin(context, row,
                        phrase("The {0} of {1} is {2}; a {3} is {4}.", phrase(what), name,
                               lengthText(extents[i]), base::lowerAscii(state.kind->title), bandText(*band)));
      f.measured = lengthText(extents[i]);
      f.expected = bandText(*band);
      f.place.model = name;
      f.place.document = "models/" + name + ".model.json";
      f.place.field = what;
      if (misfit(extents * factor, *state.kind) < 1e-9)
        f.mends.push_back({phrase("Scale everything by {0}", base::numberText(factor, 5)),
                           [name, factor](mod::ModState& mod) {
                             if (auto* doc = mod.models.change(name)) prepare::scaleBy(*doc, factor);
                           }});
      out.push_back(std::move(f));
    }
  });
}

void checkReach(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const auto outside = [&](double value, const std::optional<rulebook::Band>& band, const char* field,
                             const char* said, const std::function<std::string(double)>& text) {
      if (!band || (value <= band->max * 1.0005 && value >= band->min * 0.9995)) return;
      Finding f = aboutModel(
          context, row, name,
          phrase(said, name, text(value), base::lowerAscii(kind.title), text(band->min), text(band->max)));
      f.measured = text(value);
      f.expected = phrase("{0} to {1}", text(band->min), text(band->max));
      f.place.field = field;
      out.push_back(std::move(f));
    };
    outside(state.reach_m, kind.reach_m, "reach",
            "{0} reaches from its origin {1}; a {2} reaches from its origin {3} to {4}.", lengthText);
    outside(scene::heldVolume_m3(*state.structure).value_or(0) * 1000, kind.volume_l, "volume",
            "{0} holds {1}; a {2} holds {3} to {4}.",
            [](double l) { return phrase("{0} litres", base::numberText(l, 2)); });
  });
}

void checkAxes(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Frame& frame = state.prepared.model->frame;
    const rulebook::Rulebook& book = *context.book;
    if (frame.turned || (frame.up == book.up && frame.forward == book.forward)) return;
    Finding f = begin(
        context, row,
        phrase("{0} has {1} up and {2} forward; {3} has {4} up and {5} forward.", name, sideName(frame.up),
               sideName(frame.forward), book.title, sideName(book.up), sideName(book.forward)));
    f.measured = phrase("{0} up, {1} forward", sideName(frame.up), sideName(frame.forward));
    f.expected = phrase("{0} up, {1} forward", sideName(book.up), sideName(book.forward));
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    geometry::Axis forward = frame.forward;
    if (state.facing) forward = state.facing->forward;
    f.mends.push_back(stepOrEditMend(
        name, "turn", Json{{"forward", geometry::axisName(forward)}, {"up", geometry::axisName(frame.up)}},
        phrase("Turn so that the {0} side faces forward", sideName(forward))));
    out.push_back(std::move(f));
  });
}

void checkFacing(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    const scene::Frame& frame = state.prepared.model->frame;
    if (state.kind == nullptr || !frame.turned) return;
    const std::optional<FacingGuess>& guess = state.facing;
    if (!guess || guess->forward == context.book->forward) return;
    Finding f =
        begin(context, row,
              phrase("{0} looks to its {1} side; {2} looks forward ({3}).", name, sideName(guess->forward),
                     state.kind->ghost_title, sideName(context.book->forward)));
    f.measured = phrase("{0} % alike", base::numberText(guess->present * 100, 0));
    f.expected = phrase("{0} % alike when turned", base::numberText(guess->likeness * 100, 0));
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    for (const mod::StepDoc& step : doc.steps)
      if (step.kind == "turn" && step.enabled && f.place.step.empty()) f.place.step = step.id;
    const Json turn = prepare::turnToFace(doc, frame, *context.book, geometry::axisVector(guess->forward));
    const geometry::Axis side =
        geometry::axisFromName(turn["forward"].get<std::string>()).value_or(guess->forward);
    f.mends.push_back(stepOrEditMend(name, "turn", turn,
                                     phrase("Turn so that the {0} side faces forward", sideName(side))));
    out.push_back(std::move(f));
  });
}

void checkOrigin(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (state.kind == nullptr || state.kind->origin == rulebook::OriginRule::any) return;
    const scene::Model& model = *state.prepared.model;
    const geometry::Bounds& box = state.box_m;
    if (box.empty()) return;
    const bool floor = state.kind->origin == rulebook::OriginRule::floor_centre;
    glm::vec3 wanted = box.center();
    const glm::vec3 up = geometry::axisVector(model.frame.turned ? context.book->up : model.frame.up);
    if (floor) wanted -= up * std::abs(glm::dot(box.size(), up)) * 0.5F;
    const float off = glm::length(wanted);
    if (off <= state.kind->origin_tolerance_m) return;
    const std::string where = floor ? phrase("the centre of the floor") : phrase("the centre");
    const float below = glm::dot(wanted, up);
    Finding f = begin(context, row,
                      phrase(!floor || std::abs(below) <= off * 0.7F ? "The origin of {0} is {1} from {2}."
                             : below < 0 ? "The origin of {0} is {1} from {2}; it sinks."
                                         : "The origin of {0} is {1} from {2}; it floats.",
                             name, lengthText(off), where));
    f.measured = phrase("{0} off", lengthText(off));
    f.expected = where;
    f.place.model = name;
    f.place.document = "models/" + name + ".model.json";
    f.place.marks_m = {wanted, glm::vec3(0)};
    f.mends.push_back(stepOrEditMend(name, "origin", Json{{"to", floor ? "floor_centre" : "centre"}},
                                     phrase("Put the origin at {0}", where)));
    out.push_back(std::move(f));
  });
}

void checkBaked(const Context& context, const CheckRow& row, Findings& out) {
  const auto moves_pivot = [](const mod::StepDoc& s) { return s.kind == "pivot" && s.enabled; };
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    if (state.kind == nullptr || !state.kind->baked) return;
    const scene::Model& model = *state.prepared.model;
    std::vector<std::string> names;
    std::string first_key, uneven;
    const std::vector<bool> held = prepare::heldInPlace(model), carries = prepare::carriesMesh(model);
    for (const auto i : scene::reachedNodes(model)) {
      const scene::Node& node = model.node(i);
      if (node.local.atRest() || held[i.value()] || !carries[i.value()]) continue;
      if (names.empty()) first_key = node.key;
      names.push_back(node.name.empty() ? node.key : node.name);
      const glm::vec3 s = glm::abs(node.local.scale);
      if (uneven.empty() && std::max({s.x, s.y, s.z}) > std::min({s.x, s.y, s.z}) * 1.001F)
        uneven = names.back();
    }
    if (names.empty()) return;
    Finding f = begin(
        context, row,
        phrase(names.size() == 1 ? uneven.empty() ? "{0} carries placement beside the mesh."
                                                  : "{0} carries placement beside the mesh; {1} is scaled "
                                                    "unevenly."
               : uneven.empty()  ? "{0} carry placement beside the mesh."
                                 : "{0} carry placement beside the mesh; {1} is scaled unevenly.",
               base::listText(names), uneven));
    f.measured = base::countText(names.size(), "part", "parts");
    f.expected = phrase("none");
    f.place.model = name;
    f.place.part = first_key;
    f.place.document = "models/" + name + ".model.json";
    // Where it was baked, and a pivot was put elsewhere after that, the pivot is what stands beside the mesh.
    const auto baked = std::find_if(doc.steps.begin(), doc.steps.end(),
                                    [](const mod::StepDoc& s) { return s.kind == "bake" && s.enabled; });
    if (std::any_of(baked, doc.steps.end(), moves_pivot))
      f.mends.push_back({phrase("Leave pivots where they were"), [name, moves_pivot](mod::ModState& mod) {
                           if (auto* at = mod.models.change(name)) std::erase_if(at->steps, moves_pivot);
                         }});
    f.mends.push_back({phrase("Bake position, turn and scale"), [name, moves_pivot](mod::ModState& mod) {
                         auto* at = mod.models.change(name);
                         if (at == nullptr) return;
                         // An origin step before the bake moved roots; baking must come after every step that
                         // moves parts.
                         auto& steps = at->steps;
                         std::erase_if(steps, [](const mod::StepDoc& s) { return s.kind == "bake"; });
                         prepare::insertByRank(*at, prepare::makeStep(*at, "bake"));
                         const auto bake =
                             std::find_if(steps.begin(), steps.end(),
                                          [](const mod::StepDoc& s) { return s.kind == "bake"; });
                         const auto last = std::find_if(steps.rbegin(), steps.rend(), moves_pivot).base();
                         if (bake < last) std::rotate(bake, bake + 1, last);
                       }});
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> spaceChecks() {
  using S = Severity;
  return {
      {"size.unit",
       180,
       S::shows,
       Station::shape,
       {"model.height_m", "model.unit_factor"},
       "Lengths look like another unit",
       "The thing appears a hundred times too large or too small.",
       "Read lengths in the unit they were made in.",
       checkUnit},
      {"size.range",
       190,
       S::shows,
       Station::shape,
       {"model.length_m", "model.width_m", "model.height_m"},
       "Size outside the kind's range",
       "The thing looks like a toy or a giant beside everything else.",
       "Scale it.",
       checkSize},
      {"size.reach",
       200,
       S::shows,
       Station::shape,
       {"model.reach_m"},
       "Reaches too far, or holds too much or too little",
       "The game keeps room about the origin and works with the volume; beyond it the thing is cut or falls "
       "through.",
       "Scale it, or move its origin.",
       checkReach},
      {"axes.differ",
       210,
       S::shows,
       Station::shape,
       {"model.turned"},
       "Up and forward are not the game's",
       "The thing lies on its side or looks the wrong way.",
       "Turn it to the game's axes.",
       checkAxes},
      {"axes.facing",
       220,
       S::shows,
       Station::shape,
       {"model.turned"},
       "Looks the other way than the game's own example",
       "The thing is placed with its back to where it should face.",
       "Turn it.",
       checkFacing},
      {"origin.place",
       230,
       S::shows,
       Station::shape,
       {"model.length_m", "model.width_m", "model.height_m"},
       "The origin is not where the kind wants it",
       "The thing floats, sinks, or turns about the wrong place.",
       "Move the origin.",
       checkOrigin},
      {"placement.not_baked",
       240,
       S::shows,
       Station::shape,
       {"model.parts"},
       "Placement is not in the mesh",
       "The game ignores or doubles what parts carry beside their mesh: sizes and directions come out wrong.",
       "Bake position, turn and scale.",
       checkBaked},
  };
}

}  // namespace rakugo::check
