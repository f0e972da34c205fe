// The table of steps: the rows of all files by rank, and what follows from a row.
#include <algorithm>
#include <unordered_map>

#include "base/text.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;

struct Table {
  std::vector<StepKind> kinds;                         // by rank
  std::unordered_map<std::string_view, size_t> by_id;  // places in `kinds`

  void count() {
    by_id.clear();
    for (size_t i = 0; i < kinds.size(); ++i) by_id.emplace(kinds[i].id, i);
  }
};

Table& table() {
  static Table made = [] {
    Table out;
    std::vector<StepKind>& all = out.kinds;
    for (auto* rows : {otherModelSteps, spaceSteps, partSteps, assemblySteps, structureSteps, meshSteps,
                       lighterSteps, pickedSteps, boneSteps, weightSteps, regionSteps, outfitSteps,
                       materialSteps, pictureSteps, uvSteps})
      for (StepKind& kind : rows()) all.push_back(std::move(kind));
    std::stable_sort(all.begin(), all.end(),
                     [](const StepKind& a, const StepKind& b) { return a.rank < b.rank; });
    out.count();
    return out;
  }();
  return made;
}

Json completed(const StepKind& kind, const Json& values) {
  Json out = values.is_object() ? values : Json::object();
  for (const Parameter& p : kind.parameters)
    if (!p.optional && !out.contains(p.key)) out[p.key] = p.initial;
  return out;
}

// A bar would end the cell of a table.
std::string cell(std::string text) {
  for (size_t at = 0; (at = text.find('|', at)) != std::string::npos; at += 2) text.insert(at, 1, '\\');
  return text;
}

// The template of a sentence as a document shows it: values as `key`, what is shown only at times without its
// condition.
std::string templateText(const std::string& sentence) {
  std::string out;
  for (size_t i = 0; i < sentence.size(); ++i) {
    const char c = sentence[i];
    if (c == '[') {
      i = sentence.find('|', i);
      if (out.ends_with('`') && sentence[i + 1] != ' ') out += " or ";
    }
    if (c == '{' || c == '}') out += '`';
    if (c != '[' && c != ']' && c != '{' && c != '}') out += c;
  }
  return out;
}

std::string parameterText(const Parameter& p) {
  std::string out = "`" + p.key + "`: " + rangeText(p);
  const bool plain =
      p.type == ParameterType::number || p.type == ParameterType::count || p.type == ParameterType::choice;
  if (p.optional)
    out += "; may be left out";
  else if (plain)
    out += "; begins as " + (p.initial.is_number() ? base::numberText(p.initial.get<double>(), 6)
                                                   : p.initial.get<std::string>());
  if (!p.help.empty()) out += ". " + p.help.substr(0, p.help.size() - (p.help.ends_with('.') ? 1 : 0));
  return out;
}

}  // namespace

const std::vector<StepKind>& stepKinds() { return table().kinds; }

void addStepKind(StepKind kind) {
  std::vector<StepKind>& all = table().kinds;
  std::erase_if(all, [&](const StepKind& one) { return std::string(one.id) == kind.id; });
  const auto place =
      std::find_if(all.begin(), all.end(), [&](const StepKind& one) { return one.rank > kind.rank; });
  all.insert(place, std::move(kind));
  table().count();
}

const StepKind* findStepKind(const std::string& id) {
  const Table& all = table();
  const auto found = all.by_id.find(id);
  return found == all.by_id.end() ? nullptr : &all.kinds[found->second];
}

const Parameter* StepKind::find(const std::string& key) const {
  for (const Parameter& p : parameters)
    if (p.key == key) return &p;
  return nullptr;
}

const Parameter* StepKind::findType(ParameterType type) const {
  for (const Parameter& p : parameters)
    if (p.type == type) return &p;
  return nullptr;
}

const char* groupTitle(StepGroup group) {
  static constexpr const char* kTitles[] = {"Size and direction", "Parts", "Mesh", "Bones and weights",
                                            "Surface and regions"};
  return kTitles[static_cast<size_t>(group)];
}

Json initialValues(const StepKind& kind) { return completed(kind, Json::object()); }

std::vector<std::string> valueKeys(const StepKind& kind) {
  std::vector<std::string> out;
  for (const Parameter& p : kind.parameters) out.push_back(p.key);
  return out;
}

bool needsPick(const StepKind& kind) {
  const Parameter* pick = kind.findType(ParameterType::pick);
  return pick != nullptr && !pick->optional;
}

bool namesModel(const std::string& kind, const std::string& key) {
  const StepKind* row = findStepKind(kind);
  if (row == nullptr) return true;
  const Parameter* p = row->find(key);
  return p != nullptr && p->type == ParameterType::model;
}

std::vector<std::string> modelsNamedBy(const mod::ModelDoc& doc) {
  std::vector<std::string> out;
  for (const mod::StepDoc& step : doc.steps) {
    const StepKind* kind = findStepKind(step.kind);
    const Parameter* p = kind != nullptr ? kind->findType(ParameterType::model) : nullptr;
    if (p == nullptr) continue;
    if (std::string name = base::textOf(step.values, p->key.c_str()); !name.empty())
      out.push_back(std::move(name));
  }
  return out;
}

StepOutcome applyStep(const StepKind& kind, scene::Model& model, const Json& values,
                      const StepContext& context) {
  const Json whole = completed(kind, values);
  StepOutcome out;
  for (const Parameter& p : kind.parameters)
    if (const Json* value = base::memberOf(whole, p.key.c_str()))
      if (auto why = misfit(p, *value)) out.misses.push_back(std::move(*why));
  if (!out.misses.empty()) {
    out.state = StepState::wrong;
    return out;
  }
  return kind.apply(model, whole, context);
}

std::string stepsMarkdown() {
  std::string out = "| kind | what it does | values |\n| --- | --- | --- |\n";
  for (const StepKind& kind : stepKinds()) {
    std::string values;
    for (const Parameter& p : kind.parameters) values += (values.empty() ? "" : "<br>") + parameterText(p);
    out += "| `" + std::string(kind.id) + "` | " + cell(templateText(kind.sentence)) + "." +
           (*kind.about != '\0' ? " " + cell(kind.about) : "") + " | " + cell(values) + " |\n";
  }
  return out;
}

mod::StepDoc makeStep(const mod::ModelDoc& doc, const std::string& kind, Json values) {
  mod::StepDoc step{mod::freshStepId(doc), kind, true, {}};
  const StepKind* row = findStepKind(kind);
  step.values = row != nullptr ? initialValues(*row) : Json::object();
  for (const auto& [key, value] : values.items()) step.values[key] = value;
  return step;
}

size_t placeByRank(const mod::ModelDoc& doc, const std::string& kind) {
  const auto rank = [](const std::string& id) {
    const StepKind* row = findStepKind(id);
    return row != nullptr ? row->rank : 100;
  };
  size_t place = 0;
  for (size_t i = 0; i < doc.steps.size(); ++i)
    if (rank(doc.steps[i].kind) <= rank(kind)) place = i + 1;
  return place;
}

size_t insertByRank(mod::ModelDoc& doc, mod::StepDoc step) {
  const size_t place = placeByRank(doc, step.kind);
  doc.steps.insert(doc.steps.begin() + static_cast<std::ptrdiff_t>(place), std::move(step));
  return place;
}

}  // namespace rakugo::prepare
