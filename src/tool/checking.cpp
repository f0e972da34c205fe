// `rakugo-tool check`, `checks`.
#include <fmt/core.h>

#include "base/json.h"
#include "base/text.h"
#include "check/facts.h"
#include "check/report.h"
#include "tool/command_list.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace {

using base::Json;

int check(const Common& common, const std::string& folder, const std::string& format,
          const std::string& game) {
  const auto x = examineFolder(folder, game, true);
  if (!x) return failed(common, x.error());
  if (common.json || format == "json")
    say("{}", base::jsonText(rakugo::check::reportJson(**x)));
  else if (format == "sarif")
    say("{}", base::jsonText(rakugo::check::reportSarif(**x, RAKUGO_VERSION)));
  else if (format == "junit")
    say("{}", rakugo::check::reportJUnit(**x));
  else
    say("{}", rakugo::check::reportText(**x));
  return (*x)->count(rakugo::check::Severity::stops) > 0 ? kStops : kGood;
}

int checks(const Common& common, bool markdown) {
  if (markdown) {
    say("{}", rakugo::check::checksDocument());
    return kGood;
  }
  Json out = Json::array();
  for (const auto& row : rakugo::check::checkTable()) {
    if (common.json)
      out.push_back(Json{{"id", row.id},
                         {"severity", rakugo::check::severityName(row.severity)},
                         {"station", rakugo::check::stationName(row.station)},
                         {"title", row.title},
                         {"reason", row.reason},
                         {"cure", row.cure}});
    else
      say("{:20} {:5}  {}\n", row.id, rakugo::check::severityName(row.severity), row.title);
  }
  if (common.json) say("{}", base::jsonText(out));
  return kGood;
}

// What checks know of each prepared model, by name.
int sayFacts(const Common& common, const std::string& folder) {
  const auto x = examineFolder(folder, {});
  if (!x) return failed(common, x.error());
  Json out = Json::object();
  std::string text;
  for (const auto& [name, model] : (*x)->context.models) {
    out[name] = rakugo::check::factsOf((*x)->context, model);
    text += name + "\n";
    for (const auto& [id, value] : out[name].items()) {
      const rakugo::check::Fact* fact = rakugo::check::findFact(id);
      const std::string shown =
          value.is_number_float() ? base::numberText(value.get<double>(), 4) : value.dump();
      text += fmt::format("  {:22} {}{}  {}\n", id, value.is_null() ? "not known" : shown,
                          value.is_null() || *fact->unit == '\0' ? "" : std::string(" ") + fact->unit,
                          fact->title);
    }
  }
  return said(common, out, text);
}

struct CheckOptions {
  std::string mod, game, format = "text";
  bool markdown = false;
};

}  // namespace

void addCheckCommands(Tool& tool) {
  const auto o = std::make_shared<CheckOptions>();
  CLI::App* sub = tool.command("check", "Hold a mod against its rulebook");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("--format", o->format, "text, json, sarif (2.1.0) or junit")
      ->check(CLI::IsMember({"text", "json", "sarif", "junit"}));
  sub->add_option("--game", o->game, "A game's folder: look at the mods installed there too");
  tool.runs(sub, [o](const Common& common) { return check(common, o->mod, o->format, o->game); });
  sub = tool.command("facts", "Say what checks know of each model of a mod, by the names that rules use");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  tool.runs(sub, [o](const Common& common) { return sayFacts(common, o->mod); });
  sub = tool.command("checks", "List all checks");
  sub->add_flag("--markdown", o->markdown, "As docs/checks.md");
  tool.runs(sub, [o](const Common& common) { return checks(common, o->markdown); });
}

}  // namespace rakugo::tool
