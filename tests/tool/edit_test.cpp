// What the window edits, said on the command line: each test looks at the saved mod.
#include <gmock/gmock.h>

#include <set>
#include <thread>

#include "mod/store.h"
#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using test::Ran;
using test::ToolTest;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Not;

mod::ModState saved(const fs::path& folder) {
  auto state = mod::loadMod(folder);
  EXPECT_TRUE(state) << state.error().text();
  return *state;
}

class EditTest : public ToolTest {
 protected:
  // The checks that find something, each as often as it does.
  std::multiset<std::string> checksOf(const std::string& folder) {
    std::multiset<std::string> out;
    const base::Json report = run("check --json " + folder).json();
    for (const auto& one : report["findings"]) out.insert(one["check"]);
    return out;
  }
  [[nodiscard]] mod::ModState lamp() const { return saved(root_ / "first-lamp"); }
};

TEST_F(EditTest, StepsAreAddedSetMovedSwitchedAndRemoved) {
  const std::string m = mod("first-lamp") + " quay-lamp ";
  EXPECT_EQ(run("step add " + m + "read_lengths unit=cm").exit, 0);
  EXPECT_EQ(run("step add " + m + "bake").exit, 0);
  EXPECT_EQ(run("step add " + m + "rotate about=forward degrees=12,5 --at 1").exit, 0);
  const Ran list = run("step list --json " + m);
  EXPECT_EQ(list.exit, 0);
  ASSERT_EQ(list.json()["steps"].size(), 3U);
  EXPECT_EQ(list.json()["steps"][0]["sentence"], "Turn everything about forward by 12.5 degrees");
  EXPECT_EQ(list.json()["steps"][1]["did"], "lengths times 0.01");
  EXPECT_EQ(run("step set " + m + "s3 degrees=-3 about=up").exit, 0);
  EXPECT_EQ(run("step move " + m + "1 3").exit, 0);
  EXPECT_EQ(run("step off " + m + "s1").exit, 0);
  const auto steps = lamp().models.at("quay-lamp").steps;
  ASSERT_EQ(steps.size(), 3U);
  EXPECT_EQ(steps[2].kind, "rotate");
  EXPECT_EQ(steps[2].values, base::Json({{"about", "up"}, {"degrees", -3.0}}));
  EXPECT_FALSE(steps[0].enabled);
  EXPECT_EQ(run("step on " + m + "s1").exit, 0);
  EXPECT_EQ(run("step remove " + m + "2").exit, 0);
  EXPECT_EQ(lamp().models.at("quay-lamp").steps.size(), 2U);
}

TEST_F(EditTest, StepsThatCannotBeAreToldAndTheModStays) {
  const std::string m = mod("first-lamp") + " quay-lamp ";
  const auto refusal = [&](const std::string& arguments) {
    const Ran ran = run("step " + arguments);
    EXPECT_EQ(ran.exit, 2) << arguments;
    return ran.err;
  };
  const auto before = mod::documentTexts(lamp());
  EXPECT_THAT(refusal("add " + m + "scal"), HasSubstr("\"scale\" is probably meant"));
  EXPECT_THAT(refusal("add " + m + "scale factor=0"), HasSubstr("0.000001 to 1,000,000, and not 0"));
  EXPECT_THAT(refusal("add " + m + "scale factr=2"), HasSubstr("\"factor\" is probably meant"));
  EXPECT_THAT(refusal("add " + m + "scale 2"), HasSubstr("KEY=VALUE"));
  EXPECT_THAT(refusal("add " + m + "read_lengths unit=furlong"), HasSubstr("mm, cm, m, in or ft"));
  EXPECT_THAT(refusal("set " + m + "s1 factor=2"), HasSubstr("has none yet"));
  EXPECT_THAT(refusal("list " + at("first-lamp") + " lamp"), HasSubstr("quay-lamp"));
  EXPECT_EQ(mod::documentTexts(lamp()), before);
  EXPECT_EQ(run("step add " + m + "drop parts=nothing").exit, 1) << "it is there, and misses what it names";
  EXPECT_EQ(lamp().models.at("quay-lamp").steps.size(), 1U);
}

TEST_F(EditTest, EveryKindOfStepIsListedWithItsValues) {
  const base::Json kinds = run("step kinds --json").json();
  EXPECT_GE(kinds.size(), 59U);
  EXPECT_THAT(run("step kinds").out, HasSubstr("least_deg: a number, 0 to 90 degrees"));
}

TEST_F(EditTest, MendsAreListedAndAppliedCausesFirst) {
  const std::string m = mod("first-lamp");
  const base::Json list = run("mend --json " + m).json();
  EXPECT_FALSE(list["applied"]);
  EXPECT_GE(list["mends"].size(), 8U);
  EXPECT_TRUE(lamp().models.at("quay-lamp").steps.empty()) << "nothing was chosen";
  EXPECT_EQ(run("mend " + m + " --check size.unit").exit, 0);
  ASSERT_EQ(lamp().models.at("quay-lamp").steps.size(), 1U);
  // What leaves nothing to choose, and no more: which material is the lamp stays open.
  const base::Json sure = run("mend --json " + m + " --sure").json();
  EXPECT_GT(sure["mends"].size(), 2U);
  EXPECT_THAT(sure.dump(), Not(HasSubstr("role.missing")));
  const base::Json all = run("mend --json " + m + " --all").json();
  EXPECT_EQ(all["stops"], 0);
  EXPECT_EQ(run("check " + m).exit, 0);
  EXPECT_THAT(run("mend " + m + " --check size.unt").err, HasSubstr("\"size.unit\" is probably meant"));
}

TEST_F(EditTest, FindingsAreSetAsideWithAReasonAndTakenUp) {
  const std::string m = mod("first-lamp");
  EXPECT_EQ(run("aside " + m + " part.stray 'meant so'").exit, 0);
  ASSERT_EQ(lamp().card.set_aside.size(), 1U);
  EXPECT_EQ(lamp().card.set_aside[0].reason, "meant so");
  EXPECT_EQ(run("aside " + m + " part.stray again").exit, 2) << "it is aside already";
  EXPECT_EQ(run("aside " + m + " part.stray --take-up").exit, 0);
  EXPECT_TRUE(lamp().card.set_aside.empty());
  EXPECT_THAT(run("aside " + m + " field.empty never").err, HasSubstr("cannot be set aside"));
}

TEST_F(EditTest, FieldsAreSetAsTheirTypesWant) {
  const std::string m = mod("first-lamp");
  EXPECT_EQ(run("set " + m + " quay-lamp price 95").exit, 0);
  EXPECT_EQ(run("set " + m + " quay-lamp lit no").exit, 0);
  EXPECT_EQ(run("set " + m + " quay-lamp title 'Old lamp'").exit, 0);
  EXPECT_EQ(run("set " + m + " . author Imke").exit, 0);
  EXPECT_EQ(run("set " + m + " quay-lamp icon " + at("first-lamp/sources/quay-lamp/textures/brass.png")).exit,
            0);
  const auto object = lamp().objects.at("quay-lamp");
  EXPECT_EQ(object.card["price"], 95);
  EXPECT_EQ(object.card["lit"], false);
  EXPECT_EQ(object.title, "Old lamp");
  EXPECT_EQ(lamp().card.author, "Imke");
  EXPECT_EQ(object.icon, "icons/quay-lamp.png");
  EXPECT_EQ(lamp().icons.count("icons/quay-lamp.png"), 1U);
  EXPECT_THAT(run("fields " + m + " quay-lamp").out, HasSubstr("price: 95"));
  EXPECT_EQ(run("set " + m + " quay-lamp price --unset").exit, 0);
  EXPECT_FALSE(lamp().objects.at("quay-lamp").card.contains("price"));
  EXPECT_THAT(run("set " + m + " quay-lamp price dear").err, HasSubstr("is no value of Price"));
  EXPECT_THAT(run("set " + m + " quay-lamp shelf attic").err, HasSubstr("Shelf takes one of"));
  EXPECT_THAT(run("set " + m + " quay-lamp prise 3").err, HasSubstr("price is probably meant"));
  EXPECT_THAT(run("set " + m + " lamp price 3").err, HasSubstr("quay-lamp"));
  EXPECT_EQ(run("set " + m + " quay-lamp price").exit, 2);
  EXPECT_EQ(run("set " + m + " quay-lamp icon " + at("first-lamp/mod.json")).exit, 2) << "that is no picture";
}

TEST_F(EditTest, PointsArePlacedTurnedAndTakenAway) {
  const std::string m = mod("first-lamp") + " quay-lamp ";
  EXPECT_EQ(run("point set " + m + "light 0.5 -0.25 2 --turn 0 0 90").exit, 0);
  ASSERT_EQ(lamp().models.at("quay-lamp").points.size(), 1U);
  const auto point = lamp().models.at("quay-lamp").points[0];
  EXPECT_THAT(point.position_m, ElementsAre(0.5, -0.25, 2.0));
  EXPECT_NEAR(point.turn[2], 0.70710678, 1e-6) << "a quarter turn about the game's up, which is +Z";
  EXPECT_EQ(run("point set " + m + "light 0 0 1").exit, 0);
  EXPECT_NEAR(lamp().models.at("quay-lamp").points[0].turn[2], 0.70710678, 1e-6) << "its turn stays";
  EXPECT_EQ(run("point list --json " + m).json()[0]["id"], "light");
  EXPECT_EQ(run("point pair " + m + "light notice").exit, 0);
  EXPECT_EQ(run("point set " + m + "notice 1 2 3").exit, 0);
  EXPECT_THAT(lamp().models.at("quay-lamp").points[0].position_m, ElementsAre(1, -2, 3)) << "it follows";
  EXPECT_THAT(run("point list " + m).out, HasSubstr("a pair with notice"));
  EXPECT_THAT(run("point pair " + m + "lamp notice").err, HasSubstr("light"));
  EXPECT_EQ(run("point pair " + m + "light").exit, 0);
  EXPECT_EQ(run("point set " + m + "notice 0 0 0").exit, 0);
  EXPECT_THAT(lamp().models.at("quay-lamp").points[0].position_m, ElementsAre(1, -2, 3))
      << "no pair any more";
  EXPECT_EQ(run("point remove " + m + "notice").exit, 0);
  EXPECT_EQ(run("point remove " + m + "lamp").exit, 2);
  EXPECT_EQ(run("point remove " + m + "light").exit, 0);
  EXPECT_TRUE(lamp().models.at("quay-lamp").points.empty());
}

TEST_F(EditTest, ThingsAreRenamedCopiedAndRemovedWithTheirFolders) {
  const std::string m = mod("first-lamp");
  const auto before = checksOf(m);
  EXPECT_EQ(run("source rename " + m + " quay-lamp export").exit, 0);
  EXPECT_EQ(lamp().models.at("quay-lamp").source, "export");
  EXPECT_TRUE(fs::exists(root_ / "first-lamp/sources/export/quay_lamp.glb"));
  EXPECT_FALSE(fs::exists(root_ / "first-lamp/sources/quay-lamp"));
  EXPECT_EQ(run("model rename " + m + " quay-lamp post").exit, 0);
  EXPECT_EQ(run("object rename " + m + " quay-lamp light").exit, 0);
  EXPECT_EQ(lamp().objects.at("light").pieces[0].model, "post");
  EXPECT_EQ(checksOf(m), before) << "no reference was lost";
  EXPECT_EQ(run("source copy " + m + " export second").exit, 0);
  EXPECT_EQ(run("model new " + m + " second").exit, 0);
  EXPECT_EQ(run("object new " + m + " pair post second --kind fitting").exit, 0);
  EXPECT_EQ(lamp().objects.at("pair").pieces.size(), 2U);
  EXPECT_THAT(run("model list " + m).out, HasSubstr("used by object pair, piece second"));
  EXPECT_THAT(run("model remove " + m + " second").err, HasSubstr("used by object pair, piece second"));
  EXPECT_THAT(run("source remove " + m + " second --references").err, HasSubstr("Remove the models"));
  EXPECT_EQ(run("model remove " + m + " second --references").exit, 0);
  EXPECT_EQ(run("source remove " + m + " second").exit, 0);
  EXPECT_FALSE(fs::exists(root_ / "first-lamp/sources/second"));
  EXPECT_EQ(run("object copy " + m + " light dim").exit, 0);
  EXPECT_EQ(run("object remove " + m + " light").exit, 0);
  EXPECT_THAT(run("object new " + m + " x --kind fiting").err, HasSubstr("fitting"));
  EXPECT_EQ(run("source set " + m + " export licence CC0-1.0").exit, 0);
  EXPECT_EQ(lamp().sources.at("export").licence, "CC0-1.0");
}

TEST_F(EditTest, WhereASourceCameFromGoesWithItsName) {
  fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/first-lamp/sources/quay-lamp/quay_lamp.glb",
           root_ / "lamp.glb");
  ASSERT_EQ(run("new " + at("m") + " --rulebook kelpwick --title Lamp").exit, 0);
  ASSERT_EQ(run("add " + at("m") + " " + at("lamp.glb")).exit, 0);
  ASSERT_EQ(run("source rename " + at("m") + " lamp export").exit, 0);
  EXPECT_THAT(run("newer " + at("m") + " export").out, HasSubstr("holds the same model as export"));
  EXPECT_EQ(run("newer " + at("m") + " lamp").exit, 2);
}

TEST_F(EditTest, SizesAreTiedAndUntied) {
  const std::string m = mod("slipway");
  const auto coat = [&] { return saved(root_ / "slipway").models.at("sea-coat"); };
  EXPECT_EQ(run("model size " + m + " sea-coat broad sea-coat-broad").exit, 0);
  EXPECT_EQ(coat().variants.at("broad"), "sea-coat-broad");
  EXPECT_EQ(run("model size " + m + " sea-coat broad nowhere").exit, 2);
  EXPECT_THAT(run("model size " + m + " sea-coat huge sea-coat-broad").err, HasSubstr("broad"));
  EXPECT_EQ(run("model size " + m + " sea-coat broad").exit, 0);
  EXPECT_TRUE(coat().variants.empty());
}

TEST_F(EditTest, WatchSaysALineForEachChange) {
  const std::string m = mod("lamplight");
  std::thread later([&] {
    // Once the first line is written, an edit that stops the game.
    const auto lines = [&] {
      const auto out = base::readFile(root_ / "out");
      return out ? std::count(out->begin(), out->end(), std::byte{'\n'}) : 0;
    };
    for (int i = 0; i < 1200 && lines() == 0; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(50));
    auto state = saved(root_ / "lamplight");
    const auto before = state;
    state.objects.front().card.erase("price");
    EXPECT_TRUE(mod::saveMod(root_ / "lamplight", state, before));
  });
  const Ran ran = run("watch --json " + m + " -o " + at("made.rkb") + " --rounds 2");
  later.join();
  EXPECT_EQ(ran.exit, 1) << ran.err;
  const size_t line = ran.out.find('\n');
  const auto first = base::parseJson(ran.out.substr(0, line), "out"),
             second = base::parseJson(ran.out.substr(line), "out");
  ASSERT_TRUE(first && second) << ran.out;
  EXPECT_EQ((*first)["stops"], 0);
  EXPECT_TRUE(fs::exists(root_ / "made.rkb"));
  EXPECT_EQ((*second)["stops"], 1);
  EXPECT_THAT((*second)["first"].get<std::string>(), HasSubstr("Price"));
}

TEST_F(EditTest, TheFirstLampIsOneScriptFromNothingToInstalled) {
  const std::string script = "PATH='" RAKUGO_BIN_DIR "':$PATH '" RAKUGO_SOURCE_DIR
                             "/examples/first-lamp.sh' '" +
                             root_.string() + "' >'" + (root_ / "said").string() + "' 2>&1";
  ASSERT_EQ(std::system(script.c_str()), 0) << base::asText(*base::readFile(root_ / "said"));
  const base::Json report = run("check --json " + at("quay-lamp")).json();
  EXPECT_TRUE(report["findings"].empty()) << report.dump();
  EXPECT_THAT(run("list --game " + at("game")).out, HasSubstr("Quay lamp 1.0.0 by Marn"));
  EXPECT_EQ(run("verify " + at("quay-lamp.rkb")).exit, 0);
}

}  // namespace
}  // namespace rakugo
