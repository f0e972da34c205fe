// The bench: the model on a floor ruled in the game's units, with dimension lines, the ghost and marks.
#pragma once

#include <QImage>
#include <QOpenGLWidget>
#include <QPolygonF>
#include <QTimer>
#include <map>
#include <memory>
#include <set>

#include "app/bench/bench_hit.h"
#include "app/bench/bench_scene.h"
#include "app/bench/bench_views.h"
#include "app/shell/background.h"
#include "render/detail.h"
#include "render/renderer.h"

namespace rakugo::app {

class BenchTool;

struct IconLook;

class Bench : public QOpenGLWidget {
  Q_OBJECT
 public:
  enum class Look { drawing, in_game };
  enum class Tool {
    look_round,
    point_front,
    measure,
    pick_point,
    pick_pivot,
    pick_box,
    pick_outline,
    pick_piece,
    measure_angle,
    measure_gap,
    turn_rings
  };
  /// What the handle of what was picked does: arrows that pull it along an axis, arrows that stretch it, or a
  /// ring that turns it.
  enum class Handle { move, scale, turn };

  explicit Bench(QWidget* parent = nullptr);
  /// Whether this platform can show a bench at all. Qt's window-less platforms cannot, and crash when asked
  /// to.
  [[nodiscard]] static bool platformHasOpenGl();
  /// What is said in the bench's place where there is none.
  [[nodiscard]] static QString notice();
  ~Bench() override;

  void setScene(std::shared_ptr<const BenchScene> scene);
  /// Shows another scene in its place for as long as one wants to compare, and says what it is; null: the
  /// scene again. Nothing of it can be pointed at.
  void peek(std::shared_ptr<const BenchScene> scene, const QString& says = {});
  [[nodiscard]] const std::shared_ptr<const BenchScene>& peeked() const { return peek_; }
  /// Whether one of two boxes is more than twice as large as the other, or stands quite elsewhere: seen from
  /// one place, it would be lost.
  [[nodiscard]] static bool isOfAnotherSize(const geometry::Bounds& one, const geometry::Bounds& other);
  /// How the model is looked at; kept for each model as long as the mod is open.
  [[nodiscard]] const BenchViews& views() const;
  /// Forgets them all: models of another mod may have the same names.
  void forgetViews();
  void setPresence(const std::vector<std::string>& parts, render::Presence presence);
  /// Hides all parts but these.
  void showAlone(const std::vector<std::string>& parts);
  void setCut(std::optional<Cut> cut);
  /// The key of the part that is pointed at, and outlined; empty: none.
  [[nodiscard]] const std::string& pointed() const { return pointed_; }
  /// Where the keyboard points; nothing while it does not.
  [[nodiscard]] const std::optional<QPointF>& crosshair() const { return crosshair_; }
  /// What is to be seen of a source that is being read: its box, in the game's axes, and what is said of it.
  void showWaiting(std::optional<geometry::Bounds> box_m, const QString& says);
  [[nodiscard]] const std::shared_ptr<const BenchScene>& scene() const { return scene_; }
  void setLook(Look look);
  void setNight(bool night);
  /// Another tone for all materials of a role that takes one, sRGB from 0 to 1; nothing: as the rulebook has
  /// it. A view only: it stays until it is set anew.
  void setTone(const std::string& role, std::optional<glm::vec3> tone);
  [[nodiscard]] const std::map<std::string, glm::vec3>& tones() const { return tones_; }
  /// What is going on in the game: a switch of the rulebook. A view only; it stays for the next model.
  void setSwitch(const std::string& id, bool on);
  [[nodiscard]] const std::set<std::string>& switches() const { return switches_; }
  [[nodiscard]] Look look() const { return look_; }
  [[nodiscard]] bool night() const { return night_; }
  void setGhost(bool shown);
  void setGhostStyle(render::DrawingStyle::Ghost style);
  [[nodiscard]] render::DrawingStyle::Ghost ghostStyle() const { return ghost_style_; }
  void setTool(Tool tool);
  [[nodiscard]] Tool tool() const { return tool_; }
  void setSelectedPart(const std::string& key);
  /// Sets off several parts, as those of one region.
  void setSelectedParts(std::vector<std::string> keys);
  /// Shows vertices that were picked; with a handle they can be pulled, stretched or turned (about `axis`)
  /// from there.
  void showPicked(std::vector<glm::vec3> places, std::optional<glm::vec3> handle = {},
                  Handle sort = Handle::move, glm::vec3 axis = glm::vec3(0, 0, 1));
  [[nodiscard]] const std::vector<glm::vec3>& pickedPlaces() const { return picked_; }
  struct PickedHandle {
    glm::vec3 at;
    Handle sort = Handle::move;
    glm::vec3 axis{0, 0, 1};
  };
  [[nodiscard]] const std::optional<PickedHandle>& handle() const { return handle_; }
  /// Draws lines in the model's space: borders that meet, a cell that is overhung.
  struct Line {
    std::vector<glm::vec3> places;
    bool closed = false, good = true;
  };
  void showLines(std::vector<Line> lines);
  [[nodiscard]] const std::vector<Line>& lines() const { return lines_; }
  /// Parts in a colour of their own in the drawing look, as those of one region.
  void showWashes(std::map<std::string, QColor> by_key);
  [[nodiscard]] const std::map<std::string, QColor>& washes() const { return washes_; }
  /// Names written at places, as those of regions.
  void showNames(std::vector<std::pair<glm::vec3, QString>> names);
  [[nodiscard]] const std::vector<std::pair<glm::vec3, QString>>& names() const { return names_; }
  /// Shows the model, and its ghost, otherwise than at rest; null: at rest. While it is shown nothing of the
  /// model can be picked but the ends of limbs, which can be pulled.
  void setPose(std::shared_ptr<const BenchPose> pose);
  [[nodiscard]] const std::shared_ptr<const BenchPose>& pose() const { return pose_; }
  /// In the drawing look: how far each vertex follows the bone of that key; empty: as materials are.
  void showWeightsOf(const std::string& bone);
  [[nodiscard]] const std::string& weightsOf() const { return weights_of_; }
  /// How far what lies under the pointer follows that bone, 0 to 1; nothing beside the model.
  [[nodiscard]] std::optional<float> weightUnder(QPointF at) const;
  /// Draws the skeleton over the mesh; `chosen` is the key of the bone that is named there.
  void setBones(bool shown, const std::string& chosen = {});
  [[nodiscard]] bool showsBones() const { return bones_; }
  /// A circle to turn by: the model's three while that tool is chosen, or that of what was picked.
  struct Ring {
    glm::vec3 center, axis;
    float radius = 0;
    int color = 2;  ///< of the theme's axes
  };
  [[nodiscard]] std::vector<Ring> rings() const;
  /// Whether the number that a drag stands at was typed: it is meant as it is, and drawn to no grid.
  [[nodiscard]] bool dragTyped() const;
  /// Shows the other pieces of the scene's object round the model, where they can be clicked.
  void setPiecesShown(bool shown, const std::string& chosen = {});
  [[nodiscard]] bool piecesShown() const { return pieces_shown_; }
  /// A click chooses nothing: it says a place on the surface only.
  void setClicksPlace(bool on) { clicks_place_ = on; }
  [[nodiscard]] bool clicksPlace() const { return clicks_place_; }
  /// Pieces that stand elsewhere for now, by name: while one is dragged. From the piece's model to the
  /// scene's.
  void setPiecePlaces(std::map<std::string, glm::mat4> places);
  /// Sets an attachment point off and shows which way it faces; points that stand elsewhere for now, by id:
  /// while one is dragged.
  void setChosenPoint(const std::string& point, std::map<std::string, glm::mat4> places = {});
  [[nodiscard]] const std::string& chosenPoint() const { return chosen_point_; }
  /// Shows the model with all pieces moved, while it falls; in the scene's space. Nothing: as it stands.
  void setFall(std::optional<glm::mat4> move);
  [[nodiscard]] const std::optional<glm::mat4>& fall() const { return fall_; }
  /// Shows what a moving part moves as it stands once it has gone so far, in radians. An empty name: all at
  /// rest.
  void setMoved(const std::string& piece, float angle_rad);
  [[nodiscard]] float movedAngle() const { return moved_rad_; }
  /// Draws the box that nothing of the object leaves, by which a game decides whether to draw it.
  void setSeenBoxShown(bool shown);
  [[nodiscard]] bool seenBoxShown() const { return seen_box_; }
  /// The attachment point that is drawn there; empty: none, or pieces are not shown.
  [[nodiscard]] std::string pointUnder(QPointF at) const;
  /// The piece that lies there, in front of all others; empty: none, or pieces are not shown.
  [[nodiscard]] std::string pieceUnder(QPointF at) const;
  /// Marks positions, and looks at one of them: the chosen one, or the only one.
  void showMarks(std::vector<glm::vec3> marks, std::optional<size_t> chosen = {});
  [[nodiscard]] const std::vector<glm::vec3>& marks() const { return marks_; }
  [[nodiscard]] glm::vec3 lookedAt() const { return camera_.target; }
  void fit();
  /// Looks straight along an axis of the game: "forward", "back", "left", "right", "up", "floor".
  void lookFrom(const QString& side);
  void setMessage(const QString& message);
  /// The whole object in the game's look, from where the bench looks. Null without OpenGL.
  QImage takeIcon(const IconLook& look);
  /// The same of any scene with all its pieces, from the angle that the look says.
  QImage takeIconOf(const BenchScene& scene, const IconLook& look);
  /// The model in the game's look on a plain ground, from the usual angle turned further about up. Null
  /// without OpenGL.
  QImage takePicture(QSize size, QColor ground, float turned_rad = 0);
  /// The same of any scene, from the usual angle, `count` pictures all round. None without OpenGL.
  QVector<QImage> takePicturesOf(const BenchScene& scene, QSize size, QColor ground, int count);
  /// Whether the picture is drawn with fewer triangles, because it moves just now.
  [[nodiscard]] bool moving() const { return rest_.isActive(); }
  [[nodiscard]] bool works() const { return renderer_ != nullptr; }
  /// The graphics driver in its own words; empty without OpenGL.
  [[nodiscard]] const QString& graphics() const { return graphics_; }
  /// How much of the model's space a pixel shows, at the depth of what is looked at.
  [[nodiscard]] double metresPerPixel() const;
  /// Where a point of the model appears in the widget; for tests and overlays.
  [[nodiscard]] std::optional<QPointF> project(glm::vec3 point) const;
  /// The line of sight through a place of the widget, in the model's space.
  void rayAt(QPointF at, glm::vec3& origin, glm::vec3& direction) const;
  [[nodiscard]] const render::Camera& camera() const { return camera_; }
  /// What lies there at rest; nothing while a pose is shown, or another scene: what is picked is of the model
  /// at rest.
  [[nodiscard]] std::optional<BenchHit> under(QPointF at) const;
  /// The side of the model's box, among those that can be forward, that what lies there looks to.
  [[nodiscard]] std::optional<glm::vec3> sideUnder(QPointF at) const;
  /// What a click takes there: a vertex, the middle of an edge or of a face when one of those lies near on
  /// the picture, else the place on the surface itself.
  [[nodiscard]] std::optional<Snap> snapUnder(QPointF at) const;
  /// Writes text at a place, or as near to it as no other label of this picture is.
  void label(QPainter& painter, QPointF at, const QString& text, const QColor& color, bool strong = false);
  [[nodiscard]] std::vector<glm::vec3> measured() const;
  /// What was measured, kept in the drawing until it is cleared: a line along places, and what it says.
  struct Note {
    std::vector<glm::vec3> places;
    QString text;
  };
  void addNote(Note note);
  void clearNotes();
  [[nodiscard]] const std::vector<Note>& notes() const { return notes_; }

 Q_SIGNALS:
  void looksChanged();  ///< look(), night() or switches()
  /// The bench can draw from now on.
  void ready();
  void viewsChanged();
  void partPointed(const QString& key);  ///< empty: none is pointed at any more
  void partClicked(const QString& key);
  void surfaceClicked(const rakugo::app::BenchHit& hit);  ///< the same click, where it met the model
  void frontChosen(glm::vec3 direction);                  ///< in the prepared model's space
  void pointPicked(glm::vec3 point);                      ///< the same; metres
  void pivotPicked(glm::vec3 point);                      ///< the same, for the part that is selected
  /// An outline was drawn: places on a plane across the line of sight, and the eye, or the direction of sight
  /// of a view without perspective.
  void outlinePicked(const std::vector<glm::vec3>& outline, std::optional<glm::vec3> eye, glm::vec3 toward);
  void notesChanged();
  void gapAsked(const QString& part, const QString& other);  ///< keys of two parts that were clicked
  void piecePicked(const QString& part, glm::vec3 point);
  /// Where pieces are shown: the one that was clicked; empty beside all.
  void objectPieceClicked(const QString& piece);
  /// Models of the mod were let go over the bench, while pieces are shown.
  void modelsDropped(const QStringList& models, QPointF at);
  void pointClicked(const QString& point);  ///< an attachment point, while pieces are shown
  /// The handle of what was picked is dragged; `done` when it is let go. `value` is so far from where it
  /// began (metres), factors along the axes, or whole degrees in its first number, by what the handle does.
  void pickedDragged(glm::vec3 value, bool done);
  /// The end of a limb is pulled to a place on the plane across the line of sight, in the model's space; its
  /// number in the pose's list. `done` when it is let go.
  void endPulled(int end, glm::vec3 to, bool done);
  /// A ring round the model was turned and let go: quarter turns about an axis of the model's space (0 x, 1
  /// y, 2 z), counted by the right hand.
  void quarterTurned(int axis, int quarters);

 protected:
  void initializeGL() override;
  void paintGL() override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Uploaded;
  /// Tones and switches on what is uploaded of a scene: those that are tried, or none.
  void dress(Uploaded& shown, const BenchScene& scene, bool as_tried) const;
  void dressAll();
  [[nodiscard]] render::LookEffect effectOn(const BenchMaterial& material, const BenchScene& scene) const;
  void release();
  void upload();
  void poseItems(std::vector<render::DrawItem>& items, std::vector<render::DrawItem>& behind);
  [[nodiscard]] std::unique_ptr<Uploaded> uploaded(const BenchScene& scene) const;
  /// Brings pictures that wait to the card, about so many bytes of them; true when none waits any more.
  bool bringPictures(Uploaded& shown, size_t most_bytes);
  /// The view changed under the person's hand: drawn quickly, and whole once it rests.
  void viewMoved();
  /// Everything below the overlay; `scale` is the number of pixels in one of the widget's.
  void drawPicture(GLuint framebuffer, QSize size, qreal scale);
  void drawFloor(int width, int height, qreal pixel_scale);
  void paintOverlay(QPainter& painter);
  void paintFloorNumbers(QPainter& painter);
  void paintDimensions(QPainter& painter);
  void paintDimension(QPainter& painter, glm::vec3 a, glm::vec3 b, glm::vec3 away, const QString& text);
  void paintMarks(QPainter& painter);
  [[nodiscard]] glm::mat4 placeOf(const BenchPiece& piece) const;
  [[nodiscard]] std::vector<render::DrawItem> withPieces(
      const std::vector<render::DrawItem>& items,
      const std::vector<std::vector<render::DrawItem>>& models) const;
  [[nodiscard]] std::vector<render::DrawItem> withHung(
      std::vector<render::DrawItem> items, const std::vector<std::vector<render::DrawItem>>& models) const;
  void addPieceBounds(geometry::Bounds& box) const;
  /// The moving part whose motion is shown, and how it carries what it moves; null: none is.
  [[nodiscard]] const BenchLamp* movedNow(glm::mat4& move) const;
  void paintSeenBox(QPainter& painter);
  void paintMoving(QPainter& painter, const glm::mat4& place, QPointF at, bool chosen);
  [[nodiscard]] glm::mat4 placeOf(const BenchPoint& point) const;
  void paintPieces(QPainter& painter);
  [[nodiscard]] glm::mat4 placeOf(const BenchLamp& lamp) const;
  void paintLamps(QPainter& painter);
  void paintShape(QPainter& painter, const BenchShape& shape, const glm::mat4& place, bool chosen);
  void paintHeard(QPainter& painter, const prepare::SoundValues& sound, glm::vec3 from, QPointF at,
                  bool chosen);
  void paintBeam(QPainter& painter, const BenchLamp& lamp, const glm::mat4& place, bool chosen);
  void addLamps(render::Ambience& air) const;
  [[nodiscard]] std::vector<render::ParticleSprite> particles() const;
  [[nodiscard]] std::string lampUnder(QPointF at) const;
  void paintPoints(QPainter& painter);
  void paintBones(QPainter& painter);
  void paintWeightsLegend(QPainter& painter);
  [[nodiscard]] glm::vec3 boneAt(glm::vec3 rest, int number) const;
  /// What carries what goes with a bone from its rest to the pose that is shown.
  [[nodiscard]] glm::mat4 boneMove(const std::string& bone) const;
  void paintTool(QPainter& painter);
  void paintLines(QPainter& painter);
  void paintPicked(QPainter& painter);
  /// Tells what a drag of no tool does: turns the view, or moves it.
  void dragView(QMouseEvent* event, QPointF by);
  /// What is seen: the scene, or another that is shown in its place. One of them is there.
  [[nodiscard]] const BenchScene& seen() const { return peek_ ? *peek_ : *scene_; }
  void hover(QPointF at);
  void setPointed(const std::string& key);
  void setViews(BenchViews views);
  void presenceChanged();
  /// The pose, or the scene under it, is another one: where things are is found out anew.
  void posePlaces();
  void poseRests();
  void arrowPressed(QPointF arrow, Qt::KeyboardModifiers with);
  void enterPressed();
  void showCrosshair();
  void leaveCrosshair();
  void moveCrosshair(QPointF by);
  void paintCrosshair(QPainter& painter);
  void paintCompass(QPainter& painter);
  void paintPeek(QPainter& painter);
  void paintWaiting(QPainter& painter);
  [[nodiscard]] HitOptions hitOptions() const;
  void setLooks(std::vector<render::DrawItem>& items, const BenchScene& scene);
  [[nodiscard]] glm::vec2 viewSize() const { return {width(), height()}; }
  [[nodiscard]] float floorStep() const;
  [[nodiscard]] float arrowStart() const;  ///< how far before the origin the forward arrow begins

  std::shared_ptr<const BenchScene> scene_;
  std::unique_ptr<render::Renderer> renderer_;
  std::unique_ptr<Uploaded> uploaded_, peek_uploaded_;
  bool stale_ = true, peek_stale_ = true;
  std::shared_ptr<const BenchScene> peek_;
  std::optional<render::Camera> kept_camera_;  ///< from before the peek, where that is of another size
  QString peek_says_;
  std::optional<geometry::Bounds> waiting_m_;
  QString waiting_says_;
  std::map<std::string, BenchViews> views_;  ///< by model
  std::vector<render::Presence> presence_;   ///< of the scene's parts, as its views say
  std::string pointed_;
  std::shared_ptr<const PosedScene> posed_;  ///< of the present pose and scene, or null
  QTimer pose_rest_;
  std::optional<QPointF> crosshair_;
  QPointF key_pressed_;
  bool key_drags_ = false, key_moved_ = false;
  render::Camera camera_;
  bool fitted_ = false;
  Look look_ = Look::drawing;
  /// What the card holds: shared by all that is uploaded, and kept over scenes.
  std::map<BenchPicture, std::weak_ptr<render::GpuPicture>> gpu_pictures_;
  std::map<std::string, glm::vec3> tones_;  ///< by role
  std::set<std::string> switches_;          ///< those that are on
  bool night_ = false, ghost_ = true;
  render::DrawingStyle::Ghost ghost_style_ = render::DrawingStyle::Ghost::hatch;
  Tool tool_ = Tool::look_round;
  std::unique_ptr<BenchTool> at_work_;
  /// Tools that are done while a call to them may still run; they go with the next event.
  std::vector<std::unique_ptr<BenchTool>> done_;
  bool tool_drags_ = false;
  std::vector<std::string> selected_;
  std::string chosen_bone_, weights_of_;
  std::shared_ptr<const BenchPose> pose_;
  std::optional<std::pair<QPointF, float>> hovered_weight_;
  std::vector<glm::vec3> picked_;
  std::optional<PickedHandle> handle_;
  std::map<std::string, QColor> washes_;
  std::vector<Line> lines_;
  std::vector<std::pair<glm::vec3, QString>> names_;
  bool pieces_shown_ = false;
  std::string chosen_piece_;
  bool clicks_place_ = false;
  std::map<std::string, glm::mat4> piece_places_, point_places_;
  std::string chosen_point_;
  std::optional<glm::mat4> fall_;
  std::string moved_piece_;
  float moved_rad_ = 0;
  bool seen_box_ = false;
  std::vector<Note> notes_;
  bool bones_ = false;
  std::vector<glm::vec3> marks_;
  std::optional<size_t> chosen_mark_;
  QString message_, graphics_;
  QPointF pressed_, last_;
  bool moved_ = false;
  QTimer rest_;
  render::Detail detail_;
  std::vector<QRectF> labels_;  ///< of the picture that is being painted
  Background background_;       ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
