#include "app/panels.h"

#include <QGuiApplication>
#include <QIcon>
#include <QLineEdit>
#include <QPainter>
#include <QScreen>

namespace rakugo::app {
namespace {

QLabel* colored(const QString& text, const QColor& color, const QFont& font, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setFont(font);
  label->setWordWrap(true);
  label->setTextFormat(Qt::PlainText);
  QPalette palette = label->palette();
  palette.setColor(QPalette::WindowText, color);
  label->setPalette(palette);
  return label;
}

QIcon signIcon(Sign sign) {
  QIcon icon;
  for (const qreal scale : {1.0, 2.0}) {
    QPixmap pixmap(QSize(16, 16) * scale);
    pixmap.setDevicePixelRatio(scale);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().click, 1.7, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    switch (sign) {
      case Sign::earlier:
        p.drawPolyline(QPolygonF({{4, 10}, {8, 5.5}, {12, 10}}));
        break;
      case Sign::later:
        p.drawPolyline(QPolygonF({{4, 6}, {8, 10.5}, {12, 6}}));
        break;
      case Sign::off:
        p.drawEllipse(QPointF(8, 8), 4.5, 4.5);
        p.drawLine(QPointF(3, 13), QPointF(13, 3));
        break;
      case Sign::remove:
        p.drawLine(QPointF(4.5, 4.5), QPointF(11.5, 11.5));
        p.drawLine(QPointF(11.5, 4.5), QPointF(4.5, 11.5));
        break;
    }
    icon.addPixmap(pixmap);
  }
  return icon;
}

}  // namespace

QLabel* heading(const QString& text, QWidget* parent) {
  return colored(text, theme().ink, typeface(13, true), parent);
}
QLabel* quietText(const QString& text, QWidget* parent) {
  return colored(text, theme().quiet, typeface(12), parent);
}
QLabel* plainText(const QString& text, QWidget* parent) {
  return colored(text, theme().ink, typeface(13), parent);
}

QFrame* hairline(QWidget* parent) {
  auto* line = new QFrame(parent);
  line->setFixedHeight(1);
  line->setStyleSheet(QStringLiteral("background: %1;").arg(theme().hair.name()));
  return line;
}

void clearLayout(QLayout* layout) {
  while (QLayoutItem* item = layout->takeAt(0)) {
    if (QWidget* widget = item->widget()) {
      widget->hide();
      widget->deleteLater();
    }
    if (QLayout* inner = item->layout()) clearLayout(inner);
    delete item;
  }
}

QString escaped(const std::string& text) { return q(text).toHtmlEscaped(); }

QPushButton* signButton(Sign sign, const QString& name, QWidget* parent) {
  auto* button = new QPushButton(parent);
  button->setProperty("quiet", true);
  button->setIcon(signIcon(sign));
  button->setToolTip(name);
  button->setAccessibleName(name);
  button->setFixedSize(26, 24);
  return button;
}

QScrollArea* scrollColumn(QVBoxLayout*& column, QWidget* parent) {
  auto* area = new QScrollArea(parent);
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setFocusPolicy(Qt::NoFocus);
  area->viewport()->setAutoFillBackground(false);
  auto* inner = new QWidget(area);
  inner->setAutoFillBackground(false);
  column = new QVBoxLayout(inner);
  column->setContentsMargins(16, 12, 16, 12);
  column->setSpacing(8);
  area->setWidget(inner);
  return area;
}

ValuePopup::ValuePopup(const QString& text, const QString& hint, QWidget* parent)
    : QFrame(parent, Qt::Popup) {
  setAttribute(Qt::WA_DeleteOnClose);
  setObjectName(QStringLiteral("value-popup"));
  setStyleSheet(QStringLiteral("#value-popup { background: %1; border: 1px solid %2; }")
                    .arg(theme().sheet.name(), theme().click.name()));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(8, 8, 8, 8);
  line_ = new QLineEdit(text, this);
  line_->setObjectName(QStringLiteral("value"));
  line_->setAccessibleName(hint);
  line_->setMinimumWidth(180);
  line_->selectAll();
  layout->addWidget(line_);
  layout->addWidget(quietText(hint, this));
  connect(line_, &QLineEdit::returnPressed, this, [this] {
    const QString typed = line_->text();
    Q_EMIT accepted(typed);
    close();
  });
}

void ValuePopup::openAt(QPoint global) {
  adjustSize();
  const QRect screen = QGuiApplication::primaryScreen()->availableGeometry();
  move(std::min(global.x(), screen.right() - width() - 4),
       std::min(global.y(), screen.bottom() - height() - 4));
  show();
  line_->setFocus();
}

}  // namespace rakugo::app
