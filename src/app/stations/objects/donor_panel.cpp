#include "app/stations/objects/donor_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QPointer>
#include <QPushButton>
#include <QSignalBlocker>
#include <algorithm>

#include "app/widgets/panels.h"
#include "check/donor_box.h"
#include "mod/store.h"

namespace rakugo::app {
namespace {

// In the list of donors: objects of the other mod begin so.
const QString kOfOther = QStringLiteral("other/");

}  // namespace

DonorPanel::DonorPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  donors_ = new QComboBox(this);
  donors_->setObjectName(QStringLiteral("donor"));
  donors_->setAccessibleName(tr("The object that has it"));
  donors_->setToolTip(donors_->accessibleName());
  donors_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  donors_->setMinimumContentsLength(12);
  connect(donors_, &QComboBox::activated, this, [this] {
    listed_for_.clear();
    list();
  });
  column->addWidget(donors_);
  auto* other = new QPushButton(tr("Of another mod…"), this);
  other->setObjectName(QStringLiteral("donor-mod"));
  other->setProperty("quiet", true);
  connect(other, &QPushButton::clicked, this, [this] {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("The mod whose objects have it"), QDir::homePath());
    if (!folder.isEmpty()) openOther(folder.toStdString());
  });
  column->addWidget(other, 0, Qt::AlignLeft);
  said_ = quietText(QString(), this);
  said_->setObjectName(QStringLiteral("donor-said"));
  column->addWidget(said_);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  column->addLayout(rows_);
  take_ = new QPushButton(tr("Take what is marked"), this);
  take_->setObjectName(QStringLiteral("donor-take"));
  connect(take_, &QPushButton::clicked, this, &DonorPanel::take);
  column->addWidget(take_, 0, Qt::AlignLeft);
}

void DonorPanel::openOther(const std::filesystem::path& folder) {
  const QPointer<DonorPanel> here(this);
  said_->setText(tr("reading…"));
  session_.background().post([here, folder](base::Progress&) -> Background::Finish {
    auto loaded = mod::loadMod(folder);
    std::shared_ptr<const mod::ModState> mod;
    std::string problem;
    if (loaded)
      mod = std::make_shared<const mod::ModState>(std::move(loaded).value());
    else
      problem = loaded.error().text();
    return [here, folder, mod, problem] {
      if (here == nullptr) return;
      if (mod == nullptr) {
        here->said_->clear();
        Q_EMIT here->tell(q(problem));
        return;
      }
      here->other_ = Other{folder, mod, {}};
      here->listDonors();
      if (!mod->objects.empty())
        here->donors_->setCurrentIndex(here->donors_->findData(kOfOther + q(mod->objects.begin()->first)));
      here->listed_for_.clear();
      here->list();
    };
  });
}

void DonorPanel::refresh() {
  listDonors();
  list();
}

// Those of the same kind first.
void DonorPanel::listDonors() {
  const QSignalBlocker quiet(donors_);
  const QString now = donors_->currentData().toString();
  donors_->clear();
  if (!session_.isOpen()) return;
  const auto mine = session_.state().objects.find(session_.object());
  if (mine == session_.state().objects.end()) return;
  donors_->addItem(tr("choose…"), QString());
  for (const bool same : {true, false})
    for (const auto& [name, doc] : session_.state().objects)
      if (name != mine->first && (doc.kind == mine->second.kind) == same)
        donors_->addItem(q(doc.title.empty() ? name : doc.title), q(name));
  if (other_)
    for (const auto& [name, doc] : other_->mod->objects)
      donors_->addItem(
          tr("%1 of %2").arg(q(doc.title.empty() ? name : doc.title), q(other_->mod->card.title)),
          kOfOther + q(name));
  donors_->setCurrentIndex(std::max(0, donors_->findData(now)));
}

prepare::DonorSide DonorPanel::taker() const {
  const auto& x = session_.examination();
  return {session_.state(), session_.object(),
          x ? check::boxOfObject(x->context, session_.object()) : geometry::Bounds()};
}

std::optional<prepare::DonorSide> DonorPanel::donor() const {
  const QString chosen = donors_->currentData().toString();
  if (chosen.isEmpty()) return std::nullopt;
  if (!chosen.startsWith(kOfOther)) {
    const auto& x = session_.examination();
    return prepare::DonorSide{session_.state(), s(chosen),
                              x ? check::boxOfObject(x->context, s(chosen)) : geometry::Bounds()};
  }
  const std::string name = s(chosen.mid(kOfOther.size()));
  const auto box = other_->boxes.find(name);
  if (box == other_->boxes.end()) return std::nullopt;  // it is being read
  return prepare::DonorSide{*other_->mod, name, box->second};
}

void DonorPanel::askForBox(const std::string& object) {
  const QPointer<DonorPanel> here(this);
  session_.background().post([here, object, folder = other_->folder, mod = other_->mod,
                              book = session_.sharedBook()](base::Progress&) -> Background::Finish {
    const geometry::Bounds box = check::boxOfObject(folder, book, *mod, object);
    return [here, object, mod, box] {
      if (here == nullptr || !here->other_ || here->other_->mod != mod) return;
      here->other_->boxes[object] = box;
      here->listed_for_.clear();
      here->list();
    };
  });
}

void DonorPanel::list() {
  const bool some = session_.isOpen() && session_.state().objects.count(session_.object()) != 0;
  const QString chosen = donors_->currentData().toString();
  const auto from = some ? donor() : std::nullopt;
  if (some && !from && chosen.startsWith(kOfOther)) {
    const std::string name = s(chosen.mid(kOfOther.size()));
    said_->setText(tr("reading its model…"));
    if (listed_for_ != "reading " + name) {
      listed_for_ = "reading " + name;
      askForBox(name);
    }
    return;
  }
  std::vector<prepare::DonorOffer> offers;
  if (from)
    for (prepare::DonorOffer& one : prepare::donorOffers(session_.book(), taker(), *from))
      if (one.differs()) offers.push_back(std::move(one));
  std::string wanted = session_.object() + "\n" + s(chosen);
  for (const prepare::DonorOffer& one : offers) wanted += "\n" + one.id + "\t" + one.theirs + "\t" + one.ours;
  if (wanted == listed_for_) return;
  listed_for_ = wanted;
  offers_ = std::move(offers);
  clearLayout(rows_);
  marks_.clear();
  for (size_t i = 0; i < offers_.size(); ++i) {
    const prepare::DonorOffer& one = offers_[i];
    auto* mark = new QCheckBox(q(one.title), this);
    mark->setObjectName(
        QStringLiteral("donor-%1-%2").arg(QString::fromLatin1(prepare::setUpName(one.sort)), q(one.id)));
    // What is missing here is what one came for.
    mark->setChecked(one.ours.empty());
    connect(mark, &QCheckBox::toggled, this, [this] {
      take_->setEnabled(
          std::any_of(marks_.begin(), marks_.end(), [](QCheckBox* m) { return m->isChecked(); }));
    });
    rows_->addWidget(mark);
    QLabel* values = quietText(one.ours.empty() ? tr("%1; not here yet").arg(q(one.theirs))
                                                : tr("%1; here %2").arg(q(one.theirs), q(one.ours)),
                               this);
    values->setContentsMargins(24, 0, 0, 4);
    rows_->addWidget(values);
    marks_.push_back(mark);
  }
  said_->setText(!from ? tr("What it has of card, points, lists and pieces is listed beside what is here. "
                            "Places keep their share of the body.")
                 : offers_.empty() ? tr("It has nothing that is not here already.")
                                   : QString());
  said_->setVisible(!said_->text().isEmpty());
  take_->setVisible(!offers_.empty());
  take_->setEnabled(std::any_of(marks_.begin(), marks_.end(), [](QCheckBox* m) { return m->isChecked(); }));
}

void DonorPanel::take() {
  const auto from = donor();
  if (!from) return;
  std::vector<prepare::DonorOffer> chosen;
  for (size_t i = 0; i < offers_.size(); ++i)
    if (marks_[i]->isChecked()) chosen.push_back(offers_[i]);
  // The sides are of the state before; the edit is made of a copy of it.
  const mod::ModState before = session_.state();
  const prepare::DonorSide mine{before, session_.object(), taker().box_m},
      theirs{&from->mod == &session_.state() ? before : from->mod, from->object, from->box_m};
  mod::ModState next = before;
  if (const base::Status done = prepare::takeSetUp(next, session_.book(), mine, theirs, chosen); !done) {
    Q_EMIT tell(q(done.error().text()));
    return;
  }
  session_.edit(tr("Take %1 from %2").arg(chosen.size()).arg(q(from->object)),
                [&](mod::ModState& state) { state = std::move(next); });
}

}  // namespace rakugo::app
