// The findings: each with what it does in the game, why, where, and its cure.
#pragma once

#include <QWidget>
#include <array>
#include <set>
#include <string>

#include "app/shell/session.h"

class QCheckBox;
class QHBoxLayout;
class QLineEdit;
class QPushButton;
class QScrollArea;
class QVBoxLayout;
class QLabel;

namespace rakugo::app {

/// Sorted by what happens in the game, or grouped by thing; narrowed by severity and by words.
class FindingsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPanel(Session& session, QWidget* parent = nullptr);
  void refresh();

 Q_SIGNALS:
  void showAsked(const rakugo::check::Finding& finding);

 private:
  void makeHead(QVBoxLayout* layout);
  void refreshHead(const std::vector<check::Finding>& findings);
  void addRow(const check::Finding& finding, bool line_above);
  /// What goes with a finding: a button that unfolds it.
  void addEffects(const check::Finding& cause, QWidget* row, QVBoxLayout* column);
  void addButtons(const check::Finding& finding, QWidget* row, QVBoxLayout* column);
  void addMore(const check::Finding& finding, QWidget* row, QHBoxLayout* buttons);
  [[nodiscard]] bool wanted(const check::Finding& finding) const;
  void mend(const check::Mend& mend);
  void mendAll(const std::string& check);
  void askAside(const check::Finding& finding, QWidget* at);
  Session& session_;
  QVBoxLayout* column_;
  QLabel* title_;
  QScrollArea* area_;
  std::array<QPushButton*, 4> narrow_{};  ///< stops, shows, tidy, set aside
  QPushButton* by_thing_;
  QLineEdit* words_;
  std::set<std::string> unfolded_;  ///< keys of findings whose effects are shown
};

}  // namespace rakugo::app
