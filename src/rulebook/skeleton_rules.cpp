// How bones, chains and movements of a skeleton must fit each other.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "rulebook/contradictions.h"

namespace rakugo::rulebook {
namespace {

constexpr const char *kContradiction = "rulebook.contradiction", *kNoEffect = "rulebook.no_effect";

const Bone* boneBefore(const Skeleton& s, size_t end, const std::string& id) {
  for (size_t i = 0; i < end; ++i)
    if (s.bones[i].id == id) return &s.bones[i];
  return nullptr;
}

void holdParent(const Skeleton& s, size_t i, const std::string& at, Mistakes& mistakes) {
  const Bone& bone = s.bones[i];
  if (bone.parent.empty()) {
    if (i > 0)
      mistakes.add(kContradiction, at + "/parent", base::phrase("Only the first bone is without a parent."),
                   base::phrase("Name the bone that it hangs on."));
    if (i == 0 && bone.most_deg > 0)
      mistakes.add(kNoEffect, at + "/most_deg",
                   base::phrase("The first bone hangs on none that it could turn against."),
                   base::phrase("Leave it out."));
    return;
  }
  const Bone* parent = boneBefore(s, i, bone.parent);
  if (parent == nullptr)
    return mistakes.add(kContradiction, at + "/parent",
                        base::phrase("The parent \"{0}\" does not stand before this bone.",
                                     base::presentable(bone.parent, 60)),
                        base::phrase("List parents before their children."));
  const bool parent_lies_there = (parent->side == Side::left) == (parent->at_m[1] > 0);
  if (bone.side != Side::centre && parent->side != Side::centre && bone.side != parent->side &&
      parent_lies_there)
    mistakes.add(kContradiction, at + "/side",
                 base::phrase("The bone lies on another side than the one it hangs on."),
                 base::phrase("Make both left or both right."));
}

void holdBones(const Skeleton& s, const std::string& at, Mistakes& mistakes) {
  for (size_t i = 0; i < s.bones.size() && !mistakes.full(); ++i) {
    const Bone& bone = s.bones[i];
    const std::string place = at + "/bones/" + std::to_string(i);
    holdParent(s, i, place, mistakes);
    // A left bone on the right side would swap every match made by position.
    if ((bone.side == Side::left && bone.at_m[1] <= 0) || (bone.side == Side::right && bone.at_m[1] >= 0))
      mistakes.add(kContradiction, place + "/at_m/1",
                   base::phrase("The bone does not lie on the side it says: left is positive."),
                   base::phrase("Change the sign of the second number, or the side."));
    double length = 0;
    for (const double part : bone.turn) length += part * part;
    if (!(std::abs(length - 1) < 1e-3))
      mistakes.add(kContradiction, place + "/turn",
                   base::phrase("A turn is a unit quaternion: the squares of its numbers sum to 1."),
                   base::phrase("Divide each number by {0}.", base::numberText(std::sqrt(length), 6)));
  }
}

void holdChains(const Skeleton& s, const std::string& at, Mistakes& mistakes) {
  for (size_t c = 0; c < s.chains.size(); ++c) {
    const std::vector<std::string>& bones = s.chains[c].bones;
    for (size_t i = 0; i < bones.size(); ++i) {
      const Bone* bone = s.findBone(bones[i]);
      if (bone == nullptr || (i > 0 && bone->parent != bones[i - 1])) {
        mistakes.add(kContradiction, at + "/chains/" + std::to_string(c) + "/bones/" + std::to_string(i),
                     base::phrase("A chain names bones of the skeleton, each the child of the one before."),
                     bone == nullptr
                         ? base::phrase("\"{0}\" is no bone of it.", base::presentable(bones[i], 60))
                         : base::phrase("The parent of \"{0}\" is \"{1}\".", bones[i], bone->parent));
        break;
      }
    }
  }
}

void holdMovements(const Skeleton& s, const std::string& at, Mistakes& mistakes) {
  for (size_t m = 0; m < s.movements.size(); ++m) {
    const std::vector<double>& moments = s.movements[m].moments_s;
    for (size_t i = 1; i < moments.size(); ++i)
      if (!(moments[i] > moments[i - 1]))
        mistakes.add(kContradiction,
                     at + "/movements/list/" + std::to_string(m) + "/moments_s/" + std::to_string(i),
                     base::phrase("A moment comes after the one before it."),
                     base::phrase("Sort the moments, and keep each once."));
  }
}

}  // namespace

void findSkeletonContradictions(const Rulebook& book, Mistakes& mistakes) {
  for (size_t i = 0; i < book.skeletons.size() && !mistakes.full(); ++i) {
    const std::string at = "/skeletons/" + std::to_string(i);
    if (mistakes.inside(at)) continue;
    holdBones(book.skeletons[i], at, mistakes);
    if (mistakes.inside(at)) continue;
    holdChains(book.skeletons[i], at, mistakes);
    holdMovements(book.skeletons[i], at, mistakes);
  }
}

}  // namespace rakugo::rulebook
