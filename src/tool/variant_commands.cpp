// `rakugo-tool object vary` and what belongs to it: objects that follow another in all but what is their own.
#include <fmt/core.h>

#include "base/text.h"
#include "mod/following.h"
#include "prepare/objects/object_variants.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct VariantOptions {
  std::string mod, object, design, title, pointer, model;
  double scale = 1;
};

// What follows what, and what is its own.
Json followJson(const OpenMod& open, const std::string& object) {
  const mod::ObjectDoc& doc = open.state.objects.at(object);
  Json out{{"object", object}};
  if (doc.follows.name.empty()) return out;
  out["follows"] = doc.follows.name;
  if (doc.follows.scale != 1) out["scale"] = doc.follows.scale;
  out["own"] = doc.follows.own;
  out["differs"] = mod::differencesFromFollowed(open.state, doc);
  return out;
}

std::string followText(const OpenMod& open, const std::string& object) {
  const mod::ObjectDoc& doc = open.state.objects.at(object);
  if (doc.follows.name.empty()) return fmt::format("{} stands alone.\n", object);
  std::string out = fmt::format("{} follows {}", object, doc.follows.name);
  if (doc.follows.scale != 1)
    out += fmt::format(", {} times as large", base::numberText(doc.follows.scale, 4));
  out += doc.follows.own.empty() ? ", in all.\n" : "; of its own are:\n";
  const rulebook::Kind* kind = open.book->findKind(doc.kind);
  for (const std::string& own : doc.follows.own)
    out += fmt::format("  {} ({})\n", prepare::ownText(own, kind), own);
  return out;
}

// Changes the mod, saves, and says how the object stands then.
int change(const Common& common, const VariantOptions& o,
           const std::function<base::Result<std::string>(OpenMod&)>& work) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto object = work(*open);
  if (!object) {
    base::Error error = object.error();
    if (error.place.file.empty()) error.place.file = o.mod;
    return failed(common, error);
  }
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return said(common, followJson(*open, *object), followText(*open, *object));
}

int list(const Common& common, const VariantOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  if (!o.object.empty()) {
    if (const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod); !object)
      return failed(common, object.error());
  }
  Json all = Json::array();
  std::string text;
  for (const auto& [name, doc] : std::as_const(open->state.objects)) {
    if (doc.follows.name.empty() || (!o.object.empty() && doc.follows.name != o.object && name != o.object))
      continue;
    all.push_back(followJson(*open, name));
    text += followText(*open, name);
  }
  return said(common, all, text.empty() ? "Nothing follows another object.\n" : text);
}

}  // namespace

void addVariantCommands(Tool& tool) {
  const auto o = std::make_shared<VariantOptions>();
  CLI::App* group = tool.group("object", "");
  const auto command = [&](const char* name, const char* help, const char* object) {
    CLI::App* sub = tool.command(name, help, group);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    if (object != nullptr) sub->add_option("OBJECT", o->object, object)->required();
    return sub;
  };
  const auto scale = [&](CLI::App* sub) {
    sub->add_option("--scale", o->scale, "How large it is, for 1 of the design")
        ->check(CLI::Range(0.001, 1000.0));
  };

  CLI::App* sub =
      command("vary", "Add an object that follows another in all but its title", "The name of the new one");
  sub->add_option("DESIGN", o->design, "The object that it follows")->required();
  sub->add_option("--title", o->title, "What players read");
  scale(sub);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, [&](OpenMod& open) -> base::Result<std::string> {
      RAKUGO_TRY(prepare::addVariant(open.state, o->design, o->object, o->title, o->scale));
      return o->object;
    });
  });

  sub = command("follow", "Let an object follow another from now on; what differs is its own", "");
  sub->add_option("DESIGN", o->design, "The object that it follows")->required();
  scale(sub);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, [&](OpenMod& open) -> base::Result<std::string> {
      RAKUGO_TRY(mod::followObject(open.state, o->object, o->design, o->scale));
      return o->object;
    });
  });

  sub = command("like", "Take the value of what an object follows for what is its own", "");
  sub->add_option("POINTER", o->pointer, "Of what is its own, as `object variants` says; left out: all");
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, [&](OpenMod& open) -> base::Result<std::string> {
      RAKUGO_TRY(mod::likeDesign(open.state, o->object, o->pointer));
      return o->object;
    });
  });

  sub = command("alone", "Let an object follow nothing any more; it stays as it is", "");
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, [&](OpenMod& open) -> base::Result<std::string> {
      RAKUGO_TRY(mod::standAlone(open.state, o->object));
      return o->object;
    });
  });

  sub = command("own-model", "Give an object a model of its own, which begins as the one that it has", "");
  sub->add_option("MODEL", o->model, "The model that its pieces are now")->required();
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, [&](OpenMod& open) -> base::Result<std::string> {
      RAKUGO_TRY(prepare::giveOwnModel(open.state, o->object, o->model));
      return o->object;
    });
  });

  sub = command("variants", "What follows what, and what is its own", nullptr);
  sub->add_option("OBJECT", o->object, "One object alone, and what follows it");
  tool.runs(sub, [o](const Common& common) { return list(common, *o); });
}

}  // namespace rakugo::tool
