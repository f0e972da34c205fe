#include "app/widgets/theme.h"

#include <QApplication>
#include <QPainterPath>
#include <QPalette>
#include <QStyle>
#include <QStyleFactory>
#include <QWidget>
#include <cmath>

// Q_INIT_RESOURCE must stand outside of every namespace.
static void initIcons() { Q_INIT_RESOURCE(icons); }

namespace rakugo::app {

namespace {
bool night_shown = false;
}

const Theme& paperTheme() {
  static const Theme kTheme;
  return kTheme;
}

const Theme& nightTheme() {
  static const Theme kTheme = [] {
    Theme t;
    t.paper = QColor(0x1B, 0x1E, 0x24);
    t.sheet = QColor(0x25, 0x29, 0x31);
    t.ink = QColor(0xEC, 0xE6, 0xDA);
    t.quiet = QColor(0xA4, 0xA8, 0xB2);
    t.stops = QColor(0xF0, 0x8A, 0x70);
    t.shows = QColor(0xE2, 0xB4, 0x58);
    t.tidy = QColor(0xA9, 0xB8, 0xC8);
    t.good = QColor(0x9C, 0xC4, 0x8A);
    t.click = QColor(0x93, 0xB4, 0xF0);
    t.hair = QColor(0x3B, 0x40, 0x4A);
    t.axes[0] = QColor(0xE8, 0x7C, 0x72);
    t.axes[1] = QColor(0x8C, 0xC8, 0x84);
    t.axes[2] = QColor(0x8A, 0xAE, 0xF2);
    t.wash = QColor(0x2C, 0x31, 0x3A);
    return t;
  }();
  return kTheme;
}

const Theme& theme() { return night_shown ? nightTheme() : paperTheme(); }
bool isNight() { return night_shown; }

void setTone(QWidget* widget, const char* tone) {
  if (widget->property("tone").toByteArray() == tone) return;
  widget->setProperty("tone", QByteArray(tone));
  widget->style()->unpolish(widget);
  widget->style()->polish(widget);
}

QColor tint(size_t number) {
  // Steps of the golden angle never come near each other again; light enough for ink to be read on them.
  const double hue = std::fmod(0.09 + static_cast<double>(number) * 0.381966, 1.0);
  return QColor::fromHslF(static_cast<float>(hue), 0.42F, isNight() ? 0.42F : 0.68F);
}

QFont typeface(int px, bool strong) {
  QFont font(QStringLiteral("Lato"));
  font.setPixelSize(px);
  font.setWeight(strong ? QFont::Bold : QFont::Normal);
  return font;
}

void applyTheme(QApplication& app, bool night) {
  initIcons();
  night_shown = night;
  const Theme& t = theme();
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  QApplication::setFont(typeface(13));
  QPalette p;
  p.setColor(QPalette::Window, t.paper);
  p.setColor(QPalette::Base, t.sheet);
  p.setColor(QPalette::AlternateBase, t.paper);
  p.setColor(QPalette::Text, t.ink);
  p.setColor(QPalette::WindowText, t.ink);
  p.setColor(QPalette::ButtonText, t.ink);
  p.setColor(QPalette::Button, t.paper);
  p.setColor(QPalette::Highlight, t.click);
  p.setColor(QPalette::HighlightedText, t.sheet);
  p.setColor(QPalette::Link, t.click);
  p.setColor(QPalette::LinkVisited, t.click);
  p.setColor(QPalette::PlaceholderText, t.quiet);
  p.setColor(QPalette::ToolTipBase, t.ink);
  p.setColor(QPalette::ToolTipText, t.paper);
  QApplication::setPalette(p);
  const QString sheet = QStringLiteral(R"(
    QLabel[tone="ink"] { color: %ink; }
    QLabel[tone="quiet"] { color: %quiet; }
    QLabel[tone="stops"] { color: %stops; }
    QLabel[tone="shows"] { color: %shows; }
    QLabel[tone="good"] { color: %good; }
    QFrame[hairline="true"] { background: %hair; border: none; }
    QFrame#value-popup { background: %sheet; border: 1px solid %click; }
    QFrame[card="true"] { background: %sheet; border: 1px solid %hair; border-radius: 4px; }
    QFrame[card="true"]:hover { border-color: %click; }
    QLabel[well="true"] { background: %sheet; border: 1px solid %hair; }
    QStatusBar { background: %paper; border-top: 1px solid %hair; } QStatusBar::item { border: none; }
    QMainWindow, QDialog { background: %paper; }
    QDialog { border: 1px solid %hair; }
    QMenuBar { background: %paper; padding: 2px 8px; }
    QMenuBar::item { padding: 4px 9px; background: transparent; }
    QMenuBar::item:selected { background: %wash; color: %ink; }
    QMenu { background: %sheet; border: 1px solid %hair; padding: 4px 0; }
    QMenu::item { padding: 5px 26px 5px 18px; }
    QMenu::item:selected { background: %wash; color: %ink; }
    QMenu::item:disabled { color: %quiet; }
    QMenu::separator { height: 1px; background: %hair; margin: 4px 12px; }
    QPushButton { background: %sheet; border: 1px solid %hair; border-radius: 3px; padding: 4px 11px; color: %click; min-height: 18px; }
    QPushButton:hover { background: %wash; border-color: %click; }
    QPushButton:pressed { background: %hair; }
    QPushButton:focus { border: 2px solid %click; padding: 3px 10px; }
    QPushButton:disabled { color: %quiet; background: %paper; }
    QPushButton[lead="true"] { background: %click; color: %sheet; border-color: %click; font-weight: bold; }
    QPushButton[lead="true"]:hover { background: %lead; }
    QPushButton[lead="true"]:focus { border: 2px solid %ink; }
    QPushButton[lead="true"]:disabled { background: %hair; color: %quiet; border-color: %hair; }
    QPushButton[quiet="true"] { background: transparent; border-color: transparent; padding: 2px 7px; }
    QPushButton[quiet="true"]:hover { background: %wash; }
    QPushButton[quiet="true"]:focus { border: 2px solid %click; padding: 1px 6px; }
    QPushButton[quiet="true"]:checked { background: %wash; border-color: %hair; font-weight: bold; }
    QPushButton[inline="true"] { background: transparent; border: none; padding: 1px 3px; min-height: 14px; font-size: 12px; }
    QPushButton[inline="true"]:focus { border: 2px solid %click; padding: 0 1px; }
    QTextBrowser { background: transparent; border: none; }
    QPushButton[inline="true"]:hover { text-decoration: underline; background: transparent; }
    QFrame[notice="true"] { background: %wash; border: none; border-bottom: 1px solid %hair; }
    QLineEdit, QSpinBox, QDoubleSpinBox, QComboBox, QPlainTextEdit { background: %sheet; border: 1px solid %hair; border-radius: 3px; padding: 3px 6px; selection-background-color: %click; }
    QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus, QComboBox:focus, QPlainTextEdit:focus { border: 2px solid %click; padding: 2px 5px; }
    QLineEdit:read-only { background: transparent; border-color: transparent; }
    QLineEdit:read-only:focus { border-color: %click; }
    QDoubleSpinBox { padding-right: 20px; }
    QDoubleSpinBox::up-button, QDoubleSpinBox::down-button { border: none; width: 18px; }
    QDoubleSpinBox::up-button:hover, QDoubleSpinBox::down-button:hover { background: %wash; }
    QDoubleSpinBox::up-arrow { image: url(:/icons/chevron-up-%mode.svg); width: 11px; height: 11px; }
    QDoubleSpinBox::down-arrow { image: url(:/icons/chevron-%mode.svg); width: 11px; height: 11px; }
    QComboBox { padding-right: 22px; }
    QComboBox::drop-down { border: none; width: 22px; }
    QComboBox::down-arrow { image: url(:/icons/chevron-%mode.svg); width: 14px; height: 14px; }
    QPushButton::menu-indicator { image: url(:/icons/chevron-%mode.svg); width: 12px; height: 12px; subcontrol-origin: padding; subcontrol-position: right center; right: 5px; }
    QListView::item { padding: 4px 2px; border: none; background: transparent; }
    QListView::indicator { width: 15px; height: 15px; border: 1px solid %quiet; border-radius: 3px; background: %sheet; }
    QListView::indicator:checked { image: url(:/icons/tick-%mode.svg); border-color: %click; }
    QCheckBox::indicator { width: 15px; height: 15px; border: 1px solid %quiet; border-radius: 3px; background: %sheet; }
    QCheckBox::indicator:checked { image: url(:/icons/tick-%mode.svg); border-color: %click; }
    QCheckBox::indicator:focus { border: 2px solid %click; }
    QComboBox QAbstractItemView { background: %sheet; selection-background-color: %wash; selection-color: %ink; border: 1px solid %hair; }
    QTableView { background: %sheet; border: 1px solid %hair; gridline-color: %hair; selection-background-color: %wash; selection-color: %ink; }
    QTableView::item { padding: 2px 8px; }
    QHeaderView { background: %paper; }
    QHeaderView::section { background: %paper; color: %quiet; border: none; border-bottom: 1px solid %hair; padding: 4px 8px; }
    QScrollArea { border: none; background: transparent; }
    QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
    QScrollBar::handle:vertical { background: %hair; border-radius: 3px; min-height: 28px; margin: 1px; }
    QScrollBar::handle:vertical:hover { background: %quiet; }
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; height: 0; width: 0; }
    QScrollBar:horizontal { background: transparent; height: 9px; }
    QScrollBar::handle:horizontal { background: %hair; border-radius: 3px; min-width: 28px; margin: 1px; }
    QListView, QTreeView { background: transparent; border: none; outline: none; }
    QListView::item:selected, QTreeView::item:selected { background: %wash; color: %ink; }
    QSplitter::handle { background: %hair; }
    QToolTip { background: %ink; color: %paper; border: none; padding: 4px 7px; }
    QProgressBar { border: 1px solid %hair; background: %sheet; height: 8px; text-align: center; }
    QProgressBar::chunk { background: %click; }
    QCheckBox { spacing: 7px; }
    QCheckBox:focus { color: %click; }
  )");
  QString text = sheet;
  text.replace(QLatin1String("%mode"), night ? QLatin1String("night") : QLatin1String("paper"));
  const auto put = [&](const char* name, const QColor& color) {
    text.replace(QString::fromLatin1(name), color.name());
  };
  put("%paper", t.paper);
  put("%sheet", t.sheet);
  put("%wash", t.wash);
  put("%hair", t.hair);
  put("%quiet", t.quiet);
  put("%click", t.click);
  put("%ink", t.ink);
  put("%stops", t.stops);
  put("%shows", t.shows);
  put("%good", t.good);
  put("%lead", night ? t.click.lighter(112) : t.click.darker(118));
  app.setStyleSheet(text);
}

QColor severityColor(check::Severity severity) {
  return severity == check::Severity::stops   ? theme().stops
         : severity == check::Severity::shows ? theme().shows
                                              : theme().tidy;
}

void drawSeverity(QPainter& painter, QPointF c, qreal size, check::Severity severity) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  const qreal r = size / 2;
  const QColor color = severityColor(severity);
  painter.setPen(QPen(color, 1.5));
  if (severity == check::Severity::stops) {
    QPainterPath path;
    path.moveTo(c.x(), c.y() - r);
    path.lineTo(c.x() + r, c.y());
    path.lineTo(c.x(), c.y() + r);
    path.lineTo(c.x() - r, c.y());
    path.closeSubpath();
    painter.setBrush(color);
    painter.drawPath(path);
  } else {
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(c, r - 0.75, r - 0.75);
    if (severity == check::Severity::shows) {
      painter.setBrush(color);
      painter.drawChord(QRectF(c.x() - r + 0.75, c.y() - r + 0.75, 2 * r - 1.5, 2 * r - 1.5), 0, -180 * 16);
    }
  }
  painter.restore();
}

void drawGood(QPainter& painter, QPointF c, qreal size) {
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(theme().good, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  const qreal r = size / 2;
  painter.drawPolyline(QPolygonF({{c.x() - r * 0.8, c.y() + r * 0.05},
                                  {c.x() - r * 0.2, c.y() + r * 0.6},
                                  {c.x() + r * 0.85, c.y() - r * 0.6}}));
  painter.restore();
}

}  // namespace rakugo::app
