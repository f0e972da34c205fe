// Steps that take triangles and vertices away without changing what is seen, or as little as they say.
#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/flatness.h"
#include "geometry/nearest.h"
#include "geometry/needles.h"
#include "geometry/shells.h"
#include "geometry/simplify.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "geometry/welding.h"
#include "prepare/mesh/carried.h"
#include "prepare/mesh/mesh_ops.h"
#include "prepare/steps.h"
#include "scene/primitive_edit.h"
#include "scene/structure.h"
#include "scene/whole_mesh.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Primitive;

float diagonalOf(const scene::WholeMesh& whole) {
  return glm::length(geometry::boundsOf(whole.positions).size());
}

// Vertices that differ in their normal or tangent alone become one; normals are made anew afterwards.
void mergeOverNormals(Mesh& mesh) {
  for (Primitive& p : mesh.primitives) {
    p.normals.clear();
    p.tangents.clear();
    scene::weldVertices(p, 0);
  }
}

struct Lighter {
  uint64_t triangles = 0;
  double largest_m = 0;
};

Lighter simplifyMesh(Mesh& mesh, size_t budget, double most_m, bool anew, float crease_rad, float scale) {
  const bool tangents = std::any_of(mesh.primitives.begin(), mesh.primitives.end(),
                                    [](const Primitive& p) { return !p.tangents.empty(); });
  const bool normals = std::any_of(mesh.primitives.begin(), mesh.primitives.end(),
                                   [](const Primitive& p) { return !p.normals.empty(); });
  const scene::WholeMesh before = scene::wholeMesh(mesh);
  if (anew) mergeOverNormals(mesh);
  const scene::WholeMesh whole = scene::wholeMesh(mesh);
  const Carried carried = carriedBy(mesh, {});
  geometry::SimplifyOptions options;
  options.triangles = budget;
  if (most_m > 0) options.max_error = static_cast<float>(most_m) / scale;
  const auto made = geometry::simplify(carried.over(whole), options);
  if (!made) return {};
  const geometry::Surface surface(whole.positions, made->indices);
  double largest = geometry::distancesFrom(surface, before.positions).largest;
  if (hasMorphs(mesh)) largest = std::max(largest, morphsOff(mesh, whole, surface, made->indices));
  scene::replaceTriangles(mesh, whole, made->indices);
  if (anew && normals) makeCornerNormals(mesh, crease_rad);
  if (anew && tangents) makeTangents(mesh);
  return {made->triangles.size(), largest * double{scale}};
}

uint64_t trianglesOf(const Mesh& mesh) {
  uint64_t out = 0;
  for (const Primitive& p : mesh.primitives) out += p.indices.size() / 3;
  return out;
}

StepOutcome applySimplify(scene::Model& model, const base::Json& values, const StepContext&) {
  const double wanted = numberValue(values, "triangles", 10000), most_mm = numberValue(values, "most_mm", 0),
               crease_deg = numberValue(values, "crease_deg", 40);
  const std::string normals = base::textOf(values, "normals");
  // Each mesh has its share of the budget, as large as its share of the triangles; worn twice it counts
  // twice.
  std::vector<uint64_t> worn(model.meshes.size(), 0);
  uint64_t all = 0;
  for (const scene::NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid()) {
      ++worn[model.node(i).mesh.value()];
      all += trianglesOf(model.mesh(model.node(i).mesh));
    }
  StepOutcome out;
  if (static_cast<double>(all) <= wanted) {
    out.did = base::phrase("{0}, no fewer needed", base::countText(all, "triangle", "triangles"));
    return out;
  }
  const std::vector<float> scales = meshScales(model);
  const std::vector<std::shared_ptr<const Mesh>> before = model.meshes;
  std::vector<double> share(worn.size(), 0);
  std::vector<Lighter> made(worn.size());
  for (size_t m = 0; m < worn.size(); ++m)
    share[m] = static_cast<double>(trianglesOf(*before[m])) * wanted / static_cast<double>(all);
  uint64_t left = 0;
  double largest_m = 0;
  // What seams and borders hold in one mesh, those that can still be made lighter have to save.
  constexpr int kMostRounds = 4;
  std::vector<bool> again(worn.size(), true);
  for (int round = 0; round < kMostRounds; ++round) {
    for (size_t m = 0; m < worn.size(); ++m) {
      if (worn[m] == 0 || !again[m]) continue;
      model.meshes[m] = before[m];
      made[m] = simplifyMesh(model.editMesh(scene::MeshIndex(m)), static_cast<size_t>(share[m]),
                             most_mm / 1000, normals == "anew", radians(crease_deg), scales[m]);
    }
    left = 0, largest_m = 0;
    double loose = 0;  // triangles of those that reached their share
    for (size_t m = 0; m < worn.size(); ++m) {
      if (worn[m] == 0) continue;
      left += made[m].triangles * worn[m];
      largest_m = std::max(largest_m, made[m].largest_m);
      again[m] = again[m] && static_cast<double>(made[m].triangles) <= share[m];
      if (again[m]) loose += static_cast<double>(made[m].triangles * worn[m]);
    }
    const double over = static_cast<double>(left) - wanted;
    if (over <= 0 || loose <= 0) break;
    for (size_t m = 0; m < worn.size(); ++m)
      share[m] = static_cast<double>(made[m].triangles) * std::max(0.02, 1 - over / loose);
  }
  out.did = base::phrase("{0} left, at most {1} mm off", base::countText(left, "triangle", "triangles"),
                         base::numberText(largest_m * 1000, 2));
  if (static_cast<double>(left) > wanted) {
    out.state = StepState::partly;
    out.misses.push_back(base::phrase(
        "{0} left of the {1} asked for: the distance given, or seams and borders, hold the rest.",
        base::countText(left, "triangle is", "triangles are"),
        base::groupedText(static_cast<uint64_t>(wanted))));
  }
  return out;
}

StepOutcome applyMakeLighter(scene::Model& model, const base::Json& values, const StepContext&) {
  const double levels = numberValue(values, "levels", 2), share = numberValue(values, "share", 0.4),
               from_m = numberValue(values, "from_m", 12);
  // Fewer triangles than this cost less than a version of their own.
  constexpr uint64_t kLeast = 64;
  const std::vector<float> scales = meshScales(model);
  std::vector<std::vector<scene::LighterMesh>> made(model.meshes.size());
  std::vector<bool> done(model.meshes.size(), false);
  std::vector<uint64_t> triangles(static_cast<size_t>(levels), 0);
  std::vector<double> off_m(static_cast<size_t>(levels), 0);
  size_t parts = 0;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    scene::Node& node = model.node(i);
    node.lighter.clear();
    if (!node.mesh.valid()) continue;
    const size_t m = node.mesh.value();
    if (!done[m]) {
      done[m] = true;
      const uint64_t all = trianglesOf(*model.meshes[m]);
      double wanted = static_cast<double>(all), from = from_m;
      for (int level = 0; level < static_cast<int>(levels) && all >= kLeast; ++level, from *= 2) {
        wanted *= share;
        scene::Mesh mesh = *model.meshes[m];
        const Lighter lighter =
            simplifyMesh(mesh, static_cast<size_t>(std::max(wanted, 4.0)), 0, true, 0.7F, scales[m]);
        const uint64_t before =
            made[m].empty() ? all : trianglesOf(*model.meshes[made[m].back().mesh.value()]);
        // What seams and borders hold together cannot be made lighter: another copy would be for nothing.
        if (lighter.triangles == 0 ||
            static_cast<double>(lighter.triangles) > 0.9 * static_cast<double>(before))
          break;
        made[m].push_back({scene::MeshIndex(model.meshes.size()), static_cast<float>(from)});
        model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
        off_m[static_cast<size_t>(level)] = std::max(off_m[static_cast<size_t>(level)], lighter.largest_m);
      }
    }
    node.lighter = made[m];
    parts += made[m].empty() ? 0 : 1;
    for (size_t level = 0; level < triangles.size(); ++level)
      triangles[level] += trianglesOf(
          *model.meshes[made[m].empty() ? m : made[m][std::min(level, made[m].size() - 1)].mesh.value()]);
  }
  StepOutcome out;
  if (parts == 0) {
    out.state = StepState::missed;
    out.misses.emplace_back(base::phrase("No part has triangles to spare."));
    return out;
  }
  for (size_t level = 0; level < triangles.size(); ++level) {
    const std::string one =
        base::phrase("{0} triangles, at most {1} mm off", base::groupedText(triangles[level]),
                     base::numberText(off_m[level] * 1000, 1));
    out.did = level == 0 ? one : base::phrase("{0}, then {1}", out.did, one);
  }
  return out;
}

StepOutcome applyDissolve(scene::Model& model, const base::Json& values, const StepContext&) {
  const std::string where = base::textOf(values, "where");
  uint64_t stay = 0;
  const uint64_t gone = eachMesh(model, [&](Mesh& mesh, size_t) {
    uint64_t count = 0, remaining = 0;
    // What goes can leave a neighbour without shape: again, until nothing does.
    for (int round = 0; round < 32; ++round) {
      const scene::WholeMesh whole = scene::wholeMesh(mesh);
      const geometry::Welding welding = geometry::weldEqual(whole.positions);
      std::vector<uint32_t> places(whole.indices.size());
      for (size_t c = 0; c < places.size(); ++c) places[c] = welding.of[whole.indices[c]];
      std::vector<glm::vec3> at;
      for (const uint32_t v : welding.first) at.push_back(whole.positions[v]);
      const auto topology = geometry::topologyOf(std::move(places), static_cast<uint32_t>(at.size()));
      const auto shapeless =
          geometry::flatnessOf(at, topology, geometry::unitNormals(at, topology.corners)).shapeless;
      remaining = shapeless.size();
      if (shapeless.empty()) break;
      std::vector<uint8_t> goes(at.size(), 0), may_go(whole.positions.size());
      for (const uint32_t p : shapeless) goes[p] = 1;
      for (size_t v = 0; v < may_go.size(); ++v) may_go[v] = goes[welding.of[v]];
      const float diagonal = diagonalOf(whole);
      const Carried carried = carriedBy(mesh, {.others = where != "everywhere", .morph_weight = 10});
      geometry::SimplifyOptions options;
      // A tenth of a degree over the whole part; of what the surface carries ten times that, but for the
      // shapes it takes, which count so much more.
      options.max_error = diagonal * 1e-4F;
      options.max_attribute_error = diagonal * 1e-3F;
      options.may_go = may_go;
      options.every_way = true;
      const auto made = geometry::simplify(carried.over(whole), options);
      if (!made || made->triangles.size() == whole.indices.size() / 3) break;
      scene::replaceTriangles(mesh, whole, made->indices);
      const geometry::Welding now = geometry::weldEqual(scene::wholeMesh(mesh).positions);
      count += welding.places() - std::min(welding.places(), now.places());
    }
    stay += remaining;
    return count;
  });
  StepOutcome out = countedOutcome(gone, "vertex", "vertices");
  if (stay > 0) {
    if (gone == 0) out.did = base::countText(stay, "stays", "stay");
    out.state = StepState::partly;
    out.misses.push_back(
        where == "everywhere"
            ? base::counted(stay, "{0} vertex stays: what lies round it cannot be drawn without.",
                            "{0} vertices stay: what lies round it cannot be drawn without.")
            : base::counted(
                  stay,
                  "{0} vertex stays: the picture would shift, or what lies round it cannot be drawn without.",
                  "{0} vertices stay: the picture would shift, or what lies round it cannot be drawn "
                  "without."));
  }
  return out;
}

StepOutcome applyRemoveNeedles(scene::Model& model, const base::Json&, const StepContext&) {
  const scene::StructureOptions rules;
  return countedOutcome(
      eachMesh(model,
               [&](Mesh& mesh, size_t) {
                 const scene::WholeMesh whole = scene::wholeMesh(mesh);
                 const size_t before =
                     geometry::needleTriangles(whole.positions, whole.indices, rules.needle_ratio).size();
                 if (before == 0) return uint64_t{0};
                 const auto made =
                     geometry::withoutNeedles(whole.positions, whole.indices, rules.needle_ratio);
                 const size_t after =
                     geometry::needleTriangles(whole.positions, made, rules.needle_ratio).size();
                 if (after < before) scene::replaceTriangles(mesh, whole, made);
                 return uint64_t{before - std::min(before, after)};
               }),
      "triangle", "triangles");
}

StepOutcome applyRemoveSpecks(scene::Model& model, const base::Json& values, const StepContext&) {
  const double size_mm = numberValue(values, "size_mm", 10);
  const std::vector<float> scales = meshScales(model);
  return countedOutcome(
      eachMesh(model,
               [&](Mesh& mesh, size_t m) {
                 const MeshPlaces all = meshPlaces(mesh);
                 const geometry::Shells shells = geometry::shellsOf(all.topology);
                 std::vector<geometry::Bounds> boxes(shells.count);
                 for (size_t t = 0; t < shells.of.size(); ++t)
                   if (shells.of[t] != geometry::Topology::kCollapsed)
                     for (size_t k = 0; k < 3; ++k)
                       boxes[shells.of[t]].add(all.places[all.topology.corners[t * 3 + k]]);
                 std::vector<uint32_t> list;
                 uint64_t count = 0;
                 std::vector<bool> speck(shells.count);
                 for (uint32_t s = 0; s < shells.count; ++s) {
                   speck[s] = double{glm::length(boxes[s].size()) * scales[m]} * 1000 < size_mm;
                   count += speck[s] ? 1 : 0;
                 }
                 for (uint32_t t = 0; t < shells.of.size(); ++t)
                   if (shells.of[t] != geometry::Topology::kCollapsed && speck[shells.of[t]])
                     list.push_back(t);
                 dropTriangles(mesh, all, list);
                 return count;
               }),
      "piece", "pieces");
}

StepOutcome applyRemoveHidden(scene::Model& model, const base::Json&, const StepContext&) {
  return countedOutcome(eachMesh(model,
                                 [](Mesh& mesh, size_t) {
                                   const MeshPlaces all = meshPlaces(mesh);
                                   const geometry::Shells shells = geometry::shellsOf(all.topology);
                                   const auto facts = geometry::shellFacts(all.places, all.topology, shells);
                                   const auto list =
                                       geometry::hiddenTriangles(all.places, all.topology, shells, facts);
                                   dropTriangles(mesh, all, list);
                                   return uint64_t{list.size()};
                                 }),
                        "triangle", "triangles");
}

StepOutcome applyMakeTangents(scene::Model& model, const base::Json&, const StepContext&) {
  uint64_t without = 0;
  StepOutcome out = countedOutcome(eachMesh(model,
                                            [&](Mesh& mesh, size_t) {
                                              uint64_t made = 0;
                                              for (const Primitive& p : mesh.primitives) {
                                                const bool can = p.normals.size() == p.positions.size() &&
                                                                 p.uvs[0].size() == p.positions.size();
                                                (can ? made : without) += p.positions.size();
                                              }
                                              makeTangents(mesh);
                                              return made;
                                            }),
                                   "vertex", "vertices");
  if (without > 0) {
    out.state = StepState::partly;
    out.misses.push_back(base::phrase("{0} no normal or no texture coordinates, and so no tangent.",
                                      base::countText(without, "vertex has", "vertices have")));
  }
  return out;
}

}  // namespace

std::vector<StepKind> lighterSteps() {
  return {
      {"remove_hidden",
       "Remove hidden triangles",
       StepGroup::mesh,
       18,
       "Remove triangles that lie inside a closed shell",
       {},
       applyRemoveHidden},
      {"remove_specks",
       "Remove specks",
       StepGroup::mesh,
       19,
       "Remove loose pieces smaller than {size_mm} mm",
       {numberParameter("size_mm", "size", 10)
            .above(0, 1e6)
            .in("mm")
            .means("The diagonal of the piece's box.")},
       applyRemoveSpecks},
      {"remove_needles",
       "Remove needles",
       StepGroup::mesh,
       20,
       "Remove triangles as thin as needles",
       {},
       applyRemoveNeedles},
      {"dissolve",
       "Remove shapeless vertices",
       StepGroup::mesh,
       21,
       "Remove vertices that carry no shape, {where}",
       {choiceParameter(
           "where", "place",
           {{"same_picture", "where the picture stays as it is"}, {"everywhere", "everywhere"}})},
       applyDissolve},
      {"simplify",
       "Simplify",
       StepGroup::mesh,
       22,
       "Simplify to {triangles} triangles, no more than {most_mm} mm off (0: however far), normals "
       "{normals}, smooth "
       "up to {crease_deg} degrees",
       {numberParameter("triangles", "number of triangles", 10000)
            .between(1, 1e8)
            .shown(0)
            .means("Of all parts together."),
        numberParameter("most_mm", "distance", 0).between(0, 1e6).in("mm").means("0: however far."),
        choiceParameter("normals", "normals", {{"anew", "made anew"}, {"keep", "kept"}}),
        numberParameter("crease_deg", "angle", 40).between(0, 180).in("degrees").shown(1)},
       applySimplify},
      {"make_tangents",
       "Make tangents",
       StepGroup::mesh,
       35,
       "Make tangents for normal maps",
       {},
       applyMakeTangents},
      {"make_lighter",
       "Make lighter versions",
       StepGroup::mesh,
       60,
       "Make {levels} lighter versions, each {share} of the one before, seen from {from_m} m on, each next "
       "from twice "
       "as far",
       {countParameter("levels", "number of versions", 2).between(1, 4),
        numberParameter("share", "share", 0.4)
            .between(0.05, 0.9)
            .shown(2)
            .means("Triangles of each, of those of the one before."),
        numberParameter("from_m", "distance", 12).above(0, 1e5).in("m").shown(1)},
       applyMakeLighter},
  };
}

}  // namespace rakugo::prepare
