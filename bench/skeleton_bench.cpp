// Matching bones beside its limit, and counting weights beside a copy of them, in the same run.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <map>

#include "prepare/matching/bone_match.h"
#include "scene/weights.h"
#include "support/made_rig.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;

double seconds(Clock::time_point since) {
  return std::chrono::duration<double>(Clock::now() - since).count();
}
double median(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  return values[values.size() / 2];
}

// A body with fingers and toes: a spine, and on each side an arm with five fingers of three bones and a leg
// of four. `extra` bones more, ends and twists, when it is a model's.
struct Made {
  std::string name, parent;
  int side;
  glm::vec3 at;
};
std::vector<Made> body() {
  std::vector<Made> out = {{"root", "", 0, {0, 0, 0}},          {"hips", "root", 0, {0, 0, 0.94F}},
                           {"spine", "hips", 0, {0, 0, 1.06F}}, {"chest", "spine", 0, {0, 0, 1.24F}},
                           {"neck", "chest", 0, {0, 0, 1.45F}}, {"head", "neck", 0, {0, 0, 1.54F}}};
  for (const int side : {1, -1}) {
    const std::string mark = side > 0 ? "_l" : "_r";
    const auto s = static_cast<float>(side);
    const auto add = [&](const std::string& name, const std::string& parent, glm::vec3 at) {
      out.push_back({name + mark, parent, side, at});
    };
    add("clavicle", "chest", {0, s * 0.05F, 1.41F});
    add("upperarm", "clavicle" + mark, {0, s * 0.19F, 1.4F});
    add("forearm", "upperarm" + mark, {0, s * 0.46F, 1.4F});
    add("hand", "forearm" + mark, {0, s * 0.71F, 1.4F});
    for (int finger = 0; finger < 5; ++finger)
      for (int joint = 0; joint < 3; ++joint)
        add("finger" + std::to_string(finger) + std::to_string(joint),
            joint == 0 ? "hand" + mark : "finger" + std::to_string(finger) + std::to_string(joint - 1) + mark,
            {0.02F * static_cast<float>(finger - 2), s * (0.75F + 0.03F * static_cast<float>(joint)), 1.4F});
    add("thigh", "hips", {0, s * 0.1F, 0.9F});
    add("shin", "thigh" + mark, {0, s * 0.1F, 0.5F});
    add("foot", "shin" + mark, {0, s * 0.1F, 0.09F});
    add("toe", "foot" + mark, {0.12F, s * 0.1F, 0.02F});
  }
  return out;  // 6 + 2 x 23 = 52
}

rulebook::Skeleton slots(size_t count) {
  rulebook::Skeleton out;
  out.id = "bench";
  for (const Made& made : body()) {
    rulebook::Bone bone;
    bone.id = "slot-" + made.name;
    bone.title = made.name;
    bone.parent = made.parent.empty() ? "" : "slot-" + made.parent;
    bone.side = made.side > 0   ? rulebook::Side::left
                : made.side < 0 ? rulebook::Side::right
                                : rulebook::Side::centre;
    bone.at_m = {made.at.x, made.at.y, made.at.z};
    bone.hints = {made.name.substr(0, made.name.find('_'))};
    out.bones.push_back(bone);
  }
  // A plait down the back, to the number that is asked for.
  while (out.bones.size() < count) {
    rulebook::Bone bone;
    bone.id = "slot-plait" + std::to_string(out.bones.size());
    bone.title = bone.id;
    bone.parent = out.bones.size() == body().size() ? "slot-head" : out.bones.back().id;
    bone.at_m = {-0.1, 0, 1.5 - 0.02 * static_cast<double>(out.bones.size() - body().size())};
    bone.required = false;
    out.bones.push_back(bone);
  }
  return out;
}

scene::Model model(size_t bones, size_t vertices) {
  scene::Model out = test::standingModel();
  std::vector<Made> list = body();
  for (size_t i = 0; list.size() < bones; ++i)
    list.push_back({list[i].name + "_end", list[i].name, list[i].side, list[i].at + glm::vec3(0, 0, 0.01F)});
  std::vector<test::RigBone> rig;
  std::map<std::string, int> number;
  for (const Made& made : list) {
    number[made.name] = static_cast<int>(rig.size());
    rig.push_back({made.name, made.parent.empty() ? -1 : number.at(made.parent), made.at});
  }
  test::addRig(out, rig);
  scene::Primitive p;
  for (size_t v = 0; v < vertices; ++v) {
    p.positions.emplace_back(0, 0, 1.7F * static_cast<float>(v) / static_cast<float>(vertices));
    p.joints.emplace_back(v % bones, (v + 1) % bones, (v + 2) % bones, (v + 3) % bones);
    p.weights.emplace_back(0.4F, 0.3F, 0.2F, 0.1F);
  }
  p.indices = {0, 1, 2};
  test::wearRig(out, "skin", std::move(p));
  return out;
}

void BM_Match(benchmark::State& state) {
  const scene::Model rigged = model(90, 300);
  const rulebook::Skeleton skeleton = slots(60);
  rulebook::Rulebook book;
  book.person_height_m = 1.7;
  const prepare::BoneMatch check = prepare::matchBones(rigged, skeleton, book);
  size_t right = 0;
  for (size_t i = 0; i < body().size(); ++i)
    right +=
        check.slots[i].bone.valid() && "slot-" + rigged.node(check.slots[i].bone).name == check.slots[i].slot;
  // Three fingers of one name and nearly one place may be taken for each other; bodies may not.
  if (right < 40) return state.SkipWithError("the body is not found");
  std::vector<double> ratios;
  for (auto _ : state) {
    const auto begin = Clock::now();
    benchmark::DoNotOptimize(prepare::matchBones(rigged, skeleton, book));
    const double took = seconds(begin);
    ratios.push_back(took / 0.005);
    state.SetIterationTime(took);
  }
  state.counters["of_5_ms"] = median(ratios);
}
BENCHMARK(BM_Match)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(50);

void BM_Weights(benchmark::State& state) {
  const scene::Model rigged = model(90, 200'000);
  if (const auto check = scene::weightsOf(rigged, 4); check.vertices != 200'000 || check.sum_off != 0)
    return state.SkipWithError("the weights are not counted right");
  const scene::Primitive& p = rigged.meshes[0]->primitives[0];
  std::vector<double> ratios;
  for (auto _ : state) {
    auto begin = Clock::now();
    benchmark::DoNotOptimize(scene::weightsOf(rigged, 4));
    const double ours = seconds(begin);
    begin = Clock::now();
    std::vector<glm::vec4> weights(p.weights);
    std::vector<glm::u16vec4> joints(p.joints);
    benchmark::DoNotOptimize(weights.data());
    benchmark::DoNotOptimize(joints.data());
    ratios.push_back(ours / seconds(begin));
    state.SetIterationTime(ours);
  }
  state.counters["of_copy"] = median(ratios);
}
BENCHMARK(BM_Weights)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(50);

}  // namespace

BENCHMARK_MAIN();
