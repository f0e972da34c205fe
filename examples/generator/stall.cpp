#include "stall.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <glm/gtc/matrix_transform.hpp>

#include "base/files.h"
#include "demo_mod.h"
#include "formats/gltf/gltf.h"
#include "kit.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "pictures.h"
#include "shapes.h"

namespace rakugo::demo {
namespace {

namespace fs = std::filesystem;
using base::Json;

constexpr float kTop_m = 0.86F, kHalf_m = 1.0F, kDeep_m = 0.42F;

Shape table() {
  Shape out;
  // Boards along the stall, with a gap's breadth between them.
  for (int board = 0; board < 5; ++board) {
    const float x = -kDeep_m + 0.17F * static_cast<float>(board);
    out.box({x, -kHalf_m, kTop_m - 0.03F}, {x + 0.16F, kHalf_m, kTop_m}, 0.004F, 0.8F);
  }
  // Two trestles: a beam on four legs each.
  for (const float y : {-0.72F, 0.72F}) {
    out.box({-kDeep_m + 0.04F, y - 0.04F, kTop_m - 0.11F}, {kDeep_m - 0.02F, y + 0.04F, kTop_m - 0.031F},
            0.004F, 0.8F);
    for (const float x : {-0.3F, 0.3F})
      for (const float side : {-1.0F, 1.0F})
        out.tube(
            {{x, y + side * 0.19F, 0}, {x, y + side * 0.03F, kTop_m - 0.1F}}, [](float) { return 0.026F; }, 8,
            1, 0.6F);
    out.box({-0.32F, y - 0.012F, 0.3F}, {0.32F, y + 0.012F, 0.35F}, 0.003F, 0.8F);
  }
  return out;
}

Shape posts() {
  Shape out;
  for (const float y : {-kHalf_m + 0.04F, kHalf_m - 0.04F}) {
    out.tube(
        {{-kDeep_m - 0.05F, y, 0}, {-kDeep_m - 0.05F, y, 2.24F}}, [](float t) { return 0.032F - 0.006F * t; },
        10, 1, 0.8F);
    out.tube(
        {{kDeep_m + 0.05F, y, 0}, {kDeep_m + 0.05F, y, 1.9F}}, [](float t) { return 0.032F - 0.006F * t; },
        10, 1, 0.8F);
  }
  for (const float x : {-kDeep_m - 0.05F, kDeep_m + 0.05F}) {
    const float z = x < 0 ? 2.22F : 1.88F;
    out.tube(
        {{x, -kHalf_m, z}, {x, kHalf_m, z}}, [](float) { return 0.022F; }, 8, 1, 0.8F);
  }
  return out;
}

// Eight strips of cloth from the back beam to the front, sagging a little, with a scalloped edge; `odd` are
// the painted ones.
Shape awning(bool odd) {
  Shape out;
  constexpr int kStrips = 8, kAlong = 8, kAcross = 4;
  for (int strip = odd ? 1 : 0; strip < kStrips; strip += 2)
    for (const float under : {0.0F, 0.006F}) {
      std::vector<std::vector<glm::vec3>> rows;
      const float left = -kHalf_m - 0.05F + 2.1F / kStrips * static_cast<float>(strip);
      for (int i = 0; i <= kAlong + 1; ++i) {
        std::vector<glm::vec3> row;
        for (int k = 0; k <= kAcross; ++k) {
          const float s = static_cast<float>(k) / kAcross, y = left + 2.1F / kStrips * s;
          const float t = std::min(1.0F, static_cast<float>(i) / kAlong);
          glm::vec3 p(-0.55F + 1.1F * t, y, 2.25F - 0.34F * t - 0.05F * std::sin(t * kPi));
          // The edge hangs down in front.
          if (i > kAlong) p += glm::vec3(0.015F, 0, -0.1F - 0.05F * std::sin(s * kPi));
          p.z -= under;
          row.push_back(p);
        }
        rows.push_back(std::move(row));
      }
      out.sheet(rows, 0.5F, under == 0);
    }
  return out;
}

Shape crate() {
  Shape out;
  const glm::vec3 at(0.02F, -0.52F, kTop_m);
  const auto slat = [&](glm::vec3 low, glm::vec3 high) { out.box(at + low, at + high, 0.003F, 0.4F); };
  slat({-0.24F, -0.32F, 0}, {0.24F, 0.32F, 0.014F});
  for (const float low : {0.02F, 0.085F}) {
    slat({-0.24F, -0.32F, low}, {0.24F, -0.306F, low + 0.055F});
    slat({-0.24F, 0.306F, low}, {0.24F, 0.32F, low + 0.055F});
    slat({-0.24F, -0.305F, low}, {-0.226F, 0.305F, low + 0.055F});
    slat({0.226F, -0.305F, low}, {0.24F, 0.305F, low + 0.055F});
  }
  return out;
}

Shape fish() {
  Shape out;
  for (int i = 0; i < 5; ++i) {
    const float y = -0.76F + 0.12F * static_cast<float>(i), bend = i % 2 == 0 ? 0.02F : -0.015F;
    out.tube(
        {{-0.17F, y, kTop_m + 0.06F},
         {-0.12F, y + bend * 0.6F, kTop_m + 0.066F},
         {-0.02F, y + bend, kTop_m + 0.07F},
         {0.09F, y + bend * 0.5F, kTop_m + 0.064F},
         {0.17F, y - bend, kTop_m + 0.06F},
         {0.215F, y - bend * 1.6F, kTop_m + 0.062F}},
        [](float t) {
          return t > 0.93F ? 0.022F : 0.006F + 0.038F * std::sin(kPi * std::min(1.0F, t * 1.08F));
        },
        10, 1, 0.2F);
  }
  return out;
}

Shape basket() {
  Shape out;
  out.lathe({{0, 0},
             {0.13F, 0},
             {0.15F, 0.02F},
             {0.18F, 0.16F},
             {0.19F, 0.18F},
             {0.18F, 0.19F},
             {0.165F, 0.17F},
             {0.135F, 0.03F},
             {0, 0.025F}},
            24, {0, 0.5F, kTop_m}, 6, 0.12F);
  return out;
}

Shape apples() {
  Shape out;
  const glm::vec2 at[] = {{0, 0},          {0.075F, 0.02F}, {-0.07F, 0.035F},
                          {0.01F, -0.08F}, {0.02F, 0.085F}, {-0.06F, -0.05F}};
  for (size_t i = 0; i < std::size(at); ++i) {
    std::vector<glm::vec2> round;
    for (int k = 0; k <= 8; ++k) {
      const float a = static_cast<float>(k) / 8 * kPi;
      round.emplace_back(0.042F * std::sin(a), 0.042F - 0.042F * std::cos(a));
    }
    out.lathe(round, 12, {at[i].x, 0.5F + at[i].y, kTop_m + 0.09F + (i == 0 ? 0.035F : 0)}, 1, 0.2F, 90);
  }
  return out;
}

[[noreturn]] void fail(const base::Error& error) {
  std::fprintf(stderr, "make-demo: %s\n", error.text().c_str());
  std::exit(1);
}

}  // namespace

scene::Model marketStall(const std::string& planks) {
  scene::Model model;
  const auto wood = addMaterial(model, "planks", {1, 1, 1, 1}, 0, 0.9F, planks),
             pole = addMaterial(model, "poles", {0.42F, 0.31F, 0.2F, 1}, 0, 0.85F),
             painted = addMaterial(model, "awning stripes", {0.24F, 0.42F, 0.45F, 1}, 0, 0.95F),
             bare = addMaterial(model, "awning cloth", {0.86F, 0.81F, 0.68F, 1}, 0, 0.95F),
             silver = addMaterial(model, "herring", {0.55F, 0.6F, 0.63F, 1}, 0.35F, 0.3F),
             wicker = addMaterial(model, "wicker", {0.66F, 0.5F, 0.28F, 1}, 0, 0.9F),
             apple = addMaterial(model, "apples", {0.66F, 0.18F, 0.13F, 1}, 0, 0.45F);
  const auto root = addNode(model, "market_stall", {});
  const glm::mat4 same(1);
  addPart(model, "table", root, {table().finish(same, wood), crate().finish(same, wood)});
  addPart(model, "posts", root, {posts().finish(same, pole)});
  addPart(model, "awning", root, {awning(true).finish(same, painted), awning(false).finish(same, bare)});
  addPart(model, "wares", root,
          {fish().finish(same, silver), basket().finish(same, wicker), apples().finish(same, apple)});
  return model;
}

void writeHarbourThings(const fs::path& root) {
  // By its text alone: the bundle that it names may not be there yet.
  const auto text = base::readFile(root / "rulebooks/kelpwick/rulebook.json");
  if (!text) fail(text.error());
  auto book = rulebook::parseRulebook(base::asText(*text), "rulebook.json");
  if (!book) fail(book.error());
  book->folder = root / "rulebooks/kelpwick";
  const fs::path folder = fs::temp_directory_path() / ("rakugo-harbour-" + std::to_string(std::rand()));
  {
    DemoMod mod(folder, "harbour", "The harbour's own", "What stands in the harbour before anybody mends it.",
                "2026-11-23");
    scene::Model stall = inGltfAxes(marketStall("textures/planks.png"));
    roundAll(stall, 1);
    mod::ModelDoc& model =
        mod.add("market-stall",
                {{"market_stall.glb", formats::writeGlb(stall)},
                 {"textures/planks.png", formats::encodePng(drawOak(256))}},
                "market_stall.glb", "Harbour Workshop", "CC0-1.0", "fitting", "Market stall",
                Json{{"lit", false},
                     {"blurb", "Herring until noon, apples until the boat comes, gossip until dark."},
                     {"price", 420},
                     {"mass", 74.0},
                     {"shelf", "moorings"},
                     {"build_time", 6.0}});
    DemoMod::step(model, "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
    DemoMod::step(model, "bake", Json::object());
    DemoMod::step(model, "origin", Json{{"to", "floor_centre"}});
    DemoMod::step(model, "role", Json{{"material", "awning stripes"}, {"role", "paint"}});
    mod.save();
  }
  auto loaded = mod::loadMod(folder);
  if (!loaded) fail(loaded.error());
  mod::ModState state = std::move(loaded).value();
  mod::ObjectDoc& object = state.objects["market-stall"];
  object.icon = "icons/market-stall.png";
  state.icons[object.icon] = std::make_shared<const base::Bytes>(formats::encodePng(drawStallIcon(128)));
  mod::PieceDoc body;
  body.name = "body";
  body.sort = "shape";
  body.as = "fitting-body";
  body.values = Json{{"form", "hulls"}, {"hulls", 6}};
  object.pieces.push_back(std::move(body));
  object.lists.push_back(
      {"workbench", Json{{"makes", 1},
                         {"hours", 6.0},
                         {"needs", Json::array({Json{{"good", "good/timber"}, {"amount", 9}},
                                                Json{{"good", "good/canvas"}, {"amount", 3}}})}}});
  if (const base::Status saved = mod::saveMod(folder, state, state); !saved) fail(saved.error());
  check::Examiner examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book).value()));
  auto x = examiner.examine(std::make_shared<const mod::ModState>(std::move(state)));
  if (!x) fail(x.error());
  auto bytes = packing::buildPackage(**x);
  if (!bytes) fail(bytes.error());
  put(root / "rulebooks/kelpwick/own/harbour.rkb", *bytes);
  put(root / "src/standin/data/harbour.rkb", *bytes);
  fs::remove_all(folder);
}

}  // namespace rakugo::demo
