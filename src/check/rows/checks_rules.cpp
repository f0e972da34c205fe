// Checks of what a kind asks of a model's make: budgets, grid, names of parts; and of the mods beside it.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "check/verdicts.h"
#include "mod/copy.h"
#include "prepare/edit_steps.h"
#include "prepare/surface/atlas.h"
#include "scene/rest_pose.h"

namespace rakugo::check {
namespace {
using base::Json;

void checkPartLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    overLimit(context, row, out, name, kind.max_parts, modelCounts(*state.prepared.model).parts, "part",
              "parts");
  });
  overLimitTogether(
      context, row, out, &rulebook::Kind::max_parts, [](const ObjectCounts& all) { return all.parts; },
      "part", "parts");
}

void checkMaterialLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const size_t before = out.size();
    overLimit(context, row, out, name, kind.max_materials, modelCounts(*state.prepared.model).materials,
              "material", "materials");
    if (out.size() == before) return;
    // Those that can be one: looked for here alone, for it visits every vertex.
    const scene::Model& model = *state.prepared.model;
    for (const auto& group : prepare::atlasGroups(model).groups) {
      Json keys = Json::array();
      for (const scene::MaterialIndex i : group) keys.push_back(model.materials[i.value()].key);
      Json values{{"materials", keys}, {"name", name}};
      if (context.book->picture_max_side > 0)
        values["side"] = std::clamp(context.book->picture_max_side, 16U, 8192U);
      out.back().mends.push_back(
          stepMend(name, "atlas", std::move(values),
                   counted(group.size(), "Merge {0} material", "Merge {0} materials into one")));
    }
  });
  overLimitTogether(
      context, row, out, &rulebook::Kind::max_materials,
      [](const ObjectCounts& all) { return static_cast<uint64_t>(all.materials); }, "material", "materials");
}

void checkGrid(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.grid.cell_m <= 0) return;
    if (state.box_m.empty()) return;
    static constexpr const char* kWays[] = {"long", "wide", "high"};
    const std::array<GridFit, 3> fits = gridFit(kind.grid, extentsOf(state, context));
    for (size_t a = 0; a < 3; ++a) {
      const GridFit& fit = fits[a];
      if (fit.fits) continue;
      const double extent = fit.extent_m, wanted = fit.wanted_m;
      Finding f = aboutModel(
          context, row, name,
          phrase("{0} is {1} {2}, that is {3} cells of {4}; a {5} fills whole cells, {6} at most.", name,
                 base::lengthText(extent), kWays[a], base::numberText(extent / kind.grid.cell_m, 2),
                 base::lengthText(kind.grid.cell_m), base::lowerAscii(kind.title), std::to_string(fit.most)));
      f.measured = base::lengthText(extent);
      f.expected = base::lengthText(wanted);
      f.place.field = kWays[a];
      if (extent > 1e-9)
        f.mends.push_back(
            {phrase("Scale everything by {0}, to {1}", base::numberText(wanted / extent, 4), f.expected),
             [name, factor = wanted / extent](mod::ModState& mod) {
               if (auto* doc = mod.models.change(name)) prepare::scaleBy(*doc, factor);
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
                             phrase("No part of {0} is called {1}.{2}", name, wanted.id,
                                    (wanted.help.empty() ? "" : " " + wanted.help)));
      f.measured = phrase("none");
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
                                   phrase("Call {0} so", model.node(order[i]).name)));
      out.push_back(std::move(f));
    }
  });
}

void checkIdTaken(const Context& context, const CheckRow& row, Findings& out) {
  const mod::ModCard& card = context.mod->card;
  for (const InstalledMod& other : context.installed) {
    // The same id, title and author: this mod's own earlier build.
    if (other.id != card.id || (other.title == card.title && other.author == card.author)) continue;
    Finding f = begin(context, row,
                      phrase("The id {0} is that of another installed mod, \"{1}\" by {2}.", card.id,
                             base::presentable(other.title, 60), base::presentable(other.author, 60)));
    f.place.document = "mod.json";
    f.place.field = "id";
    f.mends.push_back({phrase("Give it an id of its own"), [](mod::ModState& mod) {
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
                        phrase("The installed mod \"{0}\" defines {1} too; {2} comes later and wins.",
                               base::presentable(other.title, 60), base::slug(name),
                               (other.id > context.mod->card.id ? other.id : context.mod->card.id)));
      f.place.object = name;
      f.place.document = "objects/" + name + ".object.json";
      f.measured = other.file;
      out.push_back(std::move(f));
    }
  }
}

}  // namespace

std::vector<CheckRow> ruleChecks() {
  using S = Severity;
  return {
      {"parts.limit",
       700,
       S::stops,
       Station::shape,
       {"model.parts"},
       "Too many parts",
       "The game refuses the model.",
       "Join or drop parts.",
       checkPartLimit},
      {"part.name",
       710,
       S::shows,
       Station::shape,
       {"model.parts"},
       "A part that the game looks for has another name",
       "The game finds it by its exact name; under another it is not there.",
       "Call the right part so.",
       checkPartNames},
      {"materials.limit",
       720,
       S::stops,
       Station::surface,
       {"model.materials"},
       "Too many materials",
       "The game refuses the model.",
       "Let parts share materials.",
       checkMaterialLimit},
      {"grid.size",
       730,
       S::shows,
       Station::shape,
       {"model.length_m", "model.width_m", "model.height_m"},
       "The block does not fill cells of the grid",
       "Blocks join by their cells; one of another size leaves a gap or stands in its neighbour.",
       "Scale it to the cells.",
       checkGrid},
      {"mod.id_taken",
       980,
       S::stops,
       Station::bundle,
       {"mod.installed"},
       "Another installed mod has this id",
       "Of two mods with one id the game loads one, and which is chance.",
       "Give the mod an id of its own.",
       checkIdTaken},
      {"mod.defined_twice",
       990,
       S::tidy,
       Station::bundle,
       {"mod.installed"},
       "Another installed mod defines the same thing",
       "Only one of the two is seen in the game.",
       "Rename the object, or live with it.",
       checkDefinedTwice},
  };
}

}  // namespace rakugo::check
