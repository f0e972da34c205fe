#include "formats/collada/collada_lists.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "formats/text/numbers.h"

namespace rakugo::formats::collada {
namespace {

std::string longList() {
  std::string out;
  for (int i = 0; i < 2000; ++i) out += std::to_string(i) + ' ';
  return out;
}

std::string_view textOf(const CutText& cut) { return base::asText(cut.text); }

TEST(CutLists, TakesLongListsOutAndFindsThemAgain) {
  const std::string list = longList(), whole = "<a><p id=\"x\">" + list + "</p><q>" + list + "</q></a>";
  const CutText cut = cutLists(base::asBytes(whole));
  ASSERT_EQ(cut.cuts.size(), 1U);
  EXPECT_EQ(textOf(cut),
            "<a><p id=\"x\">\x01"
            "0</p><q>" +
                list + "</q></a>");
  EXPECT_EQ(cut.listOf("\x01"
                       "0"),
            list);
  // Places behind it are those of the source.
  EXPECT_EQ(cut.sourceOffset(5), 5U);
  EXPECT_EQ(cut.sourceOffset(textOf(cut).find("<q>")), whole.find("<q>"));
}

TEST(CutLists, LeavesWhatMightMeanSomethingElse) {
  const std::string list = longList();
  for (const std::string& whole :
       std::vector<std::string>{"<a><p>" + list + "&#32;</p></a>", "<a><![CDATA[<p>" + list + "</p>]]></a>",
                                "<a><!-- <p>" + list + "</p> --></a>", "<a><p>1 2 3</p></a>",
                                "<a><p name=\"x>" + list + "\">1</p></a>", "<a><p>" + list, "<p" + list,
                                "\xFF\xFE<p>" + list, std::string("<p/>") + list + "<b/>", std::string()}) {
    const CutText cut = cutLists(base::asBytes(whole));
    EXPECT_TRUE(cut.cuts.empty()) << whole.substr(0, 30);
    EXPECT_EQ(textOf(cut), whole);
  }
}

TEST(CutLists, AMarkThatAFileBringsItselfLeadsNowhere) {
  const CutText cut = cutLists(base::asBytes("<a/>"));
  for (const std::string content : {"\x01",
                                    "\x01"
                                    "0",
                                    "\x01"
                                    "99999999999999999999999",
                                    "\x01x", ""})
    EXPECT_EQ(cut.listOf(content), content);
}

TEST(ReadLists, OfAnyLengthAreReadWhole) {
  std::mt19937 random(7);
  for (const size_t count : {size_t{0}, size_t{1}, size_t{300}, size_t{70000}, size_t{200000}}) {
    std::string text;
    std::vector<int> wanted;
    for (size_t i = 0; i < count; ++i) {
      wanted.push_back(static_cast<int>(random()) >> (random() % 32));
      text += std::to_string(wanted.back()) + std::string(1 + random() % 3, " \n\t"[random() % 3]);
    }
    std::vector<int> read;
    size_t bad = 0;
    ASSERT_TRUE(readIntegers(text, read, bad));
    EXPECT_EQ(read, wanted);
    std::vector<float> floats = {42};
    ASSERT_TRUE(readFloats(text, floats, bad));
    ASSERT_EQ(floats.size(), count + 1);
    for (size_t i = 0; i < count; ++i) ASSERT_EQ(floats[i + 1], static_cast<float>(wanted[i]));
  }
}

TEST(ReadLists, SayWhereTheFirstBadWordStands) {
  std::string text = longList() + longList();
  while (text.size() < 600000) text += text;
  for (const size_t at : {size_t{0}, size_t{5000}, size_t{300000}, size_t{500000}}) {
    std::string damaged = text;
    const size_t word = damaged.find(' ', at) + 1;
    damaged[word] = 'x';
    std::vector<int> read;
    size_t bad = 0;
    EXPECT_FALSE(readIntegers(damaged, read, bad));
    EXPECT_EQ(bad, word);
  }
  std::vector<int> read;
  size_t bad = 0;
  for (const char* one : {"12345678901", "1.5", "--1", "-", "1e3", "2147483648"})
    EXPECT_FALSE(readIntegers(one, read, bad)) << one;
  read.clear();
  EXPECT_TRUE(readIntegers("2147483647 -2147483648 +7 000000000000000000000012", read, bad));
  EXPECT_THAT(read, testing::ElementsAre(2147483647, -2147483647 - 1, 7, 12));
}

TEST(LeadingDigits, AreCountedBeforeAnyCharacter) {
  for (int other = 0; other < 256; ++other) {
    if (other >= '0' && other <= '9') continue;
    for (int digits = 0; digits <= 8; ++digits) {
      std::string text = "98765432";
      for (size_t i = static_cast<size_t>(digits); i < 8; ++i) text[i] = static_cast<char>(other);
      uint64_t value = 1;
      EXPECT_EQ(leadingDigits(text.data(), value), digits) << other;
      EXPECT_EQ(value, digits == 0 ? 0 : std::stoull(text.substr(0, static_cast<size_t>(digits)))) << other;
    }
  }
}

}  // namespace
}  // namespace rakugo::formats::collada
