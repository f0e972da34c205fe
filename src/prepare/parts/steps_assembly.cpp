// Steps that take parts apart, put them together, copy, mirror and free them.
#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/parts/part_ops.h"
#include "prepare/space/space_ops.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::MeshIndex;
using scene::Model;
using scene::NodeIndex;

constexpr uint32_t kMostPieces = 500;

// The parts that a list of keys names; what is not there becomes a miss.
std::vector<NodeIndex> findAll(const Model& model, const base::Json& values, StepOutcome& out) {
  std::vector<NodeIndex> parts;
  for (const std::string& key : listValue(values, "parts")) {
    if (const NodeIndex part = findReached(model, key); part.valid())
      parts.push_back(part);
    else
      out.misses.push_back(goneText("part", key));
  }
  return parts;
}

NodeIndex giveMesh(Model& model, NodeIndex part, Mesh mesh) {
  model.node(part).mesh = MeshIndex(model.meshes.size());
  model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  return part;
}

// Whether a part is another or hangs below it.
bool isBelow(const Model& model, NodeIndex part, NodeIndex other) {
  while (part.valid() && part != other) part = model.node(part).parent;
  return part == other;
}

// A mirror image across the plane through the model's origin that one axis stands on.
glm::mat4 mirrorAcross(const std::string& axis) {
  glm::mat4 out(1);
  const int i = axis == "y" ? 1 : axis == "z" ? 2 : 0;
  out[i][i] = -1;
  return out;
}

StepOutcome applyKeep(Model& model, const base::Json& values, const StepContext&) {
  StepOutcome out;
  const std::vector<NodeIndex> parts = findAll(model, values, out);
  if (parts.empty()) {
    if (out.misses.empty()) return wrongValues(base::phrase("The step names no parts."));
    return finished(std::move(out), 0);  // rather everything than nothing
  }
  const std::vector<bool> held = heldInPlace(model);
  std::vector<bool> stays(model.nodes.size(), false);
  const auto up = [&](NodeIndex at) {
    for (; at.valid(); at = model.node(at).parent) stays[at.value()] = true;
  };
  for (const NodeIndex part : parts) up(part);
  for (size_t i = 0; i < held.size(); ++i)
    if (held[i]) stays[i] = true;
  size_t gone = 0;
  // What hangs below a part that is kept stays with it; parents come before their children.
  std::vector<bool> below(model.nodes.size(), false);
  for (const NodeIndex part : parts) below[part.value()] = true;
  for (const NodeIndex i : scene::reachedNodes(model)) {
    const NodeIndex parent = model.node(i).parent;
    if (parent.valid() && below[parent.value()]) below[i.value()] = stays[i.value()] = true;
  }
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (stays[i.value()]) continue;
    if (!model.node(i).parent.valid() || stays[model.node(i).parent.value()]) unlinkPart(model, i);
    ++gone;
  }
  out.did = base::countText(gone, "part dropped", "parts dropped");
  return finished(std::move(out), parts.size());
}

StepOutcome applySplit(Model& model, const base::Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "part"), by = base::textOf(values, "by");
  const NodeIndex part = findReached(model, key);
  if (!part.valid()) return missed(goneText("part", key));
  if (!model.node(part).mesh.valid())
    return missed(base::phrase("The part \"{0}\" has no mesh.", model.node(part).name));
  const std::shared_ptr<const Mesh> mesh = model.meshes[model.node(part).mesh.value()];
  LoosePieces pieces;
  std::vector<std::string> names;
  if (by == "piece") {
    pieces = loosePieces(*mesh);
    if (pieces.count > kMostPieces)
      return missed(base::phrase("The part falls into {0} pieces; {1} are the most.",
                                 base::groupedText(pieces.count), std::to_string(kMostPieces)));
    for (uint32_t i = 0; i < pieces.count; ++i) names.push_back("piece " + std::to_string(i + 1));
  } else {
    std::vector<scene::MaterialIndex> worn;
    for (const scene::Primitive& p : mesh->primitives) {
      auto at = std::find(worn.begin(), worn.end(), p.material);
      if (at == worn.end()) {
        worn.push_back(p.material);
        at = worn.end() - 1;
        names.push_back(p.material.valid() ? model.materials[p.material.value()].name : "plain");
      }
      pieces.of.emplace_back(p.indices.size() / 3, static_cast<uint32_t>(at - worn.begin()));
    }
    pieces.count = static_cast<uint32_t>(worn.size());
  }
  StepOutcome out;
  if (pieces.count < 2) {
    out.did = base::phrase("it is one");
    return out;
  }
  std::vector<Mesh> meshes = splitMesh(*mesh, pieces);
  for (uint32_t i = 0; i < pieces.count; ++i) {
    const NodeIndex piece = giveMesh(model, addPart(model, names[i], part), std::move(meshes[i]));
    // A skinned mesh lies where its bones put it, wherever its part stands.
    model.node(piece).skin = model.node(part).skin;
    model.node(piece).region = model.node(part).region;
    model.node(piece).morph_weights = model.node(part).morph_weights;
  }
  model.node(part).mesh = {};
  model.node(part).skin = {};
  model.node(part).region.clear();
  model.node(part).morph_weights.clear();
  out.did = base::countText(pieces.count, "part", "parts");
  return out;
}

StepOutcome applyJoin(Model& model, const base::Json& values, const StepContext&) {
  StepOutcome out;
  const std::vector<NodeIndex> parts = findAll(model, values, out);
  if (parts.size() < 2) {
    if (out.misses.empty()) return wrongValues(base::phrase("Two parts or more are joined."));
    return finished(std::move(out), 0);
  }
  const auto world = scene::worldMatrices(model);
  const NodeIndex first = parts[0];
  if (!model.node(first).mesh.valid())
    return missed(base::phrase("The part \"{0}\" has no mesh.", model.node(first).name));
  const std::vector<bool> held = heldInPlace(model);
  Mesh joined = model.mesh(model.node(first).mesh);
  size_t done = 0;
  for (size_t i = 1; i < parts.size(); ++i) {
    const scene::Node& node = model.node(parts[i]);
    if (!node.mesh.valid() || parts[i] == first) continue;
    if (node.skin != model.node(first).skin) {
      out.misses.push_back(base::phrase("The part \"{0}\" follows other bones and stays.", node.name));
      continue;
    }
    Mesh other = model.mesh(node.mesh);
    if (other.morph_names.size() != joined.morph_names.size()) {
      out.misses.push_back(base::phrase("The part \"{0}\" has other morph targets and stays.", node.name));
      continue;
    }
    if (!node.skin.valid()) moveMesh(other, glm::inverse(world[first.value()]) * world[parts[i].value()]);
    joinMesh(joined, other);
    model.node(parts[i]).mesh = {};
    model.node(parts[i]).skin = {};
    if (model.node(parts[i]).children.empty() && !held[parts[i].value()]) unlinkPart(model, parts[i]);
    ++done;
  }
  if (done > 0) giveMesh(model, first, std::move(joined));
  out.did = base::countText(done + 1, "part", "parts");
  return finished(std::move(out), done);
}

StepOutcome applyDuplicate(Model& model, const base::Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "part");
  const NodeIndex part = findReached(model, key);
  if (!part.valid()) return missed(goneText("part", key));
  const glm::vec3 by = pointValue(values, "by").value_or(glm::vec3(0));
  if (!model.node(part).mesh.valid())
    return missed(base::phrase("The part \"{0}\" has no mesh.", model.node(part).name));
  if (model.node(part).skin.valid())
    return missed(base::phrase("A part that follows bones stands where they are; it has no copy."));
  const auto world = scene::worldMatrices(model);
  const NodeIndex parent = model.node(part).parent;
  const NodeIndex copy = addPart(model, model.node(part).name, parent);
  scene::Node& made = model.node(copy);
  made.mesh = model.node(part).mesh;
  made.region = model.node(part).region;
  made.morph_weights = model.node(part).morph_weights;
  made.local = model.node(part).local;
  const glm::mat4 above = parent.valid() ? world[parent.value()] : glm::mat4(1);
  made.local.position += glm::vec3(glm::inverse(above) * glm::vec4(by, 0));
  return {};
}

StepOutcome applyMirror(Model& model, const base::Json& values, const StepContext&) {
  const std::string key = base::textOf(values, "part"), axis = base::textOf(values, "axis");
  const NodeIndex part = findReached(model, key);
  if (!part.valid()) return missed(goneText("part", key));
  if (!model.node(part).mesh.valid())
    return missed(base::phrase("The part \"{0}\" has no mesh.", model.node(part).name));
  if (model.node(part).skin.valid())
    return missed(base::phrase("A part that follows bones cannot be mirrored without them."));
  const auto world = scene::worldMatrices(model);
  const glm::mat4 own = world[part.value()];
  Mesh mesh = model.mesh(model.node(part).mesh);
  moveMesh(mesh, glm::inverse(own) * mirrorAcross(axis) * own);
  const NodeIndex copy = giveMesh(
      model, addPart(model, model.node(part).name + " mirrored", model.node(part).parent), std::move(mesh));
  model.node(copy).local = model.node(part).local;
  model.node(copy).region = model.node(part).region;
  model.node(copy).morph_weights = model.node(part).morph_weights;
  return {};
}

StepOutcome applyPivot(Model& model, const base::Json& values, const StepContext& context) {
  const std::string key = base::textOf(values, "part"), to = base::textOf(values, "to");
  const NodeIndex part = findReached(model, key);
  if (!part.valid()) return missed(goneText("part", key));
  const std::string name = model.node(part).name;
  if (heldInPlace(model)[part.value()] || model.node(part).skin.valid())
    return missed(
        base::phrase("The part \"{0}\" follows bones or moves, and turns about what they say.", name));
  const auto world = scene::worldMatrices(model);
  geometry::Bounds box;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (isBelow(model, i, part)) box.add(scene::partBounds(model, i, world));
  if (box.empty()) return missed(base::phrase("The part \"{0}\" has no vertices.", name));
  glm::vec3 place = box.center();
  if (to == "floor_centre") {
    const glm::vec3 up = gameAxes(model.frame, *context.book).up;
    place -= up * (std::abs(glm::dot(box.size(), up)) * 0.5F);
  } else if (to == "point") {
    const auto point = pointValue(values, "point");
    if (!point) return wrongValues(base::phrase("A point has three numbers."));
    place = *point;
  }
  const glm::vec3 was(world[part.value()][3]);
  const glm::vec3 inside(glm::inverse(world[part.value()]) * glm::vec4(place, 1));
  if (!std::isfinite(glm::dot(inside, inside)))
    return missed(base::phrase("The part \"{0}\" is scaled to nothing; bake its placement first.", name));
  StepOutcome out;
  const float distance = glm::distance(was, place);
  if (distance < 1e-6F) {
    out.did = base::phrase("already there");
    return out;
  }
  // The part goes, what it holds goes back.
  scene::Node& node = model.node(part);
  node.local.position = glm::vec3(node.local.matrix() * glm::vec4(inside, 1));
  for (const NodeIndex child : node.children) model.node(child).local.position -= inside;
  const auto moved = [&](MeshIndex from) {
    Mesh mesh = model.mesh(from);
    moveMesh(mesh, glm::translate(glm::mat4(1), -inside));
    model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
    return MeshIndex(model.meshes.size() - 1);
  };
  if (node.mesh.valid()) node.mesh = moved(node.mesh);
  for (scene::LighterMesh& far : node.lighter) far.mesh = moved(far.mesh);
  out.did = base::phrase("moved {0}", base::lengthText(static_cast<double>(distance)));
  return out;
}

StepOutcome applyFree(Model& model, const base::Json& values, const StepContext&) {
  StepOutcome out;
  const std::vector<NodeIndex> parts = findAll(model, values, out);
  if (parts.empty() && out.misses.empty()) return wrongValues(base::phrase("The step names no parts."));
  const std::vector<bool> held = heldInPlace(model);
  const auto world = scene::worldMatrices(model);
  size_t done = 0;
  for (const NodeIndex part : parts) {
    scene::Node& node = model.node(part);
    if (held[part.value()]) {
      out.misses.push_back(base::phrase("The part \"{0}\" is a bone or moves one, and stays.", node.name));
      continue;
    }
    ++done;
    if (!node.parent.valid()) continue;
    bool exact = true;
    const scene::Placement placement = scene::placementOf(world[part.value()], exact);
    if (!exact) {
      out.misses.push_back(
          base::phrase("The part \"{0}\" stands askew; bake its placement first.", node.name));
      --done;
      continue;
    }
    unlinkPart(model, part);
    node.local = placement;
    model.roots.push_back(part);
  }
  out.did = base::countText(done, "part", "parts");
  return finished(std::move(out), done);
}

}  // namespace

std::vector<StepKind> assemblySteps() {
  const auto part = [] { return referenceParameter("part", "part", ParameterType::part); };
  const auto parts = [] { return referenceParameter("parts", "parts", ParameterType::parts); };
  return {
      {"keep",
       "Keep only some parts",
       StepGroup::parts,
       5,
       "Keep {parts} and drop everything else",
       {parts()},
       applyKeep,
       "What they hang on, and bones, stay too."},
      {"free",
       "Free parts",
       StepGroup::parts,
       6,
       "Free {parts} from what they hang on, in place",
       {parts()},
       applyFree,
       "They become roots."},
      {"split",
       "Split a part",
       StepGroup::parts,
       7,
       "Split {part} by {by}",
       {part(), choiceParameter("by", "way", {{"piece", "its loose pieces"}, {"material", "its materials"}})},
       applySplit,
       "Each becomes a part below it, `PART/MATERIAL` or `PART/piece 1`… in the order of their first "
       "triangle."},
      {"join",
       "Join parts",
       StepGroup::parts,
       8,
       "Join {parts} into one part",
       {parts()},
       applyJoin,
       "All go into the first one."},
      {"duplicate",
       "Copy a part",
       StepGroup::parts,
       10,
       "Put a copy of {part} at {by} m from it",
       {part(), pointParameter("by", "way from the part to its copy").in("metres")},
       applyDuplicate},
      {"mirror",
       "Mirror a part",
       StepGroup::parts,
       11,
       "Add a mirror image of {part} across {axis}",
       {part(), axisParameter("axis", "axis that the mirror stands on", "y")},
       applyMirror,
       "The mirror goes through the origin."},
      {"pivot",
       "Put a part's pivot",
       StepGroup::parts,
       40,
       "Put the pivot of {part} at {to}[to=point| {point}]",
       {part(),
        choiceParameter(
            "to", "place of the pivot",
            {{"centre", "its centre"}, {"floor_centre", "the centre of its floor"}, {"point", "the point"}}),
        pointParameter("point", "point").in("metres").means("In the model's space.").orAbsent()},
       applyPivot,
       "The part and what hangs on it stay where they are."},
  };
}

}  // namespace rakugo::prepare
