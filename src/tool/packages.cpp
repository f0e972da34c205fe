// What was built: looking in, comparing, installing.
#include "base/json.h"
#include "base/text.h"
#include "packing/install.h"
#include "tool/command_list.h"

namespace rakugo::tool {
namespace {

using base::Json;

int list(const Common& common, const std::string& file) {
  const auto package = packing::lookInto(file);
  if (!package) return failed(common, package.error());
  const bundle::Manifest& m = package->manifest;
  if (common.json) {
    Json entries = Json::array();
    for (const auto& e : package->entries)
      entries.push_back(Json{{"id", e.id},
                             {"kind", e.kind},
                             {"stored", e.stored_bytes},
                             {"raw", e.raw_bytes},
                             {"sha256", e.sha256}});
    say("{}", base::jsonText(Json{{"file", file},
                                  {"mod", m.mod_id},
                                  {"title", m.title},
                                  {"version", m.version},
                                  {"rulebook", m.rulebook_id},
                                  {"bytes", package->file_bytes},
                                  {"entries", entries}}));
    return kGood;
  }
  say("{} {} ({}), for {} {}\n", m.title, m.version, m.mod_id, m.rulebook_id, m.rulebook_version);
  for (const auto& e : package->entries)
    say("  {:9} {:>10} {:>10}  {}\n", e.kind, base::sizeText(e.stored_bytes), base::sizeText(e.raw_bytes),
        e.id);
  return kGood;
}

int listGame(const Common& common, const std::string& game) {
  const auto installed = packing::listInstalled(game);
  const auto fought = packing::contests(installed);
  if (common.json) {
    Json mods = Json::array(), twice = Json::array();
    for (const auto& one : installed) {
      Json m{{"file", one.path.filename().string()}, {"ours", one.ours}, {"bytes", one.bytes}};
      if (one.problem.empty()) {
        m["mod"] = one.manifest.mod_id;
        m["title"] = one.manifest.title;
        m["author"] = one.manifest.author;
        m["version"] = one.manifest.version;
        m["objects"] = one.manifest.objects;
      } else {
        m["problem"] = one.problem;
      }
      mods.push_back(std::move(m));
    }
    for (const auto& c : fought)
      twice.push_back(Json{{"object", c.object}, {"mods", c.mods}, {"wins", c.mods.back()}});
    say("{}", base::jsonText(Json{{"game", game}, {"installed", mods}, {"defined_twice", twice}}));
    return kGood;
  }
  if (installed.empty()) say("Nothing is installed in {}.\n", game);
  for (const auto& one : installed) {
    if (!one.problem.empty())
      say("{}  cannot be read: {}\n", one.path.filename().string(), one.problem);
    else
      say("{}  {} {} by {}, {}{}\n", one.path.filename().string(), one.manifest.title, one.manifest.version,
          one.manifest.author.empty() ? "?" : one.manifest.author, base::sizeText(one.bytes),
          one.ours ? "" : ", not installed by Rakugo");
  }
  for (const auto& c : fought)
    say("{} is defined by {}; {} wins.\n", c.object, base::listText(c.mods, 9), c.mods.back());
  return kGood;
}

int verify(const Common& common, const std::string& file) {
  const auto faults = packing::verifyPackage(file);
  // A file that is not there is unusable input; one that is there and damaged has failed verification.
  if (!faults.empty() && faults.front().code.rfind("file.", 0) == 0) return failed(common, faults.front());
  return sayFaults(common, file, faults);
}

int install(const Common& common, const std::string& file, const std::string& game) {
  const auto done = packing::installPackage(file, game);
  if (!done) return failed(common, done.error());
  if (common.json)
    say("{}", base::jsonText(Json{{"installed", done->path.string()}, {"kept", done->kept.string()}}));
  else
    say("Installed {}{}\n", done->path.string(),
        done->kept.empty() ? "" : "; what was there is kept as " + done->kept.string());
  return kGood;
}

int uninstall(const Common& common, const std::string& mod, const std::string& game) {
  const auto done = packing::uninstallMod(mod, game);
  if (!done) return failed(common, done.error());
  if (common.json)
    say("{}", base::jsonText(Json{{"uninstalled", mod}, {"put_back", done->string()}}));
  else
    say("Took {} out{}\n", mod, done->empty() ? "" : "; " + done->string() + " is as it was before");
  return kGood;
}

struct PackageOptions {
  std::string package, game, mod;
};

}  // namespace

int comparePackages(const Common& common, const std::string& a, const std::string& b) {
  const auto first = packing::lookInto(a), second = packing::lookInto(b);
  if (!first) return failed(common, first.error());
  if (!second) return failed(common, second.error());
  const auto differences = packing::comparePackages(*first, *second);
  Json list = Json::array();
  for (const auto& d : differences) {
    const packing::PackageEntry& e = d.a != nullptr ? *d.a : *d.b;
    const char* how = d.a == nullptr ? "added" : d.b == nullptr ? "removed" : "changed";
    if (common.json)
      list.push_back(Json{{"id", e.id},
                          {"kind", e.kind},
                          {"how", how},
                          {"before", d.a != nullptr ? d.a->raw_bytes : 0},
                          {"after", d.b != nullptr ? d.b->raw_bytes : 0}});
    else
      say("{:8} {:9} {:>10} {:>10}  {}\n", how, e.kind, d.a != nullptr ? base::sizeText(d.a->raw_bytes) : "",
          d.b != nullptr ? base::sizeText(d.b->raw_bytes) : "", e.id);
  }
  if (common.json)
    say("{}", base::jsonText(Json{{"a", a}, {"b", b}, {"differences", list}}));
  else if (differences.empty())
    say("Both hold the same.\n");
  return differences.empty() ? kGood : kStops;
}

void addPackageCommands(Tool& tool) {
  const auto o = std::make_shared<PackageOptions>();
  CLI::App* sub = tool.command("list", "List what a bundle or zip holds, or what is installed in a game");
  CLI::Option* listed = sub->add_option("PACKAGE", o->package);
  CLI::Option* in_game = sub->add_option("--game", o->game, "The game's folder");
  listed->excludes(in_game);
  tool.runs(sub, [o](const Common& common) {
    if (o->package.empty() && o->game.empty()) throw CLI::RequiredError("PACKAGE or --game");
    return o->game.empty() ? list(common, o->package) : listGame(common, o->game);
  });
  sub = tool.command("verify", "Compare every byte of a bundle or zip with what it promises");
  sub->add_option("PACKAGE", o->package)->required();
  tool.runs(sub, [o](const Common& common) { return verify(common, o->package); });
  sub = tool.command("install", "Put a bundle or zip into a game's mods folder; what was there is kept");
  sub->add_option("PACKAGE", o->package)->required();
  sub->add_option("--game", o->game, "The game's folder")->required();
  tool.runs(sub, [o](const Common& common) { return install(common, o->package, o->game); });
  sub = tool.command("uninstall", "Take an installed mod out and put back what was there before");
  sub->add_option("ID", o->mod, "The mod's id")->required();
  sub->add_option("--game", o->game, "The game's folder")->required();
  tool.runs(sub, [o](const Common& common) { return uninstall(common, o->mod, o->game); });
}

}  // namespace rakugo::tool
