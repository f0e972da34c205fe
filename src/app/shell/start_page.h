// What is seen before a mod is open: mods worked on lately, ways to begin, and the first mod with a guide.
#pragma once

#include <QWidget>

class QVBoxLayout;

namespace rakugo::app {

class StartPage : public QWidget {
  Q_OBJECT
 public:
  explicit StartPage(QWidget* parent = nullptr);
  /// Reads the list of recent mods anew.
  void refresh();

 Q_SIGNALS:
  void openAsked();
  void newAsked();
  void firstModAsked();
  void modChosen(const QString& folder);
  /// A sample of a rulebook: its folder, and what it is called.
  void sampleChosen(const QString& folder, const QString& title);
  /// An example is to be copied and opened: its folder, and what the copy is to be called.
  void exampleChosen(const QString& folder, const QString& title);

 private:
  void addSamples();
  void addExamples();
  QVBoxLayout* recent_;
};

}  // namespace rakugo::app
