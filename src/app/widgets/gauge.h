// A gauge: a value on a ruled line, with the band the game allows, the ghost's value and a person beside it.
#pragma once

#include <QWidget>
#include <functional>
#include <optional>

#include "rulebook/rulebook.h"

class QLineEdit;

namespace rakugo::app {

class Gauge : public QWidget {
  Q_OBJECT
 public:
  /// `text` says a value; a gauge without one shows lengths, and lets a person type them.
  explicit Gauge(const QString& name, QWidget* parent = nullptr,
                 std::function<QString(double)> text = nullptr);
  void setValue(double value, std::optional<rulebook::Band> band, std::optional<double> ghost);
  [[nodiscard]] QSize sizeHint() const override { return {260, 78}; }

 Q_SIGNALS:
  /// A person typed a length; metres.
  void typed(double value_m);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QString name_;
  std::function<QString(double)> text_;
  double value_ = 0;
  std::optional<rulebook::Band> band_;
  std::optional<double> ghost_;
  QLineEdit* edit_;
};

/// Reads "2.4", "2.4 m", "240 cm", "38mm" as metres; nothing when it is no positive length.
std::optional<double> typedLength(const QString& text);

}  // namespace rakugo::app
