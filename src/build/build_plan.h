// What will be in the bundle, and why: made without building anything.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "build/build_cache.h"
#include "bundle/layout.h"
#include "check/examiner.h"

namespace rakugo::build {

/// One entry to be made.
struct PlannedEntry {
  bundle::EntryKind kind = bundle::EntryKind::manifest;
  std::string id;
  std::string why;  ///< what pulls it in: "quay-lamp, model post, material oak"
  bool compress = true;
  /// Names every input; what was made before under the same key is used again. Asked for when building.
  std::function<std::string(BuildCache& cache)> key;
  std::function<base::Result<base::Bytes>()> make;  ///< may run on any thread
};

/// All entries of the mod's bundle, the manifest last. `examination` must outlive the plan. Pictures that are
/// not there are left out; a finding has said so.
base::Result<std::vector<PlannedEntry>> planBundle(const check::Examination& examination);

}  // namespace rakugo::build
