// An entry's bytes as a bundle stores them, made once and kept as long as its content does not change.
#pragma once

#include "base/bytes.h"
#include "base/result.h"
#include "bundle/layout.h"

namespace rakugo::bundle {

struct StoredEntry {
  Codec codec = Codec::stored;
  uint64_t raw_bytes = 0;
  base::Digest raw_sha256{};
  base::Bytes bytes;  ///< as they lie in the file
};

/// Packs `raw`; with zstd where `compress` asks for it and it makes it smaller. The same bytes give the same
/// entry everywhere. What was packed is unpacked again and compared before it is given out. Errors:
/// bundle.too_large, bundle.compression.
base::Result<StoredEntry> storeEntry(base::Bytes raw, bool compress = true);

/// A stored entry as a file of a cache, and back. A file that is damaged in any byte gives
/// bundle.cache_damaged.
base::Bytes encodeStoredEntry(const StoredEntry& entry);
base::Result<StoredEntry> decodeStoredEntry(base::ByteSpan bytes);

}  // namespace rakugo::bundle
