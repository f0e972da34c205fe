// `surface` and `picture` on the command line: each test looks at what was saved.
#include <gmock/gmock.h>

#include "bundle/bundle_reader.h"
#include "bundle/ktx2.h"
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
  // All mip levels of 512 x 512 pixels: half a byte each as BC1 (8 bytes for 4 x 4), 16 bytes for 6 x 6 as
  // ASTC, four bytes each of 256 x 256.
  EXPECT_EQ(iron["slots"][0]["stored_as"], "color");
  EXPECT_EQ(iron["slots"][0]["bytes"]["desktop"], 174776);
  EXPECT_EQ(iron["slots"][0]["bytes"]["mobile"],
            16 * (86 * 86 + 43 * 43 + 22 * 22 + 11 * 11 + 6 * 6 + 3 * 3 + 2 * 2 + 1 + 1 + 1));
  EXPECT_EQ(iron["slots"][0]["bytes"]["web"], 349524);
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

TEST_F(SurfaceToolTest, PicturesAreStoredAsGraphicsCardsReadThem) {
  const auto from = root_ / "dents.png";
  ASSERT_TRUE(base::writeFileAtomic(from, formats::encodePng(test::dentedNormals(100, true))));
  const auto store = [&](const std::string& options) {
    return run("picture --json " + options + " " + from.string());
  };
  const base::Json ktx = store("--as ktx2 --format bc5 --use normal -o " + at("n.ktx2")).json();
  EXPECT_EQ(ktx["format"], "bc5");
  EXPECT_EQ(ktx["levels"], 7) << "down to one pixel";
  EXPECT_GT(ktx["psnr_db"], 30);
  EXPECT_LE(ktx["worst_block"]["psnr_db"], ktx["psnr_db"]);
  const auto stored = base::readFile(root_ / "n.ktx2");
  ASSERT_TRUE(stored);
  const auto read = bundle::decodeKtx2(*stored, "n");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->format, bundle::PixelFormat::bc5);
  EXPECT_FALSE(read->srgb);
  // Both kinds of file are read back as pictures, near what they were made of.
  ASSERT_EQ(store("--as dds --format bc3 --one-level -o " + at("n.dds")).exit, 0);
  ASSERT_EQ(store("--as ktx2 --format astc5x5 --packed -o " + at("a.ktx2")).exit, 0);
  for (const char* name : {"n.ktx2", "n.dds", "a.ktx2"}) {
    const auto bytes = base::readFile(root_ / name);
    ASSERT_TRUE(bytes);
    const auto picture = formats::decodePicture(*bytes, name);
    ASSERT_TRUE(picture) << picture.error().text();
    EXPECT_EQ(picture->width, 100U);
    EXPECT_TRUE(formats::isNormalMap(formats::pictureTraits(*picture))) << name;
  }
  const Ran refused = store("--as ktx2 --format bc5 -o " + at("c.ktx2"));
  EXPECT_NE(refused.exit, 0);
  EXPECT_THAT(refused.out, HasSubstr("holds no colour"));
  EXPECT_THAT(store("--as dds --format astc4x4 -o " + at("c.dds")).out, HasSubstr("DDS has no number"));
}

TEST_F(SurfaceToolTest, AModIsBuiltForEachTargetOfTheGame) {
  const std::string m = mod("lamplight");
  std::map<std::string, uint64_t> sizes;
  for (const char* target : {"desktop", "mobile", "web"}) {
    const Ran ran = run("build --json --target " + std::string(target) + " " + m);
    ASSERT_EQ(ran.exit, 0) << ran.out;
    const std::string file = ran.json()["bundle"];
    EXPECT_EQ(file.ends_with(std::string("-") + target + ".rkb"), target != std::string("desktop")) << file;
    EXPECT_EQ(run("list " + file).exit, 0);
    EXPECT_EQ(run("verify " + file).exit, 0) << run("verify " + file).out;
    const auto bytes = base::readFile(file);
    const auto bundle = bundle::Bundle::parse(*bytes, file);
    ASSERT_TRUE(bundle);
    EXPECT_EQ(bundle->manifest().target, target);
    for (const bundle::Entry& entry : bundle->entries()) {
      if (entry.kind != bundle::EntryKind::picture) continue;
      const auto picture = bundle::decodeKtx2(*bundle->read(entry), entry.id);
      ASSERT_TRUE(picture);
      for (const base::Bytes& level : picture->levels) sizes[target] += level.size();
      const bool plain = picture->format == bundle::PixelFormat::rgba8;
      EXPECT_EQ(plain, target == std::string("web")) << entry.id;
      EXPECT_EQ(bundle::isAstc(picture->format), target == std::string("mobile")) << entry.id;
      if (target == std::string("web")) {
        EXPECT_TRUE(picture->supercompressed);
        EXPECT_LE(picture->width, 256U);
      }
    }
  }
  EXPECT_LT(sizes["mobile"], sizes["desktop"]);
  const Ran unknown = run("build --target console " + at("lamplight"));
  EXPECT_NE(unknown.exit, 0);
  EXPECT_THAT(unknown.err, HasSubstr("no target \"console\""));
}

TEST_F(SurfaceToolTest, ModelsShareASheetWhenBothAreMerged) {
  const std::string m = mod("lampbearer");
  const Ran refused = run("surface --share-with lamp-bearer " + m + " lamp-bearer");
  EXPECT_NE(refused.exit, 0);
  EXPECT_THAT(refused.err, HasSubstr("merges no materials"));
  ASSERT_EQ(
      run("step add " + m + " lamp-bearer atlas name=figure 'materials=hat_mat,Face Oak,m04.belt'").exit, 0);
  ASSERT_EQ(run("model copy " + m + " lamp-bearer twin").exit, 0) << run("model --help").out;
  const Ran shared = run("surface --share-with twin " + m + " lamp-bearer");
  EXPECT_EQ(shared.exit, 0) << shared.err;
  const auto state = mod::loadMod(root_ / "lampbearer");
  EXPECT_EQ(state->models.at("lamp-bearer").steps.back().values["part"], "quarter_1");
  EXPECT_EQ(state->models.at("twin").steps.back().values["part"], "quarter_2");
}

}  // namespace
}  // namespace rakugo
