// `rakugo-tool lists`: the game's lists that objects of a mod enter.
#include <fmt/core.h>

#include "base/text.h"
#include "prepare/objects/piece_values.h"
#include "rulebook/field_value.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct ListOptions {
  std::string mod, object, list;
  std::vector<std::string> values;  ///< "stock=3"
  int entry = 1;
};

base::Error noList(const OpenMod& open, const std::string& list) {
  std::vector<std::string> known;
  for (const rulebook::GameList& one : open.book->lists) known.push_back(one.id);
  return {"list.unknown",
          fmt::format("{} has no list \"{}\".", open.book->title, base::presentable(list, 40)),
          {},
          known.empty() ? "It has none." : fmt::format("It has {}.", base::listText(known, 12))};
}

// The entry of that number in a list, the first being 1.
base::Result<size_t> entryAt(const mod::ObjectDoc& object, const ListOptions& o) {
  int number = 0;
  for (size_t i = 0; i < object.lists.size(); ++i)
    if (object.lists[i].list == o.list && ++number == o.entry) return i;
  return base::Error{
      "list.entry",
      fmt::format("{} has no entry {} in {}.", o.object, o.entry, base::presentable(o.list, 40)),
      {},
      number == 0 ? std::string("Put it in first.") : fmt::format("It has {}.", number)};
}

// Sets "FIELD=VALUE"; an empty value takes it out.
base::Status setEntryValue(const rulebook::GameList& list, Json& values, const std::string& given) {
  const size_t equals = given.find('=');
  const std::string id = given.substr(0, equals);
  const rulebook::Field* field = list.findField(id);
  if (field == nullptr || equals == std::string::npos) {
    std::vector<std::string> known;
    for (const rulebook::Field& one : list.fields) known.push_back(one.id);
    return base::Error{"list.value",
                       fmt::format("{} asks for no \"{}\".", list.title, base::presentable(given, 40)),
                       {},
                       fmt::format("Write FIELD=VALUE; it has {}.", base::listText(known, 20))};
  }
  if (equals + 1 == given.size()) {
    values.erase(id);
    return {};
  }
  RAKUGO_ASSIGN(values[id], rulebook::typedValue(*field, given.substr(equals + 1)));
  return {};
}

std::string entriesText(const OpenMod& open, const std::string& name, const mod::ObjectDoc& object,
                        Json& out) {
  std::string text;
  for (const mod::ListEntry& one : object.lists) {
    const rulebook::GameList* list = open.book->findList(one.list);
    out.push_back(Json{{"object", name}, {"list", one.list}, {"values", one.values}});
    text += fmt::format("{}: {}\n", name, list != nullptr ? list->title : one.list);
    for (const auto& [id, value] : one.values.items())
      text +=
          fmt::format("  {}: {}\n", id, value.is_string() ? value.get<std::string>() : base::jsonLine(value));
  }
  return text;
}

int showLists(const Common& common, const ListOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  Json out = Json::array();
  std::string text;
  for (const auto& [name, object] : open->state.objects)
    if (o.object.empty() || name == o.object) text += entriesText(*open, name, object, out);
  if (text.empty()) {
    std::vector<std::string> lists;
    for (const rulebook::GameList& one : open->book->lists) lists.push_back(one.id);
    text = lists.empty()
               ? "The game has no lists.\n"
               : fmt::format("Nothing stands in a list. The game has {}.\n", base::listText(lists, 12));
  }
  return said(common, out, text);
}

// Loads, changes the object's entries and saves.
int changeLists(
    const Common& common, const ListOptions& o,
    const std::function<base::Status(const OpenMod&, const rulebook::GameList&, mod::ObjectDoc&)>& work) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!object) return failed(common, object.error());
  const rulebook::GameList* list = open->book->findList(o.list);
  if (list == nullptr) return failed(common, noList(*open, o.list));
  if (const base::Status done = work(*open, *list, **object); !done) return failed(common, done.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  Json out = Json::array();
  const std::string text = entriesText(*open, o.object, open->state.objects.at(o.object), out);
  return said(common, out, text.empty() ? o.object + " stands in no list now.\n" : text);
}

base::Status putIn(const rulebook::GameList& list, mod::ObjectDoc& object, const ListOptions& o) {
  if (!list.takes(object.kind))
    return base::Error{"list.kind",
                       fmt::format("{} takes no {}.", list.title, object.kind),
                       {},
                       fmt::format("It takes {}.", base::listText(list.of, 12))};
  mod::ListEntry entry = prepare::newEntry(list);
  for (const std::string& given : o.values) RAKUGO_TRY(setEntryValue(list, entry.values, given));
  object.lists.push_back(std::move(entry));
  return {};
}

}  // namespace

void addListCommands(Tool& tool) {
  const auto o = std::make_shared<ListOptions>();
  CLI::App* group = tool.group("lists", "Where objects enter the game: shops, recipes, start kits");
  const auto command = [&](const char* name, const char* help) {
    CLI::App* sub = tool.command(name, help, group);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    sub->add_option("OBJECT", o->object)->required();
    sub->add_option("LIST", o->list, "Its id in the rulebook")->required();
    return sub;
  };
  CLI::App* sub = tool.command("show", "What stands in the game's lists", group);
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("OBJECT", o->object, "Of this object alone");
  tool.runs(sub, [o](const Common& common) { return showLists(common, *o); });

  sub = command("put", "Put an object into a list");
  sub->add_option("--value", o->values,
                  "FIELD=VALUE; as often as wanted. Rows: \"good/coal,3; good/rope,1\"");
  tool.runs(sub, [o](const Common& common) {
    return changeLists(common, *o,
                       [&](const OpenMod&, const rulebook::GameList& list, mod::ObjectDoc& object) {
                         return putIn(list, object, *o);
                       });
  });

  sub = command("set", "Change what an entry says");
  sub->add_option("--entry", o->entry, "Of several the how-many-eth; 1 is the first");
  sub->add_option("--value", o->values, "FIELD=VALUE; FIELD= empties it")->required();
  tool.runs(sub, [o](const Common& common) {
    return changeLists(
        common, *o,
        [&](const OpenMod&, const rulebook::GameList& list, mod::ObjectDoc& object) -> base::Status {
          RAKUGO_ASSIGN(const size_t at, entryAt(object, *o));
          for (const std::string& given : o->values)
            RAKUGO_TRY(setEntryValue(list, object.lists[at].values, given));
          return {};
        });
  });

  sub = command("take", "Take an object out of a list");
  sub->add_option("--entry", o->entry, "Of several the how-many-eth; 1 is the first");
  tool.runs(sub, [o](const Common& common) {
    return changeLists(
        common, *o, [&](const OpenMod&, const rulebook::GameList&, mod::ObjectDoc& object) -> base::Status {
          RAKUGO_ASSIGN(const size_t at, entryAt(object, *o));
          object.lists.erase(object.lists.begin() + static_cast<ptrdiff_t>(at));
          return {};
        });
  });
}

}  // namespace rakugo::tool
