// `rakugo-tool mend`: cures of findings, one after another.
#include <fmt/core.h>

#include <set>

#include "base/json.h"
#include "base/text.h"
#include "check/checks.h"
#include "check/mend_many.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;
using rakugo::check::Examination;
using rakugo::check::Finding;

constexpr int kMostRounds = 500;  // each takes one finding away

struct MendOptions {
  std::string mod, check, place, reason;
  bool all = false, sure = false, show = false, take_up = false;
};

bool meant(const Examination& x, const Finding& f, const MendOptions& o) {
  if (o.sure && !rakugo::check::isSure(x, f)) return false;
  return !f.mends.empty() && !f.set_aside && (o.check.empty() || f.check == o.check);
}

Json mendJson(const Finding& f) {
  return Json{
      {"check", f.check}, {"place", f.place.text()}, {"sentence", f.sentence}, {"mend", f.mends[0].label}};
}

std::string mendText(const Finding& f) {
  return fmt::format("{:22} {}: {}\n", f.check, f.place.text(), f.mends[0].label);
}

// The first finding that is meant and was not tried; causes come before their effects in the list.
const Finding* next(const Examination& x, const MendOptions& o, const std::set<std::string>& tried) {
  for (const Finding& f : x.findings)
    if (meant(x, f, o) && !f.caused_by && tried.count(rakugo::check::findingKey(f)) == 0) return &f;
  return nullptr;
}

// A check that is not in the table; empty where it is, or none is given.
std::optional<base::Error> unknownCheck(const std::string& id) {
  std::vector<std::string> ids;
  for (const rakugo::check::CheckRow& row : rakugo::check::checkTable()) ids.emplace_back(row.id);
  if (id.empty() || std::find(ids.begin(), ids.end(), id) != ids.end()) return std::nullopt;
  const std::string near = base::nearMiss(id, ids);
  return base::Error{
      "check.unknown",
      "There is no check \"" + base::presentable(id, 60) + "\".",
      {},
      near.empty() ? "\"rakugo-tool checks\" lists them." : "\"" + near + "\" is probably meant."};
}

int mend(const Common& common, const MendOptions& o) {
  if (const auto unknown = unknownCheck(o.check)) return failed(common, *unknown);
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  rakugo::check::Examiner examiner(o.mod, open->book);
  const auto look = [&]() -> base::Result<std::shared_ptr<const Examination>> {
    RAKUGO_ASSIGN(const auto x, examiner.examine(std::make_shared<const mod::ModState>(open->state)));
    return examiner.tryMends(x);
  };
  Json done = Json::array();
  std::string text;
  std::set<std::string> tried;
  auto x = look();
  if (!x) return failed(common, x.error());
  const bool apply = !o.show && (o.all || o.sure || !o.check.empty());
  if (!apply) {
    for (const Finding& f : (*x)->findings)
      if (meant(**x, f, o) && !f.caused_by) done.push_back(mendJson(f)), text += mendText(f);
    if (text.empty())
      text = "No finding has a mend.\n";
    else if (!o.show)
      text += "Nothing was changed; --check ID, --sure or --all mends.\n";
    return said(common, Json{{"mends", done}, {"applied", false}}, text);
  }
  for (int round = 0; round < kMostRounds; ++round) {
    const Finding* f = next(**x, o, tried);
    if (f == nullptr) break;
    tried.insert(rakugo::check::findingKey(*f));
    f->mends[0].apply(open->state);
    done.push_back(mendJson(*f));
    text += mendText(*f);
    x = look();
    if (!x) return failed(common, x.error());
  }
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  const size_t stops = (*x)->count(rakugo::check::Severity::stops),
               shows = (*x)->count(rakugo::check::Severity::shows),
               tidy = (*x)->count(rakugo::check::Severity::tidy);
  text += fmt::format("{} applied; {} stop, {} show, {} tidy are left.\n",
                      base::countText(done.size(), "mend", "mends"), stops, shows, tidy);
  said(common, Json{{"mends", done}, {"applied", true}, {"stops", stops}, {"shows", shows}, {"tidy", tidy}},
       text);
  return kGood;
}

// Findings of a check are lived with, or taken up again.
int aside(const Common& common, const MendOptions& o) {
  if (const auto unknown = unknownCheck(o.check)) return failed(common, *unknown);
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto x =
      rakugo::check::Examiner(o.mod, open->book).examine(std::make_shared<const mod::ModState>(before));
  if (!x) return failed(common, x.error());
  Json list = Json::array();
  std::string text;
  for (const Finding& f : (*x)->findings) {
    if (f.check != o.check || f.set_aside != o.take_up) continue;
    if (!o.place.empty() && f.place.text() != o.place) continue;
    if (f.severity == rakugo::check::Severity::stops)
      return failed(common, {"aside.stops", f.sentence + " That stops the game, and cannot be set aside.",
                             base::Place{o.mod}, f.cure});
    (o.take_up ? rakugo::check::takeUp(f) : rakugo::check::setAside(f, o.reason)).apply(open->state);
    list.push_back(Json{{"check", f.check}, {"place", f.place.text()}, {"sentence", f.sentence}});
    text += f.sentence + "\n";
  }
  if (list.empty())
    return failed(common, {"aside.none",
                           "There is no finding of " + base::presentable(o.check, 60) +
                               (o.take_up ? " that was set aside." : " there."),
                           base::Place{o.mod}, "\"rakugo-tool check --format json\" lists the findings."});
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return said(common, Json{{"findings", list}, {"set_aside", !o.take_up}},
              text + (o.take_up ? "Taken up again.\n" : "Set aside.\n"));
}

}  // namespace

void addMendCommands(Tool& tool) {
  const auto o = std::make_shared<MendOptions>();
  CLI::App* sub =
      tool.command("mend", "Apply the cures of findings, causes first; without a choice, list them");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("--check", o->check, "Only findings of this check");
  sub->add_flag("--all", o->all, "Every finding that has a mend");
  sub->add_flag("--sure", o->sure, "Every finding whose mend leaves nothing to choose");
  sub->add_flag("--show", o->show, "Only say what would be done");
  tool.runs(sub, [o](const Common& common) { return mend(common, *o); });
  sub = tool.command("aside", "Set findings of a check aside, with the reason; they stay listed as such");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("CHECK", o->check, "The check's id")->required();
  sub->add_option("REASON", o->reason, "Why one lives with it");
  sub->add_option("--place", o->place, "Only the finding there, as \"check\" says its place");
  sub->add_flag("--take-up", o->take_up, "Look at them again");
  tool.runs(sub, [o](const Common& common) { return aside(common, *o); });
}

}  // namespace rakugo::tool
