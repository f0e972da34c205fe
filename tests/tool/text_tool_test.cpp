// `text` on the command line: each test looks at what was saved, checked and built.
#include <gmock/gmock.h>

#include "bundle/bundle_reader.h"
#include "bundle/records.h"
#include "mod/store.h"
#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

using test::ToolTest;
using testing::HasSubstr;
using testing::Not;

class TextToolTest : public ToolTest {
 protected:
  const mod::ModState saved() { return std::move(mod::loadMod(root_ / "tidewater")).value(); }
};

TEST_F(TextToolTest, TextsAreWrittenCheckedBuiltAndFollowTheirObject) {
  const std::string m = mod("tidewater");
  ASSERT_EQ(run("set " + m + " dinghy engine_text text/dinghy/engine").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("which is not there in English"));
  ASSERT_EQ(run("text set " + m + " text/dinghy/engine en \"It has oars.\"").exit, 0);
  ASSERT_EQ(run("text set " + m + " text/dinghy/hull de \"Aus Eiche.\"").exit, 0);
  EXPECT_THAT(run("text set " + m + " text/dinghy/engine fr Non").err, HasSubstr("It speaks en, de and nb"));
  const std::string checked = run("check " + m).out;
  EXPECT_THAT(checked, Not(HasSubstr("which is not there in English")));
  EXPECT_THAT(checked, HasSubstr("A text is not there in Deutsch: text/dinghy/engine"));
  EXPECT_THAT(checked, HasSubstr("Nothing names the text \"text/dinghy/hull\""));
  EXPECT_THAT(run("text list " + m).out, HasSubstr("  en: It has oars."));
  const base::Json all = run("text list --json " + m).json();
  ASSERT_EQ(all.size(), 2U);
  EXPECT_EQ(all[0]["named_by"], "dinghy");
  EXPECT_EQ(all[1]["texts"]["de"], "Aus Eiche.");
  // The object gets another name: the id follows, on the card and in the file.
  ASSERT_EQ(run("object rename " + m + " dinghy skiff").exit, 0);
  EXPECT_EQ(saved().objects.at("skiff").card["engine_text"], "text/skiff/engine");
  EXPECT_EQ(saved().texts.at("en").texts.at("text/skiff/engine"), "It has oars.");
  ASSERT_EQ(run("text rename " + m + " text/skiff/engine engine-words").exit, 0);
  EXPECT_EQ(saved().objects.at("skiff").card["engine_text"], "engine-words");
  ASSERT_EQ(run("build " + m + " -o " + at("out.rkb")).exit, 0);
  const auto bundle = bundle::Bundle::open(root_ / "out.rkb");
  const auto texts = bundle::decodeTexts(*bundle->read(*bundle->find("text/en")), "t");
  EXPECT_EQ(texts->texts.at("engine-words"), "It has oars.");
  EXPECT_EQ(bundle->find("text/de"), nullptr) << "what nothing names is not built";
  ASSERT_EQ(run("text remove " + m + " text/skiff/hull").exit, 0);
  EXPECT_EQ(saved().texts.count("de"), 0U);
  EXPECT_FALSE(std::filesystem::exists(root_ / "tidewater/texts/de.json"));
  EXPECT_EQ(run("text remove " + m + " nothing").exit, 2);
  EXPECT_EQ(run("text rename " + m + " nothing something").exit, 2);
}

TEST_F(TextToolTest, AnIdThatIsNearlyRightIsMended) {
  const std::string m = mod("tidewater");
  ASSERT_EQ(run("text set " + m + " text/dinghy/engine en \"It has oars.\"").exit, 0);
  ASSERT_EQ(run("set " + m + " dinghy engine_text text/dinghy/engin").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("Name the text text/dinghy/engine"));
  ASSERT_EQ(run("mend --sure " + m).exit, 0);
  EXPECT_EQ(saved().objects.at("dinghy").card["engine_text"], "text/dinghy/engine");
}

}  // namespace
}  // namespace rakugo
