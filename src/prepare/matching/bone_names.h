// What the names of bones say, whoever gave them: which part of the body, which side, and whether it is a
// helper that no game asks for.
#pragma once

#include <array>
#include <span>
#include <string>
#include <vector>

#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// Parts of a body that bones are called after.
enum class BodyPart : unsigned char {
  root,
  hips,
  spine,
  chest,
  neck,
  head,
  collar,
  upper_arm,
  forearm,
  hand,
  finger,
  thigh,
  shin,
  foot,
  toe,
  eye,
  jaw,
  hair,
  tail
};
inline constexpr size_t kBodyParts = 19;
/// In words for people: "upper arm".
std::string bodyPartName(BodyPart part);

/// What one name says.
struct BoneName {
  std::vector<std::string> words;  ///< in lower case, without side, number and what all names have in common
  /// How much it speaks for each part, 0 to 1. All 0: it says nothing of a body.
  std::array<float, kBodyParts> parts{};
  rulebook::Side side = rulebook::Side::centre;
  bool sided = false;   ///< it names a side
  bool helper = false;  ///< a twist, a target of IK, an end without a body part of its own, a control
  bool end = false;     ///< among those: the end that an exporter adds to a chain
  bool thumb = false;   ///< a finger, and which: the one that shows where a figure faces
  [[nodiscard]] bool speaks() const;
};

/// Reads all names of a skeleton together, so that what they have in common (a prefix, the name of the rig)
/// is left out. Words are parted at signs, at capitals and at numbers, and where a script has no gaps, by the
/// words that are known; sides are words, letters or glued to another word, before it or behind. The
/// languages are those of data/bone_words.txt. Cost: linear in the length of the names.
std::vector<BoneName> readBoneNames(std::span<const std::string> names);

/// The same of a single phrase, as a rulebook's hint: "upper arm".
BoneName readBonePhrase(const std::string& phrase);

}  // namespace rakugo::prepare
