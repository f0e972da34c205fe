// The keys of targets, of tones, and of what the game turns on and off.
#include "rulebook/key_rows.h"
#include "rulebook/key_tables.h"

namespace rakugo::rulebook {
namespace {

// Formats that hold as many channels as a picture of that role needs, and sRGB where it is colour.
std::vector<std::pair<std::string, bundle::PixelFormat>> formatsFor(uint32_t channels, bool color) {
  std::vector<std::pair<std::string, bundle::PixelFormat>> out;
  for (const bundle::PixelFormatRow& row : bundle::pixelFormats())
    if (row.written && row.channels >= channels && !(color && row.vulkan_srgb == 0))
      out.emplace_back(row.id, row.format);
  return out;
}

std::vector<std::pair<std::string, std::optional<bundle::PixelFormat>>> iconFormats() {
  std::vector<std::pair<std::string, std::optional<bundle::PixelFormat>>> out = {{"png", std::nullopt}};
  for (const auto& [name, one] : formatsFor(4, true)) out.emplace_back(name, one);
  return out;
}

KeyRow channel(const char* name, Channel PackedPicture::*member) {
  std::vector<std::pair<std::string, Channel>> named;
  for (size_t i = 0; i < kChannelNames.size(); ++i)
    named.emplace_back(kChannelNames[i], static_cast<Channel>(i));
  return rows::choice<PackedPicture, Channel>(name, named, member);
}

KeyRow format(const char* name, uint32_t channels, bool color, bundle::PixelFormat Target::*member) {
  return rows::choice<Target, bundle::PixelFormat>(name, formatsFor(channels, color), member);
}

KeyTable& changeKeys() {
  static KeyTable table{
      "change",
      "An entry of `changes`",
      "What a switch does to materials; all that touch one are multiplied.",
      {rows::words("roles", &LookChange::roles)
           .longest(64)
           .says("Ids of roles whose materials it changes; left out, it changes all materials."),
       rows::numbers("color", &LookChange::color)
           .between(0, 4)
           .says("The base colour is multiplied by it, in linear light."),
       rows::number("roughness", &LookChange::roughness)
           .between(0, 10)
           .says("Roughness is multiplied by it; it stays within 0 and 1."),
       rows::number("glow", &LookChange::glow)
           .between(0, 20)
           .says("How strongly it shines in the colour of its role's swatch.")}};
  return table;
}

}  // namespace

KeyTable& targetKeys() {
  static KeyTable table{
      "target",
      "An entry of `targets`",
      "A sort of machine that the game runs on. Pictures are stored as their use asks: colour, colour whose "
      "alpha "
      "counts, normal maps, numbers in several channels, numbers in red alone, pixel art.",
      {rows::id(&Target::id).needed("desktop").says("As the bundle states it."),
       rows::title(&Target::title).says("What it is called in the window."), rows::help(&Target::help),
       format("color", 3, true, &Target::color).says("For colour whose alpha nobody looks at."),
       format("color_alpha", 4, true, &Target::color_alpha).says("For colour with alpha."),
       format("normal", 2, false, &Target::normal)
           .says("For normal maps; `bc5` keeps red and green, and the game makes the third part."),
       format("data", 3, false, &Target::data).says("For metal and roughness."),
       format("gray", 1, false, &Target::gray).says("For occlusion, which is looked up in red alone."),
       format("pixels", 4, true, &Target::pixels).says("For pixel art."),
       rows::choice<Target, std::optional<bundle::PixelFormat>>("icon", iconFormats(), &Target::icon)
           .says("For icons, in bundles; `png` is the file as it is."),
       rows::whole("max_side", &Target::max_side)
           .between(0, 16384)
           .in("pixels")
           .says("The longest side of a picture there, where it is less than `pictures` allow; 0: no other "
                 "limit.")
           .notCalled({"max_size", "size"}),
       rows::flag("mip_levels", &Target::mip_levels)
           .says("All mip levels are stored, or the largest alone.")
           .notCalled({"mipmaps", "mips"}),
       rows::flag("supercompressed", &Target::supercompressed)
           .says(
               "Each level is compressed inside the picture, so that a game can load one without the others.")
           .notCalled({"zstd", "compressed"})}};
  return table;
}

KeyTable& packedKeys() {
  static KeyTable table{
      "packed picture",
      "An entry of `packed_pictures`",
      "A picture that every material is given, with its own meaning in each channel. In each of `r`, `g`, "
      "`b` "
      "and `a`: `red`, `green`, `blue` and `alpha` of the base colour; `metal`; `roughness`, or `gloss`, "
      "which "
      "is 1 less it; `occlusion`; `normal_right`, `normal_up` and `normal_out`; `glow_red`, `glow_green`, "
      "`glow_blue`, or `glow`, the brightest of them. What goes in whole has no picture of its own any more: "
      "`metal` with `roughness` or `gloss`, `normal_right` with `normal_up`, and so on.",
      {rows::id(&PackedPicture::id).needed("props").says("The files end so."),
       rows::title(&PackedPicture::title).says("What it is called in the window."),
       rows::help(&PackedPicture::help),
       rows::words("roles", &PackedPicture::roles)
           .longest(64)
           .says("Ids of roles whose materials have it; left out, all have it."),
       channel("r", &PackedPicture::r).says("What red holds.").notCalled({"red"}),
       channel("g", &PackedPicture::g).says("What green holds.").notCalled({"green"}),
       channel("b", &PackedPicture::b).says("What blue holds.").notCalled({"blue"}),
       channel("a", &PackedPicture::a).says("What alpha holds.").notCalled({"alpha"}),
       rows::numbers("without", &PackedPicture::without)
           .between(-1, 1)
           .says("For r, g, b and a, what stands there where the material has no picture of it, 0 to 1. -1: "
                 "the "
                 "material's own value; no shade, a flat surface; 0 for `nothing`, 1 for `nothing` in alpha.")
           .notCalled({"default", "defaults"})}};
  return table;
}

KeyTable& toneKeys() {
  static KeyTable table{"tone",
                        "An entry of `tones`",
                        "",
                        {rows::id(&Tone::id).says("As the game knows it."),
                         rows::title(&Tone::title).says("What it is called in the window."),
                         rows::numbers("color", &Tone::color)
                             .between(0, 1)
                             .needed({0.5, 0.5, 0.5})
                             .says("Red, green, blue, sRGB.")
                             .notCalled({"colour", "rgb", "swatch"})}};
  return table;
}

KeyTable& switchKeys() {
  static KeyTable table{"switch",
                        "An entry of `switches`",
                        "",
                        {rows::id(&LookSwitch::id).says("As the game knows it."),
                         rows::title(&LookSwitch::title).says("What it is called in the window: \"Rain\"."),
                         rows::help(&LookSwitch::help),
                         rows::list("changes", &LookSwitch::changes, changeKeys)
                             .entries(1, 16)
                             .needed()
                             .says("What it does to materials.")}};
  return table;
}

}  // namespace rakugo::rulebook
