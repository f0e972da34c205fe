// The help beside the work: a page, the way back, and a search over all pages.
#pragma once

#include <QPointer>
#include <QStringList>
#include <QWidget>

#include "app/help/help_pages.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTextBrowser;

namespace rakugo::app {

/// Hidden until a page is asked for. Esc closes it, and gives the keyboard back to where it was.
class HelpPanel : public QWidget {
  Q_OBJECT
 public:
  HelpPanel(HelpPages pages, QWidget* parent);
  [[nodiscard]] HelpPages& pages() { return pages_; }
  /// Shows a page, or the list of all when there is none of that id, and takes the keyboard.
  void open(const QString& id);
  /// The id of the page that is shown; empty: the list of all, or what was found.
  [[nodiscard]] const QString& page() const { return page_; }
  /// Draws the page anew: in other colours, or by another rulebook.
  void renew();

 Q_SIGNALS:
  void shown(bool shown);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void show(const QString& id);
  void back();
  void leave();
  void search(const QString& words);
  void setText(const QString& title, const QString& markdown);
  [[nodiscard]] QString allPages() const;
  HelpPages pages_;
  QLineEdit* words_;
  QPushButton *back_, *all_;
  QLabel* title_;
  QTextBrowser* text_;
  QString page_;
  QStringList before_;           ///< pages that lead here, the last one at the end
  QPointer<QWidget> came_from_;  ///< what had the keyboard
};

}  // namespace rakugo::app
