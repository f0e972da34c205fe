// The functions behind the table of steps. Internal to prepare.
#pragma once

#include <optional>

#include "prepare/step.h"

namespace rakugo::prepare {

StepOutcome applyReadLengths(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyTurn(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRotate(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyScale(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyStretch(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyNameBones(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyAddBones(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyHangBones(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyDropBones(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMendWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyGamePose(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyStraightenBones(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyFirstWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySmoothWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMirrorWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyCopyWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyGiveToBone(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyDropLooseWeights(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyTurnBone(scene::Model& model, const base::Json& values, const StepContext& context);
/// The skeleton that a step's values name; the first of the rulebook's when they name none; null: there is
/// no such one.
const rulebook::Skeleton* skeletonOf(const base::Json& values, const StepContext& context);
StepOutcome applyOrigin(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyBake(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyDrop(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRename(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRole(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRegion(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyUsePicture(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveDegenerate(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMakeNormals(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyWeld(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveDuplicates(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyFillHoles(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyOrient(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveUnused(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySimplify(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMakeLighter(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyDissolve(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveNeedles(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveSpecks(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRemoveHidden(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMakeTangents(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMovePicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyTurnPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyScalePicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyBendPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyFlattenPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySnapPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySplitPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRegionPicked(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRegionMaterial(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyHandOver(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyRegionNearest(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySnapSeam(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyOrderRegions(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyLikeFirst(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyKeep(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applySplit(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyJoin(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyDuplicate(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyPivot(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyMirror(scene::Model& model, const base::Json& values, const StepContext& context);
StepOutcome applyFree(scene::Model& model, const base::Json& values, const StepContext& context);

/// A text value, or "".
std::string textValue(const base::Json& values, const char* key);
/// A finite number, or the fallback.
double numberValue(const base::Json& values, const char* key, double fallback);
/// Three finite numbers, or nothing.
std::optional<glm::vec3> pointValue(const base::Json& values, const char* key);
/// An outcome of a step that found nothing to do, and why.
StepOutcome missed(std::string why);
/// An outcome that says the values cannot be used.
StepOutcome wrongValues(const std::string& why);

}  // namespace rakugo::prepare
