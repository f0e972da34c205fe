// Steps on parts, materials and pictures.
#include <algorithm>

#include "base/text.h"
#include "prepare/part_ops.h"
#include "prepare/space_ops.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

std::string missing(const char* what, const std::string& key) {
  return std::string("The ") + what + " \"" + base::presentable(key, 60) + "\" is not in the model any more.";
}

}  // namespace

StepOutcome applyDrop(scene::Model& model, const base::Json& values, const StepContext&) {
  if (!values.contains("parts") || !values["parts"].is_array())
    return wrongValues("The step names no parts.");
  const std::vector<bool> held = heldInPlace(model);
  StepOutcome out;
  size_t dropped = 0;
  for (const base::Json& one : values["parts"]) {
    if (!one.is_string()) return wrongValues("A part is named by a text.");
    const auto key = one.get<std::string>();
    const scene::NodeIndex part = scene::findPart(model, key);
    if (!part.valid()) {
      out.misses.push_back(missing("part", key));
    } else if (held[part.value()]) {
      out.misses.push_back("The part \"" + model.node(part).name + "\" is a bone or moves one, and stays.");
    } else {
      // A part that went with its parent counts as dropped.
      if (isReached(model, part)) unlinkPart(model, part);
      ++dropped;
    }
  }
  out.did = base::countText(dropped, "part", "parts");
  if (!out.misses.empty()) out.state = dropped > 0 ? StepState::partly : StepState::missed;
  return out;
}

StepOutcome applyRename(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::string key = textValue(values, "part"), name = textValue(values, "name");
  if (name.empty()) return wrongValues("A name must not be empty.");
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!part.valid() || !isReached(model, part)) return missed(missing("part", key));
  model.node(part).name = name;
  return {};
}

StepOutcome applyRole(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = textValue(values, "material"), role = textValue(values, "role");
  const scene::MaterialIndex material = scene::findMaterial(model, key);
  if (!material.valid()) return missed(missing("material", key));
  const bool known = std::any_of(context.book->kinds.begin(), context.book->kinds.end(),
                                 [&](const rulebook::Kind& k) { return k.findRole(role) != nullptr; });
  if (!known) return wrongValues("The rulebook has no role \"" + base::presentable(role, 40) + "\".");
  model.materials[material.value()].role = role;
  return {};
}

StepOutcome applyRegion(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = textValue(values, "part"), region = textValue(values, "region");
  const scene::NodeIndex part = scene::findPart(model, key);
  if (!part.valid()) return missed(missing("part", key));
  const bool known = std::any_of(context.book->kinds.begin(), context.book->kinds.end(),
                                 [&](const rulebook::Kind& k) { return k.findRegion(region) != nullptr; });
  if (!known) return wrongValues("The rulebook has no region \"" + base::presentable(region, 40) + "\".");
  model.node(part).region = region;
  return {};
}

StepOutcome applyUsePicture(scene::Model& model, const base::Json& values, const StepContext& context) {
  const std::string picture = textValue(values, "picture"), file = textValue(values, "file");
  const auto image = std::find_if(model.images.begin(), model.images.end(),
                                  [&](const scene::Image& i) { return i.uri == picture; });
  if (image == model.images.end()) return missed(missing("picture", picture));
  if (!context.fetch) return missed("The source's folder cannot be read.");
  auto bytes = context.fetch(file);
  if (!bytes)
    return {StepState::missed,
            {"The file \"" + base::presentable(file, 60) + "\" cannot be read: " + bytes.error().message},
            {}};
  image->bytes = std::make_shared<const base::Bytes>(std::move(bytes).value());
  image->mime.clear();
  return {};
}

}  // namespace rakugo::prepare
