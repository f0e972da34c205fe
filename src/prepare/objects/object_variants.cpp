#include "prepare/objects/object_variants.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"
#include "mod/following.h"
#include "mod/store.h"
#include "mod/things.h"
#include "prepare/step.h"

namespace rakugo::prepare {

base::Status addVariant(mod::ModState& state, const std::string& design, const std::string& name,
                        const std::string& title, double scale) {
  mod::ModState next = state;
  RAKUGO_TRY(mod::copyThing(next, mod::Thing::object, design, name));
  mod::ObjectDoc& made = next.objects[name];
  // The copy's icon shows the design.
  if (made.icon != std::as_const(next.objects).at(design).icon) next.icons.erase(made.icon);
  made.icon.clear();
  made.icon_of.clear();
  made.follows = {};
  RAKUGO_TRY(mod::followObject(next, name, design, scale));
  // In all: what stands otherwise by the scale is put there.
  if (!std::as_const(next.objects).at(name).follows.own.empty()) {
    RAKUGO_TRY(mod::likeDesign(next, name, {}));
  }
  if (!title.empty()) next.objects[name].title = title;
  RAKUGO_TRY(mod::keepDifferences(next, name));
  state = std::move(next);
  return {};
}

base::Result<std::string> giveOwnModel(mod::ModState& state, const std::string& object,
                                       const std::string& model) {
  if (!state.objects.contains(object))
    return base::Error{
        "mod.no_object", base::phrase("The mod has no object {0}.", base::presentable(object, 60)), {}, {}};
  const auto from = std::as_const(state.models).find(model);
  const auto is_it = [&](const mod::PieceDoc& piece) { return piece.isModel() && piece.model == model; };
  const auto& pieces = std::as_const(state.objects).at(object).pieces;
  if (from == std::as_const(state.models).end() || std::none_of(pieces.begin(), pieces.end(), is_it))
    return base::Error{
        "mod.no_model",
        base::phrase("No piece of {0} is the model {1}.", object, base::presentable(model, 60)),
        {},
        {}};
  mod::ModelDoc made;
  made.source = from->second.source;
  made.points = from->second.points;
  made.variants = from->second.variants;
  made.follows.name = model;
  insertByRank(made, makeStep(made, "as_model", base::Json{{"model", model}, {"lighter", "with"}}));
  const std::string name = mod::freeName(state.models, object == model ? object + "-own" : object);
  state.models[name] = std::move(made);
  for (mod::PieceDoc& piece : state.objects[object].pieces)
    if (is_it(piece)) piece.model = name;
  return name;
}

std::string ownText(const std::string& pointer, const rulebook::Kind* kind) {
  std::vector<std::string> words;
  for (size_t i = 0; i < pointer.size(); ++i) {
    if (pointer[i] == '/')
      words.emplace_back();
    else if (!words.empty() && pointer[i] == '~' && i + 1 < pointer.size())
      words.back() += pointer[++i] == '0' ? '~' : '/';
    else if (!words.empty())
      words.back() += pointer[i];
  }
  if (words.empty()) return pointer;
  const auto fieldTitle = [&](const std::string& id) {
    const rulebook::Field* field = kind != nullptr ? kind->findField(id) : nullptr;
    return field != nullptr ? field->title : id;
  };
  const auto inPiece = [](const std::string& key) {
    return key == "position_m" ? base::phrase("place")
           : key == "turn"     ? base::phrase("turn")
           : key == "scale"    ? base::phrase("size")
           : key == "model"    ? base::phrase("model")
           : key == "parent"   ? base::phrase("what carries it")
           : key == "pair"     ? base::phrase("its pair")
           : key == "as"       ? base::phrase("what it is")
                               : key;
  };
  if (words[0] == "title") return base::phrase("title");
  if (words[0] == "kind") return base::phrase("kind");
  if (words[0] == "card") return words.size() > 1 ? fieldTitle(words[1]) : base::phrase("the whole card");
  if (words[0] == "pieces" && words.size() == 2) return base::phrase("piece {0}", words[1]);
  if (words[0] == "pieces" && words.size() > 2)
    return words[1] + ": " + (words[2] == "values" && words.size() > 3 ? words[3] : inPiece(words[2]));
  if (words[0] == "points" && words.size() > 1) return base::phrase("point {0}", words[1]);
  if (words[0] == "lists" && words.size() > 1) {
    const std::string list = base::phrase("list {0}", words[1]);
    return words.size() > 3 ? list + ": " + words[3] : list;
  }
  return base::listText(words, 8);
}

}  // namespace rakugo::prepare
