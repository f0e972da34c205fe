// Entries put into files of a game's own.
#include "packing/delivery/merged_file.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace rakugo::packing {
namespace {

using base::Json;
using testing::HasSubstr;

const char* const kBoats = R"({
  "version": 3,
  "boats": [
    {"id": "punt", "price": 5},
    {"id": "skiff", "price": 9}
  ],
  "by/name": {"a": 1}
})";

Json mergedBoats(const std::string& at, const char* entry, const std::string& key) {
  const auto out = mergedJson(kBoats, "boats.json", at, Json::parse(entry), key);
  return out ? Json::parse(*out) : Json("error " + out.error().code);
}

TEST(MergedJson, AddsOrReplacesOneEntryAndKeepsTheRest) {
  const Json added = mergedBoats("/boats", R"({"id": "tug", "price": 21})", "id");
  EXPECT_EQ(added["boats"].size(), 3U);
  EXPECT_EQ(added["boats"][2]["id"], "tug");
  EXPECT_EQ(added["version"], 3);
  EXPECT_EQ(added.items().begin().key(), "version") << "keys stay in their order";
  const Json replaced = mergedBoats("/boats", R"({"id": "punt", "price": 6})", "id");
  EXPECT_EQ(replaced["boats"], Json::parse(R"([{"id": "punt", "price": 6}, {"id": "skiff", "price": 9}])"));
  EXPECT_EQ(mergedBoats("/boats", R"({"id": "punt", "price": 5})", "")["boats"].size(), 2U) << "it is there";
  EXPECT_EQ(mergedBoats("/by~1name", "2", "b")["by/name"], Json::parse(R"({"a": 1, "b": 2})"));
  EXPECT_EQ(mergedBoats("/boats/1", "4", "berth")["boats"][1]["berth"], 4);
  // Twice is once.
  const auto once = mergedJson(kBoats, "b", "/boats", Json{{"id", "tug"}}, "id");
  EXPECT_EQ(*mergedJson(*once, "b", "/boats", Json{{"id", "tug"}}, "id"), *once);
}

TEST(MergedJson, SaysWhatIsThereInstead) {
  const auto missing = mergedJson(kBoats, "boats.json", "/ships", Json(1), "");
  ASSERT_FALSE(missing);
  EXPECT_EQ(missing.error().code, "merge.at");
  EXPECT_THAT(missing.error().cure, HasSubstr("boats"));
  EXPECT_EQ(mergedBoats("/version", "1", ""), "error merge.at");
  EXPECT_EQ(mergedBoats("/boats/7", "1", "x"), "error merge.at");
  EXPECT_EQ(mergedBoats("boats", "1", ""), "error merge.at");
  EXPECT_EQ(mergedBoats("/by~1name", "1", ""), "error merge.key");
  EXPECT_EQ(mergedBoats("/boats", R"({"name": "tug"})", "id"), "error merge.key");
  EXPECT_EQ(mergedJson("{", "b", "", Json(1), "x").error().code, "json.syntax");
}

TEST(MergedXml, AddsOrReplacesAChild) {
  const std::string file =
      "<?xml version=\"1.0\"?>\n<!-- the harbour's -->\n<harbour>\n  <boats kind=\"all\">\n    <boat "
      "id=\"punt\" price=\"5\"/>\n"
      "  </boats>\n  <note>a &amp; b</note>\n</harbour>\n";
  const auto added =
      mergedXml(file, "h.xml", "/harbour/boats", "<boat id=\"tug\"><hold>4</hold></boat>", "id");
  ASSERT_TRUE(added) << added.error().text();
  EXPECT_THAT(*added, testing::AllOf(HasSubstr("<boat id=\"punt\" price=\"5\""), HasSubstr("<hold>4</hold>"),
                                     HasSubstr("the harbour's"), HasSubstr("a &amp; b"),
                                     HasSubstr("<?xml version=\"1.0\"?>")));
  const auto replaced = mergedXml(*added, "h.xml", "/harbour/boats", "<boat id=\"punt\" price=\"6\"/>", "id");
  ASSERT_TRUE(replaced);
  EXPECT_THAT(*replaced, testing::AllOf(HasSubstr("price=\"6\""), testing::Not(HasSubstr("price=\"5\""))));
  const auto again = mergedXml(*replaced, "h.xml", "/harbour/boats", "<boat id=\"punt\" price=\"6\"/>", "id");
  EXPECT_EQ(*again, *replaced) << "twice is once";
  EXPECT_THAT(mergedXml(file, "h.xml", "/harbour/ships", "<x/>", "").error().cure, HasSubstr("boats"));
  EXPECT_EQ(mergedXml(file, "h.xml", "/harbour/boats", "<boat/>", "id").error().code, "merge.key");
  const auto broken = mergedXml("<a>\n<b>\n</a>", "h.xml", "/a", "<x/>", "");
  EXPECT_EQ(broken.error().code, "merge.syntax");
  EXPECT_EQ(broken.error().place.line, 3);
  EXPECT_EQ(mergedXml(file, "h.xml", "/harbour", "<x/><y/>", "").error().code, "merge.syntax");
  for (const char* none : {"", "harbour/boats"})
    EXPECT_THAT(mergedXml(file, "h.xml", none, "<x/>", "").error().cure, HasSubstr("harbour"));
}

TEST(MergedLines, StandBetweenTheirMarksOnce) {
  const std::string file = "[harbour]\r\nboats=2\r\n";
  const auto once = mergedLines(file, "h.ini", "tide", "boat3=tug\nprice3=21", ";");
  ASSERT_TRUE(once);
  EXPECT_EQ(*once, "[harbour]\r\nboats=2\r\n; tide begins\r\nboat3=tug\r\nprice3=21\r\n; tide ends\r\n");
  EXPECT_EQ(*mergedLines(*once, "h.ini", "tide", "boat3=tug\nprice3=21", ";"), *once);
  // Others' lines stay where they are, before and behind.
  const auto other = mergedLines(*once + "last=1\r\n", "h.ini", "lamp", "lit=1", ";");
  const auto changed = mergedLines(*other, "h.ini", "tide", "boat3=punt", ";");
  EXPECT_EQ(
      *changed,
      "[harbour]\r\nboats=2\r\n; tide begins\r\nboat3=punt\r\n; tide ends\r\nlast=1\r\n; lamp begins\r\n"
      "lit=1\r\n; lamp ends\r\n");
  EXPECT_EQ(*mergedLines("", "h.ini", "tide", "a", "#"), "# tide begins\na\n# tide ends\n");
  EXPECT_EQ(mergedLines("# tide begins\na\n", "h", "tide", "b", "#").error().code, "merge.mark");
  EXPECT_EQ(mergedLines("# tide ends\n", "h", "tide", "b", "#").error().code, "merge.mark");
  EXPECT_EQ(mergedLines("# tide begins\n# tide ends\n# tide begins\n# tide ends\n", "h", "tide", "b", "#")
                .error()
                .code,
            "merge.mark");
  EXPECT_EQ(mergedLines("", "h", "tide", "x\n# tide ends\nadmin=1", "#").error().code, "merge.lines");
}

}  // namespace
}  // namespace rakugo::packing
