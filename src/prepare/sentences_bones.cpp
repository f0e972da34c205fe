// The sentences of steps on bones.
#include "base/text.h"
#include "prepare/ghosts.h"
#include "prepare/sentences.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;

// The bones of a model by key and name, and what carries them.
Choices boneChoices(const Model* before) {
  Choices out;
  if (before == nullptr) return out;
  const std::vector<bool> bone = scene::boneNodes(*before);
  for (const scene::NodeIndex i : scene::reachedNodes(*before))
    if (bone[i.value()]) out.emplace_back(before->node(i).key, before->node(i).name);
  return out;
}

Word skeletonWord(const Json& v, const rulebook::Rulebook* book) {
  Choices skeletons = {{"", "the game's skeleton"}};
  if (book != nullptr)
    for (const rulebook::Skeleton& s : book->skeletons)
      skeletons.emplace_back(s.id, base::lowerAscii(s.title));
  return choiceWord(v, "skeleton", std::move(skeletons));
}

}  // namespace

Words nameBonesSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  std::vector<std::string> said;
  size_t count = 0;
  if (v.contains("names") && v["names"].is_object())
    for (const auto& [name, key] : v["names"].items()) {
      ++count;
      if (!key.is_string() || said.size() > 2) continue;
      const std::string whole = key.get<std::string>();
      said.push_back(whole.substr(whole.rfind('/') + 1) + " is " + name);
    }
  std::string text = "Give " + base::countText(count, "bone", "bones") + " the game's names";
  for (size_t i = 0; i < said.size(); ++i) text += (i == 0 ? ": " : ", ") + said[i];
  if (count > said.size()) text += "…";
  return {plainWord(text)};
}

Words addBonesSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  Choices slots;
  const rulebook::Skeleton* skeleton = nullptr;
  const std::string id = v.value("skeleton", Json()).is_string() ? v["skeleton"].get<std::string>() : "";
  if (book != nullptr)
    skeleton = !id.empty()               ? book->findSkeleton(id)
               : book->skeletons.empty() ? nullptr
                                         : &book->skeletons.front();
  if (skeleton != nullptr)
    for (const rulebook::Bone& bone : skeleton->bones) slots.emplace_back(bone.id, bone.title);
  return {plainWord("Add the bones "),
          {namesOf(v, "slots"), "slots", ValueType::parts, std::move(slots)},
          plainWord(" where "),
          skeletonWord(v, book),
          plainWord(" has them")};
}

Words hangBonesSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Hang each bone where "), skeletonWord(v, book), plainWord(" has it hang")};
}

Words dropBonesSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Drop the bones "),
          {namesOf(v, "bones"), "bones", ValueType::parts, boneChoices(before)},
          plainWord(" and hand their weights to "),
          choiceWord(v, "to", {{"parent", "the bone they hang on"}, {"nearest", "the nearest bone"}})};
}

Words mendWeightsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  return {plainWord("Let each vertex follow "), numberWord(v, "most", 4, 0),
          plainWord(" bones at most, with weights that sum to one")};
}

Words gamePoseSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Change the rest pose to that of "), skeletonWord(v, book),
          plainWord(", bones that point more than "), numberWord(v, "least_deg", 3, 1),
          plainWord(" degrees elsewhere")};
}

Words straightenSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Set all bones straight, along the axes of "), skeletonWord(v, book),
          plainWord(" and without scale; the mesh stays")};
}

Words firstWeightsSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Give what follows no bone first weights, by the bones of "), skeletonWord(v, book)};
}

Words smoothWeightsSentence(const Json& v, const Model*, const rulebook::Rulebook*) {
  Words out = {plainWord("Smooth weights ")};
  if (v.contains("pick") && v["pick"].is_object() && !v["pick"].empty()) {
    out.push_back(plainWord("of "));
    out.push_back(pickWord(v));
    out.push_back(plainWord(", soft over "));
    out.push_back(numberWord(v, "soft_mm", 0, 1));
    out.push_back(plainWord(" mm, "));
  }
  out.push_back(numberWord(v, "rounds", 3, 0));
  out.push_back(plainWord(" times, "));
  out.push_back(numberWord(v, "percent", 50, 0));
  out.push_back(plainWord(" % of the way to what is beside"));
  return out;
}

Words mirrorWeightsSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Give the other side the weights of the "),
          choiceWord(v, "from", {{"left", "left"}, {"right", "right"}}),
          plainWord(", where it lies within "),
          numberWord(v, "most_mm", 50, 1),
          plainWord(" mm of its mirror image, by the sides of "),
          skeletonWord(v, book)};
}

Words copyWeightsSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  Choices kinds = {{"", "the game's example"}};
  if (book != nullptr)
    for (const std::string& id : donorKinds(*book))
      kinds.emplace_back(id, "the example of a " + base::lowerAscii(book->findKind(id)->title));
  // Another model of the mod goes before the game's own.
  if (const Json model = v.value("model", Json()); model.is_string() && !model.get<std::string>().empty())
    return {plainWord("Take weights from the model "),
            {model.get<std::string>(), "model", ValueType::text, {}},
            plainWord(", where it lies within "),
            numberWord(v, "most_mm", 100, 1),
            plainWord(" mm")};
  return {plainWord("Take weights from "), choiceWord(v, "kind", std::move(kinds)),
          plainWord(", where it lies within "), numberWord(v, "most_mm", 100, 1), plainWord(" mm")};
}

Words giveToBoneSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Let "),
          pickWord(v),
          plainWord(" follow "),
          choiceWord(v, "bone", boneChoices(before)),
          plainWord(" by "),
          numberWord(v, "percent", 100, 0),
          plainWord(" %, soft over "),
          numberWord(v, "soft_mm", 0, 1),
          plainWord(" mm")};
}

Words dropLooseSentence(const Json& v, const Model*, const rulebook::Rulebook* book) {
  return {plainWord("Let go of bones that are far away, or that nothing beside follows, by the bones of "),
          skeletonWord(v, book)};
}

Words turnBoneSentence(const Json& v, const Model* before, const rulebook::Rulebook*) {
  return {plainWord("Turn "),
          choiceWord(v, "bone", boneChoices(before)),
          plainWord(" by "),
          numberWord(v, "forward_deg", 0, 1),
          plainWord("° about forward, "),
          numberWord(v, "side_deg", 0, 1),
          plainWord("° about the side, "),
          numberWord(v, "up_deg", 0, 1),
          plainWord("° about up")};
}

}  // namespace rakugo::prepare
