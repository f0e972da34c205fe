// Collision shapes: fitted to models wherever they stand, and measured against what is known on paper.
#include "prepare/objects/collision_shapes.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <random>

#include "geometry/mass.h"
#include "prepare/objects/object_body.h"
#include "prepare/objects/piece_values.h"
#include "prepare/parts/pieces.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

const glm::vec3 kSide(0, 1, 0);

// A box 2 x 1 x 0.5 m, its corner at the origin, in a part that is turned.
scene::Model crate() {
  scene::Model model;
  auto mesh = std::make_shared<scene::Mesh>();
  scene::Primitive& p = mesh->primitives.emplace_back();
  for (int i = 0; i < 8; ++i)
    p.positions.emplace_back((i & 1) != 0 ? 2 : 0, (i & 2) != 0 ? 1 : 0, (i & 4) != 0 ? 0.5F : 0);
  p.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
               2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
  model.meshes.push_back(mesh);
  scene::Node& node = model.nodes.emplace_back();
  node.name = node.key = "crate";
  node.mesh = scene::MeshIndex(0);
  node.local.turn = glm::angleAxis(0.4F, glm::vec3(0, 0, 1));
  model.roots.push_back(scene::NodeIndex(0));
  return model;
}

class CollisionShapes : public testing::Test {
 protected:
  CollisionShapes() {
    object_.kind = "fitting";
    object_.pieces.push_back({"crate", "crate", {1, 2, 3}, {0, 0, 0.38268343, 0.92387953}});
    shape_ = addRuledPiece(object_, *book_.findKind("fitting"), "fitting-body").value();
  }
  void form(const char* form) { EXPECT_TRUE(setPieceValue(object_, shape_, "form", form)); }
  const mod::PieceDoc& piece() { return *findPiece(object_, shape_); }
  ShapeValues says() { return shapeValues(piece(), fieldsOfPiece(book_, object_, piece())); }
  ShapeMesh under() { return modelUnderShape(book_, object_, piece(), models_); }
  ShapeMesh mesh() { return shapeMesh(says(), under(), gameAxes(book_)); }

  const rulebook::Rulebook& book_ = test::book();
  scene::Model crate_ = crate();
  ModelOf models_ = [this](const std::string& name) { return name == "crate" ? &crate_ : nullptr; };
  mod::ObjectDoc object_;
  std::string shape_;
};

TEST_F(CollisionShapes, HangOnTheModelAndAHullFollowsIt) {
  EXPECT_EQ(piece().parent, "crate");
  const ShapeMesh hull = mesh();
  EXPECT_EQ(hull.corners.size(), 8U);
  EXPECT_NEAR(geometry::massOf(hull.corners, hull.triangles).volume, 1, 1e-5);
  const ShapeOff off = shapeOff(hull, under(), true);
  EXPECT_LT(off.short_m, 1e-5);
  EXPECT_LT(off.beyond_m, 1e-5);
  // Wherever the crate goes: the hull hangs on it.
  ASSERT_TRUE(placePiece(object_, "crate", {{9, 9, 9}, {0, 0, 0, 1}}, kSide));
  EXPECT_EQ(mesh().corners, hull.corners);
}

TEST_F(CollisionShapes, OfChosenPartsHoldsThoseAndAllBelowThemAlone) {
  scene::Model& model = crate_;
  // A lid of 0.2 m above the crate, and a handle on the lid.
  const auto add = [&](const char* key, scene::NodeIndex parent, float up) {
    scene::Node& node = model.nodes.emplace_back();
    node.name = node.key = key;
    node.mesh = scene::MeshIndex(0);
    node.parent = parent;
    node.local.position = {0, 0, up};
    const scene::NodeIndex at(model.nodes.size() - 1);
    model.node(parent).children.push_back(at);
    return at;
  };
  const scene::NodeIndex lid = add("crate/lid", scene::NodeIndex(0), 1);
  add("crate/lid/handle", lid, 1);
  const auto height = [&] {
    geometry::Bounds box;
    for (const glm::vec3& v : under().corners) box.add(v);
    return box.size().z;
  };
  EXPECT_NEAR(height(), 2.5, 1e-5) << "all of the model";
  ASSERT_TRUE(setPieceValue(object_, shape_, "parts", base::Json::array({"crate/lid"})));
  EXPECT_EQ(says().parts, std::vector<std::string>{"crate/lid"});
  EXPECT_NEAR(height(), 1.5, 1e-5) << "the lid and its handle";
  ASSERT_TRUE(setPieceValue(object_, shape_, "parts", base::Json::array({"crate/lid/handle"})));
  form("box");
  ASSERT_TRUE(fitShape(object_, shape_, book_, models_));
  EXPECT_NEAR(says().size_m.z, 0.5, 1.1e-3);
  EXPECT_LT(shapeOff(mesh(), under(), true).short_m, 1e-4);
  // A part that is not there is none; the shape is not made of the whole by mistake.
  ASSERT_TRUE(setPieceValue(object_, shape_, "parts", base::Json::array({"crate/door"})));
  EXPECT_TRUE(under().empty());
}

TEST_F(CollisionShapes, ABoxIsFittedTurnedAsTheModelIsAndHoldsItToTheMillimetre) {
  form("box");
  ASSERT_TRUE(fitShape(object_, shape_, book_, models_));
  const ShapeValues fitted = says();
  EXPECT_NEAR(fitted.size_m.x, 2, 1.1e-3);
  EXPECT_NEAR(fitted.size_m.y, 1, 1.1e-3);
  EXPECT_NEAR(fitted.size_m.z, 0.5, 1.1e-3);
  const ShapeOff off = shapeOff(mesh(), under(), true);
  EXPECT_LT(off.short_m, 1e-4);
  EXPECT_LT(off.beyond_m, 2e-3);
  // The same wherever it hangs; sizes are then those of the object's space.
  ASSERT_TRUE(setParent(object_, shape_, "", kSide));
  ASSERT_TRUE(fitShape(object_, shape_, book_, models_));
  EXPECT_LT(shapeOff(mesh(), under(), true).short_m, 1e-4);
  // Which of its sides is nearest to forward is another matter there.
  std::array<double, 3> now{}, before{};
  for (size_t i = 0; i < 3; ++i) {
    now[i] = says().size_m[static_cast<int>(i)];
    before[i] = fitted.size_m[static_cast<int>(i)];
  }
  std::sort(now.begin(), now.end());
  std::sort(before.begin(), before.end());
  EXPECT_EQ(now, before);
}

TEST_F(CollisionShapes, EveryFormHoldsTheModelWhateverItIsLike) {
  std::mt19937 random(3);
  std::uniform_real_distribution<float> any(-1, 1);
  for (int i = 0; i < 12; ++i) {
    scene::Model model = crate();
    auto cloud = std::make_shared<scene::Mesh>(*model.meshes[0]);
    for (glm::vec3& p : cloud->primitives[0].positions)
      p = {any(random) * 2, any(random), any(random) * 0.3F};
    model.meshes[0] = cloud;
    const ModelOf of = [&](const std::string&) { return &model; };
    for (const char* one : {"box", "sphere", "capsule", "cylinder", "hull"}) {
      form(one);
      ASSERT_TRUE(fitShape(object_, shape_, book_, of)) << one;
      const ShapeMesh held = modelUnderShape(book_, object_, piece(), of);
      const ShapeMesh shape = shapeMesh(says(), held, gameAxes(book_));
      const glm::vec3 size = geometry::boundsOf(shape.corners).size();
      // What is round has sides: they cut off a hundredth.
      const bool round = std::string(one) != "box" && std::string(one) != "hull";
      EXPECT_LT(shapeOff(shape, held, true).short_m,
                (round ? 0.035 : 1e-4) * static_cast<double>(glm::length(size)))
          << one;
      EXPECT_GT(geometry::massOf(shape.corners, shape.triangles).volume, 0) << one << " is wound outward";
    }
  }
}

TEST_F(CollisionShapes, WhatIsShortOrStandsOffIsMeasured) {
  form("box");
  ASSERT_TRUE(fitShape(object_, shape_, book_, models_));
  ASSERT_TRUE(setPieceValue(object_, shape_, "length_m", 1.5));
  EXPECT_NEAR(shapeOff(mesh(), under(), true).short_m, 0.25, 2e-3) << "a quarter metre at both ends";
  ASSERT_TRUE(setPieceValue(object_, shape_, "length_m", 3));
  const ShapeOff off = shapeOff(mesh(), under(), true);
  EXPECT_LT(off.short_m, 1e-4);
  EXPECT_NEAR(off.beyond_m, 0.5, 2e-3);
  form("mesh");
  EXPECT_LE(mesh().triangles.size() / 3, 200U);
  EXPECT_LT(shapeOff(mesh(), under(), false).short_m, 1e-5) << "the model itself";
}

// A wall with a second one across its end: two boxes, which one hull would fill up between.
TEST(CollisionHulls, HoldAnAngleInTwoBodiesThatAreMeasuredTogether) {
  ShapeMesh angle;
  const std::array<glm::vec2, 6> outline = {glm::vec2(0, 0), {3, 0}, {3, 1}, {1, 1}, {1, 4}, {0, 4}};
  for (const float z : {0.0F, 1.0F})
    for (const glm::vec2& p : outline) angle.corners.emplace_back(p, z);
  for (const uint32_t t : {0U, 1U, 2U, 3U})
    angle.triangles.insert(angle.triangles.end(), {0, t + 2, t + 1, 6, t + 7, t + 8});
  for (uint32_t i = 0; i < 6; ++i) {
    const uint32_t j = (i + 1) % 6;
    angle.triangles.insert(angle.triangles.end(), {i, j, 6 + j, i, 6 + j, 6 + i});
  }
  ShapeValues says;
  says.form = "hulls";
  says.corners = 32;
  says.hulls = 6;
  const GameAxes axes = gameAxes(test::book());
  const ShapeMesh hulls = shapeMesh(says, angle, axes);
  ASSERT_EQ(hulls.ends.size(), 2U);
  EXPECT_EQ(hulls.ends[1].corners, hulls.corners.size());
  EXPECT_EQ(hulls.ends[1].triangles, hulls.triangles.size());
  EXPECT_NEAR(geometry::massOf(hulls.corners, hulls.triangles).volume, 6, 1e-5);
  const ShapeOff off = shapeOff(hulls, angle, true);
  EXPECT_LT(off.short_m, 1e-5);
  EXPECT_LT(off.beyond_m, 1e-5) << "one hull stands off by more than half a metre";
  says.form = "hull";
  const ShapeMesh one = shapeMesh(says, angle, axes);
  EXPECT_TRUE(one.ends.empty());
  EXPECT_GT(shapeOff(one, angle, true).beyond_m, 0.5);
  says.form = "hulls";
  EXPECT_EQ(shapeMesh(says, angle, axes).corners, hulls.corners) << "kept, and the same";
}

TEST_F(CollisionShapes, OfNothingOrOfWhatIsFlatIsSaid) {
  form("box");
  const mod::ObjectDoc before = object_;
  EXPECT_EQ(fitShape(object_, shape_, book_, [](const std::string&) { return nullptr; }).error().code,
            "piece.shape");
  EXPECT_EQ(fitShape(object_, "none", book_, models_).error().code, "piece.unknown");
  EXPECT_EQ(object_, before);
  form("hull");
  EXPECT_TRUE(shapeMesh(says(), ShapeMesh(), gameAxes(book_)).empty());
  EXPECT_TRUE(fieldCounts(piece(), "corners"));
  EXPECT_FALSE(fieldCounts(piece(), "length_m"));
  form("sphere");
  EXPECT_FALSE(fieldCounts(piece(), "height_m"));
  EXPECT_TRUE(fieldCounts(piece(), "width_m"));
}

// The crate is a cubic metre: 2 x 1 x 0.5 m, turned as it hangs.
TEST_F(CollisionShapes, ABodyWeighsStandsAndFloatsAsABoxDoes) {
  ASSERT_TRUE(removePiece(object_, shape_));
  ASSERT_TRUE(placePiece(object_, "crate", {{0, 0, 0}, {0, 0, 0, 1}}, kSide));
  const auto body = objectBody(object_, book_, models_, {600.0, 0});
  ASSERT_TRUE(body);
  EXPECT_EQ(body->from, BodyFrom::model);
  EXPECT_NEAR(body->volume_m3, 1, 1e-5);
  EXPECT_NEAR(body->mass_kg, 600, 1e-9);
  // Moments of a box: m (b^2 + c^2) / 12.
  EXPECT_NEAR(body->inertia.moments[0], 600 * (1 + 0.25) / 12, 1e-3);
  EXPECT_NEAR(body->inertia.moments[2], 600 * (4 + 1.0) / 12, 1e-3);
  ASSERT_TRUE(body->floats);
  EXPECT_NEAR(body->floats->draught, 0.3, 1e-5);
  EXPECT_NEAR(body->floats->level, 0.3, 1e-5) << "its lowest side is at the origin's height";
  ASSERT_TRUE(body->stands);
  EXPECT_NEAR(body->stands->margin, 0.5, 1e-5);
  EXPECT_FALSE(objectBody(object_, book_, models_, {1200.0, 0})->floats) << "heavier than water";
  EXPECT_NEAR(objectBody(object_, book_, models_, {{}, 250})->mass_kg, 250, 1e-2);
  // The card's field in kilograms.
  EXPECT_FALSE(weightOnCard(book_, object_).mass_kg);
  object_.card["mass"] = 45;
  EXPECT_EQ(weightOnCard(book_, object_).mass_kg, 45.0);
  // A shape takes the model's place; twice as long it floats less deep.
  ASSERT_EQ(addRuledPiece(object_, *book_.findKind("fitting"), "fitting-body").value(), shape_);
  form("box");
  ASSERT_TRUE(fitShape(object_, shape_, book_, models_));
  ASSERT_TRUE(setPieceValue(object_, shape_, "length_m", 4));
  const auto shaped = objectBody(object_, book_, models_, {600.0, 0});
  ASSERT_TRUE(shaped);
  EXPECT_EQ(shaped->from, BodyFrom::shapes);
  EXPECT_NEAR(shaped->floats->draught, 0.15, 1e-3);
  // What falls is that body: by the shape's bounce, from 1 m to its square.
  ASSERT_TRUE(setPieceValue(object_, shape_, "bounce", 0.5));
  const auto bouncy = objectBody(object_, book_, models_, {600.0, 0});
  ASSERT_TRUE(bouncy);
  EXPECT_EQ(bouncy->outline.size(), 8U);
  geometry::Fall fall(fallingBody(*bouncy), glm::dvec3(0, 0, 1), 1);
  fall.advance(1.2);
  EXPECT_NEAR(fall.bounced_m(), 0.25, 0.02);
  fall.advance(10);
  EXPECT_TRUE(fall.atRest());
  EXPECT_NEAR(fall.lowest_m(), 0, 2e-3);
  // Nothing has no body.
  EXPECT_FALSE(objectBody(mod::ObjectDoc(), book_, models_, {}));
}

}  // namespace
}  // namespace rakugo::prepare
