// Entries put into files that are the game's own: a list of JSON, an element of XML, lines between marks of a
// text. The game's file is read and never written; what comes out is a copy with the entry in it.
#pragma once

#include <string>
#include <string_view>

#include "base/json.h"
#include "base/result.h"

namespace rakugo::packing {

/// JSON with `entry` at the place `at` (RFC 6901). Into a list: behind the last, or in place of the entry
/// that has the same value for `key`, or of an equal one where `key` is empty. Into an object: as the member
/// called `key`. All else stays, keys in their order; it is written two spaces deep. Doing it twice is doing
/// it once. Errors: those of parseJson; merge.at where nothing, or neither a list nor an object, is there,
/// with what is; merge.key.
base::Result<std::string> mergedJson(std::string_view file, const std::string& name, const std::string& at,
                                     const base::Json& entry, const std::string& key);

/// XML with `entry` (one element, as text) as a child of the element at `at`, a path of element names such as
/// "/mods/list": behind its last child, or in place of a child of the same name whose attribute `key` has the
/// same value, or that is equal where `key` is empty. All else stays. Errors: merge.syntax with the line, for
/// either text; merge.at; merge.key where the entry has no such attribute.
base::Result<std::string> mergedXml(std::string_view file, const std::string& name, const std::string& at,
                                    const std::string& entry, const std::string& key);

/// A text with `lines` between two lines of its own, which say `mark` behind `comment` ("#", ";", "//"): in
/// place of those that stand between such marks, or at its end. Its line ends (one or two characters) are
/// kept. Errors: merge.mark where the first mark is there and the second is not, or they stand in it twice;
/// merge.lines where `lines` hold a mark themselves.
base::Result<std::string> mergedLines(std::string_view file, const std::string& name, const std::string& mark,
                                      const std::string& lines, const std::string& comment);

}  // namespace rakugo::packing
