// Colours, type and spacing, made once. Everything that is drawn by hand takes its colours from here.
#pragma once

#include <QColor>
#include <QFont>
#include <QPainter>
#include <QString>

#include "check/finding.h"

class QApplication;

namespace rakugo::app {

/// A palette of named colours; all text colours have at least 4.5:1 on paper and sheet.
struct Theme {
  QColor paper{0xF7, 0xF2, 0xE8}, sheet{0xFF, 0xFF, 0xFF}, ink{0x22, 0x26, 0x2F}, quiet{0x5F, 0x64, 0x70};
  QColor stops{0xB8, 0x3A, 0x22}, shows{0x8A, 0x5A, 0x00}, tidy{0x52, 0x60, 0x6E}, good{0x47, 0x66, 0x3A},
      click{0x2B, 0x4C, 0x8C};
  QColor hair{0xD9, 0xD2, 0xC3};  ///< hairlines between areas; never text
  QColor wash{0xEF, 0xE8, 0xDA};  ///< under the pointer, selected rows
  QColor axes[3] = {
      {0xB2, 0x34, 0x2E}, {0x40, 0x7A, 0x3A}, {0x30, 0x54, 0xA8}};  ///< x, y, z, as the trade has them
};
/// The colours in use: those of paper, or those of the night.
const Theme& theme();
/// The night's colours: light ink on a dark ground, the same four accents lightened.
const Theme& nightTheme();
const Theme& paperTheme();

/// Sets font, palette and style sheet of the whole program, and the colours that `theme` gives from now on.
void applyTheme(QApplication& app, bool night = false);
[[nodiscard]] bool isNight();
/// Marks a label as ink, quiet, stops, ... ; its colour then follows the theme.
void setTone(QWidget* widget, const char* tone);
/// The type family; px is the size in pixels.
QFont typeface(int px, bool strong = false);

/// One of many tints that are told apart, for areas that ink is drawn on; the same number has the same one.
QColor tint(size_t number);
QColor severityColor(check::Severity severity);
/// Each severity has a shape too: a filled diamond stops, a half-filled disc shows, a ring is to tidy.
void drawSeverity(QPainter& painter, QPointF center, qreal size, check::Severity severity);
/// A tick in the colour of good.
void drawGood(QPainter& painter, QPointF center, qreal size);

/// UTF-8 both ways.
inline QString q(const std::string& text) { return QString::fromStdString(text); }
inline std::string s(const QString& text) { return text.toStdString(); }

}  // namespace rakugo::app
