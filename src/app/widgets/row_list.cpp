#include "app/widgets/row_list.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QToolTip>
#include <algorithm>
#include <unordered_set>

namespace rakugo::app {
namespace {

constexpr int kListRow_px = 28, kSignWidth_px = 24, kIndent_px = 12, kPictureSide_px = 20;
constexpr int kMostIndent = 8;

class RowDelegate : public QStyledItemDelegate {
 public:
  RowDelegate(RowList* view, const RowListModel& rows)
      : QStyledItemDelegate(view), view_(view), rows_(rows) {}
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {120, kListRow_px};
  }
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    if (index.row() >= rows_.rowCount()) return;
    const ListRow& row = rows_.rows()[static_cast<size_t>(index.row())];
    painter->save();
    paintRow(*painter, option, index, row);
    painter->restore();
  }

 private:
  void paintRow(QPainter& p, const QStyleOptionViewItem& option, const QModelIndex& index,
                const ListRow& row) const {
    const Theme& t = theme();
    const QRect r = option.rect;
    const bool pointed = option.state.testFlag(QStyle::State_MouseOver);
    if (row.chosen || pointed) p.fillRect(r, t.wash);
    if (row.chosen) p.fillRect(r.left(), r.top(), 3, r.height(), t.click);
    int left = r.left() + 8 + std::min(row.indent, kMostIndent) * kIndent_px;
    if (rows_.hasPictures()) {
      const QImage picture = index.data(Qt::DecorationRole).value<QImage>();
      const QRect place(left, r.top() + (r.height() - kPictureSide_px) / 2, kPictureSide_px, kPictureSide_px);
      p.setRenderHint(QPainter::SmoothPixmapTransform);
      if (row.faint) p.setOpacity(0.35);
      if (!picture.isNull()) p.drawImage(place, picture);
      p.setOpacity(1);
      left += kPictureSide_px + 6;
    }
    int right = RowList::signPlace(r, 0, row.signs.size()).left() - 6;
    p.setFont(typeface(12));
    p.setPen(row.good ? t.good : t.quiet);
    // The amount is short, and gives way to the name where both do not fit.
    const int room = std::min(p.fontMetrics().horizontalAdvance(row.amount) + 2, (right - left) / 2);
    p.drawText(QRect(right - room, r.top(), room, r.height()), Qt::AlignVCenter | Qt::AlignRight,
               p.fontMetrics().elidedText(row.amount, Qt::ElideRight, room));
    right -= room + 8;
    p.setFont(typeface(13, row.chosen));
    p.setPen(row.faint ? t.quiet : t.ink);
    p.drawText(QRect(left, r.top(), right - left, r.height()), Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.name, Qt::ElideMiddle, right - left));
    const bool current = view_->hasFocus() && index == view_->currentIndex();
    for (size_t i = 0; i < row.signs.size(); ++i) {
      const QRect place = RowList::signPlace(r, i, row.signs.size());
      const bool at_it = current && view_->currentSign() == static_cast<int>(i);
      if (at_it || (pointed && view_->pointedSign() == static_cast<int>(i)))
        p.fillRect(place.adjusted(0, 3, 0, -3), t.sheet);
      signIcon(row.signs[i].sign).paint(&p, place);
      if (at_it) frame(p, place.adjusted(0, 3, -1, -4));
    }
    if (current && view_->currentSign() < 0) frame(p, r.adjusted(1, 1, -2, -2));
  }
  static void frame(QPainter& p, const QRect& place) {
    p.setPen(QPen(theme().click, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(place);
  }
  RowList* view_;
  const RowListModel& rows_;
};

}  // namespace

int RowListModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant RowListModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const ListRow& row = rows_[static_cast<size_t>(index.row())];
  switch (role) {
    case Qt::DisplayRole:
      return row.name;
    case Qt::AccessibleTextRole: {
      QStringList out{row.name};
      for (const QString& more : {row.amount, row.said})
        if (!more.isEmpty()) out << more;
      if (row.chosen) out << tr("chosen");
      return out.join(QStringLiteral(", "));
    }
    case Qt::AccessibleDescriptionRole: {
      QStringList out;
      for (const RowSign& sign : row.signs) out << sign.name;
      return out.isEmpty() ? QString() : tr("Right arrow: %1").arg(out.join(QStringLiteral("; ")));
    }
    case Qt::ToolTipRole:
      return row.said.isEmpty() ? row.name : row.name + QLatin1Char('\n') + row.said;
    case Qt::DecorationRole:
      return picture_of_ ? QVariant::fromValue(picture_of_(row.id)) : QVariant();
    case id_role:
      return row.id;
    default:
      return {};
  }
}

void RowListModel::setRows(std::vector<ListRow> rows) {
  // What has gone goes first; then the rest is walked once, and what is new is put in where it belongs.
  std::unordered_set<QString> wanted;
  for (const ListRow& row : rows) wanted.insert(row.id);
  for (int i = rowCount(); i-- > 0;) {
    int first = i;
    if (wanted.count(rows_[static_cast<size_t>(i)].id) != 0) continue;
    while (first > 0 && wanted.count(rows_[static_cast<size_t>(first) - 1].id) == 0) --first;
    beginRemoveRows({}, first, i);
    rows_.erase(rows_.begin() + first, rows_.begin() + i + 1);
    endRemoveRows();
    i = first;
  }
  std::unordered_set<QString> there;
  for (const ListRow& row : rows_) there.insert(row.id);
  for (size_t i = 0; i < rows.size(); ++i) {
    if (i < rows_.size() && rows_[i].id == rows[i].id) continue;
    if (there.count(rows[i].id) != 0) {
      // Another order: this one stood further down.
      const auto from = std::find_if(rows_.begin() + static_cast<std::ptrdiff_t>(i), rows_.end(),
                                     [&](const ListRow& one) { return one.id == rows[i].id; });
      const int at = static_cast<int>(from - rows_.begin());
      ListRow moved = std::move(*from);
      beginRemoveRows({}, at, at);
      rows_.erase(from);
      endRemoveRows();
      beginInsertRows({}, static_cast<int>(i), static_cast<int>(i));
      rows_.insert(rows_.begin() + static_cast<std::ptrdiff_t>(i), std::move(moved));
      endInsertRows();
      continue;
    }
    size_t last = i;
    while (last + 1 < rows.size() && there.count(rows[last + 1].id) == 0) ++last;
    beginInsertRows({}, static_cast<int>(i), static_cast<int>(last));
    rows_.insert(rows_.begin() + static_cast<std::ptrdiff_t>(i),
                 rows.begin() + static_cast<std::ptrdiff_t>(i),
                 rows.begin() + static_cast<std::ptrdiff_t>(last) + 1);
    endInsertRows();
    i = last;
  }
  for (size_t i = 0; i < rows.size(); ++i) {
    if (rows_[i] == rows[i]) continue;
    rows_[i] = std::move(rows[i]);
    Q_EMIT dataChanged(index(static_cast<int>(i)), index(static_cast<int>(i)));
  }
}

QModelIndex RowListModel::indexOf(const QString& id) const {
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].id == id) return index(static_cast<int>(i));
  return {};
}

RowList::RowList(const QString& id, const QString& accessible_name, QWidget* parent)
    : QListView(parent), rows_(this) {
  setObjectName(id);
  setAccessibleName(accessible_name);
  setModel(&rows_);
  setItemDelegate(new RowDelegate(this, rows_));
  setMouseTracking(true);
  setUniformItemSizes(true);
  setSelectionMode(QAbstractItemView::NoSelection);
  setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFrameShape(QFrame::NoFrame);
  viewport()->setAutoFillBackground(false);
  setFixedHeight(0);
}

void RowList::setRows(std::vector<ListRow> rows) {
  const int before = rows_.rowCount();
  rows_.setRows(std::move(rows));
  if (rows_.rowCount() != before) setFixedHeight(rows_.rowCount() * kListRow_px);
  setVisible(rows_.rowCount() > 0);
}

QRect RowList::signPlace(const QRect& row, size_t sign, size_t count) {
  return {row.right() - 4 - static_cast<int>(count - sign) * kSignWidth_px, row.top(), kSignWidth_px,
          row.height()};
}

QRect RowList::placeOf(const QString& id) const {
  for (int i = 0; i < rows_.rowCount(); ++i) {
    const ListRow& row = rows_.rows()[static_cast<size_t>(i)];
    const QRect place = visualRect(rows_.index(i));
    if (row.id == id) return place;
    for (size_t k = 0; k < row.signs.size(); ++k)
      if (row.signs[k].id == id) return signPlace(place, k, row.signs.size());
  }
  return {};
}

int RowList::signAt(const QModelIndex& index, QPoint at) const {
  if (!index.isValid()) return -1;
  const auto& signs = rows_.rows()[static_cast<size_t>(index.row())].signs;
  for (size_t i = 0; i < signs.size(); ++i)
    if (signPlace(visualRect(index), i, signs.size()).contains(at)) return static_cast<int>(i);
  return -1;
}

void RowList::revealRow(const QString& id) {
  const QModelIndex at = rows_.indexOf(id);
  if (at.isValid() && isVisible()) revealPlace(this, visualRect(at));
}

void RowList::mouseReleaseEvent(QMouseEvent* event) {
  QListView::mouseReleaseEvent(event);
  const QModelIndex index = indexAt(event->position().toPoint());
  if (event->button() != Qt::LeftButton || !index.isValid()) return;
  const ListRow row = rows_.rows()[static_cast<size_t>(index.row())];
  const int sign = signAt(index, event->position().toPoint());
  if (sign >= 0) return Q_EMIT signAsked(row.id, row.signs[static_cast<size_t>(sign)].id);
  Q_EMIT chosen(row.id);
}

void RowList::mouseMoveEvent(QMouseEvent* event) {
  QListView::mouseMoveEvent(event);
  const QModelIndex index = indexAt(event->position().toPoint());
  const int sign = signAt(index, event->position().toPoint());
  const QString row = index.isValid() ? rows_.rows()[static_cast<size_t>(index.row())].id : QString();
  if (sign != pointed_sign_) viewport()->update();
  pointed_sign_ = sign;
  if (row == pointed_) return;
  pointed_ = row;
  Q_EMIT pointedAt(row);
}

void RowList::leaveEvent(QEvent* event) {
  QListView::leaveEvent(event);
  pointed_sign_ = -1;
  if (pointed_.isEmpty()) return;
  pointed_.clear();
  Q_EMIT pointedAt({});
}

void RowList::keyPressEvent(QKeyEvent* event) {
  const QModelIndex index = currentIndex();
  if (!index.isValid() || (event->modifiers() & ~Qt::KeypadModifier) != 0)
    return QListView::keyPressEvent(event);
  const ListRow row = rows_.rows()[static_cast<size_t>(index.row())];
  const int last = static_cast<int>(row.signs.size()) - 1;
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
      sign_ = std::clamp(sign_ + (event->key() == Qt::Key_Right ? 1 : -1), -1, last);
      viewport()->update();
      return event->accept();
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Space:
      event->accept();
      if (sign_ >= 0 && sign_ <= last)
        return Q_EMIT signAsked(row.id, row.signs[static_cast<size_t>(sign_)].id);
      return Q_EMIT chosen(row.id);
    default:
      QListView::keyPressEvent(event);
  }
}

bool RowList::viewportEvent(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const QModelIndex index = indexAt(help->pos());
    if (const int sign = signAt(index, help->pos()); sign >= 0) {
      QToolTip::showText(help->globalPos(),
                         rows_.rows()[static_cast<size_t>(index.row())].signs[static_cast<size_t>(sign)].name,
                         this);
      return true;
    }
  }
  return QListView::viewportEvent(event);
}

void RowList::currentChanged(const QModelIndex& current, const QModelIndex& previous) {
  QListView::currentChanged(current, previous);
  sign_ = -1;
  // Not `scrollTo`: this list shows all its rows, what scrolls is around it.
  if (current.isValid() && hasFocus()) revealPlace(this, visualRect(current));
}

// Whatever is around the list scrolls.
void RowList::wheelEvent(QWheelEvent* event) { event->ignore(); }

}  // namespace rakugo::app
