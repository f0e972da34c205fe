#include "app/shell/new_mod_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QHeaderView>
#include <QLineEdit>
#include <QTableWidget>

#include "app/widgets/panels.h"
#include "base/jobs.h"
#include "base/text.h"
#include "mod/store.h"
#include "packing/install.h"
#include "prepare/naming.h"

namespace rakugo::app {
namespace {

constexpr int kBlank = 0, kOther = 1, kCopy = 2;  // what an entry of `from_` begins from

}  // namespace

// The mod that is copied, and its game's rules.
struct NewModDialog::Copied {
  std::filesystem::path folder;
  base::Result<mod::ModState> state = base::cancelledError();
  base::Result<rulebook::Rulebook> book = base::cancelledError();
};

NewModChoices NewModChoices::read(const std::filesystem::path& game) {
  NewModChoices out;
  for (const std::string& id : rulebook::rulebookIds())
    if (auto book = rulebook::findRulebook(id))
      out.books.push_back(std::move(book).value());
    else
      out.unusable.push_back(book.error());
  for (const check::InstalledMod& one : packing::installedMods(game)) out.taken.insert(one.id);
  return out;
}

NewModDialog::NewModDialog(NewModChoices choices, const QString& copy_of, QWidget* parent)
    : QDialog(parent), taken_(std::move(choices.taken)) {
  setWindowTitle(tr("Start a new mod"));
  setObjectName(QStringLiteral("new-mod"));
  QVBoxLayout* column = dialogColumn(this, 6);
  from_ = new QComboBox(this);
  addLabelled(tr("Begin from"), from_, "new-from");
  from_->addItem(tr("Nothing: a blank mod"), kBlank);
  book_ = new QComboBox(this);
  const QString origin = listBooks(choices);
  from_->addItem(tr("A copy of another mod…"), kOther);
  title_ = new QLineEdit(this);
  addLabelled(tr("Title"), title_, "new-title");
  book_label_ = addLabelled(tr("Game"), book_, "new-rulebook");
  if (!origin.isEmpty()) {
    origin_ = quietText(origin, this);
    origin_->setObjectName(QStringLiteral("new-rulebook-origin"));
    origin_->setWordWrap(true);
    column->addWidget(origin_);
  }
  folder_ = new QLineEdit(this);
  addLabelled(tr("Folder, new or empty"), folder_, "new-folder");
  addNames();
  why_ = new QLabel(this);
  why_->setWordWrap(true);
  why_->setProperty("tone", QByteArray("stops"));
  why_->setObjectName(QStringLiteral("new-why"));
  column->addWidget(why_);
  auto* buttons = new QDialogButtonBox(this);
  make_ = new QPushButton(tr("Start it"), this);
  make_->setProperty("lead", true);  // before the box shows it: a style sheet looks at properties once
  buttons->addButton(make_, QDialogButtonBox::AcceptRole);
  make_->setObjectName(QStringLiteral("new-make"));
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  column->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(buttons, &QDialogButtonBox::accepted, this, &NewModDialog::make);
  listen();
  beginFrom(copy_of);
}

QLabel* NewModDialog::addLabelled(const QString& title, QWidget* widget, const char* id) {
  auto* column = static_cast<QVBoxLayout*>(layout());
  QLabel* label = quietText(title, this);
  column->addWidget(label);
  widget->setObjectName(QString::fromLatin1(id));
  widget->setAccessibleName(title);
  widget->setMinimumWidth(460);
  column->addWidget(widget);
  return label;
}

QString NewModDialog::listBooks(const NewModChoices& choices) {
  QString origin;
  for (const rulebook::Rulebook& book : choices.books) {
    book_->addItem(q(book.title), q(book.id));
    if (!book.hides.empty())
      origin += tr("The rules of %1 are those in %2; the ones in %3 are hidden by them. ")
                    .arg(q(book.title), q(book.folder.string()), q(book.hides.front().string()));
    for (const rulebook::Sample& sample : book.samples) {
      from_->addItem(tr("The sample %1 of %2").arg(q(sample.title), q(book.title)), kCopy);
      from_->setItemData(from_->count() - 1, q((book.folder / sample.folder).string()), Qt::UserRole + 1);
    }
  }
  for (const base::Error& error : choices.unusable)
    origin += tr("A game cannot be chosen: %1 ").arg(q(error.text()));
  return origin.trimmed();
}

void NewModDialog::addNames() {
  names_label_ = quietText(tr("What will be called otherwise. Objects can be given other names here."), this);
  names_ = new QTableWidget(this);
  names_->setObjectName(QStringLiteral("new-names"));
  names_->setAccessibleName(tr("Names in the copy"));
  names_->setColumnCount(3);
  names_->setHorizontalHeaderLabels({tr("What"), tr("Was"), tr("Will be")});
  names_->verticalHeader()->hide();
  names_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  names_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
  names_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  names_->setShowGrid(false);
  names_->setMinimumHeight(170);
  names_->setTabKeyNavigation(false);
  layout()->addWidget(names_label_);
  layout()->addWidget(names_);
}

void NewModDialog::listen() {
  connect(folder_, &QLineEdit::textEdited, this, [this] { own_folder_ = true; });
  connect(title_, &QLineEdit::textChanged, this, [this](const QString& text) {
    if (!own_folder_)
      folder_->setText(QDir::home().filePath(QStringLiteral("mods/") + q(base::slug(s(text)))));
    replan();
  });
  connect(from_, &QComboBox::activated, this, [this] {
    const int what = from_->currentData().toInt();
    if (what == kBlank) return chooseCopy({});
    if (what == kCopy) return chooseCopy(from_->currentData(Qt::UserRole + 1).toString());
    const QString other = QFileDialog::getExistingDirectory(this, tr("The mod to copy"), QDir::homePath());
    if (other.isEmpty()) {
      from_->setCurrentIndex(0);
      return chooseCopy({});
    }
    chooseCopy(other);
  });
  connect(names_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (filling_ || item->column() != 2) return;
    chosen_[s(names_->item(item->row(), 1)->text())] = s(item->text());
    replan();
  });
}

void NewModDialog::beginFrom(const QString& copy_of) {
  if (!copy_of.isEmpty()) {
    const int known = from_->findData(copy_of, Qt::UserRole + 1);
    if (known < 0) {
      from_->addItem(tr("A copy of %1").arg(QDir(copy_of).dirName()), kCopy);
      from_->setItemData(from_->count() - 1, copy_of, Qt::UserRole + 1);
    }
    from_->setCurrentIndex(known >= 0 ? known : from_->count() - 1);
  }
  chooseCopy(copy_of);
}

QString NewModDialog::folder() const { return folder_->text(); }
void NewModDialog::setTitle(const QString& title) { title_->setText(title); }

void NewModDialog::say(const QString& problem) { why_->setText(problem); }

void NewModDialog::chooseCopy(const QString& folder) {
  copied_.reset();
  plan_.reset();
  chosen_.clear();
  reading_ = folder;
  make_->setEnabled(folder.isEmpty());
  say({});
  if (folder.isEmpty()) return showRows();
  background_.post([this, folder](base::Progress& progress) -> Background::Finish {
    auto copied = std::make_shared<Copied>();
    copied->folder = s(folder);
    copied->state = mod::loadMod(copied->folder, nullptr, &progress);
    if (copied->state) copied->book = rulebook::findRulebook(copied->state->card.rulebook);
    return [this, folder, copied] {
      if (folder == std::exchange(reading_, QString())) takeCopy(copied);
    };
  });
}

void NewModDialog::takeCopy(std::shared_ptr<const Copied> copied) {
  make_->setEnabled(true);
  if (!copied->state || !copied->book) {
    from_->setCurrentIndex(0);
    say(q((!copied->state ? copied->state.error() : copied->book.error()).text()));
  } else {
    copied_ = std::move(copied);
  }
  showRows();
}

void NewModDialog::showRows() {
  const bool copy = copied_ != nullptr;
  book_->setVisible(!copy);
  if (origin_ != nullptr) origin_->setVisible(!copy);
  book_label_->setVisible(!copy);
  names_->setVisible(copy);
  names_label_->setVisible(copy);
  replan();
  adjustSize();
}

void NewModDialog::replan() {
  if (!copied_) return;
  const std::string title = s(title_->text().trimmed());
  std::set<std::string> taken = taken_;
  taken.insert(copied_->state->card.id);
  if (id_.rfind(base::slug(title) + "-", 0) != 0 || taken.count(id_) != 0)
    id_ = mod::freshModId(title, taken);
  plan_ = mod::planCopy(copied_->folder, *copied_->state, title, id_, prepare::namingValues(*copied_->book),
                        chosen_);
  filling_ = true;
  names_->setRowCount(static_cast<int>(plan_->renames.size()));
  int row = 0;
  for (const mod::Rename& r : plan_->renames) {
    const QString cells[] = {QString::fromLatin1(mod::renameSortName(r.sort)), q(r.from), q(r.to)};
    for (int c = 0; c < 3; ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      // Objects are what the game and other mods know by name; the rest follows them.
      if (c != 2 || r.sort != mod::Rename::Sort::object) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      names_->setItem(row, c, item);
    }
    ++row;
  }
  filling_ = false;
  say(plan_->mistakes.empty() ? QString() : q(plan_->mistakes.front().text()));
}

void NewModDialog::make() {
  const QString title = title_->text().trimmed();
  if (title.isEmpty()) return say(tr("Give it a title."));
  if (copied_) replan();
  // Files are written by a job; until it is done nothing here can be changed.
  setEnabled(false);
  const std::filesystem::path folder = s(folder_->text());
  background_.post([this, folder, title = s(title), book = s(book_->currentData().toString()),
                    copied = copied_, plan = plan_,
                    taken = taken_](base::Progress& progress) -> Background::Finish {
    const auto make = [&]() -> base::Status {
      if (copied) return mod::makeCopy(copied->folder, folder, *plan, &progress);
      RAKUGO_ASSIGN(const rulebook::Rulebook rules, rulebook::findRulebook(book));
      const auto made = mod::newMod(folder, title, rules.id, rules.version, taken);
      return made ? base::Status() : base::Status(made.error());
    };
    const base::Status made = make();
    return [this, made] {
      setEnabled(true);
      if (!made) return say(q(made.error().text()));
      accept();
    };
  });
}

}  // namespace rakugo::app
