// Walking, sailing, wearing and carrying, on things made here.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "base/files.h"
#include "render/camera.h"
#include "standin/commands.h"
#include "standin/harbour_lists.h"
#include "standin/harbour_shapes.h"
#include "support/made_bundle.h"
#include "support/test_folder.h"

namespace rakugo::standin {
namespace {

namespace fs = std::filesystem;
using testing::Contains;

class PlayTest : public testing::Test {
 protected:
  void SetUp() override {
    write(test::harbourThings());
    game_.scan();
    log_.clear();
  }

  void write(const std::vector<bundle::ObjectRecord>& things) {
    ASSERT_TRUE(base::writeFileAtomic(folder_ / "m.rkb", test::madeBundle(things)));
  }
  std::vector<std::string> events() {
    std::vector<std::string> out;
    for (const LogLine& line : log_) out.push_back(line.event);
    return out;
  }
  const Shown* shown(const std::string& object) {
    seen_ = play_.shown();
    for (const Shown& one : seen_)
      if (one.object == object) return &one;
    return nullptr;
  }
  size_t count(const std::string& object) {
    size_t n = 0;
    for (const Shown& one : play_.shown()) n += one.object == object ? 1 : 0;
    return n;
  }
  test::TestFolder own_;
  const fs::path folder_ = own_.path();
  std::vector<LogLine> log_;
  std::vector<Shown> seen_;
  Game::Say say_ = [this](const LogLine& line) { log_.push_back(line); };
  Game game_{folder_, say_};
  Play play_{game_, say_};
};

TEST(Ground, IsTheQuayAndTheJettyButNotTheShedNorTheWater) {
  EXPECT_EQ(groundAt({0, 0}), 0.0F);
  EXPECT_LT(groundAt({6, -14}).value(), 0.0F);
  EXPECT_FALSE(groundAt({-6, 0}));
  EXPECT_FALSE(groundAt({6, 0}));
  EXPECT_TRUE(afloatAt({8, 0}, {1, 2}));
  EXPECT_FALSE(afloatAt({3.5F, 0}, {1, 2})) << "half on the quay";
  EXPECT_FALSE(afloatAt({8, -14}, {1, 1})) << "on the jetty";
  EXPECT_FALSE(afloatAt({500, 0}, {1, 1})) << "out of the harbour";
}

TEST_F(PlayTest, AKeeperWalksAtAWalkersPaceAndStopsAtTheEdge) {
  ASSERT_TRUE(play_.use("m/mate"));
  EXPECT_EQ(play_.doing(), Play::Doing::walking);
  EXPECT_FALSE(play_.ownKeeper()) << "one's own figure is another's now";
  EXPECT_EQ(count("m/mate"), 1u) << "the one that stood on the quay is the one that walks";
  const glm::vec3 from = play_.figureAt();
  play_.move(1, 0);
  play_.pass(1);
  EXPECT_NEAR(glm::distance(from, play_.figureAt()), 1.4F, 0.01F);
  play_.pass(60);
  EXPECT_TRUE(groundAt(glm::vec2(play_.figureAt())));
}

TEST_F(PlayTest, ACoatCoversItsRegionsAndGearLiesInTheGrip) {
  ASSERT_TRUE(play_.use("m/mate") && play_.use("m/coat") && play_.use("m/lantern"));
  ASSERT_NE(shown("m/mate"), nullptr);
  EXPECT_THAT(shown("m/mate")->covered, Contains("trunk"));
  ASSERT_NE(shown("m/lantern"), nullptr);
  const glm::mat4 figure = shown("m/mate")->matrix, lantern = shown("m/lantern")->matrix;
  const glm::vec3 grip(lantern * glm::vec4(0, 0, 0.25F, 1)), hand(figure * glm::vec4(0.1F, -0.3F, 0.8F, 1));
  EXPECT_LT(glm::distance(grip, hand), 1e-4F);
  // Taken off in the order last on, first off.
  EXPECT_TRUE(play_.leave());
  EXPECT_TRUE(play_.gear().empty());
  EXPECT_TRUE(play_.leave());
  EXPECT_TRUE(play_.coat().empty());
  EXPECT_TRUE(shown("m/mate")->covered.empty());
  EXPECT_TRUE(play_.leave());
  EXPECT_TRUE(play_.ownKeeper());
  EXPECT_TRUE(play_.leave());
  EXPECT_FALSE(play_.leave()) << "nothing is left to leave";
}

TEST_F(PlayTest, TheHarboursOwnKeeperWearsAndCarriesToo) {
  ASSERT_TRUE(play_.use("m/coat") && play_.use("m/lantern"));
  EXPECT_TRUE(play_.ownKeeper());
  EXPECT_EQ(count("m/coat"), 1u);
  EXPECT_EQ(count("m/lantern"), 1u);
}

TEST_F(PlayTest, ABoatIsSailedFromItsHelmAndDoesNotClimbAshore) {
  ASSERT_TRUE(play_.use("m/boat"));
  EXPECT_EQ(play_.doing(), Play::Doing::sailing);
  const auto sight = play_.sight();
  ASSERT_TRUE(sight);
  EXPECT_TRUE(sight->own_eyes);
  const glm::mat4 boat = shown("m/boat")->matrix;
  EXPECT_LT(glm::distance(sight->eye, glm::vec3(boat * glm::vec4(-1, 0, 1.5F, 1))), 1e-4F);
  play_.move(1, 0);
  play_.pass(12);
  EXPECT_NEAR(play_.speed_mps(), 6 * 0.514444F, 0.05F) << "as many knots as its card says";
  play_.move(1, 1);
  for (int second = 0; second < 240; ++second) {
    play_.pass(1);
    ASSERT_TRUE(afloatAt(glm::vec2(play_.boatAt()), {0.7F, 0.7F})) << second;
  }
  // Ashore again, the boat lies where it was left.
  const glm::vec3 left = play_.boatAt();
  EXPECT_TRUE(play_.leave());
  ASSERT_NE(shown("m/boat"), nullptr);
  EXPECT_LT(glm::distance(glm::vec3(shown("m/boat")->matrix[3]), left), 1e-4F);
}

TEST_F(PlayTest, LookingThroughOnesEyesBeginsAWalk) {
  EXPECT_FALSE(play_.sight());
  play_.lookThroughEyes(true);
  ASSERT_TRUE(play_.sight());
  EXPECT_TRUE(play_.sight()->own_eyes);
  EXPECT_FALSE(play_.ownKeeper()) << "nobody sees their own face";
}

TEST_F(PlayTest, ABoatWithoutAHelmSaysWhichPointIsMissing) {
  ASSERT_TRUE(play_.use("m/wreck"));
  ASSERT_FALSE(log_.empty());
  EXPECT_EQ(log_[0].event, "no_helm");
  EXPECT_EQ(log_[0].mod, "m");
  EXPECT_EQ(log_[0].object, "wreck");
  EXPECT_EQ(log_[0].field, "helm");
}

TEST_F(PlayTest, SeveralOfAThingAreSetDownAndStayThroughAReload) {
  const size_t before = count("m/block");
  ASSERT_TRUE(play_.use("m/block") && play_.use("m/block"));
  EXPECT_EQ(count("m/block"), before + 2);
  write({test::thing("block", "pier-block")});
  EXPECT_TRUE(game_.scan());
  play_.refresh();
  EXPECT_EQ(count("m/block"), before + 2);
  EXPECT_EQ(play_.shown().size(), before + 2) << "what is gone is not seen";
}

TEST_F(PlayTest, WhatVanishesFromTheModIsLetGoOf) {
  ASSERT_TRUE(play_.use("m/mate") && play_.use("m/coat") && play_.use("m/lantern") && play_.use("m/boat"));
  fs::remove(folder_ / "m.rkb");
  EXPECT_TRUE(game_.scan());
  play_.refresh();
  EXPECT_EQ(play_.doing(), Play::Doing::walking);
  EXPECT_TRUE(play_.keeper().empty() && play_.coat().empty() && play_.gear().empty());
  EXPECT_TRUE(play_.shown().empty());
  EXPECT_FALSE(play_.use("m/boat"));
  EXPECT_THAT(events(), Contains("unknown"));
}

TEST_F(PlayTest, CommandsAreUnderstoodOrRefusedWithAReason) {
  Commands commands(game_, play_, say_);
  const auto run = [&](const char* text) { return commands.run(*base::parseJson(text, "t"), "t"); };
  EXPECT_TRUE(run(R"({"do":"use","object":"m/boat"})"));
  EXPECT_TRUE(run(R"({"do":"move","ahead":1,"seconds":2})"));
  EXPECT_GT(play_.speed_mps(), 1);
  EXPECT_TRUE(run(R"({"do":"leave"})"));
  EXPECT_TRUE(run(R"({"do":"eyes","on":true})"));
  EXPECT_TRUE(play_.throughEyes());
  for (const char* good : {R"({"do":"night","value":0.5})", R"({"do":"day"})", R"({"do":"follow"})",
                           R"({"do":"paint","color":[1,0,0]})", R"({"do":"look","distance":3})",
                           R"({"do":"reload"})", R"({"do":"show","object":"m/boat"})", R"({"do":"clear"})"})
    EXPECT_TRUE(run(good)) << good;
  EXPECT_TRUE(play_.shown().empty() || count("m/boat") == 0);
  const auto unknown = run(R"({"do":"dance"})");
  ASSERT_FALSE(unknown);
  EXPECT_EQ(unknown.error().code, "link.unknown");
  EXPECT_FALSE(run(R"({"what":"scan"})"));
  EXPECT_FALSE(run(R"([1,2])"));
  EXPECT_FALSE(run(R"({"do":"move","ahead":"fast"})"));
  EXPECT_FALSE(run(R"({"do":7})"));
  // Whole or not at all: a command with one bad field changes nothing.
  ASSERT_TRUE(run(R"({"do":"use","object":"m/mate"})"));
  const glm::vec3 before = play_.figureAt();
  EXPECT_FALSE(run(R"({"do":"move","ahead":1,"turn":"left","seconds":1})"));
  EXPECT_EQ(play_.figureAt(), before);
  EXPECT_FALSE(play_.moving());
  EXPECT_FALSE(run(R"({"do":"eyes","on":"yes"})"));
  EXPECT_TRUE(run(R"({"do":"eyes","on":false})"));
  EXPECT_FALSE(play_.throughEyes());
}

TEST_F(PlayTest, LampsAndSmokeOfABoatGoByWhatItDoes) {
  std::vector<bundle::ObjectRecord> things = test::harbourThings();
  const auto boat = std::find_if(things.begin(), things.end(),
                                 [](const bundle::ObjectRecord& r) { return r.kind == "craft"; });
  ASSERT_NE(boat, things.end());
  bundle::ObjectEmitter smoke;
  smoke.as = "funnel-smoke";
  smoke.look = "smoke";
  smoke.runs = "under-way";
  smoke.rate = 20;
  smoke.life = 2;
  smoke.speed = 1;
  boat->emitters.push_back(smoke);
  bundle::ObjectLamp odd;
  odd.as = "disco-ball";
  odd.lit = "on-sundays";
  odd.cone = 1;
  boat->lamps.push_back(odd);
  const std::string name = "m/" + boat->id;
  write(things);
  game_.scan();
  EXPECT_THAT(events(), testing::AllOf(Contains("odd_piece"), Contains("odd_moment")));
  play_.pass(1);
  EXPECT_EQ(play_.particles().size(), 0U) << "it lies at the quay";
  EXPECT_EQ(play_.moment(name, "night"), 0);
  play_.setNight(0.5F);
  EXPECT_EQ(play_.moment(name, "night"), 0.5F);
  EXPECT_EQ(play_.moment(name, "on-sundays"), 0);
  ASSERT_TRUE(play_.use(name));
  play_.pass(3);
  EXPECT_NEAR(static_cast<double>(play_.particles().size()), 40, 2) << "rate times life";
  EXPECT_EQ(play_.moment(name, "under-way"), 1);
  ASSERT_TRUE(play_.leave());
  play_.pass(2.1F);
  EXPECT_EQ(play_.particles().size(), 0U);
}

TEST_F(PlayTest, WhatBringsACarriedVersionIsTakenUpInItAndSetDownElsewhere) {
  auto things = test::harbourThings();
  bundle::ObjectPiece small{"small", "mesh/one"};
  small.as = "carried";
  small.apart = true;
  for (bundle::ObjectRecord& one : things)
    if (one.id == "block") {
      one.pieces.push_back(small);
      one.points.push_back({"hold", {}, {0, 0, 0, 1}, "carried"});
    }
  write(things);
  game_.scan();
  ASSERT_EQ(count("m/block"), 1U);
  const glm::vec3 stood = shown("m/block")->matrix[3];
  EXPECT_EQ(shown("m/block")->apart, "");
  ASSERT_TRUE(play_.take("m/block"));
  EXPECT_EQ(play_.inArms(), "m/block");
  ASSERT_EQ(count("m/block"), 1U) << "it does not stand there as well";
  EXPECT_EQ(shown("m/block")->apart, "carried");
  play_.move(-1, 0.4F);
  play_.pass(2);
  EXPECT_LT(glm::distance(glm::vec3(shown("m/block")->matrix[3]), play_.figureAt()), 1.2F);
  ASSERT_TRUE(play_.leave());
  EXPECT_EQ(play_.inArms(), "");
  ASSERT_EQ(count("m/block"), 1U);
  EXPECT_EQ(shown("m/block")->apart, "");
  EXPECT_GT(glm::distance(glm::vec3(shown("m/block")->matrix[3]), stood), 0.5F);
  EXPECT_THAT(events(), Contains("takes_up"));
  // Without such a version a thing stays where it is; what a hand holds is held.
  write(test::harbourThings());
  game_.scan();
  play_.refresh();
  EXPECT_FALSE(play_.take("m/block"));
  EXPECT_THAT(events(), Contains("fixed"));
  EXPECT_TRUE(play_.take("m/lantern"));
  EXPECT_EQ(play_.gear(), "m/lantern");
  EXPECT_FALSE(play_.take("m/nothing"));
}

TEST_F(PlayTest, AnEngineIsHeardUnderWayFasterAsTheBoatIsAndAHornWhenItLeaves) {
  auto things = test::harbourThings();
  bundle::ObjectSound engine;
  engine.name = engine.as = "engine-sound";
  engine.plays = "under-way";
  engine.sounds = {"sound/launch-engine"};
  engine.loop = true;
  engine.pitch = {0.5F, 2};
  engine.near = 2;
  engine.far = 50;
  things[0].sounds.push_back(engine);
  bundle::ObjectSound horn = engine;
  horn.as = "horn";
  horn.plays = "leaving";
  horn.loop = false;
  horn.sounds = {"sound/lamp-hum", "sound/launch-engine"};
  things[0].sounds.push_back(horn);
  things[0].pieces.push_back({"prop", "mesh/one"});
  things[0].pieces.back().as = "screw";
  write(things);
  game_.scan();
  EXPECT_TRUE(play_.heard().empty()) << "it lies at the quay";
  ASSERT_TRUE(play_.use("m/boat"));
  ASSERT_EQ(play_.heard().size(), 2U);
  EXPECT_NEAR(play_.heard()[0].pitch, 0.5, 1e-6);
  EXPECT_FALSE(play_.heard()[1].loop);
  play_.move(1, 0);
  play_.pass(4);
  EXPECT_NEAR(play_.heard()[0].pitch, 2, 0.2) << "at nearly its full speed";
  EXPECT_GT(shown("m/boat")->screw_rad, 0) << "its screw turns";
  Mixer mixer;
  const auto samples = mixer.mix(play_.heard(), play_.ear({}), 3200);
  EXPECT_GT(*std::max_element(samples.begin(), samples.end()), 0.05F);
  EXPECT_EQ(mixer.mix({}, {}, 3200).back(), 0) << "and then it is still";
  ASSERT_TRUE(play_.leave());
  for (const Heard& one : play_.heard()) EXPECT_FALSE(one.loop) << "the engine has stopped";
  play_.pass(61);
  EXPECT_TRUE(play_.heard().empty());
}

TEST_F(PlayTest, PartsTurnByThemselvesWithTheBoatAndWithTheHelm) {
  auto things = test::harbourThings();
  const auto motion = [](const char* runs, float rate, bool swings) {
    bundle::ObjectMotion out;
    out.name = out.as = swings ? "rudder" : "turning-part";
    out.runs = runs;
    out.rate = rate;
    out.swings = swings;
    out.span = {-0.6F, 0.2F};
    out.pieces = {0};
    return out;
  };
  for (bundle::ObjectRecord& one : things)
    if (one.id == "boat")
      one.motions = {motion("always", 0.25F, false), motion("under-way", 1, false), motion("helm", 1, true),
                     motion("night", 0.25F, false)};
  write(things);
  game_.scan();
  EXPECT_THAT(events(), testing::Not(Contains("odd_moment")));
  EXPECT_THAT(events(), testing::Not(Contains("odd_piece")));
  play_.pass(1);
  const auto angles = [&] { return shown("m/boat")->motion_rad; };
  ASSERT_EQ(angles().size(), 4U);
  EXPECT_NEAR(angles()[0], 1.5708F, 1e-3F) << "a quarter of a turn in a second";
  EXPECT_EQ(angles()[1], 0) << "it lies at the quay";
  EXPECT_NEAR(angles()[2], -0.2F, 1e-6F) << "the helm amidships: the middle of its span";
  EXPECT_EQ(angles()[3], 0);
  play_.setNight(1);
  play_.pass(1);
  EXPECT_NEAR(angles()[3], 1.5708F, 1e-3F);
  ASSERT_TRUE(play_.use("m/boat"));
  play_.move(1, 1);
  play_.pass(3);
  EXPECT_NEAR(angles()[2], 0.2F, 0.01F) << "hard over";
  EXPECT_GT(angles()[1], 0);
  // A quarter turn about +X through (0, 1, 0) brings (0, 2, 0) above it.
  bundle::ObjectRecord mill;
  mill.pieces.resize(2);
  mill.motions.push_back(motion("always", 1, false));
  mill.motions[0].position = {0, 1, 0};
  const auto moved = [&](size_t piece) {
    return glm::vec3(movedTo(mill, {1.5707963F}, &bundle::ObjectMotion::pieces, piece) *
                     glm::vec4(0, 2, 0, 1));
  };
  EXPECT_LT(glm::distance(moved(0), {0, 1, 1}), 1e-5F);
  EXPECT_EQ(moved(1), glm::vec3(0, 2, 0)) << "nothing moves it";
}

TEST(MayBeSeen, IsFalseOnlyWhereTheWholeBoxIsOutOfView) {
  render::Camera camera;
  camera.target = {0, 0, 0};
  camera.distance_m = 5;
  camera.yaw_rad = camera.pitch_rad = 0;  // from +X, looking along -X
  const glm::mat4 view = camera.projection(1) * camera.view();
  bundle::ObjectRecord r;
  r.bounds_min = {-0.5F, -0.5F, -0.5F};
  r.bounds_max = {0.5F, 0.5F, 0.5F};
  const auto seen = [&](glm::vec3 at) { return mayBeSeen(r, view * glm::translate(glm::mat4(1), at)); };
  EXPECT_TRUE(seen({0, 0, 0}));
  EXPECT_TRUE(seen({0, 1.9F, 0})) << "its corner reaches into the picture";
  EXPECT_FALSE(seen({0, 6, 0}));
  EXPECT_FALSE(seen({0, 0, -6}));
  EXPECT_FALSE(seen({8, 0, 0})) << "behind the eye";
  r.seen = {{{-0.5F, -6, -0.5F}, {0.5F, 6, 0.5F}}};
  EXPECT_TRUE(seen({0, 6, 0})) << "in motion it reaches there";
}

TEST_F(PlayTest, WhatTakesTwoHandsLiesAcrossBoth) {
  auto things = test::harbourThings();
  for (bundle::ObjectRecord& one : things) {
    if (one.id == "mate") one.points.push_back({"grip-left", {0.1F, 0.3F, 0.8F}});
    if (one.id == "lantern") one.points.push_back({"second-grip", {0, 0, 0.65F}});
  }
  write(things);
  game_.scan();
  ASSERT_TRUE(play_.use("m/mate"));
  ASSERT_TRUE(play_.use("m/lantern"));
  EXPECT_THAT(log_.back().message, testing::HasSubstr("both hands"));
  const glm::mat4 lantern = shown("m/lantern")->matrix;
  const glm::mat4 mate = shown("m/mate")->matrix;
  const glm::vec3 grip(lantern * glm::vec4(0, 0, 0.25F, 1)), second(lantern * glm::vec4(0, 0, 0.65F, 1)),
      right(mate * glm::vec4(0.1F, -0.3F, 0.8F, 1)), left(mate * glm::vec4(0.1F, 0.3F, 0.8F, 1));
  EXPECT_LT(glm::distance(grip, right), 0.1F) << "it is still held in the right";
  EXPECT_GT(glm::dot(glm::normalize(second - grip), glm::normalize(left - right)), 0.95F);
}

TEST_F(PlayTest, TextsAreReadInTheGamesLanguageElseInItsFirstElseByTheirId) {
  auto things = test::harbourThings();
  for (bundle::ObjectRecord& one : things) {
    if (one.id == "boat") one.card["engine_text"] = "text/boat/engine";
    if (one.id == "mate") one.card["greeting_text"] = "text/mate/hello";
  }
  const auto said = [&](const char* object) {
    EXPECT_TRUE(play_.use(object));
    for (auto line = log_.rbegin(); line != log_.rend(); ++line)
      if (line->event == "says") return line->message;
    return std::string();
  };
  ASSERT_TRUE(base::writeFileAtomic(folder_ / "m.rkb",
                                    test::madeBundle(things, {{"en", {{"text/mate/hello", "Morning."}}},
                                                              {"de", {{"text/mate/hello", "Moin."}}},
                                                              {"tlh", {{"text/mate/hello", "nuqneH"}}}})));
  game_.scan();
  EXPECT_THAT(events(), Contains("odd_language"));
  EXPECT_EQ(said("m/mate"), "mate: Morning.");
  Commands commands(game_, play_, say_);
  ASSERT_TRUE(commands.run(base::Json{{"do", "language"}, {"language", "de"}}, "test"));
  EXPECT_EQ(said("m/mate"), "mate: Moin.");
  play_.setLanguage("nb");
  EXPECT_EQ(said("m/mate"), "mate: Morning.");
  EXPECT_EQ(said("m/boat"), "boat: text/boat/engine");
}

TEST_F(PlayTest, ThingsFallOnTheQuayAndIntoTheWaterAndTheLogSaysWhatBecomesOfThem) {
  auto things = test::harbourThings();
  auto cork = test::thing("float", "gear");
  bundle::ObjectShape ball;
  ball.as = "gear-body";
  ball.form = "sphere";
  ball.size = {0.3F, 0.3F, 0.3F};
  ball.bounce = 0.5F;
  cork.shapes.push_back(ball);
  cork.card["mass"] = 3;
  bundle::ObjectSound knock;
  knock.as = "gear-sound";
  knock.plays = "touched";
  knock.sounds = {"sound/lamp-hum"};
  cork.sounds.push_back(knock);
  things.push_back(cork);
  write(things);
  game_.scan();
  log_.clear();
  ASSERT_TRUE(play_.drop("m/float", glm::vec2(0, 2), 2));
  ASSERT_TRUE(play_.drop("m/float", glm::vec2(20, 0), 2));
  EXPECT_EQ(count("m/float"), 2U + 1U) << "and the one that stands there";
  EXPECT_FALSE(play_.drop("m/nothing", std::nullopt, 1));
  play_.pass(1);
  EXPECT_FALSE(play_.heard().empty()) << "it knocked on the quay";
  play_.pass(30);
  EXPECT_THAT(events(),
              testing::AllOf(Contains("falls"), Contains("lies"), Contains("floats"), Contains("unknown")));
  EXPECT_FALSE(play_.moving());
  // 3 kg displace a cap of the ball, pi h^2 (3 r - h) / 3, of 2.93 litres: h is 8.8 cm.
  for (const LogLine& line : log_)
    if (line.event == "floats") {
      EXPECT_THAT(line.message, testing::HasSubstr("floats 0.09"));
    }
  write(test::harbourThings());
  game_.scan();
  play_.refresh();
  EXPECT_EQ(play_.fallen(), 0U) << "what the game no longer has is gone";
}

TEST(Hearing, FadesWithTheDistanceAndEndsAtItsEnd) {
  EXPECT_EQ(arriving(0.5F, 1, 20), 1);
  EXPECT_EQ(arriving(20, 1, 20), 0);
  EXPECT_GT(arriving(5, 1, 20), arriving(10, 1, 20));
  EXPECT_EQ(arriving(3, 5, 5), 1);
  EXPECT_EQ(arriving(6, 5, 5), 0);
  auto click = std::make_shared<PlayedSound>();
  click->rate_hz = Mixer::kRate_hz;
  click->samples.assign(1600, 0.5F);
  Heard one{"a", click, {0, 0, 0}, 1, 1, 1, 10, false};
  Mixer mixer;
  const auto first = mixer.mix({one}, {0, 0, 0}, 3200);
  EXPECT_NEAR(first[800], 0.5, 1e-6);
  EXPECT_EQ(first[1700], 0) << "it is over";
  one.key = "b";
  one.loop = true;
  one.pitch = 2;
  EXPECT_NEAR(mixer.mix({one}, {0, 0, 0}, 3200)[3000], 0.5, 1e-6) << "it goes on";
  EXPECT_FALSE(decodePlayed(base::Bytes(100), "x"));
  EXPECT_EQ(harbourSound("sound/nothing"), nullptr);
}

TEST_F(PlayTest, TheHarboursListsOfferWhatStandsInThem) {
  auto things = test::harbourThings();
  things[3].lists.push_back(
      {"workbench", base::Json::parse(R"({"makes": 1, "needs": [{"good": "good/oil", "amount": 2},
                                                                {"good": "object/block", "amount": 1}]})")});
  things[3].lists.push_back({"broker", base::Json::object()});
  things[3].lists.push_back({"pawnshop", base::Json::object()});
  write(things);
  game_.scan();
  const auto said = events();
  EXPECT_EQ(std::count(said.begin(), said.end(), "odd_list"), 2) << "the broker deals in no gear";
  const auto offers = offersOf(game_, *findHarbourList("workbench"));
  ASSERT_EQ(offers.size(), 1U);
  EXPECT_EQ(offers[0].object, "m/lantern");
  EXPECT_EQ(offers[0].text, "lantern: makes 1, of 2 oil and 1 block, 5 pennies");
  Commands commands(game_, play_, say_);
  log_.clear();
  ASSERT_TRUE(commands.run(base::Json{{"do", "offers"}, {"list", "workbench"}}, "test"));
  EXPECT_THAT(events(), testing::ElementsAre("offer"));
  EXPECT_FALSE(commands.run(base::Json{{"do", "offers"}, {"list", "pawnshop"}}, "test"));
  ASSERT_TRUE(commands.run(base::Json{{"do", "drop"}, {"object", "m/lantern"}, {"height", 1}}, "test"));
  EXPECT_EQ(play_.fallen(), 1U);
}

}  // namespace
}  // namespace rakugo::standin
