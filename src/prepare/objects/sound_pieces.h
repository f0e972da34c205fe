// Sounds of an object: what a piece says of them, and what is built of a recording.
#pragma once

#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

#include "formats/sounds.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// What a piece that is a sound says.
struct SoundValues {
  std::vector<std::string> sounds;  ///< "sources/engine", or ids of what the game shares; variants
  std::string plays;                ///< "always", "night", or another of the rulebook's choices
  bool loop = false;
  double from_s = 0, to_s = 0;  ///< of the recording; `to_s` 0: its end
  double blend_s = 0;           ///< of a loop: how long its end runs into its beginning
  double gain_db = 0;
  std::array<double, 2> pitch{1, 1};  ///< at rest, at full speed
  double near_m = 1, far_m = 20;
  bool operator==(const SoundValues&) const = default;
};
SoundValues soundValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields);

/// What is made of a recording when it is built.
struct SoundMaking {
  bool loop = false;
  double from_s = 0, to_s = 0, blend_s = 0;
  rulebook::SoundRule rule;
  bool operator==(const SoundMaking&) const = default;
  /// All of it as one text: what is made by equal texts of equal recordings is equal.
  [[nodiscard]] std::string text() const;
};
SoundMaking soundMaking(const SoundValues& says, const rulebook::SoundRule& rule);

/// What was found out while a sound was made.
struct SoundReport {
  double seconds = 0;
  std::optional<double> loudness_lufs;  ///< of the recording's stretch; none for silence
  double raised_db = 0;                 ///< to the game's loudness; less than asked where it would clip
  bool held_back = false;               ///< it would have clipped: it stays softer than the game asks for
  double jump = 0, usual = 0;           ///< of a loop, as cut, without a crossfade (sound/loop.h)
  bool clicks = false;                  ///< as made
};
struct MadeSound {
  formats::Sound sound;
  SoundReport report;
};
/// The stretch of a recording, as a loop without a click where it loops, in the game's rate, channels and
/// loudness; its true peak stays below -1 dBTP. More than two channels become
/// one; rates are 8,000 to 192,000 Hz. A stretch that is empty or lies beyond the recording's end is
/// the whole recording. Errors: sound.empty.
base::Result<MadeSound> makeSound(const formats::Sound& recording, const SoundMaking& how);

/// What is made of one recording, remembered for the last few makings. For any thread.
class SoundsMade {
 public:
  explicit SoundsMade(std::shared_ptr<const formats::Sound> recording) : recording_(std::move(recording)) {}
  /// Null where nothing can be made of it.
  std::shared_ptr<const SoundReport> report(const SoundMaking& how);
  /// sound/loudness.h, of the whole recording.
  size_t clipped();

 private:
  std::shared_ptr<const formats::Sound> recording_;
  std::mutex lock_;
  std::vector<std::pair<SoundMaking, std::shared_ptr<const SoundReport>>> made_;  // the newest last
  std::optional<size_t> clipped_;
};

/// Stretch for a loop near what the making says: moved by at most a tenth of a second at each end.
SoundMaking betterLoop(const formats::Sound& recording, const SoundMaking& how);

}  // namespace rakugo::prepare
