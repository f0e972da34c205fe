#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QScrollArea>
#include <QSettings>
#include <QSignalBlocker>
#include <QSplitter>
#include <QStandardPaths>
#include <QTimer>
#include <algorithm>

#include "app/stations/bundle/station_bundle.h"
#include "app/stations/station_panel.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/chapter.h"
#include "app/widgets/object_icon.h"
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
  build_chapter_ = addChapter("bundle/build", tr("Build"), {"document.", "rulebook."});
  build_chapter_->setUsuallyOpen();
  targets_ = new QComboBox(this);
  targets_->setObjectName(QStringLiteral("build-target"));
  targets_->setAccessibleName(tr("What the mod is built for"));
  targets_->setToolTip(tr("How pictures are stored, and how large they may be; the tryout takes the same"));
  build_chapter_->body()->addWidget(targets_);
  target_help_ = quietText({}, this);
  build_chapter_->body()->addWidget(target_help_);
  connect(targets_, &QComboBox::activated, this,
          [this] { session_.setTarget(s(targets_->currentData().toString())); });
  auto* buttons = new QHBoxLayout;
  build_ = new QPushButton(tr("Build the bundle"), this);
  install_ = new QPushButton(tr("Install it"), this);
  install_->setObjectName(QStringLiteral("install"));
  buttons->addWidget(build_);
  buttons->addWidget(install_);
  buttons->addStretch();
  build_chapter_->body()->addLayout(buttons);
  connect(build_, &QPushButton::clicked, this, &StationPanel::buildAsked);
  connect(install_, &QPushButton::clicked, this, [this] { session_.install(s(gameFolder())); });
  makeCard();
  auto* look_chapter = addChapter("bundle/look", tr("Another package"), {});
  auto* look = new QPushButton(tr("Look into another package…"), this);
  look->setObjectName(QStringLiteral("look-into"));
  connect(look, &QPushButton::clicked, this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("Look into a package"), gameFolder(),
                                                      tr("Bundles and zips (*.rkb *.zip)"));
    if (!file.isEmpty()) lookInto(file);
  });
  look_chapter->body()->addWidget(look, 0, Qt::AlignLeft);
  look_chapter->body()->addWidget(
      quietText(tr("Or drop a bundle or zip on the window. It is shown beside what "
                   "this mod's own build holds."),
                this));
  column_->addStretch();
  makeMiddle();
}

// The mod's own card.
void BundleStation::makeCard() {
  card_chapter_ = addChapter("bundle/card", tr("The mod's card"), {"mod."});
  card_chapter_->setUsuallyOpen();
  const auto field = [&](const char* id, const QString& title, std::string mod::ModCard::*member) {
    card_chapter_->body()->addWidget(quietText(title, this));
    auto* line = new QLineEdit(this);
    line->setObjectName(QStringLiteral("mod-") + QString::fromLatin1(id));
    line->setAccessibleName(title);
    card_chapter_->body()->addWidget(line);
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
}

// What goes in, beside what is installed and what was looked into.
void BundleStation::makeMiddle() {
  auto* sides = new QSplitter(Qt::Horizontal, this);
  sides->setObjectName(QStringLiteral("bundle-sides"));
  sides->setHandleWidth(1);
  sides->setChildrenCollapsible(false);
  middle_ = sides;
  const auto side = [&](const char* name, QVBoxLayout*& column) {
    QScrollArea* area = scrollColumn(column, sides);
    area->setObjectName(QLatin1String(name));
    column->setSpacing(2);
    sides->addWidget(area);
    return area;
  };
  auto* own = new QWidget(sides);
  own->setObjectName(QStringLiteral("bundle-entries"));
  auto* left = new QVBoxLayout(own);
  left->setContentsMargins(12, 12, 1, 0);
  left->setSpacing(4);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(0, 0, 12, 0);
  in_ = heading(tr("What goes in"), own);
  head->addWidget(in_, 1);
  alone_ = new QPushButton(tr("End comparing"), own);
  alone_->setObjectName(QStringLiteral("compare-end"));
  alone_->hide();
  connect(alone_, &QPushButton::clicked, this, [this] {
    looked_.reset();
    showLooked();
  });
  head->addWidget(alone_);
  left->addLayout(head);
  state_ = plainText({}, own);
  state_->setObjectName(QStringLiteral("bundle-state"));
  state_->setContentsMargins(0, 0, 12, 0);
  left->addWidget(state_);
  entries_ = new EntryList(tr("What goes in"), own);
  entries_->setObjectName(QStringLiteral("entries"));
  left->addWidget(entries_, 1);
  sides->addWidget(own);
  QVBoxLayout* right = nullptr;
  right_area_ = side("bundle-others", right);
  installed_ = new QVBoxLayout;
  installed_->setSpacing(4);
  right->addLayout(installed_);
  looked_at_ = new QVBoxLayout;
  looked_at_->setSpacing(4);
  right->addSpacing(12);
  right->addLayout(looked_at_);
  right->addStretch();
  sides->setSizes({430, 336});
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
  listTargets();
  const auto& x = session_.examination();
  build_->setEnabled(x && !session_.busy() && !session_.working());
  listEntries();
  const size_t stops = x ? x->count(check::Severity::stops) : 0;
  say(build_chapter_,
      !x          ? tr("looking…")
      : stops > 0 ? tr("not ready to build")
                  : tr("ready to build"),
      stops == 0);
  say(card_chapter_, q(card.version));
  settleChapters(card_chapter_);
}

void BundleStation::listTargets() {
  const std::vector<rulebook::Target> targets = session_.book().allTargets();
  const QSignalBlocker quiet(targets_);
  targets_->clear();
  for (const rulebook::Target& one : targets) {
    targets_->addItem(tr("For %1").arg(q(one.title)), q(one.id));
    if (one.id == session_.target()) target_help_->setText(q(one.help));
  }
  targets_->setCurrentIndex(std::max(0, targets_->findData(q(session_.target()))));
  targets_->setVisible(targets.size() > 1);
  target_help_->setVisible(targets.size() > 1 && !target_help_->text().isEmpty());
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
                        session_.planProblem() + q(session_.target());
  listInstalled();
  if (stamp == listed_) return;
  listed_ = stamp;
  if (stops > 0)
    state_->setText(stops == 1 ? tr("The build is refused while a finding stops the game.")
                               : tr("The build is refused while %1 findings stop the game.").arg(stops));
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
  mine_.reset();
  if (stops == 0 && session_.planProblem().isEmpty())
    state_->setText(tr("Not built yet. This will be in it:"));
  std::vector<EntryLine> lines;
  for (const packing::PlannedEntry& e : session_.plan()) lines.push_back({e.id, e.why, {}});
  showEntries(std::move(lines));
}

// Grouped by the object that pulls them in, each with its icon and what it weighs.
void BundleStation::showEntries(std::vector<EntryLine> lines) {
  std::map<std::string, EntryGroup> groups;  // by object; "": the mod itself
  for (EntryLine& line : lines) {
    const size_t end = std::min(line.why.find(", "), line.why.size());
    std::string object = line.why.substr(0, end);
    if (session_.state().objects.contains(object))
      line.why.erase(0, std::min(end + 2, line.why.size()));
    else
      object.clear();
    groups[object].entries.push_back(std::move(line));
  }
  std::vector<EntryGroup> all;
  for (auto& [object, group] : groups) {
    group.head = headOf(object, group.entries);
    all.push_back(std::move(group));
  }
  own_rows_ = rowsOf(std::move(all));
  showRows();
}

EntryRow BundleStation::headOf(const std::string& object, const std::vector<EntryLine>& lines) const {
  EntryRow head;
  head.head = true;
  head.id = QStringLiteral("goes-in-") + q(object);
  head.title = tr("The mod itself");
  const mod::ModState& state = session_.state();
  if (const auto doc = state.objects.find(object); doc != state.objects.end()) {
    head.title = doc->second.title.empty() ? q(object) : q(doc->second.title);
    head.icon = objectIcon(state, doc->second, 36);
  }
  uint64_t bytes = 0;
  bool built = true;
  for (const EntryLine& line : lines) {
    bytes += line.stored_bytes.value_or(0);
    built = built && line.stored_bytes.has_value();
  }
  head.said = q(base::countText(lines.size(), "entry", "entries"));
  if (built) head.said += QStringLiteral(", ") + q(base::sizeText(bytes));
  return head;
}

// What goes in; beside a package that was looked into, both; that one alone where there is no own build.
void BundleStation::showRows() {
  const bool other = looked_ && looked_->package;
  const QString file = other ? QFileInfo(looked_->file).fileName() : QString();
  alone_->setVisible(other);
  state_->setVisible(!other);
  if (!other) {
    in_->setText(tr("What goes in"));
    entries_->setRows(own_rows_);
  } else if (mine_) {
    in_->setText(tr("This mod and %1, side by side").arg(file));
    entries_->setRows(rowsBeside(*mine_, *looked_->package, tr("this mod"), file), true);
  } else {
    in_->setText(tr("What %1 holds").arg(file));
    entries_->setRows(rowsOf(*looked_->package));
  }
}

void BundleStation::showBuilt(const base::Result<packing::Package>& package, bool good) {
  mine_.reset();
  if (!package) {
    own_rows_.clear();
    showRows();
    return state_->setText(q(package.error().text()));
  }
  std::map<std::string, std::string> why;
  for (const packing::PlannedEntry& e : session_.plan()) why[e.id] = e.why;
  if (good)
    state_->setText(tr("Built: %1, %2.")
                        .arg(q(base::sizeText(package->file_bytes)),
                             q(base::countText(package->entries.size(), "entry", "entries"))));
  mine_ = *package;
  std::vector<EntryLine> lines;
  for (const auto& e : mine_->entries) {
    const auto known = why.find(e.id);
    lines.push_back({e.id, known != why.end() ? known->second : std::string(), e.stored_bytes});
  }
  showEntries(std::move(lines));
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
  if (list.empty())
    installed_->addWidget(quietText(
        tr("Nothing yet in %1. Build this mod, then install it at the right.").arg(gameFolder()), this));
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
    Q_EMIT tell(tr("Looked into %1.").arg(looked_->file), true);
  });
}

void BundleStation::showLooked() {
  clearLayout(looked_at_);
  if (looked_) addLook(looked_at_, *looked_, mine_ ? &*mine_ : nullptr, this);
  showRows();
  // Shown once it has its place in the column.
  QTimer::singleShot(0, this, [this] {
    if (auto* name = middle_->findChild<QLabel*>(QStringLiteral("looked-name")))
      right_area_->ensureWidgetVisible(name, 0, 200);
  });
}

void BundleStation::showPlace(const check::FindingPlace& place) {
  const auto field = fields_.find(place.field);
  if (field == fields_.end()) return;
  unfoldTo(field->second);
  field->second->setFocus(Qt::OtherFocusReason);
}

}  // namespace rakugo::app
