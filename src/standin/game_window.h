// The game's window: look round with the mouse, day and night, paint, the log over the picture.
#pragma once

#include <QElapsedTimer>
#include <QOpenGLWidget>
#include <QTimer>
#include <memory>

#include "standin/harbour_view.h"

namespace rakugo::standin {

class GameWindow : public QOpenGLWidget {
  Q_OBJECT
 public:
  explicit GameWindow(const std::filesystem::path& mods, const Game::Say& also_say,
                      QWidget* parent = nullptr);
  ~GameWindow() override;

 protected:
  void initializeGL() override;
  void paintGL() override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void release();
  void tick();
  Game game_;
  std::unique_ptr<HarbourView> view_;
  std::vector<LogLine> log_;
  bool show_log_ = true;
  float wanted_night_ = 0;
  size_t paint_ = 0;
  QPointF last_;
  QTimer timer_;
  QElapsedTimer clock_;
  int ticks_ = 0;
};

}  // namespace rakugo::standin
