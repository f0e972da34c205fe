// Texts of deliveries that are no JSON (XML, INI, CSV, plain), written as templates and filled with the
// values of a mod. Tags are those of the mustache language: https://mustache.github.io/mustache.5.html
#pragma once

#include "packing/delivery/filled_json.h"

namespace rakugo::packing {

/// What a text is, which says how a value is kept from being read as anything but a value.
enum class TextKind : unsigned char {
  plain,  ///< as it is
  xml,    ///< & < > " ' as entities, no control codes
  ini,    ///< on one line: line breaks and control codes become spaces
  csv     ///< in quotes where it has a comma, a semicolon, a quote or a line break
};

/// By a file's ending: .xml, .ini and .cfg, .csv; plain for any other.
TextKind textKindOf(std::string_view path);

/// The template with its tags filled: `{{card.price}}` and `{{{card.price}}}`, the second without what the
/// kind of text does to values; `{{#points.hub}}…{{/points.hub}}` for each entry of a list, or once where a
/// value is neither empty nor false; `{{^card.lit}}…{{/card.lit}}` where it is; `{{! a comment}}`. Names are
/// those of placeholders, filters included; inside of a list they are looked up in its entry first, `{{.}}`
/// is an entry that is no object, and `{{number}}` counts from 1. A tag of a section that stands alone on a
/// line leaves no line. Partials and other delimiters are not taken. Errors: those of placeholders and
/// printedValue, place.section (opened and not closed, or closed and not opened), place.too_large; with the
/// line of the template.
base::Result<std::string> filledTemplate(std::string_view text, const Scope& scope, TextKind kind,
                                         const FillLimits& limits = {});

}  // namespace rakugo::packing
