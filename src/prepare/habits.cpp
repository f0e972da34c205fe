#include "prepare/habits.h"

#include <algorithm>

#include "base/files.h"
#include "base/json.h"
#include "base/places.h"
#include "base/text.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;
namespace {

using base::Json;

constexpr int kFormat = 1;
constexpr size_t kMostHabits = 200;

fs::path fileOf(const fs::path& folder, const std::string& name) {
  return folder / (base::slug(name) + ".habit.json");
}

}  // namespace

std::vector<mod::StepDoc> portableSteps(const std::vector<mod::StepDoc>& steps) {
  std::vector<mod::StepDoc> out;
  for (const mod::StepDoc& step : steps) {
    const StepKind* kind = findStepKind(step.kind);
    if (kind != nullptr && !needsPick(*kind)) out.push_back(step);
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

std::vector<Habit> loadHabits(const fs::path& folder) {
  std::vector<Habit> out;
  std::error_code error;
  for (fs::directory_iterator at(folder, error), end; !error && at != end && out.size() < kMostHabits;
       at.increment(error)) {
    const std::string name = at->path().filename().string();
    if (!name.ends_with(".habit.json")) continue;
    const auto bytes = base::readFile(at->path(), base::Limits{}.json_bytes);
    if (!bytes) continue;
    const auto json = base::parseJson(base::asText(*bytes), at->path().string());
    if (!json || !json->is_object()) continue;
    // The steps are read as those of a model are.
    std::vector<base::Error> complaints;
    const Json model{
        {"format", mod::kFormat}, {"source", "s"}, {"steps", json->value("steps", Json::array())}};
    const mod::ModelDoc doc = mod::modelFrom(model, at->path().string(), complaints);
    const auto text = [&](const char* key) {
      return json->contains(key) && (*json)[key].is_string()
                 ? base::presentable((*json)[key].get<std::string>(), 80)
                 : std::string();
    };
    Habit habit{text("name"), text("rulebook"), doc.steps, {}};
    if (json->contains("bones") && (*json)["bones"].is_array())
      for (const Json& bone : (*json)["bones"])
        if (bone.is_string()) habit.bones.push_back(bone.get<std::string>());
    const Json format = json->value("format", Json());
    if (!complaints.empty() || habit.name.empty() || !format.is_number_integer() || format != kFormat)
      continue;
    out.push_back(std::move(habit));
  }
  std::sort(out.begin(), out.end(), [](const Habit& a, const Habit& b) { return a.name < b.name; });
  return out;
}

base::Status saveHabit(const fs::path& folder, const Habit& habit) {
  if (habit.name != base::presentable(habit.name, 80) ||
      habit.name.find_first_not_of(' ') == std::string::npos)
    return base::Error{"habit.name", "A habit needs a name of at most 80 letters.", {}, {}};
  mod::ModelDoc doc;
  doc.source = "s";
  doc.steps = habit.steps;
  Json out{{"format", kFormat},
           {"name", habit.name},
           {"rulebook", habit.rulebook},
           {"steps", mod::toJson(doc).value("steps", Json::array())}};
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
