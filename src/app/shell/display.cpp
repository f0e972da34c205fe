#include "app/shell/display.h"

#include <QApplication>
#include <QFontInfo>
#include <QSettings>
#include <algorithm>
#include <cmath>

namespace rakugo::app {
namespace {

const QString kScaleKey = QStringLiteral("scale"), kMotionKey = QStringLiteral("less-motion");

}  // namespace

double keptScale() {
  const double kept = QSettings().value(kScaleKey, 0.0).toDouble();
  return std::find(std::begin(kScales), std::end(kScales), kept) != std::end(kScales) ? kept : 0;
}

void keepScale(double scale) { QSettings().setValue(kScaleKey, scale); }

double scaleOfLetters(double letters_px) {
  constexpr double kUsual_px = 12;
  if (!(letters_px > 0)) return 1;
  return std::clamp(std::round(letters_px / kUsual_px * 4) / 4, 1.0, 2.0);
}

void applyScale(int argc, char** argv) {
  if (qEnvironmentVariableIsSet("QT_SCALE_FACTOR")) return;
  double scale = keptScale();
  if (scale == 0) {
    // What letters the desktop wants is known to an application only; this one lives no longer.
    const QGuiApplication probe(argc, argv);
    scale = scaleOfLetters(QFontInfo(QGuiApplication::font()).pixelSize());
  }
  if (scale != 1) qputenv("QT_SCALE_FACTOR", QByteArray::number(scale));
}

bool lessMotion() {
  const QVariant kept = QSettings().value(kMotionKey);
  if (kept.isValid()) return kept.toBool();
  // Without a desktop nobody has said anything.
  return qEnvironmentVariableIsSet("XDG_CURRENT_DESKTOP") && !QApplication::isEffectEnabled(Qt::UI_General);
}

void keepLessMotion(bool less) { QSettings().setValue(kMotionKey, less); }

}  // namespace rakugo::app
