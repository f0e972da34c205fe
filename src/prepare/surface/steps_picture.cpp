// Steps on the pictures of materials. The source's files stay as they are: a newer version goes through the
// same steps.
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/resample.h"
#include "prepare/steps.h"
#include "prepare/surface/picture_change.h"
#include "prepare/surface/surface_values.h"
#include "scene/material_facts.h"

namespace rakugo::prepare {
namespace {

StepOutcome outcomeOf(const base::Status& status) {
  return status ? StepOutcome{} : missed(status.error().message);
}

StepOutcome applyFlipGreen(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values, "normal");
  if (target.outcome) return *target.outcome;
  return outcomeOf(changePicture(model, target.material, target.slot, "flip green", [](formats::Picture& p) {
    for (size_t i = 1; i < p.pixels.size(); i += 4) p.pixels[i] = std::byte{255} ^ p.pixels[i];
  }));
}

StepOutcome applyInvert(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const std::string channel = base::textOf(values, "channel");
  const size_t first = std::string("rgba").find(channel);
  return outcomeOf(
      changePicture(model, target.material, target.slot, "invert " + channel, [&](formats::Picture& p) {
        for (size_t i = first; i < p.pixels.size(); i += 4) p.pixels[i] = std::byte{255} ^ p.pixels[i];
      }));
}

StepOutcome applyResize(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const auto most = static_cast<uint32_t>(numberValue(values, "side", 0));
  const bool powers = base::textOf(values, "sides") == "powers";
  const bool pixels = base::textOf(values, "how") == "pixels";
  const scene::TextureSlot& slot = scene::kTextureSlots[target.slot];
  const formats::PictureUse use = formats::useOf(slot);
  StepOutcome out;
  const std::string what = "resize " + std::to_string(most) + (powers ? " powers" : "") +
                           (pixels ? " pixels" : "") + std::to_string(static_cast<int>(use));
  const base::Status done =
      changePicture(model, target.material, target.slot, what, [&](formats::Picture& p) {
        uint32_t width = p.width, height = p.height;
        // Both sides shrink alike, so that nothing is drawn out.
        if (const uint32_t longest = std::max(width, height); longest > most) {
          const double factor = static_cast<double>(most) / longest;
          width = std::max(1U, static_cast<uint32_t>(std::lround(width * factor)));
          height = std::max(1U, static_cast<uint32_t>(std::lround(height * factor)));
        }
        width = formats::allowedSide(width, most, powers);
        height = formats::allowedSide(height, most, powers);
        if (width == p.width && height == p.height) return;
        p = formats::resized(p, width, height, use,
                             pixels ? formats::Resampling::pixels : formats::Resampling::smooth);
      });
  if (!done) return missed(done.error().message);
  const scene::ImageIndex image = (model.materials[target.material.value()].*slot.use).image;
  if (const auto info = formats::pictureInfo(*model.images[image.value()].bytes, ""))
    out.did = base::phrase("{0} × {1} pixels", info->width, info->height);
  return out;
}

StepOutcome applyMovePicture(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const std::string to = base::textOf(values, "to");
  scene::Material& material = model.materials[target.material.value()];
  scene::TextureUse& from = material.*scene::kTextureSlots[target.slot].use;
  if (!from.image.valid()) return missed(base::phrase("{0} shows no picture there.", material.name));
  const scene::TextureUse moved = std::exchange(from, scene::TextureUse{});
  if (to == kNoSlot) return {};
  const std::optional<size_t> slot = scene::slotOfName(to);
  if (!slot) return wrongValues(base::phrase("Choose where the picture goes."));
  material.*scene::kTextureSlots[*slot].use = moved;
  // A slot whose factor takes its picture away would show nothing.
  if (scene::unseenSlot(material, *slot) == scene::Unseen::no) return {};
  if (scene::kTextureSlots[*slot].use == &scene::Material::emissive_texture) {
    material.emissive = glm::vec3(1);
    material.emissive_strength = std::max(material.emissive_strength, 1.0F);
  } else if (scene::kTextureSlots[*slot].use == &scene::Material::base_color_texture) {
    material.base_color = glm::vec4(glm::vec3(1), material.base_color.w);
  } else if (scene::kTextureSlots[*slot].use == &scene::Material::normal_texture) {
    material.normal_scale = 1;
  } else {
    material.occlusion_strength = 1;
  }
  return {};
}

}  // namespace

std::vector<StepKind> pictureSteps() {
  const Parameter sides = choiceParameter(
      "sides", "sides", {{"any", "sides of any length"}, {"powers", "sides that are powers of two"}});
  return {
      {"move_picture",
       "Use a picture otherwise",
       StepGroup::surface,
       34,
       "Use the {slot} picture of {material} as {to}",
       {materialParameter(), slotParameter(), choiceParameter("to", "what it becomes", targetSlots())},
       applyMovePicture,
       "A picture that stood there before is not shown any more."},
      {"flip_green",
       "Turn the green of a normal map round",
       StepGroup::surface,
       35,
       "Turn the green of the normal picture of {material} round",
       {materialParameter()},
       applyFlipGreen,
       "Green counts up the picture in glTF; some programs write it down. All materials that show the "
       "picture as "
       "their normal picture follow."},
      {"invert_channel",
       "Invert a channel",
       StepGroup::surface,
       35,
       "Invert the {channel} of the {slot} picture of {material}",
       {materialParameter(), slotParameter(),
        choiceParameter("channel", "channel", {{"g", "green"}, {"r", "red"}, {"b", "blue"}, {"a", "alpha"}})},
       applyInvert,
       "Gloss becomes roughness so: roughness is the green of the picture of metal and roughness."},
      {"resize_picture",
       "Resize a picture",
       StepGroup::surface,
       36,
       "Bring the {slot} picture of {material} to at most {side} pixels, {sides}, {how}",
       {materialParameter(), slotParameter(), countParameter("side", "longest side", 1024).between(1, 16384),
        sides, choiceParameter("how", "how", {{"smooth", "smoothly"}, {"pixels", "pixel by pixel"}})},
       applyResize,
       "Colour is averaged as light, normals as directions, data as numbers. Pixel by pixel keeps pixel art "
       "sharp."},
  };
}

}  // namespace rakugo::prepare
