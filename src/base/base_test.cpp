#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <atomic>
#include <filesystem>

#include "base/bytes.h"
#include "base/files.h"
#include "base/jobs.h"
#include "base/json.h"
#include "base/line_buffer.h"
#include "base/sha256.h"
#include "base/text.h"

namespace rakugo::base {
namespace {

namespace fs = std::filesystem;

TEST(Result, WhatGoesHandsItsValueOver) {
  const auto make = [] {
    return Result(std::vector<std::string>{"a text too long to be kept in place", "b"});
  };
  static_assert(std::is_same_v<decltype(make().value()), std::vector<std::string>>);
  static_assert(std::is_same_v<decltype(*make()), std::vector<std::string>>);
  size_t letters = 0;
  for (const std::string& one : make().value()) letters += one.size();
  EXPECT_EQ(letters, 36U);
}

TEST(Result, AbortsOnMisuseWithTheMessage) {
  const Result<int> bad = Error{"a.b", "It went wrong.", Place{"f.txt", "/x", 12}, "Do this."};
  EXPECT_DEATH((void)bad.value(), "It went wrong");
  EXPECT_EQ(bad.error().text(), "It went wrong. [f.txt, /x (byte 12)] Do this.");
}

TEST(ByteReader, StopsAtTheEndAndGivesZeros) {
  const Bytes two = {std::byte{1}, std::byte{2}};
  ByteReader in(two);
  EXPECT_EQ(in.read<uint16_t>(), 0x0201);
  EXPECT_TRUE(in.ok());
  EXPECT_EQ(in.read<uint8_t>(), 0);
  EXPECT_FALSE(in.ok());
  EXPECT_TRUE(in.bytes(1).empty());
}

TEST(Sha256, MatchesFips180) {
  EXPECT_EQ(hex(sha256(asBytes("abc"))), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
  EXPECT_EQ(hex(sha256({})), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
}

TEST(Text, KnowsUtf8FromRfc3629) {
  for (const char* good : {"", "abc", "\xC2\xA2", "\xE2\x82\xAC", "\xF0\x9D\x84\x9E"})
    EXPECT_TRUE(isUtf8(good)) << good;
  for (const char* bad : {"\xC0\x80", "\xED\xA0\x80", "\xF5\x80\x80\x80", "\xE2\x82", "\x80"})
    EXPECT_FALSE(isUtf8(bad));
}

TEST(Text, WritesLengthsForPeople) {
  EXPECT_EQ(lengthText(2.4149), "2.41 m");
  EXPECT_EQ(lengthText(252.3), "252 m");
  EXPECT_EQ(lengthText(0.38), "38 cm");
  EXPECT_EQ(lengthText(0.0042), "4.2 mm");
  EXPECT_EQ(lengthText(0), "0 m");
  EXPECT_EQ(lengthText(std::nan("")), "not a number");
}

TEST(Text, MakesSlugsThatAreNeverEmpty) {
  EXPECT_EQ(slug("Quay Lamp (2)"), "quay-lamp-2");
  EXPECT_EQ(slug("…"), "thing");
}

TEST(Text, ListsAndCountsForPeople) {
  EXPECT_EQ(listText({"a", "b", "c"}), "a, b and c");
  EXPECT_EQ(listText({"a", "b", "c", "d", "e"}, 3), "a, b and 3 others");
  EXPECT_EQ(countText(1, "part", "parts"), "1 part");
  EXPECT_EQ(countText(12345, "part", "parts"), "12,345 parts");
  EXPECT_EQ(editDistance("paint", "pint"), 1);
}

TEST(Json, KeepsTheOrderOfKeys) {
  const auto json = parseJson(R"({"z":1,"a":{"y":2,"b":3}})", "f");
  ASSERT_TRUE(json);
  EXPECT_EQ(jsonLine(*json), R"({"z":1,"a":{"y":2,"b":3}})");
}

TEST(Json, NamesTheLineOfAMistake) {
  const auto json = parseJson("{\n  \"a\": 1,\n  \"b\": oops\n}", "f.json");
  ASSERT_FALSE(json);
  EXPECT_EQ(json.error().code, "json.syntax");
  EXPECT_EQ(json.error().place.file, "f.json");
  EXPECT_EQ(json.error().place.line, 3);
}

TEST(Json, RefusesDepthRepeatsAndBadUtf8) {
  EXPECT_EQ(parseJson(std::string(100'000, '['), "f").error().code, "json.depth");
  EXPECT_EQ(parseJson(R"({"a":1,"a":2})", "f").error().code, "json.repeated_key");
  EXPECT_EQ(parseJson("\"\xC0\x80\"", "f").error().code, "json.syntax");
  EXPECT_EQ(parseJson("", "f").error().code, "json.syntax");
  EXPECT_EQ(parseJson("1e999", "f").error().code, "json.syntax");
}

TEST(JsonFields, CollectsEveryComplaintWithItsPlace) {
  const auto json = parseJson(R"({"name": 3, "size": [1, "x"], "widht": 2})", "f");
  std::vector<Error> complaints;
  JsonFields in(*json, "f", "/kinds/0", complaints);
  EXPECT_EQ(in.requiredText("name"), "");
  EXPECT_FALSE(in.numbers("size", 2));
  in.refuseOthers({"name", "size", "width"});
  std::vector<std::string> paths;
  for (const Error& e : complaints) paths.push_back(e.place.path);
  EXPECT_THAT(paths, testing::Contains("/kinds/0/name"));
  EXPECT_THAT(paths, testing::Contains("/kinds/0/size"));
  EXPECT_THAT(paths, testing::Contains("/kinds/0/widht"));
  EXPECT_EQ(complaints.back().cure, "Is \"width\" meant?");
}

class FilesTest : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = fs::temp_directory_path() / ("rakugo-files-" + std::to_string(::getpid()));
    fs::remove_all(folder_);
    fs::create_directories(folder_);
  }
  void TearDown() override { fs::remove_all(folder_); }
  fs::path folder_;
};

TEST_F(FilesTest, AtomicWriteLeavesNoTemporaryFile) {
  ASSERT_TRUE(writeFileAtomic(folder_ / "a", std::string_view("one")));
  ASSERT_TRUE(writeFileAtomic(folder_ / "a", std::string_view("two")));
  EXPECT_EQ(asText(*readFile(folder_ / "a")), "two");
  EXPECT_EQ(listFiles(folder_), std::vector<std::string>{"a"});
}

TEST_F(FilesTest, FailedWriteKeepsWhatWasThere) {
  ASSERT_TRUE(makeFolder(folder_ / "sub"));
  // A folder in the way of the file: the rename must fail, and the folder must stay.
  const auto written = writeFileAtomic(folder_ / "sub", std::string_view("x"));
  ASSERT_FALSE(written);
  EXPECT_EQ(written.error().code, "file.unwritable");
  EXPECT_TRUE(fs::is_directory(folder_ / "sub"));
  EXPECT_TRUE(listFiles(folder_).empty());
}

TEST_F(FilesTest, ReadingRefusesWhatIsMissingLargeOrNoFile) {
  EXPECT_EQ(readFile(folder_ / "none").error().code, "file.missing");
  EXPECT_EQ(readFile(folder_).error().code, "file.unreadable");
  ASSERT_TRUE(writeFileAtomic(folder_ / "a", std::string_view("12345")));
  EXPECT_EQ(readFile(folder_ / "a", 4).error().code, "file.too_large");
  EXPECT_EQ(MappedFile::open(folder_ / "a")->bytes().size(), 5u);
}

TEST(InnerPath, RefusesEveryWayOut) {
  for (const char* good : {"a", "a/b.png", "textures/Oak Turned.PNG", "a..b"})
    EXPECT_TRUE(isInnerPath(good)) << good;
  for (const char* bad : {"", "/a", "../a", "a/../b", "a//b", "a/", ".", "a\\b", "a\nb"})
    EXPECT_FALSE(isInnerPath(bad)) << bad;
}

TEST(Worker, RunsInOrderAndCancelsWhatIsReplaced) {
  std::atomic<int> done{0};
  std::atomic<bool> first_cancelled{false}, started{false};
  {
    Worker worker;
    worker.post([&](Progress& p) {
      started = true;
      while (!p.cancelled()) std::this_thread::yield();
      first_cancelled = true;
    });
    while (!started) std::this_thread::yield();
    worker.post([&](Progress&) { done += 1; }, true);
    while (done == 0) std::this_thread::yield();
  }
  EXPECT_TRUE(first_cancelled);
  EXPECT_EQ(done, 1);
}

TEST(Worker, OfTheBackgroundRunsLoopsToo) {
  std::vector<std::atomic<int>> seen(1000);
  {
    Worker worker(Worker::Rank::background);
    worker.post([&](Progress&) { parallelFor(seen.size(), [&](size_t i) { ++seen[i]; }); });
    worker.finish();
  }
  for (const auto& s : seen) EXPECT_EQ(s, 1);
}

TEST(ParallelFor, VisitsEachIndexOnce) {
  std::vector<std::atomic<int>> seen(1000);
  parallelFor(seen.size(), [&](size_t i) { ++seen[i]; });
  for (const auto& s : seen) EXPECT_EQ(s, 1);
}

TEST(LineBuffer, GivesWholeLinesHoweverTheyArrive) {
  LineBuffer lines;
  EXPECT_FALSE(lines.next());
  lines.add("one\ntw");
  EXPECT_EQ(lines.next(), "one");
  EXPECT_FALSE(lines.next());
  lines.add("o\n\nlast");
  EXPECT_EQ(lines.next(), "two");
  EXPECT_EQ(lines.next(), "");
  EXPECT_FALSE(lines.next()) << "the last has no end yet";
  lines.clear();
  lines.add("\n");
  EXPECT_EQ(lines.next(), "");
}

TEST(LineBuffer, KnowsWhenALineNeverEnds) {
  LineBuffer lines;
  lines.add(std::string(LineBuffer::kLongest, 'x'));
  EXPECT_FALSE(lines.overlong());
  lines.add("x");
  EXPECT_TRUE(lines.overlong());
  lines.add("\n");
  EXPECT_TRUE(lines.next());
  EXPECT_FALSE(lines.overlong());
}

}  // namespace
}  // namespace rakugo::base
