// JSON by its name alone, for headers that only pass it on; what looks into it includes base/json.h.
#pragma once

#include <nlohmann/json_fwd.hpp>

namespace rakugo::base {

/// Keys keep the order in which they were read or set, so that a saved file differs only where it was edited.
using Json = nlohmann::ordered_json;

}  // namespace rakugo::base
