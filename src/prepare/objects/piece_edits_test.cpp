#include "prepare/objects/piece_edits.h"

#include <gtest/gtest.h>

#include <random>

#include "prepare/parts/pieces.h"
#include "prepare/replay.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

const glm::vec3 kSide(0, 1, 0);

mod::ObjectDoc boat() {
  mod::ObjectDoc out;
  out.kind = "craft";
  out.pieces.push_back({"hull", "hull", {0, 0, 0}, {0, 0, 0, 1}});
  out.pieces.push_back({"screw", "screw", {-2, 0.5, -0.4}, {0, 0, 0, 1}, "screw"});
  return out;
}

PiecePlace randomPlace(std::mt19937& random) {
  std::uniform_real_distribution<double> any(-2, 2);
  const glm::dquat turn = glm::normalize(glm::dquat(any(random), any(random), any(random), any(random)));
  return {{any(random), any(random), any(random)}, {turn.x, turn.y, turn.z, turn.w}};
}

// The mirror image of a placed point: the place of the mirrored point in the mirrored frame.
glm::dvec3 at(const PiecePlace& place, const glm::dvec3& point) {
  const glm::dquat turn(place.turn[3], place.turn[0], place.turn[1], place.turn[2]);
  return turn * point + glm::dvec3(place.position_m[0], place.position_m[1], place.position_m[2]);
}
glm::dvec3 reflected(const glm::dvec3& v) { return {v.x, -v.y, v.z}; }

TEST(MirroredPlace, IsWhatAMirrorShowsAndTwiceIsTheSame) {
  std::mt19937 random(7);
  for (int i = 0; i < 200; ++i) {
    const PiecePlace place = randomPlace(random), image = mirrored(place, kSide);
    const glm::dvec3 point(0.3, -0.7, 1.1);
    EXPECT_LT(glm::distance(at(image, reflected(point)), reflected(at(place, point))), 1e-12);
    const PiecePlace twice = mirrored(image, kSide);
    EXPECT_EQ(twice, place);
  }
}

TEST(PieceEdits, APairStaysOneThroughRandomEdits) {
  std::mt19937 random(11);
  mod::ObjectDoc object = boat();
  ASSERT_TRUE(addMirrorImage(object, "screw", kSide));
  std::string left = "screw", right = "screw-2";
  for (int i = 0; i < 300; ++i) {
    const std::string& moved = random() % 2 == 0 ? left : right;
    if (random() % 5 == 0) {
      const std::string other = moved + "x";
      ASSERT_TRUE(renamePiece(object, moved, other));
      (&moved == &left ? left : right) = other;
    } else {
      ASSERT_TRUE(placePiece(object, moved, randomPlace(random), kSide));
    }
    const mod::PieceDoc *a = findPiece(object, left), *b = findPiece(object, right);
    ASSERT_TRUE(a != nullptr && b != nullptr);
    EXPECT_EQ(a->pair, right);
    EXPECT_EQ(b->pair, left);
    EXPECT_EQ(mirrored(placeOf(*a), kSide), placeOf(*b));
  }
  ASSERT_TRUE(pairPieces(object, left, {}, kSide));
  const PiecePlace stays = placeOf(*findPiece(object, right));
  ASSERT_TRUE(placePiece(object, left, randomPlace(random), kSide));
  EXPECT_EQ(placeOf(*findPiece(object, right)), stays) << "untied";
}

TEST(PieceEdits, WhatAPairLosesStandsAlone) {
  mod::ObjectDoc object = boat();
  ASSERT_TRUE(addMirrorImage(object, "screw", kSide));
  ASSERT_EQ(copyPiece(object, "screw").value(), "screw-3");
  ASSERT_TRUE(pairPieces(object, "screw-3", "screw", kSide));
  EXPECT_TRUE(findPiece(object, "screw-2")->pair.empty()) << "screw has another now";
  ASSERT_TRUE(removePiece(object, "screw"));
  EXPECT_TRUE(findPiece(object, "screw-3")->pair.empty());
}

TEST(PieceEdits, WhatCannotBeDoneLeavesTheObjectAsItIs) {
  mod::ObjectDoc object = boat();
  const mod::ObjectDoc before = object;
  EXPECT_EQ(placePiece(object, "none", {}, kSide).error().code, "piece.unknown");
  EXPECT_EQ(renamePiece(object, "screw", "hull").error().code, "piece.name");
  EXPECT_EQ(renamePiece(object, "screw", "").error().code, "piece.name");
  EXPECT_EQ(removePiece(object, "none").error().code, "piece.unknown");
  EXPECT_EQ(pairPieces(object, "screw", "screw", kSide).error().code, "piece.pair");
  EXPECT_EQ(pairPieces(object, "screw", "none", kSide).error().code, "piece.unknown");
  EXPECT_EQ(copyPlace(object, "none", "screw", false, kSide).error().code, "piece.unknown");
  EXPECT_EQ(object, before);
}

TEST(PieceEdits, APlaceIsCopiedPlainOrMirrored) {
  mod::ObjectDoc object = boat();
  ASSERT_TRUE(copyPlace(object, "screw", "hull", true, kSide));
  EXPECT_EQ(findPiece(object, "hull")->position_m, (std::array<double, 3>{-2, -0.5, -0.4}));
  ASSERT_TRUE(copyPlace(object, "screw", "hull", false, kSide));
  EXPECT_EQ(findPiece(object, "hull")->position_m, findPiece(object, "screw")->position_m);
}

TEST(PieceEdits, StandOnTheFloorAndAreSpreadEvenly) {
  const rulebook::Rulebook* book = &test::book();
  scene::Model model;
  auto mesh = std::make_shared<scene::Mesh>();
  mesh->primitives.emplace_back().positions = {{0, 0, -0.5F}, {0, 0.25F, 0}, {0, 0, 2}};
  model.meshes.push_back(mesh);
  model.nodes.emplace_back().mesh = scene::MeshIndex(0);
  model.roots.emplace_back(0);
  mod::ObjectDoc object = boat();
  ASSERT_TRUE(addMirrorImage(object, "screw", kSide));
  ASSERT_TRUE(putOnFloor(object, "screw", model, *book));
  EXPECT_NEAR(findPiece(object, "screw")->position_m[2], 0.5, 1e-6);
  EXPECT_NEAR(findPiece(object, "screw-2")->position_m[2], 0.5, 1e-6) << "its pair";
  // Upside down about forward: what was highest is lowest.
  PiecePlace turned = placeOf(*findPiece(object, "screw"));
  turned.turn = {1, 0, 0, 0};
  ASSERT_TRUE(placePiece(object, "screw", turned, kSide));
  ASSERT_TRUE(putOnFloor(object, "screw", model, *book));
  EXPECT_NEAR(findPiece(object, "screw")->position_m[2], 2, 1e-6);
  EXPECT_FALSE(aboveFloor(object.pieces[0], scene::Model(), {0, 0, 1}));

  for (const char* name : {"a", "b", "c", "d"})
    object.pieces.push_back({name, "oar", {7, 0, 0}, {0, 0, 0, 1}});
  object.pieces[object.pieces.size() - 4].position_m = {0, 0, 1};
  object.pieces.back().position_m = {3, 0, 4};
  ASSERT_TRUE(spreadPieces(object, {"a", "b", "c", "d"}, kSide));
  EXPECT_EQ(findPiece(object, "b")->position_m, (std::array<double, 3>{1, 0, 2}));
  EXPECT_EQ(findPiece(object, "c")->position_m, (std::array<double, 3>{2, 0, 3}));
  EXPECT_EQ(spreadPieces(object, {"a", "b"}, kSide).error().code, "piece.few");
  EXPECT_EQ(spreadPieces(object, {"a", "none", "b"}, kSide).error().code, "piece.unknown");
}

TEST(TurnOf, IsTheReverseOfAnglesOf) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> any(-179, 179), tilt(-89, 89);
  const GameAxes axes{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, other{{0, 0, 1}, {1, 0, 0}, {0, 1, 0}};
  for (int i = 0; i < 200; ++i) {
    const glm::dvec3 wanted(any(random), tilt(random), any(random));
    for (const GameAxes& a : {axes, other}) {
      const glm::dvec3 got = anglesOf(a, glm::quat(turnOf(a, wanted)));
      EXPECT_LT(glm::length(got - wanted), 0.02) << wanted.x << " " << wanted.y << " " << wanted.z;
    }
  }
}

TEST(KindOfPiece, IsThatOfTheModelThatItIs) {
  const rulebook::Rulebook* book = &test::book();
  const mod::ObjectDoc object = boat();
  const rulebook::Kind* hull = kindOfPiece(*book, object, object.pieces[0]);
  const rulebook::Kind* screw = kindOfPiece(*book, object, object.pieces[1]);
  EXPECT_EQ(hull, book->findKind("craft"));
  EXPECT_EQ(screw, book->findKind("craft/screw"));
  EXPECT_EQ(screw->title, "Screw");
  EXPECT_EQ(screw->max_triangles, 4000);
  EXPECT_TRUE(screw->roles.empty()) << "the hull's roles are not asked of it";
  EXPECT_EQ(kindsOfModel(*book, object, "screw"), std::vector<const rulebook::Kind*>{screw});
}

// A hull with three copies of a wheel: they become one model and three pieces, and the whole looks as before.
TEST(PiecesFromCopies, StandWhereTheCopiesStood) {
  const rulebook::Rulebook* book = &test::book();
  scene::Model model;
  auto box = std::make_shared<scene::Mesh>();
  scene::Primitive& p = box->primitives.emplace_back();
  p.positions = {{0, 0, 0}, {0.4F, 0, 0}, {0, 0.2F, 0}, {0, 0, 0.1F}};
  p.indices = {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3};
  model.meshes.push_back(box);
  const auto add = [&](const std::string& name, glm::vec3 at, glm::quat turn) {
    scene::Node node;
    node.name = name;
    node.mesh = scene::MeshIndex(0);
    node.local.position = at;
    node.local.turn = turn;
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(std::move(node));
  };
  const glm::quat quarter = glm::angleAxis(1.5707963F, glm::vec3(0, 0, 1));
  add("wheel", {1, 1, 0}, {1, 0, 0, 0});
  add("wheel", {1, -1, 0}, quarter);
  add("wheel", {-1, 1, 0.3F}, quarter * quarter);
  scene::Node hull;
  hull.name = "hull";
  hull.mesh = scene::MeshIndex(1);
  auto plank = std::make_shared<scene::Mesh>(*box);
  plank->primitives[0].positions[1].x = 3;
  model.meshes.push_back(plank);
  model.roots.emplace_back(model.nodes.size());
  model.nodes.push_back(hull);
  scene::assignKeys(model);
  model.frame.turned = true;
  const auto same = scene::sameParts(model);
  ASSERT_EQ(same.size(), 1U);
  ASSERT_EQ(same[0].parts.size(), 3U);

  mod::ModState state;
  state.models["cart"].source = "cart";
  mod::ObjectDoc object;
  object.kind = "craft";
  object.pieces.push_back({"cart", "cart", {5, 0, 0}, {0, 0, 0, 1}});
  state.objects["cart"] = object;
  const auto made = piecesFromCopies(state, "cart", "cart", model, *book, same[0], "screw");
  ASSERT_TRUE(made) << made.error().text();
  EXPECT_EQ(*made, "wheel");
  const mod::ObjectDoc& now = std::as_const(state.objects).at("cart");
  ASSERT_EQ(now.pieces.size(), 4U);
  // Replayed, the two models with the pieces' places give the points of the model that was.
  const auto prepared = [&](const std::string& name) {
    auto read = std::make_shared<formats::ReadModel>();
    read->model = model;
    Replayer replayer;
    return replayer.replay(read, std::as_const(state.models).at(name).steps, *book, nullptr)->model;
  };
  const auto centresOf = [](const scene::Model& m, const glm::mat4& place, std::vector<glm::vec3>& out) {
    const auto world = scene::worldMatrices(m);
    for (const scene::NodeIndex i : scene::reachedNodes(m))
      if (m.node(i).mesh.valid())
        for (const glm::vec3& v : m.mesh(m.node(i).mesh).primitives[0].positions)
          out.push_back(glm::vec3(place * world[i.value()] * glm::vec4(v, 1)));
  };
  std::vector<glm::vec3> before, after;
  centresOf(model, pieceMatrix(object.pieces[0]), before);
  for (const mod::PieceDoc& piece : now.pieces) {
    EXPECT_EQ(piece.as, piece.model == "cart" ? "" : "screw");
    centresOf(*prepared(piece.model), pieceMatrix(piece), after);
  }
  ASSERT_EQ(before.size(), after.size());
  for (const glm::vec3& v : before) {
    float nearest = 1;
    for (const glm::vec3& w : after) nearest = std::min(nearest, glm::distance(v, w));
    EXPECT_LT(nearest, 1e-5F);
  }
}

}  // namespace
}  // namespace rakugo::prepare
