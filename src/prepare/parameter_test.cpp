// What follows from the rows of the table of steps: ranges, words of a sentence, what is typed, what is
// referred to.
#include "prepare/parameter.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>

#include "base/files.h"
#include "prepare/step.h"
#include "support/applied_steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

TEST(StepTable, EachRowIsWhole) {
  std::set<std::string> ids;
  for (const StepKind& kind : stepKinds()) {
    EXPECT_TRUE(ids.insert(kind.id).second) << kind.id;
    std::set<std::string> keys;
    for (const Parameter& p : kind.parameters) {
      EXPECT_TRUE(keys.insert(p.key).second) << kind.id << " " << p.key;
      EXPECT_FALSE(p.title.empty()) << kind.id << " " << p.key;
      EXPECT_EQ(misfit(p, p.initial), std::nullopt) << kind.id << " " << p.key;
      EXPECT_NE(kind.sentence.find("{" + p.key + "}"), std::string::npos) << kind.id << " " << p.key;
    }
    // Every value of the sentence is a parameter, and brackets are closed.
    for (size_t at = 0; (at = kind.sentence.find('{', at)) != std::string::npos; ++at) {
      const size_t end = kind.sentence.find('}', at);
      ASSERT_NE(end, std::string::npos) << kind.id;
      EXPECT_EQ(keys.count(kind.sentence.substr(at + 1, end - at - 1)), 1U) << kind.id;
    }
    for (size_t at = 0; (at = kind.sentence.find('[', at)) != std::string::npos; ++at) {
      const size_t bar = kind.sentence.find('|', at), end = kind.sentence.find(']', at);
      ASSERT_TRUE(bar < end && end != std::string::npos) << kind.id;
    }
  }
}

TEST(StepTable, IsTheOneInTheDocument) {
  const auto document = base::readFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / "docs/mod-folder.md");
  ASSERT_TRUE(document);
  EXPECT_NE(base::asText(*document).find(stepsMarkdown()), std::string_view::npos)
      << "put what rakugo-tool step kinds --markdown prints into docs/mod-folder.md";
}

TEST(StepTable, NumbersBeyondTheirRangeAreToldAndChangeNothing) {
  size_t tried = 0;
  for (const StepKind& kind : stepKinds())
    for (const Parameter& p : kind.parameters) {
      if (p.type != ParameterType::number && p.type != ParameterType::count) continue;
      const double low = p.least - std::max(1e-9, std::abs(p.least) * 1e-6),
                   high = p.most + std::max(1e-9, std::abs(p.most) * 1e-6);
      for (const double bad : {low, high}) {
        scene::Model model = test::modelOf(test::cutCube(1));
        const StepOutcome out = test::applyStep(model, kind.id, Json{{p.key, bad}});
        EXPECT_EQ(out.state, StepState::wrong) << kind.id << " " << p.key << " " << bad;
        EXPECT_THAT(out.misses, ElementsAre(HasSubstr("The " + p.title + " is a "))) << kind.id;
        ++tried;
      }
      EXPECT_EQ(misfit(p, Json(p.most)), std::nullopt) << kind.id << " " << p.key;
      EXPECT_EQ(misfit(p, Json(p.least)).has_value(), p.above_least) << kind.id << " " << p.key;
      EXPECT_TRUE(misfit(p, Json("7")).has_value());
    }
  EXPECT_GT(tried, 50U);
}

TEST(StepTable, WhatIsAbsentHasItsInitialValue) {
  scene::Model model = test::modelOf(test::cutCube(1));
  EXPECT_EQ(test::applyStep(model, "read_lengths").state, StepState::good);
  EXPECT_DOUBLE_EQ(model.frame.read_unit_m, 0.01);
}

TEST(Misfit, SaysTheRangeInASentence) {
  EXPECT_EQ(misfit(*findStepKind("weld")->find("distance_mm"), Json(2000)).value_or(""),
            "The distance is a number, 0 to 1000 mm, and not 2000.");
  EXPECT_EQ(misfit(*findStepKind("mend_weights")->find("most"), Json(2.5)).value_or(""),
            "The number of bones is a whole number, 1 to 8, and not 2.5.");
  EXPECT_EQ(misfit(*findStepKind("smooth_weights")->find("percent"), Json(0)).value_or(""),
            "The share is a number, above 0 and at most 100 %, and not 0.");
  EXPECT_EQ(misfit(*findStepKind("scale")->find("factor"), Json(nullptr)).value_or(""),
            "The factor is a number, 0.000001 to 1,000,000.");
  EXPECT_EQ(misfit(*findStepKind("read_lengths")->find("unit"), Json("furlong")).value_or(""),
            "The unit is one of mm, cm, m, in or ft.");
  EXPECT_EQ(misfit(*findStepKind("drop")->find("parts"), Json("hull")).value_or(""),
            "The parts are a list of texts.");
}

TEST(TypedValue, TakesWhatAPersonTypes) {
  const Parameter length = numberParameter("n", "length", 1).between(-10, 10).in("mm");
  EXPECT_EQ(*typedValue(length, " 1,5 "), Json(1.5));
  EXPECT_EQ(*typedValue(length, "−3"), Json(-3.0));
  EXPECT_EQ(*typedValue(length, "+2"), Json(2.0));
  for (const char* bad : {"", "x", "1 mm", "11", "nan", "inf", "1e", "0x1"}) {
    const auto refused = typedValue(length, bad);
    ASSERT_FALSE(refused) << bad;
    EXPECT_EQ(refused.error().code, "step.value");
    EXPECT_EQ(refused.error().place.path, "n");
  }
  EXPECT_EQ(*typedValue(pointParameter("p", "place"), "1, -2, 0.5"), Json({1.0, -2.0, 0.5}));
  EXPECT_EQ(*typedValue(pointParameter("p", "place"), "[1, -2.5, 0]"), Json({1, -2.5, 0}));
  EXPECT_FALSE(typedValue(pointParameter("p", "place"), "1, 2"));
  EXPECT_EQ(*typedValue(referenceParameter("parts", "parts", ParameterType::parts), "hull, mast/flag"),
            Json({"hull", "mast/flag"}));
  EXPECT_EQ(
      *typedValue(referenceParameter("names", "names", ParameterType::bone_names), R"({"hip": "Bone.1"})"),
      Json({{"hip", "Bone.1"}}));
  EXPECT_FALSE(typedValue(referenceParameter("pick", "pick", ParameterType::pick), "hull"));
  EXPECT_FALSE(typedValue(choiceParameter("c", "way", {{"a", "A"}, {"b", "B"}}), "A"));
}

TEST(Sentences, ShowWhatIsInBracketsWhereItsConditionHolds) {
  const auto text = [](const char* kind, const Json& values) {
    return sentenceText(makeStep({}, kind, values));
  };
  EXPECT_EQ(text("origin", {{"to", "floor"}}), "Put the origin at the floor, straight below");
  EXPECT_EQ(text("origin", {{"to", "point"}, {"point", {1, 2.5, 0}}}),
            "Put the origin at the point 1, 2.5, 0");
  EXPECT_EQ(text("smooth_weights", Json::object()),
            "Smooth weights 3 times, 50 % of the way to what is beside");
  EXPECT_EQ(text("smooth_weights", {{"pick", {{"part", "a/sleeve"}}}, {"soft_mm", 4}}),
            "Smooth weights of what was picked of sleeve, soft over 4 mm, 3 times, 50 % of the way to what "
            "is beside");
  EXPECT_EQ(text("copy_weights", {{"model", "tunic"}}),
            "Take weights from the model tunic, where it lies within 100 mm");
  EXPECT_EQ(text("copy_weights", Json::object()),
            "Take weights from the game's example, where it lies within 100 mm");
  EXPECT_EQ(text("name_bones", {{"names", {{"hip", "r/Bone"}, {"knee", "r/Bone.1"}}}}),
            "Give 2 bones (Bone is hip, Bone.1 is knee) the game's names");
  EXPECT_EQ(text("region_nearest", Json::object()),
            "Take regions from the game's body where it is no farther than 100 mm");
}

TEST(References, AreFoundInValuesOfEveryShape) {
  const auto keys = [](ParameterType type, Json value) {
    std::vector<std::string> out;
    eachReference(referenceParameter("v", "v", type), value,
                  [&](Json& one, Reference) { out.push_back(one.get<std::string>()); });
    return out;
  };
  EXPECT_THAT(keys(ParameterType::part, "hull"), ElementsAre("hull"));
  EXPECT_THAT(keys(ParameterType::parts, {"a", 3, "b"}), ElementsAre("a", "b"));
  EXPECT_THAT(keys(ParameterType::bone_names, {{"hip", "Bone"}}), ElementsAre("Bone"));
  EXPECT_THAT(keys(ParameterType::pick, {{"part", "hull"}, {"material", "oak"}, {"eye", {0, 0, 0}}}),
              ElementsAre("hull", "oak"));
  EXPECT_THAT(keys(ParameterType::role, "paint"), IsEmpty());
  EXPECT_THAT(keys(ParameterType::text, "hull"), IsEmpty());
}

}  // namespace
}  // namespace rakugo::prepare
