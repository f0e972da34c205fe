// Paths of deliveries: what they become, and that none leaves its folder.
#include "packing/delivery/delivered_path.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <filesystem>
#include <random>

namespace rakugo::packing {
namespace {

using base::Json;
using testing::HasSubstr;

std::string pathOf(const char* pattern, const Json& values, const PathRules& rules = {}) {
  const auto out = deliveredPath(pattern, Scope(values), rules);
  return out ? *out : "error " + out.error().code;
}

TEST(DeliveredPath, IsFilledAndWrittenAsTheGameTakesIt) {
  const Json values{{"id", "tug-2"}, {"title", "Slow Margit"}};
  EXPECT_EQ(pathOf("boats/{id}/hull.obj", values), "boats/tug-2/hull.obj");
  EXPECT_EQ(pathOf("Boats/{title}.OBJ", values, {PathRules::Letters::lower}), "boats/slow margit.obj");
  EXPECT_EQ(pathOf("boats/{title|slug}.obj", values, {PathRules::Letters::upper}), "BOATS/SLOW-MARGIT.OBJ");
  EXPECT_EQ(pathOf("boats/{title}.obj", values, {PathRules::Letters::any, " "}), "error path.name");
  EXPECT_EQ(pathOf("boats/{id}.obj", values, {PathRules::Letters::any, "", 8}), "error path.long");
}

TEST(DeliveredPath, LeavesNothingToASystemsWhims) {
  const Json none = Json::object();
  for (const char* bad :
       {"",    "/a",        "a/",       "a//b", "..",  "a/../b", "./a", "a/.", "a.",   "a ",    "a/b. /c",
        "con", "a/NUL.txt", "lpt1.obj", "a:b",  "a|b", "a\\b",   "a?",  "a*",  "a\nb", "a\x7F", "\xFF"})
    EXPECT_EQ(pathOf(bad, none), "error path.name") << bad;
  for (const char* program :
       {"x.exe", "x.DLL", "lib.so", "lib.so.3", "run.sh", "a/b.py", "x.lua", "x.desktop"})
    EXPECT_EQ(pathOf(program, none), "error path.program") << program;
  EXPECT_EQ(pathOf("console.txt", none), "console.txt");
  EXPECT_EQ(pathOf("a/common.json", none), "a/common.json");
}

TEST(DeliveredPath, AValueIsNeverMoreThanAName) {
  for (const char* hostile : {"../../etc/passwd", "a/b", "a\\b", "/"})
    EXPECT_EQ(pathOf("mods/{x}.json", Json{{"x", hostile}}), "error path.value") << hostile;
  EXPECT_EQ(pathOf("mods/{x}", Json{{"x", ".."}}), "error path.name");
  EXPECT_EQ(pathOf("mods/{x}/{x}.json", Json{{"x", ""}}), "error path.name");
  // Whatever fills it: the path stays below, or is refused.
  std::mt19937 random(5);
  const std::string_view pieces[] = {".", "..", "/", "\\", "a", "~", " ", "%2e", "\t", "con", ":", "é"};
  size_t made = 0;
  for (int round = 0; round < 3000; ++round) {
    std::string value;
    for (unsigned i = random() % 5; i > 0; --i) value += pieces[random() % std::size(pieces)];
    const auto out = deliveredPath("mods/{x}/file.json", Scope(Json{{"x", value}}));
    if (!out) continue;
    ++made;
    const auto relative =
        (std::filesystem::path("/root/mods") / *out).lexically_normal().lexically_relative("/root/mods/mods");
    EXPECT_FALSE(relative.empty() || *relative.begin() == "..") << *out;
    EXPECT_EQ(std::count(out->begin(), out->end(), '/'), 2) << *out;
  }
  EXPECT_GT(made, 100U);
}

TEST(DeliveredPaths, AreEachTakenOnce) {
  DeliveredPaths paths;
  ASSERT_TRUE(paths.take("boats/tug/hull.obj", "tug"));
  ASSERT_TRUE(paths.take("boats/tug/screw.obj", "tug"));
  EXPECT_EQ(paths.take("boats/tug/hull.obj", "punt").error().code, "path.twice");
  EXPECT_THAT(paths.take("boats/Tug/HULL.obj", "punt").error().message, HasSubstr("letter case"));
  EXPECT_EQ(paths.take("boats/tug", "punt").error().code, "path.inside");
  EXPECT_EQ(paths.take("BOATS", "punt").error().code, "path.inside");
  EXPECT_EQ(paths.take("boats/tug/hull.obj/a.png", "punt").error().code, "path.inside");
  EXPECT_TRUE(paths.take("boats/tugs.json", "punt"));
}

}  // namespace
}  // namespace rakugo::packing
