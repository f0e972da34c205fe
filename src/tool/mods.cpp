// Starting, copying and comparing mods.
#include "base/json.h"
#include "base/text.h"
#include "mod/changes.h"
#include "mod/copy.h"
#include "prepare/naming.h"
#include "rulebook/rulebook.h"
#include "tool/command_list.h"
#include "tool/find_book.h"

namespace rakugo::tool {
namespace {

using base::Json;

int copyMod(const Common& common, const std::string& from, const std::string& folder,
            const std::string& title, bool only_show);

int newMod(const Common& common, const std::string& folder, const std::string& book_id,
           const std::string& title, const std::string& sample) {
  const auto book = findBook(book_id);
  if (!book) return failed(common, book.error());
  if (!sample.empty()) {
    for (const rulebook::Sample& one : book->samples)
      if (std::filesystem::path(one.folder).filename() == sample)
        return copyMod(common, (book->folder / one.folder).string(), folder, title, false);
    std::vector<std::string> names;
    for (const rulebook::Sample& one : book->samples)
      names.push_back(std::filesystem::path(one.folder).filename().string());
    return failed(common,
                  base::Error{"rulebook.sample",
                              "The rulebook has no sample \"" + sample + "\".",
                              {},
                              names.empty() ? "It has none." : "It has " + base::listText(names, 20) + "."});
  }
  const auto state = mod::newMod(folder, title, book->id, book->version);
  if (!state) return failed(common, state.error());
  if (common.json)
    say("{}", base::jsonText(Json{{"folder", folder}, {"id", state->card.id}}));
  else
    say("Started {} in {}\n", state->card.id, folder);
  return kGood;
}

int copyMod(const Common& common, const std::string& from, const std::string& folder,
            const std::string& title, bool only_show) {
  const auto state = mod::loadMod(from);
  if (!state) return failed(common, state.error());
  const auto book = findBook(state->card.rulebook);
  if (!book) return failed(common, book.error());
  const mod::CopyPlan plan = mod::planCopy(from, *state, title, mod::freshModId(title, {state->card.id}),
                                           prepare::namingValues(*book));
  if (!only_show)
    if (const auto made = mod::makeCopy(from, folder, plan); !made) return failed(common, made.error());
  Json renames = Json::array();
  for (const mod::Rename& r : plan.renames) {
    if (common.json)
      renames.push_back(
          Json{{"what", mod::renameSortName(r.sort)}, {"from", r.from}, {"to", r.to}, {"places", r.places}});
    else
      say("{:7} {} -> {}\n", mod::renameSortName(r.sort), r.from, r.to);
  }
  if (common.json)
    say("{}", base::jsonText(Json{{"folder", folder}, {"id", plan.id}, {"renames", renames}}));
  else if (!only_show)
    say("Made {} in {}\n", plan.id, folder);
  return kGood;
}

int compareMods(const Common& common, const std::string& a, const std::string& b) {
  const auto first = mod::loadMod(a), second = mod::loadMod(b);
  if (!first) return failed(common, first.error());
  if (!second) return failed(common, second.error());
  const auto found = mod::differences(*first, *second, mod::changedPaths(*first, *second), 10000);
  Json list = Json::array();
  for (const mod::Difference& d : found) {
    if (common.json)
      list.push_back(Json{{"document", d.document}, {"pointer", d.pointer}, {"a", d.ours}, {"b", d.theirs}});
    else
      say("{}\n", d.text("there"));
  }
  if (common.json)
    say("{}", base::jsonText(Json{{"a", a}, {"b", b}, {"differences", list}}));
  else if (found.empty())
    say("Both say the same.\n");
  return found.empty() ? kGood : kStops;
}

struct ModOptions {
  std::string mod, folder, book, title, sample;
  bool show = false;
};

}  // namespace

void addModCommands(Tool& tool) {
  const auto o = std::make_shared<ModOptions>();
  CLI::App* sub = tool.command("new", "Start a mod, blank or from a sample of the rulebook");
  sub->add_option("DIR", o->folder, "A new folder")->required();
  sub->add_option("--rulebook", o->book, "Id of the rulebook")->required();
  sub->add_option("--title", o->title, "Title of the mod")->required();
  sub->add_option("--sample", o->sample, "Name of one of the rulebook's samples");
  tool.runs(sub,
            [o](const Common& common) { return newMod(common, o->folder, o->book, o->title, o->sample); });
  sub = tool.command("copy", "Make a mod from another one, every name and reference inside renamed");
  sub->add_option("MOD", o->mod, "The mod to copy")->required();
  sub->add_option("DIR", o->folder, "A new folder")->required();
  sub->add_option("--title", o->title, "Title of the copy")->required();
  sub->add_flag("--show", o->show, "Only say what would be renamed");
  tool.runs(sub, [o](const Common& common) { return copyMod(common, o->mod, o->folder, o->title, o->show); });
  sub = tool.command("differences", "Compare two mods value by value");
  sub->add_option("A", o->mod)->required();
  sub->add_option("B", o->folder)->required();
  tool.runs(sub, [o](const Common& common) { return compareMods(common, o->mod, o->folder); });
}

}  // namespace rakugo::tool
