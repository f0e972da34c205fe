// Writes a bundle. Equal entries give equal bytes, in whatever order they were added.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"
#include "bundle/stored_entry.h"

namespace rakugo::bundle {

/// Collects entries and lays them out. Owns copies of all it was given.
class BundleWriter {
 public:
  /// Adds one entry. `compress` stores it with zstd where that makes it smaller. `minor`: the least minor
  /// version that its content needs, beside that of its kind. Errors: bundle.repeated_id, bundle.bad_id
  /// (empty, too long, not printable ASCII), bundle.too_large.
  base::Status add(EntryKind kind, const std::string& id, base::Bytes raw, bool compress = true,
                   uint16_t minor = 0);

  /// Adds one entry that is packed already. Errors: bundle.repeated_id, bundle.bad_id.
  base::Status addStored(EntryKind kind, const std::string& id, std::shared_ptr<const StoredEntry> entry,
                         uint16_t minor = 0);

  /// The whole file. Errors: bundle.no_manifest, bundle.compression.
  [[nodiscard]] base::Result<base::Bytes> finish() const;

 private:
  struct Item {
    EntryKind kind;
    std::shared_ptr<const StoredEntry> entry;
    uint16_t minor;
  };
  struct Placed;
  [[nodiscard]] uint16_t minorVersion() const;
  void writeHeader(base::ByteWriter& out, uint64_t file_bytes, uint64_t toc_bytes) const;
  static void writeContents(base::ByteWriter& out, const std::vector<Placed>& placed);

  std::map<std::string, Item> items_;  // sorted bytewise: std::string compares as unsigned char
};

}  // namespace rakugo::bundle
