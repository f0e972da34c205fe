#include "app/bench/headless_icons.h"

#include <algorithm>

#include "app/bench/icon_painter.h"
#include "base/phrase.h"
#include "render/headless_gl.h"

namespace rakugo::app {

std::vector<std::string> iconsWanted(const check::Examination& examination) {
  std::vector<std::string> out;
  for (const check::Finding& f : examination.findings)
    if (!f.place.object.empty() && !f.set_aside &&
        (f.check == "icon.missing" || f.check == "icon.size" || f.check == "icon.old") &&
        std::find(out.begin(), out.end(), f.place.object) == out.end())
      out.push_back(f.place.object);
  return out;
}

base::Result<std::vector<TakenIcon>> takeIcons(const check::Examination& examination, mod::ModState& state,
                                               const std::vector<std::string>& objects,
                                               const base::Progress* progress) {
  RAKUGO_ASSIGN(const std::unique_ptr<render::HeadlessGl> headless, render::HeadlessGl::make());
  render::Renderer renderer(headless->gl());
  PictureCache pictures;
  GpuPictures on_card;
  std::vector<TakenIcon> out;
  for (const std::string& name : objects) {
    if (progress != nullptr && progress->cancelled()) break;
    const auto object = examination.mod->objects.find(name);
    const rulebook::Kind* kind =
        object != examination.mod->objects.end() ? examination.book->findKind(object->second.kind) : nullptr;
    const mod::PieceDoc* first =
        object != examination.mod->objects.end() ? mod::firstModelPiece(object->second) : nullptr;
    const auto failed = [&](std::string why) { out.push_back({name, std::move(why)}); };
    if (kind == nullptr || kind->icon_width == 0) {
      failed(base::phrase("the game asks for no icon of it"));
      continue;
    }
    const auto scene = first != nullptr ? makeBenchScene(examination, first->model, pictures, nullptr,
                                                         {GhostChoice{}, name, {}})
                                        : nullptr;
    if (!scene || scene->bounds_m.empty()) {
      failed(base::phrase("it has no model that could be prepared"));
      continue;
    }
    UploadedScene shown = uploadScene(renderer.gl(), *scene, on_card);
    bringPictures(renderer.gl(), shown, on_card, SIZE_MAX);
    putIcon(state, name, paintIcon(renderer, shown, *scene, render::Camera(), iconLookOf(*kind)),
            *examination.mod, *examination.book);
    out.push_back({name, {}});
    std::erase_if(on_card, [](const auto& one) { return one.second.expired(); });
  }
  return out;
}

}  // namespace rakugo::app
