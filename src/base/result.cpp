#include "base/result.h"

namespace rakugo::base {

std::string Place::text() const {
  std::string out = file;
  if (line > 0) out += (out.empty() ? "line " : ":") + std::to_string(line);
  if (!path.empty()) out += (out.empty() ? "" : ", ") + path;
  if (offset >= 0)
    out += (out.empty() ? "byte " : " (byte ") + std::to_string(offset) + (out.empty() ? "" : ")");
  return out;
}

std::string Error::text() const {
  std::string out = message;
  if (const std::string where = place.text(); !where.empty()) out += " [" + where + "]";
  if (!cure.empty()) out += " " + cure;
  return out;
}

void brokenPromise(const char* what, const std::string& detail) {
  std::fprintf(stderr, "rakugo: broken promise: %s %s\n", what, detail.c_str());
  std::abort();
}

}  // namespace rakugo::base
