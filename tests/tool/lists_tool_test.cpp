// `lists`, `sound` and fields with rows on the command line: each test looks at what was saved.
#include <gmock/gmock.h>

#include "base/files.h"
#include "formats/sounds.h"
#include "mod/store.h"
#include "support/made_sounds.h"
#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

using test::ToolTest;
using testing::HasSubstr;
using testing::Not;

class ListsToolTest : public ToolTest {
 protected:
  mod::ObjectDoc object(const char* name) {
    return std::as_const(mod::loadMod(root_ / "tidewater")->objects).at(name);
  }
};

TEST_F(ListsToolTest, AThingEntersChangesAndLeavesTheGamesLists) {
  const std::string m = mod("tidewater");
  ASSERT_EQ(
      run("lists put " + m + " lantern workbench --value hours=3 --value 'needs=good/brass,2; good/oil,1'")
          .exit,
      0);
  ASSERT_EQ(run("lists put " + m + " lantern workbench").exit, 0);
  EXPECT_EQ(object("lantern").lists.size(), 2U);
  EXPECT_EQ(object("lantern").lists[0].values["needs"][1]["good"], "good/oil");
  ASSERT_EQ(run("lists set " + m + " lantern workbench --entry 2 --value makes=4 --value hours=").exit, 0);
  EXPECT_EQ(object("lantern").lists[1].values["makes"], 4);
  EXPECT_THAT(run("check " + m).out, HasSubstr("Workbench, entry 2: Takes is empty"));
  EXPECT_THAT(run("lists show " + m).out, HasSubstr("lantern: Workbench"));
  ASSERT_EQ(run("lists take " + m + " lantern workbench --entry 2").exit, 0);
  EXPECT_EQ(object("lantern").lists.size(), 1U);
  EXPECT_THAT(run("check " + m).out, Not(HasSubstr("Workbench")));
  // What cannot be is said, and nothing is changed.
  EXPECT_THAT(run("lists put " + m + " lantern broker").err, HasSubstr("takes no gear"));
  EXPECT_THAT(run("lists put " + m + " lantern pawnshop").err, HasSubstr("has no list"));
  EXPECT_THAT(run("lists set " + m + " lantern workbench --value colour=red").err, HasSubstr("asks for no"));
  EXPECT_THAT(run("lists set " + m + " lantern workbench --value makes=many").err,
              HasSubstr("a whole number"));
  EXPECT_THAT(run("lists take " + m + " lantern workbench --entry 2").err, HasSubstr("no entry 2"));
  EXPECT_EQ(object("lantern").lists.size(), 1U);
}

TEST_F(ListsToolTest, ACurveIsSetAndReferencesFollowANewName) {
  const std::string m = mod("tidewater");
  ASSERT_EQ(run("set " + m + " dinghy helm '0,4; 4,20; 8,12'").exit, 0);
  EXPECT_EQ(object("dinghy").card["helm"][2]["rate"], 12.0);
  EXPECT_THAT(run("set " + m + " dinghy helm '0,fast'").err, HasSubstr("a number"));
  ASSERT_EQ(run("lists put " + m + " lantern workbench --value 'needs=objects/lantern,1'").exit, 0);
  ASSERT_EQ(run("object rename " + m + " lantern lamp").exit, 0);
  EXPECT_EQ(object("lamp").lists[0].values["needs"][0]["good"], "objects/lamp");
  ASSERT_EQ(run("lists set " + m + " lamp workbench --value 'needs=objects/lantern,1'").exit, 0);
  const auto said = run("check " + m).out;
  EXPECT_THAT(said, HasSubstr("which the mod does not have"));
}

TEST_F(ListsToolTest, ASoundIsAddedLookedAtCutAndBuilt) {
  const std::string m = mod("tidewater");
  ASSERT_TRUE(base::writeFileAtomic(root_ / "engine.wav", test::wavOf(test::madeTone(83.3, 0.4, 1.7))));
  ASSERT_EQ(run("add " + m + " " + at("engine.wav")).exit, 0);
  ASSERT_EQ(run("piece sound " + m + " dinghy engine-sound --name engine --sound sources/engine").exit, 0);
  EXPECT_EQ(object("dinghy").pieces.back().values["sounds"], base::Json::array({"sources/engine"}));
  EXPECT_THAT(run("sound check " + m + " dinghy engine").out, HasSubstr("no click is heard"));
  ASSERT_EQ(run("piece set " + m + " dinghy engine --value blend_s=0 --value pitch=0.5..2").exit, 0);
  EXPECT_EQ(object("dinghy").pieces.back().values["pitch"], base::Json::parse("[0.5, 2.0]"));
  EXPECT_THAT(run("sound check " + m + " dinghy engine").out, HasSubstr("one hears a click"));
  EXPECT_THAT(run("check " + m).out, HasSubstr("clicks each time it begins again"));
  ASSERT_EQ(run("sound check " + m + " dinghy engine --find-loop --to " + at("made.wav")).exit, 0);
  EXPECT_GT(object("dinghy").pieces.back().values["to_s"].get<double>(), 1.5);
  EXPECT_THAT(run("check " + m).out, Not(HasSubstr("clicks")));
  const auto made = formats::decodeSound(*base::readFile(root_ / "made.wav"), "made.wav");
  ASSERT_TRUE(made);
  EXPECT_EQ(made->info.rate_hz, 32000U);
  ASSERT_EQ(run("build " + m + " -o " + at("out.rkb")).exit, 0);
  EXPECT_THAT(run("list " + at("out.rkb")).out, HasSubstr("sound/engine"));
  EXPECT_EQ(run("verify " + at("out.rkb")).exit, 0);
  EXPECT_THAT(run("sound check " + m + " dinghy bell").err, HasSubstr("has no sound bell"));
}

TEST_F(ListsToolTest, SetUpIsTakenFromAnotherObject) {
  const std::string m = mod("tidewater"), other = mod("slipway");
  ASSERT_EQ(run("object new " + m + " punt --kind craft dinghy").exit, 0) << run("object new --help").out;
  EXPECT_THAT(run("object take-from " + m + " punt dinghy").out,
              testing::AllOf(HasSubstr("field price: 3800 pennies (missing here)"), Not(HasSubstr("took"))));
  ASSERT_EQ(run("object take-from " + m + " punt dinghy --take price --take mass").exit, 0);
  EXPECT_EQ(object("punt").card["price"], 3800);
  EXPECT_EQ(object("punt").card.size(), 2U);
  EXPECT_THAT(run("object take-from " + m + " punt dinghy").out,
              HasSubstr("price: 3800 pennies (the same here)"));
  ASSERT_EQ(run("object take-from " + m + " punt tug --of " + other + " --all").exit, 0);
  EXPECT_GT(object("punt").card.size(), 3U);
  EXPECT_THAT(run("object take-from " + m + " punt dinghy --take wings").err,
              HasSubstr("offers no \"wings\""));
  EXPECT_THAT(run("object take-from " + m + " punt whale").err, HasSubstr("no object"));
}

}  // namespace
}  // namespace rakugo
