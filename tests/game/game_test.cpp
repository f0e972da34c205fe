// The stand-in game: what it loads, what it refuses, and that its pictures show it.
// First: the printers of gmock ask whether Qt's half float is complete.
#include <QFloat16>

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <unistd.h>

#include <QImage>
#include <algorithm>
#include <random>
#include <tuple>

#include "base/files.h"
#include "bundle/bundle_writer.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "prepare/edit_steps.h"
#include "standin/game.h"
#include "standin/harbour_shapes.h"
#include "standin/play.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using testing::Contains;
using testing::HasSubstr;

class GameTest : public testing::Test {
 protected:
  void SetUp() override { fs::create_directories(root_ / "mods"); }

  static base::Bytes lampBundle(const std::function<void(mod::ModState&)>& change = nullptr) {
    auto bytes = packing::buildPackage(
        *test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight", change));
    EXPECT_TRUE(bytes) << bytes.error().text();
    return *bytes;
  }
  void put(const std::string& name, const base::Bytes& bytes) {
    ASSERT_TRUE(base::writeFileAtomic(root_ / "mods" / name, bytes));
  }
  std::vector<std::string> events() {
    std::vector<std::string> out;
    for (const auto& line : log_) out.push_back(line.level + " " + line.event);
    return out;
  }
  standin::Game game() {
    return standin::Game(root_ / "mods", [this](const standin::LogLine& line) { log_.push_back(line); });
  }
  static base::Bytes ownThings() {
    return *base::readFile(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick/own/harbour.rkb");
  }
  // Runs a script in the game without a window; its exit code, and its log.
  std::pair<int, std::string> playHeadless(std::string_view script) {
    EXPECT_TRUE(base::writeFileAtomic(root_ / "script", script));
    const std::string command = "'" RAKUGO_BIN_DIR "/kelpwick' --mods '" + (root_ / "mods").string() +
                                "' --headless --script '" + (root_ / "script").string() + "' --shots '" +
                                (root_ / "shots").string() + "' --log '" + (root_ / "log").string() +
                                "' 2>/dev/null";
    const int exit = WEXITSTATUS(std::system(command.c_str()));
    return {exit, std::string(base::asText(*base::readFile(root_ / "log")))};
  }
  test::TestFolder own_;
  const fs::path root_ = own_.path();
  std::vector<standin::LogLine> log_;
};

TEST_F(GameTest, AThingInPlaceOfTheHarboursOwnStandsThereAndGivesItBack) {
  const base::Bytes own = ownThings();
  standin::Game g = game();
  g.takeOwnThings(own);
  ASSERT_EQ(g.placed().size(), 1U);
  EXPECT_EQ(g.placed()[0].object, "market-stall");
  const glm::vec3 place = g.placed()[0].position;
  put("lamp.rkb",
      lampBundle([](mod::ModState& s) { s.objects["quay-lamp"].replaces = "harbour/market-stall"; }));
  ASSERT_TRUE(g.scan());
  ASSERT_EQ(g.placed().size(), 1U);
  EXPECT_EQ(g.placed()[0].object, "quay-lamp");
  EXPECT_EQ(g.placed()[0].position, place);
  // Beside it, once it says so; and where it names what is not there.
  put("lamp.rkb", lampBundle());
  ASSERT_TRUE(g.scan());
  EXPECT_EQ(g.placed().size(), 2U);
  put("lamp.rkb", lampBundle([](mod::ModState& s) { s.objects["quay-lamp"].replaces = "harbour/pier"; }));
  log_.clear();
  ASSERT_TRUE(g.scan());
  EXPECT_EQ(g.placed().size(), 2U);
  EXPECT_THAT(events(), testing::Contains("warning replaces_nothing"));
  // The harbour is as it was when the mod is gone.
  fs::remove(root_ / "mods/lamp.rkb");
  ASSERT_TRUE(g.scan());
  ASSERT_EQ(g.placed().size(), 1U);
  EXPECT_EQ(g.placed()[0].object, "market-stall");
  // Nobody can be the harbour itself.
  put("harbour.rkb", own);
  g.scan();
  EXPECT_THAT(events(), testing::Contains("error refused"));
  EXPECT_EQ(g.placed().size(), 1U);
}

TEST_F(GameTest, LoadsAndPlacesAnInstalledMod) {
  put("a.rkb", lampBundle());
  auto g = game();
  EXPECT_TRUE(g.scan());
  EXPECT_THAT(events(), testing::ElementsAre("info loaded", "info placed"));
  ASSERT_EQ(g.placed().size(), 1u);
  EXPECT_EQ(g.objects().begin()->first, "lamplight-8w3hxq/quay-lamp");
  EXPECT_FALSE(g.scan()) << "nothing has changed";
}

TEST_F(GameTest, ReloadsAChangedBundleAndForgetsARemovedOne) {
  put("a.rkb", lampBundle());
  auto g = game();
  g.scan();
  const auto before = g.objects().begin()->second.generation;
  put("a.rkb", lampBundle([](mod::ModState& s) { s.objects["quay-lamp"].title = "Harbour light"; }));
  EXPECT_TRUE(g.scan());
  EXPECT_GT(g.objects().begin()->second.generation, before);
  EXPECT_EQ(g.objects().begin()->second.record.name, "Harbour light");
  fs::remove(root_ / "mods/a.rkb");
  EXPECT_TRUE(g.scan());
  EXPECT_TRUE(g.objects().empty());
  EXPECT_TRUE(g.placed().empty());
}

TEST_F(GameTest, RefusesStrangersDoublesAndNonsenseWithAReason) {
  put("a.rkb", lampBundle());
  put("b.rkb", lampBundle());
  put("c.rkb", base::Bytes(500, std::byte{1}));
  put("d.rkb", {});
  bundle::BundleWriter writer;
  ASSERT_TRUE(writer.add(bundle::EntryKind::manifest, bundle::kManifestId,
                         bundle::encodeManifest({.mod_id = "x", .rulebook_id = "another-game"})));
  put("e.rkb", *writer.finish());
  auto g = game();
  g.scan();
  EXPECT_EQ(g.objects().size(), 1u);
  std::vector<std::string> said;
  for (const auto& line : log_)
    if (line.event == "refused") said.push_back(line.message);
  EXPECT_EQ(said.size(), 4u);
  EXPECT_THAT(said, Contains(HasSubstr("b.rkb is refused: another bundle has the same mod id")));
  EXPECT_THAT(said, Contains(HasSubstr("c.rkb is refused: This is not a bundle")));
  EXPECT_THAT(said, Contains(HasSubstr("e.rkb is refused: it was made for \"another-game\"")));
}

TEST_F(GameTest, ABoatFloatsAtItsWaterLineAndEverythingElseStands) {
  put("a.rkb", lampBundle([](mod::ModState& s) {
        s.objects["quay-lamp"].kind = "craft";
        s.models["quay-lamp"].points.push_back({"water-line", {0, 0, 0.3}, {0, 0, 0, 1}});
      }));
  put("b.rkb", lampBundle([](mod::ModState& s) {
        s.card.id = "other-lamp";
        s.objects["post"] = s.objects["quay-lamp"];
        s.objects.erase("quay-lamp");
      }));
  auto g = game();
  g.scan();
  ASSERT_EQ(g.placed().size(), 2u);
  EXPECT_EQ(g.placed()[0].mod, "lamplight-8w3hxq");
  EXPECT_NEAR(g.placed()[0].position.z, standin::kWaterLevel_m - 0.3F, 1e-4);
  EXPECT_GT(g.placed()[0].position.x, standin::kQuayEdge_m);
  EXPECT_EQ(g.placed()[1].position.z, 0);
  EXPECT_LT(g.placed()[1].position.x, standin::kQuayEdge_m);
}

// What the editor's list of installed mods promises: of one name, the last in the mods' order wins.
TEST_F(GameTest, ALaterModReplacesAThingOfTheSameName) {
  put("a.rkb", lampBundle());
  put("b.rkb", lampBundle([](mod::ModState& s) { s.card.id = "zz-lamp"; }));
  auto g = game();
  g.scan();
  ASSERT_EQ(g.placed().size(), 1u);
  EXPECT_EQ(g.placed()[0].mod, "zz-lamp");
  EXPECT_THAT(events(), Contains("warning replaced"));
  fs::remove(root_ / "mods/b.rkb");
  g.scan();
  ASSERT_EQ(g.placed().size(), 1u);
  EXPECT_EQ(g.placed()[0].mod, "lamplight-8w3hxq");
}

TEST_F(GameTest, ItsOwnRulesHoldWhateverARulebookSaid) {
  // A lying bundle: well formed, but against the game's rules.
  const auto lie = [&](const std::function<void(bundle::ObjectRecord&)>& change) {
    bundle::ObjectRecord r;
    r.id = "x";
    r.kind = "fitting";
    r.card = base::Json{{"price", 5}};
    r.pieces.push_back({"p", "mesh/none"});
    change(r);
    bundle::BundleWriter writer;
    EXPECT_TRUE(writer.add(
        bundle::EntryKind::manifest, bundle::kManifestId,
        bundle::encodeManifest({.mod_id = "x", .rulebook_id = "kelpwick", .objects = {"object/x"}})));
    EXPECT_TRUE(writer.add(bundle::EntryKind::object, "object/x", bundle::encodeObject(r)));
    fs::remove(root_ / "mods/x.rkb");
    put("x.rkb", *writer.finish());
    log_.clear();
    auto g = game();
    g.scan();
    EXPECT_TRUE(g.objects().empty());
    return log_.empty() ? std::string() : log_[0].message;
  };
  EXPECT_THAT(lie([](auto&) {}), HasSubstr("needs the mesh mesh/none"));
  EXPECT_THAT(lie([](auto& r) {
                r.kind = "dragon";
                r.pieces.clear();
              }),
              HasSubstr("this harbour knows no such thing"));
  EXPECT_THAT(lie([](auto& r) { r.pieces.clear(); }), HasSubstr("nothing to show"));
}

TEST_F(GameTest, DamagedBundlesNeverCrashIt) {
  const base::Bytes good = lampBundle();
  std::mt19937 random(5);
  for (int i = 0; i < 60; ++i) {
    base::Bytes damaged = good;
    for (int k = 0; k < 3; ++k)
      damaged[random() % (i % 2 == 0 ? 4000 : damaged.size())] ^= static_cast<std::byte>(1 + random() % 255);
    if (i % 5 == 0) damaged.resize(random() % damaged.size());
    put("a.rkb", damaged);
    auto g = game();
    g.scan();
    EXPECT_TRUE(g.objects().empty() || !log_.empty());
  }
}

// Mean brightness of a region, 0..255.
double brightness(const QImage& image, QRect region) {
  double sum = 0;
  for (int y = region.top(); y <= region.bottom(); ++y)
    for (int x = region.left(); x <= region.right(); ++x) sum += qGray(image.pixel(x, y));
  return sum / (region.width() * region.height());
}

TEST_F(GameTest, HeadlessTakesPicturesThatDifferByDayNightAndPaint) {
  put("a.rkb", lampBundle());
  const auto [exit, log] = playHeadless(R"({"do":"frames","count":1}
{"do":"shot","file":"day.png"}
{"do":"paint","color":[0.8,0.1,0.1]}
{"do":"shot","file":"red.png"}
{"do":"night"}
{"do":"shot","file":"night.png"}
{"do":"clear"}
{"do":"shot","file":"empty.png"}
)");
  ASSERT_EQ(exit, 0);
  EXPECT_THAT(log, HasSubstr("\"event\":\"loaded\""));
  const auto picture = [&](const char* name) {
    return QImage(QString::fromStdString((root_ / "shots" / name).string()));
  };
  const QImage day = picture("day.png"), night = picture("night.png"), red = picture("red.png"),
               empty = picture("empty.png");
  ASSERT_EQ(day.size(), QSize(1280, 800));
  EXPECT_GT(brightness(day, day.rect()), brightness(night, night.rect()) * 2);
  EXPECT_NE(day, red);
  // With the lamp gone the quay under it is dark.
  const QRect under(560, 560, 240, 80);
  EXPECT_GT(brightness(night, under), brightness(empty, under) * 1.3);
}

// Block formats are drawn as they are where the graphics take them, and decoded first where not.
TEST_F(GameTest, WhateverTargetItWasBuiltForItLooksTheSameButForWhatTheFormatsLose) {
  const auto x = test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight");
  std::vector<QImage> shots;
  for (const rulebook::Target& target : x->book->allTargets()) {
    packing::BuildOptions options;
    options.target = target.id;
    const auto bytes = packing::buildPackage(*x, options);
    ASSERT_TRUE(bytes) << bytes.error().text();
    put("a.rkb", *bytes);
    const auto [exit, log] = playHeadless(R"({"do":"show","object":"lamplight-8w3hxq/quay-lamp"}
{"do":"frames","count":1}
{"do":"look","distance":2.5}
{"do":"shot","file":"target.png"}
{"do":"switch","name":"rain"}
{"do":"shot","file":"rain.png"}
{"do":"switch","name":"rain","on":false}
{"do":"shot","file":"dry.png"}
)");
    ASSERT_EQ(exit, 0) << target.id << log;
    const auto picture = [&](const char* name) {
      return QImage(QString::fromStdString((root_ / "shots" / name).string()));
    };
    shots.push_back(picture("target.png"));
    EXPECT_NE(picture("rain.png"), shots.back()) << "rain is seen";
    EXPECT_EQ(picture("dry.png"), shots.back());
  }
  ASSERT_EQ(shots.size(), 3U);
  for (size_t i = 1; i < shots.size(); ++i) {
    EXPECT_NE(shots[i], shots[0]);
    double off = 0;
    for (int y = 0; y < shots[0].height(); ++y)
      for (int xx = 0; xx < shots[0].width(); ++xx)
        off += std::abs(qGray(shots[i].pixel(xx, y)) - qGray(shots[0].pixel(xx, y)));
    EXPECT_LT(off / (shots[0].width() * shots[0].height()), 2) << x->book->allTargets()[i].id;
  }
}

// Nine materials made one: a picture says what glows, and nothing else does.
TEST_F(GameTest, OfOneMaterialOnlyWhatItsPictureSaysGlowsByNight) {
  std::vector<std::string> keys;
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lampbearer";
  const auto as_it_is = test::examined(folder);
  for (const auto& m : as_it_is->context.models.at("lamp-bearer").prepared.model->materials)
    keys.push_back(m.key);
  ASSERT_EQ(keys.size(), 9U);
  // Once with lenses that glow, once with nothing that does: then there is no picture of it.
  const auto built = [&](bool lenses_glow) {
    const auto x = test::examined(folder, [&](mod::ModState& s) {
      mod::ModelDoc& doc = s.models["lamp-bearer"];
      prepare::insertByRank(
          doc, prepare::makeStep(doc, "set_alpha", {{"material", "coat_mat"}, {"alpha", "opaque"}}));
      prepare::insertByRank(
          doc,
          prepare::makeStep(doc, "set_color", {{"material", "Boots Black"}, {"color", {0.3, 0.3, 0.3}}}));
      for (const char* lens : {"lens_surf2", "lens_surf3"})
        if (!lenses_glow)
          prepare::insertByRank(
              doc, prepare::makeStep(doc, "set_glow", {{"material", lens}, {"color", {0, 0, 0}}}));
      for (const std::string& key : keys) prepare::setRole(doc, key, "lamp");
      prepare::insertByRank(doc, prepare::makeStep(doc, "atlas", {{"materials", keys}, {"name", "figure"}}));
    });
    const auto bytes = packing::buildPackage(*x);
    EXPECT_TRUE(bytes) << bytes.error().text();
    return *bytes;
  };
  // From behind: the light that the game puts before it does not reach its back.
  const auto night = [&](bool lenses_glow) {
    put("a.rkb", built(lenses_glow));
    const auto [exit, log] =
        playHeadless(R"({"do":"place","object":"lampbearer-6t4hzm/lamp-bearer","at":[1,0,0]}
{"do":"night"}
{"do":"look","at":[1,0,0.2],"distance":0.9,"yaw_deg":180,"pitch_deg":5}
{"do":"shot","file":"bearer.png"}
)");
    EXPECT_EQ(exit, 0) << log;
    return QImage(QString::fromStdString((root_ / "shots" / "bearer.png").string()));
  };
  const QRect back(600, 400, 80, 120);
  const double lit = brightness(night(false), back), dark = brightness(night(true), back);
  EXPECT_GT(lit, dark * 1.5)
      << "with a role alone the whole figure shines; with the sheet only its lenses do";
}

TEST_F(GameTest, FarAwayALighterVersionIsDrawn) {
  put("a.rkb", lampBundle([](mod::ModState& s) {
        prepare::setOrAddStep(s.models["quay-lamp"], "make_lighter",
                              base::Json{{"levels", 2.0}, {"share", 0.3}, {"from_m", 8.0}});
      }));
  const auto [exit, log] = playHeadless(
      "{\"do\":\"show\",\"object\":\"lamplight-8w3hxq/quay-lamp\"}\n{\"do\":\"look\",\"distance\":3}\n"
      "{\"do\":\"shot\",\"file\":\"near.png\"}\n{\"do\":\"look\",\"distance\":12}\n"
      "{\"do\":\"shot\",\"file\":\"far.png\"}\n{\"do\":\"look\",\"distance\":60}\n"
      "{\"do\":\"shot\",\"file\":\"farther.png\"}\n");
  ASSERT_EQ(exit, 0);
  std::vector<long> drawn;
  for (const char* shot : {"near.png: ", "far.png: ", "farther.png: "}) {
    const size_t at = log.find(std::string("Took ") + shot);
    ASSERT_NE(at, std::string::npos) << log;
    drawn.push_back(std::stol(log.substr(at + 5 + std::string(shot).size())));
  }
  EXPECT_LT(drawn[1], drawn[0] * 3 / 4);
  EXPECT_LT(drawn[2], drawn[1]);
  EXPECT_GT(drawn[2], 0);
}

// The keeper from elsewhere: as it came the harbour cannot move it; mended mend by mend it walks.
TEST_F(GameTest, AForeignKeeperIsMendedAndWalksTheQuay) {
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/newcomer";
  const auto newcomer = [&](const std::vector<std::string>& checks) {
    mod::ModState state = std::move(mod::loadMod(folder)).value();
    for (const std::string& check : checks) {
      const auto x = test::examined(folder, [&](mod::ModState& s) { s = state; });
      const auto found = std::find_if(x->findings.begin(), x->findings.end(),
                                      [&](const check::Finding& f) { return f.check == check; });
      EXPECT_NE(found, x->findings.end()) << check;
      if (found != x->findings.end()) found->mends.front().apply(state);
    }
    auto bytes = packing::buildPackage(*test::examined(folder, [&](mod::ModState& s) { s = state; }));
    EXPECT_TRUE(bytes) << bytes.error().text();
    return *bytes;
  };
  const char* const kScript = R"({"do":"use","object":"newcomer-7p3dzk/boatswain"}
{"do":"frames","count":1}
{"do":"follow"}
{"do":"look","distance":4,"yaw_deg":40,"pitch_deg":8}
{"do":"shot","file":"stand.png"}
{"do":"act","movement":"crouch"}
{"do":"move","ahead":0,"turn":0,"seconds":1.2}
{"do":"shot","file":"crouch.png"}
{"do":"act","movement":""}
{"do":"move","ahead":1,"turn":0,"seconds":0.2}
{"do":"follow"}
{"do":"look","distance":4,"yaw_deg":40,"pitch_deg":8}
{"do":"shot","file":"step.png"}
)";
  const auto share = [&](const char* a, const char* b) {
    const QImage one(QString::fromStdString((root_ / "shots" / a).string())),
        other(QString::fromStdString((root_ / "shots" / b).string()));
    EXPECT_EQ(one.size(), QSize(1280, 800));
    int differs = 0;
    // The middle, where the figure is; water and clouds go by beside it.
    for (int y = 250; y < 650; ++y)
      for (int x = 540; x < 740; ++x) differs += one.pixel(x, y) != other.pixel(x, y) ? 1 : 0;
    return static_cast<double>(differs) / (400 * 200);
  };
  put("n.rkb", newcomer({}));
  auto [exit, log] = playHeadless(kScript);
  ASSERT_EQ(exit, 0) << log;
  EXPECT_THAT(log, HasSubstr("none of the bones that the harbour moves"));
  const double stiff = share("stand.png", "crouch.png");
  put("n.rkb", newcomer({"bones.missing", "bones.missing", "bones.turned", "bones.weights", "bones.ends"}));
  std::tie(exit, log) = playHeadless(kScript);
  ASSERT_EQ(exit, 0) << log;
  EXPECT_THAT(log, testing::Not(HasSubstr("harbour moves")));
  EXPECT_GT(share("stand.png", "crouch.png"), stiff + 0.1) << "it crouches";
  EXPECT_GT(share("stand.png", "step.png"), 0.1);
}

// A net's float of cork, 30 cm, built twice: the second bounces higher, and both float.
TEST_F(GameTest, AFloatOfTheNetBouncesAsItsRestitutionSaysAndFloats) {
  std::map<double, float> reached;
  for (const double bounce : {0.5, 0.8}) {
    const auto bytes = packing::buildPackage(
        *test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/tidewater", [&](mod::ModState& s) {
          mod::ObjectDoc& cork = s.objects["lantern"];
          mod::PieceDoc body;
          body.name = "body";
          body.sort = "shape";
          body.as = "gear-body";
          body.values = base::Json{{"form", "sphere"}, {"width_m", 0.3}, {"bounce", bounce}};
          cork.pieces.push_back(body);
          cork.card["mass"] = 3.4;  // 240 kg a cubic metre: cork
        }));
    ASSERT_TRUE(bytes) << bytes.error().text();
    put("a.rkb", *bytes);
    auto g = game();
    g.scan();
    standin::Play play(g, [this](const standin::LogLine& line) { log_.push_back(line); });
    const std::string name = g.objects().begin()->second.mod + "/lantern";
    ASSERT_TRUE(play.drop(name, glm::vec2(0, 2), 2.15F));
    const auto height = [&] {
      float out = 0;
      for (const standin::Shown& one : play.shown())
        if (one.object == name) out = one.matrix[3].z;  // the last that was added
      return out;
    };
    float lowest = 9, highest = 0;
    for (int i = 0; i < 90; ++i) {
      play.pass(1.0F / 60);
      if (height() < lowest && highest == 0)
        lowest = height();
      else if (lowest < 0.4F)
        highest = std::max(highest, height());
    }
    reached[bounce] = highest;
    log_.clear();
    ASSERT_TRUE(play.drop(name, glm::vec2(20, 0), 1));
    play.pass(25);
    EXPECT_THAT(events(), Contains("info floats"));
    // V = m / 1025; pi h^2 (3 r - h) / 3 = V: h is 9.5 cm.
    for (const standin::LogLine& line : log_)
      if (line.event == "floats") {
        EXPECT_THAT(line.message, HasSubstr("floats 0.09"));
      }
  }
  EXPECT_GT(reached[0.8], reached[0.5] + 0.5F);
  // Its middle falls 2 m: a bounce reaches e squared of it.
  EXPECT_NEAR(reached[0.5] - 0.15F, 0.25 * 2, 0.06);
  EXPECT_NEAR(reached[0.8] - 0.15F, 0.64 * 2, 0.06);
}

TEST_F(GameTest, ScriptsThatMakeNoSenseAreSaid) {
  const auto [exit, log] = playHeadless(
      "{\"do\":\"dance\"}\nnot "
      "json\n{\"do\":\"shot\",\"file\":\"../../x.png\"}\n{\"do\":\"place\",\"object\":\"a/b\"}\n");
  EXPECT_EQ(exit, 2);
  EXPECT_THAT(log, HasSubstr("script:2"));
  EXPECT_THAT(log, HasSubstr("dance"));
  EXPECT_FALSE(fs::exists(root_ / "x.png"));
}

}  // namespace
}  // namespace rakugo
