// The bench's views: what of the model is shown, and how it stood before a step.
#include "app/bench/bench_views.h"

#include <algorithm>

#include "app/bench/bench.h"
#include "app/bench/tools/bench_tool.h"

namespace rakugo::app {
namespace {

glm::vec3 axisOf(Cut::Across across, const BenchScene& scene) {
  switch (across) {
    case Cut::Across::length:
      return scene.own_forward;
    case Cut::Across::width:
      return glm::cross(scene.own_up, scene.own_forward);
    case Cut::Across::height:
      break;
  }
  return scene.own_up;
}

}  // namespace

double placeOf(const Cut& cut, const BenchScene& scene) {
  const glm::vec3 axis = axisOf(cut.across, scene);
  const double a = static_cast<double>(glm::dot(scene.bounds_m.min, axis)),
               b = static_cast<double>(glm::dot(scene.bounds_m.max, axis));
  return std::min(a, b) + std::abs(b - a) * cut.share;
}

glm::vec4 planeOf(const Cut& cut, const BenchScene& scene) {
  const glm::vec4 plane(axisOf(cut.across, scene), -static_cast<float>(placeOf(cut, scene)));
  return cut.keeps_far ? -plane : plane;
}

const BenchViews& Bench::views() const {
  static const BenchViews kNone;
  if (!scene_) return kNone;
  const auto known = views_.find(scene_->model);
  return known != views_.end() ? known->second : kNone;
}

void Bench::forgetViews() {
  views_.clear();
  presenceChanged();
  Q_EMIT viewsChanged();
}

void Bench::setViews(BenchViews views) {
  if (!scene_ || this->views() == views) return;
  views_[scene_->model] = std::move(views);
  presenceChanged();
  Q_EMIT viewsChanged();
}

void Bench::setPresence(const std::vector<std::string>& parts, render::Presence presence) {
  BenchViews views = this->views();
  for (const std::string& key : parts)
    if (presence == render::Presence::whole)
      views.parts.erase(key);
    else
      views.parts[key] = presence;
  setViews(std::move(views));
}

void Bench::showAlone(const std::vector<std::string>& parts) {
  if (!scene_) return;
  BenchViews views = this->views();
  views.parts.clear();
  for (const BenchPart& part : scene_->parts)
    if (std::find(parts.begin(), parts.end(), part.key) == parts.end())
      views.parts[part.key] = render::Presence::hidden;
  setViews(std::move(views));
}

void Bench::setCut(std::optional<Cut> cut) {
  BenchViews views = this->views();
  views.cut = cut;
  setViews(std::move(views));
}

// By the parts of the scene, for drawing and pointing.
void Bench::presenceChanged() {
  presence_.clear();
  if (scene_)
    for (const BenchPart& part : scene_->parts) {
      const auto known = views().parts.find(part.key);
      presence_.push_back(known != views().parts.end() ? known->second : render::Presence::whole);
    }
  at_work_->shownChanged();
  update();
}

void Bench::peek(std::shared_ptr<const BenchScene> scene, const QString& says) {
  if (scene == peek_ && says == peek_says_) return;
  peek_stale_ = peek_stale_ || scene != peek_;
  peek_ = std::move(scene);
  if (kept_camera_) camera_ = *kept_camera_;
  kept_camera_.reset();
  // A model that a step makes a hundred times smaller is looked at from as far as it takes.
  if (peek_ && scene_ && isOfAnotherSize(peek_->bounds_m, scene_->bounds_m)) {
    kept_camera_ = camera_;
    camera_.fit(peek_->bounds_m.min, peek_->bounds_m.max,
                static_cast<float>(width()) / static_cast<float>(std::max(height(), 1)));
    camera_.distance_m *= 1.1F;
  }
  peek_says_ = says;
  setPointed({});
  update();
}

void Bench::setPointed(const std::string& key) {
  if (key == pointed_) return;
  pointed_ = key;
  update();
  Q_EMIT partPointed(q(key));
}

void Bench::posePlaces() {
  posed_.reset();
  if (!pose_ || !scene_) return;
  // A pose that plays is another one thirty times a second: it is taken in once it holds still.
  pose_rest_.start();
}

void Bench::poseRests() {
  if (!pose_ || !scene_) return;
  background_.cancel();
  background_.post([this, scene = scene_, pose = pose_](base::Progress& progress) -> Background::Finish {
    auto made = posedScene(scene, pose, &progress);
    return [this, made = std::move(made)] {
      if (made && made->pose == pose_ && made->scene == scene_) posed_ = made;
    };
  });
}

}  // namespace rakugo::app
