// A test language: it puts marks round all that can be translated, so that what stands outside of marks is
// English whatever language is set.
#pragma once

#include <string>
#include <vector>

#include "base/phrase.h"
#include "base/result.h"

namespace rakugo::test {

/// Speaks the test language while it lives.
class MarkedLanguage {
 public:
  MarkedLanguage() {
    base::setTranslator([](std::string_view english) { return "<<" + std::string(english) + ">>"; });
  }
  ~MarkedLanguage() { base::setTranslator(nullptr); }
  MarkedLanguage(const MarkedLanguage&) = delete;
  MarkedLanguage& operator=(const MarkedLanguage&) = delete;
};

/// What of a text stands outside of marks and has letters: nobody could translate it.
inline std::string unmarked(const std::string& text) {
  std::string out;
  int depth = 0;
  for (size_t i = 0; i < text.size(); ++i) {
    const std::string two = text.substr(i, 2);
    if (two == "<<") ++depth;
    if (two == ">>" && depth > 0)
      --depth, ++i;
    else if (depth == 0)
      out += text[i];
  }
  for (const char c : out)
    if ((c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z')) return out;
  return {};
}

/// The same of all that an error says to people.
inline std::string unmarked(const base::Error& error) {
  return unmarked(error.message) + unmarked(error.cure);
}

}  // namespace rakugo::test
