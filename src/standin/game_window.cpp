#include "standin/game_window.h"

#include <QFocusEvent>
#include <QMouseEvent>
#include <QOpenGLContext>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "standin/harbour_lists.h"
#include "standin/own_things.h"

namespace rakugo::standin {
namespace {

const std::array<glm::vec3, 5> kPaints = {{{0.24F, 0.42F, 0.45F},
                                           {0.66F, 0.22F, 0.16F},
                                           {0.85F, 0.66F, 0.22F},
                                           {0.2F, 0.3F, 0.5F},
                                           {0.9F, 0.88F, 0.82F}}};

}  // namespace

GameWindow::GameWindow(const std::filesystem::path& mods, const Game::Say& also_say, QWidget* parent)
    : QOpenGLWidget(parent),
      say_([this, also_say](const LogLine& line) {
        log_->lines().add(line);
        link_.tell(line);
        also_say(line);
      }),
      game_(mods, say_),
      play_(game_, say_),
      commands_(game_, play_, say_),
      link_(commands_),
      log_(new LogPanel(this)) {
  // The harbour is drawn into a frame of its own; the window's needs no samples.
  QSurfaceFormat plain = render::surfaceFormat();
  plain.setSamples(0);
  setFormat(plain);
  setWindowTitle(tr("Kelpwick"));
  setAccessibleName(tr("Kelpwick harbour"));
  resize(1280, 800);
  setFocusPolicy(Qt::StrongFocus);
  link_.picture = [this] {
    if (!frame_) return QImage();
    makeCurrent();
    QImage out = frame_->toImage();
    doneCurrent();
    return out;
  };
  connect(&link_, &GameLink::carriedOut, this, [this] {
    if (view_ && view_->night != drawn_night_) wanted_night_ = drawn_night_ = view_->night;
    stale_ = true;
  });
  takeHarboursOwn(game_);
  connect(&timer_, &QTimer::timeout, this, &GameWindow::tick);
  timer_.start(33);
  clock_.start();
}

GameWindow::~GameWindow() {
  // The context goes after this, with the base: its last word must not reach what is no window of ours any
  // more.
  if (context() != nullptr) disconnect(context(), nullptr, this, nullptr);
  release();
}

base::Status GameWindow::connectTo(const QString& name) { return link_.connectTo(name); }

void GameWindow::release() {
  if (!view_) return;
  makeCurrent();
  commands_.view = nullptr;
  view_.reset();
  frame_.reset();
  doneCurrent();
}

void GameWindow::initializeGL() {
  if (render::Gl* gl = render::currentGl()) view_ = std::make_unique<HarbourView>(gl);
  commands_.view = view_.get();
  connect(context(), &QOpenGLContext::aboutToBeDestroyed, this, &GameWindow::release);
  scan();
}

void GameWindow::scan() {
  if (game_.scan()) {
    play_.refresh();
    stale_ = true;
  }
  const auto& objects = game_.objects();
  if (objects.count(chosen_) != 0) return;
  // The harbour's own things are chosen by nobody but who asks for them.
  const auto first =
      std::find_if(objects.begin(), objects.end(), [](const auto& one) { return !Game::isOwn(one.first); });
  chosen_ = first == objects.end() ? std::string() : first->first;
}

void GameWindow::tick() {
  // A rebuilt bundle is seen within half a second, without being told of it.
  if (++ticks_ % 12 == 0) scan();
  const qint64 now = clock_.elapsed();
  play_.setNight(drawn_night_);
  play_.pass(std::min(static_cast<float>(now - std::exchange(passed_ms_, now)) / 1000, 0.25F));
  speaker_.play(play_.heard(), play_.ear(view_ ? view_->camera.position() : glm::vec3(0, 0, 2)));
  if (view_) {
    drawn_night_ = view_->night += (wanted_night_ - view_->night) * 0.1F;
    view_->time_s = static_cast<float>(now) / 1000;
    view_->follow(play_, aside_rad_, down_rad_);
  }
  // Where frames are dear and nothing moves, the water alone is worth one now and then.
  constexpr qint64 kDear_ms = 80, kNowAndThen_ms = 1500, kSmoke_ms = 300;
  const qint64 wait_ms = play_.particles().size() > 0 ? kSmoke_ms : kNowAndThen_ms;
  if (moving() || stale_ || whole_took_ms_ < kDear_ms || since_frame_.elapsed() > wait_ms) update();
}

bool GameWindow::moving() const {
  return play_.moving() || (since_drag_.isValid() && since_drag_.elapsed() < 300) ||
         (view_ && std::abs(view_->night - wanted_night_) > 0.01F);
}

void GameWindow::paintGL() {
  if (!view_) {
    QPainter painter(this);
    painter.fillRect(rect(), Qt::black);
    painter.setPen(Qt::white);
    painter.drawText(rect(), Qt::AlignCenter,
                     tr("This display has no OpenGL 3.3; the harbour cannot be shown."));
    return;
  }
  drawHarbour();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  paintWords(painter);
}

void GameWindow::drawHarbour() {
  QElapsedTimer clock;
  clock.start();
  const QSize whole = (QSizeF(size()) * devicePixelRatioF()).toSize();
  const bool calm = !moving(), full = calm || detail_.share() >= 1;
  const QSize drawn =
      full ? whole : (QSizeF(whole) * static_cast<qreal>(detail_.share())).toSize().expandedTo(QSize(16, 16));
  if (!frame_ || frame_->size() != drawn) {
    QOpenGLFramebufferObjectFormat format;
    format.setAttachment(QOpenGLFramebufferObject::Depth);
    format.setSamples(full ? 4 : 0);  // samples are a luxury, and cannot be stretched
    frame_ = std::make_unique<QOpenGLFramebufferObject>(drawn, format);
  }
  view_->draw(game_, play_, frame_->handle(), drawn.width(), drawn.height());
  render::Gl* gl = render::currentGl();
  gl->glBindFramebuffer(GL_READ_FRAMEBUFFER, frame_->handle());
  gl->glBindFramebuffer(GL_DRAW_FRAMEBUFFER, defaultFramebufferObject());
  gl->glBlitFramebuffer(0, 0, drawn.width(), drawn.height(), 0, 0, whole.width(), whole.height(),
                        GL_COLOR_BUFFER_BIT, full ? GL_NEAREST : GL_LINEAR);
  gl->glBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
  render::currentGl()->glFinish();
  const qint64 took = clock.elapsed();
  stale_ = !calm;
  since_frame_.start();
  if (full) whole_took_ms_ = took;
  if (!calm) detail_.frameTook(static_cast<double>(took));
}

QString GameWindow::whatEnterDoes() const {
  const auto found = game_.objects().find(chosen_);
  if (found == game_.objects().end()) {
    const auto refused = game_.refused();
    if (refused.empty()) return tr("Nothing is installed yet: build a mod and install it.");
    const QString why = QString::fromStdString(refused.front().second);
    return refused.size() == 1
               ? tr("One mod is installed and was refused: %1").arg(why)
               : tr("%1 mods are installed and all were refused, the first: %2").arg(refused.size()).arg(why);
  }
  const std::string& kind = found->second.record.kind;
  return tr("%1 of %2   ·   Enter: %3")
      .arg(QString::fromStdString(found->second.record.name), QString::fromStdString(found->second.title),
           kind == "keeper"  ? tr("walk as this keeper")
           : kind == "coat"  ? tr("put it on")
           : kind == "gear"  ? tr("take it in the hand")
           : kind == "craft" ? tr("take the helm")
                             : tr("set one more down"));
}

void GameWindow::paintWords(QPainter& painter) {
  const int top = height() - 50, right = width();
  painter.fillRect(0, top, right, 50, QColor(20, 24, 30, 170));
  const auto line = [&](int y, const QColor& color, const QString& text) {
    painter.setPen(color);
    painter.drawText(QRect(14, y, right - 28, 25), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text, Qt::ElideRight, right - 28));
  };
  QString doing;
  if (play_.doing() == Play::Doing::sailing)
    doing = tr("   ·   %1 knots").arg(static_cast<double>(std::abs(play_.speed_mps())) / 0.514444, 0, 'f', 1);
  line(top + 1, QColor(255, 250, 235), whatEnterDoes() + doing);
  line(top + 24, QColor(215, 214, 204),
       tr("Tab: the next thing   ·   Arrows: walk or steer   ·   Backspace: leave off   ·   E eyes   ·   "
          "M move   ·   B build   ·   N night   ·   R rain   ·   O old   ·   C colour   ·   F let fall   ·   "
          "U take up   ·   T trade   ·   Q quiet   ·   L log"));
}

void GameWindow::placeLog() {
  // In the corner, so that the middle of the picture stays free.
  const int wide = std::clamp(width() / 3, 260, 420), high = std::clamp(height() / 3, 160, 300);
  log_->setGeometry(width() - wide, 0, wide, high);
}

void GameWindow::resizeEvent(QResizeEvent* event) {
  QOpenGLWidget::resizeEvent(event);
  placeLog();
}

void GameWindow::mousePressEvent(QMouseEvent* event) { last_ = event->position(); }

void GameWindow::mouseMoveEvent(QMouseEvent* event) {
  if (view_ && event->buttons() != Qt::NoButton) {
    const QPointF d = event->position() - last_;
    since_drag_.start();
    aside_rad_ -= static_cast<float>(d.x()) * 0.005F;
    down_rad_ = std::clamp(down_rad_ + static_cast<float>(d.y()) * 0.004F, -1.0F, 1.0F);
    if (!play_.sight()) {
      view_->camera.orbit({d.x() * 0.6, d.y() * 0.6});
      view_->camera.pitch_rad = std::clamp(view_->camera.pitch_rad, -0.05F, 1.4F);
    }
  }
  last_ = event->position();
}

void GameWindow::wheelEvent(QWheelEvent* event) {
  since_drag_.start();
  if (view_)
    view_->camera.distance_m = std::clamp(
        view_->camera.distance_m * std::pow(0.9F, static_cast<float>(event->angleDelta().y()) / 120), 1.5F,
        60.0F);
}

void GameWindow::choose(bool next) {
  stale_ = true;
  const auto& objects = game_.objects();
  if (objects.empty()) return;
  auto at = objects.find(chosen_);
  if (at == objects.end())
    at = objects.begin();
  else if (next)
    at = std::next(at) == objects.end() ? objects.begin() : std::next(at);
  else
    at = at == objects.begin() ? std::prev(objects.end()) : std::prev(at);
  chosen_ = at->first;
  if (view_ && play_.doing() == Play::Doing::looking) view_->lookAt(game_, play_, chosen_);
}

bool GameWindow::focusNextPrevChild(bool next) {
  choose(next);
  return true;
}

void GameWindow::steer() {
  const auto held = [&](int key) { return held_keys_.count(key) != 0 ? 1.0F : 0.0F; };
  play_.move(held(Qt::Key_Up) - held(Qt::Key_Down), held(Qt::Key_Left) - held(Qt::Key_Right));
}

void GameWindow::keyPressEvent(QKeyEvent* event) {
  stale_ = true;
  switch (event->key()) {
    case Qt::Key_N:
      wanted_night_ = wanted_night_ > 0.5F ? 0 : 1;
      break;
    case Qt::Key_Q:
      speaker_.setQuiet(!speaker_.quiet());
      break;
    case Qt::Key_F:
      if (!chosen_.empty()) play_.drop(chosen_, std::nullopt, 1.5F);
      break;
    case Qt::Key_U:
      if (!chosen_.empty()) play_.take(chosen_);
      break;
    case Qt::Key_T: {
      // What the harbour deals in, one list after the other.
      const std::vector<HarbourList>& lists = harbourLists();
      log_->setVisible(true);
      (void)commands_.run(base::Json{{"do", "offers"}, {"list", lists[list_].id}}, "key");
      list_ = (list_ + 1) % lists.size();
      break;
    }
    case Qt::Key_L:
      log_->setVisible(!log_->isVisible());
      break;
    case Qt::Key_C:
      if (view_) view_->paint = kPaints[++paint_ % kPaints.size()];
      break;
    case Qt::Key_E:
      play_.lookThroughEyes(!play_.throughEyes());
      break;
    case Qt::Key_M: {
      // What the figure does, one after the other, and then stands about again.
      const std::vector<std::string> names = Movements::keepers().names();
      const auto at = std::find(names.begin(), names.end(), play_.acting());
      play_.act(at == names.end()              ? names.front()
                : std::next(at) == names.end() ? std::string()
                                               : *std::next(at));
      break;
    }
    case Qt::Key_R:
    case Qt::Key_O:
      if (view_) {
        const std::string name = event->key() == Qt::Key_R ? "rain" : "salt";
        if (view_->switched.erase(name) == 0) view_->switched.insert(name);
      }
      break;
    case Qt::Key_B:
      play_.setBuild(play_.build() >= 1 ? 0 : play_.build() + 0.5F);
      break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      aside_rad_ = down_rad_ = 0;
      if (!chosen_.empty()) play_.use(chosen_);
      break;
    case Qt::Key_Backspace:
      play_.leave();
      break;
    case Qt::Key_Up:
    case Qt::Key_Down:
    case Qt::Key_Left:
    case Qt::Key_Right:
      held_keys_.insert(event->key());
      steer();
      break;
    default:
      QOpenGLWidget::keyPressEvent(event);
  }
}

void GameWindow::keyReleaseEvent(QKeyEvent* event) {
  if (event->isAutoRepeat() || held_keys_.erase(event->key()) == 0) return;
  steer();
}

void GameWindow::focusOutEvent(QFocusEvent* event) {
  // A key let go of elsewhere is never heard of; nobody sails on by themselves.
  held_keys_.clear();
  steer();
  QOpenGLWidget::focusOutEvent(event);
}

}  // namespace rakugo::standin
