// `rakugo-tool step`: a model's preparation, step by step.
#include <fmt/core.h>

#include <charconv>

#include "base/json.h"
#include "base/text.h"
#include "prepare/step.h"
#include "prepare/step_figures.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;
using prepare::StepKind;
using prepare::StepState;

struct StepOptions {
  std::string mod, model, kind, step, note;
  std::vector<std::string> values;
  size_t place = 0;
  bool markdown = false;
};

const char* stateName(StepState state) {
  static constexpr const char* kNames[] = {"good", "partly", "missed", "off", "wrong"};
  return kNames[static_cast<size_t>(state)];
}

// The steps with what each did, where the model could be prepared; as text only the one of that id, unless it
// is empty.
int sayPreparation(const Common& common, const OpenMod& open, const std::string& model,
                   const std::string& only = {}) {
  const auto x = examineModel(open, model);
  if (!x) return failed(common, x.error());
  const auto found = (*x)->context.models.find(model);
  const bool prepared = found != (*x)->context.models.end() && found->second.prepared.model;
  const mod::ModelDoc& doc = open.state.models.at(model);
  Json list = Json::array();
  std::string text;
  int exit = kGood;
  for (size_t i = 0; i < doc.steps.size(); ++i) {
    const mod::StepDoc& step = doc.steps[i];
    const scene::Model* before = prepared ? found->second.prepared.before[i].get() : nullptr;
    Json one{{"id", step.id}, {"kind", step.kind}, {"enabled", step.enabled}, {"values", step.values}};
    one["sentence"] = prepare::sentenceText(step, before, open.book.get());
    std::string line = fmt::format("{:>3}  {:5} {}", i + 1, step.id, one["sentence"].get<std::string>());
    if (prepared) {
      const prepare::StepOutcome& outcome = found->second.prepared.outcomes[i];
      one["state"] = stateName(outcome.state);
      one["did"] = outcome.did;
      one["misses"] = outcome.misses;
      const auto& figures = found->second.prepared.figures;
      const std::string changed = prepare::changeText(figures[i], figures[i + 1]);
      one["changed"] = changed;
      if (outcome.state == StepState::off) line += "  (off)";
      if (!outcome.did.empty()) line += "  (" + outcome.did + ")";
      if (!changed.empty()) line += "\n           " + changed;
      for (const std::string& miss : outcome.misses) line += "\n           ! " + miss;
      if (outcome.state == StepState::wrong || outcome.state == StepState::missed) exit = kStops;
    }
    if (!step.note.empty()) {
      one["note"] = step.note;
      line += "\n           Note: " + base::presentable(step.note);
    }
    if (only.empty() || step.id == only) text += line + "\n";
    list.push_back(std::move(one));
  }
  if (doc.steps.empty()) text = "No steps yet.\n";
  said(common, Json{{"model", model}, {"prepared", prepared}, {"steps", list}}, text);
  return exit;
}

// KEY=VALUE pairs into values of that kind of step.
base::Status takeValues(const StepKind& kind, const std::vector<std::string>& typed, Json& values) {
  for (const std::string& pair : typed) {
    const size_t equals = pair.find('=');
    const std::string key = pair.substr(0, equals);
    const prepare::Parameter* parameter = kind.find(key);
    if (equals == std::string::npos || parameter == nullptr) {
      const std::string near = base::nearMiss(key, prepare::valueKeys(kind));
      return base::Error{
          "step.value",
          equals == std::string::npos ? "\"" + base::presentable(pair, 60) + "\" gives no value."
                                      : "The step \"" + std::string(kind.id) + "\" has no value \"" +
                                            base::presentable(key, 60) + "\".",
          {},
          !near.empty() && equals != std::string::npos
              ? "\"" + near + "\" is probably meant."
              : "Write KEY=VALUE; its values are " + base::listText(prepare::valueKeys(kind), 12) + "."};
    }
    RAKUGO_ASSIGN(values[key], prepare::typedValue(*parameter, pair.substr(equals + 1)));
  }
  return {};
}

base::Result<const StepKind*> knownKind(const std::string& id) {
  if (const StepKind* kind = prepare::findStepKind(id)) return kind;
  std::vector<std::string> ids;
  for (const StepKind& kind : prepare::stepKinds()) ids.emplace_back(kind.id);
  const std::string near = base::nearMiss(id, ids);
  return base::Error{
      "step.unknown",
      "There is no step \"" + base::presentable(id, 60) + "\".",
      {},
      near.empty() ? "\"rakugo-tool step kinds\" lists them." : "\"" + near + "\" is probably meant."};
}

// A step by its id or by its number, 1 for the first.
base::Result<size_t> stepPlace(const mod::ModelDoc& doc, const std::string& named) {
  for (size_t i = 0; i < doc.steps.size(); ++i)
    if (doc.steps[i].id == named) return i;
  size_t number = 0;
  const auto [end, error] = std::from_chars(named.data(), named.data() + named.size(), number);
  if (error == std::errc() && end == named.data() + named.size() && number >= 1 && number <= doc.steps.size())
    return number - 1;
  return base::Error{"step.none",
                     "The preparation has no step " + base::presentable(named, 40) + ".",
                     {},
                     doc.steps.empty() ? "It has none yet."
                                       : "Name one by its id, or by its number from 1 to " +
                                             std::to_string(doc.steps.size()) + "."};
}

// Loads, changes the preparation, saves, and says how the step of the id that `change` gives stands, or all
// of them.
int editSteps(const Common& common, const StepOptions& o,
              const std::function<base::Result<std::string>(mod::ModelDoc&)>& change) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto model = named(open->state.models, o.model, "model", "model.unknown", o.mod);
  if (!model) return failed(common, model.error());
  const auto changed = change(**model);
  if (!changed) return failed(common, changed.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return sayPreparation(common, *open, o.model, *changed);
}

int addStep(const Common& common, const StepOptions& o) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const StepKind* kind, knownKind(o.kind));
    Json values = Json::object();
    RAKUGO_TRY(takeValues(*kind, o.values, values));
    mod::StepDoc step = prepare::makeStep(doc, kind->id, std::move(values));
    std::string id = step.id;
    const size_t place = std::min(o.place - 1, doc.steps.size());
    if (o.place == 0)
      prepare::insertByRank(doc, std::move(step));
    else
      doc.steps.insert(doc.steps.begin() + static_cast<std::ptrdiff_t>(place), std::move(step));
    return id;
  });
}

int setStep(const Common& common, const StepOptions& o) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const size_t place, stepPlace(doc, o.step));
    RAKUGO_ASSIGN(const StepKind* kind, knownKind(doc.steps[place].kind));
    RAKUGO_TRY(takeValues(*kind, o.values, doc.steps[place].values));
    return doc.steps[place].id;
  });
}

int moveStep(const Common& common, const StepOptions& o) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const size_t from, stepPlace(doc, o.step));
    mod::StepDoc step = doc.steps[from];
    doc.steps.erase(doc.steps.begin() + static_cast<std::ptrdiff_t>(from));
    const size_t to = std::min(o.place - 1, doc.steps.size());
    doc.steps.insert(doc.steps.begin() + static_cast<std::ptrdiff_t>(to), std::move(step));
    return std::string();
  });
}

int switchStep(const Common& common, const StepOptions& o, bool on) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const size_t place, stepPlace(doc, o.step));
    doc.steps[place].enabled = on;
    return doc.steps[place].id;
  });
}

int noteStep(const Common& common, const StepOptions& o) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const size_t place, stepPlace(doc, o.step));
    doc.steps[place].note = o.note;
    return doc.steps[place].id;
  });
}

int removeStep(const Common& common, const StepOptions& o) {
  return editSteps(common, o, [&](mod::ModelDoc& doc) -> base::Result<std::string> {
    RAKUGO_ASSIGN(const size_t place, stepPlace(doc, o.step));
    doc.steps.erase(doc.steps.begin() + static_cast<std::ptrdiff_t>(place));
    return std::string();
  });
}

int listSteps(const Common& common, const StepOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto model = named(open->state.models, o.model, "model", "model.unknown", o.mod);
  return model ? sayPreparation(common, *open, o.model) : failed(common, model.error());
}

int stepKindsOf(const Common& common, bool markdown) {
  if (markdown) {
    say("{}", prepare::stepsMarkdown());
    return kGood;
  }
  Json list = Json::array();
  std::string text;
  for (const StepKind& kind : prepare::stepKinds()) {
    Json parameters = Json::array();
    text += fmt::format("{:18} {}\n", kind.id, kind.title);
    for (const prepare::Parameter& p : kind.parameters) {
      parameters.push_back(Json{{"key", p.key}, {"what", rangeText(p)}, {"initial", p.initial}});
      text += fmt::format("    {}: {}{}\n", p.key, rangeText(p), p.optional ? "; may be left out" : "");
    }
    list.push_back(Json{{"id", kind.id},
                        {"title", kind.title},
                        {"group", prepare::groupTitle(kind.group)},
                        {"about", kind.about},
                        {"values", parameters}});
  }
  return said(common, list, text);
}

}  // namespace

void addStepCommands(Tool& tool) {
  const auto o = std::make_shared<StepOptions>();
  CLI::App* steps = tool.group("step", "A model's preparation: its steps, one by one");
  const auto command = [&](const char* name, const char* help) {
    CLI::App* sub = tool.command(name, help, steps);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    sub->add_option("MODEL", o->model, "The model's name in the mod")->required();
    return sub;
  };
  const auto one = [&](const char* name, const char* help) {
    CLI::App* sub = command(name, help);
    sub->add_option("STEP", o->step, "The step's id, or its number")->required();
    return sub;
  };
  const char* pairs = "KEY=VALUE; \"rakugo-tool step kinds\" says which there are";
  CLI::App* sub = command("list", "The steps as sentences, and what each did");
  tool.runs(sub, [o](const Common& common) { return listSteps(common, *o); });
  sub = command("add", "Add a step where its kind belongs, or at a place");
  sub->add_option("KIND", o->kind, "What the step does")->required();
  sub->add_option("VALUES", o->values, pairs);
  sub->add_option("--at", o->place, "Its number among the steps")->check(CLI::Range(1, 100000));
  tool.runs(sub, [o](const Common& common) { return addStep(common, *o); });
  sub = one("set", "Change values of a step");
  sub->add_option("VALUES", o->values, pairs)->required();
  tool.runs(sub, [o](const Common& common) { return setStep(common, *o); });
  sub = one("move", "Put a step at another place");
  sub->add_option("NUMBER", o->place, "Its number among the steps")->required()->check(CLI::Range(1, 100000));
  tool.runs(sub, [o](const Common& common) { return moveStep(common, *o); });
  sub = one("off", "Switch a step off; it stays in its place");
  tool.runs(sub, [o](const Common& common) { return switchStep(common, *o, false); });
  sub = one("on", "Switch a step on again");
  tool.runs(sub, [o](const Common& common) { return switchStep(common, *o, true); });
  sub = one("note", "Write a note of one's own on a step; an empty one takes it away");
  sub->add_option("TEXT", o->note, "The note")->required();
  tool.runs(sub, [o](const Common& common) { return noteStep(common, *o); });
  sub = one("remove", "Remove a step");
  tool.runs(sub, [o](const Common& common) { return removeStep(common, *o); });
  sub = tool.command("kinds", "Every kind of step and its values", steps);
  sub->add_flag("--markdown", o->markdown, "As the table in docs/mod-folder.md");
  tool.runs(sub, [o](const Common& common) { return stepKindsOf(common, o->markdown); });
}

}  // namespace rakugo::tool
