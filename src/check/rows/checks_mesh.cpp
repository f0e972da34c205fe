// Checks of meshes and parts.
#include <algorithm>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "geometry/triangles.h"
#include "prepare/edit_steps.h"
#include "prepare/space/space_ops.h"
#include "scene/rest_pose.h"

namespace rakugo::check {
namespace {

using base::countText;
using base::Json;

constexpr size_t kMostMarks = 200;

// Calls body(part index, primitive, world matrix) for all that the model draws.
template <class Body>
void eachPrimitive(const scene::Model& model, const Body& body) {
  const auto world = scene::worldMatrices(model);
  for (const auto i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    for (const scene::Primitive& p : model.mesh(node.mesh).primitives)
      body(i, p, node.skin.valid() ? glm::mat4(1) : world[i.value()]);
  }
}

void placeIn(Finding& f, const std::string& model, const scene::Model& m, scene::NodeIndex part) {
  f.place.model = model;
  f.place.document = "models/" + model + ".model.json";
  if (part.valid()) f.place.part = m.node(part).key;
}

std::string partName(const scene::Model& m, scene::NodeIndex part) {
  return m.node(part).name.empty() ? m.node(part).key : m.node(part).name;
}

// One finding for a fault that is counted over parts.
struct Tally {
  uint64_t count = 0;
  scene::NodeIndex first;
  std::vector<std::string> parts;
  std::vector<glm::vec3> marks;
  void add(const scene::Model& m, scene::NodeIndex part, uint64_t n) {
    if (n == 0) return;
    if (!first.valid()) first = part;
    count += n;
    const std::string name = partName(m, part);
    if (parts.empty() || parts.back() != name) parts.push_back(name);
  }
  void mark(glm::vec3 at) {
    if (marks.size() < kMostMarks) marks.push_back(at);
  }
};

void checkBudget(const Context& context, const CheckRow& row, Findings& out, int64_t rulebook::Kind::*limit,
                 uint64_t ObjectCounts::*count, const char* one, const char* many, bool simplify) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.*limit <= 0) return;
    const ObjectCounts counts = modelCounts(*state.prepared.model);
    const auto most = static_cast<uint64_t>(kind.*limit);
    if (counts.*count <= most) return;
    Finding f = begin(context, row,
                      phrase("{0} has {1}; a {2} may have {3}.", name, countText(counts.*count, one, many),
                             base::lowerAscii(kind.title), base::groupedText(most)));
    f.measured = base::groupedText(counts.*count);
    f.expected = phrase("at most {0}", base::groupedText(most));
    placeIn(f, name, *state.prepared.model, {});
    if (simplify)
      f.mends.push_back(stepOrEditMend(name, "simplify", Json{{"triangles", static_cast<double>(most)}},
                                       phrase("Simplify to {0} triangles", base::groupedText(most))));
    out.push_back(std::move(f));
  });
  overLimitTogether(
      context, row, out, limit, [&](const ObjectCounts& all) { return all.*count; }, one, many);
}

void checkTriangleLimit(const Context& context, const CheckRow& row, Findings& out) {
  checkBudget(context, row, out, &rulebook::Kind::max_triangles, &ObjectCounts::triangles, "triangle",
              "triangles", true);
}

void checkVertexLimit(const Context& context, const CheckRow& row, Findings& out) {
  checkBudget(context, row, out, &rulebook::Kind::max_vertices, &ObjectCounts::vertices, "vertex", "vertices",
              false);
}

// All parts of a model share its budget by their triangles: as many in all as bring one of them to `most`.
void mendBySimplifying(Finding& f, const std::string& model, const scene::Model& prepared, uint64_t most,
                       uint64_t has) {
  if (has == 0) return;
  const auto all = static_cast<double>(scene::countsOf(prepared).triangles);
  const double budget = std::floor(all * static_cast<double>(most) / static_cast<double>(has));
  if (budget < 1) return;
  f.mends.push_back(stepOrEditMend(
      model, "simplify", Json{{"triangles", budget}},
      phrase("Simplify all to {0} triangles", base::groupedText(static_cast<uint64_t>(budget)))));
}

void checkPartTriangles(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.max_part_triangles <= 0) return;
    const scene::Model& model = *state.prepared.model;
    const auto most = static_cast<uint64_t>(kind.max_part_triangles);
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      uint64_t has = 0;
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives) has += p.indices.size() / 3;
      if (has <= most) continue;
      Finding f = begin(context, row,
                        phrase("{0} has {1}; a part of a {2} may have {3}.", partName(model, i),
                               countText(has, "triangle", "triangles"), base::lowerAscii(kind.title),
                               base::groupedText(most)));
      f.measured = base::groupedText(has);
      f.expected = phrase("at most {0}", base::groupedText(most));
      placeIn(f, name, model, i);
      mendBySimplifying(f, name, model, most, has);
      out.push_back(std::move(f));
    }
  });
}

void checkIndices(const Context& context, const CheckRow& row, Findings& out) {
  if (context.book->index_bits != 16) return;
  constexpr size_t kMost = 1 << 16;
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      if (!model.node(i).mesh.valid()) continue;
      for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives) {
        if (p.positions.size() <= kMost) continue;
        Finding f = begin(
            context, row,
            p.material.valid()
                ? phrase("{0} has {1} of {2}; the game can number {3} at once.", partName(model, i),
                         countText(p.positions.size(), "vertex", "vertices"),
                         model.materials[p.material.value()].name, base::groupedText(kMost))
                : phrase("{0} has {1}; the game can number {2} at once.", partName(model, i),
                         countText(p.positions.size(), "vertex", "vertices"), base::groupedText(kMost)));
        f.measured = base::groupedText(p.positions.size());
        f.expected = phrase("at most {0}", base::groupedText(kMost));
        placeIn(f, name, model, i);
        if (p.material.valid()) f.place.material = model.materials[p.material.value()].name;
        // Vertices go with the triangles, about; a tenth for seams.
        const uint64_t has = p.indices.size() / 3;
        mendBySimplifying(f, name, model, has * kMost / p.positions.size() * 9 / 10, has);
        out.push_back(std::move(f));
      }
    }
  });
}

void checkLighter(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc& doc, const ModelState& state,
                             const rulebook::Kind& kind) {
    const auto count = scene::countsOf(*state.prepared.model).triangles;
    if (kind.lighter.over_triangles <= 0 || count <= static_cast<uint64_t>(kind.lighter.over_triangles))
      return;
    // Once there is a step for it, the step itself says what it could not make.
    const bool made = std::any_of(doc.steps.begin(), doc.steps.end(), [](const mod::StepDoc& step) {
      return step.enabled && step.kind == "make_lighter";
    });
    if (made) return;
    Finding f = aboutModel(context, row, name,
                           phrase("{0} has {1} and no lighter version for the distance.", name,
                                  countText(count, "triangle", "triangles")));
    f.measured = base::groupedText(count);
    f.expected = phrase("lighter versions above {0} triangles",
                        base::groupedText(static_cast<uint64_t>(kind.lighter.over_triangles)));
    f.mends.push_back(
        stepMend(name, "make_lighter",
                 Json{{"levels", static_cast<double>(kind.lighter.levels)}, {"from_m", kind.lighter.from_m}},
                 phrase("Make lighter versions")));
    out.push_back(std::move(f));
  });
}

void checkNoTriangles(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (scene::countsOf(*state.prepared.model).triangles > 0) return;
    Finding f = begin(context, row, phrase("{0} has no triangles left.", name));
    placeIn(f, name, *state.prepared.model, {});
    // An object that has others to show is loaded without it.
    const bool alone =
        std::any_of(state.objects.begin(), state.objects.end(), [&](const std::string& object) {
          return objectCounts(context, context.mod->objects.at(object)).triangles == 0;
        });
    if (!alone && !state.objects.empty()) f.severity = Severity::shows;
    out.push_back(std::move(f));
  });
}

void checkNoSurface(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    if (!state.structure || state.structure->empty()) return;
    uint64_t triangles = 0;
    for (const scene::PartStructure& s : *state.structure) {
      if (s.fault(scene::FaultCode::degenerate_triangles).count < s.triangles) return;
      triangles += s.triangles;
    }
    if (triangles == 0) return;  // said by another check
    Finding f = begin(context, row,
                      phrase("None of the {0} of {1} has a surface: nothing of it can be seen.",
                             countText(triangles, "triangle", "triangles"), name));
    f.measured = "0";
    f.expected = phrase("a triangle with a surface");
    placeIn(f, name, *state.prepared.model, {});
    out.push_back(std::move(f));
  });
}

void checkNotFinite(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    Tally tally;
    const auto world = scene::worldMatrices(model);
    for (const scene::NodeIndex part : scene::reachedNodes(model)) {
      const scene::Node& node = model.node(part);
      if (!node.mesh.valid()) continue;
      // What has bones is shipped as they put it, anything else as it is stored.
      std::vector<glm::vec3> placed;
      if (node.skin.valid()) placed = scene::placedPositions(model, part, world);
      size_t first = 0, bad = 0;
      for (const scene::Primitive& p : model.mesh(node.mesh).primitives) {
        const std::span<const glm::vec3> shipped =
            placed.empty() ? std::span(p.positions) : std::span(placed).subspan(first, p.positions.size());
        first += p.positions.size();
        const std::vector<uint32_t> wrong = geometry::nonFiniteVertices(shipped);
        if (wrong.empty()) continue;
        std::vector<bool> used(p.positions.size(), false);  // the others are not shipped
        for (const uint32_t v : p.indices) used[v] = true;
        for (const uint32_t v : wrong) bad += used[v] ? 1 : 0;
      }
      tally.add(model, part, bad);
    }
    if (tally.count == 0) return;
    Finding f = begin(context, row,
                      counted(tally.count, "{0} vertex of {1} is not a number.",
                              "{0} vertices of {1} are not a number.", base::listText(tally.parts)));
    f.measured = base::groupedText(tally.count);
    f.expected = phrase("none");
    placeIn(f, name, model, tally.first);
    out.push_back(std::move(f));
  });
}

void checkUvs(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    std::set<uint32_t> told;
    eachPrimitive(model, [&](scene::NodeIndex part, const scene::Primitive& p, const glm::mat4&) {
      if (!p.material.valid() || p.positions.empty()) return;
      const scene::Material& material = model.materials[p.material.value()];
      for (const scene::TextureSlot& slot : scene::kTextureSlots) {
        const scene::TextureUse& use = material.*slot.use;
        if (!use.image.valid() || p.uvs[use.uv_set].size() == p.positions.size() ||
            !told.insert(part.value()).second)
          continue;
        Finding f =
            begin(context, row,
                  phrase(use.uv_set == 1
                             ? "{0} has no UVs in its second set, and its material {1} shows a picture ({2})."
                             : "{0} has no UVs, and its material {1} shows a picture ({2}).",
                         partName(model, part), material.name, phrase(slot.name)));
        placeIn(f, name, model, part);
        f.place.material = material.key;
        out.push_back(std::move(f));
      }
    });
  });
}

void checkStray(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    const std::vector<bool> held = prepare::heldInPlace(model);
    // A part is stray when nothing it carries draws anything; only the topmost stray part is named.
    std::vector<bool> draws(model.nodes.size(), false);
    const auto reached = scene::reachedNodes(model);
    for (size_t k = reached.size(); k-- > 0;) {
      const auto i = reached[k];
      if (model.node(i).mesh.valid() || held[i.value()]) draws[i.value()] = true;
      if (draws[i.value()] && model.node(i).parent.valid()) draws[model.node(i).parent.value()] = true;
    }
    std::vector<std::string> keys;
    std::vector<std::string> names;
    scene::NodeIndex first;
    for (const auto i : reached) {
      const scene::Node& node = model.node(i);
      const bool parent_draws = !node.parent.valid() || draws[node.parent.value()];
      if (draws[i.value()] || !parent_draws) continue;
      if (!first.valid()) first = i;
      keys.push_back(node.key);
      names.push_back(phrase(node.camera.valid()  ? "{0} (camera)"
                             : node.light.valid() ? "{0} (light)"
                                                  : "{0} (empty)",
                             partName(model, i)));
    }
    if (names.empty()) return;
    Finding f =
        begin(context, row,
              phrase(names.size() == 1 ? "{0} draws nothing." : "{0} draw nothing.", base::listText(names)));
    f.measured = countText(names.size(), "part", "parts");
    f.expected = phrase("none");
    placeIn(f, name, model, first);
    f.mends.push_back({phrase("Drop {0}", base::listText(names, 2)), [name, keys](mod::ModState& mod) {
                         if (auto* doc = mod.models.change(name)) prepare::dropParts(*doc, keys);
                       }});
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> meshChecks() {
  using S = Severity;
  return {
      {"mesh.no_triangles",
       100,
       S::stops,
       Station::shape,
       {"model.triangles"},
       "A model has no triangles",
       "The game would load an invisible thing.",
       "Check what the steps dropped, or export the model again.",
       checkNoTriangles},
      {"mesh.no_surface",
       110,
       S::shows,
       Station::shape,
       {"model.structure", "model.triangles"},
       "A model of which nothing can be seen",
       "Players find nothing where the thing stands.",
       "Look at what the steps did to its size, or export the model again.",
       checkNoSurface},
      {"mesh.not_finite",
       120,
       S::stops,
       Station::shape,
       {"model.not_finite"},
       "Vertices that are not numbers",
       "A single such vertex makes the thing flicker, vanish, or crash the game.",
       "Mend it in the modelling program and take the new version in.",
       checkNotFinite},
      {"mesh.triangles",
       130,
       S::stops,
       Station::shape,
       {"model.triangles"},
       "More triangles than the game takes",
       "The game refuses meshes beyond its budget.",
       "Drop parts, or simplify the model.",
       checkTriangleLimit},
      {"mesh.vertices",
       140,
       S::stops,
       Station::shape,
       {"model.vertices"},
       "More vertices than the game takes",
       "The game refuses meshes beyond its budget.",
       "Drop parts, or simplify the model.",
       checkVertexLimit},
      {"mesh.part_triangles",
       150,
       S::stops,
       Station::shape,
       {"model.part_triangles"},
       "A part with more triangles than the game takes",
       "The game refuses meshes beyond its budget.",
       "Split the part, or simplify the model.",
       checkPartTriangles},
      {"mesh.indices",
       160,
       S::stops,
       Station::shape,
       {"model.vertices"},
       "More vertices in one draw than the game can number",
       "The game numbers vertices with 16 bits: what lies beyond is drawn from the wrong ones, in shards.",
       "Split the part, or simplify the model.",
       checkIndices},
      {"lighter.missing",
       170,
       S::tidy,
       Station::shape,
       {"model.triangles"},
       "A heavy model has no lighter version",
       "The game draws every triangle of it even where it is a speck on the horizon.",
       "Make lighter versions for the distance.",
       checkLighter},
      {"mesh.uvs",
       420,
       S::shows,
       Station::shape,
       {"model.structure"},
       "A picture but no UVs",
       "The surface shows one single colour of its picture.",
       "Unwrap the mesh in the modelling program.",
       checkUvs},
      {"part.stray",
       840,
       S::tidy,
       Station::shape,
       {"model.parts"},
       "Cameras, lights or empties left behind",
       "They are carried along for nothing, and some games trip over them.",
       "Drop them.",
       checkStray},
  };
}

}  // namespace rakugo::check
