// PNG, by libpng. What it spends most of its time on, inflating and checksums, is done beforehand by a faster
// library: libpng is given the same picture with its pixels stored as they are, and does everything else.
#include <libdeflate.h>
#include <png.h>

#include <algorithm>
#include <array>
#include <csetjmp>
#include <cstdio>
#include <cstring>
#include <memory>
#include <optional>
#include <span>

#include "formats/pictures/picture_formats.h"

namespace rakugo::formats {
namespace {

constexpr uint64_t kSignatureBytes = 8, kMostStored = 65535;
constexpr uint64_t kMostAtOnce = 64ull << 20;  // beyond this the pixels are not held twice
constexpr uint64_t kMostKept = 1 << 20;        // of a thread's buffer, for the next picture

// --- libpng. It reports errors by longjmp; nothing with a destructor may live within its reach.

struct Reader {
  png_structp png = nullptr;
  png_infop info = nullptr;
  const base::ByteSpan* piece = nullptr;  // what is to be read, one after another
  const base::ByteSpan* end = nullptr;
  size_t at = 0;  // in the first piece
  char message[160] = "it cannot be opened";

  Reader() = default;
  Reader(const Reader&) = delete;
  Reader& operator=(const Reader&) = delete;
  ~Reader() {
    if (png != nullptr) png_destroy_read_struct(&png, &info, nullptr);
  }
};

[[noreturn]] void failed(png_structp png, png_const_charp why) {
  auto* reader = static_cast<Reader*>(png_get_error_ptr(png));
  std::snprintf(reader->message, sizeof reader->message, "%s", why);
  png_longjmp(png, 1);
}

void feed(png_structp png, png_bytep to, size_t count) {
  auto* reader = static_cast<Reader*>(png_get_io_ptr(png));
  while (count > 0) {
    if (reader->piece == reader->end) png_error(png, "it is cut off");
    const size_t some = std::min(count, reader->piece->size() - reader->at);
    if (some > 0) std::memcpy(to, reader->piece->data() + reader->at, some);
    to += some;
    count -= some;
    reader->at += some;
    if (reader->at == reader->piece->size()) ++reader->piece, reader->at = 0;
  }
}

// Everything before the pixels. `trusted`: the checksums have been looked at.
bool readHeader(Reader* reader, bool trusted) {
  reader->png =
      png_create_read_struct(PNG_LIBPNG_VER_STRING, reader, failed, [](png_structp, png_const_charp) {});
  if (reader->png == nullptr) return false;
  if (setjmp(png_jmpbuf(reader->png)) != 0) return false;
  reader->info = png_create_info_struct(reader->png);
  png_set_read_fn(reader->png, reader, feed);
  png_set_benign_errors(reader->png, 1);
  if (trusted) {
    png_set_crc_action(reader->png, PNG_CRC_QUIET_USE, PNG_CRC_QUIET_USE);
    png_set_option(reader->png, PNG_IGNORE_ADLER32, PNG_OPTION_ON);
  }
  png_read_info(reader->png, reader->info);
  return reader->info != nullptr;
}

// Every kind of pixel as four bytes, with the values that are stored: no gamma is applied.
bool readRows(Reader* reader, unsigned char* out, size_t row_bytes) {
  png_structp png = reader->png;
  if (setjmp(png_jmpbuf(png)) != 0) return false;
  png_set_expand(png);
  png_set_scale_16(png);
  png_set_gray_to_rgb(png);
  png_set_add_alpha(png, 0xFF, PNG_FILLER_AFTER);
  const int passes = png_set_interlace_handling(png);
  png_read_update_info(png, reader->info);
  if (png_get_rowbytes(png, reader->info) != row_bytes) png_error(png, "its rows have another length");
  const png_uint_32 height = png_get_image_height(png, reader->info);
  for (int pass = 0; pass < passes; ++pass)
    for (png_uint_32 y = 0; y < height; ++y) png_read_row(png, out + y * row_bytes, nullptr);
  return true;
}

// --- the container, as far as it is needed to lay the pixels bare

uint32_t bigAt(base::ByteSpan bytes, uint64_t at) {
  uint32_t out = 0;
  for (uint64_t i = 0; i < 4; ++i) out = out << 8 | static_cast<uint32_t>(bytes[at + i]);
  return out;
}

void writeBig(base::ByteWriter& out, uint32_t value) {
  for (int shift = 24; shift >= 0; shift -= 8) out.write(static_cast<uint8_t>(value >> shift));
}

// One chunk: length, type, data, checksum (PNG specification, third edition, section 5.3).
struct Chunk {
  base::ByteSpan whole, data;
  std::string_view type;
};

// The chunks of a picture; nothing when one is cut off or damaged.
std::optional<std::vector<Chunk>> chunksOf(base::ByteSpan bytes) {
  std::vector<Chunk> out;
  for (uint64_t at = kSignatureBytes; at < bytes.size();) {
    if (bytes.size() - at < 12) return {};
    const uint64_t length = bigAt(bytes, at);
    if (length > bytes.size() - at - 12) return {};
    out.push_back({bytes.subspan(at, length + 12), bytes.subspan(at + 8, length),
                   base::asText(bytes.subspan(at + 4, 4))});
    if (libdeflate_crc32(0, bytes.data() + at + 4, length + 4) != bigAt(bytes, at + 8 + length)) return {};
    at += length + 12;
    if (out.back().type == "IEND") return out;
  }
  return {};
}

// How many bytes the pixels take before they are packed, each row behind the number of its filter; 0 for
// those that come in seven passes.
uint64_t rawBytes(base::ByteSpan header) {
  static constexpr std::array<uint8_t, 7> kChannels = {1, 0, 3, 1, 2, 0, 4};
  if (header.size() != 13 || header[12] != std::byte{0}) return 0;
  const auto depth = static_cast<uint64_t>(header[8]), kind = static_cast<uint64_t>(header[9]);
  if (kind >= kChannels.size() || depth > 16) return 0;
  const uint64_t row = (uint64_t{bigAt(header, 0)} * kChannels[kind] * depth + 7) / 8 + 1;
  return row > kMostAtOnce ? 0 : row * bigAt(header, 4);
}

bool inflate(base::ByteSpan packed, base::Bytes& raw) {
  thread_local const std::unique_ptr<libdeflate_decompressor, decltype(&libdeflate_free_decompressor)>
      kInflater(libdeflate_alloc_decompressor(), &libdeflate_free_decompressor);
  return kInflater != nullptr &&
         libdeflate_zlib_decompress(kInflater.get(), packed.data(), packed.size(), raw.data(), raw.size(),
                                    nullptr) == LIBDEFLATE_SUCCESS;
}

// The same picture with stored pixels (RFC 1950, RFC 1951 section 3.2.4), in pieces: the original's chunks,
// the pixels themselves, and what goes between them.
class Bare {
 public:
  // False where that is not to be had; libpng may then say why.
  bool make(base::ByteSpan bytes) {
    const auto chunks = chunksOf(bytes);
    if (!chunks || chunks->front().type != "IHDR") return false;
    const uint64_t raw = rawBytes(chunks->front().data);
    if (raw == 0 || raw > kMostAtOnce) return false;
    thread_local base::Bytes packed;
    packed.clear();
    for (const Chunk& c : *chunks)
      if (c.type == "IDAT") packed.insert(packed.end(), c.data.begin(), c.data.end());
    thread_local base::Bytes kept;
    raw_ = std::move(kept);
    raw_.resize(raw);
    const bool good = inflate(packed, raw_);
    if (packed.capacity() > kMostKept) packed = {};
    if (good) layOut(bytes, *chunks);
    if (!good) giveBack(kept);
    back_ = &kept;
    return good;
  }
  ~Bare() {
    if (back_ != nullptr) giveBack(*back_);
  }
  Bare() = default;
  Bare(const Bare&) = delete;
  Bare& operator=(const Bare&) = delete;
  [[nodiscard]] const std::vector<base::ByteSpan>& pieces() const { return pieces_; }

 private:
  void giveBack(base::Bytes& kept) {
    if (raw_.capacity() <= kMostKept) kept = std::move(raw_);
  }
  void layOut(base::ByteSpan bytes, const std::vector<Chunk>& chunks) {
    const uint64_t blocks = (raw_.size() + kMostStored - 1) / kMostStored;
    base::ByteWriter
        between;  // the chunk's and the stream's beginning, a header a block, checksums nobody reads
    writeBig(between, static_cast<uint32_t>(2 + raw_.size() + 5 * blocks + 4));
    between.bytes(base::asBytes("IDAT\x78\x01"));
    for (uint64_t i = 0; i < blocks; ++i) {
      const auto length = static_cast<uint16_t>(std::min(kMostStored, raw_.size() - i * kMostStored));
      between.write(static_cast<uint8_t>(i + 1 == blocks ? 1 : 0));
      between.write(length);
      between.write(static_cast<uint16_t>(~length));
    }
    between.zeros(8);
    between_ = between.take();
    pieces_ = {bytes.first(kSignatureBytes)};
    bool written = false;
    for (const Chunk& c : chunks) {
      if (c.type != "IDAT") {
        pieces_.push_back(c.whole);
        continue;
      }
      if (written) continue;
      written = true;
      const base::ByteSpan all(between_), pixels(raw_);
      pieces_.push_back(all.first(10));
      for (uint64_t i = 0; i < blocks; ++i) {
        pieces_.push_back(all.subspan(10 + i * 5, 5));
        pieces_.push_back(
            pixels.subspan(i * kMostStored, std::min(kMostStored, raw_.size() - i * kMostStored)));
      }
      pieces_.push_back(all.last(8));
    }
  }
  base::Bytes raw_, between_;
  base::Bytes* back_ = nullptr;
  std::vector<base::ByteSpan> pieces_;
};

base::Result<Picture> read(std::span<const base::ByteSpan> pieces, const std::string& name, bool trusted,
                           bool pixels_too, const base::Limits& limits) {
  Reader reader;
  reader.piece = pieces.data();
  reader.end = pieces.data() + pieces.size();
  if (!readHeader(&reader, trusted)) return damagedPicture(name, reader.message);
  Picture out{
      png_get_image_width(reader.png, reader.info), png_get_image_height(reader.png, reader.info), {}};
  RAKUGO_TRY(checkPictureSize(out.width, out.height, name, limits));
  if (!pixels_too) return out;
  out.pixels.resize(size_t{out.width} * out.height * 4);
  if (!readRows(&reader, reinterpret_cast<unsigned char*>(out.pixels.data()), size_t{out.width} * 4))
    return damagedPicture(name, reader.message);
  return out;
}

}  // namespace

bool isPng(base::ByteSpan b) {
  return b.size() >= 8 && base::loadAt<uint64_t>(b, 0) == 0x0A1A0A0D474E5089ull;
}

base::Result<Picture> readPng(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits) {
  if (pixels_too) {
    Bare bare;
    if (bare.make(bytes))
      if (auto quick = read(bare.pieces(), name, true, true, limits)) return quick;
  }
  return read({&bytes, 1}, name, false, pixels_too, limits);
}

base::Bytes encodePng(const Picture& picture, PngEffort effort) {
  png_image image{};
  image.version = PNG_IMAGE_VERSION;
  image.width = picture.width;
  image.height = picture.height;
  image.format = PNG_FORMAT_RGBA;
  if (effort == PngEffort::quick) image.flags |= PNG_IMAGE_FLAG_FAST;
  // Room for the largest that it may become: asking for the size would compress it twice.
  png_alloc_size_t size = PNG_IMAGE_PNG_SIZE_MAX(image);
  base::Bytes out(size);
  if (png_image_write_to_memory(&image, out.data(), &size, 0, picture.pixels.data(), 0, nullptr) == 0)
    base::brokenPromise("PNG writing failed", image.message);
  png_image_free(&image);
  out.resize(size);
  out.shrink_to_fit();  // it was as large as the pixels
  return out;
}

}  // namespace rakugo::formats
