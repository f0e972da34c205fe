// Texts that objects name: found wherever they stand, and renamed everywhere at once.
#include "prepare/objects/text_ids.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "mod/things.h"
#include "prepare/naming.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

using testing::ElementsAre;

// A game whose cards, lists and pieces name texts, alone and in rows.
rulebook::Rulebook wordy() {
  rulebook::Rulebook out = test::book();
  rulebook::Field text;
  text.id = "says";
  text.title = "Says";
  text.type = rulebook::FieldType::text_id;
  rulebook::Field lines;
  lines.id = "lines";
  lines.title = "Lines";
  lines.type = rulebook::FieldType::list;
  lines.columns = {text};
  rulebook::Field talks = lines;
  talks.id = "talks";
  rulebook::Field who;
  who.id = "who";
  talks.columns.push_back(who);
  for (rulebook::Kind& kind : out.kinds)
    if (kind.id == "fitting") {
      kind.fields.insert(kind.fields.end(), {text, lines, talks});
      kind.pieces.front().fields.push_back(text);
    }
  out.lists.front().fields.push_back(text);
  out.shared_assets.push_back({"text/harbour/closed", "Closed", "text"});
  return out;
}

mod::ModState talking(const rulebook::Rulebook& book) {
  mod::ModState out;
  mod::ObjectDoc& lamp = out.objects["quay-lamp"];
  lamp.kind = "fitting";
  lamp.card = base::Json{{"says", "text/quay-lamp/hello"},
                         {"lines", {"text/one", "", "text/two"}},
                         {"talks", {{{"says", "text/three"}, {"who", "text/no"}}}},
                         {"blurb", "text/no"}};
  lamp.lists.push_back({book.lists.front().id, base::Json{{"says", "text/list"}}});
  mod::PieceDoc piece{"light", "", {0, 0, 0}, {0, 0, 0, 1}, book.findKind("fitting")->pieces.front().id};
  piece.sort = "lamp";
  piece.values["says"] = "text/harbour/closed";
  lamp.pieces.push_back(piece);
  setText(out, "en", "text/quay-lamp/hello", "Good evening.");
  setText(out, "de", "text/quay-lamp/hello", "Guten Abend.");
  return out;
}

TEST(TextIds, AreFoundOnTheCardInRowsInListsAndAtPieces) {
  const rulebook::Rulebook book = wordy();
  const mod::ModState state = talking(book);
  std::vector<std::string> ids, fields;
  for (const TextUse& use : textsNamedBy(book, "quay-lamp", state.objects.at("quay-lamp"))) {
    ids.push_back(use.id);
    fields.push_back(use.field);
  }
  EXPECT_THAT(ids, ElementsAre("text/quay-lamp/hello", "text/one", "text/two", "text/three", "text/list",
                               "text/harbour/closed"));
  EXPECT_THAT(fields,
              ElementsAre("says", "lines", "lines", "talks", "list-" + book.lists.front().id, "piece-light"));
  EXPECT_EQ(namedTexts(book, state).count("text/harbour/closed"), 0U) << "the game's own";
  EXPECT_EQ(namedTexts(book, state).size(), 5U);
}

TEST(TextIds, AreRenamedInEveryLanguageAndWhereverTheyStand) {
  const rulebook::Rulebook book = wordy();
  mod::ModState state = talking(book);
  state.objects["other"] = state.objects.at("quay-lamp");
  ASSERT_TRUE(renameText(book, state, "text/quay-lamp/hello", "text/evening"));
  EXPECT_EQ(*textIn(state, "en", "text/evening"), "Good evening.");
  EXPECT_EQ(*textIn(state, "de", "text/evening"), "Guten Abend.");
  EXPECT_EQ(textIn(state, "de", "text/quay-lamp/hello"), nullptr);
  for (const auto& [name, object] : std::as_const(state.objects))
    EXPECT_EQ(object.card["says"], "text/evening") << name;
  EXPECT_EQ(renameText(book, state, "text/evening", "text/one").error().code, "text.taken");
  EXPECT_EQ(renameText(book, state, "text/no", "text/yes").error().code, "text.unknown");
  EXPECT_EQ(renameText(book, state, "text/evening", "").error().code, "text.id");
}

TEST(TextIds, FollowWhenTheirObjectIsRenamed) {
  const rulebook::Rulebook book = wordy();
  mod::ModState state = talking(book);
  ASSERT_TRUE(mod::renameThing(state, mod::Thing::object, "quay-lamp", "storm-light", namingValues(book)));
  EXPECT_EQ(std::as_const(state.objects).at("storm-light").card["says"], "text/storm-light/hello");
  EXPECT_EQ(*textIn(state, "en", "text/storm-light/hello"), "Good evening.");
  EXPECT_EQ(textIn(state, "en", "text/quay-lamp/hello"), nullptr);
}

TEST(TextIds, ALanguageGoesWithItsLastText) {
  mod::ModState state;
  setText(state, "en", "a", "A");
  setText(state, "en", "b", "B");
  setText(state, "en", "a", "");
  EXPECT_EQ(state.texts.count("en"), 1U);
  setText(state, "en", "b", "");
  setText(state, "de", "b", "");
  EXPECT_TRUE(state.texts.empty());
}

}  // namespace
}  // namespace rakugo::prepare
