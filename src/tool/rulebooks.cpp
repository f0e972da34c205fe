// `rakugo-tool rulebook`.
#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "check/rulebook_faults.h"
#include "packing/packager.h"
#include "rulebook/key.h"
#include "rulebook/rulebook.h"
#include "tool/command_list.h"

namespace rakugo::tool {
namespace {

using base::Json;
namespace fs = std::filesystem;

int rulebooks(const Common& common) {
  Json list = Json::array();
  std::string text;
  for (const std::string& id : rulebook::rulebookIds()) {
    const auto folders = rulebook::rulebooksOf(id);
    const auto book = rulebook::findRulebook(id);
    Json one{{"id", id}, {"folder", folders.front().string()}};
    if (book) {
      one["title"] = book->title;
      one["version"] = book->version;
      text += fmt::format("{:12} {} {}, in {}\n", id, book->title, book->version, folders.front().string());
    } else {
      one["problem"] = book.error().text();
      text += fmt::format("{:12} cannot be used: {}\n", id, book.error().text());
    }
    Json hidden = Json::array();
    for (size_t i = 1; i < folders.size(); ++i) {
      hidden.push_back(folders[i].string());
      text += fmt::format("{:12} hides the one in {}\n", "", folders[i].string());
    }
    if (!hidden.empty()) one["hides"] = hidden;
    list.push_back(one);
  }
  return said(common, list, text.empty() ? "No rulebook was found.\n" : text);
}

int rulebookCheck(const Common& common, const std::string& folder) {
  std::vector<base::Error> mistakes, doubts;
  const auto book = rulebook::loadRulebook(folder, &mistakes, &doubts);
  if (!book && mistakes.size() == 1 && mistakes[0].code == "file.missing") return failed(common, mistakes[0]);
  if (book) {
    if (const auto packager = packing::packagerFor(*book); !packager) mistakes.push_back(packager.error());
    for (base::Error& one : check::rulebookFaults(*book)) mistakes.push_back(std::move(one));
    for (base::Error& one : doubts) mistakes.push_back(std::move(one));
    rulebook::addLines(folder, mistakes);
  }
  return sayFaults(common, folder, mistakes);
}

int rulebookKeys(const Common& common, bool markdown, bool schema) {
  if (schema) return said(common, rulebook::rulebookSchema(), base::jsonText(rulebook::rulebookSchema()));
  Json tables = Json::array();
  std::string text;
  for (const rulebook::KeyTable* table : rulebook::keyTables()) {
    text += table->title + "\n";
    Json keys = Json::array();
    for (const rulebook::Key& key : table->keys) {
      text += fmt::format("  {:<20} {}{}\n", key.name, key.required ? "required; " : "", takesText(key));
      keys.push_back({{"key", key.name},
                      {"takes", takesText(key)},
                      {"required", key.required},
                      {"initial", key.initial},
                      {"means", key.means},
                      {"checks", key.checks}});
    }
    tables.push_back({{"table", table->id}, {"title", table->title}, {"keys", keys}});
  }
  return said(common, tables, markdown ? rulebook::keysMarkdown() : text);
}

int newRulebook(const Common& common, std::string folder, const std::string& title) {
  const fs::path given = fs::path(folder).lexically_normal();
  const fs::path path = given.has_filename() ? given : given.parent_path();
  const std::string id = path.filename().string();
  if (id != base::slug(id))
    return failed(common, {"rulebook.id",
                           "The folder's name is the rulebook's id: lower-case letters, digits and dashes.",
                           base::Place{folder}, "Call it \"" + base::slug(id) + "\"."});
  std::error_code error;
  if (fs::exists(path / "rulebook.json", error))
    return failed(common, {"rulebook.exists", "There is a rulebook already.", base::Place{path.string()},
                           "Choose another folder."});
  if (const auto made = base::makeFolder(path); !made) return failed(common, made.error());
  const Json book = rulebook::smallestRulebook(id, title.empty() ? id : title);
  const auto parsed = rulebook::parseRulebook(base::jsonText(book), "rulebook.json");
  if (!parsed) return failed(common, parsed.error());
  if (const auto written = base::writeFileAtomic(path / "rulebook.json", base::jsonText(book)); !written)
    return failed(common, written.error());
  const bool found = !rulebook::rulebooksOf(id).empty();
  return said(common, Json{{"id", id}, {"folder", path.string()}, {"found", found}},
              "Started the rulebook " + id + " in " + path.string() + ".\n" +
                  (found ? ""
                         : "Mods do not find it there: set RAKUGO_RULEBOOKS=" +
                               fs::absolute(path).parent_path().string() + ", or move it to " +
                               rulebook::ownRulebookFolder().string() + ".\n"));
}

}  // namespace

void addRulebookCommands(Tool& tool) {
  struct Options {
    std::string folder, title;
    bool markdown = false, schema = false;
  };
  const auto o = std::make_shared<Options>();
  CLI::App* books = tool.group("rulebook", "Rulebooks: what each game accepts");
  CLI::App* sub = tool.command("check", "Validate a rulebook's folder; every mistake with its place", books);
  sub->add_option("DIR", o->folder)->required();
  tool.runs(sub, [o](const Common& common) { return rulebookCheck(common, o->folder); });
  sub = tool.command("keys", "List all that a rulebook can say: keys, what they take, what they mean", books);
  sub->add_flag("--markdown", o->markdown, "As the tables of docs/rulebook.md");
  sub->add_flag("--schema", o->schema, "As a JSON Schema (2020-12), for editors");
  tool.runs(sub, [o](const Common& common) { return rulebookKeys(common, o->markdown, o->schema); });
  sub = tool.command("list", "List the rulebooks that can be found, where, and which hide others", books);
  tool.runs(sub, [](const Common& common) { return rulebooks(common); });
  sub = tool.command("new", "Start a rulebook: the smallest that is whole", books);
  sub->add_option("DIR", o->folder, "Its folder; the name is its id")->required();
  sub->add_option("--title", o->title, "The game's name");
  tool.runs(sub, [o](const Common& common) { return newRulebook(common, o->folder, o->title); });
}

}  // namespace rakugo::tool
