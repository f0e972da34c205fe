// The demo mods changed at random in all that can go wrong.
#pragma once

#include <cstdlib>
#include <functional>
#include <random>
#include <string>

#include "check/examiner.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "support/broken_sources.h"
#include "support/examined.h"

namespace rakugo::test {

using base::Json;

inline constexpr const char* kKelpwickMods[] = {"lamplight", "tidewater", "deckhand",  "slipway",
                                                "newcomer",  "chandlery", "first-lamp"};

/// How many mutants a test tries: `usual`, or as many as the environment variable RAKUGO_MUTANTS says.
inline size_t mutantCount(size_t usual) {
  const char* wanted = std::getenv("RAKUGO_MUTANTS");
  return wanted != nullptr ? std::strtoul(wanted, nullptr, 10) : usual;
}

/// A demo mod as it stands, with what the game cannot do without: else all mutants of an unfinished one would
/// be refused for that.
inline mod::ModState loadedDemoMod(const std::filesystem::path& folder) {
  mod::ModState state = std::move(mod::loadMod(folder)).value();
  state.objects.changeEach([&](const std::string&, mod::ObjectDoc& doc) {
    for (const rulebook::Field& f : shippedBook(state.card.rulebook)->findKind(doc.kind)->fields)
      if (f.when_empty && !doc.card.contains(f.id)) doc.card[f.id] = f.default_value;
  });
  return state;
}

struct Mutation {
  std::string what;
  std::function<void(mod::ModState&)> apply;
};

class Mutator {
 public:
  /// `folder` is a copy of the mod that broken sources may be written into.
  Mutator(std::mt19937& random, const check::Examination& x, std::filesystem::path folder)
      : random_(random), x_(x), mod_(*x.mod), folder_(std::move(folder)) {}

  Mutation next() {
    switch (random_() % 22) {
      case 0:
      case 1:
      case 2:
        return field();
      case 3:
        return kind();
      case 4:
        return icon();
      case 5:
        return pieces();
      case 6:
        return points();
      case 7:
      case 8:
        return withoutStep();
      case 9:
        return size();
      case 10:
        return role();
      case 11:
        return region();
      case 12:
        return bones();
      case 13:
        return copies();
      case 14:
        return documents();
      case 15:
      case 16:
        return brokenFile();
      case 17:
        return sound();
      case 18:
        return names();
      case 19:
        return carried();
      case 20:
        return inPlace();
      default:
        return parts();
    }
  }

 private:
  size_t below(size_t n) { return random_() % std::max<size_t>(n, 1); }
  template <class Map>
  std::string nameIn(const Map& map) {
    if (map.empty()) return {};
    return std::next(map.begin(), static_cast<std::ptrdiff_t>(below(map.size())))->first;
  }

  Mutation field() {
    const std::string object = nameIn(mod_.objects);
    const mod::ObjectDoc& doc = mod_.objects.at(object);
    const rulebook::Kind* kind = x_.book->findKind(doc.kind);
    if (kind == nullptr || kind->fields.empty()) return {"nothing", [](mod::ModState&) {}};
    const rulebook::Field& f = kind->fields[below(kind->fields.size())];
    const std::string id = f.id;
    const Json values[] = {nullptr,
                           "",
                           Json(),
                           true,
                           false,
                           "nonsense",
                           std::string(300, 'x'),
                           0,
                           -1,
                           1,
                           12.5,
                           12.0,
                           f.min.value_or(3),
                           f.max.value_or(7),
                           f.max.value_or(7) + 1,
                           f.min.value_or(3) - 1,
                           static_cast<int64_t>(f.max.value_or(7)),
                           static_cast<int64_t>(f.max.value_or(7)) + 1,
                           Json::array({1}),
                           Json::object(),
                           f.choices.empty() ? Json("other") : Json(f.choices[below(f.choices.size())]),
                           f.default_value};
    const Json value = values[below(std::size(values))];
    if (below(6) == 0)
      return {object + " without " + id, [=](mod::ModState& m) { m.objects[object].card.erase(id); }};
    return {object + " " + id + " = " + base::jsonLine(value),
            [=](mod::ModState& m) { m.objects[object].card[id] = value; }};
  }
  Mutation kind() {
    const std::string object = nameIn(mod_.objects);
    std::string to = x_.book->kinds[below(x_.book->kinds.size())].id;
    if (below(4) == 0) to = below(2) == 0 ? "zeppelin" : "";
    if (to.empty()) return {object + " untitled", [=](mod::ModState& m) { m.objects[object].title.clear(); }};
    return {object + " as " + to, [=](mod::ModState& m) { m.objects[object].kind = to; }};
  }
  Mutation icon() {
    const std::string object = nameIn(mod_.objects);
    switch (below(4)) {
      case 0:
        return {object + " without icon", [=](mod::ModState& m) { m.objects[object].icon.clear(); }};
      case 1:
        return {object + " icon not there",
                [=](mod::ModState& m) { m.objects[object].icon = "icons/none.png"; }};
      case 2:
        return {object + " icon garbage", [=](mod::ModState& m) {
                  m.objects[object].icon = "icons/x.png";
                  m.icons["icons/x.png"] = std::make_shared<const base::Bytes>(base::Bytes(40, std::byte{3}));
                }};
      default:
        return {object + " icon of another", [=](mod::ModState& m) {
                  if (!m.icons.empty()) m.objects[object].icon = m.icons.begin()->first;
                }};
    }
  }
  Mutation pieces() {
    const std::string object = nameIn(mod_.objects), model = nameIn(mod_.models);
    const size_t count = 1 + below(12);
    const double away = static_cast<double>(below(9)) - 2;
    switch (below(5)) {
      case 0:
        return {object + " without pieces", [=](mod::ModState& m) { m.objects[object].pieces.clear(); }};
      case 1:
        return {object + " of a model that is not there", [=](mod::ModState& m) {
                  m.objects[object].pieces.push_back({"p", "none", {0, 0, 0}, {0, 0, 0, 1}});
                }};
      case 2:
        return {object + " with " + std::to_string(count) + " × " + model, [=](mod::ModState& m) {
                  for (size_t i = 0; i < count; ++i)
                    m.objects[object].pieces.push_back({"p", model, {0, 0, 0}, {0, 0, 0, 1}});
                }};
      case 3:
        return {object + " with " + model + " above", [=](mod::ModState& m) {
                  m.objects[object].pieces.push_back({"p", model, {0, 0, away}, {0, 0, 0, 1}});
                }};
      default:
        return {object + " of " + model, [=](mod::ModState& m) {
                  m.objects[object].pieces = {{"p", model, {0, 0, 0}, {0, 0, 0, 1}}};
                }};
    }
  }
  Mutation points() {
    const std::string model = nameIn(mod_.models);
    const size_t which = below(12);
    if (below(3) == 0)
      return {model + " without points", [=](mod::ModState& m) { m.models[model].points.clear(); }};
    return {model + " without point " + std::to_string(which), [=](mod::ModState& m) {
              auto& points = m.models[model].points;
              if (which < points.size()) points.erase(points.begin() + static_cast<std::ptrdiff_t>(which));
            }};
  }
  Mutation withoutStep() {
    const std::string model = nameIn(mod_.models);
    const size_t which = below(20);
    const bool off = below(2) == 0;
    return {model + " without step " + std::to_string(which), [=](mod::ModState& m) {
              auto& steps = m.models[model].steps;
              if (which >= steps.size()) return;
              if (off)
                steps[which].enabled = false;
              else
                steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(which));
            }};
  }
  static Mutation step(const std::string& model, const char* kind, Json values) {
    return {model + " " + kind + " " + base::jsonLine(values), [=](mod::ModState& m) {
              mod::ModelDoc& doc = m.models[model];
              prepare::insertByRank(doc, prepare::makeStep(doc, kind, values));
            }};
  }
  Mutation size() {
    static constexpr double kFactors[] = {0.01, 0.3, 0.9, 1.1, 1.6, 4, 30, 1000};
    static const char* const kUnits[] = {"mm", "cm", "m", "in"};
    const std::string model = nameIn(mod_.models);
    switch (below(4)) {
      case 0:
        return step(model, "stretch",
                    Json{{"along", "height"}, {"factor", kFactors[below(std::size(kFactors))]}});
      case 1:
        return step(model, "read_lengths", Json{{"unit", kUnits[below(4)]}});
      case 2:
        return step(model, "turn", Json{{"forward", below(2) == 0 ? "+X" : "-Z"}, {"up", "+Y"}});
      default:
        return step(model, "scale", Json{{"factor", kFactors[below(std::size(kFactors))]}});
    }
  }
  const scene::Model* modelOf(const std::string& name) const {
    const auto found = x_.context.models.find(name);
    return found != x_.context.models.end() ? found->second.prepared.model.get() : nullptr;
  }
  Mutation role() {
    const std::string name = nameIn(mod_.models);
    const scene::Model* model = modelOf(name);
    if (model == nullptr || model->materials.empty()) return points();
    static const char* const kRoles[] = {"", "paint", "lamp", "glass", "nonsense", "skin"};
    return step(name, "role",
                Json{{"material", model->materials[below(model->materials.size())].key},
                     {"role", kRoles[below(std::size(kRoles))]}});
  }
  std::string partOf(const scene::Model& model) {
    const auto reached = scene::reachedNodes(model);
    return reached.empty() ? std::string() : model.node(reached[below(reached.size())]).key;
  }
  Mutation region() {
    const std::string name = nameIn(mod_.models);
    const scene::Model* model = modelOf(name);
    if (model == nullptr) return points();
    static const char* const kRegions[] = {"trunk", "collar", "belly", "", "left-ear"};
    return step(name, "region",
                Json{{"part", partOf(*model)}, {"region", kRegions[below(std::size(kRegions))]}});
  }
  Mutation bones() {
    const std::string name = nameIn(mod_.models);
    const scene::Model* model = modelOf(name);
    if (model == nullptr) return points();
    if (below(15) == 0) return step(name, "first_weights", Json::object());  // takes long
    Json keys = Json::array();
    const size_t some = 1 + below(30);
    const auto joints = scene::usedJoints(*model);
    for (size_t i = 0; i < std::min(some, joints.size()); ++i) keys.push_back(model->node(joints[i]).key);
    return step(name, "drop_bones", Json{{"bones", keys}, {"to", "parent"}});
  }
  Mutation copies() {
    const std::string name = nameIn(mod_.models);
    const scene::Model* model = modelOf(name);
    if (model == nullptr) return points();
    const std::string part = partOf(*model);
    const size_t count = 1 + below(30);
    return {name + " with " + std::to_string(count) + " copies of " + part, [=](mod::ModState& m) {
              mod::ModelDoc& doc = m.models[name];
              for (size_t i = 0; i < count; ++i)
                prepare::insertByRank(
                    doc, prepare::makeStep(doc, "duplicate", Json{{"part", part}, {"by", {0, 0, 0.01}}}));
            }};
  }
  Mutation parts() {
    const std::string name = nameIn(mod_.models);
    const scene::Model* model = modelOf(name);
    if (model == nullptr) return points();
    switch (below(4)) {
      case 0: {
        Json all = Json::array();
        for (const scene::NodeIndex root : model->roots) all.push_back(model->node(root).key);
        return step(name, "drop", Json{{"parts", all}});
      }
      case 1:
        return step(name, "drop", Json{{"parts", {partOf(*model)}}});
      case 2:
        return step(name, "split", Json{{"part", partOf(*model)}, {"by", "piece"}});
      default:
        return step(name, "rename", Json{{"part", partOf(*model)}, {"name", "hull"}});
    }
  }
  Mutation documents() {
    const std::string object = nameIn(mod_.objects), model = nameIn(mod_.models),
                      source = nameIn(mod_.sources);
    switch (below(9)) {
      case 0:
        return {"without model " + model, [=](mod::ModState& m) { m.models.erase(model); }};
      case 1:
        return {"without source " + source, [=](mod::ModState& m) { m.sources.erase(source); }};
      case 2:
        return {"without object " + object, [=](mod::ModState& m) { m.objects.erase(object); }};
      case 3:
        return {"source file not there " + source,
                [=](mod::ModState& m) { m.sources[source].file = "none.glb"; }};
      case 4:
        return {"source lists a file that is not there " + source, [=](mod::ModState& m) {
                  m.sources[source].files.push_back({"none.png", ""});
                }};
      case 5:
        return {"other size " + model + " from " + source,
                [=](mod::ModState& m) { m.models[model].variants["broad"] = source; }};
      case 6:
        return {"without sizes " + model, [=](mod::ModState& m) { m.models[model].variants.clear(); }};
      case 7:
        return {"two objects of one name",
                [=](mod::ModState& m) { m.objects[object + "-"] = m.objects[object]; }};
      default:
        return {"untitled mod", [=](mod::ModState& m) { m.card.title.clear(), m.card.author.clear(); }};
    }
  }

  // A version that the game shows apart, as large and as heavy as what it is made from, or smaller.
  Mutation carried() {
    const std::string object = nameIn(mod_.objects), model = nameIn(mod_.models);
    const double factor = below(2) == 0 ? 1 : 0.2;
    const double triangles = below(2) == 0 ? 0 : 300;
    const size_t count = 1 + below(2);
    return {
        object + " with a carried version of " + model, [=](mod::ModState& m) {
          if (m.models.count(model) == 0 || m.objects.count(object) == 0) return;
          mod::ModelDoc doc;
          doc.source = m.models.at(model).source;
          prepare::insertByRank(doc, prepare::makeStep(doc, "as_model", Json{{"model", model}}));
          if (factor != 1)
            prepare::insertByRank(doc, prepare::makeStep(doc, "scale", Json{{"factor", factor}}));
          if (triangles > 0)
            prepare::insertByRank(doc, prepare::makeStep(doc, "simplify", Json{{"triangles", triangles}}));
          m.models["small"] = doc;
          for (size_t i = 0; i < count; ++i)
            m.objects[object].pieces.push_back({"small", "small", {0, 0, 0}, {0, 0, 0, 1}, "carried"});
        }};
  }
  Mutation inPlace() {
    const std::string object = nameIn(mod_.objects);
    if (below(3) == 0)
      return {object + " has a variant", [=](mod::ModState& m) {
                if (m.objects.count(object) == 0) return;
                m.objects["variant"] = m.objects.at(object);
                m.objects["variant"].follows.name = object;
              }};
    static const char* const kPlaces[] = {"harbour/market-stall", "harbour/lighthouse"};
    const std::string place = kPlaces[below(2)];
    return {object + " in place of " + place, [=](mod::ModState& m) {
              if (m.objects.count(object) != 0) m.objects[object].replaces = place;
            }};
  }

  Mutation brokenFile() {
    const std::string source = nameIn(mod_.sources);
    const SourceFault& fault = sourceFaults()[below(sourceFaults().size())];
    if (source.empty()) return names();
    return {source + " " + fault.name, [=, folder = folder_](mod::ModState& m) {
              if (auto* doc = m.sources.change(source)) *doc = brokenSource(folder, source, *doc, fault);
            }};
  }
  Mutation sound() {
    // One that can be heard for a moment, one that is cut short, and one that is none.
    base::Bytes bytes;
    for (const unsigned char c :
         std::string("RIFF\x2c\0\0\0WAVEfmt \x10\0\0\0\1\0\1\0\x40\x1f\0\0\x80\x3e\0\0"
                     "\2\0\x10\0data\x8\0\0\0\0\0\1\0\2\0\3\0",
                     52))
      bytes.push_back(std::byte{c});
    static const char* const kWhich[] = {"horn", "cut-horn", "no-horn"};
    const size_t which = below(3);
    bytes.resize(which == 0 ? bytes.size() : which == 1 ? 46 : 3);
    const std::string name = kWhich[which];
    return {"sound " + name, [=, folder = folder_](mod::ModState& m) {
              const std::filesystem::path path = folder / "sources" / name / "horn.wav";
              if (!base::makeFolder(path.parent_path()) || !base::writeFileAtomic(path, bytes)) return;
              mod::SourceDoc doc;
              doc.file = "horn.wav";
              doc.files = {{"horn.wav", base::hex(base::sha256(bytes))}};
              m.sources[name] = doc;
            }};
  }
  Mutation names() {
    static const char* const kNames[] = {"UPPER", "two words", "\xC3\xBC\xC3\xB1", "a.b", "-", "x"};
    static const char* const kTexts[] = {"", " ", "\xC3\xBC\xE4\xBD\xA0", "\x01\n\t", "\xFF\xFE", "a/b", "x"};
    const std::string object = nameIn(mod_.objects), name = kNames[below(std::size(kNames))];
    std::string text = kTexts[below(std::size(kTexts))];
    if (below(6) == 0) text = std::string(500, 'n');
    switch (below(6)) {
      case 0:
        return {"object called " + name, [=](mod::ModState& m) { m.objects.rename(object, name); }};
      case 1:
        return {"object titled " + text, [=](mod::ModState& m) {
                  if (m.objects.count(object) != 0) m.objects[object].title = text;
                }};
      case 2:
        // One without an id is not even read.
        return {"mod id " + text, [=](mod::ModState& m) { m.card.id = text.empty() ? "x" : text; }};
      case 3:
        return {"mod version " + text, [=](mod::ModState& m) { m.card.version = text; }};
      case 4:
        return {"mod titled " + text, [=](mod::ModState& m) { m.card.title = text; }};
      default:
        return {"for rulebook version " + text, [=](mod::ModState& m) { m.card.rulebook_version = text; }};
    }
  }

  std::mt19937& random_;
  const check::Examination& x_;
  const mod::ModState& mod_;
  std::filesystem::path folder_;
};

/// Changes `mutant`, a copy of the mod in `folder` that was examined, in one to three ways; says how. Sources
/// that it breaks are written there under new names.
inline std::string mutate(mod::ModState& mutant, const check::Examination& whole, std::mt19937& random,
                          const std::filesystem::path& folder) {
  std::string what;
  for (size_t n = 0; n < 1 + random() % 3; ++n) {
    const Mutation mutation = Mutator(random, whole, folder).next();
    what += "; " + mutation.what;
    mutation.apply(mutant);
  }
  return what;
}

}  // namespace rakugo::test
