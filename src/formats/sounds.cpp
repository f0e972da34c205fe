#include "formats/sounds.h"
#include "base/phrase.h"

#include <algorithm>
#include <cmath>

#include <sndfile.h>

namespace rakugo::formats {
namespace {

// A sound in memory, as libsndfile walks it.
struct Memory {
  base::ByteSpan bytes;
  sf_count_t at = 0;
};

sf_count_t lengthOf(void* user) { return static_cast<sf_count_t>(static_cast<Memory*>(user)->bytes.size()); }

sf_count_t seekTo(sf_count_t offset, int whence, void* user) {
  auto* m = static_cast<Memory*>(user);
  const sf_count_t base = whence == SEEK_CUR ? m->at : whence == SEEK_END ? lengthOf(user) : 0;
  m->at = std::clamp<sf_count_t>(base + offset, 0, lengthOf(user));
  return m->at;
}

sf_count_t readFrom(void* out, sf_count_t count, void* user) {
  auto* m = static_cast<Memory*>(user);
  const sf_count_t n = std::clamp<sf_count_t>(count, 0, lengthOf(user) - m->at);
  base::copyInto(m->bytes.subspan(static_cast<size_t>(m->at), static_cast<size_t>(n)),
                 std::span(static_cast<std::byte*>(out), static_cast<size_t>(n)));
  m->at += n;
  return n;
}

sf_count_t writeNothing(const void*, sf_count_t, void*) { return 0; }
sf_count_t tell(void* user) { return static_cast<Memory*>(user)->at; }

struct Handle {
  SNDFILE* file = nullptr;
  explicit Handle(SNDFILE* f) : file(f) {}
  Handle(const Handle&) = delete;
  Handle& operator=(const Handle&) = delete;
  ~Handle() {
    if (file != nullptr) sf_close(file);
  }
};

base::Error damaged(const std::string& name, const std::string& why) {
  return {"sound.damaged", base::phrase("The sound is damaged: {0}.", why), base::Place{name},
          base::phrase("Save or download it again.")};
}

bool begins(base::ByteSpan bytes, std::string_view mark) {
  return bytes.size() >= mark.size() && base::asText(bytes.first(mark.size())) == mark;
}

const char* soundFormatOf(base::ByteSpan bytes) {
  if (begins(bytes, "RIFF") && bytes.size() >= 12 && base::asText(bytes.subspan(8, 4)) == "WAVE")
    return "WAV";
  if (begins(bytes, "OggS")) return "OGG";
  if (begins(bytes, "fLaC")) return "FLAC";
  return nullptr;
}

}  // namespace

bool isSound(base::ByteSpan bytes) { return soundFormatOf(bytes) != nullptr; }

base::Result<Sound> decodeSound(base::ByteSpan bytes, const std::string& name, const base::Limits& limits) {
  const char* format = soundFormatOf(bytes);
  if (format == nullptr)
    return base::Error{"sound.unknown_format", base::phrase("This is no sound that Rakugo reads."),
                       base::Place{name}, base::phrase("Save it as WAV, OGG or FLAC.")};
  SF_VIRTUAL_IO io{lengthOf, seekTo, readFrom, writeNothing, tell};
  Memory memory{bytes, 0};
  SF_INFO info{};
  const Handle handle(sf_open_virtual(&io, SFM_READ, &info, &memory));
  if (handle.file == nullptr) return damaged(name, sf_strerror(nullptr));
  constexpr int kLeastRate_hz = 1000;  // below, nothing is a sound
  if (info.samplerate < kLeastRate_hz || info.channels <= 0 || info.frames < 0)
    return damaged(name, base::phrase("its header makes no sense"));
  Sound out;
  out.info.format = format;
  out.info.rate_hz = static_cast<uint32_t>(info.samplerate);
  out.info.channels = static_cast<uint32_t>(info.channels);
  const auto channels = static_cast<uint64_t>(info.channels);
  if (channels > 64 || static_cast<uint64_t>(info.frames) > limits.elements / channels)
    return base::Error{"sound.too_large", base::phrase("The sound is longer than Rakugo reads."),
                       base::Place{name}, base::phrase("Cut it shorter.")};
  // Read in pieces: a header may promise what the bytes do not hold.
  constexpr sf_count_t kPiece = 65536;
  std::vector<float> piece(static_cast<size_t>(kPiece) * channels);
  for (;;) {
    const sf_count_t got = sf_readf_float(handle.file, piece.data(), kPiece);
    if (got <= 0) break;
    out.samples.insert(out.samples.end(), piece.begin(),
                       piece.begin() + static_cast<ptrdiff_t>(got * info.channels));
    if (out.samples.size() > limits.elements)
      return base::Error{"sound.too_large", base::phrase("The sound is longer than Rakugo reads."),
                         base::Place{name}, base::phrase("Cut it shorter.")};
  }
  out.info.frames = out.samples.size() / channels;
  if (out.info.frames == 0) return damaged(name, base::phrase("it holds no samples"));
  for (float& s : out.samples) {
    if (!std::isfinite(s)) s = 0;
    out.info.peak = std::max(out.info.peak, std::abs(s));
  }
  return out;
}

std::vector<std::pair<float, float>> waveOf(const Sound& sound, size_t columns) {
  std::vector<std::pair<float, float>> out(columns, {0, 0});
  const uint64_t n = sound.samples.size();
  for (size_t c = 0; c < columns && n > 0; ++c) {
    const uint64_t begin = n * c / columns, end = std::max(begin + 1, n * (c + 1) / columns);
    const auto [low, high] =
        std::minmax_element(sound.samples.begin() + static_cast<ptrdiff_t>(begin),
                            sound.samples.begin() + static_cast<ptrdiff_t>(std::min(end, n)));
    out[c] = {*low, *high};
  }
  return out;
}

const std::vector<std::string>& soundEndings() {
  static const std::vector<std::string> kEndings = {"wav", "ogg", "flac", "opus"};
  return kEndings;
}

}  // namespace rakugo::formats
