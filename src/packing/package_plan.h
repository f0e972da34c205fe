// What will be in a package, and why: named without building anything.
#pragma once

#include <functional>
#include <set>
#include <string>
#include <vector>

#include "bundle/layout.h"
#include "check/examiner.h"
#include "packing/package_cache.h"

namespace rakugo::packing {

/// One thing to be made: an entry of a bundle, a file of an archive.
struct PlannedEntry {
  bundle::EntryKind kind = bundle::EntryKind::manifest;
  std::string id;   ///< an entry's id, or a path in the archive
  std::string why;  ///< what pulls it in: "quay-lamp, model post, material oak"
  bool compress = true;
  uint16_t minor = 0;  ///< the least minor version of the container that its content needs
  /// Names every input; what was made before under the same key is used again. Asked for when building, on
  /// any thread: it may look at vertices, which a plan does not.
  std::function<std::string(BuildCache& cache)> key;
  std::function<base::Result<base::Bytes>()> make;  ///< may run on any thread
};

/// An entry whose bytes are cheap to make and are their own key. `bytes` runs once, when key or content is
/// asked for.
PlannedEntry smallEntry(bundle::EntryKind kind, std::string id, std::string why,
                        std::function<base::Result<base::Bytes>()> bytes, bool compress = true);

/// What is built, and how carefully.
struct PlanFor {
  rulebook::Target target;
  bool quick_pictures = false;  ///< as `BuildOptions` has it
};

/// All entries of the mod's bundle, the manifest last. No vertex, no pixel and no key frame is looked at: it
/// costs as much as the mod has parts and materials. `examination` must outlive the plan. Pictures that are
/// not there are left out; a finding has said so. Errors: build.model, job.cancelled.
base::Result<std::vector<PlannedEntry>> planBundle(const check::Examination& examination, const PlanFor& what,
                                                   const base::Progress* progress = nullptr);

/// All files of the mod's zip (docs/zip-package.md), manifest.json last. As `planBundle`.
base::Result<std::vector<PlannedEntry>> planZip(const check::Examination& examination, const PlanFor& what,
                                                const base::Progress* progress = nullptr);

/// The plan of what the mod's game takes, for the target of that id, or the usual one. Errors: also
/// build.packager, build.target.
base::Result<std::vector<PlannedEntry>> planPackage(const check::Examination& examination,
                                                    const std::string& target = {},
                                                    const base::Progress* progress = nullptr);

/// Bytes of pictures that the examination could not decode: nothing is built of them.
std::set<const base::Bytes*> unreadablePictures(const check::Examination& examination);

}  // namespace rakugo::packing
