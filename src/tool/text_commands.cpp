// `rakugo-tool text`: what the game shows where a value names a text by its id.
#include <fmt/core.h>

#include <set>

#include "base/text.h"
#include "prepare/objects/text_ids.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct TextOptions {
  std::string mod, id, to, language, text;
};

// Every id, where it is named, and what it says in each language.
int list(const Common& common, const TextOptions& o) {
  const auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const auto named = prepare::namedTexts(*open->book, open->state);
  std::set<std::string> ids;
  for (const auto& [id, use] : named) ids.insert(id);
  for (const auto& [language, doc] : std::as_const(open->state.texts))
    for (const auto& [id, text] : doc.texts) ids.insert(id);
  Json all = Json::array();
  std::string said_text;
  for (const std::string& id : ids) {
    Json one{{"id", id}};
    const auto use = named.find(id);
    if (use != named.end()) one["named_by"] = use->second.object;
    said_text +=
        fmt::format("{}{}\n", id,
                    use != named.end() ? fmt::format(", {} of {}", use->second.title, use->second.object)
                                       : std::string(", which nothing names"));
    for (const auto& [language, doc] : std::as_const(open->state.texts))
      if (const auto text = doc.texts.find(id); text != doc.texts.end()) {
        one["texts"][language] = text->second;
        said_text += fmt::format("  {}: {}\n", language, text->second);
      }
    all.push_back(std::move(one));
  }
  return said(common, all, said_text.empty() ? "No text yet.\n" : said_text);
}

int change(const Common& common, const TextOptions& o, const std::string& done,
           const std::function<base::Status(OpenMod&)>& work) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  if (const base::Status worked = work(*open); !worked) {
    base::Error error = worked.error();
    if (error.place.file.empty()) error.place.file = o.mod;
    return failed(common, error);
  }
  if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
  return said(common, Json{{"id", o.id}}, done + "\n");
}

base::Status knownLanguage(const OpenMod& open, const std::string& language) {
  std::vector<std::string> known;
  for (const rulebook::Language& one : open.book->languages) {
    if (one.id == language) return {};
    known.push_back(one.id);
  }
  return base::Error{
      "text.language",
      fmt::format("{} does not speak \"{}\".", open.book->title, base::presentable(language, 40)),
      {},
      known.empty() ? std::string("It takes no texts from mods.")
                    : fmt::format("It speaks {}.", base::listText(known, 12))};
}

}  // namespace

void addTextCommands(Tool& tool) {
  const auto o = std::make_shared<TextOptions>();
  CLI::App* group = tool.group("text", "Texts that the game looks up by their ids, in its languages");
  const auto command = [&](const char* name, const char* help, bool of_one) {
    CLI::App* sub = tool.command(name, help, group);
    sub->add_option("MOD", o->mod, "The mod's folder")->required();
    if (of_one) sub->add_option("ID", o->id, "Of the text")->required();
    return sub;
  };
  CLI::App* sub = command("list", "Every text, what names it, and what it says", false);
  tool.runs(sub, [o](const Common& common) { return list(common, *o); });

  sub = command("set", "Say what a text is in a language", true);
  sub->add_option("LANGUAGE", o->language, "As the game names it")->required();
  sub->add_option("TEXT", o->text, "What players read; empty: there is none")->required();
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, fmt::format("{} in {}: {}", o->id, o->language, o->text),
                  [&](OpenMod& open) -> base::Status {
                    if (!o->text.empty()) RAKUGO_TRY(knownLanguage(open, o->language));
                    if (o->id.empty()) return base::Error{"text.id", "A text has an id.", {}, {}};
                    prepare::setText(open.state, o->language, o->id, o->text);
                    return {};
                  });
  });

  sub = command("rename", "Call a text otherwise, in all languages and wherever it is named", true);
  sub->add_option("TO", o->to, "Its new id")->required();
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, fmt::format("{} is {} now.", o->id, o->to),
                  [&](OpenMod& open) { return prepare::renameText(*open.book, open.state, o->id, o->to); });
  });

  sub = command("remove", "Take a text out, in all languages", true);
  tool.runs(sub, [o](const Common& common) {
    return change(common, *o, fmt::format("{} is gone.", o->id), [&](OpenMod& open) -> base::Status {
      bool there = false;
      for (const auto& [language, doc] : mod::ModState(open.state).texts) {
        there = there || doc.texts.count(o->id) != 0;
        prepare::setText(open.state, language, o->id, {});
      }
      if (there) return {};
      return base::Error{"text.unknown",
                         fmt::format("No language has the text {}.", base::presentable(o->id, 60)),
                         {},
                         "Look at `rakugo-tool text list`."};
    });
  });
}

}  // namespace rakugo::tool
