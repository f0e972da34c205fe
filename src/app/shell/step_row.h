// One step of a preparation as a row: its number to drag it by, its sentence, and what can be done with it.
#pragma once

#include <QWidget>

#include "app/widgets/panels.h"

class QHBoxLayout;

namespace rakugo::app {

/// Has the keyboard as a whole: up and down go on, with the Alt key they move the step, Delete removes it.
/// Its number is what it is dragged by.
class StepRow : public QWidget {
  Q_OBJECT
 public:
  StepRow(const std::string& id, size_t number, bool marked, QWidget* parent);
  [[nodiscard]] const std::string& id() const { return id_; }
  [[nodiscard]] QHBoxLayout& row() { return *layout_; }

 Q_SIGNALS:
  void moveAsked(int by);
  void stepFocusAsked(int by);
  void removeAsked();
  void menuAsked(QPoint global);
  /// It is dragged to there, and let go there; or the drag was broken off.
  void dragged(QPoint global);
  void dropped(QPoint global);
  void dragLeft();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  std::string id_;
  bool marked_, dragging_ = false;
  QLabel* number_;
  QHBoxLayout* layout_;
  QPoint pressed_;
};

}  // namespace rakugo::app
