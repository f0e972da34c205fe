// Writes the demo's files below a folder: make-demo DIR
#include <cstdio>
#include <filesystem>

#include "base/files.h"
#include "base/sha256.h"
#include "formats/gltf.h"
#include "lamp.h"
#include "mod/store.h"
#include "pictures.h"

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

mod::ModState beginMod(const std::string& id, const std::string& title, const std::string& description) {
  mod::ModState state;
  state.card.id = id;
  state.card.title = title;
  state.card.author = "Harbour Workshop";
  state.card.version = "1.0.0";
  state.card.description = description;
  state.card.rulebook = "kelpwick";
  state.card.rulebook_version = "1.2";
  return state;
}

void firstLamp(const fs::path& folder) {
  mod::ModState state = beginMod("first-lamp-4k7m2p", "First lamp", "A quay lamp, as its maker left it.");
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
  mod::ModState state = beginMod("lamplight-8w3hxq", "Lamplight",
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

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make-demo DIR   (DIR is the root of the source tree, or a copy)\n");
    return 2;
  }
  const fs::path root = argv[1];
  write(root / "rulebooks/kelpwick/ghosts/harbour-lamp.glb", formats::writeGlb(demo::harbourLampGhost()));
  firstLamp(root / "examples/mods/first-lamp");
  lamplight(root / "examples/mods/lamplight");
  return 0;
}
