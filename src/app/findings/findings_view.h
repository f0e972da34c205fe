// The list of findings: a line or two for each, and the one that the keyboard is at in full.
#pragma once

#include <QListView>
#include <set>

#include "app/findings/findings_rows.h"

namespace rakugo::app {

class FindingCard;

/// Rows are painted; the present one has a card in its place. Up and down go through the rows, Enter shows
/// the place, Tab goes to the card's buttons, from which up and down lead back. A click on a row's "Mend"
/// mends.
class FindingsView : public QListView {
  Q_OBJECT
 public:
  FindingsView(FindingsRows& rows, QWidget* parent);
  ~FindingsView() override;
  /// The rows are about to be brought to another state; renew() follows.
  void rowsWillChange() { rows_change_ = true; }
  /// After the rows were brought to another state: the present row stays, or the one that took its place, and
  /// the keyboard where it was.
  void renew();
  /// Something else is looked at: nothing is chosen by hand, and the first finding is the present one.
  void beginAnew() { by_hand_ = false; }
  /// The card of the present row; null where there is none.
  [[nodiscard]] FindingCard* card() const { return card_; }
  [[nodiscard]] int cardHeight() const;
  [[nodiscard]] const FindingsRows& rows() const { return rows_; }

 Q_SIGNALS:
  void showAsked(const rakugo::check::Finding& finding);
  void mendAsked(const rakugo::check::Mend& mend);
  void mendAllAsked(const rakugo::check::Finding& finding);
  void asideAsked(const rakugo::check::Finding& finding, QWidget* at);
  void whyAsked(const QString& check);

 protected:
  void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void makeCard();
  void dropCard();
  [[nodiscard]] QModelIndex firstFinding(int from, int by) const;
  FindingsRows& rows_;
  bool rows_change_ = false;  ///< between rowsWillChange() and renew()
  bool by_hand_ = false;      ///< the present row was chosen by mouse or keys
  FindingCard* card_ = nullptr;
  QPersistentModelIndex card_at_;
  QPersistentModelIndex pressed_;   ///< whose "Mend" the pointer went down on
  std::set<std::string> unfolded_;  ///< keys of findings whose effects are shown
};

/// Where the word "Mend" stands in a row, in its viewport; empty where it has no mend.
QRect mendRect(const QModelIndex& index, const QRect& row);

}  // namespace rakugo::app
