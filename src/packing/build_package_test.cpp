#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <thread>

#include "base/files.h"
#include "base/sha256.h"
#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"
#include "formats/archives/zip.h"
#include "formats/pictures/pictures.h"
#include "geometry/vertex_cache.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/game_values.h"
#include "packing/package_plan.h"
#include "packing/packager.h"
#include "packing/runtime.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"
#include "prepare/surface/shared_sheet.h"
#include "support/examined.h"
#include "support/made_sounds.h"
#include "support/test_folder.h"
#include "texture/block_decoder.h"

namespace rakugo::packing {
namespace {

namespace fs = std::filesystem;

class BuildTest : public testing::Test {
 protected:
  fs::path copy(const char* mod, const char* as) { return own_.copyOfMod(mod, as); }
  static std::shared_ptr<const check::Examination> examine(const fs::path& folder) {
    return test::examined(folder);
  }
  test::TestFolder own_;
  const fs::path root_ = own_.path();
};

TEST_F(BuildTest, TwoFoldersGiveTheSameBytes) {
  const auto a = buildPackage(*examine(copy("lamplight", "a")));
  const auto b = buildPackage(*examine(copy("lamplight", "somewhere else")));
  ASSERT_TRUE(a) << a.error().text();
  EXPECT_EQ(*a, *b);
}

TEST_F(BuildTest, TheBundleHoldsWhatTheModSays) {
  const auto bytes = buildPackage(*examine(copy("lamplight", "a")));
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  ASSERT_TRUE(bundle);
  EXPECT_TRUE(bundle->verify().empty());
  EXPECT_THAT(bundle->manifest().objects, testing::ElementsAre("object/quay-lamp"));
  EXPECT_EQ(bundle->manifest().credits.at(0).author, "Ottilie Brandvold");
  const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "o");
  EXPECT_EQ(object->card["price"], 240);
  EXPECT_EQ(object->points.at(0).name, "light");
  EXPECT_NEAR(object->bounds_max[2], 2.52, 0.01);
  EXPECT_NEAR(object->bounds_min[2], 0, 0.001);
  EXPECT_EQ(object->pieces.size(), 5u);
  EXPECT_EQ(bundle::decodeMaterial(*bundle->read(*bundle->find("material/quay-lamp/0-iron-coat")), "m")->role,
            "paint");
  const auto picture =
      bundle::decodeKtx2(*bundle->read(*bundle->find("picture/quay-lamp/1-oak-turned")), "p");
  EXPECT_EQ(picture->levels.size(), 10u);
  EXPECT_TRUE(picture->srgb);
}

TEST_F(BuildTest, LighterVersionsAreInTheBundleWithTheirDistances) {
  const fs::path mod = copy("lamplight", "a");
  const auto x = test::examined(mod, [](mod::ModState& s) {
    prepare::setOrAddStep(s.models["quay-lamp"], "make_lighter",
                          base::Json{{"levels", 2.0}, {"share", 0.3}, {"from_m", 8.0}});
  });
  const auto bytes = buildPackage(*x);
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  ASSERT_TRUE(bundle);
  EXPECT_TRUE(bundle->verify().empty());
  const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "o");
  ASSERT_TRUE(object);
  const auto indices = [&](const std::string& id) {
    const auto mesh = bundle::decodeMesh(*bundle->read(*bundle->find(id)), id);
    EXPECT_TRUE(mesh);
    EXPECT_FALSE(mesh->materials.empty());
    return mesh->indices.size();
  };
  size_t versions = 0;
  for (const bundle::ObjectPiece& piece : object->pieces) {
    size_t last = indices(piece.mesh);
    double from = 4;
    for (const auto& [mesh, distance] : piece.lighter) {
      ++versions;
      EXPECT_FLOAT_EQ(distance, static_cast<float>(from *= 2));
      EXPECT_LT(indices(mesh), last);
      last = indices(mesh);
    }
  }
  EXPECT_GE(versions, 2u);
  // One that names a mesh which is not there is found.
  bundle::ObjectRecord lie = *object;
  lie.pieces[0].lighter = {{"mesh/none", 3.0F}};
  bundle::BundleWriter writer;
  for (const bundle::Entry& entry : bundle->entries())
    ASSERT_TRUE(
        writer.add(entry.kind, entry.id,
                   entry.kind == bundle::EntryKind::object ? bundle::encodeObject(lie) : *bundle->read(entry),
                   true, bundle::kHighestMinor));
  const base::Bytes lying = *writer.finish();
  const auto problems = bundle::Bundle::parse(lying, "lie.rkb")->verify();
  ASSERT_FALSE(problems.empty());
  EXPECT_THAT(problems.front().message, testing::HasSubstr("mesh/none"));
  // Distances ascend from above nothing.
  for (const float from : {0.0F, -1.0F}) {
    lie.pieces[0].lighter = {{"mesh/none", from}};
    EXPECT_FALSE(bundle::decodeObject(bundle::encodeObject(lie), "o"));
  }
  lie.pieces[0].lighter = {{"mesh/a", 8.0F}, {"mesh/b", 8.0F}};
  EXPECT_EQ(bundle::decodeObject(bundle::encodeObject(lie), "o").error().place.path,
            "/pieces/0/lighter/1/from");
}

TEST_F(BuildTest, AnyOfManyFlippedBytesIsRefused) {
  const base::Bytes good = *buildPackage(*examine(copy("lamplight", "a")));
  for (size_t at = 0; at < good.size(); at += at < 4000 ? 61 : good.size() / 60) {
    base::Bytes damaged = good;
    damaged[at] ^= std::byte{0x10};
    const auto bundle = bundle::Bundle::parse(damaged, "a.rkb");
    ASSERT_TRUE(!bundle || !bundle->verify().empty()) << at;
  }
}

TEST_F(BuildTest, AStoppingFindingIsNamedAndTheOldBundleStays) {
  const fs::path mod = copy("lamplight", "a");
  const fs::path out = root_ / "out.rkb";
  ASSERT_TRUE(buildToFile(*examine(mod), out));
  const base::Bytes before = *base::readFile(out);
  fs::remove(mod / "sources/quay-lamp/quay_lamp.glb");
  const auto refused = buildToFile(*examine(mod), out);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "build.refused");
  EXPECT_THAT(refused.error().message, testing::HasSubstr("no such file"));
  EXPECT_EQ(*base::readFile(out), before);
  EXPECT_THAT(base::listFiles(root_, {"a"}), testing::ElementsAre("out.rkb"));
}

TEST_F(BuildTest, CancelLeavesNoTrace) {
  base::Progress progress;
  progress.cancel();
  EXPECT_EQ(
      buildToFile(*examine(copy("lamplight", "a")), root_ / "out.rkb", {&progress, nullptr}).error().code,
      "job.cancelled");
  EXPECT_FALSE(fs::exists(root_ / "out.rkb"));
}

TEST_F(BuildTest, TheCacheChangesTheTimeAndNotTheBytes) {
  const fs::path mod = copy("lamplight", "a");
  const auto x = examine(mod);
  const base::Bytes afresh = *buildPackage(*x);
  BuildCache cache(root_ / "cache");
  EXPECT_EQ(*buildPackage(*x, {nullptr, &cache}), afresh);
  EXPECT_EQ(cache.hits(), 0u);
  const size_t entries = cache.misses();
  EXPECT_GT(entries, 10u);
  EXPECT_EQ(*buildPackage(*x, {nullptr, &cache}), afresh);
  EXPECT_EQ(cache.hits(), entries);
  // Another process finds the files; another examination of the same mod has other meshes of equal content.
  BuildCache second(root_ / "cache");
  EXPECT_EQ(*buildPackage(*examine(mod), {nullptr, &second}), afresh);
  EXPECT_EQ(second.misses(), 0u);
}

TEST_F(BuildTest, OnlyWhatChangedIsMadeAnew) {
  const fs::path mod = copy("lamplight", "a");
  BuildCache cache({});
  ASSERT_TRUE(buildPackage(*examine(mod), {nullptr, &cache}));
  const auto edited = test::examined(mod, [](mod::ModState& s) { s.objects.front().card["price"] = 7; });
  ASSERT_TRUE(buildPackage(*edited, {nullptr, &cache}));
  EXPECT_EQ(cache.misses(), 1u) << "the object's record alone";
  const auto scaled = test::examined(mod, [](mod::ModState& s) {
    auto& model = s.models.front();
    model.steps.insert(model.steps.begin() + 1, {"s90", "scale", true, base::Json{{"factor", 1.1}}});
  });
  ASSERT_TRUE(buildPackage(*scaled, {nullptr, &cache}));
  EXPECT_EQ(cache.misses(), 6u) << "five meshes and the record";
}

TEST_F(BuildTest, ADamagedCacheFileIsMadeAgain) {
  const auto x = examine(copy("lamplight", "a"));
  BuildCache first(root_ / "cache");
  const base::Bytes good = *buildPackage(*x, {nullptr, &first});
  for (const std::string& file : base::listFiles(root_ / "cache")) {
    base::Bytes bytes = *base::readFile(root_ / "cache" / file);
    bytes[bytes.size() / 2] ^= std::byte{4};
    ASSERT_TRUE(base::writeFileAtomic(root_ / "cache" / file, bytes));
  }
  BuildCache second(root_ / "cache");
  EXPECT_EQ(*buildPackage(*x, {nullptr, &second}), good);
  EXPECT_EQ(second.hits(), 0u);
  BuildCache third(root_ / "cache");
  EXPECT_EQ(*buildPackage(*x, {nullptr, &third}), good);
  EXPECT_EQ(third.misses(), 0u) << "and kept whole this time";
}

TEST_F(BuildTest, TheDiskKeepsWhatTheLastBuildUsedAndNoMoreThanItsLimit) {
  const auto x = examine(copy("lamplight", "a"));
  BuildCache cache(root_ / "cache");
  ASSERT_TRUE(buildPackage(*x, {nullptr, &cache}));
  const auto used = base::listFiles(root_ / "cache");
  ASSERT_TRUE(base::writeFileAtomic(root_ / "cache" / used[0].substr(0, 2) / "old", base::Bytes(1000)));
  cache.beginBuild();
  for (const std::string& file : used) EXPECT_TRUE(cache.find(fs::path(file).filename()));
  cache.endBuild(10);
  EXPECT_EQ(base::listFiles(root_ / "cache"), used);
}

TEST_F(BuildTest, CancellingHalfWayLeavesTheOldBundle) {
  const fs::path mod = copy("lamplight", "a"), out = root_ / "out.rkb";
  ASSERT_TRUE(base::writeFileAtomic(out, std::string_view("old")));
  const auto x = examine(mod);
  base::Progress progress;
  std::thread watcher([&] {
    while (progress.said().second < 0.2 && !progress.cancelled()) std::this_thread::yield();
    progress.cancel();
  });
  const auto built = buildToFile(*x, out, {&progress, nullptr});
  progress.cancel();
  watcher.join();
  ASSERT_FALSE(built);
  EXPECT_EQ(built.error().code, "job.cancelled");
  EXPECT_EQ(base::asText(*base::readFile(out)), "old");
}

TEST_F(BuildTest, ThePlanSaysWhatPullsEachEntryIn) {
  const auto x = examine(copy("lamplight", "a"));
  const auto plan = planBundle(*x, {x->book->allTargets().front()});
  ASSERT_TRUE(plan);
  const auto bundle_bytes = *buildPackage(*x);
  const auto bundle = *bundle::Bundle::parse(bundle_bytes, "a");
  EXPECT_EQ(plan->size(), bundle.entries().size());
  for (const PlannedEntry& entry : *plan) {
    ASSERT_NE(bundle.find(entry.id), nullptr) << entry.id;
    EXPECT_FALSE(entry.why.empty()) << entry.id;
    if (entry.kind == bundle::EntryKind::picture) {
      EXPECT_THAT(entry.why, testing::AllOf(testing::HasSubstr("quay-lamp"), testing::HasSubstr("material")));
    }
  }
}

TEST_F(BuildTest, MeshesAreOrderedForTheVertexCache) {
  const auto x = examine(copy("lamplight", "a"));
  for (const RuntimePart& part : runtimeParts(*x->context.models.at("quay-lamp").prepared.model))
    EXPECT_LT(geometry::averageCacheMissRatio(part.mesh.indices, part.mesh.vertex_count), 1.3) << part.name;
}

TEST(RuntimePicture, BringsSidesToPowersOfTwoWithinTheLimit) {
  const formats::Picture p{300, 100, base::Bytes(300 * 100 * 4, std::byte{90})};
  const auto k = runtimePicture(p, formats::PictureUse::color, 128, true);
  EXPECT_EQ(k.width, 128u);
  EXPECT_EQ(k.height, 128u);
  EXPECT_EQ(k.levels.size(), 8u);
  EXPECT_EQ(k.levels[0][0], std::byte{90});
  EXPECT_EQ(runtimePicture(p, formats::PictureUse::color, 0, false).width, 300u);
}

// A square that shows two pictures, each looked up in a way of its own.
scene::Model twoPictures() {
  scene::Model m;
  auto mesh = std::make_shared<scene::Mesh>();
  scene::Primitive& p = mesh->primitives.emplace_back();
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
  p.uvs[0] = {{0.5F, 0.25F}, {1, 0}, {0, 1}};
  p.uvs[1] = p.uvs[0];
  p.indices = {0, 1, 2};
  p.material = scene::MaterialIndex(0);
  m.meshes.push_back(mesh);
  m.images.resize(2);
  scene::Material& worn = m.materials.emplace_back();
  worn.base_color_texture.image = scene::ImageIndex(0);
  worn.normal_texture.image = scene::ImageIndex(1);
  scene::Node& node = m.nodes.emplace_back();
  node.mesh = scene::MeshIndex(0);
  m.roots = {scene::NodeIndex(0)};
  return m;
}

TEST(StoredPicture, GoesByTargetAndUse) {
  rulebook::Rulebook book;
  book.picture_max_side = 64;
  rulebook::Target target;
  target.color = bundle::PixelFormat::bc1;
  target.normal = bundle::PixelFormat::bc5;
  target.max_side = 32;
  target.supercompressed = true;
  formats::Picture picture{100, 50, base::Bytes(100 * 50 * 4, std::byte{128})};
  prepare::PictureNeed need;
  const auto color = storedPicture(picture, storingOf(book, target, formats::PictureUse::color, need));
  EXPECT_EQ(color.format, bundle::PixelFormat::bc1);
  EXPECT_EQ(color.width, 32U);
  EXPECT_TRUE(color.srgb);
  EXPECT_TRUE(color.supercompressed);
  EXPECT_EQ(color.levels.size(), 6U);
  need.role = rulebook::PictureRole::normal;
  target.mip_levels = false;
  const auto normal = storedPicture(picture, storingOf(book, target, formats::PictureUse::normal, need));
  EXPECT_EQ(normal.format, bundle::PixelFormat::bc5);
  EXPECT_FALSE(normal.srgb);
  EXPECT_EQ(normal.levels.size(), 1U);
  EXPECT_TRUE(bundle::decodeKtx2(bundle::encodeKtx2(normal), "n"));
}

TEST(StoredPicture, PixelArtStaysPixelsAndCutOutLevelsKeepTheirShare) {
  formats::Picture dots{8, 8, base::Bytes(8 * 8 * 4, std::byte{0})};
  for (size_t i = 0; i < 64; ++i)
    for (size_t c = 0; c < 4; ++c)
      dots.pixels[i * 4 + c] = std::byte{static_cast<uint8_t>((i % 8 + i / 8) % 2 == 0 ? 255 : 0)};
  PictureStoring how;
  how.pixels = true;
  how.max_side = 4;
  const auto smaller = plainLevels(dots, how);
  for (const std::byte v : smaller.levels[0])
    EXPECT_TRUE(v == std::byte{0} || v == std::byte{255}) << "no value between two pixels";
  how = {};
  how.cutoff = 0.75F;  // averaged alpha lies below it: the next level would vanish
  const auto plain = plainLevels(dots, PictureStoring());
  EXPECT_EQ(formats::coverage(plain.levels[1], 0.75F), 0);
  EXPECT_GT(formats::coverage(plainLevels(dots, how).levels[1], 0.75F), 0);
}

TEST_F(BuildTest, AnotherTargetMakesOnlyPicturesAnewAndStatesItself) {
  const fs::path mod = copy("lamplight", "a");
  BuildCache cache(own_.path() / "cache");
  ASSERT_TRUE(buildPackage(*examine(mod), {nullptr, &cache}));
  const auto mobile = buildPackage(*examine(mod), {nullptr, &cache, false, "mobile"});
  ASSERT_TRUE(mobile) << mobile.error().text();
  const auto bundle = bundle::Bundle::parse(*mobile, "a.rkb");
  EXPECT_EQ(bundle->manifest().target, "mobile");
  size_t pictures = 0;
  for (const bundle::Entry& entry : bundle->entries())
    pictures += entry.kind == bundle::EntryKind::picture ? 1 : 0;
  EXPECT_EQ(cache.misses(), pictures + 2) << "and the manifest and the icon";
  // An icon goes in the target's format too, and is what it was to the eye.
  const bundle::Entry* icon = bundle->find("icon/quay-lamp");
  ASSERT_NE(icon, nullptr);
  const auto stored = bundle::decodeKtx2(*bundle->read(*icon), "icon");
  ASSERT_TRUE(stored);
  EXPECT_EQ(stored->format, bundle::PixelFormat::astc_5x5);
  EXPECT_EQ(stored->levels.size(), 1U);
  EXPECT_TRUE(bundle->verify().empty());
  EXPECT_EQ(buildPackage(*examine(mod), {nullptr, &cache, false, "none"}).error().code, "build.target");
}

// Two figures, merged each, in quarters of one sheet.
TEST_F(BuildTest, ModelsThatShareASheetHaveOnePictureForAll) {
  const fs::path mod = copy("lampbearer", "a");
  base::Status shared, again, none;
  const auto x = test::examined(mod, [&](mod::ModState& s) {
    std::vector<std::string> keys = {"hat_mat",    "Face Oak",   "m03.buttons", "m04.belt",
                                     "hook_surf1", "lens_surf2", "lens_surf3"};
    s.models["second"] = s.models["lamp-bearer"];
    s.objects["second"] = s.objects["lamp-bearer"];
    s.objects["second"].pieces[0].model = "second";
    none = prepare::shareSheet(s, "lamp-bearer", "second");
    for (const char* name : {"lamp-bearer", "second"}) {
      mod::ModelDoc& doc = s.models[name];
      for (const std::string& key : keys) prepare::setRole(doc, key, "lamp");
      prepare::setOrAddStep(doc, "atlas", base::Json{{"materials", keys}, {"name", name}, {"side", 512}});
    }
    prepare::setOrAddStep(s.models["second"], "set_color",
                          base::Json{{"material", "Face Oak"}, {"color", {0.2, 0.4, 0.9}}});
    shared = prepare::shareSheet(s, "lamp-bearer", "second");
    again = prepare::shareSheet(s, "lamp-bearer", "second");
  });
  EXPECT_EQ(none.error().code, "sheet.none");
  ASSERT_TRUE(shared) << shared.error().text();
  EXPECT_TRUE(again) << "each keeps its quarter";
  const auto bytes = buildPackage(*x, {nullptr, nullptr, true});
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  ASSERT_TRUE(bundle);
  EXPECT_TRUE(bundle->verify().empty());
  size_t sheets = 0;
  for (const bundle::Entry& entry : bundle->entries())
    if (entry.id.starts_with("picture/shared/")) ++sheets;
  EXPECT_EQ(sheets, 3U) << "colour, metal and roughness, glow";
  // Both quarters of the colour are what each model has there, but for what the format loses.
  const auto stored = bundle::decodeKtx2(*bundle->read(*bundle->find("picture/shared/lamp-bearer-512")), "p");
  ASSERT_TRUE(stored);
  const bundle::Ktx2Picture plain = texture::plainPicture(*stored);
  std::set<std::string> corners;
  for (const char* name : {"lamp-bearer", "second"}) {
    const scene::Model& model = *x->context.models.at(name).prepared.model;
    const auto image = std::find_if(model.images.begin(), model.images.end(), [](const scene::Image& one) {
      return one.shared == "lamp-bearer" && one.name == "lamp-bearer";
    });
    ASSERT_NE(image, model.images.end()) << name;
    corners.insert(std::to_string(image->part[0]) + " " + std::to_string(image->part[1]));
    const formats::Picture own = *formats::decodePicture(*image->bytes, "x");
    ASSERT_EQ(own.width, plain.width);
    double off = 0;
    for (uint32_t y = 0; y < image->part[3]; ++y)
      for (uint32_t px = 0; px < image->part[2]; ++px)
        for (size_t c = 0; c < 3; ++c) {
          const size_t at = ((size_t{image->part[1]} + y) * own.width + image->part[0] + px) * 4 + c;
          off += std::abs(std::to_integer<int>(own.pixels[at]) - std::to_integer<int>(plain.levels[0][at]));
        }
    EXPECT_LT(off / (3.0 * image->part[2] * image->part[3]), 3) << name;
  }
  EXPECT_EQ(corners.size(), 2U) << "a quarter each";
}

TEST(MaterialRecord, WhatAllPicturesShareLiesInTheMeshAndWhatDiffersIsSaid) {
  scene::Model m = twoPictures();
  scene::Material& worn = m.materials[0];
  worn.base_color_texture.offset = worn.normal_texture.offset = {0.5F, 0};
  const auto world = scene::worldMatrices(m);
  EXPECT_EQ(drawnMesh(m, scene::NodeIndex(0), world)->primitives[0].uvs[0][0], glm::vec2(1, 0.25F));
  EXPECT_EQ(materialRecord(worn).lookups[0], bundle::PictureLookup());
  EXPECT_EQ(bundle::minorOf(materialRecord(worn)), 0) << "readers of 1.0 draw it right";
  // Now the normal map lies elsewhere.
  worn.normal_texture.scale = {3, 3};
  EXPECT_EQ(drawnMesh(m, scene::NodeIndex(0), world)->primitives[0].uvs[0][0], glm::vec2(0.5F, 0.25F));
  bundle::MaterialRecord record = materialRecord(worn);
  EXPECT_EQ(record.lookups[0].offset, (std::array<float, 2>{0.5F, 0}));
  EXPECT_EQ(record.lookups[2].scale, (std::array<float, 2>{3, 3}));
  EXPECT_EQ(bundle::minorOf(record), 2);
  // On its own coordinates it does not disturb the other.
  worn.normal_texture.uv_set = 1;
  worn.normal_texture.wrap_u = scene::Wrap::clamp;
  worn.unlit = true;
  record = materialRecord(worn);
  EXPECT_EQ(record.lookups[0], bundle::PictureLookup());
  EXPECT_EQ(record.lookups[2].uv, 1u);
  EXPECT_EQ(record.lookups[2].wrap[0], bundle::PictureLookup::Wrap::clamp);
  EXPECT_TRUE(record.unlit);
  EXPECT_EQ(drawnMesh(m, scene::NodeIndex(0), world)->primitives[0].uvs[1][0], glm::vec2(2, 0.75F));
}

TEST_F(BuildTest, TheGameReadsItsOwnWordsInPlaceOfIds) {
  const fs::path folder = copy("lamplight", "lamplight");
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  for (rulebook::Kind& kind : book->kinds) {
    if (kind.id != "fitting") continue;
    for (rulebook::Role& role : kind.roles) role.word = "M_" + role.id;
    for (rulebook::Point& point : kind.points) point.most = 4, point.word = "At{n}." + point.id;
    for (rulebook::Field& field : kind.fields) field.word = "F_" + field.id;
  }
  const auto before = test::examined(folder);
  const auto x = test::examined(
      folder,
      [](mod::ModState& s) {
        for (mod::PointDoc& point : s.models["quay-lamp"].points)
          if (point.id == "light") {
            mod::PointDoc second = point;
            second.id = "light-3";
            s.models["quay-lamp"].points.push_back(second);
            break;
          }
      },
      book);
  EXPECT_EQ(x->count(check::Severity::stops), before->count(check::Severity::stops));
  const auto read = [](const check::Examination& of) {
    BuildOptions options;
    options.despite_findings = true;
    const auto bundle = bundle::Bundle::parse(*buildPackage(of, options), "a.rkb");
    std::set<std::string> roles;
    for (const bundle::Entry& entry : bundle->entries())
      if (entry.kind == bundle::EntryKind::material)
        roles.insert(bundle::decodeMaterial(*bundle->read(entry), entry.id)->role);
    return std::pair(*bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "o"), roles);
  };
  const auto [was, roles_were] = read(*before);
  const auto [is, roles] = read(*x);
  std::set<std::string> wanted;
  for (const std::string& role : roles_were) wanted.insert(role.empty() ? role : "M_" + role);
  EXPECT_EQ(roles, wanted);
  ASSERT_EQ(is.points.size(), was.points.size() + 1);
  for (size_t i = 0; i < was.points.size(); ++i) EXPECT_EQ(is.points[i].name, "At1." + was.points[i].name);
  EXPECT_EQ(is.points.back().name, "At3.light");
  ASSERT_EQ(is.card.size(), was.card.size());
  for (const auto& [key, value] : was.card.items()) EXPECT_EQ(is.card["F_" + key], value) << key;
}

// The lantern with a sound, a recipe that names the dinghy, and words of the game's own.
void giveSound(const fs::path& folder, mod::ModState& s) {
  const base::Bytes wav = test::wavOf(test::madeTone(440, 0.3, 0.5));
  fs::create_directories(folder / "sources/chime");
  ASSERT_TRUE(base::writeFileAtomic(folder / "sources/chime/chime.wav", wav));
  mod::SourceDoc& source = s.sources["chime"];
  source.file = "chime.wav";
  source.author = "Somebody";
  source.files = {{"chime.wav", base::hex(base::sha256(wav))}};
  mod::ObjectDoc& lantern = s.objects["lantern"];
  mod::PieceDoc piece;
  piece.name = "chime";
  piece.sort = "sound";
  piece.as = "gear-sound";
  piece.values =
      base::Json{{"sounds", {"sources/chime", "sound/lamp-hum"}}, {"plays", "touched"}, {"gain_db", -6.0}};
  lantern.pieces.push_back(piece);
  lantern.lists.push_back(
      {"workbench",
       base::Json::parse(R"({"makes": 1, "hours": 2, "needs": [{"good": "good/oil", "amount": 3}]})")});
}

TEST_F(BuildTest, SoundsAndListsGoInByTheGamesWordsAndAreTheSameAgain) {
  const fs::path folder = copy("tidewater", "tidewater");
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  for (rulebook::GameList& list : book->lists)
    for (rulebook::Field& field : list.fields) {
      if (field.id == "needs") field.word = "Materials", field.columns[0].word = "Id";
    }
  const auto x = test::examined(
      folder, [&](mod::ModState& s) { giveSound(folder, s); }, book);
  ASSERT_EQ(x->count(check::Severity::stops), 0U);
  const auto bytes = buildPackage(*x);
  ASSERT_TRUE(bytes) << bytes.error().text();
  EXPECT_EQ(*bytes, *buildPackage(*x));
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  EXPECT_TRUE(bundle->verify().empty());
  EXPECT_EQ(bundle->manifest().shared_assets, (std::vector<std::string>{"good/oil", "sound/lamp-hum"}));
  const auto& credits = bundle->manifest().credits;
  EXPECT_TRUE(std::any_of(credits.begin(), credits.end(),
                          [](const bundle::Credit& one) { return one.author == "Somebody"; }));
  const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/lantern")), "o");
  ASSERT_EQ(object->sounds.size(), 1U);
  EXPECT_EQ(object->sounds[0].sounds, (std::vector<std::string>{"sound/chime", "sound/lamp-hum"}));
  EXPECT_NEAR(object->sounds[0].gain, 0.501, 1e-3);
  EXPECT_FALSE(object->sounds[0].loop);
  EXPECT_EQ(object->lists[0].values["Materials"][0]["Id"], "good/oil");
  const auto sound = formats::decodeSound(*bundle->read(*bundle->find("sound/chime")), "chime");
  ASSERT_TRUE(sound);
  EXPECT_EQ(sound->info.format, "OGG");
  EXPECT_EQ(sound->info.rate_hz, 32000U);
  EXPECT_EQ(sound->info.channels, 1U);
  EXPECT_NEAR(sound->info.seconds(), 0.5, 0.01);
}

// A screw of the tug turns by itself, with a lamp; a rudder that carries the other swings.
void giveMotions(mod::ModState& s) {
  s.objects.erase("sea-coat");
  prepare::insertByRank(s.models.at("tug"), prepare::makeStep(s.models.at("tug"), "turn",
                                                              base::Json{{"forward", "+Z"}, {"up", "+Y"}}));
  mod::ObjectDoc& tug = s.objects.at("tug");
  mod::PieceDoc lamp{"light", "", {-9, 1, 0}, {0, 0, 0, 1}, "cabin-light"};
  lamp.sort = "lamp";
  lamp.parent = "turn";
  mod::PieceDoc turn{"turn", "", {-8, 1, 0.5}, {0, 0, 0, 1}, "turning-part"};
  turn.sort = "moving";
  turn.parent = "rudder";
  turn.values = base::Json{{"part", "tug/screw_1"}, {"rate", 2.5}};
  mod::PieceDoc rudder{"rudder", "", {0, 0, 0}, {0, -0.70710678, 0, 0.70710678}, "rudder"};
  rudder.sort = "moving";
  rudder.parent = "tug";
  rudder.values = base::Json{{"part", "tug/funnel"}, {"span_deg", {-20, 30}}};
  for (const mod::PieceDoc& one : {lamp, turn, rudder}) tug.pieces.push_back(one);
  tug.card["engine_text"] = "text/tug/engine";
  s.texts["en"].texts = {{"text/tug/engine", "No steam."}, {"text/nobody", "Not named."}};
  s.texts["xx"].texts = {{"text/tug/engine", "?"}};
}

TEST_F(BuildTest, MovingPartsSayWhatTheyMoveAndTextsThatAreNamedGoIn) {
  for (const bool right_handed : {true, false}) {
    auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
    book->right_handed = right_handed;
    const auto x = test::examined(copy("slipway", right_handed ? "a" : "b"), giveMotions, book);
    BuildOptions options;
    options.despite_findings = true;
    const auto bytes = buildPackage(*x, options);
    ASSERT_TRUE(bytes) << bytes.error().text();
    const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
    for (const base::Error& fault : bundle->verify()) ADD_FAILURE() << fault.text();
    const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/tug")), "o");
    ASSERT_EQ(object->motions.size(), 2U);
    const bundle::ObjectMotion &rudder = object->motions[0], &turn = object->motions[1];
    EXPECT_EQ(rudder.name, "rudder") << "what carries another comes first";
    EXPECT_TRUE(rudder.swings);
    EXPECT_EQ(rudder.runs, "helm");
    const auto names = [&](const bundle::ObjectMotion& of) {
      std::vector<std::string> out;
      for (const uint32_t i : of.pieces) out.push_back(object->pieces[i].name);
      return out;
    };
    EXPECT_THAT(names(turn), testing::ElementsAre("screw_1"));
    EXPECT_THAT(names(rudder), testing::ElementsAre("funnel"));
    EXPECT_EQ(turn.lamps, std::vector<uint32_t>{0});
    EXPECT_EQ(rudder.lamps, std::vector<uint32_t>{0}) << "it hangs on what hangs on it";
    // The mirror image of a turn goes the other way round.
    const float way = right_handed ? 1 : -1;
    EXPECT_EQ(turn.rate, way * 2.5F);
    EXPECT_NEAR(rudder.span[0], glm::radians(right_handed ? -20.0F : -30.0F), 1e-6F);
    EXPECT_NEAR(rudder.span[1], glm::radians(right_handed ? 30.0F : 20.0F), 1e-6F);
    const auto texts = bundle::decodeTexts(*bundle->read(*bundle->find("text/en")), "t");
    EXPECT_EQ(texts->texts, (std::map<std::string, std::string>{{"text/tug/engine", "No steam."}}));
    EXPECT_EQ(bundle->find("text/xx"), nullptr) << "the game does not speak it";
  }
}

TEST_F(BuildTest, AZipNamesWhatMovesByItsPiecesAndHoldsTexts) {
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  book->packaging = "zip";
  const auto x = test::examined(copy("slipway", "a"), giveMotions, book);
  BuildOptions options;
  options.despite_findings = true;
  const auto bytes = buildPackage(*x, options);
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto files = formats::readZip(*bytes, "a.zip");
  const base::Json record = base::Json::parse(base::asText(files->at("objects/tug.json")));
  ASSERT_EQ(record["motions"].size(), 2U);
  EXPECT_EQ(record["motions"][0]["pieces"], base::Json::parse(R"([{"piece": "tug", "part": "funnel"}])"));
  EXPECT_EQ(record["motions"][1]["pieces"], base::Json::parse(R"([{"piece": "tug", "part": "screw_1"}])"));
  const base::Json texts = base::Json::parse(base::asText(files->at("texts/en.json")));
  EXPECT_EQ(texts["texts"]["text/tug/engine"], "No steam.");
}

TEST_F(BuildTest, SmallerIconsAreMadeOfTheIcon) {
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  for (rulebook::Kind& kind : book->kinds)
    if (kind.id == "fitting") kind.icon_sizes = {{64, 64}, {20, 10}};
  const auto x = test::examined(copy("lamplight", "a"), nullptr, book);
  const auto bytes = buildPackage(*x);
  ASSERT_TRUE(bytes) << bytes.error().text();
  EXPECT_EQ(*bytes, *buildPackage(*x));
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  EXPECT_TRUE(bundle->verify().empty());
  const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "o");
  ASSERT_EQ(object->icons.size(), 2U);
  for (const bundle::ObjectIcon& one : object->icons) {
    const auto info = formats::pictureInfo(*bundle->read(*bundle->find(one.icon)), one.icon);
    ASSERT_TRUE(info);
    EXPECT_EQ(info->width, one.width);
    EXPECT_EQ(info->height, one.height);
  }
  book->packaging = "zip";
  const auto zip = buildPackage(*test::examined(copy("lamplight", "b"), nullptr, book));
  ASSERT_TRUE(zip);
  const auto files = formats::readZip(*zip, "a.zip");
  const base::Json record = base::Json::parse(base::asText(files->at("objects/quay-lamp.json")));
  EXPECT_EQ(files->count(record["icons"][1]["icon"].get<std::string>()), 1U);
}

TEST_F(BuildTest, AZipCallsSoundsByTheirFiles) {
  const fs::path folder = copy("tidewater", "tidewater");
  auto book = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  book->packaging = "zip";
  book->sounds.format = "flac";
  const auto x = test::examined(
      folder,
      [&](mod::ModState& s) {
        giveSound(folder, s);
        s.objects["lantern"].card["goes_with"] = "objects/dinghy";
      },
      book);
  BuildOptions options;
  options.despite_findings = true;
  const auto bytes = buildPackage(*x, options);
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto files = formats::readZip(*bytes, "a.zip");
  ASSERT_TRUE(files);
  ASSERT_EQ(files->count("sounds/chime.flac"), 1U);
  EXPECT_TRUE(formats::isSound(files->at("sounds/chime.flac")));
  const base::Json record = base::Json::parse(base::asText(files->at("objects/lantern.json")));
  EXPECT_EQ(record["sounds"][0]["sounds"][0], "sounds/chime.flac");
  EXPECT_EQ(record["sounds"][0]["sounds"][1], "sound/lamp-hum");
}

TEST(GameValue, ReferencesAndColumnsAreTheGames) {
  rulebook::Field list;
  list.type = rulebook::FieldType::list;
  rulebook::Field what, count;
  what.id = "what";
  what.word = "Item";
  what.type = rulebook::FieldType::reference;
  count.id = "n";
  list.columns = {what, count};
  const NameInPackage name = [](const mod::NamedThing& named) {
    return named.name == "gone" ? std::string() : "object/" + named.name;
  };
  EXPECT_EQ(gameValue(&list,
                      base::Json::parse(
                          R"([{"what": "objects/lamp", "n": 2, "odd": 1}, {"what": "objects/gone"}])"),
                      name),
            base::Json::parse(R"([{"Item": "object/lamp", "n": 2, "odd": 1}, {"Item": "objects/gone"}])"));
  list.columns = {what};
  EXPECT_EQ(gameValue(&list, base::Json::parse(R"(["objects/lamp", "good/oil"])"), name),
            base::Json::parse(R"(["object/lamp", "good/oil"])"));
  EXPECT_EQ(gameValue(nullptr, "objects/lamp", name), "objects/lamp") << "a field that nobody knows";
}

TEST_F(BuildTest, AZipHasSizesAsMorphTargetsAndNothingThatNothingUses) {
  const fs::path folder = copy("slipway", "slipway");
  auto zip = std::make_shared<rulebook::Rulebook>(*test::kelpwick());
  zip->packaging = "zip";
  const auto x = test::examined(
      folder,
      [](mod::ModState& s) {
        s.models["sea-coat"].variants["broad"] = "sea-coat-broad";
        prepare::setOrAddStep(s.models["sea-coat"], "like_first", base::Json::object());
        s.models["tug"].steps.push_back(
            {"d", "drop", true, base::Json{{"parts", base::Json::array({"tug/wheelhouse"})}}});
      },
      zip);
  BuildCache cache(root_ / "cache");
  BuildOptions options;
  options.cache = &cache;
  options.despite_findings = true;
  const auto bytes = buildPackage(*x, options);
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto files = formats::readZip(*bytes, "a.zip");
  ASSERT_TRUE(files);
  EXPECT_TRUE(zipPackager().verify(*bytes, "a.zip", nullptr).empty());
  const auto none = [](const std::string&) {
    return base::Result<base::Bytes>(base::Error{"x", "x", {}, ""});
  };
  const auto coat = formats::readModel(files->at("models/sea-coat.glb"), "c.glb", none);
  ASSERT_TRUE(coat);
  for (const auto& mesh : coat->model.meshes) EXPECT_THAT(mesh->morph_names, testing::ElementsAre("broad"));
  float farthest = 0;
  for (const scene::Primitive& p : coat->model.meshes[0]->primitives)
    for (const glm::vec3& way : p.morphs.at(0).positions) farthest = std::max(farthest, glm::length(way));
  EXPECT_GT(farthest, 0.01F) << "the broad size is another than the slim one";
  const auto tug = formats::readModel(files->at("models/tug.glb"), "t.glb", none);
  ASSERT_TRUE(tug);
  for (const scene::Node& node : tug->model.nodes) EXPECT_NE(node.name, "wheelhouse");
  EXPECT_EQ(tug->model.meshes.size(), scene::countsOf(tug->model).parts) << "the screws are one mesh each";
  // Once more: nothing is made anew, and it is the same to the byte.
  EXPECT_EQ(cache.hits(), 0u);
  const auto again = buildPackage(*x, options);
  EXPECT_EQ(*again, *bytes);
  EXPECT_GT(cache.hits(), 0u);
  EXPECT_EQ(cache.misses(), 0u);
  // Another process finds it on the disk.
  BuildCache other(root_ / "cache");
  options.cache = &other;
  EXPECT_EQ(*buildPackage(*x, options), *bytes);
  EXPECT_EQ(other.misses(), 0u);
}

TEST_F(BuildTest, APictureThatEndsInTheMiddleIsLeftOutOfTheBundle) {
  const fs::path folder = copy("lamplight", "a"), file = folder / "sources/quay-lamp/textures/hemp.png";
  base::Bytes bytes = *base::readFile(file);
  bytes.resize(bytes.size() / 2);
  ASSERT_TRUE(base::writeFileAtomic(file, bytes));
  const auto x = test::examined(folder, [](mod::ModState& s) {
    for (mod::SourceFile& f : s.sources["quay-lamp"].files) f.sha256.clear();
  });
  EXPECT_TRUE(std::any_of(x->findings.begin(), x->findings.end(),
                          [](const check::Finding& f) { return f.check == "picture.damaged"; }));
  const auto built = buildPackage(*x);
  ASSERT_TRUE(built) << built.error().text() << ": nothing stops the game, so that it is built";
  EXPECT_TRUE(bundle::Bundle::parse(*built, "a.rkb")->verify().empty());
}

}  // namespace
}  // namespace rakugo::packing
