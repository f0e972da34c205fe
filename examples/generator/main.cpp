// Writes the demo's files below a folder: make-demo DIR
#include <cstdio>
#include <filesystem>
#include <map>

#include "base/files.h"
#include "base/sha256.h"
#include "boats.h"
#include "chandlery.h"
#include "demo_mod.h"
#include "figure.h"
#include "formats/gltf/gltf.h"
#include "kit.h"
#include "lamp.h"
#include "lampbearer.h"
#include "mod/store.h"
#include "movements.h"
#include "newcomer.h"
#include "pictures.h"
#include "rulebook/rulebook.h"
#include "slipway.h"
#include "stall.h"
#include "things.h"

namespace {

namespace fs = std::filesystem;
using namespace rakugo;
using base::Json;

void must(const base::Status& status) {
  if (status) return;
  std::fprintf(stderr, "make-demo: %s\n", status.error().text().c_str());
  std::exit(1);
}

base::Bytes write(const fs::path& path, base::Bytes bytes) {
  must(base::makeFolder(path.parent_path()));
  must(base::writeFileAtomic(path, bytes));
  return bytes;
}

// The lamp's source as its maker published it, with its record.
mod::SourceDoc writeLampSource(const fs::path& folder) {
  mod::SourceDoc doc;
  doc.file = "quay_lamp.glb";
  doc.author = "Ottilie Brandvold";
  doc.licence = "CC-BY-4.0";
  doc.address = "https://models.example/quay-lamp";
  doc.added = "2026-11-23";
  const auto put = [&](const std::string& path, base::Bytes bytes) {
    doc.files.push_back({path, base::hex(base::sha256(write(folder / path, std::move(bytes))))});
  };
  put("quay_lamp.glb", formats::writeGlb(demo::makerLamp()));
  put("textures/iron_coat.png", formats::encodePng(demo::drawPaintedIron(512)));
  put("textures/oak_turned.png", formats::encodePng(demo::drawOak(512)));
  put("textures/hemp.png", formats::encodePng(demo::drawRope(256)));
  put("textures/brass.png", formats::encodePng(demo::drawBrass(256)));
  return doc;
}

void firstLamp(const fs::path& folder) {
  mod::ModState state =
      demo::beginMod("first-lamp-4k7m2p", "First lamp", "A quay lamp, as its maker left it.");
  state.sources["quay-lamp"] = writeLampSource(folder / "sources/quay-lamp");
  state.models["quay-lamp"].source = "quay-lamp";
  mod::ObjectDoc object;
  object.kind = "fitting";
  object.title = "Quay lamp";
  object.pieces.push_back({"lamp", "quay-lamp", {0, 0, 0}, {0, 0, 0, 1}});
  state.objects["quay-lamp"] = object;
  must(mod::saveMod(folder, state, state));
}

void lamplight(const fs::path& folder) {
  mod::ModState state = demo::beginMod("lamplight-8w3hxq", "Lamplight",
                                       "One lamp for a dark quay, painted in your harbour's colour.");
  state.sources["quay-lamp"] = writeLampSource(folder / "sources/quay-lamp");
  mod::ModelDoc model;
  model.source = "quay-lamp";
  const auto step = [&](const char* kind, Json values) {
    model.steps.push_back({mod::freshStepId(model), kind, true, std::move(values)});
  };
  step("read_lengths", Json{{"unit", "cm"}});
  step("use_picture", Json{{"picture", "textures/Oak_Turned.PNG"}, {"file", "textures/oak_turned.png"}});
  step("turn", Json{{"forward", "-Z"}, {"up", "+Y"}});
  step("drop", Json{{"parts", {"quay_lamp/aim", "view", "sun"}}});
  step("bake", Json::object());
  step("origin", Json{{"to", "floor_centre"}});
  step("role", Json{{"material", "iron_coat"}, {"role", "paint"}});
  step("role", Json{{"material", "mat_17"}, {"role", "lamp"}});
  step("role", Json{{"material", "pane"}, {"role", "glass"}});
  model.points.push_back({"light", {0.447, -0.012, 1.938}, {0, 0, 0, 1}});
  state.models["quay-lamp"] = model;
  mod::ObjectDoc object;
  object.kind = "fitting";
  object.title = "Quay lamp";
  object.pieces.push_back({"lamp", "quay-lamp", {0, 0, 0}, {0, 0, 0, 1}});
  object.card =
      Json{{"lit", true},
           {"blurb", "Turned oak on an iron foot. Keeps the gulls awake and the dinghies off the steps."},
           {"quip", "Bright enough to read the bill for it."},
           {"price", 240},
           {"mass", 68.5},
           {"shelf", "lights"},
           {"build_time", 3.5}};
  object.icon = "icons/quay-lamp.png";
  if (auto icon = base::readFile(folder / object.icon))
    state.icons[object.icon] = std::make_shared<const base::Bytes>(std::move(icon).value());
  state.objects["quay-lamp"] = object;
  must(mod::saveMod(folder, state, state));
}

// A fitting that is ready to build, for the game's sample: no step is needed, the model was made for the
// game.
void bollardSample(const fs::path& folder) {
  mod::ModState state =
      demo::beginMod("bollard-sample", "Bollard", "A bollard for mooring lines, in the harbour's colour.");
  mod::SourceDoc source;
  source.file = "bollard.glb";
  source.author = "Harbour Workshop";
  source.licence = "CC0-1.0";
  source.added = "2026-11-23";
  const auto bytes =
      write(folder / "sources/bollard/bollard.glb", formats::writeGlb(demo::inGltfAxes(demo::bollard())));
  source.files.push_back({"bollard.glb", base::hex(base::sha256(bytes))});
  state.sources["bollard"] = source;
  mod::ModelDoc& model = state.models["bollard"];
  model.source = "bollard";
  model.steps.push_back({"s1", "turn", true, Json{{"forward", "+Z"}, {"up", "+Y"}}});
  model.steps.push_back({"s2", "bake", true, Json::object()});
  model.steps.push_back({"s3", "role", true, Json{{"material", "painted iron"}, {"role", "paint"}}});
  mod::ObjectDoc object;
  object.kind = "fitting";
  object.title = "Bollard";
  object.pieces.push_back({"bollard", "bollard", {0, 0, 0}, {0, 0, 0, 1}});
  object.card =
      Json{{"lit", false},        {"blurb", "Cast in one piece. Has held everything but its tongue."},
           {"price", 60},         {"mass", 140.0},
           {"shelf", "moorings"}, {"build_time", 1.5}};
  object.icon = "icons/bollard.png";
  state.icons[object.icon] =
      std::make_shared<const base::Bytes>(formats::encodePng(demo::drawBollardIcon(128)));
  state.objects["bollard"] = object;
  must(mod::saveMod(folder, state, state));
}

// A mod for the second game, as far from the first as its rulebook: millimetres, another up, a zip.
void footstool(const fs::path& folder) {
  mod::ModState state =
      demo::beginMod("footstool-5d9rtc", "Footstool", "A horn button on four matches, with a felt cushion.");
  state.card.author = "Marn Tolliver";
  state.card.rulebook = "ninefold";
  state.card.rulebook_version = "0.7";
  mod::SourceDoc source;
  source.file = "stool.glb";
  source.author = "Marn Tolliver";
  source.licence = "CC-BY-SA-4.0";
  source.added = "2026-11-23";
  const auto bytes = write(folder / "sources/stool/stool.glb", formats::writeGlb(demo::makerStool()));
  source.files.push_back({"stool.glb", base::hex(base::sha256(bytes))});
  state.sources["stool"] = source;
  mod::ModelDoc& model = state.models["stool"];
  model.source = "stool";
  model.steps.push_back({"s1", "read_lengths", true, Json{{"unit", "mm"}}});
  model.steps.push_back({"s2", "turn", true, Json{{"forward", "+X"}, {"up", "+Z"}}});
  model.steps.push_back({"s3", "role", true, Json{{"material", "felt cover"}, {"role", "wallpaper"}}});
  model.points.push_back({"perch", {0, 0.047, 0}, {0, 0, 0, 1}});
  mod::ObjectDoc object;
  object.kind = "furnishing";
  object.title = "Footstool";
  object.pieces.push_back({"stool", "stool", {0, 0, 0}, {0, 0, 0, 1}});
  object.card = Json{{"room", "parlour"},
                     {"charm", 4},
                     {"draws_moths", false},
                     {"label", "for small feet"},
                     {"riddle_text", "riddle/stool"}};
  object.icon = "icons/stool.png";
  state.icons[object.icon] =
      std::make_shared<const base::Bytes>(formats::encodePng(demo::drawStoolIcon(64, 48)));
  state.objects["stool"] = object;
  must(mod::saveMod(folder, state, state));
}

rulebook::Rulebook kelpwick(const fs::path& rulebooks) {
  const auto text = base::readFile(rulebooks / "kelpwick/rulebook.json");
  if (!text) must(text.error());
  auto book = rulebook::parseRulebook(base::asText(*text), "rulebook.json");
  if (!book) must(book.error());
  return std::move(book).value();
}

// A keeper as its maker left it: bones named after another habit, in glTF's axes, with nothing filled in.
void deckhand(const fs::path& folder, const rulebook::Rulebook& book) {
  static const std::map<std::string, std::string> kHabit = {
      {"stand", "root"}, {"ballast", "hips"},    {"waist", "belly"},   {"chest", "ribs"},    {"neck", "neck"},
      {"head", "head"},  {"collar", "clavicle"}, {"arm", "upper_arm"}, {"elbow", "forearm"}, {"hand", "hand"},
      {"leg", "thigh"},  {"knee", "shin"},       {"foot", "foot"}};
  const auto name = [](const rulebook::Bone& bone) {
    const size_t dot = bone.id.find('.');
    const std::string own = kHabit.at(bone.id.substr(0, dot));
    return dot == std::string::npos ? own : own + (bone.side == rulebook::Side::left ? "_left" : "_right");
  };
  mod::ModState state = demo::beginMod("deckhand-2v6mha", "Deckhand", "Somebody for the early tide.");
  mod::SourceDoc source;
  source.file = "deckhand.glb";
  source.author = "Ottilie Brandvold";
  source.licence = "CC-BY-4.0";
  source.address = "https://models.example/deckhand";
  source.added = "2026-11-23";
  const auto bytes = write(folder / "sources/deckhand/deckhand.glb",
                           formats::writeGlb(demo::inGltfAxes(demo::keeper(book.skeletons[0], name))));
  source.files.push_back({"deckhand.glb", base::hex(base::sha256(bytes))});
  state.sources["deckhand"] = source;
  mod::ModelDoc& model = state.models["deckhand"];
  model.source = "deckhand";
  model.steps.push_back({"s1", "turn", true, Json{{"forward", "+Z"}, {"up", "+Y"}}});
  mod::ObjectDoc object;
  object.kind = "keeper";
  object.title = "Deckhand";
  object.pieces.push_back({"deckhand", "deckhand", {0, 0, 0}, {0, 0, 0, 1}});
  state.objects["deckhand"] = object;
  must(mod::saveMod(folder, state, state));
}

// What the stand-in game is played with: a boat to sail and a lantern to carry, both ready to build.
void tidewater(const fs::path& folder) {
  mod::ModState state = demo::beginMod("tidewater-5j9wke", "Tidewater", "A boat, and a light to find it by.");
  const auto take = [&](const std::string& name, const scene::Model& made) -> mod::ModelDoc& {
    mod::SourceDoc source;
    source.file = name + ".glb";
    source.author = "Harbour Workshop";
    source.licence = "CC0-1.0";
    source.added = "2026-11-23";
    const auto bytes = write(folder / "sources" / name / source.file,
                             formats::writeGlb(demo::inGltfAxes(scene::Model(made))));
    source.files.push_back({source.file, base::hex(base::sha256(bytes))});
    state.sources[name] = source;
    mod::ModelDoc& model = state.models[name];
    model.source = name;
    model.steps.push_back({"s1", "turn", true, Json{{"forward", "+Z"}, {"up", "+Y"}}});
    model.steps.push_back({"s2", "bake", true, Json::object()});
    return model;
  };
  const auto finish = [&](const std::string& name, const char* kind, const char* title, Json card,
                          const formats::Picture& icon) {
    mod::ObjectDoc& object = state.objects[name];
    object.kind = kind;
    object.title = title;
    object.pieces.push_back({name, name, {0, 0, 0}, {0, 0, 0, 1}});
    object.card = std::move(card);
    object.icon = "icons/" + name + ".png";
    state.icons[object.icon] = std::make_shared<const base::Bytes>(formats::encodePng(icon));
  };
  mod::ModelDoc& dinghy = take("dinghy", demo::builtDinghy());
  dinghy.steps.push_back({"s3", "role", true, Json{{"material", "strake paint"}, {"role", "hull-paint"}}});
  dinghy.points = {{"helm", {-1.25, 0, 1.15}, {0, 0, 0, 1}},
                   {"water-line", {0, 0, 0.22}, {0, 0, 0, 1}},
                   {"mooring-bow", {1.6, 0, 0.62}, {0, 0, 0, 1}}};
  finish("dinghy", "craft", "Tide dinghy",
         Json{{"drive", "oars"},
              {"blurb", "Twelve feet of larch. Goes where it is rowed, and a little downwind."},
              {"knots", 4.5},
              {"mass", 140},
              {"hold", 2},
              {"year", 1903},
              {"price", 3800}},
         demo::drawDinghyIcon(192, 128));
  mod::ModelDoc& lantern = take("lantern", demo::litLantern());
  lantern.steps.push_back({"s3", "role", true, Json{{"material", "flame glass"}, {"role", "lamp"}}});
  lantern.points = {{"grip", {0, 0, 0}, {0, 0, 0, 1}}, {"light", {0, 0, -0.2}, {0, 0, 0, 1}}};
  finish("lantern", "gear", "Storm lantern",
         Json{{"use", "light"},
              {"lit", true},
              {"mass", 1.1},
              {"price", 45},
              {"blurb", "Stays lit in anything short of a good dunking."}},
         demo::drawLanternIcon(96));
  must(mod::saveMod(folder, state, state));
}

// The model with empties at its attachment points, by which others hang on it.
scene::Model withPoints(scene::Model model, const std::vector<std::pair<const char*, glm::vec3>>& points) {
  for (const auto& [name, at] : points)
    model.node(demo::addNode(model, name, scene::NodeIndex())).local.position = at;
  return model;
}

void writeGhosts(const fs::path& rulebooks) {
  const auto ghost = [&](const char* path, const scene::Model& model) {
    write(rulebooks / path, formats::writeGlb(model));
  };
  ghost("kelpwick/ghosts/harbour-lamp.glb", demo::harbourLampGhost());
  ghost("kelpwick/ghosts/harbour-dinghy.glb", demo::dinghy());
  ghost("kelpwick/ghosts/hand-lantern.glb", withPoints(demo::handLantern(), {{"grip", {0, 0, 0}}}));
  ghost("kelpwick/ghosts/pier-block.glb", demo::pierBlock(0.5));
  ghost("kelpwick/ghosts/harbour-coat.glb", demo::coat());
  ghost("kelpwick/bodies/keeper-body.glb", demo::coatBody());
  ghost("ninefold/ghosts/button-stool.glb", demo::buttonStool());
  ghost("ninefold/ghosts/tin-snail.glb", demo::tinSnail());
  const scene::Model movements = demo::keeperMovements(kelpwick(rulebooks).skeletons[0]);
  ghost("kelpwick/movements/keeper.glb", movements);
  write(rulebooks.parent_path() / "src/standin/data/keeper-movements.rkb", demo::movementsBundle(movements));
  const rulebook::Skeleton skeleton = kelpwick(rulebooks).skeletons[0];
  const auto at = [&](const char* bone, glm::vec3 off) {
    const auto& head = skeleton.findBone(bone)->at_m;
    return glm::vec3(head[0], head[1], head[2]) + off;
  };
  ghost("kelpwick/ghosts/harbour-keeper.glb",
        withPoints(demo::keeper(skeleton, [](const rulebook::Bone& bone) { return bone.id; }),
                   {{"grip-right", at("hand.starboard", {0.02F, -0.07F, 0})},
                    {"grip-left", at("hand.port", {0.02F, 0.07F, 0})},
                    {"eyes", at("head", {0.12F, 0, 0.12F})},
                    {"belt", at("waist", {0, -0.2F, 0})},
                    {"hat", at("head", {0, 0, 0.25F})}}));
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make-demo DIR   (DIR is the root of the source tree, or a copy)\n");
    return 2;
  }
  const fs::path root = argv[1];
  writeGhosts(root / "rulebooks");
  demo::writeHarbourThings(root);
  bollardSample(root / "rulebooks/kelpwick/samples/bollard");
  footstool(root / "examples/mods/footstool");
  deckhand(root / "examples/mods/deckhand", kelpwick(root / "rulebooks"));
  firstLamp(root / "examples/mods/first-lamp");
  lamplight(root / "examples/mods/lamplight");
  tidewater(root / "examples/mods/tidewater");
  demo::writeSlipway(root / "examples/mods", kelpwick(root / "rulebooks"));
  demo::writeNewcomer(root / "examples/mods", kelpwick(root / "rulebooks"));
  demo::writeLampbearer(root / "examples/mods");
  demo::writeChandlery(root / "examples/mods", root / "examples/downloads", kelpwick(root / "rulebooks"));
  return 0;
}
