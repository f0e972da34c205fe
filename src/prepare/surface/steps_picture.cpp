// Steps on the pictures of materials. The source's files stay as they are: a newer version goes through the
// same steps.
#include <algorithm>
#include <array>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/picture_edit.h"
#include "formats/pictures/resample.h"
#include "prepare/steps.h"
#include "prepare/surface/packed_picture.h"
#include "prepare/surface/picture_change.h"
#include "prepare/surface/surface_values.h"
#include "prepare/surface/uv_cover.h"
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
  const base::Status done =
      changePicture(model, target.material, target.slot, "invert " + channel, [&](formats::Picture& p) {
        for (size_t i = first; i < p.pixels.size(); i += 4) p.pixels[i] = std::byte{255} ^ p.pixels[i];
      });
  if (!done) return outcomeOf(done);
  scene::Image& image =
      model.images[(model.materials[target.material.value()].*scene::kTextureSlots[target.slot].use)
                       .image.value()];
  std::string& name = image.uri.empty() ? image.name : image.uri;
  // Twice is as it was.
  if (const size_t at = name.rfind(kInverted); at != std::string::npos)
    name.erase(at, std::char_traits<char>::length(kInverted));
  else
    name.insert(image.uri.empty() ? name.size() : name.rfind('.'), kInverted);
  return {};
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
        p = formats::resizedWithin(p, most, powers, use,
                                   pixels ? formats::Resampling::pixels : formats::Resampling::smooth);
      });
  if (!done) return missed(done.error().message);
  const scene::ImageIndex image = (model.materials[target.material.value()].*slot.use).image;
  if (const auto info = formats::pictureInfo(*model.images[image.value()].bytes, ""))
    out.did = base::phrase("{0} × {1} pixels", info->width, info->height);
  return out;
}

// Under what is transparent, and past where triangles lie.
StepOutcome applyFill(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const auto steps = static_cast<uint32_t>(numberValue(values, "pixels", 0));
  const scene::ImageIndex image =
      (model.materials[target.material.value()].*scene::kTextureSlots[target.slot].use).image;
  const std::string what = "fill " + std::to_string(steps);
  uint64_t filled = 0;
  const base::Status done = changePicture(
      model, target.material, target.slot, what,
      [&](formats::Picture& p) {
        constexpr int kTransparent = 8;  // alpha; below, no one sees the colour
        std::vector<uint8_t> known = shownPixels(model, image, target.slot, p.width, p.height);
        for (size_t i = 0; i < known.size(); ++i)
          if (std::to_integer<int>(p.pixels[i * 4 + 3]) < kTransparent) known[i] = 0;
        filled = formats::fillAround(p, known, steps);
      },
      Remembered::no);
  StepOutcome out = outcomeOf(done);
  if (done) out.did = base::countText(filled, "pixel", "pixels");
  return out;
}

StepOutcome applyTint(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const auto color = pointValue(values, "color");
  if (!color || std::min({color->x, color->y, color->z}) < 0 || std::max({color->x, color->y, color->z}) > 1)
    return wrongValues(base::phrase("A colour is three numbers from 0 to 1: red, green and blue."));
  const auto share = static_cast<float>(numberValue(values, "percent", 100) / 100);
  return outcomeOf(
      changePicture(model, target.material, target.slot, "tint " + values.dump(), [&](formats::Picture& p) {
        formats::tint(p, {color->x, color->y, color->z}, share);
      }));
}

StepOutcome applyGrade(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  const float hue = radians(numberValue(values, "hue_deg", 0));
  const auto saturation = static_cast<float>(numberValue(values, "saturation", 100) / 100);
  const auto lightness = static_cast<float>(numberValue(values, "lightness", 100) / 100);
  return outcomeOf(
      changePicture(model, target.material, target.slot, "grade " + values.dump(),
                    [&](formats::Picture& p) { formats::grade(p, hue, saturation, lightness); }));
}

StepOutcome applyCopyChannel(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  scene::Material& material = model.materials[target.material.value()];
  const scene::TextureUse& use = material.*scene::kTextureSlots[target.slot].use;
  if (!use.image.valid() || !model.images[use.image.value()].bytes)
    return missed(base::phrase("{0} shows no picture there.", material.name));
  const auto to = scene::slotOfName(base::textOf(values, "into"));
  if (!to) return wrongValues(base::phrase("Choose one of the material's pictures."));
  const scene::Image& image = model.images[use.image.value()];
  const auto from = formats::decodePicture(*image.bytes, image.uri.empty() ? image.name : image.uri);
  if (!from) return missed(from.error().message);
  const std::string channels = "rgba";
  const size_t from_channel = channels.find(base::textOf(values, "channel")),
               to_channel = channels.find(base::textOf(values, "as"));
  scene::TextureUse& goal = material.*scene::kTextureSlots[*to].use;
  if (!goal.image.valid()) {
    // One that says nothing yet: white, of the same size and looked up the same way.
    scene::Image made;
    made.name = base::slug(material.name) + "-" + base::slug(scene::kTextureSlots[*to].name);
    made.mime = "image/png";
    made.bytes = std::make_shared<const base::Bytes>(
        formats::encodePng({from->width, from->height, base::Bytes(from->pixels.size(), std::byte{255})},
                           formats::PngEffort::quick));
    goal = use;
    goal.image = scene::ImageIndex(model.images.size());
    model.images.push_back(std::move(made));
  }
  return outcomeOf(changePicture(
      model, target.material, *to, "copy",
      [&](formats::Picture& p) { formats::copyChannel(*from, from_channel, p, to_channel); },
      Remembered::no));
}

// A factor of 0 would hide what was put there.
void letShow(scene::Material& material, size_t slot) {
  if (scene::unseenSlot(material, slot) == scene::Unseen::no) return;
  if (scene::kTextureSlots[slot].use == &scene::Material::emissive_texture) {
    material.emissive = glm::vec3(1);
    material.emissive_strength = std::max(material.emissive_strength, 1.0F);
  } else if (scene::kTextureSlots[slot].use == &scene::Material::base_color_texture) {
    material.base_color = glm::vec4(glm::vec3(1), material.base_color.w);
  } else if (scene::kTextureSlots[slot].use == &scene::Material::normal_texture) {
    material.normal_scale = 1;
  } else {
    material.occlusion_strength = 1;
  }
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
  letShow(material, *slot);
  return {};
}

StepOutcome applyUnpack(scene::Model& model, const base::Json& values, const StepContext&) {
  const SurfaceTarget target = surfaceTarget(model, values);
  if (target.outcome) return *target.outcome;
  std::array<rulebook::Channel, 4> channels{};
  const std::array<const char*, 4> keys = {"r", "g", "b", "a"};
  for (size_t c = 0; c < 4; ++c)
    for (size_t i = 0; i < rulebook::kChannelNames.size(); ++i)
      if (base::textOf(values, keys[c]) == rulebook::kChannelNames[i])
        channels[c] = static_cast<rulebook::Channel>(i);
  return outcomeOf(unpackPicture(model, target.material, target.slot, channels));
}

Parameter heldParameter(const char* key, const char* title) {
  Choices all;
  for (const char* name : rulebook::kChannelNames) {
    std::string shown = name;
    std::replace(shown.begin(), shown.end(), '_', ' ');
    all.emplace_back(name, shown);
  }
  return choiceParameter(key, title, std::move(all));
}

}  // namespace

std::vector<StepKind> pictureSteps() {
  const Parameter sides = choiceParameter(
      "sides", "sides", {{"any", "sides of any length"}, {"powers", "sides that are powers of two"}});
  const auto channel = [](const char* key, const char* title) {
    return choiceParameter(key, title, {{"g", "green"}, {"r", "red"}, {"b", "blue"}, {"a", "alpha"}});
  };
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
       {materialParameter(), slotParameter(), channel("channel", "channel")},
       applyInvert,
       "Gloss becomes roughness so: roughness is the green of the picture of metal and roughness."},
      {"copy_channel",
       "Copy a channel",
       StepGroup::surface,
       35,
       "Copy the {channel} of the {slot} picture of {material} into the {as} of its {into} picture",
       {materialParameter(), slotParameter(), channel("channel", "channel"),
        slotParameter("into", "picture it goes into"), channel("as", "channel it becomes")},
       applyCopyChannel,
       "Packs several pictures into the channels of one, and takes them apart. A picture that is not there "
       "begins as "
       "white."},
      {"unpack_picture",
       "Take a packed picture apart",
       StepGroup::surface,
       34,
       "Take the {slot} picture of {material} apart: red holds {r}, green {g}, blue {b}, alpha {a}",
       {materialParameter(), slotParameter(), heldParameter("r", "what red holds"),
        heldParameter("g", "what green holds"), heldParameter("b", "what blue holds"),
        heldParameter("a", "what alpha holds")},
       applyUnpack,
       "For pictures that were made for a game, with several things in their channels. Each goes to the "
       "picture where glTF has it."},
      {"tint_picture",
       "Tint a picture",
       StepGroup::surface,
       37,
       "Tint the {slot} picture of {material} with {color}, by {percent} %",
       {materialParameter(), slotParameter(),
        pointParameter("color", "colour", 1).means("Red, green and blue from 0 to 1, in linear light."),
        numberParameter("percent", "share", 100).between(0, 100)},
       applyTint},
      {"grade_picture",
       "Grade a picture",
       StepGroup::surface,
       37,
       "Turn the hue of the {slot} picture of {material} by {hue_deg} degrees, with {saturation} % of its "
       "saturation and "
       "{lightness} % of its lightness",
       {materialParameter(), slotParameter(),
        numberParameter("hue_deg", "angle", 0).between(-180, 180).in("degrees"),
        numberParameter("saturation", "saturation", 100).between(0, 400),
        numberParameter("lightness", "lightness", 100).between(0, 400)},
       applyGrade,
       "For a variant of another colour."},
      {"fill_picture",
       "Fill a picture past its seams",
       StepGroup::surface,
       38,
       "Fill the {slot} picture of {material} by {pixels} pixels past its seams and under what is "
       "transparent",
       {materialParameter(), slotParameter(),
        countParameter("pixels", "how far", 16).between(0, 16384).means("0: however far.")},
       applyFill,
       "So that no seam shines through from afar, where mip levels mix neighbours in."},
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
