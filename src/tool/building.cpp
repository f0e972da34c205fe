// `rakugo-tool plan`, `build`, `export` and `prepare`.
#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "packing/build_package.h"
#include "packing/export_model.h"
#include "packing/package_plan.h"
#include "tool/command_list.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace {

using base::Json;

int exportPrepared(const Common& common, const std::string& folder, const std::string& model,
                   const std::string& file) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const auto exported = packing::exportPrepared(**x, model, file);
  if (!exported) return failed(common, exported.error());
  Json files = Json::array();
  for (const auto& path : exported->files) files.push_back(path.string());
  if (common.json) {
    say("{}", base::jsonText(Json{{"files", files}, {"lost", exported->lost}}));
    return kGood;
  }
  for (const Json& name : files) say("{}\n", name.get<std::string>());
  for (const std::string& lost : exported->lost) say("  not carried: {}\n", lost);
  return kGood;
}

int buildMod(const Common& common, const std::string& folder, const std::string& output, bool afresh,
             const std::string& built_for) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const std::filesystem::path target =
      output.empty() ? packing::defaultOutput(**x, built_for) : std::filesystem::path(output);
  packing::BuildCache cache(packing::cacheFolder(folder));
  packing::BuildOptions options;
  options.target = built_for;
  if (!afresh) options.cache = &cache;
  const auto built = packing::buildToFile(**x, target, options);
  if (!built) return failed(common, built.error());
  if (common.json)
    say("{}", base::jsonText(Json{{"bundle", target.string()},
                                  {"entries", built->entries},
                                  {"reused", built->reused},
                                  {"bytes", built->bytes}}));
  else
    say("{}: {}, {}{}\n", target.string(), base::countText(built->entries, "entry", "entries"),
        base::sizeText(built->bytes),
        built->reused == 0 ? "" : ", " + std::to_string(built->reused) + " as they were");
  return kGood;
}

int plan(const Common& common, const std::string& folder, const std::string& built_for) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const auto entries = packing::planPackage(**x, built_for);
  if (!entries) return failed(common, entries.error());
  Json list = Json::array();
  for (const auto& e : *entries) {
    if (common.json)
      list.push_back(Json{{"id", e.id}, {"kind", bundle::kindName(e.kind)}, {"why", e.why}});
    else
      say("{:9} {}  ({})\n", bundle::kindName(e.kind), e.id, e.why);
  }
  if (common.json) say("{}", base::jsonText(list));
  return kGood;
}

struct BuildOptionsOf {
  std::string mod, model, output, target;
  bool afresh = false;
};

}  // namespace

void addBuildCommands(Tool& tool) {
  const auto o = std::make_shared<BuildOptionsOf>();
  CLI::App* sub = tool.command("plan", "Say what a build would hold, and why");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("--target", o->target, "One of the game's targets (default: its first)");
  tool.runs(sub, [o](const Common& common) { return plan(common, o->mod, o->target); });
  sub = tool.command("build", "Build a mod into what its game takes: a bundle, or a zip");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("-o,--output", o->output, "The file to write (default: MOD/build/ID.rkb or .zip)");
  sub->add_option("--target", o->target, "One of the game's targets (default: its first)");
  sub->add_flag("--afresh", o->afresh, "Make everything anew, whatever was built before");
  tool.runs(sub,
            [o](const Common& common) { return buildMod(common, o->mod, o->output, o->afresh, o->target); });
  sub = tool.command("export", "Write a prepared model to a glTF, COLLADA, OBJ, PLY or STL file");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("MODEL", o->model, "The model's name in the mod")->required();
  sub->add_option("FILE", o->output, "The file to write; its ending says the format")->required();
  tool.runs(sub, [o](const Common& common) { return exportPrepared(common, o->mod, o->model, o->output); });
  sub = tool.command("prepare", "Replay a model's preparation and write the result");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("MODEL", o->model, "The model's name in the mod")->required();
  sub->add_option("-o,--output", o->output, "The file to write; its ending says the format")->required();
  tool.runs(sub, [o](const Common& common) { return exportPrepared(common, o->mod, o->model, o->output); });
}

}  // namespace rakugo::tool
