// `rakugo-tool surface`, `picture`: materials and pictures.
#include <filesystem>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "check/role_proposals.h"
#include "check/surface_report.h"
#include "formats/pictures/picture_edit.h"
#include "prepare/edit_steps.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace {

using base::Json;
namespace fs = std::filesystem;

struct SurfaceOptions {
  std::string mod, model, file, as = "png", use = "color", out;
  uint32_t side = 0;
  bool powers = false, pixels = false, give = false;
};

Json slotsJson(const check::MaterialReport& material) {
  Json out = Json::array();
  for (const check::SlotReport& slot : material.slots)
    out.push_back(Json{{"slot", slot.slot},
                       {"picture", slot.picture},
                       {"found", slot.found},
                       {"format", slot.format},
                       {"width", slot.width},
                       {"height", slot.height},
                       {"normal_map", slot.normal_map},
                       {"transparent", slot.transparent},
                       {"bytes", slot.bytes}});
  return out;
}

Json materialJson(const check::MaterialReport& material) {
  Json out{{"material", material.key},
           {"name", material.name},
           {"role", material.role},
           {"parts", material.parts},
           {"triangles", material.triangles},
           {"alpha", material.alpha},
           {"color", {material.color[0], material.color[1], material.color[2]}},
           {"metal", material.metal},
           {"roughness", material.roughness},
           {"texels_per_m", material.texels_per_m ? Json(*material.texels_per_m) : Json()},
           {"slots", slotsJson(material)}};
  if (material.proposal)
    out["proposal"] = Json{{"role", material.proposal->role},
                           {"certainty", material.proposal->certainty},
                           {"reasons", material.proposal->reasons}};
  return out;
}

void printMaterial(const check::MaterialReport& material) {
  say("{}: {}, worn by {}, {}\n", material.name,
      material.role.empty() ? std::string("no role") : "role " + material.role,
      base::listText(material.parts, 3), base::countText(material.triangles, "triangle", "triangles"));
  if (material.proposal)
    say("  likely {}, {} % sure: {}\n", material.proposal->role,
        base::numberText(material.proposal->certainty * 100, 0),
        base::listText(material.proposal->reasons, 4));
  if (material.texels_per_m) say("  {} pixels to a metre\n", base::numberText(*material.texels_per_m, 0));
  for (const check::SlotReport& slot : material.slots)
    say("  {}: {}{}\n", slot.slot, slot.picture,
        slot.found ? ", " + std::to_string(slot.width) + " × " + std::to_string(slot.height) + " " +
                         slot.format + ", " + base::sizeText(slot.bytes) + " in the game"
                   : std::string(", cannot be read"));
}

int surface(const Common& common, const SurfaceOptions& o) {
  const auto x = examineFolder(o.mod, {});
  if (!x) return failed(common, x.error());
  const auto found = (*x)->context.models.find(o.model);
  if (found == (*x)->context.models.end() || !found->second.prepared.model)
    return failed(common, {"model.unknown",
                           "The mod has no model " + base::presentable(o.model, 60) + " that can be read.",
                           base::Place{o.mod}, "rakugo-tool check says why."});
  const check::SurfaceReport report = check::surfaceReport((*x)->context, o.model);
  if (o.give) {
    std::vector<std::string> given;
    auto open = openMod(o.mod);
    if (!open) return failed(common, open.error());
    const mod::ModState before = open->state;
    for (const check::MaterialReport& one : report.materials)
      if (one.proposal) {
        prepare::setRole(open->state.models.at(o.model), one.key, one.proposal->role);
        given.push_back(one.name + ": " + one.proposal->role);
      }
    if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
    return said(
        common, Json{{"given", given}},
        given.empty() ? "No role is likely for any material." : "Given: " + base::listText(given, 40) + ".");
  }
  if (common.json) {
    Json materials = Json::array();
    for (const check::MaterialReport& one : report.materials) materials.push_back(materialJson(one));
    Json faults = Json::array();
    for (const check::Finding& f : (*x)->findings) {
      const check::CheckRow* row = check::findCheck(f.check);
      if (f.place.model == o.model && row != nullptr && row->station == check::Station::surface)
        faults.push_back(Json{{"check", f.check}, {"material", f.place.material}, {"sentence", f.sentence}});
    }
    Json apart = Json::array();
    for (const auto& [material, why] : report.apart)
      apart.push_back(Json{{"material", material}, {"why", why}});
    say("{}", base::jsonText(Json{{"model", o.model},
                                  {"materials", materials},
                                  {"bytes", report.bytes},
                                  {"can_be_one", report.groups},
                                  {"apart", apart},
                                  {"faults", faults}}));
    return kGood;
  }
  for (const check::MaterialReport& one : report.materials) printMaterial(one);
  say("{} of pictures in the game\n", base::sizeText(report.bytes));
  for (const auto& group : report.groups) say("can be one: {}\n", base::listText(group, 12));
  for (const auto& [material, why] : report.apart) say("{} cannot be one with others: {}\n", material, why);
  return kGood;
}

int picture(const Common& common, const SurfaceOptions& o) {
  const auto bytes = base::readFile(o.file);
  if (!bytes) return failed(common, bytes.error());
  auto decoded = formats::decodePicture(*bytes, o.file);
  if (!decoded) return failed(common, decoded.error());
  formats::Picture made = std::move(decoded).value();
  const auto use = o.use == "normal" ? formats::PictureUse::normal
                   : o.use == "data" ? formats::PictureUse::data
                                     : formats::PictureUse::color;
  made = formats::resizedWithin(made, o.side, o.powers, use,
                                o.pixels ? formats::Resampling::pixels : formats::Resampling::smooth);
  const auto out = formats::encodePicture(made, o.as);
  if (!out) return failed(common, out.error());
  const fs::path to = o.out.empty() ? fs::path(o.file).replace_extension(o.as) : fs::path(o.out);
  std::error_code none;
  if (fs::equivalent(to, o.file, none))
    return failed(common, {"file.same", "The picture would be written over itself.", base::Place{to.string()},
                           "Name another file with -o."});
  if (const auto written = base::writeFileAtomic(to, *out); !written) return failed(common, written.error());
  return said(
      common,
      Json{{"file", to.string()}, {"width", made.width}, {"height", made.height}, {"bytes", out->size()}},
      to.string() + ": " + std::to_string(made.width) + " × " + std::to_string(made.height) + ", " +
          base::sizeText(out->size()));
}

}  // namespace

void addSurfaceCommands(Tool& tool) {
  const auto o = std::make_shared<SurfaceOptions>();
  CLI::App* sub =
      tool.command("surface", "Materials of a model: roles and why, pictures, sizes, density, faults");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("MODEL", o->model, "The model's name")->required();
  sub->add_flag("--give", o->give, "Give every material the role that is likely, and list them");
  tool.runs(sub, [o](const Common& common) { return surface(common, *o); });
  sub = tool.command("picture", "Convert a picture: format, size");
  sub->add_option("FILE", o->file, "A picture")->required();
  sub->add_option("--as", o->as, "png, jpg, tga or webp")
      ->check(CLI::IsMember(formats::writtenPictureFormats()));
  sub->add_option("--use", o->use, "What it holds: color, data or normal")
      ->check(CLI::IsMember({"color", "data", "normal"}));
  sub->add_option("--side", o->side, "At most so many pixels a side")->check(CLI::Range(1, 16384));
  sub->add_flag("--powers", o->powers, "Sides that are powers of two");
  sub->add_flag("--pixels", o->pixels, "Pixel by pixel, for pixel art");
  sub->add_option("-o,--out", o->out, "The file to write; else beside the picture");
  tool.runs(sub, [o](const Common& common) { return picture(common, *o); });
}

}  // namespace rakugo::tool
