#include "mod/things.h"

#include <algorithm>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "mod/piece_tree.h"

namespace rakugo::mod {
namespace {

// Calls `use` with the map of that sort.
template <class State, class Use>
auto withMap(State& state, Thing thing, Use use) {
  switch (thing) {
    case Thing::source:
      return use(state.sources);
    case Thing::model:
      return use(state.models);
    case Thing::object:
      break;
  }
  return use(state.objects);
}

bool has(const ModState& state, Thing thing, const std::string& name) {
  return withMap(state, thing, [&](const auto& map) { return map.count(name) != 0; });
}

base::Status mustBe(const ModState& state, Thing thing, const std::string& name) {
  if (has(state, thing, name)) return {};
  const std::vector<std::string> known = namesOf(state, thing);
  const std::string what = thingName(thing);
  return base::Error{
      "mod.no_" + what,
      base::phrase("The mod has no {0} {1}.", what, base::presentable(name, 60)),
      {},
      known.empty() ? base::phrase("It has none.") : base::phrase("It has {0}.", base::listText(known, 12))};
}

base::Status mustBeFree(const ModState& state, Thing thing, const std::string& name) {
  if (name != base::slug(name))
    return base::Error{"mod.name",
                       base::phrase("\"{0}\" cannot be a name.", base::presentable(name, 60)),
                       {},
                       base::phrase("Write \"{0}\".", base::slug(name))};
  if (has(state, thing, name))
    return base::Error{"mod.taken",
                       base::phrase("There is a {0} called {1} already.", thingName(thing), name),
                       {},
                       base::phrase("Choose another name.")};
  return {};
}

// Whether a step's value names that model.
bool stepNames(const StepDoc& step, const std::string& key, const base::Json& value, const std::string& name,
               const NamingValues& naming) {
  return value == base::Json(name) && naming.in_step && naming.in_step(step.kind, key);
}

}  // namespace

const char* thingName(Thing thing) {
  static constexpr const char* kNames[] = {"source", "model", "object"};
  return kNames[static_cast<size_t>(thing)];
}

std::vector<std::string> namesOf(const ModState& state, Thing thing) {
  return withMap(state, thing, [](const auto& map) {
    std::vector<std::string> out;
    for (const auto& [name, doc] : map) out.push_back(name);
    return out;
  });
}

std::vector<UseOf> usesOf(const ModState& state, Thing thing, const std::string& name,
                          const NamingValues& naming) {
  std::vector<UseOf> out;
  for (const auto& [model, doc] : state.models) {
    if (thing == Thing::source && doc.source == name) out.push_back({base::phrase("model {0}", model)});
    for (const auto& [variant, source] : doc.variants)
      if (thing == Thing::source && source == name)
        out.push_back({base::phrase("model {0}, size {1}", model, variant)});
    if (thing == Thing::model && doc.follows.name == name)
      out.push_back({base::phrase("model {0}, whose points follow it", model)});
    for (size_t i = 0; thing == Thing::model && i < doc.steps.size(); ++i)
      for (const auto& [key, value] : doc.steps[i].values.items())
        if (stepNames(doc.steps[i], key, value, name, naming))
          out.push_back({base::phrase("model {0}, step {1}", model, i + 1)});
  }
  for (const auto& [object, doc] : state.objects)
    for (const PieceDoc& piece : doc.pieces)
      if (thing == Thing::model && piece.model == name)
        out.push_back({base::phrase("object {0}, piece {1}", object, piece.name)});
  for (const auto& [object, doc] : state.objects)
    if (thing == Thing::object && doc.follows.name == name)
      out.push_back({base::phrase("object {0}, which is a variant of it", object)});
  for (const auto& [object, doc] : state.objects)
    eachReference(doc, [&, &object = object](const NamedThing& named, const std::string& where) {
      if (named.thing == thing && named.name == name)
        out.push_back({base::phrase("object {0}, {1}", object, where)});
    });
  return out;
}

base::Status renameThing(ModState& state, Thing thing, const std::string& from, const std::string& to,
                         const NamingValues& naming) {
  RAKUGO_TRY(mustBe(state, thing, from));
  if (from == to) return {};
  RAKUGO_TRY(mustBeFree(state, thing, to));
  NewNames names;
  names.files_move = false;
  const Names change{{from, to}};
  (thing == Thing::source ? names.sources : thing == Thing::model ? names.models : names.objects) = change;
  // Texts in cards and paths of icons name objects.
  if (thing == Thing::object) names.words = change;
  const ModState before = state;
  state = Renaming(before, std::move(names), naming).state();
  return {};
}

base::Status copyThing(ModState& state, Thing thing, const std::string& from, const std::string& to) {
  RAKUGO_TRY(mustBe(state, thing, from));
  RAKUGO_TRY(mustBeFree(state, thing, to));
  withMap(state, thing, [&](auto& map) {
    auto copy = map.at(from);
    map[to] = std::move(copy);
  });
  if (thing != Thing::object) return {};
  ObjectDoc& object = state.objects.at(to);
  const auto icon = state.icons.find(object.icon);
  if (icon != state.icons.end()) {
    const size_t dot = object.icon.rfind('.');
    const std::string path = "icons/" + to + (dot == std::string::npos ? "" : object.icon.substr(dot));
    state.icons[path] = icon->second;
    object.icon = path;
  }
  return {};
}

namespace {

// Takes out what refers to a source or a model: sizes, steps that name it, pieces.
void removeUses(ModState& state, Thing thing, const std::string& name, const NamingValues& naming) {
  state.models.changeEach([&](const std::string&, ModelDoc& doc) {
    if (thing == Thing::source)
      std::erase_if(doc.variants, [&](const auto& one) { return one.second == name; });
    if (thing == Thing::model)
      std::erase_if(doc.steps, [&](const StepDoc& step) {
        for (const auto& [key, value] : step.values.items())
          if (stepNames(step, key, value, name, naming)) return true;
        return false;
      });
  });
  if (thing == Thing::model)
    state.models.changeEach([&](const std::string&, ModelDoc& doc) {
      if (doc.follows.name == name) doc.follows = {};
    });
  if (thing == Thing::object)
    state.objects.changeEach([&](const std::string&, ObjectDoc& doc) {
      if (doc.follows.name == name) doc.follows = {};
    });
  if (thing == Thing::model)
    state.objects.changeEach([&](const std::string&, ObjectDoc& doc) {
      removePieces(doc, [&](const PieceDoc& piece) { return piece.model == name; });
    });
  state.objects.changeEach([&](const std::string&, ObjectDoc& doc) {
    replaceReferences(doc, [&](const NamedThing& named) -> std::optional<std::string> {
      if (named.thing == thing && named.name == name) return std::nullopt;
      return referenceTo(named.thing, named.name);
    });
  });
}

}  // namespace

base::Status removeThing(ModState& state, Thing thing, const std::string& name, bool references,
                         const NamingValues& naming) {
  RAKUGO_TRY(mustBe(state, thing, name));
  const std::vector<UseOf> uses = usesOf(state, thing, name, naming);
  const bool made_of =
      thing == Thing::source && std::any_of(state.models.begin(), state.models.end(),
                                            [&](const auto& m) { return m.second.source == name; });
  if (!uses.empty() && (!references || made_of)) {
    std::vector<std::string> places;
    for (const UseOf& use : uses) places.push_back(use.where);
    return base::Error{
        "mod.in_use",
        base::phrase("The {0} {1} is used by {2}.", thingName(thing), name, base::listText(places, 6)),
        {},
        made_of ? base::phrase("Remove the models that are made of it first.")
                : base::phrase("Remove what uses it first, or let the references go with it.")};
  }
  const std::string icon = thing == Thing::object ? std::as_const(state.objects).at(name).icon : "";
  if (!uses.empty()) removeUses(state, thing, name, naming);
  withMap(state, thing, [&](auto& map) { map.erase(name); });
  // The icon goes with the last object that shows it.
  if (std::none_of(state.objects.begin(), state.objects.end(),
                   [&](const auto& one) { return one.second.icon == icon; }))
    state.icons.erase(icon);
  return {};
}

base::Status newModel(ModState& state, const std::string& name, const std::string& source) {
  RAKUGO_TRY(mustBeFree(state, Thing::model, name));
  RAKUGO_TRY(mustBe(state, Thing::source, source));
  state.models[name].source = source;
  return {};
}

base::Status newObject(ModState& state, const std::string& name, const std::string& kind,
                       const std::vector<std::string>& models) {
  RAKUGO_TRY(mustBeFree(state, Thing::object, name));
  for (const std::string& model : models) RAKUGO_TRY(mustBe(state, Thing::model, model));
  ObjectDoc object;
  object.kind = kind;
  for (const std::string& model : models) {
    PieceDoc piece;
    piece.name = piece.model = model;
    object.pieces.push_back(std::move(piece));
  }
  state.objects[name] = std::move(object);
  return {};
}

base::Status addPiece(ModState& state, const std::string& object, const std::string& model) {
  RAKUGO_TRY(mustBe(state, Thing::object, object));
  RAKUGO_TRY(mustBe(state, Thing::model, model));
  std::vector<PieceDoc>& pieces = state.objects[object].pieces;
  PieceDoc piece;
  piece.name = piece.model = model;
  const auto isTaken = [&] {
    return std::any_of(pieces.begin(), pieces.end(),
                       [&](const PieceDoc& one) { return one.name == piece.name; });
  };
  for (int n = 2; isTaken(); ++n) piece.name = model + "-" + std::to_string(n);
  pieces.push_back(std::move(piece));
  return {};
}

}  // namespace rakugo::mod
