#include "prepare/sentences.h"

#include <algorithm>

#include "base/text.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;

// The minus sign of print; files keep the ASCII one.
std::string shownAxis(const std::string& axis) {
  return axis.empty() ? "…" : axis[0] == '-' ? "−" + axis.substr(1) : axis;
}

Choices axisSides() {
  Choices out;
  for (const geometry::Axis a : geometry::kAxes)
    out.emplace_back(geometry::axisName(a), "the " + shownAxis(geometry::axisName(a)) + " side");
  return out;
}

std::string lastName(const std::string& key) {
  return key.substr(key.rfind('/') == std::string::npos ? 0 : key.rfind('/') + 1);
}

}  // namespace

std::string namesOf(const Json& v, const char* key) {
  std::vector<std::string> names;
  if (v.contains(key) && v[key].is_array())
    for (const Json& p : v[key])
      if (p.is_string()) names.push_back(lastName(p.get<std::string>()));
  return names.empty() ? "…" : base::listText(names, 3);
}

Word plainWord(std::string text) { return {std::move(text), {}, ValueType::words, {}}; }

std::string choiceLabel(const Choices& choices, const std::string& value) {
  for (const auto& [id, label] : choices)
    if (id == value) return label;
  return value.empty() ? "…" : value;
}

Word choiceWord(const Json& values, const char* key, Choices choices) {
  std::string label = choiceLabel(choices, textValue(values, key));
  return {std::move(label), key, ValueType::choice, std::move(choices)};
}

Choices partChoices(const Model* before) {
  Choices out;
  if (before == nullptr) return out;
  for (const scene::NodeIndex i : scene::reachedNodes(*before))
    out.emplace_back(before->node(i).key,
                     before->node(i).name.empty() ? before->node(i).key : before->node(i).name);
  return out;
}

Word numberWord(const Json& values, const char* key, double fallback, int decimals) {
  return {base::numberText(numberValue(values, key, fallback), decimals), key, ValueType::number, {}};
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

Word partsWord(const Json& v, const Model* before) {
  return {namesOf(v, "parts"), "parts", ValueType::parts, partChoices(before)};
}

Word partWord(const Json& v, const Model* before) {
  return {textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part")), "part", ValueType::part,
          partChoices(before)};
}

Word anyPartWord(const Json& v, const Model* before) {
  Choices parts = partChoices(before);
  parts.emplace(parts.begin(), "", "every part");
  const std::string part = textValue(v, "part");
  return {part.empty() ? "every part" : lastName(part), "part", ValueType::choice, std::move(parts)};
}

Word pickWord(const Json& v) {
  std::string part;
  if (v.contains("pick") && v["pick"].is_object()) part = textValue(v["pick"], "part");
  return {
      part.empty() ? "what was picked" : "what was picked of " + lastName(part), "pick", ValueType::pick, {}};
}

Word bodyWord(const Json& v, const rulebook::Rulebook* book) {
  Choices bodies = {{"", "the game's body"}};
  if (book != nullptr)
    for (const rulebook::Kind& k : book->kinds)
      if (!k.body.empty()) bodies.emplace_back(k.id, k.body_title);
  return choiceWord(v, "kind", std::move(bodies));
}

Choices regionChoices(const rulebook::Rulebook* book) {
  Choices regions;
  if (book == nullptr) return regions;
  for (const rulebook::Kind& k : book->kinds)
    for (const rulebook::Region& r : k.regions)
      if (std::none_of(regions.begin(), regions.end(), [&](const auto& one) { return one.first == r.id; }))
        regions.emplace_back(r.id, r.title);
  return regions;
}

Words lengthsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Choices units;
  for (const LengthUnit& u : lengthUnits()) units.emplace_back(u.id, u.title);
  return {plainWord("Read lengths as "), choiceWord(v, "unit", units)};
}

Words turnSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Turn so that "), choiceWord(v, "forward", axisSides()), plainWord(" faces forward and "),
          choiceWord(v, "up", axisSides()), plainWord(" faces up")};
}

Words scaleSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Scale everything by "), numberWord(v, "factor", 1, 6)};
}

Words stretchSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Stretch the "),
          choiceWord(v, "along", {{"length", "length"}, {"width", "width"}, {"height", "height"}}),
          plainWord(" alone by "), numberWord(v, "factor", 1, 6)};
}

Words originSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Words out = {plainWord("Put the origin at "), choiceWord(v, "to",
                                                           {{"floor_centre", "the centre of the floor"},
                                                            {"floor", "the floor, straight below"},
                                                            {"centre", "the centre"},
                                                            {"point", "the point"}})};
  if (textValue(v, "to") == "point") {
    out.push_back(plainWord(" "));
    out.push_back(pointWord(v, "point"));
  }
  return out;
}

Words pivotSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  Words out = {
      plainWord("Put the pivot of "), partWord(v, before), plainWord(" at "),
      choiceWord(
          v, "to",
          {{"centre", "its centre"}, {"floor_centre", "the centre of its floor"}, {"point", "the point"}})};
  if (textValue(v, "to") == "point") {
    out.push_back(plainWord(" "));
    out.push_back(pointWord(v, "point"));
  }
  return out;
}

Words dropSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Drop "), partsWord(v, before)};
}

Words keepSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Keep "), partsWord(v, before), plainWord(" and drop everything else")};
}

Words splitSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Split "), partWord(v, before), plainWord(" by "),
          choiceWord(v, "by", {{"material", "its materials"}, {"piece", "its loose pieces"}})};
}

Words joinSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Join "), partsWord(v, before), plainWord(" into one part")};
}

Words duplicateSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Put a copy of "), partWord(v, before), plainWord(" at "), pointWord(v, "by"),
          plainWord(" m from it")};
}

Words mirrorSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Add a mirror image of "), partWord(v, before), plainWord(" across "),
          choiceWord(v, "axis", {{"x", "x = 0"}, {"y", "y = 0"}, {"z", "z = 0"}})};
}

Words freeSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Free "), partsWord(v, before), plainWord(" from what they hang on, in place")};
}

Words renameSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  Choices parts = partChoices(before);
  std::string label = textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part"));
  return {plainWord("Call the part "),
          {label, "part", ValueType::part, std::move(parts)},
          plainWord(" from now on "),
          {textValue(v, "name").empty() ? "…" : textValue(v, "name"), "name", ValueType::text, {}}};
}

Words bakeSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Bake position, turn and scale of every part into its mesh")};
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
  std::string role = choiceLabel(roles, textValue(v, "role"));
  return {plainWord("Give "),
          {material.empty() ? "…" : material, "material", ValueType::material, std::move(materials)},
          plainWord(" the role "),
          {role, "role", ValueType::choice, std::move(roles)}};
}

Words regionSentence(const Json& v, const Model* before, const rulebook::Rulebook* book) {
  Choices regions = regionChoices(book);
  std::string part = textValue(v, "part").empty() ? "…" : lastName(textValue(v, "part"));
  std::string region = choiceLabel(regions, textValue(v, "region"));
  return {plainWord("Let "),
          {std::move(part), "part", ValueType::part, partChoices(before)},
          plainWord(" cover the region "),
          {std::move(region), "region", ValueType::choice, std::move(regions)}};
}

Words pictureSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Take the picture " + textValue(v, "picture") + " from "),
          {textValue(v, "file").empty() ? "…" : textValue(v, "file"), "file", ValueType::picture_file, {}}};
}

Words degenerateSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove triangles without a surface")};
}

Words weldSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Make vertices one that are alike and no farther apart than "),
          numberWord(v, "distance_mm", 0.01, 4), plainWord(" mm")};
}

Words duplicatesSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove triangles that are there twice")};
}

Words fillSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Fill holes of up to "), numberWord(v, "most_edges", 64, 0), plainWord(" edges")};
}

Words orientSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Turn triangles that face another way than the rest of their shell")};
}

Words unusedSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove vertices that no triangle uses")};
}

Words normalsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Make "),
          choiceWord(v, "which", {{"missing", "missing"}, {"wrong", "missing and wrong"}, {"all", "all"}}),
          plainWord(" normals, smooth up to "), numberWord(v, "crease_deg", 40, 1), plainWord(" degrees")};
}

Words rotateSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Turn everything about "),
          choiceWord(v, "about", {{"up", "up"}, {"forward", "forward"}, {"side", "the left"}}),
          plainWord(" by "), numberWord(v, "degrees", 0, 3), plainWord(" degrees")};
}

Words simplifySentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Words out = {plainWord("Simplify to "), numberWord(v, "triangles", 10000, 0), plainWord(" triangles, ")};
  out.push_back(plainWord("no more than "));
  out.push_back(numberWord(v, "most_mm", 0, 3));
  out.push_back(plainWord(" mm off (0: however far), normals "));
  out.push_back(choiceWord(v, "normals", {{"anew", "made anew"}, {"keep", "kept"}}));
  out.push_back(plainWord(", smooth up to "));
  out.push_back(numberWord(v, "crease_deg", 40, 1));
  out.push_back(plainWord(" degrees"));
  return out;
}

Words lighterSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Make "),
          numberWord(v, "levels", 2, 0),
          plainWord(" lighter versions, each "),
          numberWord(v, "share", 0.4, 2),
          plainWord(" of the one before, seen from "),
          numberWord(v, "from_m", 12, 1),
          plainWord(" m on, each next from twice as far")};
}

Words dissolveSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove vertices that carry no shape, "),
          choiceWord(v, "where",
                     {{"same_picture", "where the picture stays as it is"}, {"everywhere", "everywhere"}})};
}

Words needlesSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove triangles as thin as needles")};
}

Words specksSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove loose pieces smaller than "), numberWord(v, "size_mm", 10, 3), plainWord(" mm")};
}

Words hiddenSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Remove triangles that lie inside a closed shell")};
}

Words tangentsSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Make tangents for normal maps")};
}

}  // namespace rakugo::prepare
