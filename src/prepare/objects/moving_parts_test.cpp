// Parts that turn or swing: what they move, where they stand, and that pairs are mirror images in motion too.
#include "prepare/objects/moving_parts.h"
#include "prepare/objects/piece_parts.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <glm/gtc/constants.hpp>
#include <random>

#include "prepare/parts/pieces.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

const glm::vec3 kSide(0, 1, 0);

void addBox(scene::Model& model, const char* name, glm::vec3 at, glm::vec3 half, int parent = -1) {
  auto mesh = std::make_shared<scene::Mesh>();
  scene::Primitive& p = mesh->primitives.emplace_back();
  for (int i = 0; i < 8; ++i)
    p.positions.emplace_back((i & 1) != 0 ? half.x : -half.x, (i & 2) != 0 ? half.y : -half.y,
                             (i & 4) != 0 ? half.z : -half.z);
  p.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6};
  const scene::NodeIndex node(model.nodes.size());
  model.nodes.emplace_back();
  model.nodes.back().name = model.nodes.back().key = name;
  model.nodes.back().local.position = at;
  if (parent >= 0) model.nodes.back().parent = scene::NodeIndex(static_cast<size_t>(parent));
  model.nodes.back().mesh = scene::MeshIndex(model.meshes.size());
  model.meshes.push_back(mesh);
  if (parent < 0)
    model.roots.push_back(node);
  else
    model.nodes[static_cast<size_t>(parent)].children.push_back(node);
}

// A cart with a wheel, thin to the side, and a hub that hangs on it.
scene::Model cart() {
  scene::Model model;
  addBox(model, "body", {0, 0, 0.6F}, {1, 0.5F, 0.2F});
  addBox(model, "wheel", {0.7F, 0.6F, 0.3F}, {0.3F, 0.05F, 0.3F});
  addBox(model, "hub", {0, 0.1F, 0}, {0.05F, 0.02F, 0.05F}, 1);
  return model;
}

class MovingParts : public testing::Test {
 protected:
  MovingParts() {
    object_.kind = "craft";
    object_.pieces.push_back({"cart", "cart", {1, 2, 0}, {0, 0, 0.38268343, 0.92387953}});
    name_ = addRuledPiece(object_, *book_.findKind("craft"), "turning-part").value();
    EXPECT_TRUE(setParent(object_, name_, "cart", kSide));
  }
  const mod::PieceDoc& piece() { return *findPiece(object_, name_); }
  Moved moved() { return movedBy(object_, piece(), models_); }

  const rulebook::Rulebook& book_ = test::book();
  const scene::Model cart_ = cart();
  ModelOf models_ = [this](const std::string& name) { return name == "cart" ? &cart_ : nullptr; };
  mod::ObjectDoc object_;
  std::string name_;
};

TEST_F(MovingParts, MoveAPartWithAllBelowItAndWhatHangsOnThem) {
  EXPECT_TRUE(moved().empty());
  ASSERT_TRUE(setPieceValue(object_, name_, "part", "wheel"));
  ASSERT_EQ(moved().parts.size(), 1U);
  EXPECT_EQ(moved().parts[0].first, 0U);
  EXPECT_THAT(moved().parts[0].second, testing::ElementsAre(scene::NodeIndex(1), scene::NodeIndex(2)));
  object_.pieces.push_back({"flag", "cart", {0, 0, 2}, {0, 0, 0, 1}});
  ASSERT_TRUE(setParent(object_, "flag", name_, kSide));
  EXPECT_THAT(moved().pieces, testing::ElementsAre(2U));
  EXPECT_THAT(partsForPiece(object_, piece(), models_), testing::ElementsAre("body", "wheel", "hub"));
  ASSERT_TRUE(setPieceValue(object_, name_, "part", "no such part"));
  EXPECT_TRUE(moved().parts.empty());
}

// The wheel's middle is at (0.7, 0.6, 0.3) of the cart; its hub makes it reach out by 0.07 more to the left.
TEST_F(MovingParts, AreCentredOnWhatTheyMoveWithTheAxisOfAWheel) {
  ASSERT_TRUE(setPieceValue(object_, name_, "part", "wheel"));
  object_.pieces.push_back({"flag", "cart", {0, 0, 2}, {0, 0, 0, 1}});
  ASSERT_TRUE(setParent(object_, "flag", name_, kSide));
  ASSERT_TRUE(setParent(object_, "flag", {}, kSide));
  const PiecePlace flag = objectPlace(object_, *findPiece(object_, "flag"));
  ASSERT_TRUE(centerMoving(object_, name_, book_, models_));
  const geometry::Bounds box = movedBox(object_, piece(), models_);
  EXPECT_LT(glm::length(box.min + box.max), 2e-5F) << "its middle is where it turns";
  // Turned by 45 degrees about up, the wheel's thin side is no axis of the game: forward and side are alike,
  // and the side is taken.
  const PiecePlace place = objectPlace(object_, piece());
  const glm::dvec3 axis =
      glm::dquat(place.turn[3], place.turn[0], place.turn[1], place.turn[2]) * glm::dvec3(1, 0, 0);
  EXPECT_LT(glm::distance(axis, glm::dvec3(0, 1, 0)), 1e-6);
  EXPECT_EQ(objectPlace(object_, *findPiece(object_, "flag")), flag);
  object_.pieces[0].turn = {0, 0, 0, 1};
  ASSERT_TRUE(centerMoving(object_, name_, book_, models_));
  const PiecePlace level = objectPlace(object_, piece());
  EXPECT_NEAR(level.position_m[0], 1.7, 1e-5);
  EXPECT_NEAR(level.position_m[1], 2 + (0.55 + 0.72) / 2, 1e-5);
  EXPECT_NEAR(level.position_m[2], 0.3, 1e-5);
}

TEST_F(MovingParts, WhatTheyCarryStaysWhereItIsWhenTheyAreCentred) {
  object_.pieces.push_back({"sail", "cart", {3, 1, 2}, {0, 0, 0, 1}});
  ASSERT_TRUE(setParent(object_, "sail", name_, kSide));
  const PiecePlace before = objectPlace(object_, *findPiece(object_, "sail"));
  ASSERT_TRUE(centerMoving(object_, name_, book_, models_));
  const PiecePlace after = objectPlace(object_, *findPiece(object_, "sail"));
  for (size_t i = 0; i < 3; ++i) EXPECT_NEAR(after.position_m[i], before.position_m[i], 1e-5);
  EXPECT_NE(objectPlace(object_, piece()), PiecePlace());
  ASSERT_TRUE(removePiece(object_, "sail"));
  EXPECT_EQ(centerMoving(object_, name_, book_, models_).error().code, "piece.moves_nothing");
  EXPECT_EQ(centerMoving(object_, "none", book_, models_).error().code, "piece.unknown");
}

// Where a point is that a moving piece carries round, after so many seconds.
glm::dvec3 carried(const mod::ObjectDoc& object, const mod::PieceDoc& piece, const rulebook::Rulebook& book,
                   glm::dvec3 point, float seconds) {
  const PiecePlace place = objectPlace(object, piece);
  const glm::dquat turn(place.turn[3], place.turn[0], place.turn[1], place.turn[2]);
  const glm::dvec3 at(place.position_m[0], place.position_m[1], place.position_m[2]);
  const double angle =
      static_cast<double>(movedAngle(movingValues(piece, fieldsOfPiece(book, object, piece)), seconds));
  return at + glm::angleAxis(angle, glm::normalize(turn * glm::dvec3(1, 0, 0))) * (point - at);
}

TEST_F(MovingParts, PairsAreMirrorImagesAtEveryMoment) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> any(-1, 1);
  for (const char* which : {"turning-part", "rudder"}) {
    mod::ObjectDoc object;
    object.kind = "craft";
    const std::string one = addRuledPiece(object, *book_.findKind("craft"), which).value();
    const std::string two = addMirrorImage(object, one, kSide).value();
    for (int i = 0; i < 60; ++i) {
      const glm::dquat turn = glm::normalize(glm::dquat(any(random), any(random), any(random), any(random)));
      ASSERT_TRUE(placePiece(object, i % 2 == 0 ? one : two,
                             {{any(random), any(random), any(random)}, {turn.x, turn.y, turn.z, turn.w}},
                             kSide));
      ASSERT_TRUE(setPieceValue(object, i % 3 == 0 ? one : two, "rate", any(random)));
      ASSERT_TRUE(setPieceValue(object, i % 3 == 1 ? one : two, "span_deg",
                                base::Json::array({-20 + 10 * any(random), 20 + 10 * any(random)})));
      const glm::dvec3 point(any(random), any(random), any(random)), image(point.x, -point.y, point.z);
      const auto seconds = static_cast<float>(std::abs(any(random)));
      const glm::dvec3 here = carried(object, *findPiece(object, one), book_, point, seconds),
                       there = carried(object, *findPiece(object, two), book_, image, seconds);
      EXPECT_LT(glm::distance(there, glm::dvec3(here.x, -here.y, here.z)), 1e-4) << which << " " << i;
    }
  }
}

TEST(MovedAngle, GoesRoundOrToAndFroThroughItsSpan) {
  MovingValues says;
  says.moves = "turns";
  says.rate = 0.5F;
  EXPECT_NEAR(movedAngle(says, 0.5F), glm::half_pi<float>(), 1e-6F);
  EXPECT_NEAR(movedAngle(says, 2.5F), glm::half_pi<float>(), 1e-5F) << "a whole turn later";
  says.moves = "swings";
  says.span_deg = {-10, 50};
  EXPECT_NEAR(movedAngle(says, 0), glm::radians(20.0F), 1e-6F);
  EXPECT_NEAR(movedAngle(says, 0.5F), glm::radians(50.0F), 1e-6F);
  EXPECT_NEAR(movedAngle(says, 1.5F), glm::radians(-10.0F), 1e-6F);
  says.rate = std::numeric_limits<float>::infinity();
  EXPECT_EQ(movedAngle(says, 1), 0);
}

}  // namespace
}  // namespace rakugo::prepare
