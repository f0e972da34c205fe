#include "standin/game_window.h"

#include <QMouseEvent>
#include <QOpenGLContext>
#include <QPainter>
#include <cmath>

namespace rakugo::standin {
namespace {

const std::array<glm::vec3, 5> kPaints = {{{0.24F, 0.42F, 0.45F},
                                           {0.66F, 0.22F, 0.16F},
                                           {0.85F, 0.66F, 0.22F},
                                           {0.2F, 0.3F, 0.5F},
                                           {0.9F, 0.88F, 0.82F}}};

}  // namespace

GameWindow::GameWindow(const std::filesystem::path& mods, const Game::Say& also_say, QWidget* parent)
    : QOpenGLWidget(parent), game_(mods, [this, also_say](const LogLine& line) {
        log_.push_back(line);
        also_say(line);
      }) {
  setWindowTitle(tr("Kelpwick"));
  setAccessibleName(tr("Kelpwick harbour"));
  resize(1280, 800);
  setFocusPolicy(Qt::StrongFocus);
  connect(&timer_, &QTimer::timeout, this, &GameWindow::tick);
  timer_.start(50);
  clock_.start();
}

GameWindow::~GameWindow() { release(); }

void GameWindow::release() {
  if (!view_) return;
  makeCurrent();
  view_.reset();
  doneCurrent();
}

void GameWindow::initializeGL() {
  if (render::Gl* gl = render::currentGl()) view_ = std::make_unique<HarbourView>(gl);
  connect(context(), &QOpenGLContext::aboutToBeDestroyed, this, &GameWindow::release);
  game_.scan();
}

void GameWindow::tick() {
  // A rebuilt bundle is seen within half a second.
  if (++ticks_ % 8 == 0) game_.scan();
  if (view_) {
    view_->night += (wanted_night_ - view_->night) * 0.15F;
    view_->time_s = static_cast<float>(clock_.elapsed()) / 1000;
  }
  update();
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
  const qreal scale = devicePixelRatioF();
  view_->draw(game_, defaultFramebufferObject(), static_cast<int>(width() * scale),
              static_cast<int>(height() * scale));
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QColor(255, 250, 235));
  painter.fillRect(0, height() - 26, width(), 26, QColor(20, 24, 30, 150));
  painter.drawText(QRect(14, height() - 26, width() - 28, 26), Qt::AlignVCenter,
                   tr("Drag to look round   ·   N night or day   ·   C colour of the harbour   ·   L log"));
  if (!show_log_) return;
  const int lines = static_cast<int>(std::min<size_t>(log_.size(), 8));
  painter.fillRect(0, 0, width(), 12 + lines * 19, QColor(20, 24, 30, 150));
  for (int i = 0; i < lines; ++i) {
    const LogLine& line = log_[log_.size() - static_cast<size_t>(lines) + static_cast<size_t>(i)];
    painter.setPen(line.level == "error"     ? QColor(255, 150, 120)
                   : line.level == "warning" ? QColor(250, 215, 130)
                                             : QColor(235, 235, 225));
    const char* mark = line.level == "error" ? "✕ " : line.level == "warning" ? "▲ " : "· ";
    painter.drawText(QRect(14, 6 + i * 19, width() - 28, 19), Qt::AlignVCenter,
                     QString::fromUtf8(mark) + QString::fromStdString(line.message));
  }
}

void GameWindow::mousePressEvent(QMouseEvent* event) { last_ = event->position(); }

void GameWindow::mouseMoveEvent(QMouseEvent* event) {
  if (view_ && event->buttons() != Qt::NoButton) {
    const QPointF d = event->position() - last_;
    view_->camera.orbit({d.x() * 0.6, d.y() * 0.6});
    view_->camera.pitch_rad = std::clamp(view_->camera.pitch_rad, -0.05F, 1.4F);
  }
  last_ = event->position();
}

void GameWindow::wheelEvent(QWheelEvent* event) {
  if (view_)
    view_->camera.distance_m = std::clamp(
        view_->camera.distance_m * std::pow(0.9F, static_cast<float>(event->angleDelta().y()) / 120), 1.5F,
        60.0F);
}

void GameWindow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_N) wanted_night_ = 1 - wanted_night_;
  if (event->key() == Qt::Key_L) show_log_ = !show_log_;
  if (event->key() == Qt::Key_C && view_) view_->paint = kPaints[++paint_ % kPaints.size()];
  QOpenGLWidget::keyPressEvent(event);
}

}  // namespace rakugo::standin
