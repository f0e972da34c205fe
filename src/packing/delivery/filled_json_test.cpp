// Placeholders and JSON filled from them, held against what was written by hand.
#include "packing/delivery/filled_json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

namespace rakugo::packing {
namespace {

using base::Json;
using testing::HasSubstr;

const Json& values() {
  static const Json kValues = Json::parse(R"({
    "mod": {"id": "tide"},
    "object": {"id": "tug-2", "title": "Slow \"Margit\", née {Tilda}"},
    "card": {"mass": 9000, "knots": 6.5, "lit": true, "quip": "", "drive": "steam", "price": 21000.0},
    "points": {"hub": [{"id": "hub-1", "position": [1, 0.5, 0], "side": "left"},
                       {"id": "hub-2", "position": [1, -0.5, 0], "side": "right"}], "helm": []},
    "tags": ["slow", "wet"],
    "number": 7
  })");
  return kValues;
}
const Scope& scope() {
  static const Scope kScope(values());
  return kScope;
}
std::string text(const char* pattern) {
  const auto out = filledText(std::string_view(pattern), scope());
  return out ? *out : "error " + out.error().code;
}
Json filled(const char* pattern) {
  const auto out = filledJson(Json::parse(pattern), scope());
  return out ? *out : Json("error " + out.error().code + " at " + out.error().place.path);
}

TEST(Placeholders, StandForValuesInTextsWithTheirFilters) {
  EXPECT_EQ(text("boats/{object.id}/hull.obj"), "boats/tug-2/hull.obj");
  EXPECT_EQ(text("{card.mass} kg, {card.knots} kn, {card.lit}"), "9000 kg, 6.5 kn, true");
  EXPECT_EQ(text("{card.price}"), "21000") << "in the fewest digits";
  EXPECT_EQ(text("{object.title|slug}.json"), "slow-margit-n-e-tilda.json");
  EXPECT_EQ(text("{mod.id|upper}_{object.id|upper|lower}"), "TIDE_tug-2");
  EXPECT_EQ(text("{number|digits:3}"), "007");
  EXPECT_EQ(text("[{card.quip}] {card.quip|or:none}"), "[] none");
  EXPECT_EQ(text("{{{mod.id}}}"), "{tide}");
  EXPECT_EQ(text("{points.hub.count} {points.hub.2.id} {points.hub.2.position.2}"), "2 hub-2 -0.5");
  EXPECT_EQ(text(""), "");
}

TEST(Placeholders, ThatMeanNothingAreSaidWithWhatIsThere) {
  const auto error = [](const char* pattern) {
    return filledText(std::string_view(pattern), scope()).error();
  };
  EXPECT_THAT(error("{card.prize}").cure, HasSubstr("price"));
  EXPECT_EQ(error("{card.prize}").code, "place.unknown");
  EXPECT_THAT(error("{kard.mass}").cure, HasSubstr("card"));
  EXPECT_THAT(error("{card.mass.kg}").message, HasSubstr("card.mass.kg"));
  EXPECT_EQ(error("{points.hub.3.id}").code, "place.unknown");
  EXPECT_EQ(error("{points.hub.0.id}").code, "place.unknown");
  EXPECT_EQ(error("{points.hub}").code, "place.type");
  for (const char* bad :
       {"{", "}", "{mod.id", "mod.id}", "{}", "{ mod.id }", "{.id}", "{mod.}", "{mod..id}", "{mod.id|}",
        "{mod.id|small}", "{number|digits:x}", "{number|digits:12}", "{mod.id|lower:x}"}) {
    const auto refused = filledText(std::string_view(bad), scope());
    ASSERT_FALSE(refused) << bad;
    EXPECT_TRUE(refused.error().code == "place.syntax" || refused.error().code == "place.filter") << bad;
    EXPECT_FALSE(refused.error().cure.empty()) << bad;
  }
}

TEST(FilledJson, KeepsTypesAndCannotComeOutBroken) {
  EXPECT_EQ(
      filled(
          R"({"title": "{object.title}", "mass": "{card.mass}", "lit": "{card.lit}", "at": "{points.hub.1.position}",
                       "says": "{card.mass} kg", "fixed": [1, null, "plain"]})"),
      Json::parse(R"({"title": "Slow \"Margit\", née {Tilda}", "mass": 9000, "lit": true, "at": [1, 0.5, 0],
                            "says": "9000 kg", "fixed": [1, null, "plain"]})"));
  EXPECT_EQ(filled(R"({"{object.id}": {"a?": "{card.quip}", "b?": "{points.helm}", "c?": 0, "sure??": 1}})"),
            Json::parse(R"({"tug-2": {"c": 0, "sure?": 1}})"));
}

TEST(FilledJson, WritesAListForEach) {
  EXPECT_EQ(
      filled(
          R"({"each": "points.hub", "write": {"at": "{position}", "of": "{object.id}", "n": "{number}"}})"),
      Json::parse(
          R"([{"at": [1, 0.5, 0], "of": "tug-2", "n": 1}, {"at": [1, -0.5, 0], "of": "tug-2", "n": 2}])"));
  EXPECT_EQ(filled(R"({"each": "points.hub", "key": "{id}", "write": "{side}"})"),
            Json::parse(R"({"hub-1": "left", "hub-2": "right"})"));
  EXPECT_EQ(filled(R"({"each": "points.hub", "where": "side", "is": "right", "write": "{number}"})"),
            Json::parse("[2]"));
  EXPECT_EQ(filled(R"({"each": "tags", "write": "{number}: {item}"})"),
            Json::parse(R"(["1: slow", "2: wet"])"));
  EXPECT_EQ(filled(R"({"each": "points.helm", "write": "{no.such}"})"), Json::array());
  EXPECT_EQ(filled(R"({"each": "tags", "write": {"each": "points.hub", "write": "{item}/{id}"}})"),
            Json::parse(R"([["slow/hub-1", "slow/hub-2"], ["wet/hub-1", "wet/hub-2"]])"));
}

TEST(FilledJson, ChoosesByAValue) {
  EXPECT_EQ(
      filled(R"([{"if": "card.lit", "then": 1, "else": 2}, {"if": "card.quip", "then": 1, "else": "{mod.id}"},
                       {"if": "card.drive", "is": "sail", "then": 1}, {"if": "card.drive", "is": "steam", "then": "{card.drive}"}])"),
      Json::parse(R"([1, "tide", null, "steam"])"));
}

TEST(FilledJson, SaysWhereItIsWrong) {
  EXPECT_EQ(filled(R"({"a": [0, {"b/c": "{card.prize}"}]})"), "error place.unknown at /a/1/b~1c");
  EXPECT_EQ(filled(R"({"each": "card", "write": 1})"), "error place.each at /each");
  EXPECT_EQ(filled(R"({"each": 3, "write": 1})"), "error place.each at /each");
  EXPECT_EQ(filled(R"({"each": "points.hub", "key": "same", "write": 1})"), "error place.key at /key");
  EXPECT_EQ(filled(R"({"{mod.id}": 1, "tide": 2})"), "error place.key at /tide");
  EXPECT_EQ(filled(R"({"x": {"if": "card.lamp", "then": 1}})"), "error place.unknown at /x/if");
  EXPECT_EQ(filled(R"({"each": "points.hub", "write": {"x": "{positon}"}})"),
            "error place.unknown at /write/x");
}

TEST(FilledJson, IsBoundedInValuesAndBytes) {
  Json many = Json::array();
  for (int i = 0; i < 200; ++i) many.push_back(std::string(50, 'x'));
  const Json wide{{"list", many}};
  const Scope all(wide);
  const Json nested = Json::parse(
      R"({"each": "list", "write": {"each": "list", "write": {"each": "list", "write": "{item}"}}})");
  FillLimits most;
  most.values = 100'000;
  const auto refused = filledJson(nested, all, most);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "place.too_large");
  FillLimits few;
  few.bytes = 1000;
  EXPECT_EQ(filledJson(Json::parse(R"({"each": "list", "write": "{item}"})"), all, few).error().code,
            "place.too_large");
}

// Whatever texts the values hold, the JSON that comes out has the same keys, and is read back equal.
TEST(FilledJson, NoTextOfACardCanAddAKey) {
  std::mt19937 random(21);
  const std::string_view pieces[] = {
      "\"", "}", "{", ",", ":", "\\", "\n", "{mod.id}", "\", \"admin\": true, \"", "é", "\x01"};
  for (int round = 0; round < 400; ++round) {
    std::string hostile;
    for (unsigned i = random() % 8; i > 0; --i) hostile += pieces[random() % std::size(pieces)];
    const Json card{{"title", hostile}, {"mod", {{"id", "m"}}}};
    const auto out = filledJson(Json::parse(R"({"title": "{title}", "said": "<{title}>"})"), Scope(card));
    ASSERT_TRUE(out);
    ASSERT_EQ(out->size(), 2U);
    EXPECT_EQ((*out)["title"], hostile);
    EXPECT_EQ((*out)["said"], "<" + hostile + ">");
    const auto again = base::parseJson(base::jsonText(*out), "out");
    ASSERT_TRUE(again);
    EXPECT_EQ(*again, *out);
  }
}

}  // namespace
}  // namespace rakugo::packing
