#include "app/contents/contents_rows.h"

#include <QMimeData>
#include <algorithm>

#include "app/widgets/drag_types.h"
#include "app/widgets/object_icon.h"
#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

std::string markKey(mod::Thing thing, const std::string& name) {
  return std::string(mod::thingName(thing)) + "/" + name;
}

}  // namespace

ContentsRows::ContentsRows(Session& session, QObject* parent)
    : QAbstractListModel(parent), session_(session) {}

int ContentsRows::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

std::optional<ContentsRows::What> ContentsRows::at(const QModelIndex& index) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  return rows_[static_cast<size_t>(index.row())].what;
}

QModelIndex ContentsRows::indexOf(const What& what) const {
  const auto found =
      std::find_if(rows_.begin(), rows_.end(), [&](const Row& row) { return row.what == what; });
  return found == rows_.end() ? QModelIndex() : index(static_cast<int>(found - rows_.begin()));
}

QString ContentsRows::titleOf(const What& what) const {
  const mod::ModState& state = session_.state();
  if (what.thing == mod::Thing::object)
    if (const auto doc = state.objects.find(what.name);
        doc != state.objects.end() && !doc->second.title.empty())
      return q(doc->second.title);
  if (what.thing == mod::Thing::source)
    if (const auto doc = state.sources.find(what.name); doc != state.sources.end())
      return q(doc->second.file.substr(doc->second.file.rfind('/') + 1));
  return q(what.name);
}

QString ContentsRows::describe(const What& what) const {
  const mod::ModState& state = session_.state();
  QString out;
  std::string path;
  if (what.thing == mod::Thing::object) {
    const auto doc = state.objects.find(what.name);
    const rulebook::Kind* kind =
        doc != state.objects.end() ? session_.book().findKind(doc->second.kind) : nullptr;
    out = kind != nullptr ? q(kind->title) : doc != state.objects.end() ? q(doc->second.kind) : QString();
    if (doc != state.objects.end() && !doc->second.follows.name.empty()) out = tr("Variant");
    path = "objects/" + what.name + ".object.json";
  } else if (what.thing == mod::Thing::model) {
    const auto doc = state.models.find(what.name);
    out = tr("no steps yet");
    if (doc != state.models.end() && !doc->second.steps.empty())
      out = q(base::countText(doc->second.steps.size(), "step", "steps"));
    path = "models/" + what.name + ".model.json";
  } else {
    const auto doc = state.sources.find(what.name);
    if (doc != state.sources.end()) out = q(base::countText(doc->second.files.size(), "file", "files"));
    path = "sources/" + what.name + "/source.json";
  }
  // What a save would write is marked in words.
  return std::binary_search(unsaved_.begin(), unsaved_.end(), path) ? tr("%1 · unsaved").arg(out) : out;
}

QVector<QImage> ContentsRows::picturesOf(const What& what) const {
  const mod::ModState& state = session_.state();
  const auto of = [](const auto& pictures, const std::string& name) {
    const auto found = pictures.find(name);
    return found == pictures.end() ? QVector<QImage>() : found->second;
  };
  if (what.thing == mod::Thing::source) return of(source_pictures_, what.name);
  if (what.thing == mod::Thing::model) {
    if (const QVector<QImage> own = of(model_pictures_, what.name); !own.isEmpty()) return own;
    const auto doc = state.models.find(what.name);
    return doc == state.models.end() ? QVector<QImage>() : of(source_pictures_, doc->second.source);
  }
  const auto doc = state.objects.find(what.name);
  if (doc == state.objects.end()) return {};
  const QImage icon = objectIcon(state, doc->second, 78);
  return icon.isNull() ? QVector<QImage>() : QVector<QImage>{icon};
}

int ContentsRows::markOf(const What& what) const {
  if (!known_) return -1;
  const auto found = marks_.find(markKey(what.thing, what.name));
  return found == marks_.end() ? 3 : found->second;
}

QVariant ContentsRows::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rowCount()) return {};
  const Row& row = rows_[static_cast<size_t>(index.row())];
  if (!row.what) {
    if (role == heading_role) return true;
    if (role != Qt::DisplayRole) return {};
    return row.under == mod::Thing::object  ? tr("OBJECTS")
           : row.under == mod::Thing::model ? tr("MODELS")
                                            : tr("SOURCES");
  }
  const What& what = *row.what;
  switch (role) {
    case Qt::DisplayRole:
    case Qt::AccessibleTextRole:
      return titleOf(what);
    case Qt::ToolTipRole:
      return titleOf(what) + QLatin1Char('\n') + describe(what);
    case what_role:
    case Qt::AccessibleDescriptionRole:
      return describe(what);
    case mark_role:
      return markOf(what);
    case pictures_role:
      return QVariant::fromValue(picturesOf(what));
    case chosen_role:
      return (what.thing == mod::Thing::object && what.name == session_.object()) ||
             (what.thing == mod::Thing::model && what.name == session_.model());
    case heading_role:
      return false;
    case key_role:
      return QStringLiteral("%1-%2").arg(QLatin1String(mod::thingName(what.thing)), q(what.name));
    default:
      return {};
  }
}

Qt::ItemFlags ContentsRows::flags(const QModelIndex& index) const {
  if (!index.isValid()) return {};
  const std::optional<What> what = at(index);
  if (!what) return Qt::ItemNeverHasChildren;
  Qt::ItemFlags out = Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemNeverHasChildren;
  if (what->thing == mod::Thing::model) out |= Qt::ItemIsDragEnabled;
  if (what->thing == mod::Thing::object) out |= Qt::ItemIsDropEnabled;
  return out;
}

QStringList ContentsRows::mimeTypes() const { return {QLatin1String(kModelsDragged)}; }

QMimeData* ContentsRows::mimeData(const QModelIndexList& indexes) const {
  QStringList names;
  for (const QModelIndex& index : indexes)
    if (const auto what = at(index); what && what->thing == mod::Thing::model) names << q(what->name);
  if (names.isEmpty()) return nullptr;
  auto* data = new QMimeData;
  data->setData(QLatin1String(kModelsDragged), names.join(QLatin1Char('\n')).toUtf8());
  return data;
}

bool ContentsRows::canDropMimeData(const QMimeData* data, Qt::DropAction, int, int,
                                   const QModelIndex& parent) const {
  const std::optional<What> onto = at(parent);
  return data->hasFormat(QLatin1String(kModelsDragged)) && onto && onto->thing == mod::Thing::object;
}

bool ContentsRows::dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                                const QModelIndex& parent) {
  if (!canDropMimeData(data, action, row, column, parent)) return false;
  const QString names = QString::fromUtf8(data->data(QLatin1String(kModelsDragged)));
  Q_EMIT modelsDropped(names.split(QLatin1Char('\n')), q(at(parent)->name));
  return true;
}

bool ContentsRows::wanted(const What& what, const ContentsFilter& filter) const {
  if (filter.only_open && known_ && markOf(what) == 3) return false;
  return filter.words.isEmpty() || titleOf(what).contains(filter.words, Qt::CaseInsensitive) ||
         q(what.name).contains(filter.words, Qt::CaseInsensitive);
}

void ContentsRows::findMarks() {
  marks_.clear();
  const auto& x = session_.examination();
  known_ = x != nullptr;
  if (!x) return;
  for (const check::Finding& f : x->findings) {
    if (f.set_aside) continue;
    for (const auto& [thing, name] :
         {std::pair(mod::Thing::object, &f.place.object), std::pair(mod::Thing::model, &f.place.model),
          std::pair(mod::Thing::source, &f.place.source)}) {
      if (name->empty()) continue;
      const int severity = static_cast<int>(f.severity);
      const auto [at, fresh] = marks_.emplace(markKey(thing, *name), severity);
      if (!fresh) at->second = std::min(at->second, severity);
    }
  }
}

void ContentsRows::refresh(const ContentsFilter& filter) {
  std::vector<Row> now;
  if (session_.isOpen()) {
    findMarks();
    const mod::ModState& state = session_.state();
    unsaved_ = mod::changedPaths(state, *session_.history().saved());
    for (const mod::Thing thing : {mod::Thing::object, mod::Thing::model, mod::Thing::source}) {
      std::vector<Row> of_it;
      for (std::string& name : mod::namesOf(state, thing))
        if (const What what{thing, std::move(name)}; wanted(what, filter)) of_it.push_back({what, thing});
      if (of_it.empty() && (filter.only_open || !filter.words.isEmpty())) continue;
      now.push_back({{}, thing});
      std::move(of_it.begin(), of_it.end(), std::back_inserter(now));
    }
  }
  if (now != rows_) {
    beginResetModel();
    rows_ = std::move(now);
    endResetModel();
  } else if (!rows_.empty()) {
    Q_EMIT dataChanged(index(0), index(rowCount() - 1));
  }
}

void ContentsRows::setPictures(const What& what, QVector<QImage> round) {
  (what.thing == mod::Thing::source ? source_pictures_ : model_pictures_)[what.name] = std::move(round);
  // Models show their source's until they have pictures of their own.
  if (!rows_.empty()) Q_EMIT dataChanged(index(0), index(rowCount() - 1), {pictures_role});
}

void ContentsRows::forgetPictures() {
  model_pictures_.clear();
  source_pictures_.clear();
}

}  // namespace rakugo::app
