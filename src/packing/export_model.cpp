#include "packing/export_model.h"

#include "base/files.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/export.h"

namespace rakugo::packing {
namespace fs = std::filesystem;

base::Result<WrittenModel> exportPrepared(const check::Examination& examination, const std::string& model,
                                          const fs::path& file, const base::Progress* progress) {
  const auto& models = examination.context.models;
  const auto found = models.find(model);
  if (found == models.end() || !found->second.prepared.model) {
    std::vector<std::string> known;
    for (const auto& [name, state] : models)
      if (state.prepared.model) known.push_back(name);
    return base::Error{
        "export.no_model",
        base::phrase("The mod has no model {0} that can be read.", base::presentable(model, 60)),
        base::Place{examination.folder.string()},
        known.empty() ? base::phrase("The findings say why.")
                      : base::phrase("Its models are {0}.", base::listText(known, 12))};
  }
  RAKUGO_ASSIGN(formats::Exported made,
                formats::exportModel(*found->second.prepared.model, file.filename().string(), progress));
  WrittenModel out;
  out.lost = std::move(made.lost);
  for (const auto& [name, bytes] : made.files) {
    const fs::path path = file.parent_path() / name;
    RAKUGO_TRY(base::makeFolder(path.parent_path().empty() ? "." : path.parent_path()));
    RAKUGO_TRY(base::writeFileAtomic(path, bytes));
    out.files.push_back(path);
  }
  return out;
}

}  // namespace rakugo::packing
