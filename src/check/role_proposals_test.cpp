#include "check/role_proposals.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/examined.h"
#include "support/kelpwick.h"

namespace rakugo::check {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

// A model whose materials have these names; each is worn by a part of its own.
ModelState wearing(const rulebook::Kind& kind, const std::vector<std::pair<std::string, std::string>>& worn) {
  auto model = std::make_shared<scene::Model>();
  for (const auto& [material, part] : worn) {
    auto mesh = std::make_shared<scene::Mesh>();
    scene::Primitive& p = mesh->primitives.emplace_back();
    p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
    p.indices = {0, 1, 2};
    p.material = scene::MaterialIndex(model->materials.size());
    scene::Material& m = model->materials.emplace_back();
    m.name = material;
    // No role's colour.
    m.base_color = {0, 1, 0, 1};
    scene::Node& node = model->nodes.emplace_back();
    node.name = part;
    node.mesh = scene::MeshIndex(model->meshes.size());
    model->meshes.push_back(std::move(mesh));
    model->roots.push_back(scene::NodeIndex(model->nodes.size() - 1));
  }
  scene::assignKeys(*model);
  ModelState out;
  out.kind = &kind;
  out.prepared.model = std::move(model);
  return out;
}

class RoleProposals : public testing::Test {
 protected:
  std::vector<std::string> proposed(const ModelState& state) const {
    std::vector<std::string> out;
    for (const RoleProposal& one : proposeRoles(context_, state))
      out.push_back(one.material + " " + one.role);
    return out;
  }
  std::shared_ptr<const rulebook::Rulebook> book_ = test::kelpwick();
  const rulebook::Kind& kind(const char* id) const { return *book_->findKind(id); }
  Context context_;
};

TEST_F(RoleProposals, ReadNamesInManyLanguagesAndScripts) {
  for (const char* name : {"glass", "LampGlass_02"})
    EXPECT_FALSE(proposed(wearing(kind("craft"), {{name, "a"}, {"x", "b"}})).empty()) << name;
  for (const char* name :
       {"Glasscheibe", "verre_01", "Vidrio", "SZKŁO", "стекло окна", "ガラス", "玻璃", "유리"})
    EXPECT_THAT(proposed(wearing(kind("craft"), {{name, "a"}, {"x", "b"}})),
                ElementsAre(std::string(name) + " glass"))
        << name;
  EXPECT_THAT(
      proposed(wearing(kind("keeper"), {{"Haut", "a"}, {"cheveux", "b"}, {"ブーツ", "c"}, {"長靴", "d"}})),
      ElementsAre("Haut skin", "cheveux hair", "長靴 oilcloth"));
}

TEST_F(RoleProposals, DoNotTakeAWordInsideOfAnother) {
  EXPECT_THAT(proposed(wearing(kind("craft"), {{"target_marks", "a"}, {"start", "b"}})), ElementsAre());
  EXPECT_THAT(proposed(wearing(kind("craft"), {{"tar", "a"}, {"x", "b"}})), ElementsAre("tar tar"));
  // "Lack" is varnish, and stands in "Bootslack"; not in "black".
  EXPECT_THAT(proposed(wearing(kind("gear"), {{"Boots Black", "a"}, {"x", "b"}})), ElementsAre());
  EXPECT_THAT(proposed(wearing(kind("gear"), {{"Bootslack", "a"}, {"x", "b"}})),
              ElementsAre("Bootslack paint"));
}

TEST_F(RoleProposals, SayWhyTheWeightiestFirst) {
  ModelState state = wearing(kind("craft"), {{"mat.001", "nav lamp port"}, {"x", "b"}});
  auto model = std::make_shared<scene::Model>(*state.prepared.model);
  model->materials[0].emissive = {1, 0.8F, 0.4F};
  state.prepared.model = model;
  const auto found = proposeRoles(context_, state);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].role, "nav-lamp");
  ASSERT_GE(found[0].reasons.size(), 2U);
  EXPECT_THAT(found[0].reasons[0], testing::AnyOf(HasSubstr("wears it"), HasSubstr("glows")));
  EXPECT_GT(found[0].certainty, 0.6);
}

TEST_F(RoleProposals, TakeWhatTheSameNamePlaysInAnotherModel) {
  ModelState state = wearing(kind("craft"), {{"mat.007", "a"}, {"x", "b"}});
  ModelState other = wearing(kind("craft"), {{"mat.007", "a"}});
  auto model = std::make_shared<scene::Model>(*other.prepared.model);
  model->materials[0].role = "canvas";
  other.prepared.model = model;
  context_.models["sloop"] = other;
  const auto found = proposeRoles(context_, state);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].role, "canvas");
  EXPECT_THAT(found[0].reasons[0], HasSubstr("sloop"));
}

TEST_F(RoleProposals, GiveTheNeededRoleToTheOnlyOneLeftAndNothingToWhoHasOne) {
  EXPECT_THAT(proposed(wearing(kind("coat"), {{"mat", "a"}})), ElementsAre("mat dye"));
  ModelState state = wearing(kind("coat"), {{"mat", "a"}});
  auto model = std::make_shared<scene::Model>(*state.prepared.model);
  model->materials[0].role = "buttons";
  state.prepared.model = model;
  EXPECT_THAT(proposed(state), ElementsAre());
  state.kind = nullptr;
  EXPECT_THAT(proposed(state), ElementsAre());
}

}  // namespace
}  // namespace rakugo::check
