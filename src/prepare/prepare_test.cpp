#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "geometry/corner_normals.h"
#include "prepare/replay.h"
#include "prepare/space/space_ops.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;

// Of a primitive without seams: all faces round a vertex count.
std::vector<glm::vec3> smoothNormals(const scene::Primitive& p) {
  const auto corners = geometry::cornerNormals(
      p.positions, geometry::topologyOf(p.indices, static_cast<uint32_t>(p.positions.size())), 3);
  std::vector<glm::vec3> out(p.positions.size());
  for (size_t c = 0; c < corners.size(); ++c) out[p.indices[c]] = corners[c];
  return out;
}

// A box from (0,0,0) to (2,4,6) hung under a moved, turned and unevenly scaled parent, and a camera beside
// it.
std::shared_ptr<formats::ReadModel> boxSource() {
  auto read = std::make_shared<formats::ReadModel>();
  scene::Model& m = read->model;
  m.nodes.resize(3);
  m.nodes[0].name = "base";
  m.nodes[0].local.position = {10, 0, 0};
  m.nodes[0].local.turn = glm::angleAxis(1.0F, glm::vec3(0, 1, 0));
  m.nodes[0].local.scale = {2, 2, 2};
  m.nodes[0].children = {NodeIndex(1)};
  m.nodes[1].name = "box";
  m.nodes[1].parent = NodeIndex(0);
  m.nodes[1].mesh = scene::MeshIndex(0);
  m.nodes[1].local.scale = {1, 3, -1};
  m.nodes[2].name = "view";
  m.cameras.emplace_back();
  m.nodes[2].camera = scene::CameraIndex(0);
  m.roots = {NodeIndex(0), NodeIndex(2)};
  scene::Primitive p;
  for (int i = 0; i < 8; ++i) p.positions.push_back({(i & 1) * 2, (i & 2) * 2, (i & 4) * 1.5F});
  p.indices = {0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
               2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5};
  p.normals = smoothNormals(p);
  p.material = scene::MaterialIndex(0);
  m.materials.resize(1);
  m.materials[0].name = "skin";
  m.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"box", {p}}));
  m.images.push_back({"", "Oak.PNG", "", nullptr});
  scene::assignKeys(m);
  return read;
}

rulebook::Rulebook book() {
  rulebook::Rulebook b;
  b.id = "test";
  b.kinds.resize(1);
  b.kinds[0].id = "thing";
  b.kinds[0].roles.resize(1);
  b.kinds[0].roles[0].id = "paint";
  b.kinds[0].roles[0].title = "Paint";
  return b;
}

struct Run {
  std::shared_ptr<const scene::Model> model;
  std::vector<StepOutcome> outcomes;
};

Run run(const std::vector<std::pair<std::string, Json>>& steps, const formats::Fetch& fetch = nullptr) {
  mod::ModelDoc doc;
  for (const auto& [kind, values] : steps) doc.steps.push_back(makeStep(doc, kind, values));
  Replayer replayer;
  auto prepared = replayer.replay(boxSource(), doc.steps, book(), fetch);
  EXPECT_TRUE(prepared);
  return {prepared->model, prepared->outcomes};
}

// All triangle corners in the model's space, in order: what a viewer sees.
std::vector<glm::vec3> corners(const scene::Model& m) {
  std::vector<glm::vec3> out;
  const auto world = scene::worldMatrices(m);
  for (const auto i : scene::reachedNodes(m))
    if (m.node(i).mesh.valid())
      for (const auto& p : m.mesh(m.node(i).mesh).primitives)
        for (const uint32_t v : p.indices)
          out.push_back(glm::vec3(world[i.value()] * glm::vec4(p.positions[v], 1)));
  return out;
}

float volume(const std::vector<glm::vec3>& c) {
  float six = 0;
  for (size_t i = 0; i + 2 < c.size(); i += 3) six += glm::dot(c[i], glm::cross(c[i + 1], c[i + 2]));
  return six / 6;
}

void expectNear(glm::vec3 a, glm::vec3 b, float e) {
  for (int i = 0; i < 3; ++i) EXPECT_NEAR(a[i], b[i], e);
}

TEST(ReadLengths, MultipliesWorldPositionsByTheUnit) {
  const auto before = corners(boxSource()->model);
  const auto after = run({{"read_lengths", {{"unit", "cm"}}}});
  const auto now = corners(*after.model);
  for (size_t i = 0; i < now.size(); ++i) expectNear(now[i], before[i] * 0.01F, 1e-5F);
  EXPECT_EQ(after.outcomes[0].did, "lengths times 0.01");
  // A second reading replaces the first one's meaning.
  const auto twice = run({{"read_lengths", {{"unit", "cm"}}}, {"read_lengths", {{"unit", "m"}}}});
  expectNear(corners(*twice.model)[5], before[5], 1e-4F);
}

TEST(Turn, CarriesTheNamedSidesToTheGamesAxes) {
  const auto before = corners(boxSource()->model);
  const auto after = run({{"turn", {{"forward", "-Z"}, {"up", "+Y"}}}});
  const auto now = corners(*after.model);
  // -Z to +X and +Y to +Z, so +X goes to -Y.
  for (size_t i = 0; i < now.size(); ++i)
    expectNear(now[i], {-before[i].z, -before[i].x, before[i].y}, 1e-4F);
  EXPECT_TRUE(after.model->frame.turned);
  EXPECT_EQ(run({{"turn", {{"forward", "+Y"}, {"up", "-Y"}}}}).outcomes[0].state, StepState::wrong);
}

TEST(Bake, LeavesWorldPositionsAndPutsWindingAndNormalsRight) {
  const auto source = boxSource();
  const auto before = corners(source->model);
  const auto after = run({{"bake", {}}});
  for (const auto i : scene::reachedNodes(*after.model)) EXPECT_TRUE(after.model->node(i).local.atRest());
  const auto& p = after.model->meshes[0]->primitives[0];
  geometry::Bounds a, b;
  for (const auto& c : before) a.add(c);
  for (const auto& c : corners(*after.model)) b.add(c);
  expectNear(a.min, b.min, 1e-3F);
  expectNear(a.max, b.max, 1e-3F);
  // The source is mirrored: its triangles are inside out until they are baked.
  EXPECT_LT(volume(before), 0);
  EXPECT_NEAR(volume(corners(*after.model)), -volume(before), 0.5F);
  const auto fresh = smoothNormals(p);
  for (size_t i = 0; i < p.normals.size(); ++i) {
    EXPECT_NEAR(glm::length(p.normals[i]), 1, 1e-4);
    EXPECT_GT(glm::dot(p.normals[i], fresh[i]), 0.3F);
  }
}

TEST(Bake, GivesSharedMeshesACopyForEachPlace) {
  auto source = boxSource();
  scene::Model& m = source->model;
  m.nodes.resize(4);
  m.nodes[3].name = "second";
  m.nodes[3].mesh = scene::MeshIndex(0);
  m.nodes[3].local.position = {100, 0, 0};
  m.roots.push_back(NodeIndex(3));
  scene::assignKeys(m);
  const auto before = corners(m);
  scene::Model baked = m;
  EXPECT_TRUE(bakeAll(baked).empty());
  geometry::Bounds a, b;
  for (const auto& c : before) a.add(c);
  for (const auto& c : corners(baked)) b.add(c);
  expectNear(a.min, b.min, 1e-3F);
  expectNear(a.max, b.max, 1e-3F);
  EXPECT_EQ(m.meshes[0]->primitives[0].positions[7], glm::vec3(2, 4, 6)) << "the source must stay as it is";
}

TEST(Bake, KeepsWhatCarriesBones) {
  scene::Model m = boxSource()->model;
  m.skins.push_back({"s", {NodeIndex(1)}, {glm::mat4(1)}});
  const auto kept = bakeAll(m);
  EXPECT_THAT(kept, testing::ElementsAre("base", "box"));
}

TEST(Origin, GoesToTheFloorCentreAndIsIdempotent) {
  for (const bool baked : {false, true}) {
    std::vector<std::pair<std::string, Json>> steps = {{"turn", {{"forward", "+Z"}, {"up", "+Y"}}}};
    if (baked) steps.push_back({"bake", {}});
    steps.push_back({"origin", {{"to", "floor_centre"}}});
    steps.push_back({"origin", {{"to", "floor_centre"}}});
    const auto after = run(steps);
    const auto box = scene::boundsOf(*after.model);
    EXPECT_NEAR(box.min.z, 0, 1e-3);
    EXPECT_NEAR(box.center().x, 0, 1e-3);
    EXPECT_NEAR(box.center().y, 0, 1e-3);
    EXPECT_EQ(after.outcomes.back().did, "already there");
    if (!baked) continue;
    const std::vector<bool> carries = carriesMesh(*after.model);
    for (const auto i : scene::reachedNodes(*after.model))
      EXPECT_EQ(after.model->node(i).local.atRest(), carries[i.value()]) << "the camera stays where it is";
  }
}

TEST(Origin, TakesAPointByNumbers) {
  const auto before = corners(boxSource()->model);
  const auto after = run({{"origin", {{"to", "point"}, {"point", {1, 2, 3}}}}});
  expectNear(corners(*after.model)[0], before[0] - glm::vec3(1, 2, 3), 1e-4F);
  EXPECT_EQ(run({{"origin", {{"to", "point"}, {"point", {1, 2}}}}}).outcomes[0].state, StepState::wrong);
}

TEST(Drop, UnlinksPartsAndSaysWhatIsGone) {
  const auto after = run({{"drop", {{"parts", {"view", "old/part"}}}}});
  EXPECT_EQ(after.outcomes[0].state, StepState::partly);
  EXPECT_THAT(after.outcomes[0].misses, testing::ElementsAre(testing::HasSubstr("old/part")));
  EXPECT_EQ(scene::reachedNodes(*after.model).size(), 2u);
  EXPECT_EQ(run({{"drop", {{"parts", {"nothing"}}}}}).outcomes[0].state, StepState::missed);
  // A part and its child, both named: the child went with its parent and is not missed.
  EXPECT_EQ(run({{"drop", {{"parts", {"base", "base/box"}}}}}).outcomes[0].state, StepState::good);
}

TEST(Rename, KeepsTheKeySoThatLaterStepsFindThePart) {
  const auto after =
      run({{"rename", {{"part", "base/box"}, {"name", "hull"}}}, {"drop", {{"parts", {"base/box"}}}}});
  EXPECT_EQ(after.outcomes[0].state, StepState::good);
  EXPECT_EQ(after.outcomes[1].state, StepState::good);
}

TEST(Role, IsGivenOnlyWhenTheRulebookHasIt) {
  EXPECT_EQ(run({{"role", {{"material", "skin"}, {"role", "paint"}}}}).model->materials[0].role, "paint");
  EXPECT_EQ(run({{"role", {{"material", "skin"}, {"role", "wings"}}}}).outcomes[0].state, StepState::wrong);
  EXPECT_EQ(run({{"role", {{"material", "gone"}, {"role", "paint"}}}}).outcomes[0].state, StepState::missed);
}

TEST(UsePicture, TakesTheBytesOfAnotherFile) {
  const auto fetch = [](const std::string& name) -> base::Result<base::Bytes> {
    if (name == "oak.png") return base::Bytes(5);
    return base::Error{"file.missing", "There is no such file.", {}, ""};
  };
  EXPECT_EQ(run({{"use_picture", {{"picture", "Oak.PNG"}, {"file", "oak.png"}}}}, fetch)
                .model->images[0]
                .bytes->size(),
            5u);
  EXPECT_EQ(run({{"use_picture", {{"picture", "Oak.PNG"}, {"file", "gone.png"}}}}, fetch).outcomes[0].state,
            StepState::missed);
}

TEST(Scale, RefusesFactorsThatLoseTheModel) {
  for (const Json& bad : {Json(0), Json(-1), Json("two"), Json(1e9)})
    EXPECT_EQ(run({{"scale", {{"factor", bad}}}}).outcomes[0].state, StepState::wrong);
}

TEST(RemoveDegenerate, AndMakeNormalsAreIdempotent) {
  auto source = boxSource();
  scene::Mesh& mesh = source->model.editMesh(scene::MeshIndex(0));
  mesh.primitives[0].indices.insert(mesh.primitives[0].indices.begin() + 3, {1, 1, 2});
  mesh.primitives[0].normals.clear();
  mod::ModelDoc doc;
  for (const char* kind : {"remove_degenerate", "remove_degenerate", "make_normals", "make_normals"})
    doc.steps.push_back(makeStep(doc, kind));
  Replayer replayer;
  const auto prepared = replayer.replay(source, doc.steps, book(), nullptr);
  EXPECT_EQ(prepared->outcomes[0].did, "1 triangle");
  EXPECT_EQ(prepared->outcomes[1].did, "none left");
  EXPECT_EQ(prepared->outcomes[2].did, "8 normals");
  EXPECT_EQ(prepared->outcomes[3].did, "all had them");
}

TEST(Replayer, RunsOnlyWhatChangedAndKeepsUnknownSteps) {
  Replayer replayer;
  const auto source = boxSource();
  mod::ModelDoc doc;
  doc.steps = {makeStep(doc, "read_lengths")};
  doc.steps.push_back(makeStep(doc, "turn"));
  doc.steps.push_back(makeStep(doc, "scale"));
  ASSERT_TRUE(replayer.replay(source, doc.steps, book(), nullptr));
  EXPECT_EQ(replayer.stepsRun(), 3u);
  doc.steps[2].values["factor"] = 2.0;
  ASSERT_TRUE(replayer.replay(source, doc.steps, book(), nullptr));
  EXPECT_EQ(replayer.stepsRun(), 1u);
  doc.steps.push_back({"x", "levitate", true, {}});
  doc.steps[0].enabled = false;
  const auto prepared = replayer.replay(source, doc.steps, book(), nullptr);
  EXPECT_EQ(prepared->outcomes[0].state, StepState::off);
  EXPECT_EQ(prepared->outcomes[3].state, StepState::wrong);
  base::Progress cancelled;
  cancelled.cancel();
  EXPECT_EQ(replayer.replay(boxSource(), doc.steps, book(), nullptr, &cancelled).error().code,
            "job.cancelled");
}

TEST(Sentences, ReadAsSentences) {
  mod::ModelDoc doc;
  const auto b = book();
  EXPECT_EQ(sentenceText(makeStep(doc, "read_lengths")), "Read lengths as centimetres");
  EXPECT_EQ(sentenceText(makeStep(doc, "turn", {{"forward", "-X"}})),
            "Turn so that the −X side faces forward and the +Y side faces up");
  EXPECT_EQ(sentenceText(makeStep(doc, "drop", {{"parts", {"Camera", "a/b", "c", "d", "e"}}})),
            "Drop Camera, b and 3 others");
  EXPECT_EQ(sentenceText(makeStep(doc, "role", {{"material", "lens"}, {"role", "paint"}}), nullptr, &b),
            "Give lens the role Paint");
  for (const StepKind& kind : stepKinds()) EXPECT_FALSE(sentenceText(makeStep(doc, kind.id)).empty());
}

TEST(Sentences, EveryValueOfEveryStepCanBeChanged) {
  mod::ModelDoc doc;
  for (const StepKind& kind : stepKinds()) {
    mod::StepDoc step = makeStep(doc, kind.id);
    std::set<std::string> offered;
    // What is shown by the value of another is offered where that value is.
    for (const Json& to : {Json(), Json("point")}) {
      if (!to.is_null() && kind.find("to") != nullptr) step.values["to"] = to;
      for (const Parameter& p : kind.parameters)
        if (p.type == ParameterType::pick || p.type == ParameterType::model)
          step.values[p.key] = p.type == ParameterType::pick ? Json{{"part", "a"}} : Json("tunic");
      for (const Word& word : sentence(step, nullptr, nullptr))
        if (!word.value_key.empty()) offered.insert(word.value_key);
      step = makeStep(doc, kind.id);
      for (const Word& word : sentence(step, nullptr, nullptr))
        if (!word.value_key.empty()) offered.insert(word.value_key);
    }
    // Which bone is whose is said on the match board.
    for (const Parameter& p : kind.parameters)
      EXPECT_TRUE(p.type == ParameterType::bone_names || offered.count(p.key) != 0)
          << kind.id << " " << p.key;
  }
}

}  // namespace
}  // namespace rakugo::prepare
