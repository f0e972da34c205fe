// What the game does with materials by their role, held against its rulebook.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "standin/harbour_lists.h"
#include "standin/harbour_rules.h"
#include "standin/hearing.h"
#include "standin/role_effects.h"
#include "support/examined.h"

namespace rakugo {
namespace {

using standin::RoleEffect;

TEST(RoleEffects, AreThoseOfTheRulebookWithItsTonesAndConditions) {
  const auto book = test::kelpwick();
  size_t expected = 0;
  for (const rulebook::Kind& kind : book->kinds)
    for (const rulebook::Role& role : kind.roles) {
      SCOPED_TRACE(kind.id + " " + role.id);
      // A card on which it acts, and one on which it does not.
      base::Json card = base::Json::object();
      if (!role.when.field.empty()) card[role.when.field] = role.when.is;
      const RoleEffect* effect = standin::effectOf(kind.id, role.id, card);
      if (role.effect.empty()) {
        EXPECT_EQ(effect, nullptr);
        continue;
      }
      ++expected;
      ASSERT_NE(effect, nullptr) << "the bench shows it, and the game does nothing";
      EXPECT_EQ(effect->act == RoleEffect::Act::glow, role.effect == "glow");
      for (int c = 0; c < 3 && role.effect == "tint"; ++c)
        EXPECT_FLOAT_EQ(effect->tone[c], role.swatch[static_cast<size_t>(c)]);
      if (!role.when.field.empty()) {
        EXPECT_EQ(standin::effectOf(kind.id, role.id, base::Json::object()), nullptr);
        EXPECT_EQ(standin::effectOf(kind.id, role.id, base::Json{{role.when.field, "otherwise"}}), nullptr);
      }
    }
  EXPECT_EQ(standin::roleEffects().size(), expected) << "the game does what no rulebook says";
}

// Every switch alone, on every role and on none.
TEST(HarbourSwitches, DoWhatTheRulebookSays) {
  const auto book = test::kelpwick();
  std::set<std::string> names;
  for (const rulebook::LookSwitch& one : book->switches) {
    names.insert(one.id);
    for (const rulebook::Kind& kind : book->kinds) {
      std::vector<rulebook::Role> roles = kind.roles;
      roles.emplace_back();  // a material without a role
      for (const rulebook::Role& role : roles) {
        SCOPED_TRACE(one.id + " " + kind.id + " " + role.id);
        const rulebook::LookChange expected = one.changeOf(role.id);
        const glm::vec3 swatch(role.swatch[0], role.swatch[1], role.swatch[2]);
        const glm::vec3 emitted = render::linear(swatch) * static_cast<float>(expected.glow);
        const render::LookEffect is = standin::lookOf({one.id}, role.id);
        EXPECT_FLOAT_EQ(is.roughness, static_cast<float>(expected.roughness));
        for (int c = 0; c < 3; ++c) {
          EXPECT_FLOAT_EQ(is.color[c], expected.color[static_cast<size_t>(c)]);
          EXPECT_NEAR(is.emitted[c], emitted[c], 1e-5F);
        }
      }
    }
  }
  for (const standin::HarbourSwitch& one : standin::harbourSwitches())
    EXPECT_EQ(names.count(one.name), 1U) << "the game does what no rulebook says";
  EXPECT_EQ(standin::lookOf({}, "tar"), render::LookEffect());
}

// Lamps, emitters and the moments in which they act.
TEST(HarbourLamps, AreThoseOfTheRulebook) {
  const auto book = test::kelpwick();
  for (const rulebook::Kind& kind : book->kinds) {
    SCOPED_TRACE(kind.id);
    std::vector<std::string> lamps, emitters, shapes, sounds, motions;
    for (const rulebook::PieceRule& rule : kind.pieces) {
      if (rule.sort == rulebook::PieceSort::shape) {
        shapes.push_back(kind.pieceWord(rule.id));
        continue;
      }
      const bool lamp = rule.sort == rulebook::PieceSort::lamp,
                 sound = rule.sort == rulebook::PieceSort::sound,
                 moving = rule.sort == rulebook::PieceSort::moving;
      (lamp ? lamps : sound ? sounds : moving ? motions : emitters).push_back(kind.pieceWord(rule.id));
      const rulebook::Field* when = rule.findField(lamp ? "lit" : sound ? "plays" : "runs");
      ASSERT_NE(when, nullptr);
      EXPECT_THAT(standin::harbourMoments(), testing::IsSupersetOf(when->choices));
    }
    EXPECT_EQ(lamps, standin::harbourLamps(kind.id));
    EXPECT_EQ(emitters, standin::harbourEmitters(kind.id));
    EXPECT_EQ(shapes, standin::harbourShapes(kind.id));
    EXPECT_EQ(sounds, standin::harbourSounds(kind.id));
    EXPECT_EQ(motions, standin::harbourMotions(kind.id));
  }
}

TEST(HarbourLists, AreThoseOfTheRulebookAndTakeTheSameKinds) {
  const auto book = test::kelpwick();
  ASSERT_EQ(book->lists.size(), standin::harbourLists().size());
  for (const rulebook::GameList& list : book->lists) {
    const standin::HarbourList* known = standin::findHarbourList(list.word.empty() ? list.id : list.word);
    ASSERT_NE(known, nullptr) << list.id;
    EXPECT_EQ(std::vector<std::string>(known->kinds.begin(), known->kinds.end()), list.of);
  }
  // What the rulebook says the game shares and sorts as a sound can be heard.
  for (const rulebook::SharedAsset& asset : book->shared_assets)
    if (asset.sort == "sound") {
      EXPECT_NE(standin::harbourSound(asset.id), nullptr) << asset.id;
    }
}

}  // namespace
}  // namespace rakugo
