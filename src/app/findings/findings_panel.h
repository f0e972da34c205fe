// The findings: each with what it does in the game, why, where, and its cure.
#pragma once

#include <QWidget>
#include <array>

#include "app/findings/findings_rows.h"
#include "app/shell/session.h"

class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class ChapterHead;
class FindingsView;

/// Sorted by what happens in the game, or grouped by thing; narrowed by severity and by words.
class FindingsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPanel(Session& session, QWidget* parent = nullptr);
  void refresh();
  /// Findings that are mended at that station, of what is chosen, come first.
  void setStation(check::Station station);
  /// The check of the finding that the keyboard is at, or empty.
  [[nodiscard]] std::string present() const;
  /// To its line, which says how many there are of each severity; and back.
  void setFolded(bool folded);
  [[nodiscard]] bool folded() const { return folded_; }

  /// Does the mends with no choice in them of the findings for which `only` holds; all when it is empty.
  void mendSureOf(const std::function<bool(const check::Finding&)>& only);

 Q_SIGNALS:
  void foldAsked(bool folded);
  void showAsked(const rakugo::check::Finding& finding);
  /// The page of the help about findings of a check is asked for.
  void whyAsked(const QString& check);
  void helpAsked(const QString& page);
  /// Several were mended in one edit; what each mend did. Empty: nothing came of it.
  void mended(const QStringList& done);

 private:
  void makeHead(QVBoxLayout* layout);
  void sayHead(const std::array<int, 4>& counts, bool any);
  void refreshHead(const std::vector<check::Finding>& findings);
  void sayWhenEmpty();
  void mend(const check::Mend& mend);
  void mendAll(const check::Finding& like);
  /// Does all mends with no choice in them.
  void mendSure();
  void askAside(const check::Finding& finding, QWidget* at);
  Session& session_;
  ChapterHead* head_;
  QWidget* tools_;
  bool folded_ = false;
  check::Station station_ = check::Station::shape;
  FindingsRows* rows_;
  bool leading_ = false;  ///< a finding is being shown, at whatever station that is
  FindingsView* view_;
  QLabel* empty_;
  std::array<QPushButton*, 4> narrow_{};  ///< stops, shows, tidy, set aside
  QPushButton *by_thing_, *sure_;
  QLineEdit* words_;
};

}  // namespace rakugo::app
