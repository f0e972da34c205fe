// Sounds written, by libsndfile.
#include <algorithm>
#include <array>
#include <cmath>

#include <sndfile.h>

#include "base/phrase.h"
#include "formats/sounds.h"

namespace rakugo::formats {
namespace {

// What libsndfile writes, in memory.
struct Written {
  base::Bytes bytes;
  size_t at = 0;
};

sf_count_t writtenLength(void* user) {
  return static_cast<sf_count_t>(static_cast<Written*>(user)->bytes.size());
}
sf_count_t writtenSeek(sf_count_t offset, int whence, void* user) {
  auto* w = static_cast<Written*>(user);
  const sf_count_t from = whence == SEEK_CUR   ? static_cast<sf_count_t>(w->at)
                          : whence == SEEK_END ? writtenLength(user)
                                               : 0;
  w->at = static_cast<size_t>(std::max<sf_count_t>(0, from + offset));
  return static_cast<sf_count_t>(w->at);
}
sf_count_t writtenRead(void* out, sf_count_t count, void* user) {
  auto* w = static_cast<Written*>(user);
  if (w->at >= w->bytes.size()) return 0;
  const size_t n = std::min(static_cast<size_t>(count), w->bytes.size() - w->at);
  base::copyInto(std::span(w->bytes).subspan(w->at, n), std::span(static_cast<std::byte*>(out), n));
  w->at += n;
  return static_cast<sf_count_t>(n);
}
sf_count_t writeMore(const void* data, sf_count_t count, void* user) {
  auto* w = static_cast<Written*>(user);
  const size_t n = static_cast<size_t>(count);
  w->bytes.resize(std::max(w->bytes.size(), w->at + n));
  base::copyInto(std::span(static_cast<const std::byte*>(data), n), std::span(w->bytes).subspan(w->at, n));
  w->at += n;
  return count;
}
sf_count_t writtenTell(void* user) { return static_cast<sf_count_t>(static_cast<Written*>(user)->at); }

// The checksum of an Ogg page (RFC 3533, section 6): polynomial 0x04c11db7, most significant bit first.
uint32_t oggChecksum(std::span<const std::byte> page) {
  uint32_t out = 0;
  for (const std::byte b : page) {
    out ^= std::to_integer<uint32_t>(b) << 24;
    for (int bit = 0; bit < 8; ++bit) out = (out & 0x80000000U) != 0 ? (out << 1) ^ 0x04c11db7U : out << 1;
  }
  return out;
}

void putNumber(std::span<std::byte> four, uint32_t value) {
  for (size_t i = 0; i < 4; ++i) four[i] = static_cast<std::byte>(value >> (8 * i));
}

// The stream's number is drawn by chance; a fixed one makes equal sounds equal bytes.
bool fixOggNumber(base::Bytes& bytes) {
  constexpr size_t kHeader = 27, kSerial = 14, kChecksum = 22;
  for (size_t at = 0; at < bytes.size();) {
    if (bytes.size() - at < kHeader || base::asText(std::span(bytes).subspan(at, 4)) != "OggS") return false;
    const auto segments = std::to_integer<size_t>(bytes[at + 26]);
    if (bytes.size() - at < kHeader + segments) return false;
    size_t length = kHeader + segments;
    for (size_t s = 0; s < segments; ++s) length += std::to_integer<size_t>(bytes[at + kHeader + s]);
    if (bytes.size() - at < length) return false;
    const std::span<std::byte> page = std::span(bytes).subspan(at, length);
    putNumber(page.subspan(kSerial, 4), 1);
    putNumber(page.subspan(kChecksum, 4), 0);
    putNumber(page.subspan(kChecksum, 4), oggChecksum(page));
    at += length;
  }
  return true;
}

base::Error notWritten(const std::string& format, const std::string& why) {
  return {"sound.not_written",
          base::phrase("The sound cannot be written as {0}: {1}.", format, why),
          {},
          base::phrase("Choose another rate, fewer channels or another format.")};
}

}  // namespace

base::Result<base::Bytes> encodeSound(const Sound& sound, const std::string& format) {
  const int as = format == "ogg"    ? SF_FORMAT_OGG | SF_FORMAT_VORBIS
                 : format == "flac" ? SF_FORMAT_FLAC | SF_FORMAT_PCM_16
                                    : SF_FORMAT_WAV | SF_FORMAT_PCM_16;
  SF_INFO info{};
  info.samplerate = static_cast<int>(sound.info.rate_hz);
  info.channels = static_cast<int>(sound.info.channels);
  info.format = as;
  if (sf_format_check(&info) == 0)
    return notWritten(
        format, base::phrase("it has {0} Hz and {1} channels", sound.info.rate_hz, sound.info.channels));
  SF_VIRTUAL_IO io{writtenLength, writtenSeek, writtenRead, writeMore, writtenTell};
  Written out;
  SNDFILE* file = sf_open_virtual(&io, SFM_WRITE, &info, &out);
  if (file == nullptr) return notWritten(format, sf_strerror(nullptr));
  double quality = 0.6;
  if (format == "ogg") sf_command(file, SFC_SET_VBR_ENCODING_QUALITY, &quality, sizeof quality);
  sf_command(file, SFC_SET_CLIPPING, nullptr, SF_TRUE);
  const auto frames = static_cast<sf_count_t>(sound.samples.size() / sound.info.channels);
  // In pieces: the Vorbis encoder keeps what it is given at once on its stack.
  constexpr sf_count_t kPiece = 4096;
  bool good = true;
  for (sf_count_t at = 0; good && at < frames; at += kPiece) {
    const sf_count_t n = std::min(kPiece, frames - at);
    good = sf_writef_float(file, sound.samples.data() + at * info.channels, n) == n;
  }
  const std::string why = good ? "" : sf_strerror(file);
  sf_close(file);
  if (!good) return notWritten(format, why);
  if (format == "ogg" && !fixOggNumber(out.bytes))
    return notWritten(format, base::phrase("its pages are odd"));
  return std::move(out.bytes);
}

}  // namespace rakugo::formats
