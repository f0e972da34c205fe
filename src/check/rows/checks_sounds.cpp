// Checks of sounds: whether one hears them, hears a click, hears them as loud as the game's own.
#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "check/rows/piece_findings.h"
#include "mod/references.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/sound_pieces.h"
#include "rulebook/piece_sorts.h"
#include "sound/loudness.h"

namespace rakugo::check {
namespace {

// A recording that a piece lets one hear, with what is made of it.
struct Heard {
  const std::string& object;
  const mod::PieceDoc& piece;
  std::string source;
  const SourceState& state;
  prepare::SoundValues says;
  prepare::SoundMaking how;
};

template <class Body>
void eachHeard(const Context& context, const Body& body) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (rulebook::pieceSortFrom(piece.sort) != rulebook::PieceSort::sound) continue;
      const prepare::SoundValues says =
          prepare::soundValues(piece, prepare::fieldsOfPiece(*context.book, doc, piece));
      for (const std::string& one : says.sounds) {
        const auto named = mod::namedThing(one);
        if (!named || named->thing != mod::Thing::source) continue;
        const auto state = context.sources.find(named->name);
        if (state == context.sources.end() || !state->second.sound) continue;
        body(Heard{name, piece, named->name, state->second, says,
                   prepare::soundMaking(says, context.book->sounds)});
      }
    }
}

// What is made of it, for a check that needs to know; null where nothing can be.
std::shared_ptr<const prepare::SoundReport> reportOf(const Heard& heard) {
  return heard.state.sounds_made != nullptr ? heard.state.sounds_made->report(heard.how) : nullptr;
}

Finding aboutSound(const Context& context, const CheckRow& row, const Heard& heard, std::string sentence) {
  Finding f = aboutPiece(context, row, heard.object, heard.piece.name, std::move(sentence));
  f.place.source = heard.source;
  return f;
}

Mend setValues(const Heard& heard, std::string label, base::Json values) {
  return objectMend(
      heard.object, std::move(label),
      [piece = heard.piece.name, values = std::move(values)](mod::ObjectDoc& doc) -> base::Status {
        for (const auto& [id, value] : values.items())
          RAKUGO_TRY(prepare::setPieceValue(doc, piece, id, value));
        return {};
      });
}

double rounded(double v, double unit) { return std::round(v / unit) * unit; }

void checkClicks(const Context& context, const CheckRow& row, Findings& out) {
  eachHeard(context, [&](const Heard& heard) {
    const auto report = heard.says.loop ? reportOf(heard) : nullptr;
    if (report == nullptr || !report->clicks) return;
    Finding f =
        aboutSound(context, row, heard,
                   phrase("{0} of {1} clicks each time it begins again: its end is {2} of full scale away "
                          "from its beginning.",
                          heard.piece.name, heard.object, base::numberText(report->jump, 2)));
    f.measured = base::numberText(report->jump, 3);
    f.expected = phrase("at most {0}", base::numberText(std::max(0.01, 2 * report->usual), 3));
    const double length = heard.state.sound->info.seconds();
    const double blend = rounded(std::clamp(length / 8, 0.01, 0.2), 0.01);
    f.mends.push_back(
        setValues(heard, phrase("Let its end run into its beginning for {0} s", base::numberText(blend, 2)),
                  {{"blend_s", blend}}));
    if (heard.says.sounds.size() == 1) {
      const prepare::SoundMaking better = prepare::betterLoop(*heard.state.sound, heard.how);
      if (better.from_s != heard.how.from_s || better.to_s != heard.how.to_s)
        f.mends.push_back(
            setValues(heard,
                      phrase("Cut it where it joins best: {0} to {1} s", base::numberText(better.from_s, 3),
                             base::numberText(better.to_s, 3)),
                      {{"from_s", better.from_s}, {"to_s", better.to_s}}));
    }
    out.push_back(std::move(f));
  });
}

void checkSilent(const Context& context, const CheckRow& row, Findings& out) {
  eachHeard(context, [&](const Heard& heard) {
    const auto report = reportOf(heard);
    if (report == nullptr || report->loudness_lufs) return;
    Finding f = aboutSound(
        context, row, heard,
        phrase(
            "{0} of {1} is silent: nothing is heard in {2}{3}.", heard.piece.name, heard.object, heard.source,
            heard.how.from_s > 0 || heard.how.to_s > 0 ? phrase(" between its From and To") : std::string()));
    if (heard.how.from_s > 0 || heard.how.to_s > 0)
      f.mends.push_back(setValues(heard, phrase("Take all of the recording"), {{"from_s", 0}, {"to_s", 0}}));
    out.push_back(std::move(f));
  });
}

void checkClips(const Context& context, const CheckRow& row, Findings& out) {
  eachHeard(context, [&](const Heard& heard) {
    const formats::Sound& sound = *heard.state.sound;
    const size_t clipped = heard.state.sounds_made != nullptr ? heard.state.sounds_made->clipped() : 0;
    // A few may be a drum.
    if (clipped < 8) return;
    Finding f =
        aboutSound(context, row, heard,
                   phrase("The recording {0} was too loud: {1} of its samples are cut off at full scale, and "
                          "it crackles.",
                          heard.source, base::groupedText(clipped)));
    f.measured = phrase("{0} of {1}", base::groupedText(clipped), base::groupedText(sound.samples.size()));
    f.expected = phrase("fewer than {0}", 8);
    out.push_back(std::move(f));
  });
}

void checkLoudness(const Context& context, const CheckRow& row, Findings& out) {
  constexpr double kNear_db = 3, kNoise_db = 25;
  const auto wanted = context.book->sounds.loudness_lufs;
  if (!wanted) return;
  eachHeard(context, [&](const Heard& heard) {
    const auto report = reportOf(heard);
    if (report == nullptr || !report->loudness_lufs) return;
    const double is = *report->loudness_lufs + report->raised_db;
    const bool soft = is<*wanted - kNear_db, noisy = report->raised_db> kNoise_db;
    if (!soft && !noisy) return;
    Finding f =
        aboutSound(context, row, heard,
                   soft ? phrase("{0} of {1} stays {2} dB softer than the game's sounds: raised further, its "
                                 "loudest moments "
                                 "would be cut off.",
                                 heard.piece.name, heard.object, base::numberText(*wanted - is, 1))
                        : phrase("{0} of {1} is very soft; it is raised by {2} dB, and its noise with it.",
                                 heard.piece.name, heard.object, base::numberText(report->raised_db, 1)));
    f.measured = phrase("{0} LUFS", base::numberText(soft ? is : *report->loudness_lufs, 1));
    f.expected = phrase("{0} LUFS", base::numberText(*wanted, 1));
    out.push_back(std::move(f));
  });
}

void checkLength(const Context& context, const CheckRow& row, Findings& out) {
  const double most = context.book->sounds.most_s;
  if (most <= 0) return;
  eachHeard(context, [&](const Heard& heard) {
    const auto report = reportOf(heard);
    if (report == nullptr || report->seconds <= most + 1e-6) return;
    Finding f = aboutSound(
        context, row, heard,
        phrase("{0} of {1} lasts {2} s; {3} takes {4} s.", heard.piece.name, heard.object,
               base::numberText(report->seconds, 2), context.book->title, base::numberText(most, 2)));
    f.measured = phrase("{0} s", base::numberText(report->seconds, 2));
    f.expected = phrase("at most {0} s", base::numberText(most, 2));
    if (heard.says.sounds.size() == 1)
      f.mends.push_back(setValues(heard, phrase("Take its first {0} s", base::numberText(most, 2)),
                                  {{"to_s", heard.how.from_s + most}}));
    out.push_back(std::move(f));
  });
}

void checkSoundEnds(const Context& context, const CheckRow& row, Findings& out) {
  for (const auto& [name, doc] : context.mod->objects)
    for (const mod::PieceDoc& piece : doc.pieces) {
      if (rulebook::pieceSortFrom(piece.sort) != rulebook::PieceSort::sound) continue;
      const prepare::SoundValues says =
          prepare::soundValues(piece, prepare::fieldsOfPiece(*context.book, doc, piece));
      const bool backwards = says.to_s > 0 && says.to_s <= says.from_s, turned = says.near_m > says.far_m;
      if (!backwards && !turned) continue;
      Finding f = aboutPiece(
          context, row, name, piece.name,
          turned ? phrase("{0} of {1} is heard to {2} m, and is to be at its full within {3} m.", piece.name,
                          name, base::numberText(says.far_m), base::numberText(says.near_m))
                 : phrase("{0} of {1} ends at {2} s, before it begins at {3} s.", piece.name, name,
                          base::numberText(says.to_s), base::numberText(says.from_s)));
      base::Json values = base::Json::object();
      if (turned) values["near_m"] = says.far_m, values["far_m"] = says.near_m;
      if (backwards) values["from_s"] = says.to_s, values["to_s"] = says.from_s;
      f.mends.push_back(objectMend(name, phrase("Exchange the two"),
                                   [piece = piece.name, values](mod::ObjectDoc& object) -> base::Status {
                                     for (const auto& [id, value] : values.items())
                                       RAKUGO_TRY(prepare::setPieceValue(object, piece, id, value));
                                     return {};
                                   }));
      out.push_back(std::move(f));
    }
}

}  // namespace

std::vector<CheckRow> soundChecks() {
  using S = Severity;
  return {{"sound.clicks",
           832,
           S::shows,
           Station::objects,
           {"mod.documents", "source.contents"},
           "A loop that clicks",
           "Players hear a click each time it begins again.",
           "Let its end run into its beginning, or cut it elsewhere.",
           checkClicks},
          {"sound.silent",
           833,
           S::shows,
           Station::objects,
           {"mod.documents", "source.contents"},
           "A sound that is silent",
           "Players hear nothing.",
           "Choose another stretch or another recording.",
           checkSilent},
          {"sound.clips",
           834,
           S::shows,
           Station::objects,
           {"mod.documents", "source.contents"},
           "A recording that was too loud",
           "It crackles, however softly it is played.",
           "Record or render it again, softer.",
           checkClips},
          {"sound.loudness",
           835,
           S::tidy,
           Station::objects,
           {"mod.documents", "source.contents"},
           "A sound that cannot be as loud as the game's",
           "It is lost among the game's own sounds, or its noise is heard.",
           "Record it louder, or even out its loudest moments.",
           checkLoudness},
          {"sound.length",
           836,
           S::shows,
           Station::objects,
           {"mod.documents", "source.contents"},
           "A sound that is too long",
           "The game cuts it off.",
           "Take a shorter stretch of it.",
           checkLength},
          {"sound.range",
           837,
           S::shows,
           Station::objects,
           {"mod.documents"},
           "A sound whose ends are exchanged",
           "The game plays all of it, or is silent sooner than meant.",
           "Exchange the two values.",
           checkSoundEnds}};
}

}  // namespace rakugo::check
