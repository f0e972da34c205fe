#include "prepare/newer/newer_version.h"

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "mod/origins.h"
#include "mod/take_source.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;

base::Result<NewerVersion> readNewer(const fs::path& mod_folder, const mod::ModState& state,
                                     const std::string& source, const Given& given,
                                     base::Progress* progress) {
  const auto doc = state.sources.find(source);
  if (doc == state.sources.end())
    return base::Error{"mod.no_source",
                       base::phrase("The mod has no source {0}.", base::presentable(source, 60)),
                       base::Place{mod_folder.string()}, base::phrase("Choose one that it has.")};
  NewerVersion out;
  out.source = source;
  RAKUGO_ASSIGN(out.incoming, readIncoming(given, progress));
  const fs::path present = mod_folder / "sources" / source / doc->second.file;
  const auto was = readIncoming({present, {}}, progress);
  // A present version that cannot be read is the best reason to take a newer one.
  const formats::ReadModel nothing;
  if (was && was->sort != out.incoming.sort)
    return base::Error{"source.other_sort",
                       base::phrase("This is not what the source is: one is a model, the other is not."),
                       base::Place{given.file.string()}, base::phrase("Add it as a source of its own.")};
  if (!out.incoming.read) return out;
  const scene::Model& before = was && was->read ? was->read->model : nothing.model;
  out.difference = differenceOf(before, out.incoming.read->model);
  for (const auto& [name, model] : state.models) {
    if (!mod::usesSource(model, source)) continue;
    auto misfits = misfitsOf(model, out.incoming.read->model, out.difference);
    if (!misfits.empty()) out.misfits[name] = std::move(misfits);
  }
  return out;
}

base::Result<mod::SourceDoc> copyNewer(const fs::path& mod_folder, const mod::ModState& state,
                                       const NewerVersion& newer, const base::Progress* progress) {
  std::vector<std::string> keep;
  for (const auto& [name, model] : state.models) {
    if (!mod::usesSource(model, newer.source)) continue;
    for (const mod::StepDoc& step : model.steps) {
      const StepKind* kind = findStepKind(step.kind);
      for (const Parameter& p : kind != nullptr ? kind->parameters : std::vector<Parameter>{})
        if (p.type == ParameterType::file)
          if (std::string file = base::textOf(step.values, p.key.c_str()); !file.empty())
            keep.push_back(std::move(file));
    }
  }
  const Incoming& in = newer.incoming;
  RAKUGO_ASSIGN(mod::SourceDoc doc, mod::takeVersion(mod_folder, newer.source, state.sources.at(newer.source),
                                                     in.name, in.bytes, in.files, keep, progress));
  RAKUGO_TRY(
      mod::rememberOrigin(mod_folder, newer.source, {in.given.file, in.given.inside, in.digest, in.stamp}));
  return doc;
}

void takeNewer(mod::ModState& state, const NewerVersion& newer, const mod::SourceDoc& doc,
               const std::map<std::string, std::vector<Misfit>>& adopted) {
  state.sources[newer.source] = doc;
  for (const auto& [name, misfits] : adopted)
    if (auto* model = state.models.change(name)) follow(*model, misfits);
}

}  // namespace rakugo::prepare
