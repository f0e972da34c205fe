// A step that one file adds is offered, shown and edited in the window like those that come with Rakugo.
#include <QAction>
#include <QMenu>

#include "proof/spin_step.h"
#include "window_fixture.h"

namespace rakugo {
namespace {

class ProofWindowTest : public test::WindowFixture {
 protected:
  static void SetUpTestSuite() { prepare::addStepKind(proof::spinStep()); }
};

TEST_F(ProofWindowTest, AnAddedStepIsOfferedShownAndEditedInItsSentence) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  session().selectModel("quay-lamp");
  ASSERT_TRUE(test::click(*window_, "add-step"));
  auto* menu = window_->findChild<QMenu*>(QStringLiteral("step-menu"));
  ASSERT_TRUE(menu != nullptr);
  QAction* offered = nullptr;
  for (QAction* group : menu->actions())
    for (QAction* action : group->menu()->actions())
      if (action->text() == QStringLiteral("Spin a part")) offered = action;
  ASSERT_TRUE(offered != nullptr);
  offered->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  const auto& steps = session().state().models.at("quay-lamp").steps;
  const auto added =
      std::find_if(steps.begin(), steps.end(), [](const auto& s) { return s.kind == "spin_part"; });
  ASSERT_TRUE(added != steps.end());
  const std::string name = "sentence-" + added->id;
  auto* sentence = test::find<QLabel>(*window_, name.c_str());
  ASSERT_TRUE(sentence != nullptr);
  EXPECT_TRUE(sentence->text().contains(QStringLiteral("quarters about its own")))
      << qPrintable(sentence->text());
  // Its number is typed in place; one beyond the range is told and not taken.
  for (const auto& [typed, expected] : {std::pair("2", 2.0), {"9", 2.0}}) {
    Q_EMIT test::find<QLabel>(*window_, name.c_str())->linkActivated(QStringLiteral("quarters"));
    auto* line = test::find<QLineEdit>(*window_, "value");
    ASSERT_TRUE(line != nullptr);
    line->setText(QString::fromLatin1(typed));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(test::settle(*window_));
    for (const auto& step : session().state().models.at("quay-lamp").steps)
      if (step.kind == "spin_part") EXPECT_EQ(step.values["quarters"], expected) << typed;
  }
  EXPECT_TRUE(told().contains(QStringLiteral("-3 to 3"))) << qPrintable(told());
}

}  // namespace
}  // namespace rakugo
