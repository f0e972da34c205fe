// Values of lists, curves, ranges and references: as they are typed, and what is wrong with them.
#include "rulebook/field_value.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "rulebook/key.h"

namespace rakugo::rulebook {
namespace {

using base::Json;

Field numberField(const char* id, double least, double most) {
  Field out;
  out.id = out.title = id;
  out.type = FieldType::number;
  out.min = least;
  out.max = most;
  return out;
}

Field recipe() {
  Field out;
  out.id = "needs";
  out.title = "Needs";
  out.type = FieldType::list;
  out.min = 1;
  out.max = 3;
  Field good;
  good.id = "good";
  good.title = "Good";
  good.type = FieldType::reference;
  good.required = true;
  Field amount = numberField("amount", 1, 9);
  amount.title = "Amount";
  amount.type = FieldType::integer;
  out.columns = {good, amount};
  return out;
}

std::string faultOf(const Field& field, const Json& value) {
  const auto fault = fieldFault(field, value);
  return fault ? fault->what : std::string();
}

TEST(FieldValue, RowsAreTypedWithSemicolonsOrAsJson) {
  const Json rows = *typedValue(recipe(), "good/coal, 3; good/rope,1 ;");
  EXPECT_EQ(rows, Json::parse(R"([{"good": "good/coal", "amount": 3}, {"good": "good/rope", "amount": 1}])"));
  EXPECT_EQ(*typedValue(recipe(), rows.dump()), rows);
  EXPECT_EQ(*typedValue(recipe(), " "), Json::array());
  EXPECT_EQ(typedValue(recipe(), "coal, three").error().code, "field.type");
  EXPECT_EQ(typedValue(recipe(), "coal, 3, 4").error().code, "field.type");
  EXPECT_EQ(typedValue(recipe(), "[{").error().code, "field.type");
  Field words = recipe();
  words.columns.resize(1);
  EXPECT_EQ(*typedValue(words, "a; b"), Json::parse(R"(["a", "b"])")) << "one column: the values alone";
  EXPECT_EQ(faultOf(words, Json::parse(R"(["a", ""])")), "in row 2: Good is empty");
}

TEST(FieldValue, AListIsHeldRowByRow) {
  const Field field = recipe();
  EXPECT_EQ(faultOf(field, Json::parse(R"([{"good": "x", "amount": 2}])")), "");
  EXPECT_EQ(faultOf(field, Json::array()), "has 0 rows");
  EXPECT_EQ(faultOf(field, Json::parse(R"([{"good": "x"}, {"good": "x", "amount": 10}])")),
            "in row 2: Amount is 10");
  EXPECT_EQ(faultOf(field, Json::parse(R"([{"amount": 2}])")), "in row 1: Good is empty");
  EXPECT_EQ(faultOf(field, Json::parse(R"([3])")), "in row 1: is no row");
  EXPECT_EQ(faultOf(field, "coal"), "is no list");
  EXPECT_EQ(fieldFault(field, Json::array())->expected, "1 to 3 rows");
}

TEST(FieldValue, ACurveAscends) {
  Field field;
  field.title = "Helm";
  field.type = FieldType::curve;
  field.columns = {numberField("knots", 0, 14), numberField("rate", 0, 60)};
  EXPECT_EQ(faultOf(field, *typedValue(field, "0, 4; 4, 20; 8, 12")), "");
  EXPECT_EQ(faultOf(field, *typedValue(field, "0, 4; 4, 20; 4, 12")), "in row 3: knots does not ascend");
  EXPECT_EQ(faultOf(field, *typedValue(field, "0, 4; 4, 61")), "in row 2: rate is 61");
  EXPECT_EQ(faultOf(field, Json::parse(R"([{"rate": 3}])")), "in row 1: knots is empty");
}

TEST(FieldValue, ARangeIsTwoNumbersTheLowerFirst) {
  Field field = numberField("open", 0, 24);
  field.type = FieldType::range;
  field.unit = "h";
  EXPECT_EQ(*typedValue(field, "8 .. 17.5"), Json::parse("[8.0, 17.5]"));
  EXPECT_EQ(typedValue(field, "8").error().code, "field.type");
  EXPECT_EQ(faultOf(field, Json::parse("[8, 17]")), "");
  EXPECT_EQ(faultOf(field, Json::parse("[17, 8]")), "begins above its end");
  EXPECT_EQ(faultOf(field, Json::parse("[8, 25]")), "is 8 to 25 h");
  EXPECT_EQ(faultOf(field, Json::parse("[8]")), "is no range");
}

TEST(FieldValue, EmptyIsWhatSaysNothing) {
  EXPECT_TRUE(isEmpty(nullptr));
  EXPECT_TRUE(isEmpty(""));
  EXPECT_TRUE(isEmpty(Json::array()));
  EXPECT_FALSE(isEmpty(0));
  EXPECT_FALSE(isEmpty(false));
}

// A rulebook of one kind whose fields are given.
base::Result<Rulebook> withFields(const std::string& fields, std::vector<base::Error>& mistakes) {
  Json book = smallestRulebook("game", "Game");
  book["kinds"][0]["fields"] = Json::parse(fields);
  book["shared_assets"] = Json::parse(R"([{"id": "good/coal", "sort": "good"}])");
  return parseRulebook(book.dump(), "rulebook.json", &mistakes);
}

struct FieldMistake {
  const char *fields, *code, *pointer;
};
class FieldMistakes : public testing::TestWithParam<FieldMistake> {};

TEST_P(FieldMistakes, AreToldWithTheirPlace) {
  std::vector<base::Error> mistakes;
  EXPECT_FALSE(withFields(GetParam().fields, mistakes));
  ASSERT_FALSE(mistakes.empty());
  EXPECT_EQ(mistakes.front().code, GetParam().code) << mistakes.front().text();
  EXPECT_EQ(mistakes.front().place.path, GetParam().pointer);
}

INSTANTIATE_TEST_SUITE_P(
    Rulebook, FieldMistakes,
    testing::Values(
        FieldMistake{R"([{"id": "a", "title": "A", "type": "list"}])", "rulebook.contradiction",
                     "/kinds/0/fields/0/columns"},
        FieldMistake{
            R"([{"id": "a", "title": "A", "type": "curve", "columns": [{"id": "x", "title": "X", "type": "number"},
                         {"id": "y", "title": "Y", "type": "text"}]}])",
            "rulebook.contradiction", "/kinds/0/fields/0/columns"},
        FieldMistake{R"([{"id": "a", "title": "A", "type": "reference", "to": ["goods"]}])",
                     "rulebook.reference", "/kinds/0/fields/0/to/0"},
        FieldMistake{R"([{"id": "a", "title": "A", "type": "text", "to": ["good"]}])", "rulebook.no_effect",
                     "/kinds/0/fields/0/to"},
        FieldMistake{R"([{"id": "a", "title": "A", "type": "range", "min": 0, "max": 3, "default": [2, 4]}])",
                     "rulebook.contradiction", "/kinds/0/fields/0/default"},
        FieldMistake{R"([{"id": "a", "title": "A", "type": "list", "default": [{"x": 12}],
                          "columns": [{"id": "x", "title": "X", "type": "number", "max": 9}, {"id": "y", "title": "Y", "type": "text"}]}])",
                     "rulebook.contradiction", "/kinds/0/fields/0/default"},
        FieldMistake{R"([{"id": "a", "title": "A", "type": "list",
                          "columns": [{"id": "x", "title": "X", "type": "list"}]}])",
                     "rulebook.value", "/kinds/0/fields/0/columns/0/type"},
        FieldMistake{R"([{"id": "b", "title": "B", "type": "flag"},
                         {"id": "a", "title": "A", "type": "text", "when": {"field": "b", "is": true}}])",
                     "rulebook.no_effect", "/kinds/0/fields/1/when"}));

TEST(FieldValue, AFieldIsRequiredOnlyWhenItsConditionHolds) {
  std::vector<base::Error> mistakes;
  const auto book = withFields(
      R"([{"id": "b", "title": "B", "type": "flag"},
          {"id": "a", "title": "A", "type": "reference", "to": ["good"], "required": true, "when": {"field": "b", "is": true}}])",
      mistakes);
  ASSERT_TRUE(book) << mistakes.front().text();
  const Field& field = book->kinds[0].fields[1];
  EXPECT_FALSE(field.when.holds(Json::object()));
  EXPECT_TRUE(field.when.holds(Json{{"b", true}}));
}

}  // namespace
}  // namespace rakugo::rulebook
