#include "standin/hearing.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include <sndfile.h>

namespace rakugo::standin {
namespace {

struct SoundBytes {
  base::ByteSpan bytes;
  sf_count_t at = 0;
};
sf_count_t lengthOfSound(void* user) {
  return static_cast<sf_count_t>(static_cast<SoundBytes*>(user)->bytes.size());
}
sf_count_t seekSound(sf_count_t offset, int whence, void* user) {
  auto* m = static_cast<SoundBytes*>(user);
  const sf_count_t from = whence == SEEK_CUR ? m->at : whence == SEEK_END ? lengthOfSound(user) : 0;
  return m->at = std::clamp<sf_count_t>(from + offset, 0, lengthOfSound(user));
}
sf_count_t readSound(void* out, sf_count_t count, void* user) {
  auto* m = static_cast<SoundBytes*>(user);
  const sf_count_t n = std::clamp<sf_count_t>(count, 0, lengthOfSound(user) - m->at);
  base::copyInto(m->bytes.subspan(static_cast<size_t>(m->at), static_cast<size_t>(n)),
                 std::span(static_cast<std::byte*>(out), static_cast<size_t>(n)));
  m->at += n;
  return n;
}
sf_count_t writeNoSound(const void*, sf_count_t, void*) { return 0; }
sf_count_t tellSound(void* user) { return static_cast<SoundBytes*>(user)->at; }

base::Error unheard(const std::string& id) {
  return {"game.sound", "the sound " + id + " cannot be played.", {}, ""};
}

}  // namespace

base::Result<PlayedSound> decodePlayed(base::ByteSpan bytes, const std::string& id) {
  SF_VIRTUAL_IO io{lengthOfSound, seekSound, readSound, writeNoSound, tellSound};
  SoundBytes memory{bytes, 0};
  SF_INFO info{};
  const std::unique_ptr<SNDFILE, int (*)(SNDFILE*)> file(sf_open_virtual(&io, SFM_READ, &info, &memory),
                                                         sf_close);
  constexpr int kMostChannels = 8, kMostRate = 192'000;
  if (file == nullptr || info.samplerate <= 0 || info.samplerate > kMostRate || info.channels <= 0 ||
      info.channels > kMostChannels)
    return unheard(id);
  PlayedSound out;
  out.rate_hz = static_cast<uint32_t>(info.samplerate);
  const size_t channels = static_cast<size_t>(info.channels), most = size_t{out.rate_hz} * 60;
  std::vector<float> piece(4096 * channels);
  while (out.samples.size() < most) {
    const sf_count_t got = sf_readf_float(file.get(), piece.data(), 4096);
    if (got <= 0) break;
    for (size_t f = 0; f < static_cast<size_t>(got); ++f) {
      float sum = 0;
      for (size_t c = 0; c < channels; ++c) sum += piece[f * channels + c];
      out.samples.push_back(std::isfinite(sum) ? sum / static_cast<float>(channels) : 0.0F);
    }
  }
  if (out.samples.empty()) return unheard(id);
  return out;
}

std::shared_ptr<const PlayedSound> harbourSound(const std::string& name) {
  const bool hum = name == "sound/lamp-hum", engine = name == "sound/launch-engine";
  if (!hum && !engine) return nullptr;
  auto out = std::make_shared<PlayedSound>();
  out->rate_hz = Mixer::kRate_hz;
  // Whole numbers of Hertz: a second of them has no seam.
  const std::vector<std::pair<double, double>> tones =
      hum ? std::vector<std::pair<double, double>>{{100, 0.05}, {200, 0.02}, {300, 0.012}}
          : std::vector<std::pair<double, double>>{{12, 0.05}, {48, 0.2}, {96, 0.1}, {151, 0.04}};
  for (uint32_t i = 0; i < out->rate_hz; ++i) {
    double v = 0;
    for (const auto& [hz, amplitude] : tones)
      v += amplitude * std::sin(2 * std::numbers::pi * hz * i / out->rate_hz);
    out->samples.push_back(static_cast<float>(v));
  }
  return out;
}

bool writeHeard(const std::filesystem::path& file, const std::vector<float>& samples) {
  SF_INFO info{};
  info.samplerate = static_cast<int>(Mixer::kRate_hz);
  info.channels = 1;
  info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
  const std::unique_ptr<SNDFILE, int (*)(SNDFILE*)> out(sf_open(file.string().c_str(), SFM_WRITE, &info),
                                                        sf_close);
  return out != nullptr &&
         sf_writef_float(out.get(), samples.data(), static_cast<sf_count_t>(samples.size())) ==
             static_cast<sf_count_t>(samples.size());
}

float arriving(float distance_m, float near, float far) {
  if (distance_m <= near) return 1;
  if (distance_m >= far) return 0;
  return near / distance_m * (far - distance_m) / (far - near);
}

std::vector<float> Mixer::mix(const std::vector<Heard>& heard, glm::vec3 ear, size_t frames) {
  std::map<std::string, const Heard*> now;
  for (const Heard& one : heard) {
    if (one.sound == nullptr || one.sound->samples.empty() || one.sound->rate_hz == 0) continue;
    now[one.key] = &one;
    Voice& voice = voices_[one.key];
    if (voice.last.sound != one.sound) voice.at = 0;
    voice.last = one;
  }
  std::vector<float> out(frames, 0);
  for (auto& [key, voice] : voices_) {
    const Heard& h = voice.last;
    const float wanted =
        now.count(key) != 0 ? h.gain * arriving(glm::distance(ear, h.at), h.near, h.far) : 0.0F;
    const double step = static_cast<double>(h.pitch) * h.sound->rate_hz / kRate_hz;
    const auto length = static_cast<double>(h.sound->samples.size());
    // Louder and softer within 5 ms, so that nothing clicks that the sound itself does not.
    constexpr float kEase = 1.0F / (0.005F * static_cast<float>(kRate_hz));
    for (float& sample : out) {
      voice.level += std::clamp(wanted - voice.level, -kEase, kEase);
      if (voice.at >= length) {
        if (!h.loop) break;
        voice.at = std::fmod(voice.at, length);
      }
      const auto i = static_cast<size_t>(voice.at);
      const size_t next = i + 1 < h.sound->samples.size() ? i + 1 : h.loop ? 0 : i;
      const auto t = static_cast<float>(voice.at - static_cast<double>(i));
      sample += voice.level * (h.sound->samples[i] * (1 - t) + h.sound->samples[next] * t);
      voice.at += step;
    }
  }
  std::erase_if(voices_, [&](const auto& one) { return now.count(one.first) == 0; });
  for (float& sample : out) sample = std::clamp(sample, -1.0F, 1.0F);
  return out;
}

}  // namespace rakugo::standin
