// The table of steps: names, order, defaults.
#include <algorithm>

#include "base/text.h"
#include "prepare/sentences.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;

}  // namespace

const std::vector<StepKind>& stepKinds() {
  static const std::vector<StepKind> kKinds = {
      {"read_lengths", "Read lengths", StepGroup::space, 0,
       [] {
         return Json{{"unit", "cm"}};
       },
       applyReadLengths, lengthsSentence},
      {"use_picture", "Take a picture from", StepGroup::surface, 1,
       [] {
         return Json{{"picture", ""}, {"file", ""}};
       },
       applyUsePicture, pictureSentence},
      {"turn", "Turn", StepGroup::space, 2,
       [] {
         return Json{{"forward", "+Z"}, {"up", "+Y"}};
       },
       applyTurn, turnSentence},
      {"rotate", "Turn by an angle", StepGroup::space, 2,
       [] {
         return Json{{"about", "up"}, {"degrees", 15.0}};
       },
       applyRotate, rotateSentence},
      {"scale", "Scale", StepGroup::space, 3,
       [] {
         return Json{{"factor", 1.0}};
       },
       applyScale, scaleSentence},
      {"stretch", "Stretch one way", StepGroup::space, 3,
       [] {
         return Json{{"along", "height"}, {"factor", 1.0}};
       },
       applyStretch, stretchSentence},
      {"drop", "Drop parts", StepGroup::parts, 4,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyDrop, dropSentence},
      {"keep", "Keep only some parts", StepGroup::parts, 5,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyKeep, keepSentence},
      {"free", "Free parts", StepGroup::parts, 6,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyFree, freeSentence},
      {"split", "Split a part", StepGroup::parts, 7,
       [] {
         return Json{{"part", ""}, {"by", "piece"}};
       },
       applySplit, splitSentence},
      {"join", "Join parts", StepGroup::parts, 8,
       [] {
         return Json{{"parts", Json::array()}};
       },
       applyJoin, joinSentence},
      {"rename", "Rename a part", StepGroup::parts, 9,
       [] {
         return Json{{"part", ""}, {"name", ""}};
       },
       applyRename, renameSentence},
      {"duplicate", "Copy a part", StepGroup::parts, 10,
       [] {
         return Json{{"part", ""}, {"by", Json::array({0.0, 0.0, 0.0})}};
       },
       applyDuplicate, duplicateSentence},
      {"mirror", "Mirror a part", StepGroup::parts, 11,
       [] {
         return Json{{"part", ""}, {"axis", "y"}};
       },
       applyMirror, mirrorSentence},
      {"remove_degenerate", "Remove empty triangles", StepGroup::mesh, 12, [] { return Json::object(); },
       applyRemoveDegenerate, degenerateSentence},
      {"bake", "Bake placement", StepGroup::space, 13, [] { return Json::object(); }, applyBake,
       bakeSentence},
      {"weld", "Make vertices one", StepGroup::mesh, 14,
       [] {
         return Json{{"distance_mm", 0.01}};
       },
       applyWeld, weldSentence},
      {"remove_duplicates", "Remove double triangles", StepGroup::mesh, 15, [] { return Json::object(); },
       applyRemoveDuplicates, duplicatesSentence},
      {"orient", "Turn triangles outward", StepGroup::mesh, 16, [] { return Json::object(); }, applyOrient,
       orientSentence},
      {"fill_holes", "Fill holes", StepGroup::mesh, 17,
       [] {
         return Json{{"most_edges", 64.0}};
       },
       applyFillHoles, fillSentence},
      {"remove_hidden", "Remove hidden triangles", StepGroup::mesh, 18, [] { return Json::object(); },
       applyRemoveHidden, hiddenSentence},
      {"remove_specks", "Remove specks", StepGroup::mesh, 19,
       [] {
         return Json{{"size_mm", 10.0}};
       },
       applyRemoveSpecks, specksSentence},
      {"remove_needles", "Remove needles", StepGroup::mesh, 20, [] { return Json::object(); },
       applyRemoveNeedles, needlesSentence},
      {"dissolve", "Remove shapeless vertices", StepGroup::mesh, 21,
       [] {
         return Json{{"where", "same_picture"}};
       },
       applyDissolve, dissolveSentence},
      {"simplify", "Simplify", StepGroup::mesh, 22,
       [] {
         return Json{{"triangles", 10000.0}, {"most_mm", 0.0}, {"normals", "anew"}, {"crease_deg", 40.0}};
       },
       applySimplify, simplifySentence},
      {"remove_unused", "Remove unused vertices", StepGroup::mesh, 30, [] { return Json::object(); },
       applyRemoveUnused, unusedSentence},
      {"split_picked", "Part off what is picked", StepGroup::parts, 31,
       [] {
         return Json{{"pick", Json::object()}, {"name", ""}};
       },
       applySplitPicked, splitPickedSentence},
      {"move_picked", "Move what is picked", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"by", Json::array({0.0, 0.0, 0.0})}, {"soft_mm", 0.0}};
       },
       applyMovePicked, movePickedSentence},
      {"turn_picked", "Turn what is picked", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"axis", "z"}, {"degrees", 0.0}, {"soft_mm", 0.0}};
       },
       applyTurnPicked, turnPickedSentence},
      {"scale_picked", "Scale what is picked", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"factors", Json::array({1.0, 1.0, 1.0})}, {"soft_mm", 0.0}};
       },
       applyScalePicked, scalePickedSentence},
      {"bend_picked", "Bend what is picked", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"along", "x"},   {"toward", "z"},
                     {"degrees", 0.0},         {"fixed", "low"}, {"soft_mm", 0.0}};
       },
       applyBendPicked, bendPickedSentence},
      {"flatten_picked", "Flatten what is picked", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"axis", "z"}, {"soft_mm", 0.0}};
       },
       applyFlattenPicked, flattenPickedSentence},
      {"snap_picked", "Put what is picked on a grid", StepGroup::mesh, 32,
       [] {
         return Json{{"pick", Json::object()}, {"grid_mm", 10.0}, {"soft_mm", 0.0}};
       },
       applySnapPicked, snapPickedSentence},
      {"make_normals", "Make normals", StepGroup::mesh, 34,
       [] {
         return Json{{"which", "missing"}, {"crease_deg", 40.0}};
       },
       applyMakeNormals, normalsSentence},
      {"make_tangents", "Make tangents", StepGroup::mesh, 35, [] { return Json::object(); },
       applyMakeTangents, tangentsSentence},
      {"name_bones", "Give bones the game's names", StepGroup::bones, 36,
       [] {
         return Json{{"names", Json::object()}};
       },
       applyNameBones, nameBonesSentence},
      {"add_bones", "Add missing bones", StepGroup::bones, 37,
       [] {
         return Json{{"skeleton", ""}, {"slots", Json::array()}};
       },
       applyAddBones, addBonesSentence},
      {"hang_bones", "Hang bones as the game does", StepGroup::bones, 37,
       [] {
         return Json{{"skeleton", ""}};
       },
       applyHangBones, hangBonesSentence},
      {"drop_bones", "Drop bones", StepGroup::bones, 38,
       [] {
         return Json{{"bones", Json::array()}, {"to", "parent"}};
       },
       applyDropBones, dropBonesSentence},
      {"game_pose", "Change the rest pose", StepGroup::bones, 39,
       [] {
         return Json{{"skeleton", ""}, {"least_deg", 3.0}};
       },
       applyGamePose, gamePoseSentence},
      {"straighten_bones", "Set bones straight", StepGroup::bones, 39,
       [] {
         return Json{{"skeleton", ""}};
       },
       applyStraightenBones, straightenSentence},
      {"mend_weights", "Mend weights", StepGroup::bones, 39,
       [] {
         return Json{{"most", 4.0}};
       },
       applyMendWeights, mendWeightsSentence},
      {"copy_weights",
       "Take weights from the game's example",
       StepGroup::bones,
       39,
       [] {
         return Json{{"kind", ""}, {"most_mm", 100.0}};
       },
       applyCopyWeights,
       copyWeightsSentence,
       {"model"}},
      {"first_weights", "Make first weights", StepGroup::bones, 39,
       [] {
         return Json{{"skeleton", ""}};
       },
       applyFirstWeights, firstWeightsSentence},
      {"give_to_bone", "Let what is picked follow a bone", StepGroup::bones, 39,
       [] {
         return Json{{"pick", Json::object()}, {"bone", ""}, {"percent", 100.0}, {"soft_mm", 0.0}};
       },
       applyGiveToBone, giveToBoneSentence},
      {"drop_loose_weights", "Let go of far bones", StepGroup::bones, 39,
       [] {
         return Json{{"skeleton", ""}};
       },
       applyDropLooseWeights, dropLooseSentence},
      {"smooth_weights",
       "Smooth weights",
       StepGroup::bones,
       39,
       [] {
         return Json{{"rounds", 3.0}, {"percent", 50.0}};
       },
       applySmoothWeights,
       smoothWeightsSentence,
       {"pick", "soft_mm"}},
      {"mirror_weights", "Mirror weights", StepGroup::bones, 39,
       [] {
         return Json{{"skeleton", ""}, {"from", "left"}, {"most_mm", 50.0}};
       },
       applyMirrorWeights, mirrorWeightsSentence},
      {"turn_bone", "Turn a bone", StepGroup::bones, 39,
       [] {
         return Json{{"bone", ""}, {"forward_deg", 0.0}, {"side_deg", 0.0}, {"up_deg", 0.0}};
       },
       applyTurnBone, turnBoneSentence},
      {"origin",
       "Put the origin",
       StepGroup::space,
       40,
       [] {
         return Json{{"to", "floor_centre"}};
       },
       applyOrigin,
       originSentence,
       {"point"}},
      {"pivot",
       "Put a part's pivot",
       StepGroup::parts,
       40,
       [] {
         return Json{{"part", ""}, {"to", "centre"}};
       },
       applyPivot,
       pivotSentence,
       {"point"}},
      {"role", "Give a role", StepGroup::surface, 41,
       [] {
         return Json{{"material", ""}, {"role", ""}};
       },
       applyRole, roleSentence},
      {"region_nearest", "Take regions from the body", StepGroup::surface, 42,
       [] {
         return Json{{"kind", ""}, {"most_mm", 100.0}};
       },
       applyRegionNearest, regionNearestSentence},
      {"region_material", "Name a material's region", StepGroup::surface, 42,
       [] {
         return Json{{"material", ""}, {"region", ""}};
       },
       applyRegionMaterial, regionMaterialSentence},
      {"region", "Name a region", StepGroup::surface, 43,
       [] {
         return Json{{"part", ""}, {"region", ""}};
       },
       applyRegion, regionSentence},
      {"region_picked", "Name the region of what is picked", StepGroup::surface, 44,
       [] {
         return Json{{"pick", Json::object()}, {"region", ""}};
       },
       applyRegionPicked, regionPickedSentence},
      {"hand_over", "Hand a region over", StepGroup::surface, 45,
       [] {
         return Json{{"from", ""}, {"to", ""}};
       },
       applyHandOver, handOverSentence},
      {"order_regions", "Order regions", StepGroup::surface, 46,
       [] {
         return Json{{"kind", ""}};
       },
       applyOrderRegions, orderRegionsSentence},
      {"like_first", "Order sizes alike", StepGroup::surface, 46, [] { return Json::object(); },
       applyLikeFirst, likeFirstSentence},
      {"snap_seam", "Close seams", StepGroup::surface, 47,
       [] {
         return Json{{"kind", ""}, {"most_mm", 30.0}};
       },
       applySnapSeam, snapSeamSentence},
      {"make_lighter", "Make lighter versions", StepGroup::mesh, 60,
       [] {
         return Json{{"levels", 2.0}, {"share", 0.4}, {"from_m", 12.0}};
       },
       applyMakeLighter, lighterSentence},
  };
  return kKinds;
}

const char* groupTitle(StepGroup group) {
  static constexpr const char* kTitles[] = {"Size and direction", "Parts", "Mesh", "Bones and weights",
                                            "Surface and regions"};
  return kTitles[static_cast<size_t>(group)];
}

bool needsPick(const StepKind& kind) { return kind.defaults().contains("pick"); }

std::vector<std::string> valueKeys(const StepKind& kind) {
  std::vector<std::string> out = kind.optional;
  const Json defaults = kind.defaults();
  for (const auto& [key, value] : defaults.items()) out.push_back(key);
  return out;
}

bool namesModel(const std::string& kind, const std::string& key) {
  return key == "model" || findStepKind(kind) == nullptr;
}

const StepKind* findStepKind(const std::string& id) {
  for (const StepKind& kind : stepKinds())
    if (id == kind.id) return &kind;
  return nullptr;
}

std::vector<Word> sentence(const mod::StepDoc& step, const Model* before, const rulebook::Rulebook* book) {
  const StepKind* kind = findStepKind(step.kind);
  if (kind == nullptr)
    return {plainWord("A step \"" + base::presentable(step.kind, 40) + "\" that this Rakugo does not know")};
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
