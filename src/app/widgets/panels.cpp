#include "app/widgets/panels.h"

#include <QDir>
#include <QFile>
#include <QGuiApplication>
#include <QIcon>
#include <QLineEdit>
#include <QPainter>
#include <QScreen>
#include <QScrollArea>
#include <QStyleOptionButton>
#include <QStylePainter>
#include <QSvgRenderer>
#include <QTimer>
#include <map>

#include "app/widgets/chapter.h"

namespace rakugo::app {
namespace {

// The text with places in long words where a line may end: names are of any length, and would widen a column.
// A path may end a line behind each folder, so that a file's name stays whole.
QString breakable(const QString& text) {
  constexpr int kLongest = 30;
  const QChar zeroWidthSpace(0x200B);
  QString out;
  int run = 0;
  for (const QChar c : text) {
    run = c.isSpace() ? 0 : run + 1;
    if (run > kLongest && !c.isLowSurrogate()) {
      out += zeroWidthSpace;
      run = 1;
    }
    out += c;
    if (c == QLatin1Char('/') && run > 1) {
      out += zeroWidthSpace;
      run = 0;
    }
  }
  return out;
}

QLabel* toned(const QString& text, const char* tone, const QFont& font, QWidget* parent) {
  auto* label = new QLabel(breakable(text), parent);
  label->setFont(font);
  label->setWordWrap(true);
  label->setTextFormat(Qt::PlainText);
  label->setProperty("tone", QByteArray(tone));
  return label;
}

// An icon of ours in the colours of the theme, sharp at any scale.
QIcon madeIcon(Sign sign) {
  static constexpr const char* kNames[] = {"earlier",    "later",        "off",         "remove", "before",
                                           "part-shown", "part-through", "part-hidden", "chosen", "unchosen"};
  QFile file(QStringLiteral(":/icons/%1.svg").arg(QLatin1String(kNames[static_cast<size_t>(sign)])));
  if (!file.open(QIODevice::ReadOnly)) return {};
  const QByteArray drawing = file.readAll();
  QIcon icon;
  const std::pair<QIcon::Mode, QColor> kModes[] = {{QIcon::Normal, theme().click},
                                                   {QIcon::Disabled, theme().hair}};
  for (const auto& [mode, color] : kModes) {
    QByteArray colored = drawing;
    QSvgRenderer renderer(colored.replace("currentColor", color.name().toUtf8()));
    for (const qreal scale : {1.0, 1.5, 2.0, 3.0}) {
      QPixmap pixmap(QSize(16, 16) * scale);
      pixmap.setDevicePixelRatio(scale);
      pixmap.fill(Qt::transparent);
      QPainter p(&pixmap);
      renderer.render(&p, QRectF(0, 0, 16, 16));
      icon.addPixmap(pixmap, mode);
    }
  }
  return icon;
}

}  // namespace

const QIcon& signIcon(Sign sign) {
  static std::map<std::pair<bool, Sign>, QIcon> made;
  const auto [at, fresh] = made.try_emplace({isNight(), sign});
  if (fresh) at->second = madeIcon(sign);
  return at->second;
}

QLabel* heading(const QString& text, QWidget* parent) {
  return toned(text, "ink", typeface(13, true), parent);
}
QLabel* quietText(const QString& text, QWidget* parent) { return toned(text, "quiet", typeface(12), parent); }
QLabel* plainText(const QString& text, QWidget* parent) { return toned(text, "ink", typeface(13), parent); }

NameButton::NameButton(const QString& name, QWidget* parent, int most_px)
    : QPushButton(name, parent), most_px_(most_px) {
  setToolTip(name);
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}
QSize NameButton::sizeHint() const {
  const QSize whole = QPushButton::sizeHint();
  return {std::min(whole.width(), most_px_), whole.height()};
}
QSize NameButton::minimumSizeHint() const { return {40, QPushButton::minimumSizeHint().height()}; }
void NameButton::paintEvent(QPaintEvent*) {
  QStyleOptionButton option;
  initStyleOption(&option);
  const QRect room = style()->subElementRect(QStyle::SE_PushButtonContents, &option, this);
  const int icon = option.icon.isNull() ? 0 : option.iconSize.width() + 4;
  option.text = fontMetrics().elidedText(text(), Qt::ElideRight, room.width() - icon);
  QStylePainter(this).drawControl(QStyle::CE_PushButton, option);
}

QVBoxLayout* dialogColumn(QWidget* dialog, int spacing) {
  auto* column = new QVBoxLayout(dialog);
  column->setContentsMargins(24, 20, 24, 18);
  column->setSpacing(spacing);
  auto* head = new QLabel(dialog->windowTitle(), dialog);
  head->setFont(typeface(17, true));
  column->addWidget(head);
  return column;
}

QFrame* hairline(QWidget* parent) {
  auto* line = new QFrame(parent);
  line->setFixedHeight(1);
  line->setProperty("hairline", true);
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

QString shownPath(const std::filesystem::path& path) {
  const QString whole = q(path.string()), home = QDir::homePath();
  return home.size() > 1 && whole.startsWith(home + QLatin1Char('/'))
             ? QLatin1Char('~') + whole.mid(home.size())
             : whole;
}

QString escaped(const std::string& text) { return breakable(q(text)).toHtmlEscaped(); }

QIcon severityIcon(check::Severity severity) {
  constexpr int kSide = 14, kOver = 3;  // sharp on displays of up to three times the pixels
  QPixmap drawn(kSide * kOver, kSide * kOver);
  drawn.setDevicePixelRatio(kOver);
  drawn.fill(Qt::transparent);
  QPainter p(&drawn);
  drawSeverity(p, {kSide / 2.0, kSide / 2.0}, 11, severity);
  return QIcon(drawn);
}

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

void reveal(QWidget* widget) {
  unfoldTo(widget);
  QTimer::singleShot(0, widget, [widget] {
    for (QWidget* around = widget->parentWidget(); around != nullptr; around = around->parentWidget())
      if (auto* area = qobject_cast<QScrollArea*>(around)) {
        if (area->widget()->layout() != nullptr) area->widget()->layout()->activate();
        return area->ensureWidgetVisible(widget, 0, 12);
      }
  });
}

void revealPlace(QWidget* widget, const QRect& place) {
  for (QWidget* around = widget->parentWidget(); around != nullptr; around = around->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(around)) {
      const QRect at(widget->mapTo(area->widget(), place.topLeft()), place.size());
      area->ensureVisible(at.center().x(), at.top(), 0, 12);
      return area->ensureVisible(at.center().x(), at.bottom(), 0, 12);
    }
}

ValuePopup::ValuePopup(const QString& text, const QString& hint, QWidget* parent)
    : QFrame(parent, Qt::Popup) {
  setAttribute(Qt::WA_DeleteOnClose);
  setObjectName(QStringLiteral("value-popup"));
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
