#include "prepare/objects/derived_model.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/axes.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace {

// How large it may be along the game's axes; 0 where nothing says so.
std::array<double, 3> mostAlong(const rulebook::Kind& rules) {
  std::array<double, 3> out{0, 0, 0};
  const std::array<const std::optional<rulebook::Band>*, 3> bands = {&rules.length_m, &rules.width_m,
                                                                     &rules.height_m};
  for (size_t i = 0; i < 3; ++i) {
    if (*bands[i]) out[i] = (*bands[i])->max;
    const double cells = rules.grid.cell_m * rules.grid.cells[i];
    if (cells > 0) out[i] = out[i] > 0 ? std::min(out[i], cells) : cells;
  }
  return out;
}

// The largest factor of three digits, 1 at most, that brings a box of that size within the limits.
double factorToFit(const std::array<double, 3>& size, const std::array<double, 3>& most) {
  double factor = 1;
  for (size_t i = 0; i < 3; ++i)
    if (most[i] > 0 && size[i] > most[i]) factor = std::min(factor, most[i] / size[i]);
  if (factor >= 1) return 1;
  const double grain = std::pow(10.0, std::floor(std::log10(factor)) - 2);
  return std::floor(factor / grain) * grain;
}

bool isWithin(const rulebook::Kind& rules, const scene::Counts& counts) {
  return (rules.max_triangles <= 0 || counts.triangles <= static_cast<uint64_t>(rules.max_triangles)) &&
         (rules.max_vertices <= 0 || counts.vertices <= static_cast<uint64_t>(rules.max_vertices));
}

// Simplified to the budget. What consists of many loose pieces cannot be: each keeps its borders. The
// smallest of them go first then, as few as it needs; nobody misses a bolt on what is carried under an arm.
void makeLighter(const rulebook::Rulebook& book, const rulebook::Kind& rules, const scene::Model& prepared,
                 mod::ModelDoc& doc) {
  if (rules.max_triangles <= 0 || isWithin(rules, scene::countsOf(prepared))) return;
  const mod::ModelDoc before = doc;
  const glm::vec3 size = scene::boundsOf(prepared).size();
  StepContext context;
  context.book = &book;
  context.donor = &prepared;
  for (const double share : {0.0, 0.02, 0.05, 0.12}) {
    doc = before;
    const double specks_mm = share * static_cast<double>(std::max({size.x, size.y, size.z})) * 1000;
    double factor = 1;
    for (const mod::StepDoc& step : doc.steps)
      if (step.kind == "scale") factor = step.values.value("factor", 1.0);
    if (share > 0)
      insertByRank(doc, makeStep(doc, "remove_specks",
                                 base::Json{{"size_mm", std::round(specks_mm * factor * 10) / 10}}));
    insertByRank(
        doc, makeStep(doc, "simplify", base::Json{{"triangles", static_cast<double>(rules.max_triangles)}}));
    insertByRank(doc, makeStep(doc, "make_normals", base::Json{{"which", "wrong"}}));
    scene::Model tried;
    for (const mod::StepDoc& step : doc.steps)
      applyStep(*findStepKind(step.kind), tried, step.values, context);
    if (isWithin(rules, scene::countsOf(tried))) return;
  }
}

}  // namespace

const mod::PieceDoc* pieceMadeFrom(const mod::ObjectDoc& object, const rulebook::KindModel& model) {
  if (model.made_from.empty()) return nullptr;
  const std::string as = model.made_from == rulebook::kMainModel ? std::string() : model.made_from;
  const auto found = std::find_if(object.pieces.begin(), object.pieces.end(),
                                  [&](const mod::PieceDoc& one) { return one.isModel() && one.as == as; });
  return found != object.pieces.end() ? &*found : nullptr;
}

std::string beginningOf(const mod::ModelDoc& doc) {
  for (const mod::StepDoc& step : doc.steps)
    if (step.enabled && step.kind == "as_model") return base::textOf(step.values, "model");
  return {};
}

bool beginsAs(const mod::ModelDoc& doc, const std::string& from) { return beginningOf(doc) == from; }

std::vector<mod::StepDoc> stepsToDerive(const rulebook::Rulebook& book, const rulebook::Kind& rules,
                                        const std::string& from, const scene::Model& prepared) {
  mod::ModelDoc doc;
  const auto add = [&](const char* kind, base::Json values) {
    insertByRank(doc, makeStep(doc, kind, std::move(values)));
  };
  add("as_model", base::Json{{"model", from}});
  const geometry::Bounds box = scene::boundsOf(prepared);
  if (!box.empty()) {
    const auto along = [&](glm::vec3 axis) {
      return static_cast<double>(std::abs(glm::dot(box.size(), axis)));
    };
    const double factor = factorToFit(
        {along(geometry::axisVector(book.forward)), along(book.side()), along(geometry::axisVector(book.up))},
        mostAlong(rules));
    if (factor < 1) add("scale", base::Json{{"factor", factor}});
  }
  makeLighter(book, rules, prepared, doc);
  if (rules.origin != rulebook::OriginRule::any)
    add("origin",
        base::Json{{"to", rules.origin == rulebook::OriginRule::centre ? "centre" : "floor_centre"}});
  return doc.steps;
}

base::Result<std::string> addDerivedModel(mod::ModState& state, const rulebook::Rulebook& book,
                                          const std::string& object, const std::string& model,
                                          const StepsFor& steps) {
  const auto found = state.objects.find(object);
  if (found == state.objects.end())
    return base::Error{
        "mod.no_object", base::phrase("There is no object {0}.", base::presentable(object, 60)), {}, {}};
  const rulebook::Kind* kind = book.findKind(found->second.kind);
  if (kind == nullptr)
    return base::Error{
        "object.kind",
        base::phrase("The rulebook has no kind \"{0}\".", base::presentable(found->second.kind, 40)),
        {},
        base::phrase("Say first what the object is.")};
  const rulebook::KindModel* rule = kind->findModel(model);
  if (rule == nullptr || rule->made_from.empty()) {
    std::vector<std::string> known;
    for (const rulebook::KindModel& one : kind->models)
      if (!one.made_from.empty()) known.push_back(one.id);
    return base::Error{"model.unknown",
                       base::phrase("A {0} has no model \"{1}\" that is made from another.",
                                    base::lowerAscii(kind->title), base::presentable(model, 40)),
                       {},
                       known.empty() ? base::phrase("None of its models is.")
                                     : base::phrase("These are: {0}.", base::listText(known, 8))};
  }
  const mod::PieceDoc* from = pieceMadeFrom(found->second, *rule);
  const auto doc = from != nullptr ? state.models.find(from->model) : state.models.end();
  if (doc == state.models.end())
    return base::Error{
        "model.unknown",
        base::phrase("{0} has no piece that {1} could be made from.", object, base::lowerAscii(rule->title)),
        {},
        base::phrase("Add that piece first.")};
  const auto count =
      std::count_if(found->second.pieces.begin(), found->second.pieces.end(),
                    [&](const mod::PieceDoc& piece) { return piece.isModel() && piece.as == rule->id; });
  if (count >= rule->most)
    return base::Error{"piece.most",
                       base::phrase("{0} has as many that are its {1} as it may have: {2}.", object,
                                    base::lowerAscii(rule->title), std::to_string(rule->most)),
                       {},
                       {}};
  mod::ModelDoc made;
  made.source = doc->second.source;
  made.steps = steps(rule->kind(), from->model);
  std::string name = from->model + "-" + rule->id;
  for (int n = 2; state.models.count(name) != 0; ++n)
    name = from->model + "-" + rule->id + "-" + std::to_string(n);
  state.models[name] = std::move(made);
  mod::ObjectDoc& changed = state.objects[object];
  mod::PieceDoc piece;
  piece.name = freePieceName(changed, rule->id);
  piece.model = name;
  piece.as = rule->id;
  changed.pieces.push_back(piece);
  return piece.name;
}

}  // namespace rakugo::prepare
