#include "app/shell/disk_side.h"

#include <set>

#include "app/widgets/theme.h"
#include "base/places.h"

namespace rakugo::app {

// What the worker alone touches.
struct DiskSide::Kept {
  mod::Footprint footprint;
  mod::Journal journal;
  std::map<std::string, std::string>
      told;  ///< path -> what was last told of it, so that nothing is told twice
};

namespace {

// What makes a change another one than that told before.
std::string gist(const mod::DiskChange& change) {
  const char sort = static_cast<char>('0' + static_cast<int>(change.sort));
  return sort + (change.content ? std::string(base::asText(*change.content)) : change.error.text());
}

// All documents and the folders that hold them.
QStringList pathsToWatch(const std::filesystem::path& mod) {
  QStringList out;
  const auto add = [&](const std::filesystem::path& path) {
    std::error_code error;
    if (std::filesystem::exists(path, error)) out << q(path.string());
  };
  add(mod);
  std::set<std::string> folders = {"models", "objects", "icons", "sources"};
  for (const std::string& path : mod::documentFiles(mod)) {
    add(mod / path);
    folders.insert(std::filesystem::path(path).parent_path().string());
  }
  for (const std::string& folder : folders)
    if (!folder.empty()) add(mod / folder);
  return out;
}

}  // namespace

DiskSide::DiskSide(std::filesystem::path folder, mod::Footprint footprint, QObject* parent)
    : QObject(parent), folder_(std::move(folder)), kept_(std::make_shared<Kept>()) {
  kept_->footprint = std::move(footprint);
  worker_.onFault([this](const std::string& what) { Q_EMIT journalFailed(q(what)); });
  soon_.setSingleShot(true);
  soon_.setInterval(250);  // a version control tool changes many files in one go
  connect(&soon_, &QTimer::timeout, this, &DiskSide::checkNow);
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &DiskSide::look);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, &DiskSide::look);

  watch();
}

DiskSide::~DiskSide() { worker_.finish(); }

std::filesystem::path DiskSide::journalOf(const std::filesystem::path& folder) {
  return mod::journalPath(base::stateFolder() / "journals", folder);
}

void DiskSide::watch() {
  worker_.post([this, folder = folder_](base::Progress&) {
    QStringList wanted = pathsToWatch(folder);
    QMetaObject::invokeMethod(
        this,
        [this, wanted]() mutable {
          const QStringList now = watcher_.files() + watcher_.directories();
          for (const QString& path : now) wanted.removeAll(path);
          // A file that was replaced by a rename has left the watcher by itself and is taken up anew here.
          if (!wanted.isEmpty()) watcher_.addPaths(wanted);
        },
        Qt::QueuedConnection);
  });
}

void DiskSide::beginJournal(State saved, State now) {
  worker_.post([this, kept = kept_, folder = folder_, saved, now](base::Progress&) {
    auto begun = mod::Journal::begin(journalOf(folder), folder, *saved, kept->footprint);
    base::Status done;
    if (begun) {
      kept->journal = std::move(begun).value();
      done = kept->journal.record("Unsaved", *now, true);
    } else {
      done = begun.error();
    }
    if (!done) Q_EMIT journalFailed(q(done.error().text()));
  });
}

void DiskSide::record(const QString& label, State state) {
  worker_.post([this, kept = kept_, label = s(label), state](base::Progress&) {
    if (!kept->journal.isOpen()) return;
    if (const auto done = kept->journal.record(label, *state); !done)
      Q_EMIT journalFailed(q(done.error().text()));
  });
}

void DiskSide::save(State state, State before) {
  worker_.post([this, kept = kept_, folder = folder_, state, before](base::Progress&) {
    base::Status done;
    // Whoever asked waits for an answer, also when a library throws.
    try {
      done = mod::saveMod(folder, *state, *before, &kept->footprint);
    } catch (const std::exception& fault) {
      done = base::Error{"mod.save", fault.what(), base::Place{folder.string()}, "Save again."};
    }
    if (done && kept->journal.isOpen()) {
      if (const auto again = kept->journal.restart(*state, kept->footprint); !again)
        Q_EMIT journalFailed(q(again.error().text()));
    }
    Q_EMIT saved(state, done ? QString() : q(done.error().text()), done ? QString() : q(done.error().code));
  });
}

void DiskSide::look() { soon_.start(); }

void DiskSide::checkNow() {
  watch();
  worker_.post([this, kept = kept_, folder = folder_](base::Progress&) {
    auto changes = mod::diskChanges(folder, kept->footprint);
    std::map<std::string, std::string> told;
    for (const mod::DiskChange& change : changes) told[change.path] = gist(change);
    if (told == kept->told) return;
    kept->told = std::move(told);
    Q_EMIT changed(std::make_shared<const std::vector<mod::DiskChange>>(std::move(changes)));
  });
}

void DiskSide::acknowledge(const Changes& changes, State saved, State now) {
  worker_.post([this, kept = kept_, changes, saved, now](base::Progress&) {
    mod::acknowledge(kept->footprint, *changes);
    kept->told.clear();
    if (!kept->journal.isOpen()) return;
    auto again = kept->journal.restart(*saved, kept->footprint);
    if (again) again = kept->journal.record("Unsaved", *now, true);
    if (!again) Q_EMIT journalFailed(q(again.error().text()));
  });
}

void DiskSide::dropJournal() {
  worker_.post([kept = kept_](base::Progress&) { kept->journal.remove(); });
}

}  // namespace rakugo::app
