#include "app/shell/edits_dialog.h"

#include <QDialogButtonBox>
#include <QListWidget>

#include "app/widgets/panels.h"
#include "mod/changes.h"

namespace rakugo::app {

EditsDialog::EditsDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
  setObjectName(QStringLiteral("edits"));
  setWindowTitle(tr("All edits"));
  resize(680, 560);
  QVBoxLayout* column = dialogColumn(this, 8);
  column->addWidget(
      quietText(tr("The last one stands at the top. What is gone back to is as it was then; what came "
                   "after stays in the list until something else is edited."),
                this));
  const auto list = [&](const char* name, const QString& heard) {
    auto* out = new QListWidget(this);
    out->setObjectName(QLatin1String(name));
    out->setAccessibleName(heard);
    out->setWordWrap(true);
    return out;
  };
  edits_ = list("edits-list", windowTitle());
  column->addWidget(edits_, 3);
  column->addWidget(heading(tr("What it changed"), this));
  changed_ = list("edits-changed", tr("What the chosen edit changed"));
  changed_->setSelectionMode(QAbstractItemView::NoSelection);
  column->addWidget(changed_, 2);
  auto* buttons = new QDialogButtonBox(this);
  go_ = new QPushButton(tr("Go back to here"), this);
  go_->setObjectName(QStringLiteral("edits-go"));
  go_->setProperty("lead", true);
  buttons->addButton(go_, QDialogButtonBox::ActionRole);
  buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
  column->addWidget(buttons);
  connect(edits_, &QListWidget::currentRowChanged, this, &EditsDialog::describe);
  connect(edits_, &QListWidget::itemActivated, this, &EditsDialog::goTo);
  connect(go_, &QPushButton::clicked, this, &EditsDialog::goTo);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  this->list();
  edits_->setFocus();
}

void EditsDialog::list() {
  edits_->clear();
  const auto all = session_.history().all();
  const size_t now = session_.history().at();
  for (size_t i = all.size(); i-- > 0;) {
    const QString label = all[i].first.empty() ? tr("As it was opened") : q(all[i].first);
    auto* item = new QListWidgetItem(i == now  ? tr("➤ %1 (this is shown)").arg(label)
                                     : i > now ? tr("%1 (undone)").arg(label)
                                               : label,
                                     edits_);
    item->setData(Qt::UserRole, static_cast<qulonglong>(i));
  }
  edits_->setCurrentRow(static_cast<int>(all.size() - 1 - now));
}

void EditsDialog::describe(int row) {
  changed_->clear();
  const auto all = session_.history().all();
  if (row < 0 || static_cast<size_t>(row) >= all.size()) return;
  const size_t place = all.size() - 1 - static_cast<size_t>(row);
  go_->setEnabled(place != session_.history().at());
  if (place == 0) return changed_->addItem(tr("Nothing: so the mod was read."));
  const mod::ModState &before = *all[place - 1].second, &after = *all[place].second;
  constexpr size_t kMost = 100;
  const auto differences = mod::differences(after, before, mod::changedPaths(after, before), kMost);
  for (const mod::Difference& one : differences) changed_->addItem(q(one.text("before")));
  if (differences.empty()) changed_->addItem(tr("No value of a document: a picture, or nothing at all."));
  if (differences.size() == kMost) changed_->addItem(tr("… and more"));
}

void EditsDialog::goTo() {
  const QListWidgetItem* item = edits_->currentItem();
  if (item == nullptr) return;
  session_.goTo(item->data(Qt::UserRole).toULongLong());
  list();
}

}  // namespace rakugo::app
