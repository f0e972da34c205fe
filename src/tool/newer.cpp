// `rakugo-tool newer`: what a newer export of a source would change.
#include <fmt/core.h>

#include "base/text.h"
#include "commands.h"
#include "formats/read_model.h"
#include "mod/store.h"
#include "prepare/newer.h"

namespace rakugo::tool {

using base::Json;

int newer(const Common& common, const std::string& folder, const std::string& source,
          const std::string& file) {
  const auto state = mod::loadMod(folder);
  if (!state) return failed(common, state.error());
  const auto doc = state->sources.find(source);
  if (doc == state->sources.end()) {
    std::vector<std::string> known;
    for (const auto& [name, one] : state->sources) known.push_back(name);
    return failed(
        common,
        {"mod.no_source", "The mod has no source " + base::presentable(source, 60) + ".", base::Place{folder},
         known.empty() ? "It has none." : "Its sources are " + base::listText(known, 12) + "."});
  }
  const auto was =
      formats::readModelFile(std::filesystem::path(folder) / "sources" / source / doc->second.file);
  if (!was) return failed(common, was.error());
  const auto is = formats::readModelFile(file);
  if (!is) return failed(common, is.error());
  const prepare::NewerDifference difference = prepare::differenceOf(was->model, is->model);
  Json sentences = Json::array(), misfits = Json::array();
  for (const std::string& s : difference.sentences()) sentences.push_back(s);
  for (const auto& [name, model] : state->models) {
    if (model.source != source) continue;
    for (const prepare::Misfit& m : prepare::misfitsOf(model, is->model, difference))
      misfits.push_back(Json{{"model", name},
                             {"step", m.step},
                             {"sentence", m.sentence},
                             {"missing", m.missing},
                             {"proposal", m.proposal.empty() ? Json() : Json(m.proposal)},
                             {"likeness", m.likeness}});
  }
  if (common.json) {
    fmt::print("{}",
               base::jsonText(Json{
                   {"source", source}, {"file", file}, {"differences", sentences}, {"misfits", misfits}}));
    return kGood;
  }
  if (difference.none()) fmt::print("{} holds the same model as {}.\n", file, source);
  for (const Json& s : sentences) fmt::print("{}\n", s.get<std::string>());
  for (const Json& m : misfits) {
    fmt::print("{}, \"{}\": {} is not there any more", m["model"].get<std::string>(),
               m["sentence"].get<std::string>(), m["missing"].get<std::string>());
    fmt::print("{}\n", m["proposal"].is_null()
                           ? std::string(".")
                           : "; most likely " + m["proposal"].get<std::string>() + " is meant.");
  }
  return kGood;
}

}  // namespace rakugo::tool
