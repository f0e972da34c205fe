// The functions behind the table, and what they share. Internal to check.
#pragma once

#include "base/phrase.h"
#include "check/context.h"

namespace rakugo::check {

using Findings = std::vector<Finding>;
using base::counted;
using base::phrase;

std::vector<CheckRow> boneChecks();
std::vector<CheckRow> carriedChecks();
std::vector<CheckRow> documentChecks();
std::vector<CheckRow> materialChecks();
std::vector<CheckRow> meshChecks();
std::vector<CheckRow> modChecks();
std::vector<CheckRow> motionChecks();
std::vector<CheckRow> outfitChecks();
std::vector<CheckRow> lampChecks();
std::vector<CheckRow> movingChecks();
std::vector<CheckRow> textChecks();
std::vector<CheckRow> listChecks();
std::vector<CheckRow> soundChecks();
std::vector<CheckRow> pieceChecks();
std::vector<CheckRow> derivedChecks();
std::vector<CheckRow> pointChecks();
std::vector<CheckRow> ruleChecks();
std::vector<CheckRow> spaceChecks();
std::vector<CheckRow> structureChecks();
std::vector<CheckRow> surfaceChecks();

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
