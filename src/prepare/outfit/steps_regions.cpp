// Steps on regions of the body and on what was picked of a part: taken off as a part of its own, given a
// region, handed over from one region to another, read from materials or from the game's body.
#include <algorithm>
#include <map>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/nearest.h"
#include "prepare/outfit/body.h"
#include "prepare/parts/part_ops.h"
#include "prepare/picked/selection.h"
#include "prepare/steps.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Model;
using scene::NodeIndex;

bool knownRegion(const rulebook::Rulebook& book, const std::string& region) {
  const std::vector<const rulebook::Kind*> kinds = book.modelKinds();
  return std::any_of(kinds.begin(), kinds.end(),
                     [&](const rulebook::Kind* k) { return k->findRegion(region) != nullptr; });
}

std::string unknownRegion(const std::string& region) {
  return base::phrase("The rulebook has no region \"{0}\".", base::presentable(region, 40));
}

// Takes triangles of a part out into a part below it. `goes`: one flag a triangle of the whole mesh. Where a
// part of that region hangs there already, they join it. False when that is nothing or everything.
bool takeOff(Model& model, NodeIndex part, const std::vector<bool>& goes, const std::string& name,
             const std::string& region) {
  if (std::find(goes.begin(), goes.end(), true) == goes.end() ||
      std::find(goes.begin(), goes.end(), false) == goes.end())
    return false;
  const std::shared_ptr<const Mesh> mesh = model.meshes[model.node(part).mesh.value()];
  LoosePieces pieces;
  pieces.count = 2;
  size_t at = 0;
  for (const scene::Primitive& p : mesh->primitives) {
    pieces.of.emplace_back();
    for (size_t t = 0; t < p.indices.size() / 3; ++t) pieces.of.back().push_back(goes[at++] ? 1 : 0);
  }
  std::vector<Mesh> meshes = splitMesh(*mesh, pieces);
  const auto give = [&](NodeIndex to, Mesh made) {
    model.node(to).mesh = scene::MeshIndex(model.meshes.size());
    model.meshes.push_back(std::make_shared<const Mesh>(std::move(made)));
  };
  for (const NodeIndex child : model.node(part).children) {
    const scene::Node& node = model.node(child);
    if (region.empty() || node.region != region || !node.mesh.valid() || !node.local.atRest() ||
        node.skin != model.node(part).skin)
      continue;
    Mesh joined = model.mesh(node.mesh);
    if (joined.morph_names.size() != mesh->morph_names.size()) continue;
    joinMesh(joined, meshes[1]);
    give(child, std::move(joined));
    give(part, std::move(meshes[0]));
    return true;
  }
  const NodeIndex made = addPart(model, name, part);
  give(made, std::move(meshes[1]));
  give(part, std::move(meshes[0]));
  model.node(made).skin = model.node(part).skin;
  model.node(made).region = region.empty() ? model.node(part).region : region;
  model.node(made).morph_weights = model.node(part).morph_weights;
  return true;
}

// Triangles all of whose corners are picked.
std::vector<bool> wholeTriangles(const scene::WholeMesh& whole, const std::vector<bool>& vertices) {
  std::vector<bool> out;
  for (size_t i = 0; i + 2 < whole.indices.size(); i += 3)
    out.push_back(vertices[whole.indices[i]] && vertices[whole.indices[i + 1]] &&
                  vertices[whole.indices[i + 2]]);
  return out;
}

StepOutcome takePicked(Model& model, const base::Json& values, const std::string& name,
                       const std::string& region) {
  std::string why;
  const base::Json none;
  const auto selection = selectionFrom(values.contains("pick") ? values["pick"] : none, why);
  if (!selection) return wrongValues(why);
  const auto picked = pick(model, *selection, why);
  if (!picked) return missed(why);
  const std::vector<bool> goes =
      wholeTriangles(scene::wholeMesh(model.mesh(model.node(picked->part).mesh)), picked->vertices);
  const auto count = static_cast<uint64_t>(std::count(goes.begin(), goes.end(), true));
  if (count == 0) return missed(base::phrase("No triangle lies wholly in what was picked."));
  if (count == goes.size() && !region.empty())
    model.node(picked->part).region = region;
  else if (!takeOff(model, picked->part, goes, name, region))
    return missed(base::phrase("All of the part was picked; nothing would be left of it."));
  StepOutcome out;
  out.did = base::countText(count, "triangle", "triangles");
  return out;
}

StepOutcome applySplitPicked(Model& model, const base::Json& values, const StepContext&) {
  const std::string name = base::textOf(values, "name");
  if (name.empty()) return wrongValues(base::phrase("The new part needs a name."));
  return takePicked(model, values, name, {});
}

StepOutcome applyRegionPicked(Model& model, const base::Json& values, const StepContext& context) {
  const std::string region = base::textOf(values, "region");
  if (!knownRegion(*context.book, region)) return wrongValues(unknownRegion(region));
  return takePicked(model, values, region, region);
}

StepOutcome applyRegionMaterial(Model& model, const base::Json& values, const StepContext& context) {
  const std::string region = base::textOf(values, "region"), key = base::textOf(values, "material");
  if (!knownRegion(*context.book, region)) return wrongValues(unknownRegion(region));
  const scene::MaterialIndex material = scene::findMaterial(model, key);
  if (!material.valid()) return missed(goneText("material", key));
  uint64_t count = 0;
  for (const NodeIndex part : scene::reachedNodes(model)) {
    if (!model.node(part).mesh.valid()) continue;
    std::vector<bool> goes;
    for (const scene::Primitive& p : model.mesh(model.node(part).mesh).primitives)
      goes.insert(goes.end(), p.indices.size() / 3, p.material == material);
    const auto here = static_cast<uint64_t>(std::count(goes.begin(), goes.end(), true));
    if (here == 0) continue;
    count += here;
    if (here == goes.size())
      model.node(part).region = region;
    else
      takeOff(model, part, goes, region, region);
  }
  if (count == 0)
    return missed(base::phrase("No part wears the material \"{0}\".", base::presentable(key, 60)));
  StepOutcome out;
  out.did = base::countText(count, "triangle", "triangles");
  return out;
}

StepOutcome applyHandOver(Model& model, const base::Json& values, const StepContext& context) {
  const std::string from = base::textOf(values, "from"), to = base::textOf(values, "to");
  // A region the game does not know may be handed over: that is how one gets rid of it.
  if (!to.empty() && !knownRegion(*context.book, to)) return wrongValues(unknownRegion(to));
  if (from.empty() || to.empty() || from == to)
    return wrongValues(base::phrase("One region is handed over to another."));
  StepOutcome out;
  uint64_t count = 0;
  for (const NodeIndex part : scene::reachedNodes(model))
    if (model.node(part).region == from) {
      model.node(part).region = to;
      ++count;
    }
  if (count == 0)
    return missed(base::phrase("No part covers the region \"{0}\".", base::presentable(from, 40)));
  out.did = base::countText(count, "part", "parts");
  return out;
}

StepOutcome applyOrderRegions(Model& model, const base::Json& values, const StepContext& context) {
  const std::string id = base::textOf(values, "kind");
  const rulebook::Kind* kind = nullptr;
  for (const rulebook::Kind* k : context.book->modelKinds())
    if (!k->regions.empty() && (id.empty() ? kind == nullptr : k->id == id)) kind = k;
  if (kind == nullptr)
    return wrongValues(base::phrase("The rulebook has no kind of that name with regions."));
  const auto rank = [&](const std::string& region) {
    const auto at = std::find_if(kind->regions.begin(), kind->regions.end(),
                                 [&](const rulebook::Region& r) { return r.id == region; });
    return static_cast<size_t>(at - kind->regions.begin());
  };
  // A part that holds others stands where the first of theirs does; a part without a region stays behind.
  std::vector<size_t> first(model.nodes.size(), kind->regions.size());
  const std::vector<NodeIndex> reached = scene::reachedNodes(model);
  for (auto i = reached.rbegin(); i != reached.rend(); ++i) {
    const scene::Node& node = model.node(*i);
    if (node.mesh.valid() && !node.region.empty())
      first[i->value()] = std::min(first[i->value()], rank(node.region));
    if (node.parent.valid())
      first[node.parent.value()] = std::min(first[node.parent.value()], first[i->value()]);
  }
  uint64_t moved = 0;
  const auto sort = [&](std::vector<NodeIndex>& list) {
    const std::vector<NodeIndex> before = list;
    std::stable_sort(list.begin(), list.end(),
                     [&](NodeIndex a, NodeIndex b) { return first[a.value()] < first[b.value()]; });
    for (size_t i = 0; i < list.size(); ++i) moved += list[i] != before[i] ? 1 : 0;
  };
  sort(model.roots);
  for (const NodeIndex i : reached) sort(model.node(i).children);
  StepOutcome out;
  out.did = moved == 0 ? base::phrase("in order") : base::countText(moved, "part", "parts");
  return out;
}

// The surface of the game's body, and the region of each of its triangles.
struct BodySurface {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  std::vector<std::string> region_of;
};

BodySurface bodySurface(const Model& body, const rulebook::Rulebook& book) {
  BodySurface out;
  const auto world = scene::worldMatrices(body);
  for (const NodeIndex i : scene::reachedNodes(body)) {
    const scene::Node& node = body.node(i);
    if (!node.mesh.valid() || !knownRegion(book, node.name)) continue;
    const scene::WholeMesh whole = scene::placedMesh(body, i, world);
    const auto first = static_cast<uint32_t>(out.positions.size());
    out.positions.insert(out.positions.end(), whole.positions.begin(), whole.positions.end());
    for (const uint32_t c : whole.indices) out.corners.push_back(first + c);
    out.region_of.resize(out.corners.size() / 3, node.name);
  }
  return out;
}

// Splits a part by the region of each of its triangles ("" = none). The largest region stays in the part
// itself; the others are taken off, one after another.
void partByRegion(Model& model, NodeIndex part, std::vector<std::string> regions) {
  std::map<std::string, uint64_t> size;
  for (const std::string& region : regions)
    if (!region.empty()) ++size[region];
  if (size.empty()) return;
  const auto largest = std::max_element(size.begin(), size.end(),
                                        [](const auto& a, const auto& b) { return a.second < b.second; });
  model.node(part).region = largest->first;
  for (const auto& [region, triangles] : size) {
    if (region == largest->first) continue;
    std::vector<bool> goes;
    std::vector<std::string> stay;
    // `takeOff` leaves the others in their order within each primitive, and so does this list.
    for (const std::string& own : regions) {
      goes.push_back(own == region);
      if (!goes.back()) stay.push_back(own);
    }
    takeOff(model, part, goes, region, region);
    regions = std::move(stay);
  }
}

StepOutcome applyRegionNearest(Model& model, const base::Json& values, const StepContext& context) {
  const auto body = gameBody(*context.book, base::textOf(values, "kind"));
  if (!body) return wrongValues(body.error().message);
  const BodySurface donor = bodySurface(**body, *context.book);
  if (donor.region_of.empty()) return wrongValues(base::phrase("The game's body names no regions."));
  const geometry::Surface surface(donor.positions, donor.corners);
  const auto world = scene::worldMatrices(model);
  const auto within = static_cast<float>(numberValue(values, "most_mm", 100) / 1000);
  uint64_t count = 0, far = 0;
  for (const NodeIndex part : scene::reachedNodes(model)) {
    if (!model.node(part).mesh.valid()) continue;
    const scene::WholeMesh whole = scene::placedMesh(model, part, world);
    std::vector<std::string> regions(whole.indices.size() / 3);
    for (size_t t = 0; t < regions.size(); ++t) {
      glm::vec3 middle(0);
      for (size_t k = 0; k < 3; ++k) middle += whole.positions[whole.indices[t * 3 + k]] / 3.0F;
      if (const auto near = surface.nearest(middle, within))
        regions[t] = donor.region_of[near->triangle];
      else
        ++far;
    }
    count += regions.size();
    partByRegion(model, part, std::move(regions));
  }
  StepOutcome out;
  out.did = base::countText(count - far, "triangle", "triangles");
  if (far > 0) {
    out.state = far < count ? StepState::partly : StepState::missed;
    out.misses.push_back(base::phrase("{0} farther from the body than that, and got no region of their own.",
                                      base::countText(far, "triangle lies", "triangles lie")));
  }
  return out;
}

}  // namespace

std::vector<StepKind> regionSteps() {
  const auto region = [] { return referenceParameter("region", "region", ParameterType::region); };
  return {
      {"split_picked",
       "Part off what is picked",
       StepGroup::parts,
       31,
       "Make {pick} a part of its own, called {name}",
       {pickParameter(), textParameter("name", "name")},
       applySplitPicked},
      {"region_nearest",
       "Take regions from the body",
       StepGroup::surface,
       42,
       "Take regions from {kind} where it is no farther than {most_mm} mm",
       {referenceParameter("kind", "kind", ParameterType::body_kind),
        numberParameter("most_mm", "distance", 100).above(0, 1e6).in("mm")},
       applyRegionNearest,
       "Each triangle gets the region of the game's body nearest to it."},
      {"region_material",
       "Name a material's region",
       StepGroup::surface,
       42,
       "Let all of {material} cover the region {region}",
       {referenceParameter("material", "material", ParameterType::material), region()},
       applyRegionMaterial},
      {"region_picked",
       "Name the region of what is picked",
       StepGroup::surface,
       44,
       "Let {pick} cover the region {region}",
       {pickParameter(), region()},
       applyRegionPicked,
       "Triangles that lie wholly in it become a part of that region below theirs, or join the one there."},
      {"hand_over",
       "Hand a region over",
       StepGroup::surface,
       45,
       "Hand the region {from} over to {to}",
       {referenceParameter("from", "region that is handed over", ParameterType::any_region),
        referenceParameter("to", "region that gets it", ParameterType::region)},
       applyHandOver},
      {"order_regions",
       "Order regions",
       StepGroup::surface,
       46,
       "Put regions in the order of the game's record for {kind}",
       {referenceParameter("kind", "kind", ParameterType::region_kind)},
       applyOrderRegions},
  };
}

}  // namespace rakugo::prepare
