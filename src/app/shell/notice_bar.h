// A line above the bench for something that needs a decision and can wait for it.
#pragma once

#include <QFrame>

class QHBoxLayout;
class QLabel;

namespace rakugo::app {

class NoticeBar : public QFrame {
  Q_OBJECT
 public:
  explicit NoticeBar(QWidget* parent = nullptr);
  /// Shows a text, with what it is about as its tip, and buttons; each hides the bar and then acts.
  struct Choice {
    const char* name;  ///< of the button, for tests and scripts
    QString text;
    std::function<void()> act;
  };
  void say(const QString& text, const QString& details, const std::vector<Choice>& choices);

 private:
  QHBoxLayout* row_;
  QLabel* text_;
  std::vector<QWidget*> buttons_;
};

}  // namespace rakugo::app
