#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QScrollArea>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>

#include "app/stations/bundle/station_bundle.h"
#include "app/stations/station_panel.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/panels.h"
#include "base/text.h"
#include "packing/install.h"

namespace rakugo::app {
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
  column_->addWidget(hairline(this));
  installed_ = new QVBoxLayout;
  installed_->setSpacing(4);
  column_->addLayout(installed_);
  column_->addWidget(hairline(this));
  auto* look = new QPushButton(tr("Look into another package…"), this);
  look->setObjectName(QStringLiteral("look-into"));
  connect(look, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("Look into a package"), gameFolder(),
                                                      tr("Bundles and zips (*.rkb *.zip)"));
    if (!file.isEmpty()) lookInto(file);
  });
  column_->addWidget(look);
  column_->addWidget(quietText(tr("Or drop a bundle or zip on the window."), this));
  looked_at_ = new QVBoxLayout;
  looked_at_->setSpacing(2);
  column_->addLayout(looked_at_);
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
  const QString stamp = (there ? path + QString::number(QFileInfo(path).lastModified().toMSecsSinceEpoch())
                               : QStringLiteral("plan")) +
                        QString::number(session_.plan().size()) + QString::number(stops) +
                        session_.planProblem();
  listInstalled();
  if (stamp == listed_) return;
  listed_ = stamp;
  if (stops > 0)
    state_->setText(tr("The build is refused while %1.")
                        .arg(q(base::countText(stops, "finding stops", "findings stop")) + tr(" the game")));
  if (!session_.planProblem().isEmpty()) state_->setText(session_.planProblem());
  if (there) {
    session_.background().post([this, path, stamp, stops](base::Progress&) -> Background::Finish {
      auto package = packing::lookInto(std::filesystem::path(s(path)));
      return [this, stamp, stops, package = std::move(package)] {
        if (stamp == listed_) showBuilt(package, stops == 0 && session_.planProblem().isEmpty());
      };
    });
    return;
  }
  clearLayout(entries_);
  mine_.reset();
  if (stops == 0 && session_.planProblem().isEmpty())
    state_->setText(tr("Not built yet. This will be in it:"));
  for (const packing::PlannedEntry& e : session_.plan())
    entries_->addWidget(quietText(tr("%1, for %2").arg(q(e.id), q(e.why)), this));
}

void BundleStation::showBuilt(const base::Result<packing::Package>& package, bool good) {
  clearLayout(entries_);
  mine_.reset();
  if (!package) return state_->setText(q(package.error().text()));
  std::map<std::string, std::string> why;
  for (const packing::PlannedEntry& e : session_.plan()) why[e.id] = e.why;
  if (good)
    state_->setText(tr("Built: %1, %2.")
                        .arg(q(base::sizeText(package->file_bytes)),
                             q(base::countText(package->entries.size(), "entry", "entries"))));
  mine_ = *package;
  addEntries(entries_, *mine_, why, this);
}

void BundleStation::listInstalled() {
  // The game's folder is looked at again when it changed, not at every edit.
  const QFileInfo mods(QDir(gameFolder()).filePath(QStringLiteral("mods")));
  const QString stamp = mods.filePath() + QString::number(mods.lastModified().toMSecsSinceEpoch()) +
                        (session_.working() ? QStringLiteral("…") : QString());
  if (stamp == listed_game_) return;
  listed_game_ = stamp;
  session_.background().post([this, stamp, game = s(gameFolder())](base::Progress&) -> Background::Finish {
    return [this, stamp, list = packing::listInstalled(game)] {
      if (stamp == listed_game_) showInstalled(list);
    };
  });
}

void BundleStation::showInstalled(const std::vector<packing::InstalledPackage>& list) {
  clearLayout(installed_);
  installed_->addWidget(heading(tr("Installed in the game"), this));
  if (list.empty()) installed_->addWidget(quietText(tr("Nothing yet in %1.").arg(gameFolder()), this));
  for (const packing::InstalledPackage& one : list) {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const QString file = q(one.path.filename().string());
    QLabel* text =
        one.problem.empty()
            ? plainText(tr("%1 %2 by %3")
                            .arg(q(one.manifest.title), q(one.manifest.version), q(one.manifest.author)),
                        this)
            : plainText(tr("◆ %1: %2").arg(file, q(one.problem)), this);
    if (!one.problem.empty()) text->setProperty("tone", QByteArray("stops"));
    text->setToolTip(file);
    row->addWidget(text, 1);
    if (one.ours) {
      auto* out = new QPushButton(tr("Take out"), this);
      out->setObjectName(QStringLiteral("uninstall-") + q(one.manifest.mod_id));
      out->setAccessibleName(tr("Take %1 out of the game").arg(q(one.manifest.title)));
      out->setEnabled(!session_.working());
      connect(out, &QPushButton::clicked, this,
              [this, id = one.manifest.mod_id] { session_.uninstall(id, s(gameFolder())); });
      row->addWidget(out);
    } else if (one.problem.empty()) {
      row->addWidget(quietText(tr("by hand"), this));
    }
    installed_->addLayout(row);
  }
  for (const packing::Contest& c : packing::contests(list)) {
    QLabel* line = plainText(tr("▲ %1 is defined by %2; %3 wins.")
                                 .arg(q(c.object), q(base::listText(c.mods, 6)), q(c.mods.back())),
                             this);
    line->setProperty("tone", QByteArray("shows"));
    installed_->addWidget(line);
  }
}

void BundleStation::lookInto(const QString& file) {
  session_.look(file, [this](LookedInto looked) {
    looked_ = std::move(looked);
    showLooked();
  });
}

void BundleStation::showLooked() {
  clearLayout(looked_at_);
  if (looked_) addLook(looked_at_, *looked_, mine_ ? &*mine_ : nullptr, this);
  // Shown once it has its place in the column.
  QTimer::singleShot(0, this, [this] {
    if (auto* name = findChild<QLabel*>(QStringLiteral("looked-name")))
      area_->ensureWidgetVisible(name, 0, 200);
  });
}

void BundleStation::showPlace(const check::FindingPlace& place) {
  if (const auto field = fields_.find(place.field); field != fields_.end())
    field->second->setFocus(Qt::OtherFocusReason);
}

}  // namespace rakugo::app
