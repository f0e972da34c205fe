#include "tool/tool.h"

#include "base/json.h"
#include "base/text.h"
#include "tool/command_list.h"

namespace rakugo::tool {
using base::Json;

Tool::Tool()
    : app_("Rakugo's command line: prepare, check, build, list, verify and install mods without a window.",
           "rakugo-tool") {
  app_.set_version_flag("--version", "rakugo-tool " RAKUGO_VERSION);
  app_.require_subcommand(1);
}

CLI::App* Tool::command(const char* name, const char* help, CLI::App* group) {
  CLI::App* made = (group != nullptr ? *group : app_).add_subcommand(name, help);
  made->add_flag("--json", common_.json, "One JSON object on stdout");
  return made;
}

CLI::App* Tool::group(const char* name, const char* help) {
  // Another file may have made it already.
  const auto known = app_.get_subcommands([&](const CLI::App* one) { return one->get_name() == name; });
  if (!known.empty()) return known.front();
  CLI::App* made = app_.add_subcommand(name, help);
  made->require_subcommand(1);
  return made;
}

void Tool::runs(CLI::App* command, std::function<int(const Common&)> work) {
  command->callback([this, work = std::move(work)] { chosen_ = work; });
}

int Tool::run(int argc, const char* const* argv) {
  try {
    app_.parse(argc, argv);
    return chosen_ ? chosen_(common_) : kGood;
  } catch (const CLI::ParseError& e) {
    return app_.exit(e) == 0 ? kGood : kUnusable;
  } catch (const std::exception& e) {
    complain("rakugo-tool: a fault of ours: {}\n", e.what());
    return kOurFault;
  }
}

void addAllCommands(Tool& tool) {
  for (const auto add :
       {addInspectCommands,  addCheckCommands,   addBuildCommands,  addSourceCommands, addPackageCommands,
        addShapeCommands,    addSurfaceCommands, addBoneCommands,   addPoseCommands,   addModCommands,
        addRulebookCommands, addStepCommands,    addThingCommands,  addPieceCommands,  addFieldCommands,
        addListCommands,     addSoundCommands,   addMendCommands,   addWatchCommands,  addDonorCommands,
        addVariantCommands,  addTextCommands,    addTakingCommands, addManualCommands})
    add(tool);
}

Json errorJson(const base::Error& e) {
  Json out{{"code", e.code}, {"message", e.message}};
  if (const std::string where = e.place.text(); !where.empty()) out["where"] = where;
  if (!e.place.file.empty()) out["file"] = e.place.file;
  if (!e.place.path.empty()) out["path"] = e.place.path;
  if (e.place.offset >= 0) out["offset"] = e.place.offset;
  if (e.place.line > 0) out["line"] = e.place.line;
  if (!e.cure.empty()) out["cure"] = e.cure;
  return out;
}

int sayFaults(const Common& common, const std::string& file, const std::vector<base::Error>& faults) {
  if (common.json) {
    Json out{{"file", file}, {"good", faults.empty()}, {"faults", Json::array()}};
    for (const auto& f : faults) out["faults"].push_back(errorJson(f));
    say("{}", base::jsonText(out));
  } else {
    for (const auto& f : faults) complain("{}\n", f.text());
    if (faults.empty()) say("{} is whole.\n", file);
  }
  return faults.empty() ? kGood : kStops;
}

void sayText(const std::string& text) { fmt::print("{}", base::printable(text)); }
void complainText(const std::string& text) { fmt::print(stderr, "{}", base::printable(text)); }

int failed(const Common& common, const base::Error& error) {
  if (common.json) say("{}", base::jsonText(Json{{"error", errorJson(error)}}));
  complain("rakugo-tool: {}\n", error.text());
  if (error.code == "build.refused") return kStops;
  return error.code == "build.verify" ? kStops : kUnusable;
}

int said(const Common& common, const Json& json, const std::string& text) {
  say("{}", common.json ? base::jsonText(json) : text);
  return kGood;
}

}  // namespace rakugo::tool
