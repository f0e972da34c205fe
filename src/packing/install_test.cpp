#include "packing/install.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <regex>

#include "base/files.h"
#include "formats/archives/zip.h"
#include "formats/read_model.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/packager.h"
#include "packing/runtime.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::packing {
namespace {

namespace fs = std::filesystem;
using testing::ElementsAre;

class InstallTest : public testing::Test {
 protected:
  void SetUp() override { mod_ = own_.copyOfMod("lamplight", "mod"); }
  // A package of the mod with that version, and maybe another id.
  fs::path package(const char* version, const char* id = nullptr) {
    const auto x = test::examined(mod_, [&](mod::ModState& s) {
      s.card.version = version;
      if (id != nullptr) s.card.id = id;
    });
    const fs::path out = own_.path() / (std::string(version) + (id != nullptr ? id : "") + ".rkb");
    EXPECT_TRUE(buildToFile(*x, out));
    return out;
  }
  std::string text(const fs::path& path) { return std::string(base::asText(*base::readFile(path))); }
  test::TestFolder own_;
  fs::path mod_;
  const fs::path game_ = own_.path() / "game", mods_ = game_ / "mods",
                 there_ = mods_ / "lamplight-8w3hxq.rkb";
};

TEST_F(InstallTest, UninstallGivesBackWhatAnotherHadThere) {
  ASSERT_TRUE(base::makeFolder(mods_));
  ASSERT_TRUE(base::writeFileAtomic(there_, std::string_view("another's")));
  const auto first = installPackage(package("1.0.0"), game_);
  ASSERT_TRUE(first) << first.error().text();
  EXPECT_EQ(first->path, there_);
  EXPECT_EQ(text(first->kept), "another's");
  // A second version of ours takes the place of the first; what is kept is still the other's.
  const fs::path next = package("1.0.1");
  const auto second = installPackage(next, game_);
  ASSERT_TRUE(second);
  EXPECT_EQ(text(second->kept), "another's");
  EXPECT_EQ(*base::readFile(there_), *base::readFile(next));
  const auto out = uninstallMod("lamplight-8w3hxq", game_);
  ASSERT_TRUE(out) << out.error().text();
  EXPECT_EQ(*out, there_);
  EXPECT_EQ(text(there_), "another's");
  EXPECT_THAT(base::listFiles(mods_), ElementsAre(".rakugo/ledger.json", "lamplight-8w3hxq.rkb"));
  EXPECT_EQ(uninstallMod("lamplight-8w3hxq", game_).error().code, "install.unknown");
}

TEST_F(InstallTest, WhereNothingWasNothingIsLeft) {
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  const auto out = uninstallMod("lamplight-8w3hxq", game_);
  ASSERT_TRUE(out);
  EXPECT_TRUE(out->empty());
  EXPECT_THAT(base::listFiles(mods_), ElementsAre(".rakugo/ledger.json"));
}

TEST_F(InstallTest, AFileThatAnotherPutInPlaceOfOursIsNotRemoved) {
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  ASSERT_TRUE(base::writeFileAtomic(there_, std::string_view("another's, later")));
  EXPECT_EQ(uninstallMod("lamplight-8w3hxq", game_).error().code, "install.changed");
  EXPECT_EQ(text(there_), "another's, later");
  // Installing over it keeps it, and taking ours out brings it back.
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  ASSERT_TRUE(uninstallMod("lamplight-8w3hxq", game_));
  EXPECT_EQ(text(there_), "another's, later");
}

TEST_F(InstallTest, DamageIsRefusedAndTheGameStaysAsItWas) {
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  const base::Bytes before = *base::readFile(there_);
  const fs::path bad = package("1.0.1");
  base::Bytes damaged = *base::readFile(bad);
  damaged[damaged.size() / 2] ^= std::byte{1};
  ASSERT_TRUE(base::writeFileAtomic(bad, damaged));
  EXPECT_FALSE(installPackage(bad, game_));
  EXPECT_EQ(*base::readFile(there_), before);
  EXPECT_EQ(installPackage(own_.path() / "none.rkb", game_).error().code, "file.missing");
  ASSERT_TRUE(base::writeFileAtomic(mods_ / ".rakugo/ledger.json", std::string_view("{")));
  EXPECT_EQ(installPackage(package("1.0.2"), game_).error().code, "install.ledger");
  EXPECT_EQ(*base::readFile(there_), before);
}

TEST_F(InstallTest, TheListSaysWhoseAndWhoWins) {
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  ASSERT_TRUE(installPackage(package("2.0.0", "other-lamp-zzz"), game_));
  ASSERT_TRUE(base::writeFileAtomic(mods_ / "broken.rkb", std::string_view("no bundle")));
  fs::copy_file(there_, mods_ / "by-hand.rkb");
  const auto list = listInstalled(game_);
  ASSERT_EQ(list.size(), 4u);
  EXPECT_FALSE(list[0].problem.empty());
  EXPECT_FALSE(list[1].ours);
  EXPECT_TRUE(list[2].ours);
  EXPECT_EQ(list[3].manifest.version, "2.0.0");
  const auto fought = contests(list);
  ASSERT_EQ(fought.size(), 1u);
  EXPECT_EQ(fought[0].object, "object/quay-lamp");
  EXPECT_EQ(fought[0].mods.back(), "other-lamp-zzz");
  EXPECT_TRUE(listInstalled(own_.path() / "no game").empty());
}

TEST_F(InstallTest, ChecksSeeTheInstalledMods) {
  ASSERT_TRUE(installPackage(package("1.0.0"), game_));
  const auto with = [&](const std::function<void(mod::ModState&)>& change) {
    auto state = std::make_shared<mod::ModState>(*mod::loadMod(mod_));
    change(*state);
    check::Examiner examiner(mod_,
                             std::make_shared<const rulebook::Rulebook>(*rulebook::findRulebook("kelpwick")));
    examiner.setInstalled(installedMods(game_));
    std::vector<std::string> out;
    const auto x = *examiner.examine(state);
    for (const auto& f : x->findings) out.push_back(f.check);
    return out;
  };
  EXPECT_THAT(with([](mod::ModState&) {}), ElementsAre()) << "its own earlier build is no clash";
  EXPECT_THAT(with([](mod::ModState& s) { s.card.title = "Another"; }), ElementsAre("mod.id_taken"));
  EXPECT_THAT(with([](mod::ModState& s) { s.card.id = "another-id"; }), ElementsAre("mod.defined_twice"));
}

class ZipTest : public InstallTest {
 protected:
  void SetUp() override { mod_ = own_.copyOfMod("footstool", "mod"); }
};

TEST_F(ZipTest, IsWholeOpenAndTheSameEveryTime) {
  const auto x = test::examined(mod_);
  EXPECT_EQ(defaultOutput(*x).extension(), ".zip");
  const auto bytes = buildPackage(*x);
  ASSERT_TRUE(bytes) << bytes.error().text();
  EXPECT_EQ(*bytes, *buildPackage(*test::examined(own_.copyOfMod("footstool", "else"))));
  const fs::path out = own_.path() / "out.zip";
  ASSERT_TRUE(buildToFile(*x, out));
  EXPECT_TRUE(verifyPackage(out).empty());
  const auto package = lookInto(out);
  ASSERT_TRUE(package);
  std::vector<std::string> paths;
  for (const PackageEntry& e : package->entries) paths.push_back(e.id);
  EXPECT_THAT(paths, ElementsAre("icons/stool.png", "manifest.json", "models/stool.glb", "objects/stool.json",
                                 "pictures/stool-0-felt-cover-props.png", "pictures/stool-1-horn-props.png",
                                 "pictures/stool-2-match-props.png"));
  EXPECT_EQ(package->manifest.rulebook_id, "ninefold");
}

TEST_F(ZipTest, PackedPicturesAreMadeOfTheMaterialsSlots) {
  const auto x = test::examined(mod_);
  const scene::Model& model = *x->context.models.at("stool").prepared.model;
  const auto files = *formats::readZip(*buildPackage(*x), "z");
  const auto record = *base::parseJson(base::asText(files.at("objects/stool.json")), "o");
  size_t seen = 0;
  for (const scene::MaterialIndex i : scene::usedMaterials(model)) {
    const scene::Material& m = model.materials[i.value()];
    ASSERT_TRUE(record["packed"].contains(m.name)) << record["packed"].dump();
    const auto picture =
        formats::decodePicture(files.at(record["packed"][m.name]["props"].get<std::string>()), "p");
    ASSERT_TRUE(picture);
    // Red: metal, green: occlusion, alpha: gloss; these materials are plain.
    if (m.metallic_roughness_texture.image.valid()) continue;
    ++seen;
    EXPECT_NEAR(std::to_integer<int>(picture->pixels[0]), m.metallic * 255, 1);
    EXPECT_EQ(picture->pixels[1], std::byte{255});
    EXPECT_NEAR(std::to_integer<int>(picture->pixels[3]), (1 - m.roughness) * 255, 1);
  }
  EXPECT_GT(seen, 0U);
  // Without one of them the package is damaged.
  auto less = files;
  less.erase(record["packed"].front()["props"].get<std::string>());
  const auto bytes = *formats::writeZip(less);
  EXPECT_FALSE(zipPackager().verify(bytes, "z", nullptr).empty());
}

TEST_F(ZipTest, ModelsStandInGltfsAxesAndRecordsInTheGames) {
  const auto bytes = *buildPackage(*test::examined(mod_));
  const auto files = *formats::readZip(bytes, "z");
  const auto model = formats::readModel(files.at("models/stool.glb"), "stool.glb", {}, {});
  ASSERT_TRUE(model) << model.error().text();
  const auto box = scene::boundsOf(model->model);
  EXPECT_NEAR(box.min.y, 0, 5e-4);
  EXPECT_NEAR(box.max.y, 0.047, 1e-4) << "metres, +Y up, as glTF asks";
  const auto record = *base::parseJson(base::asText(files.at("objects/stool.json")), "o");
  EXPECT_EQ(record["roles"]["felt cover"], "wallpaper");
  EXPECT_EQ(record["pieces"][0]["model"], "models/stool.glb");
  EXPECT_NEAR(record["points"][0]["position"][1].get<double>(), 4.7, 1e-4) << "centimetres, the game's unit";
}

TEST_F(ZipTest, OneUnreadablePictureDoesNotFailTheBuildAndNumbersAreShort) {
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  book->packaging = "zip";
  const fs::path lamp = own_.copyOfMod("lamplight", "lamp");
  size_t spoilt = 0;
  for (const std::string& file : base::listFiles(lamp / "sources"))
    if (file.ends_with(".png")) {
      ASSERT_TRUE(base::writeFileAtomic(lamp / "sources" / file, std::string_view("no picture")));
      ++spoilt;
    }
  ASSERT_GT(spoilt, 0U);
  const auto x = test::examined(lamp, nullptr, book);
  EXPECT_EQ(x->count(check::Severity::stops), 0U);
  const fs::path out = own_.path() / "lamp.zip";
  const auto built = buildToFile(*x, out);
  ASSERT_TRUE(built) << built.error().text();
  EXPECT_TRUE(verifyPackage(out).empty());
  const auto files = *formats::readZip(*base::readFile(out), "z");
  const std::string record(base::asText(files.at("objects/quay-lamp.json")));
  EXPECT_FALSE(std::regex_search(record, std::regex("[0-9]\\.[0-9]{9}"))) << record;
  EXPECT_EQ(record.find("-0.0,"), std::string::npos) << record;
  EXPECT_EQ(record.find("skeleton/"), std::string::npos);
}

TEST_F(ZipTest, DamageIsFoundAndExplained) {
  const fs::path out = own_.path() / "out.zip";
  ASSERT_TRUE(buildToFile(*test::examined(mod_), out));
  const base::Bytes good = *base::readFile(out);
  int found = 0;
  for (size_t at = 0; at < good.size(); at += 37) {
    base::Bytes damaged = good;
    damaged[at] ^= std::byte{0x20};
    ASSERT_TRUE(base::writeFileAtomic(out, damaged));
    found += verifyPackage(out).empty() ? 0 : 1;
  }
  // A zip does not promise every byte: times and attributes may change unseen. Its content may not.
  EXPECT_GT(found, static_cast<int>(good.size() / 37) * 8 / 10);
  ASSERT_TRUE(base::writeFileAtomic(out, base::Bytes(good.begin(), good.end() - 200)));
  EXPECT_FALSE(verifyPackage(out).empty());
}

TEST_F(ZipTest, InstallsAndComparesLikeABundle) {
  const fs::path a = own_.path() / "a.zip", b = own_.path() / "b.zip";
  ASSERT_TRUE(buildToFile(*test::examined(mod_), a));
  ASSERT_TRUE(
      buildToFile(*test::examined(mod_, [](mod::ModState& s) { s.objects.front().card["charm"] = 9; }), b));
  const Package first = *lookInto(a), second = *lookInto(b);
  const auto differences = comparePackages(first, second);
  ASSERT_EQ(differences.size(), 1u);
  EXPECT_EQ(differences[0].a->id, "objects/stool.json");
  ASSERT_TRUE(installPackage(a, game_));
  EXPECT_EQ(listInstalled(game_).at(0).path.filename(), "footstool-5d9rtc.zip");
  EXPECT_TRUE(uninstallMod("footstool-5d9rtc", game_));
}

// A left-handed game sees the same thing, not its mirror image: the coordinate to the side changes sign, and
// with it the winding of every triangle.
TEST(GameSpace, KeepsTriangleNormalsInALeftHandedGame) {
  scene::Mesh mesh;
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 2, 0.5F}};
  const glm::vec3 n = glm::normalize(glm::cross(p.positions[1], p.positions[2]));
  p.normals = {n, n, n};
  p.indices = {0, 1, 2};
  mesh.primitives = {p};
  rulebook::Rulebook book;
  book.up = geometry::Axis::plus_y;
  book.forward = geometry::Axis::plus_z;
  book.right_handed = false;
  book.unit_m = 0.01;
  const GameSpace space(book);
  EXPECT_EQ(space.mirrored, 0) << "up x forward is X";
  const auto made = runtimeMesh(mesh, space);
  const auto at = [&](size_t corner, size_t offset) {
    return base::loadAt<glm::vec3>(made.vertices, made.indices[corner] * made.stride + offset);
  };
  EXPECT_NEAR(made.bounds_min[0], -100, 1e-3) << "centimetres, and the side's sign";
  EXPECT_NEAR(made.bounds_max[1], 200, 1e-3);
  // The format's rule holds in any handedness: the cross product in the file's own coordinates points
  // outward.
  const glm::vec3 outside = glm::normalize(glm::cross(at(1, 0) - at(0, 0), at(2, 0) - at(0, 0)));
  EXPECT_NEAR(glm::distance(outside, space.direction(n)), 0, 1e-5);
  EXPECT_NEAR(glm::distance(outside, at(0, 12)), 0, 1e-5) << "as the stored normal says";
  // Turning then mirroring is mirroring then turning the mirrored way.
  const glm::quat turn = glm::normalize(glm::quat(0.8F, 0.3F, -0.4F, 0.2F));
  const glm::vec3 v(0.2F, -1, 3);
  EXPECT_NEAR(glm::distance(space.direction(turn * v), space.turn(turn) * space.direction(v)), 0, 1e-5);
}

}  // namespace
}  // namespace rakugo::packing
