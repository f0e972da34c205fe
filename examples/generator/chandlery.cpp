#include "chandlery.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>

#include "demo_mod.h"
#include "figure.h"
#include "formats/archives/zip.h"
#include "formats/export.h"
#include "formats/pictures/pictures.h"
#include "kit.h"
#include "pictures.h"
#include "shapes.h"
#include "things.h"

namespace rakugo::demo {
namespace {

namespace fs = std::filesystem;
using base::Json;

template <class T>
T must(base::Result<T> made) {
  if (!made) {
    std::fprintf(stderr, "make-demo: %s\n", made.error().text().c_str());
    std::exit(1);
  }
  return std::move(made).value();
}

// A crate for fish, of slats; centimetres, as its maker works.
scene::Model fishCrate() {
  scene::Model model;
  const auto planks = addMaterial(model, "planks", {1, 1, 1, 1}, 0, 0.9F, "textures/planks.png"),
             rope = addMaterial(model, "rope handles", {0.76F, 0.66F, 0.45F, 1}, 0, 1);
  const auto root = addNode(model, "fish_crate", {});
  Shape slats;
  for (int row = 0; row < 3; ++row) {
    const float low = 0.02F + 0.11F * static_cast<float>(row), high = low + 0.09F;
    slats.box({-0.4F, -0.25F, low}, {0.4F, -0.235F, high}, 0.003F, 0.4F);
    slats.box({-0.4F, 0.235F, low}, {0.4F, 0.25F, high}, 0.003F, 0.4F);
    slats.box({-0.4F, -0.234F, low}, {-0.385F, 0.234F, high}, 0.003F, 0.4F);
    slats.box({0.385F, -0.234F, low}, {0.4F, 0.234F, high}, 0.003F, 0.4F);
  }
  for (int board = 0; board < 4; ++board) {
    const float left = -0.232F + 0.118F * static_cast<float>(board);
    slats.box({-0.384F, left, 0}, {0.384F, left + 0.108F, 0.018F}, 0.003F, 0.4F);
  }
  Shape handles;
  for (const float side : {-1.0F, 1.0F}) {
    std::vector<glm::vec3> path;
    for (int i = 0; i <= 12; ++i) {
      const float t = static_cast<float>(i) / 12, a = t * 3.14159265F;
      path.emplace_back(side * (0.4F + 0.05F * std::sin(a)), 0.1F * std::cos(a), 0.26F - 0.03F * std::sin(a));
    }
    handles.tube(
        path, [](float) { return 0.011F; }, 8, 1, 0.1F);
  }
  addPart(model, "slats", root, {slats.finish(glm::mat4(1), planks)});
  addPart(model, "handles", root, {handles.finish(glm::mat4(1), rope)});
  roundAll(model, 100);
  scene::assignKeys(model);
  return model;
}

// A stone from the beach with a hole through it, as a scanner left it: a colour a vertex, no material,
// millimetres.
scene::Model luckStone() {
  Shape ring;
  std::vector<glm::vec3> path;
  for (int i = 0; i <= 40; ++i) {
    const float a = static_cast<float>(i) / 40 * 6.2831853F;
    path.emplace_back(0.16F * std::cos(a), 0.03F * std::sin(2 * a), 0.22F + 0.19F * std::sin(a));
  }
  ring.tube(
      path, [](float t) { return 0.075F + 0.022F * std::sin(t * 18.85F); }, 20, 1, 0.3F);
  scene::Primitive p = ring.finish(glm::mat4(1), {});
  p.uvs[0].clear();
  for (size_t v = 0; v < p.positions.size(); ++v) {
    const float vein = std::sin(p.positions[v].z * 31 + p.positions[v].x * 17);
    const float grey = std::round((0.5F + 0.18F * vein) * 255) / 255;
    p.colors.emplace_back(grey, std::round(grey * 0.97F * 255) / 255, std::round(grey * 0.9F * 255) / 255, 1);
  }
  scene::Model model;
  addPart(model, "luck_stone", {}, {std::move(p)});
  roundAll(model, 1000);
  scene::assignKeys(model);
  return model;
}

}  // namespace

void writeChandlery(const fs::path& mods, const fs::path& downloads, const rulebook::Rulebook& book) {
  DemoMod mod(mods / "chandlery", "chandlery-3n8qvd", "Chandlery",
              "Odds and ends from three makers, each in the format it was shared in.", "2026-11-23");
  // A person with bones, as COLLADA.
  scene::Model mender = keeper(book.skeletons[0], [](const rulebook::Bone& bone) { return bone.id; });
  mender.frame.up = geometry::Axis::plus_z;
  mender.frame.forward = geometry::Axis::plus_x;
  mod.add("net-mender", must(formats::exportModel(mender, "net_mender.dae")).files, "net_mender.dae",
          "Ottilie Brandvold", "CC-BY-4.0", "keeper", "Net mender", Json::object());

  // The crate, as the archive it was downloaded in; its picture lies there under another name than the model
  // says.
  std::map<std::string, base::Bytes> crate = must(formats::exportModel(fishCrate(), "fish_crate.obj")).files;
  const base::Bytes planks = formats::encodePng(drawOak(256));
  std::map<std::string, base::Bytes> packed;
  for (const auto& [name, bytes] : crate) packed["fish crate/" + name] = bytes;
  packed["fish crate/pictures/Planks_Color.png"] = planks;
  put(downloads / "fish_crate.zip", must(formats::writeZip(packed)));
  crate["found/Planks_Color.png"] = planks;
  mod::ModelDoc& box =
      mod.add("fish-crate", crate, "fish_crate.obj", "Marn Tolliver", "CC0-1.0", "fitting", "Fish crate",
              Json{{"lit", false},
                   {"blurb", "Three slats a side. Smells of Tuesday."},
                   {"price", 12},
                   {"mass", 6.5},
                   {"shelf", "moorings"},
                   {"build_time", 0.5}});
  DemoMod::step(box, "read_lengths", Json{{"unit", "cm"}});
  DemoMod::step(box, "use_picture",
                Json{{"picture", "textures/planks.png"}, {"file", "found/Planks_Color.png"}});
  DemoMod::step(box, "turn", Json{{"forward", "+X"}, {"up", "+Z"}});
  DemoMod::step(box, "origin", Json{{"to", "floor_centre"}});
  DemoMod::step(box, "role", Json{{"material", "rope handles"}, {"role", "paint"}});

  // The stone, as a scanner's PLY, just taken in: its unit is still to be said.
  mod.add("luck-stone", must(formats::exportModel(luckStone(), "luck_stone.ply")).files, "luck_stone.ply",
          "Harbour Workshop", "CC0-1.0", "fitting", "Luck stone",
          Json{{"lit", false},
               {"blurb", "Found at the lowest tide. Look through it once, then put it back."},
               {"price", 3},
               {"mass", 30.0},
               {"shelf", "moorings"},
               {"build_time", 0.2}});
  mod.save();
}

}  // namespace rakugo::demo
