// What the effects of steps share: values out of JSON, and outcomes.
#include <cmath>
#include <glm/gtc/constants.hpp>

#include "base/text.h"
#include "prepare/steps.h"

namespace rakugo::prepare {

double numberValue(const base::Json& values, const char* key, double fallback) {
  const base::Json* member = base::memberOf(values, key);
  if (member == nullptr || !member->is_number()) return fallback;
  const auto value = member->get<double>();
  return std::isfinite(value) ? value : fallback;
}

std::optional<glm::vec3> pointValue(const base::Json& values, const char* key) {
  const base::Json* value = base::memberOf(values, key);
  if (value == nullptr || !value->is_array() || value->size() != 3) return std::nullopt;
  glm::vec3 out(0);
  for (int i = 0; i < 3; ++i) {
    const base::Json& one = (*value)[static_cast<size_t>(i)];
    if (!one.is_number() || !std::isfinite(one.get<float>())) return std::nullopt;
    out[i] = one.get<float>();
  }
  return out;
}

std::vector<std::string> listValue(const base::Json& values, const char* key) {
  std::vector<std::string> out;
  const base::Json* value = base::memberOf(values, key);
  if (value != nullptr && value->is_array())
    for (const base::Json& one : *value)
      if (one.is_string()) out.push_back(one.get<std::string>());
  return out;
}

float radians(double degrees) { return static_cast<float>(degrees * glm::pi<double>() / 180); }

StepOutcome missed(std::string why) { return {StepState::missed, {std::move(why)}, {}}; }

StepOutcome wrongValues(const std::string& why) { return {StepState::wrong, {why}, {}}; }

std::string goneText(const char* what, const std::string& key) {
  return std::string("The ") + what + " \"" + base::presentable(key, 60) + "\" is not in the model any more.";
}

StepOutcome finished(StepOutcome out, uint64_t done) {
  if (!out.misses.empty()) out.state = done > 0 ? StepState::partly : StepState::missed;
  return out;
}

const rulebook::Skeleton* skeletonOf(const base::Json& values, const StepContext& context) {
  const std::string id = base::textOf(values, "skeleton");
  if (!id.empty()) return context.book->findSkeleton(id);
  return context.book->skeletons.empty() ? nullptr : &context.book->skeletons.front();
}

}  // namespace rakugo::prepare
