// Slipway with mouse and keys: a tug from twice too large to clean, a block made linear, a funnel bent
// upward, a coat whose regions, sizes and seams are put right; then newer sources, and everything replayed.
#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QScrollArea>
#include <QSlider>
#include <cmath>
#include <set>

#include "base/files.h"
#include "formats/gltf.h"
#include "prepare/edit_steps.h"
#include "prepare/newer_version.h"
#include "prepare/picked_edits.h"
#include "window_fixture.h"

using namespace rakugo;

class SlipwayWindowTest : public test::WindowFixture {
  Q_OBJECT

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
    QVERIFY(p && q);
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

 private Q_SLOTS:
  void init() { begin(); }
  void cleanup() { end(); }

  void theTugFromTwiceTooLargeToClean() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    QVERIFY(found("tug", "size.range"));
    // Its length is typed, the proportions stay.
    auto* length = test::find<QLineEdit>(*window_, "gauge-length");
    QVERIFY(length != nullptr);
    length->setFocus();
    length->selectAll();
    QTest::keyClicks(length, QStringLiteral("9.6 m"));
    QTest::keyClick(length, Qt::Key_Return);
    QVERIFY(test::settle(*window_));
    QVERIFY(std::abs(prepare::gameExtents(model(), session().book()).x - 9.6F) < 0.01F);
    QVERIFY(!found("tug", "size.range"));
    // Of the four screws one stays, and the object knows where the others stood.
    QVERIFY(test::click(*window_, "keep-one-tug/screw_1"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(scene::countsOf(model()).parts, uint64_t{4});
    QCOMPARE(session().state().models.at("tug").points.size(), size_t{4});
    // Normals are wrong only as long as their triangles face the wrong way.
    QVERIFY(found("tug", "mesh.normals_wrong"));
    for (const char* check : {"mesh.duplicates", "mesh.flipped", "placement.not_baked", "mesh.specks"})
      QVERIFY2(mend("tug", check), check);
    for (const char* check : {"mesh.duplicates", "mesh.flipped", "mesh.inside_out", "mesh.normals_wrong",
                              "placement.not_baked", "mesh.specks", "size.range", "axes.differ"})
      QVERIFY2(!found("tug", check), check);
    // All of it is taken back, step by step.
    while (session().history().canUndo()) session().undo();
    QVERIFY(test::settle(*window_));
    QVERIFY(session().state().models.at("tug").steps.empty());
  }

  void theFunnelIsBentUpwardByWhatWasPicked() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    session().edit(QStringLiteral("Half"),
                   [](mod::ModState& mod) { prepare::scaleBy(mod.models["tug"], 0.5); });
    QVERIFY(test::settle(*window_));
    const geometry::Bounds before = part("tug/funnel");
    window_->bench().lookFrom(QStringLiteral("left"));
    QVERIFY(test::click(*window_, "part-tug/funnel"));
    QVERIFY(test::click(*window_, "pick-box"));
    dragBox(before.min, before.max);
    QTRY_VERIFY_WITH_TIMEOUT(text("pick-found").contains(QStringLiteral("places of funnel picked")),
                             test::kPatience_ms);
    QCOMPARE(window_->bench().pickedPlaces().size(), size_t{13 * 18});
    auto* action = test::find<QComboBox>(*window_, "pick-action");
    QVERIFY(action != nullptr);
    action->setCurrentIndex(action->findData(QStringLiteral("bend_picked")));
    auto* axis = test::find<QComboBox>(*window_, "pick-axis");
    QVERIFY(axis != nullptr);
    axis->setCurrentText(QStringLiteral("x towards z"));
    auto* amount = test::find<QLineEdit>(*window_, "pick-amount");
    amount->setText(QStringLiteral("80"));
    QVERIFY(test::click(*window_, "pick-apply"));
    QVERIFY(test::settle(*window_));
    // It lay along the boat and now stands up; which of its ends stays is a value of the sentence.
    session().edit(QStringLiteral("End"), [&](mod::ModState& mod) {
      for (mod::StepDoc& one : mod.models["tug"].steps)
        if (one.kind == "bend_picked") one.values["fixed"] = "high";
    });
    QVERIFY(test::settle(*window_));
    const geometry::Bounds after = part("tug/funnel");
    QVERIFY(after.size().z > before.size().z + 1.0F);
    QVERIFY(std::abs(after.max.x - before.max.x) < 0.35F);
    QVERIFY2(std::none_of(session().prepared()->prepared.outcomes.begin(),
                          session().prepared()->prepared.outcomes.end(),
                          [](const prepare::StepOutcome& o) { return !o.misses.empty(); }),
             "a step misses something");
    session().undo();
    session().undo();
    QVERIFY(test::settle(*window_));
    QVERIFY(std::abs(part("tug/funnel").size().z - before.size().z) < 1e-4F);
  }

  void whatIsPickedIsPulledAlongAnAxisAndOneUndoTakesItBack() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    window_->bench().lookFrom(QStringLiteral("left"));
    const geometry::Bounds before = part("tug/funnel");
    QVERIFY(test::click(*window_, "part-tug/funnel"));
    QVERIFY(test::click(*window_, "pick-box"));
    dragBox(before.min, before.max);
    QTRY_VERIFY_WITH_TIMEOUT(!window_->bench().pickedPlaces().empty(), test::kPatience_ms);
    const size_t steps = session().state().models.at("tug").steps.size();
    app::Bench& bench = window_->bench();
    // Along z, which points up in this view: pressed on the arrow, pulled by forty pixels.
    const auto middle = bench.project(before.center());
    QVERIFY(middle.has_value());
    const QPoint from = middle->toPoint() - QPoint(0, 30);
    QTest::mousePress(&bench, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 8; ++i) {
      QTest::mouseMove(&bench, from - QPoint(0, 5 * i));
      QTest::qWait(5);
    }
    QTest::mouseRelease(&bench, Qt::LeftButton, {}, from - QPoint(0, 40));
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps + 1);
    const geometry::Bounds after = part("tug/funnel");
    QVERIFY(after.min.z > before.min.z + 0.2F);
    QVERIFY(std::abs(after.min.x - before.min.x) < 1e-3F);
    session().undo();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps);
  }

  void whatIsPickedIsStretchedAndTurnedByItsHandles() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    app::Bench& bench = window_->bench();
    bench.lookFrom(QStringLiteral("left"));
    const geometry::Bounds before = part("tug/funnel");
    const auto pickFunnel = [&] {
      if (!test::click(*window_, "pick-box")) return false;
      dragBox(before.min, before.max);
      return QTest::qWaitFor([&] { return !bench.pickedPlaces().empty(); }, test::kPatience_ms);
    };
    QVERIFY(test::click(*window_, "part-tug/funnel"));
    QVERIFY(pickFunnel());
    const size_t steps = session().state().models.at("tug").steps.size();
    auto* action = test::find<QComboBox>(*window_, "pick-action");
    const QPointF middle = bench.project(before.center()).value_or(QPointF());
    std::vector<QPointF> up;
    for (int i = 0; i <= 10; ++i) up.push_back(middle - QPointF(0, 30 + 4 * i));
    action->setCurrentIndex(action->findData(QStringLiteral("scale_picked")));
    dragAlong(up);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps + 1);
    const geometry::Bounds taller = part("tug/funnel");
    QVERIFY(taller.size().z > before.size().z * 1.2F);
    QVERIFY(std::abs(taller.size().x - before.size().x) < 1e-3F);
    session().undo();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps);
    // The ring about y faces the eye in this view: round by thirty degrees.
    QVERIFY(pickFunnel());
    action->setCurrentIndex(action->findData(QStringLiteral("turn_picked")));
    auto* axis = test::find<QComboBox>(*window_, "pick-axis");
    axis->setCurrentIndex(axis->findText(QStringLiteral("about y")));
    QVERIFY(axis->currentIndex() >= 0);
    const double r = 0.11 * bench.height();
    std::vector<QPointF> round;
    for (int degrees = 0; degrees <= 30; degrees += 3) {
      const double a = degrees * 3.14159265 / 180;
      round.push_back(middle + QPointF(r * std::cos(a), -r * std::sin(a)));
    }
    dragAlong(round);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps + 1);
    const mod::StepDoc& turned = *std::find_if(
        session().state().models.at("tug").steps.begin(), session().state().models.at("tug").steps.end(),
        [](const mod::StepDoc& step) { return step.kind == "turn_picked"; });
    QCOMPARE(turned.values["axis"].get<std::string>(), std::string("y"));
    const double by = std::abs(turned.values["degrees"].get<double>());
    QVERIFY2(by > 26 && by < 34, qPrintable(QString::number(by)));
    QCOMPARE(by, std::round(by));
    session().undo();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("tug").steps.size(), steps);
  }

  void theModelIsTurnedByQuartersOnARing() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    app::Bench& bench = window_->bench();
    bench.lookFrom(QStringLiteral("up"));
    const glm::vec3 size = scene::boundsOf(model()).size();
    QVERIFY(test::click(*window_, "turn-rings"));
    QCOMPARE(bench.tool(), app::Bench::Tool::turn_rings);
    // The ring about z lies flat before the eye: a good part of a quarter round, and it snaps.
    QCOMPARE(bench.rings().size(), size_t{3});
    const app::Bench::Ring ring = bench.rings()[2];
    std::vector<QPointF> round;
    for (int degrees = 40; degrees <= 110; degrees += 7) {
      const float a = glm::radians(static_cast<float>(degrees));
      const glm::vec3 place = ring.center + glm::vec3(std::cos(a), std::sin(a), 0) * ring.radius;
      round.push_back(bench.project(place).value_or(QPointF()));
      QVERIFY2(bench.rect().contains(round.back().toPoint()), "the ring is in reach");
    }
    dragAlong(round);
    QVERIFY(test::settle(*window_));
    QCOMPARE(bench.tool(), app::Bench::Tool::look_round);
    const auto& steps = session().state().models.at("tug").steps;
    const auto step =
        std::find_if(steps.begin(), steps.end(), [](const mod::StepDoc& s) { return s.kind == "rotate"; });
    QVERIFY(step != steps.end());
    QCOMPARE(step->values["about"].get<std::string>(), std::string("up"));
    QCOMPARE(step->values["degrees"].get<double>(), 90.0);
    const glm::vec3 now = scene::boundsOf(model()).size();
    QVERIFY(std::abs(now.x - size.y) < 1e-3F && std::abs(now.y - size.x) < 1e-3F);
    // Esc leaves the tool, and a click beside the rings turns nothing.
    QVERIFY(test::click(*window_, "turn-rings"));
    QTest::keyClick(&bench, Qt::Key_Escape);
    QCOMPARE(bench.tool(), app::Bench::Tool::look_round);
  }

  void whatItIsMadeOfIsSeenAtAGlance() {
    QVERIFY(at("slipway", "sea-coat"));
    QVERIFY(mend("sea-coat", "axes.differ"));
    // Regions have a tint each, in the bench and in the list; gone with the station.
    const auto& washes = window_->bench().washes();
    QTRY_VERIFY_WITH_TIMEOUT(washes.size() >= 4, test::kPatience_ms);
    std::set<QRgb> tints;
    for (const auto& [part_key, color] : washes) tints.insert(color.rgb());
    QVERIFY(tints.size() >= 4);
    window_->setStation(app::Station::surface);
    QVERIFY(window_->bench().washes().empty());
    window_->setStation(app::Station::shape);
    QVERIFY(!window_->bench().washes().empty());
    // Each part with its own picture.
    auto* trunk = window_->findChild<QPushButton*>(QStringLiteral("part-") +
                                                   QString::fromStdString(washes.begin()->first));
    QVERIFY(trunk != nullptr);
    const auto drawn = [&] {
      const QImage icon = trunk->icon().pixmap(20, 20).toImage();
      int solid = 0;
      for (int y = 0; y < icon.height(); ++y)
        for (int x = 0; x < icon.width(); ++x) solid += qAlpha(icon.pixel(x, y)) > 128 ? 1 : 0;
      return solid;
    };
    QTRY_VERIFY_WITH_TIMEOUT(drawn() > 20, test::kPatience_ms);
    auto* reach = test::find<QLineEdit>(*window_, "gauge-reach");
    QVERIFY(reach != nullptr && reach->isReadOnly());
    QVERIFY(reach->text().endsWith(QStringLiteral(" m")));
  }

  void theBlockIsMadeLinear() {
    QVERIFY(at("slipway", "quay-block"));
    QVERIFY(mend("quay-block", "axes.differ"));
    QVERIFY(found("quay-block", "mesh.shapeless"));
    QVERIFY(test::click(*window_, "fault-shapeless_vertices"));
    QVERIFY(test::click(*window_, "mend-shapeless_vertices"));
    QVERIFY(test::settle(*window_));
    QVERIFY(!found("quay-block", "mesh.shapeless"));
    QVERIFY(!found("quay-block", "mesh.unaligned"));
    QCOMPARE(scene::countsOf(model()).triangles, uint64_t{12});
    QVERIFY(!found("quay-block", "grid.size"));
  }

  void theCoatsRegionsSizesAndSeamsArePutRight() {
    QVERIFY(at("slipway", "sea-coat"));
    QVERIFY(mend("sea-coat", "axes.differ"));
    // A region that the game does not list is handed over.
    QVERIFY(found("sea-coat", "region.surplus"));
    QVERIFY(test::click(*window_, "hand-over-belly"));
    QVERIFY(choose("region-menu", QStringLiteral("to Trunk")));
    QVERIFY(!found("sea-coat", "region.surplus"));
    QVERIFY(found("sea-coat", "region.order"));
    QVERIFY(mend("sea-coat", "region.order"));
    QVERIFY(!found("sea-coat", "region.order"));
    // Its other size: the same mesh, in another order.
    QVERIFY(found("sea-coat", "variant.missing"));
    QVERIFY(test::click(*window_, "size-source-broad"));
    QVERIFY(choose("size-menu", QStringLiteral("sea-coat-broad")));
    QVERIFY(!found("sea-coat", "variant.missing"));
    QVERIFY(found("sea-coat", "variant.differs"));
    QVERIFY(text("size-state-broad").contains(QStringLiteral("another order")));
    QVERIFY(mend("sea-coat", "variant.differs"));
    QVERIFY2(!found("sea-coat", "variant.differs"), qPrintable(text("size-state-broad")));
    // Half way between the two sizes, in the bench.
    auto* slider = test::find<QSlider>(*window_, "size-slider");
    QVERIFY(slider != nullptr);
    const float slim = glm::dot(window_->bench().scene()->bounds_m.size(), glm::vec3(1, 0, 0));
    slider->setValue(100);
    QTRY_VERIFY_WITH_TIMEOUT(
        glm::dot(window_->bench().scene()->bounds_m.size(), glm::vec3(1, 0, 0)) > slim * 1.05F,
        test::kPatience_ms);
    slider->setValue(0);
    QTRY_VERIFY_WITH_TIMEOUT(window_->bench().scene() == session().scene(), test::kPatience_ms);
    // The neck and the wrists are closed.
    QVERIFY(found("sea-coat", "seam.gap"));
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QPushButton>(*window_, "close-seams") != nullptr, test::kPatience_ms);
    QVERIFY(test::click(*window_, "close-seams"));
    QVERIFY(test::settle(*window_));
    QVERIFY(!found("sea-coat", "seam.gap"));
    QVERIFY(!found("sea-coat", "variant.differs"));
  }

  void aRegionIsPaintedByPicking() {
    QVERIFY(at("slipway", "sea-coat"));
    QVERIFY(mend("sea-coat", "axes.differ"));
    window_->bench().lookFrom(QStringLiteral("forward"));
    QVERIFY(test::click(*window_, "part-sea_coat/skirts"));
    const geometry::Bounds skirts = part("sea_coat/skirts");
    QVERIFY(test::click(*window_, "pick-box"));
    dragBox({0, skirts.min.y, skirts.min.z}, {0, skirts.max.y, skirts.center().z + 0.02F}, 4);
    QTRY_VERIFY_WITH_TIMEOUT(!window_->bench().pickedPlaces().empty(), test::kPatience_ms);
    auto* action = test::find<QComboBox>(*window_, "pick-action");
    action->setCurrentIndex(action->findData(QStringLiteral("region_picked")));
    auto* region = test::find<QComboBox>(*window_, "pick-region");
    QVERIFY(region != nullptr);
    region->setCurrentIndex(region->findData(QStringLiteral("trunk")));
    const uint64_t before = scene::countsOf(model()).triangles;
    QVERIFY(test::click(*window_, "pick-apply"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(scene::countsOf(model()).triangles, before);
    const auto painted = scene::findPart(model(), "sea_coat/skirts/trunk");
    QVERIFY(painted.valid());
    QCOMPARE(model().node(painted).region, std::string("trunk"));
  }

  void stepsAreKeptAsAHabitAndCopiedToAnotherModel() {
    qputenv("XDG_DATA_HOME", (folder_->path() + QStringLiteral("/data")).toUtf8());
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    QVERIFY(mend("tug", "placement.not_baked"));
    const size_t steps = session().state().models.at("tug").steps.size();
    // To another model of the mod.
    QVERIFY(test::click(*window_, "all-steps"));
    QMenu* menu = nullptr;
    QTRY_VERIFY_WITH_TIMEOUT(
        (menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) != nullptr && menu->isVisible(),
        test::kPatience_ms);
    for (QAction* action : menu->actions()[0]->menu()->actions())
      if (action->text() == QStringLiteral("quay-block")) action->trigger();
    menu->close();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("quay-block").steps.size(), steps);
    QVERIFY(!found("quay-block", "axes.differ"));
    // As a habit, for the coat.
    QVERIFY(test::click(*window_, "all-steps"));
    QTRY_VERIFY_WITH_TIMEOUT(
        (menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) != nullptr && menu->isVisible(),
        test::kPatience_ms);
    menu->actions()[1]->trigger();
    menu->close();
    QWidget* popup = nullptr;
    QTRY_VERIFY_WITH_TIMEOUT((popup = QApplication::activePopupWidget()) != nullptr, test::kPatience_ms);
    auto* line = popup->findChild<QLineEdit*>();
    QVERIFY(line != nullptr);
    line->setText(QStringLiteral("From the shipyard"));
    QTest::keyClick(line, Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(told().contains(QStringLiteral("Kept as the habit")), test::kPatience_ms);
    session().select("sea-coat", "sea-coat");
    QVERIFY(test::settle(*window_));
    QVERIFY(test::click(*window_, "all-steps"));
    QTRY_VERIFY_WITH_TIMEOUT(
        (menu = window_->findChild<QMenu*>(QStringLiteral("all-steps-menu"))) != nullptr && menu->isVisible(),
        test::kPatience_ms);
    QCOMPARE(menu->actions()[2]->menu()->actions().size(), 1);
    menu->actions()[2]->menu()->actions()[0]->trigger();
    menu->close();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().models.at("sea-coat").steps.size(), steps);
    QVERIFY(!found("sea-coat", "axes.differ"));
  }

  void whatIsMeasuredStaysUntilItIsCleared() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    window_->bench().lookFrom(QStringLiteral("left"));
    app::Bench& bench = window_->bench();
    const auto seen = [&](glm::vec3 p) { return bench.project(p).value_or(QPointF()).toPoint(); };
    const geometry::Bounds house = part("tug/wheelhouse"), funnel = part("tug/funnel");
    QVERIFY(test::click(*window_, "measure"));
    QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(house.center()));
    QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(funnel.center()));
    QCOMPARE(bench.notes().size(), size_t{1});
    QVERIFY(test::click(*window_, "measure-angle"));
    for (const glm::vec3& p : {house.center(), funnel.center(), part("tug/hull").center()})
      QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(p));
    QCOMPARE(bench.notes().size(), size_t{2});
    QVERIFY(bench.notes()[1].text.endsWith(QChar(0xB0)));
    QVERIFY(test::click(*window_, "measure-gap"));
    QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(house.center()));
    QTest::mouseClick(&bench, Qt::LeftButton, {}, seen(funnel.center()));
    QTRY_COMPARE_WITH_TIMEOUT(bench.notes().size(), size_t{3}, test::kPatience_ms);
    // The wheelhouse begins 8.4 m from the keel's end, the funnel ends at 7.8 m: twice 0.3 m lie between.
    QCOMPARE(bench.notes()[2].text, QStringLiteral("60 cm"));
    QVERIFY(test::click(*window_, "clear-notes"));
    QVERIFY(bench.notes().empty());
  }

  void anotherThingStandsBehindTheModel() {
    QVERIFY(at("slipway", "sea-coat"));
    QVERIFY(mend("sea-coat", "axes.differ"));
    const QString own = QString::fromStdString(window_->bench().scene()->ghost_title);
    QVERIFY(test::click(*window_, "ghost-choice"));
    QMenu* menu = nullptr;
    QTRY_VERIFY_WITH_TIMEOUT(
        (menu = window_->findChild<QMenu*>(QStringLiteral("ghost-menu"))) != nullptr && menu->isVisible(),
        test::kPatience_ms);
    for (QAction* action : menu->actions()[1]->menu()->actions())
      if (action->text() == QStringLiteral("the keeper's body")) action->trigger();
    menu->close();
    QVERIFY(test::settle(*window_));
    QTRY_COMPARE_WITH_TIMEOUT(QString::fromStdString(window_->bench().scene()->ghost_title),
                              QStringLiteral("the keeper's body"), test::kPatience_ms);
    QVERIFY(window_->bench().scene()->ghost_extents_m.has_value());
    // What differs between the two is listed beside it.
    QCOMPARE(text("beside"), QStringLiteral("Beside the keeper's body"));
    const auto said = [&] {
      for (QLabel* label : window_->findChildren<QLabel*>())
        if (label->isVisible() && label->text().contains(QStringLiteral("belly_band"))) return true;
      return false;
    };
    if (auto* more = test::find<QPushButton>(*window_, "beside-more"); more != nullptr)
      QVERIFY(test::click(*window_, "beside-more"));
    QTRY_VERIFY_WITH_TIMEOUT(said(), test::kPatience_ms);
    QTest::qWait(50);
    for (const QLabel* label : window_->findChildren<QLabel*>())
      if (label->isVisible() && label->wordWrap() && !label->text().isEmpty())
        QVERIFY2(label->height() + 1 >= label->heightForWidth(label->width()), qPrintable(label->text()));
    // The column is as wide as what it is seen through: nothing long pushes it over the edge.
    for (QWidget* around = test::find<QLabel>(*window_, "structure-facts"); around != nullptr;
         around = around->parentWidget())
      if (const auto* area = qobject_cast<QScrollArea*>(around))
        QVERIFY2(area->widget()->width() <= area->viewport()->width(),
                 qPrintable(QString::number(area->widget()->width())));
    session().setGhost({app::GhostChoice::Sort::model, "quay-block"});
    QTRY_COMPARE_WITH_TIMEOUT(QString::fromStdString(window_->bench().scene()->ghost_title),
                              QStringLiteral("quay-block"), test::kPatience_ms);
    // A file of one's own, turned to the game's axes; one that cannot be read leaves nothing.
    const auto file = session().folder() / "sources/tug/tug.glb";
    session().setGhost({app::GhostChoice::Sort::file, file.string()});
    QTRY_VERIFY_WITH_TIMEOUT(window_->bench().scene()->ghost_title == "tug.glb", test::kPatience_ms);
    QVERIFY(window_->bench().scene()->ghost_extents_m->x > 15);
    session().setGhost({app::GhostChoice::Sort::file, "/nowhere/x.glb"});
    QTRY_VERIFY_WITH_TIMEOUT(window_->bench().scene()->ghost.empty(), test::kPatience_ms);
    session().setGhost({});
    QTRY_COMPARE_WITH_TIMEOUT(QString::fromStdString(window_->bench().scene()->ghost_title), own,
                              test::kPatience_ms);
  }

  // Its maker has made the tug anew: longer, with a finer funnel, and put it elsewhere.
  void aHeightIsTakenFromWhatStandsBehind() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QPushButton>(*window_, "beside-height") != nullptr,
                             test::kPatience_ms);
    const float wanted = session().scene()->ghost_extents_m->z;
    QVERIFY(test::click(*window_, "beside-height"));
    QVERIFY(test::settle(*window_));
    QVERIFY(std::abs(scene::boundsOf(model()).size().z - wanted) < 1e-3F);
    // There is nothing left to take.
    QTRY_VERIFY_WITH_TIMEOUT(window_->findChild<QPushButton*>(QStringLiteral("beside-height")) == nullptr,
                             test::kPatience_ms);
  }

  void aNewerSourceGoesThroughEverythingAgain() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    QVERIFY(test::click(*window_, "keep-one-tug/screw_1"));
    QVERIFY(test::settle(*window_));
    window_->bench().lookFrom(QStringLiteral("left"));
    const geometry::Bounds flat = part("tug/funnel");
    QVERIFY(test::click(*window_, "part-tug/funnel"));
    QVERIFY(test::click(*window_, "pick-box"));
    dragBox(flat.min, flat.max);
    QTRY_VERIFY_WITH_TIMEOUT(!window_->bench().pickedPlaces().empty(), test::kPatience_ms);
    auto* action = test::find<QComboBox>(*window_, "pick-action");
    action->setCurrentIndex(action->findData(QStringLiteral("bend_picked")));
    test::find<QComboBox>(*window_, "pick-axis")->setCurrentText(QStringLiteral("x towards z"));
    test::find<QLineEdit>(*window_, "pick-amount")->setText(QStringLiteral("80"));
    QVERIFY(test::click(*window_, "pick-apply"));
    QVERIFY(test::settle(*window_));
    const float bent = part("tug/funnel").size().z;
    QVERIFY(bent > flat.size().z + 1.0F);

    auto read = formats::readModelFile(session().folder() / "sources/tug/tug.glb");
    QVERIFY(read.ok());
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
    QVERIFY(base::writeFileAtomic(file, formats::writeGlb(newer)).ok());
    const auto version = prepare::readNewer(session().folder(), session().state(), "tug", {file, {}});
    QVERIFY(version.ok());
    QVERIFY2(version->misfits.empty(), "a step would no longer fit");
    const auto doc = prepare::copyNewer(session().folder(), session().state(), *version);
    QVERIFY(doc.ok());
    session().edit(QStringLiteral("Take"),
                   [&](mod::ModState& mod) { prepare::takeNewer(mod, *version, *doc, {}); });
    QVERIFY(test::settle(*window_));
    for (const prepare::StepOutcome& outcome : session().prepared()->prepared.outcomes)
      QVERIFY2(outcome.misses.empty(), outcome.misses.empty() ? "" : outcome.misses[0].c_str());
    QVERIFY(!found("tug", "step.misses"));
    QVERIFY(std::abs(part("tug/funnel").size().z - bent) < 0.01F);
    QVERIFY(std::abs(part("tug/funnel").min.z - flat.min.z - 0.4F) < 0.05F);
    QCOMPARE(scene::countsOf(model()).parts, uint64_t{4});
    // One undo brings the old one back.
    session().undo();
    QVERIFY(test::settle(*window_));
    QVERIFY(std::abs(part("tug/funnel").min.z - flat.min.z) < 0.05F);
  }

  void whatAStationDrawsIsSeenOnlyThere() {
    QVERIFY(at("slipway", "sea-coat"));
    QVERIFY(mend("sea-coat", "axes.differ"));
    QVERIFY(window_->bench().names().size() >= 6);
    QVERIFY(window_->bench().lines().size() >= 6);
    window_->setStation(app::Station::surface);
    QVERIFY(window_->bench().names().empty());
    QVERIFY(window_->bench().lines().empty());
    session().edit(QStringLiteral("Scale"),
                   [](mod::ModState& mod) { prepare::scaleBy(mod.models["sea-coat"], 1.01); });
    QVERIFY(test::settle(*window_));
    QVERIFY(window_->bench().names().empty());
    window_->setStation(app::Station::shape);
    QVERIFY(!window_->bench().names().empty());
    // Another model has its own: a block its cells.
    session().select("quay-block", "quay-block");
    QVERIFY(test::settle(*window_));
    QVERIFY(mend("quay-block", "axes.differ"));
    QVERIFY(window_->bench().names().empty());
    QCOMPARE(window_->bench().lines().size(), size_t{12});
    QVERIFY(window_->bench().lines()[0].good);
    session().edit(QStringLiteral("Scale"),
                   [](mod::ModState& mod) { prepare::scaleBy(mod.models["quay-block"], 1.2); });
    QVERIFY(test::settle(*window_));
    QVERIFY(!window_->bench().lines()[0].good);
    // A whole factor, from the menu.
    session().undo();
    QVERIFY(test::settle(*window_));
    QVERIFY(test::click(*window_, "whole-factor"));
    QVERIFY(choose("", QStringLiteral("2 times as large")));
    QVERIFY(std::abs(prepare::gameExtents(model(), session().book()).z - 1) < 1e-4F);
    QVERIFY(!found("quay-block", "grid.size"));
    QVERIFY(window_->bench().lines()[0].good);
  }

  void everyCorrectionIsAddedByItsNumbersAndWrongOnesAreSaid() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    const geometry::Bounds funnel = part("tug/funnel");
    QVERIFY(test::find<QPushButton>(*window_, "pick-apply") == nullptr);
    // Without a chosen part, what is drawn round decides; a loose piece is clicked.
    window_->bench().lookFrom(QStringLiteral("left"));
    QVERIFY(test::click(*window_, "pick-piece"));
    app::Bench& bench = window_->bench();
    QTest::mouseClick(&bench, Qt::LeftButton, {}, bench.project(funnel.center()).value().toPoint());
    QTRY_VERIFY_WITH_TIMEOUT(text("pick-found").contains(QStringLiteral("234 places of funnel")),
                             test::kPatience_ms);
    auto* action = test::find<QComboBox>(*window_, "pick-action");
    auto* amount = test::find<QLineEdit>(*window_, "pick-amount");
    QVERIFY(action != nullptr && amount != nullptr);
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
      QVERIFY(apply(step, typed));
      QCOMPARE(session().state().models.at("tug").steps.size(), before);
      QVERIFY2(!text("pick-found").contains(QStringLiteral("picked")), qPrintable(text("pick-found")));
    }
    for (const auto& [step, typed] :
         std::initializer_list<std::pair<const char*, const char*>>{{"turn_picked", "10"},
                                                                    {"scale_picked", "1, 1.1, 1.1"},
                                                                    {"snap_picked", "5"},
                                                                    {"flatten_picked", ""}}) {
      QVERIFY2(apply(step, typed), step);
      const auto& steps = session().state().models.at("tug").steps;
      QVERIFY2(std::any_of(steps.begin(), steps.end(),
                           [&, s = step](const mod::StepDoc& one) { return one.kind == s; }),
               step);
      QTRY_VERIFY_WITH_TIMEOUT(!window_->bench().pickedPlaces().empty(), test::kPatience_ms);
    }
    QCOMPARE(session().state().models.at("tug").steps.size(), before + 4);
    for (const prepare::StepOutcome& outcome : session().prepared()->prepared.outcomes)
      QVERIFY2(outcome.misses.empty(), outcome.misses.empty() ? "" : outcome.misses[0].c_str());
    QVERIFY(part("tug/funnel").size().z < 1e-4F || part("tug/funnel").size().x < 1e-4F);
    // Let go: nothing is marked any more.
    QVERIFY(test::click(*window_, "pick-forget"));
    QVERIFY(bench.pickedPlaces().empty());
  }

  void whatAStepPicksIsShownFromItsSentence() {
    QVERIFY(at("slipway", "tug"));
    QVERIFY(mend("tug", "axes.differ"));
    QVERIFY(mend("tug", "placement.not_baked"));
    session().edit(QStringLiteral("Pick"), [&](mod::ModState& mod) {
      prepare::Selection whole;
      whole.part = "tug/funnel";
      prepare::addPickedStep(mod.models["tug"], session().prepared()->prepared, "move_picked",
                             base::Json{{"by", {0, 0, 1}}}, whole);
      prepare::setOrAddStep(mod.models["tug"], "origin", base::Json{{"to", "floor"}});
    });
    QVERIFY(test::settle(*window_));
    const auto& steps = session().state().models.at("tug").steps;
    const auto step = std::find_if(steps.begin(), steps.end(),
                                   [](const mod::StepDoc& one) { return one.kind == "move_picked"; });
    QVERIFY(step != steps.end());
    auto* sentence = test::find<QLabel>(*window_, ("sentence-" + step->id).c_str());
    QVERIFY(sentence != nullptr);
    Q_EMIT sentence->linkActivated(QStringLiteral("pick"));
    QTRY_COMPARE_WITH_TIMEOUT(window_->bench().marks().size(), size_t{13 * 18}, test::kPatience_ms);
    // Where they were picked, as far as the model has been moved since.
    const geometry::Bounds now = part("tug/funnel");
    geometry::Bounds marked;
    for (const glm::vec3& mark : window_->bench().marks()) marked.add(mark);
    QVERIFY(glm::distance(marked.size(), now.size()) < 1e-3F);
    // A part that an earlier step takes away (drops come before what is picked): it says so.
    const std::string id = step->id;
    session().edit(QStringLiteral("Drop"),
                   [](mod::ModState& mod) { prepare::dropParts(mod.models["tug"], {"tug/funnel"}); });
    QVERIFY(test::settle(*window_));
    sentence = test::find<QLabel>(*window_, ("sentence-" + id).c_str());
    QVERIFY(sentence != nullptr);
    Q_EMIT sentence->linkActivated(QStringLiteral("pick"));
    QTRY_VERIFY_WITH_TIMEOUT(told().contains(QStringLiteral("not in the model any more")),
                             test::kPatience_ms);
  }
};

int main(int argc, char** argv) { return test::runTests<SlipwayWindowTest>(argc, argv); }

#include "slipway_window_test.moc"
