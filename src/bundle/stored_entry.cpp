#include "bundle/stored_entry.h"

#include <zstd.h>

#include "base/limits.h"
#include "base/phrase.h"

namespace rakugo::bundle {
namespace {

constexpr uint32_t kCacheMark = 0x31434B52;  // "RKC1"

}  // namespace

base::Result<StoredEntry> storeEntry(base::Bytes raw, bool compress) {
  if (raw.size() > base::BundleLimits{}.entry_raw_bytes)
    return base::Error{
        "bundle.too_large", base::phrase("An entry is larger than a bundle may hold."), {}, ""};
  StoredEntry out;
  out.raw_bytes = raw.size();
  out.raw_sha256 = base::sha256(raw);
  if (compress && !raw.empty()) {
    base::Bytes packed(ZSTD_compressBound(raw.size()));
    const size_t n = ZSTD_compress(packed.data(), packed.size(), raw.data(), raw.size(), kZstdLevel);
    if (ZSTD_isError(n) != 0)
      return base::Error{"bundle.compression", std::string("zstd: ") + ZSTD_getErrorName(n), {}, ""};
    packed.resize(n);
    const bool expands_too_far = raw.size() / n >= base::BundleLimits{}.expansion;
    if (n < raw.size() && !expands_too_far) {
      base::Bytes back(raw.size());
      const size_t m = ZSTD_decompress(back.data(), back.size(), packed.data(), packed.size());
      if (ZSTD_isError(m) != 0 || m != raw.size() || back != raw)
        return base::Error{
            "bundle.compression", base::phrase("What was packed does not unpack to what it was."), {}, ""};
      out.codec = Codec::zstd;
      packed.shrink_to_fit();
      out.bytes = std::move(packed);
      return out;
    }
  }
  out.bytes = std::move(raw);
  return out;
}

base::Bytes encodeStoredEntry(const StoredEntry& entry) {
  base::ByteWriter out;
  out.write<uint32_t>(kCacheMark);
  out.write<uint32_t>(static_cast<uint32_t>(entry.codec));
  out.write<uint64_t>(entry.raw_bytes);
  out.bytes(entry.raw_sha256);
  out.write<uint64_t>(entry.bytes.size());
  out.bytes(entry.bytes);
  out.bytes(base::sha256(out.view()));
  return out.take();
}

base::Result<StoredEntry> decodeStoredEntry(base::ByteSpan bytes) {
  const auto damaged = [] {
    return base::Error{"bundle.cache_damaged",
                       base::phrase("A file of the cache is damaged."),
                       {},
                       base::phrase("It is made again.")};
  };
  constexpr size_t kDigest = sizeof(base::Digest);
  if (bytes.size() < kDigest) return damaged();
  const base::Digest promised = base::sha256(bytes.first(bytes.size() - kDigest));
  if (!std::equal(promised.begin(), promised.end(), bytes.end() - kDigest)) return damaged();
  base::ByteReader in(bytes.first(bytes.size() - kDigest));
  StoredEntry out;
  const auto mark = in.read<uint32_t>();
  const auto codec = in.read<uint32_t>();
  out.raw_bytes = in.read<uint64_t>();
  const base::ByteSpan digest = in.bytes(kDigest);
  const auto count = in.read<uint64_t>();
  const base::ByteSpan stored = in.bytes(count);
  if (!in.ok() || in.left() != 0 || mark != kCacheMark || codec > static_cast<uint32_t>(Codec::zstd))
    return damaged();
  out.codec = static_cast<Codec>(codec);
  std::copy(digest.begin(), digest.end(), out.raw_sha256.begin());
  out.bytes.assign(stored.begin(), stored.end());
  return out;
}

}  // namespace rakugo::bundle
