#include "prepare/matching/families.h"

#include <algorithm>
#include <map>
#include <set>

#include "prepare/step.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;

constexpr double kSameFamily = 0.8;

// The last part of a key: the name that the bone has in its file.
std::string nameOf(const std::string& key) { return key.substr(key.rfind('/') + 1); }

std::set<std::string> namesOf(const std::vector<std::string>& keys) {
  std::set<std::string> out;
  for (const std::string& key : keys) out.insert(nameOf(key));
  return out;
}

std::vector<std::string> without(const std::set<std::string>& a, const std::set<std::string>& b) {
  std::vector<std::string> out;
  std::set_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(out));
  return out;
}

}  // namespace

std::vector<std::string> boneKeys(const scene::Model& source) {
  std::vector<std::string> out;
  const std::vector<bool> bones = scene::boneNodes(source);
  for (const scene::NodeIndex i : scene::reachedNodes(source))
    if (bones[i.value()]) out.push_back(source.node(i).key);
  std::sort(out.begin(), out.end());
  return out;
}

std::optional<FamilyFit> familyOf(const scene::Model& source, const std::vector<Habit>& habits,
                                  const std::string& rulebook) {
  const std::set<std::string> own = namesOf(boneKeys(source));
  std::optional<FamilyFit> best;
  if (own.empty()) return best;
  for (size_t i = 0; i < habits.size(); ++i) {
    if (habits[i].bones.empty() || habits[i].rulebook != rulebook) continue;
    const std::set<std::string> theirs = namesOf(habits[i].bones);
    FamilyFit fit{i, 0, without(theirs, own), without(own, theirs)};
    const auto both = static_cast<double>(theirs.size() - fit.missing.size());
    fit.alike = both / (both + static_cast<double>(fit.missing.size() + fit.extra.size()));
    if (fit.alike >= kSameFamily && (!best || fit.alike > best->alike)) best = std::move(fit);
  }
  return best;
}

std::vector<mod::StepDoc> stepsFor(const Habit& habit, const scene::Model& source) {
  std::map<std::string, std::string> own;  // by name
  for (const std::string& key : boneKeys(source)) own.emplace(nameOf(key), key);
  const std::set<std::string> known(habit.bones.begin(), habit.bones.end());
  // The source's key for one of the habit's; empty: it has no such bone. What is no bone stays.
  const auto translated = [&](const Json& value) -> Json {
    if (!value.is_string() || known.count(value.get<std::string>()) == 0) return value;
    const auto found = own.find(nameOf(value.get<std::string>()));
    return found != own.end() ? Json(found->second) : Json();
  };
  // A list loses what is not there; a single bone stays, and the step says what it misses.
  const auto follow = [&](Json& value) {
    if (value.is_string())
      if (const Json to = translated(value); !to.is_null()) value = to;
    if (!value.is_array() && !value.is_object()) return;
    Json kept = value.is_array() ? Json::array() : Json::object();
    for (const auto& [name, one] : value.items()) {
      const Json to = translated(one);
      if (to.is_null()) continue;
      if (value.is_array())
        kept.push_back(to);
      else
        kept[name] = to;
    }
    value = std::move(kept);
  };
  std::vector<mod::StepDoc> out;
  for (mod::StepDoc step : habit.steps) {
    const StepKind* kind = findStepKind(step.kind);
    for (const Parameter& p : kind != nullptr ? kind->parameters : std::vector<Parameter>{})
      if (referenceOf(p.type) == Reference::bone && step.values.contains(p.key)) follow(step.values[p.key]);
    out.push_back(std::move(step));
  }
  return out;
}

}  // namespace rakugo::prepare
