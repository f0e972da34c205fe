#include "app/shell/shortcuts.h"

#include <QDialogButtonBox>
#include <QHeaderView>
#include <QKeySequenceEdit>
#include <QLineEdit>
#include <QSettings>
#include <QSortFilterProxyModel>
#include <QTableView>

#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

// The editor of a cell: one chord is enough; Esc and Tab stay what they are everywhere.
class KeysDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&,
                        const QModelIndex& index) const override {
    auto* edit = new QKeySequenceEdit(parent);
    edit->setObjectName(QStringLiteral("keys-edit"));
    edit->setAccessibleName(
        tr("New keys for %1").arg(index.siblingAtColumn(Shortcuts::kWhat).data().toString()));
    connect(
        edit, &QKeySequenceEdit::editingFinished, this,
        [this, edit] {
          auto* self = const_cast<KeysDelegate*>(this);
          Q_EMIT self->commitData(edit);
          Q_EMIT self->closeEditor(edit);
        },
        Qt::SingleShotConnection);
    return edit;
  }
  void setEditorData(QWidget*, const QModelIndex&) const override {
  }  // begins empty: the old keys show beneath
  void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override {
    const QKeySequence keys = static_cast<QKeySequenceEdit*>(editor)->keySequence();
    if (!keys.isEmpty()) model->setData(index, QKeySequence(keys[0]), Qt::EditRole);
  }
};

QString keyOf(const QString& action) { return QStringLiteral("keys/") + action; }

}  // namespace

void Shortcuts::add(QAction* action, const QString& menu) {
  const int row = static_cast<int>(known_.size());
  beginInsertRows({}, row, row);
  // As it is called now: some say later what they would undo.
  QString what = menu + QStringLiteral(": ") + action->text();
  what.remove(QLatin1Char('&')).remove(QChar(0x2026));
  known_.push_back({action, what, action->shortcut()});
  const QVariant kept = QSettings().value(keyOf(action->objectName()));
  if (kept.isValid()) action->setShortcut(QKeySequence(kept.toString(), QKeySequence::PortableText));
  endInsertRows();
}

int Shortcuts::rowOf(const QKeySequence& keys) const {
  if (keys.isEmpty()) return -1;
  for (int row = 0; row < known_.size(); ++row)
    if (known_[row].action->shortcut() == keys) return row;
  return -1;
}

void Shortcuts::keep(const Known& known) const {
  QSettings settings;
  const QString key = keyOf(known.action->objectName());
  if (known.action->shortcut() == known.first)
    settings.remove(key);
  else
    settings.setValue(key, known.action->shortcut().toString(QKeySequence::PortableText));
}

void Shortcuts::given(int row, const QKeySequence& keys) {
  known_[row].action->setShortcut(keys);
  keep(known_[row]);
  Q_EMIT dataChanged(index(row, kKeys), index(row, kKeys));
}

void Shortcuts::change(int row, const QKeySequence& keys) {
  const int other = rowOf(keys);
  if (other == row) return;
  if (other >= 0) given(other, {});
  given(row, keys);
}

void Shortcuts::reset() {
  for (int row = 0; row < known_.size(); ++row) given(row, known_[row].first);
}

QString Shortcuts::firstKeys(int row) const { return known_[row].first.toString(QKeySequence::NativeText); }

int Shortcuts::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(known_.size());
}

int Shortcuts::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : kColumns; }

QVariant Shortcuts::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= known_.size()) return {};
  const Known& known = known_[index.row()];
  if (index.column() == kWhat && role == Qt::DisplayRole) return known.what;
  if (index.column() == kKeys && (role == Qt::DisplayRole || role == Qt::EditRole))
    return known.action->shortcut().toString(QKeySequence::NativeText);
  if (role == Qt::ToolTipRole && known.action->shortcut() != known.first)
    return known.first.isEmpty() ? tr("At first it had no keys")
                                 : tr("At first it was %1").arg(firstKeys(index.row()));
  return {};
}

bool Shortcuts::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (!index.isValid() || index.column() != kKeys || role != Qt::EditRole) return false;
  change(index.row(),
         value.canConvert<QKeySequence>() ? value.value<QKeySequence>() : QKeySequence(value.toString()));
  return true;
}

Qt::ItemFlags Shortcuts::flags(const QModelIndex& index) const {
  const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
  return index.column() == kKeys ? usual | Qt::ItemIsEditable : usual;
}

QVariant Shortcuts::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  return section == kWhat ? tr("What") : tr("Keys");
}

ShortcutsDialog::ShortcutsDialog(Shortcuts& shortcuts, QWidget* parent)
    : QDialog(parent), shown_(new QSortFilterProxyModel(this)) {
  setObjectName(QStringLiteral("keys"));
  setWindowTitle(tr("Keys"));
  resize(560, 600);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 20, 24, 18);
  column->setSpacing(8);
  auto* search = new QLineEdit(this);
  search->setObjectName(QStringLiteral("keys-search"));
  search->setAccessibleName(tr("Search"));
  search->setPlaceholderText(tr("Search what or keys"));
  column->addWidget(search);
  shown_->setSourceModel(&shortcuts);
  shown_->setFilterKeyColumn(-1);
  shown_->setFilterCaseSensitivity(Qt::CaseInsensitive);
  connect(search, &QLineEdit::textChanged, shown_, &QSortFilterProxyModel::setFilterFixedString);
  auto* table = new QTableView(this);
  table->setObjectName(QStringLiteral("keys-table"));
  table->setAccessibleName(windowTitle());
  table->setModel(shown_);
  table->setItemDelegate(new KeysDelegate(table));
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setSelectionMode(QAbstractItemView::SingleSelection);
  table->setTabKeyNavigation(false);
  table->setShowGrid(false);
  table->verticalHeader()->hide();
  table->horizontalHeader()->setSectionResizeMode(Shortcuts::kWhat, QHeaderView::Stretch);
  table->horizontalHeader()->setSectionResizeMode(Shortcuts::kKeys, QHeaderView::Fixed);
  table->setColumnWidth(Shortcuts::kKeys, 170);
  table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  connect(table, &QTableView::activated, this,
          [table](const QModelIndex& at) { table->edit(at.siblingAtColumn(Shortcuts::kKeys)); });
  column->addWidget(table, 1);
  column->addWidget(
      quietText(tr("Double click or Enter on a row, then press the new keys; whatever had them "
                   "loses them. In the bench: "
                   "arrows turn it, with shift they move it, + and − bring it nearer; Enter shows a "
                   "crosshair that points, clicks and drags as the mouse does, Esc ends that. Over a "
                   "step: B, held, shows the model before it; Alt with up and down moves it. "
                   "Everywhere: Tab goes on, Space presses."),
                this));
  auto* buttons = new QDialogButtonBox(this);
  auto* clear = buttons->addButton(tr("No keys for this"), QDialogButtonBox::ActionRole);
  clear->setObjectName(QStringLiteral("keys-clear"));
  auto* reset = buttons->addButton(tr("All as at first"), QDialogButtonBox::ResetRole);
  reset->setObjectName(QStringLiteral("keys-reset"));
  buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
  column->addWidget(buttons);
  clear->setEnabled(false);
  connect(table->selectionModel(), &QItemSelectionModel::selectionChanged, this,
          [clear, table] { clear->setEnabled(table->selectionModel()->hasSelection()); });
  connect(clear, &QPushButton::clicked, this, [this, table, &shortcuts] {
    const QModelIndex at = shown_->mapToSource(table->currentIndex());
    if (at.isValid()) shortcuts.change(at.row(), {});
  });
  connect(reset, &QPushButton::clicked, &shortcuts, &Shortcuts::reset);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  search->setFocus();
}

}  // namespace rakugo::app
