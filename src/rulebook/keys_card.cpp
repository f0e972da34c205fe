// The keys of roles, points and fields: what a model and its object say to the game.
#include "rulebook/key_rows.h"
#include "rulebook/key_tables.h"

namespace rakugo::rulebook {
KeyTable& conditionKeys() {
  static KeyTable table{
      "when",
      "`when`",
      "Narrows `required` to cards on which a field has a value; of a field of `pieces` or `lists`, to those "
      "on which another field of the same `fields` has it.",
      {rows::reference("field", "fields", &Condition::field).needed().says("A field of the same kind."),
       rows::value("is", &Condition::is)
           .needed()
           .says("A value that the field can have.")
           .notCalled({"equals", "value"})}};
  return table;
}

namespace {

KeyTable& proposeKeys() {
  static KeyTable table{"propose",
                        "`propose`",
                        "",
                        {rows::reference("role", "roles", &Point::propose_role)
                             .says("The centre of what the materials of that role cover."),
                         rows::oneOf("at", {"top", "centre", "floor_centre"}, &Point::propose_at)
                             .says("A place of the model's box, where there is no such material.")}};
  return table;
}

}  // namespace

KeyTable& roleKeys() {
  static KeyTable table{
      "role",
      "A role",
      "What the game does with a material.",
      {rows::id(&Role::id).heldBy({"role.unknown"}).says("As the game knows it."),
       rows::title(&Role::title).says("What it is called in the window."), rows::help(&Role::help),
       rows::word(&Role::word),
       rows::flag("required", &Role::required)
           .heldBy({"role.missing"})
           .says("A model of the kind needs a material with this role."),
       rows::object("when", &Role::when, conditionKeys).says("It is needed only then."),
       rows::oneOf("effect", {"tint", "glow"}, &Role::effect)
           .says("`tint`: takes a chosen colour; `glow`: shines by night."),
       rows::numbers("swatch", &Role::swatch)
           .between(0, 1)
           .says("The colour that stands for it in the window: red, green, blue, sRGB.")
           .notCalled({"color", "colour", "rgb"}),
       rows::list("tones", &Role::tones, toneKeys)
           .entries(0, 64)
           .says("Of a role that is tinted: the colours that players choose from; the swatch holds until "
                 "they do.")
           .notCalled({"palette", "colors", "colours"}),
       rows::hints(&Role::hints).says("Words in names of materials that suggest the role.")}};
  return table;
}

namespace {

KeyTable& hangingKeys() {
  static KeyTable table{
      "hanging",
      "`hangs`",
      "What the game hangs at a point. The window shows it there: the game's example of that kind, or an "
      "object of the mod.",
      {rows::text("kind", &Hanging::kind).needed("thing").says("The id of a kind: things of it hang here."),
       rows::text("by", &Hanging::by)
           .says("The point of that kind which comes to lie on this one; without it their origin does.")
           .notCalled({"point", "at"})}};
  return table;
}

}  // namespace

KeyTable& pointKeys() {
  static KeyTable table{
      "point",
      "A point",
      "A named place at which the game hangs something.",
      {rows::id(&Point::id).heldBy({"point.missing"}).says("As the game knows it."),
       rows::title(&Point::title).says("What it is called in the window."), rows::help(&Point::help),
       rows::word(&Point::word)
           .says("The exact word that the game reads, where it is another than the id; `{n}` in it is the "
                 "number of one of several."),
       rows::whole("most", &Point::most)
           .between(1, 64)
           .heldBy({"point.count"})
           .says("How many of them a model may have; several are called by the id and a number: `lamp-1`.")
           .notCalled({"max", "count"}),
       rows::flag("required", &Point::required)
           .heldBy({"point.missing"})
           .says("A model of the kind needs it."),
       rows::object("when", &Point::when, conditionKeys).says("It is needed only then."),
       rows::group("propose", proposeKeys).says("Where Rakugo proposes it."),
       rows::reference("pair", "points", &Point::pair)
           .says("The point on the other side, which names this one: its mirror image is proposed."),
       rows::text("bone", &Point::bone)
           .says("A bone of the kind's skeleton, with which the point goes as the figure moves.")
           .notCalled({"parent", "follows"}),
       rows::list("hangs", &Point::hangs, hangingKeys)
           .entries(0, 16)
           .says("What the game hangs here.")
           .notCalled({"holds", "takes"})}};
  return table;
}

namespace {

using NamedTypes = std::vector<std::pair<std::string, FieldType>>;

// What a field and a column of a list can be alike.
NamedTypes simpleTypes() {
  return {{"text", FieldType::text},       {"long_text", FieldType::long_text},
          {"number", FieldType::number},   {"integer", FieldType::integer},
          {"choice", FieldType::choice},   {"flag", FieldType::flag},
          {"text_id", FieldType::text_id}, {"color", FieldType::color},
          {"range", FieldType::range},     {"reference", FieldType::reference}};
}

std::vector<Key> valueKeys(const char* where) {
  return {
      rows::text("unit", &Field::unit).longest(16).says("Of a number: \"kg\"."),
      rows::flag("required", &Field::required)
          .heldBy({"field.empty"})
          .says(where == std::string_view("list")
                    ? "No row may lack it."
                    : "It must not be empty. What then happens in the game `when_empty` says; nothing keeps "
                      "one from building."),
      rows::number("min", &Field::min)
          .heldBy({"field.limits"})
          .says("Of a number, and of both numbers of a range; of a list or curve: how many rows at least.")
          .notCalled({"minimum", "least"}),
      rows::number("max", &Field::max)
          .heldBy({"field.limits"})
          .says("Of a number, and of both numbers of a range; of a list or curve: how many rows at most.")
          .notCalled({"maximum", "most"}),
      rows::whole("max_length", &Field::max_length)
          .between(0, 1'000'000)
          .in("characters")
          .heldBy({"field.limits"})
          .says("Of a text; 0: no limit.")
          .notCalled({"length", "maxLength"}),
      rows::words("choices", &Field::choices)
          .entries(2, 500)
          .says("Of a choice: what one chooses from.")
          .notCalled({"options", "values", "enum"}),
      rows::words("to", &Field::to)
          .heldBy({"field.reference"})
          .says("Of a reference: ids of kinds, whose objects it may name; words that `shared_assets` are "
                "sorted by; `sound` for the mod's sounds. Left out: anything.")
          .notCalled({"of", "kinds", "targets"})};
}

KeyTable& columnKeys() {
  static KeyTable table = [] {
    KeyTable out{"column",
                 "An entry of `columns`",
                 "What stands in each row of a list.",
                 {rows::id(&Field::id).says("As the game reads it."),
                  rows::title(&Field::title).says("What stands above the column."), rows::help(&Field::help),
                  rows::word(&Field::word),
                  rows::choice<Field, FieldType>("type", simpleTypes(), &Field::type)
                      .needed("text")
                      .says("As of a field.")}};
    for (Key& key : valueKeys("list")) out.keys.push_back(std::move(key));
    out.keys.push_back(rows::value("default", &Field::default_value)
                           .says("What a new row begins with; it must fit the type."));
    return out;
  }();
  return table;
}

NamedTypes fieldTypes() {
  NamedTypes out = simpleTypes();
  out.emplace_back("list", FieldType::list);
  out.emplace_back("curve", FieldType::curve);
  return out;
}

}  // namespace

KeyTable& fieldKeys() {
  static KeyTable table = [] {
    KeyTable out{
        "field",
        "A field",
        "One value on the card of an object.",
        {rows::id(&Field::id).says("As the game reads it."),
         rows::title(&Field::title).says("What it is called on the card."), rows::help(&Field::help),
         rows::word(&Field::word),
         rows::choice<Field, FieldType>("type", fieldTypes(), &Field::type)
             .needed("text")
             .says("`text_id`: a name by which the game looks a text up; it is renamed along with the thing "
                   "it names. `color`: red, green, blue, each 0 to 1, sRGB. `range`: two numbers, the lower "
                   "first. `reference`: something of the mod or of the game. `list`: rows of `columns`. "
                   "`curve`: points of two numbers, the first of which ascends."),
         rows::object("when", &Field::when, conditionKeys).says("It is required only then.")}};
    for (Key& key : valueKeys("card")) out.keys.push_back(std::move(key));
    out.keys.push_back(
        rows::list("columns", &Field::columns, columnKeys)
            .entries(0, 12)
            .says("Of a list, and the two numbers of a curve. A row is an object by the columns' ids; of a "
                  "list with one column it is the value alone."));
    out.keys.push_back(rows::value("default", &Field::default_value)
                           .says("What a new card begins with; it must fit the type."));
    out.keys.push_back(rows::outcome("when_empty", &Field::when_empty)
                           .says("What the game does when it is required and empty."));
    out.keys.push_back(rows::outcome("when_outside", &Field::when_outside)
                           .says("What the game does when it is outside its limits."));
    return out;
  }();
  return table;
}

KeyTable& gameListKeys() {
  static KeyTable table{
      "game_list",
      "An entry of `lists`",
      "Where things enter the game: a shop, the recipes, a start kit. An object stands in it with what "
      "`fields` ask for.",
      {rows::id(&GameList::id).needed("shop").says("As documents name it."),
       rows::title(&GameList::title).says("What it is called in the window."), rows::help(&GameList::help),
       rows::word(&GameList::word),
       rows::words("of", &GameList::of)
           .heldBy({"list.unknown"})
           .says("Ids of the kinds whose objects may enter; left out: all.")
           .notCalled({"kinds", "for"}),
       rows::whole("least", &GameList::least)
           .between(0, 64)
           .heldBy({"list.count"})
           .says("How often an object must stand in it.")
           .notCalled({"min", "required"}),
       rows::whole("most", &GameList::most)
           .between(1, 64)
           .heldBy({"list.count"})
           .says("How often it may.")
           .notCalled({"max"}),
       rows::list("fields", &GameList::fields, fieldKeys)
           .entries(0, 64)
           .heldBy({"list.values"})
           .says("What each entry says.")
           .notCalled({"values", "columns"})}};
  return table;
}

}  // namespace rakugo::rulebook
