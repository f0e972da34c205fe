#include "packing/sound_entries.h"

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "packing/runtime.h"

namespace rakugo::packing {

bundle::ObjectSound soundRecord(const prepare::SoundValues& says, std::vector<std::string> named,
                                double unit_m) {
  bundle::ObjectSound out;
  out.plays = says.plays;
  out.sounds = std::move(named);
  out.loop = says.loop;
  out.gain = std::min(bundle::kMostGain, static_cast<float>(std::pow(10.0, says.gain_db / 20)));
  out.pitch = {static_cast<float>(says.pitch[0]), static_cast<float>(says.pitch[1])};
  out.near = static_cast<float>(says.near_m / unit_m);
  out.far = static_cast<float>(std::max(says.near_m, says.far_m) / unit_m);
  return out;
}

std::string SoundEntries::add(const std::string& source, const prepare::SoundMaking& how,
                              const std::string& why) {
  const auto state = x_.context.sources.find(source);
  if (state == x_.context.sources.end() || !state->second.sound) return {};
  sources_.insert(source);
  const auto [at, fresh] = ids_.try_emplace({source, how.text()});
  if (!fresh) return at->second;
  const std::string stem = "sound/" + base::slug(source);
  std::string id = stem;
  for (int n = 2; !taken_.insert(id).second; ++n) id = stem + "-" + std::to_string(n);
  at->second = id;
  // A compressed format gains nothing from being compressed again.
  PlannedEntry entry{bundle::EntryKind::sound, id, why, how.rule.format == "wav",
                     bundle::kMinorOfLamps,    {}, {}};
  entry.key = [sound = state->second.sound, how](BuildCache& cache) {
    return cacheKey({kBuilder, "sound", cache.digestOf(sound), how.text()});
  };
  entry.make = [sound = state->second.sound, how]() -> base::Result<base::Bytes> {
    RAKUGO_ASSIGN(const prepare::MadeSound made, prepare::makeSound(*sound, how));
    return formats::encodeSound(made.sound, how.rule.format);
  };
  entries_.push_back(std::move(entry));
  return id;
}

std::string SoundEntries::addWhole(const std::string& source, const std::string& why) {
  prepare::SoundMaking how;
  how.rule = x_.book->sounds;
  return add(source, how, why);
}

}  // namespace rakugo::packing
