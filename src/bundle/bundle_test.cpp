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
  object.bounds_min = triangle("material/m").bounds_min;
  object.bounds_max = triangle("material/m").bounds_max;
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

// A picture of 10 x 6 pixels with all its levels, filled with what is no pattern of any format.
Ktx2Picture stored(PixelFormat format, bool srgb, bool supercompressed) {
  Ktx2Picture p{10, 6, srgb, {}, format, supercompressed};
  for (const auto& [w, h] : {std::pair(10, 6), std::pair(5, 3), std::pair(2, 1), std::pair(1, 1)}) {
    Bytes& level =
        p.levels.emplace_back(levelBytes(format, static_cast<uint64_t>(w), static_cast<uint64_t>(h)));
    for (size_t i = 0; i < level.size(); ++i) level[i] = static_cast<std::byte>(i * 37 + p.levels.size());
  }
  return p;
}

TEST(Ktx2, EveryFormatRoundTripsAndIsRefusedAtEveryPrefix) {
  for (const PixelFormatRow& row : pixelFormats())
    for (const bool srgb : {false, true})
      for (const bool small : {false, true}) {
        if (!row.written || (srgb && row.vulkan_srgb == 0)) continue;
        const Ktx2Picture p = stored(row.format, srgb, small);
        const Bytes file = encodeKtx2(p);
        const auto read = decodeKtx2(file, "p");
        ASSERT_TRUE(read) << row.id << ": " << read.error().text();
        EXPECT_EQ(read->levels, p.levels) << row.id;
        EXPECT_EQ(read->format, row.format);
        EXPECT_EQ(read->srgb, srgb) << row.id;
        EXPECT_EQ(read->supercompressed, small);
        EXPECT_EQ(minorOf(*read), row.format == PixelFormat::rgba8 && !small ? 0 : 3);
        for (size_t n = 0; n < file.size(); ++n)
          ASSERT_FALSE(decodeKtx2(base::ByteSpan(file).first(n), "p")) << row.id << " " << n;
        Bytes longer = file;
        longer.push_back(std::byte{0});
        EXPECT_FALSE(decodeKtx2(longer, "p")) << "something lies behind it";
      }
}

// By the specification: numbers that stand at fixed places for BC3 as colour with four levels.
TEST(Ktx2, ABlockFormatStandsInTheFileToTheLetter) {
  const Bytes file = encodeKtx2(stored(PixelFormat::bc3, true, false));
  const auto word = [&](size_t at) { return base::loadAt<uint32_t>(file, at); };
  const auto octet = [&](size_t at) { return base::loadAt<uint8_t>(file, at); };
  EXPECT_EQ(word(12), 138U) << "VK_FORMAT_BC3_SRGB_BLOCK";
  EXPECT_EQ(word(16), 1U) << "typeSize of block formats";
  EXPECT_EQ(word(40), 4U) << "levelCount";
  EXPECT_EQ(word(44), 0U) << "no supercompression";
  const size_t dfd = 80 + 4 * 24;
  EXPECT_EQ(word(48), dfd);
  EXPECT_EQ(word(52), 4U + 24 + 2 * 16);
  EXPECT_EQ(word(dfd), 4U + 24 + 2 * 16) << "dfdTotalSize";
  EXPECT_EQ(octet(dfd + 12), 130) << "KHR_DF_MODEL_BC3";
  EXPECT_EQ(octet(dfd + 13), 1) << "KHR_DF_PRIMARIES_BT709";
  EXPECT_EQ(octet(dfd + 14), 2) << "KHR_DF_TRANSFER_SRGB";
  EXPECT_EQ(octet(dfd + 16), 3) << "texelBlockDimension0, less one";
  EXPECT_EQ(octet(dfd + 17), 3);
  EXPECT_EQ(octet(dfd + 20), 16) << "bytesPlane0";
  EXPECT_EQ(octet(dfd + 28 + 2), 63) << "bitLength of the first sample, less one";
  EXPECT_EQ(octet(dfd + 28 + 3), 15 | 0x10) << "alpha, linear";
  EXPECT_EQ(word(dfd + 28 + 12), 0xFFFFFFFFU);
  EXPECT_EQ(base::loadAt<uint16_t>(file, dfd + 44), 64U) << "bitOffset of the second";
  EXPECT_EQ(octet(dfd + 44 + 3), 0) << "colour";
  // Levels: smallest first, each at a multiple of 16; blocks of 4 x 4 that the sides reach into.
  const auto offset = [&](size_t level) { return base::loadAt<uint64_t>(file, 80 + level * 24); };
  const auto length = [&](size_t level) { return base::loadAt<uint64_t>(file, 80 + level * 24 + 8); };
  EXPECT_EQ(length(0), 3U * 2 * 16);
  EXPECT_EQ(length(1), 2U * 1 * 16);
  EXPECT_EQ(length(3), 16U);
  for (size_t level = 0; level < 4; ++level) EXPECT_EQ(offset(level) % 16, 0U) << level;
  EXPECT_LT(offset(3), offset(2));
  EXPECT_EQ(offset(0) + length(0), file.size());
}

TEST(Ktx2, WhatLiesIsRefusedByName) {
  const Bytes file = encodeKtx2(stored(PixelFormat::bc1, true, false));
  const size_t dfd = 80 + 4 * 24;
  const auto fault = [&](size_t at, uint32_t value) {
    Bytes other = file;
    base::storeAt(other, at, value);
    const auto read = decodeKtx2(other, "p");
    return read ? std::string() : read.error().message;
  };
  EXPECT_THAT(fault(12, 145), testing::HasSubstr("a format that no bundle holds")) << "BC7 is not written";
  EXPECT_THAT(fault(12, 138), testing::HasSubstr("mip level")) << "BC3 needs twice the bytes";
  EXPECT_THAT(fault(12, 131), testing::HasSubstr("another format than its header")) << "not as sRGB";
  EXPECT_THAT(fault(44, 1), testing::HasSubstr("compressed in a way"));
  EXPECT_THAT(fault(44, 2), testing::HasSubstr("not where it belongs")) << "zstd needs no alignment";
  EXPECT_THAT(fault(64, 8), testing::HasSubstr("data of a compression"));
  EXPECT_THAT(fault(80, 4), testing::HasSubstr("not where it belongs"));
  EXPECT_THAT(fault(dfd + 12, 0x01010284), testing::HasSubstr("another format than its header"));
  EXPECT_THAT(fault(56, 4), testing::HasSubstr("its keys"));
}

TEST(Bundle, StatesTheVersionThatItsPicturesNeed) {
  const Ktx2Picture small = stored(PixelFormat::bc5, false, true);
  const auto verified = [&](uint16_t minor) {
    Manifest alone = manifest();
    alone.objects.clear();
    BundleWriter writer;
    EXPECT_TRUE(writer.add(EntryKind::picture, "picture/p", encodeKtx2(small), true, minor));
    EXPECT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(alone)));
    const Bytes file = writer.finish().value();
    return Bundle::parse(file, "b.rkb")->verify();
  };
  EXPECT_TRUE(verified(minorOf(small)).empty());
  const auto faults = verified(0);
  ASSERT_EQ(faults.size(), 1U);
  EXPECT_EQ(faults[0].code, "bundle.version");
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

ObjectRecord lampedObject() {
  ObjectRecord r;
  r.id = "tug";
  r.kind = "craft";
  ObjectLamp lamp;
  lamp.name = "port";
  lamp.as = "side-light";
  lamp.position = {1, 2, 3};
  lamp.color = {1, 0, 0.25F};
  lamp.strength = 12;
  lamp.reach = 6;
  lamp.cone = 1.5F;
  lamp.soft = 0.5F;
  lamp.lit = "under-way";
  lamp.values["bulb"] = "brass";
  r.lamps.push_back(lamp);
  ObjectEmitter smoke;
  smoke.as = "funnel-smoke";
  smoke.look = "smoke";
  smoke.runs = "always";
  smoke.rate = 12;
  smoke.life = 4;
  smoke.gravity = -0.5F;
  smoke.size = {0.25F, 1};
  smoke.color = {{{0.5F, 0.25F, 0.125F}, {1, 1, 1}}};
  r.emitters.push_back(smoke);
  ObjectShape hull;
  hull.as = "hull-body";
  hull.form = "hull";
  hull.friction = 0.5F;
  hull.bounce = 0.25F;
  hull.corners = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  hull.triangles = {{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}};
  r.shapes.push_back(hull);
  return r;
}

TEST(Records, LampsAndEmittersComeBackAndTheFileStatesTheVersionTheyNeed) {
  const ObjectRecord r = lampedObject();
  EXPECT_EQ(minorOf(r), 4);
  EXPECT_EQ(minorOf(ObjectRecord()), 0);
  const auto read = decodeObject(encodeObject(r), "object/tug");
  ASSERT_TRUE(read) << read.error().text();
  ASSERT_EQ(read->lamps.size(), 1U);
  EXPECT_EQ(read->lamps[0].color, r.lamps[0].color);
  EXPECT_EQ(read->lamps[0].cone, 1.5F);
  EXPECT_EQ(read->lamps[0].lit, "under-way");
  EXPECT_EQ(read->lamps[0].values, r.lamps[0].values);
  ASSERT_EQ(read->emitters.size(), 1U);
  EXPECT_EQ(read->emitters[0].color, r.emitters[0].color);
  EXPECT_EQ(read->emitters[0].opacity, (std::array<float, 2>{1, 0}));
  ASSERT_EQ(read->shapes.size(), 1U);
  EXPECT_EQ(read->shapes[0].corners, r.shapes[0].corners);
  EXPECT_EQ(read->shapes[0].triangles, r.shapes[0].triangles);
  EXPECT_EQ(encodeObject(*read), encodeObject(r));
  // A file that states less is refused.
  const auto verified = [&](uint16_t minor) {
    Manifest of = manifest();
    of.objects = {"object/tug"};
    BundleWriter writer;
    EXPECT_TRUE(writer.add(EntryKind::object, "object/tug", encodeObject(r), true, minor));
    EXPECT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(of)));
    const Bytes file = writer.finish().value();
    return Bundle::parse(file, "b.rkb")->verify();
  };
  EXPECT_THAT(verified(4), testing::IsEmpty());
  ASSERT_THAT(verified(3), testing::SizeIs(1));
  EXPECT_EQ(verified(3)[0].code, "bundle.version");
}

TEST(Records, LampsAndEmittersOutsideOfTheirRangesAreRefusedWithThePlace) {
  const std::string good(base::asText(encodeObject(lampedObject())));
  const auto fault = [&](const std::string& pointer, const base::Json& value) {
    base::Json json = base::Json::parse(good);
    json[base::Json::json_pointer(pointer)] = value;
    const auto read = decodeObject(bytesOf(json.dump()), "object/tug");
    EXPECT_FALSE(read) << pointer;
    return read ? std::string() : read.error().place.path;
  };
  for (const auto& [pointer, value] : std::vector<std::pair<std::string, base::Json>>{
           {"/lamps/0/strength", -1},
           {"/lamps/0/reach", 1e9},
           {"/lamps/0/cone", 0},
           {"/lamps/0/cone", 7},
           {"/lamps/0/soft", 2},
           {"/lamps/0/color", base::Json::array({2, 0, 0})},
           {"/lamps/0/values", 3},
           {"/lamps/0/turn", base::Json::array({1, 1, 1, 1})},
           {"/emitters/0/rate", 501},
           {"/emitters/0/life", 0},
           {"/emitters/0/life", 61},
           {"/emitters/0/spread", 4},
           {"/emitters/0/opacity", base::Json::array({0, 1.5})},
           {"/emitters/0/size", base::Json::array({-1, 1})},
           {"/emitters/0/color", base::Json::array({1, 1, 1})},
           {"/shapes/0/form", "blob"},
           {"/shapes/0/bounce", 1.5},
           {"/shapes/0/size", base::Json::array({-1, 1, 1})},
           {"/shapes/0/corners", base::Json::array({1, 2})},
           {"/shapes/0/triangles", base::Json::parse("[[0,1,4]]")},
           {"/shapes/0/triangles", base::Json::parse("[[0,1,-1]]")}})
    EXPECT_EQ(fault(pointer, value), pointer) << value;
}

ObjectRecord soundedObject() {
  ObjectRecord r;
  r.id = "tug";
  r.kind = "craft";
  ObjectSound engine;
  engine.name = engine.as = "engine";
  engine.plays = "under-way";
  engine.sounds = {"sound/engine", "shared/hum"};
  engine.loop = true;
  engine.gain = 0.5F;
  engine.pitch = {0.75F, 1.5F};
  engine.near = 2;
  engine.far = 40;
  r.sounds.push_back(engine);
  r.lists.push_back({"broker", base::Json{{"berth", "slipway"}}});
  return r;
}

TEST(Records, SoundsAndListsComeBackAndTheirEntriesAreLookedFor) {
  const ObjectRecord r = soundedObject();
  EXPECT_EQ(minorOf(r), kMinorOfLamps);
  const auto read = decodeObject(encodeObject(r), "object/tug");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(encodeObject(*read), encodeObject(r));
  EXPECT_EQ(read->sounds[0].pitch, (std::array<float, 2>{0.75F, 1.5F}));
  EXPECT_EQ(read->lists[0].values["berth"], "slipway");
  const auto faults = [&](const char* content, std::vector<std::string> shared) {
    Manifest of = manifest();
    of.objects = {"object/tug"};
    of.shared_assets = std::move(shared);
    BundleWriter writer;
    EXPECT_TRUE(writer.add(EntryKind::object, "object/tug", encodeObject(r), true, kMinorOfLamps));
    EXPECT_TRUE(writer.add(EntryKind::sound, "sound/engine", bytesOf(content), false, kMinorOfLamps));
    EXPECT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(of)));
    const Bytes file = writer.finish().value();
    std::vector<std::string> out;
    for (const base::Error& e : Bundle::parse(file, "b.rkb")->verify()) out.push_back(e.code);
    return out;
  };
  EXPECT_THAT(faults("OggS and so on", {"shared/hum"}), testing::IsEmpty());
  EXPECT_THAT(faults("OggS and so on", {}), testing::ElementsAre("bundle.dangling"));
  EXPECT_THAT(faults("no sound at all", {"shared/hum"}), testing::ElementsAre("bundle.sound"));
  // Before 1.4 there is no such kind.
  Manifest of = manifest();
  BundleWriter writer;
  EXPECT_TRUE(writer.add(EntryKind::sound, "sound/x", bytesOf("OggS"), false, 3));
  EXPECT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(of)));
  const Bytes file = writer.finish().value();
  const auto early = Bundle::parse(file, "b.rkb");
  EXPECT_TRUE(!early || !early->verify().empty());
}

TEST(Records, SoundsOutsideOfTheirRangesAreRefusedWithThePlace) {
  const std::string good(base::asText(encodeObject(soundedObject())));
  for (const auto& [pointer, value] :
       std::vector<std::pair<std::string, base::Json>>{{"/sounds/0/gain", 65},
                                                       {"/sounds/0/pitch", base::Json::array({0, 1})},
                                                       {"/sounds/0/pitch", base::Json::array({1, 17})},
                                                       {"/sounds/0/near", -1},
                                                       {"/sounds/0/far", 1},
                                                       {"/sounds/0/sounds", base::Json::array()},
                                                       {"/lists/0/values", 3},
                                                       {"/lists/0/list", ""}}) {
    base::Json json = base::Json::parse(good);
    json[base::Json::json_pointer(pointer)] = value;
    const auto read = decodeObject(bytesOf(json.dump()), "object/tug");
    ASSERT_FALSE(read) << pointer;
    EXPECT_EQ(read.error().place.path, pointer);
  }
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
