#include "app/findings/findings_rows.h"

#include <algorithm>

#include "app/shell/route.h"
#include "app/widgets/theme.h"

namespace rakugo::app {
namespace {

const std::string& thingOf(const check::Finding& f) {
  const check::FindingPlace& p = f.place;
  return !p.object.empty() ? p.object : !p.model.empty() ? p.model : p.source;
}

}  // namespace

int FindingsRows::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

const check::Finding* FindingsRows::at(const QModelIndex& index) const {
  return index.isValid() && index.row() < rowCount() ? rows_[static_cast<size_t>(index.row())].finding
                                                     : nullptr;
}

QVariant FindingsRows::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const check::Finding* f = at(index);
  if (f == nullptr) {
    if (role == heading_role) return true;
    return role == Qt::DisplayRole || role == Qt::AccessibleTextRole
               ? rows_[static_cast<size_t>(index.row())].heading
               : QVariant();
  }
  switch (role) {
    case Qt::DisplayRole:
      return q(f->sentence);
    case Qt::AccessibleTextRole:
      return (f->set_aside                            ? tr("Set aside: %1")
              : f->severity == check::Severity::stops ? tr("Stops the game: %1")
              : f->severity == check::Severity::shows ? tr("Seen by players: %1")
                                                      : tr("To tidy: %1"))
          .arg(q(f->sentence));
    case Qt::AccessibleDescriptionRole:
      return f->set_aside ? q(f->aside_reason) : q(f->reason);
    case severity_role:
      return static_cast<int>(f->severity);
    case heading_role:
      return false;
    case check_role:
      return q(f->check);
    case mend_role:
      return f->mends.empty() || f->set_aside ? QString() : q(f->mends.front().label);
    case aside_role:
      return f->set_aside;
    case folded_role:
      return static_cast<int>(f->causes);
    default:
      return {};
  }
}

Qt::ItemFlags FindingsRows::flags(const QModelIndex& index) const {
  if (!index.isValid()) return {};
  return at(index) != nullptr ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemNeverHasChildren
                              : Qt::ItemFlags(Qt::ItemNeverHasChildren);
}

bool FindingsRows::isWanted(const check::Examination& x, const check::Finding& f,
                            const FindingsFilter& filter) {
  const auto chosen = [&](const check::Finding& one) {
    return filter.sorts[one.set_aside ? 3 : static_cast<size_t>(one.severity)];
  };
  // Below its cause, where that one is shown.
  if (f.caused_by && filter.words.isEmpty() && chosen(x.findings[*f.caused_by])) return false;
  if (!chosen(f)) return false;
  return filter.words.isEmpty() || q(f.sentence).contains(filter.words, Qt::CaseInsensitive) ||
         q(f.place.text()).contains(filter.words, Qt::CaseInsensitive);
}

// Whether it is mended where one stands, and is of what is chosen or of the mod itself.
bool FindingsRows::isHere(const check::Finding& f, const FindingsFilter& filter) {
  const check::FindingPlace& p = f.place;
  const bool chosen = (p.model.empty() && p.object.empty()) || p.model == filter.model ||
                      (p.model.empty() && p.object == filter.object);
  return chosen && stationOf(f.check) == filter.station;
}

std::vector<FindingsRows::Row> FindingsRows::rowsOf(const check::Examination& x,
                                                    const FindingsFilter& filter) {
  std::vector<const check::Finding*> shown;
  for (const check::Finding& f : x.findings)
    if (isWanted(x, f, filter)) shown.push_back(&f);
  std::vector<Row> out;
  out.reserve(shown.size() + 8);
  if (filter.by_thing) {
    std::stable_sort(shown.begin(), shown.end(),
                     [](const auto* a, const auto* b) { return thingOf(*a) < thingOf(*b); });
    for (auto one = shown.begin(); one != shown.end();) {
      const std::string& thing = thingOf(**one);
      const auto end = std::find_if(one, shown.end(), [&](const auto* f) { return thingOf(*f) != thing; });
      out.push_back({nullptr, (thing.empty() ? tr("The mod itself") : q(thing)) + QStringLiteral("  ") +
                                  QString::number(end - one)});
      for (; one != end; ++one) out.push_back({*one, {}});
    }
    return out;
  }
  const auto elsewhere =
      std::stable_partition(shown.begin(), shown.end(), [&](const auto* f) { return isHere(*f, filter); });
  for (auto one = shown.begin(); one != shown.end(); ++one) {
    if (one == elsewhere && one != shown.begin())
      out.push_back({nullptr, tr("At other stations, and of other things")});
    out.push_back({*one, {}});
  }
  return out;
}

// The same finding, though its numbers may be others.
bool FindingsRows::isSame(const Row& a, const Row& b) {
  if (a.finding == nullptr || b.finding == nullptr) return a.finding == b.finding && a.heading == b.heading;
  const check::FindingPlace &p = a.finding->place, &o = b.finding->place;
  return a.finding->check == b.finding->check && a.finding->set_aside == b.finding->set_aside &&
         p.model == o.model && p.object == o.object && p.source == o.source && p.part == o.part &&
         p.material == o.material && p.field == o.field && p.point == o.point && p.document == o.document;
}

void FindingsRows::show(std::shared_ptr<const check::Examination> examination, const FindingsFilter& filter) {
  std::vector<Row> now = examination ? rowsOf(*examination, filter) : std::vector<Row>();
  // What is the same at both ends stays; what differs between goes, and comes.
  size_t begin = 0, end = 0;
  const size_t least = std::min(now.size(), rows_.size());
  while (begin < least && isSame(now[begin], rows_[begin])) ++begin;
  while (end < least - begin && isSame(now[now.size() - 1 - end], rows_[rows_.size() - 1 - end])) ++end;
  const auto at = [](auto& rows, size_t n) { return rows.begin() + static_cast<std::ptrdiff_t>(n); };
  if (rows_.size() > begin + end) {
    beginRemoveRows({}, static_cast<int>(begin), static_cast<int>(rows_.size() - end) - 1);
    rows_.erase(at(rows_, begin), at(rows_, rows_.size() - end));
    endRemoveRows();
  }
  if (now.size() > begin + end) {
    beginInsertRows({}, static_cast<int>(begin), static_cast<int>(now.size() - end) - 1);
    rows_.insert(at(rows_, begin), at(now, begin), at(now, now.size() - end));
    endInsertRows();
  }
  rows_ = std::move(now);  // with the new examination's findings throughout
  examination_ = std::move(examination);
  if (!rows_.empty()) Q_EMIT dataChanged(index(0), index(rowCount() - 1));
}

}  // namespace rakugo::app
