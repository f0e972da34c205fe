// The functions behind the table, and what they share. Internal to check.
#pragma once

#include "check/context.h"

namespace rakugo::check {

using Findings = std::vector<Finding>;

void checkBonesUnequal(const Context&, const CheckRow&, Findings&);
void checkBonesBend(const Context&, const CheckRow&, Findings&);
void checkBonesFloor(const Context&, const CheckRow&, Findings&);
void checkBonesAim(const Context&, const CheckRow&, Findings&);
void checkBonesGone(const Context&, const CheckRow&, Findings&);
void checkTracks(const Context&, const CheckRow&, Findings&);
void checkSkinFaults(const Context&, const CheckRow&, Findings&);
void checkStrayWeights(const Context&, const CheckRow&, Findings&);
void checkLopsidedWeights(const Context&, const CheckRow&, Findings&);
void checkSourceReadable(const Context&, const CheckRow&, Findings&);
void checkSourceChanged(const Context&, const CheckRow&, Findings&);
void checkSourceLeftOut(const Context&, const CheckRow&, Findings&);
void checkNotCarried(const Context&, const CheckRow&, Findings&);
void checkStepFits(const Context&, const CheckRow&, Findings&);
void checkStepRecovered(const Context&, const CheckRow&, Findings&);
void checkUnknownKeys(const Context&, const CheckRow&, Findings&);
void checkUnit(const Context&, const CheckRow&, Findings&);
void checkSize(const Context&, const CheckRow&, Findings&);
void checkReach(const Context&, const CheckRow&, Findings&);
void checkAxes(const Context&, const CheckRow&, Findings&);
void checkFacing(const Context&, const CheckRow&, Findings&);
void checkOrigin(const Context&, const CheckRow&, Findings&);
void checkBaked(const Context&, const CheckRow&, Findings&);
void checkTriangleLimit(const Context&, const CheckRow&, Findings&);
void checkLighter(const Context&, const CheckRow&, Findings&);
void checkPartTriangles(const Context&, const CheckRow&, Findings&);
void checkIndices(const Context&, const CheckRow&, Findings&);
void checkVertexLimit(const Context&, const CheckRow&, Findings&);
void checkNoSurface(const Context&, const CheckRow&, Findings&);
void checkNotFinite(const Context&, const CheckRow&, Findings&);
void checkRegionSurplus(const Context&, const CheckRow&, Findings&);
void checkRegionOrder(const Context&, const CheckRow&, Findings&);
void checkSeams(const Context&, const CheckRow&, Findings&);
void checkVariants(const Context&, const CheckRow&, Findings&);
void checkVariantMissing(const Context&, const CheckRow&, Findings&);
void checkPartNames(const Context&, const CheckRow&, Findings&);
void checkTexelDensity(const Context&, const CheckRow&, Findings&);
/// The sort of fault of meshes that the row's id names in the table of `structure_faults.h`, with the steps
/// that mend it.
void checkFault(const Context&, const CheckRow&, Findings&);
void checkTangents(const Context&, const CheckRow&, Findings&);
void checkUvs(const Context&, const CheckRow&, Findings&);
void checkNoTriangles(const Context&, const CheckRow&, Findings&);
void checkPictureMissing(const Context&, const CheckRow&, Findings&);
void checkPictureDamaged(const Context&, const CheckRow&, Findings&);
void checkPictureSize(const Context&, const CheckRow&, Findings&);
void checkRoles(const Context&, const CheckRow&, Findings&);
void checkRoleUnknown(const Context&, const CheckRow&, Findings&);
void checkStray(const Context&, const CheckRow&, Findings&);
void checkObjects(const Context&, const CheckRow&, Findings&);
void checkObjectKind(const Context&, const CheckRow&, Findings&);
void checkObjectSameId(const Context&, const CheckRow&, Findings&);
void checkObjectPieces(const Context&, const CheckRow&, Findings&);
void checkFieldEmpty(const Context&, const CheckRow&, Findings&);
void checkFieldLimits(const Context&, const CheckRow&, Findings&);
void checkPoints(const Context&, const CheckRow&, Findings&);
void checkIconMissing(const Context&, const CheckRow&, Findings&);
void checkIconSize(const Context&, const CheckRow&, Findings&);
void checkFileMissing(const Context&, const CheckRow&, Findings&);
void checkFileUnused(const Context&, const CheckRow&, Findings&);
void checkCredit(const Context& context, const CheckRow& row, Findings& out);
void checkRulebookReadable(const Context&, const CheckRow&, Findings&);
void checkRulebookVersion(const Context&, const CheckRow&, Findings&);
void checkBonesNone(const Context&, const CheckRow&, Findings&);
void checkBonesParent(const Context&, const CheckRow&, Findings&);
void checkBonesSides(const Context&, const CheckRow&, Findings&);
void checkBonesNeedless(const Context&, const CheckRow&, Findings&);
void checkBonesEnds(const Context&, const CheckRow&, Findings&);
void checkBonesPose(const Context&, const CheckRow&, Findings&);
void checkBonesTurned(const Context&, const CheckRow&, Findings&);
void checkWeightSums(const Context&, const CheckRow&, Findings&);
void checkBonesMissing(const Context&, const CheckRow&, Findings&);
void checkBoneLimit(const Context&, const CheckRow&, Findings&);
void checkInfluences(const Context&, const CheckRow&, Findings&);
void checkPartLimit(const Context&, const CheckRow&, Findings&);
void checkMaterialLimit(const Context&, const CheckRow&, Findings&);
void checkGrid(const Context&, const CheckRow&, Findings&);
void checkRegions(const Context&, const CheckRow&, Findings&);
void checkIdTaken(const Context&, const CheckRow&, Findings&);
void checkDefinedTwice(const Context&, const CheckRow&, Findings&);
void checkModCard(const Context&, const CheckRow&, Findings&);

/// A finding of that row about a model, with the rulebook's reason where it has one.
Finding begin(const Context& context, const CheckRow& row, std::string sentence);
/// The same with the model as its place.
Finding aboutModel(const Context& context, const CheckRow& row, const std::string& model,
                   std::string sentence);
/// Extents of a prepared model along the game's forward, side and up; metres.
glm::vec3 extentsOf(const ModelState& state, const Context& context);
/// What an object is made of, over all its pieces; a model that is placed twice counts twice.
struct ObjectCounts {
  uint64_t triangles = 0, vertices = 0, parts = 0;
  size_t materials = 0;             ///< of each model once; what wears none counts as one
  std::vector<std::string> models;  ///< names, each once, in the order of the pieces
};
ObjectCounts objectCounts(const Context& context, const mod::ObjectDoc& object);
/// Counts of one model as an object of a single piece has them.
ObjectCounts modelCounts(const scene::Model& model);
/// Whether a rule with such a condition holds for any of the objects that the state stands for; always when
/// there are none.
bool holdsForAny(const Context& context, const ModelState& state, const rulebook::Condition& when);
/// Calls body(name, doc, state) for every model whose source could be read; where objects of several kinds
/// use it, once for each kind. Findings that come out alike are said once.
void eachModel(const Context& context,
               const std::function<void(const std::string&, const mod::ModelDoc&, const ModelState&)>& body);
/// Calls body(name, doc, state, kind) for every model that an object of a known kind uses.
template <class Body>
void eachKindModel(const Context& context, const Body& body) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state) {
    if (state.kind != nullptr) body(name, doc, state, *state.kind);
  });
}
/// A limit that a model is over: one finding with measured and expected value. 0 or less: no limit.
void overLimit(const Context& context, const CheckRow& row, Findings& out, const std::string& name,
               int64_t most, uint64_t count, const char* one, const char* many);
/// The same for what an object has in all its pieces, where none of its models alone is over the limit.
void overLimitTogether(const Context& context, const CheckRow& row, Findings& out,
                       int64_t rulebook::Kind::*limit,
                       const std::function<uint64_t(const ObjectCounts&)>& count, const char* one,
                       const char* many);
/// A mend that adds a step by rank.
Mend stepMend(const std::string& model, const std::string& kind, base::Json values, std::string label);
/// The same, but changing the first enabled step of that kind when there is one.
Mend stepOrEditMend(const std::string& model, const std::string& kind, base::Json values, std::string label);

}  // namespace rakugo::check
