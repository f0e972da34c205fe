#include "formats/text/words.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <vector>

#include "formats/text/text_encoding.h"

namespace rakugo::formats {
namespace {

using testing::ElementsAre;

std::vector<std::string_view> lines(std::string_view text) {
  std::vector<std::string_view> out;
  while (!text.empty()) out.push_back(nextLine(text));
  return out;
}

TEST(Words, LinesEndInAnyWay) {
  EXPECT_THAT(lines("a\nb\r\nc\rd"), ElementsAre("a", "b", "c", "d"));
  EXPECT_THAT(lines("\n\r\n\r"), ElementsAre("", "", ""));
  EXPECT_THAT(lines("a\n\rb"), ElementsAre("a", "", "b")) << "the other way round these are two ends";
  EXPECT_TRUE(lines("").empty());
}

TEST(Words, AreTakenOffTheFront) {
  std::string_view text = "  usemtl\twet  oak \r";
  EXPECT_EQ(nextWord(text), "usemtl");
  EXPECT_EQ(trimmed(text), "wet  oak");
  EXPECT_EQ(nextWord(text), "wet");
  EXPECT_EQ(nextWord(text), "oak");
  EXPECT_EQ(nextWord(text), "");
  EXPECT_EQ(trimmed(" \t "), "");
}

std::string utf8(std::string_view bytes) {
  std::string storage;
  const auto text = asUtf8(base::asBytes(bytes), storage);
  return text ? std::string(*text) : std::string("cut");
}

// Expected bytes from RFC 3629 and RFC 2781.
TEST(TextEncoding, WideTextBecomesUtf8) {
  using namespace std::string_view_literals;
  EXPECT_EQ(utf8("\xFF\xFE\x7A\x00\xFC\x00\x34\xD8\x1E\xDD"sv), "z\xC3\xBC\xF0\x9D\x84\x9E");
  EXPECT_EQ(utf8("\xFE\xFF\x20\xAC"sv), "\xE2\x82\xAC");
  EXPECT_EQ(utf8("v\0 \0"sv), "v ");
  EXPECT_EQ(utf8("\0v\0 "sv), "v ");
  EXPECT_EQ(utf8("\xFF\xFE\x00\xD8\x41\x00"sv),
            "\xEF\xBF\xBD"
            "A")
      << "half a pair";
  EXPECT_EQ(utf8("\xFF\xFE\x41"sv), "cut");
  EXPECT_EQ(utf8("\xEF\xBB\xBFplain"sv), "plain");
  EXPECT_EQ(utf8("caf\xE9"sv), "caf\xE9") << "what is no UTF-16 is taken as it is";
  EXPECT_EQ(utf8(""sv), "");
}

}  // namespace
}  // namespace rakugo::formats
