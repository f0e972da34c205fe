// Slipway with mouse and keys: a tug from twice too large to clean, a block made linear, a funnel bent
// upward, a coat whose regions, sizes and seams are put right; then newer sources, and everything replayed.
#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QScrollArea>
#include <QSlider>
#include <cmath>
#include <set>

#include "app/widgets/row_list.h"
#include "base/files.h"
#include "formats/gltf/gltf.h"
#include "prepare/edit_steps.h"
#include "prepare/newer/newer_version.h"
#include "prepare/picked/picked_edits.h"
#include "window_fixture.h"

using namespace rakugo;

// Thirteen rings of eighteen places outside, two inside its mouth, and the middle of each end.
constexpr size_t kFunnelPlaces = 13 * 18 + 2 * 18 + 2;

class SlipwayWindowTest : public test::WindowFixture {
 protected:
  QString text(const char* label) {
    auto* found = test::find<QLabel>(*window_, label);
    return found != nullptr ? found->text() : QString();
  }
  const scene::Model& model() { return *session().prepared()->prepared.model; }
  std::vector<std::string> findings(const std::string& of) {
    std::vector<std::string> out;
    for (const check::Finding& f : session().examination()->findings)
      if (f.place.model == of) out.push_back(f.check);
    return out;
  }
  bool found(const std::string& of, const char* check) {
    const auto all = findings(of);
    return std::find(all.begin(), all.end(), check) != all.end();
  }
  // The first mend of a finding, as its button in the list applies it.
  bool mend(const std::string& of, const char* check, size_t which = 0) {
    for (const check::Finding& f : session().examination()->findings) {
      if (f.place.model != of || f.check != check || f.mends.size() <= which) continue;
      session().edit(QStringLiteral("Mend"), f.mends[which].apply);
      return test::settle(*window_);
    }
    return false;
  }
  bool at(const char* mod, const std::string& name) {
    if (!open(test::copyOfMod(*folder_, mod))) return false;
    session().select(name, name);
    window_->setStation(app::Station::shape);
    return test::settle(*window_);
  }
  bool choose(const char* menu, const QString& title) {
    QMenu* found = nullptr;
    if (!QTest::qWaitFor(
            [&] {
              for (QWidget* top : QApplication::topLevelWidgets())
                if (auto* one = qobject_cast<QMenu*>(top);
                    one != nullptr && one->isVisible() &&
                    (*menu == 0 || one->objectName() == QLatin1String(menu)))
                  found = one;
              return found != nullptr;
            },
            test::kPatience_ms))
      return false;
    for (QAction* action : found->actions())
      if (action->text() == title) {
        action->trigger();
        found->close();
        return test::settle(*window_);
      }
    found->close();
    return false;
  }
  // A box dragged in the bench round where two places of the model are seen.
  void dragBox(glm::vec3 a, glm::vec3 b, double room = 8) {
    app::Bench& bench = window_->bench();
    const auto p = bench.project(a), q = bench.project(b);
    ASSERT_TRUE(p && q);
    const QRectF box = QRectF(*p, *q).normalized().adjusted(-room, -room, room, room);
    QTest::mousePress(&bench, Qt::LeftButton, {}, box.topLeft().toPoint());
    QTest::mouseMove(&bench, box.center().toPoint());
    QTest::mouseMove(&bench, box.bottomRight().toPoint());
    QTest::mouseRelease(&bench, Qt::LeftButton, {}, box.bottomRight().toPoint());
  }
  geometry::Bounds part(const char* key) {
    return scene::partBounds(model(), scene::findPart(model(), key), scene::worldMatrices(model()));
  }

  // Press, drag along and let go, in so many small movements that each is followed.
  void dragAlong(const std::vector<QPointF>& way) {
    app::Bench& bench = window_->bench();
    QTest::mousePress(&bench, Qt::LeftButton, {}, way.front().toPoint());
    for (const QPointF& p : way) {
      QTest::mouseMove(&bench, p.toPoint());
      QTest::qWait(5);
    }
    QTest::mouseRelease(&bench, Qt::LeftButton, {}, way.back().toPoint());
  }
};

TEST_F(SlipwayWindowTest, TheTugIsBroughtFromTwiceTooLargeToClean) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  ASSERT_TRUE(found("tug", "size.range"));
  // Its length is typed, the proportions stay.
  auto* length = test::find<QLineEdit>(*window_, "gauge-length");
  ASSERT_TRUE(length != nullptr);
  length->setFocus();
  length->selectAll();
  QTest::keyClicks(length, QStringLiteral("9.6 m"));
  QTest::keyClick(length, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(std::abs(prepare::gameExtents(model(), session().book()).x - 9.6F) < 0.01F);
  ASSERT_TRUE(!found("tug", "size.range"));
  // Of the four screws one stays, and the object knows where the others stood.
  ASSERT_TRUE(test::click(*window_, "keep-one-tug/screw_1"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(scene::countsOf(model()).parts, uint64_t{7});
  ASSERT_EQ(session().state().models.at("tug").points.size(), size_t{4});
  // Normals are wrong only as long as their triangles face the wrong way.
  ASSERT_TRUE(found("tug", "mesh.normals_wrong"));
  for (const char* check : {"mesh.duplicates", "mesh.flipped", "placement.not_baked", "mesh.specks"})
    ASSERT_TRUE(mend("tug", check)) << check;
  for (const char* check : {"mesh.duplicates", "mesh.flipped", "mesh.inside_out", "mesh.normals_wrong",
                            "placement.not_baked", "mesh.specks", "size.range", "axes.differ"})
    ASSERT_TRUE(!found("tug", check)) << check;
  // All of it is taken back, step by step.
  while (session().history().canUndo()) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().state().models.at("tug").steps.empty());
}

TEST_F(SlipwayWindowTest, TheFunnelIsBentUpwardByWhatWasPicked) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  session().edit(QStringLiteral("Half"),
                 [](mod::ModState& mod) { prepare::scaleBy(mod.models["tug"], 0.5); });
  ASSERT_TRUE(test::settle(*window_));
  const geometry::Bounds before = part("tug/funnel");
  window_->bench().lookFrom(QStringLiteral("left"));
  ASSERT_TRUE(test::click(*window_, "part-tug/funnel"));
  ASSERT_TRUE(test::click(*window_, "pick-box"));
  dragBox(before.min, before.max);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(text("pick-found").contains(QStringLiteral("places of funnel picked")));
      },
      test::kPatience_ms));
  ASSERT_EQ(window_->bench().pickedPlaces().size(), kFunnelPlaces);
  auto* action = test::find<QComboBox>(*window_, "pick-action");
  ASSERT_TRUE(action != nullptr);
  action->setCurrentIndex(action->findData(QStringLiteral("bend_picked")));
  auto* axis = test::find<QComboBox>(*window_, "pick-axis");
  ASSERT_TRUE(axis != nullptr);
  axis->setCurrentText(QStringLiteral("x towards z"));
  auto* amount = test::find<QLineEdit>(*window_, "pick-amount");
  amount->setText(QStringLiteral("80"));
  ASSERT_TRUE(test::click(*window_, "pick-apply"));
  ASSERT_TRUE(test::settle(*window_));
  // It lay along the boat and now stands up; which of its ends stays is a value of the sentence.
  session().edit(QStringLiteral("End"), [&](mod::ModState& mod) {
    for (mod::StepDoc& one : mod.models["tug"].steps)
      if (one.kind == "bend_picked") one.values["fixed"] = "high";
  });
  ASSERT_TRUE(test::settle(*window_));
  const geometry::Bounds after = part("tug/funnel");
  ASSERT_TRUE(after.size().z > before.size().z + 1.0F);
  ASSERT_TRUE(std::abs(after.max.x - before.max.x) < 0.35F);
  ASSERT_TRUE(std::none_of(session().prepared()->prepared.outcomes.begin(),
                           session().prepared()->prepared.outcomes.end(),
                           [](const prepare::StepOutcome& o) { return !o.misses.empty(); }))
      << "a step misses something";
  session().undo();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(std::abs(part("tug/funnel").size().z - before.size().z) < 1e-4F);
}

TEST_F(SlipwayWindowTest, WhatIsPickedIsPulledAlongAnAxisAndOneUndoTakesItBack) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  window_->bench().lookFrom(QStringLiteral("left"));
  const geometry::Bounds before = part("tug/funnel");
  ASSERT_TRUE(test::click(*window_, "part-tug/funnel"));
  ASSERT_TRUE(test::click(*window_, "pick-box"));
  dragBox(before.min, before.max);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!window_->bench().pickedPlaces().empty()); },
                              test::kPatience_ms));
  const size_t steps = session().state().models.at("tug").steps.size();
  app::Bench& bench = window_->bench();
  // Along z, which points up in this view: pressed on the arrow, pulled by forty pixels.
  ASSERT_TRUE(bench.handle());
  const auto middle = bench.project(bench.handle()->at);
  ASSERT_TRUE(middle.has_value());
  const QPoint from = middle->toPoint() - QPoint(0, 30);
  QTest::mousePress(&bench, Qt::LeftButton, {}, from);
  for (int i = 1; i <= 8; ++i) {
    QTest::mouseMove(&bench, from - QPoint(0, 5 * i));
    QTest::qWait(5);
  }
  QTest::mouseRelease(&bench, Qt::LeftButton, {}, from - QPoint(0, 40));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps + 1);
  const geometry::Bounds after = part("tug/funnel");
  ASSERT_TRUE(after.min.z > before.min.z + 0.2F);
  ASSERT_TRUE(std::abs(after.min.x - before.min.x) < 1e-3F);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps);
}

TEST_F(SlipwayWindowTest, WhatIsPickedIsStretchedAndTurnedByItsHandles) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  app::Bench& bench = window_->bench();
  bench.lookFrom(QStringLiteral("left"));
  const geometry::Bounds before = part("tug/funnel");
  const auto pickFunnel = [&] {
    if (!test::click(*window_, "pick-box")) return false;
    dragBox(before.min, before.max);
    return QTest::qWaitFor([&] { return !bench.pickedPlaces().empty(); }, test::kPatience_ms);
  };
  ASSERT_TRUE(test::click(*window_, "part-tug/funnel"));
  ASSERT_TRUE(pickFunnel());
  const size_t steps = session().state().models.at("tug").steps.size();
  auto* action = test::find<QComboBox>(*window_, "pick-action");
  ASSERT_TRUE(bench.handle());
  const QPointF middle = bench.project(bench.handle()->at).value_or(QPointF());
  std::vector<QPointF> up;
  for (int i = 0; i <= 10; ++i) up.push_back(middle - QPointF(0, 30 + 4 * i));
  action->setCurrentIndex(action->findData(QStringLiteral("scale_picked")));
  dragAlong(up);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps + 1);
  const geometry::Bounds taller = part("tug/funnel");
  ASSERT_TRUE(taller.size().z > before.size().z * 1.2F);
  ASSERT_TRUE(std::abs(taller.size().x - before.size().x) < 1e-3F);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps);
  // The ring about y faces the eye in this view: round by thirty degrees.
  ASSERT_TRUE(pickFunnel());
  action->setCurrentIndex(action->findData(QStringLiteral("turn_picked")));
  auto* axis = test::find<QComboBox>(*window_, "pick-axis");
  axis->setCurrentIndex(axis->findText(QStringLiteral("about y")));
  ASSERT_TRUE(axis->currentIndex() >= 0);
  const double r = 0.11 * bench.height();
  std::vector<QPointF> round;
  for (int degrees = 0; degrees <= 30; degrees += 3) {
    const double a = degrees * 3.14159265 / 180;
    round.push_back(middle + QPointF(r * std::cos(a), -r * std::sin(a)));
  }
  dragAlong(round);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps + 1);
  const mod::StepDoc& turned = *std::find_if(
      session().state().models.at("tug").steps.begin(), session().state().models.at("tug").steps.end(),
      [](const mod::StepDoc& step) { return step.kind == "turn_picked"; });
  ASSERT_EQ(turned.values["axis"].get<std::string>(), std::string("y"));
  const double by = std::abs(turned.values["degrees"].get<double>());
  ASSERT_TRUE(by > 26 && by < 34) << qPrintable(QString::number(by));
  ASSERT_EQ(by, std::round(by));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("tug").steps.size(), steps);
}

TEST_F(SlipwayWindowTest, TheModelIsTurnedByQuartersOnARing) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  app::Bench& bench = window_->bench();
  bench.lookFrom(QStringLiteral("up"));
  const glm::vec3 size = scene::boundsOf(model()).size();
  ASSERT_TRUE(test::click(*window_, "turn-rings"));
  ASSERT_EQ(bench.tool(), app::Bench::Tool::turn_rings);
  // The ring about z lies flat before the eye: a good part of a quarter round, and it snaps.
  ASSERT_EQ(bench.rings().size(), size_t{3});
  const app::Bench::Ring ring = bench.rings()[2];
  std::vector<QPointF> round;
  for (int degrees = 40; degrees <= 110; degrees += 7) {
    const float a = glm::radians(static_cast<float>(degrees));
    const glm::vec3 place = ring.center + glm::vec3(std::cos(a), std::sin(a), 0) * ring.radius;
    round.push_back(bench.project(place).value_or(QPointF()));
    ASSERT_TRUE(bench.rect().contains(round.back().toPoint())) << "the ring is in reach";
  }
  dragAlong(round);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(bench.tool(), app::Bench::Tool::look_round);
  const auto& steps = session().state().models.at("tug").steps;
  const auto step =
      std::find_if(steps.begin(), steps.end(), [](const mod::StepDoc& s) { return s.kind == "rotate"; });
  ASSERT_TRUE(step != steps.end());
  ASSERT_EQ(step->values["about"].get<std::string>(), std::string("up"));
  ASSERT_EQ(step->values["degrees"].get<double>(), 90.0);
  const glm::vec3 now = scene::boundsOf(model()).size();
  ASSERT_TRUE(std::abs(now.x - size.y) < 1e-3F && std::abs(now.y - size.x) < 1e-3F);
  // Esc leaves the tool, and a click beside the rings turns nothing.
  ASSERT_TRUE(test::click(*window_, "turn-rings"));
  QTest::keyClick(&bench, Qt::Key_Escape);
  ASSERT_EQ(bench.tool(), app::Bench::Tool::look_round);
}

TEST_F(SlipwayWindowTest, WhatItIsMadeOfIsSeenAtAGlance) {
  ASSERT_TRUE(at("slipway", "sea-coat"));
  ASSERT_TRUE(mend("sea-coat", "axes.differ"));
  // Regions have a tint each, in the bench and in the list; gone with the station.
  const auto& washes = window_->bench().washes();
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(washes.size() >= 4); }, test::kPatience_ms));
  std::set<QRgb> tints;
  for (const auto& [part_key, color] : washes) tints.insert(color.rgb());
  ASSERT_TRUE(tints.size() >= 4);
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(window_->bench().washes().empty());
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(!window_->bench().washes().empty());
  // Each part with its own picture.
  auto* parts = window_->findChild<app::RowList*>(QStringLiteral("parts-list"));
  ASSERT_NE(parts, nullptr);
  const QModelIndex trunk =
      parts->rows().indexOf(QStringLiteral("part-") + QString::fromStdString(washes.begin()->first));
  ASSERT_TRUE(trunk.isValid());
  const auto drawn = [&] {
    const QImage icon = trunk.data(Qt::DecorationRole).value<QImage>();
    int solid = 0;
    for (int y = 0; y < icon.height(); ++y)
      for (int x = 0; x < icon.width(); ++x) solid += qAlpha(icon.pixel(x, y)) > 128 ? 1 : 0;
    return solid;
  };
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(drawn() > 20); }, test::kPatience_ms));
  auto* reach = test::find<QLineEdit>(*window_, "gauge-reach");
  ASSERT_TRUE(reach != nullptr && reach->isReadOnly());
  ASSERT_TRUE(reach->text().endsWith(QStringLiteral(" m")));
}

TEST_F(SlipwayWindowTest, TheBlockIsMadeLinear) {
  ASSERT_TRUE(at("slipway", "quay-block"));
  ASSERT_TRUE(mend("quay-block", "axes.differ"));
  ASSERT_TRUE(found("quay-block", "mesh.shapeless"));
  ASSERT_TRUE(test::click(*window_, "fault-shapeless_vertices"));
  ASSERT_TRUE(test::click(*window_, "mend-shapeless_vertices"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!found("quay-block", "mesh.shapeless"));
  ASSERT_TRUE(!found("quay-block", "mesh.unaligned"));
  ASSERT_EQ(scene::countsOf(model()).triangles, uint64_t{12});
  ASSERT_TRUE(!found("quay-block", "grid.size"));
}

TEST_F(SlipwayWindowTest, TheCoatsRegionsSizesAndSeamsArePutRight) {
  ASSERT_TRUE(at("slipway", "sea-coat"));
  ASSERT_TRUE(mend("sea-coat", "axes.differ"));
  // A region that the game does not list is handed over.
  ASSERT_TRUE(found("sea-coat", "region.surplus"));
  ASSERT_TRUE(test::click(*window_, "hand-over-belly"));
  ASSERT_TRUE(choose("region-menu", QStringLiteral("to Trunk")));
  ASSERT_TRUE(!found("sea-coat", "region.surplus"));
  ASSERT_TRUE(found("sea-coat", "region.order"));
  ASSERT_TRUE(mend("sea-coat", "region.order"));
  ASSERT_TRUE(!found("sea-coat", "region.order"));
  // Its other size: the same mesh, in another order.
  ASSERT_TRUE(found("sea-coat", "variant.missing"));
  ASSERT_TRUE(test::click(*window_, "size-source-broad"));
  ASSERT_TRUE(choose("size-menu", QStringLiteral("sea-coat-broad")));
  ASSERT_TRUE(!found("sea-coat", "variant.missing"));
  ASSERT_TRUE(found("sea-coat", "variant.differs"));
  ASSERT_TRUE(text("size-state-broad").contains(QStringLiteral("another order")));
  ASSERT_TRUE(mend("sea-coat", "variant.differs"));
  ASSERT_TRUE(!found("sea-coat", "variant.differs")) << qPrintable(text("size-state-broad"));
  // Half way between the two sizes, in the bench.
  auto* slider = test::find<QSlider>(*window_, "size-slider");
  ASSERT_TRUE(slider != nullptr);
  const float slim = glm::dot(window_->bench().scene()->bounds_m.size(), glm::vec3(1, 0, 0));
  slider->setValue(100);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(glm::dot(window_->bench().scene()->bounds_m.size(), glm::vec3(1, 0, 0)) >
                                 slim * 1.05F);
      },
      test::kPatience_ms));
  slider->setValue(0);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(window_->bench().scene() == session().scene()); }, test::kPatience_ms));
  // The neck and the wrists are closed.
  ASSERT_TRUE(found("sea-coat", "seam.gap"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "close-seams") != nullptr); },
      test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "close-seams"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!found("sea-coat", "seam.gap"));
  ASSERT_TRUE(!found("sea-coat", "variant.differs"));
}

TEST_F(SlipwayWindowTest, ARegionIsPaintedByPicking) {
  ASSERT_TRUE(at("slipway", "sea-coat"));
  ASSERT_TRUE(mend("sea-coat", "axes.differ"));
  window_->bench().lookFrom(QStringLiteral("forward"));
  ASSERT_TRUE(test::click(*window_, "part-sea_coat/skirts"));
  const geometry::Bounds skirts = part("sea_coat/skirts");
  ASSERT_TRUE(test::click(*window_, "pick-box"));
  dragBox({0, skirts.min.y, skirts.min.z}, {0, skirts.max.y, skirts.center().z + 0.02F}, 4);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!window_->bench().pickedPlaces().empty()); },
                              test::kPatience_ms));
  auto* action = test::find<QComboBox>(*window_, "pick-action");
  action->setCurrentIndex(action->findData(QStringLiteral("region_picked")));
  auto* region = test::find<QComboBox>(*window_, "pick-region");
  ASSERT_TRUE(region != nullptr);
  region->setCurrentIndex(region->findData(QStringLiteral("trunk")));
  const uint64_t before = scene::countsOf(model()).triangles;
  ASSERT_TRUE(test::click(*window_, "pick-apply"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(scene::countsOf(model()).triangles, before);
  const auto painted = scene::findPart(model(), "sea_coat/skirts/trunk");
  ASSERT_TRUE(painted.valid());
  ASSERT_EQ(model().node(painted).region, std::string("trunk"));
}

TEST_F(SlipwayWindowTest, StepsAreKeptAsAHabitAndCopiedToAnotherModel) {
  qputenv("XDG_DATA_HOME", (folder_->path() + QStringLiteral("/data")).toUtf8());
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  ASSERT_TRUE(mend("tug", "placement.not_baked"));
  const size_t steps = session().state().models.at("tug").steps.size();
  // To another model of the mod.
  ASSERT_TRUE(test::click(*window_, "all-steps"));
  QMenu* menu = nullptr;
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>((menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) !=
                                     nullptr &&
                                 menu->isVisible());
      },
      test::kPatience_ms));
  for (QAction* action : menu->actions()[0]->menu()->actions())
    if (action->text() == QStringLiteral("quay-block")) action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("quay-block").steps.size(), steps);
  ASSERT_TRUE(!found("quay-block", "axes.differ"));
  // As a habit, for the coat.
  ASSERT_TRUE(test::click(*window_, "all-steps"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>((menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) !=
                                     nullptr &&
                                 menu->isVisible());
      },
      test::kPatience_ms));
  menu->actions()[1]->trigger();
  menu->close();
  QWidget* popup = nullptr;
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>((popup = QApplication::activePopupWidget()) != nullptr); },
      test::kPatience_ms));
  auto* line = popup->findChild<QLineEdit*>();
  ASSERT_TRUE(line != nullptr);
  line->setText(QStringLiteral("From the shipyard"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(told().contains(QStringLiteral("Kept as the habit"))); },
                      test::kPatience_ms));
  session().select("sea-coat", "sea-coat");
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "all-steps"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>((menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) !=
                                     nullptr &&
                                 menu->isVisible());
      },
      test::kPatience_ms));
  ASSERT_EQ(menu->actions()[2]->menu()->actions().size(), 1);
  menu->actions()[2]->menu()->actions()[0]->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().models.at("sea-coat").steps.size(), steps);
  ASSERT_TRUE(!found("sea-coat", "axes.differ"));
}

TEST_F(SlipwayWindowTest, WhatIsMeasuredStaysUntilItIsCleared) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  window_->bench().lookFrom(QStringLiteral("left"));
  app::Bench& bench = window_->bench();
  const auto seen = [&](glm::vec3 p) { return bench.project(p).value_or(QPointF()).toPoint(); };
  const geometry::Bounds house = part("tug/wheelhouse"), funnel = part("tug/funnel");
  ASSERT_TRUE(test::click(*window_, "measure"));
  QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(house.center()));
  QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(funnel.center()));
  ASSERT_EQ(bench.notes().size(), size_t{1});
  ASSERT_TRUE(test::click(*window_, "measure-angle"));
  for (const glm::vec3& p : {house.center(), funnel.center(), part("tug/hull").center()})
    QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(p));
  ASSERT_EQ(bench.notes().size(), size_t{2});
  ASSERT_TRUE(bench.notes()[1].text.endsWith(QChar(0xB0)));
  ASSERT_TRUE(test::click(*window_, "measure-gap"));
  QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(house.center()));
  QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(funnel.center()));
  (void)QTest::qWaitFor([&] { return bench.notes().size() == size_t{3}; }, test::kPatience_ms);
  ASSERT_EQ(bench.notes().size(), size_t{3});
  // The wheelhouse's door begins 8.34 m from the keel's end, the funnel ends at 7.8 m.
  ASSERT_EQ(bench.notes()[2].text, QStringLiteral("54 cm"));
  ASSERT_TRUE(test::click(*window_, "clear-notes"));
  ASSERT_TRUE(bench.notes().empty());
}

TEST_F(SlipwayWindowTest, AnotherThingStandsBehindTheModel) {
  ASSERT_TRUE(at("slipway", "sea-coat"));
  ASSERT_TRUE(mend("sea-coat", "axes.differ"));
  const QString own = QString::fromStdString(window_->bench().scene()->ghost_title);
  ASSERT_TRUE(test::click(*window_, "ghost-choice"));
  QMenu* menu = nullptr;
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>((menu = window_->findChild<QMenu*>(QStringLiteral("ghost-menu"))) !=
                                     nullptr &&
                                 menu->isVisible());
      },
      test::kPatience_ms));
  for (QAction* action : menu->actions()[1]->menu()->actions())
    if (action->text() == QStringLiteral("the keeper's body")) action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  (void)QTest::qWaitFor(
      [&] {
        return QString::fromStdString(window_->bench().scene()->ghost_title) ==
               QStringLiteral("the keeper's body");
      },
      test::kPatience_ms);
  ASSERT_EQ(QString::fromStdString(window_->bench().scene()->ghost_title),
            QStringLiteral("the keeper's body"));
  ASSERT_TRUE(window_->bench().scene()->ghost_extents_m.has_value());
  // What differs between the two is listed beside it.
  ASSERT_EQ(text("beside"), QStringLiteral("Beside the keeper's body"));
  const auto said = [&] {
    for (QLabel* label : window_->findChildren<QLabel*>())
      if (label->isVisible() && label->text().contains(QStringLiteral("belly_band"))) return true;
    return false;
  };
  if (auto* more = test::find<QPushButton>(*window_, "beside-more"); more != nullptr)
    ASSERT_TRUE(test::click(*window_, "beside-more"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(said()); }, test::kPatience_ms));
  QTest::qWait(50);
  for (const QLabel* label : window_->findChildren<QLabel*>())
    if (label->isVisible() && label->wordWrap() && !label->text().isEmpty())
      ASSERT_TRUE(label->height() + 1 >= label->heightForWidth(label->width())) << qPrintable(label->text());
  // The column is as wide as what it is seen through: nothing long pushes it over the edge.
  for (QWidget* around = test::find<QLabel>(*window_, "structure-facts"); around != nullptr;
       around = around->parentWidget())
    if (const auto* area = qobject_cast<QScrollArea*>(around))
      ASSERT_TRUE(area->widget()->width() <= area->viewport()->width())
          << qPrintable(QString::number(area->widget()->width()));
  session().setGhost({app::GhostChoice::Sort::model, "quay-block"});
  (void)QTest::qWaitFor(
      [&] {
        return QString::fromStdString(window_->bench().scene()->ghost_title) == QStringLiteral("quay-block");
      },
      test::kPatience_ms);
  ASSERT_EQ(QString::fromStdString(window_->bench().scene()->ghost_title), QStringLiteral("quay-block"));
  // A file of one's own, turned to the game's axes; one that cannot be read leaves nothing.
  const auto file = session().folder() / "sources/tug/tug.glb";
  session().setGhost({app::GhostChoice::Sort::file, file.string()});
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(window_->bench().scene()->ghost_title == "tug.glb"); },
                      test::kPatience_ms));
  ASSERT_TRUE(window_->bench().scene()->ghost_extents_m->x > 15);
  session().setGhost({app::GhostChoice::Sort::file, "/nowhere/x.glb"});
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(window_->bench().scene()->ghost.empty()); },
                              test::kPatience_ms));
  session().setGhost({});
  (void)QTest::qWaitFor([&] { return QString::fromStdString(window_->bench().scene()->ghost_title) == own; },
                        test::kPatience_ms);
  ASSERT_EQ(QString::fromStdString(window_->bench().scene()->ghost_title), own);
}

// Its maker has made the tug anew: longer, with a finer funnel, and put it elsewhere.
TEST_F(SlipwayWindowTest, AHeightIsTakenFromWhatStandsBehind) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "beside-height") != nullptr); },
      test::kPatience_ms));
  const float wanted = session().scene()->ghost_extents_m->z;
  ASSERT_TRUE(test::click(*window_, "beside-height"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(std::abs(scene::boundsOf(model()).size().z - wanted) < 1e-3F);
  // There is nothing left to take.
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(window_->findChild<QPushButton*>(QStringLiteral("beside-height")) ==
                                 nullptr);
      },
      test::kPatience_ms));
}

TEST_F(SlipwayWindowTest, ANewerSourceGoesThroughEverythingAgain) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  ASSERT_TRUE(test::click(*window_, "keep-one-tug/screw_1"));
  ASSERT_TRUE(test::settle(*window_));
  window_->bench().lookFrom(QStringLiteral("left"));
  const geometry::Bounds flat = part("tug/funnel");
  ASSERT_TRUE(test::click(*window_, "part-tug/funnel"));
  ASSERT_TRUE(test::click(*window_, "pick-box"));
  dragBox(flat.min, flat.max);
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!window_->bench().pickedPlaces().empty()); },
                              test::kPatience_ms));
  auto* action = test::find<QComboBox>(*window_, "pick-action");
  action->setCurrentIndex(action->findData(QStringLiteral("bend_picked")));
  test::find<QComboBox>(*window_, "pick-axis")->setCurrentText(QStringLiteral("x towards z"));
  test::find<QLineEdit>(*window_, "pick-amount")->setText(QStringLiteral("80"));
  ASSERT_TRUE(test::click(*window_, "pick-apply"));
  ASSERT_TRUE(test::settle(*window_));
  const float bent = part("tug/funnel").size().z;
  ASSERT_TRUE(bent > flat.size().z + 1.0F);

  auto read = formats::readModelFile(session().folder() / "sources/tug/tug.glb");
  ASSERT_TRUE(read.ok());
  scene::Model& newer = read->model;
  for (const scene::NodeIndex i : scene::reachedNodes(newer)) {
    if (!newer.node(i).mesh.valid()) continue;
    scene::Primitive& p = newer.editMesh(newer.node(i).mesh).primitives[0];
    if (newer.node(i).name == "hull")
      for (glm::vec3& v : p.positions) v.z *= 1.1F;  // forward in the file
    if (newer.node(i).name == "funnel") {
      // The first of its triangles is cut in three.
      const uint32_t a = p.indices[0], b = p.indices[1], c = p.indices[2],
                     v = static_cast<uint32_t>(p.positions.size());
      p.positions.push_back((p.positions[a] + p.positions[b] + p.positions[c]) / 3.0F);
      p.normals.push_back(p.normals[a]);
      p.uvs[0].push_back(p.uvs[0][a]);
      p.indices[2] = v;
      p.indices.insert(p.indices.end(), {b, c, v, c, a, v});
    }
    newer.node(i).local.position += glm::vec3(0, 0.4F, 0);
  }
  const auto file = std::filesystem::path(test::s8(folder_->path())) / "tug.glb";
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(newer)).ok());
  const auto version = prepare::readNewer(session().folder(), session().state(), "tug", {file, {}});
  ASSERT_TRUE(version.ok());
  ASSERT_TRUE(version->misfits.empty()) << "a step would no longer fit";
  const auto doc = prepare::copyNewer(session().folder(), session().state(), *version);
  ASSERT_TRUE(doc.ok());
  session().edit(QStringLiteral("Take"),
                 [&](mod::ModState& mod) { prepare::takeNewer(mod, *version, *doc, {}); });
  ASSERT_TRUE(test::settle(*window_));
  for (const prepare::StepOutcome& outcome : session().prepared()->prepared.outcomes)
    ASSERT_TRUE(outcome.misses.empty()) << (outcome.misses.empty() ? "" : outcome.misses[0].c_str());
  ASSERT_TRUE(!found("tug", "step.misses"));
  ASSERT_TRUE(std::abs(part("tug/funnel").size().z - bent) < 0.01F);
  ASSERT_TRUE(std::abs(part("tug/funnel").min.z - flat.min.z - 0.4F) < 0.05F);
  ASSERT_EQ(scene::countsOf(model()).parts, uint64_t{7});
  // One undo brings the old one back.
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(std::abs(part("tug/funnel").min.z - flat.min.z) < 0.05F);
}

TEST_F(SlipwayWindowTest, WhatAStationDrawsIsSeenOnlyThere) {
  ASSERT_TRUE(at("slipway", "sea-coat"));
  ASSERT_TRUE(mend("sea-coat", "axes.differ"));
  ASSERT_TRUE(window_->bench().names().size() >= 6);
  ASSERT_TRUE(window_->bench().lines().size() >= 6);
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(window_->bench().names().empty());
  ASSERT_TRUE(window_->bench().lines().empty());
  session().edit(QStringLiteral("Scale"),
                 [](mod::ModState& mod) { prepare::scaleBy(mod.models["sea-coat"], 1.01); });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(window_->bench().names().empty());
  window_->setStation(app::Station::shape);
  ASSERT_TRUE(!window_->bench().names().empty());
  // Another model has its own: a block its cells.
  session().select("quay-block", "quay-block");
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(mend("quay-block", "axes.differ"));
  ASSERT_TRUE(window_->bench().names().empty());
  ASSERT_EQ(window_->bench().lines().size(), size_t{12});
  ASSERT_TRUE(window_->bench().lines()[0].good);
  session().edit(QStringLiteral("Scale"),
                 [](mod::ModState& mod) { prepare::scaleBy(mod.models["quay-block"], 1.2); });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(!window_->bench().lines()[0].good);
  // A whole factor, from the menu.
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "whole-factor"));
  ASSERT_TRUE(choose("", QStringLiteral("2 times as large")));
  ASSERT_TRUE(std::abs(prepare::gameExtents(model(), session().book()).z - 1) < 1e-4F);
  ASSERT_TRUE(!found("quay-block", "grid.size"));
  ASSERT_TRUE(window_->bench().lines()[0].good);
}

TEST_F(SlipwayWindowTest, EveryCorrectionIsAddedByItsNumbersAndWrongOnesAreSaid) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  const geometry::Bounds funnel = part("tug/funnel");
  ASSERT_TRUE(test::find<QPushButton>(*window_, "pick-apply") == nullptr);
  // Without a chosen part, what is drawn round decides; a loose piece is clicked.
  window_->bench().lookFrom(QStringLiteral("left"));
  ASSERT_TRUE(test::click(*window_, "pick-piece"));
  app::Bench& bench = window_->bench();
  QTest::mouseClick(&bench, Qt::LeftButton, {}, bench.project(funnel.center()).value().toPoint());
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(text("pick-found").contains(QStringLiteral("272 places of funnel"))); },
      test::kPatience_ms));
  auto* action = test::find<QComboBox>(*window_, "pick-action");
  auto* amount = test::find<QLineEdit>(*window_, "pick-amount");
  ASSERT_TRUE(action != nullptr && amount != nullptr);
  const size_t before = session().state().models.at("tug").steps.size();
  const auto apply = [&](const char* step, const char* typed) {
    action->setCurrentIndex(action->findData(QLatin1String(step)));
    amount->setText(QLatin1String(typed));
    return test::click(*window_, "pick-apply") && test::settle(*window_);
  };
  for (const auto& [step, typed] :
       std::initializer_list<std::pair<const char*, const char*>>{{"move_picked", "1, 2"},
                                                                  {"scale_picked", "big"},
                                                                  {"turn_picked", "1, 2"},
                                                                  {"split_picked", "  "}}) {
    ASSERT_TRUE(apply(step, typed));
    ASSERT_EQ(session().state().models.at("tug").steps.size(), before);
    ASSERT_TRUE(!text("pick-found").contains(QStringLiteral("picked"))) << qPrintable(text("pick-found"));
  }
  for (const auto& [step, typed] :
       std::initializer_list<std::pair<const char*, const char*>>{{"turn_picked", "10"},
                                                                  {"scale_picked", "1, 1.1, 1.1"},
                                                                  {"snap_picked", "5"},
                                                                  {"flatten_picked", ""}}) {
    ASSERT_TRUE(apply(step, typed)) << step;
    const auto& steps = session().state().models.at("tug").steps;
    ASSERT_TRUE(std::any_of(steps.begin(), steps.end(), [&, s = step](const mod::StepDoc& one) {
      return one.kind == s;
    })) << step;
    ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!window_->bench().pickedPlaces().empty()); },
                                test::kPatience_ms));
  }
  ASSERT_EQ(session().state().models.at("tug").steps.size(), before + 4);
  for (const prepare::StepOutcome& outcome : session().prepared()->prepared.outcomes)
    ASSERT_TRUE(outcome.misses.empty()) << (outcome.misses.empty() ? "" : outcome.misses[0].c_str());
  ASSERT_TRUE(part("tug/funnel").size().z < 1e-4F || part("tug/funnel").size().x < 1e-4F);
  // Let go: nothing is marked any more.
  ASSERT_TRUE(test::click(*window_, "pick-forget"));
  ASSERT_TRUE(bench.pickedPlaces().empty());
}

TEST_F(SlipwayWindowTest, WhatAStepPicksIsShownFromItsSentence) {
  ASSERT_TRUE(at("slipway", "tug"));
  ASSERT_TRUE(mend("tug", "axes.differ"));
  ASSERT_TRUE(mend("tug", "placement.not_baked"));
  session().edit(QStringLiteral("Pick"), [&](mod::ModState& mod) {
    prepare::Selection whole;
    whole.part = "tug/funnel";
    prepare::addPickedStep(mod.models["tug"], session().prepared()->prepared, "move_picked",
                           base::Json{{"by", {0, 0, 1}}}, whole);
    prepare::setOrAddStep(mod.models["tug"], "origin", base::Json{{"to", "floor"}});
  });
  ASSERT_TRUE(test::settle(*window_));
  const auto& steps = session().state().models.at("tug").steps;
  const auto step = std::find_if(steps.begin(), steps.end(),
                                 [](const mod::StepDoc& one) { return one.kind == "move_picked"; });
  ASSERT_TRUE(step != steps.end());
  auto* sentence = test::find<QLabel>(*window_, ("sentence-" + step->id).c_str());
  ASSERT_TRUE(sentence != nullptr);
  Q_EMIT sentence->linkActivated(QStringLiteral("pick"));
  (void)QTest::qWaitFor([&] { return window_->bench().marks().size() == kFunnelPlaces; }, test::kPatience_ms);
  ASSERT_EQ(window_->bench().marks().size(), kFunnelPlaces);
  // Where they were picked, as far as the model has been moved since.
  const geometry::Bounds now = part("tug/funnel");
  geometry::Bounds marked;
  for (const glm::vec3& mark : window_->bench().marks()) marked.add(mark);
  ASSERT_TRUE(glm::distance(marked.size(), now.size()) < 1e-3F);
  // A part that an earlier step takes away (drops come before what is picked): it says so.
  const std::string id = step->id;
  session().edit(QStringLiteral("Drop"),
                 [](mod::ModState& mod) { prepare::dropParts(mod.models["tug"], {"tug/funnel"}); });
  ASSERT_TRUE(test::settle(*window_));
  sentence = test::find<QLabel>(*window_, ("sentence-" + id).c_str());
  ASSERT_TRUE(sentence != nullptr);
  Q_EMIT sentence->linkActivated(QStringLiteral("pick"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(told().contains(QStringLiteral("not in the model any more"))); },
      test::kPatience_ms));
}
