// Text for people and for files.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace rakugo::base {

/// ASCII lower case; other bytes stay as they are.
std::string lowerAscii(std::string_view text);
/// Whether two names are alike but for case (ASCII) and what stands between words: spaces, "-", "_", ".".
bool sameWords(std::string_view one, std::string_view other);
/// True when `text` is well-formed UTF-8 (RFC 3629: no surrogates, no overlong forms).
bool isUtf8(std::string_view text);
/// True for a code point that no visible text holds and that can change what others look like: C0 and C1
/// controls, DEL, and the marks that turn the direction of what follows (U+202A to U+202E, U+2066 to U+2069).
bool isControl(uint32_t code_point);
/// True when a control stands in well-formed UTF-8; a line feed and a tab count as well unless `lines`.
bool holdsControls(std::string_view text, bool lines = false);
/// `text` with every ill-formed byte replaced by U+FFFD and control characters removed, cut to `most` bytes.
std::string presentable(std::string_view text, size_t most = 200);
/// The same for text of several lines, not cut: line feeds and tabs stay. For whatever is written to a
/// terminal.
std::string printable(std::string_view text);
/// Well-formed UTF-8 with every control but line feeds written as \uXXXX, for JSON: they stand inside of its
/// strings alone.
std::string escapedControls(std::string text);
/// A length for people: "2.41 m", "38 cm", "4.2 mm"; never more than three significant digits below a
/// kilometre.
/// From 10,000 km and for plain numbers from 10^12: "3.04e+30 m".
std::string lengthText(double length_m);
/// A plain number with at most `digits` decimals and no trailing zeros: "0.01", "90".
std::string numberText(double value, int digits = 3);
/// "1 part", "3 parts".
std::string countText(uint64_t count, std::string_view one, std::string_view many);
/// "1,204,330".
std::string groupedText(uint64_t value);
/// "812 bytes", "1.4 MB" (decimal units).
std::string sizeText(uint64_t bytes);
/// Lower-case letters, digits and single dashes made from a title: "Quay Lamp" gives "quay-lamp". Never
/// empty.
std::string slug(std::string_view title);
/// `a, b and c`.
std::string listText(const std::vector<std::string>& items, size_t most = 4);
/// A relative path without its "." segments: "./textures/./a.png" is "textures/a.png". Nothing else is
/// changed.
std::string withoutDots(std::string_view path);
/// Edit distance in bytes: insertions, deletions, replacements, and exchanges of two neighbours (optimal
/// string alignment); for proposals of a near name. Inputs are cut to 64 bytes.
int editDistance(std::string_view a, std::string_view b);

}  // namespace rakugo::base
