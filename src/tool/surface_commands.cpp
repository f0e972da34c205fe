// `rakugo-tool surface`, `picture`: materials and pictures.
#include <filesystem>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "check/role_proposals.h"
#include "check/surface_cost.h"
#include "check/surface_report.h"
#include "formats/pictures/picture_edit.h"
#include "packing/runtime.h"
#include "prepare/edit_steps.h"
#include "prepare/surface/shared_sheet.h"
#include "texture/block_decoder.h"
#include "texture/block_encoder.h"
#include "texture/dds.h"
#include "texture/picture_quality.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace {

using base::Json;
namespace fs = std::filesystem;

struct SurfaceOptions {
  std::string mod, model, file, as = "png", use = "color", format = "rgba8", out, share;
  uint32_t side = 0;
  bool powers = false, pixels = false, give = false, one_level = false, packed = false;
};

Json bytesJson(const check::SurfaceReport& report, const std::vector<uint64_t>& bytes) {
  Json out = Json::object();
  for (size_t t = 0; t < bytes.size(); ++t) out[report.targets[t].id] = bytes[t];
  return out;
}

// "683 kB on desktop, 171 kB on mobile".
std::string bytesText(const check::SurfaceReport& report, const std::vector<uint64_t>& bytes) {
  std::vector<std::string> out;
  for (size_t t = 0; t < bytes.size(); ++t)
    out.push_back(base::sizeText(bytes[t]) + " on " + report.targets[t].id);
  return base::listText(out, out.size());
}

Json slotsJson(const check::SurfaceReport& report, const check::MaterialReport& material) {
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
                       {"stored_as", rulebook::kPictureRoleNames[static_cast<size_t>(slot.role)]},
                       {"bytes", bytesJson(report, slot.bytes)}});
  return out;
}

Json materialJson(const check::SurfaceReport& report, const check::MaterialReport& material) {
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
           {"slots", slotsJson(report, material)}};
  for (const auto& [id, text] : material.packed) out["packed"][id] = text;
  if (material.proposal)
    out["proposal"] = Json{{"role", material.proposal->role},
                           {"certainty", material.proposal->certainty},
                           {"reasons", material.proposal->reasons}};
  return out;
}

void printMaterial(const check::SurfaceReport& report, const check::MaterialReport& material) {
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
                         slot.format + ", " + bytesText(report, slot.bytes)
                   : std::string(", cannot be read"));
  for (const auto& [id, text] : material.packed) say("  packed as {}: {}\n", id, text);
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
  const check::SurfaceCost cost =
      check::surfaceCost(*found->second.prepared.model, *(*x)->book, (*x)->book->allTargets().front());
  if (!o.share.empty()) {
    auto open = openMod(o.mod);
    if (!open) return failed(common, open.error());
    const mod::ModState before = open->state;
    uint32_t side = 0;
    if (const auto other = (*x)->context.models.find(o.share);
        other != (*x)->context.models.end() && other->second.prepared.model)
      side = prepare::sideToShare(*found->second.prepared.model, std::as_const(before.models).at(o.model),
                                  *other->second.prepared.model, std::as_const(before.models).at(o.share),
                                  (*x)->book->picture_max_side);
    if (const base::Status shared = prepare::shareSheet(open->state, o.model, o.share, side); !shared)
      return failed(common, shared.error());
    if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
    return said(common, Json{{"shared", {o.model, o.share}}},
                o.model + " and " + o.share + " share one sheet.");
  }
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
    for (const check::MaterialReport& one : report.materials) materials.push_back(materialJson(report, one));
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
                                  {"bytes", bytesJson(report, report.bytes)},
                                  {"materials_worn", cost.materials},
                                  {"draws", cost.draws},
                                  {"can_be_one", report.groups},
                                  {"apart", apart},
                                  {"faults", faults}}));
    return kGood;
  }
  for (const check::MaterialReport& one : report.materials) printMaterial(report, one);
  say("{}, {}; pictures in the game: {}\n", base::countText(cost.materials, "material", "materials"),
      base::countText(cost.draws, "draw", "draws"), bytesText(report, report.bytes));
  for (const auto& group : report.groups) say("can be one: {}\n", base::listText(group, 12));
  for (const auto& [material, why] : report.apart) say("{} cannot be one with others: {}\n", material, why);
  return kGood;
}

// In a format of graphics cards, and how near that is to the picture.
base::Result<base::Bytes> storedAs(const formats::Picture& picture, formats::PictureUse use,
                                   const SurfaceOptions& o, Json& said_of, std::string& words) {
  packing::PictureStoring how;
  how.use = use;
  how.mip_levels = !o.one_level;
  how.supercompressed = o.packed;
  how.format = bundle::findPixelFormat(o.format)->format;
  const bundle::PixelFormatRow& row = bundle::rowOf(how.format);
  if (use == formats::PictureUse::color && row.vulkan_srgb == 0)
    return base::Error{"picture.unknown_format", std::string(row.title) + " holds no colour.",
                       base::Place{o.file}, "Say --use data or --use normal, or take another format."};
  const bundle::Ktx2Picture stored = packing::storedPicture(picture, how);
  const unsigned channels = row.channels == 4   ? texture::kColorAlpha
                            : row.channels == 3 ? texture::kColor
                            : row.channels == 2 ? texture::kRedGreen
                                                : texture::kRed;
  const texture::PictureQuality quality = texture::pictureQuality(
      picture.pixels,
      texture::decodeLevel(stored.levels[0], stored.width, stored.height, stored.format, stored.srgb),
      stored.width, stored.height, channels);
  said_of["format"] = row.id;
  said_of["levels"] = stored.levels.size();
  said_of["psnr_db"] = quality.psnr_db;
  said_of["worst_block"] =
      Json{{"x", quality.worst_x}, {"y", quality.worst_y}, {"psnr_db", quality.worst_psnr_db}};
  words = std::string(", ") + row.title + ", " + base::numberText(quality.psnr_db, 1) +
          " dB, the worst block " + base::numberText(quality.worst_psnr_db, 1) + " dB at " +
          std::to_string(quality.worst_x) + ", " + std::to_string(quality.worst_y);
  if (quality.psnr_db >= texture::PictureQuality::kExact)
    words = std::string(", ") + row.title + ", without loss";
  return o.as == "dds" ? texture::encodeDds(stored) : base::Result<base::Bytes>(bundle::encodeKtx2(stored));
}

std::vector<std::string> writtenFormats() {
  std::vector<std::string> out = formats::writtenPictureFormats();
  out.insert(out.end(), {"ktx2", "dds"});
  return out;
}

std::vector<std::string> pixelFormatIds() {
  std::vector<std::string> out;
  for (const bundle::PixelFormatRow& row : bundle::pixelFormats())
    if (row.written) out.emplace_back(row.id);
  return out;
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
  Json said_of{{"width", made.width}, {"height", made.height}};
  std::string words;
  const auto out = o.as == "ktx2" || o.as == "dds" ? storedAs(made, use, o, said_of, words)
                                                   : formats::encodePicture(made, o.as);
  if (!out) return failed(common, out.error());
  const fs::path to = o.out.empty() ? fs::path(o.file).replace_extension(o.as) : fs::path(o.out);
  std::error_code none;
  if (fs::equivalent(to, o.file, none))
    return failed(common, {"file.same", "The picture would be written over itself.", base::Place{to.string()},
                           "Name another file with -o."});
  if (const auto written = base::writeFileAtomic(to, *out); !written) return failed(common, written.error());
  said_of["file"] = to.string();
  said_of["bytes"] = out->size();
  return said(common, said_of,
              to.string() + ": " + std::to_string(made.width) + " × " + std::to_string(made.height) + ", " +
                  base::sizeText(out->size()) + words);
}

}  // namespace

void addSurfaceCommands(Tool& tool) {
  const auto o = std::make_shared<SurfaceOptions>();
  CLI::App* sub =
      tool.command("surface", "Materials of a model: roles and why, pictures, sizes, density, faults");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("MODEL", o->model, "The model's name")->required();
  sub->add_flag("--give", o->give, "Give every material the role that is likely, and list them");
  sub->add_option("--share-with", o->share,
                  "Let another model, whose materials are merged too, share the sheet");
  tool.runs(sub, [o](const Common& common) { return surface(common, *o); });
  sub = tool.command("picture", "Convert a picture: format, size");
  sub->add_option("FILE", o->file, "A picture")->required();
  sub->add_option("--as", o->as, "png, jpg, tga, webp, ktx2 or dds")->check(CLI::IsMember(writtenFormats()));
  sub->add_option("--format", o->format, "How KTX2 and DDS store its pixels: rgba8, bc1, astc6x6, …")
      ->check(CLI::IsMember(pixelFormatIds()));
  sub->add_flag("--one-level", o->one_level, "KTX2 and DDS without the smaller mip levels");
  sub->add_flag("--packed", o->packed, "KTX2 whose levels are packed with zstd");
  sub->add_option("--use", o->use, "What it holds: color, data or normal")
      ->check(CLI::IsMember({"color", "data", "normal"}));
  sub->add_option("--side", o->side, "At most so many pixels a side")->check(CLI::Range(1, 16384));
  sub->add_flag("--powers", o->powers, "Sides that are powers of two");
  sub->add_flag("--pixels", o->pixels, "Pixel by pixel, for pixel art");
  sub->add_option("-o,--out", o->out, "The file to write; else beside the picture");
  tool.runs(sub, [o](const Common& common) { return picture(common, *o); });
}

}  // namespace rakugo::tool
