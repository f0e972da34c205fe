#include "check/rulebook_faults.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "base/json.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;
using testing::IsEmpty;

// A copy of the shipped rulebook that may be changed.
class RulebookFaults : public testing::Test {
 protected:
  void SetUp() override {
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick", folder_, fs::copy_options::recursive);
  }
  // What is said when the text is changed so.
  std::vector<base::Error> after(const std::string& from, const std::string& to) {
    const fs::path path = folder_ / "rulebook.json";
    std::string text(base::asText(*base::readFile(path)));
    const size_t at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
    EXPECT_TRUE(base::writeFileAtomic(path, text));
    const auto book = rulebook::loadRulebook(folder_);
    EXPECT_TRUE(book) << (book ? "" : book.error().text());
    return book ? rulebookFaults(*book) : std::vector<base::Error>();
  }
  test::TestFolder own_;
  const fs::path folder_ = own_.path() / "kelpwick";
};

TEST_F(RulebookFaults, ThoseThatShipHaveNone) {
  for (const char* id : {"kelpwick", "ninefold"}) {
    const auto book = rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks" / id);
    ASSERT_TRUE(book);
    for (const base::Error& fault : rulebookFaults(*book)) ADD_FAILURE() << fault.text();
  }
}

TEST_F(RulebookFaults, NameChecksThatThereAreNot) {
  auto faults = after(R"("mesh.triangles": "refuses_object")", R"("mesh.triangels": "refuses_object")");
  ASSERT_EQ(faults.size(), 1U);
  EXPECT_EQ(faults[0].place.path, "/outcomes/mesh.triangels");
  EXPECT_GT(faults[0].place.line, 300);
  EXPECT_THAT(faults[0].text(), HasSubstr("Is \"mesh.triangles\" meant?"));
  faults = after(R"("outcomes": { "mesh.nonmanifold_edges")", R"("outcomes": { "mesh.everything")");
  ASSERT_EQ(faults.size(), 2U);
  EXPECT_EQ(faults[1].place.path, "/kinds/2/outcomes/mesh.everything");
  EXPECT_THAT(faults[1].text(), HasSubstr("docs/checks.md"));
  faults = after(R"("size.unit": "Kelpwick)", R"("size.units": "Kelpwick)");
  ASSERT_EQ(faults.size(), 3U);
  EXPECT_EQ(faults[1].place.path, "/reasons/size.units");
}

TEST_F(RulebookFaults, NameAGhostThatBreaksItsOwnKind) {
  const auto faults = after(R"("height": [0.3, 4.5])", R"("height": [0.3, 1.5])");
  ASSERT_EQ(faults.size(), 1U);
  EXPECT_EQ(faults[0].place.path, "/kinds/0/ghost/file");
  EXPECT_THAT(faults[0].message, HasSubstr("its height is"));
}

TEST_F(RulebookFaults, NameAGhostThatIsTooHeavyForItsOwnKind) {
  const auto faults =
      after("\"max_triangles\": 400,\n      \"max_vertices\": 900,", R"("max_triangles": 2,)");
  EXPECT_THAT(faults, testing::Contains(testing::Field(&base::Error::message, HasSubstr("triangles"))));
}

TEST_F(RulebookFaults, NameWhatCannotBeRead) {
  const std::string damaged = "glTF" + std::string(40, '\0');
  ASSERT_TRUE(base::writeFileAtomic(folder_ / "bodies/keeper-body.glb", damaged));
  ASSERT_TRUE(base::writeFileAtomic(folder_ / "movements/keeper.glb", damaged));
  const auto book = rulebook::loadRulebook(folder_);
  ASSERT_TRUE(book);
  std::vector<std::string> places;
  for (const base::Error& fault : rulebookFaults(*book)) places.push_back(fault.place.path);
  EXPECT_THAT(places, testing::ElementsAre("/kinds/3/body/file", "/skeletons/0/movements/file"));
}

TEST_F(RulebookFaults, NameABodyWithoutARegion) {
  const auto faults = after(R"("file": "bodies/keeper-body.glb")", R"("file": "ghosts/harbour-lamp.glb")");
  ASSERT_EQ(faults.size(), 1U);
  EXPECT_THAT(faults[0].message, HasSubstr("No part of the body"));
}

TEST_F(RulebookFaults, NameAMovementThatTheFileLacks) {
  const auto faults = after(R"("id": "crouch")", R"("id": "croutch")");
  ASSERT_EQ(faults.size(), 1U);
  EXPECT_EQ(faults[0].place.path, "/skeletons/0/movements/file");
  EXPECT_THAT(faults[0].message, HasSubstr("croutch"));
}

}  // namespace
}  // namespace rakugo::check
