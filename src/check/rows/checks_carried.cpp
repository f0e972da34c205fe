// Checks of what a source holds and the game does not get.
#include <algorithm>
#include <set>

#include "base/text.h"
#include "check/checks.h"

namespace rakugo::check {
namespace {

using base::Json;

// Files that are not there are other findings' business.
bool tellsOfMissingFile(const base::Note& note) { return note.code.ends_with("_missing"); }

// The names of the extensions in what a writer of the same format would give back.
void addExtensions(const std::string& kept, std::set<std::string>& out) {
  if (kept.empty()) return;
  const auto json = base::parseJson(kept, "");
  if (!json || !json->is_object()) return;
  const auto extensions = json->find("extensions");
  if (extensions == json->end() || !extensions->is_object()) return;
  for (const auto& [name, value] : extensions->items()) out.insert(base::presentable(name, 60));
}

void checkSourceLeftOut(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, state] : context.sources) {
    if (!state.read) continue;
    const bool used =
        std::any_of(context.mod->models.begin(), context.mod->models.end(),
                    [&, n = name](const auto& model) { return mod::usesSource(model.second, n); });
    if (!used) continue;
    std::vector<std::string> said;
    for (const base::Note& note : state.read->notes)
      if (!tellsOfMissingFile(note) && std::find(said.begin(), said.end(), note.message) == said.end())
        said.push_back(note.message);
    if (said.empty()) continue;
    constexpr size_t kMost = 3;
    std::string sentence = phrase("Not all of {0} is read as it stands: {1}", name, said[0]);
    for (size_t i = 1; i < std::min(kMost, said.size()); ++i) sentence += " " + said[i];
    if (said.size() > kMost) sentence += " " + phrase("And {0} more.", said.size() - kMost);
    Finding f = begin(context, row, std::move(sentence));
    f.measured = base::countText(said.size(), "note", "notes");
    f.expected = phrase("none");
    f.place.source = name;
    f.place.document = "sources/" + name + "/source.json";
    out.push_back(std::move(f));
  }
}

void checkNotCarried(const Context& context, const CheckRow& row, Findings& out) {
  // A zip has the model as glTF, with its extensions.
  if (context.book->packaging != "bundle") return;
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind&) {
    const scene::Model& model = *state.prepared.model;
    std::set<std::string> names;
    std::string material;
    for (const scene::MaterialIndex i : scene::usedMaterials(model)) {
      const size_t before = names.size();
      addExtensions(model.materials[i.value()].kept, names);
      if (names.size() > before && material.empty()) material = model.materials[i.value()].key;
    }
    for (const scene::NodeIndex i : scene::reachedNodes(model)) {
      const scene::Node& node = model.node(i);
      addExtensions(node.kept, names);
      if (!node.mesh.valid()) continue;
      addExtensions(model.mesh(node.mesh).kept, names);
      for (const scene::Primitive& p : model.mesh(node.mesh).primitives) addExtensions(p.kept, names);
    }
    if (names.empty()) return;
    const std::vector<std::string> list(names.begin(), names.end());
    Finding f = aboutModel(context, row, name,
                           phrase("{0} is described further by {1}, which a bundle does not carry.", name,
                                  base::listText(list, 4)));
    f.measured = base::countText(list.size(), "extension", "extensions");
    f.expected = phrase("none");
    f.place.material = material;
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> carriedChecks() {
  using S = Severity;
  return {
      {"source.left_out",
       910,
       S::tidy,
       Station::sources,
       {"source.contents"},
       "A source that is not read as it stands",
       "What is left out does not reach the game, and what is taken otherwise may look otherwise.",
       "Look whether it matters; else change it in the modelling program and take the new version in.",
       checkSourceLeftOut},
      {"model.not_carried",
       920,
       S::tidy,
       Station::surface,
       {"model.materials", "model.pictures"},
       "Descriptions that the package does not carry",
       "The game draws the model without them.",
       "Put what they do into pictures, materials or the mesh in the modelling program, or do without.",
       checkNotCarried},
  };
}

}  // namespace rakugo::check
