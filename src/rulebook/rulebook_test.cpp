#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
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

struct Mistake {
  const char* from;
  const char* to;
  const char* code;
  const char* place;
};
class Mistakes : public testing::TestWithParam<Mistake> {};

TEST_P(Mistakes, AreNamedWithTheirPlace) {
  const base::Bytes bytes = std::move(base::readFile(kBook / "rulebook.json")).value();
  std::string text(base::asText(bytes));
  const size_t at = text.find(GetParam().from);
  ASSERT_NE(at, std::string::npos) << GetParam().from;
  text.replace(at, std::string(GetParam().from).size(), GetParam().to);
  std::vector<base::Error> mistakes;
  EXPECT_FALSE(parseRulebook(text, "rulebook.json", &mistakes));
  std::vector<std::pair<std::string, std::string>> found;
  for (const auto& m : mistakes) found.emplace_back(m.code, m.place.path);
  EXPECT_THAT(found,
              testing::Contains(std::pair<std::string, std::string>(GetParam().code, GetParam().place)));
}

INSTANTIATE_TEST_SUITE_P(
    Table, Mistakes,
    testing::Values(
        Mistake{R"("pair": "nav-starboard")", R"("pair": "helm")", "rulebook.pair", "/kinds/1/points/4/pair"},
        Mistake{R"("skeleton": "keeper")", R"("skeleton": "crab")", "rulebook.skeleton", "/kinds/2/skeleton"},
        Mistake{R"("parent": "ballast")", R"("parent": "knee.port")", "rulebook.bone",
                "/skeletons/0/bones/2/parent"},
        Mistake{R"("side": "left", "at_m": [-0.02, 0.05)", R"("side": "right", "at_m": [-0.02, 0.05)",
                "rulebook.side", "/skeletons/0/bones/6/at_m/1"},
        Mistake{R"(["ballast", "waist")", R"(["waist", "ballast")", "rulebook.chain",
                "/skeletons/0/chains/0/bones/1"},
        Mistake{R"("cells": [4, 4, 4])", R"("cells": [4, 0, 4])", "rulebook.grid", "/kinds/5/grid/cells/1"},
        Mistake{R"("cell_m": 0.5)", R"("cell_m": 0)", "rulebook.grid", "/kinds/5/grid/cell_m"},
        Mistake{R"("target": "desktop")", R"("target": "desktop", "meshes": { "index_bits": 24 })",
                "rulebook.meshes", "/meshes/index_bits"},
        Mistake{R"("max_parts": 1)", R"("max_parts": -1)", "rulebook.limit", "/kinds/5/max_parts"},
        Mistake{R"("folder": "samples/bollard")", R"("folder": "../bollard")", "rulebook.path",
                "/samples/0/folder"},
        Mistake{R"("target": "desktop")", R"("target": "desktop", "packaging": "a tar")",
                "rulebook.packaging", "/packaging"},
        Mistake{R"("format": 1)", R"("format": 2)", "rulebook.format", "/format"},
        Mistake{R"("id": "kelpwick")", R"("id": "Kelp wick")", "rulebook.id", "/id"},
        Mistake{R"("up": "+Z")", R"("up": "Z")", "rulebook.axis", "/space/up"},
        Mistake{R"("forward": "+X")", R"("forward": "-Z")", "rulebook.axis", "/space/forward"},
        Mistake{R"("unit_m": 1)", R"("unit_m": 0)", "rulebook.unit", "/space/unit_m"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [4.5, 0.3])", "rulebook.band",
                "/kinds/0/size_m/height"},
        Mistake{R"("origin": "floor_centre")", R"("origin": "attic")", "rulebook.origin", "/kinds/0/origin"},
        Mistake{R"("baked": true)", R"("bakde": true)", "json.unknown_key", "/kinds/0/bakde"},
        Mistake{R"("type": "choice", "choices": ["lights", "moorings", "seats", "oddments"])",
                R"("type": "choice")", "rulebook.choices", "/kinds/0/fields/5/choices"},
        Mistake{R"("type": "flag")", R"("type": "colour")", "rulebook.field_type", "/kinds/0/fields/0/type"},
        Mistake{R"("default": 120)", R"("default": "dear")", "rulebook.default", "/kinds/0/fields/3/default"},
        Mistake{R"({ "field": "lit", "is": true })", R"({ "field": "lti", "is": true })",
                "rulebook.condition", "/kinds/0/roles/1/when/field"},
        Mistake{R"({ "width": 128, "height": 128 })", R"({ "width": 1 })", "rulebook.icon", "/kinds/0/icon"},
        Mistake{R"("id": "glass")", R"("id": "lamp")", "rulebook.repeated", "/kinds/0/roles/2/id"},
        Mistake{R"("file": "ghosts/harbour-lamp.glb")", R"("file": "../../etc/ghost.glb")", "rulebook.path",
                "/kinds/0/ghost/file"},
        Mistake{R"("file": "bodies/keeper-body.glb")", R"("file": "/etc/body.glb")", "rulebook.path",
                "/kinds/3/body/file"},
        Mistake{R"("file": "bodies/keeper-body.glb", )", "", "json.missing", "/kinds/3/body/file"},
        Mistake{R"("seam_mm": 1 })", R"("seam_mm": 0 })", "rulebook.body", "/kinds/3/body/seam_mm"},
        Mistake{R"("seam_mm": 1 })", R"("seam_mm": 1, "waist": 2 })", "json.unknown_key",
                "/kinds/3/body/waist"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("texels_per_m": [32, 8])", "rulebook.band",
                "/kinds/0/texels_per_m"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("volume_l": [-1, 8])", "rulebook.band",
                "/kinds/0/volume_l"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4.5], "reach": [2, 1])", "rulebook.band",
                "/kinds/0/size_m/reach"},
        Mistake{R"("id": "hull", "title")", R"("id": "hu\nll", "title")", "rulebook.part",
                "/kinds/1/parts/0/id"},
        Mistake{R"("id": "hull", "title": "Hull")", R"("id": "hull")", "json.missing",
                "/kinds/1/parts/0/title"},
        Mistake{R"("id": "sleeve-right")", R"("id": "sleeve-left")", "rulebook.repeated",
                "/kinds/3/regions/2/id"},
        Mistake{R"("id": "broad")", R"("id": "slim")", "rulebook.repeated", "/kinds/3/variants/1/id"},
        Mistake{R"("over_triangles": 1500)", R"("over_triangles": 0)", "rulebook.lighter",
                "/kinds/1/lighter/over_triangles"},
        Mistake{R"("levels": 2, "from_m": 14)", R"("levels": 9, "from_m": 14)", "rulebook.lighter",
                "/kinds/1/lighter/levels"},
        Mistake{R"("from_m": 14)", R"("from_m": -1)", "rulebook.lighter", "/kinds/1/lighter/from_m"},
        Mistake{R"("linear": true)", R"("linear": 1)", "json.type", "/kinds/5/grid/linear"}));

// A copy of the shipped rulebook's own folder, whose files may be taken away.
class RulebookFolder : public testing::Test {
 protected:
  void SetUp() override {
    std::filesystem::remove_all(folder_);
    std::filesystem::copy(kBook, folder_, std::filesystem::copy_options::recursive);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  // The code and the place of the first thing wrong with the copy once a file is gone from it.
  std::pair<std::string, std::string> without(const char* file) {
    std::filesystem::remove(folder_ / file);
    const auto book = loadRulebook(folder_);
    if (book) return {};
    EXPECT_FALSE(book.error().cure.empty());
    EXPECT_EQ(book.error().place.file, (folder_ / "rulebook.json").string());
    return {book.error().code, book.error().place.path};
  }
  const std::filesystem::path folder_ =
      std::filesystem::temp_directory_path() / ("rakugo-book-" + std::to_string(::getpid()));
};
using Named = std::pair<std::string, std::string>;

TEST_F(RulebookFolder, IsWholeWhenCopied) { EXPECT_TRUE(loadRulebook(folder_)); }

TEST_F(RulebookFolder, NamesAMissingGhost) {
  EXPECT_EQ(without("ghosts/harbour-lamp.glb"), Named("rulebook.ghost", "/kinds/0/ghost/file"));
}

TEST_F(RulebookFolder, NamesAMissingBody) {
  EXPECT_EQ(without("bodies/keeper-body.glb"), Named("rulebook.body", "/kinds/3/body/file"));
}

TEST_F(RulebookFolder, NamesASampleThatIsNoMod) {
  EXPECT_EQ(without("samples/bollard/mod.json"), Named("rulebook.sample", "/samples/0/folder"));
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
      "variants": [ { "id": "flat", "title": "Flat" } ],
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

TEST(FindRulebook, NamesThoseThatAreThere) {
  const auto book = findRulebook("no-such-game");
  ASSERT_FALSE(book);
  EXPECT_THAT(book.error().cure, testing::HasSubstr("kelpwick"));
  EXPECT_FALSE(findRulebook("../kelpwick"));
}

}  // namespace
}  // namespace rakugo::rulebook
