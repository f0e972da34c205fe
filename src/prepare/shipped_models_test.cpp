#include "prepare/shipped_models.h"

#include <gtest/gtest.h>

#include "base/files.h"
#include "scene/model.h"
#include "support/test_folder.h"

namespace rakugo::prepare {
namespace {

// One triangle, `height` high.
void writeGhost(const std::filesystem::path& path, const std::string& height) {
  ASSERT_TRUE(base::writeFileAtomic(path, "v 0 0 0\nv 1 0 0\nv 0 " + height + " 0\nf 1 2 3\n"));
}

TEST(ShippedModels, AreReadOnceAndAgainWhenTheFileChanges) {
  test::TestFolder folder;
  rulebook::Rulebook book;
  book.folder = folder.path();
  writeGhost(folder.path() / "ghost.obj", "2");
  const auto first = shippedModel(book, "ghost.obj");
  ASSERT_TRUE(first);
  EXPECT_FLOAT_EQ(scene::boundsOf(**first).size().y, 2);
  EXPECT_EQ(*shippedModel(book, "ghost.obj"), *first) << "read a second time without need";

  writeGhost(folder.path() / "ghost.obj", "3.25");
  const auto second = shippedModel(book, "ghost.obj");
  ASSERT_TRUE(second);
  EXPECT_FLOAT_EQ(scene::boundsOf(**second).size().y, 3.25F);
  EXPECT_FLOAT_EQ(scene::boundsOf(**first).size().y, 2) << "a model that is held stays as it was";
}

TEST(ShippedModels, ThatAreGoneOrBrokenAreErrorsThatNameTheFile) {
  test::TestFolder folder;
  rulebook::Rulebook book;
  book.folder = folder.path();
  writeGhost(folder.path() / "ghost.obj", "2");
  ASSERT_TRUE(shippedModel(book, "ghost.obj"));
  std::filesystem::remove(folder.path() / "ghost.obj");
  const auto gone = shippedModel(book, "ghost.obj");
  ASSERT_FALSE(gone) << "the model that was kept is none of a file that is gone";
  EXPECT_NE(gone.error().place.text().find("ghost.obj"), std::string::npos);

  ASSERT_TRUE(base::writeFileAtomic(folder.path() / "ghost.obj", "v 0 0\nf 1 2"));
  const auto broken = shippedModel(book, "ghost.obj");
  ASSERT_FALSE(broken);
  EXPECT_NE(broken.error().place.text().find("ghost.obj"), std::string::npos);
}

}  // namespace
}  // namespace rakugo::prepare
