// JSON pointers (RFC 6901): "/boats/0/a~1b".
#pragma once

#include <string>
#include <vector>

namespace rakugo::base {

/// A key as it is written in a pointer, without the slash before it.
std::string pointerToken(const std::string& key);
/// The keys of a pointer, as they are meant. None for the whole document, and for what begins with no slash.
std::vector<std::string> pointerKeys(const std::string& pointer);

}  // namespace rakugo::base
