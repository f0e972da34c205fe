#include "base/places.h"

#include <cstdlib>

namespace rakugo::base {
namespace {

namespace fs = std::filesystem;

// The specification: a relative path in one of the variables is to be ignored.
fs::path place(const char* variable, const char* below_home) {
  if (const char* set = std::getenv(variable); set != nullptr && fs::path(set).is_absolute()) return set;
  const char* home = std::getenv("HOME");
  return (home != nullptr && *home != 0 ? fs::path(home) : fs::path("/tmp")) / below_home;
}

}  // namespace

fs::path stateFolder() { return place("XDG_STATE_HOME", ".local/state") / "rakugo"; }
fs::path cacheFolder() { return place("XDG_CACHE_HOME", ".cache") / "rakugo"; }
fs::path dataHome() { return place("XDG_DATA_HOME", ".local/share"); }

}  // namespace rakugo::base
