// The numbers of the bundle container. Source: docs/bundle-format.md, sections 2 and 3, which are normative.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <string>

#include "base/sha256.h"

namespace rakugo::bundle {

inline constexpr std::array<unsigned char, 8> kMagic = {0xA7, 'R', 'K', 'B', 0x0D, 0x0A, 0x1A, 0x00};
inline constexpr uint16_t kMajor = 1;
/// A file states the least minor version that it needs: 4 where there are sounds or texts, and where an
/// object has anything that is new in 1.4 (docs/bundle-format.md, section 6), 3 where a picture is stored in
/// another way than as plain RGBA8, 2 where a material looks pictures up in a way of its own or is unlit, 1
/// where there are skeletons or animations, else 0.
inline constexpr uint16_t kHighestMinor = 4;
inline constexpr uint16_t kMinorOfTextures = 3;
inline constexpr uint16_t kMinorOfLamps = 4;
/// One fixed level: the bytes of a bundle depend on nothing but its content.
inline constexpr int kZstdLevel = 9;
inline constexpr size_t kHeaderBytes = 192;
inline constexpr size_t kHeaderHashedBytes = 160;
inline constexpr size_t kRecordBytes = 80;
inline constexpr size_t kAlignment = 64;
/// Of one mesh, and so of one track of an animation.
inline constexpr uint32_t kMostMorphs = 256;
/// The offset at which the next entry begins: `value` rounded up to a multiple of `kAlignment`.
constexpr uint64_t aligned(uint64_t value) { return (value + kAlignment - 1) / kAlignment * kAlignment; }

/// What an entry holds. Zero is never used.
enum class EntryKind : uint16_t {
  manifest = 1,
  object = 2,
  mesh = 3,
  material = 4,
  picture = 5,
  icon = 6,
  skeleton = 7,
  animation = 8,
  sound = 9,
  texts = 10
};
/// By minor version.
inline constexpr std::array<uint16_t, 5> kHighestKind = {6, 8, 8, 8, 10};

/// How an entry's bytes are stored.
enum class Codec : uint16_t { stored = 0, zstd = 1 };

/// The word for a kind in listings: "mesh".
const char* kindName(EntryKind kind);

/// One line of the table of contents.
struct Entry {
  EntryKind kind = EntryKind::manifest;
  Codec codec = Codec::stored;
  std::string id;       ///< unique; the table is sorted by its bytes
  uint64_t offset = 0;  ///< from the start of the file, a multiple of 64
  uint64_t stored_bytes = 0;
  uint64_t raw_bytes = 0;
  base::Digest raw_sha256{};
};

/// The id of the one manifest every bundle has.
inline constexpr const char* kManifestId = "manifest";

}  // namespace rakugo::bundle
