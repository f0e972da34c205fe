// A chapter of an instrument: a title, one line that says how things stand, and what it holds, folded or
// open.
#pragma once

#include <QAbstractButton>
#include <QWidget>
#include <optional>

#include "check/finding.h"

class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// The line of a chapter that is seen when it is folded. A click, Enter or the space bar folds and unfolds
/// it; left folds and right unfolds; up, down, Home and End go to the other chapters beside it.
class ChapterHead : public QAbstractButton {
  Q_OBJECT
 public:
  ChapterHead(const QString& title, QWidget* parent);
  void say(const QString& state, std::optional<check::Severity> attention, bool good);
  /// A "Why?" beside its title leads to that page of the help; so does F1.
  void offerHelp(const QString& page);
  [[nodiscard]] const QString& helpPage() const { return help_page_; }
  [[nodiscard]] const QString& state() const { return state_; }
  [[nodiscard]] std::optional<check::Severity> attention() const { return attention_; }
  [[nodiscard]] QSize sizeHint() const override { return {240, 34}; }
  [[nodiscard]] QSize minimumSizeHint() const override { return {120, 34}; }

 Q_SIGNALS:
  /// Another chapter is asked for: so many on, or the first or the last.
  void stepAsked(int by);
  void foldAsked(bool open);
  void helpAsked(const QString& page);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void placeWhy();
  QString state_, help_page_;
  QPushButton* why_ = nullptr;
  std::optional<check::Severity> attention_;
  bool good_ = false;
};

/// What was folded or unfolded by hand is kept in the settings, by `id`. What was not is folded, but for what
/// needs attention, or is to be seen, when something else is shown.
class Chapter : public QWidget {
  Q_OBJECT
 public:
  /// `id`: "shape/size"; its head is then called "chapter-size".
  Chapter(const QString& id, const QString& title, QWidget* parent);
  /// Where its content goes.
  [[nodiscard]] QVBoxLayout* body() const { return column_; }
  [[nodiscard]] ChapterHead* head() const { return head_; }
  [[nodiscard]] bool isOpen() const { return open_; }
  /// One line of how things stand, without a full stop; `attention`: the gravest finding that it is about;
  /// `good`: what it is about was held against the game's rules and is right.
  void say(const QString& state, std::optional<check::Severity> attention = {}, bool good = false);
  /// Folds or unfolds it for now.
  void setOpen(bool open);
  /// It is open wherever nobody has folded it by hand.
  void setUsuallyOpen();
  /// Something else is shown: it is open where the person wants it so, or where they have not said so and it
  /// needs attention or `wanted`.
  void beginAnew(bool wanted);
  /// Whether it was folded or unfolded by hand, and how.
  [[nodiscard]] std::optional<bool> kept() const;

  /// Folds or unfolds all chapters of a window, and those that are still to come.
  static void keepAll(QWidget& root, bool open);

 private:
  void keep(bool open);
  QString id_;
  ChapterHead* head_;
  QWidget* content_;
  QVBoxLayout* column_;
  bool open_ = true, usually_open_ = false;
};

/// Unfolds every chapter that a widget lies in, so that it can be seen.
void unfoldTo(QWidget* widget);

}  // namespace rakugo::app
