// What is worked out of a source's unit and direction, on the demo's lamp and on files that say it.
#include "check/proposals.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "formats/export.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

using testing::Contains;
using testing::HasSubstr;
using testing::IsEmpty;

class Proposals : public testing::Test {
 protected:
  // The demo's raw lamp as another format: the text of a COLLADA file, after a change.
  std::filesystem::path asCollada(const std::function<void(std::string&)>& change) {
    const auto root = own_.copyOfMod("first-lamp", "dae");
    const auto folder = root / "sources/quay-lamp";
    auto read = formats::readModelFile(folder / "quay_lamp.glb");
    auto out = formats::exportModel(read->model, "quay_lamp.dae");
    std::string text(base::asText(out->files.at("quay_lamp.dae")));
    change(text);
    EXPECT_TRUE(base::writeFileAtomic(folder / "quay_lamp.dae", text));
    return root;
  }
  static std::shared_ptr<const Examination> examineCollada(const std::filesystem::path& root) {
    return test::examined(root, [](mod::ModState& state) {
      mod::SourceDoc& doc = state.sources.at("quay-lamp");
      doc.file = "quay_lamp.dae";
      doc.files.clear();
    });
  }
  test::TestFolder own_;
};

TEST_F(Proposals, SizesOutweighWhatAStandardAssumes) {
  const auto x = test::examined(own_.copyOfMod("first-lamp", "a"));
  const auto& unit = x->context.models.at("quay-lamp").unit;
  ASSERT_TRUE(unit);
  EXPECT_EQ(unit->title, "centimetres");
  EXPECT_FALSE(unit->taken);
  EXPECT_FALSE(unit->from_file);
  EXPECT_EQ(unit->confidence, Confidence::likely) << "glTF says metres";
  EXPECT_THAT(unit->against, Contains(HasSubstr("metres")));
  EXPECT_THAT(unit->reasons, Contains(HasSubstr("fitting")));
  EXPECT_DOUBLE_EQ(unit->factor, 0.01);
  // Taken, it is told as taken; and nothing else is proposed then.
  mod::ModState state = *x->mod;
  unit->mend.apply(state);
  Examiner examiner(x->folder, x->book);
  const auto after = std::move(examiner.examine(std::make_shared<const mod::ModState>(state))).value();
  EXPECT_TRUE(after->context.models.at("quay-lamp").unit->taken);
  EXPECT_EQ(after->context.models.at("quay-lamp").unit->title, "centimetres");
}

TEST_F(Proposals, AFileThatSaysItsUnitAndAgreesIsSure) {
  const auto root = asCollada([](std::string& text) {
    const std::string metre = "meter=\"1\"";
    text.replace(text.find(metre), metre.size(), "meter=\"0.01\"");
  });
  const auto x = examineCollada(root);
  const auto& unit = x->context.models.at("quay-lamp").unit;
  ASSERT_TRUE(unit);
  EXPECT_EQ(unit->title, "centimetres");
  EXPECT_TRUE(unit->from_file);
  EXPECT_EQ(unit->confidence, Confidence::sure);
  EXPECT_THAT(unit->against, IsEmpty());
  EXPECT_TRUE(std::any_of(x->findings.begin(), x->findings.end(), [](const Finding& f) {
    return f.sentence.find("The file says") != std::string::npos;
  }));
}

TEST_F(Proposals, AxesAreTakenFromTheFileAndTheDirectionFromTheExample) {
  const auto x = test::examined(own_.copyOfMod("first-lamp", "b"));
  const auto& axes = x->context.models.at("quay-lamp").axes;
  ASSERT_TRUE(axes);
  EXPECT_THAT(axes->title, HasSubstr("+Y up"));
  EXPECT_TRUE(axes->from_file);
  EXPECT_THAT(axes->reasons, Contains(HasSubstr("is up")));
  EXPECT_FALSE(axes->taken);
  mod::ModState state = *x->mod;
  axes->mend.apply(state);
  Examiner examiner(x->folder, x->book);
  const auto after = std::move(examiner.examine(std::make_shared<const mod::ModState>(state))).value();
  EXPECT_TRUE(after->context.models.at("quay-lamp").axes->taken);
}

TEST_F(Proposals, AUnitThatAPersonChoseStandsWhileItIsPlausible) {
  const auto x = test::examined(own_.copyOfMod("chandlery", "c"));
  const auto& crate = x->context.models.at("fish-crate").unit;
  ASSERT_TRUE(crate);
  EXPECT_EQ(crate->title, "centimetres");
  EXPECT_TRUE(crate->taken);
  EXPECT_THAT(crate->reasons, Contains(HasSubstr("step of yours")));
}

TEST_F(Proposals, WhatMayLieOnItsSideIsMeasuredAsIfItStood) {
  // As written the stone would be 25 cm high, too low for its kind; on its other side it fits.
  const auto x = test::examined(own_.copyOfMod("chandlery", "d"));
  const auto& stone = x->context.models.at("luck-stone").unit;
  ASSERT_TRUE(stone);
  EXPECT_EQ(stone->title, "millimetres");
  EXPECT_FALSE(stone->taken);
}

TEST_F(Proposals, ASourceWithoutAuthorOrLicenceIsFound) {
  const auto credits = [&](const char* folder, const std::function<void(mod::SourceDoc&)>& change) {
    const auto x = test::examined(own_.copyOfMod("lamplight", folder),
                                  [&](mod::ModState& state) { change(state.sources.at("quay-lamp")); });
    std::vector<std::string> out;
    for (const Finding& f : x->findings)
      if (f.check == "credit.missing") out.push_back(f.sentence + " " + f.place.field);
    return out;
  };
  EXPECT_THAT(credits("whole", [](mod::SourceDoc&) {}), IsEmpty());
  EXPECT_THAT(credits("unlicensed", [](mod::SourceDoc& doc) { doc.licence.clear(); }),
              testing::ElementsAre(
                  "Nothing says of the source quay-lamp under which licence it may be shared. licence"));
  EXPECT_THAT(credits("unsigned", [](mod::SourceDoc& doc) { doc.author.clear(), doc.licence.clear(); }),
              testing::ElementsAre(HasSubstr("who made it and under which licence")));
}

}  // namespace
}  // namespace rakugo::check
