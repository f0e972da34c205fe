#include "formats/archives/zip.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace rakugo::formats {
namespace {

using Files = std::map<std::string, base::Bytes>;

base::Bytes bytes(std::string_view text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

Files some() {
  Files out;
  out["a.txt"] = bytes("hello");
  out["deep/er/b.bin"] = base::Bytes(5000, std::byte{7});
  out["empty"] = {};
  out["ümlaut.txt"] = bytes("x");
  return out;
}

TEST(Zip, GivesBackWhatWasWrittenAndTheSameBytesEachTime) {
  const auto made = writeZip(some());
  ASSERT_TRUE(made) << made.error().text();
  EXPECT_TRUE(isZip(*made));
  EXPECT_EQ(*made, *writeZip(some()));
  const auto read = readZip(*made, "z");
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(*read, some());
  EXPECT_TRUE(readZip(*writeZip({}), "z")->empty());
}

TEST(Zip, RefusesPathsThatLeaveTheArchive) {
  for (const char* path : {"../x", "/etc/x", "a/../../x", "a\\x", ""})
    EXPECT_EQ(writeZip({{path, {}}}).error().code, "zip.path") << path;
  // The same in an archive that another program wrote: the name is patched in both of its places.
  base::Bytes evil = *writeZip({{"aa/x", bytes("x")}});
  std::string text(base::asText(evil));
  for (size_t at = text.find("aa/x"); at != std::string::npos; at = text.find("aa/x", at))
    text.replace(at, 4, "../x");
  const auto read = readZip(bytes(text), "evil.zip");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "zip.path");
  EXPECT_EQ(read.error().place.file, "evil.zip");
}

TEST(Zip, EveryPrefixIsRefused) {
  const base::Bytes good = *writeZip(some());
  for (size_t n = 0; n < good.size(); ++n) {
    EXPECT_FALSE(readZip(base::ByteSpan(good).first(n), "z")) << n;
  }
}

TEST(Zip, ABombIsNotUnpacked) {
  // 200 MB of zeros pack a thousandfold.
  const base::Bytes bomb = *writeZip({{"bomb", base::Bytes(200 << 20)}});
  EXPECT_LT(bomb.size(), 300'000u);
  const auto read = readZip(bomb, "bomb.zip");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "zip.too_large");
}

TEST(Zip, FlippedBytesGiveAnErrorOrTheSameFiles) {
  const base::Bytes good = *writeZip(some());
  for (size_t at = 0; at < good.size(); ++at) {
    base::Bytes damaged = good;
    damaged[at] ^= std::byte{0x11};
    if (const auto read = readZip(damaged, "z")) {
      for (const auto& [path, content] : *read)
        if (some().count(path) != 0 && content != some().at(path)) ADD_FAILURE() << at << " changed " << path;
    }
  }
}

}  // namespace
}  // namespace rakugo::formats
