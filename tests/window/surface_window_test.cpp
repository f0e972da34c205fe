// The Surface station: roles that are likely, and the picture sheet beside the bench.
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QFloat16>
#include <QLabel>
#include <QLineF>
#include <QPainter>
#include <QPushButton>
#include <QSlider>
#include <QStyleOptionComboBox>
#include <set>

#include "app/stations/surface/density_scale.h"
#include "app/stations/surface/material_card.h"
#include "app/stations/surface/picture_sheet.h"
#include "app/widgets/row_list.h"
#include "formats/gltf/gltf.h"
#include "mod/take_source.h"
#include "packing/package.h"
#include "prepare/edit_steps.h"
#include "support/made_pictures.h"
#include "support/many_pictures.h"
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
    return (sheet().isVisible() || test::click(*window_, "sheet-beside")) &&
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

TEST_F(SurfaceWindowTest, ALargeMapIsDrawnBesideAndIsTheSameWhenItIsThere) {
  auto map = std::make_shared<app::SheetMap>();
  constexpr int kCells = 60;
  for (int i = 0; i < kCells * kCells; ++i) {
    const glm::vec2 a(static_cast<float>(i % kCells) / kCells, static_cast<float>(i / kCells) / kCells);
    const float d = 0.8F / kCells;
    const auto fault = static_cast<app::SheetFault>(i % 5);
    map->triangles.push_back({{a, a + glm::vec2(d, 0), a + glm::vec2(d)}, {0, 1, 2}, 0, fault});
    map->triangles.push_back({{a, a + glm::vec2(d), a + glm::vec2(0, d)}, {0, 2, 3}, 0, fault});
    map->inner.emplace_back(a, a + glm::vec2(d));
    map->borders.emplace_back(a, a + glm::vec2(d, 0));
  }
  app::SheetCanvas canvas;
  canvas.resize(400, 300);
  canvas.setMap(map);
  canvas.show();
  const auto settled = [&] { return canvas.drawn(); };
  ASSERT_TRUE(QTest::qWaitFor(settled, test::kPatience_ms));
  const QImage before = canvas.grab().toImage();
  QTest::keyClick(&canvas, Qt::Key_Plus);
  QTest::keyClick(&canvas, Qt::Key_Right);
  EXPECT_FALSE(canvas.drawn());
  ASSERT_TRUE(QTest::qWaitFor(settled, test::kPatience_ms));
  const QImage after = canvas.grab().toImage();
  EXPECT_NE(before, after);
  // The same as when it is drawn at once, but for the frame of the keyboard.
  QImage direct(after.size(), QImage::Format_ARGB32_Premultiplied);
  direct.fill(app::theme().wash);
  QPainter painter(&direct);
  painter.fillRect(QRectF(canvas.shownAt({0, 0}), canvas.shownAt({1, 1})), app::theme().sheet);
  const QPointF corner = canvas.shownAt({0, 0});
  app::drawSheetMap(painter, *map,
                    {canvas.size(), corner, canvas.shownAt({1, 0}).x() - corner.x(), true, true, false, 1},
                    app::theme());
  painter.end();
  int differing = 0, count = 0;
  for (int y = 20; y < 130; ++y)
    for (int x = 20; x < 380; ++x, ++count) {
      const QColor a = after.pixelColor(x, y), b = direct.pixelColor(x, y);
      differing += std::abs(a.red() - b.red()) + std::abs(a.blue() - b.blue()) > 24 ? 1 : 0;
    }
  EXPECT_LT(differing, count / 100);
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
  // What it would bring is said before.
  const auto* brings = test::find<QLabel>(*window_, "merge-brings-0");
  ASSERT_NE(brings, nullptr);
  EXPECT_TRUE(brings->text().contains(QStringLiteral("Materials: %1, then ").arg(before)))
      << test::s8(brings->text());
  EXPECT_TRUE(brings->text().contains(QStringLiteral("draws: ")));
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

TEST_F(SurfaceWindowTest, WhatGoesOnInTheGameIsTriedBySwitchesOfTheRulebook) {
  ASSERT_TRUE(openAt("lamplight"));
  auto& bench = *window_->findChild<app::Bench*>();
  const auto seen = [&] {
    QTest::qWait(60);
    return app::Bench::platformHasOpenGl() ? bench.grabFramebuffer() : QImage();
  };
  bench.setLook(app::Bench::Look::in_game);
  QImage before = seen();
  bench.setLook(app::Bench::Look::drawing);
  for (const char* name : {"look-rain", "look-salt", "look-by-night"}) {
    auto* button = test::find<QPushButton>(*window_, name);
    ASSERT_FALSE(button->isChecked()) << name;
    ASSERT_TRUE(test::click(*window_, name));
    EXPECT_TRUE(button->isChecked());
    EXPECT_EQ(bench.look(), app::Bench::Look::in_game) << "it is seen at once";
    EXPECT_TRUE(test::find<QPushButton>(*window_, "look-game")->isChecked()) << "and the bench's bar says so";
    const QImage after = seen();
    if (app::Bench::platformHasOpenGl()) EXPECT_NE(after, before) << name;
    before = after;
  }
  EXPECT_TRUE(bench.night());
  EXPECT_EQ(bench.switches(), (std::set<std::string>{"rain", "salt"}));
  // An icon that is taken meanwhile shows the mod as it is.
  const auto icon = [&] { return bench.takePicture(QSize(96, 96), QColor(Qt::transparent)); };
  const QImage tried = icon();
  for (const char* id : {"rain", "salt"}) bench.setSwitch(id, false);
  EXPECT_EQ(icon(), tried);
  for (const char* id : {"rain", "salt"}) bench.setSwitch(id, true);
  test::look(*window_, "surface-rain-night");
  EXPECT_FALSE(session().history().dirty()) << "a view only";
  // It holds for the next scene, and the bar's own button tells the panel.
  session().edit(QStringLiteral("Turn"), [&](mod::ModState& state) {
    prepare::setOrAddStep(state.models.front(), "scale", {{"factor", 1.5}});
  });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(bench.switches().size(), 2U);
  ASSERT_TRUE(test::click(*window_, "night"));
  EXPECT_FALSE(test::find<QPushButton>(*window_, "look-by-night")->isChecked());
  for (const char* name : {"look-rain", "look-salt"}) ASSERT_TRUE(test::click(*window_, name));
  EXPECT_TRUE(bench.switches().empty());
  // While a scene of fewer materials waits to be drawn for the first time.
  bench.setScene(std::make_shared<const app::BenchScene>());
  bench.setSwitch("rain", true);
  EXPECT_EQ(bench.switches().size(), 1U);
  bench.setSwitch("rain", false);
}

TEST_F(SurfaceWindowTest, PaintIsChosenFromTheGamesPalette) {
  ASSERT_TRUE(openAt("lamplight"));
  auto& bench = *window_->findChild<app::Bench*>();
  const auto chosen = [&](const char* name) {
    const auto* button = test::find<QPushButton>(*window_, name);  // made anew with the card
    return button != nullptr && button->isChecked();
  };
  ASSERT_TRUE(test::click(*window_, "tone-paint-mustard"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return chosen("tone-paint-mustard"); }, test::kPatience_ms));
  EXPECT_EQ(bench.tones().at("paint"), glm::vec3(0.8F, 0.6F, 0.2F));
  test::look(*window_, "surface-palette");
  ASSERT_TRUE(test::click(*window_, "tone-paint-chalk"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return chosen("tone-paint-chalk"); }, test::kPatience_ms));
  EXPECT_FALSE(chosen("tone-paint-mustard"));
  // Nothing is wider than the column.
  for (const auto* card : window_->findChildren<QFrame*>())
    if (card->isVisible() && card->objectName().startsWith(QStringLiteral("material-"))) {
      EXPECT_LE(card->mapTo(window_.get(), QPoint(card->width(), 0)).x(), window_->width());
    }
  ASSERT_TRUE(test::click(*window_, "tone-paint-chalk"));
  EXPECT_TRUE(bench.tones().empty()) << "pressed again it goes";
  EXPECT_FALSE(session().history().dirty());
}

TEST_F(SurfaceWindowTest, ThePictureIsSeenAsATargetStoresItBesideTheOriginal) {
  ASSERT_TRUE(openAt("lamplight"));
  ASSERT_TRUE(showSheet());
  auto* targets = test::find<QComboBox>(*window_, "sheet-target");
  ASSERT_EQ(targets->count(), 4) << "as it is, and three targets";
  auto* divider = window_->findChild<QSlider*>(QStringLiteral("stored-divider"));
  EXPECT_FALSE(divider->isVisible());
  const auto choose = [&](int at) {
    targets->setCurrentIndex(at);
    Q_EMIT targets->activated(at);
    return QTest::qWaitFor([&] { return sheet().stored() && sheet().stored()->stored; }, test::kPatience_ms);
  };
  ASSERT_TRUE(choose(1));
  const auto desktop = sheet().stored();
  EXPECT_EQ(desktop->format, bundle::PixelFormat::bc1);
  EXPECT_EQ(canvas().storedImage().size(), canvas().image().size());
  EXPECT_NE(canvas().storedImage(), canvas().image()) << "something is lost";
  EXPECT_GT(desktop->quality.psnr_db, 25);
  EXPECT_LT(desktop->quality.psnr_db, 60);
  const auto* said = test::find<QLabel>(*window_, "stored-said");
  EXPECT_TRUE(said->text().contains(QStringLiteral("BC1"))) << test::s8(said->text());
  EXPECT_TRUE(said->text().contains(QStringLiteral("dB")));
  // The line is moved by keys; left of it lies the original.
  ASSERT_TRUE(divider->isVisible());
  EXPECT_GT(divider->width(), 150);
  const auto picture = [&] {
    QTest::qWait(30);
    return canvas().grab().toImage();
  };
  divider->setValue(0);
  const QImage stored = picture();
  divider->setFocus();
  QTest::keyClick(divider, Qt::Key_End);
  EXPECT_EQ(divider->value(), 100);
  EXPECT_NE(picture(), stored);
  divider->setValue(50);
  ASSERT_TRUE(test::click(*window_, "stored-worst"));
  const QPointF worst = canvas().shownAt(
      {(static_cast<float>(desktop->quality.worst_x) + 4) / static_cast<float>(desktop->plain->width),
       (static_cast<float>(desktop->quality.worst_y) + 4) / static_cast<float>(desktop->plain->height)});
  EXPECT_LT(QLineF(worst, QRectF(canvas().rect()).center()).length(), 3) << "it lies in the middle";
  test::look(*window_, "surface-stored");
  // The web keeps every value, at a quarter of the side.
  ASSERT_TRUE(choose(3));
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return sheet().stored() && sheet().stored() != desktop; }, test::kPatience_ms));
  EXPECT_EQ(sheet().stored()->quality.psnr_db, texture::PictureQuality::kExact);
  EXPECT_EQ(sheet().stored()->plain->width, 256U);
  EXPECT_FALSE(test::find<QPushButton>(*window_, "stored-worst")->isEnabled());
  targets->setCurrentIndex(0);
  Q_EMIT targets->activated(0);
  EXPECT_TRUE(canvas().storedImage().isNull());
  ASSERT_TRUE(test::click(*window_, "sheet-beside"));  // as the next one finds it
}

TEST_F(SurfaceWindowTest, AMaterialSaysWhatItsPicturesCostForEachTarget) {
  ASSERT_TRUE(openAt("lamplight"));
  bool told = false;
  for (const auto* label : window_->findChildren<QLabel*>())
    told = told || (label->isVisible() && label->text().contains(QStringLiteral("Desktop")) &&
                    label->text().contains(QStringLiteral("Mobile")) &&
                    label->text().contains(QStringLiteral("Web")));
  EXPECT_TRUE(told);
}

TEST_F(SurfaceWindowTest, TheTargetThatIsChosenIsBuiltAndRemembered) {
  ASSERT_TRUE(openAt("lamplight"));
  window_->setStation(app::Station::bundle);
  auto* targets = test::find<QComboBox>(*window_, "build-target");
  ASSERT_EQ(targets->count(), 3);
  EXPECT_EQ(session().target(), "desktop");
  targets->setCurrentIndex(1);
  Q_EMIT targets->activated(1);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().target(), "mobile");
  session().build();
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return std::filesystem::exists(session().output()) && !session().working(); },
                      test::kPatience_ms));
  EXPECT_TRUE(session().output().string().ends_with("-mobile.rkb"));
  EXPECT_EQ(packing::lookInto(session().output())->manifest.target, "mobile");
  test::look(*window_, "bundle-target");
  end();
  begin();
  ASSERT_TRUE(openAt("lamplight"));
  EXPECT_EQ(session().target(), "mobile");
  session().setTarget("desktop");
  ASSERT_TRUE(test::settle(*window_));
}

TEST_F(SurfaceWindowTest, SeveralMaterialsAreGivenARoleMadePlainAndMergedTogether) {
  ASSERT_TRUE(openAt("slipway"));
  session().select("tug", session().object());
  ASSERT_TRUE(test::settle(*window_));
  const scene::Model& model = *session().prepared()->prepared.model;
  std::vector<std::string> keys;
  for (const scene::MaterialIndex m : scene::usedMaterials(model))
    keys.push_back(model.materials[m.value()].key);
  ASSERT_GE(keys.size(), 3U);
  EXPECT_EQ(window_->findChild<QWidget*>(QStringLiteral("together")), nullptr);
  for (size_t i = 0; i < 2; ++i) ASSERT_TRUE(test::click(*window_, ("together-" + keys[i]).c_str()));
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QComboBox>(*window_, "together-role") != nullptr; },
                              test::kPatience_ms));
  auto* roles = test::find<QComboBox>(*window_, "together-role");
  const QString role = roles->itemData(roles->count() - 1).toString();
  roles->setCurrentIndex(roles->count() - 1);
  Q_EMIT roles->activated(roles->count() - 1);
  ASSERT_TRUE(test::settle(*window_));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  for (size_t i = 0; i < 2; ++i) EXPECT_EQ(rolesOnDisk("tug")[keys[i]], test::s8(role)) << keys[i];
  test::look(*window_, "surface-together");
  // One edit, one undo; they stay chosen.
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "together-plain"));
  ASSERT_TRUE(test::settle(*window_));
  size_t plain = 0;
  for (const mod::StepDoc& step : session().state().models.at("tug").steps)
    plain += step.kind == "plain_material" ? 1 : 0;
  EXPECT_EQ(plain, 2U);
  ASSERT_TRUE(test::click(*window_, "together-none"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return test::find<QComboBox>(*window_, "together-role") == nullptr; },
                              test::kPatience_ms));
}

TEST_F(SurfaceWindowTest, ManyMaterialsAreAListWithOneOpen) {
  const std::filesystem::path mod = folder_->path().toStdString() + "/bales";
  auto made = mod::newMod(mod, "Bales", "kelpwick", "1.2");
  ASSERT_TRUE(made.ok());
  mod::ModState next = *made;
  const auto source =
      mod::takeSource(mod, next, "bales.glb", formats::writeGlb(test::manyPictures(20, 16)), {});
  ASSERT_TRUE(source.ok() && mod::newModel(next, "bales", *source).ok());
  ASSERT_TRUE(mod::newObject(next, "bales", "fitting", {"bales"}).ok() &&
              mod::saveMod(mod, next, *made).ok());
  ASSERT_TRUE(open(QString::fromStdString(mod.string())));
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(test::settle(*window_));
  auto* list = test::find<app::RowList>(*window_, "materials-list");
  ASSERT_TRUE(list != nullptr && list->isVisible());
  EXPECT_EQ(list->rows().rows().size(), 20U);
  EXPECT_EQ(window_->findChildren<app::MaterialCard*>().size(), 1);
  test::look(*window_, "surface-many");
  ASSERT_TRUE(test::click(*window_, "material-row-cloth_14"));
  ASSERT_NE(window_->findChild<QComboBox*>(QStringLiteral("role-cloth_14")), nullptr);
  EXPECT_EQ(window_->findChildren<app::MaterialCard*>().size(), 1);
  // By keys: one row down, and it is open.
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Down);
  QTest::keyClick(list, Qt::Key_Return);
  QTest::qWait(20);
  auto* roles = window_->findChild<QComboBox*>(QStringLiteral("role-cloth_15"));
  ASSERT_NE(roles, nullptr);
  roles->setCurrentIndex(1);
  const QString role = roles->currentData().toString();
  Q_EMIT roles->activated(1);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(window_->findChild<QComboBox*>(QStringLiteral("role-cloth_15")), nullptr) << "it stays open";
  for (const char* one : {"together-cloth_3", "together-cloth_5"}) ASSERT_TRUE(test::click(*window_, one));
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QComboBox>(*window_, "together-role") != nullptr; },
                              test::kPatience_ms));
  session().save();
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
  EXPECT_EQ(rolesOnDisk("bales")["cloth_15"], test::s8(role));
  test::look(*window_, "surface-many-after");
}

TEST_F(SurfaceWindowTest, ACardSaysHowTheGamePacksItsPictures) {
  ASSERT_TRUE(openAt("footstool"));
  QStringList said;
  for (const QLabel* label : window_->findChildren<QLabel*>())
    if (label->isVisible() && label->text().contains(QStringLiteral("Properties"))) said << label->text();
  ASSERT_EQ(said.size(), 3) << "one a material";
  EXPECT_TRUE(
      said[0]
          .remove(QChar(0x200B))
          .contains(QStringLiteral("The game reads it from Properties: red: metal, green: occlusion")))
      << test::s8(said[0]);
  test::look(*window_, "surface-packed");
}

TEST_F(SurfaceWindowTest, TexelDensityIsAScaleOverTheBench) {
  ASSERT_TRUE(openAt("lamplight"));
  ASSERT_TRUE(test::click(*window_, "density-shown"));
  auto* scale = window_->findChild<app::DensityScale*>();
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return scale->isVisible() && !scale->marks().empty(); }, test::kPatience_ms));
  auto& bench = *window_->findChild<app::Bench*>();
  EXPECT_FALSE(bench.washes().empty());
  EXPECT_TRUE(QRect(QPoint(), bench.size()).contains(scale->geometry()));
  const auto& band = session().prepared()->kind->texels_per_m;
  ASSERT_TRUE(band);
  for (const auto& mark : scale->marks())
    EXPECT_EQ(mark.side == app::DensityScale::Side::within,
              mark.texels_per_m >= band->min && mark.texels_per_m <= band->max);
  test::look(*window_, "surface-density");
  // A mark chooses its material.
  const auto& mark = scale->marks().back();
  QTest::mouseClick(scale, Qt::LeftButton, {}, scale->placeOf(mark).toPoint());
  bool near = false;  // marks may lie on each other
  for (const auto& other : scale->marks())
    near = near || (other.material == sheet().material() &&
                    std::abs(scale->placeOf(other).x() - scale->placeOf(mark).x()) < 10);
  EXPECT_TRUE(near) << sheet().material();
  // It goes with the station, and comes back with it.
  window_->setStation(app::Station::shape);
  EXPECT_FALSE(scale->isVisible());
  EXPECT_TRUE(bench.washes().empty());
  window_->setStation(app::Station::surface);
  ASSERT_TRUE(QTest::qWaitFor([&] { return scale->isVisible(); }, test::kPatience_ms));
  // Closed while it is shown, and open again.
  end();
  begin();
  ASSERT_TRUE(openAt("lamplight"));
  EXPECT_FALSE(window_->findChild<app::DensityScale*>()->isVisible());
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
