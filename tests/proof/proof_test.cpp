// That one file adds a step, a check, a key of rulebooks, a packager: each is seen wherever the ones that
// come with Rakugo are.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <filesystem>

#include "base/files.h"
#include "check/examiner.h"
#include "mod/store.h"
#include "packing/build_package.h"
#include "packing/install.h"
#include "proof/glitter_key.h"
#include "proof/parcel_packager.h"
#include "proof/spin_step.h"
#include "proof/square_check.h"
#include "rulebook/key.h"
#include "support/applied_steps.h"
#include "support/test_folder.h"
#include "tool/command_list.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

class ProofTest : public testing::Test {
 protected:
  static void SetUpTestSuite() {
    setenv("RAKUGO_RULEBOOKS", RAKUGO_SOURCE_DIR "/rulebooks", 1);
    prepare::addStepKind(proof::spinStep());
    check::addCheck(proof::squareCheck());
    packing::addPackager(proof::parcelPackager());
    rulebook::addRulebookKey("kind", proof::glitterKey());
    check::addCheck(proof::glitterCheck());
  }
  // Runs the tool in this process.
  static std::pair<int, std::string> run(std::vector<std::string> arguments) {
    arguments.insert(arguments.begin(), "rakugo-tool");
    std::vector<const char*> argv;
    for (const std::string& one : arguments) argv.push_back(one.c_str());
    tool::Tool tool;
    tool::addAllCommands(tool);
    testing::internal::CaptureStdout();
    const int exit = tool.run(static_cast<int>(argv.size()), argv.data());
    std::fflush(stdout);
    return {exit, testing::internal::GetCapturedStdout()};
  }
  std::string mod(const char* name) {
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name, own_.path() / name,
             fs::copy_options::recursive);
    fs::remove_all(own_.path() / name / "build");
    return (own_.path() / name).string();
  }
  // A folder with one rulebook, whose game takes packages of that sort.
  fs::path booksThatAskFor(const char* packaging) {
    return booksWith([&](base::Json& json) { json["packaging"] = packaging; });
  }
  fs::path booksWith(const std::function<void(base::Json&)>& change) {
    const fs::path books = own_.path() / "books", book = books / "kelpwick/rulebook.json";
    fs::remove_all(books);
    fs::create_directories(books);
    fs::copy(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks/kelpwick", books / "kelpwick",
             fs::copy_options::recursive);
    auto json = *base::parseJson(base::asText(*base::readFile(book)), "rulebook.json");
    change(json);
    EXPECT_TRUE(base::writeFileAtomic(book, base::jsonText(json)));
    return books;
  }
  test::TestFolder own_;
};

TEST_F(ProofTest, AStepIsInTheToolTheSentenceTheDocumentAndTheModel) {
  const std::string folder = mod("lamplight");
  EXPECT_THAT(run({"step", "kinds"}).second, HasSubstr("quarters: a whole number, -3 to 3"));
  EXPECT_THAT(prepare::stepsMarkdown(),
              HasSubstr("| `spin_part` | Spin `part` by `quarters` quarters about its own `axis`."));
  const auto [exit, said] =
      run({"step", "add", folder, "quay-lamp", "spin_part", "part=quay_lamp", "quarters=2", "axis=z"});
  EXPECT_EQ(exit, 0);
  EXPECT_THAT(said, HasSubstr("Spin quay_lamp by 2 quarters about its own z  (1 part)"));
  EXPECT_EQ(run({"step", "add", folder, "quay-lamp", "spin_part", "quarters=7"}).first, 2)
      << "beyond its range";
  // The words that a window lets one change.
  const auto state = mod::loadMod(folder);
  const auto& steps = state->models.at("quay-lamp").steps;
  const auto own =
      std::find_if(steps.begin(), steps.end(), [](const auto& s) { return s.kind == "spin_part"; });
  ASSERT_NE(own, steps.end());
  std::map<std::string, prepare::Editor> editors;
  for (const auto& word : prepare::sentence(*own, nullptr, nullptr))
    if (!word.value_key.empty()) editors[word.value_key] = word.editor;
  EXPECT_EQ(editors, (std::map<std::string, prepare::Editor>{{"part", prepare::Editor::one},
                                                             {"quarters", prepare::Editor::number},
                                                             {"axis", prepare::Editor::one}}));
  scene::Model model = test::modelOf(test::cutCube(1));
  EXPECT_EQ(test::applyStep(model, "spin_part", base::Json{{"part", "block"}}).state,
            prepare::StepState::good);
  EXPECT_NEAR(std::abs(model.node(scene::NodeIndex(0)).local.turn.z), 0.7071F, 1e-3F);
}

TEST_F(ProofTest, ACheckIsInTheReportTheListAndTheDocument) {
  const std::string folder = mod("slipway");
  EXPECT_THAT(run({"checks"}).second, HasSubstr("size.square"));
  EXPECT_THAT(check::checksDocument(), HasSubstr("| `size.square` | tidy | shape |"));
  EXPECT_EQ(check::findCheck("size.square")->station, check::Station::shape);
  EXPECT_THAT(run({"check", folder}).second, HasSubstr("quay-block is as wide as it is long."));
}

TEST_F(ProofTest, ARulebookKeyIsReadValidatedDocumentedInTheSchemaAndHeldByItsCheck) {
  EXPECT_THAT(run({"rulebook", "keys"}).second,
              HasSubstr("glitter              a whole number from 0 to 9 (parts)"));
  EXPECT_THAT(
      rulebook::keysMarkdown(),
      HasSubstr("| `glitter` | a whole number from 0 to 9 (parts) |  | Parts that may glitter at once. | "
                "`parts.glitter` |"));
  const base::Json schema = rulebook::rulebookSchema();
  EXPECT_EQ(schema["$defs"]["kind"]["properties"]["glitter"]["maximum"], 9.0);
  // Slips are told like those of any other key.
  const auto told = [&](const std::function<void(base::Json&)>& change) {
    return run({"rulebook", "check", "--json", (booksWith(change) / "kelpwick").string()}).second;
  };
  EXPECT_THAT(told([](base::Json& book) { book["kinds"][0]["glitter"] = 12; }),
              testing::AllOf(HasSubstr("/kinds/0/glitter"), HasSubstr("\"line\"")));
  EXPECT_THAT(told([](base::Json& book) { book["kinds"][0]["sparkle"] = 1; }),
              HasSubstr("Is \\\"glitter\\\" meant?"));
  const fs::path books = booksWith([](base::Json& book) { book["kinds"][0]["glitter"] = 0; });
  EXPECT_EQ(run({"rulebook", "check", (books / "kelpwick").string()}).first, 0);
  setenv("RAKUGO_RULEBOOKS", books.c_str(), 1);
  EXPECT_THAT(run({"check", mod("lamplight")}).second, HasSubstr("parts; 0 may glitter."));
  setenv("RAKUGO_RULEBOOKS", RAKUGO_SOURCE_DIR "/rulebooks", 1);
}

TEST_F(ProofTest, APackagerBuildsVerifiesListsInstallsAndIsTakenOut) {
  // A game that takes parcels.
  const fs::path books = booksThatAskFor("parcel");
  EXPECT_EQ(run({"rulebook", "check", (books / "kelpwick").string()}).first, 0);
  setenv("RAKUGO_RULEBOOKS", books.c_str(), 1);
  const std::string folder = mod("lamplight");
  EXPECT_THAT(run({"plan", folder}).second, HasSubstr("object/quay-lamp"));
  const auto [exit, said] = run({"build", folder});
  EXPECT_EQ(exit, 0) << said;
  const std::string card = mod::loadMod(folder)->card.id, file = folder + "/build/" + card + ".parcel";
  ASSERT_TRUE(fs::exists(file)) << said;
  EXPECT_EQ(run({"verify", file}).first, 0);
  EXPECT_THAT(run({"list", file}).second, HasSubstr("material/quay-lamp/"));
  EXPECT_THAT(run({"build", folder}).second, HasSubstr("as they were")) << "the same cache serves it";
  const std::string game = (own_.path() / "game").string();
  EXPECT_EQ(run({"install", file, "--game", game}).first, 0);
  EXPECT_THAT(run({"list", "--game", game}).second, HasSubstr(card + ".parcel"));
  EXPECT_EQ(run({"uninstall", card, "--game", game}).first, 0);
  // A damaged byte is found.
  auto bytes = *base::readFile(file);
  bytes[bytes.size() - 3] ^= std::byte{1};
  ASSERT_TRUE(base::writeFileAtomic(file, bytes));
  EXPECT_EQ(run({"verify", file}).first, 1);
  setenv("RAKUGO_RULEBOOKS", RAKUGO_SOURCE_DIR "/rulebooks", 1);
}

TEST_F(ProofTest, APackagerThatIsNotThereIsTold) {
  const fs::path books = booksThatAskFor("crate");
  const auto [exit, said] = run({"rulebook", "check", "--json", (books / "kelpwick").string()});
  EXPECT_EQ(exit, 1);
  EXPECT_THAT(said, HasSubstr("crate"));
  setenv("RAKUGO_RULEBOOKS", books.c_str(), 1);
  EXPECT_EQ(run({"build", mod("lamplight")}).first, 2);
  setenv("RAKUGO_RULEBOOKS", RAKUGO_SOURCE_DIR "/rulebooks", 1);
}

}  // namespace
}  // namespace rakugo
