// A step by which a model is another version of one of the mod's models.
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

StepOutcome applyAsModel(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string name = base::textOf(values, "model");
  if (name.empty()) return missed(base::phrase("No model is named."));
  if (context.donor == nullptr)
    return missed(base::phrase("{0} is not there, cannot be read, or is itself made from this model.",
                               base::presentable(name, 60)));
  // What the step before has read lengths as or turned says nothing of what comes instead.
  model = *context.donor;
  if (base::textOf(values, "lighter") != "with")
    for (const scene::NodeIndex i : scene::reachedNodes(model)) model.node(i).lighter.clear();
  return {};
}

}  // namespace

std::vector<StepKind> otherModelSteps() {
  return {
      {"as_model",
       "Begin as another model",
       StepGroup::parts,
       -1,
       "Begin as {model} is when prepared, {lighter} its lighter versions",
       {referenceParameter("model", "model", ParameterType::model),
        choiceParameter("lighter", "lighter versions", {{"without", "without"}, {"with", "with"}})},
       applyAsModel,
       "The model then follows the other through every change: a carried version, another colour. Its own "
       "source is not used."}};
}

}  // namespace rakugo::prepare
