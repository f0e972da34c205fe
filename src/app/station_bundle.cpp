#include <QDir>
#include <QFile>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPainter>
#include <QSettings>
#include <QStandardPaths>

#include "app/panels.h"
#include "app/stations.h"
#include "base/text.h"
#include "bundle/bundle_reader.h"

namespace rakugo::app {
namespace {

// An entry: its id, and its stored size as a bar beside the largest.
class EntryRow : public QWidget {
 public:
  EntryRow(const QString& id, const QString& size, double share, QWidget* parent)
      : QWidget(parent), id_(id), size_(size), share_(share) {
    setFixedHeight(34);
    setToolTip(id + QStringLiteral("\n") + size);
    setAccessibleName(id + QStringLiteral(", ") + size);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setFont(typeface(12));
    const int room = width() - 74;
    p.setPen(t.ink);
    p.drawText(QRect(0, 2, room, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(id_, Qt::ElideMiddle, room));
    p.setPen(t.quiet);
    p.drawText(QRect(width() - 72, 2, 70, 18), Qt::AlignVCenter | Qt::AlignRight, size_);
    p.fillRect(QRectF(0, 23, width() - 2, 4), t.wash);
    p.fillRect(QRectF(0, 23, std::max(1.0, (width() - 2) * share_), 4), t.click);
  }

 private:
  QString id_, size_;
  double share_;
};

}  // namespace

QString gameFolder() {
  if (const QString set = qEnvironmentVariable("RAKUGO_GAME"); !set.isEmpty()) return set;
  const QString usual =
      QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/kelpwick");
  return QSettings().value(QStringLiteral("game"), usual).toString();
}

void setGameFolder(const QString& folder) { QSettings().setValue(QStringLiteral("game"), folder); }

BundleStation::BundleStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  column_->addWidget(heading(tr("The mod's card"), this));
  const auto field = [&](const char* id, const QString& title, std::string mod::ModCard::*member) {
    column_->addWidget(quietText(title, this));
    auto* line = new QLineEdit(this);
    line->setObjectName(QStringLiteral("mod-") + QString::fromLatin1(id));
    line->setAccessibleName(title);
    column_->addWidget(line);
    fields_[id] = line;
    connect(line, &QLineEdit::textEdited, this, [this, id, member, title](const QString& text) {
      session_.edit(
          tr("Change %1").arg(title.toLower()), [&](mod::ModState& state) { state.card.*member = s(text); },
          QStringLiteral("mod-") + QString::fromLatin1(id));
    });
  };
  field("title", tr("Title"), &mod::ModCard::title);
  field("author", tr("Author"), &mod::ModCard::author);
  field("version", tr("Version"), &mod::ModCard::version);
  field("description", tr("Description"), &mod::ModCard::description);
  column_->addSpacing(4);
  column_->addWidget(hairline(this));
  state_ = plainText({}, this);
  state_->setObjectName(QStringLiteral("bundle-state"));
  column_->addWidget(state_);
  auto* buttons = new QHBoxLayout;
  build_ = new QPushButton(tr("Build the bundle"), this);
  install_ = new QPushButton(tr("Install it"), this);
  install_->setObjectName(QStringLiteral("install"));
  buttons->addWidget(build_);
  buttons->addWidget(install_);
  buttons->addStretch();
  column_->addLayout(buttons);
  connect(build_, &QPushButton::clicked, this, &StationPanel::buildAsked);
  connect(install_, &QPushButton::clicked, this, [this] { session_.install(s(gameFolder())); });
  entries_ = new QVBoxLayout;
  entries_->setSpacing(2);
  column_->addLayout(entries_);
  column_->addStretch();
}

void BundleStation::refresh() {
  if (!session_.isOpen()) return;
  const mod::ModCard& card = session_.state().card;
  const auto set = [&](const char* id, const std::string& text) {
    if (auto* line = qobject_cast<QLineEdit*>(fields_[id]); !line->hasFocus() && line->text() != q(text)) {
      line->setText(q(text));
      line->setCursorPosition(0);
    }
  };
  set("title", card.title);
  set("author", card.author);
  set("version", card.version);
  set("description", card.description);
  const auto& x = session_.examination();
  build_->setEnabled(x && !session_.busy() && !session_.working());
  listEntries();
}

void BundleStation::listEntries() {
  const QString path = q(session_.output().string());
  const bool there = !path.isEmpty() && QFile::exists(path);
  install_->setEnabled(there && !session_.working());
  const auto& x = session_.examination();
  const size_t stops = x ? x->count(check::Severity::stops) : 0;
  if (stops > 0)
    state_->setText(tr("The build is refused while %1.")
                        .arg(q(base::countText(stops, "finding stops", "findings stop")) + tr(" the game")));
  else if (!there)
    state_->setText(tr("Not built yet."));
  const QString stamp =
      there ? path + QString::number(QFileInfo(path).lastModified().toMSecsSinceEpoch()) : QString();
  if (stamp == listed_ && there && stops == 0) return;
  listed_ = stamp;
  clearLayout(entries_);
  if (!there) return;
  const auto bundle = bundle::Bundle::open(s(path));
  if (!bundle) {
    state_->setText(q(bundle.error().text()));
    return;
  }
  if (stops == 0)
    state_->setText(tr("Built: %1, %2.")
                        .arg(q(base::sizeText(bundle->fileBytes())),
                             q(base::countText(bundle->entries().size(), "entry", "entries"))));
  uint64_t largest = 1;
  for (const auto& e : bundle->entries()) largest = std::max(largest, e.stored_bytes);
  auto sorted = bundle->entries();
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const auto& a, const auto& b) { return a.stored_bytes > b.stored_bytes; });
  for (const auto& e : sorted)
    entries_->addWidget(new EntryRow(q(e.id), q(base::sizeText(e.stored_bytes)),
                                     static_cast<double>(e.stored_bytes) / static_cast<double>(largest),
                                     this));
}

void BundleStation::showPlace(const check::FindingPlace& place) {
  if (const auto field = fields_.find(place.field); field != fields_.end())
    field->second->setFocus(Qt::OtherFocusReason);
}

}  // namespace rakugo::app
