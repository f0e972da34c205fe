#include "app/stations/surface/density_view.h"

#include "check/surface_report.h"
#include "scene/texel_density.h"

namespace rakugo::app {

DensityView::DensityView(Session& session, Bench& bench, QObject* parent)
    : QObject(parent), session_(session), bench_(bench), scale_(new DensityScale(&bench)) {
  connect(scale_, &DensityScale::picked, this, &DensityView::picked);
  connect(&session_, &Session::sceneChanged, this, &DensityView::refresh);
}

void DensityView::setShown(bool shown) {
  shown_ = shown;
  refresh();
}

// Worked out in the background: it looks at every triangle.
void DensityView::refresh() {
  if (scale_ == nullptr) return;
  const uint64_t generation = ++generation_;
  if (!shown_) {
    if (scale_->isVisible()) bench_.showWashes({});
    return scale_->hide();
  }
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr || !session_.scene()) return;
  const auto band = state->kind != nullptr ? state->kind->texels_per_m : std::nullopt;
  session_.background().post([this, model = state->prepared.model, sizes = check::pictureSizes(*state), band,
                              generation](base::Progress&) -> Background::Finish {
    std::vector<DensityScale::Mark> marks;
    for (const auto& [index, density] : scene::texelDensities(*model, sizes)) {
      const scene::Material& m = model->materials[index];
      marks.push_back({m.key, q(m.name.empty() ? m.key : m.name), density});
    }
    return [this, marks = std::move(marks), band, generation] {
      if (generation != generation_ || scale_ == nullptr || !session_.scene()) return;
      scale_->setMarks(marks, band);
      scale_->show();
      // A part wears what is farthest from the band.
      std::map<std::string, QColor> washes;
      for (const BenchPart& part : session_.scene()->parts)
        for (const size_t m : part.materials)
          for (const DensityScale::Mark& mark : scale_->marks())
            if (mark.material == session_.scene()->materials[m].key &&
                (washes.count(part.key) == 0 || mark.side != DensityScale::Side::within))
              washes[part.key] = DensityScale::colorOf(mark.side);
      bench_.showWashes(std::move(washes));
    };
  });
}

}  // namespace rakugo::app
