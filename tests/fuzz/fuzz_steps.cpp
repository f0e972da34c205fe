// Preparations of any kind on a small model: whatever a document says, lists stay in step, triangles name
// vertices that are there, and a second replay gives what the first gave.
#include <filesystem>

#include "base/files.h"
#include "prepare/replay.h"
#include "support/applied_steps.h"
#include "support/made_rig.h"

namespace {

using namespace rakugo;

// A part on three bones, one of which the game knows by name.
void addArm(scene::Model& model) {
  test::addRig(model, {{"root", -1, {0, 0, 0}}, {"arm.port", 0, {0, 0, 1}}, {"hand_end", 1, {0, 0, 2}}},
               glm::quat(0.70710678F, -0.70710678F, 0, 0));
  scene::Primitive p = test::block({0, 0, 0}, {1, 1, 3});
  for (size_t v = 0; v < p.positions.size(); ++v) {
    p.joints.emplace_back(v % 3, (v + 1) % 3, 0, 0);
    p.weights.emplace_back(0.75F, v % 2 == 0 ? 0.25F : 0.5F, 0, 0);
  }
  test::wearRig(model, "sleeve", std::move(p));
}

prepare::SourceModel source() {
  static const auto kRead = [] {
    auto read = std::make_shared<formats::ReadModel>();
    scene::Primitive cube = test::cutCube(3),
                     block = test::block({2, 0, 0}, {3, 1, 1}, scene::MaterialIndex(1));
    cube.material = scene::MaterialIndex(0);
    scene::Model& model = read->model;
    model = test::modelOf({cube, block});
    model.materials.resize(2);
    model.materials[0].name = "stone";
    model.materials[1].name = "brass";
    model.nodes.push_back(model.nodes[0]);
    model.nodes[1].name = "lid";
    model.nodes[1].region = "belly";
    model.nodes[1].parent = scene::NodeIndex(0);
    model.nodes[1].local.scale = {1, -2, 0.5F};
    model.nodes[1].local.position = {0, 3, 0};
    model.nodes[0].children = {scene::NodeIndex(1)};
    addArm(model);
    scene::assignKeys(model);
    return read;
  }();
  return kRead;
}

const rulebook::Rulebook& book() {
  static const rulebook::Rulebook kBook = [] {
    rulebook::Rulebook b;
    rulebook::Kind coat;
    coat.id = "coat";
    coat.regions = {{"trunk", "Trunk", "", true}, {"collar", "Collar", "", false}};
    b.kinds.push_back(coat);
    rulebook::Skeleton skeleton;
    skeleton.id = "keeper";
    skeleton.bones = {{"stand", "Ground", "", rulebook::Side::centre, true, {0, 0, 0}, {}},
                      {"arm.port", "Arm", "stand", rulebook::Side::left, true, {0, 0.2, 1.4}, {}},
                      {"elbow.port", "Elbow", "arm.port", rulebook::Side::left, true, {0, 0.5, 1.4}, {}},
                      {"hand.port", "Hand", "elbow.port", rulebook::Side::left, true, {0, 0.7, 1.4}, {}}};
    skeleton.chains = {{"arm", "Arm", {"arm.port", "elbow.port", "hand.port"}}};
    b.skeletons.push_back(skeleton);
    return b;
  }();
  return kBook;
}

// A preparation of one step.
std::string oneStep(const prepare::StepKind& kind, const base::Json& values) {
  mod::ModelDoc doc;
  doc.source = "a";
  doc.steps.push_back({"s1", kind.id, true, values});
  return base::jsonText(mod::toJson(doc));
}

// A value at the end of its parameter's range, or of a reference to what is in the model.
base::Json edgeOf(const prepare::Parameter& p) {
  switch (p.type) {
    case prepare::ParameterType::number:
    case prepare::ParameterType::count:
      return p.most;
    case prepare::ParameterType::choice:
      return p.choices.back().first;
    case prepare::ParameterType::part:
    case prepare::ParameterType::any_part:
      return "block";
    case prepare::ParameterType::parts:
      return {"block", "block/lid", "sleeve"};
    case prepare::ParameterType::bone:
      return "root/arm.port";
    case prepare::ParameterType::bones:
      return {"root/arm.port", "root/arm.port/hand_end"};
    case prepare::ParameterType::material:
      return "stone";
    case prepare::ParameterType::pick:
      return {{"part", "block"}, {"piece_at", {0, 0, 0}}};
    default:
      return p.initial;
  }
}

}  // namespace

// Seeds for every row of the table of steps, written into the folder that the fuzzer works in: a new step is
// tried without a file of its own.
extern "C" int LLVMFuzzerInitialize(int* argc, char*** argv) {
  for (int i = 1; i < *argc; ++i) {
    const std::filesystem::path folder((*argv)[i]);
    if ((*argv)[i][0] == '-' || !std::filesystem::is_directory(folder)) continue;
    for (const prepare::StepKind& kind : prepare::stepKinds()) {
      // It fills the body with cells, whatever the mesh: half a minute under the sanitizers. Its kernel has
      // tests of its own for meshes of every sort.
      if (std::string(kind.id) == "first_weights") continue;
      base::Json edges = prepare::initialValues(kind);
      for (const prepare::Parameter& p : kind.parameters) edges[p.key] = edgeOf(p);
      for (const auto& [name, values] : {std::pair("row", prepare::initialValues(kind)), {"edge", edges}})
        (void)base::writeFileAtomic(folder / (std::string(name) + "_" + kind.id + ".json"),
                                    oneStep(kind, values));
    }
    break;
  }
  return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  const auto json = base::parseJson(text, "fuzz.json");
  if (!json) return 0;
  std::vector<base::Error> complaints;
  mod::ModelDoc doc = mod::modelFrom(*json, "fuzz.json", complaints);
  if (doc.steps.size() > 12) doc.steps.resize(12);
  prepare::Replayer one, two;
  const auto made = one.replay(source(), doc.steps, book(), {});
  if (!made || made->outcomes.size() != doc.steps.size()) __builtin_trap();
  for (size_t i = 0; i < doc.steps.size(); ++i)
    (void)prepare::sentenceText(doc.steps[i], made->before[i].get(), &book());
  for (const auto& mesh : made->model->meshes)
    for (const scene::Primitive& p : mesh->primitives) {
      const size_t n = p.positions.size();
      for (const size_t listed :
           {p.normals.size(), p.tangents.size(), p.uvs[0].size(), p.colors.size(), p.joints.size(),
            p.weights.size(), p.more_joints.size(), p.more_weights.size()})
        if (listed != 0 && listed != n) __builtin_trap();
      if (p.indices.size() % 3 != 0) __builtin_trap();
      for (const uint32_t i : p.indices)
        if (i >= n) __builtin_trap();
    }
  for (const scene::Skin& skin : made->model->skins)
    if (skin.joints.size() != skin.inverse_bind.size()) __builtin_trap();
  const auto again = two.replay(source(), doc.steps, book(), {});
  if (!again || scene::countsOf(*again->model).vertices != scene::countsOf(*made->model).vertices)
    __builtin_trap();
  return 0;
}
