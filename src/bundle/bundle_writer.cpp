#include "bundle/bundle_writer.h"
#include "base/phrase.h"

#include <algorithm>
#include <vector>

namespace rakugo::bundle {
namespace {

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
    case EntryKind::skeleton:
      return "skeleton";
    case EntryKind::animation:
      return "animation";
    case EntryKind::icon:
      return "icon";
    case EntryKind::sound:
      return "sound";
    case EntryKind::texts:
      return "texts";
  }
  return "unknown";
}

base::Status BundleWriter::add(EntryKind kind, const std::string& id, base::Bytes raw, bool compress,
                               uint16_t minor) {
  auto stored = storeEntry(std::move(raw), compress);
  if (!stored) {
    base::Error e = stored.error();
    e.message += " (" + id + ")";
    return e;
  }
  return addStored(kind, id, std::make_shared<const StoredEntry>(std::move(stored).value()), minor);
}

base::Status BundleWriter::addStored(EntryKind kind, const std::string& id,
                                     std::shared_ptr<const StoredEntry> entry, uint16_t minor) {
  if (!goodId(id))
    return base::Error{
        "bundle.bad_id",
        base::phrase("An entry's id must be 1 to 512 printable ASCII characters: \"{0}\".", id),
        {},
        ""};
  if (!items_.emplace(id, Item{kind, std::move(entry), minor}).second)
    return base::Error{"bundle.repeated_id", base::phrase("Two entries have the id {0}.", id), {}, ""};
  return {};
}

struct BundleWriter::Placed {
  const std::string* id;
  EntryKind kind;
  const StoredEntry* entry;
  uint64_t offset;  // from the start of the file
};

uint16_t BundleWriter::minorVersion() const {
  uint16_t out = 0;
  for (const auto& [id, item] : items_) {
    const bool is_newer_kind = static_cast<uint16_t>(item.kind) > kHighestKind[0];
    out = std::max({out, item.minor, static_cast<uint16_t>(is_newer_kind ? 1 : 0)});
  }
  return out;
}

void BundleWriter::writeHeader(base::ByteWriter& out, uint64_t file_bytes, uint64_t toc_bytes) const {
  out.bytes(std::as_bytes(std::span(kMagic)));
  out.write<uint16_t>(kMajor);
  out.write<uint16_t>(minorVersion());
  out.write<uint32_t>(0);
  out.write<uint64_t>(file_bytes);
  out.write<uint64_t>(kHeaderBytes);
  out.write<uint64_t>(toc_bytes);
  out.write<uint32_t>(static_cast<uint32_t>(items_.size()));
  out.write<uint32_t>(0);
  out.zeros(kHeaderBytes - out.size());
}

void BundleWriter::writeContents(base::ByteWriter& out, const std::vector<Placed>& placed) {
  uint32_t id_at = 0;
  for (const Placed& p : placed) {
    out.write<uint16_t>(static_cast<uint16_t>(p.kind));
    out.write<uint16_t>(static_cast<uint16_t>(p.entry->codec));
    out.write<uint32_t>(id_at);
    out.write<uint32_t>(static_cast<uint32_t>(p.id->size()));
    out.write<uint32_t>(0);
    out.write<uint64_t>(p.offset);
    out.write<uint64_t>(p.entry->bytes.size());
    out.write<uint64_t>(p.entry->raw_bytes);
    out.bytes(p.entry->raw_sha256);
    out.write<uint64_t>(0);
    id_at += static_cast<uint32_t>(p.id->size());
  }
  for (const Placed& p : placed) out.bytes(base::asBytes(*p.id));
}

base::Result<base::Bytes> BundleWriter::finish() const {
  const auto manifest = items_.find(kManifestId);
  if (manifest == items_.end() || manifest->second.kind != EntryKind::manifest)
    return base::Error{"bundle.no_manifest", base::phrase("A bundle needs a manifest."), {}, ""};
  if (items_.size() > base::BundleLimits{}.entries)
    return base::Error{"bundle.too_large", base::phrase("A bundle holds at most 100,000 entries."), {}, ""};

  std::vector<Placed> placed;
  uint64_t id_bytes = 0;
  for (const auto& [id, item] : items_) {
    placed.push_back({&id, item.kind, item.entry.get(), 0});
    id_bytes += id.size();
  }
  const uint64_t toc_bytes = kRecordBytes * placed.size() + id_bytes;
  uint64_t file_bytes = aligned(kHeaderBytes + toc_bytes);
  for (Placed& p : placed) {
    p.offset = file_bytes;
    file_bytes = aligned(file_bytes + p.entry->bytes.size());
  }

  base::ByteWriter out;
  out.reserve(file_bytes);
  writeHeader(out, file_bytes, toc_bytes);
  writeContents(out, placed);
  const base::Digest toc_hash = base::sha256(out.view().subspan(kHeaderBytes, toc_bytes));
  out.align(kAlignment);
  for (const Placed& p : placed) {
    out.bytes(p.entry->bytes);
    out.align(kAlignment);
  }
  const base::Digest body_hash = base::sha256(out.view().subspan(kHeaderBytes));
  out.overwrite(48, body_hash);
  out.overwrite(80, toc_hash);
  out.overwrite(kHeaderHashedBytes, base::sha256(out.view().first(kHeaderHashedBytes)));
  return out.take();
}

}  // namespace rakugo::bundle
