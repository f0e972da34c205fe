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

#include "app/contents/contents_view.h"
#include "app/widgets/row_list.h"
#include "base/files.h"
#include "bundle/bundle_reader.h"
#include "formats/archives/zip.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "window_fixture.h"

using namespace rakugo;
using app::Station;

class WindowTest : public test::WindowFixture {
 protected:
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
    ASSERT_TRUE(test::click(*window_, name)) << name;
    QWidget* widget = test::find<QWidget>(*window_, name);
    QTest::keyClick(widget, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(widget, text);
  }
  // Activates the n-th value of a step's sentence with the keyboard.
  void activateValue(const char* sentence, int n) {
    auto* label = test::find<QLabel>(*window_, sentence);
    ASSERT_TRUE(label);
    label->setFocus();
    for (int i = 0; i <= n; ++i) QTest::keyClick(label, Qt::Key_Tab);
    QTest::keyClick(label, Qt::Key_Return);
    QTest::qWait(50);
  }
  // Picks an entry of the open menu by its text, with the arrow keys.
  void pick(const QString& text) {
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    ASSERT_TRUE(menu) << "no menu is open";
    for (QAction* action : menu->actions())
      if (action->text() == text) {
        menu->setActiveAction(action);
        QTest::keyClick(menu, Qt::Key_Return);
        QTest::qWait(30);
        return;
      }
    FAIL() << qPrintable(QStringLiteral("the menu does not offer ") + text);
  }

  void playHeadless() {
    // The stand-in loads what was installed by the journey.
    const QString mods = folder_->path() + QStringLiteral("/game/mods");
    const QString script = folder_->path() + QStringLiteral("/script"),
                  log = folder_->path() + QStringLiteral("/log"),
                  shots = folder_->path() + QStringLiteral("/shots");
    ASSERT_TRUE(base::writeFileAtomic(
        script.toStdString(), std::string_view("{\"do\":\"shot\",\"file\":\"day.png\"}\n{\"do\":\"night\"}\n{"
                                               "\"do\":\"shot\",\"file\":\"night.png\"}\n")));
    ASSERT_EQ(QProcess::execute(
                  QStringLiteral(RAKUGO_BIN_DIR "/kelpwick"),
                  {QStringLiteral("--mods"), mods, QStringLiteral("--headless"), QStringLiteral("--script"),
                   script, QStringLiteral("--shots"), shots, QStringLiteral("--log"), log}),
              0);
    const auto said = base::readFile(log.toStdString());
    ASSERT_TRUE(said && base::asText(*said).find("\"event\":\"loaded\"") != std::string::npos);
    ASSERT_TRUE(base::asText(*said).find("\"level\":\"error\"") == std::string::npos);
    const QImage day(shots + QStringLiteral("/day.png")), night(shots + QStringLiteral("/night.png"));
    ASSERT_TRUE(!day.isNull() && day.size() == night.size() && day != night);
  }
};

TEST_F(WindowTest, ALampIsPreparedBuiltAndInstalled) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings().size(), 13);
  ASSERT_TRUE(test::find<QPushButton>(*window_, "only-shows")->text() == QStringLiteral("11 seen"))
      << "one of them goes with the wrong unit, and without its price the game refuses the lamp";

  // Mend what can be mended, each by its own button.
  for (const char* id : {"mend-size.unit", "mend-axes.differ", "mend-part.stray", "mend-placement.not_baked",
                         "mend-origin.place", "mend-picture.missing", "mend-role.missing"}) {
    ASSERT_TRUE(test::click(*window_, id)) << id;
    ASSERT_TRUE(test::settle(*window_));
  }
  ASSERT_TRUE(!findings().contains(QStringLiteral("size.unit")));
  ASSERT_EQ(steps(), (QStringList{QStringLiteral("read_lengths"), QStringLiteral("use_picture"),
                                  QStringLiteral("turn"), QStringLiteral("drop"), QStringLiteral("bake"),
                                  QStringLiteral("origin"), QStringLiteral("role")}));

  // Undo and redo by keys: states come back whole.
  const auto full = mod::documentTexts(session().state());
  for (int i = 0; i < 7; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings().size(), 13);
  ASSERT_TRUE(!session().history().dirty());
  for (int i = 0; i < 7; ++i)
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(mod::documentTexts(session().state()), full);

  // A value in a sentence: metres instead of centimetres, and back.
  activateValue("sentence-s1", 0);
  pick(QStringLiteral("metres"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(findings().contains(QStringLiteral("size.unit")));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!findings().contains(QStringLiteral("size.unit")));

  // The card.
  QTest::keyClick(window_.get(), Qt::Key_5, Qt::AltModifier);
  ASSERT_TRUE(test::click(*window_, "field-lit"));
  ASSERT_TRUE(test::settle(*window_));
  type("field-blurb", QStringLiteral("A lamp for the quay."));
  type("field-price", QStringLiteral("180"));
  type("field-mass", QStringLiteral("62.5"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().objects.begin()->second.card["price"], base::Json(180));
  ASSERT_TRUE(test::click(*window_, "mend-field.empty"));  // the shelf: its default
  ASSERT_TRUE(test::settle(*window_));

  // Lit, so the game wants a lamp: the right material is offered, and then the place of its light.
  ASSERT_TRUE(findings().contains(QStringLiteral("role.missing")));
  auto* more = dynamic_cast<QPushButton*>(test::chooseFinding(*window_, "role.missing", "more-"));
  ASSERT_TRUE(more);
  bool given = false;
  for (QAction* way : more->menu()->actions())
    if (way->text().contains(QStringLiteral("mat_17"))) way->trigger(), given = true;
  ASSERT_TRUE(given);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "mend-point.missing"));
  ASSERT_TRUE(test::settle(*window_));

  ASSERT_TRUE(window_->bench().works());
  ASSERT_TRUE(test::click(*window_, "take-icon"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(said(), QString());

  // Build, install and look.
  QSignalSpy built(&session(), &app::Session::built);
  QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
  (void)QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(built.size(), 1);
  ASSERT_EQ(built.at(0).at(0).toBool(), true);
  ASSERT_TRUE(!session().history().dirty());
  window_->setStation(Station::bundle);
  ASSERT_TRUE(test::click(*window_, "install"));
  ASSERT_TRUE(test::settle(*window_));
  const QString installed = folder_->path() + QStringLiteral("/game/mods/first-lamp-4k7m2p.rkb");
  ASSERT_TRUE(QFile::exists(installed));
  playHeadless();
}

TEST_F(WindowTest, PointingAtTheFrontTurnsTheModel) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  window_->setStation(Station::shape);
  window_->bench().lookFrom(QStringLiteral("left"));
  ASSERT_TRUE(test::click(*window_, "point-front"));
  // The foot's side that looks at the eye is the game's left: after the click it is the front.
  const auto at = window_->bench().project({session().scene()->bounds_m.center().x - 0.2F, 0.2F, 0.03F});
  ASSERT_TRUE(at);
  // Walk up the middle of the picture until something of the model is under the pointer.
  QSignalSpy chosen(&window_->bench(), &app::Bench::frontChosen);
  for (int y = window_->bench().height() - 20; y > 20 && chosen.isEmpty(); y -= 6)
    QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, QPoint(static_cast<int>(at->x()), y));
  ASSERT_EQ(chosen.size(), 1);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(findings().contains(QStringLiteral("axes.facing")));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings(), QStringList());
}

TEST_F(WindowTest, TypingALengthFitsTheModel) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::shape);
  for (const char* typed : {"3 m", "320 cm"}) {
    type("gauge-height", QString::fromLatin1(typed));
    QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
    ASSERT_TRUE(test::settle(*window_));
  }
  ASSERT_TRUE(std::abs(session().scene()->bounds_m.size().z - 3.2F) < 0.01F);
  ASSERT_EQ(steps().count(QStringLiteral("scale")), 1);
  type("gauge-height", QStringLiteral("tall"));
  QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
  ASSERT_EQ(test::find<QLineEdit>(*window_, "gauge-height")->text(), QStringLiteral("3.20 m"));
}

TEST_F(WindowTest, StepsAreSwitchedOffMovedAndRemoved) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "off-s5"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(findings().contains(QStringLiteral("placement.not_baked")));
  ASSERT_TRUE(test::click(*window_, "off-s5"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings(), QStringList());
  // By keys: the step that has the keyboard goes on, and keeps it.
  test::find<QWidget>(*window_, "step-s1")->setFocus();
  QTest::keyClick(test::find<QWidget>(*window_, "step-s1"), Qt::Key_Down, Qt::AltModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(steps().at(1), QStringLiteral("read_lengths"));
  ASSERT_TRUE(test::find<QWidget>(*window_, "step-s1")->hasFocus());
  ASSERT_TRUE(test::click(*window_, "remove-s1"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(steps().size(), 8);
}

TEST_F(WindowTest, AStepIsDraggedToAnotherPlaceNotedAndSaysWhatItChanged) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(window_->openMod(mod));
  ASSERT_TRUE(test::settle(*window_));
  const auto sentence = [&](const char* id) {
    auto* label = test::find<QLabel>(*window_, (std::string("sentence-") + id).c_str());
    return label != nullptr ? label->text() : QString();
  };
  // The lamp was made in centimetres: read so, it is a hundredth of it.
  EXPECT_TRUE(sentence("s1").contains(QStringLiteral("size 252 m → 2.52 m"))) << qPrintable(sentence("s1"));
  // Dragged by its number below the next one; where it would go is drawn on the way.
  auto* number = test::find<QLabel>(*window_, "number-s1");
  ASSERT_NE(number, nullptr);
  const std::string next = session().state().models.begin()->second.steps[1].id;
  QWidget* below = test::find<QWidget>(*window_, ("step-" + next).c_str());
  const QPoint from(8, 10), to = number->mapFromGlobal(below->mapToGlobal(QPoint(8, below->height() - 4)));
  QTest::mousePress(number, Qt::LeftButton, {}, from);
  QTest::mouseMove(number, (from + to) / 2);
  QTest::mouseMove(number, to);
  QTest::qWait(20);
  EXPECT_NE(test::find<QWidget>(*window_, "step-place"), nullptr);
  QTest::mouseRelease(number, Qt::LeftButton, {}, to);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(steps().at(1), QStringLiteral("read_lengths"));
  EXPECT_EQ(test::find<QWidget>(*window_, "step-place"), nullptr);
  test::look(*window_, "steps-dragged");
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(steps().at(0), QStringLiteral("read_lengths"));
  // A note of one's own, which is saved with the mod.
  auto* row = test::find<QWidget>(*window_, "step-s1");
  QContextMenuEvent menu(QContextMenuEvent::Keyboard, QPoint(30, 10), row->mapToGlobal(QPoint(30, 10)));
  QApplication::sendEvent(row, &menu);
  auto* offered = test::find<QMenu>(*window_, "step-row-menu");
  ASSERT_NE(offered, nullptr);
  auto* note = offered->findChild<QAction*>(QStringLiteral("step-note"));
  ASSERT_NE(note, nullptr);
  note->trigger();
  offered->close();
  auto* line = qobject_cast<QLineEdit*>(QApplication::focusWidget());
  ASSERT_NE(line, nullptr);
  QTest::keyClicks(line, QStringLiteral("as its maker said"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(sentence("s1").contains(QStringLiteral("as its maker said")));
  session().save();
  ASSERT_TRUE(test::settle(*window_));
  const auto saved = mod::loadMod(mod.toStdString());
  ASSERT_TRUE(saved.ok());
  EXPECT_EQ(saved->models.at("quay-lamp").steps.front().note, "as its maker said");
}

TEST_F(WindowTest, WhereTheNextStepWillGoIsDrawnWhileItIsChosen) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "add-step"));
  auto* menu = test::find<QMenu>(*window_, "step-menu");
  ASSERT_NE(menu, nullptr);
  for (QAction* group : menu->actions())
    for (QAction* action : group->menu()->actions())
      if (action->text().startsWith(QStringLiteral("Bake"))) action->hover();
  test::look(*window_, "steps-place");
  EXPECT_NE(test::find<QWidget>(*window_, "step-place"), nullptr);
  menu->close();
  QTest::qWait(20);
  EXPECT_EQ(test::find<QWidget>(*window_, "step-place"), nullptr);
}

TEST_F(WindowTest, AddingAModelCopiesItInAndASecondTimeTakesAnotherName) {
  const auto made =
      mod::newMod((folder_->path() + QStringLiteral("/mine")).toStdString(), "Mine", "kelpwick", "1.2");
  ASSERT_TRUE(made);
  ASSERT_TRUE(window_->openMod(folder_->path() + QStringLiteral("/mine")) && test::settle(*window_));
  const QString lamp =
      test::copyOfMod(*folder_, "first-lamp") + QStringLiteral("/sources/quay-lamp/quay_lamp.glb");
  for (int i = 0; i < 2; ++i) {
    window_->openPath(lamp);
    ASSERT_TRUE(session().working());
    ASSERT_TRUE(test::settle(*window_));
  }
  ASSERT_EQ(session().state().models.size(), 2u);
  ASSERT_EQ(session().state().objects.size(), 2u);
  ASSERT_TRUE(
      QFile::exists(folder_->path() + QStringLiteral("/mine/sources/quay-lamp/textures/oak_turned.png")));
  // The original is not touched, and taking it back leaves the mod as it was.
  for (int i = 0; i < 2; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(session().state().models.empty());
  ASSERT_TRUE(test::settle(*window_));
}

TEST_F(WindowTest, AnObjComesWithItsLibraryAndPictures) {
  const QString folder = folder_->path() + QStringLiteral("/in");
  ASSERT_TRUE(QDir().mkpath(folder + QStringLiteral("/tex")));
  const auto put = [&](const char* name, std::string_view text) {
    ASSERT_TRUE(base::writeFileAtomic((folder + QLatin1Char('/') + QLatin1String(name)).toStdString(), text));
  };
  put("crate.obj",
      "mtllib crate.mtl\no crate\nv 0 0 0\nv 60 0 0\nv 60 0 60\nv 0 0 60\nv 0 60 0\nv 60 60 0\nv 60 60 "
      "60\nv 0 60 60\n"
      "vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nusemtl planks\nf 4/1 3/2 2/3 1/4\nf 5/1 6/2 7/3 8/4\nf 1/1 2/2 6/3 "
      "5/4\n"
      "f 2/1 3/2 7/3 6/4\nf 3/1 4/2 8/3 7/4\nf 4/1 1/2 5/3 8/4\nl 1 2\n");
  put("crate.mtl", "newmtl planks\nKd 0.8 0.6 0.4\nmap_Kd tex\\planks.png\nmap_Bump tex/gone.png\n");
  QImage(8, 8, QImage::Format_RGB32).save(folder + QStringLiteral("/tex/planks.png"));
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->openPath(folder + QStringLiteral("/crate.obj"));
  ASSERT_TRUE(test::settle(*window_));
  const auto& source = session().state().sources.at("crate");
  QStringList files;
  for (const auto& file : source.files) files << QString::fromStdString(file.path);
  files.sort();
  ASSERT_EQ(files, (QStringList{QStringLiteral("crate.mtl"), QStringLiteral("crate.obj"),
                                QStringLiteral("tex/planks.png")}));
  // Sixty metres of crate: the unit is doubted, and the picture that is not there is missed.
  ASSERT_TRUE(findings().contains(QStringLiteral("size.unit")));
  ASSERT_TRUE(findings().contains(QStringLiteral("picture.missing")));
  const auto* prepared = session().prepared();
  ASSERT_TRUE(prepared && prepared->prepared.model->meshes.size() == 1);
  ASSERT_EQ(scene::countsOf(*prepared->prepared.model).triangles, uint64_t{12});
  ASSERT_TRUE(std::filesystem::exists(session().folder() / "sources/crate/tex/planks.png"));
}

TEST_F(WindowTest, AModelIsTakenOutOfADroppedArchive) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const auto text = [](std::string_view t) {
    return base::Bytes(base::asBytes(t).begin(), base::asBytes(t).end());
  };
  const auto zip = formats::writeZip(
      {{"Stool Final/stool.obj", text("mtllib stool.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl w\nf 1 2 3\n")},
       {"Stool Final/stool.mtl", text("newmtl w\nmap_Kd wood.png\n")},
       {"Stool Final/textures/wood.png", text("not looked at here")},
       {"Stool Final/stool.stl", text("solid\nfacet\n")}});
  ASSERT_TRUE(zip);
  const QString file = folder_->path() + QStringLiteral("/stool_final.zip");
  ASSERT_TRUE(base::writeFileAtomic(file.toStdString(), *zip));
  window_->openPath(file);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(session().state().sources.count("stool") == 1); }, test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(told().contains(QStringLiteral("1 model")));
  ASSERT_TRUE(std::filesystem::exists(session().folder() / "sources/stool/wood.png"));
  ASSERT_TRUE(!std::filesystem::exists(session().folder() / "sources/stool/stool.stl"));
  ASSERT_EQ(session().state().models.count("stool"), size_t{1});
  // One without a model is refused with what to look for, and the mod stays as it is.
  ASSERT_TRUE(base::writeFileAtomic(file.toStdString(), *formats::writeZip({{"a.txt", text("x")}})));
  window_->openPath(file);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(told().contains(QStringLiteral("no model in this archive"))); },
      test::kPatience_ms));
  ASSERT_EQ(session().state().sources.size(), size_t{2});
}

TEST_F(WindowTest, WhatIsDroppedOnTheWindowIsTakenIn) {
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(test::copyOfMod(*folder_, "lamplight"))});
  const auto drop = [&] {
    // Given to the window itself: the application passes drops on only while a real drag is under way.
    QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    static_cast<QObject*>(window_.get())->event(&event);
  };
  drop();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().isOpen());
  ASSERT_EQ(session().state().card.title, std::string("Lamplight"));
  data.setUrls({QUrl::fromLocalFile(
      QStringLiteral(RAKUGO_SOURCE_DIR "/examples/mods/first-lamp/sources/quay-lamp/quay_lamp.glb"))});
  drop();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().sources.size(), 2u);
  ASSERT_EQ(session().state().models.count("quay-lamp-2"), 1u);
}

TEST_F(WindowTest, BadInputIsSaidAndNothingIsLost) {
  ASSERT_TRUE(window_->openMod(folder_->path()));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!session().isOpen());
  ASSERT_TRUE(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("not a mod")));
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  const QString bad = folder_->path() + QStringLiteral("/bad.glb");
  ASSERT_TRUE(base::writeFileAtomic(bad.toStdString(), std::string_view("glTF\x02")));
  const auto before = mod::documentTexts(session().state());
  window_->openPath(bad);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("bad.glb")));
  ASSERT_EQ(mod::documentTexts(session().state()), before);
  // A mod with a stopping finding: Build says why and builds nothing.
  session().edit(QStringLiteral("break"), [](mod::ModState& s) { s.objects.front().card["price"] = 0; });
  ASSERT_TRUE(test::settle(*window_));
  QSignalSpy built(&session(), &app::Session::built);
  ASSERT_TRUE(test::click(*window_, "build"));
  (void)QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(built.size(), 1);
  ASSERT_EQ(built.at(0).at(0).toBool(), false);
  ASSERT_TRUE(!QFile::exists(QString::fromStdString(session().output().string())));
}

TEST_F(WindowTest, NumbersAndPartsInSentencesAreChangedInPlace) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::shape);
  type("gauge-height", QStringLiteral("3 m"));
  QTest::keyClick(test::find<QWidget>(*window_, "gauge-height"), Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  // The factor, typed with a comma.
  activateValue("sentence-s10", 0);
  auto* popup = QApplication::activePopupWidget();
  ASSERT_TRUE(popup);
  auto* line = popup->findChild<QLineEdit*>(QStringLiteral("value"));
  ASSERT_TRUE(line);
  line->selectAll();
  QTest::keyClicks(line, QStringLiteral("1,5"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(std::abs(session().scene()->bounds_m.size().z - 2.52F * 1.5F) < 0.02F);
  // The dropped parts: one is taken back by its tick.
  activateValue("sentence-s4", 0);
  pick(QStringLiteral("sun"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings(), QStringList{QStringLiteral("part.stray")});
  ASSERT_TRUE(test::click(*window_, "mend-part.stray"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings(), QStringList());
  ASSERT_EQ(steps().count(QStringLiteral("drop")), 1);
}

TEST_F(WindowTest, EveryStepCanBeAddedFromTheMenu) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
  ASSERT_TRUE(test::settle(*window_));
  QStringList kinds;
  for (const prepare::StepKind& kind : prepare::stepKinds()) {
    // Those on what was picked are added where it is picked.
    if (prepare::needsPick(kind)) continue;
    kinds << QString::fromUtf8(kind.id);
    ASSERT_TRUE(test::click(*window_, "add-step"));
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    ASSERT_TRUE(menu) << "no menu is open";
    for (QAction* group : menu->actions())
      if (group->text() == QString::fromUtf8(prepare::groupTitle(kind.group))) {
        menu->setActiveAction(group);
        QTest::keyClick(menu, Qt::Key_Right);
        QTest::qWait(30);
      }
    pick(QString::fromUtf8(kind.title));
    ASSERT_TRUE(test::examined(*window_));
    ASSERT_TRUE(steps().contains(QString::fromUtf8(kind.id))) << kind.id;
  }
  // By rank, whatever the order they were added in.
  ASSERT_EQ(steps(), kinds);
}

TEST_F(WindowTest, ShowGoesToTheStationAndTheField) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")) && test::settle(*window_));
  session().edit(QStringLiteral("break"), [](mod::ModState& s) {
    s.objects.front().card["price"] = 0;
    s.card.author.clear();
  });
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::sources);
  ASSERT_TRUE(test::click(*window_, "show-field.limits"));
  QTest::qWait(60);
  ASSERT_TRUE(test::find<QLineEdit>(*window_, "field-price"));
  ASSERT_TRUE(test::find<QLineEdit>(*window_, "field-price")->hasFocus());
  ASSERT_TRUE(test::click(*window_, "show-mod.card"));
  QTest::qWait(60);
  ASSERT_TRUE(test::find<QLineEdit>(*window_, "mod-author")->hasFocus());
}

TEST_F(WindowTest, WithoutAModNothingIsOfferedThatWouldDoNothing) {
  ASSERT_TRUE(test::find<QPushButton>(*window_, "start-open"));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "start-new"));
  ASSERT_TRUE(!test::find<QPushButton>(*window_, "build"));
  QStringList offered;
  for (const QAction* menu : window_->menuBar()->actions())
    for (const QAction* action : menu->menu()->actions())
      if (action->isEnabled() && !action->isSeparator()) offered << action->text().remove(QLatin1Char('&'));
  ASSERT_EQ(offered,
            (QStringList{QStringLiteral("New…"), QStringLiteral("Open…"), QStringLiteral("Quit"),
                         QStringLiteral("Night colours"), QStringLiteral("Size of everything"),
                         QStringLiteral("Nothing moves by itself"), QStringLiteral("Help on what is at hand"),
                         QStringLiteral("All pages of the help"), QStringLiteral("Keys…"),
                         QStringLiteral("Copy details for a report"), QStringLiteral("About Rakugo")}));
}

TEST_F(WindowTest, ANewModIsStartedFromTheDialog) {
  const QString folder = folder_->path() + QStringLiteral("/started");
  // The dialog runs its own loop; this fills it in from inside.
  whenDialogOpens("new-mod", [&](QWidget& dialog) {
    QTest::keyClicks(dialog.findChild<QLineEdit*>(QStringLiteral("new-title")), QStringLiteral("Sea wall"));
    auto* where = dialog.findChild<QLineEdit*>(QStringLiteral("new-folder"));
    where->selectAll();
    QTest::keyClicks(where, folder);
    QTest::keyClick(where, Qt::Key_Return);
  });
  ASSERT_TRUE(test::click(*window_, "start-new"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(session().isOpen()); }, test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().card.title, std::string("Sea wall"));
  ASSERT_TRUE(findings().contains(QStringLiteral("object.none")));
  ASSERT_TRUE(QFile::exists(folder + QStringLiteral("/mod.json")));
}

TEST_F(WindowTest, RulebooksThatHideOthersOrCannotBeUsedAreNamedWhereAModIsStartedAndOpened) {
  namespace fs = std::filesystem;
  const fs::path books = (folder_->path() + QStringLiteral("/books")).toStdString();
  fs::create_directories(books / "broken");
  fs::copy(RAKUGO_SOURCE_DIR "/rulebooks/kelpwick", books / "kelpwick", fs::copy_options::recursive);
  ASSERT_TRUE(base::writeFileAtomic(books / "broken/rulebook.json", std::string_view("{ \"format\": 1, }")));
  const QByteArray before = qgetenv("RAKUGO_RULEBOOKS");
  qputenv("RAKUGO_RULEBOOKS", QByteArray::fromStdString(books.string()));
  QString said;
  whenDialogOpens("new-mod", [&](QWidget& dialog) {
    said = test::find<QLabel>(dialog, "new-rulebook-origin")->text().remove(QChar(0x200B));
    static_cast<QDialog&>(dialog).reject();
  });
  ASSERT_TRUE(test::click(*window_, "start-new"));
  // What the dialog offers is read before it opens.
  ASSERT_TRUE(QTest::qWaitFor([&] { return !said.isEmpty(); }, test::kPatience_ms));
  EXPECT_TRUE(said.contains(QStringLiteral("The rules of Kelpwick are those in ") +
                            QString::fromStdString((books / "kelpwick").string())))
      << said.toStdString();
  EXPECT_TRUE(said.contains(QStringLiteral("A comma stands before the closing bracket")))
      << said.toStdString();
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("is hidden by it")));
  before.isNull() ? qunsetenv("RAKUGO_RULEBOOKS") : qputenv("RAKUGO_RULEBOOKS", before);
}

TEST_F(WindowTest, TheGhostIsOfferedWhereItIsDrawn) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "ghost")->isEnabled());
  ASSERT_TRUE(!test::find<QPushButton>(*window_, "night")->isEnabled());
  ASSERT_TRUE(test::click(*window_, "look-game"));
  ASSERT_TRUE(!test::find<QPushButton>(*window_, "ghost")->isEnabled());
  ASSERT_TRUE(test::find<QPushButton>(*window_, "night")->isEnabled());
}

TEST_F(WindowTest, TheContentsShowAPictureOfEachModelThatWasSeen) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  auto* contents = window_->findChild<app::Contents*>();
  ASSERT_TRUE(contents);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(contents->hasPicture("quay-lamp")); },
                              test::kPatience_ms));
  // A row shows it: the frame at its left is not blank.
  const QRect row = test::rowOf(*window_, "model-quay-lamp");
  ASSERT_FALSE(row.isEmpty());
  auto* list = test::find<app::ContentsView>(*window_, "contents-list");
  const QImage shown = list->viewport()->grab(row).toImage();
  QSet<QRgb> colours;
  for (int y = 10; y < 44; ++y)
    for (int x = 18; x < 50; ++x) colours.insert(shown.pixel(x, y));
  ASSERT_TRUE(colours.size() > 20);
  // Under the pointer it turns: once the pictures from all round are taken, the frame changes by itself.
  // Rows are made anew when there is news, so each is looked up when it is asked.
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(contents->pictureCount("quay-lamp") > 1); },
                              test::kPatience_ms));
  QImage before;
  const auto turns = [&] {
    const QImage now = list->viewport()->grab(row).toImage();
    if (!before.isNull() && now != before) return true;
    before = now;
    QTest::mouseMove(list->viewport(), row.center());
    return false;
  };
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(turns()); }, test::kPatience_ms));
}

TEST_F(WindowTest, ManyFastEditsEndInTheLastState) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  // A dragged value: each edit replaces the examination of the one before; all of them are one step back.
  for (int i = 1; i <= 60; ++i)
    session().edit(
        QStringLiteral("Drag the price"),
        [i](mod::ModState& s) { s.objects.front().card["price"] = i * 200; }, QStringLiteral("price"));
  ASSERT_TRUE(session().busy());
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings(), QStringList{QStringLiteral("field.limits")});
  ASSERT_EQ(session().examination()->mod.get(), &session().state());
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().objects.begin()->second.card["price"], base::Json(240));
  ASSERT_TRUE(!session().history().canUndo());
}

TEST_F(WindowTest, ABuildAskedForWhileLookingFollows) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  QSignalSpy built(&session(), &app::Session::built);
  session().edit(QStringLiteral("Rename"), [](mod::ModState& s) { s.card.title = "Lamplight two"; });
  ASSERT_TRUE(session().busy());
  QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
  (void)QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(built.size(), 1);
  ASSERT_EQ(built.at(0).at(0).toBool(), true);
  const auto bundle = bundle::Bundle::open(session().output());
  ASSERT_TRUE(bundle);
  ASSERT_EQ(bundle->manifest().title, std::string("Lamplight two"));
  // What was built is what is on disk.
  ASSERT_EQ(mod::loadMod(session().folder())->card.title, std::string("Lamplight two"));
}

TEST_F(WindowTest, SavingToAFolderThatCannotBeWrittenSaysSoAndLosesNothing) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(window_->openMod(mod));
  ASSERT_TRUE(test::settle(*window_));
  const auto before = base::readFile((mod + QStringLiteral("/mod.json")).toStdString());
  session().edit(QStringLiteral("Rename"), [](mod::ModState& s) { s.card.title = "Other"; });
  // A folder lies where the temporary file should be written: that fails even for root.
  const QString in_the_way = mod + QStringLiteral("/mod.json.tmp-%1").arg(QCoreApplication::applicationPid());
  ASSERT_TRUE(QDir().mkpath(in_the_way + QStringLiteral("/x")));
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QLabel>(*window_, "told")->text().contains(QStringLiteral("cannot be")));
  ASSERT_TRUE(session().history().dirty());
  ASSERT_EQ(session().state().card.title, std::string("Other"));
  // Once it can be written again, it is.
  ASSERT_TRUE(QDir(in_the_way).removeRecursively());
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!session().history().dirty());
  ASSERT_TRUE(before && *base::readFile((mod + QStringLiteral("/mod.json")).toStdString()) != *before);
}

TEST_F(WindowTest, PartsAreChosenInTheListAndInTheBench) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  window_->setStation(Station::shape);
  window_->bench().lookFrom(QStringLiteral("left"));
  QSignalSpy clicked(&window_->bench(), &app::Bench::partClicked);
  // Up the height of the post until the pointer meets it.
  const auto& box = session().scene()->bounds_m;
  bool met = false;
  for (float x = box.min.x; x < box.max.x && !met; x += 0.03F) {
    const auto at = window_->bench().project({x, 0, 1.6F});
    ASSERT_TRUE(at);
    QTest::mouseClick(&window_->bench(), Qt::LeftButton, {}, at->toPoint());
    met = clicked.last().at(0).toString() == QLatin1String("quay_lamp/post");
  }
  ASSERT_TRUE(met);
  QTest::qWait(50);
  auto* parts = window_->findChild<app::RowList*>(QStringLiteral("parts-list"));
  ASSERT_NE(parts, nullptr);
  const auto& rows = parts->rows().rows();
  const auto post = std::find_if(rows.begin(), rows.end(), [](const app::ListRow& row) {
    return row.id == QLatin1String("part-quay_lamp/post");
  });
  ASSERT_TRUE(post != rows.end() && post->chosen);
  // Dropping it by its button joins the step that is there, and the floor stays.
  ASSERT_TRUE(test::click(*window_, "drop-quay_lamp/line"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(steps().count(QStringLiteral("drop")), 1);
  ASSERT_EQ(session().scene()->parts.size(), 4u);
}

TEST_F(WindowTest, MeasuringTakesTwoClicks) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  window_->setStation(Station::shape);
  window_->bench().lookFrom(QStringLiteral("left"));
  ASSERT_TRUE(test::click(*window_, "measure"));
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
  ASSERT_EQ(points.size(), 2u);
  for (size_t i = 0; i < 2; ++i) {
    // What was clicked, or the vertex, edge or face that lies within a dozen pixels of it.
    const QPointF off = *window_->bench().project(points[i]) - clicked[i];
    ASSERT_TRUE(std::hypot(off.x(), off.y()) < 13);
  }
  // A dozen pixels are a few centimetres here.
  ASSERT_TRUE(std::abs(points[1].z - points[0].z - 1.55F) < 0.15F);
  QTest::keyClick(&window_->bench(), Qt::Key_Escape);
  ASSERT_TRUE(window_->bench().measured().empty());
}

TEST_F(WindowTest, TheGameIsStartedAndItsWordsLeadBack) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  // A lamp that says it is lit and has no light point: the rulebook shows it, the game warns of it.
  session().edit(QStringLiteral("no point"), [](mod::ModState& s) { s.models.front().points.clear(); });
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::tryout);
  ASSERT_TRUE(test::click(*window_, "start-game"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(test::find<QLabel>(*window_, "log-loaded")); },
                              test::kPatience_ms));
  auto* warning = test::find<QLabel>(*window_, "log-dark");
  ASSERT_TRUE(warning);
  Q_EMIT warning->linkActivated(QStringLiteral("go"));
  QTest::qWait(60);
  ASSERT_TRUE(test::find<QWidget>(*window_, "take-icon"));
  window_->setStation(Station::tryout);

  // Each edit reaches the running game by itself, saved or not; how long that takes is said, not judged.
  auto* tryout = window_->findChild<app::TryoutStation*>();
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(tryout->connected()); }, test::kPatience_ms));
  QSignalSpy upToDate(tryout, &app::TryoutStation::gameUpToDate);
  const auto rename = [&](const char* to) {
    session().edit(QStringLiteral("rename"), [&](mod::ModState& s) { s.objects.front().title = to; });
  };
  QTest::qWait(3000);  // the game has drawn its first pictures
  rename("Harbour light");
  (void)QTest::qWaitFor([&] { return upToDate.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(upToDate.size(), 1);
  qInfo("edit to game: %lld ms", upToDate.at(0).at(0).toLongLong());
  ASSERT_TRUE(session().history().dirty());
  const QString installed = folder_->path() + QStringLiteral("/game/mods/lamplight-8w3hxq.rkb");
  const auto named = [&] {
    const auto package = packing::lookInto(installed.toStdString());
    const auto bundle = bundle::Bundle::open(installed.toStdString());
    return package && bundle
               ? bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "t")->name
               : std::string();
  };
  ASSERT_EQ(named(), std::string("Harbour light"));
  // Many quick edits end in the last one; a state that stops the game is not given to it.
  for (const char* name : {"A", "B", "C"}) {
    rename(name);
    QTest::qWait(30);
  }
  (void)QTest::qWaitFor([&] { return named() == std::string("C"); }, test::kPatience_ms);
  ASSERT_EQ(named(), std::string("C"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!upToDate.isEmpty() && !session().busy()); },
                              test::kPatience_ms));
  session().edit(QStringLiteral("break"), [](mod::ModState& s) { s.objects.front().card["price"] = 0; });
  ASSERT_TRUE(test::settle(*window_));
  QTest::qWait(300);
  ASSERT_EQ(named(), std::string("C"));
  window_->setStation(Station::tryout);
  ASSERT_TRUE(test::find<QLabel>(*window_, "game-state")->text().contains(QStringLiteral("nothing stops")));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::tryout);
  ASSERT_TRUE(test::click(*window_, "start-game"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(
            test::find<QPushButton>(*window_, "start-game")->text().startsWith(QStringLiteral("Install")));
      },
      test::kPatience_ms));
}

class WindowOnMod : public WindowTest, public testing::WithParamInterface<const char*> {};
INSTANTIATE_TEST_SUITE_P(DemoMods, WindowOnMod, testing::Values("first-lamp", "lamplight"));

TEST_P(WindowOnMod, NothingIsCutOffAt1280x800) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, GetParam())));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(window_->size(), QSize(1280, 800));
  for (const Station station : app::kStations) {
    window_->setStation(station);
    // A station is laid out by the event loop, twice where a scroll bar comes; on a busy machine that takes
    // its time.
    QTest::qWait(300);
    (void)QTest::qWaitFor(
        [&] {
          for (const QLabel* label : window_->findChildren<QLabel*>())
            if (label->isVisible() && label->wordWrap() && !label->text().isEmpty() &&
                label->height() + 1 < label->heightForWidth(label->width()))
              return false;
          return true;
        },
        5000);
    for (const QPushButton* button : window_->findChildren<QPushButton*>()) {
      if (!button->isVisible() || button->text().isEmpty()) continue;
      ASSERT_TRUE(button->width() >= button->fontMetrics().horizontalAdvance(button->text()))
          << qPrintable(button->text());
    }
    for (const QLabel* label : window_->findChildren<QLabel*>()) {
      if (!label->isVisible() || label->text().isEmpty() || !label->wordWrap()) continue;
      ASSERT_TRUE(label->height() + 1 >= label->heightForWidth(label->width()))
          << qPrintable(QStringLiteral("%1: %2 of %3 px, %4 wide")
                            .arg(label->text())
                            .arg(label->height())
                            .arg(label->heightForWidth(label->width()))
                            .arg(label->width()));
    }
    // Nothing sticks out at the right, where there is no scroll bar to reach it.
    for (const QScrollArea* area : window_->findChildren<QScrollArea*>())
      if (area->isVisible() && area->widget())
        ASSERT_TRUE(area->widget()->width() <= area->viewport()->width())
            << qPrintable(area->parentWidget()->objectName() + QString::number(static_cast<int>(station)));
  }
}

TEST_F(WindowTest, EveryControlHasANameAndTheKeyboardReachesIt) {
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::settle(*window_));
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
      ASSERT_TRUE(named) << qPrintable(w->objectName());
      // The help of a chapter is reached by F1 on its line.
      if (w->objectName().startsWith(QLatin1String("why-")) &&
          qobject_cast<const QAbstractButton*>(w->parentWidget()) != nullptr)
        continue;
      ASSERT_TRUE((w->focusPolicy() & Qt::TabFocus) != 0) << qPrintable(w->objectName());
    }
  }
}

TEST_F(WindowTest, OpensWithoutOpenGl) {
  // Under the offscreen platform there is none; under a real server this passes by as well.
  ASSERT_TRUE(window_->openMod(test::copyOfMod(*folder_, "first-lamp")));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings().size(), 13);
  ASSERT_TRUE(test::click(*window_, "mend-size.unit"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(findings().size(), 12);
}
