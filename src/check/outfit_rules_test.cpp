// Rules of outfits, named parts and sizes, on the demo mod that breaks them; each mend takes its finding
// away.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/mended_mod.h"

namespace rakugo::check {
namespace {

using base::Json;
using testing::HasSubstr;

class OutfitRules : public test::MendedMod {
 protected:
  OutfitRules() : MendedMod("slipway") {
    // Both stand in the game's axes, as they must before anything is compared.
    for (const char* model : {"sea-coat", "tug"})
      prepare::setOrAddStep(state_.models[model], "turn", Json{{"forward", "+Z"}, {"up", "+Y"}});
    examine();
  }
};

TEST_F(OutfitRules, ASurplusRegionIsHandedOverAndTheRestPutInOrder) {
  ASSERT_NE(find("region.surplus"), nullptr);
  EXPECT_EQ(find("region.surplus")->severity, Severity::stops);
  EXPECT_EQ(find("region.surplus")->measured, "belly");
  EXPECT_EQ(find("region.missing"), nullptr) << "the source says of its parts what they cover";
  ASSERT_TRUE(mend("region.surplus", "Hand it over to trunk"));
  EXPECT_EQ(find("region.surplus"), nullptr);
  ASSERT_NE(find("region.order"), nullptr);
  EXPECT_THAT(find("region.order")->measured, HasSubstr("Collar, Trunk"));
  EXPECT_THAT(find("region.order")->expected, HasSubstr("Trunk, Left sleeve"));
  ASSERT_TRUE(mend("region.order"));
  EXPECT_EQ(find("region.order"), nullptr);
}

TEST_F(OutfitRules, AHeavyBoatWantsLighterVersionsAndAStepIsEnough) {
  const Finding* f = find("lighter.missing");
  ASSERT_NE(f, nullptr);
  EXPECT_EQ(f->place.model, "tug");
  EXPECT_EQ(f->severity, Severity::tidy);
  EXPECT_THAT(f->expected, HasSubstr("1,500"));
  ASSERT_TRUE(mend("lighter.missing"));
  EXPECT_EQ(find("lighter.missing"), nullptr);
  const mod::StepDoc& step = state_.models["tug"].steps.back();
  EXPECT_EQ(step.kind, "make_lighter") << "behind all others, for it is made of what they leave";
  EXPECT_EQ(step.values["from_m"], 14.0);
  state_.models["tug"].steps.back().enabled = false;
  examine();
  EXPECT_NE(find("lighter.missing"), nullptr);
}

TEST_F(OutfitRules, RegionsAreTakenFromTheBodyByNearness) {
  // As most makers leave it: nothing says what it covers.
  for (const char* from : {"trunk", "belly", "collar", "sleeve-left", "sleeve-right", "skirts"})
    state_.models["sea-coat"].steps.push_back({mod::freshStepId(state_.models["sea-coat"]), "hand_over", true,
                                               Json{{"from", from}, {"to", "collar"}}});
  examine();
  ASSERT_NE(find("region.missing", "trunk"), nullptr);
  auto& steps = state_.models["sea-coat"].steps;
  std::erase_if(steps, [](const mod::StepDoc& s) { return s.kind == "hand_over"; });
  prepare::setOrAddStep(state_.models["sea-coat"], "region_nearest",
                        Json{{"kind", "coat"}, {"most_mm", 300.0}});
  examine();
  for (const char* region : {"trunk", "sleeve-left", "sleeve-right"})
    EXPECT_EQ(find("region.missing", region), nullptr) << region;
  EXPECT_EQ(find("region.surplus"), nullptr);
  const scene::Model& coat = *x_->context.models.at("sea-coat").prepared.model;
  // Nothing is lost by it, and left stays left.
  EXPECT_EQ(scene::countsOf(coat).triangles,
            scene::countsOf(x_->context.sources.at("sea-coat").read->model).triangles);
  const auto world = scene::worldMatrices(coat);
  for (const scene::NodeIndex i : scene::reachedNodes(coat))
    if (coat.node(i).mesh.valid() && coat.node(i).region == "sleeve-left") {
      EXPECT_GT(scene::partBounds(coat, i, world).center().y, 0.1F);
    }
}

TEST_F(OutfitRules, SizesAreTiedTogetherAndPutInOneOrder) {
  ASSERT_NE(find("variant.missing"), nullptr);
  state_.models["sea-coat"].variants["broad"] = "sea-coat-broad";
  examine();
  EXPECT_EQ(find("variant.missing"), nullptr);
  ASSERT_NE(find("variant.differs"), nullptr);
  EXPECT_EQ(find("variant.differs")->severity, Severity::shows) << "the game leaves that size out";
  EXPECT_THAT(find("variant.differs")->sentence, HasSubstr("another order"));
  ASSERT_TRUE(mend("variant.differs"));
  EXPECT_EQ(find("variant.differs"), nullptr);
  EXPECT_EQ(find("step.misses"), nullptr);
  // Steps that change the mesh do it to both.
  prepare::setOrAddStep(state_.models["sea-coat"], "duplicate",
                        Json{{"part", "sea_coat/collar"}, {"by", {0, 0, 1}}});
  examine();
  EXPECT_EQ(find("variant.differs"), nullptr);
  // Another thing altogether is no size of it.
  state_.models["sea-coat"].variants["broad"] = "tug";
  examine();
  ASSERT_NE(find("variant.differs"), nullptr);
  EXPECT_TRUE(find("variant.differs")->mends.empty());
  state_.models["sea-coat"].variants["broad"] = "nothing";
  examine();
  EXPECT_NE(find("object.pieces", "broad"), nullptr);
}

TEST_F(OutfitRules, SeamsToTheBodyAreMeasuredAndClosed) {
  std::vector<std::string> at;
  for (const Finding& f : x_->findings)
    if (f.check == "seam.gap") at.push_back(f.place.field);
  EXPECT_THAT(at, testing::UnorderedElementsAre("head", "hand-left", "hand-right"));
  ASSERT_TRUE(mend("seam.gap"));
  EXPECT_EQ(find("seam.gap"), nullptr);
  EXPECT_EQ(find("mesh.degenerate"), nullptr);
  EXPECT_EQ(find("bones.weights"), nullptr);
}

// The worst seams are those too wide to be taken for any.
TEST_F(OutfitRules, ASeamTornFarFromTheBodyIsSaidToo) {
  ASSERT_TRUE(mend("seam.gap"));
  ASSERT_EQ(find("seam.gap"), nullptr);
  // Half as high again: the collar stands a hand above the neck.
  state_.models["sea-coat"].steps.push_back({mod::freshStepId(state_.models["sea-coat"]), "stretch", true,
                                             Json{{"along", "height"}, {"factor", 1.08}}});
  for (mod::StepDoc& step : state_.models["sea-coat"].steps)
    if (step.kind == "snap_seam") step.enabled = false;
  ASSERT_TRUE(mod::saveMod(folder_, state_, {}));
  state_ = *mod::loadMod(folder_);
  examine();
  const Finding* f = find("seam.gap", "head");
  ASSERT_NE(f, nullptr);
  EXPECT_GT(std::stod(f->measured), 60) << f->sentence;
  EXPECT_THAT(f->cure, HasSubstr("border"));
}

TEST_F(OutfitRules, AModelOfTwoKindsIsHeldAgainstBoth) {
  mod::ObjectDoc second = state_.objects["tug"];
  second.kind = "gear";
  state_.objects["tug-toy"] = second;
  ASSERT_TRUE(mod::saveMod(folder_, state_, {}));
  state_ = *mod::loadMod(folder_);
  examine();
  const auto says = [&](const char* check, const std::string& words) {
    for (const Finding& one : x_->findings)
      if (one.check == check && one.place.model == "tug" && one.sentence.find(words) != std::string::npos)
        return true;
    return false;
  };
  EXPECT_TRUE(says("size.range", "a craft is"));
  EXPECT_TRUE(says("size.range", "a gear is"));
  EXPECT_TRUE(says("point.missing", "attachment point helm"));
  EXPECT_TRUE(says("point.missing", "attachment point grip"));
}

TEST_F(OutfitRules, SourcesThatNothingUsesAreFound) {
  state_.sources["spare"] = state_.sources["tug"];
  ASSERT_TRUE(mod::saveMod(folder_, state_, {}));
  state_ = *mod::loadMod(folder_);
  examine();
  bool said = false;
  for (const Finding& one : x_->findings)
    said = said || (one.check == "file.unused" && one.place.source == "spare");
  EXPECT_TRUE(said);
}

TEST_F(OutfitRules, APartIsCalledAsTheGameLooksForIt) {
  EXPECT_EQ(find("part.name"), nullptr) << "its hull is called so";
  state_.models["tug"].steps.push_back({mod::freshStepId(state_.models["tug"]), "rename", true,
                                        Json{{"part", "tug/hull"}, {"name", "boat_low"}}});
  examine();
  ASSERT_NE(find("part.name"), nullptr);
  EXPECT_EQ(find("part.name")->expected, "hull");
  EXPECT_EQ(find("part.name")->mends.front().label, "Call boat_low so") << "a word in it speaks for it";
  ASSERT_TRUE(mend("part.name"));
  EXPECT_EQ(find("part.name"), nullptr);
}

TEST_F(OutfitRules, ReachVolumeAndTexelDensityHaveBands) {
  auto book = std::make_shared<rulebook::Rulebook>(*book_);
  for (rulebook::Kind& k : book->kinds) {
    k.reach_m = rulebook::Band{0.1, 1};
    k.volume_l = rulebook::Band{0.001, 0.002};
    k.texels_per_m = rulebook::Band{1e6, 2e6};
  }
  book_ = book;
  examine();
  ASSERT_NE(find("size.reach", "reach"), nullptr);
  EXPECT_NE(find("size.reach", "volume"), nullptr);
  EXPECT_EQ(find("picture.density"), nullptr) << "nothing here has a picture";
  const auto lamp =
      test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight", nullptr, book);
  const auto coarse = std::count_if(lamp->findings.begin(), lamp->findings.end(),
                                    [](const Finding& f) { return f.check == "picture.density"; });
  EXPECT_GT(coarse, 0);
}

}  // namespace
}  // namespace rakugo::check
