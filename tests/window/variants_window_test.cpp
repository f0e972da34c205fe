// The Objects station: a carried version made from the object, and variants that follow it, by mouse and
// keys, saved and opened again.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>

#include "app/stations/objects/pieces_panel.h"
#include "app/widgets/row_list.h"
#include "mod/following.h"
#include "window_fixture.h"

namespace rakugo {

class VariantsWindowTest : public test::WindowFixture {
 protected:
  bool openLamp() {
    if (!open(test::copyOfMod(*folder_, "lamplight"))) return false;
    session().select("quay-lamp", "quay-lamp");
    window_->setStation(app::Station::objects);
    return test::settle(*window_);
  }
  const mod::ObjectDoc& object(const std::string& name) { return session().state().objects.at(name); }
  // Chooses an entry of a menu that a click opens.
  bool chooseFrom(const char* button, const char* menu, const char* word) {
    if (!test::click(*window_, button)) return false;
    QMenu* open = nullptr;
    if (!QTest::qWaitFor(
            [&] {
              return (open = window_->findChild<QMenu*>(QLatin1String(menu))) != nullptr && open->isVisible();
            },
            test::kPatience_ms))
      return false;
    for (QAction* action : open->actions())
      if (action->text().contains(QLatin1String(word))) {
        QTest::mouseClick(open, Qt::LeftButton, {}, open->actionGeometry(action).center());
        return test::settle(*window_);
      }
    open->close();
    return false;
  }
  mod::ModState saved() {
    session().save();
    EXPECT_TRUE(QTest::qWaitFor([&] { return !session().history().dirty(); }, test::kPatience_ms));
    return std::move(mod::loadMod(session().folder())).value();
  }
};

TEST_F(VariantsWindowTest, ACarriedVersionIsMadeInOneClickSeenByItselfAndTakenBack) {
  ASSERT_TRUE(openLamp());
  const mod::ModState before = session().state();
  ASSERT_TRUE(chooseFrom("add-piece", "piece-menu", "Carried version, made from quay-lamp"));
  EXPECT_EQ(session().model(), "quay-lamp-carried") << "what is shown by itself is seen by itself";
  ASSERT_TRUE(session().scene());
  EXPECT_LT(session().scene()->bounds_m.size().z, 0.71F);
  EXPECT_EQ(session().scene()->pieces.size(), 1U);
  test::look(*window_, "objects-carried");
  const mod::ModState on_disk = saved();
  EXPECT_EQ(on_disk.objects.at("quay-lamp").pieces.back().as, "carried");
  EXPECT_EQ(on_disk.models.at("quay-lamp-carried").steps.front().kind, "as_model");
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_EQ(f.severity, check::Severity::tidy) << f.sentence;
  // The lamp itself is seen without it.
  const std::string first = object("quay-lamp").pieces.front().name;
  ASSERT_TRUE(test::click(*window_, ("piece-" + first).c_str()));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().model(), "quay-lamp");
  EXPECT_GT(session().scene()->bounds_m.size().z, 1.0F);
  EXPECT_EQ(session().scene()->pieces.size(), 1U);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(mod::documentTexts(session().state()), mod::documentTexts(before));
}

TEST_F(VariantsWindowTest, AVariantIsAddedFollowsAndSaysWhatIsItsOwn) {
  ASSERT_TRUE(openLamp());
  auto* title = test::find<QLineEdit>(*window_, "variant-title");
  ASSERT_NE(title, nullptr);
  title->setFocus();
  QTest::keyClicks(title, QStringLiteral("Garden lamp"));
  test::find<QDoubleSpinBox>(*window_, "variant-size")->setValue(50);
  ASSERT_TRUE(test::click(*window_, "add-variant"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().state().objects.contains("garden-lamp"));
  EXPECT_EQ(object("garden-lamp").follows.scale, 0.5);
  test::look(*window_, "objects-variants");
  // What changes here changes there.
  session().edit(QStringLiteral("price"),
                 [](mod::ModState& state) { state.objects["quay-lamp"].card["price"] = 61; });
  EXPECT_EQ(object("garden-lamp").card["price"], 61);
  ASSERT_TRUE(test::click(*window_, "variant-garden-lamp"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().object(), "garden-lamp");
  EXPECT_TRUE(test::find<QLabel>(*window_, "variant-of")->text().contains(QStringLiteral("quay-lamp")));
  session().edit(QStringLiteral("price"),
                 [](mod::ModState& state) { state.objects["garden-lamp"].card["price"] = 40; });
  ASSERT_TRUE(test::settle(*window_));
  auto* own = test::find<app::RowList>(*window_, "own-list");
  ASSERT_NE(own, nullptr);
  EXPECT_EQ(own->rows().rowCount(), 2) << "title and price";
  test::look(*window_, "objects-variant");
  // A model of its own follows the points; another colour is the variant's alone.
  ASSERT_TRUE(chooseFrom("own-model", "own-model-menu", "quay-lamp"));
  EXPECT_EQ(session().model(), "garden-lamp");
  const mod::ModState on_disk = saved();
  EXPECT_EQ(on_disk.models.at("garden-lamp").follows.name, "quay-lamp");
  EXPECT_EQ(on_disk.objects.at("garden-lamp").follows.own, object("garden-lamp").follows.own);
  // As the design has it, by its sign.
  ASSERT_TRUE(test::click(*window_, "like-/card/price"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object("garden-lamp").card["price"], 61);
  ASSERT_TRUE(test::click(*window_, "stand-alone"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object("garden-lamp").follows.name, "");
}

TEST_F(VariantsWindowTest, AThingOfTheGameIsTakenNamedAnewAndStandsInItsPlace) {
  ASSERT_TRUE(openLamp());
  auto* begin = window_->findChild<QAction*>(QStringLiteral("begin-from"));
  ASSERT_NE(begin, nullptr);
  whenDialogOpens("taking-dialog", [&](QWidget& dialog) {
    auto* list = test::find<QListWidget>(dialog, "things");
    ASSERT_NE(list, nullptr);
    ASSERT_TRUE(QTest::qWaitFor([&] { return list->count() > 0; }, test::kPatience_ms));
    EXPECT_TRUE(list->item(0)->text().startsWith(QStringLiteral("Market stall")));
    EXPECT_FALSE(list->item(0)->icon().isNull());
    auto* title = test::find<QLineEdit>(dialog, "taken-title");
    title->setFocus();
    title->selectAll();
    QTest::keyClicks(title, QStringLiteral("Herring stand"));
    if (const QString shots = qEnvironmentVariable("RAKUGO_LOOK"); !shots.isEmpty())
      dialog.grab().save(shots + QStringLiteral("/taking-dialog.png"));
    press(dialog, "take");
  });
  begin->trigger();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().state().objects.contains("herring-stand")) << told().toStdString();
  EXPECT_EQ(session().object(), "herring-stand");
  EXPECT_EQ(object("herring-stand").title, "Herring stand");
  ASSERT_TRUE(session().scene());
  EXPECT_GT(session().scene()->bounds_m.size().z, 2.0F);
  test::look(*window_, "objects-taken");
  for (const check::Finding& f : session().examination()->findings)
    if (f.place.object == "herring-stand") EXPECT_EQ(f.severity, check::Severity::tidy) << f.sentence;
  // The recipe came along, a carried version is made of it.
  ASSERT_EQ(object("herring-stand").lists.size(), 1U);
  EXPECT_EQ(object("herring-stand").lists[0].list, "workbench");
  ASSERT_TRUE(chooseFrom("add-piece", "piece-menu", "Carried version, made from herring-stand"));
  ASSERT_TRUE(session().state().models.contains("herring-stand-carried"));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  auto* places = test::find<QComboBox>(*window_, "object-replaces");
  ASSERT_NE(places, nullptr);
  places->setFocus();
  QTest::keyClick(places, Qt::Key_Down);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(object("herring-stand").replaces, "harbour/market-stall");
  const mod::ModState on_disk = saved();
  EXPECT_EQ(on_disk.objects.at("herring-stand").replaces, "harbour/market-stall");
  EXPECT_TRUE(on_disk.sources.contains("herring-stand"));
  session().undo();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(session().state().objects.contains("herring-stand"));
}

}  // namespace rakugo
