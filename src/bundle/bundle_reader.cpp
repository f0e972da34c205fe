#include "bundle/bundle_reader.h"

#include <zstd.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "base/phrase.h"
#include "base/text.h"
#include "bundle/animation_payload.h"
#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"
#include "bundle/records.h"

namespace rakugo::bundle {
namespace {

bool allZero(base::ByteSpan bytes) {
  return std::all_of(bytes.begin(), bytes.end(), [](std::byte b) { return b == std::byte{0}; });
}

// The first bytes of RIFF/WAVE, of Ogg (RFC 3533) and of FLAC (RFC 9639).
bool beginsAsSound(base::ByteSpan bytes) {
  const auto at = [&](size_t offset, std::string_view mark) {
    return bytes.size() >= offset + mark.size() && base::asText(bytes.subspan(offset, mark.size())) == mark;
  };
  return (at(0, "RIFF") && at(8, "WAVE")) || at(0, "OggS") || at(0, "fLaC");
}

base::Digest digestAt(base::ByteSpan bytes, size_t offset) {
  return base::loadAt<base::Digest>(bytes, offset);
}

}  // namespace

base::Error Bundle::damaged(const char* code, const std::string& message, uint64_t offset) const {
  return base::Error{code, message, base::Place{name_, "", static_cast<int64_t>(offset)},
                     base::phrase("Build the bundle again, or fetch it again from where it came from.")};
}

base::Result<Bundle> Bundle::open(const std::filesystem::path& path) {
  RAKUGO_ASSIGN(base::MappedFile map, base::MappedFile::open(path));
  const base::ByteSpan bytes = map.bytes();
  RAKUGO_ASSIGN(Bundle bundle, parse(bytes, path.filename().string()));
  bundle.map_ = std::move(map);
  return bundle;
}

base::Result<Bundle> Bundle::parse(base::ByteSpan bytes, const std::string& name) {
  Bundle out;
  out.bytes_ = bytes;
  out.name_ = name;
  RAKUGO_TRY(out.readHeader());
  const Entry* entry = out.find(kManifestId);
  if (entry == nullptr || entry->kind != EntryKind::manifest ||
      entry->raw_bytes > base::BundleLimits{}.manifest_bytes)
    return out.damaged("bundle.no_manifest", base::phrase("The bundle has no manifest."), kHeaderBytes);
  RAKUGO_ASSIGN(const base::Bytes raw, out.read(*entry));
  RAKUGO_ASSIGN(out.manifest_, decodeManifest(raw, name));
  return out;
}

base::Status Bundle::readHeader() {
  if (bytes_.size() < kHeaderBytes)
    return damaged("bundle.truncated",
                   base::phrase("The file is too short to be a bundle ({0} bytes).", bytes_.size()), 0);
  base::ByteReader in(bytes_);
  const base::ByteSpan magic = in.bytes(kMagic.size());
  if (!std::equal(magic.begin(), magic.end(), std::as_bytes(std::span(kMagic)).begin()))
    return base::Error{"bundle.not_a_bundle",
                       base::phrase("This is not a bundle: it does not begin with the bundle mark."),
                       base::Place{name_, "", 0}, base::phrase("Choose a file that Rakugo built (.rkb).")};
  const auto major = in.read<uint16_t>();
  const auto minor = in.read<uint16_t>();
  const auto flags = in.read<uint32_t>();
  const auto file_bytes = in.read<uint64_t>();
  const auto toc_offset = in.read<uint64_t>();
  const auto toc_bytes = in.read<uint64_t>();
  const auto count = in.read<uint32_t>();
  const auto reserved = in.read<uint32_t>();
  if (base::sha256(bytes_.first(kHeaderHashedBytes)) != digestAt(bytes_, kHeaderHashedBytes))
    return damaged("bundle.header_damaged", base::phrase("The bundle's header is damaged."), 0);
  if (major != kMajor)
    return base::Error{"bundle.version",
                       base::phrase("The bundle has format {0}, this reader knows format 1.", major),
                       base::Place{name_, "", 8}, base::phrase("Use a newer version of the reader.")};
  if (minor > kHighestMinor || flags != 0 || reserved != 0 ||
      !allZero(bytes_.subspan(112, kHeaderHashedBytes - 112)))
    return damaged("bundle.reserved", base::phrase("A reserved field of the header is set."), 10);
  if (file_bytes != bytes_.size())
    return damaged(
        "bundle.truncated",
        base::phrase("The file has {0} bytes, its header promises {1}.", bytes_.size(), file_bytes), 16);
  if (toc_offset != kHeaderBytes || toc_bytes > bytes_.size() - kHeaderBytes)
    return damaged("bundle.table_range", base::phrase("The table of contents does not lie inside the file."),
                   24);
  if (count == 0 || count > base::BundleLimits{}.entries || toc_bytes / kRecordBytes < count)
    return damaged("bundle.table_range",
                   base::phrase("The table of contents is too short for its {0} entries.", count), 40);
  body_hash_ = digestAt(bytes_, 48);
  minor_ = minor;
  if (base::sha256(bytes_.subspan(kHeaderBytes, toc_bytes)) != digestAt(bytes_, 80))
    return damaged("bundle.table_damaged", base::phrase("The table of contents is damaged."), kHeaderBytes);
  return readTable(toc_bytes, count);
}

base::Status Bundle::readTable(uint64_t toc_bytes, uint32_t count) {
  const base::BundleLimits limits;
  const base::ByteSpan ids =
      bytes_.subspan(kHeaderBytes + kRecordBytes * count, toc_bytes - kRecordBytes * count);
  base::ByteReader in(bytes_.subspan(kHeaderBytes, kRecordBytes * count));
  uint64_t expected_offset = aligned(kHeaderBytes + toc_bytes);
  uint64_t expected_id = 0;
  entries_.reserve(count);
  for (uint32_t i = 0; i < count; ++i) {
    const uint64_t record = kHeaderBytes + kRecordBytes * i;
    const auto kind = in.read<uint16_t>();
    const auto codec = in.read<uint16_t>();
    const auto id_at = in.read<uint32_t>();
    const auto id_length = in.read<uint32_t>();
    const auto reserved1 = in.read<uint32_t>();
    Entry entry;
    entry.offset = in.read<uint64_t>();
    entry.stored_bytes = in.read<uint64_t>();
    entry.raw_bytes = in.read<uint64_t>();
    entry.raw_sha256 = base::loadAt<base::Digest>(in.bytes(32), 0);
    const auto reserved2 = in.read<uint64_t>();
    if (kind == 0 || kind > kHighestKind[minor_])
      return damaged("bundle.entry_kind", base::phrase("An entry has the unknown kind {0}.", kind), record);
    if (codec > 1)
      return damaged("bundle.entry_codec", base::phrase("An entry is stored in the unknown way {0}.", codec),
                     record + 2);
    if (reserved1 != 0 || reserved2 != 0)
      return damaged("bundle.reserved", base::phrase("A reserved field of an entry is set."), record + 12);
    if (id_at != expected_id || id_length == 0 || id_length > limits.id_bytes ||
        id_length > ids.size() - expected_id)
      return damaged("bundle.entry_id", base::phrase("An entry's id does not lie inside the table."),
                     record + 4);
    entry.kind = static_cast<EntryKind>(kind);
    entry.codec = static_cast<Codec>(codec);
    entry.id = std::string(base::asText(ids.subspan(id_at, id_length)));
    expected_id += id_length;
    if (!std::all_of(entry.id.begin(), entry.id.end(), [](char c) { return c > 0x20 && c < 0x7F; }))
      return damaged("bundle.entry_id", base::phrase("An entry's id is not printable ASCII."), record + 4);
    if (!entries_.empty() && !(entries_.back().id < entry.id))
      return damaged("bundle.entry_order",
                     base::phrase("The entries are not sorted by id, or one id stands twice."), record);
    if (entry.offset != expected_offset || entry.offset > bytes_.size() ||
        entry.stored_bytes > bytes_.size() - entry.offset)
      return damaged("bundle.entry_range",
                     base::phrase("The entry {0} does not lie where it must.", entry.id), record + 16);
    const bool fits =
        entry.codec == Codec::stored
            ? entry.raw_bytes == entry.stored_bytes
            : entry.stored_bytes > 0 && entry.raw_bytes / limits.expansion <= entry.stored_bytes;
    if (!fits || entry.raw_bytes > limits.entry_raw_bytes)
      return damaged("bundle.bomb", base::phrase("The entry {0} claims an impossible size.", entry.id),
                     record + 32);
    expected_offset = aligned(entry.offset + entry.stored_bytes);
    entries_.push_back(std::move(entry));
  }
  if (expected_id != ids.size() || expected_offset != bytes_.size())
    return damaged("bundle.table_range", base::phrase("The file is longer than its entries."), kHeaderBytes);
  return {};
}

const Entry* Bundle::find(const std::string& id) const {
  const auto at = std::lower_bound(entries_.begin(), entries_.end(), id,
                                   [](const Entry& e, const std::string& key) { return e.id < key; });
  return at != entries_.end() && at->id == id ? &*at : nullptr;
}

base::ByteSpan Bundle::stored(const Entry& entry) const {
  return bytes_.subspan(entry.offset, entry.stored_bytes);
}

base::Result<base::Bytes> Bundle::read(const Entry& entry) const {
  const base::ByteSpan packed = stored(entry);
  base::Bytes raw;
  if (entry.codec == Codec::stored) {
    raw.assign(packed.begin(), packed.end());
  } else {
    // The frame's own promise is compared with the table's before anything is allocated.
    if (ZSTD_getFrameContentSize(packed.data(), packed.size()) != entry.raw_bytes)
      return damaged("bundle.entry_damaged", base::phrase("The entry {0} is damaged.", entry.id),
                     entry.offset);
    raw.resize(entry.raw_bytes);
    const size_t n = ZSTD_decompress(raw.data(), raw.size(), packed.data(), packed.size());
    if (ZSTD_isError(n) != 0 || n != raw.size())
      return damaged("bundle.entry_damaged", base::phrase("The entry {0} is damaged.", entry.id),
                     entry.offset);
  }
  if (base::sha256(raw) != entry.raw_sha256)
    return damaged("bundle.entry_damaged",
                   base::phrase("The entry {0} is damaged: its SHA-256 differs.", entry.id), entry.offset);
  return raw;
}

std::vector<base::Error> Bundle::verify(const base::Progress* progress) const {
  std::vector<base::Error> faults;
  uint64_t end = kHeaderBytes;
  const auto checkPadding = [&](uint64_t upto) {
    if (upto > end && !allZero(bytes_.subspan(end, upto - end)))
      faults.push_back(
          damaged("bundle.padding", base::phrase("Bytes between two entries are not zero."), end));
  };
  end = kHeaderBytes + base::loadAt<uint64_t>(bytes_, 32);
  for (const Entry& entry : entries_) {
    if (progress != nullptr && progress->cancelled()) return {base::cancelledError()};
    checkPadding(entry.offset);
    end = entry.offset + entry.stored_bytes;
    auto raw = read(entry);
    if (!raw) {
      faults.push_back(raw.error());
      continue;
    }
    base::Status good;
    const auto status = [](const auto& result) {
      return result ? base::Status{} : base::Status{result.error()};
    };
    if (entry.kind == EntryKind::mesh) good = status(decodeMesh(*raw, entry.id));
    if (entry.kind == EntryKind::picture) {
      const auto picture = decodeKtx2(*raw, entry.id);
      good = status(picture);
      if (picture && minorOf(*picture) > minor_)
        good = damaged("bundle.version",
                       base::phrase("The picture {0} needs a newer format than the bundle states.", entry.id),
                       10);
    }
    // An icon is a PNG file, which is not looked into here, or, from 1.3, a picture.
    if (entry.kind == EntryKind::icon && isKtx2(*raw)) {
      good = status(decodeKtx2(*raw, entry.id));
      if (minor_ < kMinorOfTextures)
        good =
            damaged("bundle.version",
                    base::phrase("The icon {0} needs a newer format than the bundle states.", entry.id), 10);
    }
    if (entry.kind == EntryKind::object) {
      const auto object = decodeObject(*raw, entry.id);
      good = status(object);
      if (object && minorOf(*object) > minor_)
        good = damaged("bundle.version",
                       base::phrase("The object {0} needs a newer format than the bundle states.", entry.id),
                       10);
    }
    if (entry.kind == EntryKind::material) good = status(decodeMaterial(*raw, entry.id));
    if (entry.kind == EntryKind::skeleton) good = status(decodeSkeleton(*raw, entry.id));
    if (entry.kind == EntryKind::animation) good = status(decodeAnimation(*raw, entry.id));
    if (entry.kind == EntryKind::texts) good = status(decodeTexts(*raw, entry.id));
    // What is heard is for the game's own decoder; here it must only be one of the formats.
    if (entry.kind == EntryKind::sound && !beginsAsSound(*raw))
      good = damaged("bundle.sound", base::phrase("{0} is no WAV, OGG or FLAC.", entry.id), entry.offset);
    if (!good) faults.push_back(good.error());
  }
  checkPadding(bytes_.size());
  if (base::sha256(bytes_.subspan(kHeaderBytes)) != body_hash_)
    faults.push_back(damaged("bundle.body_damaged",
                             base::phrase("The file is not what was built: its SHA-256 differs."),
                             kHeaderBytes));
  if (faults.empty()) verifyReferences(faults);
  return faults;
}

namespace {

struct MeshBox {
  std::array<float, 3> min, max;
};

// A corner of a mesh's box, scaled, turned by a unit quaternion, then moved.
std::array<double, 3> placedCorner(const ObjectPiece& piece, const MeshBox& box, int corner) {
  std::array<double, 3> v;
  for (size_t c = 0; c < 3; ++c)
    v[c] = static_cast<double>(((corner >> c) & 1) != 0 ? box.max[c] : box.min[c]) *
           static_cast<double>(piece.scale[c]);
  // v + 2 w (q x v) + 2 q x (q x v)
  const std::array<double, 3> q = {piece.turn[0], piece.turn[1], piece.turn[2]};
  const auto cross = [](const std::array<double, 3>& a, const std::array<double, 3>& b) {
    return std::array<double, 3>{a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2],
                                 a[0] * b[1] - a[1] * b[0]};
  };
  const auto once = cross(q, v), twice = cross(q, once);
  for (size_t c = 0; c < 3; ++c)
    v[c] += 2 * (static_cast<double>(piece.turn[3]) * once[c] + twice[c]) +
            static_cast<double>(piece.position[c]);
  return v;
}

// A game draws nothing of an object whose box is out of view: so the box holds its pieces. Boxes of meshes
// that are turned reach out of their vertices: a half of the diagonal at most is put down to that.
void verifyBounds(const std::string& id, const ObjectRecord& object,
                  const std::map<std::string, MeshBox>& boxes, std::vector<base::Error>& faults) {
  const std::array<float, 3>&low = object.seen ? (*object.seen)[0] : object.bounds_min,
                          &high = object.seen ? (*object.seen)[1] : object.bounds_max;
  for (const ObjectPiece& piece : object.pieces) {
    const auto box = boxes.find(piece.mesh);
    if (box == boxes.end() || piece.apart || piece.rig >= 0) continue;
    double diagonal_sq = 0;
    for (size_t c = 0; c < 3; ++c) {
      const double side =
          static_cast<double>(box->second.max[c] - box->second.min[c]) * static_cast<double>(piece.scale[c]);
      diagonal_sq += side * side;
    }
    const bool level = piece.turn == std::array<float, 4>{0, 0, 0, 1};
    const double room = (level ? 1e-3 : 0.5) * std::sqrt(diagonal_sq) + 1e-4;
    bool out = false;
    for (int corner = 0; corner < 8 && !out; ++corner) {
      const std::array<double, 3> at = placedCorner(piece, box->second, corner);
      for (size_t c = 0; c < 3; ++c)
        out =
            out || at[c] < static_cast<double>(low[c]) - room || at[c] > static_cast<double>(high[c]) + room;
    }
    if (!out) continue;
    faults.push_back({"bundle.bounds",
                      base::phrase("The box of {0} does not hold its piece {1}: the game would not draw it.",
                                   id, piece.name),
                      base::Place{{}, id}, base::phrase("Build the bundle again.")});
    return;
  }
}

}  // namespace

void Bundle::verifyReferences(std::vector<base::Error>& faults) const {
  const auto need = [&](const std::string& from, const std::string& id, EntryKind kind) {
    const Entry* found = find(id);
    if (found == nullptr || found->kind != kind)
      faults.push_back(base::Error{
          "bundle.dangling",
          base::phrase("{0} refers to the {1} {2}, which is not in the bundle.", from, kindName(kind), id),
          base::Place{name_, from}, base::phrase("Build the bundle again.")});
  };
  // How many bones a skeleton has, and how many a mesh names.
  std::map<std::string, size_t> bones, joints;
  std::map<std::string, MeshBox> mesh_boxes;
  const auto held = [](const std::map<std::string, size_t>& counts, const std::string& id) {
    const auto found = counts.find(id);
    return found != counts.end() ? found->second : 0;
  };
  for (const Entry& entry : entries_) {
    if (entry.kind != EntryKind::mesh && entry.kind != EntryKind::skeleton) continue;
    const auto raw = read(entry);
    if (!raw) continue;
    if (entry.kind == EntryKind::skeleton)
      bones[entry.id] = decodeSkeleton(*raw, entry.id)->bones.size();
    else {
      const auto mesh = decodeMesh(*raw, entry.id);
      joints[entry.id] = mesh->jointCount();
      mesh_boxes[entry.id] = {mesh->bounds_min, mesh->bounds_max};
    }
  }
  const std::vector<std::string>& shared = manifest_.shared_assets;
  for (const std::string& id : manifest_.objects) need(kManifestId, id, EntryKind::object);
  for (const Entry& entry : entries_) {
    const auto raw = read(entry);
    if (!raw) continue;
    if (entry.kind == EntryKind::object) {
      const auto object = decodeObject(*raw, entry.id);
      for (const ObjectRig& rig : object->rigs) {
        need(entry.id, rig.skeleton, EntryKind::skeleton);
        for (const auto& [name, animation] : rig.animations) need(entry.id, animation, EntryKind::animation);
      }
      for (const ObjectPiece& piece : object->pieces) {
        std::vector<std::string> meshes;
        if (!piece.mesh.empty()) meshes.push_back(piece.mesh);
        for (const auto& [mesh, from] : piece.lighter) meshes.push_back(mesh);
        for (const std::string& mesh : meshes) need(entry.id, mesh, EntryKind::mesh);
        if (piece.rig < 0) continue;
        const size_t count = held(bones, object->rigs[static_cast<size_t>(piece.rig)].skeleton);
        const bool beyond = (piece.bone >= 0 && static_cast<size_t>(piece.bone) >= count) ||
                            std::any_of(meshes.begin(), meshes.end(),
                                        [&](const std::string& mesh) { return held(joints, mesh) > count; });
        if (beyond)
          faults.push_back({"bundle.dangling",
                            base::phrase("{0} follows bones that its skeleton does not have.", entry.id),
                            base::Place{name_, entry.id}, base::phrase("Build the bundle again.")});
      }
      verifyBounds(entry.id, *object, mesh_boxes, faults);
      for (const ObjectSound& sound : object->sounds)
        for (const std::string& id : sound.sounds)
          if (find(id) != nullptr || std::find(shared.begin(), shared.end(), id) == shared.end())
            need(entry.id, id, EntryKind::sound);
      if (!object->icon.empty()) need(entry.id, object->icon, EntryKind::icon);
      for (const ObjectIcon& one : object->icons) need(entry.id, one.icon, EntryKind::icon);
    } else if (entry.kind == EntryKind::mesh) {
      const auto mesh = decodeMesh(*raw, entry.id);
      for (const std::string& material : mesh->materials) need(entry.id, material, EntryKind::material);
    } else if (entry.kind == EntryKind::material) {
      const auto material = decodeMaterial(*raw, entry.id);
      for (const std::string& picture : material->pictures())
        if (!picture.empty()) need(entry.id, picture, EntryKind::picture);
    }
  }
}

}  // namespace rakugo::bundle
