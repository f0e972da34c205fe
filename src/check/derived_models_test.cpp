// Models that are made from another model of the mod and follow it, and what the game shows apart.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "check/facts.h"
#include "mod/things.h"
#include "prepare/edit_steps.h"
#include "prepare/naming.h"
#include "prepare/objects/derived_model.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;
using base::Json;
using testing::HasSubstr;

class DerivedModels : public testing::Test {
 protected:
  explicit DerivedModels(const char* mod = "lamplight")
      : root_(folder_.path() / mod), book_(test::kelpwick()), examiner_(root_, book_) {
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / mod, root_, fs::copy_options::recursive);
    state_ = std::move(mod::loadMod(root_)).value();
    examine();
  }
  void examine() { x_ = *examiner_.examine(std::make_shared<const mod::ModState>(state_)); }
  // As a person leaves it and opens it again.
  void saveAndOpen() {
    ASSERT_TRUE(mod::saveMod(root_, state_, *mod::loadMod(root_)));
    state_ = std::move(mod::loadMod(root_)).value();
    Examiner fresh(root_, book_);
    x_ = *fresh.examine(std::make_shared<const mod::ModState>(state_));
  }
  const scene::Model& model(const std::string& name) { return *x_->context.models.at(name).prepared.model; }
  prepare::StepsFor stepsFrom(const std::string& name) {
    return [this, &prepared = model(name)](const rulebook::Kind& rules, const std::string& from) {
      return prepare::stepsToDerive(*book_, rules, from, prepared);
    };
  }
  std::string derive(const std::string& object, const std::string& from) {
    const auto piece = prepare::addDerivedModel(state_, *book_, object, "carried", stepsFrom(from));
    EXPECT_TRUE(piece) << piece.error().text();
    examine();
    return piece ? *piece : std::string();
  }
  std::vector<std::string> found(const std::string& about) {
    std::vector<std::string> out;
    for (const Finding& f : x_->findings)
      if (f.place.model == about || f.check == about) out.push_back(f.check + ": " + f.sentence);
    return out;
  }
  test::TestFolder folder_;
  fs::path root_;
  std::shared_ptr<const rulebook::Rulebook> book_;
  Examiner examiner_;
  mod::ModState state_;
  std::shared_ptr<const Examination> x_;
};

TEST_F(DerivedModels, ACarriedVersionFitsTheArmsAndFollowsWhatStandsThere) {
  EXPECT_EQ(derive("quay-lamp", "quay-lamp"), "carried");
  saveAndOpen();
  const std::string name = "quay-lamp-carried";
  ASSERT_TRUE(state_.models.contains(name));
  EXPECT_EQ(state_.objects.at("quay-lamp").pieces.back().as, "carried");
  const glm::vec3 size = scene::boundsOf(model(name)).size();
  EXPECT_LE(size.z, 0.7F);
  EXPECT_GT(size.z, 0.69F) << "no smaller than it need be";
  EXPECT_LE(scene::countsOf(model(name)).triangles, 2000U);
  for (const Finding& f : x_->findings)
    EXPECT_EQ(f.severity, Severity::tidy) << f.check << ": " << f.sentence;
  // What is done to the lamp is done to what is carried of it.
  mod::ModelDoc& lamp = state_.models["quay-lamp"];
  prepare::insertByRank(lamp, prepare::makeStep(lamp, "stretch", Json{{"along", "height"}, {"factor", 0.5}}));
  examine();
  EXPECT_NEAR(scene::boundsOf(model(name)).size().z, size.z / 2, 1e-3);
  EXPECT_NEAR(scene::boundsOf(model(name)).size().x, size.x, 1e-3);
  EXPECT_EQ(model(name).materials.size(), model("quay-lamp").materials.size());
  for (size_t i = 0; i < model(name).materials.size(); ++i)
    EXPECT_EQ(model(name).materials[i].role, model("quay-lamp").materials[i].role);
}

TEST_F(DerivedModels, RenamingCopyingAndRemovingFollow) {
  derive("quay-lamp", "quay-lamp");
  ASSERT_TRUE(
      mod::renameThing(state_, mod::Thing::model, "quay-lamp", "lamp-post", prepare::namingValues(*book_)));
  EXPECT_EQ(prepare::beginningOf(state_.models.at("quay-lamp-carried")), "lamp-post");
  examine();
  EXPECT_EQ(found("object.made_from"), std::vector<std::string>{});
  EXPECT_LT(scene::boundsOf(model("quay-lamp-carried")).size().z, 0.71F);
  const auto removed =
      mod::removeThing(state_, mod::Thing::model, "lamp-post", false, prepare::namingValues(*book_));
  ASSERT_FALSE(removed) << "something is made from it";
  EXPECT_THAT(removed.error().text(), HasSubstr("quay-lamp-carried"));
}

TEST_F(DerivedModels, TwoThatAreMadeFromEachOtherEndAtTheirSources) {
  state_.models["twin"] = state_.models.at("quay-lamp");
  const auto begin = [&](const char* to, const char* from) {
    mod::ModelDoc& doc = state_.models[to];
    prepare::insertByRank(doc, prepare::makeStep(doc, "as_model", Json{{"model", from}}));
  };
  begin("twin", "quay-lamp");
  begin("quay-lamp", "twin");
  examine();
  for (const char* name : {"twin", "quay-lamp"}) {
    ASSERT_TRUE(x_->context.models.at(name).prepared.model);
    EXPECT_GT(scene::countsOf(model(name)).triangles, 100U);
  }
  begin("third", "third");
  state_.models["third"].source = state_.models.at("twin").source;
  examine();
  EXPECT_EQ(x_->context.models.at("third").prepared.outcomes.at(0).state, prepare::StepState::missed);
  EXPECT_THAT(x_->context.models.at("third").prepared.outcomes.at(0).misses.at(0), HasSubstr("third"));
}

TEST_F(DerivedModels, AVersionThatFollowsNothingIsToldAndLedBack) {
  derive("quay-lamp", "quay-lamp");
  state_.models["other"] = state_.models.at("quay-lamp");
  for (mod::StepDoc& step : state_.models["quay-lamp-carried"].steps)
    if (step.kind == "as_model") step.values["model"] = "other";
  examine();
  ASSERT_EQ(found("object.made_from").size(), 1U);
  const auto f = std::find_if(x_->findings.begin(), x_->findings.end(),
                              [](const Finding& one) { return one.check == "object.made_from"; });
  ASSERT_EQ(f->mends.size(), 1U);
  f->mends[0].apply(state_);
  examine();
  EXPECT_EQ(found("object.made_from"), std::vector<std::string>{});
  // By hand, from a source of its own: told, and nothing is taken away.
  state_.models["quay-lamp-carried"].steps.clear();
  examine();
  for (const Finding& one : x_->findings)
    EXPECT_TRUE(one.check != "object.made_from" || one.mends.empty()) << one.sentence;
  EXPECT_EQ(found("object.made_from").size(), 1U);
}

TEST_F(DerivedModels, WhatIsNotToBeMadeIsSaidWhy) {
  const auto fault = [&](const char* object, const char* as) {
    mod::ModState next = state_;
    const auto made = prepare::addDerivedModel(next, *book_, object, as, stepsFrom("quay-lamp"));
    EXPECT_FALSE(made);
    return made ? std::string() : made.error().code;
  };
  EXPECT_EQ(fault("nothing", "carried"), "mod.no_object");
  EXPECT_EQ(fault("quay-lamp", "screw"), "model.unknown");
  derive("quay-lamp", "quay-lamp");
  EXPECT_EQ(fault("quay-lamp", "carried"), "piece.most");
  state_.objects["quay-lamp"].kind = "zeppelin";
  EXPECT_EQ(fault("quay-lamp", "carried"), "object.kind");
}

TEST_F(DerivedModels, AVariantThatWasChangedByHandIsToldAndBothCuresHold) {
  state_.objects["two"] = state_.objects.at("quay-lamp");
  state_.objects["two"].follows.name = "quay-lamp";
  state_.objects["two"].card["price"] = 7;
  examine();
  const auto tried = *examiner_.tryMends(x_);
  const auto f = std::find_if(tried->findings.begin(), tried->findings.end(),
                              [](const Finding& one) { return one.check == "object.behind"; });
  ASSERT_NE(f, tried->findings.end());
  EXPECT_THAT(f->sentence, HasSubstr("Price"));
  ASSERT_EQ(f->mends.size(), 2U) << "what was tried beside its design is as it would be with it";
  mod::ModState as_design = state_, own = state_;
  f->mends[0].apply(as_design);
  f->mends[1].apply(own);
  EXPECT_EQ(as_design.objects.at("two").card, state_.objects.at("quay-lamp").card);
  EXPECT_EQ(own.objects.at("two").card["price"], 7);
  EXPECT_EQ(own.objects.at("two").follows.own, std::vector<std::string>{"/card/price"});
}

TEST_F(DerivedModels, OnlyWhatIsMadeFromAChangedModelIsPreparedAgain) {
  derive("quay-lamp", "quay-lamp");
  state_.models["other"] = state_.models.at("quay-lamp");
  examine();
  const scene::Model* small = &model("quay-lamp-carried");
  mod::ModelDoc& other = state_.models["other"];
  prepare::insertByRank(other, prepare::makeStep(other, "scale", Json{{"factor", 1.1}}));
  examine();
  EXPECT_EQ(&model("quay-lamp-carried"), small);
  mod::ModelDoc& lamp = state_.models["quay-lamp"];
  prepare::insertByRank(lamp, prepare::makeStep(lamp, "scale", Json{{"factor", 1.1}}));
  examine();
  EXPECT_NE(&model("quay-lamp-carried"), small);
  // One that was not there, and is.
  mod::ModelDoc& carried = state_.models["quay-lamp-carried"];
  for (mod::StepDoc& step : carried.steps)
    if (step.kind == "as_model") step.values["model"] = "later";
  examine();
  EXPECT_EQ(x_->context.models.at("quay-lamp-carried").prepared.outcomes.at(0).state,
            prepare::StepState::missed);
  state_.models["later"] = state_.models.at("other");
  examine();
  EXPECT_EQ(x_->context.models.at("quay-lamp-carried").prepared.outcomes.at(0).state,
            prepare::StepState::good);
}

class DerivedCoats : public DerivedModels {
 protected:
  DerivedCoats() : DerivedModels("slipway") {}
};

TEST_F(DerivedCoats, EachSizeBeginsAsThatSizeOfTheOther) {
  state_.models["sea-coat"].variants = {{"broad", "sea-coat-broad"}};
  mod::ModelDoc other;
  other.source = state_.models.at("sea-coat").source;
  other.variants = state_.models.at("sea-coat").variants;
  ASSERT_FALSE(other.variants.empty());
  prepare::insertByRank(other, prepare::makeStep(other, "as_model", Json{{"model", "sea-coat"}}));
  state_.models["rain-coat"] = other;
  examine();
  const ModelState &coat = x_->context.models.at("sea-coat"), &rain = x_->context.models.at("rain-coat");
  for (const auto& [size, source] : other.variants) {
    const glm::vec3 theirs = scene::boundsOf(*coat.variants.at(size).prepared.model).size(),
                    ours = scene::boundsOf(*rain.variants.at(size).prepared.model).size();
    EXPECT_EQ(theirs, ours);
    EXPECT_NE(ours, scene::boundsOf(*rain.prepared.model).size()) << "sizes differ";
  }
}

}  // namespace
}  // namespace rakugo::check
