// Templates of texts, held against what was written by hand.
#include "packing/delivery/text_template.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

namespace rakugo::packing {
namespace {

using base::Json;
using testing::HasSubstr;

const Json& boat() {
  static const Json kBoat = Json::parse(R"({
    "object": {"id": "tug", "title": "Slow \"Margit\" & <co>"},
    "card": {"mass": 9000.5, "lit": false, "price": 21000, "quip": "", "hold": 0},
    "points": {"hub": [{"id": "hub-1", "position": [1, 0.5, 0]}, {"id": "hub-2", "position": [1, -0.5, 0]}], "helm": []},
    "tags": ["slow", "wet"]
  })");
  return kBoat;
}

std::string rendered(const char* text, TextKind kind = TextKind::plain) {
  const auto out = filledTemplate(text, Scope(boat()), kind);
  return out ? *out : "error " + out.error().code + " in line " + std::to_string(out.error().place.line);
}

TEST(TextTemplate, FillsValuesAndSections) {
  EXPECT_EQ(rendered("mass={{card.mass}}\nlit={{card.lit}} hold={{card.hold}}\n"),
            "mass=9000.5\nlit=false hold=0\n");
  EXPECT_EQ(
      rendered("{{#points.hub}}{{number}} {{id|upper}} {{position.2}} of {{object.id}};{{/points.hub}}"),
      "1 HUB-1 0.5 of tug;2 HUB-2 -0.5 of tug;");
  EXPECT_EQ(rendered("{{#tags}}<{{.}}>{{/tags}}{{^points.helm}}no helm{{/points.helm}}"),
            "<slow><wet>no helm");
  EXPECT_EQ(
      rendered(
          "{{#card.lit}}lit{{/card.lit}}{{^card.lit}}dark{{/card.lit}}{{#card.price}} sold{{/card.price}}"),
      "dark sold");
  EXPECT_EQ(rendered("{{#card.hold}}0 is a value{{/card.hold}}"), "0 is a value");
  EXPECT_EQ(rendered("{{points.hub.count}}{{! what nobody reads }}"), "2");
  EXPECT_EQ(rendered("no tags {at} all }}"), "no tags {at} all }}");
}

TEST(TextTemplate, ASectionAloneOnItsLineLeavesNone) {
  EXPECT_EQ(rendered("[hubs]\n{{#points.hub}}\n{{id}}={{position.1}}\n{{/points.hub}}\n[end]\n"),
            "[hubs]\nhub-1=1\nhub-2=1\n[end]\n");
}

TEST(TextTemplate, KeepsAValueAValue) {
  EXPECT_EQ(rendered("<t>{{object.title}}</t>", TextKind::xml),
            "<t>Slow &quot;Margit&quot; &amp; &lt;co&gt;</t>");
  EXPECT_EQ(rendered("<t>{{{object.title}}}</t>", TextKind::xml), "<t>Slow \"Margit\" & <co></t>");
  EXPECT_EQ(rendered("{{object.id}},{{object.title}},{{card.price}}", TextKind::csv),
            "tug,\"Slow \"\"Margit\"\" & <co>\",21000");
  const Json hostile{{"t", "a\nadmin=1\r\n[x]"}, {"q", "1;\"2\",3"}};
  EXPECT_EQ(*filledTemplate("t={{t}}\n", Scope(hostile), TextKind::ini), "t=a admin=1  [x]\n");
  EXPECT_EQ(*filledTemplate("{{q}}\n", Scope(hostile), TextKind::csv), "\"1;\"\"2\"\",3\"\n");
  EXPECT_EQ(textKindOf("a/B.XML"), TextKind::xml);
  EXPECT_EQ(textKindOf("a/b.cfg"), TextKind::ini);
  EXPECT_EQ(textKindOf("a/b.csv"), TextKind::csv);
  EXPECT_EQ(textKindOf("a/xml"), TextKind::plain);
}

TEST(TextTemplate, SaysTheLineOfWhatIsWrong) {
  EXPECT_EQ(rendered("a\nb {{card.prize}}\n"), "error place.unknown in line 2");
  EXPECT_EQ(rendered("a\n{{#points.hub}}\n{{idd}}\n{{/points.hub}}"), "error place.unknown in line 3");
  EXPECT_EQ(rendered("{{points.hub}}"), "error place.type in line 1");
  EXPECT_EQ(rendered("\n\n{{#points.hub}}\n"), "error place.section in line 3");
  EXPECT_EQ(rendered("x\n{{/points.hub}}"), "error place.section in line 2");
  EXPECT_EQ(rendered("{{#tags}}\n{{#points.hub}}{{/tags}}{{/points.hub}}"), "error place.section in line 2");
  EXPECT_EQ(rendered("\n{{card.mass"), "error place.syntax in line 2");
  for (const char* bad :
       {"{{>other}}", "{{=<% %>=}}", "{{&card.mass}}", "{{}}", "{{ }}", "{{a b}}", "{{{card.mass}}"})
    EXPECT_THAT(rendered(bad), HasSubstr("error place.syntax")) << bad;
  EXPECT_THAT(rendered("{{card.mass|thrice}}"), HasSubstr("place.filter"));
}

TEST(TextTemplate, IsBoundedAndNeverThrows) {
  Json many = Json::array();
  for (int i = 0; i < 300; ++i) many.push_back("0123456789");
  const Json wide{{"a", many}};
  FillLimits few;
  few.values = 50'000;
  few.bytes = 100'000;
  EXPECT_EQ(filledTemplate("{{#a}}{{#a}}{{.}}{{/a}}{{/a}}", Scope(wide), TextKind::plain, few).error().code,
            "place.too_large");
  EXPECT_EQ(filledTemplate("{{#a}}" + std::string(1000, 'x') + "{{/a}}", Scope(wide), TextKind::plain, few)
                .error()
                .code,
            "place.too_large");
  std::mt19937 random(3);
  const std::string_view pieces[] = {"{{", "}}", "{{{", "}}}", "#",    "/",        "^",      "a", ".",
                                     "\n", " ",  "!",   ">",   "tags", "card.lit", "|lower", "="};
  for (int round = 0; round < 20'000; ++round) {
    std::string text;
    for (unsigned i = random() % 14; i > 0; --i) text += pieces[random() % std::size(pieces)];
    const auto out = filledTemplate(text, Scope(boat()), TextKind::xml);
    EXPECT_TRUE(out || !out.error().code.empty()) << text;
  }
}

}  // namespace
}  // namespace rakugo::packing
