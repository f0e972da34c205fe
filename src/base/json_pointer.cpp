#include "base/json_pointer.h"

namespace rakugo::base {

std::string pointerToken(const std::string& key) {
  std::string out;
  for (const char c : key) out += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
  return out;
}

std::vector<std::string> pointerKeys(const std::string& pointer) {
  std::vector<std::string> out;
  for (size_t i = 0; i < pointer.size(); ++i) {
    if (pointer[i] == '/')
      out.emplace_back();
    else if (out.empty())
      return {};
    else if (pointer[i] == '~' && i + 1 < pointer.size() && (pointer[i + 1] == '0' || pointer[i + 1] == '1'))
      out.back() += pointer[++i] == '0' ? '~' : '/';
    else
      out.back() += pointer[i];
  }
  return out;
}

}  // namespace rakugo::base
