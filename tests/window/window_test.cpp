// The journey in the real window, with mouse and keys.
#include <QDialog>
#include <QDropEvent>
#include <QEnterEvent>
#include <QFloat16>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <QScrollArea>
#include <QSet>
#include <QSignalSpy>
#include <QTimer>
#include <algorithm>
#include <cmath>

#include "base/files.h"
#include "bundle/bundle_reader.h"
#include "formats/zip.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "window_fixture.h"

using namespace rakugo;
using app::Station;

class WindowTest : public test::WindowFixture {
  Q_OBJECT

  QStringList findings() {
    QStringList out;
    for (const auto& f : session().examination()->findings) out << QString::fromStdString(f.check);
    return out;
  }
  // All that is still said, for the message of a comparison that fails.
  QString said() {
    QString out;
    for (const auto& f : session().examination()->findings)
      out += QString::fromStdString(f.sentence) + QLatin1Char(' ');
    return out;
  }
  QStringList steps() {
    QStringList out;
    for (const auto& s : session().state().models.begin()->second.steps)
      out << QString::fromStdString(s.kind);
    return out;
  }
  // Types into a field the way a person does: click, choose all, type.
  void type(const char* name, const QString& text) {
    QVERIFY2(test::click(*window_, name), name);
    QWidget* widget = test::find<QWidget>(*window_, name);
    QTest::keyClick(widget, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(widget, text);
  }
  // Activates the n-th value of a step's sentence with the keyboard.
  void activateValue(const char* sentence, int n) {
    auto* label = test::find<QLabel>(*window_, sentence);
    QVERIFY(label);
    label->setFocus();
    for (int i = 0; i <= n; ++i) QTest::keyClick(label, Qt::Key_Tab);
    QTest::keyClick(label, Qt::Key_Return);
    QTest::qWait(50);
  }
  // Picks an entry of the open menu by its text, with the arrow keys.
  void pick(const QString& text) {
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    QVERIFY2(menu, "no menu is open");
    for (QAction* action : menu->actions())
      if (action->text() == text) {
        menu->setActiveAction(action);
        QTest::keyClick(menu, Qt::Key_Return);
        QTest::qWait(30);
        return;
      }
    QFAIL(qPrintable(QStringLiteral("the menu does not offer ") + text));
  }

 private:
  void playHeadless() {
    // The stand-in loads what was installed by the journey.
    const QString mods = folder_->path() + QStringLiteral("/game/mods");
    const QString script = folder_->path() + QStringLiteral("/script"),
                  log = folder_->path() + QStringLiteral("/log"),
                  shots = folder_->path() + QStringLiteral("/shots");
    QVERIFY(base::writeFileAtomic(
        script.toStdString(), std::string_view("{\"do\":\"shot\",\"file\":\"day.png\"}\n{\"do\":\"night\"}\n{"
                                               "\"do\":\"shot\",\"file\":\"night.png\"}\n")));
    QCOMPARE(QProcess::execute(
                 QStringLiteral(RAKUGO_BIN_DIR "/kelpwick"),
                 {QStringLiteral("--mods"), mods, QStringLiteral("--headless"), QStringLiteral("--script"),
                  script, QStringLiteral("--shots"), shots, QStringLiteral("--log"), log}),
             0);
    const auto said = base::readFile(log.toStdString());
    QVERIFY(said && base::asText(*said).find("\"event\":\"loaded\"") != std::string::npos);
    QVERIFY(base::asText(*said).find("\"level\":\"error\"") == std::string::npos);
    const QImage day(shots + QStringLiteral("/day.png")), night(shots + QStringLiteral("/night.png"));
    QVERIFY(!day.isNull() && day.size() == night.size() && day != night);
  }

 private Q_SLOTS:
  void init() { begin(); }
  void cleanup() { end(); }

  void theWholeJourney() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings().size(), 13);
    QVERIFY(test::find<QPushButton>(*window_, "only-shows")->text() == QStringLiteral("12 show"));

    // Mend what can be mended, each by its own button.
    for (const char* id :
         {"mend-size.unit", "mend-axes.differ", "mend-part.stray", "mend-placement.not_baked",
          "mend-origin.place", "mend-picture.missing", "mend-role.missing"}) {
      QVERIFY2(test::click(*window_, id), id);
      QVERIFY(test::settle(*window_));
    }
    QVERIFY(!findings().contains(QStringLiteral("size.unit")));
    QCOMPARE(steps(), (QStringList{QStringLiteral("read_lengths"), QStringLiteral("use_picture"),
                                   QStringLiteral("turn"), QStringLiteral("drop"), QStringLiteral("bake"),
                                   QStringLiteral("origin"), QStringLiteral("role")}));

    // Undo and redo by keys: states come back whole.
    const auto full = mod::documentTexts(session().state());
    for (int i = 0; i < 7; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings().size(), 13);
    QVERIFY(!session().history().dirty());
    for (int i = 0; i < 7; ++i)
      QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(mod::documentTexts(session().state()), full);

    // A value in a sentence: metres instead of centimetres, and back.
    activateValue("sentence-s1", 0);
    pick(QStringLiteral("metres"));
    QVERIFY(test::settle(*window_));
    QVERIFY(findings().contains(QStringLiteral("size.unit")));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(!findings().contains(QStringLiteral("size.unit")));

    // The card.
    QTest::keyClick(window_.get(), Qt::Key_5, Qt::AltModifier);
    QVERIFY(test::click(*window_, "field-lit"));
    QVERIFY(test::settle(*window_));
    type("field-blurb", QStringLiteral("A lamp for the quay."));
    type("field-price", QStringLiteral("180"));
    type("field-mass", QStringLiteral("62.5"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().objects.begin()->second.card["price"], base::Json(180));
    QVERIFY(test::click(*window_, "mend-field.empty"));  // the shelf: its default
    QVERIFY(test::settle(*window_));

    // Lit, so the game wants a lamp: the right material is offered, and then the place of its light.
    QVERIFY(findings().contains(QStringLiteral("role.missing")));
    auto* more = test::find<QPushButton>(*window_, "more-role.missing");
    QVERIFY(more);
    bool given = false;
    for (QAction* way : more->menu()->actions())
      if (way->text().contains(QStringLiteral("mat_17"))) way->trigger(), given = true;
    QVERIFY(given);
    QVERIFY(test::settle(*window_));
    QVERIFY(test::click(*window_, "mend-point.missing"));
    QVERIFY(test::settle(*window_));

    QVERIFY(window_->bench().works());
    QVERIFY(test::click(*window_, "take-icon"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(said(), QString());

    // Build, install and look.
    QSignalSpy built(&session(), &app::Session::built);
    QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
    QTRY_COMPARE_WITH_TIMEOUT(built.size(), 1, test::kPatience_ms);
    QCOMPARE(built.at(0).at(0).toBool(), true);
    QVERIFY(!session().history().dirty());
    window_->setStation(Station::bundle);
    QVERIFY(test::click(*window_, "install"));
    QVERIFY(test::settle(*window_));
    const QString installed = folder_->path() + QStringLiteral("/game/mods/first-lamp-4k7m2p.rkb");
    QVERIFY(QFile::exists(installed));
    playHeadless();
  }

  void pointingAtTheFrontTurnsTheModel() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    window_->setStation(Station::shape);
    window_->bench().lookFrom(QStringLiteral("left"));
    QVERIFY(test::click(*window_, "point-front"));
    // The foot's side that looks at the eye is the game's left: after the click it is the front.
    const auto at = window_->bench().project({session().scene()->bounds_m.center().x - 0.2F, 0.2F, 0.03F});
    QVERIFY(at);
    // Walk up the middle of the picture until something of the model is under the pointer.
    QSignalSpy chosen(&window_->bench(), &app::Bench::frontChosen);
    for (int y = window_->bench().height() - 20; y > 20 && chosen.isEmpty(); y -= 6)
      QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, QPoint(static_cast<int>(at->x()), y));
    QCOMPARE(chosen.size(), 1);
    QVERIFY(test::settle(*window_));
    QVERIFY(findings().contains(QStringLiteral("axes.facing")));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings(), QStringList());
  }

  void typingALengthFitsTheModel() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    window_->setStation(Station::shape);
    for (const char* typed : {"3 m", "320 cm"}) {
      type("gauge-height", QString::fromLatin1(typed));
      QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
      QVERIFY(test::settle(*window_));
    }
    QVERIFY(std::abs(session().scene()->bounds_m.size().z - 3.2F) < 0.01F);
    QCOMPARE(steps().count(QStringLiteral("scale")), 1);
    type("gauge-height", QStringLiteral("tall"));
    QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
    QCOMPARE(test::find<QLineEdit>(*window_, "gauge-height")->text(), QStringLiteral("3.20 m"));
  }

  void stepsAreSwitchedOffMovedAndRemoved() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    QVERIFY(test::click(*window_, "off-s5"));
    QVERIFY(test::settle(*window_));
    QVERIFY(findings().contains(QStringLiteral("placement.not_baked")));
    QVERIFY(test::click(*window_, "off-s5"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings(), QStringList());
    QVERIFY(test::click(*window_, "later-s1"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(steps().at(1), QStringLiteral("read_lengths"));
    QVERIFY(test::click(*window_, "remove-s1"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(steps().size(), 8);
  }

  void addingAModelCopiesItInAndASecondTimeTakesAnotherName() {
    const auto made =
        mod::newMod((folder_->path() + QStringLiteral("/mine")).toStdString(), "Mine", "kelpwick", "1.2");
    QVERIFY(made);
    QVERIFY(window_->openMod(folder_->path() + QStringLiteral("/mine")) && test::settle(*window_));
    const QString lamp =
        test::copyOfMod(*folder_, "first-lamp") + QStringLiteral("/sources/quay-lamp/quay_lamp.glb");
    for (int i = 0; i < 2; ++i) {
      window_->openPath(lamp);
      QVERIFY(session().working());
      QVERIFY(test::settle(*window_));
    }
    QCOMPARE(session().state().models.size(), 2u);
    QCOMPARE(session().state().objects.size(), 2u);
    QVERIFY(
        QFile::exists(folder_->path() + QStringLiteral("/mine/sources/quay-lamp/textures/oak_turned.png")));
    // The original is not touched, and taking it back leaves the mod as it was.
    for (int i = 0; i < 2; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(session().state().models.empty());
    QVERIFY(test::settle(*window_));
  }

  void anObjComesWithItsLibraryAndPictures() {
    const QString folder = folder_->path() + QStringLiteral("/in");
    QVERIFY(QDir().mkpath(folder + QStringLiteral("/tex")));
    const auto put = [&](const char* name, std::string_view text) {
      QVERIFY(base::writeFileAtomic((folder + QLatin1Char('/') + QLatin1String(name)).toStdString(), text));
    };
    put("crate.obj",
        "mtllib crate.mtl\no crate\nv 0 0 0\nv 60 0 0\nv 60 0 60\nv 0 0 60\nv 0 60 0\nv 60 60 0\nv 60 60 "
        "60\nv 0 60 60\n"
        "vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl planks\nf 4/1 3/2 2/3 1/4\nf 5/1 6/2 7/3 8/4\nf 1/1 2/2 6/3 "
        "5/4\n"
        "f 2/1 3/2 7/3 6/4\nf 3/1 4/2 8/3 7/4\nf 4/1 1/2 5/3 8/4\nl 1 2\n");
    put("crate.mtl", "newmtl planks\nKd 0.8 0.6 0.4\nmap_Kd tex\\planks.png\nmap_Bump tex/gone.png\n");
    QImage(8, 8, QImage::Format_RGB32).save(folder + QStringLiteral("/tex/planks.png"));
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    window_->openPath(folder + QStringLiteral("/crate.obj"));
    QVERIFY(test::settle(*window_));
    const auto& source = session().state().sources.at("crate");
    QStringList files;
    for (const auto& file : source.files) files << QString::fromStdString(file.path);
    files.sort();
    QCOMPARE(files, (QStringList{QStringLiteral("crate.mtl"), QStringLiteral("crate.obj"),
                                 QStringLiteral("tex/planks.png")}));
    // Sixty metres of crate: the unit is doubted, and the picture that is not there is missed.
    QVERIFY(findings().contains(QStringLiteral("size.unit")));
    QVERIFY(findings().contains(QStringLiteral("picture.missing")));
    const auto* prepared = session().prepared();
    QVERIFY(prepared && prepared->prepared.model->meshes.size() == 1);
    QCOMPARE(scene::countsOf(*prepared->prepared.model).triangles, uint64_t{12});
    QVERIFY(std::filesystem::exists(session().folder() / "sources/crate/tex/planks.png"));
  }

  void aModelIsTakenOutOfADroppedArchive() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    const auto text = [](std::string_view t) {
      return base::Bytes(base::asBytes(t).begin(), base::asBytes(t).end());
    };
    const auto zip = formats::writeZip(
        {{"Stool Final/stool.obj", text("mtllib stool.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl w\nf 1 2 3\n")},
         {"Stool Final/stool.mtl", text("newmtl w\nmap_Kd wood.png\n")},
         {"Stool Final/textures/wood.png", text("not looked at here")},
         {"Stool Final/stool.stl", text("solid\nfacet\n")}});
    QVERIFY(zip);
    const QString file = folder_->path() + QStringLiteral("/stool_final.zip");
    QVERIFY(base::writeFileAtomic(file.toStdString(), *zip));
    window_->openPath(file);
    QTRY_VERIFY_WITH_TIMEOUT(session().state().sources.count("stool") == 1, test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QVERIFY(told().contains(QStringLiteral("1 model")));
    QVERIFY(std::filesystem::exists(session().folder() / "sources/stool/wood.png"));
    QVERIFY(!std::filesystem::exists(session().folder() / "sources/stool/stool.stl"));
    QCOMPARE(session().state().models.count("stool"), size_t{1});
    // One without a model is refused with what to look for, and the mod stays as it is.
    QVERIFY(base::writeFileAtomic(file.toStdString(), *formats::writeZip({{"a.txt", text("x")}})));
    window_->openPath(file);
    QTRY_VERIFY_WITH_TIMEOUT(told().contains(QStringLiteral("no model in this archive")), test::kPatience_ms);
    QCOMPARE(session().state().sources.size(), size_t{2});
  }

  void whatIsDroppedOnTheWindowIsTakenIn() {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(test::copyOfMod(*folder_, "lamplight"))});
    const auto drop = [&] {
      // Given to the window itself: the application passes drops on only while a real drag is under way.
      QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
      static_cast<QObject*>(window_.get())->event(&event);
    };
    drop();
    QVERIFY(test::settle(*window_));
    QVERIFY(session().isOpen());
    QCOMPARE(session().state().card.title, std::string("Lamplight"));
    data.setUrls({QUrl::fromLocalFile(
        QStringLiteral(RAKUGO_SOURCE_DIR "/examples/mods/first-lamp/sources/quay-lamp/quay_lamp.glb"))});
    drop();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().sources.size(), 2u);
    QCOMPARE(session().state().models.count("quay-lamp-2"), 1u);
  }

  void badInputIsSaidAndNothingIsLost() {
    QVERIFY(window_->openMod(folder_->path()));
    QVERIFY(test::settle(*window_));
    QVERIFY(!session().isOpen());
    QVERIFY(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("not a mod")));
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    const QString bad = folder_->path() + QStringLiteral("/bad.glb");
    QVERIFY(base::writeFileAtomic(bad.toStdString(), std::string_view("glTF\x02")));
    const auto before = mod::documentTexts(session().state());
    window_->openPath(bad);
    QVERIFY(test::settle(*window_));
    QVERIFY(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("bad.glb")));
    QCOMPARE(mod::documentTexts(session().state()), before);
    // A mod with a stopping finding: Build says why and builds nothing.
    session().edit(QStringLiteral("break"),
                   [](mod::ModState& s) { s.objects.begin()->second.card["price"] = 0; });
    QVERIFY(test::settle(*window_));
    QSignalSpy built(&session(), &app::Session::built);
    QVERIFY(test::click(*window_, "build"));
    QTRY_COMPARE_WITH_TIMEOUT(built.size(), 1, test::kPatience_ms);
    QCOMPARE(built.at(0).at(0).toBool(), false);
    QVERIFY(!QFile::exists(QString::fromStdString(session().output().string())));
  }

  void numbersAndPartsInSentencesAreChangedInPlace() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    window_->setStation(Station::shape);
    type("gauge-height", QStringLiteral("3 m"));
    QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
    QVERIFY(test::settle(*window_));
    // The factor, typed with a comma.
    activateValue("sentence-s10", 0);
    auto* popup = QApplication::activePopupWidget();
    QVERIFY(popup);
    auto* line = popup->findChild<QLineEdit*>(QStringLiteral("value"));
    QVERIFY(line);
    line->selectAll();
    QTest::keyClicks(line, QStringLiteral("1,5"));
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(test::settle(*window_));
    QVERIFY(std::abs(session().scene()->bounds_m.size().z - 2.52F * 1.5F) < 0.02F);
    // The dropped parts: one is taken back by its tick.
    activateValue("sentence-s4", 0);
    pick(QStringLiteral("sun"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings(), QStringList{QStringLiteral("part.stray")});
    QVERIFY(test::click(*window_, "mend-part.stray"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings(), QStringList());
    QCOMPARE(steps().count(QStringLiteral("drop")), 1);
  }

  void everyStepCanBeAddedFromTheMenu() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
    QVERIFY(test::settle(*window_));
    QStringList kinds;
    for (const prepare::StepKind& kind : prepare::stepKinds()) {
      // Those on what was picked are added where it is picked.
      if (prepare::needsPick(kind)) continue;
      kinds << QString::fromUtf8(kind.id);
      QVERIFY(test::click(*window_, "add-step"));
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      QVERIFY2(menu, "no menu is open");
      for (QAction* group : menu->actions())
        if (group->text() == QString::fromUtf8(prepare::groupTitle(kind.group))) {
          menu->setActiveAction(group);
          QTest::keyClick(menu, Qt::Key_Right);
          QTest::qWait(30);
        }
      pick(QString::fromUtf8(kind.title));
      QVERIFY(test::settle(*window_));
      QVERIFY2(steps().contains(QString::fromUtf8(kind.id)), kind.id);
    }
    // By rank, whatever the order they were added in.
    QCOMPARE(steps(), kinds);
  }

  void showGoesToTheStationAndTheField() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")) && test::settle(*window_));
    session().edit(QStringLiteral("break"), [](mod::ModState& s) {
      s.objects.begin()->second.card["price"] = 0;
      s.card.author.clear();
    });
    QVERIFY(test::settle(*window_));
    window_->setStation(Station::sources);
    QVERIFY(test::click(*window_, "show-field.limits"));
    QTest::qWait(60);
    QVERIFY(test::find<QLineEdit>(*window_, "field-price"));
    QVERIFY(test::find<QLineEdit>(*window_, "field-price")->hasFocus());
    QVERIFY(test::click(*window_, "show-mod.card"));
    QTest::qWait(60);
    QVERIFY(test::find<QLineEdit>(*window_, "mod-author")->hasFocus());
  }

  void withoutAModNothingIsOfferedThatWouldDoNothing() {
    QVERIFY(test::find<QPushButton>(*window_, "start-open"));
    QVERIFY(test::find<QPushButton>(*window_, "start-new"));
    QVERIFY(!test::find<QPushButton>(*window_, "build"));
    QStringList offered;
    for (const QAction* menu : window_->menuBar()->actions())
      for (const QAction* action : menu->menu()->actions())
        if (action->isEnabled() && !action->isSeparator()) offered << action->text().remove(QLatin1Char('&'));
    QCOMPARE(offered,
             (QStringList{QStringLiteral("New…"), QStringLiteral("Open…"), QStringLiteral("Quit"),
                          QStringLiteral("Night colours"), QStringLiteral("Keys…"),
                          QStringLiteral("Copy details for a report"), QStringLiteral("About Rakugo")}));
  }

  void aNewModIsStartedFromTheDialog() {
    const QString folder = folder_->path() + QStringLiteral("/started");
    // The dialog runs its own loop; this fills it in from inside.
    QTimer::singleShot(200, window_.get(), [&] {
      auto* dialog = window_->findChild<QDialog*>(QStringLiteral("new-mod"));
      if (dialog == nullptr) return;
      QTest::keyClicks(dialog->findChild<QLineEdit*>(QStringLiteral("new-title")),
                       QStringLiteral("Sea wall"));
      auto* where = dialog->findChild<QLineEdit*>(QStringLiteral("new-folder"));
      where->selectAll();
      QTest::keyClicks(where, folder);
      QTest::keyClick(where, Qt::Key_Return);
    });
    QVERIFY(test::click(*window_, "start-new"));
    QTRY_VERIFY_WITH_TIMEOUT(session().isOpen(), test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().card.title, std::string("Sea wall"));
    QVERIFY(findings().contains(QStringLiteral("object.none")));
    QVERIFY(QFile::exists(folder + QStringLiteral("/mod.json")));
  }

  void theGhostIsOfferedWhereItIsDrawn() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    QVERIFY(test::find<QPushButton>(*window_, "ghost")->isEnabled());
    QVERIFY(!test::find<QPushButton>(*window_, "night")->isEnabled());
    QVERIFY(test::click(*window_, "look-game"));
    QVERIFY(!test::find<QPushButton>(*window_, "ghost")->isEnabled());
    QVERIFY(test::find<QPushButton>(*window_, "night")->isEnabled());
  }

  void theContentsShowAPictureOfEachModelThatWasSeen() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    auto* contents = window_->findChild<app::Contents*>();
    QVERIFY(contents);
    QTRY_VERIFY_WITH_TIMEOUT(contents->hasPicture("quay-lamp"), test::kPatience_ms);
    // A row shows it: the frame at its left is not blank.
    auto* row = test::find<QWidget>(*window_, "model-quay-lamp");
    QVERIFY(row);
    const QImage shown = row->grab().toImage();
    QSet<QRgb> colours;
    for (int y = 10; y < 44; ++y)
      for (int x = 18; x < 50; ++x) colours.insert(shown.pixel(x, y));
    QVERIFY(colours.size() > 20);
    // Under the pointer it turns: once the pictures from all round are taken, the frame changes by itself.
    // Rows are made anew when there is news, so each is looked up when it is asked.
    QTRY_VERIFY_WITH_TIMEOUT(contents->pictureCount("quay-lamp") > 1, test::kPatience_ms);
    QImage before;
    const auto turns = [&] {
      auto* now = test::find<QWidget>(*window_, "model-quay-lamp");
      if (now == nullptr) return false;
      if (!before.isNull() && now->grab().toImage() != before) return true;
      before = now->grab().toImage();
      QEnterEvent enter(QPointF(20, 20), QPointF(20, 20), QPointF(20, 20));
      QApplication::sendEvent(now, &enter);
      return false;
    };
    QTRY_VERIFY_WITH_TIMEOUT(turns(), test::kPatience_ms);
  }

  void manyFastEditsEndInTheLastState() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    // A dragged value: each edit replaces the examination of the one before; all of them are one step back.
    for (int i = 1; i <= 60; ++i)
      session().edit(
          QStringLiteral("Drag the price"),
          [i](mod::ModState& s) { s.objects.begin()->second.card["price"] = i * 200; },
          QStringLiteral("price"));
    QVERIFY(session().busy());
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings(), QStringList{QStringLiteral("field.limits")});
    QCOMPARE(session().examination()->mod.get(), &session().state());
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().objects.begin()->second.card["price"], base::Json(240));
    QVERIFY(!session().history().canUndo());
  }

  void aBuildAskedForWhileLookingFollows() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    QSignalSpy built(&session(), &app::Session::built);
    session().edit(QStringLiteral("Rename"), [](mod::ModState& s) { s.card.title = "Lamplight two"; });
    QVERIFY(session().busy());
    QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
    QTRY_COMPARE_WITH_TIMEOUT(built.size(), 1, test::kPatience_ms);
    QCOMPARE(built.at(0).at(0).toBool(), true);
    const auto bundle = bundle::Bundle::open(session().output());
    QVERIFY(bundle);
    QCOMPARE(bundle->manifest().title, std::string("Lamplight two"));
    // What was built is what is on disk.
    QCOMPARE(mod::loadMod(session().folder())->card.title, std::string("Lamplight two"));
  }

  void savingToAFolderThatCannotBeWrittenSaysSoAndLosesNothing() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(window_->openMod(mod));
    QVERIFY(test::settle(*window_));
    const auto before = base::readFile((mod + QStringLiteral("/mod.json")).toStdString());
    session().edit(QStringLiteral("Rename"), [](mod::ModState& s) { s.card.title = "Other"; });
    // A folder lies where the temporary file should be written: that fails even for root.
    const QString in_the_way =
        mod + QStringLiteral("/mod.json.tmp-%1").arg(QCoreApplication::applicationPid());
    QVERIFY(QDir().mkpath(in_the_way + QStringLiteral("/x")));
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("cannot be")));
    QVERIFY(session().history().dirty());
    QCOMPARE(session().state().card.title, std::string("Other"));
    // Once it can be written again, it is.
    QVERIFY(QDir(in_the_way).removeRecursively());
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(!session().history().dirty());
    QVERIFY(before && *base::readFile((mod + QStringLiteral("/mod.json")).toStdString()) != *before);
  }

  void partsAreChosenInTheListAndInTheBench() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    window_->setStation(Station::shape);
    window_->bench().lookFrom(QStringLiteral("left"));
    QSignalSpy clicked(&window_->bench(), &app::Bench::partClicked);
    // Up the height of the post until the pointer meets it.
    const auto& box = session().scene()->bounds_m;
    bool met = false;
    for (float x = box.min.x; x < box.max.x && !met; x += 0.03F) {
      const auto at = window_->bench().project({x, 0, 1.6F});
      QVERIFY(at);
      QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, at->toPoint());
      met = clicked.last().at(0).toString() == QLatin1String("quay_lamp/post");
    }
    QVERIFY(met);
    QTest::qWait(50);
    auto* row = test::find<QPushButton>(*window_, "part-quay_lamp/post");
    QVERIFY(row && row->isChecked());
    // Dropping it by its button joins the step that is there, and the floor stays.
    QVERIFY(test::click(*window_, "drop-quay_lamp/line"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(steps().count(QStringLiteral("drop")), 1);
    QCOMPARE(session().scene()->parts.size(), 4u);
  }

  void measuringTakesTwoClicks() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    window_->setStation(Station::shape);
    window_->bench().lookFrom(QStringLiteral("left"));
    QVERIFY(test::click(*window_, "measure"));
    std::vector<QPointF> clicked;
    for (const float height : {0.05F, 1.6F})
      for (float x = -0.6F; x < 0.6F; x += 0.02F) {
        const size_t before = window_->bench().measured().size();
        const QPoint at = window_->bench().project({x, 0, height})->toPoint();
        QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, at);
        if (window_->bench().measured().size() == before) continue;
        clicked.emplace_back(at);
        break;
      }
    const auto points = window_->bench().measured();
    QCOMPARE(points.size(), 2u);
    for (size_t i = 0; i < 2; ++i) {
      // What was clicked, or the vertex, edge or face that lies within a dozen pixels of it.
      const QPointF off = *window_->bench().project(points[i]) - clicked[i];
      QVERIFY(std::hypot(off.x(), off.y()) < 13);
    }
    // A dozen pixels are a few centimetres here.
    QVERIFY(std::abs(points[1].z - points[0].z - 1.55F) < 0.15F);
    QTest::keyClick(&window_->bench(), Qt::Key_Escape);
    QVERIFY(window_->bench().measured().empty());
  }

  void theGameIsStartedAndItsWordsLeadBack() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    // A lamp that says it is lit and has no light point: the rulebook shows it, the game warns of it.
    session().edit(QStringLiteral("no point"),
                   [](mod::ModState& s) { s.models.begin()->second.points.clear(); });
    QVERIFY(test::settle(*window_));
    window_->setStation(Station::tryout);
    QVERIFY(test::click(*window_, "start-game"));
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QLabel>(*window_, "log-loaded"), test::kPatience_ms);
    auto* warning = test::find<QLabel>(*window_, "log-dark");
    QVERIFY(warning);
    Q_EMIT warning->linkActivated(QStringLiteral("go"));
    QVERIFY(test::find<QWidget>(*window_, "take-icon"));
    window_->setStation(Station::tryout);

    // Each edit reaches the running game by itself, saved or not; how long that takes is said, not judged.
    auto* tryout = window_->findChild<app::TryoutStation*>();
    QTRY_VERIFY_WITH_TIMEOUT(tryout->connected(), test::kPatience_ms);
    QSignalSpy upToDate(tryout, &app::TryoutStation::gameUpToDate);
    const auto rename = [&](const char* to) {
      session().edit(QStringLiteral("rename"),
                     [&](mod::ModState& s) { s.objects.begin()->second.title = to; });
    };
    QTest::qWait(3000);  // the game has drawn its first pictures
    rename("Harbour light");
    QTRY_COMPARE_WITH_TIMEOUT(upToDate.size(), 1, test::kPatience_ms);
    qInfo("edit to game: %lld ms", upToDate.at(0).at(0).toLongLong());
    QVERIFY(session().history().dirty());
    const QString installed = folder_->path() + QStringLiteral("/game/mods/lamplight-8w3hxq.rkb");
    const auto named = [&] {
      const auto package = build::lookInto(installed.toStdString());
      const auto bundle = bundle::Bundle::open(installed.toStdString());
      return package && bundle
                 ? bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "t")->name
                 : std::string();
    };
    QCOMPARE(named(), std::string("Harbour light"));
    // Many quick edits end in the last one; a state that stops the game is not given to it.
    for (const char* name : {"A", "B", "C"}) {
      rename(name);
      QTest::qWait(30);
    }
    QTRY_COMPARE_WITH_TIMEOUT(named(), std::string("C"), test::kPatience_ms);
    QTRY_VERIFY_WITH_TIMEOUT(!upToDate.isEmpty() && !session().busy(), test::kPatience_ms);
    session().edit(QStringLiteral("break"),
                   [](mod::ModState& s) { s.objects.begin()->second.card["price"] = 0; });
    QVERIFY(test::settle(*window_));
    QTest::qWait(300);
    QCOMPARE(named(), std::string("C"));
    window_->setStation(Station::tryout);
    QVERIFY(test::find<QLabel>(*window_, "game-state")->text().contains(QStringLiteral("nothing stops")));
    session().undo();
    QVERIFY(test::settle(*window_));
    window_->setStation(Station::tryout);
    QVERIFY(test::click(*window_, "start-game"));
    QTRY_VERIFY_WITH_TIMEOUT(
        test::find<QPushButton>(*window_, "start-game")->text().startsWith(QStringLiteral("Install")),
        test::kPatience_ms);
  }

  void nothingIsCutOffAt1280x800_data() {
    QTest::addColumn<QString>("mod");
    QTest::newRow("unprepared") << QStringLiteral("first-lamp");
    QTest::newRow("finished") << QStringLiteral("lamplight");
  }
  void nothingIsCutOffAt1280x800() {
    QFETCH(QString, mod);
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, mod.toUtf8().constData())));
    QVERIFY(test::settle(*window_));
    QCOMPARE(window_->size(), QSize(1280, 800));
    for (const Station station : app::kStations) {
      window_->setStation(station);
      QTest::qWait(50);
      for (const QPushButton* button : window_->findChildren<QPushButton*>()) {
        if (!button->isVisible() || button->text().isEmpty()) continue;
        QVERIFY2(button->width() >= button->fontMetrics().horizontalAdvance(button->text()),
                 qPrintable(button->text()));
      }
      for (const QLabel* label : window_->findChildren<QLabel*>()) {
        if (!label->isVisible() || label->text().isEmpty() || !label->wordWrap()) continue;
        QVERIFY2(label->height() + 1 >= label->heightForWidth(label->width()),
                 qPrintable(QStringLiteral("%1: %2 of %3 px, %4 wide")
                                .arg(label->text())
                                .arg(label->height())
                                .arg(label->heightForWidth(label->width()))
                                .arg(label->width())));
      }
      // Nothing sticks out at the right, where there is no scroll bar to reach it.
      for (const QScrollArea* area : window_->findChildren<QScrollArea*>())
        if (area->isVisible() && area->widget())
          QVERIFY2(
              area->widget()->width() <= area->viewport()->width(),
              qPrintable(area->parentWidget()->objectName() + QString::number(static_cast<int>(station))));
    }
  }

  void everyControlHasANameAndTheKeyboardReachesIt() {
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::settle(*window_));
    for (const Station station : app::kStations) {
      window_->setStation(station);
      QTest::qWait(30);
      for (const QWidget* w : window_->findChildren<QWidget*>()) {
        const auto* button = qobject_cast<const QAbstractButton*>(w);
        const bool input =
            qobject_cast<const QLineEdit*>(w) != nullptr || qobject_cast<const QPlainTextEdit*>(w) != nullptr;
        if (!w->isVisible() || (button == nullptr && !input) ||
            w->objectName().startsWith(QLatin1String("qt_")))
          continue;
        const bool named = !w->accessibleName().isEmpty() || (button != nullptr && !button->text().isEmpty());
        QVERIFY2(named, qPrintable(w->objectName()));
        QVERIFY2((w->focusPolicy() & Qt::TabFocus) != 0, qPrintable(w->objectName()));
      }
    }
  }

  void opensWithoutOpenGl() {
    // Under the offscreen platform there is none; under a real server this passes by as well.
    QVERIFY(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings().size(), 13);
    QVERIFY(test::click(*window_, "mend-size.unit"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(findings().size(), 12);
  }
};

int main(int argc, char** argv) { return test::runTests<WindowTest>(argc, argv); }

#include "window_test.moc"
