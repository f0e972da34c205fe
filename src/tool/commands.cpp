#include "commands.h"

#include <fmt/core.h>

#include "base/text.h"
#include "build/build_bundle.h"
#include "bundle/bundle_reader.h"
#include "mod/store.h"

namespace rakugo::tool {
namespace {

using base::Json;

using Examined = std::shared_ptr<const rakugo::check::Examination>;

base::Result<Examined> examineFolder(const std::string& folder) {
  RAKUGO_ASSIGN(mod::ModState state, mod::loadMod(folder));
  RAKUGO_ASSIGN(rulebook::Rulebook book, rulebook::findRulebook(state.card.rulebook));
  rakugo::check::Examiner examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book)));
  return examiner.examine(std::make_shared<const mod::ModState>(std::move(state)));
}

Json findingJson(const rakugo::check::Finding& f) {
  Json out{{"check", f.check},       {"severity", rakugo::check::severityName(f.severity)},
           {"sentence", f.sentence}, {"measured", f.measured},
           {"expected", f.expected}, {"reason", f.reason}};
  Json place{{"document", f.place.document}};
  const auto add = [&](const char* key, const std::string& value) {
    if (!value.empty()) place[key] = value;
  };
  add("object", f.place.object);
  add("model", f.place.model);
  add("source", f.place.source);
  add("part", f.place.part);
  add("material", f.place.material);
  add("field", f.place.field);
  add("point", f.place.point);
  add("step", f.place.step);
  out["place"] = std::move(place);
  out["mends"] = Json::array();
  for (const auto& m : f.mends) out["mends"].push_back(m.label);
  return out;
}

void sayFindings(const rakugo::check::Examination& x) {
  for (const auto& f : x.findings) {
    fmt::print("{:5}  {}  [{}]\n", rakugo::check::severityName(f.severity), f.sentence, f.place.text());
    if (!f.mends.empty()) fmt::print("       cure: {}\n", f.mends.front().label);
  }
  using S = rakugo::check::Severity;
  fmt::print("{} stop, {} show, {} to tidy\n", x.count(S::stops), x.count(S::shows), x.count(S::tidy));
}

int sayFaults(const Common& common, const std::string& file, const std::vector<base::Error>& faults) {
  if (common.json) {
    Json out{{"file", file}, {"good", faults.empty()}, {"faults", Json::array()}};
    for (const auto& f : faults) out["faults"].push_back(errorJson(f));
    fmt::print("{}", base::jsonText(out));
  } else {
    for (const auto& f : faults) fmt::print(stderr, "{}\n", f.text());
    if (faults.empty()) fmt::print("{} is whole.\n", file);
  }
  return faults.empty() ? kGood : kStops;
}

}  // namespace

Json errorJson(const base::Error& e) {
  Json out{{"code", e.code}, {"message", e.message}};
  if (!e.place.file.empty()) out["file"] = e.place.file;
  if (!e.place.path.empty()) out["path"] = e.place.path;
  if (e.place.offset >= 0) out["offset"] = e.place.offset;
  if (e.place.line > 0) out["line"] = e.place.line;
  if (!e.cure.empty()) out["cure"] = e.cure;
  return out;
}

int failed(const Common& common, const base::Error& error) {
  if (common.json) fmt::print("{}", base::jsonText(Json{{"error", errorJson(error)}}));
  fmt::print(stderr, "rakugo-tool: {}\n", error.text());
  if (error.code == "build.refused") return kStops;
  return error.code == "build.verify" ? kStops : kUnusable;
}

int check(const Common& common, const std::string& folder) {
  const auto x = examineFolder(folder);
  if (!x) return failed(common, x.error());
  if (common.json) {
    Json out{{"mod", (*x)->mod->card.id}, {"rulebook", (*x)->book->id}, {"findings", Json::array()}};
    for (const auto& f : (*x)->findings) out["findings"].push_back(findingJson(f));
    fmt::print("{}", base::jsonText(out));
  } else {
    sayFindings(**x);
  }
  return (*x)->count(rakugo::check::Severity::stops) > 0 ? kStops : kGood;
}

int buildMod(const Common& common, const std::string& folder, const std::string& output) {
  const auto x = examineFolder(folder);
  if (!x) return failed(common, x.error());
  const std::filesystem::path target =
      output.empty() ? build::defaultOutput(**x) : std::filesystem::path(output);
  if (const auto built = build::buildToFile(**x, target); !built) return failed(common, built.error());
  const auto bundle = bundle::Bundle::open(target);
  if (!bundle) return failed(common, bundle.error());
  if (common.json)
    fmt::print("{}", base::jsonText(Json{{"bundle", target.string()},
                                         {"entries", bundle->entries().size()},
                                         {"bytes", bundle->fileBytes()}}));
  else
    fmt::print("{}: {}, {}\n", target.string(), base::countText(bundle->entries().size(), "entry", "entries"),
               base::sizeText(bundle->fileBytes()));
  return kGood;
}

int list(const Common& common, const std::string& file) {
  const auto bundle = bundle::Bundle::open(file);
  if (!bundle) return failed(common, bundle.error());
  const bundle::Manifest& m = bundle->manifest();
  if (common.json) {
    Json entries = Json::array();
    for (const auto& e : bundle->entries())
      entries.push_back(Json{{"id", e.id},
                             {"kind", bundle::kindName(e.kind)},
                             {"stored", e.stored_bytes},
                             {"raw", e.raw_bytes},
                             {"sha256", base::hex(e.raw_sha256)}});
    fmt::print("{}", base::jsonText(Json{{"file", file},
                                         {"mod", m.mod_id},
                                         {"title", m.title},
                                         {"version", m.version},
                                         {"rulebook", m.rulebook_id},
                                         {"bytes", bundle->fileBytes()},
                                         {"entries", entries}}));
    return kGood;
  }
  fmt::print("{} {} ({}), for {} {}\n", m.title, m.version, m.mod_id, m.rulebook_id, m.rulebook_version);
  for (const auto& e : bundle->entries())
    fmt::print("  {:9} {:>10} {:>10}  {}\n", bundle::kindName(e.kind), base::sizeText(e.stored_bytes),
               base::sizeText(e.raw_bytes), e.id);
  return kGood;
}

int verify(const Common& common, const std::string& file) {
  const auto bundle = bundle::Bundle::open(file);
  if (!bundle) {
    // A file that is not there is unusable input; one that is there and damaged has failed verification.
    if (bundle.error().code.rfind("file.", 0) == 0) return failed(common, bundle.error());
    return sayFaults(common, file, {bundle.error()});
  }
  return sayFaults(common, file, bundle->verify());
}

int install(const Common& common, const std::string& file, const std::string& game) {
  const auto done = build::installBundle(file, game);
  if (!done) return failed(common, done.error());
  if (common.json)
    fmt::print("{}", base::jsonText(
                         Json{{"installed", done->path.string()}, {"previous", done->previous.string()}}));
  else
    fmt::print("Installed {}{}\n", done->path.string(),
               done->previous.empty() ? "" : "; what was there is kept as " + done->previous.string());
  return kGood;
}

int newMod(const Common& common, const std::string& folder, const std::string& rulebook,
           const std::string& title) {
  const auto book = rulebook::findRulebook(rulebook);
  if (!book) return failed(common, book.error());
  const auto state = mod::newMod(folder, title, book->id, book->version);
  if (!state) return failed(common, state.error());
  if (common.json)
    fmt::print("{}", base::jsonText(Json{{"folder", folder}, {"id", state->card.id}}));
  else
    fmt::print("Started {} in {}\n", state->card.id, folder);
  return kGood;
}

int rulebookCheck(const Common& common, const std::string& folder) {
  std::vector<base::Error> mistakes;
  const auto book = rulebook::loadRulebook(folder, &mistakes);
  if (!book && mistakes.size() == 1 && mistakes[0].code == "file.missing") return failed(common, mistakes[0]);
  return sayFaults(common, folder, mistakes);
}

int checks(const Common& common, bool markdown) {
  if (markdown) {
    fmt::print("{}", rakugo::check::checksDocument());
    return kGood;
  }
  Json out = Json::array();
  for (const auto& row : rakugo::check::checkTable()) {
    if (common.json)
      out.push_back(Json{{"id", row.id},
                         {"severity", rakugo::check::severityName(row.severity)},
                         {"title", row.title},
                         {"reason", row.reason},
                         {"cure", row.cure}});
    else
      fmt::print("{:20} {:5}  {}\n", row.id, rakugo::check::severityName(row.severity), row.title);
  }
  if (common.json) fmt::print("{}", base::jsonText(out));
  return kGood;
}

}  // namespace rakugo::tool
