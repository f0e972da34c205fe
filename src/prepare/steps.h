// The rows that stand beside their effects, file by file, and what those effects share. Internal to prepare.
#pragma once

#include <glm/glm.hpp>
#include <optional>

#include "prepare/step.h"

namespace rakugo::prepare {

std::vector<StepKind> spaceSteps();
std::vector<StepKind> partSteps();
std::vector<StepKind> otherModelSteps();
std::vector<StepKind> assemblySteps();
std::vector<StepKind> meshSteps();
std::vector<StepKind> structureSteps();
std::vector<StepKind> lighterSteps();
std::vector<StepKind> pickedSteps();
std::vector<StepKind> boneSteps();
std::vector<StepKind> weightSteps();
std::vector<StepKind> regionSteps();
std::vector<StepKind> outfitSteps();
std::vector<StepKind> materialSteps();
std::vector<StepKind> pictureSteps();
std::vector<StepKind> uvSteps();

/// The skeleton that a step's values name; the first of the rulebook's when they name none; null: there is
/// no such one.
const rulebook::Skeleton* skeletonOf(const base::Json& values, const StepContext& context);
/// A finite number, or the fallback.
double numberValue(const base::Json& values, const char* key, double fallback);
/// Three finite numbers, or nothing.
std::optional<glm::vec3> pointValue(const base::Json& values, const char* key);
/// The texts of a list value; others are left out.
std::vector<std::string> listValue(const base::Json& values, const char* key);
/// Degrees as radians, as models count them.
float radians(double degrees);
/// An outcome of a step that found nothing to do, and why.
StepOutcome missed(std::string why);
/// An outcome that says the values cannot be used together.
StepOutcome wrongValues(const std::string& why);
/// "The part "hull/oar" is not in the model any more."
std::string goneText(const char* what, const std::string& key);
/// The outcome with its state by its misses: partly where something was done, missed where nothing was.
StepOutcome finished(StepOutcome out, uint64_t done);

}  // namespace rakugo::prepare
