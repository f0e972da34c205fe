#include "prepare/objects/hanging.h"

#include <gmock/gmock.h>

#include <glm/gtc/quaternion.hpp>

namespace rakugo::prepare {
namespace {

rulebook::Rulebook book() {
  rulebook::Rulebook out;
  rulebook::Kind hand, tool;
  hand.id = "figure", hand.title = "Figure", hand.ghost = "figure.glb", hand.ghost_title = "the figure";
  tool.id = "tool", tool.title = "Tool", tool.ghost = "tool.glb", tool.ghost_title = "the tool";
  rulebook::Point grip, palm, hook;
  grip.id = "grip", grip.title = "Grip";
  palm.id = "palm", palm.title = "Palm";
  palm.hangs = {{"tool", "grip"}};
  hook.id = "hook", hook.title = "Hook";
  hook.hangs = {{"tool", ""}, {"nothing", "x"}};
  hand.points = {palm, hook};
  tool.points = {grip};
  out.kinds = {hand, tool};
  return out;
}

mod::ModState mod() {
  mod::ModState out;
  out.objects["axe"].kind = "tool";
  out.objects["axe"].title = "Axe";
  out.objects["mate"].kind = "figure";
  return out;
}

TEST(Hanging, BothSidesOfOneRuleAreOffered) {
  const rulebook::Rulebook b = book();
  const mod::ModState m = mod();
  EXPECT_THAT(hangChoices(b, m, b.kinds[0], "palm", "mate"),
              testing::ElementsAre(HangChoice{"tool", "", "grip"}, HangChoice{"tool", "axe", "grip"}));
  EXPECT_THAT(hangChoices(b, m, b.kinds[1], "grip", "axe"),
              testing::ElementsAre(HangChoice{"figure", "", "palm"}, HangChoice{"figure", "mate", "palm"}));
  EXPECT_THAT(hangChoices(b, m, b.kinds[0], "hook", "mate"), testing::SizeIs(2)) << "by its origin";
  EXPECT_THAT(hangChoices(b, m, b.kinds[0], "none", "mate"), testing::IsEmpty());
  EXPECT_EQ(hangTitle(b, m, {"tool", "axe", "grip"}), "Axe, grip");
  EXPECT_EQ(hangTitle(b, m, {"figure", "", "palm"}), "the figure, palm");
  EXPECT_EQ(hangTitle(b, m, {"tool", "axe", ""}), "Axe");
}

TEST(Hanging, TheirPlaceComesToLieOnOurs) {
  const scene::NamedPlace ours{"palm", {1, 2, 3}, glm::angleAxis(glm::radians(90.0F), glm::vec3(0, 0, 1))};
  const scene::NamedPlace theirs{
      "grip", {0.5F, 0, 0}, glm::angleAxis(glm::radians(30.0F), glm::vec3(0, 1, 0))};
  const glm::mat4 m = hangMatrix(ours, theirs);
  const glm::vec3 at(m * glm::vec4(theirs.position, 1));
  EXPECT_NEAR(glm::distance(at, ours.position), 0, 1e-6F);
  const glm::vec3 way = glm::mat3(m) * (theirs.turn * glm::vec3(1, 0, 0));
  EXPECT_NEAR(glm::distance(way, glm::vec3(0, 1, 0)), 0, 1e-6F) << "it faces as ours does";
  const glm::vec3 corner(5, -3, 1);
  EXPECT_NEAR(glm::distance(glm::vec3(hangMatrix(ours, ours) * glm::vec4(corner, 1)), corner), 0, 1e-5F);
}

TEST(Hanging, APlaceIsMeantByItsNameHoweverItIsWritten) {
  const std::vector<scene::NamedPlace> places = {{"Grip Right", {1, 0, 0}}, {"eyes", {2, 0, 0}}};
  EXPECT_EQ(hangPlace(places, "grip-right").position.x, 1);
  EXPECT_EQ(hangPlace(places, "hat").position, glm::vec3(0));
  EXPECT_EQ(hangPlace(places, "").position, glm::vec3(0));
}

}  // namespace
}  // namespace rakugo::prepare
