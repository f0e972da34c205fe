// take-screenshots DIR [newcomer|slipway|surface|sources|start|examples]: pictures of each main view, from
// the demo data, and the icon that the bench takes; or one part of them. `examples` are those of the start
// page.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDir>
#include <QLineEdit>
#include <QProcess>
#include <QScrollArea>
#include <QSlider>
#include <QTimer>

#include "app/shell/examples.h"
#include "app/stations/skeleton/match_board.h"
#include "app/stations/surface/picture_sheet.h"
#include "app/stations/tryout/game_picture.h"
#include "app/widgets/theme.h"
#include "base/files.h"
#include "formats/archives/zip.h"
#include "packing/build_package.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"
#include "window_driver.h"

using namespace rakugo;

namespace {

// The download of the demo with its second part under another name, as its maker might export it again.
bool putCrate(const std::filesystem::path& file, const std::string& handles) {
  auto files =
      formats::readZip(*base::readFile(RAKUGO_SOURCE_DIR "/examples/downloads/fish_crate.zip"), "c").value();
  base::Bytes& obj = files.at("fish crate/fish_crate.obj");
  std::string all(base::asText(obj));
  const std::string was = "\no handles\n";
  if (const size_t at = all.find(was); at != std::string::npos)
    all.replace(at, was.size(), "\no " + handles + "\n");
  obj.assign(base::asBytes(all).begin(), base::asBytes(all).end());
  return base::makeFolder(file.parent_path()).ok() &&
         base::writeFileAtomic(file, formats::writeZip(files).value()).ok();
}

// A box dragged in the bench round what lies between two places.
void dragBox(app::Bench& bench, glm::vec3 a, glm::vec3 b) {
  const auto p = bench.project(a), q = bench.project(b);
  if (!p || !q) return;
  const QRectF box = QRectF(*p, *q).normalized().adjusted(-8, -8, 8, 8);
  QTest::mousePress(&bench, Qt::LeftButton, {}, box.topLeft().toPoint());
  QTest::mouseMove(&bench, box.center().toPoint());
  QTest::mouseMove(&bench, box.bottomRight().toPoint());
  QTest::mouseRelease(&bench, Qt::LeftButton, {}, box.bottomRight().toPoint());
}

void scrollTo(app::MainWindow& window, const char* name) {
  for (auto* widget : window.findChildren<QWidget*>(QString::fromUtf8(name)))
    for (QWidget* up = widget->parentWidget(); up != nullptr; up = up->parentWidget())
      if (auto* area = qobject_cast<QScrollArea*>(up)) area->ensureWidgetVisible(widget, 0, 60);
}

// Shape: a tug as its maker left it and put right, what was picked of its funnel, and a coat's regions and
// seams.
bool shootSlipway(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  if (window.session().isOpen()) window.session().history().markSaved();  // nobody is there to be asked
  bool good = window.openMod(test::copyOfMod(folder, "slipway")) && test::settle(window);
  app::Session& session = window.session();
  const auto turn = [&](const char* model) {
    session.select(model, model);
    test::settle(window);
    session.edit(QStringLiteral("Turn"), [&](mod::ModState& state) {
      prepare::setOrAddStep(state.models[model], "turn", base::Json{{"forward", "+Z"}, {"up", "+Y"}});
    });
    window.setStation(app::Station::shape);
    return test::settle(window);
  };
  good = good && turn("tug");
  window.bench().fit();
  QTest::qWait(600);
  good = good && test::shoot(window, out + QStringLiteral("/slipway-tug.png"));
  good = good && turn("sea-coat");
  session.edit(QStringLiteral("Hand over"),
               [](mod::ModState& state) { state.models["sea-coat"].variants["broad"] = "sea-coat-broad"; });
  test::settle(window);
  window.bench().fit();
  QTest::qWait(1200);
  scrollTo(window, "close-seams");
  QTest::qWait(400);
  good = good && test::shoot(window, out + QStringLiteral("/slipway-coat.png"));
  scrollTo(window, "beside-more");
  QTest::qWait(200);
  good = good && test::shoot(window, out + QStringLiteral("/slipway-beside.png"));
  good = good && turn("quay-block");
  window.bench().fit();
  test::click(window, "fault-shapeless_vertices");
  window.bench().fit();
  QTest::qWait(600);
  good = good && test::shoot(window, out + QStringLiteral("/slipway-block.png"));
  session.select("tug", "tug");
  test::settle(window);
  const scene::Model& model = *session.prepared()->prepared.model;
  const geometry::Bounds funnel =
      scene::partBounds(model, scene::findPart(model, "tug/funnel"), scene::worldMatrices(model));
  window.bench().lookFrom(QStringLiteral("left"));
  test::click(window, "part-tug/funnel");
  test::click(window, "pick-box");
  dragBox(window.bench(), funnel.min, funnel.max);
  good = good && QTest::qWaitFor([&] { return !window.bench().pickedPlaces().empty(); }, test::kPatience_ms);
  scrollTo(window, "pick-apply");
  QTest::qWait(600);
  good = good && test::shoot(window, out + QStringLiteral("/slipway-picked.png"));
  return good;
}

// The keeper of the open mod as the stand-in game walks it along the quay.
bool walkTheQuay(app::Session& session, const QTemporaryDir& folder, const QString& out) {
  const std::filesystem::path mods = std::filesystem::path(folder.path().toStdString()) / "walk/mods";
  const auto bytes = packing::buildPackage(*session.examination());
  const QString script = folder.path() + QStringLiteral("/walk/script");
  const char* const commands = R"({"do":"use","object":"newcomer-7p3dzk/boatswain"}
{"do":"move","ahead":1,"turn":0.12,"seconds":1.52}
{"do":"follow"}
{"do":"look","distance":3.6,"yaw_deg":-62,"pitch_deg":9}
{"do":"shot","file":"game-walk.png"}
)";
  if (!bytes || !base::makeFolder(mods) || !base::writeFileAtomic(mods / "newcomer.rkb", *bytes) ||
      !base::writeFileAtomic(script.toStdString(), std::string_view(commands)))
    return false;
  QProcess game;
  game.start(QApplication::applicationDirPath() + QStringLiteral("/kelpwick"),
             {QStringLiteral("--mods"), QString::fromStdString(mods.string()), QStringLiteral("--headless"),
              QStringLiteral("--script"), script, QStringLiteral("--shots"), out});
  return game.waitForFinished(test::kPatience_ms) && game.exitCode() == 0;
}

// Skeleton: a keeper from elsewhere as it came, then put right mend by mend, walking, and with what follows
// one of its bones.
bool shootNewcomer(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  bool good = window.openMod(test::copyOfMod(folder, "newcomer")) && test::settle(window);
  app::Session& session = window.session();
  window.setStation(app::Station::skeleton);
  auto* board = window.findChild<app::MatchBoard*>();
  if (board != nullptr) board->choose(QStringLiteral("elbow.port"));
  QTest::qWait(200);
  good = good && test::shoot(window, out + QStringLiteral("/newcomer-skeleton.png"));
  for (const char* check :
       {"bones.missing", "bones.missing", "bones.turned", "bones.weights", "bones.ends"}) {
    for (const check::Finding& finding : session.examination()->findings)
      if (finding.check == check) {
        const check::Mend mend = finding.mends.front();
        session.edit(QString::fromStdString(mend.label), mend.apply);
        break;
      }
    good = good && test::settle(window);
  }
  if (auto* movement = test::find<QComboBox>(window, "movement"))
    movement->setCurrentIndex(movement->findText(QStringLiteral("Walk")));
  if (auto* moment = window.findChild<QSlider*>(QStringLiteral("moment"))) moment->setValue(6);
  window.bench().fit();
  scrollTo(window, "try-said");
  QTest::qWait(600);
  good = good && test::shoot(window, out + QStringLiteral("/newcomer-walk.png"));
  if (board != nullptr) board->choose(QStringLiteral("arm.port"));
  if (auto* see = window.findChild<QCheckBox*>(QStringLiteral("see-weights"))) see->setChecked(true);
  if (auto* movement = window.findChild<QComboBox*>(QStringLiteral("movement")))
    movement->setCurrentIndex(movement->findText(QStringLiteral("Reach up")));
  test::click(window, "all-moments");
  scrollTo(window, "see-weights");
  QTest::qWait(600);
  good = good && test::shoot(window, out + QStringLiteral("/newcomer-weights.png"));
  if (auto* see = window.findChild<QCheckBox*>(QStringLiteral("see-weights"))) see->setChecked(false);
  good = walkTheQuay(session, folder, out) && good;
  if (session.isOpen()) session.history().markSaved();  // nobody is there to be asked
  return good;
}

// Sources: pictures missing in what was just taken in, and a newer version that waits.
bool shootSources(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  const std::filesystem::path crate =
      std::filesystem::path(folder.path().toStdString()) / "downloads/fish_crate.zip";
  const QString mod = test::copyOfMod(folder, "chandlery");
  // Before its crate is taken in.
  for (const char* path :
       {"sources/fish-crate", "models/fish-crate.model.json", "objects/fish-crate.object.json"})
    std::filesystem::remove_all(std::filesystem::path(mod.toStdString()) / path);
  bool good = window.openMod(mod) && test::settle(window);
  window.setStation(app::Station::sources);
  good = good && putCrate(crate, "handles");
  window.openPath(QString::fromStdString(crate.string()));
  good = good &&
         QTest::qWaitFor([&] { return window.session().state().sources.size() == 3; }, test::kPatience_ms) &&
         test::settle(window);
  QTest::qWait(800);
  good = good && test::shoot(window, out + QStringLiteral("/sources-missing.png"));
  test::click(window, "propose-unit");
  test::settle(window);
  test::click(window, "take-picture-textures/planks.png-0");
  test::settle(window);
  window.session().edit(QStringLiteral("Drop"), [](mod::ModState& state) {
    state.models.changeEach([](const std::string&, mod::ModelDoc& doc) {
      if (doc.source.rfind("fish-crate", 0) == 0)
        doc.steps.push_back(prepare::makeStep(doc, "drop", base::Json{{"parts", {"handles"}}}));
    });
  });
  good = good && putCrate(crate, "rope_grips");
  good = good &&
         QTest::qWaitFor([&] { return window.sourceWork().waitingCount() > 0; }, test::kPatience_ms) &&
         test::settle(window);
  QTest::qWait(800);
  return good && test::shoot(window, out + QStringLiteral("/sources-newer.png"));
}

// What the start page shows beside each example.
bool shootExamples(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  for (const app::ExampleMod& one : app::exampleMods()) {
    const QString name = QString::fromStdString(one.folder.filename().string());
    if (!window.openMod(test::copyOfMod(folder, one.folder.filename().string().c_str())) ||
        !test::settle(window))
      return false;
    if (window.session().state().models.contains("tug")) {
      window.session().select("tug", "tug");
      test::settle(window);
    }
    const QImage picture = window.bench().takePicture(QSize(112, 112), QColor(Qt::transparent));
    if (picture.isNull() || !picture.save(out + QLatin1Char('/') + name + QStringLiteral(".png")))
      return false;
  }
  return true;
}

// Surface: nine materials before and after they are one, and a lamp in another paint by night.
bool shootSurface(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  if (!window.openMod(test::copyOfMod(folder, "lampbearer")) || !test::settle(window)) return false;
  window.setStation(app::Station::surface);
  test::settle(window);
  bool good = test::shoot(window, out + QStringLiteral("/lampbearer-before.png"));
  window.session().edit(QStringLiteral("Make them one"), [&](mod::ModState& state) {
    mod::ModelDoc& doc = *state.models.change("lamp-bearer");
    std::vector<std::string> keys;
    for (const scene::Material& m : window.session().prepared()->prepared.model->materials) {
      keys.push_back(m.key);
      prepare::setRole(doc, m.key, "lamp");
    }
    const auto add = [&](const char* kind, base::Json values) {
      prepare::insertByRank(doc, prepare::makeStep(doc, kind, values));
    };
    add("set_alpha", base::Json{{"material", "coat_mat"}, {"alpha", "opaque"}});
    add("set_color", base::Json{{"material", "Boots Black"}, {"color", {0.25, 0.25, 0.27}}});
    add("atlas", base::Json{{"materials", keys}, {"name", "lamp-bearer"}});
  });
  test::settle(window);
  const auto* sheet = window.findChild<app::PictureSheet*>();
  good = good && test::click(window, "sheet-beside") &&
         QTest::qWaitFor([&] { return sheet->canvas().map() != nullptr; }, test::kPatience_ms);
  QTest::qWait(500);
  good = good && test::shoot(window, out + QStringLiteral("/lampbearer-after.png"));
  test::click(window, "sheet-beside");
  window.session().history().markSaved();
  const QString lamplight = folder.path() + QStringLiteral("/lamplight");
  good = good &&
         window.openMod(QDir(lamplight).exists() ? lamplight : test::copyOfMod(folder, "lamplight")) &&
         test::settle(window);
  window.setStation(app::Station::surface);
  test::click(window, "tone-paint-oxide");
  QTest::qWait(200);
  test::click(window, "look-rain");
  test::click(window, "look-by-night");
  QTest::qWait(200);
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-night-paint.png"));
  test::click(window, "look-rain");
  test::click(window, "look-by-night");
  test::click(window, "look-drawing");
  return good;
}

// The help beside the work.
bool shootHelp(app::MainWindow& window, const QTemporaryDir& folder, const QString& out) {
  if (!window.openMod(test::copyOfMod(folder, "first-lamp")) || !test::settle(window)) return false;
  window.setStation(app::Station::shape);
  test::click(window, "why-shape-size");
  QTest::qWait(200);
  if (!test::shoot(window, out + QStringLiteral("/help-chapter.png"))) return false;
  test::click(window, "why-size.unit");
  QTest::qWait(200);
  if (!test::shoot(window, out + QStringLiteral("/help-check.png"))) return false;
  if (auto* words = test::find<QLineEdit>(window, "help-search")) words->setText(QStringLiteral("seam"));
  QTest::qWait(200);
  return test::shoot(window, out + QStringLiteral("/help-search.png"));
}

}  // namespace

int main(int argc, char** argv) {
  const auto program = test::startProgram(argc, argv, 4);
  const QString out = argc > 1 ? QString::fromLocal8Bit(argv[1]) : QStringLiteral(".");
  QDir().mkpath(out);
  QTemporaryDir folder;
  // No folder of the machine that takes the pictures is seen in them.
  qputenv("HOME", "/home/you");
  qputenv("RAKUGO_GAME", (folder.path() + QStringLiteral("/game")).toUtf8());
  app::MainWindow window;
  window.move(0, 0);
  window.show();
  bool good = QTest::qWaitForWindowExposed(&window);
  if (argc > 2) {  // one of the parts alone
    const std::string part = argv[2];
    if (part == "newcomer") return good && shootNewcomer(window, folder, out) ? 0 : 1;
    if (part == "surface") return good && shootSurface(window, folder, out) ? 0 : 1;
    if (part == "slipway") return good && shootSlipway(window, folder, out) ? 0 : 1;
    if (part == "start") {
      good = good && test::shoot(window, out + QStringLiteral("/start.png"));
      return good && shootHelp(window, folder, out) ? 0 : 1;
    }
    if (part == "examples") return good && shootExamples(window, folder, out) ? 0 : 1;
    return good && part == "sources" && shootSources(window, folder, out) ? 0 : 1;
  }
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
  test::click(window, "pick-origin");
  QTest::mouseMove(&window.bench(), QPoint(412, 150));
  good = good && test::shoot(window, out + QStringLiteral("/pick-origin.png"));
  window.bench().setTool(app::Bench::Tool::look_round);
  test::click(window, "fault-open_edges");
  test::click(window, "fault-next");
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-structure.png"));
  test::click(window, "fault-open_edges");
  window.bench().fit();
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
  test::click(window, "look-drawing");
  window.setStation(app::Station::bundle);
  test::click(window, "build");
  test::settle(window);
  good = good && test::shoot(window, out + QStringLiteral("/lamplight-bundle.png"));
  window.setStation(app::Station::tryout);
  test::click(window, "start-game");
  auto* seen = window.findChild<app::GamePicture*>();
  good = good && QTest::qWaitFor([&] { return !seen->picture().isNull(); }, test::kPatience_ms);
  test::click(window, "trial-show");
  QTest::qWait(3000);
  // The game's own window lies over ours on the screen.
  good = good && window.grab().save(out + QStringLiteral("/lamplight-tryout.png"));
  test::click(window, "start-game");
  QTest::qWait(1500);
  good = shootNewcomer(window, folder, out) && good;
  good = shootSurface(window, folder, out) && good;
  good = good && window.openMod(folder.path() + QStringLiteral("/first-lamp")) && test::settle(window);
  // Dialogs, and the first mod with its guide.
  const auto shootDialog = [&](const char* name, const QString& file) {
    QTimer::singleShot(900, &window, [=, &window] {
      QWidget* top = QApplication::activeModalWidget();
      if (top == nullptr || top->objectName() != QLatin1String(name)) return;
      top->move(340, 90);
      test::shoot(window, file);
      static_cast<QDialog*>(top)->reject();
    });
  };
  for (QAction* action : window.findChildren<QAction*>())
    if (action->text() == QStringLiteral("New from a &copy of this…")) {
      shootDialog("new-mod", out + QStringLiteral("/new-copy.png"));
      QTimer::singleShot(500, &window, [] {
        if (auto* title =
                QApplication::activeModalWidget()->findChild<QLineEdit*>(QStringLiteral("new-title")))
          title->setText(QStringLiteral("Storm light"));
      });
      action->trigger();
      QTest::qWait(1500);  // the dialog's choices are read first
    }
  shootDialog("keys", out + QStringLiteral("/keys.png"));
  window.findChild<QAction*>(QStringLiteral("keys"))->trigger();
  qputenv("HOME", folder.path().toUtf8());  // the guide's copy is made there
  window.close();
  app::MainWindow second;
  second.move(0, 0);
  second.show();
  good = good && QTest::qWaitForWindowExposed(&second);
  good = good && test::shoot(second, out + QStringLiteral("/start.png"));
  test::click(second, "start-first");
  good = good && test::settle(second);
  good = good && test::shoot(second, out + QStringLiteral("/guide.png"));
  good = good && second.openMod(folder.path() + QStringLiteral("/first-lamp")) && test::settle(second);
  second.findChild<QAction*>(QStringLiteral("night-colours"))->trigger();
  second.setStation(app::Station::shape);
  second.session().selectObject("quay-lamp");
  test::settle(second);
  good = good && test::shoot(second, out + QStringLiteral("/first-lamp-dark.png"));
  second.findChild<QAction*>(QStringLiteral("night-colours"))->trigger();
  good = shootSources(second, folder, out) && good;
  good = shootSlipway(second, folder, out) && good;
  return good ? 0 : 1;
}
