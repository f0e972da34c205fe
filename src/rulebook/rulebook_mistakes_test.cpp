// A battery of mistakes that people make in rulebooks. Each is made in the rulebook that ships, and must be
// said once, at its place, on its line, with words that help.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "rulebook/rulebook.h"
#include "support/marked_language.h"

namespace rakugo::rulebook {
namespace {

using testing::HasSubstr;

std::string shippedText() {
  const auto path = std::filesystem::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick/rulebook.json";
  const base::Bytes bytes = std::move(base::readFile(path)).value();
  return std::string(base::asText(bytes));
}

struct Mistake {
  const char* from;
  const char* to;
  const char* code;
  const char* place;
  const char* says;  // somewhere in the message or the cure
};

// So that a failure names the mistake.
void PrintTo(const Mistake& mistake, std::ostream* out) { *out << mistake.to << " for " << mistake.from; }

class Mistakes : public testing::TestWithParam<Mistake> {};

int lineOf(const std::string& text, size_t at) {
  return 1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
}

TEST_P(Mistakes, AreSaidOnceWithPlaceLineAndCure) {
  const Mistake& mistake = GetParam();
  std::string text = shippedText();
  const size_t at = text.find(mistake.from);
  ASSERT_NE(at, std::string::npos);
  text.replace(at, std::string(mistake.from).size(), mistake.to);
  std::vector<base::Error> found;
  const bool good = parseRulebook(text, "rulebook.json", &found, &found).ok();
  EXPECT_EQ(good, std::string(mistake.code) == "rulebook.doubt");
  ASSERT_EQ(found.size(), 1U) << (found.empty() ? "nothing was said"
                                                : found[0].text() + "\n" + found.back().text());
  EXPECT_EQ(found[0].code, mistake.code);
  EXPECT_EQ(found[0].place.path, mistake.place);
  EXPECT_THAT(found[0].text(), HasSubstr(mistake.says));
  // The line holds the last key of the place; of a key that is missing, the object that lacks it begins
  // there.
  ASSERT_GT(found[0].place.line, 0) << found[0].text();
  const int first = lineOf(text, at), last = lineOf(text, at + std::string(mistake.to).size());
  if (found[0].code == "json.missing") {
    EXPECT_LE(found[0].place.line, last) << found[0].text();
  } else if (found[0].code == "json.syntax") {
    EXPECT_THAT(found[0].place.line, testing::AllOf(testing::Ge(first), testing::Le(last + 1)))
        << found[0].text();
  } else {
    std::string key;  // the last step of the place that is no number
    for (size_t end = std::string::npos, slash; key.empty(); end = slash - 1) {
      slash = found[0].place.path.rfind('/', end);
      const std::string step = found[0].place.path.substr(slash + 1, end - slash);
      if (step.find_first_not_of("0123456789") != std::string::npos) key = "\"" + step + "\"";
    }
    size_t begin = 0;
    for (int line = 1; line < found[0].place.line; ++line) begin = text.find('\n', begin) + 1;
    // A key that was taken out stands on no line; then it is that of the object that lacks it.
    const std::string line = text.substr(begin, text.find('\n', begin) - begin);
    EXPECT_TRUE(line.find(key) != std::string::npos ||
                (found[0].place.line >= first && found[0].place.line <= last))
        << found[0].text() << "\n"
        << line;
  }
  // All of it can be said in another language.
  const test::MarkedLanguage language;
  std::vector<base::Error> marked;
  EXPECT_EQ(parseRulebook(text, "rulebook.json", &marked, &marked).ok(), good);
  ASSERT_EQ(marked.size(), 1U);
  EXPECT_EQ(test::unmarked(marked[0]), "") << marked[0].text();
}

constexpr const char *kValue = "rulebook.value", *kCannot = "rulebook.contradiction",
                     *kIdle = "rulebook.no_effect", *kDoubt = "rulebook.doubt", *kMissing = "json.missing",
                     *kUnknown = "json.unknown_key", *kSyntax = "json.syntax", *kTwice = "rulebook.repeated",
                     *kNothing = "rulebook.reference";

INSTANTIATE_TEST_SUITE_P(
    Targets, Mistakes,
    testing::Values(
        Mistake{R"("color": "bc1",)", R"("color": "bc4",)", "rulebook.value", "/targets/0/color", "bc3"},
        Mistake{R"("normal": "bc5",)", R"("normal": "BC5",)", "rulebook.value", "/targets/0/normal", "bc5"},
        Mistake{R"("id": "web",)", R"("id": "mobile",)", kTwice, "/targets/2/id", ""},
        Mistake{R"("version": "1.2",)", R"("version": "1.2", "target": "a desk",)", kValue, "/target",
                "a-desk"},
        Mistake{R"("max_side": 512)", R"("max_side": 2048)", "rulebook.no_effect", "/targets/1/max_side",
                "No picture of the game is larger than 1024"},
        Mistake{R"("max_side": 512)", R"("max_side": 500)", "rulebook.contradiction", "/targets/1/max_side",
                "power of two"},
        Mistake{R"("supercompressed": true)", R"("zstd": true)", kUnknown, "/targets/2/zstd",
                "Is \"supercompressed\" meant?"},
        Mistake{R"("roles": ["tar"])", R"("roles": ["tarr"])", kNothing, "/switches/0/changes/2/roles/0",
                "No kind has a role"},
        Mistake{R"("switches": [)",
                R"("packed_pictures": [{"id": "p", "title": "P", "r": "metal"}], "switches": [)",
                "rulebook.no_effect", "/packed_pictures/0", "A bundle holds pictures as glTF has them"},
        Mistake{
            R"("switches": [)",
            R"("packaging": "zip", "packed_pictures": [{"id": "p", "title": "P", "r": "shine"}], "switches": [)",
            kValue, "/packed_pictures/0/r", "gloss"},
        Mistake{
            R"("switches": [)",
            R"("packaging": "zip", "packed_pictures": [{"id": "p", "title": "P", "roles": ["q"]}], "switches": [)",
            kNothing, "/packed_pictures/0/roles/0", "No kind has a role"},
        Mistake{R"("id": "helm",)", R"("id": "helm", "word": "funnel",)", "rulebook.contradiction",
                "/kinds/1/points/0/word", "The game reads \"funnel\" as \"Funnel\" already"},
        Mistake{R"("id": "screw",
          "title")",
                R"("id": "main",
          "title")",
                "rulebook.contradiction", "/kinds/1/models/0/id", "the kind's own keys are about"},
        Mistake{R"("help": "It lies in the boat until someone rows.",)",
                R"("help": "It lies in the boat until someone rows.", "made_from": "mast",)", kNothing,
                "/kinds/1/models/1/made_from", "There is no \"mast\" among `models`"},
        Mistake{R"("help": "It lies in the boat until someone rows.",)",
                R"("help": "It lies in the boat until someone rows.", "made_from": "oar",)",
                "rulebook.contradiction", "/kinds/1/models/1/made_from", "made from itself"},
        Mistake{R"("most": 8,)", R"("most": 8, "least": 9,)", "rulebook.contradiction",
                "/kinds/1/models/1/least", "least is above most"},
        Mistake{R"("most": 8,)", R"("most": 8, "fields": [],)", kUnknown, "/kinds/1/models/1/fields", ""},
        Mistake{R"("glow": 4)", R"("glow": 0)", "rulebook.no_effect", "/switches/2/changes/0",
                "This changes nothing"},
        Mistake{R"("effect": "tint",)", R"("effect": "glow",)", "rulebook.no_effect",
                "/kinds/0/roles/0/tones", "Nobody chooses a colour"}));

INSTANTIATE_TEST_SUITE_P(
    Syntax, Mistakes,
    testing::Values(
        Mistake{R"("baked": true,)", R"("baked": true)", kSyntax, "", "A comma is missing"},
        Mistake{R"("person_height_m": 1.72)", R"("person_height_m": 1.72,)", kSyntax, "",
                "Take the comma out"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4.5,])", kSyntax, "", "Take the comma out"},
        Mistake{R"("baked": true,)", "\"baked\": true, // the game wants it\n", kSyntax, "", "no comments"},
        Mistake{R"("baked": true,)", "/* placement */ \"baked\": true,", kSyntax, "", "no comments"},
        Mistake{R"("baked": true,)", "# placement\n\"baked\": true,", kSyntax, "", "no comments"},
        Mistake{R"("baked": true,)", R"("baked": True,)", kSyntax, "", "Write true."},
        Mistake{R"("baked": true,)", R"("baked": yes,)", kSyntax, "", "Write true."},
        Mistake{R"("baked": true,)", R"("baked": None,)", kSyntax, "", "Leave the key out"},
        Mistake{R"("baked": true,)", R"(baked: true,)", kSyntax, "", "Write \"baked\"."},
        Mistake{R"("baked": true,)", R"('baked': true,)", kSyntax, "", "double quotes"},
        Mistake{R"("baked": true,)",
                "\xE2\x80\x9C"
                R"(baked": true,)",
                kSyntax, "", "straight double quotes"},
        Mistake{R"("baked": true,)", R"("baked" = true,)", kSyntax, "", "Write a colon"},
        Mistake{R"("baked": true,)", R"("baked" true,)", kSyntax, "", "A colon is missing"},
        Mistake{R"("baked": true,)", R"("baked": true;)", kSyntax, "", "Write a comma."},
        Mistake{R"("baked": true,)", R"("baked": true,,)", kSyntax, "", "Take one of them out"},
        Mistake{R"("title": "Fitting",)", "\"title\": \"Fitting,", kSyntax, "", "does not end on its line"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3 4.5])", kSyntax, "", "A comma is missing"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [.3, 4.5])", kSyntax, "", "Write 0 before the point"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4.])", kSyntax, "", "has digits behind it"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, +4.5])", kSyntax, "", "Leave the + out"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 04.5])", kSyntax, "", "zeros in front"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3 m, 4.5 m])", kSyntax, "", "comma is missing"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3m, 4.5m])", kSyntax, "", "without its unit"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": (0.3, 4.5))", kSyntax, "", "Write [ and ]"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4.5})", kSyntax, "", "\"]\" is to close"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, Infinity])", kSyntax, "", "knows no Infinity"},
        Mistake{R"("max_triangles": 12000,)", R"("max_triangles": 12 000,)", kSyntax, "",
                "digits of a number"},
        Mistake{R"("max_triangles": 12000,)", R"("max_triangles": 12_000,)", kSyntax, "", "stand together"},
        Mistake{R"("max_triangles": 12000,)", R"("max_triangles": 12,000,)", kSyntax, "",
                "nothing between thousands"},
        Mistake{R"("space": {)", R"("space": [)", kSyntax, "", "Put { and } around"},
        Mistake{R"("origin_tolerance_m": 0.02,)", R"("origin_tolerance_m": 0,02,)", kSyntax, "",
                "a point before the decimals"}));

INSTANTIATE_TEST_SUITE_P(
    Keys, Mistakes,
    testing::Values(
        Mistake{R"("baked": true)", R"("bakde": true)", kUnknown, "/kinds/0/bakde", "Is \"baked\" meant?"},
        Mistake{R"("baked": true)", R"("Baked": true)", kUnknown, "/kinds/0/Baked", "Is \"baked\" meant?"},
        Mistake{R"("max_triangles": 12000)", R"("max_tris": 12000)", kUnknown, "/kinds/0/max_tris",
                "Is \"max_triangles\" meant?"},
        Mistake{R"("max_triangles": 12000)", R"("max_triangels": 12000)", kUnknown, "/kinds/0/max_triangels",
                "Is \"max_triangles\" meant?"},
        Mistake{R"("baked": true)", R"("unit_m": 1, "baked": true)", kUnknown, "/kinds/0/unit_m",
                "It belongs to `space`"},
        Mistake{R"("baked": true)", R"("files": ["a"], "baked": true)", kUnknown, "/kinds/0/files",
                "lists them"},
        Mistake{R"("title": "Fitting")", R"("name": "Fitting")", kUnknown, "/kinds/0/name",
                "Is \"title\" meant?"},
        Mistake{R"("title": "Kelpwick")", R"("titel": "Kelpwick")", kUnknown, "/titel",
                "Is \"title\" meant?"},
        Mistake{R"("handedness": "right",)", R"("hand": "right",)", kUnknown, "/space/hand",
                "Known here are"},
        Mistake{R"("swatch": [0.72, 0.84, 0.86])", R"("color": [0.72, 0.84, 0.86])", kUnknown,
                "/kinds/0/roles/2/color", "Is \"swatch\" meant?"},
        Mistake{R"("max_length": 160)", R"("maxLength": 160)", kUnknown, "/kinds/0/fields/1/maxLength",
                "Is \"max_length\" meant?"},
        Mistake{R"("choices": ["lights", "moorings", "seats", "oddments"])",
                R"("options": ["lights", "moorings", "seats", "oddments"])", kUnknown,
                "/kinds/0/fields/5/options", "Is \"choices\" meant?"},
        Mistake{R"("seam_mm": 1 })", R"("seam_mm": 1, "waist": 2 })", kUnknown, "/kinds/3/body/waist",
                "Known here are"},
        Mistake{R"("parent": "stand",)", R"("parant": "stand",)", kUnknown, "/skeletons/0/bones/1/parant",
                "Is \"parent\" meant?"},
        Mistake{R"("power_of_two": true)", R"("power_of_2": true)", kUnknown, "/pictures/power_of_2",
                "Known here are: max_side and power_of_two"},
        Mistake{R"("id": "hull", "title": "Hull")", R"("id": "hull")", kMissing, "/kinds/1/parts/0/title",
                "\"title\" is missing"},
        Mistake{R"("file": "bodies/keeper-body.glb", )", "", kMissing, "/kinds/3/body/file", "a path inside"},
        Mistake{R"("unit_m": 1,)", "", kMissing, "/space/unit_m", "length of one unit"},
        Mistake{R"("up": "+Z",)", "", kMissing, "/space/up", "points up"},
        Mistake{R"("format": 1,)", "", kMissing, "/format", "the number 1"},
        Mistake{R"("version": "1.2",)", "", kMissing, "/version", "\"version\" is missing"},
        Mistake{R"({ "field": "lit", "is": true })", R"({ "field": "lit" })", kMissing,
                "/kinds/0/roles/1/when/is", "\"is\" is missing"},
        Mistake{R"({ "width": 128, "height": 128 })", R"({ "width": 128 })", kMissing, "/kinds/0/icon/height",
                "from 8 to 2048"},
        Mistake{R"("at_m": [0, 0, 0], )", "", kMissing, "/skeletons/0/bones/0/at_m", "forward, left, up"},
        Mistake{R"("type": "flag", "required": true, "default": true,)",
                R"("required": true, "default": "x",)", kMissing, "/kinds/0/fields/0/type", "text_id"},
        Mistake{R"("over_triangles": 1500, )", "", kMissing, "/kinds/1/lighter/over_triangles",
                "\"over_triangles\""},
        Mistake{R"("title": "Kelpwick",)", R"("title": "",)", kValue, "/title", "must not be empty"}));

INSTANTIATE_TEST_SUITE_P(
    Values, Mistakes,
    testing::Values(
        Mistake{R"("format": 1)", R"("format": 2)", "rulebook.format", "/format", "Use a newer Rakugo"},
        Mistake{R"("format": 1)", R"("format": "1")", kValue, "/format", "without quotes"},
        Mistake{R"("id": "kelpwick")", R"("id": "Kelp wick")", kValue, "/id", "Write \"kelp-wick\""},
        Mistake{R"("id": "fitting")", R"("id": "Fitting")", kValue, "/kinds/0/id", "Write \"fitting\""},
        Mistake{R"("version": "1.2")", R"("version": 1.2)", kValue, "/version", "between double quotes"},
        Mistake{R"("up": "+Z")", R"("up": "Z")", kValue, "/space/up", "Is \"+Z\" meant?"},
        Mistake{R"("up": "+Z")", R"("up": "+z")", kValue, "/space/up", "Write \"+Z\""},
        Mistake{R"("handedness": "right")", R"("handedness": "righthanded")", kValue, "/space/handedness",
                "right or left"},
        Mistake{R"("unit_m": 1)", R"("unit_m": 0)", kValue, "/space/unit_m", "above 0"},
        Mistake{R"("unit_m": 1)", R"("unit_m": "1 m")", kValue, "/space/unit_m", "Write 1 without quotes"},
        Mistake{R"("unit_m": 1)", R"("unit_m": null)", kValue, "/space/unit_m", "Leave the key out"},
        Mistake{R"("person_height_m": 1.72)", R"("person_height_m": 172)", kValue, "/space/person_height_m",
                "at most 100"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [4.5, 0.3])", kValue, "/kinds/0/size_m/height",
                "smallest comes first"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": 4.5)", kValue, "/kinds/0/size_m/height", "both ends"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 1, 4.5])", kValue, "/kinds/0/size_m/height",
                "[smallest, largest]"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [-0.3, 4.5])", kValue, "/kinds/0/size_m/height",
                "from 0"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": ["0.3", "4.5"])", kValue, "/kinds/0/size_m/height",
                "[smallest, largest]"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("texels_per_m": [32, 8.192])", kValue,
                "/kinds/0/texels_per_m", "smallest comes first"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4.5], "reach": [2, 1])", kValue,
                "/kinds/0/size_m/reach", "smallest comes first"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("volume_l": [-1, 8])", kValue, "/kinds/0/volume_l",
                "from 0"},
        Mistake{R"("max_triangles": 12000)", R"("max_triangles": 12.000)", kValue, "/kinds/0/max_triangles",
                "Write 12000"},
        Mistake{R"("mass", "title": "Mass", "type": "number", "unit": "kg", "min": 0.5, "max": 2000)",
                R"("mass", "title": "Mass", "type": "number", "unit": "kg", "min": 0.5, "max": 2.000)",
                kValue, "/kinds/0/fields/4/max", "Write 2000"},
        Mistake{R"("max_triangles": 12000)", R"("max_triangles": "12000")", kValue, "/kinds/0/max_triangles",
                "without quotes"},
        Mistake{R"("max_triangles": 12000)", R"("max_triangles": 12000.5)", kValue, "/kinds/0/max_triangles",
                "a whole number"},
        Mistake{R"("max_parts": 1)", R"("max_parts": -1)", kValue, "/kinds/5/max_parts", "from 0"},
        Mistake{R"("max_influences": 4)", R"("max_influences": 400)", kValue, "/kinds/2/max_influences",
                "to 64"},
        Mistake{R"("baked": true)", R"("baked": "true")", kValue, "/kinds/0/baked", "true or false"},
        Mistake{R"("baked": true)", R"("baked": 1)", kValue, "/kinds/0/baked", "true or false"},
        Mistake{R"("origin": "floor_centre")", R"("origin": "attic")", kValue, "/kinds/0/origin",
                "any, floor_centre or centre"},
        Mistake{R"("origin": "floor_centre")", R"("origin": "floor_center")", kValue, "/kinds/0/origin",
                "Is \"floor_centre\" meant?"},
        Mistake{R"("type": "flag")", R"("type": "colour")", kValue, "/kinds/0/fields/0/type",
                "reference, list or curve"},
        Mistake{R"("type": "flag")", R"("type": "Flag")", kValue, "/kinds/0/fields/0/type", "Write \"flag\""},
        Mistake{R"("effect": "glow")", R"("effect": "glows")", kValue, "/kinds/0/roles/1/effect",
                "Is \"glow\" meant?"},
        Mistake{R"("swatch": [0.98, 0.79, 0.38])", R"("swatch": [250, 201, 97])", kValue,
                "/kinds/0/roles/1/swatch", "Divide each by 255"},
        Mistake{R"("swatch": [0.98, 0.79, 0.38])", R"("swatch": [0.98, 0.79, 0.38, 1])", kValue,
                "/kinds/0/roles/1/swatch", "a list of 3 numbers"},
        Mistake{R"("swatch": [0.98, 0.79, 0.38])", R"("swatch": "#fac961")", kValue,
                "/kinds/0/roles/1/swatch", "a list of 3 numbers"},
        Mistake{R"("hints": ["glass", "pane", "window"])", R"("hints": "glass")", kValue,
                "/kinds/0/roles/2/hints", "Put [ and ] around it"},
        Mistake{R"("hints": ["glass", "pane", "window"])", R"("hints": ["glass", "pane", "Glass"])", kValue,
                "/kinds/0/roles/2/hints", "stands twice"},
        Mistake{R"("hints": ["glass", "pane", "window"])", R"("hints": ["glass", "pane", 3])", kValue,
                "/kinds/0/roles/2/hints", "between double quotes"},
        Mistake{R"("hints": ["glass", "pane", "window"])", R"("hints": ["glass", "", "window"])", kValue,
                "/kinds/0/roles/2/hints", "is empty"},
        Mistake{R"({ "width": 128, "height": 128 })", R"({ "width": 1, "height": 128 })", kValue,
                "/kinds/0/icon/width", "from 8"},
        Mistake{R"({ "width": 128, "height": 128 })", R"("128x128")", kValue, "/kinds/0/icon", "an object"},
        Mistake{R"({ "width": 128, "height": 128 })", R"([128, 128])", kValue, "/kinds/0/icon", "an object"},
        Mistake{R"({ "role": "lamp" })", R"({})", kValue, "/kinds/0/points/0/propose", "no effect"},
        Mistake{R"({ "at": "centre" })", R"({ "at": "bottom" })", kValue, "/kinds/0/points/1/propose/at",
                "top, centre or floor_centre"},
        Mistake{R"("points": [],)", R"("points": {},)", kValue, "/kinds/5/points", "Put [ and ] around it"},
        Mistake{R"("choices": ["oars", "sail", "steam"])", R"("choices": ["oars", "sail", "oars", "steam"])",
                kValue, "/kinds/1/fields/0/choices", "stands twice"},
        Mistake{R"("choices": ["sunny", "dry", "stormy", "foggy"])", R"("choices": ["dry"])", kValue,
                "/kinds/2/fields/1/choices", "a list of 2"},
        Mistake{R"("default": 120)", R"("default": [null])", kValue, "/kinds/0/fields/3/default",
                "a text, a number"},
        Mistake{R"("default": 120)", R"("default": [120])", kCannot, "/kinds/0/fields/3/default",
                "is not a whole number"},
        Mistake{R"("when_empty": "refuses_object")", R"("when_empty": "refuses")", kValue,
                "/kinds/0/fields/3/when_empty", "refuses_object"},
        Mistake{R"("cells": [4, 4, 4])", R"("cells": [4, 0, 4])", kValue, "/kinds/5/grid/cells", "from 1"},
        Mistake{R"("cells": [4, 4, 4])", R"("cells": 4)", kValue, "/kinds/5/grid/cells",
                "a list of 3 numbers"},
        Mistake{R"("cell_m": 0.5)", R"("cell_m": 0)", kValue, "/kinds/5/grid/cell_m", "above 0"},
        Mistake{R"("linear": true)", R"("linear": 1)", kValue, "/kinds/5/grid/linear", "true or false"},
        Mistake{R"("over_triangles": 1500)", R"("over_triangles": 0)", kValue,
                "/kinds/1/lighter/over_triangles", "from 1"},
        Mistake{R"("levels": 2, "from_m": 14)", R"("levels": 9, "from_m": 14)", kValue,
                "/kinds/1/lighter/levels", "from 1 to 4"},
        Mistake{R"("from_m": 14)", R"("from_m": -1)", kValue, "/kinds/1/lighter/from_m", "above 0"},
        Mistake{R"("seam_mm": 1 })", R"("seam_mm": 0 })", kValue, "/kinds/3/body/seam_mm", "above 0"},
        Mistake{R"("id": "hull", "title")", "\"id\": \"hu\\nll\", \"title\"", kValue, "/kinds/1/parts/0/id",
                "control codes"},
        Mistake{R"("title": "Kelpwick")", R"("title": "\u001b[31mKelpwick")", kValue, "/title",
                "control codes"},
        Mistake{R"("title": "Kelpwick")", R"("title": "\u202eKelpwick")", kValue, "/title", "control codes"},
        Mistake{R"("file": "ghosts/harbour-lamp.glb")", R"("file": "../../etc/ghost.glb")", kValue,
                "/kinds/0/ghost/file", "as seen from the rulebook's folder"},
        Mistake{R"("file": "bodies/keeper-body.glb")", R"("file": "/etc/body.glb")", kValue,
                "/kinds/3/body/file", "as seen from"},
        Mistake{R"("file": "ghosts/harbour-lamp.glb")", R"("file": "ghosts\\harbour-lamp.glb")", kValue,
                "/kinds/0/ghost/file", "with / between folders"},
        Mistake{R"("folder": "samples/bollard")", R"("folder": "../bollard")", kValue, "/samples/0/folder",
                "as seen from"},
        Mistake{R"("version": "1.2",)", R"("version": "1.2", "packaging": "a tar",)", kValue, "/packaging",
                "Write \"a-tar\""},
        Mistake{R"("mod.id_taken": "refuses_mod")", R"("mod.id_taken": "stops")", kValue,
                "/outcomes/mod.id_taken", "refuses_mod"},
        Mistake{R"("side": "left", "at_m": [-0.02, 0.05)", R"("side": "port", "at_m": [-0.02, 0.05)", kValue,
                "/skeletons/0/bones/6/side", "centre, left or right"},
        Mistake{R"("at_m": [0, 0, 0.94])", R"("at_m": [0, 0.94])", kValue, "/skeletons/0/bones/1/at_m",
                "a list of 3 numbers"},
        Mistake{R"("most_deg": 20)", R"("most_deg": 200)", kValue, "/skeletons/0/bones/1/most_deg", "to 180"},
        Mistake{R"("moments_s": [0, 0.25, 0.5, 0.75])", R"("moments_s": [0, 0.25, 0.5, -0.75])", kValue,
                "/skeletons/0/movements/list/1/moments_s", "from 0 to 600"}));

INSTANTIATE_TEST_SUITE_P(
    Wholes, Mistakes,
    testing::Values(
        Mistake{R"("id": "glass")", R"("id": "lamp")", kTwice, "/kinds/0/roles/2/id", "stands twice"},
        Mistake{R"("id": "sleeve-right")", R"("id": "sleeve-left")", kTwice, "/kinds/3/regions/2/id",
                "stands twice"},
        Mistake{R"("id": "broad")", R"("id": "slim")", kTwice, "/kinds/3/variants/1/id", "stands twice"},
        Mistake{R"("id": "gear",)", R"("id": "coat",)", kTwice, "/kinds/4/id", "stands twice"},
        Mistake{R"("id": "crouch")", R"("id": "walk")", kTwice, "/skeletons/0/movements/list/4/id",
                "first on line"},
        Mistake{R"("id": "sound/launch-engine")", R"("id": "sound/lamp-hum")", kTwice, "/shared_assets/1/id",
                "stands twice"},
        Mistake{R"({ "id": "broad", "title": "Broad" })", R"()", kSyntax, "", "Take the comma out"},
        Mistake{R"({ "id": "slim", "title": "Slim" },)", "", kValue, "/kinds/3/variants",
                "a list of 2 to 50"},
        Mistake{R"("skeleton": "keeper")", R"("skeleton": "crab")", kNothing, "/kinds/2/skeleton",
                "no \"crab\" among `skeletons`"},
        Mistake{R"("skeleton": "keeper")", R"("skeleton": "keper")", kNothing, "/kinds/2/skeleton",
                "Is \"keeper\" meant?"},
        Mistake{R"({ "field": "lit", "is": true })", R"({ "field": "lti", "is": true })", kNothing,
                "/kinds/0/roles/1/when/field", "Is \"lit\" meant?"},
        Mistake{R"({ "role": "lamp" })", R"({ "role": "lantern" })", kNothing,
                "/kinds/0/points/0/propose/role", "Known are: paint, lamp and glass"},
        Mistake{R"("pair": "nav-starboard")", R"("pair": "nav-star")", kNothing, "/kinds/1/points/4/pair",
                "among `points`"},
        Mistake{R"("pair": "nav-starboard")", R"("pair": "helm")", kCannot, "/kinds/1/points/4/pair",
                "name each other"},
        Mistake{R"("pair": "nav-starboard")", R"("pair": "nav-port")", kCannot, "/kinds/1/points/4/pair",
                "name each other"},
        Mistake{R"([{ "kind": "keeper", "by": "eyes" }])", R"([{ "kind": "keeper", "by": "hat-pin" }])",
                kNothing, "/kinds/1/points/0/hangs/0/by", "among `points`"},
        Mistake{R"([{ "kind": "keeper", "by": "eyes" }])", R"([{ "kind": "keepers", "by": "eyes" }])",
                kNothing, "/kinds/1/points/0/hangs/0/kind", "among `kinds`"},
        Mistake{R"("bone": "hand.port")", R"("bone": "hand.left")", kNothing, "/kinds/2/points/1/bone",
                "among `bones`"},
        Mistake{R"("id": "winch",)", R"("id": "winch", "bone": "head",)", kIdle, "/kinds/1/points/8/bone",
                "have no skeleton"},
        Mistake{R"("forward": "+X")", R"("forward": "-Z")", kCannot, "/space/forward", "on one line"},
        Mistake{R"("version": "1.2",)", R"("version": "1.2", "meshes": { "index_bits": 24 },)", kCannot,
                "/meshes/index_bits", "16 or 32"},
        Mistake{R"("max_side": 1024)", R"("max_side": 1000)", kCannot, "/pictures/max_side",
                "Write 512 or 1024"},
        Mistake{R"("baked": true,)", R"("baked": true, "max_part_triangles": 20000,)", kIdle,
                "/kinds/0/max_part_triangles", "the whole model"},
        Mistake{R"("max_vertices": 20000)", R"("max_vertices": 200000)", kIdle, "/kinds/0/max_vertices",
                "never have that many"},
        Mistake{R"("max_vertices": 20000)", R"("max_vertices": 2)", kCannot, "/kinds/0/max_vertices",
                "three vertices"},
        Mistake{R"("over_triangles": 1500)", R"("over_triangles": 60000)", kIdle,
                "/kinds/1/lighter/over_triangles", "none needs lighter versions"},
        Mistake{R"("max_parts": 1,)",
                R"("max_parts": 1, "parts": [{ "id": "a", "title": "A" }, { "id": "b", "title": "B" }],)",
                kCannot, "/kinds/5/max_parts", "requires 2 parts"},
        Mistake{R"("max_bones": 32)", R"("max_bones": 16)", kCannot, "/kinds/2/max_bones",
                "requires 20 bones"},
        Mistake{
            R"("skeletons": [)",
            R"("skeletons": [ { "id": "gull", "title": "Gull", "bones": [ { "id": "a", "title": "A", "at_m": [0, 0, 0] } ] },)",
            kIdle, "/skeletons/0/id", "No kind names"},
        Mistake{R"("height": [0.3, 4.5])", R"("height": [0, 0])", kCannot, "/kinds/0/size_m/height",
                "size of 0"},
        Mistake{R"("reach": [0.03, 3.2])", R"("reach": [0.001, 0.01])", kCannot, "/kinds/4/size_m/reach",
                "half as far"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("volume_l": [90000, 100000])", kCannot,
                "/kinds/0/volume_l", "litres"},
        Mistake{R"("texels_per_m": [32, 8192])", R"("texels_per_m": [0, 0])", kCannot,
                "/kinds/0/texels_per_m", "0 pixels"},
        Mistake{R"("cell_m": 0.5)", R"("cell_m": 3)", kCannot, "/kinds/5/size_m/length",
                "whole number of cells"},
        Mistake{R"({ "field": "drive", "is": "steam" })", R"({ "field": "drive", "is": "diesel" })", kCannot,
                "/kinds/1/roles/3/when/is", "none of the choices"},
        Mistake{R"({ "field": "lit", "is": true })", R"({ "field": "lit", "is": "yes" })", kCannot,
                "/kinds/0/roles/1/when/is", "yes or no"},
        Mistake{R"({ "field": "lit", "is": true })", R"({ "field": "price", "is": 0 })", kCannot,
                "/kinds/0/roles/1/when/is", "1 to 9999"},
        Mistake{R"("help": "It glows from dusk to dawn.",
          "required": true,)",
                R"("help": "It glows from dusk to dawn.",)", kIdle, "/kinds/0/roles/1/when",
                "narrows `required`"},
        Mistake{R"("hints": ["glass", "pane", "window"])", R"("hints": ["glass", "pane", "lens"])", kCannot,
                "/kinds/0/roles/2/hints/2", "a hint of \"Lamp\""},
        Mistake{R"("type": "choice", "choices": ["lights", "moorings", "seats", "oddments"])",
                R"("type": "choice")", kCannot, "/kinds/0/fields/5/choices", "needs a list"},
        Mistake{R"("default": 120)", R"("default": "dear")", kCannot, "/kinds/0/fields/3/default",
                "not a whole number"},
        Mistake{R"("default": 120)", R"("default": 12000)", kCannot, "/kinds/0/fields/3/default",
                "1 to 9999"},
        Mistake{R"("default": "oddments")", R"("default": "odds")", kCannot, "/kinds/0/fields/5/default",
                "none of the choices"},
        Mistake{R"("min": 1, "max": 9999)", R"("min": 9999, "max": 1)", kCannot, "/kinds/0/fields/3/min",
                "min is above max"},
        Mistake{R"("min": 0.5, "max": 2000)", R"("min": 45, "max": 45)", kCannot, "/kinds/0/fields/4/min",
                "one value only"},
        Mistake{R"("min": 1, "max": 9999)", R"("min": 0.5, "max": 9999)", kCannot, "/kinds/0/fields/3/min",
                "whole numbers"},
        Mistake{R"("type": "flag", "required": true, "default": true)",
                R"("type": "flag", "required": true, "min": 1, "default": true)", kIdle,
                "/kinds/0/fields/0/min", "of numbers alone"},
        Mistake{R"("type": "long_text", "required": true, "max_length": 160)",
                R"("type": "long_text", "required": true, "max": 160)", kIdle, "/kinds/0/fields/1/max",
                "of numbers alone"},
        Mistake{R"("type": "integer", "unit": "pennies")",
                R"("type": "integer", "max_length": 4, "unit": "pennies")", kIdle,
                "/kinds/0/fields/3/max_length", "of texts alone"},
        Mistake{R"("type": "text", "max_length": 80)",
                R"("type": "text", "unit": "letters", "max_length": 80)", kIdle, "/kinds/0/fields/2/unit",
                "of numbers alone"},
        Mistake{R"("type": "text", "max_length": 80)",
                R"("type": "text", "choices": ["dry", "wet"], "max_length": 80)", kIdle,
                "/kinds/0/fields/2/choices", "of choices alone"},
        Mistake{R"("type": "text", "max_length": 80)",
                R"("type": "text", "when_empty": "shows_blank", "max_length": 80)", kIdle,
                "/kinds/0/fields/2/when_empty", "not required"},
        Mistake{R"("type": "flag", "default": false)",
                R"("type": "flag", "when_outside": "ignores", "default": false)", kIdle,
                "/kinds/3/fields/3/when_outside", "no limits"},
        Mistake{R"("regions": [)", R"("regions_": [)", kUnknown, "/kinds/3/regions_",
                "Is \"regions\" meant?"},
        Mistake{R"("samples": [)", R"("samples": [
    { "folder": "samples/bollard", "title": "Another" },)",
                kTwice, "/samples/1/folder", "in the list already"}));

INSTANTIATE_TEST_SUITE_P(
    Skeletons, Mistakes,
    testing::Values(
        Mistake{R"("parent": "ballast")", R"("parent": "knee.port")", kCannot, "/skeletons/0/bones/2/parent",
                "before this bone"},
        Mistake{R"("parent": "ballast")", R"("parent": "balast")", kNothing, "/skeletons/0/bones/2/parent",
                "Is \"ballast\" meant?"},
        Mistake{R"("parent": "neck", )", "", kCannot, "/skeletons/0/bones/5/parent", "Only the first bone"},
        Mistake{R"("side": "left", "at_m": [-0.02, 0.05)", R"("side": "right", "at_m": [-0.02, 0.05)",
                kCannot, "/skeletons/0/bones/6/at_m/1", "left is positive"},
        Mistake{R"("at_m": [-0.01, 0.71, 1.39])", R"("at_m": [-0.01, -0.71, 1.39])", kCannot,
                "/skeletons/0/bones/9/at_m/1", "left is positive"},
        Mistake{R"("parent": "arm.starboard")", R"("parent": "arm.port")", kCannot,
                "/skeletons/0/bones/12/side", "another side"},
        Mistake{R"("hints": ["neck"],)", R"("hints": ["neck"], "turn": [0, 0, 0, 0.5],)", kCannot,
                "/skeletons/0/bones/4/turn", "unit quaternion"},
        Mistake{R"("hints": ["root", "origin", "ground"])",
                R"("hints": ["root", "origin", "ground"], "most_deg": 20)", kIdle,
                "/skeletons/0/bones/0/most_deg", "hangs on none"},
        Mistake{R"(["ballast", "waist")", R"(["waist", "ballast")", kCannot, "/skeletons/0/chains/0/bones/1",
                "each the child of the one before"},
        Mistake{R"(["leg.port", "knee.port", "foot.port"])", R"(["leg.port", "foot.port"])", kCannot,
                "/skeletons/0/chains/3/bones/1", "The parent of \"foot.port\" is \"knee.port\""},
        Mistake{R"(["leg.port", "knee.port", "foot.port"])", R"(["leg.port", "shin.port", "foot.port"])",
                kCannot, "/skeletons/0/chains/3/bones/1", "no bone of it"},
        Mistake{R"("moments_s": [0, 0.25, 0.5, 0.75])", R"("moments_s": [0, 0.25, 0.25, 0.75])", kCannot,
                "/skeletons/0/movements/list/1/moments_s/2", "keep each once"}));

INSTANTIATE_TEST_SUITE_P(
    Units, Mistakes,
    testing::Values(Mistake{R"("height": [0.3, 4.5])", R"("height": [30, 450])", kDoubt,
                            "/kinds/0/size_m/height", "Lengths in a rulebook are metres"},
                    Mistake{R"("length": [1.8, 16])", R"("length": [180, 1600])", kDoubt,
                            "/kinds/1/size_m/length", "name the place in the list \"meant\""},
                    Mistake{R"("height": [0.3, 4.5])", R"("height": [0.3, 4500])", kDoubt,
                            "/kinds/0/size_m/height", "times as long as a person"},
                    Mistake{R"("height": [0.3, 4.5])", R"("height": [0.0003, 0.0015])", kDoubt,
                            "/kinds/0/size_m/height", "of the height of a person"},
                    Mistake{R"("reach": [0.03, 3.2])", R"("reach": [20, 320])", kDoubt,
                            "/kinds/4/size_m/reach", "metres"},
                    Mistake{R"("origin_tolerance_m": 0.02)", R"("origin_tolerance_m": 20)", kDoubt,
                            "/kinds/0/origin_tolerance_m", "farther off than the thing is large"},
                    Mistake{R"("seam_mm": 1 })", R"("seam_mm": 0.001 })", kDoubt, "/kinds/3/body/seam_mm",
                            "millimetres"},
                    Mistake{R"("unit_m": 1,)", R"("unit_m": 1000,)", kDoubt, "/space/unit_m", "units high"},
                    Mistake{R"("texels_per_m": [32, 8192])", R"("texels_per_m": [320000, 819200])", kDoubt,
                            "/kinds/0/texels_per_m", "finer than a hair"},
                    Mistake{R"("at_m": [-0.02, 0.11, 0.09])", R"("at_m": [-2, 11, 50])", kDoubt,
                            "/skeletons/0/bones/16/at_m", "The bone would lie off"}));

TEST(RulebookDoubts, AreSilentWhereThePlaceIsMeant) {
  std::string text = shippedText();
  const std::string height = R"("height": [0.3, 4.5])";
  text.replace(text.find(height), height.size(), R"("height": [30, 450])");
  const std::string format = R"("format": 1,)";
  text.replace(text.find(format), format.size(), R"("format": 1, "meant": ["/kinds/0/size_m/height"],)");
  std::vector<base::Error> doubts;
  ASSERT_TRUE(parseRulebook(text, "rulebook.json", nullptr, &doubts));
  EXPECT_TRUE(doubts.empty()) << doubts[0].text();
}

TEST(RulebookMistakes, AreAllSaidTogetherEachOnItsLine) {
  std::vector<base::Error> found;
  EXPECT_FALSE(
      parseRulebook("{\n"
                    "  \"format\": 1,\n"
                    "  \"id\": \"attic\",\n"
                    "  \"versoin\": \"1\",\n"
                    "  \"title\": \"Attic\",\n"
                    "  \"space\": { \"unit_m\": 1, \"up\": \"+Z\",\n"
                    "    \"forward\": \"X\", \"person_height_m\": 1.5 },\n"
                    "  \"kinds\": [\n"
                    "    { \"id\": \"trunk\",\n"
                    "      \"title\": \"\" } ] }\n",
                    "rulebook.json", &found));
  std::vector<std::pair<int, std::string>> places;
  for (const base::Error& one : found) places.emplace_back(one.place.line, one.place.path);
  EXPECT_THAT(places,
              testing::UnorderedElementsAre(testing::Pair(4, "/versoin"), testing::Pair(7, "/space/forward"),
                                            testing::Pair(10, "/kinds/0/title")));
}

TEST(RulebookMistakes, StopAtTwoHundredAndDoNotTakeLong) {
  std::string text = R"({ "format": 1, "id": "a", "version": "1", "title": "A", "kinds": [ { "id": "b")";
  for (int i = 0; i < 100'000; ++i) text += ", \"no_such_key_" + std::to_string(i) + "\": 1";
  std::vector<base::Error> found;
  EXPECT_FALSE(parseRulebook(text + "} ] }", "rulebook.json", &found));
  EXPECT_EQ(found.size(), 200U);
}

TEST(RulebookMistakes, MegabytesOfHintsAreRefused) {
  std::string text = shippedText();
  const std::string hint = R"("pane")";
  std::string many;
  for (int i = 0; i < 200'000; ++i) many += "\"pane " + std::to_string(i) + "\", ";
  std::string some = text;
  some.replace(some.find(hint), 0, many);
  std::vector<base::Error> found;
  EXPECT_FALSE(parseRulebook(some, "rulebook.json", &found));
  ASSERT_EQ(found.size(), 1U);
  EXPECT_THAT(found[0].text(), HasSubstr("a list of at most 64 texts"));
  found.clear();
  text.replace(text.find(hint) + 1, 0, std::string(5'000'000, 'a'));
  EXPECT_FALSE(parseRulebook(text, "rulebook.json", &found));
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].code, "json.too_large");
}

}  // namespace
}  // namespace rakugo::rulebook
