// Icons with a line, and icons taken by rakugo-icon, which has no window and no display: the same as the
// window's.
#include <QCoreApplication>
#include <QProcess>

#include "app/bench/icon_painter.h"
#include "base/files.h"
#include "window_fixture.h"

namespace rakugo {

class IconsWindowTest : public test::WindowFixture {
 protected:
  // Runs the program without any display; its exit status, and what it says.
  std::pair<int, QString> take(const QStringList& arguments) {
    QProcess program;
    QProcessEnvironment there = QProcessEnvironment::systemEnvironment();
    for (const char* name : {"DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"})
      there.remove(QLatin1String(name));
    program.setProcessEnvironment(there);
    program.setProcessChannelMode(QProcess::MergedChannels);
    program.start(QCoreApplication::applicationDirPath() + QStringLiteral("/rakugo-icon"), arguments);
    EXPECT_TRUE(program.waitForFinished(120'000));
    return {program.exitCode(), QString::fromUtf8(program.readAll())};
  }
  static QImage iconOf(const QString& mod, const char* path) {
    return QImage(mod + QLatin1Char('/') + QLatin1String(path)).convertToFormat(QImage::Format_RGBA8888);
  }
};

TEST_F(IconsWindowTest, WithoutADisplayTheSameIconIsTakenAsInTheWindow) {
  if (!app::Bench::platformHasOpenGl()) GTEST_SKIP() << "the window's needs OpenGL";
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  session().select("quay-lamp", "quay-lamp");
  window_->setStation(app::Station::objects);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "take-icon-usual"));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  const QImage windows = iconOf(mod, "icons/quay-lamp.png");
  const std::string icon_of = session().state().objects.at("quay-lamp").icon_of;
  ASSERT_FALSE(windows.isNull());
  // It is as it should be: nothing is taken.
  EXPECT_EQ(take({mod}), std::pair(0, QStringLiteral("Every icon is there and as it should be.\n")));
  const auto [exit, said] = take({mod, QStringLiteral("quay-lamp")});
  ASSERT_EQ(exit, 0) << said.toStdString();
  const QImage programs = iconOf(mod, "icons/quay-lamp.png");
  ASSERT_EQ(programs.size(), windows.size());
  int off = 0;
  for (qsizetype i = 0; i < windows.sizeInBytes(); ++i)
    off = std::max(off, std::abs(int{windows.constBits()[i]} - int{programs.constBits()[i]}));
  EXPECT_LE(off, 2) << "of 255";
  const auto on_disk = mod::loadMod(mod.toStdString());
  EXPECT_EQ(std::as_const(on_disk->objects).at("quay-lamp").icon_of, icon_of);
}

TEST_F(IconsWindowTest, WhatIsMissingIsTakenAndWhatCannotBeIsSaid) {
  const QString mod = test::copyOfMod(*folder_, "tidewater");
  const std::filesystem::path folder = mod.toStdString();
  mod::ModState state = std::move(mod::loadMod(folder)).value();
  const mod::ModState before = state;
  state.objects["lantern"].icon.clear();
  state.icons.erase("icons/lantern.png");
  state.objects["hollow"].kind = "gear";
  ASSERT_TRUE(mod::saveMod(folder, state, before));
  const auto [exit, said] = take({mod, QStringLiteral("--json")});
  EXPECT_EQ(exit, 1);
  const base::Json list = base::Json::parse(said.toStdString());
  ASSERT_EQ(list.size(), 2U);
  EXPECT_EQ(list[0]["object"], "hollow");
  EXPECT_THAT(list[0]["problem"].get<std::string>(), testing::HasSubstr("no model"));
  EXPECT_EQ(list[1]["icon"], "icons/lantern.png");
  const QImage lantern = iconOf(mod, "icons/lantern.png");
  ASSERT_EQ(lantern.size(), QSize(96, 96));
  EXPECT_EQ(lantern.pixelColor(0, 0).alpha(), 0) << "without a ground";
  int seen = 0;
  for (int y = 0; y < 96; ++y)
    for (int x = 0; x < 96; ++x) seen += lantern.pixelColor(x, y).alpha() == 255 ? 1 : 0;
  EXPECT_GT(seen, 300);
  EXPECT_EQ(take({mod, QStringLiteral("whale")}).first, 2);
  EXPECT_EQ(take({mod + QStringLiteral("/nothing")}).first, 2);
  EXPECT_EQ(take({mod, QStringLiteral("lantern"), QStringLiteral("--all")}).first, 2) << "one or the other";
}

// A line round the thing is as wide as the rulebook says, in its colour, on the ground.
TEST_F(IconsWindowTest, ALineGoesRoundTheThing) {
  if (!app::Bench::platformHasOpenGl()) GTEST_SKIP() << "pictures need OpenGL";
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "tidewater")));
  session().select("lantern", "lantern");
  ASSERT_TRUE(test::settle(*window_));
  app::Bench& bench = *window_->findChild<app::Bench*>();
  app::IconLook look = app::iconLookOf(*session().book().findKind("gear"));
  const QImage plain = bench.takeIconOf(*session().scene(), look);
  look.outline_px = 3;
  look.outline = QColor(255, 0, 255);
  const QImage lined = bench.takeIconOf(*session().scene(), look);
  ASSERT_EQ(lined.size(), plain.size());
  if (const QString folder = QString::fromLocal8Bit(qgetenv("RAKUGO_LOOK")); !folder.isEmpty())
    lined.save(folder + QStringLiteral("/icon-lined.png"));
  // On each row the first pixel that was seen has three of the line before it; rows that begin with a wire
  // thinner than a pixel say nothing.
  int rows = 0;
  for (int y = 8; y < plain.height() - 8; ++y)
    for (int x = 4; x < plain.width(); ++x) {
      if (plain.pixelColor(x, y).alpha() < 250) continue;
      if (plain.pixelColor(x - 2, y).alpha() > 10) break;
      const QColor before = lined.pixelColor(x - 2, y);
      EXPECT_GT(before.alpha(), 200) << x << ", " << y;
      EXPECT_GT(before.red() - before.green(), 100) << x << ", " << y << ": some of the thing is half seen";
      EXPECT_EQ(lined.pixelColor(x, y).alpha(), 255);
      ++rows;
      break;
    }
  EXPECT_GT(rows, 40);
  look.ground = QColor(0, 0, 255);
  EXPECT_EQ(bench.takeIconOf(*session().scene(), look).pixelColor(0, 0), QColor(0, 0, 255));
}

}  // namespace rakugo
