// `surface` and `picture` on the command line: each test looks at what was saved.
#include <gmock/gmock.h>

#include "formats/pictures/picture_traits.h"
#include "mod/store.h"
#include "support/made_pictures.h"
#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

using test::Ran;
using test::ToolTest;
using testing::Contains;
using testing::HasSubstr;

class SurfaceToolTest : public ToolTest {
 protected:
  base::Json materialOf(const base::Json& report, const std::string& name) {
    for (const auto& one : report["materials"])
      if (one["name"] == name) return one;
    return {};
  }
};

TEST_F(SurfaceToolTest, SaysWhatAModelIsClothedInAndGivesLikelyRolesWhenAsked) {
  const std::string m = mod("first-lamp") + " quay-lamp";
  const base::Json report = run("surface --json " + m).json();
  const base::Json iron = materialOf(report, "iron_coat");
  EXPECT_EQ(iron["role"], "");
  EXPECT_EQ(iron["proposal"]["role"], "paint");
  EXPECT_FALSE(iron["proposal"]["reasons"].empty());
  EXPECT_EQ(iron["slots"][0]["slot"], "base colour");
  EXPECT_EQ(iron["slots"][0]["width"], 512);
  // All mip levels of 512 x 512 pixels of four bytes.
  EXPECT_EQ(iron["slots"][0]["bytes"], 1398100);
  EXPECT_EQ(materialOf(report, "oak")["slots"][0]["found"], false);
  bool missing = false;
  for (const auto& fault : report["faults"]) missing = missing || fault["check"] == "picture.missing";
  EXPECT_TRUE(missing);
  EXPECT_TRUE(mod::loadMod(root_ / "first-lamp")->models.at("quay-lamp").steps.empty())
      << "nothing is given by itself";
  const Ran given = run("surface --give --json " + m);
  EXPECT_EQ(given.exit, 0);
  EXPECT_EQ(given.json()["given"].size(), 2U);
  const base::Json after = run("surface --json " + m).json();
  EXPECT_EQ(materialOf(after, "iron_coat")["role"], "paint");
  EXPECT_EQ(materialOf(after, "pane")["role"], "glass");
  EXPECT_NE(run("surface " + at("first-lamp") + " none").exit, 0);
}

TEST_F(SurfaceToolTest, MaterialsThatCanBeOneAreMergedByAStepThatIsSaved) {
  const std::string folder = mod("slipway");
  const base::Json report = run("surface --json " + folder + " tug").json();
  ASSERT_FALSE(report["can_be_one"].empty());
  for (const auto& one : report["apart"]) EXPECT_FALSE(one["why"].get<std::string>().empty());
  std::string keys;
  for (const auto& key : report["can_be_one"][0]) keys += (keys.empty() ? "" : ",") + key.get<std::string>();
  ASSERT_EQ(run("step add " + at("slipway") + " tug atlas name=sheet side=512 'materials=" + keys + "'").exit,
            0);
  const base::Json after = run("surface --json " + at("slipway") + " tug").json();
  EXPECT_EQ(after["materials"].size(), report["materials"].size() - report["can_be_one"][0].size() + 1);
  EXPECT_EQ(materialOf(after, "sheet")["slots"][0]["format"], "PNG");
  EXPECT_EQ(mod::loadMod(root_ / "slipway")->models.at("tug").steps.back().kind, "atlas");
}

TEST_F(SurfaceToolTest, PicturesAreConvertedAndResizedByWhatTheyHold) {
  const auto from = root_ / "dents.png";
  ASSERT_TRUE(base::writeFileAtomic(from, formats::encodePng(test::dentedNormals(100, true))));
  for (const char* format : {"png", "tga", "webp", "jpg"}) {
    const auto to = root_ / (std::string("out.") + format);
    const Ran ran = run("picture --json --as " + std::string(format) +
                        " --use normal --side 64 --powers -o " + to.string() + " " + from.string());
    ASSERT_EQ(ran.exit, 0) << ran.out;
    const auto bytes = base::readFile(to);
    ASSERT_TRUE(bytes);
    EXPECT_EQ(ran.json()["bytes"], bytes->size());
    const auto picture = formats::decodePicture(*bytes, to.string());
    ASSERT_TRUE(picture) << picture.error().text();
    EXPECT_EQ(picture->width, 64U);
    EXPECT_GT(formats::pictureTraits(*picture).directions, 0.97) << format;
  }
  EXPECT_NE(run("picture " + from.string()).exit, 0) << "not over itself";
  EXPECT_NE(run("picture --as bmp " + from.string()).exit, 0);
  EXPECT_NE(run("picture " + (root_ / "none.png").string()).exit, 0);
}

}  // namespace
}  // namespace rakugo
