// The parts of the chosen model, in the Shape station: the tree as a list, how they are seen, their pivots.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class PartPictures;
class RowList;

class PartsPanel : public QWidget {
  Q_OBJECT
 public:
  PartsPanel(Session& session, Bench& bench, QWidget* parent);
  void refresh();
  void choose(const std::string& part);
  /// The key of the part that is chosen; empty: none.
  [[nodiscard]] const std::string& chosen() const { return chosen_; }
  void putPivot(const base::Json& values);
  /// The axes of the part that is chosen, a fifth of its size: where they cross is its pivot.
  [[nodiscard]] std::vector<Bench::Line> pivotLines() const;

 Q_SIGNALS:
  void chosenChanged();

 private:
  QWidget* makeViews();
  QWidget* makePivot();
  void listParts(const check::ModelState& state);
  void listSame(const check::ModelState& state);
  void sayViews();
  void signAsked(const std::string& part, const QString& sign);
  /// The part and all that lies under it.
  [[nodiscard]] std::vector<std::string> withAllUnder(const std::string& part) const;
  [[nodiscard]] QImage pictureOf(const QString& row) const;

  Session& session_;
  Bench& bench_;
  PartPictures* pictures_;
  RowList* list_;
  QLabel* views_said_;
  QPushButton *alone_, *all_;
  QWidget *views_, *pivot_;
  QVBoxLayout* same_;
  std::string chosen_;
};

}  // namespace rakugo::app
