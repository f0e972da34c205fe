#include "prepare/objects/sound_pieces.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/objects/piece_values.h"
#include "sound/loop.h"
#include "sound/loudness.h"
#include "sound/samples.h"

namespace rakugo::prepare {
namespace {

using base::Json;

constexpr double kMostPeak_dbtp = -1;

double amplitude(double db) { return std::pow(10, db / 20); }

// In frames of the recording, within it; all of it where there is nothing of it.
sound::Stretch stretchOf(const formats::Sound& recording, const SoundMaking& how) {
  const size_t frames = recording.info.channels > 0 ? recording.samples.size() / recording.info.channels : 0;
  const auto frame = [&](double s) {
    return static_cast<size_t>(
        std::clamp(std::round(s * recording.info.rate_hz), 0.0, static_cast<double>(frames)));
  };
  const sound::Stretch out{frame(how.from_s), how.to_s > 0 ? frame(how.to_s) : frames};
  return out.frames() > 0 ? out : sound::Stretch{0, frames};
}

// To the game's loudness, as far as the peak allows.
void bringToLoudness(formats::Sound& made, const rulebook::SoundRule& rule, SoundReport& report) {
  const auto peak = sound::truePeakOf(made.samples, made.info.channels, made.info.rate_hz);
  if (!peak) return;
  double db = rule.loudness_lufs && report.loudness_lufs ? *rule.loudness_lufs - *report.loudness_lufs : 0;
  if (*peak + db > kMostPeak_dbtp) {
    // Also one that nobody asked to raise must not reach full scale between its samples.
    report.held_back = db > 0;
    db = kMostPeak_dbtp - *peak;
  }
  report.raised_db = db;
  const auto factor = static_cast<float>(amplitude(db));
  for (float& s : made.samples) s *= factor;
}

}  // namespace

SoundValues soundValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields) {
  SoundValues out;
  for (const rulebook::Field& field : fields) {
    const Json value = valueOf(piece, field);
    const auto number = [&](const char* id, double& into) {
      if (field.id == id && value.is_number()) into = value.get<double>();
    };
    number("from_s", out.from_s);
    number("to_s", out.to_s);
    number("blend_s", out.blend_s);
    number("gain_db", out.gain_db);
    number("near_m", out.near_m);
    number("far_m", out.far_m);
    if (field.id == "plays" && value.is_string()) out.plays = value.get<std::string>();
    if (field.id == "loop" && value.is_boolean()) out.loop = value.get<bool>();
    if (field.id == "pitch" && value.is_array() && value.size() == 2)
      out.pitch = {value[0].get<double>(), value[1].get<double>()};
    if (field.id == "sounds" && value.is_array())
      for (const Json& one : value)
        if (one.is_string()) out.sounds.push_back(one.get<std::string>());
  }
  return out;
}

std::string SoundMaking::text() const {
  std::string out = loop ? "loop" : "once";
  for (const double number : {from_s, to_s, blend_s}) out += " " + base::numberText(number, 9);
  out += " " + rule.format + " " + std::to_string(rule.rate_hz) + (rule.mono ? " mono " : " all ");
  return out + (rule.loudness_lufs ? base::numberText(*rule.loudness_lufs, 6) : "-");
}

SoundMaking soundMaking(const SoundValues& says, const rulebook::SoundRule& rule) {
  SoundMaking out;
  out.loop = says.loop;
  // Several variants have no one place to be cut at.
  if (says.sounds.size() <= 1) {
    out.from_s = says.from_s;
    out.to_s = says.to_s;
  }
  out.blend_s = says.loop ? says.blend_s : 0;
  out.rule = rule;
  return out;
}

base::Result<MadeSound> makeSound(const formats::Sound& recording, const SoundMaking& how) {
  const sound::Stretch stretch = stretchOf(recording, how);
  if (stretch.frames() == 0)
    return base::Error{
        "sound.empty", base::phrase("The sound holds no samples."), {}, base::phrase("Choose another.")};
  MadeSound out;
  formats::Sound& made = out.sound;
  made.info = recording.info;
  const uint32_t channels = recording.info.channels;
  const std::span<const float> all = recording.samples;
  if (how.loop) {
    const sound::Seam seam = sound::seamOf(all, channels, stretch);
    out.report.jump = seam.jump;
    out.report.usual = seam.usual;
    const auto blend = static_cast<size_t>(std::round(how.blend_s * recording.info.rate_hz));
    made.samples = sound::loopOf(all, channels, stretch, blend);
    out.report.clicks = sound::seamOf(made.samples, channels, {0, made.samples.size() / channels}).clicks();
  } else {
    const auto part = all.subspan(stretch.from * channels, stretch.frames() * channels);
    made.samples.assign(part.begin(), part.end());
  }
  // What is heard from a place has a side or two; formats of games take no more.
  if ((how.rule.mono && channels > 1) || channels > 2) {
    made.samples = sound::monoOf(made.samples, channels);
    made.info.channels = 1;
  }
  // Every format that is written takes these rates.
  constexpr uint32_t kLowest_hz = 8000, kHighest_hz = 192'000;
  const uint32_t rate =
      how.rule.rate_hz > 0 ? how.rule.rate_hz : std::clamp(made.info.rate_hz, kLowest_hz, kHighest_hz);
  if (rate != made.info.rate_hz) {
    made.samples = sound::resampled(made.samples, made.info.channels, made.info.rate_hz, rate, how.loop);
    made.info.rate_hz = rate;
    if (made.samples.empty())
      return base::Error{"sound.empty",
                         base::phrase("The sound cannot be brought to {0} Hz.", rate),
                         {},
                         base::phrase("Choose another.")};
  }
  out.report.loudness_lufs = sound::loudnessOf(made.samples, made.info.channels, made.info.rate_hz);
  bringToLoudness(made, how.rule, out.report);
  made.info.frames = made.samples.size() / made.info.channels;
  made.info.peak = 0;
  for (const float s : made.samples) made.info.peak = std::max(made.info.peak, std::abs(s));
  out.report.seconds = made.info.seconds();
  return out;
}

std::shared_ptr<const SoundReport> SoundsMade::report(const SoundMaking& how) {
  constexpr size_t kKept = 8;
  // Held while it is made: several checks ask for the same, one after the other.
  const std::lock_guard guard(lock_);
  for (const auto& [making, report] : made_)
    if (making == how) return report;
  const auto made = makeSound(*recording_, how);
  made_.emplace_back(how, made ? std::make_shared<const SoundReport>(made->report) : nullptr);
  if (made_.size() > kKept) made_.erase(made_.begin());
  return made_.back().second;
}

size_t SoundsMade::clipped() {
  const std::lock_guard guard(lock_);
  if (!clipped_) clipped_ = sound::clippedSamples(recording_->samples, recording_->info.channels);
  return *clipped_;
}

SoundMaking betterLoop(const formats::Sound& recording, const SoundMaking& how) {
  SoundMaking out = how;
  const sound::Stretch wish = stretchOf(recording, how);
  const uint32_t rate = recording.info.rate_hz;
  if (wish.frames() == 0 || rate == 0) return out;
  const sound::Stretch found = sound::findLoop(recording.samples, recording.info.channels, wish, rate / 10);
  const auto seconds = [&](size_t frame) { return static_cast<double>(frame) / rate; };
  out.from_s = seconds(found.from);
  out.to_s = seconds(found.to);
  return out;
}

}  // namespace rakugo::prepare
