#include "bundle/ktx2.h"

#include <algorithm>
#include <array>

#include "base/limits.h"
#include "base/phrase.h"

namespace rakugo::bundle {
namespace {

constexpr std::array<unsigned char, 12> kIdentifier = {0xAB, 'K',  'T',  'X',  ' ',  '2',
                                                       '0',  0xBB, '\r', '\n', 0x1A, '\n'};
constexpr uint32_t kRgba8Unorm = 37, kRgba8Srgb = 43;  // VkFormat
constexpr uint32_t kDfdBytes = 4 + 24 + 4 * 16;
constexpr std::string_view kWriterKey{"KTXwriter\0Rakugo\0", 17};
constexpr std::string_view kOrientation{"KTXorientation\0rd\0", 18};

uint64_t levelBytes(uint32_t width, uint32_t height, uint32_t level) {
  return uint64_t{std::max(1u, width >> level)} * std::max(1u, height >> level) * 4;
}

// Khronos Data Format 1.3, basic descriptor block: RGBSDA, BT.709 primaries, four 8-bit samples.
void writeDataFormat(base::ByteWriter& out, bool srgb) {
  out.write<uint32_t>(kDfdBytes);
  out.write<uint32_t>(0);  // vendor Khronos, type basic
  out.write<uint16_t>(2);  // version 1.3
  out.write<uint16_t>(kDfdBytes - 4);
  out.write<uint8_t>(1);             // RGBSDA
  out.write<uint8_t>(1);             // BT.709
  out.write<uint8_t>(srgb ? 2 : 1);  // transfer
  out.write<uint8_t>(0);             // straight alpha
  out.write<uint32_t>(0);            // texel block 1x1x1x1
  out.write<uint32_t>(4);            // bytes in plane 0
  out.write<uint32_t>(0);
  static constexpr std::array<uint8_t, 4> kChannels = {0, 1, 2, 15};
  for (uint32_t i = 0; i < 4; ++i) {
    const bool linear_alpha = srgb && kChannels[i] == 15;
    out.write<uint16_t>(static_cast<uint16_t>(i * 8));
    out.write<uint8_t>(7);
    out.write<uint8_t>(static_cast<uint8_t>(kChannels[i] | (linear_alpha ? 0x10 : 0)));
    out.write<uint32_t>(0);    // sample position
    out.write<uint32_t>(0);    // lower
    out.write<uint32_t>(255);  // upper
  }
}

void writeKeyValue(base::ByteWriter& out, std::string_view pair) {
  out.write<uint32_t>(static_cast<uint32_t>(pair.size()));
  out.bytes(base::asBytes(pair));
  out.align(4);
}

}  // namespace

base::Bytes encodeKtx2(const Ktx2Picture& picture) {
  const auto count = static_cast<uint32_t>(picture.levels.size());
  base::ByteWriter out;
  out.bytes(std::as_bytes(std::span(kIdentifier)));
  for (const uint32_t v :
       {picture.srgb ? kRgba8Srgb : kRgba8Unorm, 1u, picture.width, picture.height, 0u, 0u, 1u, count, 0u})
    out.write<uint32_t>(v);
  const size_t index_at = out.size();
  out.zeros(4 * 4 + 2 * 8 + size_t{count} * 24);
  const auto dfd_at = static_cast<uint32_t>(out.size());
  writeDataFormat(out, picture.srgb);
  const auto kvd_at = static_cast<uint32_t>(out.size());
  writeKeyValue(out, kOrientation);
  writeKeyValue(out, kWriterKey);
  const auto kvd_bytes = static_cast<uint32_t>(out.size()) - kvd_at;
  out.overwrite<uint32_t>(index_at, dfd_at);
  out.overwrite<uint32_t>(index_at + 4, kDfdBytes);
  out.overwrite<uint32_t>(index_at + 8, kvd_at);
  out.overwrite<uint32_t>(index_at + 12, kvd_bytes);
  // Section 3.9: mip levels lie smallest first.
  for (uint32_t level = count; level-- > 0;) {
    const size_t record = index_at + 32 + size_t{level} * 24;
    out.overwrite<uint64_t>(record, out.size());
    out.overwrite<uint64_t>(record + 8, picture.levels[level].size());
    out.overwrite<uint64_t>(record + 16, picture.levels[level].size());
    out.bytes(picture.levels[level]);
  }
  return out.take();
}

base::Result<Ktx2Picture> decodeKtx2(base::ByteSpan bytes, const std::string& id) {
  base::ByteReader in(bytes);
  const auto bad = [&](const std::string& what) {
    return base::Error{"bundle.picture", base::phrase("The picture {0} cannot be read: {1}.", id, what),
                       base::Place{id, "", static_cast<int64_t>(in.at())},
                       base::phrase("Build the bundle again.")};
  };
  const base::ByteSpan mark = in.bytes(kIdentifier.size());
  if (mark.size() != kIdentifier.size() ||
      !std::equal(mark.begin(), mark.end(), std::as_bytes(std::span(kIdentifier)).begin()))
    return bad(base::phrase("it is not KTX 2.0"));
  const auto format = in.read<uint32_t>();
  const auto type_size = in.read<uint32_t>();
  Ktx2Picture out;
  out.width = in.read<uint32_t>();
  out.height = in.read<uint32_t>();
  const auto depth = in.read<uint32_t>();
  const auto layers = in.read<uint32_t>();
  const auto faces = in.read<uint32_t>();
  const auto count = in.read<uint32_t>();
  const auto scheme = in.read<uint32_t>();
  in.bytes(32);
  if (!in.ok()) return bad(base::phrase("it is cut off"));
  if ((format != kRgba8Srgb && format != kRgba8Unorm) || type_size != 1)
    return bad(base::phrase("its pixels are not RGBA8"));
  if (depth != 0 || layers != 0 || faces != 1 || scheme != 0)
    return bad(base::phrase("it is not one plain picture"));
  const uint32_t most = base::Limits{}.picture_side;
  if (out.width == 0 || out.height == 0 || out.width > most || out.height > most)
    return bad(base::phrase("its size"));
  uint32_t full = 1;
  while ((std::max(out.width, out.height) >> full) != 0) ++full;
  if (count == 0 || count > full) return bad(base::phrase("its number of mip levels"));
  out.srgb = format == kRgba8Srgb;
  for (uint32_t level = 0; level < count; ++level) {
    const auto offset = in.read<uint64_t>();
    const auto length = in.read<uint64_t>();
    const auto raw = in.read<uint64_t>();
    if (!in.ok() || length != levelBytes(out.width, out.height, level) || raw != length)
      return bad(base::phrase("the size of a mip level"));
    if (offset > bytes.size() || length > bytes.size() - offset)
      return bad(base::phrase("a mip level outside the file"));
    const base::ByteSpan pixels = bytes.subspan(offset, length);
    out.levels.emplace_back(pixels.begin(), pixels.end());
  }
  return out;
}

}  // namespace rakugo::bundle
