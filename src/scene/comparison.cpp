#include "scene/comparison.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::scene {
namespace {

struct Facts {
  std::vector<std::string> parts, materials, bones, regions, roles, morphs, animations;
  std::vector<std::pair<std::string, NodeIndex>> named;
};

Facts factsOf(const Model& model) {
  Facts out;
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& n = model.node(i);
    if (!n.region.empty()) out.regions.push_back(n.region);
    if (!n.mesh.valid()) continue;
    out.parts.push_back(n.name);
    out.named.emplace_back(n.name, i);
    for (const std::string& m : model.mesh(n.mesh).morph_names) out.morphs.push_back(m);
  }
  for (const MaterialIndex m : usedMaterials(model)) {
    out.materials.push_back(model.materials[m.value()].name);
    if (!model.materials[m.value()].role.empty()) out.roles.push_back(model.materials[m.value()].role);
  }
  for (const NodeIndex b : usedJoints(model)) out.bones.push_back(model.node(b).name);
  for (const Animation& a : model.animations) out.animations.push_back(a.name);
  return out;
}

Counts countsOfPart(const Model& model, NodeIndex part) {
  Counts out;
  out.parts = 1;
  for (const Primitive& p : model.mesh(model.node(part).mesh).primitives) {
    out.triangles += p.indices.size() / 3;
    out.vertices += p.positions.size();
  }
  return out;
}

// `one` and `many` are what the names are of, in the language that is set.
void sayNames(const std::string& one, const std::string& many, const NameComparison& names,
              std::vector<std::string>& out) {
  const auto say = [&](const char* sentence, const std::vector<std::string>& only) {
    if (only.empty()) return;
    out.push_back(base::phrase(sentence, only.size() == 1 ? one : many, base::listText(only, 6)));
  };
  say("Only the first has the {0} {1}.", names.only_a);
  say("Only the second has the {0} {1}.", names.only_b);
}

void comparePoints(const Compared& a, const Compared& b, ModelComparison& out) {
  const auto namesOf = [](const Compared& one) {
    std::vector<std::string> names;
    for (const NamedPlace& p : one.points) names.push_back(p.name);
    return names;
  };
  const auto placeOf = [](const Compared& one, const std::string& name) {
    return std::find_if(one.points.begin(), one.points.end(),
                        [&](const NamedPlace& p) { return p.name == name; })
               ->position *
           static_cast<float>(one.unit_m);
  };
  out.points = compareNames(namesOf(a), namesOf(b));
  for (const std::string& name : out.points.both)
    out.point_pairs.push_back({name, placeOf(a, name), placeOf(b, name)});
}

}  // namespace

NameComparison compareNames(std::vector<std::string> a, std::vector<std::string> b) {
  for (auto* list : {&a, &b}) {
    std::sort(list->begin(), list->end());
    list->erase(std::unique(list->begin(), list->end()), list->end());
  }
  NameComparison out;
  std::set_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(out.only_a));
  std::set_difference(b.begin(), b.end(), a.begin(), a.end(), std::back_inserter(out.only_b));
  std::set_intersection(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(out.both));
  return out;
}

ModelComparison compareModels(const Compared& first, const Compared& second) {
  ModelComparison out;
  const Model &a = first.model, &b = second.model;
  const auto scale_a = static_cast<float>(first.unit_m), scale_b = static_cast<float>(second.unit_m);
  out.extents_a_m = boundsOf(a).size() * scale_a;
  out.extents_b_m = boundsOf(b).size() * scale_b;
  out.a = countsOf(a);
  out.b = countsOf(b);
  const Facts fa = factsOf(a), fb = factsOf(b);
  out.parts = compareNames(fa.parts, fb.parts);
  out.materials = compareNames(fa.materials, fb.materials);
  out.bones = compareNames(fa.bones, fb.bones);
  out.regions = compareNames(fa.regions, fb.regions);
  out.roles = compareNames(fa.roles, fb.roles);
  out.morphs = compareNames(fa.morphs, fb.morphs);
  out.animations = compareNames(fa.animations, fb.animations);
  const auto world_a = worldMatrices(a), world_b = worldMatrices(b);
  const auto find = [](const Facts& facts, const std::string& name) {
    return std::find_if(facts.named.begin(), facts.named.end(),
                        [&](const auto& one) { return one.first == name; })
        ->second;
  };
  for (const std::string& name : out.parts.both) {
    const NodeIndex ia = find(fa, name), ib = find(fb, name);
    out.pairs.push_back({name, countsOfPart(a, ia), countsOfPart(b, ib),
                         partBounds(a, ia, world_a).size() * scale_a,
                         partBounds(b, ib, world_b).size() * scale_b});
  }
  comparePoints(first, second, out);
  sayNames("bone", "bones", out.bones, out.differences);
  sayNames("region", "regions", out.regions, out.differences);
  sayNames(base::phrase("attachment point"), base::phrase("attachment points"), out.points, out.differences);
  for (const PlacePair& p : out.point_pairs)
    if (const float apart = glm::distance(p.a_m, p.b_m); apart > 1e-3F)
      out.differences.push_back(
          base::phrase("The attachment point {0} of the first lies {1} from that of the second.", p.name,
                       base::lengthText(apart)));
  sayNames("part", "parts", out.parts, out.differences);
  static constexpr const char* kAxes[] = {"x", "y", "z"};
  for (int i = 0; i < 3; ++i) {
    const float most = std::max(out.extents_a_m[i], out.extents_b_m[i]);
    if (std::abs(out.extents_a_m[i] - out.extents_b_m[i]) > most * 1e-3F)
      out.differences.push_back(base::phrase("Along {0} the first measures {1}, the second {2}.", kAxes[i],
                                             base::lengthText(out.extents_a_m[i]),
                                             base::lengthText(out.extents_b_m[i])));
  }
  const auto count = [&](const char* one, const char* many, uint64_t x, uint64_t y) {
    if (x != y)
      out.differences.push_back(base::phrase("The first has {0}, the second {1}.",
                                             base::countText(x, one, many), base::countText(y, one, many)));
  };
  count("triangle", "triangles", out.a.triangles, out.b.triangles);
  count("vertex", "vertices", out.a.vertices, out.b.vertices);
  sayNames("role", "roles", out.roles, out.differences);
  sayNames("material", "materials", out.materials, out.differences);
  sayNames(base::phrase("morph target"), base::phrase("morph targets"), out.morphs, out.differences);
  sayNames("animation", "animations", out.animations, out.differences);
  return out;
}

}  // namespace rakugo::scene
