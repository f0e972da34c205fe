#include "bundle/bundle_writer.h"

#include <zstd.h>

#include <vector>

namespace rakugo::bundle {
namespace {

// One fixed level: the bytes of a bundle depend on nothing but its content.
constexpr int kZstdLevel = 9;

uint64_t aligned(uint64_t value) { return (value + kAlignment - 1) / kAlignment * kAlignment; }

bool goodId(const std::string& id) {
  if (id.empty() || id.size() > base::BundleLimits{}.id_bytes) return false;
  for (const char c : id)
    if (c <= 0x20 || c >= 0x7F) return false;
  return true;
}

}  // namespace

const char* kindName(EntryKind kind) {
  switch (kind) {
    case EntryKind::manifest:
      return "manifest";
    case EntryKind::object:
      return "object";
    case EntryKind::mesh:
      return "mesh";
    case EntryKind::material:
      return "material";
    case EntryKind::picture:
      return "picture";
    case EntryKind::icon:
      return "icon";
  }
  return "unknown";
}

base::Status BundleWriter::add(EntryKind kind, const std::string& id, base::Bytes raw, bool compress) {
  if (!goodId(id))
    return base::Error{"bundle.bad_id",
                       "An entry's id must be 1 to 512 printable ASCII characters: \"" + id + "\".",
                       {},
                       ""};
  if (raw.size() > base::BundleLimits{}.entry_raw_bytes)
    return base::Error{"bundle.too_large", "The entry " + id + " is larger than a bundle may hold.", {}, ""};
  if (!items_.emplace(id, Item{kind, std::move(raw), compress}).second)
    return base::Error{"bundle.repeated_id", "Two entries have the id " + id + ".", {}, ""};
  return {};
}

base::Result<base::Bytes> BundleWriter::finish() const {
  const auto manifest = items_.find(kManifestId);
  if (manifest == items_.end() || manifest->second.kind != EntryKind::manifest)
    return base::Error{"bundle.no_manifest", "A bundle needs a manifest.", {}, ""};
  if (items_.size() > base::BundleLimits{}.entries)
    return base::Error{"bundle.too_large", "A bundle holds at most 100,000 entries.", {}, ""};

  struct Placed {
    const std::string* id;
    const Item* item;
    base::Bytes packed;  // empty when stored as it is
    Codec codec = Codec::stored;
    uint64_t offset = 0;
    [[nodiscard]] base::ByteSpan bytes() const {
      return codec == Codec::stored ? base::ByteSpan(item->raw) : base::ByteSpan(packed);
    }
  };
  std::vector<Placed> placed;
  uint64_t id_bytes = 0;
  for (const auto& [id, item] : items_) {
    Placed p{&id, &item, {}, Codec::stored, 0};
    if (item.compress && !item.raw.empty()) {
      p.packed.resize(ZSTD_compressBound(item.raw.size()));
      const size_t n =
          ZSTD_compress(p.packed.data(), p.packed.size(), item.raw.data(), item.raw.size(), kZstdLevel);
      if (ZSTD_isError(n) != 0)
        return base::Error{"bundle.compression", std::string("zstd: ") + ZSTD_getErrorName(n), {}, ""};
      p.packed.resize(n);
      const bool expands_too_far = item.raw.size() / n >= base::BundleLimits{}.expansion;
      if (n < item.raw.size() && !expands_too_far) p.codec = Codec::zstd;
    }
    id_bytes += id.size();
    placed.push_back(std::move(p));
  }

  const uint64_t toc_bytes = kRecordBytes * placed.size() + id_bytes;
  uint64_t at = aligned(kHeaderBytes + toc_bytes);
  for (Placed& p : placed) {
    p.offset = at;
    at = aligned(at + p.bytes().size());
  }
  const uint64_t file_bytes = at;

  base::ByteWriter out;
  out.bytes(std::as_bytes(std::span(kMagic)));
  out.write<uint16_t>(kMajor);
  out.write<uint16_t>(kMinor);
  out.write<uint32_t>(0);
  out.write<uint64_t>(file_bytes);
  out.write<uint64_t>(kHeaderBytes);
  out.write<uint64_t>(toc_bytes);
  out.write<uint32_t>(static_cast<uint32_t>(placed.size()));
  out.write<uint32_t>(0);
  out.zeros(kHeaderBytes - out.size());

  uint32_t id_at = 0;
  for (const Placed& p : placed) {
    out.write<uint16_t>(static_cast<uint16_t>(p.item->kind));
    out.write<uint16_t>(static_cast<uint16_t>(p.codec));
    out.write<uint32_t>(id_at);
    out.write<uint32_t>(static_cast<uint32_t>(p.id->size()));
    out.write<uint32_t>(0);
    out.write<uint64_t>(p.offset);
    out.write<uint64_t>(p.bytes().size());
    out.write<uint64_t>(p.item->raw.size());
    out.bytes(base::sha256(p.item->raw));
    out.write<uint64_t>(0);
    id_at += static_cast<uint32_t>(p.id->size());
  }
  for (const Placed& p : placed) out.bytes(base::asBytes(*p.id));
  const base::Digest toc_hash = base::sha256(out.view().subspan(kHeaderBytes, toc_bytes));
  out.align(kAlignment);
  for (const Placed& p : placed) {
    out.bytes(p.bytes());
    out.align(kAlignment);
  }
  const base::Digest body_hash = base::sha256(out.view().subspan(kHeaderBytes));
  out.overwrite(48, body_hash);
  out.overwrite(80, toc_hash);
  out.overwrite(kHeaderHashedBytes, base::sha256(out.view().first(kHeaderHashedBytes)));
  return out.take();
}

}  // namespace rakugo::bundle
