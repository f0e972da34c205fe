// Sources given, compared and taken: files on disk, as people hand them out.
#include "prepare/newer/newer_version.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <unistd.h>

#include "base/files.h"
#include "formats/archives/zip.h"
#include "mod/origins.h"
#include "mod/store.h"
#include "mod/take_source.h"
#include "prepare/newer/picture_search.h"
#include "prepare/step.h"

namespace rakugo::prepare {
namespace {

namespace fs = std::filesystem;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

// Two planks in one file.
std::string objOf(const std::string& second, const std::string& more = {}) {
  return "mtllib boat.mtl\no hull\nv 0 0 0\nv 6 0 0\nv 6 1 0\nv 0 1 0.2\nusemtl oak\nf 1 2 3\nf 1 3 4\no " +
         second + "\nv 1 0 3\nv 5 0 3\nv 5 1 3\nv 1 1 3.2\nf 5 6 7\nf 5 7 8\n" + more;
}

class Sources : public testing::Test {
 protected:
  Sources() {
    root_ = fs::temp_directory_path() / ("rakugo-sources-" + std::to_string(::getpid()));
    fs::remove_all(root_);
    state_ = mod::newMod(root_ / "mod", "Boats", "kelpwick", "1.2").value();
  }
  ~Sources() override { fs::remove_all(root_); }
  void write(const std::string& path, std::string_view text) {
    ASSERT_TRUE(base::makeFolder((root_ / path).parent_path()));
    ASSERT_TRUE(base::writeFileAtomic(root_ / path, text));
  }
  void zip(const std::string& path, const std::map<std::string, std::string>& files) {
    std::map<std::string, base::Bytes> all;
    for (const auto& [name, text] : files) {
      const auto bytes = base::asBytes(text);
      all[name] = {bytes.begin(), bytes.end()};
    }
    const auto made = formats::writeZip(all).value();
    ASSERT_TRUE(base::makeFolder((root_ / path).parent_path()));
    ASSERT_TRUE(base::writeFileAtomic(root_ / path, made));
  }
  // The boat with a mast in the mod, and a preparation that drops the mast.
  void takeBoat() {
    write("in/boat.obj", objOf("mast"));
    write("in/boat.mtl", "newmtl oak\nmap_Kd oak.png\n");
    const auto in = readIncoming({root_ / "in/boat.obj", {}});
    ASSERT_TRUE(in) << in.error().text();
    const auto name = mod::takeSource(root_ / "mod", state_, in->name, in->bytes, in->files);
    ASSERT_TRUE(name);
    state_.models["boat"].source = *name;
    mod::ModelDoc& doc = state_.models["boat"];
    doc.steps.push_back(makeStep(doc, "drop", base::Json{{"parts", {"mast"}}}));
  }
  fs::path root_;
  mod::ModState state_;
};

TEST_F(Sources, ARenamedPartIsSaidBeforeItIsTakenAndFollowedAfter) {
  takeBoat();
  write("in/boat.obj", objOf("Cylinder_004"));
  const auto newer = readNewer(root_ / "mod", state_, "boat", {root_ / "in/boat.obj", {}});
  ASSERT_TRUE(newer) << newer.error().text();
  ASSERT_EQ(newer->misfits.count("boat"), 1U);
  const std::vector<Misfit>& misfits = newer->misfits.at("boat");
  ASSERT_EQ(misfits.size(), 1U);
  EXPECT_EQ(misfits[0].missing, "mast");
  EXPECT_EQ(misfits[0].proposal, "Cylinder_004");
  const mod::ModState before = state_;
  const auto doc = copyNewer(root_ / "mod", state_, *newer);
  ASSERT_TRUE(doc) << doc.error().text();
  EXPECT_EQ(state_.sources.at("boat"), before.sources.at("boat"));  // nothing is taken yet
  takeNewer(state_, *newer, *doc, newer->misfits);
  EXPECT_EQ(state_.sources.at("boat").file, "v2/boat.obj");
  EXPECT_EQ(state_.models.at("boat").steps[0].values["parts"], base::Json::array({"Cylinder_004"}));
  EXPECT_TRUE(fs::exists(root_ / "mod/sources/boat/boat.obj"));
  EXPECT_TRUE(fs::exists(root_ / "mod/sources/boat/v2/boat.mtl"));
  EXPECT_EQ(mod::loadOrigins(root_ / "mod").sources.at("boat").file, root_ / "in/boat.obj");
}

TEST_F(Sources, AProposalThatIsRefusedLeavesTheStepAsItWas) {
  takeBoat();
  write("in/boat.obj", objOf("Cylinder_004"));
  const auto newer = readNewer(root_ / "mod", state_, "boat", {root_ / "in/boat.obj", {}});
  ASSERT_TRUE(newer);
  const auto doc = copyNewer(root_ / "mod", state_, *newer);
  ASSERT_TRUE(doc);
  takeNewer(state_, *newer, *doc, {});
  EXPECT_EQ(state_.models.at("boat").steps[0].values["parts"], base::Json::array({"mast"}));
}

TEST_F(Sources, ADamagedNewerVersionIsRefusedAndNothingIsTouched) {
  takeBoat();
  write("in/boat.obj", "v 1 2\nf 1 2 3\n");
  const auto newer = readNewer(root_ / "mod", state_, "boat", {root_ / "in/boat.obj", {}});
  ASSERT_FALSE(newer);
  EXPECT_THAT(newer.error().place.file, HasSubstr("boat.obj"));
  EXPECT_FALSE(fs::exists(root_ / "mod/sources/boat/v2"));
}

TEST_F(Sources, ASoundIsNoNewerVersionOfAModel) {
  takeBoat();
  write("in/hoot.wav",
        std::string_view("RIFF\x24\0\0\0WAVEfmt \x10\0\0\0\1\0\1\0\x40\x1f\0\0\x80\x3e\0\0\2\0\x10\0"
                         "data\4\0\0\0\0\0\1\0",
                         48));
  const auto newer = readNewer(root_ / "mod", state_, "boat", {root_ / "in/hoot.wav", {}});
  ASSERT_FALSE(newer);
  EXPECT_EQ(newer.error().code, "source.other_sort");
  EXPECT_EQ(readNewer(root_ / "mod", state_, "none", {root_ / "in/boat.obj", {}}).error().code,
            "mod.no_source");
}

TEST_F(Sources, PicturesThatAPreparationTakesGoAlong) {
  takeBoat();
  mod::SourceDoc& source = state_.sources["boat"];
  const std::string found = mod::addFile(root_ / "mod", "boat", source, "oak.png", base::Bytes(3)).value();
  mod::ModelDoc& model = state_.models["boat"];
  model.steps.push_back(makeStep(model, "use_picture", base::Json{{"picture", "oak.png"}, {"file", found}}));
  write("in/boat.obj", objOf("mast", "# again\n"));
  const auto newer = readNewer(root_ / "mod", state_, "boat", {root_ / "in/boat.obj", {}});
  ASSERT_TRUE(newer);
  EXPECT_TRUE(newer->difference.none());
  ASSERT_TRUE(copyNewer(root_ / "mod", state_, *newer));
  EXPECT_TRUE(fs::exists(root_ / "mod/sources/boat/v2/found/oak.png"));
}

TEST_F(Sources, TheDigestSeesWhatAModelNames) {
  write("in/boat.obj", objOf("mast"));
  write("in/boat.mtl", "newmtl oak\n");
  const Given boat{root_ / "in/boat.obj", {}};
  const auto in = readIncoming(boat);
  ASSERT_TRUE(in);
  EXPECT_EQ(in->digest, digestOf(boat, {"boat.mtl"}).value());
  write("in/boat.mtl", "newmtl oak\nKd 1 0 0\n");
  EXPECT_NE(in->digest, digestOf(boat, {"boat.mtl"}).value());
}

TEST_F(Sources, OfAFolderTheModelsAreListedAndOtherwisePicturesAndSounds) {
  write("in/a/boat.obj", objOf("mast"));
  write("in/a/boat.ply", "ply\n");
  write("in/b/oak.png", "p");
  write("in/._boat.obj", "x");
  write("in/1/2/3/4/5/deep.obj", "x");
  const auto given = listGiven(root_ / "in");
  ASSERT_TRUE(given) << given.error().text();
  EXPECT_THAT(*given, ElementsAre(Given{root_ / "in/a/boat.obj", {}}, Given{root_ / "in/a/boat.ply", {}}));
  EXPECT_THAT(likelyChoice(*given), ElementsAre(true, false));
  EXPECT_THAT(listGiven(root_ / "in/b").value(), ElementsAre(Given{root_ / "in/b/oak.png", {}}));
  fs::create_directories(root_ / "empty");
  EXPECT_EQ(listGiven(root_ / "empty").error().code, "file.nothing_to_take");
}

TEST_F(Sources, OfAnArchiveTheChosenModelIsRead) {
  zip("in/boats.zip",
      {{"small/boat.obj", objOf("mast")}, {"large/ship.obj", objOf("mast", "o deck\nf 1 2 5\n")}});
  const auto given = listGiven(root_ / "in/boats.zip");
  ASSERT_TRUE(given) << given.error().text();
  ASSERT_EQ(given->size(), 2U);
  EXPECT_EQ((*given)[0].inside, "large/ship.obj");  // the larger first
  const auto small = readIncoming({root_ / "in/boats.zip", "small/boat.obj"});
  ASSERT_TRUE(small) << small.error().text();
  EXPECT_EQ(small->name, "boat.obj");
  EXPECT_THAT(small->others, ElementsAre("large/ship.obj"));
  const auto gone = readIncoming({root_ / "in/boats.zip", "small/none.obj"});
  ASSERT_FALSE(gone);
  EXPECT_EQ(gone.error().code, "archive.no_model");
}

TEST_F(Sources, AMissingPictureIsFoundInTheArchiveTheFolderAndBesideIt) {
  zip("down/model/boat.zip", {{"boat.obj", "x"}, {"tex/OAK.PNG", "1"}, {"tex/rope.png", "2"}});
  write("down/model/more/oak.jpg", "3");
  write("down/textures/oak.png", "4");
  write("down/textures/brass_oak_color.png", "5");
  write("down/textures/oak.txt", "6");
  const auto found = findPictures("C:\\art\\oak.png", {root_ / "down/model/boat.zip", "boat.obj", ""});
  std::vector<std::pair<std::string, Likeness>> all;
  for (const FoundPicture& f : found) all.emplace_back(f.shown, f.likeness);
  EXPECT_THAT(all, ElementsAre(std::pair{std::string("../textures/oak.png"), Likeness::same_name},
                               std::pair{std::string("boat.zip: tex/OAK.PNG"), Likeness::letter_case},
                               std::pair{std::string("more/oak.jpg"), Likeness::other_ending},
                               std::pair{std::string("../textures/brass_oak_color.png"), Likeness::alike}));
  EXPECT_EQ(base::asText(readGiven(found[1].from).value()), "1");
  EXPECT_EQ(base::asText(readGiven(found[0].from).value()), "4");
  EXPECT_THAT(findPictures("", {root_ / "down/model/boat.zip", "boat.obj", ""}), IsEmpty());
  EXPECT_THAT(findPictures("kelp.png", {root_ / "down/model/boat.zip", "boat.obj", ""}), IsEmpty());
}

}  // namespace
}  // namespace rakugo::prepare
