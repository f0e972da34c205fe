// What will be in the bundle, and why: made without building anything.
#pragma once

#include <functional>
#include <set>
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
  uint16_t minor = 0;  ///< the least minor version of the container that its content needs
  /// Names every input; what was made before under the same key is used again. Asked for when building.
  std::function<std::string(BuildCache& cache)> key;
  std::function<base::Result<base::Bytes>()> make;  ///< may run on any thread
};

/// All entries of the mod's bundle, the manifest last. `examination` must outlive the plan. Pictures that are
/// not there are left out; a finding has said so. Errors: build.model, job.cancelled.
base::Result<std::vector<PlannedEntry>> planBundle(const check::Examination& examination,
                                                   const base::Progress* progress = nullptr);

/// Bytes of pictures that the examination could not decode: nothing is built of them.
std::set<const base::Bytes*> unreadablePictures(const check::Examination& examination);

}  // namespace rakugo::build
