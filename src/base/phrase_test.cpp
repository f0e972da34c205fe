#include "base/phrase.h"

#include <gtest/gtest.h>

namespace rakugo::base {
namespace {

std::string backwards(std::string_view english) {
  if (english == "The height of {0} is {1}.") return "{1} ist die Höhe von {0}.";
  if (english == "{0} part" || english == "{0} parts") return "{0} Teile";
  return std::string(english);
}

struct Phrase : ::testing::Test {
  ~Phrase() override { setTranslator(nullptr); }
};

TEST_F(Phrase, PutsValuesInTheirPlacesWhateverStandsInThem) {
  EXPECT_EQ(phrase("The height of {0} is {1}.", "lamp", "2.4 m"), "The height of lamp is 2.4 m.");
  EXPECT_EQ(phrase("{1} before {0}", "{1}", "{0}"), "{0} before {1}");
  EXPECT_EQ(phrase("{0}{0}{0}", std::string("a")), "aaa");
  EXPECT_EQ(phrase("{0} of {1}", size_t{3}, -1), "3 of -1");
}

TEST_F(Phrase, LeavesPlacesWithoutAValueAndBracesAsTheyAre) {
  EXPECT_EQ(phrase("{3} {x} {} { {0", "a"), "{3} {x} {} { {0");
  EXPECT_EQ(phrase("plain {0}"), "plain {0}");
  EXPECT_EQ(filled("", {}), "");
}

TEST_F(Phrase, IsSaidInTheLanguageThatIsSetWithThePlacesWhereItHasThem) {
  setTranslator(backwards);
  EXPECT_EQ(phrase("The height of {0} is {1}.", "lamp", "2.4 m"), "2.4 m ist die Höhe von lamp.");
  EXPECT_EQ(countText(1204330, "part", "parts"), "1,204,330 Teile");
  EXPECT_EQ(phrase("Nobody wrote this one in {0}.", "it"), "Nobody wrote this one in it.");
  setTranslator(nullptr);
  EXPECT_EQ(countText(1, "part", "parts"), "1 part");
}

TEST_F(Phrase, CountsWithTheSentenceThatFits) {
  const auto said = [](uint64_t n) {
    return counted(n, "{0} vertex of {1} follows none.", "{0} vertices of {1} follow none.", "coat");
  };
  EXPECT_EQ(said(1), "1 vertex of coat follows none.");
  EXPECT_EQ(said(0), "0 vertices of coat follow none.");
  EXPECT_EQ(said(12000), "12,000 vertices of coat follow none.");
}

}  // namespace
}  // namespace rakugo::base
