// The Objects station: attachment points by click, by number and by hand, in pairs, with what hangs there;
// saved and opened again.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QPushButton>

#include "app/stations/objects/pieces_panel.h"
#include "app/widgets/row_list.h"
#include "prepare/objects/point_edits.h"
#include "window_fixture.h"

namespace rakugo {

class PointsWindowTest : public test::WindowFixture {
 protected:
  bool openObject(const char* mod, const std::string& model, const std::string& object) {
    if (!open(test::copyOfMod(*folder_, mod))) return false;
    session().select(model, object);
    window_->setStation(app::Station::objects);
    return test::settle(*window_);
  }
  const mod::PointDoc* point(const std::string& model, const std::string& id) {
    return prepare::findPoint(session().state().models.at(model), id);
  }
  mod::ModelDoc saved(const std::string& model) {
    session().save();
    EXPECT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
    return std::as_const(mod::loadMod(session().folder())->models).at(model);
  }
  void choose(const char* combo, const QString& starts) {
    auto* box = test::find<QComboBox>(*window_, combo);
    ASSERT_NE(box, nullptr);
    const int at = box->findText(starts, Qt::MatchStartsWith);
    ASSERT_GE(at, 0) << test::s8(starts);
    box->setCurrentIndex(at);
    Q_EMIT box->activated(at);
    ASSERT_TRUE(test::settle(*window_));
  }
};

TEST_F(PointsWindowTest, APointIsPlacedTurnedMirroredAndTakenOut) {
  ASSERT_TRUE(openObject("tidewater", "dinghy", "dinghy"));
  ASSERT_TRUE(test::click(*window_, "place-nav-port"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_NE(point("dinghy", "nav-port"), nullptr);
  EXPECT_EQ(window_->bench().chosenPoint(), "nav-port");
  test::find<QDoubleSpinBox>(*window_, "point-at-side")->setValue(0.6);
  test::find<QDoubleSpinBox>(*window_, "point-turn-up")->setValue(40);
  ASSERT_TRUE(test::settle(*window_));
  choose("point-pair", QStringLiteral("a pair with Starboard lamp"));
  const mod::PointDoc* other = point("dinghy", "nav-starboard");
  ASSERT_NE(other, nullptr) << "it was not placed: the mirror image places it";
  EXPECT_NEAR(other->position_m[1], -0.6, 1e-9);
  // What is done to one is done to the other, in one undo.
  test::find<QDoubleSpinBox>(*window_, "point-at-up")->setValue(0.9);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(point("dinghy", "nav-starboard")->position_m[2], 0.9, 1e-9);
  EXPECT_NEAR(point("dinghy", "nav-starboard")->turn[2], -point("dinghy", "nav-port")->turn[2], 1e-12);
  test::look(*window_, "points-pair");
  const mod::ModelDoc on_disk = saved("dinghy");
  EXPECT_EQ(on_disk.points, session().state().models.at("dinghy").points);
  ASSERT_TRUE(open(QString::fromStdString(session().folder().string())));
  session().select("dinghy", "dinghy");
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(point("dinghy", "nav-port")->pair, "nav-starboard");
  ASSERT_TRUE(test::click(*window_, "remove-point-dinghy/nav-port"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(point("dinghy", "nav-port"), nullptr);
  EXPECT_EQ(point("dinghy", "nav-starboard")->pair, "");
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(point("dinghy", "nav-port")->pair, "nav-starboard");
}

TEST_F(PointsWindowTest, APointIsClickedDraggedTurnedAndPutInTheBench) {
  ASSERT_TRUE(openObject("tidewater", "dinghy", "dinghy"));
  if (!window_->bench().works()) GTEST_SKIP() << "no OpenGL";
  app::Bench& bench = window_->bench();
  const mod::PointDoc* helm = point("dinghy", "helm");
  ASSERT_NE(helm, nullptr);
  const auto placeOf = [&](const mod::PointDoc& p) {
    return glm::vec3(p.position_m[0], p.position_m[1], p.position_m[2]);
  };
  const auto at = bench.project(placeOf(*helm));
  ASSERT_TRUE(at);
  QTest::mouseClick(&bench, Qt::LeftButton, {}, at->toPoint());
  EXPECT_EQ(bench.chosenPoint(), "helm");
  ASSERT_TRUE(bench.handle()) << "its arrows";
  EXPECT_LT(glm::distance(bench.handle()->at, placeOf(*helm)), 1e-4F);
  const auto before = helm->position_m;
  Q_EMIT bench.pickedDragged({0.25F, 0, 0}, false);
  EXPECT_EQ(point("dinghy", "helm")->position_m, before) << "a drag that is not done is seen only";
  Q_EMIT bench.pickedDragged({0.25F, 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(point("dinghy", "helm")->position_m[0], before[0] + 0.25, 1e-3);
  ASSERT_TRUE(test::click(*window_, "turn-point"));
  EXPECT_EQ(bench.handle()->sort, app::Bench::Handle::turn);
  Q_EMIT bench.pickedDragged({30, 0, 0}, true);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NEAR(point("dinghy", "helm")->turn[2], std::sin(glm::radians(15.0)), 1e-6);
  // On the surface, by a click.
  ASSERT_TRUE(test::click(*window_, "put-point"));
  EXPECT_TRUE(bench.clicksPlace());
  std::optional<app::BenchHit> hit;
  QPoint where;
  for (int y = 80; y < bench.height() && !hit; y += 20)
    for (int x = 80; x < bench.width() && !hit; x += 20)
      if ((hit = bench.under(QPointF(x, y)))) where = {x, y};
  ASSERT_TRUE(hit);
  QTest::mouseClick(&bench, Qt::LeftButton, {}, where);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_LT(glm::distance(placeOf(*point("dinghy", "helm")), hit->position), 2e-3F);
  EXPECT_FALSE(bench.clicksPlace());
  // A piece that is chosen has the handle from then on.
  window_->findChild<app::PiecesPanel*>()->choose(session().state().objects.at("dinghy").pieces.front().name);
  EXPECT_EQ(bench.chosenPoint(), "");
}

TEST_F(PointsWindowTest, WhatHangsThereIsSeenAndIsNoPartOfTheMod) {
  ASSERT_TRUE(openObject("tidewater", "lantern", "lantern"));
  ASSERT_TRUE(test::click(*window_, "at-lantern/grip"));
  ASSERT_TRUE(test::settle(*window_));
  const mod::ModState before = session().state();
  EXPECT_TRUE(session().scene()->hung.empty());
  choose("point-hangs", QStringLiteral("the harbour keeper"));
  ASSERT_EQ(session().scene()->hung.size(), 1U);
  // The lantern's grip is at its origin, so that the keeper's hand lies there.
  const glm::mat4& place = session().scene()->hung[0].place;
  const auto& bones = session().book().skeletons.front();
  const auto& hand = bones.findBone("hand.starboard")->at_m;
  EXPECT_LT(glm::distance(glm::vec3(place * glm::vec4(hand[0], hand[1], hand[2], 1)), glm::vec3(0)), 0.12F);
  test::look(*window_, "points-held");
  EXPECT_EQ(session().state().models.at("lantern"), before.models.at("lantern"));
  EXPECT_FALSE(session().history().dirty());
  // The helmsman at the helm, by the eyes.
  session().select("dinghy", "dinghy");
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "at-dinghy/helm"));
  choose("point-hangs", QStringLiteral("the harbour keeper"));
  ASSERT_EQ(session().scene()->hung.size(), 1U);
  EXPECT_LT(session().scene()->hung[0].place[3].z, point("dinghy", "helm")->position_m[2] - 1.0)
      << "who looks from there stands lower";
  test::look(*window_, "points-helmsman");
  choose("point-hangs", QStringLiteral("nothing"));
  EXPECT_TRUE(session().scene()->hung.empty());
}

TEST_F(PointsWindowTest, AFindingLeadsToThePoint) {
  ASSERT_TRUE(openObject("tidewater", "dinghy", "dinghy"));
  session().edit(QStringLiteral("break"),
                 [](mod::ModState& mod) { mod.models.change("dinghy")->points.front().pair = "nowhere"; });
  ASSERT_TRUE(test::settle(*window_));
  const std::string id = session().state().models.at("dinghy").points.front().id;
  ASSERT_TRUE(test::click(*window_, "show-point.pair"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(window_->bench().chosenPoint(), id);
}

}  // namespace rakugo
