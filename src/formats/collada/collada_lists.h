// Long lists of numbers in COLLADA's text: taken out before the XML is parsed, and read on all cores.
// Private to this library.
#pragma once

#include <string_view>
#include <vector>

#include "base/bytes.h"

namespace rakugo::formats::collada {

/// A document's text without the contents of its long lists. Most of a large document is such lists, and
/// parsing XML character by character is slower than finding where they end.
struct CutText {
  base::Bytes text;  ///< what is left; each list is a mark with its number
  struct Cut {
    size_t at = 0;          ///< of the mark, in `text`
    size_t mark = 0;        ///< its length
    std::string_view list;  ///< in the source
  };
  std::vector<Cut> cuts;

  /// The list that the content of an element stands for; the content itself when it is no mark.
  [[nodiscard]] std::string_view listOf(std::string_view content) const;
  /// Where a place of `text` lies in the source.
  [[nodiscard]] size_t sourceOffset(size_t at) const;
};

/// Cuts the contents of <float_array>, <int_array>, <p>, <v> and <vcount> that are longer than some thousand
/// characters and nothing but plain text. What is not UTF-8, or has sections of character data, stays whole.
/// `source` must outlive the result.
CutText cutLists(base::ByteSpan source);

/// Floats in a text, exactly; "INF" and "NaN" of the schema's lists are read too. Long texts are cut at white
/// space and read on all cores. False when something stands there that is no number; `bad` receives its
/// place.
bool readFloats(std::string_view text, std::vector<float>& out, size_t& bad);
/// The same of whole numbers.
bool readIntegers(std::string_view text, std::vector<int>& out, size_t& bad);

}  // namespace rakugo::formats::collada
