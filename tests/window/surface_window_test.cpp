// The Surface station: roles that are likely, and the picture sheet beside the bench.
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QFloat16>
#include <QStyleOptionComboBox>
#include <set>

#include "app/stations/surface/picture_sheet.h"
#include "prepare/edit_steps.h"
#include "support/made_pictures.h"
#include "window_fixture.h"

namespace rakugo {

class SurfaceWindowTest : public test::WindowFixture {
 protected:
  bool openAt(const char* mod) {
    if (!open(test::copyOfMod(*folder_, mod))) return false;
    window_->setStation(app::Station::surface);
    return test::settle(*window_);
  }
  app::PictureSheet& sheet() { return *window_->findChild<app::PictureSheet*>(); }
  app::SheetCanvas& canvas() { return sheet().canvas(); }
  bool showSheet() {
    return test::click(*window_, "sheet-beside") &&
           QTest::qWaitFor([&] { return canvas().map() != nullptr; }, test::kPatience_ms);
  }
  std::map<std::string, std::string> rolesOnDisk(const std::string& model) {
    std::map<std::string, std::string> out;
    const auto state = mod::loadMod(session().folder());
    for (const mod::StepDoc& step : state->models.at(model).steps)
      if (step.kind == "role") out[step.values["material"]] = step.values["role"];
    return out;
  }
};

TEST_F(SurfaceWindowTest, LikelyRolesSayWhyAreGivenWhenAskedAndSaved) {
  ASSERT_TRUE(openAt("first-lamp"));
  const std::string model = session().model();
  ASSERT_TRUE(rolesOnDisk(model).empty()) << "nothing is given by itself";
  std::set<std::string> likely;
  for (const auto* button : window_->findChildren<QPushButton*>())
    if (button->isVisible() && button->objectName().startsWith(QStringLiteral("give-role-")))
      likely.insert(test::s8(button->objectName().mid(10)));
  ASSERT_FALSE(likely.empty());
  bool reasons = false;
  for (const auto* label : window_->findChildren<QLabel*>())
    reasons = reasons || (label->isVisible() && label->text().contains(QStringLiteral("its name says")));
  EXPECT_TRUE(reasons);
  if (likely.size() > 1)
    ASSERT_TRUE(test::click(*window_, "give-likely"));
  else
    ASSERT_TRUE(test::click(*window_, ("give-role-" + *likely.begin()).c_str()));
  ASSERT_TRUE(test::settle(*window_));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  const auto roles = rolesOnDisk(model);
  for (const std::string& material : likely) EXPECT_EQ(roles.count(material), 1U) << material;
  // One edit, one undo.
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(session().state().models.at(model).steps.empty());
}

TEST_F(SurfaceWindowTest, TheSheetShowsPicturesChannelsLevelsAndACheckerAndIsRemembered) {
  ASSERT_TRUE(openAt("lamplight"));
  EXPECT_FALSE(sheet().isVisible());
  ASSERT_TRUE(showSheet());
  EXPECT_FALSE(canvas().map()->triangles.empty());
  EXPECT_LE(window_->width(), 1280) << "there is room for it";
  for (const char* name : {"sheet-material", "sheet-slot", "sheet-channel", "sheet-level"}) {
    const auto* combo = test::find<QComboBox>(*window_, name);
    QStyleOptionComboBox option;
    option.initFrom(combo);
    const QRect room =
        combo->style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, combo);
    EXPECT_GE(room.width(), combo->fontMetrics().horizontalAdvance(combo->currentText()))
        << name << ": " << test::s8(combo->currentText());
  }
  EXPECT_GT(canvas().map()->islands, 0U);
  const QImage all = canvas().image();
  ASSERT_FALSE(all.isNull());
  // One channel alone is grey, and the picture's own values.
  auto* channels = test::find<QComboBox>(*window_, "sheet-channel");
  channels->setCurrentIndex(2);
  ASSERT_EQ(canvas().image().format(), QImage::Format_Grayscale8);
  for (int i = 0; i < 20; ++i) {
    const QPoint at(i * all.width() / 20, (i * 7 % 20) * all.height() / 20);
    ASSERT_EQ(qGreen(all.pixel(at)), qGray(canvas().image().pixel(at)));
  }
  channels->setCurrentIndex(0);
  auto* levels = test::find<QComboBox>(*window_, "sheet-level");
  ASSERT_GT(levels->count(), 3);
  levels->setCurrentIndex(1);
  EXPECT_EQ(canvas().image().width(), all.width() / 2);
  levels->setCurrentIndex(0);
  auto* checker = test::find<QCheckBox>(*window_, "sheet-checker");
  checker->setChecked(true);
  EXPECT_NE(canvas().image(), all);
  checker->setChecked(false);
  EXPECT_EQ(canvas().image(), all);
  test::look(*window_, "surface-sheet");
  // It goes with the station, and comes back with it.
  window_->setStation(app::Station::shape);
  EXPECT_FALSE(sheet().isVisible());
  window_->setStation(app::Station::surface);
  EXPECT_TRUE(sheet().isVisible());
  end();
  begin();
  ASSERT_TRUE(openAt("lamplight"));
  EXPECT_TRUE(sheet().isVisible()) << "as it was left";
  ASSERT_TRUE(test::click(*window_, "sheet-beside"));
  EXPECT_FALSE(sheet().isVisible());
}

TEST_F(SurfaceWindowTest, WhatIsPickedInTheSheetIsShownInTheBenchAndTheOtherWayRound) {
  ASSERT_TRUE(openAt("lamplight"));
  ASSERT_TRUE(showSheet());
  const app::SheetTriangle& one = canvas().map()->triangles.front();
  const QPointF at = canvas().shownAt((one.uv[0] + one.uv[1] + one.uv[2]) / 3.0F);
  ASSERT_TRUE(QRectF(canvas().rect()).contains(at));
  QTest::mouseClick(&canvas(), Qt::LeftButton, {}, at.toPoint());
  ASSERT_TRUE(canvas().chosen());
  // By keys too: what lies in the middle.
  QTest::keyClick(&canvas(), Qt::Key_0);
  QTest::keyClick(&canvas(), Qt::Key_Return);
  if (!app::Bench::platformHasOpenGl()) return;
  app::Bench& bench = *window_->findChild<app::Bench*>();
  // A click on the model chooses its triangle, whichever material wears it.
  std::set<std::string> met;
  for (int i = 0; i < 400 && met.size() < 3; ++i) {
    // All over the bench, a little at a time.
    const QPoint place(bench.width() * (i % 20 + 1) / 21, bench.height() * (i / 20 + 1) / 21);
    const auto hit = bench.under(place);
    if (!hit) continue;
    QTest::mouseClick(&bench, Qt::LeftButton, {}, place);
    ASSERT_TRUE(QTest::qWaitFor([&] { return canvas().map() && canvas().chosen(); }, test::kPatience_ms));
    const app::SheetTriangle& chosen = canvas().map()->triangles[*canvas().chosen()];
    EXPECT_EQ(chosen.part, hit->part);
    EXPECT_EQ(chosen.vertices, hit->vertices);
    met.insert(sheet().material());
  }
  EXPECT_GT(met.size(), 1U) << "the sheet followed to other materials";
}

TEST_F(SurfaceWindowTest, ZoomMoveAndFitGoByWheelDragAndKeys) {
  ASSERT_TRUE(openAt("lamplight"));
  ASSERT_TRUE(showSheet());
  const double whole = canvas().pixelsAPicture();
  const QPointF about = canvas().rect().center() + QPointF(30, 20);
  const glm::vec2 there = canvas().placeAt(about);
  QWheelEvent wheel(about, canvas().mapToGlobal(about.toPoint()), {}, {0, 240}, Qt::NoButton, {},
                    Qt::NoScrollPhase, false);
  QApplication::sendEvent(&canvas(), &wheel);
  EXPECT_GT(canvas().pixelsAPicture(), whole * 1.2);
  EXPECT_NEAR(canvas().placeAt(about).x, there.x, 1e-4);
  EXPECT_NEAR(canvas().placeAt(about).y, there.y, 1e-4);
  const QPointF before = canvas().shownAt({0, 0});
  QTest::mousePress(&canvas(), Qt::LeftButton, {}, {40, 40});
  QTest::mouseMove(&canvas(), {70, 52});
  QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, {70, 52});
  EXPECT_NEAR(canvas().shownAt({0, 0}).x() - before.x(), 30, 1);
  EXPECT_FALSE(canvas().chosen()) << "a drag picks nothing";
  QTest::keyClick(&canvas(), Qt::Key_0);
  EXPECT_NEAR(canvas().pixelsAPicture(), whole, 1e-6);
  QTest::keyClick(&canvas(), Qt::Key_Plus);
  QTest::keyClick(&canvas(), Qt::Key_Minus);
  EXPECT_NEAR(canvas().pixelsAPicture(), whole, whole * 0.01);
}

TEST_F(SurfaceWindowTest, MaterialsThatCanBeOneAreMergedByAButtonAndTheOthersSayWhy) {
  ASSERT_TRUE(openAt("slipway"));
  session().selectModel("tug");
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return !window_->findChildren<QPushButton*>(QStringLiteral("merge-0")).isEmpty(); },
      test::kPatience_ms))
      << "the tug has materials that can be one";
  const size_t before = scene::usedMaterials(*session().prepared()->prepared.model).size();
  ASSERT_TRUE(test::click(*window_, "merge-0"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_LT(scene::usedMaterials(*session().prepared()->prepared.model).size(), before);
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  const auto again = mod::loadMod(session().folder());
  EXPECT_EQ(again->models.at("tug").steps.back().kind, "atlas");
  test::look(*window_, "surface-merged");
}

TEST_F(SurfaceWindowTest, AnotherToneIsTriedInTheBenchAndChangesNoMod) {
  ASSERT_TRUE(openAt("lamplight"));
  auto& bench = *window_->findChild<app::Bench*>();
  bench.setLook(app::Bench::Look::in_game);
  QTest::qWait(50);
  const QImage before = app::Bench::platformHasOpenGl() ? bench.grabFramebuffer() : QImage();
  QTimer::singleShot(300, window_.get(), [] {
    if (auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget())) {
      dialog->setCurrentColor(QColor(250, 20, 200));
      dialog->accept();
    }
  });
  ASSERT_TRUE(test::click(*window_, "tone-paint"));
  ASSERT_EQ(bench.tones().count("paint"), 1U);
  EXPECT_FALSE(session().history().dirty());
  QTest::qWait(50);
  if (app::Bench::platformHasOpenGl()) EXPECT_NE(bench.grabFramebuffer(), before);
  // It stays when the scene is another one, and goes when asked.
  session().edit(QStringLiteral("Turn"), [&](mod::ModState& state) {
    prepare::setOrAddStep(state.models.front(), "scale", {{"factor", 1.5}});
  });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(bench.tones().count("paint"), 1U);
  ASSERT_TRUE(test::click(*window_, "own-tone-paint"));
  EXPECT_TRUE(bench.tones().empty());
  if (!app::Bench::platformHasOpenGl()) return;
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  QTest::qWait(50);
  EXPECT_EQ(bench.grabFramebuffer(), before);
}

TEST_F(SurfaceWindowTest, AModelWithoutMaterialsAndOneThatGoesAreNoTrouble) {
  ASSERT_TRUE(openAt("lamplight"));
  ASSERT_TRUE(showSheet());
  // The model goes, and comes back by undo.
  const std::string model = session().model();
  session().edit(QStringLiteral("Remove"), [&](mod::ModState& state) {
    state.objects.clear();
    state.models.erase(model);
  });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(canvas().map(), nullptr);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(QTest::qWaitFor([&] { return canvas().map() != nullptr; }, test::kPatience_ms));
}

}  // namespace rakugo
