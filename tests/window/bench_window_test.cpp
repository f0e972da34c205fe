// The bench: parts alone, hidden and looked through, cut open, what a step changed, and all of it by keys.
#include <QComboBox>
#include <QKeyEvent>
#include <QNativeGestureEvent>
#include <QSignalSpy>
#include <QSlider>

#include "app/widgets/row_list.h"
#include "base/text.h"
#include "geometry/axes.h"
#include "prepare/edit_steps.h"
#include "window_fixture.h"

namespace rakugo {
namespace {

using app::Bench;
using render::Presence;

class BenchWindowTest : public test::WindowFixture {
 protected:
  void openAtShape(const char* mod) {
    ASSERT_TRUE(open(test::copyOfMod(*folder_, mod)));
    window_->setStation(app::Station::shape);
    ASSERT_TRUE(test::settle(*window_));
    window_->bench().fit();
  }
  Bench& bench() { return window_->bench(); }
  QString text(const char* label) {
    auto* found = test::find<QLabel>(*window_, label);
    return found != nullptr ? found->text() : QString();
  }
  // Where the middle of a part is on the bench.
  QPoint middleOf(const char* key) {
    const scene::Model& model = *session().prepared()->prepared.model;
    const auto box = scene::partBounds(model, scene::findPart(model, key), scene::worldMatrices(model));
    const auto at = bench().project(box.center());
    return at ? at->toPoint() : QPoint();
  }
  const app::ListRow* row(const char* list, const char* id) {
    auto* found = window_->findChild<app::RowList*>(QString::fromLatin1(list));
    if (found == nullptr) return nullptr;
    for (const app::ListRow& one : found->rows().rows())
      if (one.id == QLatin1String(id)) return &one;
    return nullptr;
  }
  // Which of the lamp's steps drops parts.
  size_t dropStep() {
    const auto& steps = session().state().models.at("quay-lamp").steps;
    return static_cast<size_t>(
        std::find_if(steps.begin(), steps.end(), [](const mod::StepDoc& one) { return one.kind == "drop"; }) -
        steps.begin());
  }
  // A picture of the bench alone.
  QImage drawn() {
    QTest::qWait(250);  // past the quick drawing of what moves
    return bench().grabFramebuffer();
  }
  static int differing(const QImage& a, const QImage& b) {
    int out = 0;
    for (int y = 0; y < std::min(a.height(), b.height()); y += 2)
      for (int x = 0; x < std::min(a.width(), b.width()); x += 2)
        out += a.pixel(x, y) != b.pixel(x, y) ? 1 : 0;
    return out;
  }
};

TEST_F(BenchWindowTest, APartIsSeenAloneHiddenAndLookedThroughAndTheModStaysAsItIs) {
  const QTemporaryDir other;
  openAtShape("slipway");
  session().select("tug", "tug");
  ASSERT_TRUE(test::settle(*window_));
  const auto before = session().state().models.at("tug");
  const QImage whole = drawn();
  ASSERT_TRUE(test::click(*window_, "part-tug/funnel"));
  ASSERT_TRUE(test::click(*window_, "part-alone"));
  ASSERT_GT(bench().views().parts.size(), 1U);
  EXPECT_EQ(bench().views().parts.count("tug/funnel"), 0U);
  EXPECT_TRUE(text("parts-hidden").contains(QStringLiteral("hidden from view")))
      << qPrintable(text("parts-hidden"));
  test::look(*window_, "bench-alone");
  if (bench().works()) {
    EXPECT_GT(differing(whole, drawn()), 1000);
    // What is hidden is not pointed at.
    EXPECT_FALSE(bench().under(middleOf("tug/hull")));
    EXPECT_TRUE(bench().under(middleOf("tug/funnel")));
  }
  ASSERT_TRUE(test::click(*window_, "parts-all"));
  EXPECT_TRUE(bench().views().parts.empty());
  // The sign at its row goes from seen to looked through, to hidden, and back.
  ASSERT_TRUE(test::click(*window_, "see-tug/hull"));
  EXPECT_EQ(bench().views().parts.at("tug/hull"), Presence::through);
  EXPECT_TRUE(row("parts-list", "part-tug/hull")->faint);
  test::look(*window_, "bench-through");
  ASSERT_TRUE(test::click(*window_, "see-tug/hull"));
  EXPECT_EQ(bench().views().parts.at("tug/hull"), Presence::hidden);
  // Another model has its own view; back at this one it is as it was left.
  session().select("quay-block", "quay-block");
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(bench().views().parts.empty());
  session().select("tug", "tug");
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(bench().views().parts.at("tug/hull"), Presence::hidden);
  ASSERT_TRUE(test::click(*window_, "see-tug/hull"));
  EXPECT_TRUE(bench().views().parts.empty());
  EXPECT_EQ(session().state().models.at("tug"), before);
  EXPECT_FALSE(session().history().dirty());
  // Another mod may have a model of the same name: it is seen whole.
  bench().setPresence({"tug/hull"}, Presence::hidden);
  ASSERT_TRUE(open(test::copyOfMod(other, "slipway")));
  session().select("tug", "tug");
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(bench().views().parts.empty());
}

TEST_F(BenchWindowTest, AModelIsCutOpenAndPointedIntoFromInside) {
  openAtShape("slipway");
  session().select("tug", "tug");
  ASSERT_TRUE(test::settle(*window_));
  const QImage whole = drawn();
  ASSERT_TRUE(test::click(*window_, "cut-open"));
  ASSERT_TRUE(bench().views().cut);
  auto* where = test::find<QSlider>(*window_, "cut-where");
  ASSERT_NE(where, nullptr);
  EXPECT_FALSE(text("cut-said").isEmpty());
  test::look(*window_, "bench-cut");
  if (bench().works()) {
    EXPECT_GT(differing(whole, drawn()), 1000);
    // Before the cut nothing is met.
    const glm::vec4 plane = app::planeOf(*bench().views().cut, *session().scene());
    int met = 0;
    for (int x = 0; x < bench().width(); x += 9)
      for (int y = 0; y < bench().height(); y += 9)
        if (const auto hit = bench().under(QPointF(x, y))) {
          ++met;
          EXPECT_LE(glm::dot(plane, glm::vec4(hit->position, 1)),
                    glm::length(session().scene()->bounds_m.size()) * 1e-4F);
        }
    EXPECT_GT(met, 20);
  }
  const QString half = text("cut-said");
  where->setValue(where->maximum() / 4);
  EXPECT_NE(text("cut-said"), half);
  test::find<QComboBox>(*window_, "cut-across")->setCurrentIndex(0);
  EXPECT_EQ(bench().views().cut->across, app::Cut::Across::length);
  ASSERT_TRUE(test::click(*window_, "cut-far"));
  EXPECT_TRUE(bench().views().cut->keeps_far);
  ASSERT_TRUE(test::click(*window_, "cut-open"));
  EXPECT_FALSE(bench().views().cut);
  EXPECT_FALSE(where->isVisible());
  EXPECT_LT(differing(whole, drawn()), 40);
}

TEST_F(BenchWindowTest, WhatIsPointedAtIsOutlinedAndSaidInTheStatusLine) {
  openAtShape("lamplight");
  if (!bench().works()) GTEST_SKIP() << "no OpenGL";
  // Somewhere on the post.
  const scene::Model& model = *session().prepared()->prepared.model;
  QPoint at;
  for (int x = 0; x < bench().width() && at.isNull(); x += 4)
    for (int y = 0; y < bench().height(); y += 4)
      if (const auto hit = bench().under(QPointF(x, y));
          hit && session().scene()->parts[hit->part].key == "quay_lamp/post") {
        at = QPoint(x, y);
        break;
      }
  ASSERT_FALSE(at.isNull());
  QTest::mouseMove(&bench(), QPoint(2, 2));
  const QImage before = drawn();
  QTest::mouseMove(&bench(), at);
  ASSERT_TRUE(QTest::qWaitFor([&] { return bench().pointed() == "quay_lamp/post"; }, test::kPatience_ms));
  const scene::NodeIndex post = scene::findPart(model, "quay_lamp/post");
  uint64_t triangles = 0;
  for (const auto& p : model.mesh(model.node(post).mesh).primitives) triangles += p.indices.size() / 3;
  EXPECT_TRUE(text("pointed-part").startsWith(app::q(model.node(post).name)))
      << qPrintable(text("pointed-part"));
  EXPECT_TRUE(text("pointed-part").contains(app::q(base::groupedText(triangles))));
  test::look(*window_, "bench-pointed");
  EXPECT_GT(differing(before, drawn()), 50);
  QTest::mouseMove(&bench(), QPoint(2, 2));
  ASSERT_TRUE(QTest::qWaitFor([&] { return text("pointed-part").isEmpty(); }, test::kPatience_ms));
}

TEST_F(BenchWindowTest, HeldAStepShowsTheModelBeforeItAndLetGoWhatItChanged) {
  openAtShape("lamplight");
  session().edit(QStringLiteral("Drop"), [](mod::ModState& state) {
    prepare::dropParts(state.models.at("quay-lamp"), {"quay_lamp/post"});
  });
  ASSERT_TRUE(test::settle(*window_));
  const size_t number = dropStep();
  const std::string step = session().state().models.at("quay-lamp").steps[number].id;
  auto* button = test::find<QPushButton>(*window_, ("before-" + step).c_str());
  ASSERT_NE(button, nullptr);
  QTest::mousePress(button, Qt::LeftButton);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(bench().peeked()); }, test::kPatience_ms));
  const auto has = [](const app::BenchScene& scene, const char* key) {
    return std::any_of(scene.parts.begin(), scene.parts.end(),
                       [&](const app::BenchPart& part) { return part.key == key; });
  };
  EXPECT_TRUE(has(*bench().peeked(), "quay_lamp/post")) << "before step " << number;
  EXPECT_FALSE(has(*session().scene(), "quay_lamp/post"));
  EXPECT_FALSE(bench().under(QPointF(bench().rect().center()))) << "what is compared is not picked";
  test::look(*window_, "bench-before");
  QTest::mouseRelease(button, Qt::LeftButton);
  ASSERT_TRUE(bench().peeked());
  EXPECT_FALSE(has(*bench().peeked(), "quay_lamp/post"));
  test::look(*window_, "bench-after");
  QTest::keyClick(&bench(), Qt::Key_Escape);
  EXPECT_FALSE(bench().peeked());
  // By the key, while the keyboard is at the step.
  auto* sentence = test::find<QLabel>(*window_, ("sentence-" + step).c_str());
  ASSERT_NE(sentence, nullptr);
  button->setFocus(Qt::TabFocusReason);
  QTest::keyPress(button, Qt::Key_B);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(bench().peeked()); }, test::kPatience_ms));
  EXPECT_TRUE(has(*bench().peeked(), "quay_lamp/post"));
  QTest::keyRelease(button, Qt::Key_B);
  EXPECT_FALSE(has(*bench().peeked(), "quay_lamp/post"));
  // A click elsewhere ends it, or any other key; nothing stays in the model's place.
  QTest::mouseClick(&bench(), Qt::LeftButton, {}, QPoint(5, 5));
  EXPECT_FALSE(bench().peeked());
  QTest::mousePress(button, Qt::LeftButton);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(bench().peeked()); }, test::kPatience_ms));
  QTest::mouseRelease(button, Qt::LeftButton);
  ASSERT_TRUE(bench().peeked());
  // An edit ends it.
  session().undo();
  EXPECT_FALSE(bench().peeked());
}

TEST_F(BenchWindowTest, WhatAStepDropsIsCountedAsGoneAndNothingIsTinted) {
  openAtShape("lamplight");
  session().edit(QStringLiteral("Pivot"), [](mod::ModState& state) {
    prepare::dropParts(state.models.at("quay-lamp"), {"quay_lamp/line"});
  });
  ASSERT_TRUE(test::settle(*window_));
  std::optional<app::StepScenes> made;
  bool done = false;
  session().compareStep(dropStep(), [&](const std::optional<app::StepScenes>& both) {
    made = both;
    done = true;
  });
  ASSERT_TRUE(QTest::qWaitFor([&] { return done; }, test::kPatience_ms));
  ASSERT_TRUE(made);
  EXPECT_EQ(made->changed, 0U);
  EXPECT_GT(made->gone, 0U);
  for (const app::BenchPart& part : made->after->parts) EXPECT_FALSE(part.changed) << part.key;
}

TEST_F(BenchWindowTest, GaugesAndDrawingGiveTheSameNumbersBeforeAndAfterTheModelIsTurned) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(app::Station::shape);
  session().edit(QStringLiteral("As it came"),
                 [](mod::ModState& state) { state.models.at("quay-lamp").steps.clear(); });
  ASSERT_TRUE(test::settle(*window_));
  const auto same = [&] {
    const app::BenchScene& scene = *session().scene();
    const check::ModelState& state = *session().prepared();
    const glm::vec3 extents =
        prepare::gameExtents(state.box_m, state.prepared.model->frame, session().book());
    const glm::vec3 side = glm::cross(scene.own_up, scene.own_forward);
    const glm::vec3 drawn(glm::dot(scene.bounds_m.size(), glm::abs(scene.own_forward)),
                          glm::dot(scene.bounds_m.size(), glm::abs(side)),
                          glm::dot(scene.bounds_m.size(), glm::abs(scene.own_up)));
    for (int i = 0; i < 3; ++i) EXPECT_NEAR(drawn[i], extents[i], extents[i] * 1e-4F) << i;
  };
  EXPECT_FALSE(session().scene()->frame.turned);
  bench().fit();
  test::look(*window_, "bench-unturned");
  same();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  same();
}

TEST_F(BenchWindowTest, MeasuringAndPickingGoByKeysAlone) {
  openAtShape("lamplight");
  if (!bench().works()) GTEST_SKIP() << "no OpenGL";
  ASSERT_TRUE(test::click(*window_, "measure"));
  ASSERT_EQ(bench().tool(), Bench::Tool::measure);
  ASSERT_TRUE(bench().hasFocus());
  QTest::keyClick(&bench(), Qt::Key_Down);
  ASSERT_TRUE(bench().crosshair());
  const QPointF from = *bench().crosshair();
  QTest::keyClick(&bench(), Qt::Key_Up, Qt::ShiftModifier);
  EXPECT_EQ(*bench().crosshair(), from - QPointF(0, 1)) << "a pixel at a time";
  // To somewhere on the model, and on from there.
  const auto goTo = [&](QPointF to) {
    for (int i = 0; i < 400 && std::abs(bench().crosshair()->x() - to.x()) > 4; ++i)
      QTest::keyClick(&bench(), bench().crosshair()->x() < to.x() ? Qt::Key_Right : Qt::Key_Left);
    for (int i = 0; i < 400 && std::abs(bench().crosshair()->y() - to.y()) > 4; ++i)
      QTest::keyClick(&bench(), bench().crosshair()->y() < to.y() ? Qt::Key_Down : Qt::Key_Up);
  };
  std::vector<QPointF> on;
  for (int y = 40; y < bench().height() - 40; y += 8)
    for (int x = 40; x < bench().width() - 40; x += 8)
      if (bench().under(QPointF(x, y)) && bench().under(QPointF(x + 5, y)) &&
          bench().under(QPointF(x - 5, y)) && bench().under(QPointF(x, y + 5)) &&
          bench().under(QPointF(x, y - 5)))
        on.emplace_back(x, y);
  ASSERT_GT(on.size(), 4U);
  goTo(on.front());
  EXPECT_FALSE(bench().pointed().empty());
  QTest::keyClick(&bench(), Qt::Key_Return);
  goTo(on.back());
  test::look(*window_, "bench-crosshair");
  QTest::keyClick(&bench(), Qt::Key_Return);
  ASSERT_EQ(bench().notes().size(), 1U);
  // With the control key the view turns as ever.
  const float yaw = bench().camera().yaw_rad;
  QTest::keyClick(&bench(), Qt::Key_Left, Qt::ControlModifier);
  EXPECT_NE(bench().camera().yaw_rad, yaw);
  // Esc ends it.
  QTest::keyClick(&bench(), Qt::Key_Escape);
  EXPECT_FALSE(bench().crosshair());
  EXPECT_EQ(bench().tool(), Bench::Tool::look_round);
  // A part is chosen by keys, without a tool.
  QTest::keyClick(&bench(), Qt::Key_Return);
  ASSERT_TRUE(bench().crosshair());
  on.clear();
  for (int y = 40; y < bench().height() - 40 && on.empty(); y += 8)
    for (int x = 40; x < bench().width() - 40 && on.empty(); x += 8)
      if (bench().under(QPointF(x, y)) && bench().under(QPointF(x + 5, y)) &&
          bench().under(QPointF(x, y + 5)) && bench().under(QPointF(x - 5, y)) &&
          bench().under(QPointF(x, y - 5)))
        on.emplace_back(x, y);
  ASSERT_FALSE(on.empty());
  goTo(on.front());
  QSignalSpy clicked(&bench(), &Bench::partClicked);
  QTest::keyClick(&bench(), Qt::Key_Return);
  ASSERT_EQ(clicked.size(), 1);
  EXPECT_FALSE(clicked.front().front().toString().isEmpty());
}

TEST_F(BenchWindowTest, ARingIsTurnedByKeys) {
  openAtShape("lamplight");
  if (!bench().works()) GTEST_SKIP() << "no OpenGL";
  ASSERT_TRUE(test::click(*window_, "turn-rings"));
  ASSERT_EQ(bench().rings().size(), 3U);
  QSignalSpy turned(&bench(), &Bench::quarterTurned);
  // The ring about up: from one place on it a quarter on.
  const Bench::Ring ring = bench().rings()[2];
  const auto on = [&](double angle) {
    const glm::vec3 a = glm::normalize(glm::cross(ring.axis, glm::vec3(0.3F, 0.9F, 0.2F))),
                    b = glm::cross(ring.axis, a);
    return *bench().project(ring.center + ring.radius * (a * static_cast<float>(std::cos(angle)) +
                                                         b * static_cast<float>(std::sin(angle))));
  };
  QTest::keyClick(&bench(), Qt::Key_Down);
  ASSERT_TRUE(bench().crosshair());
  const auto goTo = [&](QPointF to) {
    for (const int key : {Qt::Key_Left, Qt::Key_Up})
      for (int i = 0; i < 3000; ++i) {
        const double off =
            key == Qt::Key_Left ? to.x() - bench().crosshair()->x() : to.y() - bench().crosshair()->y();
        if (std::abs(off) < 1) break;
        const auto with = std::abs(off) < 8 ? Qt::ShiftModifier : Qt::NoModifier;
        QTest::keyClick(&bench(),
                        key == Qt::Key_Left ? (off > 0 ? Qt::Key_Right : Qt::Key_Left)
                                            : (off > 0 ? Qt::Key_Down : Qt::Key_Up),
                        with);
      }
  };
  // Where no other ring crosses it.
  bool held = false;
  for (double angle = 0.2; angle < 6.2 && !held; angle += 0.35) {
    goTo(on(angle));
    QTest::keyClick(&bench(), Qt::Key_Return);
    for (int step = 1; step <= 6; ++step) goTo(on(angle + step * 0.27));
    QTest::keyClick(&bench(), Qt::Key_Return);
    held = !turned.isEmpty();
  }
  ASSERT_TRUE(held);
  EXPECT_NE(turned.front().at(1).toInt(), 0);
}

TEST_F(BenchWindowTest, ATouchpadMovesAndPinchesAndAWheelComesNearer) {
  openAtShape("lamplight");
  const QPointingDevice pad(QStringLiteral("pad"), 7, QInputDevice::DeviceType::TouchPad,
                            QPointingDevice::PointerType::Finger, QInputDevice::Capability::Scroll, 2, 2);
  const QPointF at(bench().rect().center());
  const auto scroll = [&](const QPointingDevice* device, QPoint pixels, QPoint angle,
                          Qt::KeyboardModifiers with = {}) {
    QWheelEvent event(at, bench().mapToGlobal(at), pixels, angle, Qt::NoButton, with, Qt::NoScrollPhase,
                      false, Qt::MouseEventNotSynthesized, device);
    QApplication::sendEvent(&bench(), &event);
  };
  const render::Camera before = bench().camera();
  scroll(&pad, {12, 30}, {0, 0});
  EXPECT_EQ(bench().camera().distance_m, before.distance_m);
  EXPECT_NE(bench().camera().target, before.target) << "two fingers move the picture";
  scroll(&pad, {}, {0, 120}, Qt::ControlModifier);
  EXPECT_LT(bench().camera().distance_m, before.distance_m);
  const float near_m = bench().camera().distance_m;
  scroll(QPointingDevice::primaryPointingDevice(), {}, {0, 120});
  EXPECT_LT(bench().camera().distance_m, near_m);
  const float nearer_m = bench().camera().distance_m;
  QNativeGestureEvent pinch(Qt::ZoomNativeGesture, &pad, 2, at, at, bench().mapToGlobal(at), 0.25, {});
  QApplication::sendEvent(&bench(), &pinch);
  EXPECT_LT(bench().camera().distance_m, nearer_m);
}

TEST_F(BenchWindowTest, WhileASourceIsReadItsBoxAndWhatIsDoneAreSaidAndNeverThatThereIsNothing) {
  QStringList said;
  bool boxed = false;
  QObject::connect(&session(), &app::Session::waiting, window_.get(),
                   [&](const QString& what, const std::optional<geometry::Bounds>& box) {
                     said << what;
                     boxed = boxed || (box && !box->empty());
                   });
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  EXPECT_FALSE(said.isEmpty());
  EXPECT_TRUE(boxed);
  for (const QString& one : said) EXPECT_FALSE(one.isEmpty());
}

}  // namespace
}  // namespace rakugo
