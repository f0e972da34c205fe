// The game's movements on a model, skins on the processor, and first weights: against the limits of issue 6.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <map>

#include "geometry/skinning.h"
#include "prepare/movement/pulls.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/weights/weight_ops.h"
#include "scene/rest_pose.h"
#include "support/game_rig.h"
#include "support/kelpwick.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;
using scene::NodeIndex;

double seconds(Clock::time_point begin) {
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

double median(std::vector<double> list) {
  std::sort(list.begin(), list.end());
  return list.empty() ? 0 : list[list.size() / 2];
}

using test::book;
using test::keeper;

// The game's twenty bones a tenth larger, and seventy more that hang on them.
scene::Model ninetyBones() {
  std::vector<test::RigBone> rig = test::gameRig(keeper(), 1.1F);
  while (rig.size() < 90) {
    const size_t on = rig.size() % 20;
    rig.push_back(
        {"more" + std::to_string(rig.size()), static_cast<int>(on), rig[on].at + glm::vec3(0.01F, 0, 0)});
  }
  scene::Model out = test::standingModel();
  test::addRig(out, rig, glm::normalize(glm::quat(0.8F, 0.1F, 0.5F, -0.2F)));
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {0, 0, 1}, {0, 1, 0}};
  p.joints.assign(3, glm::u16vec4(0));
  p.weights.assign(3, glm::vec4(1, 0, 0, 0));
  p.indices = {0, 1, 2};
  test::wearRig(out, "skin", std::move(p));
  return out;
}

void BM_Retarget(benchmark::State& state) {
  const scene::Model model = ninetyBones();
  const auto figure = prepare::gameFigure(book(), keeper()).value();
  const prepare::Retarget retarget(model, prepare::bonesByGameName(model, keeper()), keeper(), book(),
                                   figure);
  const auto walk = static_cast<size_t>(keeper().findMovement("walk") - keeper().movements.data());
  if (std::abs(retarget.scale() - 1.1F) > 0.01F) return state.SkipWithError("the body is not measured right");
  std::vector<double> whole, one;
  for (auto _ : state) {
    // Ten seconds at sixty a second, the walk gone through ten times.
    const auto begin = Clock::now();
    for (int frame = 0; frame < 600; ++frame)
      benchmark::DoNotOptimize(retarget.at(walk, std::fmod(static_cast<float>(frame) / 60, 1.0F)));
    const double took = seconds(begin);
    const auto pose = Clock::now();
    benchmark::DoNotOptimize(scene::worldMatrices(
        model,
        prepare::pulled(model, retarget, keeper(), retarget.at(walk, 0.3F), {{1, {0.4F, 0.3F, 1.3F}}})));
    one.push_back(seconds(pose) / 0.001);
    whole.push_back(took / 0.010);
    state.SetIterationTime(took);
  }
  state.counters["of_10_ms"] = median(whole);
  state.counters["pose_of_1_ms"] = median(one);
}
BENCHMARK(BM_Retarget)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(20);

void BM_Skinning(benchmark::State& state) {
  constexpr size_t kVertices = 200'000;
  std::vector<glm::vec3> positions, out(kVertices);
  std::vector<glm::u16vec4> joints;
  std::vector<glm::vec4> weights;
  for (size_t v = 0; v < kVertices; ++v) {
    positions.emplace_back(0, 0, static_cast<float>(v) / kVertices);
    joints.emplace_back(v / 2500 % 90, v / 2500 % 90, (v / 2500 + 1) % 90, (v / 2500 + 2) % 90);
    weights.emplace_back(0.4F, 0.3F, 0.2F, 0.1F);
  }
  std::vector<glm::mat4> matrices(90, glm::mat4(1));
  for (size_t m = 0; m < 90; ++m) matrices[m][3] = glm::vec4(1, 2, 3, 1);
  geometry::addSkinned(positions, joints, weights, matrices, out);
  if (glm::distance(out[7], positions[7] + glm::vec3(1, 2, 3)) > 1e-5F)
    return state.SkipWithError("vertices are not where they should be");
  std::vector<double> ratios;
  for (auto _ : state) {
    std::fill(out.begin(), out.end(), glm::vec3(0));
    auto begin = Clock::now();
    geometry::addSkinned(positions, joints, weights, matrices, out);
    const double ours = seconds(begin);
    begin = Clock::now();
    // All that a vertex is read from.
    std::vector<glm::vec3> a(positions);
    std::vector<glm::u16vec4> b(joints);
    std::vector<glm::vec4> c(weights);
    benchmark::DoNotOptimize(a.data());
    benchmark::DoNotOptimize(b.data());
    benchmark::DoNotOptimize(c.data());
    ratios.push_back(ours / seconds(begin));
    state.SetIterationTime(ours);
  }
  state.counters["of_copy"] = median(ratios);
}
BENCHMARK(BM_Skinning)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(50);

// The game's example without its bones; triangles quartered until there are so many vertices.
scene::Model bare(size_t vertices) {
  const scene::Model hand = *prepare::weightDonor(book(), "keeper").value();
  scene::Model out = test::standingModel();
  for (const NodeIndex i : scene::reachedNodes(hand)) {
    if (!hand.node(i).mesh.valid()) continue;
    scene::Mesh mesh = hand.mesh(hand.node(i).mesh);
    for (scene::Primitive& p : mesh.primitives) {
      scene::Primitive plain;
      plain.positions = p.positions;
      plain.indices = p.indices;
      while (plain.positions.size() < vertices) {
        std::vector<uint32_t> next;
        std::map<std::pair<uint32_t, uint32_t>, uint32_t> middles;
        const auto middle = [&](uint32_t a, uint32_t b) {
          const auto [at, fresh] =
              middles.emplace(std::minmax(a, b), static_cast<uint32_t>(plain.positions.size()));
          if (fresh) plain.positions.push_back((plain.positions[a] + plain.positions[b]) * 0.5F);
          return at->second;
        };
        for (size_t t = 0; t + 2 < plain.indices.size(); t += 3) {
          const uint32_t a = plain.indices[t], b = plain.indices[t + 1], c = plain.indices[t + 2];
          const uint32_t ab = middle(a, b), bc = middle(b, c), ca = middle(c, a);
          for (const uint32_t k : {a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca}) next.push_back(k);
        }
        plain.indices = std::move(next);
      }
      p = std::move(plain);
    }
    out.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
    scene::Node node;
    node.name = "body";
    node.mesh = scene::MeshIndex(out.meshes.size() - 1);
    out.roots.emplace_back(out.nodes.size());
    out.nodes.push_back(std::move(node));
  }
  scene::assignKeys(out);
  return out;
}

void weigh(scene::Model& model) {
  prepare::addGameBones(model, keeper(), book());
  std::vector<NodeIndex> bones;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (!model.node(i).mesh.valid()) bones.push_back(i);
  (void)prepare::firstWeights(model, bones, nullptr);
}

// Mean distance from the hand-weighted example at all moments of the movements, in millimetres.
double meanOff_mm() {
  scene::Model hand = *prepare::weightDonor(book(), "keeper").value(), own = bare(1);
  hand.frame.turned = true;
  weigh(own);
  const auto figure = prepare::gameFigure(book(), keeper()).value();
  const prepare::Retarget a(hand, prepare::bonesByGameName(hand, keeper()), keeper(), book(), figure),
      b(own, prepare::bonesByGameName(own, keeper()), keeper(), book(), figure);
  const auto places = [](const scene::Model& model, const scene::Pose& pose) {
    std::vector<glm::vec3> out;
    const auto world = scene::worldMatrices(model, pose);
    for (const NodeIndex i : scene::reachedNodes(model))
      for (const glm::vec3& p : scene::placedPositions(model, i, world)) out.push_back(p);
    return out;
  };
  double sum = 0;
  size_t count = 0;
  for (size_t m = 0; m < keeper().movements.size(); ++m)
    for (const double at_s : keeper().movements[m].moments_s) {
      const auto p = places(hand, a.at(m, static_cast<float>(at_s))),
                 q = places(own, b.at(m, static_cast<float>(at_s)));
      for (size_t v = 0; v < std::min(p.size(), q.size()); ++v, ++count)
        sum += double{glm::distance(p[v], q[v])};
    }
  return sum / static_cast<double>(count) * 1000;
}

void BM_FirstWeights(benchmark::State& state) {
  const scene::Model model = bare(50'000);
  state.counters["vertices"] = static_cast<double>(scene::countsOf(model).vertices);
  std::vector<double> ratios;
  for (auto _ : state) {
    scene::Model own = model;
    const auto begin = Clock::now();
    weigh(own);
    const double took = seconds(begin);
    ratios.push_back(took / 5);
    state.SetIterationTime(took);
  }
  state.counters["of_5_s"] = median(ratios);
  state.counters["mean_off_mm"] = meanOff_mm();
}
BENCHMARK(BM_FirstWeights)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(3);

}  // namespace

BENCHMARK_MAIN();
