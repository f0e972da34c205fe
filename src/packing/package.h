// Looking into what was built: packages of every sort, whole or damaged, alone or side by side.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/jobs.h"
#include "bundle/manifest.h"

namespace rakugo::packing {

/// One thing in a package.
struct PackageEntry {
  std::string id;    ///< a bundle's entry id, or a zip's path
  std::string kind;  ///< "mesh", "picture", ...
  uint64_t stored_bytes = 0, raw_bytes = 0;
  std::string sha256;  ///< of the raw bytes, in hex
};

struct Package {
  std::string packaging;  ///< the name of its packager
  bundle::Manifest manifest;
  std::vector<PackageEntry> entries;  ///< by id
  uint64_t file_bytes = 0;
};

/// What a package holds; told apart by the first bytes. Errors: file.*, bundle.*, zip.*, package.manifest,
/// json.*.
base::Result<Package> lookInto(const std::filesystem::path& path);
base::Result<Package> lookInto(base::ByteSpan bytes, const std::string& name);
/// All faults of a package, read to its last byte; empty when it is whole. Cancelled: job.cancelled among
/// them.
std::vector<base::Error> verifyPackage(const std::filesystem::path& path,
                                       const base::Progress* progress = nullptr);

/// An entry that two packages do not share. One of the two is null where only the other has it.
struct EntryDifference {
  const PackageEntry* a = nullptr;
  const PackageEntry* b = nullptr;
};
/// By id. The entries belong to the packages given.
std::vector<EntryDifference> comparePackages(const Package& a, const Package& b);

}  // namespace rakugo::packing
