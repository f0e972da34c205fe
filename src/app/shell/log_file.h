// The program's own log, for problem reports: $XDG_STATE_HOME/rakugo/log/rakugo.log, three files of a
// megabyte.
#pragma once

#include <QString>
#include <QStringList>
#include <filesystem>

namespace rakugo::app {

/// Begins to write the log, Qt's own messages included. Where the folder cannot be written the program runs
/// without one. Call once, after QApplication is made.
void startLog(const std::filesystem::path& folder);
/// One line; `good` or a problem. Does nothing before `startLog`.
void note(const QString& text, bool good = true);
/// The newest lines, oldest of them first; from disk.
QStringList lastLogLines(int count);
/// The folder that was given, or an empty path.
[[nodiscard]] std::filesystem::path logFolder();

/// What somebody who is to find a fault wants to know: versions, system, graphics, the mod that is open, the
/// problem, the end of the log. Holds no folder above the person's own: it is written as "~".
struct ReportFacts {
  QString problem, mod, rulebook, graphics;
};
QString problemReport(const ReportFacts& facts);

}  // namespace rakugo::app
