#include "base/phrase.h"

#include <atomic>

namespace rakugo::base {
namespace {

std::atomic<Translator> language{nullptr};

}  // namespace

void setTranslator(Translator translator) { language = translator; }

std::string phrase(std::string_view english) {
  const Translator translate = language;
  return translate == nullptr ? std::string(english) : translate(english);
}

std::string filled(std::string_view pattern, std::initializer_list<std::string_view> values) {
  std::string out;
  for (size_t i = 0; i < pattern.size(); ++i) {
    // Places have one digit: no sentence has more than ten.
    const bool place = pattern[i] == '{' && i + 2 < pattern.size() && pattern[i + 2] == '}' &&
                       pattern[i + 1] >= '0' && pattern[i + 1] <= '9';
    const size_t number = place ? static_cast<size_t>(pattern[i + 1] - '0') : 0;
    if (!place || number >= values.size()) {
      out += pattern[i];
      continue;
    }
    out += values.begin()[number];
    i += 2;
  }
  return out;
}

}  // namespace rakugo::base
