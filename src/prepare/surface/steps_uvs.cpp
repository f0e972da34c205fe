// Steps on texture coordinates as a whole.
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/steps.h"
#include "prepare/surface/make_uvs.h"

namespace rakugo::prepare {
namespace {

StepOutcome applyMakeUvs(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = base::textOf(values, "part");
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!key.empty() && (!part.valid() || !model.node(part).mesh.valid())) return missed(goneText("part", key));
  UvOptions options;
  if (part.valid()) options.only = model.node(part).mesh;
  options.missing_only = base::textOf(values, "which") == "missing";
  options.set = base::textOf(values, "set") == "second" ? 1 : 0;
  options.side = static_cast<uint32_t>(numberValue(values, "side", 1024));
  options.margin = static_cast<uint32_t>(numberValue(values, "margin", 4));
  options.texels_per_m = numberValue(values, "texels_per_m", 0);
  const auto report = makeUvs(model, options, context.progress);
  StepOutcome out;
  if (!report) {
    // Nothing that lacks any is what the step is for.
    if (report.error().code == "uvs.none" && options.missing_only) {
      out.did = base::phrase("none left");
      return out;
    }
    return missed(report.error().message);
  }
  out.did = base::phrase(
      "{0} islands, {1} pixels to a metre, areas stretched by {2} at most nearly everywhere, {3} % filled",
      report->islands, base::numberText(report->texels_per_m, 0), base::numberText(report->stretch_95, 2),
      base::numberText(report->filled * 100, 0));
  return out;
}

}  // namespace

std::vector<StepKind> uvSteps() {
  return {
      {"make_uvs",
       "Make UVs",
       StepGroup::surface,
       30,
       "Make {which} UVs of {part}, the {set} set, for pictures of {side} pixels with margins of {margin}, "
       "at "
       "{texels_per_m} pixels to a metre",
       {choiceParameter("which", "which", {{"missing", "missing"}, {"all", "all"}}),
        referenceParameter("part", "part", ParameterType::any_part),
        choiceParameter("set", "set", {{"first", "first"}, {"second", "second"}})
            .means("The second is for baked light."),
        countParameter("side", "side of the pictures", 1024).between(16, 16384),
        countParameter("margin", "margin", 4).between(0, 64),
        numberParameter("texels_per_m", "density", 0)
            .between(0, 100'000)
            .shown(0)
            .means("0: as many as fit.")},
       applyMakeUvs,
       "Surfaces are cut into islands that hardly bend, laid flat and packed; those of one material share a "
       "picture. "
       "Nothing overlaps."},
  };
}

}  // namespace rakugo::prepare
