// The line above the bench: how the model is drawn, what stands behind it, from where one looks.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"

class QComboBox;
class QLabel;
class QPushButton;
class QSlider;

namespace rakugo::app {

class BenchBar : public QWidget {
  Q_OBJECT
 public:
  BenchBar(Session& session, Bench& bench, QWidget* parent);
  /// Without the sides to look from: where there is no room for them they are in the menu alone.
  [[nodiscard]] QSize minimumSizeHint() const override;

 Q_SIGNALS:
  void tell(const QString& text, bool good);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void look(bool in_game);
  void showLook();
  QWidget* makeCut();
  /// Cuts as the second line says.
  void cut();
  /// Brings that line to the cut of the model that is shown.
  void showCut();
  /// A menu of whose silhouette stands behind the model, and how it is drawn.
  void offerGhosts();
  void choose(GhostChoice choice);

  Session& session_;
  Bench& bench_;
  QPushButton *drawing_, *game_, *night_, *ghost_, *whose_, *cut_;
  std::vector<QPushButton*> views_;
  QWidget* cut_line_;
  QComboBox* across_;
  QSlider* where_;
  QLabel* cut_said_;
  QPushButton* far_;
};

}  // namespace rakugo::app
