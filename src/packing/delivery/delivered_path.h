// Paths of what a delivery writes, filled from placeholders. A rulebook may come from a stranger and a card's
// texts from anybody: a path that is made here stays inside the delivery, on every system.
#pragma once

#include <map>

#include "packing/delivery/placeholders.h"

namespace rakugo::packing {

/// How a game takes the names of files.
struct PathRules {
  enum class Letters : unsigned char { any, lower, upper };
  Letters letters = Letters::any;  ///< paths are written so
  std::string forbidden;           ///< characters that no name may have, beyond those that no system takes
  size_t longest = 240;            ///< bytes of a path
};

/// A path with `/` between its names, from a pattern such as "boats/{object.id}/hull.obj". A value that fills
/// a placeholder is part of one name: it has no `/` or `\` in it. Errors: those of placeholders; path.value
/// where a value would make more than a name; path.name for a name that some system does not take (empty,
/// `.`, `..`, control codes, `<>:"|?*\`, a dot or space at its end, a device's name such as con) or that the
/// rules forbid; path.program for programs, scripts and libraries; path.long.
base::Result<std::string> deliveredPath(std::string_view pattern, const Scope& scope,
                                        const PathRules& rules = {});

/// Paths that one delivery writes. Safe to ask for one after the other only.
class DeliveredPaths {
 public:
  /// Takes a path for `what` ("the icon of tug"). Errors: path.twice where another thing has it, or one that
  /// differs by letter case alone; path.inside where one is a file and the other lies in it as in a folder.
  base::Status take(const std::string& path, const std::string& what);

 private:
  struct Taken {
    std::string path, what;
  };
  std::map<std::string, Taken> files_, folders_;  // by lower-case path
};

}  // namespace rakugo::packing
