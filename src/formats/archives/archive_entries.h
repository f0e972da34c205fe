// The loop over an archive's entries that all archive readers share. Private to this library.
#pragma once

#include <archive.h>

#include <map>
#include <memory>
#include <string>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::formats {

struct FreeArchive {
  void operator()(archive* a) const { archive_free(a); }
};
using ArchiveHandle = std::unique_ptr<archive, FreeArchive>;

struct EntryRules {
  std::string codes;         ///< what error codes begin with: "zip", "archive"
  bool any_slashes = false;  ///< takes "\" in paths for "/", as some packers write them
};

/// Reads every regular file of an opened archive of `packed_bytes`. Refusals as `readZip` has them.
base::Result<std::map<std::string, base::Bytes>> readEntries(archive* a, uint64_t packed_bytes,
                                                             const std::string& name,
                                                             const base::Limits& limits,
                                                             const EntryRules& rules);

/// The error for an archive that cannot be understood; `why` may be null.
base::Error damagedArchive(const std::string& codes, const std::string& name, const char* why);

}  // namespace rakugo::formats
