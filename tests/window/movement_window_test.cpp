// The Skeleton station in the real window: the game's movements on a keeper from elsewhere, limbs that are
// pulled, bones that are turned, weights that are seen, and a family that is known again.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QProcess>
#include <QSignalSpy>
#include <QSlider>

#include "app/stations/skeleton/match_board.h"
#include "base/files.h"
#include "mod/store.h"
#include "prepare/matching/families.h"
#include "window_fixture.h"

using namespace rakugo;
using app::Station;

class MovementWindowTest : public test::WindowFixture {
 protected:
  QString text(const char* name) {
    auto* label = test::find<QLabel>(*window_, name);
    return label != nullptr ? label->text() : QString();
  }
  bool has(const char* check) {
    for (const auto& f : session().examination()->findings)
      if (f.check == check) return true;
    return false;
  }
  void chooseMovement(const QString& title) {
    auto* box = test::find<QComboBox>(*window_, "movement");
    ASSERT_TRUE(box);
    const int wanted = box->findText(title);
    ASSERT_TRUE(wanted >= 0) << qPrintable(title);
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int i = 0; i < wanted; ++i) QTest::keyClick(box, Qt::Key_Down);
    ASSERT_EQ(box->currentText(), title);
  }
  // The newcomer, mend by mend as its findings offer them.
  void openMended() {
    ASSERT_TRUE(open(test::copyOfMod(*folder_, "newcomer")));
    window_->setStation(Station::skeleton);
    for (const char* check :
         {"bones.missing", "bones.missing", "bones.turned", "bones.weights", "bones.ends"}) {
      ASSERT_TRUE(has(check)) << check;
      ASSERT_TRUE(test::click(*window_, (std::string("mend-") + check).c_str())) << check;
      ASSERT_TRUE(test::settle(*window_));
    }
    ASSERT_TRUE(!has("bones.missing") && !has("bones.turned"));
  }
  glm::vec3 carried(const char* bone) {
    for (const app::BenchBone& one : session().scene()->bones)
      if (one.name == bone && window_->bench().pose())
        return glm::vec3(window_->bench().pose()->bones[static_cast<size_t>(one.number)] *
                         glm::vec4(one.head_m, 1));
    return glm::vec3(0);
  }
  size_t stepsOf(const char* kind) {
    size_t out = 0;
    for (const mod::StepDoc& step : session().state().models.at("boatswain").steps) out += step.kind == kind;
    return out;
  }
};

TEST_F(MovementWindowTest, AForeignKeeperIsSeenMovingBeforeAnythingIsMended) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "newcomer")));
  window_->setStation(Station::skeleton);
  ASSERT_TRUE(!window_->bench().pose());
  chooseMovement(QStringLiteral("Walk"));
  ASSERT_TRUE(window_->bench().pose() != nullptr);
  ASSERT_TRUE(text("try-said").contains(QStringLiteral("No bone bears the game's name yet")));
  ASSERT_TRUE(carried("Figur_Hand_links").z < 1.1F);
  // Just as the game plays it, nothing moves.
  ASSERT_TRUE(test::click(*window_, "as-game"));
  ASSERT_TRUE(carried("Figur_Hand_links").z > 1.3F);
  // Another station shows the model at rest.
  window_->setStation(Station::shape);
  ASSERT_TRUE(!window_->bench().pose());
}

TEST_F(MovementWindowTest, TheMendedOneWalksPlaysAndStops) {
  openMended();
  chooseMovement(QStringLiteral("Crouch"));
  ASSERT_TRUE(text("try-said").startsWith(QStringLiteral("✓")));
  ASSERT_TRUE(carried("head").z < 1.35F);
  // As the game plays it, it is the same.
  const glm::vec3 fitted = carried("hand.port");
  ASSERT_TRUE(test::click(*window_, "as-game"));
  ASSERT_TRUE(glm::distance(fitted, carried("hand.port")) < 0.02F);
  ASSERT_TRUE(test::click(*window_, "as-game"));
  chooseMovement(QStringLiteral("Walk"));
  auto* moment = test::find<QSlider>(*window_, "moment");
  const glm::vec3 before = carried("foot.port");
  ASSERT_TRUE(test::click(*window_, "play"));
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(glm::distance(before, carried("foot.port")) > 0.02F); },
                      test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "play"));
  const int stopped = moment->value();
  QTest::qWait(150);
  ASSERT_EQ(moment->value(), stopped);
  // By keys, a tick at a time.
  moment->setFocus();
  moment->setValue(0);
  QTest::keyClick(moment, Qt::Key_Right);
  ASSERT_EQ(moment->value(), 1);
  ASSERT_TRUE(
      test::find<QLabel>(*window_, "try-said")->text().contains(QStringLiteral("The game has every bone")));
}

TEST_F(MovementWindowTest, AHandIsPulledInTheBench) {
  openMended();
  chooseMovement(QStringLiteral("Stand about"));
  window_->bench().lookFrom(QStringLiteral("forward"));
  QTest::qWait(100);
  ASSERT_TRUE(window_->bench().pose() != nullptr);
  const auto ends = window_->bench().pose()->ends;
  ASSERT_EQ(ends.size(), size_t{6});
  ASSERT_EQ(ends[5].second, std::string("Hips"));
  size_t arm = 0;
  while (arm + 1 < ends.size() && ends[arm].second != "Left arm") ++arm;
  ASSERT_EQ(ends[arm].second, std::string("Left arm"));
  const glm::vec3 from = ends[arm].first, to = from + glm::vec3(0, 0.15F, 0.35F);
  const auto a = window_->bench().project(from), b = window_->bench().project(to);
  ASSERT_TRUE(a && b);
  QTest::mousePress(&window_->bench(), Qt::LeftButton, {}, a->toPoint());
  QTest::mouseMove(&window_->bench(), ((*a + *b) / 2).toPoint());
  QTest::mouseMove(&window_->bench(), b->toPoint());
  QTest::mouseRelease(&window_->bench(), Qt::LeftButton, {}, b->toPoint());
  ASSERT_TRUE(glm::distance(carried("hand.port"), to) < 0.03F);
  // The elbow bends to the back, and the other hand stays.
  ASSERT_TRUE(carried("elbow.port").x < 0.05F);
  ASSERT_TRUE(test::find<QPushButton>(*window_, "let-go"));
  ASSERT_TRUE(test::click(*window_, "let-go"));
  ASSERT_TRUE(glm::distance(carried("hand.port"), from) < 0.01F);
  ASSERT_EQ(stepsOf("turn_bone"), size_t{0});
}

TEST_F(MovementWindowTest, ABoneIsCorrectedByAnAngleAndSeenAtOnce) {
  openMended();
  auto* board = window_->findChild<app::MatchBoard*>();
  board->choose(QStringLiteral("arm.port"));
  chooseMovement(QStringLiteral("Arms forward"));
  const glm::vec3 before = carried("hand.port");
  auto* angle = test::find<QDoubleSpinBox>(*window_, "turn-up_deg");
  ASSERT_TRUE(angle);
  angle->setFocus();
  angle->selectAll();
  QTest::keyClicks(angle, QStringLiteral("-20"));
  QTest::keyClick(angle, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(stepsOf("turn_bone"), size_t{1});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(window_->bench().pose() != nullptr); },
                              test::kPatience_ms));
  // By the arrows, a degree more; one step still.
  QTest::keyClick(test::find<QDoubleSpinBox>(*window_, "turn-up_deg"), Qt::Key_Down);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(stepsOf("turn_bone"), size_t{1});
  // As the game plays it the skin stands otherwise by that.
  ASSERT_TRUE(test::click(*window_, "as-game"));
  ASSERT_TRUE(glm::distance(before, carried("hand.port")) > 0.1F);
  session().undo();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(stepsOf("turn_bone"), size_t{0});
}

TEST_F(MovementWindowTest, EveryMomentIsListedAndLedTo) {
  openMended();
  ASSERT_TRUE(test::find<QPushButton>(*window_, "moment-0") == nullptr);
  ASSERT_TRUE(test::click(*window_, "all-moments"));
  auto* row = test::find<QPushButton>(*window_, "moment-0");
  ASSERT_TRUE(row != nullptr);
  ASSERT_TRUE(row->text().startsWith(QStringLiteral("✓ Stand about 1 s · "))) << qPrintable(row->text());
  // The crouch's row shows the crouch.
  int crouch = 0;
  for (int i = 0; i < 20; ++i)
    if (auto* one = test::find<QPushButton>(*window_, ("moment-" + std::to_string(i)).c_str());
        one != nullptr && one->text().contains(QStringLiteral("Crouch")))
      crouch = i;
  ASSERT_TRUE(test::click(*window_, ("moment-" + std::to_string(crouch)).c_str()));
  ASSERT_EQ(test::find<QComboBox>(*window_, "movement")->currentText(), QStringLiteral("Crouch"));
  ASSERT_TRUE(carried("head").z < 1.35F);
  ASSERT_TRUE(test::click(*window_, "all-moments"));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "moment-0") == nullptr);
}

TEST_F(MovementWindowTest, AnArmThatPointsElsewhereIsTurnedAsProposed) {
  openMended();
  window_->findChild<app::MatchBoard*>()->choose(QStringLiteral("arm.port"));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "turn-proposed") == nullptr);
  auto* angle = test::find<QDoubleSpinBox>(*window_, "turn-up_deg");
  angle->setFocus();
  angle->selectAll();
  QTest::keyClicks(angle, QStringLiteral("15"));
  QTest::keyClick(angle, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "turn-proposed") != nullptr);
  ASSERT_TRUE(has("bones.pose"));
  ASSERT_TRUE(test::click(*window_, "turn-proposed"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!has("bones.pose"));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "turn-proposed") == nullptr);
}

TEST_F(MovementWindowTest, WhatFollowsABoneIsSeen) {
  openMended();
  window_->findChild<app::MatchBoard*>()->choose(QStringLiteral("arm.port"));
  ASSERT_TRUE(window_->bench().weightsOf().empty());
  QTest::qWait(200);
  const QImage plain = window_->bench().grabFramebuffer();
  ASSERT_TRUE(test::click(*window_, "see-weights"));
  ASSERT_TRUE(!window_->bench().weightsOf().empty());
  QTest::qWait(200);
  ASSERT_TRUE(plain != window_->bench().grabFramebuffer());
  // The number under the pointer: all of it in the middle of the upper arm, nothing at a foot; in movement
  // too.
  const auto under = [&](glm::vec3 place) {
    const auto at = window_->bench().project(place);
    return at ? window_->bench().weightUnder(*at) : std::nullopt;
  };
  window_->bench().lookFrom(QStringLiteral("forward"));
  const auto arm = under({0, 0.33F, 1.4F}), foot = under({0, 0.11F, 0.06F});
  ASSERT_TRUE(arm && *arm > 0.7F);
  ASSERT_TRUE(foot && *foot < 0.05F);
  ASSERT_TRUE(!under({0, 0.8F, 0.3F}));
  chooseMovement(QStringLiteral("Crouch"));
  // Where things are in a pose is found out beside the window, once it holds still.
  std::optional<float> lowered;
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        lowered = under((carried("arm.port") + carried("elbow.port")) * 0.5F);
        return lowered.has_value();
      },
      test::kPatience_ms));
  ASSERT_TRUE(*lowered > 0.5F);
  chooseMovement(QStringLiteral("At rest"));
  window_->setStation(Station::shape);
  ASSERT_TRUE(window_->bench().weightsOf().empty());
}

TEST_F(MovementWindowTest, WeightsAreTakenFromTheGamesExample) {
  openMended();
  auto* donors = test::find<QComboBox>(*window_, "weights-donor");
  ASSERT_TRUE(donors);
  ASSERT_EQ(donors->count(), 1);
  ASSERT_TRUE(test::click(*window_, "take-weights"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(stepsOf("copy_weights"), size_t{1});
  for (const auto& outcome : session().prepared()->prepared.outcomes)
    ASSERT_TRUE(outcome.misses.empty()) << (outcome.misses.empty() ? "" : outcome.misses[0].c_str());
  ASSERT_TRUE(!has("bones.weights") && !has("weights.loose"));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(stepsOf("copy_weights"), size_t{0});
}

// From the file to the quay: taken in, matched, mended, built, installed, and walked in the game.
TEST_F(MovementWindowTest, AKeeperIsTakenInAndWalksOnTheQuay) {
  const std::filesystem::path root = folder_->path().toStdString();
  mod::ModState blank;
  blank.card.id = "journey-1a2b3c";
  blank.card.title = "Journey";
  blank.card.author = "Somebody";
  blank.card.version = "1.0.0";
  blank.card.rulebook = "kelpwick";
  blank.card.rulebook_version = session().isOpen() ? session().book().version : std::string();
  ASSERT_TRUE(base::makeFolder(root / "journey").ok());
  ASSERT_TRUE(mod::saveMod(root / "journey", blank, blank).ok());
  ASSERT_TRUE(open(QString::fromStdString((root / "journey").string())));
  window_->openPath(
      QStringLiteral(RAKUGO_SOURCE_DIR "/examples/mods/newcomer/sources/boatswain/boatswain.glb"));
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(session().state().models.count("boatswain") == 1); },
                      test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  window_->setStation(Station::objects);
  QTest::qWait(50);
  auto* kind = test::find<QComboBox>(*window_, "object-kind");
  ASSERT_TRUE(kind);
  kind->setFocus();
  QTest::keyClick(kind, Qt::Key_Home);
  while (kind->currentText() != QStringLiteral("Keeper")) {
    const int before = kind->currentIndex();
    QTest::keyClick(kind, Qt::Key_Down);
    QTest::qWait(40);
    kind = test::find<QComboBox>(*window_, "object-kind");
    ASSERT_TRUE(kind && kind->currentIndex() != before);
  }
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(has("axes.differ"));
  for (const char* check :
       {"axes.differ", "bones.missing", "bones.missing", "bones.turned", "bones.weights", "bones.ends"}) {
    ASSERT_TRUE(has(check)) << check;
    ASSERT_TRUE(test::click(*window_, (std::string("mend-") + check).c_str())) << check;
    ASSERT_TRUE(test::settle(*window_));
  }
  // Seen before the game starts.
  window_->setStation(Station::skeleton);
  chooseMovement(QStringLiteral("Walk"));
  ASSERT_TRUE(text("try-said").startsWith(QStringLiteral("✓")));
  for (const auto& f : session().examination()->findings)
    ASSERT_TRUE(f.severity != check::Severity::stops || f.check.rfind("field.", 0) == 0)
        << f.sentence.c_str();
  // What the card asks for, as a person would type it.
  session().edit(QStringLiteral("Card"), [](mod::ModState& state) {
    state.objects.front().card = base::Json{{"nickname", "Knots"}, {"temper", "sunny"}, {"wage", 16}};
  });
  ASSERT_TRUE(test::settle(*window_));
  QSignalSpy built(&session(), &app::Session::built), installed(&session(), &app::Session::installed);
  ASSERT_TRUE(test::click(*window_, "build"));
  (void)QTest::qWaitFor([&] { return built.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(built.size(), 1);
  ASSERT_TRUE(built.at(0).at(0).toBool()) << qPrintable(built.at(0).at(1).toString());
  session().install(root / "game");
  (void)QTest::qWaitFor([&] { return installed.size() == 1; }, test::kPatience_ms);
  ASSERT_EQ(installed.size(), 1);
  ASSERT_TRUE(installed.at(0).at(0).toBool()) << qPrintable(installed.at(0).at(1).toString());
  const std::string object = "journey-1a2b3c/" + session().state().objects.begin()->first;
  const std::string script = "{\"do\":\"use\",\"object\":\"" + object +
                             "\"}\n{\"do\":\"move\",\"ahead\":1,\"turn\":0,\"seconds\":1}\n"
                             "{\"do\":\"frames\",\"count\":2}\n{\"do\":\"shot\",\"file\":\"walk.png\"}\n";
  ASSERT_TRUE(base::writeFileAtomic(root / "script", std::string_view(script)).ok());
  QProcess game;
  game.start(QApplication::applicationDirPath() + QStringLiteral("/kelpwick"),
             {QStringLiteral("--mods"), QString::fromStdString((root / "game/mods").string()),
              QStringLiteral("--headless"), QStringLiteral("--script"),
              QString::fromStdString((root / "script").string()), QStringLiteral("--shots"),
              QString::fromStdString((root / "shots").string())});
  ASSERT_TRUE(game.waitForFinished(test::kPatience_ms));
  const QByteArray log = game.readAllStandardOutput();
  ASSERT_TRUE(game.exitCode() == 0) << log.constData();
  ASSERT_TRUE(log.contains("walks the quay")) << log.constData();
  ASSERT_TRUE(!log.contains("\"stiff\"") && !log.contains("\"limps\"") && !log.contains("refused"))
      << log.constData();
}

TEST_F(MovementWindowTest, AFamilyIsKnownAgain) {
  qputenv("XDG_DATA_HOME", (folder_->path() + QStringLiteral("/data")).toUtf8());
  openMended();
  // Kept under a name, as the Preparation's menu does.
  const prepare::Prepared& p = session().prepared()->prepared;
  ASSERT_TRUE(prepare::saveHabit(prepare::habitsFolder(),
                                 {"Imke's figures", session().book().id,
                                  prepare::portableSteps(session().state().models.at("boatswain").steps),
                                  prepare::boneKeys(*p.before.front())})
                  .ok());
  session().history().markSaved();
  const QTemporaryDir other;
  ASSERT_TRUE(open(test::copyOfMod(other, "newcomer")));
  window_->setStation(Station::shape);
  window_->setStation(Station::skeleton);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "use-family") != nullptr); },
      test::kPatience_ms));
  ASSERT_TRUE(text("family-said").contains(QStringLiteral("Imke's figures")));
  ASSERT_TRUE(test::click(*window_, "use-family"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(text("bones-found").startsWith(QStringLiteral("20 of the game's 20 bones")));
  ASSERT_TRUE(!has("bones.turned") && !has("bones.weights") && !has("bones.ends"));
  ASSERT_TRUE(test::find<QPushButton>(*window_, "use-family") == nullptr);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(has("bones.missing"));
}
