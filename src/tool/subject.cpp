#include "tool/subject.h"

#include <filesystem>

#include "base/text.h"
#include "formats/read_model.h"
#include "prepare/edit_steps.h"
#include "tool/examine.h"

namespace rakugo::tool {
namespace fs = std::filesystem;

base::Result<std::vector<Subject>> subjectsOf(const std::string& text) {
  std::error_code error;
  std::string folder = text, wanted;
  if (!fs::exists(folder, error))
    if (const size_t colon = text.rfind(':'); colon != std::string::npos) {
      folder = text.substr(0, colon);
      wanted = text.substr(colon + 1);
    }
  if (!fs::is_directory(folder, error)) {
    RAKUGO_ASSIGN(formats::ReadModel read, formats::readModelFile(text));
    if (const base::Status within = scene::drawnWithin(read.model, base::Limits{}); !within) {
      base::Error too_large = within.error();
      too_large.place.file = text;
      return too_large;
    }
    auto points = scene::emptiesOf(read.model);
    return std::vector<Subject>{{{},
                                 std::make_shared<const scene::Model>(std::move(read.model)),
                                 read.unit_m.value_or(1),
                                 std::move(points)}};
  }
  RAKUGO_ASSIGN(const auto x, examineFolder(folder, {}));
  std::vector<Subject> out;
  std::vector<std::string> known;
  for (const auto& [name, state] : x->context.models) {
    if (!state.prepared.model) continue;
    known.push_back(name);
    if (!wanted.empty() && name != wanted) continue;
    out.push_back({name, state.prepared.model, 1, prepare::pointsOf(x->context.mod->models.at(name))});
  }
  if (out.empty())
    return base::Error{"model.unknown",
                       wanted.empty() ? std::string("The mod has no model that can be read.")
                                      : "The mod has no model " + base::presentable(wanted, 60) + ".",
                       base::Place{folder}, "Its models are " + base::listText(known, 12) + "."};
  return out;
}

base::Result<Subject> subjectOf(const std::string& text) {
  RAKUGO_ASSIGN(std::vector<Subject> all, subjectsOf(text));
  if (all.size() == 1) return std::move(all[0]);
  std::vector<std::string> known;
  for (const Subject& s : all) known.push_back(s.name);
  return base::Error{
      "model.which", "The mod has several models.", base::Place{text},
      "Name one, as " + text + ":" + known[0] + "; there are " + base::listText(known, 12) + "."};
}

}  // namespace rakugo::tool
