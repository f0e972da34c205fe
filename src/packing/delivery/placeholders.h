// Placeholders of deliveries: names in braces that stand for values of a mod, as a rulebook writes them in
// paths and texts. `{card.price}` is a value by its name, `{object.title|lower|slug}` the same through
// filters.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "base/json.h"
#include "base/result.h"

namespace rakugo::packing {

/// Values by name, and those around them that a name which is not found here is looked up in. Both outlive
/// it.
class Scope {
 public:
  explicit Scope(const base::Json& values, const Scope* around = nullptr)
      : values_(&values), around_(around) {}
  /// The value of a name whose parts are joined by dots: members of objects by name, entries of lists by
  /// number from 1, and `count`, how many entries a list has. The first part decides in which scope the rest
  /// is looked up. Errors: place.unknown with the nearest name that there is, or a list of those there are.
  [[nodiscard]] base::Result<base::Json> valueOf(std::string_view name) const;
  /// The same in place, but for `count`; never null.
  [[nodiscard]] base::Result<const base::Json*> find(std::string_view name) const;
  /// Names that can begin a placeholder, the innermost first, none twice.
  [[nodiscard]] std::vector<std::string> names() const;

 private:
  const base::Json* values_;
  const Scope* around_;
};

/// A text taken apart: literal text, and placeholders with their filters.
struct PlaceholderText {
  struct Filter {
    std::string name, value;  ///< `digits:3` is "digits" with "3"
  };
  struct Piece {
    std::string literal;  ///< when `name` is empty
    std::string name;     ///< of a placeholder
    std::vector<Filter> filters;
  };
  std::vector<Piece> pieces;
  /// Nothing but one placeholder: what fills it keeps its type.
  [[nodiscard]] bool isOneValue() const { return pieces.size() == 1 && !pieces.front().name.empty(); }
};

/// `{{` and `}}` stand for braces. Filters: `lower`, `upper`, `slug` (lower-case letters, digits and dashes),
/// `digits:N` (zeros before a whole number until it has N digits), `or:TEXT` (in place of what is empty).
/// Errors: place.syntax, place.filter.
base::Result<PlaceholderText> parsePlaceholders(std::string_view text);

/// Null, an empty text, an empty list or object.
bool isEmptyValue(const base::Json& value);

/// A value as it stands in a text: numbers in the fewest digits that mean them, nothing for null.
/// Errors: place.type for lists and objects.
base::Result<std::string> printedValue(const base::Json& value);

/// The text with every placeholder filled. Errors: those of valueOf and printedValue.
base::Result<std::string> filledText(const PlaceholderText& text, const Scope& scope);
/// The same from the text as it is written; errors of parsePlaceholders too.
base::Result<std::string> filledText(std::string_view text, const Scope& scope);
/// A text that is nothing but one placeholder becomes its value, with its type; any other a text.
base::Result<base::Json> filledValue(const PlaceholderText& text, const Scope& scope);
base::Result<base::Json> filledValue(std::string_view text, const Scope& scope);

}  // namespace rakugo::packing
