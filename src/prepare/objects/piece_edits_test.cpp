#include "prepare/objects/piece_edits.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <random>

#include "prepare/objects/piece_values.h"
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
  EXPECT_FALSE(aboveFloor(object, object.pieces[0], scene::Model(), {0, 0, 1}));

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

// Where the pieces of an object stand in it, by name.
std::map<std::string, glm::mat4> places(const mod::ObjectDoc& object) {
  std::map<std::string, glm::mat4> out;
  for (const mod::PieceDoc& piece : object.pieces) out[piece.name] = placeInObject(object, piece);
  return out;
}
double apart(const glm::mat4& a, const glm::mat4& b) {
  double out = 0;
  for (int c = 0; c < 4; ++c) out = std::max(out, static_cast<double>(glm::length(a[c] - b[c])));
  return out;
}

TEST(PieceTree, APieceStaysWhereItIsWhateverCarriesIt) {
  std::mt19937 random(5);
  mod::ObjectDoc object;
  for (int i = 0; i < 12; ++i) {
    mod::PieceDoc piece;
    piece.name = "p" + std::to_string(i);
    piece.model = "m";
    piece.scale = std::exp(std::uniform_real_distribution<double>(-0.7, 0.7)(random));
    object.pieces.push_back(piece);
    ASSERT_TRUE(placePiece(object, piece.name, randomPlace(random), kSide));
  }
  const auto before = places(object);
  size_t refused = 0;
  for (int i = 0; i < 400; ++i) {
    const std::string piece = "p" + std::to_string(random() % 12);
    const std::string to = random() % 5 == 0 ? "" : "p" + std::to_string(random() % 12);
    const base::Status done = setParent(object, piece, to, kSide);
    if (!done) {
      EXPECT_EQ(done.error().code, "piece.parent");
      ++refused;
    }
    for (const auto& [name, place] : places(object)) ASSERT_LT(apart(place, before.at(name)), 2e-3) << name;
    for (const mod::PieceDoc& one : object.pieces) ASSERT_FALSE(mod::hangsOn(object, one, one.name));
  }
  EXPECT_GT(refused, 20U) << "what hangs on a piece cannot carry it";
  // Taken out, one after the other: the rest stays.
  for (int i = 0; i < 12; i += 2) {
    ASSERT_TRUE(removePiece(object, "p" + std::to_string(i)));
    for (const auto& [name, place] : places(object)) ASSERT_LT(apart(place, before.at(name)), 2e-3) << name;
  }
}

// What is paired within a tree is paired within the same carrier, or within two that are a pair, so that the
// object stays its own mirror image there.
TEST(PieceTree, PairsStayMirrorImagesWhateverIsDoneToWhatCarriesThem) {
  std::mt19937 random(9);
  mod::ObjectDoc object = boat();
  mod::PieceDoc wing;
  wing.name = "wing";
  wing.sort = mod::kGroupSort;
  wing.position_m = {1, 0.5, 0};
  object.pieces.push_back(wing);
  object.pieces.push_back({"blade", "screw", {0.2, 0.1, 0.3}, {0, 0, 0, 1}});
  object.pieces.back().parent = "wing";
  const auto image = addMirrorImage(object, "wing", kSide);
  ASSERT_TRUE(image) << image.error().text();
  ASSERT_EQ(*image, "wing-2");
  ASSERT_EQ(findPiece(object, "blade-2")->parent, "wing-2");
  for (int i = 0; i < 200; ++i) {
    const std::vector<std::string> names = {"wing", "wing-2", "blade", "blade-2"};
    const std::string moved = names[random() % 4];
    switch (random() % 4) {
      case 0:
        ASSERT_TRUE(scalePiece(object, moved, 0.5 + static_cast<double>(random() % 10) / 5));
        break;
      case 1:
        if (moved.starts_with("blade")) {
          ASSERT_TRUE(setParent(object, moved, random() % 2 == 0 ? "" : "wing", kSide));
        }
        break;
      default:
        ASSERT_TRUE(placePiece(object, moved, randomPlace(random), kSide));
    }
    for (const char* name : {"wing", "blade"}) {
      const mod::PieceDoc *a = findPiece(object, name), *b = findPiece(object, a->pair);
      ASSERT_NE(b, nullptr);
      ASSERT_TRUE(mayBePair(object, *a, *b));
      // A point of one and the mirrored point of the other lie opposite in the object.
      const glm::vec3 p(0.3F, -0.2F, 0.7F), q(0.3F, 0.2F, 0.7F);
      const glm::vec3 left(placeInObject(object, *a) * glm::vec4(p, 1)),
          right(placeInObject(object, *b) * glm::vec4(q, 1));
      ASSERT_LT(glm::distance(glm::vec3(left.x, -left.y, left.z), right), 1e-4F) << name << " " << i;
    }
  }
}

TEST(PieceTree, AGroupTakesPairsAlongAndACopyOfItIsWhole) {
  mod::ObjectDoc object = boat();
  ASSERT_TRUE(addMirrorImage(object, "screw", kSide));
  const auto before = places(object);
  const auto group = groupPieces(object, {"screw"}, "drive", kSide);
  ASSERT_TRUE(group) << group.error().text();
  EXPECT_EQ(findPiece(object, "screw-2")->parent, "drive") << "its pair comes along";
  EXPECT_EQ(findPiece(object, "drive")->position_m, (std::array<double, 3>{-2, 0, -0.4}));
  for (const auto& [name, place] : before) EXPECT_LT(apart(places(object).at(name), place), 1e-6) << name;
  ASSERT_EQ(copyPiece(object, "drive").value(), "drive-2");
  ASSERT_NE(findPiece(object, "screw-3"), nullptr);
  EXPECT_EQ(findPiece(object, "screw-3")->parent, "drive-2");
  EXPECT_EQ(findPiece(object, "screw-3")->pair, "screw-4") << "a pair within the copy";
  ASSERT_TRUE(renamePiece(object, "drive", "engine"));
  EXPECT_EQ(findPiece(object, "screw")->parent, "engine");
  EXPECT_EQ(groupPieces(object, {"hull", "screw"}, "", kSide).error().code, "piece.parent");
  EXPECT_EQ(setParent(object, "engine", "screw", kSide).error().code, "piece.parent") << "round in a circle";
  EXPECT_EQ(pairPieces(object, "hull", "engine", kSide).error().code, "piece.pair") << "of different sorts";
  ASSERT_TRUE(alignPieces(object, {"hull", "engine", "drive-2"}, {1, 0, 0}, kSide));
  EXPECT_EQ(findPiece(object, "engine")->position_m[0], 0);
}

TEST(PieceTree, PiecesOfADamagedFileThatHangOnEachOtherEndNoLoop) {
  mod::ObjectDoc object = boat();
  object.pieces[0].parent = "screw";
  object.pieces[1].parent = "hull";
  EXPECT_EQ(mod::carriersOf(object, object.pieces[0]).size(), 1U);
  (void)placeInObject(object, object.pieces[1]);
  ASSERT_TRUE(removePiece(object, "screw"));
  EXPECT_TRUE(object.pieces[0].parent.empty());
}

TEST(Lamps, BeginWithWhatTheRulebookSaysAndAPairSharesAllButColours) {
  const rulebook::Kind& craft = *test::book().findKind("craft");
  mod::ObjectDoc object = boat();
  EXPECT_EQ(addRuledPiece(object, craft, "sidelight").error().code, "piece.sort");
  const auto made = addRuledPiece(object, craft, "side-light");
  ASSERT_TRUE(made) << made.error().text();
  const auto fields = fieldsOfPiece(test::book(), object, *findPiece(object, *made));
  EXPECT_FLOAT_EQ(lampValues(*findPiece(object, *made), fields).cone_deg, 112.5F);
  EXPECT_FLOAT_EQ(lampValues(*findPiece(object, *made), fields).soft, 0.2F) << "what every lamp has";
  ASSERT_TRUE(placePiece(object, *made, {{1, 0.4, 1}, {0, 0, 0, 1}}, kSide));
  const std::string other = addMirrorImage(object, *made, kSide).value();
  ASSERT_TRUE(setPieceValue(object, *made, "color", base::Json::array({1, 0, 0})));
  ASSERT_TRUE(setPieceValue(object, other, "color", base::Json::array({0, 1, 0})));
  ASSERT_TRUE(setPieceValue(object, other, "reach_m", 12));
  ASSERT_TRUE(placePiece(object, other, {{2, -0.5, 1}, {0, 0, 0, 1}}, kSide));
  const mod::PieceDoc &port = *findPiece(object, *made), &starboard = *findPiece(object, other);
  EXPECT_EQ(port.values["reach_m"], 12);
  EXPECT_EQ(port.values["color"], base::Json::array({1, 0, 0}));
  EXPECT_EQ(starboard.values["color"], base::Json::array({0, 1, 0}));
  EXPECT_EQ(port.position_m, (std::array<double, 3>{2, 0.5, 1}));
  // Outside of its limits, and of another type: drawn in, and the default.
  ASSERT_TRUE(setPieceValue(object, *made, "reach_m", 1e9));
  ASSERT_TRUE(setPieceValue(object, *made, "lit", 3));
  EXPECT_FLOAT_EQ(lampValues(*findPiece(object, *made), fields).reach_m, 20);
  EXPECT_EQ(lampValues(*findPiece(object, *made), fields).lit, "under-way");
}

}  // namespace
}  // namespace rakugo::prepare
