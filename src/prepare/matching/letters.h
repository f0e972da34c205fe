// Names in any script, brought to letters that can be compared: without case, accents, width or the two sorts
// of kana.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace rakugo::prepare {

/// What a character is to someone who parts a name into words.
enum class Sign : unsigned char {
  lower,  ///< a letter, small or of a script that has no capitals
  upper,  ///< a capital
  digit,
  unparted,  ///< of a script that writes words without gaps: Han, kana, Hangul
  other      ///< between words
};

struct Letter {
  char32_t folded = 0;  ///< lower case, no accent; katakana as hiragana, wide and narrow forms as usual ones
  Sign sign = Sign::other;
};

/// The letters of a UTF-8 text. Accents that stand by themselves join the letter before them, or go. Bytes
/// that are no UTF-8 become U+FFFD. What folds to two letters gives two ("ß", "æ"). Cost: linear.
std::vector<Letter> lettersOf(std::string_view text);

/// Letters as UTF-8.
std::string textOf(const std::u32string& letters);
/// `lettersOf` of a single word, without what stands between words.
std::string foldedWord(std::string_view word);

}  // namespace rakugo::prepare
