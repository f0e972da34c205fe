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
      {"rotate", "Turn by an angle", 2,
       [] {
         return Json{{"about", "up"}, {"degrees", 15.0}};
       },
       applyRotate, rotateSentence},
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
      {"remove_hidden", "Remove hidden triangles", 18, [] { return Json::object(); }, applyRemoveHidden,
       hiddenSentence},
      {"remove_specks", "Remove specks", 19,
       [] {
         return Json{{"size_mm", 10.0}};
       },
       applyRemoveSpecks, specksSentence},
      {"remove_needles", "Remove needles", 20, [] { return Json::object(); }, applyRemoveNeedles,
       needlesSentence},
      {"dissolve", "Remove shapeless vertices", 21,
       [] {
         return Json{{"where", "same_picture"}};
       },
       applyDissolve, dissolveSentence},
      {"simplify", "Simplify", 22,
       [] {
         return Json{{"triangles", 10000.0}, {"most_mm", 0.0}, {"normals", "anew"}, {"crease_deg", 40.0}};
       },
       applySimplify, simplifySentence},
      {"remove_unused", "Remove unused vertices", 30, [] { return Json::object(); }, applyRemoveUnused,
       unusedSentence},
      {"split_picked", "Part off what is picked", 31,
       [] {
         return Json{{"pick", Json::object()}, {"name", ""}};
       },
       applySplitPicked, splitPickedSentence},
      {"move_picked", "Move what is picked", 32,
       [] {
         return Json{{"pick", Json::object()}, {"by", Json::array({0.0, 0.0, 0.0})}, {"soft_mm", 0.0}};
       },
       applyMovePicked, movePickedSentence},
      {"turn_picked", "Turn what is picked", 32,
       [] {
         return Json{{"pick", Json::object()}, {"axis", "z"}, {"degrees", 0.0}, {"soft_mm", 0.0}};
       },
       applyTurnPicked, turnPickedSentence},
      {"scale_picked", "Scale what is picked", 32,
       [] {
         return Json{{"pick", Json::object()}, {"factors", Json::array({1.0, 1.0, 1.0})}, {"soft_mm", 0.0}};
       },
       applyScalePicked, scalePickedSentence},
      {"bend_picked", "Bend what is picked", 32,
       [] {
         return Json{{"pick", Json::object()}, {"along", "x"},   {"toward", "z"},
                     {"degrees", 0.0},         {"fixed", "low"}, {"soft_mm", 0.0}};
       },
       applyBendPicked, bendPickedSentence},
      {"flatten_picked", "Flatten what is picked", 32,
       [] {
         return Json{{"pick", Json::object()}, {"axis", "z"}, {"soft_mm", 0.0}};
       },
       applyFlattenPicked, flattenPickedSentence},
      {"snap_picked", "Put what is picked on a grid", 32,
       [] {
         return Json{{"pick", Json::object()}, {"grid_mm", 10.0}, {"soft_mm", 0.0}};
       },
       applySnapPicked, snapPickedSentence},
      {"make_normals", "Make normals", 34,
       [] {
         return Json{{"which", "missing"}, {"crease_deg", 40.0}};
       },
       applyMakeNormals, normalsSentence},
      {"make_tangents", "Make tangents", 35, [] { return Json::object(); }, applyMakeTangents,
       tangentsSentence},
      {"origin", "Put the origin", 40,
       [] {
         return Json{{"to", "floor_centre"}};
       },
       applyOrigin, originSentence},
      {"role", "Give a role", 41,
       [] {
         return Json{{"material", ""}, {"role", ""}};
       },
       applyRole, roleSentence},
      {"region_nearest", "Take regions from the body", 42,
       [] {
         return Json{{"kind", ""}, {"most_mm", 100.0}};
       },
       applyRegionNearest, regionNearestSentence},
      {"region_material", "Name a material's region", 42,
       [] {
         return Json{{"material", ""}, {"region", ""}};
       },
       applyRegionMaterial, regionMaterialSentence},
      {"region", "Name a region", 43,
       [] {
         return Json{{"part", ""}, {"region", ""}};
       },
       applyRegion, regionSentence},
      {"region_picked", "Name the region of what is picked", 44,
       [] {
         return Json{{"pick", Json::object()}, {"region", ""}};
       },
       applyRegionPicked, regionPickedSentence},
      {"hand_over", "Hand a region over", 45,
       [] {
         return Json{{"from", ""}, {"to", ""}};
       },
       applyHandOver, handOverSentence},
      {"order_regions", "Order regions", 46,
       [] {
         return Json{{"kind", ""}};
       },
       applyOrderRegions, orderRegionsSentence},
      {"like_first", "Order sizes alike", 46, [] { return Json::object(); }, applyLikeFirst,
       likeFirstSentence},
      {"snap_seam", "Close seams", 47,
       [] {
         return Json{{"kind", ""}, {"most_mm", 30.0}};
       },
       applySnapSeam, snapSeamSentence},
  };
  return kKinds;
}

const char* stepGroup(const StepKind& kind) {
  const std::string id = kind.id;
  if (id == "use_picture" || kind.rank > 40) return "Surface and regions";
  if (id == "bake" || kind.rank <= 3 || kind.rank == 40) return "Size and direction";
  if (kind.rank <= 11 || id == "split_picked") return "Parts";
  return "Mesh";
}

bool needsPick(const StepKind& kind) { return kind.defaults().contains("pick"); }

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
