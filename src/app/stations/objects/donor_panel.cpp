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
#include "bundle/bundle_reader.h"
#include "check/donor_body.h"
#include "mod/store.h"
#include "packing/bundle_donor.h"
#include "packing/unpack_object.h"

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
  auto* others = new QHBoxLayout;
  others->setSpacing(10);
  const auto button = [&](const char* name, const QString& title) {
    auto* out = new QPushButton(title, this);
    out->setObjectName(QLatin1String(name));
    out->setProperty("quiet", true);
    others->addWidget(out);
    return out;
  };
  connect(button("donor-mod", tr("Of another mod…")), &QPushButton::clicked, this, [this] {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("The mod whose objects have it"), QDir::homePath());
    if (!folder.isEmpty()) openOther(folder.toStdString());
  });
  connect(button("donor-bundle", tr("Of a bundle…")), &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("The bundle whose objects have it"),
                                                      QDir::homePath(), tr("Bundles (*.rkb)"));
    if (!file.isEmpty()) openBundle(file.toStdString());
  });
  others->addStretch();
  column->addLayout(others);
  own_ = new QPushButton(tr("Of the game's own…"), this);
  own_->setObjectName(QStringLiteral("donor-own"));
  own_->setProperty("quiet", true);
  connect(own_, &QPushButton::clicked, this,
          [this] { openBundle(session_.book().folder / session_.book().own_things); });
  column->addWidget(own_, 0, Qt::AlignLeft);
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

// What is there is looked up in the background; what is chosen of it is read when it is.
void DonorPanel::open(const std::function<Other()>& look) {
  const QPointer<DonorPanel> here(this);
  said_->setVisible(true);
  said_->setText(tr("reading…"));
  const int number = ++opened_;
  session_.background().post([here, look, number](base::Progress&) -> Background::Finish {
    auto other = std::make_shared<Other>(look());
    return [here, other, number] {
      if (here == nullptr || here->opened_ != number) return;
      here->said_->clear();
      if (!other->problem.isEmpty()) {
        Q_EMIT here->tell(other->problem);
        return;
      }
      other->number = number;
      here->other_ = std::move(*other);
      here->listDonors();
      if (const auto& all = here->other_->objects; !all.empty())
        here->donors_->setCurrentIndex(here->donors_->findData(kOfOther + q(all.front().first)));
      here->listed_for_.clear();
      here->list();
    };
  });
}

void DonorPanel::openOther(const std::filesystem::path& folder) {
  open([folder, book = session_.sharedBook()] {
    Other out;
    auto loaded = mod::loadMod(folder);
    if (!loaded) {
      out.problem = q(loaded.error().text());
      return out;
    }
    const auto mod = std::make_shared<const mod::ModState>(std::move(loaded).value());
    out.title = q(mod->card.title);
    for (const auto& [name, doc] : mod->objects)
      out.objects.emplace_back(name, q(doc.title.empty() ? name : doc.title));
    out.read = [folder, book, mod](const std::string& object) -> base::Result<Donor> {
      return Donor{mod, check::bodyOfObject(folder, book, *mod, object)};
    };
    return out;
  });
}

void DonorPanel::openBundle(const std::filesystem::path& file) {
  open([file, book = session_.sharedBook()] {
    Other out;
    const auto bundle = bundle::Bundle::open(file);
    if (!bundle) {
      out.problem = q(bundle.error().text());
      return out;
    }
    out.title = q(bundle->manifest().title);
    for (const packing::ObjectInBundle& one : packing::objectsIn(*bundle))
      out.objects.emplace_back(one.id, q(one.title.empty() ? one.id : one.title));
    out.read = [file, book](const std::string& object) -> base::Result<Donor> {
      RAKUGO_ASSIGN(const bundle::Bundle opened, bundle::Bundle::open(file));
      RAKUGO_ASSIGN(packing::BundleDonor donor, packing::donorOf(opened, object, *book));
      return Donor{std::move(donor.mod), std::move(donor.body)};
    };
    return out;
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
  own_->setVisible(session_.isOpen() && !session_.book().own_things.empty());
  if (!session_.isOpen()) return;
  const auto mine = session_.state().objects.find(session_.object());
  if (mine == session_.state().objects.end()) return;
  donors_->addItem(tr("choose…"), QString());
  for (const bool same : {true, false})
    for (const auto& [name, doc] : session_.state().objects)
      if (name != mine->first && (doc.kind == mine->second.kind) == same)
        donors_->addItem(q(doc.title.empty() ? name : doc.title), q(name));
  if (other_)
    for (const auto& [name, title] : other_->objects)
      donors_->addItem(tr("%1 of %2").arg(title, other_->title), kOfOther + q(name));
  donors_->setCurrentIndex(std::max(0, donors_->findData(now)));
}

prepare::DonorSide DonorPanel::taker() const {
  const auto& x = session_.examination();
  return {session_.state(), session_.object(),
          x ? check::bodyOfObject(x->context, session_.object()) : prepare::DonorBody()};
}

std::optional<prepare::DonorSide> DonorPanel::donor() const {
  const QString chosen = donors_->currentData().toString();
  if (chosen.isEmpty()) return std::nullopt;
  if (!chosen.startsWith(kOfOther)) {
    const auto& x = session_.examination();
    return prepare::DonorSide{session_.state(), s(chosen),
                              x ? check::bodyOfObject(x->context, s(chosen)) : prepare::DonorBody()};
  }
  const std::string name = s(chosen.mid(kOfOther.size()));
  const auto read = other_->donors.find(name);
  if (read == other_->donors.end()) return std::nullopt;  // it is being read
  return prepare::DonorSide{*read->second.mod, name, read->second.body};
}

void DonorPanel::askFor(const std::string& object) {
  const QPointer<DonorPanel> here(this);
  session_.background().post(
      [here, object, read = other_->read, number = other_->number](base::Progress&) -> Background::Finish {
        auto donor = std::make_shared<base::Result<Donor>>(read(object));
        return [here, object, donor, number] {
          if (here == nullptr || !here->other_ || here->other_->number != number) return;
          if (!*donor) {
            here->said_->clear();
            Q_EMIT here->tell(q(donor->error().text()));
            return;
          }
          here->other_->donors[object] = std::move(*donor).value();
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
      askFor(name);
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
  said_->setText(
      !from ? tr("What it has of card, roles, points, lists and pieces is listed beside what is here. "
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
  const prepare::DonorSide mine{before, session_.object(), taker().body},
      theirs{&from->mod == &session_.state() ? before : from->mod, from->object, from->body};
  mod::ModState next = before;
  if (const base::Status done = prepare::takeSetUp(next, session_.book(), mine, theirs, chosen); !done) {
    Q_EMIT tell(q(done.error().text()));
    return;
  }
  session_.edit(tr("Take %1 from %2").arg(chosen.size()).arg(q(from->object)),
                [&](mod::ModState& state) { state = std::move(next); });
}

}  // namespace rakugo::app
