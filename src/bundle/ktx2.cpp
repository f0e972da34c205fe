#include "bundle/ktx2.h"

#include <zstd.h>

#include <algorithm>
#include <array>
#include <numeric>

#include "base/limits.h"
#include "base/phrase.h"
#include "bundle/layout.h"

namespace rakugo::bundle {
namespace {

constexpr std::array<unsigned char, 12> kIdentifier = {0xAB, 'K',  'T',  'X',  ' ',  '2',
                                                       '0',  0xBB, '\r', '\n', 0x1A, '\n'};
constexpr uint32_t kNoScheme = 0, kZstdScheme = 2;
constexpr size_t kHeader = 80, kLevelRecord = 24;
constexpr std::string_view kWriterKey{"KTXwriter\0Rakugo\0", 17};
constexpr std::string_view kOrientation{"KTXorientation\0rd\0", 18};

uint64_t levelBytesOf(const Ktx2Picture& p, uint32_t level) {
  return levelBytes(p.format, std::max(1U, p.width >> level), std::max(1U, p.height >> level));
}

// One sample of the descriptor: `channel` with its qualifiers, where it lies in the block, and its range.
void writeSample(base::ByteWriter& out, uint32_t bit, uint32_t bits, uint32_t channel, uint32_t upper) {
  out.write<uint16_t>(static_cast<uint16_t>(bit));
  out.write<uint8_t>(static_cast<uint8_t>(bits - 1));
  out.write<uint8_t>(static_cast<uint8_t>(channel));
  out.write<uint32_t>(0);  // sample position
  out.write<uint32_t>(0);  // lower
  out.write<uint32_t>(upper);
}

uint32_t sampleCount(PixelFormat format) {
  switch (format) {
    case PixelFormat::rgba8:
      return 4;
    case PixelFormat::bc3:
    case PixelFormat::bc5:
      return 2;
    default:
      return 1;
  }
}

// Khronos Data Format 1.3, basic descriptor block (chapter 5): BT.709 primaries, straight alpha. A
// supercompressed texture has no size of its planes (KTX 2.0, section 3.10.2).
base::Bytes dataFormat(PixelFormat format, bool srgb, bool supercompressed) {
  constexpr uint32_t kAlpha = 15, kLinear = 0x10, kAll = 0xFFFFFFFF;
  const PixelFormatRow& row = rowOf(format);
  const uint32_t bytes = 4 + 24 + 16 * sampleCount(format);
  base::ByteWriter out;
  out.write<uint32_t>(bytes);
  out.write<uint32_t>(0);  // vendor Khronos, type basic
  out.write<uint16_t>(2);  // version 1.3
  out.write<uint16_t>(static_cast<uint16_t>(bytes - 4));
  out.write<uint8_t>(static_cast<uint8_t>(row.model));
  out.write<uint8_t>(1);             // BT.709
  out.write<uint8_t>(srgb ? 2 : 1);  // transfer
  out.write<uint8_t>(0);             // straight alpha
  out.write<uint8_t>(static_cast<uint8_t>(row.block_width - 1));
  out.write<uint8_t>(static_cast<uint8_t>(row.block_height - 1));
  out.write<uint16_t>(0);
  out.write<uint32_t>(supercompressed ? 0 : row.block_bytes);
  out.write<uint32_t>(0);
  const uint32_t alpha = kAlpha | (srgb ? kLinear : 0);
  if (format == PixelFormat::rgba8) {
    for (uint32_t i = 0; i < 4; ++i) writeSample(out, i * 8, 8, i < 3 ? i : alpha, 255);
  } else if (format == PixelFormat::bc3) {
    writeSample(out, 0, 64, alpha, kAll);
    writeSample(out, 64, 64, 0, kAll);
  } else if (format == PixelFormat::bc5) {
    writeSample(out, 0, 64, 0, kAll);
    writeSample(out, 64, 64, 1, kAll);
  } else {
    writeSample(out, 0, row.block_bytes * 8, 0, kAll);
  }
  return out.take();
}

void writeKeyValue(base::ByteWriter& out, std::string_view pair) {
  out.write<uint32_t>(static_cast<uint32_t>(pair.size()));
  out.bytes(base::asBytes(pair));
  out.align(4);
}

// Section 3.9.7: a level begins at a multiple of both 4 and the size of a block; a supercompressed one
// anywhere.
uint64_t alignmentOf(PixelFormat format, bool supercompressed) {
  return supercompressed ? 1 : std::lcm<uint64_t>(4, rowOf(format).block_bytes);
}

base::Bytes packed(const base::Bytes& level) {
  base::Bytes out(ZSTD_compressBound(level.size()));
  const size_t n = ZSTD_compress(out.data(), out.size(), level.data(), level.size(), kZstdLevel);
  if (ZSTD_isError(n) != 0) base::brokenPromise("a level is not packed", ZSTD_getErrorName(n));
  out.resize(n);
  return out;
}

}  // namespace

base::Bytes encodeKtx2(const Ktx2Picture& picture) {
  const PixelFormatRow& row = rowOf(picture.format);
  if (!row.written || (picture.srgb && row.vulkan_srgb == 0))
    base::brokenPromise("no picture is written so", row.id);
  const auto count = static_cast<uint32_t>(picture.levels.size());
  base::ByteWriter out;
  out.bytes(std::as_bytes(std::span(kIdentifier)));
  for (const uint32_t v : {picture.srgb ? row.vulkan_srgb : row.vulkan, 1U, picture.width, picture.height, 0U,
                           0U, 1U, count, picture.supercompressed ? kZstdScheme : kNoScheme})
    out.write<uint32_t>(v);
  const size_t index_at = out.size();
  out.zeros(4 * 4 + 2 * 8 + size_t{count} * kLevelRecord);
  const auto descriptor_at = static_cast<uint32_t>(out.size());
  const base::Bytes descriptor = dataFormat(picture.format, picture.srgb, picture.supercompressed);
  out.bytes(descriptor);
  const auto keys_at = static_cast<uint32_t>(out.size());
  writeKeyValue(out, kOrientation);
  writeKeyValue(out, kWriterKey);
  out.overwrite<uint32_t>(index_at, descriptor_at);
  out.overwrite<uint32_t>(index_at + 4, static_cast<uint32_t>(descriptor.size()));
  out.overwrite<uint32_t>(index_at + 8, keys_at);
  out.overwrite<uint32_t>(index_at + 12, static_cast<uint32_t>(out.size()) - keys_at);
  // Section 3.9: mip levels lie smallest first.
  for (uint32_t level = count; level-- > 0;) {
    const base::Bytes& raw = picture.levels[level];
    if (raw.size() != levelBytesOf(picture, level)) base::brokenPromise("a mip level of another size");
    out.align(alignmentOf(picture.format, picture.supercompressed));
    const size_t record = index_at + 32 + size_t{level} * kLevelRecord;
    out.overwrite<uint64_t>(record, out.size());
    const base::Bytes small = picture.supercompressed ? packed(raw) : base::Bytes();
    const base::Bytes& stored = picture.supercompressed ? small : raw;
    out.overwrite<uint64_t>(record + 8, stored.size());
    out.overwrite<uint64_t>(record + 16, raw.size());
    out.bytes(stored);
  }
  return out.take();
}

namespace {

// A file that is read, one part after the other. Each gives what is wrong, or nothing.
class Ktx2Reader {
 public:
  Ktx2Reader(base::ByteSpan bytes, Ktx2Picture& out) : in_(bytes), out_(out) {}
  [[nodiscard]] std::string run() {
    for (const auto step : {&Ktx2Reader::header, &Ktx2Reader::index, &Ktx2Reader::descriptor,
                            &Ktx2Reader::keys, &Ktx2Reader::levels})
      if (std::string fault = (this->*step)(); !fault.empty()) return fault;
    return {};
  }
  [[nodiscard]] uint64_t at() const { return in_.at(); }

 private:
  struct Level {
    uint64_t offset, length, raw;
  };

  std::string header() {
    const base::ByteSpan mark = in_.bytes(kIdentifier.size());
    if (mark.size() != kIdentifier.size() ||
        !std::equal(mark.begin(), mark.end(), std::as_bytes(std::span(kIdentifier)).begin()))
      return base::phrase("it is not KTX 2.0");
    const auto format = in_.read<uint32_t>();
    const auto type_size = in_.read<uint32_t>();
    out_.width = in_.read<uint32_t>();
    out_.height = in_.read<uint32_t>();
    const auto depth = in_.read<uint32_t>();
    const auto layers = in_.read<uint32_t>();
    const auto faces = in_.read<uint32_t>();
    count_ = in_.read<uint32_t>();
    const auto scheme = in_.read<uint32_t>();
    if (!in_.ok()) return base::phrase("it is cut off");
    const PixelFormatRow* row = pixelFormatOfVulkan(format);
    if (row == nullptr || !row->written || type_size != 1)
      return base::phrase("its pixels are in a format that no bundle holds");
    if (depth != 0 || layers != 0 || faces != 1) return base::phrase("it is not one plain picture");
    if (scheme != kNoScheme && scheme != kZstdScheme)
      return base::phrase("it is compressed in a way that no bundle knows");
    out_.format = row->format;
    out_.srgb = format == row->vulkan_srgb;
    out_.supercompressed = scheme == kZstdScheme;
    const uint32_t most = base::Limits{}.picture_side;
    if (out_.width == 0 || out_.height == 0 || out_.width > most || out_.height > most)
      return base::phrase("its size");
    if (uint64_t{out_.width} * out_.height > base::Limits{}.picture_pixels) return base::phrase("its size");
    uint32_t full = 1;
    while ((std::max(out_.width, out_.height) >> full) != 0) ++full;
    if (count_ == 0 || count_ > full) return base::phrase("its number of mip levels");
    return {};
  }

  std::string index() {
    descriptor_at_ = in_.read<uint32_t>();
    descriptor_bytes_ = in_.read<uint32_t>();
    keys_at_ = in_.read<uint32_t>();
    keys_bytes_ = in_.read<uint32_t>();
    const auto global_at = in_.read<uint64_t>(), global_bytes = in_.read<uint64_t>();
    for (uint32_t level = 0; level < count_; ++level) {
      const auto offset = in_.read<uint64_t>(), length = in_.read<uint64_t>(), raw = in_.read<uint64_t>();
      levels_.push_back({offset, length, raw});
      if (!in_.ok()) return base::phrase("it is cut off");
      if (raw != levelBytesOf(out_, level) || (!out_.supercompressed && length != raw) ||
          raw / base::BundleLimits{}.expansion > length)
        return base::phrase("the size of a mip level");
    }
    if (global_at != 0 || global_bytes != 0)
      return base::phrase("it has data of a compression that it does not name");
    return {};
  }

  std::string descriptor() {
    const base::Bytes plain = dataFormat(out_.format, out_.srgb, false);
    if (descriptor_at_ != kHeader + size_t{count_} * kLevelRecord || descriptor_bytes_ != plain.size())
      return base::phrase("its descriptor of the data format is not where it belongs");
    const base::ByteSpan stored = in_.bytes(descriptor_bytes_);
    if (!in_.ok()) return base::phrase("it is cut off");
    const auto same = [&](const base::Bytes& other) {
      return std::equal(stored.begin(), stored.end(), other.begin(), other.end());
    };
    // Later revisions of the specification keep the size of the planes of supercompressed textures too.
    if (!same(plain) && !(out_.supercompressed && same(dataFormat(out_.format, out_.srgb, true))))
      return base::phrase("its descriptor tells another format than its header");
    return {};
  }

  // Section 3.11: keys ascend, each ends with a zero, each pair is padded with zeros to a multiple of 4.
  std::string keys() {
    const std::string wrong = base::phrase("its keys and values");
    if (keys_bytes_ == 0 ? keys_at_ != 0 : keys_at_ != in_.at()) return wrong;
    const uint64_t end = in_.at() + keys_bytes_;
    std::string before;
    while (in_.ok() && in_.at() < end) {
      const auto length = in_.read<uint32_t>();
      if (length > end - std::min(end, in_.at())) return wrong;
      const std::string_view pair = base::asText(in_.bytes(length));
      const size_t zero = pair.find('\0');
      if (!in_.ok() || zero == std::string_view::npos || zero == 0) return wrong;
      const std::string key(pair.substr(0, zero));
      if (!before.empty() && key <= before) return wrong;
      before = key;
      if (key == "KTXorientation" && pair.substr(zero + 1) != std::string_view("rd\0", 3))
        return base::phrase("its rows do not run from top to bottom");
      for (const std::byte pad : in_.bytes((4 - length % 4) % 4))
        if (pad != std::byte{0}) return wrong;
    }
    return in_.ok() && in_.at() == end ? std::string() : wrong;
  }

  std::string levels() {
    const uint64_t alignment = alignmentOf(out_.format, out_.supercompressed);
    out_.levels.resize(count_);
    for (uint32_t level = count_; level-- > 0;) {
      const Level& one = levels_[level];
      const base::ByteSpan padding = in_.bytes((alignment - in_.at() % alignment) % alignment);
      const bool zero =
          std::all_of(padding.begin(), padding.end(), [](std::byte b) { return b == std::byte{0}; });
      if (!in_.ok() || !zero || one.offset != in_.at() || one.length > in_.left())
        return base::phrase("a mip level is not where it belongs");
      const base::ByteSpan stored = in_.bytes(one.length);
      if (!out_.supercompressed) {
        out_.levels[level].assign(stored.begin(), stored.end());
        continue;
      }
      if (ZSTD_getFrameContentSize(stored.data(), stored.size()) != one.raw ||
          ZSTD_findFrameCompressedSize(stored.data(), stored.size()) != stored.size())
        return base::phrase("a mip level that cannot be unpacked");
      out_.levels[level].resize(one.raw);
      if (ZSTD_decompress(out_.levels[level].data(), one.raw, stored.data(), stored.size()) != one.raw)
        return base::phrase("a mip level that cannot be unpacked");
    }
    return in_.left() == 0 ? std::string() : base::phrase("something lies behind its last mip level");
  }

  base::ByteReader in_;
  Ktx2Picture& out_;
  uint32_t count_ = 0, descriptor_at_ = 0, descriptor_bytes_ = 0, keys_at_ = 0, keys_bytes_ = 0;
  std::vector<Level> levels_;
};

}  // namespace

bool isKtx2(base::ByteSpan bytes) {
  return bytes.size() >= kIdentifier.size() &&
         std::equal(kIdentifier.begin(), kIdentifier.end(), bytes.begin(),
                    [](unsigned char a, std::byte b) { return std::byte{a} == b; });
}

base::Result<Ktx2Picture> decodeKtx2(base::ByteSpan bytes, const std::string& id) {
  Ktx2Picture out;
  Ktx2Reader reader(bytes, out);
  if (const std::string fault = reader.run(); !fault.empty())
    return base::Error{"bundle.picture", base::phrase("The picture {0} cannot be read: {1}.", id, fault),
                       base::Place{id, "", static_cast<int64_t>(reader.at())},
                       base::phrase("Build the bundle again.")};
  return out;
}

uint16_t minorOf(const Ktx2Picture& picture) {
  return picture.format == PixelFormat::rgba8 && !picture.supercompressed ? 0 : kMinorOfTextures;
}

}  // namespace rakugo::bundle
