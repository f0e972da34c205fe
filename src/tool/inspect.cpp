// `rakugo-tool inspect`: what is inside a model file.
#include <fmt/core.h>

#include <cmath>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "formats/pictures/pictures.h"
#include "formats/read_model.h"
#include "formats/sounds.h"
#include "tool/command_list.h"

namespace rakugo::tool {
namespace {

using base::Json;

Json vectorJson(glm::vec3 v) { return Json::array({v.x, v.y, v.z}); }

Json boundsJson(const geometry::Bounds& box) {
  return box.empty() ? Json() : Json{{"min", vectorJson(box.min)}, {"max", vectorJson(box.max)}};
}

// Numbers that are none: readers keep them, for the checks to find.
uint64_t notFinite(const scene::Model& model) {
  uint64_t out = 0;
  for (const auto& mesh : model.meshes)
    for (const scene::Primitive& p : mesh->primitives)
      for (const glm::vec3& at : p.positions)
        out += std::isfinite(at.x) && std::isfinite(at.y) && std::isfinite(at.z) ? 0 : 1;
  return out;
}

Json materialsJson(const scene::Model& model) {
  Json out = Json::array();
  for (const scene::Material& m : model.materials) {
    Json textures = Json::array();
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = m.*slot.use;
      if (!use.image.valid()) continue;
      const scene::Image& image = model.images[use.image.value()];
      textures.push_back(Json{{"slot", slot.name}, {"uri", image.uri}, {"found", image.bytes != nullptr}});
    }
    out.push_back(Json{{"name", m.name}, {"textures", textures}});
  }
  return out;
}

Json skinsJson(const scene::Model& model) {
  Json out = Json::array();
  for (const scene::Skin& skin : model.skins) {
    Json joints = Json::array();
    for (const auto j : skin.joints) joints.push_back(model.node(j).name);
    out.push_back(Json{{"name", skin.name}, {"joints", joints}});
  }
  return out;
}

Json animationsJson(const scene::Model& model) {
  Json out = Json::array();
  for (const scene::Animation& a : model.animations) {
    float seconds = 0;
    for (const auto& c : a.channels)
      for (const float t : c.times_s) seconds = std::max(seconds, t);
    out.push_back(Json{{"name", a.name}, {"seconds", seconds}, {"channels", a.channels.size()}});
  }
  return out;
}

Json warningsJson(const std::string& file, const formats::ReadModel& read) {
  Json out = Json::array();
  for (const base::Note& n : read.notes)
    out.push_back(Json{{"code", n.code}, {"message", n.message}, {"where", n.place.text()}});
  if (const uint64_t count = notFinite(read.model); count > 0)
    out.push_back(Json{
        {"code", "model.not_finite"},
        {"message", "Not all numbers of " + base::countText(count, "position", "positions") + " are finite."},
        {"where", file}});
  return out;
}

Json describe(const std::string& file, const formats::ReadModel& read) {
  const scene::Model& model = read.model;
  Json out = Json::object();
  out["file"] = file;
  out["format"] = read.format;
  out["version"] = read.version;
  // Null where the file says nothing: what is taken then is a guess.
  out["unit_m"] = read.unit_m ? Json(*read.unit_m) : Json();
  out["up"] = read.up ? Json(geometry::axisName(*read.up)) : Json();
  out["taken_up"] = geometry::axisName(model.frame.up);
  out["scene_nodes"] = scene::reachedNodes(model).size() - read.added_nodes;
  uint64_t primitives = 0, vertices = 0, triangles = 0, morphs = 0;
  for (const auto& mesh : model.meshes) {
    morphs += mesh->morph_names.size();
    primitives += mesh->primitives.size();
    for (const auto& p : mesh->primitives) {
      vertices += p.positions.size();
      triangles += p.indices.size() / 3;
    }
  }
  const auto stored = [](uint64_t of_file, uint64_t of_model) { return of_file > 0 ? of_file : of_model; };
  out["meshes"] = stored(read.stored_meshes, model.meshes.size());
  out["primitives"] = stored(read.stored_primitives, primitives);
  out["vertices"] = stored(read.stored_vertices, vertices);
  out["triangles"] = stored(read.stored_triangles, triangles);
  out["scene_triangles"] = scene::countsOf(model).triangles;
  out["lines"] = read.lines;
  out["points"] = read.points;
  out["unused_vertices"] = read.unused_vertices;
  out["materials"] = materialsJson(model);
  out["images"] = model.images.size();
  out["skins"] = skinsJson(model);
  out["animations"] = animationsJson(model);
  out["morph_targets"] = morphs;
  out["cameras"] = read.cameras;
  out["lights"] = read.lights;
  out["bounds"] = boundsJson(scene::unbentBounds(model));
  if (!model.skins.empty()) out["bounds_skinned"] = boundsJson(scene::boundsOf(model));
  if (!read.copyright.empty()) out["copyright"] = read.copyright;
  out["warnings"] = warningsJson(file, read);
  return out;
}

void print(const std::string& file, const formats::ReadModel& read) {
  const scene::Model& model = read.model;
  const glm::vec3 size = formats::boundsWithOthers(read).size();
  const scene::Counts counts = scene::countsOf(model);
  say("{}: {} {}\n", file, read.format, read.version);
  say("  {}, {}, {}\n", base::countText(counts.parts, "part", "parts"),
      base::countText(counts.triangles, "triangle", "triangles"),
      base::countText(counts.vertices, "vertex", "vertices"));
  say("  {} × {} × {} (x, y, z), up {}, forward {}\n", base::lengthText(size.x), base::lengthText(size.y),
      base::lengthText(size.z), geometry::axisName(model.frame.up), geometry::axisName(model.frame.forward));
  if (!read.unit_m) say("  the file says nothing of its unit; metres are taken\n");
  if (counts.bones > 0) say("  {}\n", base::countText(counts.bones, "bone", "bones"));
  for (const scene::Material& m : model.materials) {
    std::string line = "  material " + m.name;
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = m.*slot.use;
      if (!use.image.valid()) continue;
      const scene::Image& image = model.images[use.image.value()];
      line += fmt::format("; {}: {}{}", slot.name, image.uri.empty() ? "embedded" : image.uri,
                          image.bytes ? "" : " (missing)");
    }
    say("{}\n", line);
  }
  for (const auto& mesh : model.meshes)
    for (const std::string& morph : mesh->morph_names) say("  morph target {}\n", morph);
  for (const scene::Animation& a : model.animations) say("  animation {}\n", a.name);
  if (read.cameras + read.lights > 0)
    say("  {}, {}\n", base::countText(read.cameras, "camera", "cameras"),
        base::countText(read.lights, "light", "lights"));
  for (const base::Note& n : read.notes) say("  note: {} [{}]\n", n.message, n.place.text());
}

int inspectPicture(const Common& common, const std::string& file, const formats::PictureInfo& info) {
  if (common.json)
    say("{}", base::jsonText(Json{
                  {"file", file}, {"format", info.format}, {"width", info.width}, {"height", info.height}}));
  else
    say("{}: {} picture, {} × {} pixels\n", file, info.format, info.width, info.height);
  return kGood;
}

int inspectSound(const Common& common, const std::string& file, const formats::SoundInfo& info) {
  if (common.json)
    say("{}", base::jsonText(Json{{"file", file},
                                  {"format", info.format},
                                  {"seconds", info.seconds()},
                                  {"rate_hz", info.rate_hz},
                                  {"channels", info.channels},
                                  {"peak", info.peak}}));
  else
    say("{}: {} sound, {} s, {} Hz, {}, peak {}\n", file, info.format, base::numberText(info.seconds(), 2),
        info.rate_hz, base::countText(info.channels, "channel", "channels"), base::numberText(info.peak, 3));
  return kGood;
}

int inspect(const Common& common, const std::string& file) {
  const auto read = formats::readModelFile(file);
  if (read) {
    if (common.json)
      say("{}", base::jsonText(describe(file, *read)));
    else
      print(file, *read);
    return kGood;
  }
  if (read.error().code != "model.unknown_format") return failed(common, read.error());
  // No model; a picture or a sound is looked at too.
  const auto bytes = base::readFile(file, base::Limits{}.file_bytes);
  if (!bytes) return failed(common, bytes.error());
  const std::string name = std::filesystem::path(file).filename().string();
  if (formats::isSound(*bytes)) {
    const auto sound = formats::decodeSound(*bytes, name);
    return sound ? inspectSound(common, file, sound->info) : failed(common, sound.error());
  }
  const auto picture = formats::pictureInfo(*bytes, name);
  if (picture) return inspectPicture(common, file, *picture);
  return failed(common, picture.error().code == "picture.unknown_format" ? read.error() : picture.error());
}

}  // namespace

void addInspectCommands(Tool& tool) {
  const auto file = std::make_shared<std::string>();
  CLI::App* sub = tool.command("inspect", "Say what is inside a model file");
  sub->add_option("FILE", *file)->required();
  tool.runs(sub, [file](const Common& common) { return inspect(common, *file); });
}

}  // namespace rakugo::tool
