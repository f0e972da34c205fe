// A finding in full: its sentence, why it matters, its cure, and buttons for all that can be done about it.
#pragma once

#include <QWidget>

#include "check/examiner.h"

class QHBoxLayout;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// What is shown of the finding that the keyboard is at, in place of its row. `examination` must have the
/// finding, and is held.
class FindingCard : public QWidget {
  Q_OBJECT
 public:
  /// `unfolded`: what goes with it is listed below it.
  FindingCard(std::shared_ptr<const check::Examination> examination, const check::Finding& finding,
              bool unfolded, QWidget* parent);
  [[nodiscard]] const check::Finding& finding() const { return finding_; }
  /// The buttons, in the order in which the keyboard goes through them.
  [[nodiscard]] const std::vector<QPushButton*>& buttons() const { return buttons_; }

 Q_SIGNALS:
  void showAsked();
  void effectAsked(const rakugo::check::Finding& effect);  ///< one of those that go with it is to be shown
  void mendAsked(size_t mend);                             ///< its number among the finding's
  void takeUpAsked();
  void mendAllAsked();  ///< all of the same check
  void asideAsked(QWidget* at);
  void foldAsked();
  void whyAsked();  ///< the page of the help about such findings

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QPushButton* addButton(QPushButton* button, const char* name);
  void addEffects(bool unfolded, QVBoxLayout* column);
  void addButtons(QVBoxLayout* column);
  void addMore(QHBoxLayout* row);
  std::shared_ptr<const check::Examination> examination_;
  const check::Finding& finding_;
  std::vector<QPushButton*> buttons_;
};

}  // namespace rakugo::app
