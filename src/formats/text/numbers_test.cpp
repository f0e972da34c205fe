#include "formats/text/numbers.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <bit>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <random>
#include <string>

namespace rakugo::formats {
namespace {

float read(const std::string& text) {
  float out = -7;
  const char* end = readFloat(text.data(), text.data() + text.size(), out);
  EXPECT_EQ(end, text.data() + text.size()) << text;
  return out;
}

TEST(ReadFloat, TakesWhatThePeerOfTheStandardLibraryTakesBitForBit) {
  for (const char* text : {"0",
                           "-0",
                           "1",
                           "+1.5",
                           ".5",
                           "5.",
                           "1e3",
                           "1E-3",
                           "-12.75e+2",
                           "3.4028235e38",
                           "1e-45",
                           "1.17549435e-38",
                           "0.1",
                           "16777217",
                           "0.000000000000000000000000000001",
                           "123456789012345678901234567890",
                           "9007199254740993",
                           "1.00000017881393432617187499",
                           "1.00000017881393432617187501",
                           "1.000000178813934326171875",
                           "8388608.5",
                           "8388609.5"})
    EXPECT_EQ(std::bit_cast<uint32_t>(read(text)), std::bit_cast<uint32_t>(std::strtof(text, nullptr)))
        << text;
}

TEST(ReadFloat, RandomNumbersOfEveryLengthAndSize) {
  std::mt19937_64 random(11);
  for (int i = 0; i < 200'000; ++i) {
    std::string text = random() % 2 != 0 ? "-" : "";
    const auto whole = random() % 6, parts = random() % 24;
    for (uint64_t d = 0; d < whole; ++d) text += static_cast<char>('0' + random() % 10);
    if (whole == 0) text += "0";
    if (parts > 0) text += '.';
    for (uint64_t d = 0; d < parts; ++d) text += static_cast<char>('0' + random() % 10);
    if (random() % 4 == 0) text += "e" + std::to_string(static_cast<int>(random() % 90) - 45);
    ASSERT_EQ(std::bit_cast<uint32_t>(read(text)),
              std::bit_cast<uint32_t>(std::strtof(text.c_str(), nullptr)))
        << text;
  }
}

TEST(ReadFloat, EveryFloatComesBackAsItWasWritten) {
  std::mt19937 random(5);
  for (int i = 0; i < 100'000; ++i) {
    const auto value = std::bit_cast<float>(static_cast<uint32_t>(random()));
    if (!std::isfinite(value)) continue;
    char text[64];
    std::snprintf(text, sizeof text, "%.9g", static_cast<double>(value));
    ASSERT_EQ(std::bit_cast<uint32_t>(read(text)), std::bit_cast<uint32_t>(value)) << text;
  }
}

TEST(ReadFloat, StopsWhereTheNumberDoesAndRefusesWhatIsNone) {
  float out = 0;
  const std::string text = "1.5/7";
  EXPECT_EQ(readFloat(text.data(), text.data() + text.size(), out), text.data() + 3);
  const std::string open = "2e+x";
  EXPECT_EQ(readFloat(open.data(), open.data() + open.size(), out), open.data() + 1);
  EXPECT_EQ(out, 2);
  for (const char* none : {"", "-", ".", "nan", "inf", "x1", "e5", "+-1"})
    EXPECT_EQ(readFloat(none, none + std::strlen(none), out), nullptr) << none;
  EXPECT_TRUE(std::isinf(read("1e99999999999")));
  EXPECT_TRUE(std::isinf(read(std::string(400, '9'))));
  EXPECT_EQ(read("1e-99999999999"), 0);
}

TEST(ReadInteger, KnowsSignsAndLimits) {
  int out = 0;
  const auto whole = [&](const std::string& t) {
    return readInteger(t.data(), t.data() + t.size(), out) == t.data() + t.size();
  };
  EXPECT_TRUE(whole("-12") && out == -12);
  EXPECT_TRUE(whole("+3") && out == 3);
  EXPECT_FALSE(whole("99999999999"));
  EXPECT_FALSE(whole(""));
}

}  // namespace
}  // namespace rakugo::formats
