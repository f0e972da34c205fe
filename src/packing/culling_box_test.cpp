// The box that a game culls by: what is built says it, and nothing leaves it.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "bundle/bundle_reader.h"
#include "bundle/bundle_writer.h"
#include "packing/build_package.h"
#include "prepare/objects/seen_box.h"
#include "scene/rest_pose.h"
#include "support/examined.h"

namespace rakugo::packing {
namespace {

namespace fs = std::filesystem;

bundle::ObjectRecord builtObject(const char* mod, const char* object,
                                 const std::function<void(mod::ModState&)>& change = nullptr) {
  const auto x = test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / mod, change);
  BuildOptions options;
  options.despite_findings = true;
  const auto bytes = buildPackage(*x, options);
  EXPECT_TRUE(bytes) << bytes.error().text();
  const auto bundle = bundle::Bundle::parse(*bytes, "a.rkb");
  for (const base::Error& fault : bundle->verify()) ADD_FAILURE() << fault.text();
  return *bundle::decodeObject(*bundle->read(*bundle->find(std::string("object/") + object)), "o");
}

TEST(CullingBox, IsSaidWhereSomethingMovesAndNotWhereNothingDoes) {
  EXPECT_FALSE(builtObject("lamplight", "quay-lamp").seen);
  const bundle::ObjectRecord keeper = builtObject("deckhand", "deckhand");
  ASSERT_TRUE(keeper.seen);
  EXPECT_LT((*keeper.seen)[0][2], keeper.bounds_min[2]);
  EXPECT_GT((*keeper.seen)[1][2], keeper.bounds_max[2]);
  const auto turning = builtObject("slipway", "tug", [](mod::ModState& s) {
    mod::PieceDoc turn{"turn", "", {0, 0, 0}, {0, 0, 0, 1}, "turning-part"};
    turn.sort = "moving";
    turn.values = base::Json{{"part", "tug/funnel"}};
    s.objects.at("tug").pieces.push_back(turn);
  });
  ASSERT_TRUE(turning.seen);
  EXPECT_LT((*turning.seen)[0][2], turning.bounds_min[2]) << "the funnel goes below as well";
}

TEST(CullingBox, HoldsWhateverBonesCanDo) {
  for (const char* name : {"deckhand", "lampbearer"}) {
    const auto x = test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name);
    const prepare::ModelOf models = [&](const std::string& model) -> const scene::Model* {
      const auto found = x->context.models.find(model);
      return found != x->context.models.end() ? found->second.prepared.model.get() : nullptr;
    };
    for (const auto& [object_name, object] : x->mod->objects) {
      const geometry::Bounds box = prepare::seenBox(*x->book, object, models);
      const scene::Model& model = *models(mod::firstModelPiece(object)->model);
      EXPECT_TRUE(box.contains(scene::boundsOf(model))) << object_name;
      // Every bone turned at random, again and again.
      std::mt19937 random(4);
      std::uniform_real_distribution<float> any(-1, 1);
      for (int i = 0; i < 40; ++i) {
        scene::Model posed = model;
        for (const scene::NodeIndex joint : scene::usedJoints(model))
          posed.node(joint).local.turn =
              glm::normalize(glm::quat(any(random), any(random), any(random), any(random)));
        const geometry::Bounds now = scene::boundsOf(posed);
        for (int c = 0; c < 3; ++c) {
          EXPECT_GE(now.min[c], box.min[c] - 1e-3F) << object_name << " " << i;
          EXPECT_LE(now.max[c], box.max[c] + 1e-3F) << object_name << " " << i;
        }
      }
    }
  }
}

}  // namespace
}  // namespace rakugo::packing
