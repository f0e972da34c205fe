// Steps on parts, materials and pictures.
#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/parts/part_ops.h"
#include "prepare/space/space_ops.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

StepOutcome applyDrop(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::vector<bool> held = heldInPlace(model);
  StepOutcome out;
  size_t dropped = 0;
  for (const std::string& key : listValue(values, "parts")) {
    const scene::NodeIndex part = scene::findPart(model, key);
    if (!part.valid()) {
      out.misses.push_back(goneText("part", key));
    } else if (held[part.value()]) {
      out.misses.push_back(
          base::phrase("The part \"{0}\" is a bone or moves one, and stays.", model.node(part).name));
    } else {
      // A part that went with its parent counts as dropped.
      if (isReached(model, part)) unlinkPart(model, part);
      ++dropped;
    }
  }
  out.did = base::countText(dropped, "part", "parts");
  return finished(std::move(out), dropped);
}

StepOutcome applyRename(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "part"), name = base::textOf(values, "name");
  if (name.empty()) return wrongValues(base::phrase("A name must not be empty."));
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!part.valid() || !isReached(model, part)) return missed(goneText("part", key));
  model.node(part).name = name;
  return {};
}

StepOutcome applyRole(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = base::textOf(values, "material"), role = base::textOf(values, "role");
  const scene::MaterialIndex material = scene::findMaterial(model, key);
  if (!material.valid()) return missed(goneText("material", key));
  const std::vector<const rulebook::Kind*> kinds = context.book->modelKinds();
  const bool known = std::any_of(kinds.begin(), kinds.end(),
                                 [&](const rulebook::Kind* k) { return k->findRole(role) != nullptr; });
  if (!known)
    return wrongValues(base::phrase("The rulebook has no role \"{0}\".", base::presentable(role, 40)));
  model.materials[material.value()].role = role;
  return {};
}

StepOutcome applyRegion(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = base::textOf(values, "part"), region = base::textOf(values, "region");
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!part.valid()) return missed(goneText("part", key));
  const std::vector<const rulebook::Kind*> kinds = context.book->modelKinds();
  const bool known = std::any_of(kinds.begin(), kinds.end(),
                                 [&](const rulebook::Kind* k) { return k->findRegion(region) != nullptr; });
  if (!known)
    return wrongValues(base::phrase("The rulebook has no region \"{0}\".", base::presentable(region, 40)));
  model.node(part).region = region;
  return {};
}

StepOutcome applyUsePicture(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string picture = base::textOf(values, "picture"), file = base::textOf(values, "file");
  const auto image = std::find_if(model.images.begin(), model.images.end(),
                                  [&](const scene::Image& i) { return i.uri == picture; });
  if (image == model.images.end()) return missed(goneText("picture", picture));
  if (!context.fetch) return missed(base::phrase("The source's folder cannot be read."));
  auto bytes = context.fetch(file);
  if (!bytes)
    return {StepState::missed,
            {base::phrase("The file \"{0}\" cannot be read: {1}", base::presentable(file, 60),
                          bytes.error().message)},
            {}};
  image->bytes = std::make_shared<const base::Bytes>(std::move(bytes).value());
  image->mime.clear();
  return {};
}

}  // namespace

std::vector<StepKind> partSteps() {
  return {
      {"use_picture",
       "Take a picture from",
       StepGroup::surface,
       1,
       "Take the picture {picture} from {file}",
       {referenceParameter("picture", "picture", ParameterType::picture),
        referenceParameter("file", "file", ParameterType::file)},
       applyUsePicture},
      {"drop",
       "Drop parts",
       StepGroup::parts,
       4,
       "Drop {parts}",
       {referenceParameter("parts", "parts", ParameterType::parts)},
       applyDrop},
      {"rename",
       "Rename a part",
       StepGroup::parts,
       9,
       "Call the part {part} from now on {name}",
       {referenceParameter("part", "part", ParameterType::part), textParameter("name", "name")},
       applyRename},
      {"role",
       "Give a role",
       StepGroup::surface,
       41,
       "Give {material} the role {role}",
       {referenceParameter("material", "material", ParameterType::material),
        referenceParameter("role", "role", ParameterType::role)},
       applyRole},
      {"region",
       "Name a region",
       StepGroup::surface,
       43,
       "Let {part} cover the region {region}",
       {referenceParameter("part", "part", ParameterType::part),
        referenceParameter("region", "region", ParameterType::region)},
       applyRegion},
  };
}

}  // namespace rakugo::prepare
