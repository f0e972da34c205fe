// The help beside the work: where it stands, and which page is about what one is at.
#include <QApplication>
#include <QSplitter>
#include <QStackedWidget>

#include "app/help/help_panel.h"
#include "app/shell/language.h"
#include "app/shell/main_window.h"
#include "app/widgets/chapter.h"

namespace rakugo::app {

void MainWindow::makeHelp(QSplitter* beside) {
  const auto chapter_of = [this](const std::string& check) {
    const Chapter* chapter = panels_[static_cast<size_t>(stationOf(check))]->chapterOf(check);
    return chapter == nullptr ? std::string() : s(chapter->head()->helpPage());
  };
  help_ = new HelpPanel(HelpPages(chapter_of, helpFolder()), beside);
  beside->insertWidget(0, help_);
  beside->setStretchFactor(1, 1);
  beside->setCollapsible(0, false);
  beside->setCollapsible(1, false);
  beside->setSizes({300, 980});
  connect(help_, &HelpPanel::shown, this, &MainWindow::showContents);
  for (StationPanel* panel : panels_) connect(panel, &StationPanel::helpAsked, this, &MainWindow::help);
  connect(preparation_, &Preparation::helpAsked, this, &MainWindow::help);
  connect(findings_, &FindingsPanel::helpAsked, this, &MainWindow::help);
  connect(findings_, &FindingsPanel::whyAsked, this,
          [this](const QString& check) { help(QStringLiteral("check/") + check); });
  connect(&session_, &Session::opened, this, [this] {
    help_->pages().follow(&session_.book());
    help_->renew();
  });
}

// In a narrow window the help takes the place of the contents.
void MainWindow::showContents() {
  constexpr int kRoomForBoth = 1500;  // pixels
  contents_->setVisible(!alone_->isChecked() && (help_->isHidden() || width() >= kRoomForBoth));
}

void MainWindow::help(const QString& page) {
  alone_->setChecked(false);
  help_->open(page);
}

void MainWindow::helpHere() {
  const QWidget* at = QApplication::focusWidget();
  const auto within = [&](const QWidget* area) { return at == area || area->isAncestorOf(at); };
  if (at == nullptr || !session_.isOpen()) return help({});
  if (within(help_)) return help({});
  if (within(findings_)) {
    const std::string check = findings_->present();
    return help(check.empty() ? QStringLiteral("start/findings") : QStringLiteral("check/") + q(check));
  }
  if (within(preparation_)) return help(QStringLiteral("start/preparation"));
  if (within(contents_)) return help(QStringLiteral("start/contents"));
  if (within(bench_)) return help(QStringLiteral("start/bench"));
  for (const StationPanel* panel : panels_)
    for (const Chapter* chapter : panel->chapters())
      if (within(chapter)) return help(chapter->head()->helpPage());
  help(QStringLiteral("start/road"));
}

}  // namespace rakugo::app
