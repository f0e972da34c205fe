#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>
#include <sstream>

#include "base/text.h"
#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"

namespace rakugo::bundle {
namespace {

using base::Bytes;

Bytes bytesOf(std::string_view text) {
  const auto view = base::asBytes(text);
  return {view.begin(), view.end()};
}

MeshPayload triangle(const std::string& material) {
  MeshPayload mesh;
  mesh.vertex_count = 3;
  mesh.stride = 24;
  mesh.attributes = {{Semantic::position, AttributeFormat::f32x3, 0},
                     {Semantic::normal, AttributeFormat::f32x3, 12}};
  base::ByteWriter out;
  for (const float v :
       {0.F, 0.F, 0.F, 0.F, 0.F, 1.F, 1.F, 0.F, 0.F, 0.F, 0.F, 1.F, 0.F, 1.F, 0.F, 0.F, 0.F, 1.F})
    out.write(v);
  mesh.vertices = out.take();
  mesh.indices = {0, 1, 2};
  mesh.submeshes = {{0, 3, 0}};
  mesh.materials = {material};
  mesh.bounds_max = {1, 1, 0};
  return mesh;
}

Ktx2Picture picture() {
  Ktx2Picture p;
  p.width = 2;
  p.height = 1;
  p.levels = {Bytes(8, std::byte{7}), Bytes(4, std::byte{9})};
  return p;
}

Manifest manifest() {
  Manifest m;
  m.mod_id = "a-mod";
  m.title = "A mod";
  m.rulebook_id = "kelpwick";
  m.objects = {"object/thing"};
  m.credits = {{"thing.glb", "Somebody", "CC0-1.0", ""}};
  return m;
}

// A whole small bundle: one object with mesh, material and picture.
Bytes smallBundle(bool backwards = false) {
  ObjectRecord object;
  object.id = "thing";
  object.kind = "fitting";
  object.pieces.push_back({"part", "mesh/a"});
  MaterialRecord material;
  material.name = "m";
  material.base_color_picture = "picture/p";
  std::vector<std::function<void(BundleWriter&)>> adds = {
      [&](BundleWriter& w) {
        EXPECT_TRUE(w.add(EntryKind::manifest, kManifestId, encodeManifest(manifest())));
      },
      [&](BundleWriter& w) { EXPECT_TRUE(w.add(EntryKind::object, "object/thing", encodeObject(object))); },
      [&](BundleWriter& w) {
        EXPECT_TRUE(w.add(EntryKind::mesh, "mesh/a", encodeMesh(triangle("material/m"))));
      },
      [&](BundleWriter& w) {
        EXPECT_TRUE(w.add(EntryKind::material, "material/m", encodeMaterial(material)));
      },
      [&](BundleWriter& w) { EXPECT_TRUE(w.add(EntryKind::picture, "picture/p", encodeKtx2(picture()))); },
  };
  if (backwards) std::reverse(adds.begin(), adds.end());
  BundleWriter writer;
  for (const auto& add : adds) add(writer);
  return std::move(writer.finish()).value();
}

// True when the bundle is refused at opening or by verification.
bool refused(const Bytes& bytes) {
  const auto bundle = Bundle::parse(bytes, "test.rkb");
  return !bundle || !bundle->verify().empty();
}

TEST(Bundle, ReadsWhatWasWritten) {
  const Bytes file = smallBundle();
  const auto bundle = Bundle::parse(file, "test.rkb");
  ASSERT_TRUE(bundle) << bundle.error().text();
  EXPECT_EQ(bundle->manifest(), manifest());
  EXPECT_EQ(bundle->entries().size(), 5u);
  EXPECT_THAT(bundle->verify(), testing::IsEmpty());
  const auto raw = bundle->read(*bundle->find("mesh/a"));
  ASSERT_TRUE(raw);
  EXPECT_EQ(decodeMesh(*raw, "mesh/a")->indices, (std::vector<uint32_t>{0, 1, 2}));
  EXPECT_EQ(bundle->find("mesh/none"), nullptr);
}

TEST(Bundle, BytesDoNotDependOnTheOrderOfAdding) { EXPECT_EQ(smallBundle(false), smallBundle(true)); }

TEST(Bundle, EntriesLieOnMultiplesOf64) {
  const Bytes file = smallBundle();
  const auto bundle = Bundle::parse(file, "test.rkb");
  for (const Entry& e : bundle->entries()) EXPECT_EQ(e.offset % 64, 0u);
  EXPECT_EQ(file.size() % 64, 0u);
}

TEST(Bundle, AnyFlippedByteIsRefused) {
  const Bytes file = smallBundle();
  for (size_t at = 0; at < file.size(); ++at)
    for (const int mask : {0x01, 0x80}) {
      Bytes damaged = file;
      damaged[at] ^= static_cast<std::byte>(mask);
      ASSERT_TRUE(refused(damaged)) << "byte " << at << " xor " << mask;
    }
}

TEST(Bundle, EveryPrefixIsRefused) {
  const Bytes file = smallBundle();
  for (size_t length = 0; length < file.size(); ++length)
    ASSERT_TRUE(refused(Bytes(file.begin(), file.begin() + static_cast<std::ptrdiff_t>(length)))) << length;
  Bytes longer = file;
  longer.resize(file.size() + 64);
  EXPECT_TRUE(refused(longer));
}

// Puts the header's own hash right, so that what lies behind it is reached.
void rehash(Bytes& file) {
  base::ByteWriter w;
  w.bytes(file);
  const auto toc_bytes = base::loadAt<uint64_t>(file, 32);
  if (toc_bytes <= file.size() - kHeaderBytes)
    w.overwrite(80, base::sha256(base::ByteSpan(file).subspan(kHeaderBytes, toc_bytes)));
  w.overwrite(48, base::sha256(base::ByteSpan(file).subspan(kHeaderBytes)));
  w.overwrite(kHeaderHashedBytes, base::sha256(w.view().first(kHeaderHashedBytes)));
  file = w.take();
}

// A lie with right hashes: the reader must find it by sense, and say where.
std::string codeOfLie(size_t offset, uint64_t value, size_t width) {
  Bytes file = smallBundle();
  std::memcpy(file.data() + offset, &value, width);
  rehash(file);
  const auto bundle = Bundle::parse(file, "test.rkb");
  if (!bundle) {
    EXPECT_GE(bundle.error().place.offset, 0);
    return bundle.error().code;
  }
  const auto faults = bundle->verify();
  return faults.empty() ? "" : faults.front().code;
}

TEST(Bundle, LiesWithRightHashesAreFoundBySense) {
  constexpr size_t kRecord = kHeaderBytes;
  EXPECT_EQ(codeOfLie(8, 2, 2), "bundle.version");
  EXPECT_EQ(codeOfLie(12, 1, 4), "bundle.reserved");
  EXPECT_EQ(codeOfLie(16, 1, 8), "bundle.truncated");
  EXPECT_EQ(codeOfLie(32, UINT64_MAX, 8), "bundle.table_range");
  EXPECT_EQ(codeOfLie(40, 0xFFFFFFFF, 4), "bundle.table_range");
  EXPECT_EQ(codeOfLie(kRecord, 99, 2), "bundle.entry_kind");
  EXPECT_EQ(codeOfLie(kRecord + 2, 9, 2), "bundle.entry_codec");
  EXPECT_EQ(codeOfLie(kRecord + 8, 0xFFFF, 4), "bundle.entry_id");
  EXPECT_EQ(codeOfLie(kRecord + 16, 64, 8), "bundle.entry_range");
  EXPECT_EQ(codeOfLie(kRecord + 24, UINT64_MAX, 8), "bundle.entry_range");
  EXPECT_EQ(codeOfLie(kRecord + 32, 1ull << 40, 8), "bundle.bomb");
}

TEST(Bundle, VerifyNamesADanglingReference) {
  BundleWriter writer;
  ASSERT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(manifest())));
  const Bytes file = std::move(writer.finish()).value();
  const auto faults = Bundle::parse(file, "t.rkb")->verify();
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].code, "bundle.dangling");
  EXPECT_THAT(faults[0].message, testing::HasSubstr("object/thing"));
}

TEST(Bundle, TheSmallestFileOfTheSpecificationIsReadAndWritten) {
  const Bytes document = *base::readFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / "docs/bundle-format.md");
  std::string text(base::asText(document));
  text = text.substr(text.find("```\n") + 4);
  text = text.substr(0, text.find("```"));
  Bytes file;
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);) {
    std::istringstream words(line.substr(5));
    for (std::string byte; words >> byte;)
      file.push_back(static_cast<std::byte>(std::stoi(byte, nullptr, 16)));
  }
  const auto bundle = Bundle::parse(file, "smallest.rkb");
  ASSERT_TRUE(bundle) << bundle.error().text();
  EXPECT_TRUE(bundle->verify().empty());
  BundleWriter writer;
  ASSERT_TRUE(writer.add(EntryKind::manifest, kManifestId,
                         encodeManifest({.mod_id = "m", .rulebook_id = "r", .target = "desktop"}), false));
  EXPECT_EQ(*writer.finish(), file);
}

TEST(BundleWriter, RefusesBadIdsRepeatsAndNoManifest) {
  BundleWriter writer;
  EXPECT_EQ(writer.add(EntryKind::mesh, "", {}).error().code, "bundle.bad_id");
  EXPECT_EQ(writer.add(EntryKind::mesh, "a b", {}).error().code, "bundle.bad_id");
  ASSERT_TRUE(writer.add(EntryKind::mesh, "a", {}));
  EXPECT_EQ(writer.add(EntryKind::mesh, "a", {}).error().code, "bundle.repeated_id");
  EXPECT_EQ(writer.finish().error().code, "bundle.no_manifest");
}

TEST(BundleWriter, StoresWhatDoesNotGetSmallerAndKeepsExpansionInBounds) {
  BundleWriter writer;
  ASSERT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(Manifest{.mod_id = "m"})));
  ASSERT_TRUE(writer.add(EntryKind::icon, "tiny", bytesOf("ab")));
  ASSERT_TRUE(writer.add(EntryKind::icon, "zeros", Bytes(4 << 20)));
  const Bytes file = std::move(writer.finish()).value();
  const auto bundle = Bundle::parse(file, "t.rkb");
  ASSERT_TRUE(bundle) << bundle.error().text();
  EXPECT_EQ(bundle->find("tiny")->codec, Codec::stored);
  EXPECT_TRUE(bundle->verify().empty());
}

TEST(MeshPayload, RoundTripsWithWideIndices) {
  MeshPayload mesh = triangle("m");
  mesh.vertex_count = 70'000;
  mesh.vertices.resize(size_t{70'000} * 24);
  mesh.indices = {0, 69'999, 2};
  const auto read = decodeMesh(encodeMesh(mesh), "m");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->indices, mesh.indices);
  EXPECT_EQ(read->vertices, mesh.vertices);
}

TEST(MeshPayload, RefusesEveryPrefixAndBadValues) {
  const Bytes good = encodeMesh(triangle("m"));
  for (size_t n = 0; n < good.size(); ++n) ASSERT_FALSE(decodeMesh(base::ByteSpan(good).first(n), "m")) << n;
  MeshPayload nan = triangle("m");
  const float bad = std::nanf("");
  std::memcpy(nan.vertices.data(), &bad, 4);
  EXPECT_FALSE(decodeMesh(encodeMesh(nan), "m"));
  MeshPayload beyond = triangle("m");
  beyond.indices[1] = 3;
  EXPECT_FALSE(decodeMesh(encodeMesh(beyond), "m"));
  MeshPayload gap = triangle("m");
  gap.submeshes[0].first_index = 3;
  EXPECT_FALSE(decodeMesh(encodeMesh(gap), "m"));
}

TEST(Ktx2, RoundTripsAndFollowsTheSpecification) {
  const Bytes file = encodeKtx2(picture());
  // Section 3: identifier, then vkFormat 43 (VK_FORMAT_R8G8B8A8_SRGB).
  EXPECT_EQ(base::loadAt<uint32_t>(file, 12), 43u);
  EXPECT_EQ(base::loadAt<uint32_t>(file, 20), 2u);
  const auto read = decodeKtx2(file, "p");
  ASSERT_TRUE(read);
  EXPECT_EQ(read->levels, picture().levels);
  for (size_t n = 0; n < file.size(); ++n) ASSERT_FALSE(decodeKtx2(base::ByteSpan(file).first(n), "p")) << n;
}

TEST(Records, RoundTripAndRefuseWithThePlace) {
  MaterialRecord m;
  m.role = "lamp";
  m.base_color = {0.25F, 0.5F, 0.75F, 1};
  const auto read = decodeMaterial(encodeMaterial(m), "material/m");
  ASSERT_TRUE(read);
  EXPECT_EQ(read->role, "lamp");
  EXPECT_EQ(read->base_color, m.base_color);
  const auto bad =
      decodeObject(bytesOf(R"({"format":1,"id":"a","kind":"b","pieces":[{"turn":[9,0,0,1]}]})"), "object/a");
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error().code, "bundle.record");
  EXPECT_EQ(bad.error().place.path, "/pieces/0/turn");
}

TEST(Records, AMaterialSaysHowPicturesAreLookedUpAndTheFileStatesTheVersionItNeeds) {
  using Wrap = PictureLookup::Wrap;
  MaterialRecord m;
  EXPECT_EQ(minorOf(m), 0);
  EXPECT_EQ(base::asText(encodeMaterial(m)).find("lookups"), std::string_view::npos)
      << "as it was written before where nothing is new";
  m.unlit = true;
  m.lookups[2] = {1, {Wrap::clamp, Wrap::mirror}, {0.25F, -1}, {2, 0.5F}, 1.5F};
  EXPECT_EQ(minorOf(m), 2);
  const auto read = decodeMaterial(encodeMaterial(m), "material/m");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->lookups, m.lookups);
  EXPECT_TRUE(read->unlit);
  // By hand: u' = 0.25 + cos 1.5 * 2 u + sin 1.5 * 0.5 v.
  const auto rows = m.lookups[2].rows();
  EXPECT_NEAR(rows[0][0], 2 * 0.0707372F, 1e-5F);
  EXPECT_NEAR(rows[0][1], 0.5F * 0.9974950F, 1e-5F);
  EXPECT_NEAR(rows[1][0], -2 * 0.9974950F, 1e-5F);
  EXPECT_EQ(rows[1][2], -1);
  for (const char* bad : {R"({"format":1,"lookups":{"normal":{"uv":2}}})",
                          R"({"format":1,"lookups":{"normal":{"wrap":["round","clamp"]}}})",
                          R"({"format":1,"lookups":{"normal":{"offset":[1]}}})",
                          R"({"format":1,"lookups":{"normal":3}})", R"({"format":1,"unlit":"yes"})"}) {
    const auto refused = decodeMaterial(bytesOf(bad), "material/m");
    ASSERT_FALSE(refused) << bad;
    EXPECT_FALSE(refused.error().place.path.empty()) << bad;
  }
  for (const uint16_t minor : {uint16_t{0}, uint16_t{2}}) {
    BundleWriter w;
    Manifest manifest;
    manifest.mod_id = "m";
    ASSERT_TRUE(w.add(EntryKind::manifest, kManifestId, encodeManifest(manifest)));
    ASSERT_TRUE(w.add(EntryKind::material, "material/m", encodeMaterial(m), true, minor));
    const auto file = w.finish();
    ASSERT_TRUE(file);
    EXPECT_EQ(base::loadAt<uint16_t>(*file, 10), minor);
    EXPECT_TRUE(Bundle::parse(*file, "m.rkb"));
  }
}

}  // namespace
}  // namespace rakugo::bundle
