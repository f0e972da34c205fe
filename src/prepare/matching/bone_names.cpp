#include "prepare/matching/bone_names.h"

#include <algorithm>
#include <iterator>
#include <map>
#include <sstream>
#include <string_view>

#include "bone_words.h"
#include "prepare/matching/letters.h"

namespace rakugo::prepare {
namespace {

using rulebook::Side;

// The parts, in the order of `BodyPart`, as the file of words calls them.
const std::vector<std::string>& bodyPartNames() {
  static const std::vector<std::string> kNames = [] {
    std::istringstream in(
        "root hips spine chest neck head collarbone upper-arm forearm hand finger thigh shin foot toe eye "
        "jaw "
        "hair tail");
    return std::vector<std::string>(std::istream_iterator<std::string>(in), {});
  }();
  return kNames;
}

struct Meaning {
  BodyPart part;
  float weight;
};

// What one word means.
struct Word {
  std::vector<Meaning> parts;
  bool thumb = false, sided = false, helps = false, ends = false, neutral = false;
  Side side = Side::centre;
};

// Parsed once from the file of words.
class Lexicon {
 public:
  static const Lexicon& all() {
    static const Lexicon kAll;
    return kAll;
  }
  [[nodiscard]] const Word* find(std::string_view word) const {
    const auto at = words_.find(word);
    return at == words_.end() ? nullptr : &at->second;
  }
  // A part of the body.
  [[nodiscard]] bool names(std::string_view word) const {
    const Word* known = find(word);
    return known != nullptr && !known->parts.empty();
  }
  [[nodiscard]] const std::map<std::string, Side>& sides() const { return sides_; }
  // The letters of the longest word.
  [[nodiscard]] size_t longest() const { return longest_; }

 private:
  Lexicon() {
    std::istringstream lines(kBoneWords);
    for (std::string line; std::getline(lines, line);) {
      std::istringstream in(line);
      std::string language, meaning;
      int weight = 0;
      if (line.empty() || line[0] == '#' || !(in >> language >> meaning >> weight)) continue;
      for (std::string said; in >> said;) add(foldedWord(said), meaning, static_cast<float>(weight) / 100);
    }
  }
  void add(const std::string& said, const std::string& meaning, float weight) {
    Word& word = words_[said];
    longest_ = std::max(longest_, lettersOf(said).size());
    const bool thumb = meaning == "thumb";
    for (size_t p = 0; p < kBodyParts; ++p)
      if (meaning == bodyPartNames()[p] || (thumb && p == static_cast<size_t>(BodyPart::finger)))
        word.parts.push_back({static_cast<BodyPart>(p), weight});
    word.thumb = word.thumb || thumb;
    word.helps = word.helps || meaning == "helper";
    word.ends = word.ends || meaning == "end";
    word.neutral = word.neutral || meaning == "neutral";
    if (meaning == "left" || meaning == "right") {
      word.sided = true;
      word.side = meaning == "left" ? Side::left : Side::right;
      sides_[said] = word.side;
    }
  }
  std::map<std::string, Word, std::less<>> words_;
  std::map<std::string, Side> sides_;
  size_t longest_ = 1;
};

// A run of letters without gaps between words, parted so that as much as possible is known, in as few words
// as can be.
void partUnparted(const std::u32string& run, std::vector<std::string>& out) {
  const Lexicon& lexicon = Lexicon::all();
  struct Best {
    size_t unknown = 0, words = 0, from = 0;
  };
  std::vector<Best> best(run.size() + 1);
  const auto better = [](const Best& a, const Best& b) {
    return std::pair(a.unknown, a.words) < std::pair(b.unknown, b.words);
  };
  for (size_t end = 1; end <= run.size(); ++end) {
    // A letter that is no word by itself stands alone.
    best[end] = {best[end - 1].unknown + 1, best[end - 1].words + 1, end - 1};
    for (size_t length = std::min(end, lexicon.longest()); length > 0; --length) {
      const Best next = {best[end - length].unknown, best[end - length].words + 1, end - length};
      if (better(next, best[end]) && lexicon.find(textOf(run.substr(end - length, length))) != nullptr)
        best[end] = next;
    }
  }
  std::vector<std::string> words;
  for (size_t end = run.size(); end > 0; end = best[end].from)
    words.push_back(textOf(run.substr(best[end].from, end - best[end].from)));
  out.insert(out.end(), words.rbegin(), words.rend());
}

// Words in lower case, parted at signs, numbers and capitals: "Rig:LUpperArm01" is rig, l, upper, arm, 01.
std::vector<std::string> wordsOf(const std::string& name) {
  std::vector<std::string> out;
  std::u32string word;
  bool gapless = false;
  const auto part = [&] {
    if (word.empty()) return;
    if (gapless)
      partUnparted(word, out);
    else
      out.push_back(textOf(word));
    word.clear();
  };
  const std::vector<Letter> letters = lettersOf(name);
  for (size_t i = 0; i < letters.size(); ++i) {
    const Sign sign = letters[i].sign, before = i > 0 ? letters[i - 1].sign : Sign::other;
    if (sign == Sign::other) {
      part();
      continue;
    }
    const bool hump = sign == Sign::upper && before == Sign::lower;
    // Of several capitals the last begins the next word.
    const bool last_capital = sign == Sign::upper && before == Sign::upper && i + 1 < letters.size() &&
                              letters[i + 1].sign == Sign::lower;
    const auto sort = [](Sign s) { return s == Sign::digit ? 1 : s == Sign::unparted ? 2 : 0; };
    if (hump || last_capital || (before != Sign::other && sort(sign) != sort(before))) part();
    gapless = sign == Sign::unparted;
    word += letters[i].folded;
  }
  part();
  return out;
}

bool isNumber(const std::string& word) { return word[0] >= '0' && word[0] <= '9'; }

// A side that is glued to a word of the body: "lforearm", "leftarm", "handr".
bool unglue(const std::string& word, BoneName& name, std::vector<std::string>& out) {
  for (const auto& [said, side] : Lexicon::all().sides()) {
    if (word.size() <= said.size()) continue;
    const bool front = word.compare(0, said.size(), said) == 0,
               back = word.compare(word.size() - said.size(), said.size(), said) == 0;
    const std::string without_front = word.substr(said.size()),
                      without_back = word.substr(0, word.size() - said.size());
    for (const auto& [glued, rest] : {std::pair(front, without_front), std::pair(back, without_back)})
      if (glued && Lexicon::all().names(rest)) {
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
    const Word* known = isNumber(word) ? nullptr : Lexicon::all().find(word);
    if (isNumber(word) || (known != nullptr && known->neutral)) continue;
    if (known != nullptr && known->ends) {
      out.helper = out.end = true;
    } else if (known != nullptr && known->helps) {
      out.helper = true;
    } else if (known != nullptr && known->sided && known->parts.empty()) {
      out.side = known->side;
      out.sided = true;
    } else if (known != nullptr || !unglue(word, out, out.words)) {
      out.words.push_back(word);
    }
  }
  // The longest run of words that is known counts: "upper arm" before "arm".
  for (size_t length = std::min<size_t>(3, out.words.size()); length > 0; --length) {
    bool any = false;
    for (size_t i = 0; i + length <= out.words.size(); ++i) {
      std::string joined;
      for (size_t k = i; k < i + length; ++k) joined += out.words[k];
      const Word* known = Lexicon::all().find(joined);
      if (known == nullptr || known->parts.empty()) continue;
      any = true;
      out.thumb = out.thumb || known->thumb;
      for (const Meaning& m : known->parts) {
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
  std::string out = bodyPartNames()[static_cast<size_t>(part)];
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
    if (most == first.end() || most->second * 10 < all.size() * 7 || Lexicon::all().names(most->first) ||
        Lexicon::all().sides().count(most->first) != 0)
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
