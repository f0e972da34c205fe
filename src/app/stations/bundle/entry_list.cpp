#include "app/stations/bundle/entry_list.h"

#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr int kEntry_px = 34, kWhy_px = 14, kHead_px = 46, kSize_px = 72, kColumn_px = 118;

QString sizeOf(const std::optional<uint64_t>& bytes) { return bytes ? q(base::sizeText(*bytes)) : QString(); }

class EntryPainter : public QStyledItemDelegate {
 public:
  EntryPainter(const EntryRows& rows, QObject* parent) : QStyledItemDelegate(parent), rows_(rows) {}

  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    const EntryRow& row = at(index);
    return {100, row.head ? kHead_px : row.said.isEmpty() ? kEntry_px : kEntry_px + kWhy_px};
  }

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const EntryRow& row = at(index);
    p->save();
    const QRect place = option.rect.adjusted(12, 0, -12, 0);
    if ((option.state & QStyle::State_HasFocus) != 0) {
      p->fillRect(option.rect, theme().wash);
      p->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()), theme().click);
    }
    row.head ? paintHead(*p, row, place) : rows_.two() ? paintTwo(*p, row, place) : paintOne(*p, row, place);
    p->restore();
  }

 private:
  [[nodiscard]] const EntryRow& at(const QModelIndex& index) const {
    return rows_.rows()[static_cast<size_t>(index.row())];
  }

  static void paintHead(QPainter& p, const EntryRow& row, QRect place) {
    const QRect line(place.left(), place.bottom() - 29, place.width(), 26);
    int left = line.left();
    if (!row.icon.isNull()) {
      p.drawImage(QRect(left, place.top() + 7, 36, 36), row.icon);
      left += 44;
    }
    p.setFont(typeface(12));
    p.setPen(theme().quiet);
    const int said = p.fontMetrics().horizontalAdvance(row.said);
    p.drawText(line, Qt::AlignVCenter | Qt::AlignRight, row.said);
    p.setFont(typeface(13, true));
    p.setPen(theme().ink);
    const int room = line.right() - said - 12 - left;
    p.drawText(QRect(left, line.top(), room, line.height()), Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.title, Qt::ElideRight, room));
  }

  void bar(QPainter& p, QRect room, const std::optional<uint64_t>& bytes) const {
    p.fillRect(QRectF(room), theme().wash);
    if (!bytes) return;
    const double share =
        static_cast<double>(*bytes) / static_cast<double>(std::max<uint64_t>(rows_.most(), 1));
    p.fillRect(QRectF(room.left(), room.top(), std::max(1.0, room.width() * share), room.height()),
               theme().click);
  }

  void paintOne(QPainter& p, const EntryRow& row, QRect place) const {
    p.setFont(typeface(12));
    const int room = place.width() - kSize_px;
    p.setPen(theme().ink);
    p.drawText(QRect(place.left(), place.top() + 2, room, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.title, Qt::ElideMiddle, room));
    p.setPen(theme().quiet);
    p.drawText(QRect(place.right() - kSize_px, place.top() + 2, kSize_px, 18),
               Qt::AlignVCenter | Qt::AlignRight, sizeOf(row.sizes[0]));
    bar(p, QRect(place.left(), place.top() + 23, place.width(), 4), row.sizes[0]);
    if (row.said.isEmpty()) return;
    p.setFont(typeface(11));
    p.drawText(QRect(place.left(), place.top() + 29, place.width(), 16), Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.said, Qt::ElideRight, place.width()));
  }

  // The name, and a column for each package.
  void paintTwo(QPainter& p, const EntryRow& row, QRect place) const {
    p.setFont(typeface(12));
    const int room = place.width() - 2 * kColumn_px - 8;
    p.setPen(theme().ink);
    p.drawText(QRect(place.left(), place.top() + 2, room, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(row.title, Qt::ElideMiddle, room));
    for (int side = 0; side < 2; ++side) {
      const QRect column(place.right() - (2 - side) * kColumn_px + 10, place.top(), kColumn_px - 10,
                         place.height());
      p.setPen(theme().quiet);
      p.drawText(QRect(column.left(), column.top() + 2, column.width(), 18),
                 Qt::AlignVCenter | Qt::AlignRight,
                 row.sizes[side] ? sizeOf(row.sizes[side]) : QStringLiteral("–"));
      bar(p, QRect(column.left(), column.top() + 23, column.width(), 4), row.sizes[side]);
    }
  }

  const EntryRows& rows_;
};

}  // namespace

std::vector<EntryRow> rowsOf(std::vector<EntryGroup> groups) {
  std::vector<EntryRow> out;
  for (EntryGroup& group : groups) {
    if (!group.head.title.isEmpty()) out.push_back(group.head);
    std::stable_sort(group.entries.begin(), group.entries.end(),
                     [](const auto& a, const auto& b) { return a.stored_bytes > b.stored_bytes; });
    for (const EntryLine& one : group.entries) {
      EntryRow row;
      row.id = row.title = q(one.id);
      if (!one.why.empty()) row.said = EntryRows::tr("for %1").arg(q(one.why));
      row.sizes[0] = one.stored_bytes;
      out.push_back(std::move(row));
    }
  }
  return out;
}

std::vector<EntryRow> rowsBeside(const packing::Package& a, const packing::Package& b, const QString& here,
                                 const QString& there) {
  std::map<std::string, std::pair<const packing::PackageEntry*, const packing::PackageEntry*>> all;
  for (const packing::PackageEntry& one : a.entries) all[one.id].first = &one;
  for (const packing::PackageEntry& one : b.entries) all[one.id].second = &one;
  std::set<std::string> other;
  for (const packing::EntryDifference& d : packing::comparePackages(a, b))
    other.insert(d.a != nullptr ? d.a->id : d.b->id);
  std::vector<EntryRow> groups[4];
  for (const auto& [id, both] : all) {
    const int group = both.first == nullptr ? 2 : both.second == nullptr ? 1 : other.count(id) != 0 ? 0 : 3;
    EntryRow row;
    row.id = row.title = q(id);
    if (both.first != nullptr) row.sizes[0] = both.first->stored_bytes;
    if (both.second != nullptr) row.sizes[1] = both.second->stored_bytes;
    groups[group].push_back(std::move(row));
  }
  const QString titles[] = {EntryRows::tr("In both, and not the same"), EntryRows::tr("Only in %1").arg(here),
                            EntryRows::tr("Only in %1").arg(there), EntryRows::tr("The same in both")};
  std::vector<EntryRow> out;
  for (int i = 0; i < 4; ++i) {
    if (groups[i].empty()) continue;
    EntryRow head;
    head.head = true;
    head.id = QStringLiteral("beside-%1").arg(i);
    head.title = titles[i];
    head.said = q(base::countText(groups[i].size(), "entry", "entries"));
    out.push_back(std::move(head));
    out.insert(out.end(), groups[i].begin(), groups[i].end());
  }
  return out;
}

int EntryRows::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant EntryRows::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const EntryRow& row = rows_[static_cast<size_t>(index.row())];
  if (role == Qt::DisplayRole) return row.title;
  if (role == Qt::UserRole) return row.id;
  if (role != Qt::ToolTipRole && role != Qt::AccessibleTextRole) return {};
  QStringList said{row.title};
  for (int side = 0; side < 2; ++side)
    if (row.sizes[side]) said << sizeOf(row.sizes[side]);
  if (two_ && !row.head && row.sizes[0] && row.sizes[1])
    said = {row.title,
            tr("%1 in the first, %2 in the second").arg(sizeOf(row.sizes[0]), sizeOf(row.sizes[1]))};
  if (!row.said.isEmpty()) said << row.said;
  return said.join(role == Qt::ToolTipRole ? QLatin1String("\n") : QLatin1String(", "));
}

Qt::ItemFlags EntryRows::flags(const QModelIndex& index) const {
  if (!index.isValid()) return Qt::NoItemFlags;
  return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemNeverHasChildren;
}

void EntryRows::setRows(std::vector<EntryRow> rows, bool two) {
  if (rows == rows_ && two == two_) return;
  beginResetModel();
  rows_ = std::move(rows);
  two_ = two;
  most_ = 1;
  for (const EntryRow& row : rows_)
    for (const auto& size : row.sizes) most_ = std::max(most_, size.value_or(0));
  endResetModel();
}

EntryList::EntryList(const QString& accessible_name, QWidget* parent) : QListView(parent) {
  setAccessibleName(accessible_name);
  setModel(&rows_);
  setItemDelegate(new EntryPainter(rows_, this));
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  setSelectionMode(QAbstractItemView::SingleSelection);
  setResizeMode(QListView::Adjust);
  setFrameShape(QFrame::NoFrame);
  viewport()->setAutoFillBackground(false);
}

QRect EntryList::placeOf(const QString& id) const {
  for (int i = 0; i < rows_.rowCount(); ++i)
    if (rows_.rows()[static_cast<size_t>(i)].id == id) return visualRect(rows_.index(i));
  return {};
}

}  // namespace rakugo::app
