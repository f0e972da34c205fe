// Small things the panels share: headings, quiet text, sign buttons, rows that can be chosen.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <filesystem>

#include "app/widgets/theme.h"

class QLineEdit;

namespace rakugo::app {

/// A heading in small bold ink.
QLabel* heading(const QString& text, QWidget* parent = nullptr);
/// Wrapped text in quiet ink.
QLabel* quietText(const QString& text, QWidget* parent = nullptr);
/// Wrapped text in ink.
QLabel* plainText(const QString& text, QWidget* parent = nullptr);
/// The column of a dialog, which it is given, with the window's title as its head.
QVBoxLayout* dialogColumn(QWidget* dialog, int spacing);
/// A hairline.
QFrame* hairline(QWidget* parent = nullptr);
/// A button with the name of a thing in it: as wide as its text, up to `most_px`; a longer one, or one that
/// finds less room, is cut with dots and said whole by its tip.
class NameButton : public QPushButton {
  Q_OBJECT
 public:
  explicit NameButton(const QString& name, QWidget* parent = nullptr, int most_px = 200);
  [[nodiscard]] QSize sizeHint() const override;
  [[nodiscard]] QSize minimumSizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  int most_px_;
};
/// Removes and deletes everything in a layout.
void clearLayout(QLayout* layout);
/// A path for people: the home folder is "~".
QString shownPath(const std::filesystem::path& path);
/// Escapes text for rich labels; long words may be broken.
QString escaped(const std::string& text);

/// Signs on small buttons, drawn by us.
enum class Sign : unsigned char {
  earlier,
  later,
  off,
  remove,
  before,
  part_shown,
  part_through,
  part_hidden,
  chosen,
  unchosen
};
/// Its icon in the colours of the theme; made once for each theme.
const QIcon& signIcon(Sign sign);
/// The mark of a severity for a button, in the colours of the theme.
QIcon severityIcon(check::Severity severity);
QPushButton* signButton(Sign sign, const QString& name, QWidget* parent = nullptr);

/// A scroll area with a vertical column inside, no frame; `column` receives the layout.
QScrollArea* scrollColumn(QVBoxLayout*& column, QWidget* parent = nullptr);

/// Scrolls the area that a widget lies in, if any, until it is seen: once what was put there has its place.
void reveal(QWidget* widget);
/// The same at once, for a place of a widget that is unfolded, in its own pixels.
void revealPlace(QWidget* widget, const QRect& place);

/// A popup with one line to type a value; Enter takes it, Esc leaves it.
class ValuePopup : public QFrame {
  Q_OBJECT
 public:
  ValuePopup(const QString& text, const QString& hint, QWidget* parent);
  void openAt(QPoint global);
 Q_SIGNALS:
  void accepted(const QString& text);

 private:
  QLineEdit* line_;
};

}  // namespace rakugo::app
