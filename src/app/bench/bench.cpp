// The bench's state and OpenGL. What is painted over the picture is in bench_overlay.cpp, mouse and keys in
// bench_input.cpp.
#include "app/bench/bench.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QPainter>
#include <QTimer>
#include <cmath>

#include "app/bench/icon_painter.h"
#include "app/bench/tools/bench_tool.h"
#include "app/widgets/theme.h"
#include "base/text.h"
#include "geometry/moved_box.h"
#include "render/lamps.h"

namespace rakugo::app {

namespace {
constexpr float kUsualYaw = 0.75F, kUsualPitch = 0.22F;  // from where small pictures are taken
// Some ten milliseconds of copying.
constexpr size_t kPictureBytesAFrame = size_t{32} << 20;
}  // namespace

struct Bench::Uploaded : UploadedScene {
  std::unique_ptr<QOpenGLFramebufferObject> small;  ///< for moving pictures of fewer pixels
};

Bench::Bench(QWidget* parent) : QOpenGLWidget(parent), at_work_(makeBenchTool(Tool::look_round, *this)) {
  setObjectName(QStringLiteral("bench"));
  setAccessibleName(tr("Bench"));
  setAccessibleDescription(
      tr("The model in three dimensions. Drag to turn, right button to move, wheel to come nearer."));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  setMinimumSize(320, 240);
  camera_.yaw_rad = 0.75F;
  camera_.pitch_rad = 0.28F;
  rest_.setSingleShot(true);
  rest_.setInterval(160);
  connect(&rest_, &QTimer::timeout, this, qOverload<>(&QWidget::update));
  pose_rest_.setSingleShot(true);
  pose_rest_.setInterval(120);
  connect(&pose_rest_, &QTimer::timeout, this, &Bench::poseRests);
}

Bench::~Bench() {
  // The context goes after this, with the base: its last word must not reach what is no bench any more.
  if (context() != nullptr) disconnect(context(), nullptr, this, nullptr);
  release();
}

bool Bench::platformHasOpenGl() {
  for (const char* none : {"offscreen", "minimal", "linuxfb", "vnc"})
    if (QGuiApplication::platformName() == QLatin1String(none)) return false;
  QOpenGLContext context;
  return context.create();
}

QString Bench::notice() {
  return tr("This display has no OpenGL 3.3, so the bench cannot draw. Everything else works.");
}

void Bench::release() {
  if (!renderer_) return;
  makeCurrent();
  uploaded_.reset();
  peek_uploaded_.reset();
  renderer_.reset();
  doneCurrent();
}

void Bench::initializeGL() {
  if (render::Gl* gl = render::currentGl()) {
    renderer_ = std::make_unique<render::Renderer>(gl);
    const auto said = [&](GLenum what) {
      const auto* text = reinterpret_cast<const char*>(gl->glGetString(what));
      return text != nullptr ? QString::fromUtf8(text) : QString();
    };
    graphics_ = said(GL_RENDERER) + QStringLiteral(", OpenGL ") + said(GL_VERSION);
  }
  // Not from inside this call: whoever answers may draw.
  if (renderer_) QMetaObject::invokeMethod(this, &Bench::ready, Qt::QueuedConnection);
  connect(context(), &QOpenGLContext::aboutToBeDestroyed, this, &Bench::release);
  stale_ = peek_stale_ = true;
}

bool Bench::isOfAnotherSize(const geometry::Bounds& one, const geometry::Bounds& other) {
  if (one.empty() || other.empty()) return false;
  const float a = glm::length(one.size()), b = glm::length(other.size());
  return a > b * 2 || b > a * 2 || glm::distance(one.center(), other.center()) > a * 0.5F;
}

void Bench::setScene(std::shared_ptr<const BenchScene> scene) {
  const bool other = !scene_ || !scene || scene_->model != scene->model;
  // A model that changed its size by more than twofold would be lost from sight.
  const bool jumped = scene_ && scene && isOfAnotherSize(scene->bounds_m, scene_->bounds_m);
  scene_ = std::move(scene);
  stale_ = true;
  peek({});
  if (scene_) {
    waiting_m_.reset();
    waiting_says_.clear();
    camera_.up = scene_->up;
    camera_.forward = scene_->forward;
  }
  if (other) {
    fitted_ = false;
    marks_.clear();
    picked_.clear();
    handle_.reset();
    lines_.clear();
    names_.clear();
    washes_.clear();
    notes_.clear();
    tool_drags_ = false;
    setTool(tool_);  // begins anew
    Q_EMIT notesChanged();
  }
  presenceChanged();
  posePlaces();
  if (!pointed_.empty()) setPointed({});
  if (other) Q_EMIT viewsChanged();
  if (other || jumped) fit();
  update();
}

void Bench::setLook(Look look) {
  if (look == look_) return;
  look_ = look;
  update();
  Q_EMIT looksChanged();
}
void Bench::setNight(bool night) {
  if (night == night_) return;
  night_ = night;
  update();
  Q_EMIT looksChanged();
}
void Bench::setTone(const std::string& role, std::optional<glm::vec3> tone) {
  if (tone)
    tones_[role] = *tone;
  else
    tones_.erase(role);
  dressAll();
  update();
}
void Bench::setSwitch(const std::string& id, bool on) {
  if (on)
    switches_.insert(id);
  else
    switches_.erase(id);
  dressAll();
  update();
  Q_EMIT looksChanged();
}
void Bench::dress(Uploaded& shown, const BenchScene& scene, bool as_tried) const {
  for (const auto& [material, own] : shown.toned) {
    const auto tone = tones_.find(material->record.role);
    material->tint = as_tried && tone != tones_.end() ? tone->second : own;
  }
  for (size_t i = 0; i < shown.changing.size(); ++i)
    if (shown.changing[i])
      shown.changing[i]->effect = as_tried ? effectOn(scene.materials[i], scene) : render::LookEffect();
}
// What still waits to be uploaded is made with tones and switches as they are.
void Bench::dressAll() {
  if (uploaded_ && scene_ && !stale_) dress(*uploaded_, *scene_, true);
  if (peek_uploaded_ && peek_ && !peek_stale_) dress(*peek_uploaded_, *peek_, true);
}
render::LookEffect Bench::effectOn(const BenchMaterial& material, const BenchScene& scene) const {
  render::LookEffect out;
  for (const rulebook::LookSwitch& one : scene.switches)
    if (switches_.count(one.id) != 0) {
      const rulebook::LookChange change = one.changeOf(material.record.role);
      out.color *= glm::vec3(change.color[0], change.color[1], change.color[2]);
      out.roughness *= static_cast<float>(change.roughness);
      out.emitted += render::linear(material.swatch) * static_cast<float>(change.glow);
    }
  return out;
}
void Bench::setGhost(bool shown) {
  ghost_ = shown;
  update();
}
void Bench::addNote(Note note) {
  notes_.push_back(std::move(note));
  Q_EMIT notesChanged();
  update();
}
std::vector<glm::vec3> Bench::measured() const { return at_work_->measured(); }
std::vector<Bench::Ring> Bench::rings() const { return at_work_->rings(); }
bool Bench::dragTyped() const { return at_work_->typed(); }

void Bench::clearNotes() {
  notes_.clear();
  at_work_->clear();
  Q_EMIT notesChanged();
  update();
}
void Bench::setGhostStyle(render::DrawingStyle::Ghost style) {
  ghost_style_ = style;
  update();
}
void Bench::setTool(Tool tool) {
  tool_ = tool;
  if (at_work_) done_.push_back(std::move(at_work_));
  at_work_ = makeBenchTool(tool, *this);
  setCursor(tool == Tool::look_round ? Qt::ArrowCursor : Qt::CrossCursor);
  update();
}
void Bench::setSelectedPart(const std::string& key) {
  setSelectedParts(key.empty() ? std::vector<std::string>() : std::vector<std::string>{key});
}
void Bench::setSelectedParts(std::vector<std::string> keys) {
  selected_ = std::move(keys);
  update();
}
void Bench::showPicked(std::vector<glm::vec3> places, std::optional<glm::vec3> handle, Handle sort,
                       glm::vec3 axis) {
  picked_ = std::move(places);
  // A handle in the hand is not taken away by the picture that follows it.
  if (!at_work_->holds()) {
    handle_.reset();
    if (handle) handle_ = PickedHandle{*handle, sort, axis};
  }
  at_work_->shownChanged();
  update();
}
void Bench::showLines(std::vector<Line> lines) {
  lines_ = std::move(lines);
  update();
}
void Bench::showWashes(std::map<std::string, QColor> by_key) {
  washes_ = std::move(by_key);
  update();
}
void Bench::showNames(std::vector<std::pair<glm::vec3, QString>> names) {
  names_ = std::move(names);
  update();
}
void Bench::setBones(bool shown, const std::string& chosen) {
  bones_ = shown;
  chosen_bone_ = chosen;
  update();
}
void Bench::showWaiting(std::optional<geometry::Bounds> box_m, const QString& says) {
  waiting_m_ = std::move(box_m);
  waiting_says_ = says;
  update();
}
void Bench::setMessage(const QString& message) {
  message_ = message;
  update();
}

void Bench::showMarks(std::vector<glm::vec3> marks, std::optional<size_t> chosen) {
  marks_ = std::move(marks);
  chosen_mark_ = chosen && *chosen < marks_.size() ? chosen : std::nullopt;
  if (marks_.size() == 1 && scene_) camera_.target = marks_[0];
  if (chosen_mark_ && scene_) {
    camera_.target = marks_[*chosen_mark_];
    // Near enough to see what is marked, and what it belongs to.
    camera_.distance_m = std::min(camera_.distance_m, 1.2F * glm::length(scene_->bounds_m.size()));
  }
  update();
}

void Bench::fit() {
  if (!scene_) return;
  geometry::Bounds box = scene_->bounds_m;
  const float own_m = box.empty() ? 0 : glm::length(box.size());
  // The ghost is taken in as long as it is of a like size; a speck or a mountain is left out. Where there is
  // nothing of the model, the ghost is what one sees.
  if (ghost_)
    for (const BenchPart& part : scene_->ghost) {
      const glm::vec3 low(part.mesh.bounds_min[0], part.mesh.bounds_min[1], part.mesh.bounds_min[2]),
          high(part.mesh.bounds_max[0], part.mesh.bounds_max[1], part.mesh.bounds_max[2]);
      const float ratio = glm::length(high - low) / std::max(own_m, 1e-6F);
      if (own_m < 1e-6F || (ratio < 4 && ratio > 0.25F)) box.add({low, high});
    }
  addPieceBounds(box);
  if (box.empty()) box = {glm::vec3(-0.5F), glm::vec3(0.5F)};
  camera_.fit(box.min, box.max, static_cast<float>(width()) / static_cast<float>(std::max(height(), 1)));
  // Room for the dimension lines beside the model.
  camera_.distance_m *= 1.1F;
  fitted_ = true;
  update();
}

void Bench::lookFrom(const QString& side) {
  camera_.parallel = true;
  camera_.pitch_rad = 0;
  if (side == QLatin1String("forward")) camera_.yaw_rad = 0;
  if (side == QLatin1String("back")) camera_.yaw_rad = 3.14159265F;
  if (side == QLatin1String("left")) camera_.yaw_rad = 1.57079633F;
  if (side == QLatin1String("right")) camera_.yaw_rad = -1.57079633F;
  if (side == QLatin1String("up")) camera_.yaw_rad = 3.14159265F, camera_.pitch_rad = 1.57079633F;
  if (side == QLatin1String("floor")) camera_.yaw_rad = 3.14159265F, camera_.pitch_rad = -1.57079633F;
  fit();
}

void Bench::upload() {
  if (!renderer_) return;
  if (std::exchange(stale_, false)) uploaded_ = scene_ ? uploaded(*scene_) : std::make_unique<Uploaded>();
  if (std::exchange(peek_stale_, false)) peek_uploaded_ = peek_ ? uploaded(*peek_) : nullptr;
  std::erase_if(gpu_pictures_, [](const auto& one) { return one.second.expired(); });
}

std::unique_ptr<Bench::Uploaded> Bench::uploaded(const BenchScene& scene) const {
  auto out = std::make_unique<Uploaded>();
  static_cast<UploadedScene&>(*out) = uploadScene(renderer_->gl(), scene, gpu_pictures_);
  dress(*out, scene, true);
  return out;
}

bool Bench::bringPictures(Uploaded& shown, size_t most_bytes) {
  return app::bringPictures(renderer_->gl(), shown, gpu_pictures_, most_bytes);
}

void Bench::paintGL() {
  const Theme& t = theme();
  if (!renderer_) {
    QPainter painter(this);
    painter.fillRect(rect(), t.paper);
    painter.setPen(t.quiet);
    painter.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap, notice());
    return;
  }
  upload();
  bool whole_yet = bringPictures(*uploaded_, kPictureBytesAFrame);
  if (peek_uploaded_) whole_yet = bringPictures(*peek_uploaded_, kPictureBytesAFrame) && whole_yet;
  if (!whole_yet) QTimer::singleShot(0, this, qOverload<>(&Bench::update));
  if (!fitted_) fit();
  const qreal scale = devicePixelRatioF();
  const QSize whole = (QSizeF(size()) * scale).toSize();
  const float share = moving() ? detail_.share() : 1.0F;
  QElapsedTimer clock;
  clock.start();
  render::Gl* gl = renderer_->gl();
  if (share >= 1) {
    drawPicture(defaultFramebufferObject(), whole, scale);
  } else {
    const QSize less = (QSizeF(whole) * static_cast<qreal>(share)).toSize();
    if (!uploaded_->small || uploaded_->small->size() != less)
      uploaded_->small = std::make_unique<QOpenGLFramebufferObject>(less, QOpenGLFramebufferObject::Depth);
    drawPicture(uploaded_->small->handle(), less, scale * static_cast<qreal>(share));
    gl->glBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
    gl->glViewport(0, 0, whole.width(), whole.height());
    renderer_->stretch(uploaded_->small->texture());
  }
  if (moving()) {
    gl->glFinish();  // what is measured is the drawing, not the queueing
    detail_.frameTook(static_cast<double>(clock.elapsed()));
  }
  gl->glBindVertexArray(0);
  gl->glDisable(GL_DEPTH_TEST);
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  paintOverlay(painter);
}

void Bench::drawPicture(GLuint framebuffer, QSize size, qreal scale) {
  const Theme& t = theme();
  const int w = size.width(), h = size.height();
  render::Gl* gl = renderer_->gl();
  // While the picture moves, fewer triangles; in rest all of them.
  Uploaded& up = peek_ ? *peek_uploaded_ : *uploaded_;
  std::vector<render::DrawItem>& items = moving() ? up.quick : up.items;
  if (scene_) setLooks(items, peek_ ? *peek_ : *scene_);
  if (!peek_) poseItems(items, up.ghost);
  std::vector<render::DrawItem> all = peek_ ? items : withHung(withPieces(items, up.pieces), up.pieces);
  if (fall_ && !peek_)
    for (render::DrawItem& item : all) item.matrix = *fall_ * item.matrix;
  const std::optional<Cut>& cut = views().cut;
  renderer_->cutAway(cut ? std::optional(planeOf(*cut, *scene_)) : std::nullopt);
  const std::vector<render::DrawItem> no_ghost;
  // What a step has changed is tinted, and only the drawing has tints.
  if (look_ == Look::in_game && scene_ && !peek_) {
    render::Ambience air = render::Ambience::at(night_ ? 1.0F : 0.0F);
    air.up = scene_->up;
    if (night_)
      for (const BenchPoint& p : scene_->points)
        if (p.lamp) air.lights.push_back({p.position_m, render::linear(air.glow) * 7.5F, air.glow});
    addLamps(air);
    render::keepNearest(air.lights, camera_.target);
    const float radius = glm::length(scene_->bounds_m.size()) * 0.75F + 0.1F;
    renderer_->shadows(all, air, scene_->bounds_m.center(), radius);
    gl->glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
    gl->glViewport(0, 0, w, h);
    gl->glClearColor(night_ ? 0.06F : 0.80F, night_ ? 0.075F : 0.835F, night_ ? 0.11F : 0.85F, 1);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    drawFloor(w, h, scale);
    renderer_->lit(all, camera_, static_cast<float>(w) / static_cast<float>(h), air);
    renderer_->particles(particles(), camera_, static_cast<float>(w) / static_cast<float>(h), air);
    renderer_->halos(camera_, static_cast<float>(w) / static_cast<float>(h), air);
  } else {
    gl->glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
    gl->glViewport(0, 0, w, h);
    gl->glClearColor(static_cast<float>(t.paper.redF()), static_cast<float>(t.paper.greenF()),
                     static_cast<float>(t.paper.blueF()), 1);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    if (scene_) {
      drawFloor(w, h, scale);
      const auto color = [](const QColor& c) { return glm::vec3(c.redF(), c.greenF(), c.blueF()); };
      const render::DrawingStyle style{color(t.paper), color(t.sheet), color(t.ink), color(t.click),
                                       ghost_style_};
      renderer_->drawing(all, ghost_ ? up.ghost : no_ghost, camera_, framebuffer, w, h, style,
                         static_cast<float>(scale));
    }
  }
}

// How each part is seen: chosen, pointed at, tinted, let through.
void Bench::setLooks(std::vector<render::DrawItem>& items, const BenchScene& scene) {
  const auto color = [](const QColor& c) { return glm::vec3(c.redF(), c.greenF(), c.blueF()); };
  for (size_t i = 0; i < items.size(); ++i) {
    const BenchPart& part = scene.parts[i];
    render::DrawItem& item = items[i];
    item.selected = !peek_ && std::find(selected_.begin(), selected_.end(), part.key) != selected_.end();
    item.pointed = !pointed_.empty() && part.key == pointed_;
    const auto view = views().parts.find(part.key);
    item.presence = view != views().parts.end() ? view->second : render::Presence::whole;
    item.wash.reset();
    if (part.changed)
      item.wash = color(theme().shows);
    else if (const auto wash = washes_.find(part.key); wash != washes_.end() && !peek_)
      item.wash = color(wash->second);
  }
}

float Bench::arrowStart() const {
  const geometry::Bounds& box = seen().bounds_m;
  const float front =
      glm::dot(box.center(), seen().forward) + std::abs(glm::dot(box.size(), seen().forward)) * 0.5F;
  // Behind the dimension line that runs along the front.
  return std::max(front, 0.0F) + glm::length(box.size()) * 0.26F;
}

float Bench::floorStep() const {
  const float size = std::max(glm::length(seen().bounds_m.size()), 0.01F) / 4;
  const float power = std::pow(10.0F, std::floor(std::log10(size)));
  return size / power < 2 ? power : size / power < 5 ? 2 * power : 5 * power;
}

void Bench::drawFloor(int width, int height, qreal pixel_scale) {
  const float step = floorStep();
  const glm::vec3 forward = seen().forward, side = glm::cross(seen().up, seen().forward);
  std::vector<render::LineVertex> thin, strong;
  const bool dark = look_ == Look::in_game ? night_ : isNight();
  const glm::vec3 color = dark ? glm::vec3(0.6F, 0.62F, 0.66F) : glm::vec3(0.133F, 0.149F, 0.184F);
  constexpr int kCells = 5;
  for (int i = -kCells; i <= kCells; ++i) {
    const float a = static_cast<float>(i) * step, reach = kCells * step;
    auto& list = i == 0 ? strong : thin;
    const glm::vec4 tone(color, i == 0 ? 0.38F : 0.16F);
    list.push_back({forward * a - side * reach, tone});
    list.push_back({forward * a + side * reach, tone});
    list.push_back({side * a - forward * reach, tone});
    list.push_back({side * a + forward * reach, tone});
  }
  // The game's forward: an arrow lying on the floor, before the model's front.
  const QColor click = dark ? nightTheme().click : paperTheme().click;
  const glm::vec4 arrow(click.redF(), click.greenF(), click.blueF(), 0.9F);
  const float from = arrowStart(), tip = from + step * 1.1F, wing = step * 0.25F;
  for (const auto& [a, b] : std::initializer_list<std::pair<glm::vec3, glm::vec3>>{
           {forward * from, forward * tip},
           {forward * tip, forward * (tip - wing) + side * wing * 0.7F},
           {forward * tip, forward * (tip - wing) - side * wing * 0.7F}}) {
    strong.push_back({a, arrow});
    strong.push_back({b, arrow});
  }
  const auto scale = static_cast<float>(pixel_scale);
  renderer_->lines(thin, camera_, width, height, scale);
  renderer_->lines(strong, camera_, width, height, 1.6F * scale);
}

QImage Bench::takePicture(QSize size, QColor ground, float turned_rad) {
  if (!renderer_ || !scene_ || scene_->bounds_m.empty()) return {};
  makeCurrent();
  upload();
  bringPictures(*uploaded_, SIZE_MAX);
  // Icons and small pictures show the mod as it is, not what is being tried.
  dress(*uploaded_, *scene_, false);
  render::Camera camera = camera_;
  camera.yaw_rad = kUsualYaw + turned_rad, camera.pitch_rad = kUsualPitch;
  // A thumbnail of a heavy model needs no more than what a moving picture shows of it.
  const QImage picture =
      smallPicture(*renderer_, uploaded_->quick, scene_->bounds_m, scene_->up, camera, {size, ground});
  dress(*uploaded_, *scene_, true);
  doneCurrent();
  return picture;
}

QImage Bench::takeIcon(const IconLook& look) {
  if (!renderer_ || !scene_) return {};
  IconLook from_here = look;
  from_here.yaw_rad = camera_.yaw_rad;
  from_here.pitch_rad = camera_.pitch_rad;
  return takeIconOf(*scene_, from_here);
}

QImage Bench::takeIconOf(const BenchScene& scene, const IconLook& look) {
  if (!renderer_ || scene.bounds_m.empty()) return {};
  makeCurrent();
  QImage out;
  {
    // What the bench shows already is with the graphics card.
    const bool own = &scene == scene_.get();
    if (own) upload();
    const std::unique_ptr<Uploaded> other = own ? nullptr : uploaded(scene);
    Uploaded* shown = own ? uploaded_.get() : other.get();
    bringPictures(*shown, SIZE_MAX);
    out = paintIcon(*renderer_, *shown, scene, camera_, look);
    if (own) dress(*shown, scene, true);
  }
  doneCurrent();
  return out;
}

QVector<QImage> Bench::takePicturesOf(const BenchScene& scene, QSize size, QColor ground, int count) {
  QVector<QImage> out;
  if (!renderer_ || scene.bounds_m.empty()) return out;
  makeCurrent();
  {
    const auto shown = uploaded(scene);
    bringPictures(*shown, SIZE_MAX);
    dress(*shown, scene, false);
    render::Camera camera = camera_;
    camera.up = scene.up;
    camera.forward = scene.forward;
    camera.pitch_rad = kUsualPitch;
    for (int i = 0; i < count; ++i) {
      camera.yaw_rad = kUsualYaw + static_cast<float>(i) * 6.2831853F / static_cast<float>(count);
      out << smallPicture(*renderer_, shown->quick, scene.bounds_m, scene.up, camera, {size, ground});
    }
  }
  doneCurrent();
  return out;
}

std::optional<QPointF> Bench::project(glm::vec3 point) const {
  const auto p = camera_.project(point, viewSize());
  if (!p) return std::nullopt;
  return QPointF(p->x, p->y);
}

}  // namespace rakugo::app
