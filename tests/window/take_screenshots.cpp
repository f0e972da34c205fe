// take-screenshots DIR : pictures of each main view, from the demo data, and the icon that the bench takes.
#include <QDir>

#include "base/files.h"
#include "window_driver.h"

using namespace rakugo;

int main(int argc, char** argv) {
  const auto program = test::startProgram(argc, argv);
  const QString out = argc > 1 ? QString::fromLocal8Bit(argv[1]) : QStringLiteral(".");
  QDir().mkpath(out);
  QTemporaryDir folder;
  qputenv("RAKUGO_GAME", (folder.path() + QStringLiteral("/game")).toUtf8());
  app::MainWindow window;
  window.move(0, 0);
  window.show();
  bool good = QTest::qWaitForWindowExposed(&window);
  good = good && test::shoot(window, out + QStringLiteral("/start.png"));
  good = good && window.openMod(test::copyOfMod(folder, "first-lamp")) && test::settle(window);
  good = good && test::shoot(window, out + QStringLiteral("/first-lamp-shape.png"));
  window.setStation(app::Station::sources);
  good = good && test::shoot(window, out + QStringLiteral("/first-lamp-sources.png"));
  window.setStation(app::Station::shape);
  test::click(window, "point-front");
  QTest::mouseMove(&window.bench(), QPoint(560, 200));
  QTest::qWait(60);
  QTest::mouseMove(&window.bench(), QPoint(290, 160));
  good = good && test::shoot(window, out + QStringLiteral("/point-front.png"));
  window.bench().setTool(app::Bench::Tool::look_round);
  good = good && window.openMod(test::copyOfMod(folder, "lamplight")) && test::settle(window);
  window.setStation(app::Station::shape);
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-shape.png"));
  window.setStation(app::Station::objects);
  test::click(window, "look-game");
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-objects.png"));
  test::click(window, "take-icon");
  test::settle(window);
  if (const auto icon = window.session().state().icons.find("icons/quay-lamp.png");
      icon != window.session().state().icons.end())
    good =
        good && base::writeFileAtomic((out + QStringLiteral("/icon.png")).toStdString(), *icon->second).ok();
  test::click(window, "night");
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-night.png"));
  test::click(window, "night");
  window.setStation(app::Station::bundle);
  test::click(window, "look-drawing");
  test::click(window, "build");
  test::settle(window);
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-bundle.png"));
  window.setStation(app::Station::tryout);
  test::click(window, "start-game");
  QTest::qWait(4000);
  // The game's own window lies over ours; what it said stays when it has ended.
  test::click(window, "start-game");
  QTest::qWait(1500);
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-tryout.png"));
  return good ? 0 : 1;
}
