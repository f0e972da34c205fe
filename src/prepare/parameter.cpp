#include "prepare/parameter.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/picked/selection.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using base::phrase;
using Type = ParameterType;

// Large whole numbers with commas: "1,000,000".
std::string printedNumber(double value, int decimals) {
  std::string text = base::numberText(value, decimals);
  if (std::abs(value) >= 10000 && value == std::floor(value) && std::abs(value) < 1e15)
    text = (value < 0 ? "-" : "") + base::groupedText(static_cast<uint64_t>(std::abs(value)));
  return text;
}

std::string withUnit(const Parameter& p, const std::string& text) {
  return p.unit.empty() ? text : text + " " + p.unit;
}

// What a value must be: "The {0} is a text."
std::string sentenceOf(const Parameter& p, const char* said) { return phrase(said, phrase(p.title)); }

std::string rangeWords(const Parameter& p) {
  const int digits = p.type == Type::count ? 0 : 6;
  if (p.above_least)
    return phrase("above {0} and at most {1}", printedNumber(p.least, digits),
                  withUnit(p, printedNumber(p.most, digits)));
  return phrase("{0} to {1}", printedNumber(p.least, digits), withUnit(p, printedNumber(p.most, digits)));
}

std::optional<std::string> numberMisfit(const Parameter& p, const Json& value) {
  const bool whole = p.type == Type::count;
  if (!value.is_number())
    return phrase(whole ? "The {0} is a whole number, {1}." : "The {0} is a number, {1}.", phrase(p.title),
                  rangeWords(p));
  const auto number = value.get<double>();
  const bool within = number >= p.least && number <= p.most && !(p.above_least && number == p.least);
  if (!within || (p.type == Type::count && number != std::floor(number)))
    return phrase(
        whole ? "The {0} is a whole number, {1}, and not {2}." : "The {0} is a number, {1}, and not {2}.",
        phrase(p.title), rangeWords(p), printedNumber(number, 6));
  return std::nullopt;
}

std::string choiceNames(const Choices& choices) {
  std::string out;
  for (size_t i = 0; i < choices.size(); ++i)
    out += (i == 0 ? "" : i + 1 == choices.size() ? " or " : ", ") + choices[i].first;
  return out;
}

std::optional<std::string> pointMisfit(const Parameter& p, const Json& value) {
  const auto said = [&](const char* plain, const char* with_unit) {
    return phrase(p.unit.empty() ? plain : with_unit, phrase(p.title), p.unit,
                  withUnit(p, printedNumber(p.most, 6)));
  };
  const std::string wanted = said("The {0} is three numbers.", "The {0} is three numbers in {1}.");
  if (!value.is_array() || value.size() != 3) return wanted;
  for (const Json& one : value) {
    if (!one.is_number() || !std::isfinite(one.get<float>())) return wanted;
    const double size = std::abs(one.get<double>());
    if (p.most > 0 && size > p.most)
      return said("The {0} is three numbers, none larger than {2}.",
                  "The {0} is three numbers in {1}, none larger than {2}.");
  }
  return std::nullopt;
}

std::optional<std::string> listMisfit(const Parameter& p, const Json& value) {
  const bool texts = value.is_array() &&
                     std::all_of(value.begin(), value.end(), [](const Json& one) { return one.is_string(); });
  if (!texts) return sentenceOf(p, "The {0} are a list of texts.");
  return std::nullopt;
}

std::optional<std::string> namesMisfit(const Parameter& p, const Json& value) {
  const bool texts = value.is_object() &&
                     std::all_of(value.begin(), value.end(), [](const Json& one) { return one.is_string(); });
  if (!texts) return sentenceOf(p, "The {0} are an object: the game's name of a bone, and the bone's key.");
  return std::nullopt;
}

bool isList(Type type) {
  return type == Type::parts || type == Type::bones || type == Type::slots || type == Type::materials;
}

// Adds what is not there yet.
void addChoice(Choices& out, const std::string& id, const std::string& label) {
  if (std::none_of(out.begin(), out.end(), [&](const auto& one) { return one.first == id; }))
    out.emplace_back(id, label);
}

std::string nodeLabel(const scene::Node& node) { return node.name.empty() ? node.key : node.name; }

void addParts(Choices& out, const scene::Model* before) {
  if (before == nullptr) return;
  for (const scene::NodeIndex i : scene::reachedNodes(*before))
    out.emplace_back(before->node(i).key, nodeLabel(before->node(i)));
}

void addBones(Choices& out, const scene::Model* before) {
  if (before == nullptr) return;
  const std::vector<bool> bone = scene::boneNodes(*before);
  for (const scene::NodeIndex i : scene::reachedNodes(*before))
    if (bone[i.value()]) out.emplace_back(before->node(i).key, before->node(i).name);
}

void addRegions(Choices& out, const rulebook::Rulebook* book) {
  if (book == nullptr) return;
  for (const rulebook::Kind* k : book->modelKinds())
    for (const rulebook::Region& r : k->regions) addChoice(out, r.id, r.title);
}

// What a value that says "the first of these" is called, and the others.
void addKinds(Choices& out, const rulebook::Rulebook* book, Type type) {
  out.emplace_back("", phrase(type == Type::body_kind     ? "the game's body"
                              : type == Type::region_kind ? "its first kind with regions"
                                                          : "the game's example"));
  if (book == nullptr) return;
  if (type == Type::weight_kind) {
    for (const std::string& id : donorKinds(*book))
      out.emplace_back(id, phrase("the example of a {0}", base::lowerAscii(book->findKind(id)->title)));
    return;
  }
  for (const rulebook::Kind* k : book->modelKinds()) {
    if (type == Type::body_kind && !k->body.empty()) out.emplace_back(k->id, k->body_title);
    if (type == Type::region_kind && !k->regions.empty()) out.emplace_back(k->id, k->title);
  }
}

void addSlots(Choices& out, const rulebook::Rulebook* book) {
  if (book == nullptr) return;
  for (const rulebook::Skeleton& skeleton : book->skeletons)
    for (const rulebook::Bone& bone : skeleton.bones) addChoice(out, bone.id, bone.title);
}

std::string lastOfKey(const std::string& key) { return key.substr(key.rfind('/') + 1); }

std::string listedText(const Json& value) {
  std::vector<std::string> names;
  if (value.is_array())
    for (const Json& one : value)
      if (one.is_string()) names.push_back(lastOfKey(one.get<std::string>()));
  return names.empty() ? "…" : base::listText(names, 3);
}

std::string boneNamesText(const Json& value) {
  if (!value.is_object()) return phrase("no bones");
  std::vector<std::string> said;
  for (const auto& [name, key] : value.items())
    if (key.is_string() && said.size() < 3)
      said.push_back(phrase("{0} is {1}", lastOfKey(key.get<std::string>()), name));
  std::string text = base::countText(value.size(), "bone", "bones");
  for (size_t i = 0; i < said.size(); ++i) text += (i == 0 ? " (" : ", ") + said[i];
  if (said.empty()) return text;
  return text + (value.size() > said.size() ? "…)" : ")");
}

std::string pointText(const Parameter& p, const Json& value) {
  if (!value.is_array() || value.size() != 3) return "(?)";
  std::string text;
  for (const Json& n : value)
    text += (text.empty() ? "" : ", ") + base::numberText(n.is_number() ? n.get<double>() : 0, p.decimals);
  return text;
}

std::string labelOf(const Choices& choices, const std::string& value) {
  for (const auto& [id, label] : choices)
    if (id == value) return label;
  return value.empty() ? "…" : value;
}

// "1.5" and "1,5" are the same to a person, and so are the minus signs of keyboards and of print.
std::optional<double> parsedNumber(std::string typed) {
  std::replace(typed.begin(), typed.end(), ',', '.');
  for (size_t at = 0; (at = typed.find("−")) != std::string::npos;) typed.replace(at, 3, "-");
  std::string_view text = typed;
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (text.starts_with('+')) text.remove_prefix(1);
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

std::vector<std::string> parted(const std::string& text) {
  std::vector<std::string> out;
  for (size_t from = 0; from <= text.size();) {
    const size_t to = std::min(text.find(',', from), text.size());
    std::string one = text.substr(from, to - from);
    one.erase(0, std::min(one.find_first_not_of(' '), one.size()));
    one.erase(one.find_last_not_of(' ') + 1);
    if (!one.empty()) out.push_back(std::move(one));
    from = to + 1;
  }
  return out;
}

Json numbersFrom(const std::string& typed) {
  // As a document says it, brackets and all, or numbers alone.
  if (auto list = base::parseJson(typed, ""); list && list->is_array()) return std::move(list).value();
  Json out = Json::array();
  for (const std::string& one : parted(typed)) {
    const auto number = parsedNumber(one);
    out.push_back(number ? Json(*number) : Json(one));
  }
  return out;
}

Json jsonFrom(const Parameter& p, const std::string& typed) {
  switch (p.type) {
    case Type::number:
    case Type::count: {
      const auto number = parsedNumber(typed);
      return number ? Json(*number) : Json(typed);
    }
    case Type::point:
      return numbersFrom(typed);
    case Type::parts:
    case Type::bones:
    case Type::slots:
    case Type::materials:
      return parted(typed);
    case Type::bone_names:
    case Type::pick: {
      auto object = base::parseJson(typed, "");
      return object ? std::move(object).value() : Json(typed);
    }
    default:
      return typed;
  }
}

Parameter made(const char* key, const char* title, Type type, Json initial) {
  Parameter out;
  out.key = key;
  out.title = title;
  out.type = type;
  out.initial = std::move(initial);
  return out;
}

}  // namespace

Parameter& Parameter::between(double low, double high) {
  least = low;
  most = high;
  return *this;
}

Parameter& Parameter::above(double low, double high) {
  above_least = true;
  return between(low, high);
}

Parameter& Parameter::shown(int most_decimals) {
  decimals = most_decimals;
  return *this;
}

Parameter& Parameter::in(std::string unit_name) {
  unit = std::move(unit_name);
  return *this;
}

Parameter& Parameter::orAbsent() {
  optional = true;
  initial = nullptr;
  return *this;
}

Parameter& Parameter::means(std::string sentence) {
  help = std::move(sentence);
  return *this;
}

Parameter numberParameter(const char* key, const char* title, double initial) {
  return made(key, title, Type::number, initial);
}

Parameter countParameter(const char* key, const char* title, int initial) {
  Parameter out = made(key, title, Type::count, static_cast<double>(initial));
  out.decimals = 0;
  return out;
}

Parameter choiceParameter(const char* key, const char* title, Choices choices) {
  Parameter out = made(key, title, Type::choice, choices.front().first);
  out.choices = std::move(choices);
  return out;
}

Parameter textParameter(const char* key, const char* title) { return made(key, title, Type::text, ""); }

Parameter pointParameter(const char* key, const char* title, double initial) {
  return made(key, title, Type::point, Json::array({initial, initial, initial}));
}

Parameter axisParameter(const char* key, const char* title, const char* initial) {
  Parameter out = choiceParameter(key, title, {{"x", "x"}, {"y", "y"}, {"z", "z"}});
  out.initial = initial;
  return out;
}

Parameter referenceParameter(const char* key, const char* title, ParameterType type) {
  const bool object = type == Type::bone_names || type == Type::pick;
  return made(key, title, type, object ? Json::object() : isList(type) ? Json::array() : Json(""));
}

Parameter pickParameter() { return referenceParameter("pick", "place that was picked", Type::pick); }

Parameter softParameter() {
  return numberParameter("soft_mm", "soft edge", 0)
      .between(0, 1e6)
      .in("mm")
      .means("How far round what was picked the surface follows.");
}

std::optional<std::string> misfit(const Parameter& p, const Json& value) {
  if (value.is_null() && p.optional) return std::nullopt;
  switch (p.type) {
    case Type::number:
    case Type::count:
      return numberMisfit(p, value);
    case Type::point:
      return pointMisfit(p, value);
    case Type::parts:
    case Type::bones:
    case Type::slots:
    case Type::materials:
      return listMisfit(p, value);
    case Type::bone_names:
      return namesMisfit(p, value);
    case Type::pick:
      if (!value.is_object()) return sentenceOf(p, "The {0} is an object.");
      return std::nullopt;
    case Type::choice:
      for (const auto& [id, label] : p.choices)
        if (value == Json(id)) return std::nullopt;
      return phrase("The {0} is one of {1}.", phrase(p.title), choiceNames(p.choices));
    default:
      if (!value.is_string()) return sentenceOf(p, "The {0} is a text.");
      return std::nullopt;
  }
}

Choices choicesOf(const Parameter& p, const scene::Model* before, const rulebook::Rulebook* book) {
  Choices out = p.choices;
  for (auto& [id, label] : out) label = phrase(label);
  switch (p.type) {
    case Type::any_part:
      out.emplace_back("", phrase("every part"));
      [[fallthrough]];
    case Type::part:
    case Type::parts:
      addParts(out, before);
      break;
    case Type::bone:
    case Type::bones:
      addBones(out, before);
      break;
    case Type::slots:
      addSlots(out, book);
      break;
    case Type::skeleton:
      out.emplace_back("", phrase("the game's skeleton"));
      if (book != nullptr)
        for (const rulebook::Skeleton& s : book->skeletons) out.emplace_back(s.id, base::lowerAscii(s.title));
      break;
    case Type::material:
    case Type::materials:
      if (before != nullptr)
        for (const scene::Material& m : before->materials)
          out.emplace_back(m.key, m.name.empty() ? m.key : m.name);
      break;
    case Type::picture:
      if (before != nullptr)
        for (const scene::Image& i : before->images)
          if (!i.uri.empty()) addChoice(out, i.uri, i.uri);
      break;
    case Type::role:
      if (book != nullptr)
        for (const rulebook::Kind* k : book->modelKinds())
          for (const rulebook::Role& r : k->roles) addChoice(out, r.id, r.title);
      break;
    case Type::region:
      addRegions(out, book);
      break;
    case Type::any_region:
      addRegions(out, book);
      if (before != nullptr)
        for (const scene::NodeIndex i : scene::reachedNodes(*before))
          if (const std::string& region = before->node(i).region; !region.empty())
            addChoice(out, region, region);
      break;
    case Type::body_kind:
    case Type::region_kind:
    case Type::weight_kind:
      addKinds(out, book, p.type);
      break;
    default:
      break;
  }
  return out;
}

std::string valueText(const Parameter& p, const Json& value, const Choices& choices) {
  const std::string text = value.is_string() ? value.get<std::string>() : std::string();
  switch (p.type) {
    case Type::number:
    case Type::count:
      return value.is_number() ? base::numberText(value.get<double>(), p.decimals) : "…";
    case Type::point:
      return pointText(p, value);
    case Type::parts:
    case Type::bones:
    case Type::slots:
    case Type::materials:
      return listedText(value);
    case Type::bone_names:
      return boneNamesText(value);
    case Type::pick: {
      const Json* part = base::memberOf(value, "part");
      const bool named = part != nullptr && part->is_string() && !part->get<std::string>().empty();
      return named ? phrase("what was picked of {0}", lastOfKey(part->get<std::string>()))
                   : phrase("what was picked");
    }
    case Type::part:
      return text.empty() ? "…" : lastOfKey(text);
    case Type::any_part:
      return text.empty() ? phrase("every part") : lastOfKey(text);
    case Type::material:
    case Type::text:
    case Type::file:
    case Type::picture:
    case Type::model:
      return text.empty() ? "…" : text;
    default:
      return labelOf(choices, text);
  }
}

Editor editorOf(ParameterType type) {
  switch (type) {
    case Type::number:
    case Type::count:
      return Editor::number;
    case Type::text:
    case Type::model:
      return Editor::text;
    case Type::point:
      return Editor::point;
    case Type::parts:
    case Type::bones:
    case Type::slots:
    case Type::materials:
      return Editor::several;
    case Type::bone_names:
      return Editor::none;
    case Type::file:
      return Editor::file;
    case Type::pick:
      return Editor::pick;
    default:
      return Editor::one;
  }
}

Reference referenceOf(ParameterType type) {
  switch (type) {
    case Type::part:
    case Type::any_part:
    case Type::parts:
      return Reference::part;
    case Type::bone:
    case Type::bones:
    case Type::bone_names:
      return Reference::bone;
    case Type::material:
    case Type::materials:
      return Reference::material;
    default:
      return Reference::none;
  }
}

base::Result<Json> typedValue(const Parameter& p, const std::string& typed) {
  Json value = jsonFrom(p, typed);
  if (const auto why = misfit(p, value)) return base::Error{"step.value", *why, {{}, p.key}, {}};
  return value;
}

std::string rangeText(const Parameter& p) {
  switch (p.type) {
    case Type::number:
      return "a number, " + rangeWords(p);
    case Type::count:
      return "a whole number, " + rangeWords(p);
    case Type::choice:
      return "one of " + choiceNames(p.choices);
    case Type::text:
      return "a text";
    case Type::point:
      return "three numbers" + (p.unit.empty() ? "" : " in " + p.unit);
    case Type::part:
      return "key of a part";
    case Type::any_part:
      return "key of a part, or empty for every part";
    case Type::parts:
      return "keys of parts";
    case Type::bone:
      return "key of a bone, or the name that an earlier step gives it";
    case Type::bones:
      return "keys of bones";
    case Type::bone_names:
      return "an object: the game's name, and the key of the bone that gets it";
    case Type::slots:
      return "names of the game's bones";
    case Type::skeleton:
      return "a skeleton of the rulebook, or empty for its first";
    case Type::material:
      return "key of a material";
    case Type::materials:
      return "keys of materials";
    case Type::picture:
      return "a picture as the source names it";
    case Type::file:
      return "a file below the folder of the source's present version";
    case Type::pick:
      return "places, as described below";
    case Type::model:
      return "another model of the mod";
    case Type::role:
      return "a role of the rulebook";
    case Type::region:
      return "a region of the rulebook";
    case Type::any_region:
      return "a region of the rulebook or of the model";
    case Type::body_kind:
      return "a kind that is worn on a body, or empty for the first";
    case Type::region_kind:
      return "a kind that has regions, or empty for the first";
    case Type::weight_kind:
      return "a kind whose example follows bones, or empty for the first";
  }
  return {};
}

void eachReference(const Parameter& p, Json& value, const std::function<void(Json&, Reference)>& change) {
  if (p.type == Type::pick) {
    if (!value.is_object()) return;
    for (const auto& [key, reference] :
         {std::pair("part", Reference::part), {"material", Reference::material}})
      if (value.contains(key) && value[key].is_string()) change(value[key], reference);
    return;
  }
  const Reference reference = referenceOf(p.type);
  if (reference == Reference::none) return;
  if (value.is_string()) change(value, reference);
  if (value.is_array() || value.is_object())
    for (Json& one : value)
      if (one.is_string()) change(one, reference);
}

}  // namespace rakugo::prepare
