#include "app/shell/taking_dialog.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "mod/store.h"

namespace rakugo::app {
namespace {

constexpr int kPicture_px = 56;

// What a bundle holds, with its icons.
struct Holds {
  std::vector<packing::ObjectInBundle> things;
  std::vector<QImage> icons;
  QString title, problem;
};

Holds holdsOf(const std::filesystem::path& file, const rulebook::Rulebook& book) {
  Holds out;
  const auto bundle = bundle::Bundle::open(file);
  if (!bundle) {
    out.problem = q(bundle.error().text());
    return out;
  }
  out.title = q(bundle->manifest().title);
  out.things = packing::objectsIn(*bundle);
  for (const packing::ObjectInBundle& one : out.things) {
    const base::Bytes png = packing::iconIn(*bundle, one.id);
    out.icons.push_back(
        QImage::fromData(reinterpret_cast<const uchar*>(png.data()), static_cast<int>(png.size())));
  }
  if (bundle->manifest().rulebook_id != book.id)
    out.problem = TakingDialog::tr("It was made for another game: what that calls otherwise stays as it is.");
  return out;
}

}  // namespace

TakingDialog::TakingDialog(std::shared_ptr<const rulebook::Rulebook> book, std::filesystem::path folder,
                           std::shared_ptr<const mod::ModState> state, QWidget* parent)
    : QDialog(parent), book_(std::move(book)), folder_(std::move(folder)), state_(std::move(state)) {
  setObjectName(QStringLiteral("taking-dialog"));
  setWindowTitle(tr("Begin from something that works"));
  resize(460, 480);
  QVBoxLayout* column = dialogColumn(this, 10);
  auto* head = new QHBoxLayout;
  from_ = quietText(tr("Looking…"), this);
  head->addWidget(from_, 1);
  auto* other = new QPushButton(tr("From a bundle…"), this);
  other->setObjectName(QStringLiteral("other-bundle"));
  other->setProperty("quiet", true);
  connect(other, &QPushButton::clicked, this, &TakingDialog::askBundle);
  head->addWidget(other);
  column->addLayout(head);
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("things"));
  list_->setAccessibleName(tr("Things to begin from"));
  list_->setIconSize(QSize(kPicture_px, kPicture_px));
  connect(list_, &QListWidget::currentRowChanged, this, &TakingDialog::chosen);
  connect(list_, &QListWidget::itemActivated, this, &TakingDialog::take);
  column->addWidget(list_, 1);
  column->addWidget(
      quietText(tr("What it is called in your mod; everything in it is named after that."), this));
  title_ = new QLineEdit(this);
  title_->setObjectName(QStringLiteral("taken-title"));
  title_->setAccessibleName(tr("Title of the new object"));
  connect(title_, &QLineEdit::textEdited, this, [this] { own_title_ = true; });
  connect(title_, &QLineEdit::textChanged, this,
          [this] { take_->setEnabled(list_->currentRow() >= 0 && !title_->text().trimmed().isEmpty()); });
  column->addWidget(title_);
  said_ = plainText(QString(), this);
  said_->setObjectName(QStringLiteral("taking-problem"));
  said_->hide();
  column->addWidget(said_);
  auto* buttons = new QDialogButtonBox(this);
  take_ = buttons->addButton(tr("Take it"), QDialogButtonBox::AcceptRole);
  take_->setObjectName(QStringLiteral("take"));
  take_->setEnabled(false);
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &TakingDialog::take);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
  if (book_->own_things.empty())
    from_->setText(tr("The rulebook of %1 brings nothing of the game's own.").arg(q(book_->title)));
  else
    look(book_->folder / book_->own_things);
}

void TakingDialog::say(const QString& text) {
  said_->setText(text);
  said_->setVisible(!text.isEmpty());
}

void TakingDialog::askBundle() {
  const QString file =
      QFileDialog::getOpenFileName(this, tr("A bundle"), {}, tr("Bundles (*.rkb);;All files (*)"));
  if (!file.isEmpty()) look(s(file));
}

void TakingDialog::look(const std::filesystem::path& bundle) {
  bundle_ = bundle;
  from_->setText(tr("Looking…"));
  background_.post([this, bundle, book = book_](base::Progress&) -> Background::Finish {
    auto holds = std::make_shared<Holds>(holdsOf(bundle, *book));
    return [this, bundle, holds] {
      if (bundle != bundle_) return;  // another was asked for since
      things_ = holds->things;
      list_->clear();
      for (size_t i = 0; i < things_.size(); ++i) {
        const rulebook::Kind* kind = book_->findKind(things_[i].kind);
        auto* item = new QListWidgetItem(
            tr("%1\n%2").arg(q(things_[i].title), q(kind != nullptr ? kind->title : things_[i].kind)), list_);
        if (!holds->icons[i].isNull())
          item->setIcon(QIcon(QPixmap::fromImage(holds->icons[i].scaled(
              kPicture_px, kPicture_px, Qt::KeepAspectRatio, Qt::SmoothTransformation))));
      }
      from_->setText(things_.empty() ? tr("Nothing that could be taken.") : holds->title);
      say(holds->problem);
      if (!things_.empty()) list_->setCurrentRow(0);
      list_->setFocus();
    };
  });
}

void TakingDialog::chosen() {
  const int row = list_->currentRow();
  if (row < 0 || row >= static_cast<int>(things_.size())) return;
  if (!own_title_) title_->setText(tr("My %1").arg(q(things_[static_cast<size_t>(row)].title).toLower()));
}

void TakingDialog::take() {
  const int row = list_->currentRow();
  const std::string title = s(title_->text().trimmed());
  if (row < 0 || title.empty() || !take_->isEnabled()) return;
  take_->setEnabled(false);
  say({});
  const std::string id = things_[static_cast<size_t>(row)].id;
  const std::string name = mod::freeName(state_->objects, base::slug(title));
  background_.post([=, this, book = book_, folder = folder_, bundle = bundle_,
                    state = state_](base::Progress&) -> Background::Finish {
    auto made = std::make_shared<Taken>(Taken{*state, {}});
    const auto opened = bundle::Bundle::open(bundle);
    auto taken = opened ? packing::takeObject(folder, made->state, *book, *opened, id, name, title)
                        : base::Result<packing::TakenObject>(opened.error());
    QString problem;
    if (taken)
      made->object = std::move(taken).value();
    else
      problem = q(taken.error().text());
    return [this, made, problem] {
      take_->setEnabled(true);
      if (!problem.isEmpty()) return say(problem);
      taken_ = made;
      accept();
    };
  });
}

}  // namespace rakugo::app
