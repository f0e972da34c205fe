#include "app/shell/document.h"

#include <QEventLoop>

#include "app/widgets/theme.h"
#include "base/files.h"
#include "mod/origins.h"
#include "mod/store.h"

namespace rakugo::app {

Document::~Document() = default;

Document::Opened Document::Opened::read(const std::filesystem::path& folder,
                                        const std::set<std::filesystem::path>& known,
                                        base::Progress& progress) {
  progress.say("Opening " + folder.filename().string(), 0.2);
  Opened out;
  std::error_code error;
  out.folder = std::filesystem::weakly_canonical(folder, error);
  if (error) out.folder = folder;
  base::removeLeftovers(out.folder, {"build", ".git"});
  out.state = mod::loadMod(out.folder, &out.footprint, &progress);
  if (!out.state) return out;
  if (progress.cancelled()) {
    out.state = base::cancelledError();
    return out;
  }
  const auto journal = DiskSide::journalOf(out.folder);
  if (mod::journalInUse(journal)) return out;
  if (auto read = mod::readJournal(journal); read && !read->edits.empty())
    out.journal = std::make_shared<const mod::JournalContent>(std::move(read).value());
  // Nothing can be undone or taken back any more that would need these files.
  if (known.count(out.folder) == 0 && !out.journal) mod::clearLeftOver(out.folder, *out.state);
  return out;
}

std::set<std::filesystem::path> Document::known() const {
  std::set<std::filesystem::path> out;
  for (const auto& [folder, history] : kept_) out.insert(folder);
  if (isOpen()) out.insert(folder_);
  return out;
}

void Document::take(Opened opened) {
  close();
  if (isOpen()) kept_[folder_] = std::move(history_);
  disk_.reset();
  folder_ = opened.folder;
  const auto kept = kept_.find(folder_);
  if (kept != kept_.end() && kept->second) {
    history_ = std::move(kept->second);
    // Whatever was done to the folder meanwhile is the saved state now; what was undone here can be redone.
    const auto now = std::make_shared<const mod::ModState>(std::move(opened.state).value());
    if (!mod::changedPaths(*now, *history_->current()).empty())
      history_->edit(s(tr("Changes on disk")), [&](mod::ModState& state) { state = *now; });
    history_->markSaved();
    opened.journal.reset();
  } else {
    history_ = std::make_unique<mod::History>(std::move(opened.state).value());
  }
  found_ = std::move(opened.journal);
  outside_.reset();
  beginDiskSide(std::move(opened.footprint));
}

void Document::beginDiskSide(mod::Footprint footprint) {
  disk_ = std::make_unique<DiskSide>(folder_, std::move(footprint), nullptr);
  connect(disk_.get(), &DiskSide::journalFailed, this, &Document::journalFailed);
  connect(disk_.get(), &DiskSide::changed, this, [this](const DiskSide::Changes& changes) {
    outside_ = changes->empty() ? nullptr : changes;
    Q_EMIT outsideChanged();
  });
  connect(disk_.get(), &DiskSide::saved, this, &Document::finishSave);
  // Edits that were found are kept in their journal until they are decided on.
  if (!found_) disk_->beginJournal(history_->saved(), history_->current());
}

void Document::finishSave(const State& state, const QString& problem, const QString& code) {
  --saving_;
  if (problem.isEmpty()) {
    history_->markSaved(state);
    // Edits made while the save ran are unsaved still, and the journal was emptied by it.
    if (history_->dirty()) disk_->record(tr("Unsaved"), history_->current());
  } else if (code == QLatin1String("mod.changed_on_disk")) {
    disk_->look();
  }
  Q_EMIT edited();
  Q_EMIT saved(problem.isEmpty(), problem.isEmpty() ? tr("Saved") : problem);
}

void Document::close() {
  // Nothing unsaved: nothing to offer at the next start. Edits that were found and not decided on stay.
  if (isOpen() && !history_->dirty() && !found_) disk_->dropJournal();
}

void Document::save() {
  if (!isOpen()) return;
  history_->endGroup();
  ++saving_;
  disk_->save(history_->current(), history_->saved());
}

QString Document::saveNow() {
  QString problem;
  QEventLoop wait;
  const auto said = connect(this, &Document::saved, &wait, [&](bool good, const QString& message) {
    if (!good) problem = message;
    wait.quit();
  });
  save();
  wait.exec(QEventLoop::ExcludeUserInputEvents);
  disconnect(said);
  return problem;
}

void Document::record(const QString& label) {
  if (!found_) disk_->record(label, history_->current());
  Q_EMIT edited();
}

void Document::edit(const QString& label, const std::function<void(mod::ModState&)>& change,
                    const QString& group) {
  history_->edit(s(label), change, s(group));
  record(label);
}

bool Document::undo() {
  if (!isOpen() || !history_->canUndo()) return false;
  const QString label = tr("Undo: %1").arg(q(history_->undoLabel()));
  history_->undo();
  record(label);
  return true;
}

bool Document::redo() {
  if (!isOpen() || !history_->canRedo()) return false;
  const QString label = q(history_->redoLabel());
  history_->redo();
  record(label);
  return true;
}

bool Document::goTo(size_t place) {
  if (!isOpen() || place == history_->at() || place >= history_->all().size()) return false;
  const std::string label = history_->all()[place].first;
  history_->goTo(place);
  record(label.empty() ? tr("Back to the beginning") : tr("Back to: %1").arg(q(label)));
  return true;
}

bool Document::leaveUnsaved() {
  if (!isOpen() || !history_->dirty()) return false;
  const auto saved = history_->saved();
  edit(tr("Leave unsaved edits out"), [&](mod::ModState& state) { state = *saved; }, {});
  history_->markSaved();
  Q_EMIT edited();
  return true;
}

std::vector<base::Error> Document::takeFound() {
  std::vector<base::Error> refused;
  if (!found_) return refused;
  refused = mod::recover(*history_, *found_);
  leaveFound();
  Q_EMIT edited();
  return refused;
}

void Document::leaveFound() {
  found_.reset();
  disk_->beginJournal(history_->saved(), history_->current());
}

std::vector<mod::Difference> Document::outsideDifferences() const {
  if (!outside_) return {};
  mod::ModState theirs = *now();
  std::vector<std::string> paths;
  std::vector<mod::Difference> out;
  for (const mod::DiskChange& change : *outside_) {
    if (change.unreadable)
      out.push_back({change.path, {}, {}, change.error.message});
    else if (mod::putDocument(theirs, change.path, change.content.get()))
      paths.push_back(change.path);
  }
  auto found = mod::differences(*now(), theirs, paths);
  out.insert(out.end(), found.begin(), found.end());
  return out;
}

base::Status Document::takeOutside() {
  if (!outside_) return {};
  mod::ModState ours = *now(), on_disk = *history_->saved();
  RAKUGO_TRY(mod::takeChanges(ours, *outside_));
  RAKUGO_TRY(mod::takeChanges(on_disk, *outside_));
  history_->edit(s(tr("Take changes from disk")), [&](mod::ModState& state) { state = std::move(ours); });
  history_->setSaved(std::move(on_disk));
  disk_->acknowledge(outside_, history_->saved(), history_->current());
  outside_.reset();
  Q_EMIT outsideChanged();
  Q_EMIT edited();
  return {};
}

void Document::keepOurs() {
  if (!outside_) return;
  // What is on disk is known now, so that the mod counts as unsaved until ours is written over it.
  mod::ModState on_disk = *history_->saved();
  for (const mod::DiskChange& change : *outside_)
    if (!change.unreadable) (void)mod::putDocument(on_disk, change.path, change.content.get());
  history_->setSaved(std::move(on_disk));
  disk_->acknowledge(outside_, history_->saved(), history_->current());
  outside_.reset();
  Q_EMIT outsideChanged();
  Q_EMIT edited();
}

void Document::lookOutside() {
  if (disk_) disk_->look();
}

}  // namespace rakugo::app
