#include "formats/collada/collada_lists.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <limits>
#include <string>

#include "base/jobs.h"
#include "base/memory.h"
#include "base/text.h"
#include "formats/text/numbers.h"

namespace rakugo::formats::collada {
namespace {

constexpr size_t kLong = 4096;        // characters from which on a list is cut out
constexpr size_t kPiece = 128 << 10;  // of a text that one core reads at a time
constexpr char kMark = 1;             // no character of XML

// One comparison, so that counting is many characters a step; XML has no other characters below the blank.
bool isListBlank(char c) { return static_cast<unsigned char>(c) <= ' '; }

bool holdsLists(std::string_view name) {
  static constexpr std::array<std::string_view, 5> kNames = {"p", "float_array", "v", "vcount", "int_array"};
  return std::find(kNames.begin(), kNames.end(), name) != kNames.end();
}

// Whether a start tag ends where it seems to: a value of an attribute may hold the same sign.
bool closed(std::string_view tag) {
  return std::count(tag.begin(), tag.end(), '"') % 2 == 0 &&
         std::count(tag.begin(), tag.end(), '\'') % 2 == 0;
}

// Words in a text: where a character is none of the blanks and the one before it is.
size_t countWords(std::string_view text) {
  size_t count = !text.empty() && !isListBlank(text[0]) ? 1 : 0;
  // In blocks whose count a byte holds.
  for (size_t begin = 1; begin < text.size(); begin += 255) {
    const size_t end = std::min(begin + 255, text.size());
    uint8_t block = 0;
    for (size_t i = begin; i < end; ++i)
      block = static_cast<uint8_t>(block + (static_cast<uint8_t>(!isListBlank(text[i])) &
                                            static_cast<uint8_t>(isListBlank(text[i - 1]))));
    count += block;
  }
  return count;
}

bool special(const char*& at, const char* end, float& out) {
  const char* stop = at;
  while (stop != end && !isListBlank(*stop)) ++stop;
  const std::string word = base::lowerAscii(std::string_view(at, static_cast<size_t>(stop - at)));
  constexpr float kInfinity = std::numeric_limits<float>::infinity();
  if (word == "inf" || word == "+inf")
    out = kInfinity;
  else if (word == "-inf")
    out = -kInfinity;
  else if (word == "nan" || word == "-nan")
    out = std::numeric_limits<float>::quiet_NaN();
  else
    return false;
  at = stop;
  return true;
}

const char* take(const char* at, const char* end, float& out) {
  if (const char* next = readFloat(at, end, out)) return next;
  return special(at, end, out) ? at : nullptr;
}

// Written out: readInteger's care for every form of number costs half the time of a large mesh.
const char* take(const char* at, const char* end, int& out) {
  if (end - at >= 8) {
    uint64_t value = 0;
    const int count = leadingDigits(at, value);
    if (count > 0 && count < 8) {
      out = static_cast<int>(value);
      return at + count;
    }
  }
  return readInteger(at, end, out);
}

// Reads as many values as there are words, into `out`; the place of the first that is none, or npos.
template <class T>
size_t readPiece(std::string_view text, T* out) {
  const char *at = text.data(), *end = at + text.size();
  for (;;) {
    while (at != end && isListBlank(*at)) ++at;
    if (at == end) return std::string_view::npos;
    const char* next = take(at, end, *out);
    if (next == nullptr || (next != end && !isListBlank(*next))) return static_cast<size_t>(at - text.data());
    ++out;
    at = next;
  }
}

template <class T>
bool readList(std::string_view text, std::vector<T>& out, size_t& bad) {
  const size_t pieces = std::max<size_t>(text.size() / kPiece, 1);
  std::vector<size_t> cuts = {0}, counts(pieces), faults(pieces, std::string_view::npos);
  for (size_t i = 1; i < pieces; ++i) {
    size_t cut = std::max(cuts.back(), text.size() / pieces * i);
    while (cut < text.size() && !isListBlank(text[cut])) ++cut;
    cuts.push_back(cut);
  }
  cuts.push_back(text.size());
  const auto piece = [&](size_t i) { return text.substr(cuts[i], cuts[i + 1] - cuts[i]); };
  const auto each = [&](const std::function<void(size_t)>& body) {
    if (pieces == 1) return body(0);
    base::parallelFor(pieces, body);
  };
  // Counted first: each piece then writes to its own place in the list, and nothing is copied together.
  each([&](size_t i) { counts[i] = countWords(piece(i)); });
  std::vector<size_t> begins = {out.size()};
  for (const size_t count : counts) begins.push_back(begins.back() + count);
  base::reserveLarge(out, begins.back());
  out.resize(begins.back());
  each([&](size_t i) { faults[i] = readPiece(piece(i), out.data() + begins[i]); });
  for (size_t i = 0; i < pieces; ++i)
    if (faults[i] != std::string_view::npos) return bad = cuts[i] + faults[i], false;
  return true;
}

}  // namespace

std::string_view CutText::listOf(std::string_view content) const {
  if (content.empty() || content[0] != kMark) return content;
  size_t number = 0;
  for (const char c : content.substr(1)) {
    if (c < '0' || c > '9' || number >= cuts.size()) return content;
    number = number * 10 + static_cast<size_t>(c - '0');
  }
  return content.size() > 1 && number < cuts.size() ? cuts[number].list : content;
}

size_t CutText::sourceOffset(size_t at) const {
  size_t removed = 0;
  for (const Cut& cut : cuts) {
    if (cut.at >= at) break;
    removed += cut.list.size() - cut.mark;
  }
  return at + removed;
}

CutText cutLists(base::ByteSpan source) {
  CutText out;
  const std::string_view all = base::asText(source);
  const auto add = [&](std::string_view text) {
    const auto bytes = base::asBytes(text);
    out.text.insert(out.text.end(), bytes.begin(), bytes.end());
  };
  const bool wide =
      all.size() >= 2 && (all[0] == 0 || all[1] == 0 || static_cast<unsigned char>(all[0]) >= 0xFE);
  if (wide) {
    add(all);
    return out;
  }
  size_t kept = 0, at = 0;
  while ((at = all.find('<', at)) != std::string_view::npos) {
    if (all.compare(at, 9, "<![CDATA[") == 0) {
      // Such a section may hold what only looks like an element.
      out = {};
      add(all);
      return out;
    }
    if (all.compare(at, 4, "<!--") == 0) {
      // What stands in a comment is none of the document's elements.
      at = all.find("-->", at);
      if (at == std::string_view::npos) break;
      continue;
    }
    const size_t name_end = all.find_first_of(" \t\r\n/>", at);
    const size_t close = all.find('>', at);
    if (name_end == std::string_view::npos || close == std::string_view::npos) break;
    const std::string_view name = all.substr(at + 1, name_end - at - 1);
    at = close + 1;
    if (all[close - 1] == '/' || !holdsLists(name)) continue;
    const size_t end = all.find('<', at);
    if (end == std::string_view::npos) break;
    const std::string_view list = all.substr(at, end - at);
    if (list.size() < kLong || !closed(all.substr(name_end, close - name_end)) ||
        list.find('&') != std::string_view::npos)
      continue;
    add(all.substr(kept, at - kept));
    const std::string mark = kMark + std::to_string(out.cuts.size());
    out.cuts.push_back({out.text.size(), mark.size(), list});
    add(mark);
    kept = at = end;
  }
  add(all.substr(kept));
  return out;
}

bool readFloats(std::string_view text, std::vector<float>& out, size_t& bad) {
  return readList(text, out, bad);
}
bool readIntegers(std::string_view text, std::vector<int>& out, size_t& bad) {
  return readList(text, out, bad);
}

}  // namespace rakugo::formats::collada
