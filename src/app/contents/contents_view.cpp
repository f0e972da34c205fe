#include "app/contents/contents_view.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/shell/display.h"
#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

constexpr int kRow_px = 52, kHeading_px = 30;

class ContentsDelegate : public QStyledItemDelegate {
 public:
  explicit ContentsDelegate(ContentsView* view) : QStyledItemDelegate(view), view_(view) {}
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    return {120, index.data(ContentsRows::heading_role).toBool() ? kHeading_px : kRow_px};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Theme& t = theme();
    const QRect r = option.rect;
    painter->save();
    painter->setRenderHint(QPainter::SmoothPixmapTransform);
    if (index.data(ContentsRows::heading_role).toBool()) {
      painter->setFont(typeface(12));
      painter->setPen(t.quiet);
      painter->drawText(r.adjusted(14, 8, -8, -4), Qt::AlignVCenter, index.data().toString());
    } else {
      paintThing(*painter, option, index, r);
    }
    painter->restore();
  }

 private:
  void paintThing(QPainter& p, const QStyleOptionViewItem& option, const QModelIndex& index, QRect r) const {
    const Theme& t = theme();
    const bool chosen = index.data(ContentsRows::chosen_role).toBool();
    const bool marked = option.state.testFlag(QStyle::State_Selected);
    if (chosen || marked || option.state.testFlag(QStyle::State_MouseOver)) p.fillRect(r, t.wash);
    if (chosen) p.fillRect(r.left(), r.top(), 3, r.height(), t.click);
    p.translate(r.topLeft());
    const int width = r.width();
    paintPicture(p, index, {14, 6, 40, 40});
    const QString name = index.data().toString();
    p.setFont(typeface(13, chosen));
    p.setPen(t.ink);
    // Shortened in the middle: names often differ at their end.
    p.drawText(QRect(62, 7, width - 84, 19), Qt::AlignVCenter,
               p.fontMetrics().elidedText(name, Qt::ElideMiddle, width - 84));
    p.setFont(typeface(11));
    p.setPen(t.quiet);
    p.drawText(QRect(62, 26, width - 70, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(index.data(ContentsRows::what_role).toString(), Qt::ElideRight,
                                          width - 70));
    const int mark = index.data(ContentsRows::mark_role).toInt();
    if (mark >= 0 && mark < 3) drawSeverity(p, {width - 14.0, 16.5}, 10, static_cast<check::Severity>(mark));
    if (mark == 3) drawGood(p, {width - 14.0, 16.5}, 11);
    if (option.state.testFlag(QStyle::State_HasFocus) && view_->hasFocus()) {
      p.setPen(QPen(t.click, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRect(QRect(1, 1, width - 2, r.height() - 2));
    }
  }
  void paintPicture(QPainter& p, const QModelIndex& index, QRect frame) const {
    const Theme& t = theme();
    p.setPen(t.hair);
    p.setBrush(t.sheet);
    p.drawRect(frame);
    const auto pictures = index.data(ContentsRows::pictures_role).value<QVector<QImage>>();
    if (!pictures.isEmpty() && !pictures.front().isNull()) {
      p.drawImage(frame.adjusted(1, 1, 0, 0), pictures[view_->turned(index) % pictures.size()]);
      return;
    }
    const QString name = index.data().toString();
    if (const auto dot = name.lastIndexOf(QLatin1Char('.')); dot > 0) {
      p.setFont(typeface(11));
      p.setPen(t.quiet);
      p.drawText(frame, Qt::AlignCenter, name.mid(dot + 1, 4));
    }
  }
  ContentsView* view_;
};

}  // namespace

ContentsView::ContentsView(ContentsRows& rows, QWidget* parent) : QListView(parent), rows_(rows) {
  setObjectName(QStringLiteral("contents-list"));
  setAccessibleName(tr("What the mod holds"));
  setModel(&rows);
  setItemDelegate(new ContentsDelegate(this));
  setMouseTracking(true);
  setSelectionMode(QAbstractItemView::ExtendedSelection);
  setDragEnabled(true);
  setAcceptDrops(true);
  setDragDropMode(QAbstractItemView::DragDrop);
  setDefaultDropAction(Qt::CopyAction);
  setDropIndicatorShown(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  setFrameShape(QFrame::NoFrame);
  viewport()->setAutoFillBackground(false);
  turn_.setInterval(120);
  connect(&turn_, &QTimer::timeout, this, [this] {
    ++shown_;
    if (turning_.isValid()) update(turning_);
  });
  connect(this, &QListView::entered, this, [this](const QModelIndex& index) {
    turning_ = index;
    shown_ = 0;
    lessMotion() ? turn_.stop() : turn_.start();
  });
  connect(this, &QListView::clicked, this, [this](const QModelIndex& index) {
    // With a key held, several are marked; that chooses none.
    if (selectionModel()->selectedRows().size() <= 1) Q_EMIT chosen(index);
  });
}

qsizetype ContentsView::turned(const QModelIndex& index) const { return index == turning_ ? shown_ : 0; }

std::vector<ContentsRows::What> ContentsView::marked() const {
  std::vector<ContentsRows::What> out;
  for (const QModelIndex& index : selectionModel()->selectedRows())
    if (auto what = rows_.at(index)) out.push_back(std::move(*what));
  return out;
}

void ContentsView::leaveEvent(QEvent* event) {
  turn_.stop();
  shown_ = 0;
  turning_ = QModelIndex();
  viewport()->update();
  QListView::leaveEvent(event);
}

void ContentsView::keyPressEvent(QKeyEvent* event) {
  const bool choose =
      event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space;
  if (choose && event->modifiers() == Qt::NoModifier && rows_.at(currentIndex())) {
    event->accept();
    return Q_EMIT chosen(currentIndex());
  }
  QListView::keyPressEvent(event);
}

}  // namespace rakugo::app
