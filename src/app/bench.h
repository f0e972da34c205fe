// The bench: the model on a floor ruled in the game's units, with dimension lines, the ghost and marks.
#pragma once

#include <QImage>
#include <QOpenGLWidget>
#include <memory>

#include "app/bench_scene.h"
#include "render/renderer.h"

namespace rakugo::app {

class Bench : public QOpenGLWidget {
  Q_OBJECT
 public:
  enum class Look { drawing, in_game };
  enum class Tool { look_round, point_front, measure };

  explicit Bench(QWidget* parent = nullptr);
  /// Whether this platform can show a bench at all. Qt's window-less platforms cannot, and crash when asked
  /// to.
  [[nodiscard]] static bool platformHasOpenGl();
  /// What is said in the bench's place where there is none.
  [[nodiscard]] static QString notice();
  ~Bench() override;

  void setScene(std::shared_ptr<const BenchScene> scene);
  [[nodiscard]] const std::shared_ptr<const BenchScene>& scene() const { return scene_; }
  void setLook(Look look);
  void setNight(bool night);
  void setGhost(bool shown);
  void setTool(Tool tool);
  [[nodiscard]] Tool tool() const { return tool_; }
  void setSelectedPart(const std::string& key);
  /// Draws the skeleton over the mesh; `chosen` is the key of the bone that is named there.
  void setBones(bool shown, const std::string& chosen = {});
  /// Marks positions and looks at them.
  void showMarks(std::vector<glm::vec3> marks);
  void fit();
  /// Looks straight along an axis of the game: "forward", "back", "left", "right", "up", "floor".
  void lookFrom(const QString& side);
  void setMessage(const QString& message);
  /// A picture of the model in the game's look on a plain ground, from where the bench looks, whole. Null
  /// without OpenGL.
  QImage takePicture(QSize size, bool from_bench_angle, QColor ground);
  [[nodiscard]] bool works() const { return renderer_ != nullptr; }
  /// The graphics driver in its own words; empty without OpenGL.
  [[nodiscard]] const QString& graphics() const { return graphics_; }
  /// Where a point of the model appears in the widget; for tests and overlays.
  [[nodiscard]] std::optional<QPointF> project(glm::vec3 point) const;
  [[nodiscard]] std::vector<glm::vec3> measured() const { return measured_; }

 Q_SIGNALS:
  /// The bench can draw from now on.
  void ready();
  void partClicked(const QString& key);
  void frontChosen(glm::vec3 direction);  ///< in the prepared model's space

 protected:
  void initializeGL() override;
  void paintGL() override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;

 private:
  struct Uploaded;
  void release();
  void upload();
  void drawFloor(int width, int height);
  void paintOverlay(QPainter& painter);
  void paintFloorNumbers(QPainter& painter);
  void paintDimensions(QPainter& painter);
  void paintDimension(QPainter& painter, glm::vec3 a, glm::vec3 b, glm::vec3 away, const QString& text);
  void paintMarks(QPainter& painter);
  void paintPoints(QPainter& painter);
  void paintBones(QPainter& painter);
  void paintTool(QPainter& painter);
  void label(QPainter& painter, QPointF at, const QString& text, const QColor& color, bool strong = false);
  [[nodiscard]] std::optional<BenchHit> under(QPointF at) const;
  [[nodiscard]] std::optional<glm::vec3> sideUnder(QPointF at) const;
  [[nodiscard]] glm::vec2 viewSize() const { return {width(), height()}; }
  [[nodiscard]] float floorStep() const;
  [[nodiscard]] float arrowStart() const;  ///< how far before the origin the forward arrow begins

  std::shared_ptr<const BenchScene> scene_;
  std::unique_ptr<render::Renderer> renderer_;
  std::unique_ptr<Uploaded> uploaded_;
  bool stale_ = true;
  render::Camera camera_;
  bool fitted_ = false;
  Look look_ = Look::drawing;
  bool night_ = false, ghost_ = true;
  Tool tool_ = Tool::look_round;
  std::string selected_, chosen_bone_;
  bool bones_ = false;
  std::vector<glm::vec3> marks_, measured_;
  std::optional<glm::vec3> hovered_side_;
  QString message_, graphics_;
  QPointF pressed_, last_;
  bool moved_ = false;
};

}  // namespace rakugo::app
