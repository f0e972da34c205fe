// Checks of what a kind asks of a model's make: bones, weights, budgets, grid, names of parts; and of the
// mods beside it.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "mod/copy.h"
#include "prepare/edit_steps.h"
#include "scene/rest_pose.h"

namespace rakugo::check {
namespace {

using base::Json;

std::set<std::string> boneNames(const scene::Model& model) {
  std::set<std::string> out;
  for (const scene::NodeIndex joint : scene::usedJoints(model)) out.insert(model.node(joint).name);
  return out;
}

// A limit that the model is over: one finding with measured and expected value.
void overLimit(const Context& context, const CheckRow& row, Findings& out, const std::string& name,
               int64_t most, uint64_t count, const char* one, const char* many) {
  if (most <= 0 || count <= static_cast<uint64_t>(most)) return;
  Finding f = aboutModel(context, row, name,
                         name + " has " + base::countText(count, one, many) + "; " + context.book->title +
                             " takes " + std::to_string(most) + " at most.");
  f.measured = std::to_string(count);
  f.expected = "at most " + std::to_string(most);
  out.push_back(std::move(f));
}

}  // namespace

void checkBonesNone(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.skeleton.empty() || !boneNames(*state.prepared.model).empty()) return;
    const rulebook::Skeleton& skeleton = *context.book->findSkeleton(kind.skeleton);
    Finding f = aboutModel(context, row, name,
                           name + " has no bones; a " + base::lowerAscii(kind.title) + " needs " +
                               std::to_string(skeleton.bones.size()) + ".");
    f.measured = "none";
    f.expected = std::to_string(skeleton.bones.size()) + " bones";
    out.push_back(std::move(f));
  });
}

void checkBonesMissing(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const rulebook::Skeleton* skeleton = context.book->findSkeleton(kind.skeleton);
    const std::set<std::string> there = boneNames(*state.prepared.model);
    if (skeleton == nullptr || there.empty()) return;
    std::vector<std::string> missing;
    size_t wanted = 0;
    for (const rulebook::Bone& bone : skeleton->bones) {
      if (!bone.required) continue;
      ++wanted;
      if (there.count(bone.id) == 0) missing.push_back(bone.id);
    }
    if (missing.empty()) return;
    Finding f =
        aboutModel(context, row, name,
                   base::countText(missing.size(), "bone", "bones") + " of " + std::to_string(wanted) +
                       " cannot be found by name in " + name + ": " + base::listText(missing, 4) + ".");
    f.measured = std::to_string(wanted - missing.size()) + " of " + std::to_string(wanted);
    f.expected = "all " + std::to_string(wanted);
    out.push_back(std::move(f));
  });
}

void checkBoneLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    overLimit(context, row, out, name, kind.max_bones, boneNames(*state.prepared.model).size(), "bone",
              "bones");
  });
}

void checkInfluences(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.skeleton.empty() || kind.max_influences <= 0) return;
    const scene::Model& model = *state.prepared.model;
    const auto world = scene::worldMatrices(model);
    uint64_t over = 0, none = 0;
    int most = 0;
    Finding f = aboutModel(context, row, name, {});
    for (const auto i : scene::reachedNodes(model)) {
      if (!model.node(i).skin.valid() || !model.node(i).mesh.valid()) continue;
      // Marked where the bones put them, which is where they are seen.
      const std::shared_ptr<const scene::Mesh> mesh = scene::restMesh(model, i, world);
      for (const scene::Primitive& p : mesh->primitives)
        for (size_t v = 0; v < p.positions.size(); ++v) {
          int influences = 0;
          for (const std::vector<glm::vec4>* weights : {&p.weights, &p.more_weights})
            for (int c = 0; c < 4 && v < weights->size(); ++c) influences += (*weights)[v][c] > 0 ? 1 : 0;
          most = std::max(most, influences);
          const bool bad = influences == 0 || influences > kind.max_influences;
          over += influences > kind.max_influences ? 1 : 0;
          none += influences == 0 ? 1 : 0;
          if (bad && f.place.marks_m.size() < 200) f.place.marks_m.push_back(p.positions[v]);
        }
    }
    if (over + none == 0) return;
    std::vector<std::string> said;
    if (over > 0)
      said.push_back(base::countText(over, "vertex follows", "vertices follow") + " more than " +
                     base::countText(static_cast<uint64_t>(kind.max_influences), "bone", "bones"));
    if (none > 0) said.push_back(base::countText(none, "vertex follows", "vertices follow") + " none");
    f.sentence = base::listText(said) + " in " + name + ".";
    f.measured = over > 0 ? "up to " + std::to_string(most) : "0";
    f.expected = "1 to " + std::to_string(kind.max_influences);
    out.push_back(std::move(f));
  });
}

void checkPartLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    overLimit(context, row, out, name, kind.max_parts, scene::countsOf(*state.prepared.model).parts, "part",
              "parts");
  });
}

void checkMaterialLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    overLimit(context, row, out, name, kind.max_materials, scene::usedMaterials(*state.prepared.model).size(),
              "material", "materials");
  });
}

void checkGrid(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.grid.cell_m <= 0) return;
    if (state.box_m.empty()) return;
    const glm::vec3 extents = extentsOf(state, context);
    static constexpr const char* kWays[] = {"long", "wide", "high"};
    // A thousandth of a cell is what a float and an exporter's rounding cost; a gap of that size is not seen.
    const double slack = kind.grid.cell_m * 0.001;
    for (int a = 0; a < 3; ++a) {
      const double extent = extents[a];
      const double cells = std::max(1.0, std::round(extent / kind.grid.cell_m));
      const int most = kind.grid.cells[static_cast<size_t>(a)];
      const bool fits = std::abs(extent - cells * kind.grid.cell_m) <= slack;
      if (fits && cells <= most) continue;
      Finding f = aboutModel(context, row, name,
                             name + " is " + base::lengthText(extent) + " " + kWays[a] + ", that is " +
                                 base::numberText(extent / kind.grid.cell_m, 2) + " cells of " +
                                 base::lengthText(kind.grid.cell_m) + "; a " + base::lowerAscii(kind.title) +
                                 " fills whole cells, " + std::to_string(most) + " at most.");
      f.measured = base::lengthText(extent);
      const double wanted = std::min<double>(cells, most) * kind.grid.cell_m;
      f.expected = base::lengthText(wanted);
      f.place.field = kWays[a];
      if (extent > 1e-9)
        f.mends.push_back(
            {"Scale everything by " + base::numberText(wanted / extent, 4) + ", to " + f.expected,
             [name, factor = wanted / extent](mod::ModState& mod) {
               if (const auto doc = mod.models.find(name); doc != mod.models.end())
                 prepare::scaleBy(doc->second, factor);
             }});
      out.push_back(std::move(f));
    }
  });
}

void checkPartNames(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const scene::Model& model = *state.prepared.model;
    std::vector<scene::NodeIndex> parts;
    for (const auto i : scene::reachedNodes(model))
      if (model.node(i).mesh.valid()) parts.push_back(i);
    const auto world = scene::worldMatrices(model);
    for (const rulebook::NamedPart& wanted : kind.parts) {
      const auto has = [&](scene::NodeIndex i) { return model.node(i).name == wanted.id; };
      if (!wanted.required || std::any_of(parts.begin(), parts.end(), has)) continue;
      Finding f = aboutModel(context, row, name,
                             "No part of " + name + " is called " + wanted.id + "." +
                                 (wanted.help.empty() ? "" : " " + wanted.help));
      f.measured = "none";
      f.expected = wanted.id;
      f.place.field = wanted.id;
      // What a word in its name speaks for first, then the largest.
      const auto hinted = [&](scene::NodeIndex i) {
        const std::string own = base::lowerAscii(model.node(i).name);
        return std::any_of(wanted.hints.begin(), wanted.hints.end(),
                           [&](const std::string& hint) { return own.find(hint) != std::string::npos; });
      };
      const auto size = [&](scene::NodeIndex i) {
        return glm::length(scene::partBounds(model, i, world).size());
      };
      std::vector<scene::NodeIndex> order = parts;
      std::stable_sort(order.begin(), order.end(), [&](scene::NodeIndex a, scene::NodeIndex b) {
        return hinted(a) != hinted(b) ? hinted(a) : size(a) > size(b);
      });
      for (size_t i = 0; i < std::min<size_t>(order.size(), 3); ++i)
        f.mends.push_back(stepMend(name, "rename",
                                   Json{{"part", model.node(order[i]).key}, {"name", wanted.id}},
                                   "Call " + model.node(order[i]).name + " so"));
      out.push_back(std::move(f));
    }
  });
}

void checkIdTaken(const Context& context, const CheckRow& row, Findings& out) {
  const mod::ModCard& card = context.mod->card;
  for (const InstalledMod& other : context.installed) {
    // The same id, title and author: this mod's own earlier build.
    if (other.id != card.id || (other.title == card.title && other.author == card.author)) continue;
    Finding f =
        begin(context, row,
              "The id " + card.id + " is that of another installed mod, \"" +
                  base::presentable(other.title, 60) + "\" by " + base::presentable(other.author, 60) + ".");
    f.place.document = "mod.json";
    f.place.field = "id";
    f.mends.push_back({"Give it an id of its own", [](mod::ModState& mod) {
                         mod.card.id = mod::freshModId(mod.card.title, {mod.card.id});
                       }});
    out.push_back(std::move(f));
    return;
  }
}

void checkDefinedTwice(const Context& context, const CheckRow& row, Findings& out) {
  for (const InstalledMod& other : context.installed) {
    if (other.id == context.mod->card.id) continue;
    for (const auto& [name, doc] : context.mod->objects) {
      if (std::find(other.objects.begin(), other.objects.end(), base::slug(name)) == other.objects.end())
        continue;
      Finding f = begin(context, row,
                        "The installed mod \"" + base::presentable(other.title, 60) + "\" defines " +
                            base::slug(name) + " too; " +
                            (other.id > context.mod->card.id ? other.id : context.mod->card.id) +
                            " comes later and wins.");
      f.place.object = name;
      f.place.document = "objects/" + name + ".object.json";
      f.measured = other.file;
      out.push_back(std::move(f));
    }
  }
}

}  // namespace rakugo::check
