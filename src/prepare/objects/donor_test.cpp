#include "prepare/objects/donor.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "mod/piece_tree.h"
#include "rulebook/piece_sorts.h"

namespace rakugo::prepare {
namespace {

using testing::ElementsAre;

geometry::Bounds box(glm::vec3 low, glm::vec3 high) {
  geometry::Bounds out;
  out.add(low);
  out.add(high);
  return out;
}

class DonorTest : public testing::Test {
 protected:
  DonorTest() {
    rulebook::Kind craft;
    craft.id = "craft";
    rulebook::Field price, hail;
    price.id = "price", price.title = "Price", price.type = rulebook::FieldType::integer;
    hail.id = "hail", hail.title = "Hail", hail.type = rulebook::FieldType::reference, hail.to = {"sound"};
    craft.fields = {price, hail};
    rulebook::Point helm;
    helm.id = "helm", helm.title = "Helm";
    craft.points = {helm};
    rulebook::PieceRule lamp, shape;
    lamp.id = "side-light", lamp.title = "Side light",
    lamp.fields = rulebook::pieceValues(rulebook::PieceSort::lamp);
    shape.id = "body", shape.title = "Body", shape.sort = rulebook::PieceSort::shape;
    craft.pieces = {lamp, shape};
    book_.kinds = {craft};
    rulebook::GameList broker;
    broker.id = "broker", broker.title = "Broker";
    book_.lists = {broker};
    for (const char* name : {"tug", "barge"}) {
      mod_.models[name].source = name;
      mod::ObjectDoc& object = mod_.objects[name];
      object.kind = "craft";
      object.pieces.push_back({name, name, {0, 0, 0}, {0, 0, 0, 1}});
    }
    mod::ObjectDoc& tug = mod_.objects["tug"];
    tug.card = base::Json{{"price", 900}, {"hail", "sources/horn"}, {"odd", 3}};
    tug.lists.push_back({"broker", base::Json{{"berth", "mole"}}});
    mod_.models["tug"].points.push_back({"helm", {-1, 0, 2}, {0, 0, 0, 1}});
    mod_.models["tug"].points.push_back({"mast", {0, 0, 3}, {0, 0, 0, 1}});
    mod_.objects["barge"].card = base::Json{{"price", 100}};
    addLamp("port", 0.5, "starboard");
    addLamp("starboard", -0.5, "port");
  }
  void addLamp(const char* name, double side, const char* pair) {
    mod::PieceDoc lamp;
    lamp.name = name, lamp.sort = "lamp", lamp.as = "side-light", lamp.pair = pair;
    lamp.position_m = {1, side, 1};
    lamp.values = base::Json{{"strength", 12}};
    mod_.objects["tug"].pieces.push_back(lamp);
  }
  // The barge is twice as long, as wide and half as high.
  [[nodiscard]] DonorSide tug() const { return {mod_, "tug", {box({-2, -1, 0}, {2, 1, 4}), {}}}; }
  [[nodiscard]] DonorSide barge() const { return {mod_, "barge", {box({-4, -1, 0}, {4, 1, 2}), {}}}; }
  std::vector<DonorOffer> offers() const { return donorOffers(book_, barge(), tug()); }
  rulebook::Rulebook book_;
  mod::ModState mod_;
};

TEST_F(DonorTest, OffersWhatBothKindsHaveSideBySide) {
  std::vector<std::string> ids;
  for (const DonorOffer& one : offers()) ids.push_back(one.id);
  EXPECT_THAT(ids, ElementsAre("price", "helm", "broker", "port", "starboard"))
      << "not a sound that is not there, nor a point that the game does not know";
  EXPECT_EQ(offers()[0].theirs, "900");
  EXPECT_EQ(offers()[0].ours, "100");
  EXPECT_TRUE(offers()[0].differs());
  EXPECT_EQ(offers()[1].ours, "");
  mod_.sources["horn"].file = "horn.ogg";
  EXPECT_EQ(offers()[1].id, "hail");
  EXPECT_TRUE(donorOffers(book_, {mod_, "raft", {}}, tug()).empty());
}

TEST_F(DonorTest, WhatIsTakenKeepsItsShareOfTheBodyAndItsPair) {
  mod::ModState next = mod_;
  ASSERT_TRUE(takeSetUp(next, book_, barge(), tug(), offers()));
  const mod::ObjectDoc& now = std::as_const(next.objects).at("barge");
  EXPECT_EQ(now.card["price"], 900);
  EXPECT_FALSE(now.card.contains("odd"));
  EXPECT_EQ(now.lists, mod_.objects["tug"].lists);
  const mod::PointDoc& helm = std::as_const(next.models).at("barge").points.at(0);
  EXPECT_EQ(helm.position_m, (std::array<double, 3>{-2, 0, 1}));
  EXPECT_EQ(std::as_const(next.models).at("barge").points.size(), 1U);
  const mod::PieceDoc* port = mod::findPiece(now, "port");
  ASSERT_NE(port, nullptr);
  EXPECT_EQ(port->position_m, (std::array<double, 3>{2, 0.5, 0.5}));
  EXPECT_EQ(port->pair, "starboard");
  // Taken again, nothing changes.
  mod::ModState again = next;
  ASSERT_TRUE(takeSetUp(again, book_, {again, "barge", barge().body}, tug(), offers()));
  EXPECT_EQ(std::as_const(again.objects).at("barge"), now);
}

TEST_F(DonorTest, RolesGoToMaterialsThatAreCalledAlike) {
  rulebook::Role paint, tar;
  paint.id = "paint", paint.title = "Paint";
  tar.id = "tar", tar.title = "Tar";
  book_.kinds[0].roles = {paint, tar};
  DonorSide from = tug(), to = barge();
  from.body.materials = {
      {"m1", "Hull", "paint"}, {"m2", "keel", "tar"}, {"m3", "rope", "odd"}, {"m4", "mast", "tar"}};
  to.body.materials = {{"a", "hull", ""}, {"b", "keel", "paint"}, {"c", "rope", ""}, {"d", "deck", ""}};
  std::vector<DonorOffer> roles;
  for (const DonorOffer& one : donorOffers(book_, to, from))
    if (one.sort == SetUp::role) roles.push_back(one);
  ASSERT_EQ(roles.size(), 2U) << "a role that the game does not know is none";
  EXPECT_EQ(roles[0].id, "hull");
  EXPECT_EQ(roles[0].theirs, "Paint");
  EXPECT_EQ(roles[0].ours, "");
  EXPECT_EQ(roles[1].ours, "Paint");
  mod::ModState next = mod_;
  ASSERT_TRUE(takeSetUp(next, book_, to, from, {roles[0]}));
  const mod::ModelDoc& model = std::as_const(next.models).at("barge");
  ASSERT_EQ(model.steps.size(), 1U);
  EXPECT_EQ(model.steps[0].kind, "role");
  EXPECT_EQ(model.steps[0].values["material"], "a");
  EXPECT_EQ(model.steps[0].values["role"], "paint");
}

TEST_F(DonorTest, OnlyWhatIsChosenIsTakenAndHalfAPairStandsAlone) {
  mod::ModState next = mod_;
  std::vector<DonorOffer> chosen;
  for (const DonorOffer& one : offers())
    if (one.id == "port") chosen.push_back(one);
  ASSERT_TRUE(takeSetUp(next, book_, barge(), tug(), chosen));
  const mod::ObjectDoc& now = std::as_const(next.objects).at("barge");
  EXPECT_EQ(now.card["price"], 100);
  ASSERT_EQ(now.pieces.size(), 2U);
  EXPECT_EQ(now.pieces[1].pair, "");
}

TEST_F(DonorTest, ShapesGrowAlongTheirAxes) {
  mod::PieceDoc body;
  body.name = "body", body.sort = "shape", body.as = "body";
  body.values = base::Json{{"form", "box"}, {"length_m", 4.0}, {"width_m", 2.0}, {"height_m", 1.0}};
  mod_.objects["tug"].pieces.push_back(body);
  mod::ModState next = mod_;
  ASSERT_TRUE(takeSetUp(next, book_, barge(), tug(), offers()));
  const mod::PieceDoc* taken = mod::findPiece(std::as_const(next.objects).at("barge"), "body");
  ASSERT_NE(taken, nullptr);
  EXPECT_EQ(taken->values["length_m"], 8.0);
  EXPECT_EQ(taken->values["width_m"], 2.0);
  EXPECT_EQ(taken->values["height_m"], 0.5);
}

TEST_F(DonorTest, WithoutBoxesPlacesStayAndWithoutAModelNoPointIsTaken) {
  mod::ModState next = mod_;
  ASSERT_TRUE(takeSetUp(next, book_, {mod_, "barge", {}}, {mod_, "tug", {}}, offers()));
  EXPECT_EQ(mod::findPiece(std::as_const(next.objects).at("barge"), "port")->position_m,
            (std::array<double, 3>{1, 0.5, 1}));
  next.objects["barge"].pieces.clear();
  EXPECT_EQ(takeSetUp(next, book_, barge(), tug(), offers()).error().code, "donor.no_model");
  EXPECT_EQ(takeSetUp(next, book_, barge(), {mod_, "raft", {}}, offers()).error().code, "mod.no_object");
}

TEST(CarriedOver, AFlatBoxMovesByItsMiddle) {
  const glm::dvec3 at = carriedOver({1, 5, 0}, box({0, 5, 0}, {2, 5, 2}), box({0, 7, 0}, {4, 9, 4}));
  EXPECT_EQ(at, glm::dvec3(2, 8, 0));
}

}  // namespace
}  // namespace rakugo::prepare
