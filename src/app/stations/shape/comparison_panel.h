// The model beside the one whose silhouette stands behind it: what differs, the ones that matter most first.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/shell/session.h"
#include "scene/comparison.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// Part of the Shape station. Compares, beside the other work, with whatever ghost the bench shows.
class ComparisonPanel : public QWidget {
  Q_OBJECT
 public:
  ComparisonPanel(Session& session, QWidget* parent);
  void refresh();
  /// What differs, shortly; empty where nothing is compared.
  [[nodiscard]] QString summary() const;

 Q_SIGNALS:
  void compared();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void compare(std::shared_ptr<const BenchScene> scene);
  void offerHeight();
  void offerPoints();
  void list();

  Session& session_;
  QLabel* title_;
  QVBoxLayout* rows_;
  QPushButton* more_;
  bool all_ = false;
  std::shared_ptr<const scene::ModelComparison> found_;
  /// What was compared, or is.
  std::shared_ptr<const scene::Model> of_, beside_;
  std::vector<scene::NamedPlace> points_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
