// Moving parts, smaller icons and texts in a bundle.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "bundle/records.h"

namespace rakugo::bundle {
namespace {

base::Bytes rawBytes(const std::string& text) {
  const auto view = base::asBytes(text);
  return {view.begin(), view.end()};
}

ObjectRecord windmill() {
  ObjectRecord r;
  r.id = "mill";
  r.kind = "fitting";
  r.pieces.resize(3);
  ObjectLamp lamp;
  lamp.strength = 1;
  lamp.cone = 1;
  r.lamps.push_back(lamp);
  ObjectMotion sails;
  sails.name = "sails";
  sails.as = "turning-part";
  sails.position = {0, 1, 4};
  sails.runs = "always";
  sails.rate = -0.25F;
  sails.pieces = {1, 2};
  sails.lamps = {0};
  sails.values["squeaks"] = true;
  r.motions.push_back(sails);
  ObjectMotion door = sails;
  door.name = "door";
  door.swings = true;
  door.span = {-0.5F, 1.5F};
  door.pieces = {2};
  door.lamps.clear();
  r.motions.push_back(door);
  r.icons = {{32, 24, "icon/mill-32x24"}};
  return r;
}

TEST(Motions, ComeBackAndNeedTheVersionThatKnowsThem) {
  const ObjectRecord r = windmill();
  ObjectRecord one;
  one.motions = r.motions;
  EXPECT_EQ(minorOf(one), kMinorOfLamps);
  one.motions.clear();
  EXPECT_EQ(minorOf(one), 0);
  one.icons = r.icons;
  EXPECT_EQ(minorOf(one), kMinorOfLamps);
  const auto read = decodeObject(encodeObject(r), "object/mill");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(encodeObject(*read), encodeObject(r));
  EXPECT_EQ(read->motions[0].rate, -0.25F);
  EXPECT_EQ(read->motions[0].pieces, (std::vector<uint32_t>{1, 2}));
  EXPECT_EQ(read->motions[0].values["squeaks"], true);
  EXPECT_TRUE(read->motions[1].swings);
  EXPECT_EQ(read->motions[1].span, (std::array<float, 2>{-0.5F, 1.5F}));
  EXPECT_EQ(read->icons[0].width, 32U);
}

TEST(Motions, OutsideOfTheirRangesAreRefusedWithThePlace) {
  const std::string good(base::asText(encodeObject(windmill())));
  for (const auto& [pointer, value, place] : std::vector<std::tuple<std::string, base::Json, std::string>>{
           {"/motions/0/rate", 1001, "/motions/0/rate"},
           {"/motions/0/moves", "hops", "/motions/0/moves"},
           {"/motions/1/span", base::Json::array({0, 4}), "/motions/1/span"},
           {"/motions/0/turn", base::Json::array({1, 1, 0, 0}), "/motions/0/turn"},
           {"/motions/0/pieces", base::Json::array({3}), "/motions/0"},
           {"/motions/0/lamps", base::Json::array({1}), "/motions/0"},
           {"/motions/0/emitters", base::Json::array({0}), "/motions/0"},
           {"/motions/0/pieces", base::Json::array({-1}), "/motions/0/pieces"},
           {"/motions/0/pieces", 7, "/motions/0/pieces"},
           {"/motions/0/values", 7, "/motions/0/values"},
           {"/icons/0/width", 0, "/icons/0/width"},
           {"/icons/0/height", 20000, "/icons/0/height"},
           {"/icons/0/icon", "", "/icons/0/icon"}}) {
    base::Json json = base::Json::parse(good);
    json[base::Json::json_pointer(pointer)] = value;
    const auto read = decodeObject(rawBytes(json.dump()), "object/mill");
    ASSERT_FALSE(read) << pointer;
    EXPECT_EQ(read.error().place.path, place);
  }
}

TEST(TextsRecords, ComeBackAndAreRefusedWhereTheyAreNone) {
  const TextsRecord r{"nb", {{"text/mill/says", "Knirk.\n\"Øy\""}, {"a", ""}}};
  const auto read = decodeTexts(encodeTexts(r), "text/nb");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->language, "nb");
  EXPECT_EQ(read->texts, r.texts);
  for (const auto& [bad, place] : std::vector<std::pair<std::string, std::string>>{
           {R"({"format":1,"texts":{}})", "/language"},
           {R"({"format":1,"language":"nb"})", "/texts"},
           {R"({"format":1,"language":"nb","texts":[]})", "/texts"},
           {R"({"format":1,"language":"nb","texts":{"a":3}})", "/texts/a"}}) {
    const auto refused = decodeTexts(rawBytes(bad), "text/nb");
    ASSERT_FALSE(refused) << bad;
    EXPECT_EQ(refused.error().place.path, place);
  }
}

TEST(TextsRecords, AreVerifiedInABundleAndIconsAreLookedFor) {
  const auto faults = [](const base::Bytes& texts, bool with_icon) {
    ObjectRecord object = windmill();
    for (ObjectPiece& piece : object.pieces) piece.mesh.clear();
    Manifest of;
    of.mod_id = "m";
    of.objects = {"object/mill"};
    BundleWriter writer;
    EXPECT_TRUE(writer.add(EntryKind::object, "object/mill", encodeObject(object), true, kMinorOfLamps));
    EXPECT_TRUE(writer.add(EntryKind::texts, "text/nb", texts, true, kMinorOfLamps));
    if (with_icon) {
      EXPECT_TRUE(writer.add(EntryKind::icon, "icon/mill-32x24", rawBytes("png"), false));
    }
    EXPECT_TRUE(writer.add(EntryKind::manifest, kManifestId, encodeManifest(of)));
    const base::Bytes file = writer.finish().value();
    std::vector<std::string> out;
    for (const base::Error& e : Bundle::parse(file, "b.rkb")->verify()) out.push_back(e.code);
    return out;
  };
  EXPECT_THAT(faults(encodeTexts({"nb", {{"a", "b"}}}), true), testing::IsEmpty());
  EXPECT_THAT(faults(rawBytes("{}"), true), testing::Contains("bundle.record"));
  EXPECT_THAT(faults(encodeTexts({"nb", {{"a", "b"}}}), false), testing::ElementsAre("bundle.dangling"));
}

}  // namespace
}  // namespace rakugo::bundle
