// Sentences of the steps on what was picked, on regions and on seams.
#include "prepare/sentences.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;

const Choices& axes() {
  static const Choices kAxes = {{"x", "x"}, {"y", "y"}, {"z", "z"}};
  return kAxes;
}

// Every correction ends with how far round it the surface follows.
Words withSoftEdge(Words words, const Json& v) {
  words.push_back(plainWord(", the surface following up to "));
  words.push_back(numberWord(v, "soft_mm", 0, 3));
  words.push_back(plainWord(" mm round it"));
  return words;
}

Word materialWord(const Json& v, const Model* before) {
  Choices materials;
  if (before != nullptr)
    for (const scene::Material& m : before->materials)
      materials.emplace_back(m.key, m.name.empty() ? m.key : m.name);
  const std::string material = textValue(v, "material");
  return {material.empty() ? "…" : material, "material", ValueType::material, std::move(materials)};
}

}  // namespace

Words movePickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge(
      {plainWord("Move "), pickWord(v), plainWord(" by "), pointWord(v, "by"), plainWord(" m")}, v);
}

Words turnPickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge({plainWord("Turn "), pickWord(v), plainWord(" about "), choiceWord(v, "axis", axes()),
                       plainWord(" by "), numberWord(v, "degrees", 0, 2), plainWord(" degrees")},
                      v);
}

Words scalePickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge({plainWord("Scale "), pickWord(v), plainWord(" by "), pointWord(v, "factors")}, v);
}

Words bendPickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge({plainWord("Bend "), pickWord(v), plainWord(" along "), choiceWord(v, "along", axes()),
                       plainWord(" towards "), choiceWord(v, "toward", axes()), plainWord(" by "),
                       numberWord(v, "degrees", 0, 2), plainWord(" degrees; its "),
                       choiceWord(v, "fixed", {{"low", "low"}, {"high", "high"}}), plainWord(" end stays")},
                      v);
}

Words flattenPickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge(
      {plainWord("Make "), pickWord(v), plainWord(" flat across "), choiceWord(v, "axis", axes())}, v);
}

Words snapPickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return withSoftEdge({plainWord("Put "), pickWord(v), plainWord(" on a grid of "),
                       numberWord(v, "grid_mm", 10, 3), plainWord(" mm")},
                      v);
}

Words splitPickedSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  const std::string name = textValue(v, "name");
  return {plainWord("Make "),
          pickWord(v),
          plainWord(" a part of its own, called "),
          {name.empty() ? "…" : name, "name", ValueType::text, {}}};
}

Words regionPickedSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Let "), pickWord(v), plainWord(" cover the region "),
          choiceWord(v, "region", regionChoices(book))};
}

Words regionMaterialSentence(const Json& v, const Model* before, const rulebook::Rulebook* book) {
  return {plainWord("Let all of "), materialWord(v, before), plainWord(" cover the region "),
          choiceWord(v, "region", regionChoices(book))};
}

Words handOverSentence(const Json& v, const Model* before, const rulebook::Rulebook* book) {
  // What is handed over may be no region of the game; that is often why.
  Choices from = regionChoices(book);
  if (before != nullptr)
    for (const scene::NodeIndex i : scene::reachedNodes(*before))
      if (const std::string& region = before->node(i).region;
          !region.empty() && choiceLabel(from, region) == region)
        from.emplace_back(region, region);
  return {plainWord("Hand the region "), choiceWord(v, "from", std::move(from)), plainWord(" over to "),
          choiceWord(v, "to", regionChoices(book))};
}

Words regionNearestSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Take regions from "), bodyWord(v, book), plainWord(" where it is no farther than "),
          numberWord(v, "most_mm", 100, 3), plainWord(" mm")};
}

Words orderRegionsSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  Choices kinds = {{"", "its first kind with regions"}};
  if (book != nullptr)
    for (const rulebook::Kind& k : book->kinds)
      if (!k.regions.empty()) kinds.emplace_back(k.id, k.title);
  return {plainWord("Put regions in the order of the game's record for "),
          choiceWord(v, "kind", std::move(kinds))};
}

Words likeFirstSentence(const Json&, const Model*, const rulebook::Rulebook*) {
  return {plainWord("In every other size, put vertices in the order of the first")};
}

Words snapSeamSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Close the seams to "), bodyWord(v, book), plainWord(" where they gape no more than "),
          numberWord(v, "most_mm", 30, 3), plainWord(" mm")};
}

}  // namespace rakugo::prepare
