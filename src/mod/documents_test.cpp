#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "base/files.h"
#include "mod/history.h"
#include "mod/store.h"
#include "support/marked_language.h"
#include "support/random_edits.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

using testing::ElementsAre;

base::Bytes bytes(std::string_view text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

TEST(DocumentPath, KnowsTheDocumentsAndNothingElse) {
  EXPECT_EQ(documentPath("mod.json").sort, DocumentSort::card);
  EXPECT_EQ(documentPath("models/a.b.model.json").name, "a.b");
  EXPECT_EQ(documentPath("objects/x.object.json").sort, DocumentSort::object);
  EXPECT_EQ(documentPath("sources/x/source.json").name, "x");
  EXPECT_EQ(documentPath("icons/deep/x.png").sort, DocumentSort::icon);
  for (const char* path : {"models/.model.json", "models/a/b.model.json", "../mod.json", "/mod.json",
                           "icons/", "sources/source.json", "objects/x.model.json", "build/x", ""})
    EXPECT_EQ(documentPath(path).sort, DocumentSort::none) << path;
}

TEST(PutDocument, RefusesDamageAndLeavesTheStateAsItWas) {
  ModState state = test::seededMod();
  const ModState before = state;
  const base::Bytes damaged = bytes("{\"format\":1,"), newer = bytes("{\"format\":7,\"source\":3}"),
                    good = bytes("{\"format\":1,\"source\":\"s\"}");
  EXPECT_EQ(putDocument(state, "models/new.model.json", &damaged).error().code, "json.syntax");
  EXPECT_EQ(putDocument(state, "models/new.model.json", &newer).error().code, "mod.newer_format");
  EXPECT_EQ(putDocument(state, "../evil.model.json", &good).error().code, "mod.path");
  EXPECT_EQ(putDocument(state, "mod.json", nullptr).error().code, "mod.path");
  EXPECT_THAT(changedPaths(state, before), ElementsAre());
  ASSERT_TRUE(putDocument(state, "models/new.model.json", &good));
  EXPECT_THAT(changedPaths(state, before), ElementsAre("models/new.model.json"));
  ASSERT_TRUE(putDocument(state, "models/new.model.json", nullptr));
  EXPECT_THAT(changedPaths(state, before), ElementsAre());
}

// All values of a document, one after the other, replaced by one of another sort.
TEST(DocumentMessages, CanBeTranslated) {
  const test::MarkedLanguage language;
  size_t heard = 0;
  const std::map<std::string, std::string> documents = {{"mod.json", "mod.json"},
                                                        {"source.json", "sources/s/source.json"},
                                                        {"quay-lamp.model.json", "models/m.model.json"},
                                                        {"quay-lamp.object.json", "objects/o.object.json"}};
  for (const auto& [file, path] : documents) {
    const auto text =
        base::readFile(std::filesystem::path(RAKUGO_SOURCE_DIR) / "tests/fuzz/corpus/documents" / file);
    ASSERT_TRUE(text.ok());
    const auto json = base::parseJson(base::asText(*text), file);
    ASSERT_TRUE(json.ok());
    const base::Json flat = json->flatten();
    for (const auto& [at, value] : flat.items())
      for (const base::Json& other :
           {base::Json(-1.5), base::Json("x y/.."), base::Json::array({1}), base::Json()}) {
        base::Json changed = *json;
        changed[base::Json::json_pointer(at)] = other;
        const base::Bytes now = bytes(changed.dump());
        ModState state = test::seededMod();
        const auto put = putDocument(state, path, &now);
        if (put) continue;
        ++heard;
        EXPECT_EQ(test::unmarked(put.error()), "")
            << path << at << " = " << other.dump() << ": " << put.error().text();
      }
  }
  EXPECT_GT(heard, 20U);
}

// The promise of undo: whatever was done, undoing all of it saves the bytes of before, and redoing all of it
// those of after.
TEST(History, UndoAllAndRedoAllGiveByteEqualSaves) {
  for (unsigned seed = 1; seed <= 40; ++seed) {
    std::mt19937 random(seed);
    History history(test::seededMod());
    std::vector<std::map<std::string, base::Bytes>> saves = {test::allContent(*history.current())};
    for (int i = 0; i < 60; ++i) {
      const auto edit = test::randomEdit(random);
      const std::string group = random() % 4 == 0 ? "drag" : "";
      const size_t undos = [&] {
        size_t n = 0;
        while (history.canUndo()) history.undo(), ++n;
        for (size_t k = 0; k < n; ++k) history.redo();
        return n;
      }();
      history.edit(edit.label, edit.apply, group);
      saves.resize(undos + 1);
      size_t after = 0;
      while (history.canUndo()) history.undo(), ++after;
      for (size_t k = 0; k < after; ++k) history.redo();
      saves.resize(after);  // a grouped edit replaces the last one
      saves.push_back(test::allContent(*history.current()));
      if (random() % 5 == 0 && history.canUndo()) history.undo();
    }
    while (history.canRedo()) history.redo();
    size_t at = saves.size();
    for (;;) {
      --at;
      ASSERT_EQ(test::allContent(*history.current()), saves[at]) << "seed " << seed << ", undo to " << at;
      if (!history.canUndo()) break;
      history.undo();
    }
    ASSERT_EQ(at, 0U);
    while (history.canRedo()) history.redo();
    ASSERT_EQ(test::allContent(*history.current()), saves.back());
  }
}

TEST(History, IsNotDirtyWhenAnEditIsTakenBackByHand) {
  History history(test::seededMod());
  const std::string title = history.current()->card.title;
  history.edit("Title", [](ModState& s) { s.card.title = "Another"; });
  EXPECT_TRUE(history.dirty());
  history.edit("Title", [&](ModState& s) { s.card.title = title; });
  EXPECT_FALSE(history.dirty());
}

TEST(SaveMod, WritesAndRemovesWhatRandomEditsChanged) {
  const test::TestFolder own;
  std::mt19937 random(7);
  ModState state = test::seededMod(), before = state;
  Footprint footprint;
  ASSERT_TRUE(saveMod(own.path() / "m", state, before, &footprint));
  for (int i = 0; i < 60; ++i) {
    before = state;
    test::randomEdit(random).apply(state);
    ASSERT_TRUE(saveMod(own.path() / "m", state, before, &footprint));
    Footprint seen;
    const auto back = loadMod(own.path() / "m", &seen);
    ASSERT_TRUE(back) << back.error().text();
    ASSERT_EQ(test::allContent(*back), test::allContent(state));
    ASSERT_EQ(seen, footprint);
  }
}

}  // namespace
}  // namespace rakugo::mod
