#include "prepare/surface/shared_sheet.h"

#include <algorithm>
#include <set>
#include <utility>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/pictures/pictures.h"
#include "mod/things.h"

namespace rakugo::prepare {
namespace {

using base::Json;

std::string partOf(const mod::StepDoc& step) { return base::textOf(step.values, "part"); }
bool shares(const mod::StepDoc& step) { return partOf(step).starts_with("quarter_"); }

mod::StepDoc* changed(mod::ModState& mod, const std::string& model) {
  mod::ModelDoc* doc = mod.models.change(model);
  const mod::StepDoc* step = doc != nullptr ? sheetStep(*doc) : nullptr;
  return step != nullptr ? &doc->steps[static_cast<size_t>(step - doc->steps.data())] : nullptr;
}

}  // namespace

const mod::StepDoc* sheetStep(const mod::ModelDoc& doc) {
  for (size_t i = doc.steps.size(); i-- > 0;)
    if (doc.steps[i].kind == "atlas" && doc.steps[i].enabled) return &doc.steps[i];
  return nullptr;
}

uint32_t sheetSide(const scene::Model& prepared, const mod::StepDoc& step) {
  const std::string name = base::textOf(step.values, "name");
  for (const scene::Material& m : prepared.materials) {
    const scene::ImageIndex image = m.base_color_texture.image;
    if (m.name != name || !image.valid() || !prepared.images[image.value()].bytes) continue;
    if (const auto info = formats::pictureInfo(*prepared.images[image.value()].bytes, name))
      return info->width;
  }
  return 0;
}

uint32_t sideToShare(const scene::Model& prepared, const mod::ModelDoc& doc, const scene::Model& other,
                     const mod::ModelDoc& other_doc, uint32_t most) {
  uint32_t side = 32;
  const std::pair<const scene::Model*, const mod::ModelDoc*> both[] = {{&prepared, &doc},
                                                                       {&other, &other_doc}};
  for (const auto& [model, of] : both)
    if (const mod::StepDoc* step = sheetStep(*of))
      side = std::max(side, sheetSide(*model, *step) * (shares(*step) ? 1 : 2));
  return most > 0 ? std::min(side, most) : side;
}

base::Status shareSheet(mod::ModState& mod, const std::string& model, const std::string& with,
                        uint32_t side) {
  for (const std::string& name : {model, with})
    if (!mod.models.contains(name) || sheetStep(std::as_const(mod.models).at(name)) == nullptr)
      return base::Error{"sheet.none",
                         base::phrase("{0} merges no materials onto a sheet.", name),
                         {},
                         base::phrase("Merge its materials first.")};
  mod::StepDoc* own = changed(mod, model);
  const std::string sheet = base::textOf(own->values, "name");
  std::set<std::string> taken;
  for (const auto& [name, doc] : std::as_const(mod.models))
    if (const mod::StepDoc* step = sheetStep(doc);
        step != nullptr && shares(*step) && base::textOf(step->values, "name") == sheet)
      taken.insert(partOf(*step));
  const Json size = side > 0 ? Json(side) : own->values.value("side", Json());
  for (const std::string& name : {model, with}) {
    mod::StepDoc* step = changed(mod, name);
    if (shares(*step) && base::textOf(step->values, "name") == sheet) continue;
    std::string free;
    for (int q = 4; q >= 1; --q)
      if (const std::string one = "quarter_" + std::to_string(q); taken.count(one) == 0) free = one;
    if (free.empty())
      return base::Error{"sheet.full",
                         base::phrase("Four models share the sheet {0} already.", sheet),
                         {},
                         base::phrase("Let others share a sheet of their own.")};
    taken.insert(free);
    step->values["part"] = free;
    step->values["name"] = sheet;
  }
  // All that share it, so that it stays one picture.
  for (const std::string& name : mod::namesOf(mod, mod::Thing::model))
    if (const mod::StepDoc* of = sheetStep(std::as_const(mod.models).at(name));
        !size.is_null() && of != nullptr && shares(*of) && base::textOf(of->values, "name") == sheet)
      changed(mod, name)->values["side"] = size;
  return {};
}

}  // namespace rakugo::prepare
