#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "rulebook/key.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {
namespace {

const std::filesystem::path kBook = std::filesystem::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick";

TEST(Rulebook, TheShippedOneIsWhole) {
  std::vector<base::Error> mistakes;
  const auto book = loadRulebook(kBook, &mistakes);
  ASSERT_TRUE(book) << mistakes.front().text();
  EXPECT_EQ(book->up, geometry::Axis::plus_z);
  EXPECT_EQ(book->side(), glm::vec3(0, 1, 0));
  const Kind* fitting = book->findKind("fitting");
  ASSERT_NE(fitting, nullptr);
  EXPECT_TRUE(fitting->height_m->holds(2.4));
  EXPECT_EQ(fitting->findRole("paint")->effect, "tint");
  EXPECT_TRUE(fitting->findPoint("light")->when.holds(base::Json{{"lit", true}}));
  EXPECT_FALSE(fitting->findPoint("light")->when.holds(base::Json{{"lit", false}}));
}

TEST(Rulebook, KelpwickIsWholeAndTheSecondOneIsVeryDifferent) {
  const auto first = loadRulebook(kBook);
  ASSERT_TRUE(first);
  std::vector<std::string> kinds;
  for (const Kind& k : first->kinds) {
    kinds.push_back(k.id);
    EXPECT_FALSE(k.fields.empty()) << k.id;
    EXPECT_FALSE(k.ghost.empty()) << k.id;
    for (const Field& f : k.fields) EXPECT_FALSE(f.help.empty()) << k.id << " " << f.id;
    for (const Role& r : k.roles) EXPECT_FALSE(r.help.empty()) << k.id << " " << r.id;
    for (const Point& p : k.points) EXPECT_FALSE(p.help.empty()) << k.id << " " << p.id;
  }
  EXPECT_THAT(kinds, testing::ElementsAre("fitting", "craft", "keeper", "coat", "gear", "pier-block"));
  const Skeleton* keeper = first->findSkeleton("keeper");
  ASSERT_NE(keeper, nullptr);
  EXPECT_EQ(keeper->bones.size(), 20u);
  EXPECT_EQ(first->packaging, "bundle");
  const auto second = loadRulebook(kBook.parent_path() / "ninefold");
  ASSERT_TRUE(second);
  EXPECT_EQ(second->up, geometry::Axis::plus_y);
  EXPECT_FALSE(second->right_handed);
  EXPECT_EQ(second->unit_m, 0.01);
  EXPECT_EQ(second->packaging, "zip");
}

TEST(Rulebook, KnowsWhichFieldsNameThings) {
  const auto book = loadRulebook(kBook);
  EXPECT_TRUE(book->namesThings("craft", "engine_text"));
  EXPECT_FALSE(book->namesThings("craft", "blurb"));
  EXPECT_FALSE(book->namesThings("craft", "drive"));
  EXPECT_TRUE(book->namesThings("craft", "from_the_future"));
}

// A copy of the shipped rulebook's own folder, whose files may be taken away.
class RulebookFolder : public testing::Test {
 protected:
  void SetUp() override {
    std::filesystem::remove_all(folder_);
    std::filesystem::create_directories(folder_.parent_path());
    std::filesystem::copy(kBook, folder_, std::filesystem::copy_options::recursive);
  }
  void TearDown() override { std::filesystem::remove_all(folder_.parent_path()); }
  // The code and the place of the first thing wrong with the copy once a file is gone from it.
  std::pair<std::string, std::string> without(const char* file) {
    std::filesystem::remove(folder_ / file);
    const auto book = loadRulebook(folder_);
    if (book) return {};
    EXPECT_FALSE(book.error().cure.empty());
    EXPECT_EQ(book.error().place.file, (folder_ / "rulebook.json").string());
    EXPECT_GT(book.error().place.line, 1);
    return {book.error().code, book.error().place.path};
  }
  const std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / ("rakugo-book-" + std::to_string(::getpid())) / "kelpwick";
};
using Named = std::pair<std::string, std::string>;

TEST_F(RulebookFolder, IsWholeWhenCopied) { EXPECT_TRUE(loadRulebook(folder_)); }

TEST_F(RulebookFolder, NamesAMissingGhost) {
  EXPECT_EQ(without("ghosts/harbour-lamp.glb"), Named("rulebook.file", "/kinds/0/ghost/file"));
}

TEST_F(RulebookFolder, NamesAMissingBody) {
  EXPECT_EQ(without("bodies/keeper-body.glb"), Named("rulebook.file", "/kinds/3/body/file"));
}

TEST_F(RulebookFolder, NamesASampleThatIsNoMod) {
  EXPECT_EQ(without("samples/bollard/mod.json"), Named("rulebook.sample", "/samples/0/folder"));
}

TEST_F(RulebookFolder, RefusesAGhostThatIsALinkOrLiesBehindOne) {
  const auto ghost = folder_ / "ghosts/harbour-lamp.glb", away = folder_.parent_path() / "away";
  std::filesystem::rename(ghost, folder_.parent_path() / "elsewhere.glb");
  std::filesystem::create_symlink(folder_.parent_path() / "elsewhere.glb", ghost);
  auto book = loadRulebook(folder_);
  ASSERT_FALSE(book);
  EXPECT_THAT(book.error().text(), testing::HasSubstr("is a link"));
  std::filesystem::rename(folder_ / "ghosts", away);
  std::filesystem::create_directory_symlink(away, folder_ / "ghosts");
  book = loadRulebook(folder_);
  ASSERT_FALSE(book);
  EXPECT_THAT(book.error().text(), testing::HasSubstr("behind one"));
}

TEST_F(RulebookFolder, RefusesAGhostThatIsNoGlb) {
  ASSERT_TRUE(base::writeFileAtomic(folder_ / "ghosts/harbour-lamp.glb", std::string_view("v 0 0 0\n")));
  const auto book = loadRulebook(folder_);
  ASSERT_FALSE(book);
  EXPECT_EQ(book.error().place.path, "/kinds/0/ghost/file");
  EXPECT_THAT(book.error().text(), testing::HasSubstr("is no GLB"));
}

TEST_F(RulebookFolder, RefusesAnIdUnlikeItsName) {
  const auto other = folder_.parent_path() / "kelpwick2";
  std::filesystem::rename(folder_, other);
  const auto book = loadRulebook(other);
  ASSERT_FALSE(book);
  EXPECT_EQ(Named(book.error().code, book.error().place.path), Named("rulebook.folder", "/id"));
  std::filesystem::rename(other, folder_);
  EXPECT_TRUE(loadRulebook(folder_ / ".")) << "the folder's own name counts, not how it is written";
}

// Sets an environment variable for as long as it lives.
class Environment {
 public:
  Environment(const char* name, const std::string& value) : name_(name) {
    if (const char* before = std::getenv(name)) before_ = before;
    setenv(name, value.c_str(), 1);
  }
  ~Environment() { before_ ? setenv(name_, before_->c_str(), 1) : unsetenv(name_); }
  Environment(const Environment&) = delete;
  Environment& operator=(const Environment&) = delete;

 private:
  const char* name_;
  std::optional<std::string> before_;
};

TEST_F(RulebookFolder, IsFoundByItselfAndSaysWhichOneItHides) {
  const Environment listed("RAKUGO_RULEBOOKS", folder_.string() + ":" + kBook.parent_path().string());
  const auto book = findRulebook("kelpwick");
  ASSERT_TRUE(book) << book.error().text();
  EXPECT_EQ(book->folder, folder_);
  ASSERT_EQ(book->hides.size(), 1U);
  EXPECT_TRUE(std::filesystem::equivalent(book->hides[0], kBook));
}

TEST_F(RulebookFolder, OfThePersonsOwnGoesBeforeWhatShips) {
  const Environment none("RAKUGO_RULEBOOKS", ""), data("XDG_DATA_HOME", folder_.parent_path().string());
  std::filesystem::create_directories(ownRulebookFolder());
  std::filesystem::copy(folder_, ownRulebookFolder() / "kelpwick", std::filesystem::copy_options::recursive);
  const auto book = findRulebook("kelpwick");
  ASSERT_TRUE(book) << book.error().text();
  EXPECT_EQ(book->folder, folder_.parent_path() / "rakugo/rulebooks/kelpwick");
}

// What a kind says of shape, as the checks and the window read it.
TEST(Rulebook, AKindSaysWhatItAsksOfShape) {
  std::vector<base::Error> mistakes;
  const auto book = parseRulebook(R"({
    "format": 1, "id": "attic", "version": "1", "title": "Attic",
    "space": { "unit_m": 1, "up": "+Z", "forward": "+X", "person_height_m": 1.5 },
    "kinds": [ { "id": "trunk", "title": "Trunk",
      "size_m": { "length": [0.5, 1], "reach": [0, 0.75] },
      "volume_l": [40, 90], "texels_per_m": [64, 1024],
      "parts": [ { "id": "Lid.01", "title": "Lid", "hints": ["lid", "cover"] },
                 { "id": "lock", "title": "Lock", "required": false } ],
      "body": { "file": "bodies/chest.glb", "title": "the chest" },
      "regions": [ { "id": "front", "title": "Front" }, { "id": "inside", "title": "Inside", "required": false } ],
      "variants": [ { "id": "flat", "title": "Flat" }, { "id": "tall", "title": "Tall" } ],
      "grid": { "cell_m": 0.25, "cells": [4, 2, 1] } } ] })",
                                  "rulebook.json", &mistakes);
  ASSERT_TRUE(book) << mistakes.front().text();
  const Kind& k = book->kinds.front();
  EXPECT_TRUE(k.reach_m->holds(0.75));
  EXPECT_FALSE(k.reach_m->holds(0.76));
  EXPECT_TRUE(k.volume_l->holds(40));
  EXPECT_FALSE(k.volume_l->holds(39.9));
  EXPECT_EQ(k.texels_per_m->max, 1024);
  EXPECT_FALSE(k.height_m);
  ASSERT_EQ(k.parts.size(), 2u);
  EXPECT_EQ(k.parts[0].id, "Lid.01");
  EXPECT_THAT(k.parts[0].hints, testing::ElementsAre("lid", "cover"));
  EXPECT_TRUE(k.parts[0].required);
  EXPECT_FALSE(k.parts[1].required);
  EXPECT_EQ(k.body, "bodies/chest.glb");
  EXPECT_EQ(k.seam_mm, 1) << "a millimetre is not seen, where the book says nothing";
  ASSERT_EQ(k.regions.size(), 2u);
  EXPECT_TRUE(k.regions[0].required);
  EXPECT_FALSE(k.regions[1].required);
  EXPECT_EQ(k.variants.front().title, "Flat");
  EXPECT_FALSE(k.grid.linear);
  EXPECT_EQ(k.grid.cells[1], 2);
}

TEST(SmallestRulebook, IsWholeAndHasNothingThatCouldBeLeftOut) {
  const base::Json smallest = smallestRulebook("attic", "The attic");
  std::vector<base::Error> said;
  const auto book = parseRulebook(base::jsonText(smallest), "rulebook.json", &said, &said);
  ASSERT_TRUE(book) << said.front().text();
  EXPECT_TRUE(said.empty());
  EXPECT_EQ(book->id, "attic");
  for (const auto& [key, value] : smallest.items()) {
    base::Json less = smallest;
    less.erase(key);
    EXPECT_FALSE(parseRulebook(base::jsonText(less), "rulebook.json")) << key;
  }
}

TEST(RulebookKeys, WhatIsReadWithoutAKeyIsWhatItsRowSays) {
  std::map<std::string, base::Json> initial;
  for (const KeyTable* table : keyTables())
    for (const Key& key : table->keys)
      if (!key.required && !key.initial.is_null()) {
        EXPECT_FALSE(misfit(key, key.initial)) << table->id << " " << key.name;
        initial[table->id + "." + key.name] = key.initial;
      }
  EXPECT_EQ(initial.at("kind.origin"), "any");
  EXPECT_EQ(initial.at("kind.origin_tolerance_m"), 0.02);
  EXPECT_EQ(initial.at("body.seam_mm"), 1.0);
  EXPECT_EQ(initial.at("part.required"), true);
  EXPECT_EQ(initial.at("role.required"), false);
  EXPECT_EQ(initial.at("lighter.levels"), 2);
  EXPECT_EQ(initial.at("rulebook.packaging"), "bundle");
  EXPECT_EQ(initial.at("meshes.index_bits"), 32);
  EXPECT_EQ(initial.at("bone.turn"), base::Json::array({0.0, 0.0, 0.0, 1.0}));
}

TEST(RulebookKeys, AllAreDocumentedAndStandInTheSchema) {
  const std::string tables = keysMarkdown();
  const base::Json schema = rulebookSchema();
  for (const KeyTable* table : keyTables()) {
    EXPECT_THAT(tables, testing::HasSubstr("### " + table->title));
    const base::Json& object = table == &rulebookKeys() ? schema : schema["$defs"][table->id];
    for (const Key& key : table->keys) {
      EXPECT_THAT(tables, testing::HasSubstr("| `" + key.name + "` |"));
      EXPECT_TRUE(object["properties"].contains(key.name)) << table->id << " " << key.name;
    }
  }
}

std::string textOfFile(const std::filesystem::path& path) {
  return std::string(base::asText(*base::readFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / path)));
}

TEST(RulebookDocuments, AreThoseThatTheRowsMake) {
  const std::string document = textOfFile("docs/rulebook.md");
  EXPECT_THAT(document, testing::HasSubstr("<!-- keys -->\n\n" + keysMarkdown() + "<!-- /keys -->"))
      << "write what `rakugo-tool rulebook keys --markdown` says between the marks";
  EXPECT_THAT(document, testing::HasSubstr("```json\n" +
                                           base::jsonText(smallestRulebook("my-game", "My game")) + "```"));
  EXPECT_EQ(textOfFile("rulebooks/rulebook.schema.json"), base::jsonText(rulebookSchema()))
      << "write what `rakugo-tool rulebook keys --schema` says";
}

TEST(FindRulebook, NamesThoseThatAreThere) {
  const Environment listed("RAKUGO_RULEBOOKS", kBook.parent_path().string());
  const auto book = findRulebook("no-such-game");
  ASSERT_FALSE(book);
  EXPECT_THAT(book.error().cure, testing::HasSubstr("kelpwick"));
  EXPECT_FALSE(findRulebook("../kelpwick"));
}

}  // namespace
}  // namespace rakugo::rulebook
