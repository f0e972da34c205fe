// `rakugo-tool source`, `model`, `object`: what a mod holds, made, renamed, copied and removed.
#include <fmt/core.h>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "mod/origins.h"
#include "mod/things.h"
#include "prepare/naming.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

namespace fs = std::filesystem;
using base::Json;
using mod::Thing;

struct ThingOptions {
  std::string mod, name, to, kind, source;
  std::vector<std::string> models;
  bool references = false;
};

std::string folderOf(const OpenMod& open, const std::string& source) {
  return (fs::path(open.folder) / "sources" / source).string();
}

// What is to happen to a source's folder before the documents are saved; undone when saving fails.
struct FolderWork {
  std::function<base::Status()> before;
  std::function<void()> undo;
  std::function<void()> after;
};

FolderWork moving(const OpenMod& open, const std::string& from, const std::string& to) {
  const fs::path a = folderOf(open, from), b = folderOf(open, to);
  return {[a, b] { return base::moveIntoPlace(a, b); }, [a, b] { (void)base::moveIntoPlace(b, a); },
          [folder = open.folder, from, to] {
            // Where it came from is known on this machine alone; not to know it costs one question.
            (void)mod::moveOrigin(folder, from, to);
          }};
}

FolderWork copying(const OpenMod& open, const std::string& from, const std::string& to) {
  const fs::path a = folderOf(open, from), b = folderOf(open, to);
  return {[a, b]() -> base::Status {
            std::error_code error;
            fs::copy(a, b, fs::copy_options::recursive, error);
            if (error)
              return base::Error{"file.unwritable",
                                 "The source's folder could not be copied: " + error.message() + ".",
                                 base::Place{b.string()},
                                 {}};
            return {};
          },
          [b] {
            std::error_code error;
            fs::remove_all(b, error);
          },
          {}};
}

FolderWork removing(const OpenMod& open, const std::string& name) {
  const fs::path folder = folderOf(open, name);
  return {{}, {}, [folder, mod_folder = open.folder, name] {
            std::error_code error;
            fs::remove_all(folder, error);
            (void)mod::moveOrigin(mod_folder, name, {});
          }};
}

// Loads, changes, moves folders, saves, and says it.
int change(const Common& common, const std::string& folder, const std::string& done,
           const std::function<base::Status(OpenMod&, FolderWork&)>& work) {
  auto open = openMod(folder);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  FolderWork folders;
  if (base::Status changed = work(*open, folders); !changed) {
    base::Error error = changed.error();
    if (error.place.file.empty()) error.place.file = folder;
    return failed(common, error);
  }
  if (folders.before)
    if (const base::Status moved = folders.before(); !moved) return failed(common, moved.error());
  if (const base::Status saved = saveChanges(*open, before); !saved) {
    if (folders.undo) folders.undo();
    return failed(common, saved.error());
  }
  if (folders.after) folders.after();
  Json documents = Json::array();
  std::string text = done + "\n";
  for (const std::string& path : mod::changedPaths(before, open->state)) {
    documents.push_back(path);
    text += "  " + path + "\n";
  }
  return said(common, Json{{"done", done}, {"documents", documents}}, text);
}

int renameOne(const Common& common, Thing thing, const ThingOptions& o) {
  return change(common, o.mod, o.name + " is " + o.to + " now.",
                [&](OpenMod& open, FolderWork& folders) -> base::Status {
                  const auto naming = prepare::namingValues(*open.book);
                  RAKUGO_TRY(mod::renameThing(open.state, thing, o.name, o.to, naming));
                  if (thing == Thing::source && o.name != o.to) folders = moving(open, o.name, o.to);
                  return {};
                });
}

int copyOne(const Common& common, Thing thing, const ThingOptions& o) {
  return change(common, o.mod, o.to + " is a copy of " + o.name + ".",
                [&](OpenMod& open, FolderWork& folders) -> base::Status {
                  RAKUGO_TRY(mod::copyThing(open.state, thing, o.name, o.to));
                  if (thing == Thing::source) folders = copying(open, o.name, o.to);
                  return {};
                });
}

int removeOne(const Common& common, Thing thing, const ThingOptions& o) {
  return change(common, o.mod, "Removed " + o.name + ".",
                [&](OpenMod& open, FolderWork& folders) -> base::Status {
                  const auto naming = prepare::namingValues(*open.book);
                  RAKUGO_TRY(mod::removeThing(open.state, thing, o.name, o.references, naming));
                  if (thing == Thing::source) folders = removing(open, o.name);
                  return {};
                });
}

int makeModel(const Common& common, const ThingOptions& o) {
  return change(common, o.mod, "Made the model " + o.name + ".", [&](OpenMod& open, FolderWork&) {
    return mod::newModel(open.state, o.name, o.source.empty() ? o.name : o.source);
  });
}

int makeObject(const Common& common, const ThingOptions& o) {
  return change(common, o.mod, "Made the object " + o.name + ".",
                [&](OpenMod& open, FolderWork&) -> base::Status {
                  if (open.book->findKind(o.kind) == nullptr) {
                    std::vector<std::string> kinds;
                    for (const rulebook::Kind& kind : open.book->kinds) kinds.push_back(kind.id);
                    return base::Error{"rulebook.kind",
                                       "The rulebook has no kind " + base::presentable(o.kind, 60) + ".",
                                       {},
                                       "Its kinds are " + base::listText(kinds, 12) + "."};
                  }
                  return mod::newObject(open.state, o.name, o.kind, o.models);
                });
}

// Where a source comes from, in words.
int setOrigin(const Common& common, const ThingOptions& o) {
  return change(common, o.mod, o.name + ", " + o.kind + ": " + base::presentable(o.to, 200),
                [&](OpenMod& open, FolderWork&) -> base::Status {
                  RAKUGO_ASSIGN(const auto found,
                                named(open.state.sources, o.name, "source", "mod.no_source", open.folder));
                  mod::SourceDoc& doc = *found;
                  (o.kind == "author"    ? doc.author
                   : o.kind == "licence" ? doc.licence
                   : o.kind == "address" ? doc.address
                                         : doc.note) = o.to;
                  return {};
                });
}

// Ties another size of a model to the source that it is made of, or unties it.
int setSize(const Common& common, const ThingOptions& o) {
  return change(
      common, o.mod,
      o.to + " of " + o.name + (o.source.empty() ? " is no more." : " is made of " + o.source + "."),
      [&](OpenMod& open, FolderWork&) -> base::Status {
        RAKUGO_ASSIGN(const auto model,
                      named(open.state.models, o.name, "model", "mod.no_model", open.folder));
        std::vector<std::string> known;
        for (const rulebook::Kind& kind : open.book->kinds)
          for (const rulebook::Variant& variant : kind.variants) known.push_back(variant.id);
        if (std::find(known.begin(), known.end(), o.to) == known.end())
          return base::Error{"rulebook.variant",
                             "The rulebook has no size " + base::presentable(o.to, 60) + ".",
                             base::Place{open.folder},
                             known.empty() ? "It has none." : "It has " + base::listText(known, 12) + "."};
        if (o.source.empty()) {
          model->variants.erase(o.to);
          return {};
        }
        RAKUGO_TRY(named(open.state.sources, o.source, "source", "mod.no_source", open.folder));
        model->variants[o.to] = o.source;
        return {};
      });
}

int listThings(const Common& common, Thing thing, const ThingOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  Json list = Json::array();
  std::string text;
  const auto naming = prepare::namingValues(*open->book);
  for (const std::string& name : mod::namesOf(open->state, thing)) {
    Json uses = Json::array();
    for (const mod::UseOf& use : mod::usesOf(open->state, thing, name, naming)) uses.push_back(use.where);
    text += name + "\n";
    for (const Json& use : uses) text += "    used by " + use.get<std::string>() + "\n";
    list.push_back(Json{{"name", name}, {"used_by", uses}});
  }
  return said(common, list, text.empty() ? "None yet.\n" : text);
}

void addThing(Tool& tool, Thing thing, const std::shared_ptr<ThingOptions>& o) {
  const std::string what = mod::thingName(thing), one = (what[0] == 'o' ? "an " : "a ") + what;
  CLI::App* group = tool.group(what.c_str(), ("The " + what + "s of a mod").c_str());
  const auto command = [&](const char* name, const std::string& help) {
    CLI::App* sub = tool.command(name, help.c_str(), group);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    return sub;
  };
  CLI::App* sub = command("list", "Every " + what + ", and what uses it");
  tool.runs(sub, [o, thing](const Common& common) { return listThings(common, thing, *o); });
  sub = command("rename", "Call " + one + " otherwise; every reference follows");
  sub->add_option("NAME", o->name)->required();
  sub->add_option("TO", o->to, "Its new name")->required();
  tool.runs(sub, [o, thing](const Common& common) { return renameOne(common, thing, *o); });
  sub = command("copy", "Add a copy of " + one);
  sub->add_option("NAME", o->name)->required();
  sub->add_option("TO", o->to, "The copy's name")->required();
  tool.runs(sub, [o, thing](const Common& common) { return copyOne(common, thing, *o); });
  sub = command("remove", "Take " + one + " out; refused while something uses it");
  sub->add_option("NAME", o->name)->required();
  if (thing != Thing::object) sub->add_flag("--references", o->references, "Take out what names it, too");
  tool.runs(sub, [o, thing](const Common& common) { return removeOne(common, thing, *o); });
  if (thing == Thing::source) {
    sub = command("set", "Say where a source comes from");
    sub->add_option("NAME", o->name)->required();
    sub->add_option("FIELD", o->kind)
        ->required()
        ->check(CLI::IsMember({"author", "licence", "address", "note"}));
    sub->add_option("VALUE", o->to)->required();
    tool.runs(sub, [o](const Common& common) { return setOrigin(common, *o); });
  }
  if (thing == Thing::model) {
    sub = command("new", "Make a model of a source");
    sub->add_option("NAME", o->name)->required();
    sub->add_option("--source", o->source, "The source's name (default: that of the model)");
    tool.runs(sub, [o](const Common& common) { return makeModel(common, *o); });
  }
  if (thing == Thing::model) {
    sub = command("size", "Tie another size of a model to its source; without a source, untie it");
    sub->add_option("NAME", o->name)->required();
    sub->add_option("SIZE", o->to, "What the game calls it")->required();
    sub->add_option("SOURCE", o->source);
    tool.runs(sub, [o](const Common& common) { return setSize(common, *o); });
  }
  if (thing == Thing::object) {
    sub = command("new", "Make an object of a kind");
    sub->add_option("NAME", o->name)->required();
    sub->add_option("MODELS", o->models, "Models that are its pieces");
    sub->add_option("--kind", o->kind, "What it is to the game")->required();
    tool.runs(sub, [o](const Common& common) { return makeObject(common, *o); });
  }
}

}  // namespace

void addThingCommands(Tool& tool) {
  const auto o = std::make_shared<ThingOptions>();
  for (const Thing thing : {Thing::source, Thing::model, Thing::object}) addThing(tool, thing, o);
}

}  // namespace rakugo::tool
