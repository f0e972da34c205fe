#include "app/shell/dialogs.h"

#include <QDateTime>
#include <QDialogButtonBox>
#include <QListWidget>
#include <QPushButton>
#include <set>

#include "app/widgets/panels.h"

namespace rakugo::app {

Question::Question(const char* name, const QString& title, const QString& text, QWidget* parent)
    : QDialog(parent) {
  setObjectName(QString::fromLatin1(name));
  setWindowTitle(title);
  column_ = dialogColumn(this, 10);
  QLabel* label = plainText(text, this);
  label->setMinimumWidth(440);
  column_->addWidget(label);
  buttons_ = new QDialogButtonBox(this);
  column_->addWidget(buttons_);
}

QListWidget* Question::addLines(const QStringList& lines) {
  auto* list = new QListWidget(this);
  list->setObjectName(objectName() + QStringLiteral("-lines"));
  list->setAccessibleName(windowTitle());
  list->setWordWrap(true);
  list->setSelectionMode(QAbstractItemView::NoSelection);
  list->addItems(lines);
  list->setMinimumHeight(std::min(260, 26 * static_cast<int>(lines.size()) + 14));
  column_->insertWidget(column_->count() - 1, list);
  return list;
}

void Question::addChoice(const char* name, const QString& text, int result) {
  auto* button = new QPushButton(text, this);
  button->setObjectName(QString::fromLatin1(name));
  const bool first = buttons_->buttons().isEmpty();
  button->setProperty("lead", first);  // before the box shows it: a style sheet looks at properties once
  buttons_->addButton(button, QDialogButtonBox::ActionRole);
  button->setDefault(first);
  connect(button, &QPushButton::clicked, this, [this, result] { done(result); });
}

std::vector<prepare::Given> askSourceChoice(const std::vector<prepare::Given>& given, QWidget* parent) {
  Question dialog(
      "choose-sources", Question::tr("Which of them?"),
      Question::tr("There is more than one thing in what you gave. Each that is marked becomes a source of "
                   "its own; of a model in several formats the one that carries most is marked."),
      parent);
  QStringList lines;
  for (const prepare::Given& one : given) lines << q(one.shown());
  QListWidget* list = dialog.addLines(lines);
  const std::vector<bool> likely = prepare::likelyChoice(given);
  for (int i = 0; i < list->count(); ++i) {
    QListWidgetItem* item = list->item(i);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(likely[static_cast<size_t>(i)] ? Qt::Checked : Qt::Unchecked);
    item->setToolTip(q(given[static_cast<size_t>(i)].file.string()));
  }
  list->setSelectionMode(QAbstractItemView::SingleSelection);
  dialog.addChoice("choose-sources-yes", Question::tr("Take the marked ones in"), 1);
  dialog.addChoice("choose-sources-no", Question::tr("None"), 2);
  std::vector<prepare::Given> out;
  if (dialog.exec() != 1) return out;
  for (int i = 0; i < list->count(); ++i)
    if (list->item(i)->checkState() == Qt::Checked) out.push_back(given[static_cast<size_t>(i)]);
  return out;
}

bool askTakeBack(const mod::JournalContent& found, QWidget* parent) {
  const QDateTime last = QDateTime::fromString(q(found.edits.back().at), Qt::ISODate).toLocalTime();
  Question dialog(
      "take-back", Question::tr("Edits that were not saved"),
      Question::tr("Rakugo ended on %1 before these edits were saved. They can be taken back as they were; "
                   "each can then be undone.")
          .arg(QLocale().toString(last, QLocale::ShortFormat)),
      parent);
  QStringList lines;
  for (const mod::JournalEdit& edit : found.edits) {
    QStringList documents;
    for (const auto& [path, content] : edit.changes) documents << q(path);
    lines << QStringLiteral("%1  (%2)").arg(q(edit.label), documents.join(QStringLiteral(", ")));
  }
  dialog.addLines(lines);
  dialog.addChoice("take-back-yes", Question::tr("Take them back"), 1);
  dialog.addChoice("take-back-no", Question::tr("Leave them out"), 2);
  return dialog.exec() != 2;
}

int askOutside(const std::vector<mod::Difference>& differences, bool unsaved, QWidget* parent) {
  Question dialog(
      "outside", Question::tr("Changed by another program"),
      unsaved ? Question::tr("These files on disk are no longer what they were. There are unsaved edits "
                             "here too; taking the files keeps those edits only where the files did not "
                             "change. Either can be undone.")
              : Question::tr("These files on disk are no longer what they were."),
      parent);
  QStringList lines;
  for (const mod::Difference& d : differences) lines << q(d.text("on disk"));
  if (lines.isEmpty())
    lines << Question::tr("Only the layout of the files differs; every value is the same.");
  dialog.addLines(lines);
  dialog.addChoice("outside-take", Question::tr("Take what is on disk"), 1);
  dialog.addChoice("outside-keep", Question::tr("Keep what is open here"), 2);
  dialog.addChoice("outside-later", Question::tr("Decide later"), 0);
  return dialog.exec();
}

int askUnsaved(const QString& title, QWidget* parent) {
  Question dialog("unsaved", Question::tr("Unsaved edits"),
                  Question::tr("%1 has edits that are not saved.").arg(title), parent);
  dialog.addChoice("unsaved-save", Question::tr("Save them"), 1);
  dialog.addChoice("unsaved-leave", Question::tr("Leave them out"), 2);
  dialog.addChoice("unsaved-stay", Question::tr("Go back"), 0);
  return dialog.exec();
}

}  // namespace rakugo::app
