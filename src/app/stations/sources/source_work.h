// What goes on with the sources of the open mod: taking in, newer versions, missing pictures, exporting.
#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <functional>
#include <map>
#include <set>

#include "app/shell/session.h"
#include "prepare/newer/newer_version.h"
#include "prepare/newer/picture_search.h"
#include "prepare/newer/taking_in.h"

namespace rakugo::app {

/// A newer version that lies where a source came from, or that was given by hand; or why it cannot be read.
struct WaitingVersion {
  std::shared_ptr<const prepare::NewerVersion> version;  ///< null when it cannot be read
  std::filesystem::path file;
  QString problem;
};

/// Lives on the window's thread; reads and writes are the session's work, looks are its background's.
class SourceWork : public QObject {
  Q_OBJECT
 public:
  explicit SourceWork(Session& session, QObject* parent = nullptr);

  /// Takes in what lies at the paths: files, folders, archives. Where there are several models to choose
  /// from, `choiceAsked` follows in place of the taking.
  void give(std::vector<std::filesystem::path> paths);
  /// Takes in just these, read side by side, in one edit; `added` follows. Those that cannot be read are told
  /// of, and the others come.
  void take(std::vector<prepare::Given> given);

  /// The newer version of a source that waits to be looked at; null when there is none.
  [[nodiscard]] const WaitingVersion* waiting(const std::string& source) const;
  [[nodiscard]] size_t waitingCount() const { return waiting_.size(); }
  /// Where a source came from on this machine; empty when that is not known.
  [[nodiscard]] std::filesystem::path originOf(const std::string& source) const;
  /// Compares a source with a file given by hand, or with where it came from, even when that has not changed.
  void compare(const std::string& source, const std::filesystem::path& file);
  /// Takes the version that waits, the preparations with it; the proposals that are `adopted` are followed.
  void takeWaiting(const std::string& source,
                   const std::map<std::string, std::vector<prepare::Misfit>>& adopted);
  /// Leaves it, until the file changes again.
  void leaveWaiting(const std::string& source);
  /// Puts an older version in the present one's place.
  void goBack(const std::string& source, size_t older);

  /// Calls a source otherwise, or copies it, under a name that no source has: its files are copied, then all
  /// that names it follows in one edit. The files under the old name are moved aside when the mod is opened
  /// again; until then this can be undone. `told` follows where it cannot be done, else `moved`.
  void rename(const std::string& source, const std::string& to);
  void copy(const std::string& source, const std::string& to);
  /// A source is taken out in an edit; its files are moved aside when the mod is opened again without it.
  void leaveFiles(const std::string& source);

  /// Pictures found for a name that a source has and nothing for; empty while nothing is known.
  [[nodiscard]] const std::vector<prepare::FoundPicture>& found(const std::string& source,
                                                                const std::string& wanted) const;
  /// Copies a picture in for each model of the source that misses it, and lets their preparations take it.
  void takePicture(const std::string& source, const std::string& wanted, const prepare::Given& from);

  /// Writes the prepared model in the format of the file's ending; `told` follows with what that cannot
  /// carry.
  void exportModel(const std::string& model, const std::filesystem::path& file);

 Q_SIGNALS:
  void added(bool good, const QString& message);
  void told(bool good, const QString& message);
  void choiceAsked(const std::vector<rakugo::prepare::Given>& given);
  void moved(const QString& source);  ///< the name of a source that was renamed or copied
  void changed();                     ///< what waits, or what was found

 private:
  void copyUnder(const std::string& source, const std::string& to, const QString& label,
                 const std::function<base::Status(mod::ModState&)>& change);
  void finishTake(const prepare::TakenIn& taken, const mod::Origins& origins);
  void forget();
  void readOrigins();
  void watch();
  /// Looks whether files at the origins changed.
  void look();
  void lookAt(const std::string& source, const prepare::Given& given, bool even_unchanged);
  void searchPictures();
  /// Of the last look, in this run or when the source was taken.
  [[nodiscard]] std::string stampOf(const std::string& source) const;

  Session& session_;
  QFileSystemWatcher watcher_;
  QTimer soon_;
  mod::Origins origins_;
  std::map<std::string, WaitingVersion> waiting_;
  std::map<std::string, std::string> stamps_;  ///< of looks in this run
  std::map<std::pair<std::string, std::string>, std::vector<prepare::FoundPicture>> found_;
};

}  // namespace rakugo::app
