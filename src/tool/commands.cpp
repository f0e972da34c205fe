#include "commands.h"
#include "base/json.h"

#include <fmt/core.h>

#include "base/files.h"
#include "base/text.h"
#include "build/build_bundle.h"
#include "build/build_plan.h"
#include "build/install.h"
#include "check/report.h"
#include "examine.h"
#include "formats/export.h"
#include "mod/store.h"

namespace rakugo::tool {
using base::Json;

base::Result<std::shared_ptr<const rakugo::check::Examination>> examineFolder(const std::string& folder,
                                                                              const std::string& game,
                                                                              bool try_mends) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, rulebook::findRulebook(state.card.rulebook));
  rakugo::check::Examiner examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book)));
  if (!game.empty()) examiner.setInstalled(build::installedMods(game));
  RAKUGO_ASSIGN(auto x, examiner.examine(std::make_shared<const mod::ModState>(std::move(state))));
  return try_mends ? examiner.tryMends(x) : x;
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
    fmt::print("{}", base::jsonText(out));
  } else {
    for (const auto& f : faults) fmt::print(stderr, "{}\n", f.text());
    if (faults.empty()) fmt::print("{} is whole.\n", file);
  }
  return faults.empty() ? kGood : kStops;
}

int failed(const Common& common, const base::Error& error) {
  if (common.json) fmt::print("{}", base::jsonText(Json{{"error", errorJson(error)}}));
  fmt::print(stderr, "rakugo-tool: {}\n", error.text());
  if (error.code == "build.refused") return kStops;
  return error.code == "build.verify" ? kStops : kUnusable;
}

int check(const Common& common, const std::string& folder, const std::string& format,
          const std::string& game) {
  const auto x = examineFolder(folder, game, true);
  if (!x) return failed(common, x.error());
  if (common.json || format == "json")
    fmt::print("{}", base::jsonText(rakugo::check::reportJson(**x)));
  else if (format == "sarif")
    fmt::print("{}", base::jsonText(rakugo::check::reportSarif(**x, RAKUGO_VERSION)));
  else if (format == "junit")
    fmt::print("{}", rakugo::check::reportJUnit(**x));
  else
    fmt::print("{}", rakugo::check::reportText(**x));
  return (*x)->count(rakugo::check::Severity::stops) > 0 ? kStops : kGood;
}

int exportPrepared(const Common& common, const std::string& folder, const std::string& model,
                   const std::string& file) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const auto& models = (*x)->context.models;
  const auto found = models.find(model);
  if (found == models.end() || !found->second.prepared.model) {
    std::vector<std::string> known;
    for (const auto& [name, state] : models)
      if (state.prepared.model) known.push_back(name);
    return failed(common, {"export.no_model",
                           "The mod has no model " + base::presentable(model, 60) + " that can be read.",
                           base::Place{folder}, "Its models are " + base::listText(known, 12) + "."});
  }
  const std::filesystem::path target(file);
  const auto exported = formats::exportModel(*found->second.prepared.model, target.filename().string());
  if (!exported) return failed(common, exported.error());
  Json files = Json::array();
  for (const auto& [name, bytes] : exported->files) {
    const std::filesystem::path path = target.parent_path() / name;
    if (const auto made = base::makeFolder(path.parent_path().empty() ? "." : path.parent_path()); !made)
      return failed(common, made.error());
    if (const auto written = base::writeFileAtomic(path, bytes); !written)
      return failed(common, written.error());
    files.push_back(path.string());
  }
  if (common.json) {
    fmt::print("{}", base::jsonText(Json{{"files", files}, {"lost", exported->lost}}));
    return kGood;
  }
  for (const Json& name : files) fmt::print("{}\n", name.get<std::string>());
  for (const std::string& lost : exported->lost) fmt::print("  not carried: {}\n", lost);
  return kGood;
}

int buildMod(const Common& common, const std::string& folder, const std::string& output, bool afresh) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const std::filesystem::path target =
      output.empty() ? build::defaultOutput(**x) : std::filesystem::path(output);
  build::BuildCache cache(build::cacheFolder(folder));
  build::BuildOptions options;
  if (!afresh) options.cache = &cache;
  const auto built = build::buildToFile(**x, target, options);
  if (!built) return failed(common, built.error());
  if (common.json)
    fmt::print("{}", base::jsonText(Json{{"bundle", target.string()},
                                         {"entries", built->entries},
                                         {"reused", built->reused},
                                         {"bytes", built->bytes}}));
  else
    fmt::print("{}: {}, {}{}\n", target.string(), base::countText(built->entries, "entry", "entries"),
               base::sizeText(built->bytes),
               built->reused == 0 ? "" : ", " + std::to_string(built->reused) + " as they were");
  return kGood;
}

int plan(const Common& common, const std::string& folder) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  const auto entries = build::planBundle(**x);
  if (!entries) return failed(common, entries.error());
  Json list = Json::array();
  for (const auto& e : *entries) {
    if (common.json)
      list.push_back(Json{{"id", e.id}, {"kind", bundle::kindName(e.kind)}, {"why", e.why}});
    else
      fmt::print("{:9} {}  ({})\n", bundle::kindName(e.kind), e.id, e.why);
  }
  if (common.json) fmt::print("{}", base::jsonText(list));
  return kGood;
}

int rulebooks(const Common& common) {
  Json list = Json::array();
  for (const std::string& id : rulebook::rulebookIds()) {
    const auto book = rulebook::findRulebook(id);
    if (common.json)
      list.push_back(book ? Json{{"id", id}, {"title", book->title}, {"version", book->version}}
                          : Json{{"id", id}, {"problem", book.error().text()}});
    else if (book)
      fmt::print("{:12} {} {}\n", id, book->title, book->version);
    else
      fmt::print("{:12} cannot be used: {}\n", id, book.error().text());
  }
  if (common.json) fmt::print("{}", base::jsonText(list));
  return kGood;
}

int rulebookCheck(const Common& common, const std::string& folder) {
  std::vector<base::Error> mistakes;
  const auto book = rulebook::loadRulebook(folder, &mistakes);
  if (!book && mistakes.size() == 1 && mistakes[0].code == "file.missing") return failed(common, mistakes[0]);
  return sayFaults(common, folder, mistakes);
}

int checks(const Common& common, bool markdown) {
  if (markdown) {
    fmt::print("{}", rakugo::check::checksDocument());
    return kGood;
  }
  Json out = Json::array();
  for (const auto& row : rakugo::check::checkTable()) {
    if (common.json)
      out.push_back(Json{{"id", row.id},
                         {"severity", rakugo::check::severityName(row.severity)},
                         {"title", row.title},
                         {"reason", row.reason},
                         {"cure", row.cure}});
    else
      fmt::print("{:20} {:5}  {}\n", row.id, rakugo::check::severityName(row.severity), row.title);
  }
  if (common.json) fmt::print("{}", base::jsonText(out));
  return kGood;
}

}  // namespace rakugo::tool
