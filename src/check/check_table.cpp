// The one table of checks.
#include <algorithm>
#include <set>
#include <unordered_map>

#include "base/text.h"
#include "check/checks.h"
#include "check/consequence.h"
#include "check/facts.h"
#include "check/kept_findings.h"
#include "check/structure_faults.h"
#include "mod/set_aside_place.h"
#include "prepare/edit_steps.h"
#include "prepare/parts/pieces.h"

namespace rakugo::check {

const char* severityName(Severity severity) {
  return severity == Severity::stops ? "stops" : severity == Severity::shows ? "shows" : "tidy";
}

const char* stationName(Station station) {
  static constexpr const char* kNames[] = {"sources", "shape",  "skeleton", "surface",
                                           "objects", "bundle", "tryout"};
  return kNames[static_cast<size_t>(station)];
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
  return {phrase("Set aside: {0}", finding.check), [check = finding.check, place = placeKey(finding.place),
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

void markSetAside(const mod::ModState& mod, std::vector<Finding>& findings) {
  for (Finding& f : findings) {
    if (f.severity == Severity::stops) continue;
    for (const mod::SetAside& a : mod.card.set_aside)
      if (isAside(a, f.check, f.place)) {
        f.set_aside = true;
        f.aside_reason = a.reason;
      }
  }
}

Mend takeUp(const Finding& finding) {
  return {phrase("Take up again: {0}", finding.check),
          [check = finding.check, place = finding.place](mod::ModState& mod) {
            std::erase_if(mod.card.set_aside,
                          [&](const mod::SetAside& a) { return isAside(a, check, place); });
          }};
}

namespace {

struct Table {
  std::vector<CheckRow> rows;                          // by rank
  std::unordered_map<std::string_view, size_t> by_id;  // places in `rows`

  void count() {
    by_id.clear();
    for (size_t i = 0; i < rows.size(); ++i) by_id.emplace(rows[i].id, i);
  }
};

Table& table() {
  static Table kept = [] {
    Table out;
    std::vector<CheckRow>& all = out.rows;
    for (auto* of : {boneChecks,   carriedChecks, documentChecks,  meshChecks,    modChecks,
                     motionChecks, outfitChecks,  lampChecks,      movingChecks,  textChecks,
                     listChecks,   soundChecks,   pieceChecks,     derivedChecks, pointChecks,
                     ruleChecks,   spaceChecks,   structureChecks, surfaceChecks, materialChecks})
      for (CheckRow& row : of()) all.push_back(std::move(row));
    std::sort(all.begin(), all.end(), [](const CheckRow& a, const CheckRow& b) { return a.rank < b.rank; });
    out.count();
    return out;
  }();
  return kept;
}

}  // namespace

const std::vector<CheckRow>& checkTable() { return table().rows; }

const CheckRow* findCheck(const std::string& id) {
  const Table& all = table();
  const auto found = all.by_id.find(id);
  return found == all.by_id.end() ? nullptr : &all.rows[found->second];
}

void addCheck(CheckRow row) {
  std::vector<CheckRow>& rows = table().rows;
  std::erase_if(rows, [&](const CheckRow& one) { return std::string(one.id) == row.id; });
  const auto place =
      std::find_if(rows.begin(), rows.end(), [&](const CheckRow& one) { return one.rank > row.rank; });
  rows.insert(place, std::move(row));
  table().count();
}

std::vector<Finding> runChecks(const Context& context, const base::Progress* progress) {
  return KeptFindings().run(context, progress);
}

namespace {

std::string factIds(const CheckRow& row) {
  std::string out;
  for (const char* fact : row.facts) out += (out.empty() ? "`" : ", `") + std::string(fact) + "`";
  return out;
}

std::string factsTable() {
  static constexpr const char* kTypes[] = {"number", "count", "flag", "detail"};
  std::string out =
      "\n## Facts\n\nWhat checks look at, by name. A *detail* is more than a value. `rakugo-tool facts` says "
      "those of a "
      "mod's models.\n\n| fact | type | unit | what |\n| --- | --- | --- | --- |\n";
  for (const Fact& fact : facts())
    out += std::string("| `") + fact.id + "` | " + kTypes[static_cast<size_t>(fact.type)] + " | " +
           fact.unit + " | " + fact.title + " |\n";
  return out;
}

}  // namespace

std::string checksDocument() {
  std::string out =
      "# Checks\n\nGenerated from the rows in `src/check/rows/checks_*.cpp` by `rakugo-tool checks "
      "--markdown`; a test compares the two.\n\n"
      "Severity says what happens in the game: `stops` (will not load or crashes), `shows` (players see it), "
      "`tidy` (wasteful or risky later).\n"
      "A rulebook may give its own reason for a check (`reasons`).\n\n"
      "| id | severity | station | what | why it matters | cure | looks at |\n"
      "| --- | --- | --- | --- | --- | --- | --- |\n";
  for (const CheckRow& row : checkTable())
    out += std::string("| `") + row.id + "` | " + severityName(row.severity) + " | " +
           stationName(row.station) + " | " + row.title + " | " + row.reason + " | " + row.cure + " | " +
           factIds(row) + " |\n";
  out += factsTable();
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
  f.cure = phrase(row.cure);
  return f;
}

std::string reasonOf(const CheckRow& row, const rulebook::Rulebook& book) {
  for (const auto& [id, reason] : book.reasons)
    if (id == row.id) return reason;
  return phrase(row.reason);
}

void overLimit(const Context& context, const CheckRow& row, Findings& out, const std::string& name,
               int64_t most, uint64_t count, const char* one, const char* many) {
  if (most <= 0 || count <= static_cast<uint64_t>(most)) return;
  Finding f = aboutModel(context, row, name,
                         phrase("{0} has {1}; {2} takes {3} at most.", name,
                                base::countText(count, one, many), context.book->title, most));
  f.measured = std::to_string(count);
  f.expected = phrase("at most {0}", most);
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
    if (prepare::apartRoot(*context.book, object, piece) != nullptr) continue;
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
                      phrase("{0} has {1} in all its pieces; a {2} may have {3}.", name,
                             base::countText(count(all), one, many), base::lowerAscii(kind->title),
                             base::groupedText(most)));
    f.measured = base::groupedText(count(all));
    f.expected = phrase("at most {0}", base::groupedText(most));
    f.place.object = name;
    f.place.document = "objects/" + name + ".object.json";
    out.push_back(std::move(f));
  }
}

Mend stepMend(const std::string& model, const std::string& kind, base::Json values, std::string label) {
  return {std::move(label), [model, kind, values = std::move(values)](mod::ModState& state) {
            auto* doc = state.models.change(model);
            if (doc != nullptr) prepare::insertByRank(*doc, prepare::makeStep(*doc, kind, values));
          }};
}

Mend stepOrEditMend(const std::string& model, const std::string& kind, base::Json values, std::string label) {
  return {std::move(label), [model, kind, values = std::move(values)](mod::ModState& state) {
            if (auto* doc = state.models.change(model)) prepare::setOrAddStep(*doc, kind, values);
          }};
}

}  // namespace rakugo::check
