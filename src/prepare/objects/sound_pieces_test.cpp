#include "prepare/objects/sound_pieces.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "prepare/objects/thing_names.h"
#include "rulebook/piece_sorts.h"
#include "sound/loop.h"
#include "sound/loudness.h"

namespace rakugo::prepare {
namespace {

formats::Sound tone(double hz, double amplitude, double seconds, uint32_t rate = 44100,
                    uint32_t channels = 2) {
  formats::Sound out;
  out.info.rate_hz = rate;
  out.info.channels = channels;
  const auto frames = static_cast<size_t>(seconds * rate);
  for (size_t f = 0; f < frames; ++f)
    for (uint32_t c = 0; c < channels; ++c)
      out.samples.push_back(static_cast<float>(
          amplitude * std::sin(2 * std::numbers::pi * hz * static_cast<double>(f) / rate)));
  out.info.frames = frames;
  return out;
}

SoundMaking gameMaking(bool loop) {
  SoundMaking how;
  how.loop = loop;
  how.blend_s = loop ? 0.05 : 0;
  how.rule.rate_hz = 32000;
  how.rule.mono = true;
  how.rule.loudness_lufs = -20;
  return how;
}

double loudness(const formats::Sound& s) {
  return *sound::loudnessOf(s.samples, s.info.channels, s.info.rate_hz);
}

TEST(SoundPieces, AreBroughtToTheGamesRateChannelsAndLoudness) {
  const auto made = makeSound(tone(500, 0.02, 2), gameMaking(false));
  ASSERT_TRUE(made);
  EXPECT_EQ(made->sound.info.rate_hz, 32000U);
  EXPECT_EQ(made->sound.info.channels, 1U);
  EXPECT_EQ(made->sound.info.frames, 64000U);
  EXPECT_NEAR(loudness(made->sound), -20, 0.05);
  EXPECT_FALSE(made->report.held_back);
}

TEST(SoundPieces, WhatWouldClipStaysSofter) {
  formats::Sound drum = tone(60, 0.001, 3);
  for (size_t i = 0; i < 40; ++i) drum.samples[i] = 0.9F;
  const auto made = makeSound(drum, gameMaking(false));
  ASSERT_TRUE(made);
  EXPECT_TRUE(made->report.held_back);
  EXPECT_LT(loudness(made->sound), -25);
  EXPECT_LE(*sound::truePeakOf(made->sound.samples, 1, 32000), -0.9);
}

TEST(SoundPieces, ALoopHasNoClickAtAnyCut) {
  const formats::Sound engine = tone(83.7, 0.3, 1.5);
  for (int i = 0; i < 20; ++i) {
    SoundMaking how = gameMaking(true);
    how.from_s = 0.1 + i * 0.0123;
    how.to_s = 1.2 + i * 0.0071;
    const auto made = makeSound(engine, how);
    ASSERT_TRUE(made);
    EXPECT_FALSE(made->report.clicks) << i;
    EXPECT_NEAR(made->report.seconds, how.to_s - how.from_s - 0.05, 0.001);
    how.blend_s = 0;
    const auto cut = makeSound(engine, how);
    EXPECT_EQ(cut->report.clicks, cut->report.jump > std::max(0.01, 2 * cut->report.usual)) << i;
    const SoundMaking better = betterLoop(engine, how);
    EXPECT_FALSE(makeSound(engine, better)->report.clicks) << i;
    EXPECT_NEAR(better.from_s, how.from_s, 0.1001);
    EXPECT_NEAR(better.to_s, how.to_s, 0.1001);
  }
}

TEST(SoundPieces, AStretchThatIsNoneIsTheWholeRecording) {
  const formats::Sound recording = tone(200, 0.2, 1);
  for (const auto& [from, to] : {std::pair(3.0, 5.0), {0.5, 0.5}, {0.7, 0.2}}) {
    SoundMaking how = gameMaking(false);
    how.from_s = from;
    how.to_s = to;
    EXPECT_NEAR(makeSound(recording, how)->report.seconds, 1, 0.001);
  }
  EXPECT_EQ(makeSound(formats::Sound{}, gameMaking(false)).error().code, "sound.empty");
  EXPECT_EQ(makeSound(tone(100, 0, 1), gameMaking(true))->report.loudness_lufs, std::nullopt);
}

TEST(SoundPieces, OddRatesAndManyChannelsBecomeWhatEveryFormatTakes) {
  for (const uint32_t rate : {1000U, 7000U, 384'000U})
    for (const uint32_t channels : {1U, 2U, 6U, 12U}) {
      const auto made = makeSound(tone(100, 0.2, 0.3, rate, channels), SoundMaking{});
      ASSERT_TRUE(made) << rate << " Hz, " << channels;
      EXPECT_LE(made->sound.info.channels, 2U);
      for (const char* format : {"wav", "flac", "ogg"})
        EXPECT_TRUE(formats::encodeSound(made->sound, format))
            << format << ", " << rate << " Hz, " << channels;
    }
}

TEST(SoundPieces, WhatIsMadeIsRememberedByHowItIsMade) {
  SoundsMade made(std::make_shared<const formats::Sound>(tone(200, 0.2, 1)));
  SoundMaking how = gameMaking(true);
  const auto first = made.report(how);
  EXPECT_EQ(made.report(how), first);
  how.from_s = 0.2;
  EXPECT_NE(made.report(how), first);
  EXPECT_NE(how.text(), gameMaking(true).text());
  EXPECT_EQ(made.clipped(), 0U);
}

TEST(SoundPieces, WrittenFilesAreTheSameAgainAndAreRead) {
  const formats::Sound sound = tone(300, 0.4, 0.5, 32000, 1);
  for (const char* format : {"wav", "flac", "ogg"}) {
    const auto bytes = formats::encodeSound(sound, format);
    ASSERT_TRUE(bytes) << bytes.error().text();
    EXPECT_EQ(*bytes, *formats::encodeSound(sound, format)) << format;
    const auto back = formats::decodeSound(*bytes, format);
    ASSERT_TRUE(back) << back.error().text();
    ASSERT_EQ(back->info.frames, sound.info.frames) << format;
    for (size_t i = 0; i < sound.samples.size(); ++i)
      ASSERT_NEAR(back->samples[i], sound.samples[i], format == std::string("ogg") ? 0.03 : 1.0 / 32000)
          << format;
  }
  formats::Sound odd = sound;
  odd.info.rate_hz = 0;
  EXPECT_EQ(formats::encodeSound(odd, "wav").error().code, "sound.not_written");
}

TEST(ThingNames, AReferenceNamesWhatTheFieldTakesAndWhatIsThere) {
  rulebook::Rulebook book;
  book.shared_assets = {{"good/coal", "Coal", "good"}, {"sound/bell", "Bell", "sound"}};
  mod::ModState mod;
  mod.sources["engine"].file = "engine.wav";
  mod.sources["hull"].file = "hull.glb";
  mod.objects["lamp"].kind = "fitting";
  mod.objects["lamp"].title = "Quay lamp";
  rulebook::Field field;
  field.type = rulebook::FieldType::reference;
  field.to = {"sound"};
  std::vector<std::string> names;
  for (const ThingName& one : thingsFor(book, mod, field)) names.push_back(one.value);
  EXPECT_EQ(names, (std::vector<std::string>{"sources/engine", "sound/bell"}));
  EXPECT_EQ(referenceFault(book, mod, field, "sources/engine"), std::nullopt);
  EXPECT_EQ(*referenceFault(book, mod, field, "sources/hull"),
            "names \"sources/hull\", which is nothing that it takes");
  EXPECT_EQ(*referenceFault(book, mod, field, "sources/motor"),
            "names \"sources/motor\", which the mod does not have");
  EXPECT_EQ(*referenceFault(book, mod, field, "sound/gong"),
            "names \"sound/gong\", which the game does not share");
  EXPECT_EQ(*referenceFault(book, mod, field, "good/coal"),
            "names \"good/coal\", which is nothing that it takes");
  field.to = {"fitting", "good"};
  EXPECT_EQ(referenceFault(book, mod, field, "objects/lamp"), std::nullopt);
  EXPECT_EQ(thingTitle(book, mod, "objects/lamp"), "Quay lamp");
  EXPECT_EQ(thingTitle(book, mod, "good/coal"), "Coal");
}

TEST(SoundPieces, ValuesAreThoseOfItsFields) {
  mod::PieceDoc piece;
  piece.sort = "sound";
  piece.values = base::Json{
      {"sounds", {"sources/a", "sources/b"}}, {"loop", false}, {"from_s", 1.5}, {"pitch", {0.5, 2.0}}};
  const SoundValues says = soundValues(piece, rulebook::pieceValues(rulebook::PieceSort::sound));
  EXPECT_EQ(says.sounds.size(), 2U);
  EXPECT_FALSE(says.loop);
  EXPECT_EQ(says.pitch, (std::array<double, 2>{0.5, 2.0}));
  EXPECT_EQ(says.plays, "always");
  const SoundMaking how = soundMaking(says, {});
  EXPECT_EQ(how.from_s, 0) << "variants have no one place to be cut at";
  EXPECT_EQ(how.blend_s, 0) << "nothing loops";
}

}  // namespace
}  // namespace rakugo::prepare
