#include "prepare/habits.h"

#include <algorithm>

#include "base/files.h"
#include "base/json.h"
#include "base/phrase.h"
#include "base/places.h"
#include "base/text.h"
#include "mod/step_documents.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;
namespace {

using base::Json;

constexpr size_t kMostHabits = 200;

fs::path fileOf(const fs::path& folder, const std::string& name) {
  return folder / (base::slug(name) + ".habit.json");
}

// Places that were picked and models of the mod mean nothing to another mod.
bool meansSomethingElsewhere(const StepKind& kind, const Json& values) {
  if (needsPick(kind)) return false;
  return std::none_of(kind.parameters.begin(), kind.parameters.end(), [&](const Parameter& p) {
    if (p.type == ParameterType::model) return !base::textOf(values, p.key.c_str()).empty();
    const Json* pick = p.type == ParameterType::pick ? base::memberOf(values, p.key.c_str()) : nullptr;
    return pick != nullptr && pick->is_object() && !pick->empty();
  });
}

}  // namespace

std::vector<mod::StepDoc> portableSteps(const std::vector<mod::StepDoc>& steps) {
  std::vector<mod::StepDoc> out;
  for (const mod::StepDoc& step : steps) {
    const StepKind* kind = findStepKind(step.kind);
    if (kind != nullptr && meansSomethingElsewhere(*kind, step.values)) out.push_back(step);
  }
  return out;
}

size_t addSteps(mod::ModelDoc& doc, const std::vector<mod::StepDoc>& steps) {
  size_t added = 0;
  for (const mod::StepDoc& step : steps) {
    const bool there = std::any_of(doc.steps.begin(), doc.steps.end(), [&](const mod::StepDoc& one) {
      return one.kind == step.kind && one.values == step.values;
    });
    if (there) continue;
    mod::StepDoc own = step;
    own.id = mod::freshStepId(doc);
    insertByRank(doc, std::move(own));
    ++added;
  }
  return added;
}

fs::path habitsFolder() { return base::dataHome() / "rakugo" / "habits"; }

base::Result<Habit> habitFrom(const Json& json, const std::string& file) {
  std::vector<base::Error> complaints;
  base::JsonFields in(json, file, "", complaints);
  const int64_t format = in.integer("format");
  if (format < 1 || format > mod::kStepsFormat)
    in.complain("habit.unknown", base::phrase("This habit is of another format."), "format");
  Habit habit;
  habit.name = base::presentable(in.requiredText("name"), 80);
  habit.rulebook = base::presentable(in.text("rulebook"), 80);
  habit.steps = mod::stepsFrom(in, format);
  habit.bones = in.texts("bones");
  if (!complaints.empty()) return complaints.front();
  return habit;
}

std::vector<Habit> loadHabits(const fs::path& folder) {
  std::vector<Habit> out;
  std::error_code error;
  for (fs::directory_iterator at(folder, error), end; !error && at != end && out.size() < kMostHabits;
       at.increment(error)) {
    if (!at->path().filename().string().ends_with(".habit.json")) continue;
    const auto bytes = base::readFile(at->path(), base::Limits{}.json_bytes);
    if (!bytes) continue;
    const auto json = base::parseJson(base::asText(*bytes), at->path().string());
    if (!json) continue;
    if (auto habit = habitFrom(*json, at->path().string())) out.push_back(std::move(habit).value());
  }
  std::sort(out.begin(), out.end(), [](const Habit& a, const Habit& b) { return a.name < b.name; });
  return out;
}

base::Status saveHabit(const fs::path& folder, const Habit& habit) {
  if (habit.name != base::presentable(habit.name, 80) ||
      habit.name.find_first_not_of(' ') == std::string::npos)
    return base::Error{"habit.name", base::phrase("A habit needs a name of at most 80 letters."), {}, {}};
  Json out{{"format", mod::kStepsFormat},
           {"name", habit.name},
           {"rulebook", habit.rulebook},
           {"steps", mod::stepsJson(habit.steps)}};
  if (!habit.bones.empty()) out["bones"] = habit.bones;
  if (const base::Status made = base::makeFolder(folder); !made) return made;
  return base::writeFileAtomic(fileOf(folder, habit.name), base::jsonText(out));
}

base::Status forgetHabit(const fs::path& folder, const std::string& name) {
  std::error_code error;
  fs::remove(fileOf(folder, name), error);
  return {};
}

}  // namespace rakugo::prepare
