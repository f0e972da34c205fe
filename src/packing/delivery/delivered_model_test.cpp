// Models as a game wants them: read back from its files, they are where its description says.
#include "packing/delivery/delivered_model.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "formats/export.h"
#include "formats/read_model.h"
#include "support/examined.h"

namespace rakugo::packing {
namespace {

using geometry::Axis;
using testing::HasSubstr;

std::shared_ptr<const check::Examination> modOf(const char* name) {
  return test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name);
}

TEST(ModelAsWanted, HasThePartsAndNamesThatTheGameLooksFor) {
  const auto x = modOf("slipway");
  const check::ModelState& tug = x->context.models.at("tug");
  ModelWanted wanted;
  wanted.parts = {"screw_1"};
  wanted.at_own_origin = true;
  const auto screw = modelAsWanted(*tug.prepared.model, tug.kind, wanted);
  ASSERT_TRUE(screw);
  EXPECT_EQ(scene::countsOf(*screw).parts, 1U);
  EXPECT_EQ(screw->materials.size(), 1U) << "what nothing wears is not there";
  const geometry::Bounds box = scene::boundsOf(*screw);
  EXPECT_LT(glm::length(box.center()), 0.2F) << "at its own origin";
  wanted.parts = {"hull", "tug/mast"};
  wanted.at_own_origin = false;
  const auto both = modelAsWanted(*tug.prepared.model, tug.kind, wanted);
  ASSERT_TRUE(both);
  EXPECT_EQ(scene::countsOf(*both).parts, 2U);
  EXPECT_GT(scene::boundsOf(*both).size().y, 8) << "where they stand in the model";
  wanted.parts = {"hul"};
  EXPECT_THAT(modelAsWanted(*tug.prepared.model, tug.kind, wanted).error().cure, HasSubstr("hull"));
  // Materials are called what the game reads for their role; nothing else is.
  scene::Model model = *tug.prepared.model;
  model.materials[0].role = "hull-paint";
  model.materials[1].role = "hull-paint";
  model.materials[2].name = tug.kind->roleWord("hull-paint");
  const auto named = modelAsWanted(model, tug.kind, {});
  ASSERT_TRUE(named);
  const std::string word = tug.kind->roleWord("hull-paint");
  EXPECT_EQ(named->materials[0].name, word);
  EXPECT_EQ(named->materials[1].name, word + "-2");
  EXPECT_EQ(named->materials[2].name, word + "-3");
  for (size_t i : {0U, 1U}) model.materials[i].role = model.materials[i].name = "";
  const auto bare = modelAsWanted(model, tug.kind, {});
  EXPECT_EQ(bare->materials[0].name, "material");
  EXPECT_EQ(bare->materials[1].name, "material-2");
}

TEST(ModelAsWanted, IsReadBackInTheCoordinatesOfTheGame) {
  const auto x = modOf("tidewater");
  const check::ModelState& state = x->context.models.at("dinghy");
  const scene::Model& dinghy = *state.prepared.model;
  const geometry::Bounds box = scene::boundsOf(dinghy);
  ModelWanted wanted;
  // Kelpwick has Z up and X forward; the other game Y up, Z forward, left-handed, in centimetres.
  wanted.space = scene::spaceChange(Axis::plus_z, Axis::plus_x, Axis::plus_y, Axis::plus_z, false, 0.01);
  wanted.clockwise = true;
  wanted.v_up = true;
  const auto made = modelAsWanted(dinghy, state.kind, wanted);
  ASSERT_TRUE(made);
  const auto files = formats::exportModel(*made, "dinghy.obj");
  ASSERT_TRUE(files);
  const std::string obj(base::asText(files->files.at("dinghy.obj")));
  EXPECT_THAT(obj, HasSubstr("usemtl " + state.kind->roleWord("hull-paint")));
  const auto read = formats::readModel(files->files.at("dinghy.obj"), "dinghy.obj",
                                       [&](const std::string& name) -> base::Result<base::Bytes> {
                                         const auto found = files->files.find(name);
                                         if (found == files->files.end())
                                           return base::Error{"none", name, {}, {}};
                                         return found->second;
                                       });
  ASSERT_TRUE(read) << read.error().text();
  const geometry::Bounds there = scene::boundsOf(read->model);
  EXPECT_NEAR(there.size().z, box.size().x * 100, 0.01F);
  EXPECT_NEAR(there.size().y, box.size().z * 100, 0.01F);
  EXPECT_NEAR(there.size().x, box.size().y * 100, 0.01F);
  EXPECT_NEAR(there.max.z, box.max.x * 100, 0.01F) << "the bow points forward";
  EXPECT_NEAR(there.min.x, -box.max.y * 100, 0.01F) << "what is left has the opposite sign";
}

}  // namespace
}  // namespace rakugo::packing
