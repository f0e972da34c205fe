// `rakugo-tool rulebook`.
#include <fmt/core.h>

#include "base/json.h"
#include "packing/packager.h"
#include "rulebook/rulebook.h"
#include "tool/command_list.h"

namespace rakugo::tool {
namespace {

using base::Json;

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
  if (book)
    if (const auto packager = packing::packagerFor(*book); !packager) mistakes.push_back(packager.error());
  return sayFaults(common, folder, mistakes);
}

}  // namespace

void addRulebookCommands(Tool& tool) {
  const auto folder = std::make_shared<std::string>();
  CLI::App* books = tool.group("rulebook", "Rulebooks: what each game accepts");
  CLI::App* sub = tool.command("check", "Validate a rulebook's folder; every mistake with its place", books);
  sub->add_option("DIR", *folder)->required();
  tool.runs(sub, [folder](const Common& common) { return rulebookCheck(common, *folder); });
  sub = tool.command("list", "List the rulebooks that can be found", books);
  tool.runs(sub, [](const Common& common) { return rulebooks(common); });
}

}  // namespace rakugo::tool
