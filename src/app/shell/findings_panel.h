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

namespace rakugo::app {

class ChapterHead;

/// Sorted by what happens in the game, or grouped by thing; narrowed by severity and by words.
class FindingsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPanel(Session& session, QWidget* parent = nullptr);
  void refresh();
  /// Findings that are mended at that station, of what is chosen, come first.
  void setStation(check::Station station);
  /// To its line, which says how many there are of each severity; and back.
  void setFolded(bool folded);
  [[nodiscard]] bool folded() const { return folded_; }

 Q_SIGNALS:
  void foldAsked(bool folded);
  void showAsked(const rakugo::check::Finding& finding);

 private:
  void makeHead(QVBoxLayout* layout);
  void sayHead(const std::array<int, 4>& counts, bool any);
  void refreshHead(const std::vector<check::Finding>& findings);
  [[nodiscard]] bool isHere(const check::Finding& finding) const;
  void addSome();
  /// Makes rows of the first so many.
  void addRows(size_t most);
  void addHeading(const QString& name, const QString& text);
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
  ChapterHead* head_;
  QWidget* tools_;
  bool folded_ = false;
  QScrollArea* area_;
  static constexpr size_t kAtOnce = 30;  // rows
  check::Station station_ = check::Station::shape;
  size_t most_ = kAtOnce;
  std::shared_ptr<const check::Examination> examination_;  ///< whose findings are shown
  std::vector<const check::Finding*> shown_;               ///< in their order, made rows or not
  std::vector<QWidget*> rows_;                             ///< of the first of those
  QPushButton* more_rows_ = nullptr;
  std::array<QPushButton*, 4> narrow_{};  ///< stops, shows, tidy, set aside
  QPushButton* by_thing_;
  QLineEdit* words_;
  std::set<std::string> unfolded_;  ///< keys of findings whose effects are shown
};

}  // namespace rakugo::app
