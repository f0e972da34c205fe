// Sentences for people: whole, with numbered places, in the language that is set.
//
// What the core says of a mod is written in English where it is said, and looked up by that English text, as
// the window's own texts are. So a catalogue in another language needs no change of the code.
#pragma once

#include <concepts>
#include <cstdint>
#include <initializer_list>
#include <string>
#include <string_view>

#include "base/text.h"

namespace rakugo::base {

/// Gives an English text in another language; the English text itself where it has none. It is called from
/// every thread, and must not throw.
using Translator = std::string (*)(std::string_view english);
/// Sets the language of all that is said from now on; null: English. Called before work begins: what was
/// said before stays as it is.
void setTranslator(Translator translator);

/// `pattern` with each {0}, {1}… replaced by that value. A number without a value stays as it is written;
/// what stands in values is not looked at.
std::string filled(std::string_view pattern, std::initializer_list<std::string_view> values);

/// The text in the language that is set.
std::string phrase(std::string_view english);

namespace detail {
inline std::string text(std::string_view value) { return std::string(value); }
inline std::string text(char value) { return {value}; }
template <class Number>
requires std::integral<Number> std::string text(Number value) { return std::to_string(value); }
}  // namespace detail

/// A sentence with places: phrase("The height of {0} is {1}.", name, height). A translation may have the
/// places in another order. Values are texts or whole numbers.
template <class... Values>
requires(sizeof...(Values) > 0) std::string phrase(std::string_view english, const Values&... values) {
  return filled(phrase(english), {std::string_view(detail::text(values))...});
}

/// A sentence about a number of things, which is its place {0}, with thousands parted by commas; the values
/// follow from {1} on. counted(n, "{0} vertex of {1} follows none", "{0} vertices of {1} follow none", name).
template <class... Values>
std::string counted(uint64_t count, std::string_view one, std::string_view many, const Values&... values) {
  return filled(phrase(count == 1 ? one : many),
                {std::string_view(groupedText(count)), std::string_view(detail::text(values))...});
}

}  // namespace rakugo::base
