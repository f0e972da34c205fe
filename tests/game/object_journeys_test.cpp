// Whole journeys of objects by script: from what a maker left, with rakugo-tool and rakugo-icon alone, to
// what the stand-in game does with them. What the window does of these stands in journeys_window_test.cpp.
// First: the printers of gmock ask whether Qt's half float is complete.
#include <QFloat16>

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "base/json.h"
#include "formats/sounds.h"
#include "mod/store.h"
#include "support/made_sounds.h"
#include "support/test_folder.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using base::Json;
using testing::HasSubstr;

class ObjectJourneysTest : public testing::Test {
 protected:
  // A line for the shell; what it says. It must succeed.
  std::string does(const std::string& program, const std::string& arguments) {
    const std::string command = "'" RAKUGO_BIN_DIR "/" + program + "' " + arguments + " >'" +
                                (root_ / "out").string() + "' 2>'" + (root_ / "err").string() + "'";
    const int status = std::system(command.c_str());
    const std::string out(base::asText(*base::readFile(root_ / "out"))),
        err(base::asText(*base::readFile(root_ / "err")));
    EXPECT_EQ(WEXITSTATUS(status), 0) << program << " " << arguments << "\n" << out << err;
    return out + err;
  }
  std::string run(const std::string& arguments) { return does("rakugo-tool", arguments); }
  std::string at(const std::string& name) const { return "'" + (root_ / name).string() + "'"; }
  // The game's log of what the script does, with the installed mods.
  std::string played(const std::string& script) {
    EXPECT_TRUE(base::writeFileAtomic(root_ / "script", std::string_view(script)));
    return does("kelpwick", "--mods " + at("game/mods") + " --headless --script " + at("script") +
                                " --shots " + at("shots"));
  }
  void builtAndInstalled(const std::string& mod) {
    EXPECT_EQ(run("check --json " + mod).find("\"stops\""), std::string::npos);
    run("build " + mod + " -o " + at("made.rkb"));
    run("verify " + at("made.rkb"));
    run("install " + at("made.rkb") + " --game " + at("game"));
  }
  test::TestFolder own_;
  const fs::path root_ = own_.path();
};

TEST_F(ObjectJourneysTest, ATugIsPutTogetherSoldAndSailed) {
  fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/slipway", root_ / "tug", fs::copy_options::recursive);
  const std::string m = at("tug") + " ", tug = m + "tug ";
  for (const char* other : {"sea-coat", "quay-block"}) {
    run("object remove " + m + other);
    run("model remove " + m + other);
  }
  for (const char* other : {"sea-coat", "quay-block", "sea-coat-broad"}) run("source remove " + m + other);
  // The boat itself: upright, half as large, one screw four times, the funnel on its end, what shines.
  run("step add " + tug + "turn forward=+Z up=+Y");
  run("step add " + tug + "scale factor=0.5");
  run("piece from-copies " + m + "tug tug tug/screw_1 --as screw");
  run("mend --sure " + m);
  const std::string funnel = R"('pick={"part": "tug/funnel"}' )";
  run("step add " + tug + "turn_picked " + funnel + "axis=y degrees=90");
  run("step add " + tug + "move_picked " + funnel + "'by=[0, 0, 0.84]'");
  for (const auto& [material, role] : {std::pair("hull paint", "hull-paint"),
                                       {"pitch", "tar"},
                                       {"wheelhouse glass", "glass"},
                                       {"lamp lens", "nav-lamp"}})
    run("step add " + tug + "role 'material=" + material + "' role=" + role);
  run("set " + tug + "drive steam");
  for (const char* point : {"helm 5 0 2.95", "water-line 0 0 0.7", "mooring-bow 7.6 0 1.9",
                            "nav-port 5.65 0.96 3.28", "funnel 2.7 0 3.85", "screw -0.3 0 0.6"})
    run("point set " + tug + point);
  run("point pair " + tug + "nav-port nav-starboard");
  // What it is made of beside its model: side lights as a pair, smoke, the engine, what turns, what bumps.
  run("piece lamp " + tug + "side-light --name port");
  run("piece set " + tug + "port --at 5.65 0.96 3.28");
  run("piece mirror " + tug + "port");
  run("piece emitter " + tug + "funnel-smoke");
  run("piece set " + tug + "funnel-smoke --at 2.7 0 3.9");
  ASSERT_TRUE(base::writeFileAtomic(root_ / "engine.wav", test::wavOf(test::madeTone(83.3, 0.4, 1.7))));
  run("add " + m + at("engine.wav"));
  run("piece sound " + tug + "engine-sound --name engine --sound sources/engine");
  run("sound check " + tug + "engine --find-loop");
  run("piece moving " + tug + "rudder --on tug --part rudder");
  for (const char* screw : {"1", "2", "3", "4"})
    run("piece moving " + tug + "turning-part --name shaft-" + screw + " --piece screw-" + screw);
  run("piece shape " + tug + "hull-body --form hulls --part hull");
  const Json weighs = Json::parse(run("piece weigh --json " + tug));
  EXPECT_EQ(weighs["from"], "shapes");
  EXPECT_GT(weighs["afloat"]["righting_sides_m"].get<double>(), 0) << "it does not turn over";
  EXPECT_NEAR(weighs["afloat"]["draught_m"].get<double>(), 0.7, 0.2);
  EXPECT_NEAR(weighs["center_m"][1].get<double>(), 0, 0.02);
  // Sold, plain and reinforced.
  run("lists put " + tug + "broker");
  run("object vary " + m + "tug-reinforced tug --title 'Slipway tug, reinforced'");
  run("set " + m + "tug-reinforced mass 10500");
  run("set " + m + "tug-reinforced price 26000");
  does("rakugo-icon", at("tug"));
  EXPECT_THAT(run("check " + m), HasSubstr("0 stop, 0 show"));
  builtAndInstalled(m);
  const std::string id = mod::loadMod(root_ / "tug")->card.id;
  const std::string log = played(R"({"do": "offers", "list": "broker"}
{"do": "drop", "object": ")" + id +
                                 R"(/tug", "at": [30, 0], "height": 0.2}
{"do": "move", "ahead": 0, "turn": 0, "seconds": 40}
{"do": "use", "object": ")" + id +
                                 R"(/tug"}
{"do": "night"}
{"do": "move", "ahead": 1, "turn": 0.3, "seconds": 2}
{"do": "eyes"}
{"do": "frames", "count": 2}
{"do": "shot", "file": "helm.png"}
{"do": "eyes", "on": false}
{"do": "frames", "count": 2}
{"do": "hear", "seconds": 1, "file": "engine.wav"}
{"do": "shot", "file": "sails.png"}
)");
  EXPECT_THAT(log, testing::Not(HasSubstr("refused")));
  EXPECT_THAT(log, HasSubstr("Slipway tug, reinforced"));
  EXPECT_THAT(log, testing::ContainsRegex("Slipway tug floats 0\\.[5-9][0-9]? m deep, upright"));
  EXPECT_THAT(log, HasSubstr("26000"));
  EXPECT_GT(fs::file_size(root_ / "shots/sails.png"), 10'000U);
  const auto heard = formats::decodeSound(*base::readFile(root_ / "shots/engine.wav"), "engine.wav");
  ASSERT_TRUE(heard);
  EXPECT_TRUE(std::any_of(heard->samples.begin(), heard->samples.end(), [](float s) {
    return std::abs(s) > 0.001F;
  })) << "the engine is heard";
}

TEST_F(ObjectJourneysTest, AHandLanternIsMadeFromItsFileAndLiesInTheSeaChest) {
  run("new " + at("light") + " --rulebook kelpwick --title 'A light'");
  const std::string m = at("light") + " ", lantern = m + "lantern ";
  run("add " + m + "'" RAKUGO_SOURCE_DIR "/examples/mods/tidewater/sources/lantern/lantern.glb'");
  run("source set " + lantern + "author 'Harbour Workshop'");
  run("source set " + lantern + "licence CC0-1.0");
  if (mod::loadMod(root_ / "light")->models.empty()) run("model new " + lantern + "--source lantern");
  run("step add " + lantern + "turn forward=+Z up=+Y");
  run("step add " + lantern + "bake");
  run("step add " + lantern + "role 'material=flame glass' role=lamp");
  run("step add " + lantern + "role 'material=turned oak' role=handle");
  if (mod::loadMod(root_ / "light")->objects.empty()) run("object new " + lantern + "lantern --kind gear");
  run("set " + lantern + "kind gear");
  for (const char* value : {"use light", "lit true", "mass 1.1", "price 45", "title 'Storm lantern'",
                            "blurb 'Stays lit in anything short of a good dunking.'"})
    run("set " + lantern + value);
  run("point set " + lantern + "grip 0 0 0");
  run("point set " + lantern + "light 0 0 -0.2");
  run("piece emitter " + lantern + "flame");
  run("piece set " + lantern + "flame --at 0 0 -0.23");
  run("piece lamp " + lantern + "lantern --name glow");
  run("piece set " + lantern + "glow --at 0 0 -0.2");
  run("piece shape " + lantern + "gear-body --form cylinder");
  run("lists put " + lantern + "start-kit --value amount=2");
  does("rakugo-icon", at("light"));
  EXPECT_THAT(run("check " + m), HasSubstr("0 stop, 0 show"));
  builtAndInstalled(m);
  const std::string id = mod::loadMod(root_ / "light")->card.id;
  const std::string log = played(R"({"do": "offers", "list": "start-kit"}
{"do": "night"}
{"do": "take", "object": ")" + id +
                                 R"(/lantern"}
{"do": "frames", "count": 20}
{"do": "shot", "file": "held.png"}
{"do": "drop", "object": ")" + id +
                                 R"(/lantern", "height": 1}
{"do": "move", "ahead": 0, "turn": 0, "seconds": 8}
)");
  EXPECT_THAT(log, testing::Not(HasSubstr("refused")));
  EXPECT_THAT(log, HasSubstr("Storm lantern"));
  EXPECT_THAT(log, HasSubstr("has come to rest"));
  EXPECT_GT(fs::file_size(root_ / "shots/held.png"), 10'000U);
}

}  // namespace
}  // namespace rakugo
