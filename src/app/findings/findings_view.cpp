#include "app/findings/findings_view.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QTextLayout>
#include <algorithm>

#include "app/findings/finding_card.h"
#include "app/widgets/theme.h"

namespace rakugo::app {
namespace {

constexpr int kThing_px = 28, kMark_px = 40, kMend_px = 56;

int lineHeight() {
  static const int kHeight = QFontMetrics(typeface(13)).lineSpacing();
  return kHeight;
}

int rowHeight() { return lineHeight() * 2 + 12; }

// The text in at most two lines; what finds no room is cut with dots.
QStringList twoLines(const QString& text, const QFont& font, int width) {
  const QFontMetrics metrics(font);
  if (metrics.horizontalAdvance(text) <= width) return {text};
  QTextLayout layout(text, font);
  layout.beginLayout();
  QTextLine line = layout.createLine();
  line.setLineWidth(width);
  layout.endLayout();
  const int end = line.textLength();
  return {text.left(end).trimmed(), metrics.elidedText(text.mid(end).trimmed(), Qt::ElideRight, width)};
}

// Whether two findings are told and mended in the same way.
bool saysTheSame(const check::Finding& a, const check::Finding& b) {
  return a.check == b.check && a.severity == b.severity && a.sentence == b.sentence && a.reason == b.reason &&
         a.cure == b.cure && a.set_aside == b.set_aside && a.aside_reason == b.aside_reason &&
         a.causes == 0 && b.causes == 0 &&
         std::equal(
             a.mends.begin(), a.mends.end(), b.mends.begin(), b.mends.end(),
             [](const check::Mend& one, const check::Mend& other) { return one.label == other.label; });
}

class FindingsDelegate : public QStyledItemDelegate {
 public:
  explicit FindingsDelegate(FindingsView* view) : QStyledItemDelegate(view), view_(view) {}
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    if (index == view_->currentIndex() && view_->card() != nullptr) return {10, view_->cardHeight()};
    return {10, view_->rows().at(index) == nullptr ? kThing_px : rowHeight()};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    if (index == view_->currentIndex() && view_->card() != nullptr) return;
    const Theme& t = theme();
    const QRect r = option.rect;
    painter->save();
    if (index.data(FindingsRows::heading_role).toBool()) {
      painter->setFont(typeface(12, true));
      painter->setPen(t.ink);
      painter->drawText(
          r.adjusted(16, 6, -8, 0), Qt::AlignVCenter,
          painter->fontMetrics().elidedText(index.data().toString(), Qt::ElideMiddle, r.width() - 24));
    } else {
      paintFinding(*painter, option, index, r);
    }
    painter->restore();
  }

 private:
  static void paintFinding(QPainter& p, const QStyleOptionViewItem& option, const QModelIndex& index,
                           QRect r) {
    const Theme& t = theme();
    if (option.state.testFlag(QStyle::State_MouseOver)) p.fillRect(r, t.wash);
    p.setPen(t.hair);
    p.drawLine(r.left() + 16, r.bottom(), r.right() - 12, r.bottom());
    p.setRenderHint(QPainter::Antialiasing);
    drawSeverity(p, r.topLeft() + QPointF(24, 6 + lineHeight() * 0.5), 12,
                 static_cast<check::Severity>(index.data(FindingsRows::severity_role).toInt()));
    const QRect mend = mendRect(index, r);
    const QFont font = typeface(13);
    p.setFont(font);
    p.setPen(index.data(FindingsRows::aside_role).toBool() ? t.quiet : t.ink);
    const int width = (mend.isEmpty() ? r.right() - 14 : mend.left() - 6) - (r.left() + kMark_px);
    const int folded = index.data(FindingsRows::folded_role).toInt();
    const QStringList lines = twoLines(index.data().toString(), font, width);
    const int step = p.fontMetrics().lineSpacing();
    QRect line(r.left() + kMark_px, r.top() + 6, width, step);
    for (const QString& one : lines) {
      p.drawText(line, Qt::AlignVCenter, one);
      line.translate(0, step);
    }
    if (folded > 0 && lines.size() == 1) {
      p.setPen(t.quiet);
      p.setFont(typeface(12));
      p.drawText(line, Qt::AlignVCenter,
                 folded == 1 ? FindingsView::tr("1 more goes with it")
                             : FindingsView::tr("%1 more go with it").arg(folded));
    }
    if (mend.isEmpty()) return;
    p.setFont(typeface(12));
    p.setPen(t.click);
    p.drawText(mend, Qt::AlignCenter, FindingsView::tr("Mend"));
  }
  FindingsView* view_;
};

}  // namespace

QRect mendRect(const QModelIndex& index, const QRect& row) {
  if (index.data(FindingsRows::mend_role).toString().isEmpty()) return {};
  return {row.right() - 10 - kMend_px, row.top() + 3, kMend_px, lineHeight() + 6};
}

// The card goes with the base, after this: its last word must not reach what is no list any more.
FindingsView::~FindingsView() {
  if (card_ != nullptr) disconnect(card_, nullptr, this, nullptr);
}

FindingsView::FindingsView(FindingsRows& rows, QWidget* parent) : QListView(parent), rows_(rows) {
  setObjectName(QStringLiteral("findings-list"));
  setAccessibleName(tr("Findings"));
  setItemDelegate(new FindingsDelegate(this));
  setModel(&rows);
  setMouseTracking(true);
  setSelectionMode(QAbstractItemView::NoSelection);
  setEditTriggers(QAbstractItemView::NoEditTriggers);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  setResizeMode(QListView::Adjust);
  setFrameShape(QFrame::NoFrame);
  viewport()->setAutoFillBackground(false);
}

int FindingsView::cardHeight() const {
  // A layout rounds the heights of wrapped texts down here and there; a little more cuts none of them.
  constexpr int kSlack_px = 8;
  return card_ != nullptr ? card_->layout()->totalHeightForWidth(viewport()->width()) + kSlack_px : 0;
}

void FindingsView::dropCard() {
  if (card_ == nullptr) return;
  FindingCard* card = std::exchange(card_, nullptr);
  // It is deleted by the event loop; until then nobody may press what it offers.
  card->hide();
  card->disconnect(this);
  if (card_at_.isValid() && indexWidget(card_at_) == card)
    setIndexWidget(card_at_, nullptr);
  else
    card->deleteLater();
  card_at_ = QPersistentModelIndex();
}

void FindingsView::makeCard() {
  const check::Finding* f = rows_.at(currentIndex());
  if (f == nullptr) return;
  const std::string key = check::findingKey(*f);
  card_ = new FindingCard(rows_.examination(), *f, unfolded_.count(key) != 0, viewport());
  card_at_ = currentIndex();
  connect(card_, &QObject::destroyed, this, [this, card = card_] {
    if (card_ == card) card_ = nullptr;
  });
  // What is done is done to the finding as it is by then: a card outlives examinations that say the same.
  const auto present = [this](const auto& act) {
    if (const check::Finding* now = rows_.at(card_at_)) act(check::Finding(*now));
  };
  connect(card_, &FindingCard::effectAsked, this, &FindingsView::showAsked);
  connect(card_, &FindingCard::showAsked, this,
          [=, this] { present([this](const check::Finding& now) { Q_EMIT showAsked(now); }); });
  connect(card_, &FindingCard::mendAsked, this, [=, this](size_t mend) {
    present([&](const check::Finding& now) {
      if (mend < now.mends.size()) Q_EMIT mendAsked(now.mends[mend]);
    });
  });
  connect(card_, &FindingCard::takeUpAsked, this, [=, this] {
    present([this](const check::Finding& now) { Q_EMIT mendAsked(check::takeUp(now)); });
  });
  connect(card_, &FindingCard::mendAllAsked, this,
          [=, this] { present([this](const check::Finding& now) { Q_EMIT mendAllAsked(now); }); });
  connect(card_, &FindingCard::asideAsked, this, [=, this](QWidget* at) {
    present([&](const check::Finding& now) { Q_EMIT asideAsked(now, at); });
  });
  connect(card_, &FindingCard::whyAsked, this,
          [this, check = q(card_->finding().check)] { Q_EMIT whyAsked(check); });
  connect(card_, &FindingCard::foldAsked, this, [this, key] {
    if (unfolded_.erase(key) == 0) unfolded_.insert(key);
    dropCard();
    renew();
  });
  // The keyboard goes from the list into the card and on.
  QWidget* before = this;
  for (QPushButton* button : card_->buttons()) {
    button->installEventFilter(this);
    setTabOrder(before, button);
    before = button;
  }
  setIndexWidget(currentIndex(), card_);
  // Their fonts count in how high it is.
  for (QWidget* child : card_->findChildren<QWidget*>()) child->ensurePolished();
  card_->layout()->invalidate();
  Q_EMIT itemDelegate()->sizeHintChanged(currentIndex());
}

QModelIndex FindingsView::firstFinding(int from, int by) const {
  for (int row = from; row >= 0 && row < rows_.rowCount(); row += by)
    if (rows_.at(rows_.index(row)) != nullptr) return rows_.index(row);
  return {};
}

void FindingsView::renew() {
  rows_change_ = false;
  const bool in_card = card_ != nullptr && card_->isAncestorOf(QApplication::focusWidget());
  const int scrolled = by_hand_ ? verticalScrollBar()->value() : 0;
  const bool seen = !currentIndex().isValid() || viewport()->rect().intersects(visualRect(currentIndex()));
  const int row = by_hand_ ? std::clamp(currentIndex().row(), 0, std::max(0, rows_.rowCount() - 1)) : 0;
  QModelIndex wanted = firstFinding(row, 1);
  if (!wanted.isValid()) wanted = firstFinding(row, -1);
  // A card that would say the same stays, so that no button goes from under a finger.
  const check::Finding* now = rows_.at(wanted);
  const bool stays = card_ != nullptr && now != nullptr && wanted == card_at_ && wanted == currentIndex() &&
                     saysTheSame(*now, card_->finding());
  if (!stays) {
    dropCard();
    if (wanted != currentIndex())
      setCurrentIndex(wanted);
    else
      makeCard();
  }
  executeDelayedItemsLayout();
  verticalScrollBar()->setValue(scrolled);
  // A row that was in sight, and grew, is seen whole.
  if (seen && currentIndex().isValid()) scrollTo(currentIndex());
  if (stays) return;
  if (in_card && card_ != nullptr && !card_->buttons().empty())
    card_->buttons().front()->setFocus();
  else if (in_card)
    setFocus();
}

void FindingsView::currentChanged(const QModelIndex& current, const QModelIndex& previous) {
  // What was clicked stays under the pointer, though the row above it that was open closes.
  const int top = visualRect(current).top();
  const bool seen = viewport()->rect().intersects(visualRect(current));
  dropCard();
  // The row of the card went; renew() says which one is open now.
  if (rows_change_) return QListView::currentChanged(current, previous);
  if (previous.isValid()) Q_EMIT itemDelegate()->sizeHintChanged(previous);
  makeCard();
  executeDelayedItemsLayout();
  if (seen && previous.isValid())
    verticalScrollBar()->setValue(verticalScrollBar()->value() + visualRect(current).top() - top);
  QListView::currentChanged(current, previous);
}

void FindingsView::keyPressEvent(QKeyEvent* event) {
  by_hand_ = true;
  const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (const check::Finding* f = rows_.at(currentIndex());
      enter && event->modifiers() == Qt::NoModifier && f) {
    event->accept();
    return Q_EMIT showAsked(*f);
  }
  if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
    const int by = event->key() == Qt::Key_Up ? -1 : 1;
    if (const QModelIndex next = firstFinding(currentIndex().row() + by, by); next.isValid()) {
      setCurrentIndex(next);
      scrollTo(next);
    }
    return event->accept();
  }
  QListView::keyPressEvent(event);
}

void FindingsView::mousePressEvent(QMouseEvent* event) {
  by_hand_ = true;
  const QModelIndex index = indexAt(event->pos());
  const bool mend =
      event->button() == Qt::LeftButton && mendRect(index, visualRect(index)).contains(event->pos());
  pressed_ = mend ? index : QModelIndex();
  QListView::mousePressEvent(event);
}

void FindingsView::mouseReleaseEvent(QMouseEvent* event) {
  QListView::mouseReleaseEvent(event);
  const QModelIndex index = std::exchange(pressed_, QPersistentModelIndex());
  const check::Finding* f = rows_.at(index);
  if (f != nullptr && !f->mends.empty() && index == indexAt(event->pos()))
    Q_EMIT mendAsked(check::Mend(f->mends.front()));
}

void FindingsView::mouseDoubleClickEvent(QMouseEvent* event) {
  QListView::mouseDoubleClickEvent(event);
  if (const check::Finding* f = rows_.at(indexAt(event->pos()))) Q_EMIT showAsked(*f);
}

void FindingsView::resizeEvent(QResizeEvent* event) {
  QListView::resizeEvent(event);
  if (card_ != nullptr) Q_EMIT itemDelegate()->sizeHintChanged(currentIndex());
}

bool FindingsView::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = dynamic_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Up || key == Qt::Key_Down) {
      setFocus();
      keyPressEvent(dynamic_cast<QKeyEvent*>(event));
      return true;
    }
  }
  return QListView::eventFilter(watched, event);
}

}  // namespace rakugo::app
