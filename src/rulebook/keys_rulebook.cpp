// The keys of rulebook.json at its top level, and of what hangs there but for kinds and skeletons.
#include "rulebook/key_rows.h"
#include "rulebook/key_tables.h"

namespace rakugo::rulebook {
namespace {

std::vector<std::pair<std::string, geometry::Axis>> axes() {
  using geometry::Axis;
  std::vector<std::pair<std::string, Axis>> out;
  for (const char* name : {"+X", "-X", "+Y", "-Y", "+Z", "-Z"})
    out.emplace_back(name, *geometry::axisFromName(name));
  return out;
}

KeyTable& spaceKeys() {
  static KeyTable table{
      "space",
      "`space`",
      "Lengths in a rulebook are metres, whatever the game's unit is.",
      {rows::number("unit_m", &Rulebook::unit_m)
           .above(1e-6, 1e6)
           .in("m")
           .needed(1)
           .says("The length of one unit of the game.")
           .notCalled({"unit", "scale", "units"}),
       rows::choice("up", axes(), &Rulebook::up).needed("+Z").says("The game's axis that points up."),
       rows::choice("forward", axes(), &Rulebook::forward)
           .needed("+X")
           .says("The axis along which things of the game face; not on one line with `up`.")
           .notCalled({"front"}),
       rows::choice<Rulebook, bool>("handedness", {{"right", true}, {"left", false}}, &Rulebook::right_handed)
           .says("In a left-handed game the coordinate to the side changes sign when a mod is built, so that "
                 "what is left stays left."),
       rows::number("person_height_m", &Rulebook::person_height_m)
           .above(0.001, 100)
           .in("m")
           .needed(1.7)
           .says("How high a person of the game stands; for scale.")
           .notCalled({"person_height", "height", "person"})}};
  return table;
}

KeyTable& meshKeys() {
  static KeyTable table{
      "meshes",
      "`meshes`",
      "",
      {rows::whole("index_bits", &Rulebook::index_bits)
           .between(16, 32)
           .in("bits")
           .heldBy({"mesh.indices"})
           .says(
               "16 or 32. With 16 the game draws at most 65,536 vertices at once: those of one material of a "
               "part.")}};
  return table;
}

KeyTable& pictureKeys() {
  static KeyTable table{"pictures",
                        "`pictures`",
                        "",
                        {rows::whole("max_side", &Rulebook::picture_max_side)
                             .between(0, 16384)
                             .in("pixels")
                             .heldBy({"picture.size"})
                             .says("The longest side of a picture; 0: no limit.")
                             .notCalled({"max_size", "size", "resolution"}),
                         rows::flag("power_of_two", &Rulebook::picture_power_of_two)
                             .heldBy({"picture.size"})
                             .says("Sides must be 1, 2, 4, 8 … pixels.")
                             .notCalled({"pot"})}};
  return table;
}

KeyTable& sharedAssetKeys() {
  static KeyTable table{
      "shared_asset",
      "An entry of `shared_assets`",
      "",
      {rows::text("id", &SharedAsset::id, KeyType::name).needed().says("As the game looks it up."),
       rows::text("title", &SharedAsset::title).says("What it is called in the window.").notCalled({"name"}),
       rows::text("sort", &SharedAsset::sort, KeyType::id)
           .says("What it is: the id of a kind, `sound`, or another word by which fields of the type "
                 "`reference` choose.")
           .notCalled({"kind", "type"})}};
  return table;
}

KeyTable& soundKeys() {
  static KeyTable table{
      "sounds",
      "`sounds`",
      "How the game takes sounds; what comes otherwise is changed when the mod is built.",
      {rows::oneOf("format", {"wav", "ogg", "flac"}, &SoundRule::format)
           .says("`ogg`: Vorbis; `wav` and `flac`: 16 bits.")
           .notCalled({"type"}),
       rows::whole("rate_hz", &SoundRule::rate_hz)
           .between(0, 192'000)
           .in("Hz")
           .says("Samples a second; 0: as the sound has them.")
           .notCalled({"rate", "sample_rate"}),
       rows::flag("mono", &SoundRule::mono).says("All channels are mixed into one."),
       rows::number("loudness_lufs", &SoundRule::loudness_lufs)
           .between(-60, 0)
           .in("LUFS")
           .heldBy({"sound.loudness"})
           .says("Loudness that every sound is brought to, by EBU R 128; left out: as it comes.")
           .notCalled({"loudness", "lufs"}),
       rows::number("most_s", &SoundRule::most_s)
           .between(0, 3600)
           .in("s")
           .heldBy({"sound.length"})
           .says("The longest sound that the game takes; 0: any.")
           .notCalled({"max_s", "length"})}};
  return table;
}

KeyTable& languageKeys() {
  static KeyTable table{"language",
                        "An entry of `languages`",
                        "",
                        {rows::text("id", &Language::id, KeyType::name)
                             .longest(35)
                             .needed("en")
                             .says("As the game names it, and mods' files of texts are called.")
                             .notCalled({"code", "locale"}),
                         rows::title(&Language::title).says("What it is called in the window.")}};
  return table;
}

KeyTable& sampleKeys() {
  static KeyTable table{"sample",
                        "An entry of `samples`",
                        "",
                        {rows::text("folder", &Sample::folder, KeyType::path)
                             .longest(240)
                             .needed()
                             .says("A mod's folder inside the rulebook.")
                             .notCalled({"path", "file"}),
                         rows::title(&Sample::title).says("What it is called where a new mod begins."),
                         rows::help(&Sample::help)}};
  return table;
}

// Read by no one here: a rulebook of another format is told apart before its keys are read, and an editor
// finds the schema by "$schema".
KeyRow unread(const char* name, KeyType type) {
  KeyRow out = rows::row(name, type);
  out.store = [](void*, const base::Json&) {};
  return out;
}

Key reasonsKey() {
  KeyRow out =
      rows::row("reasons", KeyType::by_check)
          .longest(600)
          .says(
              "Why a rule matters in this game, by check id; findings use these words. \"{kind}\" in them "
              "becomes the title of the kind that the finding is about.");
  out.store = [](void* owner, const base::Json& value) {
    for (const auto& [check, words] : value.items())
      static_cast<Rulebook*>(owner)->reasons.emplace_back(check, words.get<std::string>());
  };
  return out;
}

}  // namespace

KeyTable& rulebookKeys() {
  static KeyTable table{
      "rulebook",
      "Top level",
      "",
      {unread("$schema", KeyType::text)
           .longest(240)
           .says("Where an editor finds the JSON Schema of rulebooks; Rakugo does not read it."),
       unread("format", KeyType::whole).between(1, 1).needed(1).says("The version of this format: 1."),
       rows::id(&Rulebook::id).needed("game").says("Also the name of the rulebook's folder."),
       rows::text("version", &Rulebook::version)
           .longest(32)
           .needed("1")
           .says("The rulebook's own version; mods note with which one they were made."),
       rows::title(&Rulebook::title).says("The game's name."),
       rows::text("description", &Rulebook::description)
           .longest(2000)
           .says("What the game is.")
           .notCalled({"help"}),
       rows::group("space", spaceKeys).needed().says("Axes, unit and scale of the game."),
       rows::list("kinds", &Rulebook::kinds, kindKeys)
           .entries(1, 200)
           .needed()
           .says("What sorts of things the game takes."),
       rows::list("skeletons", &Rulebook::skeletons, skeletonKeys).says("The game's own skeletons."),
       rows::list("samples", &Rulebook::samples, sampleKeys).says("What a new mod can begin from."),
       rows::group("meshes", meshKeys).says("How the game draws meshes."),
       rows::group("pictures", pictureKeys).says("What the game takes for pictures."),
       rows::list("shared_assets", &Rulebook::shared_assets, sharedAssetKeys)
           .entries(0, 10'000)
           .says("Assets of the game that mods may refer to."),
       rows::file("own_things", &Rulebook::own_things)
           .says("A bundle (docs/bundle-format.md) with objects of the game's own, for mods to begin from."),
       rows::list("lists", &Rulebook::lists, gameListKeys)
           .entries(0, 64)
           .says("Where things enter the game; see *An entry of `lists`*.")
           .notCalled({"shops", "recipes"}),
       rows::object("sounds", &Rulebook::sounds, soundKeys).says("How the game takes sounds."),
       rows::list("languages", &Rulebook::languages, languageKeys)
           .entries(0, 64)
           .heldBy({"text.missing", "text.untranslated", "text.language"})
           .says("In which the game shows texts that are looked up by their id (`text_id`), the one that is "
                 "shown where a text is missing first. Without them mods bring no texts.")
           .notCalled({"locales", "translations"}),
       rows::text("packaging", &Rulebook::packaging, KeyType::id)
           .says("In what a mod is delivered: `bundle` (docs/bundle-format.md) or `zip` "
                 "(docs/zip-package.md)."),
       rows::list("targets", &Rulebook::targets, targetKeys)
           .entries(0, 16)
           .says("What mods are built for, the usual one first; see *An entry of `targets`*.")
           .notCalled({"platforms"}),
       rows::text("target", &Rulebook::target, KeyType::id)
           .says("The id of the only target, where no `targets` are listed."),
       rows::list("packed_pictures", &Rulebook::packed_pictures, packedKeys)
           .entries(0, 16)
           .says("In zip packages: pictures with several things in their channels, as the game reads them.")
           .notCalled({"packed", "channel_packing"}),
       rows::list("switches", &Rulebook::switches, switchKeys)
           .entries(0, 32)
           .says(
               "What the game turns on and off and one sees on materials: rain, wear, a lamp while stopping.")
           .notCalled({"effects", "states"}),
       rows::outcomes(&Rulebook::outcomes)
           .says("What the game does where a rule is broken, by check id; see *What the game does*."),
       reasonsKey(),
       rows::words("meant", &Rulebook::meant)
           .longest(200)
           .says("Places that `rulebook check` doubts and that are meant so: \"/kinds/0/size_m/height\".")}};
  return table;
}

}  // namespace rakugo::rulebook
