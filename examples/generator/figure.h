// A person of the demo's harbour, with a face, hands and working clothes. Game axes of the first game:
// metres, +Z up, +X forward, +Y left.
#pragma once

#include <functional>
#include <string>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::demo {

/// A person in working clothes, one part, skinned to the bones of `skeleton`; `name` gives each bone the name
/// it has in the file.
scene::Model keeper(const rulebook::Skeleton& skeleton,
                    const std::function<std::string(const rulebook::Bone&)>& name);

}  // namespace rakugo::demo
