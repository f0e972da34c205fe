// A game's tree: where it keeps a file of a name, and one with the same bytes.
#include "packing/delivery/game_index.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "support/test_folder.h"

namespace rakugo::packing {
namespace {

namespace fs = std::filesystem;
using testing::ElementsAre;

TEST(GameIndex, FindsFilesByNameAndByContentAndFollowsNoLink) {
  const test::TestFolder own;
  const auto put = [&](const char* path, std::string_view text) {
    fs::create_directories((own.path() / "game" / path).parent_path());
    ASSERT_TRUE(base::writeFileAtomic(own.path() / "game" / path, text));
  };
  put("coats/slim/Sea.dds", "blue");
  put("coats/broad/sea.dds", "blue");
  put("shops/sea.dds", "grey");
  put("coats/list.ini", "sea");
  fs::create_directories(own.path() / "elsewhere");
  ASSERT_TRUE(base::writeFileAtomic(own.path() / "elsewhere/sea.dds", std::string_view("blue")));
  fs::create_directory_symlink(own.path() / "elsewhere", own.path() / "game/linked");
  fs::create_symlink(own.path() / "elsewhere/sea.dds", own.path() / "game/sea.dds");
  const auto index = GameIndex::of(own.path() / "game");
  ASSERT_TRUE(index);
  EXPECT_THAT(index->files(),
              ElementsAre("coats/broad/sea.dds", "coats/list.ini", "coats/slim/Sea.dds", "shops/sea.dds"));
  EXPECT_THAT(index->named("SEA.dds"),
              ElementsAre("coats/broad/sea.dds", "coats/slim/Sea.dds", "shops/sea.dds"));
  EXPECT_TRUE(index->named("sea").empty());
  const std::string blue = "blue";
  EXPECT_THAT(*index->like(base::asBytes(blue)), ElementsAre("coats/broad/sea.dds", "coats/slim/Sea.dds"));
  EXPECT_TRUE(index->like({})->empty());
  EXPECT_TRUE(GameIndex::of(own.path() / "none")->files().empty());
}

}  // namespace
}  // namespace rakugo::packing
