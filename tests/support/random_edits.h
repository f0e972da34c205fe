// Random edits of a mod's documents, for tests of what must hold whatever is done.
#pragma once

#include <random>

#include "mod/documents.h"

namespace rakugo::test {

/// A small mod: two models, two objects, a source, an icon, and keys of a later version.
inline mod::ModState seededMod() {
  mod::ModState state;
  state.card.id = "m-abc234";
  state.card.title = "M";
  state.card.rulebook = "kelpwick";
  state.card.rulebook_version = "1.2";
  state.card.seen["later"] = base::Json::array({1, "two"});
  mod::SourceDoc source;
  source.file = "lamp.glb";
  source.files = {{"lamp.glb", std::string(64, 'a')}};
  source.note = "by hand";
  source.older.push_back({"old.glb", {{"old.glb", std::string(64, 'b')}}, "2026-01-02"});
  state.sources["lamp"] = source;
  for (const char* name : {"lamp", "post"}) {
    state.models[name].source = "lamp";
    mod::ObjectDoc object;
    object.kind = "fitting";
    object.title = name;
    object.pieces.push_back({name, name, {0, 0, 0}, {0, 0, 0, 1}});
    state.objects[name] = object;
  }
  state.icons["icons/lamp.png"] = std::make_shared<const base::Bytes>(base::Bytes(20, std::byte{7}));
  return state;
}

/// Every file a save would write.
inline std::map<std::string, base::Bytes> allContent(const mod::ModState& state) {
  std::map<std::string, base::Bytes> out;
  for (const std::string& path : mod::contentPaths(state))
    out[path] = mod::documentContent(state, path).value();
  return out;
}

struct RandomEdit {
  std::string label;
  std::function<void(mod::ModState&)> apply;
};

/// One edit of any sort a person can make: the same seed gives the same edit.
inline RandomEdit randomEdit(std::mt19937& random) {
  const unsigned value = random() % 1000;
  const std::string name = "n" + std::to_string(random() % 4);
  switch (random() % 9) {
    case 0:
      return {"Title", [=](mod::ModState& s) { s.card.title = "Title \u00fc\n" + std::to_string(value); }};
    case 1:
      return {"Step", [=](mod::ModState& s) {
                auto& model = s.models[name];
                model.source = "lamp";
                mod::StepDoc step;
                step.id = mod::freshStepId(model);
                step.kind = value % 2 != 0 ? "scale" : "from_the_future";
                step.enabled = value % 3 != 0;
                step.values["factor"] = value / 7.0;
                model.steps.push_back(step);
              }};
    case 2:
      return {"Remove model", [=](mod::ModState& s) { s.models.erase(name); }};
    case 3:
      return {"Object", [=](mod::ModState& s) {
                auto& object = s.objects[name];
                object.kind = "fitting";
                object.card["price"] = value;
                object.icon = "icons/" + name + ".png";
              }};
    case 4:
      return {"Remove object", [=](mod::ModState& s) { s.objects.erase(name); }};
    case 5:
      return {"Icon", [=](mod::ModState& s) {
                s.icons["icons/" + name + ".png"] = std::make_shared<const base::Bytes>(
                    base::Bytes(value % 50, static_cast<std::byte>(value)));
              }};
    case 6:
      return {"Remove icon", [=](mod::ModState& s) { s.icons.erase("icons/" + name + ".png"); }};
    case 7:
      return {"Point", [=](mod::ModState& s) {
                auto& model = s.models["lamp"];
                model.source = "lamp";
                model.points = {{"light", {value * 0.1, 1e-9 * value, -0.0}, {0, 0, 0, 1}}};
              }};
    default:
      return {"Credit",
              [=](mod::ModState& s) { s.sources["lamp"].author = "Person " + std::to_string(value); }};
  }
}

}  // namespace rakugo::test
