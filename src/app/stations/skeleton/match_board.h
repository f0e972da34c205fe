// The match board: the game's body figure against the model's bones, with a line from each slot to its bone.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

namespace rakugo::app {

class MatchBoard : public QWidget {
  Q_OBJECT
 public:
  enum class State : unsigned char { sure, unsure, empty, not_needed };
  /// A bone that the game looks for. `at`: to its left and up, as shares of a person's height.
  struct Slot {
    QString id, title;
    QPointF at;
    int parent = -1, bone = -1;
    State state = State::empty;
  };
  /// A bone of the model.
  struct Bone {
    QString key, name;
    QPointF at;
    int parent = -1;
    bool surplus = false;  ///< no slot has taken it
  };

  explicit MatchBoard(QWidget* parent = nullptr);
  void setMatch(std::vector<Slot> slots, std::vector<Bone> bones);
  /// The slot that is chosen; empty: none.
  void choose(const QString& slot);
  [[nodiscard]] QString chosen() const;
  [[nodiscard]] const std::vector<Slot>& places() const { return slots_; }
  [[nodiscard]] const std::vector<Bone>& bones() const { return bones_; }
  /// Where a slot and a bone are drawn, in the widget.
  [[nodiscard]] QPointF slotPoint(size_t slot) const;
  [[nodiscard]] QPointF bonePoint(size_t bone) const;
  [[nodiscard]] QSize sizeHint() const override { return {258, 262}; }

 Q_SIGNALS:
  void chosenChanged(const QString& slot);
  /// The pointer is over a bone, or a slot that has one; empty: over none.
  void pointedAt(const QString& bone_key);
  /// A slot was dragged onto a bone, or chosen and the bone then clicked.
  void given(const QString& slot, const QString& bone_key);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void paintGround(QPainter& painter) const;
  void paintLinks(QPainter& painter) const;
  void paintBones(QPainter& painter) const;
  void paintSlot(QPainter& painter, size_t slot) const;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  bool event(QEvent* event) override;

 private:
  [[nodiscard]] int slotUnder(QPointF at) const;
  [[nodiscard]] int boneUnder(QPointF at) const;
  [[nodiscard]] QPointF placed(QPointF at, double left, double right) const;

  std::vector<Slot> slots_;
  std::vector<Bone> bones_;
  int chosen_ = -1, over_slot_ = -1, over_bone_ = -1, dragged_ = -1;
  QPointF pointer_;
};

}  // namespace rakugo::app
