#include "check/facts.h"

#include <algorithm>

#include "check/checks.h"

namespace rakugo::check {
namespace {

using base::Json;
using Of = FactOf;
using Type = FactType;

const scene::Model* modelOf(const ModelState& state) { return state.prepared.model.get(); }

// The largest of what `measure` says of each of a list, or null where the list is not known.
template <class List, class Measure>
Json largest(const std::shared_ptr<const List>& list, Measure measure) {
  if (!list) return nullptr;
  decltype(measure(*list->begin())) out = 0;
  for (const auto& one : *list) out = std::max(out, measure(one));
  return out;
}

Json triangles(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(scene::countsOf(*modelOf(s)).triangles) : Json();
}
Json vertices(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(scene::countsOf(*modelOf(s)).vertices) : Json();
}
Json parts(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(scene::countsOf(*modelOf(s)).parts) : Json();
}
Json materials(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(modelCounts(*modelOf(s)).materials) : Json();
}
Json partTriangles(const Context&, const ModelState& s) {
  return largest(s.structure, [](const scene::PartStructure& part) { return part.triangles; });
}
Json extent(const Context& context, const ModelState& s, int axis) {
  if (modelOf(s) == nullptr || s.box_m.empty()) return nullptr;
  return static_cast<double>(extentsOf(s, context)[axis]);
}
Json length(const Context& context, const ModelState& s) { return extent(context, s, 0); }
Json width(const Context& context, const ModelState& s) { return extent(context, s, 1); }
Json height(const Context& context, const ModelState& s) { return extent(context, s, 2); }
Json reach(const Context&, const ModelState& s) { return modelOf(s) != nullptr ? Json(s.reach_m) : Json(); }
Json turned(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(modelOf(s)->frame.turned) : Json();
}
Json unitFactor(const Context&, const ModelState& s) { return s.unit ? Json(s.unit->factor) : Json(); }
Json bones(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(scene::usedJoints(*modelOf(s)).size()) : Json();
}
Json influences(const Context&, const ModelState& s) {
  return s.weights ? Json(s.weights->most_influences) : Json();
}
Json animations(const Context&, const ModelState& s) {
  return modelOf(s) != nullptr ? Json(modelOf(s)->animations.size()) : Json();
}
Json pictureSide(const Context&, const ModelState& s) {
  uint32_t out = 0;
  for (const PictureState& picture : s.pictures)
    if (picture.info) out = std::max({out, picture.info->width, picture.info->height});
  return out;
}
Json seamGap(const Context&, const ModelState& s) {
  if (!s.seams) return nullptr;
  double out = 0;
  for (const scene::SeamPair& pair : s.seams->seams.pairs) out = std::max(out, pair.largest_m * 1000);
  return out;
}
Json sizes(const Context&, const ModelState& s) { return s.variants.size(); }

}  // namespace

const char* factOfName(FactOf of) {
  static constexpr const char* kNames[] = {"mod", "rulebook", "source", "object", "model"};
  return kNames[static_cast<size_t>(of)];
}

const std::vector<Fact>& facts() {
  static const std::vector<Fact> kFacts = {
      {"mod.documents", Type::detail, Of::mod, "", "what the mod's documents say", nullptr},
      {"mod.files", Type::detail, Of::mod, "", "files of the mod's folder", nullptr},
      {"mod.installed", Type::detail, Of::mod, "", "mods that are installed in the game", nullptr},
      {"rulebook.errors", Type::detail, Of::rulebook, "", "files of the rulebook that cannot be read",
       nullptr},
      {"source.contents", Type::detail, Of::source, "", "what the source's file holds", nullptr},
      {"source.files", Type::detail, Of::source, "", "its files, as they were taken in and as they are",
       nullptr},
      {"object.card", Type::detail, Of::object, "", "fields of its card", nullptr},
      {"object.icon", Type::detail, Of::object, "", "its icon", nullptr},
      {"model.steps", Type::detail, Of::model, "", "what each step did", nullptr},
      {"model.document", Type::detail, Of::model, "", "what its document says", nullptr},
      {"model.triangles", Type::count, Of::model, "", "triangles", triangles},
      {"model.vertices", Type::count, Of::model, "", "vertices", vertices},
      {"model.parts", Type::count, Of::model, "", "parts that are drawn", parts},
      {"model.part_triangles", Type::count, Of::model, "", "triangles of its largest part", partTriangles},
      {"model.materials", Type::count, Of::model, "", "materials that are worn", materials},
      {"model.not_finite", Type::detail, Of::model, "", "vertices that are not numbers", nullptr},
      {"model.length_m", Type::number, Of::model, "m", "length, along the game's forward", length},
      {"model.width_m", Type::number, Of::model, "m", "width, along the game's side", width},
      {"model.height_m", Type::number, Of::model, "m", "height, along the game's up", height},
      {"model.reach_m", Type::number, Of::model, "m", "distance from its origin to its farthest vertex",
       reach},
      {"model.unit_factor", Type::number, Of::model, "",
       "factor by which lengths grow when they are read in the unit that is likeliest", unitFactor},
      {"model.turned", Type::flag, Of::model, "", "whether it is turned to the game's axes", turned},
      {"model.structure", Type::detail, Of::model, "", "how its meshes hang together, fault by fault",
       nullptr},
      {"model.pictures", Type::detail, Of::model, "", "its pictures", nullptr},
      {"model.picture_side", Type::count, Of::model, "", "pixels of its pictures' longest side", pictureSide},
      {"model.points", Type::detail, Of::model, "", "its attachment points", nullptr},
      {"model.regions", Type::detail, Of::model, "", "which part covers which region", nullptr},
      {"model.seam_gap_mm", Type::number, Of::model, "mm", "largest gap to the body of its kind", seamGap},
      {"model.sizes", Type::count, Of::model, "", "other sizes of it that can be read", sizes},
      {"model.bones", Type::count, Of::model, "", "bones that vertices follow", bones},
      {"model.weights", Type::detail, Of::model, "", "what its vertices follow", nullptr},
      {"model.influences", Type::count, Of::model, "", "bones that a vertex follows at most", influences},
      {"model.moments", Type::detail, Of::model, "", "what the game's movements make of its bones", nullptr},
      {"model.skin_faults", Type::detail, Of::model, "", "what its skin does in them", nullptr},
      {"model.weight_faults", Type::detail, Of::model, "", "weights that are well formed and still wrong",
       nullptr},
      {"model.animations", Type::count, Of::model, "", "movements of its own", animations},
  };
  return kFacts;
}

const Fact* findFact(const std::string& id) {
  for (const Fact& fact : facts())
    if (id == fact.id) return &fact;
  return nullptr;
}

Json factsOf(const Context& context, const ModelState& model) {
  Json out = Json::object();
  for (const Fact& fact : facts())
    if (fact.value != nullptr) out[fact.id] = fact.value(context, model);
  return out;
}

}  // namespace rakugo::check
