#include "prepare/bone_names.h"

#include <algorithm>
#include <map>
#include <sstream>
#include <string_view>

#include "prepare/body_words.h"

namespace rakugo::prepare {
namespace {

using rulebook::Side;

struct Meaning {
  BodyPart part;
  float weight;
};
using Meanings = std::vector<Meaning>;

// Parsed once from the table of words.
const std::map<std::string, Meanings, std::less<>>& lexicon() {
  static const auto kWords = [] {
    std::map<std::string, Meanings, std::less<>> out;
    std::istringstream lines(kBodyWords);
    for (std::string line; std::getline(lines, line);) {
      std::istringstream in(line);
      size_t part = 0;
      int weight = 0;
      if (!(in >> part >> weight) || part >= kBodyParts) continue;
      for (std::string word; in >> word;)
        out[word].push_back({static_cast<BodyPart>(part), static_cast<float>(weight) / 100});
    }
    return out;
  }();
  return kWords;
}

const std::map<std::string_view, Side>& sideWords() {
  static const std::map<std::string_view, Side> kSides = {
      {"l", Side::left},        {"left", Side::left},      {"lf", Side::left},
      {"lft", Side::left},      {"links", Side::left},     {"linke", Side::left},
      {"linker", Side::left},   {"linkes", Side::left},    {"gauche", Side::left},
      {"izq", Side::left},      {"izquierda", Side::left}, {"izquierdo", Side::left},
      {"sinistra", Side::left}, {"sinistro", Side::left},  {"sx", Side::left},
      {"port", Side::left},     {"r", Side::right},        {"right", Side::right},
      {"rt", Side::right},      {"rgt", Side::right},      {"rechts", Side::right},
      {"rechte", Side::right},  {"rechter", Side::right},  {"rechtes", Side::right},
      {"droite", Side::right},  {"droit", Side::right},    {"der", Side::right},
      {"derecha", Side::right}, {"derecho", Side::right},  {"destra", Side::right},
      {"destro", Side::right},  {"dx", Side::right},       {"starboard", Side::right}};
  return kSides;
}

// Words that say only that it is a bone.
bool neutral(std::string_view word) {
  static constexpr std::string_view kNeutral[] = {"bone", "joint",   "jnt", "def",   "deform",
                                                  "bind", "sk",      "rig", "bn",    "b",
                                                  "j",    "knochen", "os",  "hueso", "osso"};
  return std::find(std::begin(kNeutral), std::end(kNeutral), word) != std::end(kNeutral);
}

bool helps(std::string_view word) {
  static constexpr std::string_view kHelpers[] = {
      "twist", "roll",  "ik",     "fk",     "pole", "target", "ctrl", "control", "helper", "effector",
      "aux",   "bendy", "socket", "attach", "prop", "weapon", "cam",  "camera",  "ziel",   "cible"};
  return std::find(std::begin(kHelpers), std::end(kHelpers), word) != std::end(kHelpers);
}
bool ends(std::string_view word) {
  static constexpr std::string_view kEnds[] = {"end", "nub", "tip", "leaf", "ende", "fin"};
  return std::find(std::begin(kEnds), std::end(kEnds), word) != std::end(kEnds);
}

enum class Sign : unsigned char { lower, upper, digit, other };
Sign signOf(char c) {
  if ((c >= 'a' && c <= 'z') || static_cast<unsigned char>(c) >= 0x80) return Sign::lower;
  if (c >= 'A' && c <= 'Z') return Sign::upper;
  return c >= '0' && c <= '9' ? Sign::digit : Sign::other;
}

// Words in lower case, parted at signs, numbers and capitals: "Rig:LUpperArm01" is rig, l, upper, arm, 01.
std::vector<std::string> wordsOf(const std::string& name) {
  std::vector<std::string> out;
  std::string word;
  const auto part = [&] {
    if (!word.empty()) out.push_back(std::exchange(word, {}));
  };
  for (size_t i = 0; i < name.size(); ++i) {
    const Sign sign = signOf(name[i]), before = i > 0 ? signOf(name[i - 1]) : Sign::other;
    if (sign == Sign::other) {
      part();
      continue;
    }
    const bool letters = sign != Sign::digit, letters_before = before != Sign::digit;
    const bool hump = sign == Sign::upper && before == Sign::lower;
    // Of several capitals the last begins the next word.
    const bool last_capital = sign == Sign::upper && before == Sign::upper && i + 1 < name.size() &&
                              signOf(name[i + 1]) == Sign::lower;
    if (hump || last_capital || (before != Sign::other && letters != letters_before)) part();
    word += sign == Sign::upper ? static_cast<char>(name[i] - 'A' + 'a') : name[i];
  }
  part();
  return out;
}

bool isNumber(const std::string& word) { return signOf(word[0]) == Sign::digit; }

// A side that is glued to a word of the body: "lforearm", "leftarm", "handr".
bool unglue(const std::string& word, BoneName& name, std::vector<std::string>& out) {
  for (const auto& [said, side] : sideWords()) {
    if (word.size() <= said.size()) continue;
    const bool front = word.compare(0, said.size(), said) == 0,
               back = word.compare(word.size() - said.size(), said.size(), said) == 0;
    const std::string without_front = word.substr(said.size()),
                      without_back = word.substr(0, word.size() - said.size());
    for (const auto& [glued, rest] : {std::pair(front, without_front), std::pair(back, without_back)})
      if (glued && lexicon().count(rest) != 0) {
        name.side = side;
        name.sided = true;
        out.push_back(rest);
        return true;
      }
  }
  return false;
}

void understand(const std::vector<std::string>& words, BoneName& out) {
  for (const std::string& word : words) {
    if (isNumber(word) || neutral(word)) continue;
    if (ends(word)) {
      out.helper = out.end = true;
    } else if (helps(word)) {
      out.helper = true;
    } else if (const auto side = sideWords().find(word);
               side != sideWords().end() && lexicon().count(word) == 0) {
      out.side = side->second;
      out.sided = true;
    } else if (lexicon().count(word) != 0 || !unglue(word, out, out.words)) {
      out.words.push_back(word);
    }
  }
  // The longest run of words that is known counts: "upper arm" before "arm".
  for (size_t length = std::min<size_t>(3, out.words.size()); length > 0; --length) {
    bool any = false;
    for (size_t i = 0; i + length <= out.words.size(); ++i) {
      std::string joined;
      for (size_t k = i; k < i + length; ++k) joined += out.words[k];
      const auto known = lexicon().find(joined);
      if (known == lexicon().end()) continue;
      any = true;
      for (const Meaning& m : known->second) {
        float& there = out.parts[static_cast<size_t>(m.part)];
        there = std::max(there, m.weight);
      }
    }
    if (any) break;
  }
  // Fingers and toes are called after what they are on: "hand index", "foot toe".
  for (const BodyPart small : {BodyPart::finger, BodyPart::toe, BodyPart::eye, BodyPart::hair, BodyPart::jaw})
    if (const float said = out.parts[static_cast<size_t>(small)]; said > 0.6F) {
      out.parts.fill(0);
      out.parts[static_cast<size_t>(small)] = said;
    }
}

}  // namespace

std::string bodyPartName(BodyPart part) {
  std::istringstream in(kBodyPartNames);
  std::string out;
  for (size_t i = 0; i <= static_cast<size_t>(part); ++i) in >> out;
  std::replace(out.begin(), out.end(), '-', ' ');
  return out;
}

bool BoneName::speaks() const {
  return std::any_of(parts.begin(), parts.end(), [](float v) { return v > 0; });
}

std::vector<BoneName> readBoneNames(std::span<const std::string> names) {
  std::vector<std::vector<std::string>> all;
  for (const std::string& name : names) all.push_back(wordsOf(name));
  // What nearly all begin with is no part of a name, unless it says something of a body.
  while (all.size() > 2) {
    std::map<std::string, size_t> first;
    for (const auto& words : all)
      if (words.size() > 1) ++first[words[0]];
    const auto most = std::max_element(first.begin(), first.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (most == first.end() || most->second * 10 < all.size() * 7 || lexicon().count(most->first) != 0 ||
        sideWords().count(most->first) != 0)
      break;
    for (auto& words : all)
      if (words.size() > 1 && words[0] == most->first) words.erase(words.begin());
  }
  std::vector<BoneName> out(all.size());
  for (size_t i = 0; i < all.size(); ++i) understand(all[i], out[i]);
  return out;
}

BoneName readBonePhrase(const std::string& phrase) {
  BoneName out;
  understand(wordsOf(phrase), out);
  return out;
}

}  // namespace rakugo::prepare
