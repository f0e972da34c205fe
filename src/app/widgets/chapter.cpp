#include "app/widgets/chapter.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

const QString kAll = QStringLiteral("chapters/all");

}  // namespace

ChapterHead::ChapterHead(const QString& title, QWidget* parent) : QAbstractButton(parent) {
  setText(title);
  setCheckable(true);
  setChecked(true);
  setFocusPolicy(Qt::StrongFocus);
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  setCursor(Qt::PointingHandCursor);
}

void ChapterHead::say(const QString& state, std::optional<check::Severity> attention, bool good) {
  state_ = state;
  attention_ = attention;
  good_ = good && !attention;
  setAccessibleName(state.isEmpty() ? text() : tr("%1: %2").arg(text(), state));
  setAccessibleDescription(!attention                             ? QString()
                           : *attention == check::Severity::stops ? tr("Something here stops the game")
                           : *attention == check::Severity::shows ? tr("Something here is seen by players")
                                                                  : tr("Something here is to tidy"));
  placeWhy();
  // The whole line, where it is cut off.
  setToolTip(fontMetrics().horizontalAdvance(state) > width() - 120 ? state : QString());
  update();
}

void ChapterHead::offerHelp(const QString& page) {
  help_page_ = page;
  why_ = new QPushButton(tr("Why?"), this);
  why_->setProperty("inline", true);
  why_->setObjectName(QStringLiteral("why-") + QString(page).replace(QLatin1Char('/'), QLatin1Char('-')));
  why_->setAccessibleName(tr("Help on: %1").arg(text()));
  why_->setToolTip(tr("What this is about (F1)"));
  why_->setFocusPolicy(Qt::NoFocus);  // the head has it, and F1
  connect(why_, &QPushButton::clicked, this, [this] { Q_EMIT helpAsked(help_page_); });
  placeWhy();
}

// Beside the title, where there is room for it.
void ChapterHead::placeWhy() {
  if (why_ == nullptr) return;
  const int left = 30 + QFontMetrics(typeface(13, true)).horizontalAdvance(text()) + 8;
  const QSize size = why_->sizeHint();
  why_->setGeometry(left, (height() - size.height()) / 2, size.width(), size.height());
  const int state = QFontMetrics(typeface(12)).horizontalAdvance(state_) + (attention_ || good_ ? 22 : 0);
  why_->setVisible(left + size.width() + state + 32 < width());
}

void ChapterHead::resizeEvent(QResizeEvent* event) {
  QAbstractButton::resizeEvent(event);
  placeWhy();
}

void ChapterHead::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  if (underMouse() || hasFocus()) p.fillRect(rect(), t.wash);
  p.fillRect(QRect(0, 0, width(), 1), t.hair);
  p.setRenderHint(QPainter::Antialiasing);
  // A small triangle: to the right when folded, downward when open.
  const QPointF at(17, height() / 2.0);
  p.setPen(QPen(t.click, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  if (isChecked())
    p.drawPolyline(QPolygonF({at + QPointF(-4, -2), at + QPointF(0, 2.5), at + QPointF(4, -2)}));
  else
    p.drawPolyline(QPolygonF({at + QPointF(-2, -4), at + QPointF(2.5, 0), at + QPointF(-2, 4)}));
  int left = 30, right = width() - 14;
  if (attention_ || good_) {
    const QPointF mark(right - 7, height() / 2.0);
    attention_ ? drawSeverity(p, mark, 12, *attention_) : drawGood(p, mark, 12);
    right -= 22;
  }
  p.setFont(typeface(13, true));
  p.setPen(t.ink);
  const QString title = p.fontMetrics().elidedText(text(), Qt::ElideRight, right - left);
  p.drawText(QRect(left, 0, right - left, height()), Qt::AlignVCenter | Qt::AlignLeft, title);
  left += p.fontMetrics().horizontalAdvance(title) + 10;
  if (why_ != nullptr && !why_->isHidden()) left = why_->geometry().right() + 8;
  if (!state_.isEmpty() && right - left > 48) {
    p.setFont(typeface(12));
    p.setPen(attention_ ? severityColor(*attention_) : t.quiet);
    p.drawText(QRect(left, 0, right - left, height()), Qt::AlignVCenter | Qt::AlignRight,
               p.fontMetrics().elidedText(state_, Qt::ElideRight, right - left));
  }
  if (hasFocus()) {
    p.setRenderHint(QPainter::Antialiasing, false);
    p.setPen(QPen(t.click, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void ChapterHead::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Up:
      return Q_EMIT stepAsked(-1);
    case Qt::Key_Down:
      return Q_EMIT stepAsked(1);
    case Qt::Key_Home:
      return Q_EMIT stepAsked(-1000);
    case Qt::Key_End:
      return Q_EMIT stepAsked(1000);
    case Qt::Key_Left:
      return Q_EMIT foldAsked(false);
    case Qt::Key_Right:
      return Q_EMIT foldAsked(true);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return click();
    default:
      QAbstractButton::keyPressEvent(event);
  }
}

Chapter::Chapter(const QString& id, const QString& title, QWidget* parent) : QWidget(parent), id_(id) {
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->setSpacing(0);
  head_ = new ChapterHead(title, this);
  head_->setObjectName(QStringLiteral("chapter-") + id.section(QLatin1Char('/'), -1));
  head_->offerHelp(id);
  whole->addWidget(head_);
  content_ = new QWidget(this);
  column_ = new QVBoxLayout(content_);
  column_->setContentsMargins(16, 4, 14, 14);
  column_->setSpacing(8);
  whole->addWidget(content_);
  say({});
  setOpen(kept().value_or(false));
  connect(head_, &QAbstractButton::clicked, this, [this] { keep(!open_); });
  connect(head_, &ChapterHead::foldAsked, this, &Chapter::keep);
}

void Chapter::say(const QString& state, std::optional<check::Severity> attention, bool good) {
  const bool arisen = attention && !head_->attention();
  head_->say(state, attention, good);
  if (arisen && !kept()) setOpen(true);
}

void Chapter::setOpen(bool open) {
  open_ = open;
  head_->setChecked(open);
  content_->setVisible(open);
}

void Chapter::setUsuallyOpen() {
  usually_open_ = true;
  setOpen(kept().value_or(true));
}

void Chapter::beginAnew(bool wanted) {
  setOpen(kept().value_or(usually_open_ || wanted || head_->attention().has_value()));
}

std::optional<bool> Chapter::kept() const {
  const QSettings settings;
  for (const QString& key : {QStringLiteral("chapters/") + id_, kAll})
    if (const QVariant value = settings.value(key); value.isValid()) return value.toBool();
  return {};
}

void Chapter::keep(bool open) {
  setOpen(open);
  QSettings().setValue(QStringLiteral("chapters/") + id_, open);
}

void Chapter::keepAll(QWidget& root, bool open) {
  QSettings settings;
  settings.remove(QStringLiteral("chapters"));
  settings.setValue(kAll, open);
  for (Chapter* one : root.findChildren<Chapter*>()) one->setOpen(open);
}

void unfoldTo(QWidget* widget) {
  for (QWidget* up = widget; up != nullptr; up = up->parentWidget())
    if (auto* chapter = qobject_cast<Chapter*>(up); chapter != nullptr && !chapter->isOpen() && up != widget)
      chapter->setOpen(true);
}

}  // namespace rakugo::app
