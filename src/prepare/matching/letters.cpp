#include "prepare/matching/letters.h"

#include <algorithm>
#include <array>
#include <utility>

namespace rakugo::prepare {
namespace {

constexpr char32_t kNone = 0xFFFD;

// RFC 3629; one broken byte is one broken character.
char32_t decodeOne(std::string_view text, size_t& at) {
  const auto byte = [&](size_t i) { return static_cast<unsigned char>(i < text.size() ? text[i] : 0); };
  const unsigned char first = byte(at++);
  if (first < 0x80) return first;
  const int more = first >= 0xF0 && first < 0xF5 ? 3 : first >= 0xE0 ? 2 : first >= 0xC2 ? 1 : 0;
  if (more == 0 || first >= 0xF5) return kNone;
  char32_t out = first & (0x3F >> more);
  for (int k = 0; k < more; ++k) {
    const unsigned char next = byte(at + static_cast<size_t>(k));
    if ((next & 0xC0) != 0x80) return kNone;
    out = out << 6 | (next & 0x3F);
  }
  at += static_cast<size_t>(more);
  return out;
}

void encodeOne(char32_t c, std::string& out) {
  const auto put = [&](char32_t byte) { out += static_cast<char>(byte); };
  if (c < 0x80) {
    put(c);
  } else if (c < 0x800) {
    put(0xC0 | c >> 6), put(0x80 | (c & 0x3F));
  } else if (c < 0x10000) {
    put(0xE0 | c >> 12), put(0x80 | (c >> 6 & 0x3F)), put(0x80 | (c & 0x3F));
  } else {
    put(0xF0 | c >> 18), put(0x80 | (c >> 12 & 0x3F)), put(0x80 | (c >> 6 & 0x3F)), put(0x80 | (c & 0x3F));
  }
}

bool within(char32_t c, char32_t low, char32_t high) { return c >= low && c <= high; }

// Small letters of Latin, Greek and Cyrillic capitals (Unicode, CaseFolding.txt).
char32_t smallOf(char32_t c) {
  if (within(c, 'A', 'Z') || (within(c, 0xC0, 0xDE) && c != 0xD7) ||
      (within(c, 0x391, 0x3A9) && c != 0x3A2) || within(c, 0x410, 0x42F))
    return c + 0x20;
  if (c == 0x178) return 0xFF;
  if (c == 0x130) return 'i';
  const bool even_first = within(c, 0x100, 0x137) || within(c, 0x14A, 0x177) || within(c, 0x460, 0x481) ||
                          within(c, 0x48A, 0x4BF) || within(c, 0x4D0, 0x52F),
             odd_first = within(c, 0x139, 0x148) || within(c, 0x179, 0x17E);
  if (even_first && c % 2 == 0) return c + 1;
  if (odd_first && c % 2 == 1) return c + 1;
  if (within(c, 0x400, 0x40F)) return c + 0x50;
  if (c == 0x386) return 0x3AC;
  if (within(c, 0x388, 0x38A)) return c + 0x25;
  if (c == 0x38C) return 0x3CC;
  if (within(c, 0x38E, 0x38F)) return c + 0x3F;
  return c;
}

// Letters with an accent, each list with the plain letter before it.
constexpr std::pair<char32_t, std::u32string_view> kPlain[] = {
    {U'a', U"àáâãäåāăą"},  {U'c', U"çćĉċč"},     {U'd', U"ďđð"}, {U'e', U"èéêëēĕėęě"}, {U'g', U"ĝğġģ"},
    {U'h', U"ĥħ"},         {U'i', U"ìíîïĩīĭįı"}, {U'j', U"ĵ"},   {U'k', U"ķĸ"},        {U'l', U"ĺļľŀł"},
    {U'n', U"ñńņňŉŋ"},     {U'o', U"òóôõöøōŏő"}, {U'r', U"ŕŗř"}, {U's', U"śŝşšſ"},     {U't', U"ţťŧ"},
    {U'u', U"ùúûüũūŭůűų"}, {U'w', U"ŵ"},         {U'y', U"ýÿŷ"}, {U'z', U"źżž"},       {U'α', U"ά"},
    {U'ε', U"έ"},          {U'η', U"ή"},         {U'ι', U"ίϊΐ"}, {U'ο', U"ό"},         {U'υ', U"ύϋΰ"},
    {U'ω', U"ώ"},          {U'σ', U"ς"},         {U'и', U"йѝ"},  {U'е', U"ёѐ"},        {U'і', U"ї"},
    {U'г', U"ґѓ"},         {U'к', U"ќ"},         {U'у', U"ў"}};

char32_t plainOf(char32_t c) {
  for (const auto& [plain, accented] : kPlain)
    if (accented.find(c) != std::u32string_view::npos) return plain;
  return c;
}

constexpr std::u32string_view kNarrowKana =
    U"ヲァィゥェォャュョッーアイウエオカキクケコサシスセソタチツテトナニヌネノハヒフヘホマミムメモヤユヨラリ"
    U"ルレロワン";

// Wide Latin and narrow kana as usual ones.
char32_t usualWidth(char32_t c) {
  if (within(c, 0xFF01, 0xFF5E)) return c - 0xFEE0;
  if (within(c, 0xFF66, 0xFF9D)) return kNarrowKana[c - 0xFF66];
  return c;
}

bool unparted(char32_t c) {
  return within(c, 0x3041, 0x3096) || within(c, 0x30A1, 0x30FA) || c == 0x30FC || c == 0x3005 ||
         within(c, 0x3400, 0x9FFF) || within(c, 0xAC00, 0xD7A3) || within(c, 0xF900, 0xFAFF) ||
         within(c, 0x20000, 0x2FFFF);
}

bool between(char32_t c) {
  return c < 0x80 || within(c, 0x80, 0xBF) || c == 0xD7 || c == 0xF7 || within(c, 0x2000, 0x206F) ||
         within(c, 0x3000, 0x3004) || within(c, 0x3008, 0x303F) || c == 0x30FB || within(c, 0xFF00, 0xFFEF);
}

// Parts of a Hangul syllable that stand by themselves are put together (Unicode, section 3.12).
bool joinHangul(std::vector<Letter>& out, char32_t c) {
  if (out.empty()) return false;
  char32_t& last = out.back().folded;
  if (within(c, 0x1161, 0x1175) && within(last, 0x1100, 0x1112)) {
    last = 0xAC00 + ((last - 0x1100) * 21 + (c - 0x1161)) * 28;
    out.back().sign = Sign::unparted;
    return true;
  }
  if (within(c, 0x11A8, 0x11C2) && within(last, 0xAC00, 0xD7A3) && (last - 0xAC00) % 28 == 0) {
    last += c - 0x11A7;
    return true;
  }
  return false;
}

}  // namespace

std::vector<Letter> lettersOf(std::string_view text) {
  std::vector<Letter> out;
  for (size_t at = 0; at < text.size();) {
    char32_t c = decodeOne(text, at);
    const bool voiced = c == 0x3099 || c == 0xFF9E, half_voiced = c == 0x309A || c == 0xFF9F;
    if ((voiced || half_voiced) && !out.empty()) {
      // Kana that take the mark are followed by their voiced form.
      out.back().folded += voiced ? 1 : 2;
      continue;
    }
    if (within(c, 0x300, 0x36F)) continue;
    if (joinHangul(out, c)) continue;
    c = usualWidth(c);
    if (within(c, '0', '9')) {
      out.push_back({c, Sign::digit});
      continue;
    }
    if (unparted(c)) {
      if (within(c, 0x30A1, 0x30F6)) c -= 0x60;
      out.push_back({c, Sign::unparted});
      continue;
    }
    const char32_t small = smallOf(c);
    const Sign sign = small != c ? Sign::upper : Sign::lower;
    const char32_t plain = plainOf(small);
    if (plain == U'ß') {
      out.insert(out.end(), {{U's', sign}, {U's', Sign::lower}});
    } else if (plain == U'æ') {
      out.insert(out.end(), {{U'a', sign}, {U'e', Sign::lower}});
    } else if (plain == U'œ') {
      out.insert(out.end(), {{U'o', sign}, {U'e', Sign::lower}});
    } else if (small == c && between(c) && !within(c, 'a', 'z')) {
      out.push_back({c, Sign::other});
    } else {
      out.push_back({plain, sign});
    }
  }
  return out;
}

std::string textOf(const std::u32string& letters) {
  std::string out;
  for (const char32_t c : letters) encodeOne(c, out);
  return out;
}

std::string foldedWord(std::string_view word) {
  std::u32string out;
  for (const Letter& letter : lettersOf(word))
    if (letter.sign != Sign::other) out += letter.folded;
  return textOf(out);
}

}  // namespace rakugo::prepare
