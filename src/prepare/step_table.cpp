// The table of steps: names, order, defaults, and the sentences people read.
#include <algorithm>

#include "base/text.h"
#include "prepare/steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;
using Words = std::vector<Word>;
using Choices = std::vector<std::pair<std::string, std::string>>;

Word plain(std::string text) { return {std::move(text), {}, ValueType::words, {}}; }

std::string labelOf(const Choices& choices, const std::string& value) {
  for (const auto& [id, label] : choices)
    if (id == value) return label;
  return value.empty() ? "…" : value;
}

Word choice(const Json& values, const char* key, Choices choices) {
  std::string label = labelOf(choices, textValue(values, key));
  return {std::move(label), key, ValueType::choice, std::move(choices)};
}

// The minus sign of print; files keep the ASCII one.
std::string shownAxis(const std::string& axis) {
  return axis.empty() ? "…" : axis[0] == '-' ? "−" + axis.substr(1) : axis;
}

Choices sides() {
  Choices out;
  for (const geometry::Axis a : geometry::kAxes)
    out.emplace_back(geometry::axisName(a), "the " + shownAxis(geometry::axisName(a)) + " side");
  return out;
}

Choices partChoices(const Model* before) {
  Choices out;
  if (before == nullptr) return out;
  for (const scene::NodeIndex i : scene::reachedNodes(*before))
    out.emplace_back(before->node(i).key,
                     before->node(i).name.empty() ? before->node(i).key : before->node(i).name);
  return out;
}

std::string lastName(const std::string& key) {
  return key.substr(key.rfind('/') == std::string::npos ? 0 : key.rfind('/') + 1);
}

Words lengthsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Choices units;
  for (const LengthUnit& u : lengthUnits()) units.emplace_back(u.id, u.title);
  return {plain("Read lengths as "), choice(v, "unit", units)};
}

Words turnSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Turn so that "), choice(v, "forward", sides()), plain(" faces forward and "),
          choice(v, "up", sides()), plain(" faces up")};
}

Words scaleSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Scale everything by "),
          {base::numberText(numberValue(v, "factor", 1), 6), "factor", ValueType::number, {}}};
}

// Three numbers in a sentence.
Word pointWord(const Json& v, const char* key) {
  std::string text = "(?)";
  if (v.contains(key) && v[key].is_array() && v[key].size() == 3) {
    text.clear();
    for (const Json& n : v[key])
      text += (text.empty() ? "" : ", ") + base::numberText(n.is_number() ? n.get<double>() : 0);
  }
  return {text, key, ValueType::point, {}};
}

Words stretchSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Stretch the "),
          choice(v, "along", {{"length", "length"}, {"width", "width"}, {"height", "height"}}),
          plain(" alone by "),
          {base::numberText(numberValue(v, "factor", 1), 6), "factor", ValueType::number, {}}};
}

Words originSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Words out = {plain("Put the origin at "), choice(v, "to",
                                                   {{"floor_centre", "the centre of the floor"},
                                                    {"centre", "the centre"},
                                                    {"point", "the point"}})};
  if (textValue(v, "to") == "point") {
    out.push_back(plain(" "));
    out.push_back(pointWord(v, "point"));
  }
  return out;
}

// The names of parts that a list of keys names.
std::string namesOf(const Json& v) {
  std::vector<std::string> names;
  if (v.contains("parts") && v["parts"].is_array())
    for (const Json& p : v["parts"])
      if (p.is_string()) names.push_back(lastName(p.get<std::string>()));
  return names.empty() ? "…" : base::listText(names, 3);
}

Word partsWord(const Json& v, const Model* before) {
  return {namesOf(v), "parts", ValueType::parts, partChoices(before)};
}

Word partWord(const Json& v, const Model* before) {
  return {textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part")), "part", ValueType::part,
          partChoices(before)};
}

Words dropSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Drop "), partsWord(v, before)};
}

Words keepSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Keep "), partsWord(v, before), plain(" and drop everything else")};
}

Words splitSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Split "), partWord(v, before), plain(" by "),
          choice(v, "by", {{"material", "its materials"}, {"piece", "its loose pieces"}})};
}

Words joinSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Join "), partsWord(v, before), plain(" into one part")};
}

Words duplicateSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Put a copy of "), partWord(v, before), plain(" at "), pointWord(v, "by"),
          plain(" m from it")};
}

Words mirrorSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Add a mirror image of "), partWord(v, before), plain(" across "),
          choice(v, "axis", {{"x", "x = 0"}, {"y", "y = 0"}, {"z", "z = 0"}})};
}

Words freeSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plain("Free "), partsWord(v, before), plain(" from what they hang on, in place")};
}

Words renameSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  Choices parts = partChoices(before);
  std::string label = textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part"));
  return {plain("Call the part "),
          {label, "part", ValueType::part, std::move(parts)},
          plain(" from now on "),
          {textValue(v, "name").empty() ? "…" : textValue(v, "name"), "name", ValueType::text, {}}};
}

Words bakeSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plain("Bake position, turn and scale of every part into its mesh")};
}

Words roleSentence(const Json& v, const Model* before, const rulebook::Rulebook* book) {
  Choices materials, roles;
  if (before != nullptr)
    for (const scene::Material& m : before->materials)
      materials.emplace_back(m.key, m.name.empty() ? m.key : m.name);
  if (book != nullptr)
    for (const rulebook::Kind& k : book->kinds)
      for (const rulebook::Role& r : k.roles)
        if (std::none_of(roles.begin(), roles.end(), [&](const auto& one) { return one.first == r.id; }))
          roles.emplace_back(r.id, r.title);
  std::string material = textValue(v, "material");
  std::string role = labelOf(roles, textValue(v, "role"));
  return {plain("Give "),
          {material.empty() ? "…" : material, "material", ValueType::material, std::move(materials)},
          plain(" the role "),
          {role, "role", ValueType::choice, std::move(roles)}};
}

Words regionSentence(const Json& v, const Model* before, const rulebook::Rulebook* book) {
  Choices regions;
  if (book != nullptr)
    for (const rulebook::Kind& k : book->kinds)
      for (const rulebook::Region& r : k.regions)
        if (std::none_of(regions.begin(), regions.end(), [&](const auto& one) { return one.first == r.id; }))
          regions.emplace_back(r.id, r.title);
  std::string part = textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part"));
  std::string region = labelOf(regions, textValue(v, "region"));
  return {plain("Let "),
          {std::move(part), "part", ValueType::part, partChoices(before)},
          plain(" cover the region "),
          {std::move(region), "region", ValueType::choice, std::move(regions)}};
}

Words pictureSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Take the picture " + textValue(v, "picture") + " from "),
          {textValue(v, "file").empty() ? "…" : textValue(v, "file"), "file", ValueType::picture_file, {}}};
}

Words degenerateSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plain("Remove triangles without a surface")};
}

Words weldSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Make vertices one that are alike and no farther apart than "),
          {base::numberText(numberValue(v, "distance_mm", 0.01), 4), "distance_mm", ValueType::number, {}},
          plain(" mm")};
}

Words duplicatesSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plain("Remove triangles that are there twice")};
}

Words fillSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Fill holes of up to "),
          {base::numberText(numberValue(v, "most_edges", 64), 0), "most_edges", ValueType::number, {}},
          plain(" edges")};
}

Words orientSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plain("Turn triangles that face another way than the rest of their shell")};
}

Words unusedSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plain("Remove vertices that no triangle uses")};
}

Words normalsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plain("Make "),
          choice(v, "which", {{"missing", "missing"}, {"wrong", "missing and wrong"}, {"all", "all"}}),
          plain(" normals, smooth up to "),
          {base::numberText(numberValue(v, "crease_deg", 40), 1), "crease_deg", ValueType::number, {}},
          plain(" degrees")};
}

}  // namespace

const std::vector<StepKind>& stepKinds() {
  static const std::vector<StepKind> kKinds = {
      {"read_lengths", "Read lengths", 0,
       [] {
         return Json{{"unit", "cm"}};
       },
       applyReadLengths, lengthsSentence},
      {"use_picture", "Take a picture from", 1,
       [] {
         return Json{{"picture", ""}, {"file", ""}};
       },
       applyUsePicture, pictureSentence},
      {"turn", "Turn", 2,
       [] {
         return Json{{"forward", "+Z"}, {"up", "+Y"}};
       },
       applyTurn, turnSentence},
      {"scale", "Scale", 3,
       [] {
         return Json{{"factor", 1.0}};
       },
       applyScale, scaleSentence},
      {"stretch", "Stretch one way", 3,
       [] {
         return Json{{"along", "height"}, {"factor", 1.0}};
       },
       applyStretch, stretchSentence},
      {"drop", "Drop parts", 4,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyDrop, dropSentence},
      {"keep", "Keep only some parts", 5,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyKeep, keepSentence},
      {"free", "Free parts", 6,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyFree, freeSentence},
      {"split", "Split a part", 7,
       [] {
         return Json{{"part", ""}, {"by", "piece"}};
       },
       applySplit, splitSentence},
      {"join", "Join parts", 8,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyJoin, joinSentence},
      {"rename", "Rename a part", 9,
       [] {
         return Json{{"part", ""}, {"name", ""}};
       },
       applyRename, renameSentence},
      {"duplicate", "Copy a part", 10,
       [] {
         return Json{{"part", ""}, {"by", Json::array({0.0, 0.0, 0.0})}};
       },
       applyDuplicate, duplicateSentence},
      {"mirror", "Mirror a part", 11,
       [] {
         return Json{{"part", ""}, {"axis", "y"}};
       },
       applyMirror, mirrorSentence},
      {"remove_degenerate", "Remove empty triangles", 12, [] { return Json::object(); },
       applyRemoveDegenerate, degenerateSentence},
      {"bake", "Bake placement", 13, [] { return Json::object(); }, applyBake, bakeSentence},
      {"weld", "Make vertices one", 14,
       [] {
         return Json{{"distance_mm", 0.01}};
       },
       applyWeld, weldSentence},
      {"remove_duplicates", "Remove double triangles", 15, [] { return Json::object(); },
       applyRemoveDuplicates, duplicatesSentence},
      {"orient", "Turn triangles outward", 16, [] { return Json::object(); }, applyOrient, orientSentence},
      {"fill_holes", "Fill holes", 17,
       [] {
         return Json{{"most_edges", 64.0}};
       },
       applyFillHoles, fillSentence},
      {"remove_unused", "Remove unused vertices", 18, [] { return Json::object(); }, applyRemoveUnused,
       unusedSentence},
      {"make_normals", "Make normals", 19,
       [] {
         return Json{{"which", "missing"}, {"crease_deg", 40.0}};
       },
       applyMakeNormals, normalsSentence},
      {"origin", "Put the origin", 20,
       [] {
         return Json{{"to", "floor_centre"}};
       },
       applyOrigin, originSentence},
      {"role", "Give a role", 21,
       [] {
         return Json{{"material", ""}, {"role", ""}};
       },
       applyRole, roleSentence},
      {"region", "Name a region", 22,
       [] {
         return Json{{"part", ""}, {"region", ""}};
       },
       applyRegion, regionSentence},
  };
  return kKinds;
}

const StepKind* findStepKind(const std::string& id) {
  for (const StepKind& kind : stepKinds())
    if (id == kind.id) return &kind;
  return nullptr;
}

std::vector<Word> sentence(const mod::StepDoc& step, const Model* before, const rulebook::Rulebook* book) {
  const StepKind* kind = findStepKind(step.kind);
  if (kind == nullptr)
    return {plain("A step \"" + base::presentable(step.kind, 40) + "\" that this Rakugo does not know")};
  return kind->sentence(step.values, before, book);
}

std::string sentenceText(const mod::StepDoc& step, const Model* before, const rulebook::Rulebook* book) {
  std::string out;
  for (const Word& word : sentence(step, before, book)) out += word.text;
  return out;
}

mod::StepDoc makeStep(const mod::ModelDoc& doc, const std::string& kind, Json values) {
  mod::StepDoc step{mod::freshStepId(doc), kind, true, {}};
  const StepKind* row = findStepKind(kind);
  step.values = row != nullptr ? row->defaults() : Json::object();
  for (const auto& [key, value] : values.items()) step.values[key] = value;
  return step;
}

size_t insertByRank(mod::ModelDoc& doc, mod::StepDoc step) {
  const auto rank = [](const mod::StepDoc& s) {
    const StepKind* row = findStepKind(s.kind);
    return row != nullptr ? row->rank : 100;
  };
  size_t place = 0;
  for (size_t i = 0; i < doc.steps.size(); ++i)
    if (rank(doc.steps[i]) <= rank(step)) place = i + 1;
  doc.steps.insert(doc.steps.begin() + static_cast<std::ptrdiff_t>(place), std::move(step));
  return place;
}

}  // namespace rakugo::prepare
