#include "mod/icon_subject.h"

#include <algorithm>

#include "base/sha256.h"
#include "base/text.h"

namespace rakugo::mod {

std::string iconSubject(const ModState& mod, const std::string& object, const rulebook::Rulebook& book) {
  const auto found = mod.objects.find(object);
  if (found == mod.objects.end()) return {};
  base::Json all = base::Json::array();
  // By their numbers: what is called otherwise looks the same.
  std::vector<std::string> pieces, models;
  const auto numberOf = [](std::vector<std::string>& names, const std::string& name) {
    const auto at = std::find(names.begin(), names.end(), name);
    if (at != names.end()) return static_cast<size_t>(at - names.begin());
    names.push_back(name);
    return names.size() - 1;
  };
  const rulebook::Kind* kind = book.findKind(found->second.kind);
  const auto apart = [&](const PieceDoc& piece) {
    const rulebook::KindModel* model =
        kind != nullptr && piece.isModel() ? kind->findModel(piece.as) : nullptr;
    return model != nullptr && model->apart;
  };
  for (const PieceDoc& piece : found->second.pieces) {
    if (apart(piece)) continue;
    if (!piece.carries()) continue;
    all.push_back({numberOf(pieces, piece.name), piece.isModel() ? numberOf(models, piece.model) + 1 : 0,
                   piece.parent.empty() ? base::Json() : base::Json(numberOf(pieces, piece.parent)),
                   piece.position_m, piece.turn, piece.scale});
  }
  for (const std::string& name : models) {
    const auto model = mod.models.find(name);
    if (model == mod.models.end()) continue;
    base::Json json = toJson(model->second);
    all.push_back(json["steps"]);
    // Of the first size, which the icon shows.
    const auto source = mod.sources.find(model->second.source);
    if (source == mod.sources.end()) continue;
    for (const SourceFile& file : source->second.files) all.push_back({file.path, file.sha256});
  }
  const std::string text = base::jsonLine(all);
  return base::hex(base::sha256(base::asBytes(text))).substr(0, 16);
}

}  // namespace rakugo::mod
