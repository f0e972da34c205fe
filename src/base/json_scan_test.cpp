#include "base/json_scan.h"

#include <gtest/gtest.h>

#include "base/json.h"
#include "base/text.h"

namespace rakugo::base {
namespace {

TEST(JsonScan, FindsTheLineOfAValueOrOfTheLastThatIsThereOnTheWayToIt) {
  const std::string text = "{\n  \"a\": [1,\n    { \"b/c\": 20.000 }\n  ],\n  \"d\": \"x\"\n}";
  const JsonScan scan(text);
  ASSERT_TRUE(scan.wellFormed());
  EXPECT_EQ(scan.lineOf(""), 1);
  EXPECT_EQ(scan.lineOf("/a/0"), 2);
  EXPECT_EQ(scan.lineOf("/a/1/b/c"), 3) << "a key may hold a slash";
  EXPECT_EQ(scan.plainText("/a/1/b/c"), "20.000");
  EXPECT_EQ(scan.lineOf("/d"), 5);
  EXPECT_EQ(scan.plainText("/d"), "") << "no number";
  EXPECT_EQ(scan.lineOf("/a/1/none/at/all"), 3);
  EXPECT_EQ(scan.lineOf("/a/7"), 2);
}

TEST(JsonScan, AgreesWithTheParserOnWhatIsWellFormed) {
  for (const char* good :
       {"1", "\"a\\\"b\"", "[]", "{}", "[[],{}]", " { \"a\" : null } ", "-0.5e+3", "\xEF\xBB\xBF[1]"})
    EXPECT_TRUE(JsonScan(good).wellFormed() && parseJson(good, "f")) << good;
  for (const char* bad :
       {"", "[", "[1,]", "{\"a\":1,}", "{a:1}", "[01]", "[1 2]", "[tru]", "{} {}", "[1}", "\"a", "-"}) {
    EXPECT_FALSE(JsonScan(bad).wellFormed()) << bad;
    EXPECT_FALSE(parseJson(bad, "f")) << bad;
  }
}

TEST(JsonScan, DepthExhaustsNothing) {
  const JsonScan scan(std::string(2'000'000, '['));
  EXPECT_FALSE(scan.wellFormed());
  EXPECT_EQ(scan.open().size(), 2'000'000U);
}

TEST(Controls, AreLeftOutOfTextAndEscapedInJson) {
  const std::string turns =
      "a\x1b[31m\xC2\x9B"
      "b\xE2\x80\xAE\x7F\tc\n";
  EXPECT_TRUE(holdsControls(turns, true));
  EXPECT_EQ(printable(turns), "a[31mb\tc\n");
  EXPECT_EQ(presentable(turns), "a[31mbc");
  EXPECT_FALSE(holdsControls(printable(turns), true));
  const Json json{{"said", turns}};
  for (const std::string& text : {jsonText(json), jsonLine(json)}) {
    EXPECT_FALSE(holdsControls(text, true)) << text;
    EXPECT_EQ((*parseJson(text, "f"))["said"], turns) << "nothing is lost";
  }
}

}  // namespace
}  // namespace rakugo::base
