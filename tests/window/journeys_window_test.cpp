// Whole journeys with mouse and keys, from what a maker left to what the game takes: a tug with four screws,
// an outfit in two sizes, a mod of three hundred models. The first mod stands in keyboard_window_test.cpp, a
// character in movement_window_test.cpp. How long input had to wait meanwhile is recorded with each.
#include <QComboBox>
#include <QElapsedTimer>
#include <QFloat16>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QProcess>
#include <QSignalSpy>

#include "app/contents/contents_view.h"
#include "base/files.h"
#include "mod/store.h"
#include "support/large_mod.h"
#include "support/stall_watch.h"
#include "window_fixture.h"

namespace rakugo {

using app::Station;

class JourneysWindowTest : public test::WindowFixture {
 protected:
  void click(const char* name) {
    ASSERT_TRUE(test::click(*window_, name)) << name;
    ASSERT_TRUE(test::settle(*window_));
  }
  void mend(const char* check) { click((std::string("mend-") + check).c_str()); }
  std::vector<std::string> left() {
    std::vector<std::string> out;
    for (const check::Finding& f : session().examination()->findings)
      if (!f.set_aside) out.push_back(f.check + ": " + f.sentence);
    return out;
  }
  bool has(const char* check) {
    for (const check::Finding& f : session().examination()->findings)
      if (f.check == check) return true;
    return false;
  }
  // Everything of the mod but one object, what it is made of and where that came from, is taken out by keys.
  void keepOnly(const std::vector<std::string>& keys) {
    auto* list = window_->findChild<app::ContentsView*>();
    bool first = true;
    for (const auto& [name, doc] : session().state().sources) {
      if (std::find(keys.begin(), keys.end(), name) != keys.end()) continue;
      ASSERT_TRUE(
          test::clickRow(*window_, ("source-" + name).c_str(), first ? Qt::NoModifier : Qt::ControlModifier));
      first = false;
    }
    for (const auto& [name, doc] : session().state().objects)
      if (std::find(keys.begin(), keys.end(), name) == keys.end())
        ASSERT_TRUE(test::clickRow(*window_, ("object-" + name).c_str(), Qt::ControlModifier)) << name;
    whenDialogOpens("remove-used", [&](QWidget& dialog) { press(dialog, "yes"); });
    QTest::keyClick(list, Qt::Key_Delete);
    ASSERT_TRUE(test::settle(*window_));
  }
  void type(const char* field, const QString& text) {
    auto* found = test::find<QWidget>(*window_, field);
    ASSERT_TRUE(found != nullptr) << field;
    found->setFocus();
    if (auto* combo = qobject_cast<QComboBox*>(found)) {
      for (int i = 0; i < combo->count() && combo->currentText() != text; ++i) {
        QTest::keyClick(combo, i == 0 ? Qt::Key_Home : Qt::Key_Down);
        QTest::qWait(20);
        combo = test::find<QComboBox>(*window_, field);
        ASSERT_TRUE(combo != nullptr);
      }
      EXPECT_EQ(combo->currentText(), text) << field;
    } else {
      QTest::keyClick(found, Qt::Key_A, Qt::ControlModifier);
      QTest::keyClicks(found, text);
      QTest::keyClick(found, Qt::Key_Tab);
    }
    ASSERT_TRUE(test::settle(*window_));
  }
  void chooseFrom(const char* menu, const QString& title) {
    QMenu* found = nullptr;
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
          for (QWidget* top : QApplication::topLevelWidgets())
            if (auto* one = qobject_cast<QMenu*>(top);
                one != nullptr && one->isVisible() && one->objectName() == QLatin1String(menu))
              found = one;
          return found != nullptr;
        },
        test::kPatience_ms))
        << menu;
    for (QAction* action : found->actions())
      if (action->text() == title) {
        found->setActiveAction(action);
        QTest::keyClick(found, Qt::Key_Return);
        ASSERT_TRUE(test::settle(*window_));
        return;
      }
    FAIL() << test::s8(title);
  }
  const mod::ObjectDoc& object(const char* name) { return session().state().objects.at(name); }
  // From the menu of what the object may be made of.
  void addPiece(const char* title) {
    ASSERT_TRUE(test::click(*window_, "add-piece"));
    chooseFrom("piece-menu", QString::fromUtf8(title));
  }
  // Places a point, or chooses it where it is placed.
  void choosePoint(const std::string& id) {
    const std::string button = "place-" + id;
    if (test::find<QPushButton>(*window_, button.c_str()) != nullptr)
      click(button.c_str());
    else
      click(("at-" + session().model() + "/" + id).c_str());
  }
  // Along the game's forward, side and up.
  void place(const char* field, const std::array<double, 3>& at_m) {
    const char* axes[3] = {"forward", "side", "up"};
    for (size_t i = 0; i < 3; ++i) type((std::string(field) + axes[i]).c_str(), QString::number(at_m[i]));
  }
  // Builds and installs by keys; what the game's log says of the script.
  QByteArray playedWith(const std::string& script) {
    QSignalSpy built(&session(), &app::Session::built), installed(&session(), &app::Session::installed);
    QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
    if (!QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms)) return "not built";
    if (!built.at(0).at(0).toBool()) return built.at(0).at(1).toString().toUtf8();
    (void)test::settle(*window_);
    QTest::keyClick(window_.get(), Qt::Key_I, Qt::ControlModifier);
    if (!QTest::qWaitFor([&] { return installed.size() == 1; }, test::kPatience_ms)) return "not installed";
    if (!installed.at(0).at(0).toBool()) return installed.at(0).at(1).toString().toUtf8();
    const QString file = folder_->path() + QStringLiteral("/script");
    if (!base::writeFileAtomic(test::s8(file), std::string_view(script))) return "no script";
    QProcess game;
    game.start(QApplication::applicationDirPath() + QStringLiteral("/kelpwick"),
               {QStringLiteral("--mods"), folder_->path() + QStringLiteral("/game/mods"),
                QStringLiteral("--headless"), QStringLiteral("--script"), file, QStringLiteral("--shots"),
                folder_->path() + QStringLiteral("/shots")});
    if (!game.waitForFinished(test::kPatience_ms) || game.exitCode() != 0) return "the game failed";
    return game.readAllStandardOutput();
  }
  // Saved, and as it was when it is opened again.
  void savedAndOpenedAgain(const QString& mod) {
    ASSERT_TRUE(session().saveNow().isEmpty());
    const auto texts = mod::documentTexts(session().state());
    window_.reset();
    newWindow();
    ASSERT_TRUE(open(mod));
    EXPECT_EQ(mod::documentTexts(session().state()), texts);
  }
  std::string objectId() {
    return session().state().card.id + "/" + session().state().objects.begin()->first;
  }
};

TEST_F(JourneysWindowTest, ATugWithFourScrewsSailsInTheHarbour) {
  test::StallWatch watch;
  const QString mod = test::copyOfMod(*folder_, "slipway");
  ASSERT_TRUE(open(mod));
  keepOnly({"tug"});
  ASSERT_EQ(session().state().objects.size(), 1U);
  ASSERT_TRUE(test::clickRow(*window_, "model-tug"));
  window_->setStation(Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  mend("axes.differ");
  type("gauge-length", QStringLiteral("9.6 m"));
  test::look(*window_, "journey-tug-shape");
  // The copies of the screw become pieces that stand where they stood, of one model.
  ASSERT_TRUE(test::clickRow(*window_, "object-tug"));
  QTest::qWait(50);
  for (QPushButton* one : window_->findChildren<QPushButton*>())
    if (one->objectName().startsWith(QStringLiteral("pieces-of-")) &&
        one->objectName().contains(QStringLiteral("screw"))) {
      click(one->objectName().toUtf8().constData());
      break;
    }
  ASSERT_EQ(object("tug").pieces.size(), 5U);
  click("mend-sure");
  type("field-drive", QStringLiteral("steam"));
  for (int i = 0; i < 6 && has("role.missing"); ++i) mend("role.missing");
  // Lamps as a pair, smoke, a rudder that follows the helm, and the hull alone to bump into.
  addPiece("Side light");
  place("piece-at-", {5.5, 0.93, 3.2});
  click("mirror-piece");
  addPiece("Funnel smoke");
  place("piece-at-", {2.7, 0, 3.6});
  addPiece("Rudder");
  type("piece-field-part", QStringLiteral("tug/rudder"));
  click("middle-piece");
  addPiece("Hull body");
  type("piece-field-form", QStringLiteral("hulls"));
  click("piece-field-parts-add");
  type("piece-field-parts-0-part", QStringLiteral("tug/hull"));
  EXPECT_EQ(object("tug").pieces.back().values["parts"], base::Json::array({"tug/hull"}));
  auto* body = test::find<QLabel>(*window_, "object-body");
  ASSERT_TRUE(body != nullptr);
  EXPECT_TRUE(body->text().contains(QStringLiteral("it rights itself"))) << test::s8(body->text());
  test::look(*window_, "journey-tug-pieces");
  // What the game needs to find: where lines are made fast, lamps, smoke and wake.
  const std::vector<std::pair<const char*, std::array<double, 3>>> points = {
      {"mooring-bow", {7.4, 0, 1.9}}, {"nav-port", {5.5, 0.93, 3.2}}, {"nav-starboard", {5.5, -0.93, 3.2}},
      {"funnel", {2.7, 0, 3.6}},      {"screw", {-0.3, 0, 0.6}},      {"helm", {4.9, 0, 2.9}},
      {"water-line", {0, 0, 0.7}}};
  for (const auto& [id, at] : points) {
    choosePoint(id);
    place("point-at-", at);
  }
  // Sold plain and reinforced.
  type("field-title", QStringLiteral("Slow Margit"));
  click("enter-broker");
  type("variant-title", QStringLiteral("Slow Margit, reinforced"));
  click("add-variant");
  ASSERT_EQ(session().state().objects.size(), 2U);
  test::look(*window_, "journey-tug-variant");
  if (window_->bench().works()) click("take-icons");
  ASSERT_TRUE(test::clickRow(*window_, "object-tug"));
  ASSERT_TRUE(test::settle(*window_));
  test::look(*window_, "journey-tug-object");
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_TRUE(f.severity == check::Severity::tidy || !window_->bench().works()) << f.sentence;
  const std::string tug = session().state().card.id + "/tug";
  const QByteArray log = playedWith(
      "{\"do\":\"offers\",\"list\":\"broker\"}\n{\"do\":\"drop\",\"object\":\"" + tug +
      "\",\"at\":[30,0],\"height\":0.2}\n{\"do\":\"move\",\"ahead\":0,\"turn\":0,\"seconds\":40}\n" +
      "{\"do\":\"use\",\"object\":\"" + tug +
      "\"}\n{\"do\":\"move\",\"ahead\":1,\"turn\":0,\"seconds\":1}\n" +
      "{\"do\":\"frames\",\"count\":2}\n{\"do\":\"shot\",\"file\":\"sail.png\"}\n");
  EXPECT_TRUE(log.contains("\"event\":\"loaded\"") && !log.contains("refused")) << log.constData();
  EXPECT_TRUE(log.contains("Slow Margit, reinforced")) << log.constData();
  EXPECT_TRUE(log.contains("m deep, upright")) << log.constData();
  EXPECT_TRUE(QFileInfo::exists(folder_->path() + QStringLiteral("/shots/sail.png")));
  savedAndOpenedAgain(mod);
  RecordProperty("longest_wait_ms", static_cast<int>(watch.longest_ms()));
}

TEST_F(JourneysWindowTest, AHandLanternLiesInTheSeaChestAndIsHeldByNight) {
  test::StallWatch watch;
  // The file alone: what the demo mod says of it is done again by hand.
  const QString mod = test::copyOfMod(*folder_, "tidewater");
  ASSERT_TRUE(open(mod));
  keepOnly({"lantern"});
  session().edit(QStringLiteral("as its maker left it"), [](mod::ModState& state) {
    mod::ModelDoc& model = state.models["lantern"];
    model.steps.clear();
    model.points.clear();
    state.objects["lantern"].card = base::Json::object();
    state.objects["lantern"].icon.clear();
  });
  ASSERT_TRUE(test::clickRow(*window_, "model-lantern"));
  window_->setStation(Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  mend("axes.differ");
  ASSERT_TRUE(test::clickRow(*window_, "object-lantern"));
  QTest::qWait(50);
  type("field-use", QStringLiteral("light"));
  click("field-lit");
  type("field-mass", QStringLiteral("1.1"));
  type("field-price", QStringLiteral("45"));
  type("field-blurb", QStringLiteral("Stays lit in anything short of a good dunking."));
  for (int i = 0; i < 6 && has("role.missing"); ++i) mend("role.missing");
  click("mend-sure");
  for (const auto& [id, up] : {std::pair("grip", 0.0), {"light", -0.2}}) {
    choosePoint(id);
    place("point-at-", {0, 0, up});
  }
  addPiece("Flame");
  place("piece-at-", {0, 0, -0.23});
  addPiece("Light");
  place("piece-at-", {0, 0, -0.2});
  click("enter-start-kit");
  if (window_->bench().works()) click("take-icons");
  test::look(*window_, "journey-lantern-object");
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_TRUE(f.severity == check::Severity::tidy || !window_->bench().works()) << f.sentence;
  const QByteArray log = playedWith("{\"do\":\"offers\",\"list\":\"start-kit\"}\n{\"do\":\"night\"}\n" +
                                    ("{\"do\":\"take\",\"object\":\"" + objectId()) +
                                    "\"}\n{\"do\":\"frames\",\"count\":20}\n"
                                    "{\"do\":\"shot\",\"file\":\"held.png\"}\n");
  EXPECT_TRUE(log.contains("\"event\":\"loaded\"") && !log.contains("refused")) << log.constData();
  EXPECT_TRUE(log.contains("Storm lantern")) << log.constData();
  EXPECT_TRUE(QFileInfo::exists(folder_->path() + QStringLiteral("/shots/held.png")));
  savedAndOpenedAgain(mod);
  RecordProperty("longest_wait_ms", static_cast<int>(watch.longest_ms()));
}

TEST_F(JourneysWindowTest, AnOutfitInTwoSizesIsWornInTheGame) {
  test::StallWatch watch;
  const QString mod = test::copyOfMod(*folder_, "slipway");
  ASSERT_TRUE(open(mod));
  keepOnly({"sea-coat", "sea-coat-broad"});
  ASSERT_TRUE(test::clickRow(*window_, "model-sea-coat"));
  window_->setStation(Station::shape);
  ASSERT_TRUE(test::settle(*window_));
  mend("axes.differ");
  click("hand-over-belly");
  chooseFrom("region-menu", QStringLiteral("to Trunk"));
  click("size-source-broad");
  chooseFrom("size-menu", QStringLiteral("sea-coat-broad"));
  click("mend-sure");
  if (has("seam.gap")) {
    ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QPushButton>(*window_, "close-seams") != nullptr; },
                                test::kPatience_ms));
    click("close-seams");
  }
  test::look(*window_, "journey-coat-shape");
  ASSERT_TRUE(test::clickRow(*window_, "object-sea-coat"));
  QTest::qWait(50);
  if (window_->bench().works()) click("take-icon");
  test::look(*window_, "journey-coat-object");
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_NE(f.severity, check::Severity::stops) << f.sentence;
  const QByteArray log =
      playedWith("{\"do\":\"use\",\"object\":\"" + objectId() +
                 "\"}\n{\"do\":\"frames\",\"count\":2}\n{\"do\":\"shot\",\"file\":\"worn.png\"}\n");
  EXPECT_TRUE(log.contains("\"event\":\"loaded\"") && !log.contains("refused")) << log.constData();
  EXPECT_TRUE(QFileInfo::exists(folder_->path() + QStringLiteral("/shots/worn.png")));
  savedAndOpenedAgain(mod);
  RecordProperty("longest_wait_ms", static_cast<int>(watch.longest_ms()));
}

TEST_F(JourneysWindowTest, AModOfThreeHundredModelsIsWorkedInLikeASmallOne) {
  const QString mod = folder_->path() + QStringLiteral("/many");
  ASSERT_TRUE(test::writeLargeMod(RAKUGO_SOURCE_DIR, test::s8(mod), 300));
  test::StallWatch watch;
  QElapsedTimer clock;
  clock.start();
  ASSERT_TRUE(window_->openMod(mod));
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().isOpen() && session().scene() != nullptr; },
                              test::kPatience_ms));
  RecordProperty("seen_after_ms", static_cast<int>(clock.elapsed()));
  ASSERT_TRUE(test::examined(*window_));
  // One among three hundred is found by its name, chosen and mended; the others stay as they are.
  auto* words = test::find<QLineEdit>(*window_, "contents-words");
  ASSERT_TRUE(words != nullptr);
  QTest::keyClicks(words, QStringLiteral("lamp-217"));
  ASSERT_TRUE(test::clickRow(*window_, "model-lamp-217"));
  window_->setStation(Station::shape);
  ASSERT_TRUE(test::examined(*window_));
  EXPECT_EQ(session().model(), "lamp-217");
  const size_t before = session().examination()->findings.size();
  ASSERT_TRUE(test::chooseFinding(*window_, "size.unit", "mend-") != nullptr);
  ASSERT_TRUE(test::click(*window_, "mend-size.unit"));
  ASSERT_TRUE(test::examined(*window_));
  EXPECT_LT(session().examination()->findings.size(), before);
  EXPECT_EQ(session().state().models.at("lamp-217").steps.size(), 1U);
  EXPECT_TRUE(session().state().models.at("lamp-216").steps.empty());
  // Renamed, and all that names it with it.
  ASSERT_TRUE(test::clickRow(*window_, "model-lamp-217"));
  QTest::keyClick(window_->findChild<app::ContentsView*>(), Qt::Key_F2);
  ASSERT_TRUE(
      QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, test::kPatience_ms));
  auto* line = QApplication::activePopupWidget()->findChild<QLineEdit*>(QStringLiteral("value"));
  ASSERT_TRUE(line != nullptr);
  line->selectAll();
  QTest::keyClicks(line, QStringLiteral("lighthouse"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(test::examined(*window_));
  EXPECT_EQ(session().state().objects.at("lamp-217").pieces.at(0).model, "lighthouse");
  ASSERT_TRUE(session().saveNow().isEmpty());
  const auto saved = mod::loadMod(test::s8(mod));
  ASSERT_TRUE(saved);
  EXPECT_TRUE(saved->models.contains("lighthouse"));
  EXPECT_EQ(saved->models.size(), 300U);
  test::look(*window_, "journey-many");
  RecordProperty("longest_wait_ms", static_cast<int>(watch.longest_ms()));
}

}  // namespace rakugo
