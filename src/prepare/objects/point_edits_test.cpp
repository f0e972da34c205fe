#include "prepare/objects/point_edits.h"

#include <gmock/gmock.h>

#include <random>

namespace rakugo::prepare {
namespace {

using testing::ElementsAre;
const glm::vec3 kLeft(0, 1, 0);

mod::ModelDoc lamps() {
  mod::ModelDoc out;
  placePoint(out, "port", {{1, 0.5, 2}, {0, 0, 0.70710678118654757, 0.70710678118654757}}, kLeft);
  return out;
}

TEST(PointEdits, APairIsPlacedByTheFirstAndFollowsBoth) {
  mod::ModelDoc doc = lamps();
  ASSERT_TRUE(pairPoints(doc, "port", "starboard", kLeft));
  const mod::PointDoc* made = findPoint(doc, "starboard");
  ASSERT_NE(made, nullptr);
  EXPECT_THAT(made->position_m, ElementsAre(1, -0.5, 2));
  EXPECT_NEAR(made->turn[2], -0.70710678118654757, 1e-12) << "a turn about up goes the other way";
  placePoint(doc, "starboard", {{3, -1, 0}}, kLeft);
  EXPECT_THAT(findPoint(doc, "port")->position_m, ElementsAre(3, 1, 0));
  ASSERT_TRUE(pairPoints(doc, "port", "", kLeft));
  placePoint(doc, "port", {{9, 9, 9}}, kLeft);
  EXPECT_THAT(findPoint(doc, "starboard")->position_m, ElementsAre(3, -1, 0)) << "it stands alone";
}

TEST(PointEdits, PairsStayPairsThroughRandomEdits) {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> any(-3, 3);
  const std::array<std::string, 4> ids = {"a", "b", "c", "d"};
  const auto id = [&] { return ids[random() % ids.size()]; };
  mod::ModelDoc doc;
  for (const std::string& one : ids) placePoint(doc, one, {{any(random), any(random), any(random)}}, kLeft);
  for (int i = 0; i < 4000; ++i) {
    const std::string one = id(), other = id();
    switch (random() % 4) {
      case 0:
        EXPECT_EQ(bool(pairPoints(doc, one, other, kLeft)), findPoint(doc, one) != nullptr && one != other);
        break;
      case 1:
        EXPECT_TRUE(removePoint(doc, one)) << one;
        placePoint(doc, one, {{any(random), 0, 0}}, kLeft);
        break;
      default: {
        const glm::dquat turn = glm::normalize(glm::dquat(any(random), any(random), any(random), 1));
        placePoint(doc, one, {{any(random), any(random), any(random)}, {turn.x, turn.y, turn.z, turn.w}},
                   kLeft);
      }
    }
    for (const mod::PointDoc& point : doc.points) {
      if (point.pair.empty()) continue;
      const mod::PointDoc* pair = findPoint(doc, point.pair);
      ASSERT_NE(pair, nullptr);
      EXPECT_EQ(pair->pair, point.id);
      EXPECT_LT(offMirror(placeOf(point), placeOf(*pair), kLeft), 0);
    }
  }
}

TEST(PointEdits, WhatIsUnknownOfAPointSurvivesThatItIsMoved) {
  mod::ModelDoc doc = lamps();
  doc.points[0].more = base::Json{{"later", 7}};
  ASSERT_TRUE(pairPoints(doc, "port", "starboard", kLeft));
  putPoints(doc, {{"port", {0.12345F, 0.25F, 0}}}, kLeft);
  EXPECT_EQ(doc.points[0].more, (base::Json{{"later", 7}}));
  EXPECT_THAT(doc.points[0].position_m, ElementsAre(0.123, 0.25, 0)) << "to a millimetre";
  EXPECT_THAT(findPoint(doc, "starboard")->position_m, ElementsAre(0.123, -0.25, 0));
}

TEST(PointEdits, OneThatIsGoneLeavesItsPairAlone) {
  mod::ModelDoc doc = lamps();
  ASSERT_TRUE(pairPoints(doc, "port", "starboard", kLeft));
  ASSERT_TRUE(removePoint(doc, "port"));
  EXPECT_EQ(findPoint(doc, "port"), nullptr);
  EXPECT_EQ(findPoint(doc, "starboard")->pair, "");
  EXPECT_EQ(removePoint(doc, "port").error().code, "point.unknown");
  EXPECT_EQ(pairPoints(doc, "port", "x", kLeft).error().code, "point.unknown");
  EXPECT_EQ(pairPoints(doc, "starboard", "starboard", kLeft).error().code, "point.pair");
}

TEST(PointEdits, OfSeveralTheLowestFreeNumberComesNext) {
  rulebook::Point lamp, eye;
  lamp.id = "lamp";
  lamp.most = 3;
  eye.id = "eye";
  mod::ModelDoc doc;
  EXPECT_EQ(freePointId(doc, eye), "eye");
  placePoint(doc, "eye", {}, kLeft);
  EXPECT_EQ(freePointId(doc, eye), "");
  placePoint(doc, "lamp-2", {}, kLeft);
  EXPECT_EQ(freePointId(doc, lamp), "lamp-1");
  placePoint(doc, "lamp-1", {}, kLeft);
  EXPECT_EQ(freePointId(doc, lamp), "lamp-3");
  placePoint(doc, "lamp", {}, kLeft);
  EXPECT_EQ(freePointId(doc, lamp), "") << "the plain one counts too";
  rulebook::Kind kind;
  kind.points = {lamp, eye};
  kind.points[0].title = "Lamp";
  EXPECT_EQ(pointTitle(&kind, "lamp-2"), "Lamp 2");
  EXPECT_EQ(pointTitle(&kind, "other"), "other");
  EXPECT_EQ(pointTitle(nullptr, "lamp"), "lamp");
}

}  // namespace
}  // namespace rakugo::prepare
