#include "app/stations/sources/source_rows.h"

#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/shell/display.h"
#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr int kRowHeight = 56, kMostRows = 5;
constexpr int kGood = 3, kNews = 4;  // marks beside the severities

class RowPainter : public QStyledItemDelegate {
 public:
  explicit RowPainter(SourceList* list) : QStyledItemDelegate(list), list_(list) {}
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {200, kRowHeight};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Theme& t = theme();
    const QRect area = option.rect;
    const bool chosen = option.state.testFlag(QStyle::State_Selected);
    p->save();
    p->setRenderHint(QPainter::SmoothPixmapTransform);
    p->setRenderHint(QPainter::Antialiasing);
    if (chosen || option.state.testFlag(QStyle::State_MouseOver)) p->fillRect(area, t.wash);
    if (chosen) p->fillRect(area.left(), area.top(), 3, area.height(), t.click);
    const QRect frame(area.left() + 10, area.top() + 6, 44, 44);
    p->setPen(t.hair);
    p->setBrush(t.sheet);
    p->drawRect(frame);
    const auto pictures = index.data(SourceRows::pictures_role).value<QVector<QImage>>();
    const QString name = index.data().toString();
    if (!pictures.isEmpty()) {
      p->drawImage(frame.adjusted(1, 1, 0, 0), pictures[list_->turned(index) % pictures.size()]);
    } else {
      p->setFont(typeface(11));
      p->setPen(t.quiet);
      p->drawText(frame, Qt::AlignCenter, name.mid(name.lastIndexOf(QLatin1Char('.')) + 1).left(4));
    }
    const int left = area.left() + 64, width = area.width() - 64 - 26;
    p->setFont(typeface(13, chosen));
    p->setPen(t.ink);
    p->drawText(QRect(left, area.top() + 8, width, 19), Qt::AlignVCenter,
                p->fontMetrics().elidedText(name, Qt::ElideMiddle, width));
    p->setFont(typeface(11));
    p->setPen(t.quiet);
    p->drawText(QRect(left, area.top() + 28, width + 16, 18), Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data(SourceRows::what_role).toString(), Qt::ElideRight,
                                            width + 16));
    const int mark = index.data(SourceRows::mark_role).toInt();
    const QPointF at(area.right() - 13.0, area.top() + 17.5);
    if (mark >= 0 && mark < kGood) drawSeverity(*p, at, 10, static_cast<check::Severity>(mark));
    if (mark == kGood) drawGood(*p, at, 11);
    if (mark == kNews) {
      // An arrow that comes in: a newer version waits.
      p->setPen(QPen(t.click, 1.6));
      p->drawLine(at + QPointF(5, 0), at - QPointF(5, 0));
      p->drawLine(at - QPointF(5, 0), at + QPointF(-1, -4));
      p->drawLine(at - QPointF(5, 0), at + QPointF(-1, 4));
    }
    if (option.state.testFlag(QStyle::State_HasFocus) && list_->hasFocus()) {
      p->setPen(QPen(t.click, 2));
      p->setBrush(Qt::NoBrush);
      p->drawRect(area.adjusted(1, 1, -2, -2));
    }
    p->restore();
  }

 private:
  SourceList* list_;
};

}  // namespace

SourceRows::SourceRows(Session& session, SourceWork& work, SourcePictures& pictures, QObject* parent)
    : QAbstractListModel(parent), session_(session), work_(work), pictures_(pictures) {
  connect(&pictures_, &SourcePictures::taken, this, [this](const QString& source) {
    if (const QModelIndex at = indexOf(s(source)); at.isValid()) Q_EMIT dataChanged(at, at);
  });
}

int SourceRows::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(names_.size());
}

QModelIndex SourceRows::indexOf(const std::string& source) const {
  const auto found = std::lower_bound(names_.begin(), names_.end(), source);
  return found != names_.end() && *found == source ? index(static_cast<int>(found - names_.begin()))
                                                   : QModelIndex();
}

std::string SourceRows::nameAt(const QModelIndex& index) const {
  return index.isValid() && index.row() < rowCount() ? names_[static_cast<size_t>(index.row())]
                                                     : std::string();
}

void SourceRows::refresh() {
  std::vector<std::string> now;
  if (session_.isOpen())
    for (const auto& [name, doc] : session_.state().sources) now.push_back(name);
  if (now != names_) {
    beginResetModel();
    names_ = std::move(now);
    endResetModel();
  } else if (!names_.empty()) {
    Q_EMIT dataChanged(index(0), index(static_cast<int>(names_.size()) - 1));
  }
}

QVariant SourceRows::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || !session_.isOpen()) return {};
  const std::string name = nameAt(index);
  const auto doc = session_.state().sources.find(name);
  if (doc == session_.state().sources.end()) return {};
  const QString file = q(doc->second.file.substr(doc->second.file.rfind('/') + 1));
  switch (role) {
    case Qt::DisplayRole:
      return file;
    case Qt::ToolTipRole:
    case Qt::AccessibleDescriptionRole:
      return file + QStringLiteral("\n") + whatIsInside(name);
    case name_role:
      return q(name);
    case what_role:
      return whatIsInside(name);
    case mark_role:
      return markOf(name);
    case pictures_role:
      return QVariant::fromValue(pictures_.of(name));
    default:
      return {};
  }
}

QString SourceRows::whatIsInside(const std::string& source) const {
  if (const WaitingVersion* waiting = work_.waiting(source))
    return waiting->version ? tr("a newer version waits") : tr("a newer version cannot be read");
  const auto& x = session_.examination();
  if (!x) return {};
  const auto state = x->context.sources.find(source);
  if (state == x->context.sources.end()) return tr("reading…");
  if (state->second.error) return tr("cannot be read");
  if (const auto& sound = state->second.sound)
    return tr("sound, %1 s, %2 kHz")
        .arg(sound->info.seconds(), 0, 'f', 1)
        .arg(static_cast<double>(sound->info.rate_hz) / 1000.0, 0, 'g', 3);
  if (const auto& picture = state->second.picture)
    return tr("picture, %1 × %2").arg(picture->width).arg(picture->height);
  if (!state->second.read) return {};
  const scene::Model& model = state->second.read->model;
  size_t missing = 0;
  for (const scene::Image& image : model.images) missing += image.bytes ? 0 : 1;
  for (const auto& [name, doc] : session_.state().models)
    if (doc.source == source)
      if (const auto prepared = x->context.models.find(name);
          prepared != x->context.models.end() && prepared->second.prepared.model) {
        missing = 0;
        for (const scene::Image& image : prepared->second.prepared.model->images)
          missing += image.bytes ? 0 : 1;
        break;
      }
  if (missing > 0) return q(base::countText(missing, "picture is missing", "pictures are missing"));
  const scene::Counts counts = scene::countsOf(model);
  return q(base::countText(counts.parts, "part", "parts") + ", " +
           base::countText(counts.triangles, "triangle", "triangles"));
}

int SourceRows::markOf(const std::string& source) const {
  if (work_.waiting(source) != nullptr) return kNews;
  const auto& x = session_.examination();
  if (!x) return -1;
  int worst = kGood;
  for (const check::Finding& f : x->findings) {
    if (f.set_aside) continue;
    bool about = f.place.source == source;
    if (!about && !f.place.model.empty() && !f.place.material.empty()) {
      const auto model = session_.state().models.find(f.place.model);
      about = model != session_.state().models.end() && model->second.source == source &&
              f.check == "picture.missing";
    }
    if (about) worst = std::min(worst, static_cast<int>(f.severity));
  }
  return worst;
}

SourceList::SourceList(SourceRows& rows, SourcePictures& pictures, QWidget* parent)
    : QListView(parent), rows_(rows), pictures_(pictures) {
  setObjectName(QStringLiteral("source-list"));
  setAccessibleName(tr("Sources"));
  setModel(&rows);
  setItemDelegate(new RowPainter(this));
  setUniformItemSizes(true);
  setMouseTracking(true);
  setFrameShape(QFrame::NoFrame);
  setEditTriggers(QAbstractItemView::NoEditTriggers);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  turn_.setInterval(120);
  connect(&turn_, &QTimer::timeout, this, [this] {
    if (!turning_.isValid()) return turn_.stop();
    ++shown_;
    update(turning_);
  });
  connect(this, &QAbstractItemView::entered, this, [this](const QModelIndex& index) {
    turning_ = index;
    shown_ = 0;
    if (lessMotion()) return turn_.stop();
    pictures_.turn(rows_.nameAt(index));
    turn_.start();
  });
}

int SourceList::turned(const QModelIndex& index) const { return index == turning_ ? shown_ : 0; }

void SourceList::fitHeight() { setFixedHeight(kRowHeight * std::clamp(rows_.rowCount(), 1, kMostRows) + 2); }

void SourceList::currentChanged(const QModelIndex& current, const QModelIndex& previous) {
  QListView::currentChanged(current, previous);
  if (current.isValid()) Q_EMIT chosen(q(rows_.nameAt(current)));
}

void SourceList::leaveEvent(QEvent* event) {
  turn_.stop();
  turning_ = QModelIndex();
  viewport()->update();
  QListView::leaveEvent(event);
}

}  // namespace rakugo::app
