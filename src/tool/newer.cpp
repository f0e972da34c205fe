// `rakugo-tool newer` and `add`: sources taken into a mod, and newer exports of them.
#include "base/json.h"
#include "base/text.h"
#include "mod/origins.h"
#include "mod/store.h"
#include "prepare/newer/newer_version.h"
#include "prepare/newer/taking_in.h"
#include "rulebook/rulebook.h"
#include "tool/command_list.h"
#include "tool/find_book.h"

namespace rakugo::tool {

using base::Json;

namespace {

Json misfitsJson(const prepare::NewerVersion& newer) {
  Json out = Json::array();
  for (const auto& [model, misfits] : newer.misfits)
    for (const prepare::Misfit& m : misfits)
      out.push_back(Json{{"model", model},
                         {"step", m.step},
                         {"sentence", m.sentence},
                         {"missing", m.missing},
                         {"proposal", m.proposal.empty() ? Json() : Json(m.proposal)},
                         {"likeness", m.likeness}});
  return out;
}

base::Status take(const std::string& folder, const mod::ModState& state, const prepare::NewerVersion& newer) {
  RAKUGO_ASSIGN(const mod::SourceDoc doc, prepare::copyNewer(folder, state, newer));
  mod::ModState next = state;
  prepare::takeNewer(next, newer, doc, newer.misfits);
  return mod::saveMod(folder, next, state);
}

int newer(const Common& common, const std::string& folder, const std::string& source, const std::string& file,
          bool take_it) {
  const auto state = mod::loadMod(folder);
  if (!state) return failed(common, state.error());
  if (state->sources.count(source) == 0) {
    std::vector<std::string> known;
    for (const auto& [name, one] : state->sources) known.push_back(name);
    return failed(
        common,
        {"mod.no_source", "The mod has no source " + base::presentable(source, 60) + ".", base::Place{folder},
         known.empty() ? "It has none." : "Its sources are " + base::listText(known, 12) + "."});
  }
  prepare::Given given{file, {}};
  const mod::Origins origins = mod::loadOrigins(folder);
  if (const auto origin = origins.sources.find(source); origin != origins.sources.end()) {
    if (file.empty()) given.file = origin->second.file;
    if (given.file == origin->second.file) given.inside = origin->second.inside;
  }
  if (given.file.empty())
    return failed(common, {"newer.no_file", "It is not known on this machine where the source came from.",
                           base::Place{folder}, "Name the newer file."});
  const auto newer = prepare::readNewer(folder, *state, source, given);
  if (!newer) return failed(common, newer.error());
  if (take_it)
    if (const auto taken = take(folder, *state, *newer); !taken) return failed(common, taken.error());
  Json sentences = Json::array();
  for (const std::string& s : newer->difference.sentences()) sentences.push_back(s);
  const Json misfits = misfitsJson(*newer);
  if (common.json) {
    say("{}", base::jsonText(Json{{"source", source},
                                  {"file", given.file.string()},
                                  {"differences", sentences},
                                  {"misfits", misfits},
                                  {"taken", take_it}}));
    return kGood;
  }
  if (newer->difference.none()) say("{} holds the same model as {}.\n", given.file.string(), source);
  for (const Json& s : sentences) say("{}\n", s.get<std::string>());
  for (const Json& m : misfits) {
    say("{}, \"{}\": {} is not there any more", m["model"].get<std::string>(),
        m["sentence"].get<std::string>(), m["missing"].get<std::string>());
    say("{}\n", m["proposal"].is_null() ? std::string(".")
                                        : "; most likely " + m["proposal"].get<std::string>() + " is meant.");
  }
  if (take_it) say("Taken; the version before is kept.\n");
  return kGood;
}

int add(const Common& common, const std::string& folder, const std::vector<std::string>& files, bool all) {
  const auto before = mod::loadMod(folder);
  if (!before) return failed(common, before.error());
  const auto book = findBook(before->card.rulebook);
  if (!book) return failed(common, book.error());
  std::vector<prepare::Given> chosen;
  std::vector<base::Error> problems;
  for (const std::string& file : files) {
    const auto given = prepare::listGiven(file);
    if (!given) {
      problems.push_back(given.error());
      continue;
    }
    const std::vector<bool> likely = prepare::likelyChoice(*given);
    for (size_t i = 0; i < given->size(); ++i)
      if (all || likely[i]) chosen.push_back((*given)[i]);
  }
  const prepare::TakenIn taken = prepare::takeIn(folder, *before, *book, chosen);
  problems.insert(problems.end(), taken.problems.begin(), taken.problems.end());
  mod::ModState state = *before;
  (void)prepare::putTaken(state, taken);
  Json added = Json::array();
  for (const prepare::TakenSource& one : taken.sources)
    added.push_back(Json{{"source", one.name}, {"from", one.given.shown()}});
  if (added.empty() && !problems.empty()) return failed(common, problems.front());
  if (const auto saved = mod::saveMod(folder, state, *before); !saved) return failed(common, saved.error());
  if (common.json) {
    Json failures = Json::array();
    for (const base::Error& e : problems) failures.push_back(Json{{"code", e.code}, {"message", e.text()}});
    say("{}", base::jsonText(Json{{"added", added}, {"errors", failures}}));
  } else {
    for (const Json& one : added)
      say("{}: {}\n", one["source"].get<std::string>(), one["from"].get<std::string>());
    for (const base::Error& e : problems) complain("{}\n", e.text());
  }
  return problems.empty() ? kGood : kUnusable;
}

struct SourceOptions {
  std::string mod, source, file;
  std::vector<std::string> files;
  bool take = false, all = false;
};

}  // namespace

void addSourceCommands(Tool& tool) {
  const auto o = std::make_shared<SourceOptions>();
  CLI::App* sub = tool.command(
      "newer", "Say what a newer export of a source would change, and which steps would no longer fit");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("SOURCE", o->source, "The source's name in the mod")->required();
  sub->add_option("FILE", o->file, "The newer file; without it, the one that the source came from");
  sub->add_flag("--take", o->take, "Take it in, follow every proposal, and save the mod");
  tool.runs(sub, [o](const Common& common) { return newer(common, o->mod, o->source, o->file, o->take); });
  sub = tool.command("add", "Take models, pictures and sounds into a mod: files, folders or archives");
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("FILE", o->files, "What to take in; it is copied and never written to")->required();
  sub->add_flag("--all", o->all, "Every model that is found, in every format");
  tool.runs(sub, [o](const Common& common) { return add(common, o->mod, o->files, o->all); });
}

}  // namespace rakugo::tool
