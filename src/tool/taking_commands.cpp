// `rakugo-tool object take`: an object out of a bundle, or one of the game's own, as the mod's own.
#include <fmt/core.h>

#include "base/text.h"
#include "packing/unpack_object.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct TakeOptions {
  std::string mod, thing, name, from, title;
};

base::Result<bundle::Bundle> openBundle(const OpenMod& open, const TakeOptions& o) {
  if (!o.from.empty()) return bundle::Bundle::open(o.from);
  if (open.book->own_things.empty())
    return base::Error{"rulebook.no_things",
                       fmt::format("The rulebook of {} brings nothing of the game's own.", open.book->title),
                       {},
                       "Name a bundle with --from."};
  return bundle::Bundle::open(open.book->folder / open.book->own_things);
}

int listThings(const Common& common, const bundle::Bundle& bundle) {
  Json json = Json::array();
  std::string text;
  for (const packing::ObjectInBundle& one : packing::objectsIn(bundle)) {
    json.push_back(Json{{"id", one.id}, {"kind", one.kind}, {"title", one.title}});
    text += fmt::format("{}  {} ({})\n", one.id, one.title, one.kind);
  }
  return said(common, json, text.empty() ? "The bundle has no objects.\n" : text);
}

int take(const Common& common, const TakeOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto bundle = openBundle(*open, o);
  if (!bundle) return failed(common, bundle.error());
  if (o.thing.empty()) return listThings(common, *bundle);
  const mod::ModState before = open->state;
  const auto taken =
      packing::takeObject(open->folder, open->state, *open->book, *bundle, o.thing,
                          o.name.empty() ? base::slug(o.title.empty() ? o.thing : o.title) : o.name, o.title);
  if (!taken) return failed(common, taken.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  std::string text = fmt::format("{} is an object of this mod now.\n", taken->object);
  for (const std::string& one : taken->lost) text += fmt::format("Not taken: {}.\n", one);
  return said(common, Json{{"object", taken->object}, {"lost", taken->lost}}, text);
}

}  // namespace

void addTakingCommands(Tool& tool) {
  const auto o = std::make_shared<TakeOptions>();
  CLI::App* sub = tool.command(
      "take", "Take an object of the game's own, or of a bundle, as the mod's own; without one, list them",
      tool.group("object", ""));
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("THING", o->thing, "The object's id in the bundle");
  sub->add_option("--name", o->name, "What it is called in the mod; begins as its title");
  sub->add_option("--title", o->title, "What players read; begins as that of the object");
  sub->add_option("--from", o->from, "A bundle file; left out: what the rulebook ships of the game");
  tool.runs(sub, [o](const Common& common) { return take(common, *o); });
}

}  // namespace rakugo::tool
