// The program's log: rotation, its end, and what a problem report holds.
#include <QDir>
#include <QFloat16>

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "app/shell/log_file.h"
#include "support/test_folder.h"

namespace rakugo::app {
namespace {

TEST(LogFile, KeepsThreeFilesOfAMegabyteAndTheNewestLines) {
  const test::TestFolder own;
  startLog(own.path() / "state/log");
  const QString filler(1000, QLatin1Char('x'));
  for (int i = 0; i < 5000; ++i) note(QStringLiteral("%1 %2").arg(i).arg(filler), i % 2 == 0);
  uintmax_t bytes = 0;
  size_t files = 0;
  for (const auto& entry : std::filesystem::directory_iterator(logFolder())) {
    bytes += entry.file_size();
    ++files;
  }
  EXPECT_EQ(files, 3u);
  EXPECT_LE(bytes, uintmax_t{3} << 20);
  const QStringList last = lastLogLines(2);
  ASSERT_EQ(last.size(), 2);
  EXPECT_TRUE(last[1].contains(QStringLiteral(" warning 4999 "))) << last[1].left(60).toStdString();
  EXPECT_TRUE(last[0].contains(QStringLiteral(" info 4998 ")));
}

TEST(LogFile, AReportSaysWhatIsNeededAndNoFolderOfThePersons) {
  const test::TestFolder own;
  startLog(own.path());
  note(QStringLiteral("Opened ") + QDir::homePath() + QStringLiteral("/mods/lamp"));
  const QString report = problemReport({QStringLiteral("It broke."), QStringLiteral("lamp-1"), {}, {}});
  EXPECT_TRUE(report.startsWith(QStringLiteral("It broke.")));
  EXPECT_TRUE(report.contains(QStringLiteral("Rakugo " RAKUGO_VERSION)));
  EXPECT_TRUE(report.contains(QStringLiteral("Mod: lamp-1")));
  EXPECT_TRUE(report.contains(QStringLiteral("~/mods/lamp")));
  EXPECT_FALSE(report.contains(QDir::homePath() + QLatin1Char('/')));
}

TEST(LogFile, AFolderThatCannotBeWrittenIsNoReasonToStop) {
  startLog("/proc/nothing/here");
  note(QStringLiteral("said into the air"));
}

}  // namespace
}  // namespace rakugo::app
