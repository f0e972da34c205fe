// The game's window: look round, walk, sail, carry and wear, day and night, paint, and the log.
#pragma once

#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>
#include <QOpenGLWidget>
#include <QTimer>
#include <memory>
#include <set>

#include "render/detail.h"
#include "standin/link.h"
#include "standin/log_panel.h"
#include "standin/speaker.h"

namespace rakugo::standin {

class GameWindow : public QOpenGLWidget {
  Q_OBJECT
 public:
  GameWindow(const std::filesystem::path& mods, const Game::Say& also_say, QWidget* parent = nullptr);
  ~GameWindow() override;
  /// Lets another program follow the log and give commands. Errors: link.closed.
  base::Status connectTo(const QString& name);
  [[nodiscard]] const Play& play() const { return play_; }
  [[nodiscard]] const std::string& chosen() const { return chosen_; }
  /// How dark it is drawn, 0 day to 1 night.
  [[nodiscard]] float night() const { return drawn_night_; }

 protected:
  void initializeGL() override;
  void paintGL() override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  /// Tab chooses things of the harbour; it does not leave the picture.
  bool focusNextPrevChild(bool next) override;

 private:
  void release();
  void tick();
  void steer();
  void choose(bool next);
  void scan();
  void placeLog();
  /// Draws the harbour; in fewer pixels while something moves and frames take too long, as on a machine
  /// without a graphics card.
  void drawHarbour();
  [[nodiscard]] bool moving() const;
  [[nodiscard]] QString whatEnterDoes() const;
  void paintWords(QPainter& painter);

  Game::Say say_;
  Game game_;
  Play play_;
  Commands commands_;
  GameLink link_;
  LogPanel* log_;
  Speaker speaker_;
  size_t list_ = 0;  ///< of the harbour's lists: the one that is shown next
  std::unique_ptr<HarbourView> view_;
  std::unique_ptr<QOpenGLFramebufferObject> frame_;
  render::Detail detail_;     ///< while something moves
  qint64 whole_took_ms_ = 0;  ///< the last frame in all its pixels
  QElapsedTimer since_frame_, since_drag_;
  bool stale_ = true;  ///< something else than water is to be seen anew
  std::string chosen_;
  std::set<int> held_keys_;
  float wanted_night_ = 0, drawn_night_ = 0, aside_rad_ = 0, down_rad_ = 0;
  size_t paint_ = 0;
  QPointF last_;
  QTimer timer_;
  QElapsedTimer clock_;
  qint64 passed_ms_ = 0;
  int ticks_ = 0;
};

}  // namespace rakugo::standin
