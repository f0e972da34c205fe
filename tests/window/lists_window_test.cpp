// The Objects station: lists, curves, ranges and references on cards; the game's lists; sounds. By mouse and
// keys, saved and opened again.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>

#include "app/bench/icon_painter.h"
#include "app/stations/objects/donor_panel.h"
#include "base/files.h"
#include "base/sha256.h"
#include "support/made_sounds.h"
#include "window_fixture.h"

namespace rakugo {

class ListsWindowTest : public test::WindowFixture {
 protected:
  bool openMod(const char* mod, const char* object, const char* model) {
    if (!open(test::copyOfMod(*folder_, mod))) return false;
    session().select(model, object);
    window_->setStation(app::Station::objects);
    return test::settle(*window_);
  }
  const mod::ObjectDoc& object() { return session().state().objects.at(session().object()); }
  mod::ObjectDoc saved() {
    session().save();
    EXPECT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
    return std::as_const(mod::loadMod(session().folder())->objects).at(session().object());
  }
  void expectSaved() {
    const mod::ObjectDoc on_disk = saved();
    EXPECT_EQ(on_disk.card, object().card);
    EXPECT_EQ(on_disk.lists, object().lists);
    EXPECT_EQ(on_disk.pieces, object().pieces);
  }
  void type(const char* name, const char* text) {
    auto* line = test::find<QLineEdit>(*window_, name);
    ASSERT_NE(line, nullptr) << name;
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, QString::fromUtf8(text));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(test::settle(*window_));
  }
  void choose(const char* name, const char* title) {
    auto* box = test::find<QComboBox>(*window_, name);
    ASSERT_NE(box, nullptr) << name;
    const int at = box->findText(QString::fromUtf8(title));
    QStringList all;
    for (int i = 0; i < box->count(); ++i) all << box->itemText(i);
    ASSERT_GE(at, 0) << title << " among " << all.join(QStringLiteral(", ")).toStdString();
    box->setCurrentIndex(at);
    Q_EMIT box->activated(at);
    ASSERT_TRUE(test::settle(*window_));
  }
  void reveal(const char* name) {
    auto* widget = test::find<QWidget>(*window_, name);
    ASSERT_NE(widget, nullptr) << name;
    for (auto* area : window_->findChildren<QScrollArea*>())
      if (area->isAncestorOf(widget)) area->ensureWidgetVisible(widget, 0, 120);
  }
  bool has(const char* check) {
    for (const check::Finding& f : session().examination()->findings)
      if (f.check == check) return true;
    return false;
  }
  // Everything is undone and done again, and comes out the same.
  void thereAndBack() {
    const mod::ObjectDoc now = object();
    int edits = 0;
    for (; session().history().canUndo(); ++edits) session().undo();
    ASSERT_TRUE(test::settle(*window_));
    EXPECT_NE(object(), now);
    for (; edits > 0; --edits) session().redo();
    ASSERT_TRUE(test::settle(*window_));
    EXPECT_EQ(object(), now);
  }
};

TEST_F(ListsWindowTest, AThingIsPutIntoTheGamesListsAndARecipeIsWritten) {
  ASSERT_TRUE(openMod("tidewater", "lantern", "lantern"));
  ASSERT_TRUE(test::click(*window_, "enter-workbench"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(object().lists.size(), 1U);
  EXPECT_EQ(object().lists[0].values["makes"], 1) << "it begins with the usual values";
  ASSERT_TRUE(test::click(*window_, "list-0-field-needs-add"));
  ASSERT_TRUE(test::settle(*window_));
  choose("list-0-field-needs-0-good", "Brass");
  type("list-0-field-needs-0-amount", "4");
  choose("list-0-field-needs-1-good", "Lamp oil");
  EXPECT_EQ(object().lists[0].values["needs"],
            base::Json::parse(R"([{"good": "good/brass", "amount": 4}, {"good": "good/oil", "amount": 1}])"));
  type("list-0-field-hours", "2.5");
  ASSERT_TRUE(test::click(*window_, "enter-start-kit"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object().lists[1].list, "start-kit");
  EXPECT_FALSE(has("list.values"));
  reveal("enter-chandlery");
  test::look(*window_, "lists-recipe");
  expectSaved();
  // What is empty or beyond is found at the entry, and mended.
  type("list-1-field-amount", "40");
  EXPECT_TRUE(has("list.values"));
  session().undo();
  ASSERT_TRUE(test::click(*window_, "leave-1"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object().lists.size(), 1U);
  ASSERT_TRUE(test::click(*window_, "list-0-field-needs-1-remove"));
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return object().lists[0].values["needs"].size() == 1; }, test::kPatience_ms));
  thereAndBack();
}

TEST_F(ListsWindowTest, ACurveAndAReferenceAreFilledInOnTheCard) {
  ASSERT_TRUE(openMod("tidewater", "dinghy", "dinghy"));
  for (int i = 0; i < 3; ++i) {
    ASSERT_TRUE(test::click(*window_, "field-helm-add"));
    ASSERT_TRUE(test::settle(*window_));
  }
  type("field-helm-0-knots", "0");
  type("field-helm-0-rate", "4");
  type("field-helm-1-knots", "4");
  type("field-helm-1-rate", "22");
  type("field-helm-2-knots", "8");
  type("field-helm-2-rate", "12");
  EXPECT_EQ(object().card["helm"],
            base::Json::parse(R"([{"knots": 0.0, "rate": 4.0}, {"knots": 4.0, "rate": 22.0},
                                                          {"knots": 8.0, "rate": 12.0}])"));
  EXPECT_FALSE(has("field.limits"));
  reveal("field-helm");
  test::look(*window_, "lists-curve");
  type("field-helm-2-knots", "3");
  EXPECT_TRUE(has("field.limits")) << "it does not ascend";
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  expectSaved();
  thereAndBack();
}

TEST_F(ListsWindowTest, ASoundIsAddedHeardCutAndMended) {
  const QString folder = test::copyOfMod(*folder_, "tidewater");
  const formats::Sound tone = test::madeTone(83.3, 0.4, 1.7);
  // A recording from elsewhere, taken in as a source.
  mod::ModState state = *mod::loadMod(folder.toStdString());
  const base::Bytes wav = test::wavOf(tone);
  std::filesystem::create_directories(std::filesystem::path(folder.toStdString()) / "sources/engine");
  ASSERT_TRUE(
      base::writeFileAtomic(std::filesystem::path(folder.toStdString()) / "sources/engine/engine.wav", wav));
  mod::SourceDoc& source = state.sources["engine"];
  source.file = "engine.wav";
  source.files = {{"engine.wav", base::hex(base::sha256(wav))}};
  ASSERT_TRUE(mod::saveMod(folder.toStdString(), state, *mod::loadMod(folder.toStdString())));
  ASSERT_TRUE(open(folder));
  session().select("dinghy", "dinghy");
  window_->setStation(app::Station::objects);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "add-piece"));
  auto* menu = window_->findChild<QMenu*>(QStringLiteral("piece-menu"));
  ASSERT_NE(menu, nullptr);
  for (QAction* action : menu->actions())
    if (action->text() == QStringLiteral("Engine")) action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(has("piece.values")) << "it does not say what is heard";
  ASSERT_TRUE(test::click(*window_, "piece-field-sounds-add"));
  ASSERT_TRUE(test::settle(*window_));
  choose("piece-field-sounds-0-sound", "engine");
  EXPECT_EQ(object().pieces.back().values["sounds"], base::Json::parse(R"(["sources/engine"])"));
  EXPECT_FALSE(has("piece.values"));
  EXPECT_FALSE(has("file.unused"));
  auto* made = test::find<QLabel>(*window_, "sound-made");
  ASSERT_NE(made, nullptr);
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return made->text().contains(QStringLiteral("LUFS")); }, test::kPatience_ms));
  EXPECT_TRUE(made->text().contains(QStringLiteral("without a click"))) << made->text().toStdString();
  reveal("sound-made");
  test::look(*window_, "lists-sound");
  // Without a crossfade it clicks; cut where it joins best, it does not.
  type("piece-field-blend_s", "0");
  EXPECT_TRUE(has("sound.clicks"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return made->text().contains(QStringLiteral("hears a click")); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "find-loop"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return object().pieces.back().values["to_s"].get<double>() > 0; },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(has("sound.clicks"));
  expectSaved();
  if (app::Bench::platformHasOpenGl()) test::look(*window_, "lists-sound-bench");
  thereAndBack();
}

TEST_F(ListsWindowTest, SetUpIsTakenFromAnotherObjectOfThisModAndOfAnother) {
  const QString folder = test::copyOfMod(*folder_, "tidewater");
  // A second boat without anything, of the same model.
  mod::ModState state = *mod::loadMod(folder.toStdString());
  state.objects["punt"].kind = "craft";
  state.objects["punt"].pieces.push_back({"dinghy", "dinghy", {0, 0, 0}, {0, 0, 0, 1}});
  mod::ObjectDoc& dinghy = state.objects["dinghy"];
  dinghy.lists.push_back({"broker", base::Json{{"berth", "slipway"}}});
  ASSERT_TRUE(mod::saveMod(folder.toStdString(), state, *mod::loadMod(folder.toStdString())));
  ASSERT_TRUE(open(folder));
  session().select("dinghy", "punt");
  window_->setStation(app::Station::objects);
  ASSERT_TRUE(test::settle(*window_));
  reveal("donor");
  choose("donor", "Tide dinghy");
  auto* price = test::find<QCheckBox>(*window_, "donor-field-price");
  ASSERT_NE(price, nullptr);
  EXPECT_TRUE(price->isChecked()) << "it is missing here";
  ASSERT_NE(test::find<QCheckBox>(*window_, "donor-list-broker"), nullptr);
  reveal("donor-take");
  test::look(*window_, "donor");
  ASSERT_TRUE(test::click(*window_, "donor-field-year"));
  ASSERT_TRUE(test::click(*window_, "donor-take"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object().card["price"], 3800);
  EXPECT_FALSE(object().card.contains("year")) << "it was not marked any more";
  ASSERT_EQ(object().lists.size(), 1U);
  EXPECT_EQ(test::find<QCheckBox>(*window_, "donor-field-price"), nullptr) << "it is the same now";
  EXPECT_NE(test::find<QCheckBox>(*window_, "donor-field-year"), nullptr);
  expectSaved();
  // Of another mod: its model is read for the proportions of its body.
  auto* panel = window_->findChild<app::DonorPanel*>();
  ASSERT_NE(panel, nullptr);
  panel->openOther(test::copyOfMod(*folder_, "slipway").toStdString());
  auto* donors = test::find<QComboBox>(*window_, "donor");
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        for (int i = 0; i < donors->count(); ++i)
          if (donors->itemData(i).toString() == QStringLiteral("other/tug")) return true;
        return false;
      },
      test::kPatience_ms));
  donors->setCurrentIndex(donors->findData(QStringLiteral("other/tug")));
  Q_EMIT donors->activated(donors->currentIndex());
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QCheckBox>(*window_, "donor-field-year") != nullptr; },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  if (!test::find<QCheckBox>(*window_, "donor-field-year")->isChecked())
    ASSERT_TRUE(test::click(*window_, "donor-field-year"));
  ASSERT_TRUE(test::click(*window_, "donor-take"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(object().card.contains("year"));
  expectSaved();
  panel->openOther(std::filesystem::path(folder.toStdString()) / "nothing here");
  ASSERT_TRUE(test::settle(*window_));
  thereAndBack();
}

// The game's own stall, as it ships in a bundle, gives its set-up to a fitting of the mod.
TEST_F(ListsWindowTest, SetUpIsTakenFromTheGamesOwn) {
  ASSERT_TRUE(openMod("lamplight", "quay-lamp", "quay-lamp"));
  auto* panel = window_->findChild<app::DonorPanel*>();
  ASSERT_NE(panel, nullptr);
  reveal("donor-own");
  ASSERT_TRUE(test::click(*window_, "donor-own"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !panel->offers().empty(); }, test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));  // the rows have been laid out
  EXPECT_THAT(test::find<QComboBox>(*window_, "donor")->currentText().toStdString(),
              testing::HasSubstr(" of "));
  test::look(*window_, "objects-donor-own");
  const auto price = std::find_if(panel->offers().begin(), panel->offers().end(),
                                  [](const prepare::DonorOffer& one) { return one.id == "price"; });
  ASSERT_NE(price, panel->offers().end());
  reveal("donor-field-price");
  ASSERT_TRUE(test::click(*window_, "donor-field-price"));
  ASSERT_TRUE(test::click(*window_, "donor-take"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(object().card["price"], 240);
  expectSaved();
  panel->openBundle(session().folder() / "no.rkb");
  ASSERT_TRUE(test::settle(*window_));
  thereAndBack();
}

TEST_F(ListsWindowTest, IconsThatAreOldAreToldAndTakenAgainAllAtOnce) {
  if (!app::Bench::platformHasOpenGl()) GTEST_SKIP() << "pictures need OpenGL";
  ASSERT_TRUE(openMod("tidewater", "lantern", "lantern"));
  session().edit(QStringLiteral("no icons"), [](mod::ModState& state) {
    for (const char* name : {"lantern", "dinghy"}) state.objects[name].icon.clear();
  });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(has("icon.missing"));
  reveal("take-icons");
  ASSERT_TRUE(test::click(*window_, "take-icons"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !session().state().objects.at("dinghy").icon.empty(); },
                              test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(has("icon.missing"));
  EXPECT_FALSE(has("icon.size"));
  EXPECT_FALSE(has("icon.old"));
  test::look(*window_, "icons");
  const auto first = session().state().icons;
  // As the rulebook has it: gear stands clear, with a margin; craft has the game's ground.
  const auto picture = [&](const char* path) {
    const base::Bytes& bytes = *session().state().icons.at(path);
    return QImage::fromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
  };
  const QImage lantern = picture("icons/lantern.png"), dinghy = picture("icons/dinghy.png");
  int low = lantern.height(), high = 0;
  for (int y = 0; y < lantern.height(); ++y)
    for (int x = 0; x < lantern.width(); ++x)
      if (qAlpha(lantern.pixel(x, y)) > 40) low = std::min(low, y), high = std::max(high, y);
  EXPECT_GE(low, 4) << "6 % of 96";
  EXPECT_LE(high, 91);
  EXPECT_GT(high - low, 48) << "it fills the rest";
  EXPECT_EQ(qAlpha(dinghy.pixel(0, 0)), 255);
  // From one colour above to another below.
  const rulebook::Kind& craft = *session().book().findKind("craft");
  ASSERT_TRUE(craft.icon_ground_below);
  const auto of = [](const std::array<float, 3>& c) { return QColor::fromRgbF(c[0], c[1], c[2]); };
  const auto near = [](const QColor& a, const QColor& b) {
    return std::abs(a.red() - b.red()) < 4 && std::abs(a.green() - b.green()) < 4 &&
           std::abs(a.blue() - b.blue()) < 4;
  };
  EXPECT_TRUE(near(dinghy.pixel(1, 0), of(craft.icon_ground)));
  EXPECT_TRUE(near(dinghy.pixel(1, dinghy.height() - 1), of(*craft.icon_ground_below)));
  // By night what glows does, and the rest is dark.
  app::IconLook look = app::iconLookOf(*session().book().findKind("gear"));
  const QImage day = window_->bench().takeIconOf(*session().scene(), look);
  look.by_night = true;
  EXPECT_NE(window_->bench().takeIconOf(*session().scene(), look), day);
  // From the game's angle whatever the bench's is.
  window_->bench().lookFrom(QStringLiteral("up"));
  ASSERT_TRUE(test::click(*window_, "take-icon"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(picture("icons/lantern.png"), lantern);
  ASSERT_TRUE(test::click(*window_, "take-icon-usual"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(picture("icons/lantern.png"), lantern);
  // Turned upside down, the lantern looks otherwise.
  session().edit(QStringLiteral("turn"), [](mod::ModState& state) {
    prepare::setOrAddStep(state.models["lantern"], "turn", base::Json{{"forward", "+Z"}, {"up", "-Y"}});
  });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(has("icon.old"));
  ASSERT_TRUE(test::click(*window_, "take-icons"));
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return *session().state().icons.at("icons/lantern.png") != *first.at("icons/lantern.png"); },
      test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(has("icon.old"));
  EXPECT_EQ(*session().state().icons.at("icons/dinghy.png"), *first.at("icons/dinghy.png"))
      << "that one was good";
  expectSaved();
}

// What an id stands for is written beside the card, in each language, and follows when the id is typed anew.
TEST_F(ListsWindowTest, TextsAreWrittenInEachLanguageWhereTheCardNamesThem) {
  ASSERT_TRUE(openMod("tidewater", "dinghy", "dinghy"));
  reveal("field-engine_text");
  type("field-engine_text", "text/dinghy/engine");
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return std::any_of(session().examination()->findings.begin(), session().examination()->findings.end(),
                           [](const check::Finding& f) { return f.check == "text.missing"; });
      },
      test::kPatience_ms));
  const auto write = [&](const char* text) {
    auto* box = test::find<QPlainTextEdit>(*window_, "text-field-text/dinghy/engine");
    ASSERT_NE(box, nullptr);
    reveal("text-field-text/dinghy/engine");
    box->setFocus();
    box->selectAll();
    QTest::keyClicks(box, QString::fromUtf8(text));
    ASSERT_TRUE(test::settle(*window_));
  };
  write("It has oars.");
  choose("text-language", "Deutsch");
  EXPECT_EQ(test::find<QPlainTextEdit>(*window_, "text-field-text/dinghy/engine")->toPlainText(), QString());
  write("Es hat Ruder.");
  test::look(*window_, "objects-texts");
  saved();
  const mod::ModState on_disk = std::move(mod::loadMod(session().folder())).value();
  EXPECT_EQ(on_disk.texts.at("en").texts.at("text/dinghy/engine"), "It has oars.");
  EXPECT_EQ(on_disk.texts.at("de").texts.at("text/dinghy/engine"), "Es hat Ruder.");
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_FALSE(f.check.starts_with("text.")) << f.sentence;
  // One undo takes what was typed in one language.
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().state().texts.count("de"), 0U);
  while (session().history().canUndo()) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(session().state().texts.empty());
}

}  // namespace rakugo
