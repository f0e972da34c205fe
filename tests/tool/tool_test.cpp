// rakugo-tool as a process: exit codes, what goes to which stream, and the journey without a window.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <map>

#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using test::Ran;
using test::ToolTest;
using testing::HasSubstr;

TEST_F(ToolTest, APreparedModelIsExportedAndReadAgain) {
  const std::string lamp = mod("lamplight");
  const auto ran = run("export --json " + lamp + " quay-lamp " + at("exported/lamp.obj"));
  EXPECT_EQ(ran.exit, 0);
  EXPECT_TRUE(fs::exists(root_ / "exported/lamp.mtl"));
  EXPECT_TRUE(ran.json()["lost"].empty());
  const auto obj = run("inspect --json " + at("exported/lamp.obj")).json();
  EXPECT_EQ(obj["format"], "OBJ");
  EXPECT_TRUE(obj["unit_m"].is_null());
  EXPECT_TRUE(obj["up"].is_null());
  EXPECT_EQ(obj["triangles"], 10924);
  EXPECT_NEAR(obj["bounds"]["max"][2].get<double>(), 2.52, 0.01) << "prepared: metres, Z up";
  EXPECT_TRUE(obj["warnings"].empty());
  for (const auto& material : obj["materials"])
    for (const auto& texture : material["textures"]) EXPECT_EQ(texture["found"], true) << texture;
  EXPECT_EQ(run("export " + lamp + " quay-lamp " + at("lamp.stl")).exit, 0);
  EXPECT_EQ(run("inspect --json " + at("lamp.stl")).json()["triangles"], 10924);
  for (const char* name : {"lamp.glb", "lamp.gltf", "lamp.dae"}) {
    const auto whole = run("export --json " + lamp + " quay-lamp " + at(name));
    EXPECT_EQ(whole.exit, 0) << name;
    EXPECT_TRUE(whole.json()["lost"].empty()) << name;
    const auto back = run("inspect --json " + at(name)).json();
    EXPECT_EQ(back["triangles"], 10924) << name;
    EXPECT_TRUE(back["warnings"].empty()) << name << back["warnings"];
    const bool collada = std::string(name) == "lamp.dae";
    EXPECT_EQ(back["up"], collada ? "+Z" : "+Y");
    EXPECT_NEAR(back["bounds"]["max"][collada ? 2 : 1].get<double>(), 2.52, 0.01) << name;
  }
  const auto missing = run("export --json " + lamp + " other " + at("x.obj"));
  EXPECT_EQ(missing.exit, 2);
  EXPECT_EQ(missing.json()["error"]["code"], "export.no_model");
  EXPECT_EQ(run("export " + lamp + " quay-lamp " + at("x.doc")).exit, 2);
}

TEST_F(ToolTest, ANewerExportIsComparedBeforeItIsTaken) {
  const std::string lamp = mod("lamplight");
  const fs::path source = root_ / "lamplight/sources/quay-lamp/quay_lamp.glb";
  const auto same = run("newer --json " + lamp + " quay-lamp " + source.string());
  EXPECT_EQ(same.exit, 0);
  EXPECT_TRUE(same.json()["differences"].empty()) << same.json();
  EXPECT_TRUE(same.json()["misfits"].empty());
  // The camera, which a step drops, is called otherwise now: the same letters, so that the file stays whole.
  std::string bytes(base::asText(*base::readFile(source)));
  const std::string from = "\"name\":\"view\"";
  const size_t at = bytes.find(from);
  ASSERT_NE(at, std::string::npos);
  bytes.replace(at, from.size(), "\"name\":\"veiw\"");
  ASSERT_TRUE(base::writeFileAtomic(root_ / "newer.glb", bytes));
  const auto other = run("newer --json " + lamp + " quay-lamp " + this->at("newer.glb")).json();
  ASSERT_EQ(other["misfits"].size(), 1U) << other;
  EXPECT_EQ(other["misfits"][0]["missing"], "view");
  EXPECT_EQ(other["misfits"][0]["proposal"], "veiw");
  EXPECT_EQ(run("newer --json " + lamp + " nobody " + source.string()).json()["error"]["code"],
            "mod.no_source");
  EXPECT_EQ(run("newer --json " + lamp + " quay-lamp").json()["error"]["code"], "newer.no_file");
  // Taken: it lies beside the older one, the step follows, and where it came from is known from now on.
  EXPECT_TRUE(
      run("newer --take --json " + lamp + " quay-lamp " + this->at("newer.glb")).json()["taken"].get<bool>());
  const auto document = [&](const char* path) {
    return base::parseJson(base::asText(*base::readFile(root_ / "lamplight" / path)), path).value();
  };
  EXPECT_EQ(document("sources/quay-lamp/source.json")["file"], "v2/newer.glb");
  EXPECT_EQ(document("sources/quay-lamp/source.json")["older"].size(), 1U);
  EXPECT_NE(document("models/quay-lamp.model.json").dump().find("veiw"), std::string::npos);
  EXPECT_EQ(run("check --json " + lamp).exit, 0);
  EXPECT_TRUE(run("newer --json " + lamp + " quay-lamp").json()["differences"].empty());
}

TEST_F(ToolTest, FilesFoldersAndArchivesAreTakenIn) {
  ASSERT_EQ(run("new " + at("mine") + " --rulebook kelpwick --title Mine").exit, 0);
  fs::create_directories(root_ / "kit");
  ASSERT_TRUE(
      base::writeFileAtomic(root_ / "kit/peg.obj", std::string_view("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")));
  const auto added =
      run("add --json " + at("mine") + " '" RAKUGO_SOURCE_DIR "/examples/downloads/fish_crate.zip' " +
          at("kit") + " " + at("nothing.glb"));
  EXPECT_EQ(added.exit, 2) << "one of them is not there";
  EXPECT_EQ(added.json()["added"].size(), 2U) << added.json();
  EXPECT_EQ(added.json()["errors"].size(), 1U);
  EXPECT_TRUE(fs::exists(root_ / "mine/models/fish-crate.model.json"));
  EXPECT_TRUE(fs::exists(root_ / "mine/objects/peg.object.json"));
  EXPECT_TRUE(run("newer --json " + at("mine") + " fish-crate").json()["differences"].empty());
}

TEST_F(ToolTest, InspectSaysWhatIsInside) {
  const auto ran =
      run("inspect --json '" RAKUGO_SOURCE_DIR "/examples/mods/first-lamp/sources/quay-lamp/quay_lamp.glb'");
  EXPECT_EQ(ran.exit, 0);
  const auto json = ran.json();
  EXPECT_EQ(json["format"], "glTF binary");
  EXPECT_EQ(json["up"], "+Y");
  EXPECT_EQ(json["scene_nodes"], 9);
  EXPECT_EQ(json["cameras"], 1);
  EXPECT_EQ(json["lights"], 1);
  EXPECT_EQ(json["materials"][1]["textures"][0]["found"], false);
  EXPECT_EQ(json["materials"][0]["textures"][0]["found"], true);
  EXPECT_NEAR(json["bounds"]["max"][1].get<double>(), 252.0, 1.0);
}

TEST_F(ToolTest, ABoxIsMeasuredInMetresPartByPart) {
  // Two boxes of 1 x 2 x 3 m, the second without its top.
  const auto put = [&](const char* name, const std::string& text) {
    ASSERT_TRUE(base::writeFileAtomic(root_ / name, std::string_view(text)));
  };
  const std::string vertices = "v 0 0 0\nv 1 0 0\nv 1 2 0\nv 0 2 0\nv 0 0 3\nv 1 0 3\nv 1 2 3\nv 0 2 3\n";
  const std::string sides = "f 4 3 2 1\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n";
  put("boxes.obj", vertices + "o whole\n" + sides + "f 5 6 7 8\no open\n" + sides);
  const auto ran = run("measure --json " + at("boxes.obj"));
  EXPECT_EQ(ran.exit, 0);
  const auto whole = ran.json()["parts"][0], open = ran.json()["parts"][1];
  EXPECT_EQ(whole["name"], "whole");
  EXPECT_EQ(whole["closed"], true);
  EXPECT_NEAR(whole["volume_m3"].get<double>(), 6, 1e-9);
  EXPECT_NEAR(whole["area_m2"].get<double>(), 22, 1e-9);
  EXPECT_EQ(whole["euler"], 2);
  EXPECT_EQ(whole["extents"]["z"], 3.0);
  EXPECT_TRUE(open["volume_m3"].is_null());
  ASSERT_EQ(open["open_loops"].size(), 1U);
  EXPECT_EQ(open["open_loops"][0]["edges"], 4);
  EXPECT_EQ(open["faults"]["open_edges"], 4);
  EXPECT_EQ(open["faults"].size(), 21U);
  EXPECT_EQ(open["pictures"].size(), 2U);
  EXPECT_EQ(open["index_bits"], 16);
  EXPECT_EQ(ran.json()["total"]["shells"], 2);
  EXPECT_EQ(run("measure --json --part open " + at("boxes.obj")).json()["parts"].size(), 1U);
  const auto none = run("measure --json --part lid " + at("boxes.obj"));
  EXPECT_EQ(none.exit, 2);
  EXPECT_EQ(none.json()["error"]["code"], "model.no_part");
  // The same from a mod: the model as its steps leave it.
  const std::string lamplight = mod("lamplight");
  const auto lamp = run("measure --json " + lamplight);
  EXPECT_EQ(lamp.json()["model"], "quay-lamp");
  EXPECT_LT(lamp.json()["total"]["extents"]["z"].get<double>(), 3);

  put("other.obj", vertices + "o whole\n" + sides + "f 5 6 7 8\n");
  const auto compared = run("compare --json " + at("boxes.obj") + " " + at("other.obj"));
  EXPECT_EQ(compared.json()["parts"]["only_a"], base::Json::array({"open"}));
  EXPECT_EQ(run("variants --json " + at("boxes.obj") + " " + at("boxes.obj")).json()["same"], true);
  EXPECT_EQ(run("variants --json " + at("boxes.obj") + " " + at("other.obj")).exit, 1);
  const auto seam = run("seam --json " + at("boxes.obj") + " " + at("boxes.obj"));
  ASSERT_EQ(seam.json()["pairs"].size(), 1U);
  EXPECT_EQ(seam.json()["pairs"][0]["largest_mm"], 0.0);
  EXPECT_EQ(run("prepare " + lamplight + " quay-lamp -o " + at("lamp.glb")).exit, 0);
  EXPECT_EQ(run("inspect --json " + at("lamp.glb")).exit, 0);
}

TEST_F(ToolTest, BonesAreMatchedAndWeightsCounted) {
  const std::string newcomer = mod("newcomer");
  const auto match = run("match --json " + newcomer + " --rulebook kelpwick --kind keeper");
  EXPECT_EQ(match.exit, 1) << "the neck is missing";
  const base::Json slots = match.json()["slots"];
  ASSERT_EQ(slots.size(), 20u);
  for (const base::Json& slot : slots) {
    const bool neck = slot["slot"] == "neck";
    EXPECT_EQ(slot["bone"].is_null(), neck);
    EXPECT_EQ(slot["sure"], !neck);
    EXPECT_EQ(slot["required"], true);
    EXPECT_FALSE(slot["reason"].get<std::string>().empty());
    EXPECT_GE(slot["confidence"].get<double>(), neck ? 0 : 0.5);
    EXPECT_LE(slot["confidence"].get<double>(), 1);
  }
  EXPECT_EQ(slots[6]["bone"], "Figur_Schulter_links");
  EXPECT_EQ(match.json()["surplus"].size(), 5u);
  EXPECT_EQ(match.json()["sides_swapped"], false);
  EXPECT_TRUE(match.json().contains("family"));
  EXPECT_THAT(run("match " + newcomer + " --rulebook kelpwick --kind keeper").out, HasSubstr("Surplus: "));
  // Another maker's has all of them.
  EXPECT_EQ(run("match " + mod("deckhand") + " --rulebook kelpwick --kind keeper").exit, 0);
  for (const char* wrong : {"--rulebook no-game --kind keeper", "--rulebook kelpwick --kind dragon",
                            "--rulebook kelpwick --kind fitting"})
    EXPECT_EQ(run("match --json " + newcomer + " " + wrong).exit, 2) << wrong;
  EXPECT_THAT(run("match --json " + newcomer + " --rulebook kelpwick --kind fitting").json()["error"]["cure"],
              HasSubstr("keeper"));

  const auto weights = run("weights --json --limit 4 " + newcomer);
  EXPECT_EQ(weights.exit, 1);
  EXPECT_EQ(weights.json()["vertices"], 6167);
  EXPECT_EQ(weights.json()["over_limit"], 6167);
  EXPECT_EQ(weights.json()["most_influences"], 6);
  EXPECT_EQ(weights.json()["without_weight"], 0);
  EXPECT_EQ(weights.json()["sum_off"], 0);
  EXPECT_EQ(weights.json()["end_bones"].size(), 5u);
  EXPECT_EQ(run("weights --json " + newcomer).exit, 0) << "without a limit nothing is wrong";
  const auto lamp = run("weights --json " + mod("lamplight"));
  EXPECT_EQ(lamp.exit, 0);
  EXPECT_EQ(lamp.json()["vertices"], 0);
  const auto none = run("match --json " + at("lamplight") + " --rulebook kelpwick --kind keeper");
  EXPECT_EQ(none.exit, 1);
  EXPECT_TRUE(none.json()["slots"][0]["bone"].is_null());
}

TEST_F(ToolTest, CheckCountsAndExitsByWhatStops) {
  const auto first = run("check --json " + mod("first-lamp"));
  EXPECT_EQ(first.exit, 1) << "the game refuses a lamp without a price";
  EXPECT_EQ(first.json()["findings"].size(), 13u);
  const auto findings = first.json()["findings"];
  EXPECT_EQ(findings[0]["outcome"], "refuses_object");
  EXPECT_EQ(findings[0]["reason"], "Kelpwick does not load this object.");
  EXPECT_EQ(findings[1]["mends"][0], "Read lengths as centimetres");
  // Where the origin lies is told with the wrong unit, which moves it.
  ASSERT_EQ(findings[1]["causes"].size(), 1U);
  EXPECT_EQ(findings[findings[1]["causes"][0].get<size_t>()]["check"], "origin.place");
  EXPECT_EQ(run("check " + mod("lamplight")).exit, 0);
  fs::remove(root_ / "lamplight/sources/quay-lamp/quay_lamp.glb");
  const auto broken = run("check " + at("lamplight"));
  EXPECT_EQ(broken.exit, 1);
  EXPECT_THAT(broken.out, HasSubstr("stops"));
}

TEST_F(ToolTest, TheJourneyFromModToGame) {
  const std::string lamp = mod("lamplight");
  const auto built = run("build --json " + lamp + " -o " + at("lamp.rkb"));
  ASSERT_EQ(built.exit, 0) << built.err;
  EXPECT_EQ(built.json()["entries"], 18);
  EXPECT_EQ(run("verify " + at("lamp.rkb")).exit, 0);
  const auto listed = run("list --json " + at("lamp.rkb"));
  EXPECT_EQ(listed.json()["mod"], "lamplight-8w3hxq");
  EXPECT_EQ(listed.json()["entries"].size(), 18u);
  const auto installed = run("install " + at("lamp.rkb") + " --game " + at("game"));
  EXPECT_EQ(installed.exit, 0);
  EXPECT_TRUE(fs::exists(root_ / "game/mods/lamplight-8w3hxq.rkb"));
  EXPECT_TRUE(installed.err.empty()) << installed.err;
}

TEST_F(ToolTest, VerifyRefusesADamagedBundleWithOne) {
  ASSERT_EQ(run("build " + mod("lamplight") + " -o " + at("lamp.rkb")).exit, 0);
  base::Bytes bytes = *base::readFile(root_ / "lamp.rkb");
  bytes[bytes.size() / 3] ^= std::byte{4};
  ASSERT_TRUE(base::writeFileAtomic(root_ / "lamp.rkb", bytes));
  const auto verified = run("verify " + at("lamp.rkb"));
  EXPECT_EQ(verified.exit, 1);
  EXPECT_THAT(verified.err, HasSubstr("damaged"));
  EXPECT_EQ(run("install " + at("lamp.rkb") + " --game " + at("game")).exit, 1);
  EXPECT_FALSE(fs::exists(root_ / "game/mods/lamplight-8w3hxq.rkb"));
}

TEST_F(ToolTest, NewStartsAModThatCanBeChecked) {
  const auto made = run("new " + at("mine") + " --rulebook kelpwick --title 'Sea wall'");
  EXPECT_EQ(made.exit, 0) << made.err;
  const auto checked = run("check --json " + at("mine"));
  EXPECT_EQ(checked.exit, 1);
  EXPECT_EQ(checked.json()["findings"][0]["check"], "object.none");
  EXPECT_EQ(run("new " + at("mine") + " --rulebook kelpwick --title x").exit, 2);
  EXPECT_EQ(run("new " + at("other") + " --rulebook nowhere --title x").exit, 2);
}

TEST_F(ToolTest, UnusableInputExitsWithTwoAndSaysWhy) {
  for (const std::string& arguments :
       {std::string("inspect /no/such/file"), std::string("check /no/such/mod"),
        std::string("list /no/such.rkb"), std::string("verify /no/such.rkb"), std::string("frobnicate"),
        std::string("build"), std::string("")}) {
    const auto ran = run(arguments);
    EXPECT_EQ(ran.exit, 2) << arguments;
    EXPECT_FALSE(ran.err.empty() && ran.out.empty()) << arguments;
  }
  const auto json = run("inspect --json /no/such/file");
  EXPECT_EQ(json.json()["error"]["code"], "file.missing");
}

TEST_F(ToolTest, HelpAndVersionAreEverywhere) {
  for (const char* command :
       {"",          "inspect",  "check",   "build",  "list",        "verify",   "install", "new",
        "uninstall", "plan",     "compare", "copy",   "differences", "rulebook", "checks",  "prepare",
        "measure",   "variants", "seam",    "export", "add",         "newer",    "match",   "weights"})
    EXPECT_EQ(run(std::string(command) + " --help").exit, 0) << command;
  EXPECT_THAT(run("--version").out, HasSubstr("rakugo-tool 0."));
}

TEST_F(ToolTest, AMadeCopyIsAModOfItsOwn) {
  const auto shown = run("copy --show --json '" RAKUGO_SOURCE_DIR "/examples/mods/lamplight' " + at("copy") +
                         " --title 'Storm light'");
  EXPECT_EQ(shown.exit, 0);
  EXPECT_FALSE(fs::exists(root_ / "copy"));
  EXPECT_GT(shown.json()["renames"].size(), 4u);
  EXPECT_EQ(
      run("copy '" RAKUGO_SOURCE_DIR "/examples/mods/lamplight' " + at("copy") + " --title 'Storm light'")
          .exit,
      0);
  const auto checked = run("check --json " + at("copy"));
  EXPECT_EQ(checked.exit, 0);
  EXPECT_TRUE(checked.json()["findings"].empty()) << checked.out;
  EXPECT_THAT(run("differences '" RAKUGO_SOURCE_DIR "/examples/mods/lamplight' " + at("copy")).out,
              HasSubstr("mod.json, /title: \"Lamplight\", there \"Storm light\""));
  const auto sample = run("new " + at("mine") + " --rulebook kelpwick --title 'My post' --sample bollard");
  EXPECT_EQ(sample.exit, 0) << sample.err;
  EXPECT_EQ(run("check " + at("mine")).exit, 0);
  EXPECT_TRUE(fs::exists(root_ / "mine/objects/my-post.object.json"));
}

TEST_F(ToolTest, TheSecondGameIsServedLikeTheFirst) {
  const std::string mod = "'" RAKUGO_SOURCE_DIR "/examples/mods/footstool'";
  EXPECT_EQ(run("build " + mod + " -o " + at("stool.zip")).exit, 0);
  EXPECT_EQ(run("verify " + at("stool.zip")).exit, 0);
  EXPECT_THAT(run("list " + at("stool.zip")).out, HasSubstr("models/stool.glb"));
  EXPECT_EQ(run("install " + at("stool.zip") + " --game " + at("game")).exit, 0);
  const auto installed = run("list --json --game " + at("game"));
  EXPECT_EQ(installed.json()["installed"][0]["title"], "Footstool");
  EXPECT_EQ(run("uninstall footstool-5d9rtc --game " + at("game")).exit, 0);
  EXPECT_TRUE(run("list --json --game " + at("game")).json()["installed"].empty());
  EXPECT_EQ(run("uninstall footstool-5d9rtc --game " + at("game")).exit, 2);
}

// The shapes that SARIF 2.1.0 (sections 3.13 to 3.27) and the JUnit schema ask for; the window's findings in
// other programs' words.
TEST_F(ToolTest, FindingsAreToldInOpenFormats) {
  const std::string mod = "'" RAKUGO_SOURCE_DIR "/examples/mods/first-lamp'";
  const auto sarif = run("check --format sarif " + mod).json();
  EXPECT_EQ(sarif["version"], "2.1.0");
  const auto& one = sarif["runs"][0];
  const auto& rules = one["tool"]["driver"]["rules"];
  ASSERT_EQ(one["results"].size(), 13u);
  for (const auto& result : one["results"]) {
    EXPECT_EQ(rules[result["ruleIndex"].get<size_t>()]["id"], result["ruleId"]);
    EXPECT_THAT((std::vector<std::string>{"error", "warning", "note"}),
                testing::Contains(result["level"].get<std::string>()));
    EXPECT_FALSE(result["message"]["text"].get<std::string>().empty());
    const std::string uri = result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"];
    EXPECT_TRUE(fs::exists(fs::path(RAKUGO_SOURCE_DIR "/examples/mods/first-lamp") / uri)) << uri;
  }
  const std::string junit = run("check --format junit " + mod).out;
  EXPECT_THAT(junit, HasSubstr("<?xml version=\"1.0\""));
  EXPECT_THAT(junit, HasSubstr("<testsuite name=\"First lamp\" tests="));
  EXPECT_THAT(junit, HasSubstr("<failure message=\"The lengths look like centimetres"));
  EXPECT_EQ(run("check --format poem " + mod).exit, 2);
}

TEST_F(ToolTest, AModelIsPosedInTheGamesMovements) {
  const std::string newcomer = mod("newcomer");
  const auto walk = run("pose --json " + newcomer + " boatswain --movement walk --at 0.3").json();
  EXPECT_EQ(walk["movement"], "walk");
  EXPECT_NEAR(walk["scale"].get<double>(), 1, 0.01);
  ASSERT_EQ(walk["slots"].size(), 20u);
  std::map<std::string, base::Json> slots;
  for (const auto& slot : walk["slots"]) slots[slot["slot"].get<std::string>()] = slot;
  // The foot that stands: on the ground, where the treadmill has carried it.
  EXPECT_EQ(slots["foot.port"]["bone"], "Figur_Fuss_links");
  EXPECT_NEAR(slots["foot.port"]["position"][0].get<double>(), 0.42 - 1.4 * 0.3 - 0.02, 0.01);
  EXPECT_NEAR(slots["foot.port"]["position"][2].get<double>(), 0.09, 0.005);
  double length = 0;
  for (const auto& c : slots["hand.port"]["turn"]) length += c.get<double>() * c.get<double>();
  EXPECT_NEAR(length, 1, 1e-4);
  EXPECT_TRUE(slots["hand.port"]["degrees_off"].is_null()) << "the game does not find it";
  EXPECT_TRUE(slots["neck"]["bone"].is_null());
  EXPECT_THAT(run("pose " + newcomer + " boatswain --movement crouch --at 1.2").out,
              HasSubstr("not called as"));
  const auto unknown = run("pose --json " + newcomer + " boatswain --movement swim");
  EXPECT_EQ(unknown.exit, 2);
  EXPECT_THAT(unknown.json()["error"]["cure"], HasSubstr("walk"));
  EXPECT_EQ(run("pose " + newcomer + " nobody --movement walk").exit, 2);
  EXPECT_EQ(run("pose " + mod("lamplight") + " quay-lamp --movement walk").exit, 2)
      << "a lamp has no skeleton";
  EXPECT_EQ(run("pose " + newcomer + " boatswain --movement walk --at -1").exit, 2);
}

TEST_F(ToolTest, AFamilyOfBonesIsKnown) {
  const std::string newcomer = mod("newcomer");
  const std::string ask = "match --json " + newcomer + " --rulebook kelpwick --kind keeper";
  setenv("XDG_DATA_HOME", (root_ / "data").c_str(), 1);
  const base::Json found = run(ask).json();
  EXPECT_TRUE(found["family"].is_null());
  base::Json bones = base::Json::array();
  for (const auto& slot : found["slots"])
    if (!slot["bone"].is_null()) bones.push_back(slot["bone"]);
  for (const auto& name : found["surplus"]) bones.push_back(name);
  const base::Json habit{{"format", 1},
                         {"name", "Imke's"},
                         {"rulebook", "kelpwick"},
                         {"steps", base::Json::array()},
                         {"bones", bones}};
  ASSERT_TRUE(base::makeFolder(root_ / "data/rakugo/habits"));
  ASSERT_TRUE(base::writeFileAtomic(root_ / "data/rakugo/habits/imke-s.habit.json", base::jsonText(habit)));
  EXPECT_EQ(run(ask).json()["family"], "Imke's");
  EXPECT_THAT(run("match " + newcomer + " --rulebook kelpwick --kind keeper").out,
              HasSubstr("Its bones are those of \"Imke's\""));
  EXPECT_TRUE(run("match --json " + mod("deckhand") + " --rulebook kelpwick --kind keeper")
                  .json()["family"]
                  .is_null());
  unsetenv("XDG_DATA_HOME");
}

TEST_F(ToolTest, QtIsNotLinked) {
  const auto ran = std::system("ldd '" RAKUGO_BIN_DIR "/rakugo-tool' | grep -qi qt");
  EXPECT_NE(WEXITSTATUS(ran), 0);
}

TEST_F(ToolTest, DemoDataIsWhatTheGeneratorDraws) {
  // The icon is taken in the bench; the generator keeps it.
  fs::create_directories(root_ / "examples/mods/lamplight/icons");
  fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight/icons/quay-lamp.png",
           root_ / "examples/mods/lamplight/icons/quay-lamp.png");
  // The keeper's ghost is drawn from the rulebook's own bones.
  fs::create_directories(root_ / "rulebooks/kelpwick");
  fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick/rulebook.json",
           root_ / "rulebooks/kelpwick/rulebook.json");
  ASSERT_EQ(std::system(("'" RAKUGO_BIN_DIR "/make-demo' " + root_.string()).c_str()), 0);
  for (const char* part : {"examples/mods", "examples/downloads", "rulebooks", "src/standin/data"})
    for (const std::string& file : base::listFiles(root_ / part))
      EXPECT_EQ(*base::readFile(root_ / part / file),
                *base::readFile(fs::path(RAKUGO_SOURCE_DIR) / part / file))
          << file;
}

}  // namespace
}  // namespace rakugo
