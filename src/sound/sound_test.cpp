#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "sound/loop.h"
#include "sound/loudness.h"
#include "sound/samples.h"

namespace rakugo::sound {
namespace {

constexpr uint32_t kRate = 48000;

std::vector<float> sine(double hz, double amplitude, double seconds, uint32_t rate = kRate,
                        uint32_t channels = 1) {
  std::vector<float> out;
  const auto frames = static_cast<size_t>(std::llround(seconds * rate));
  for (size_t f = 0; f < frames; ++f) {
    const double v = amplitude * std::sin(2 * std::numbers::pi * hz * static_cast<double>(f) / rate);
    for (uint32_t c = 0; c < channels; ++c) out.push_back(static_cast<float>(v));
  }
  return out;
}

double rms(std::span<const float> samples) {
  double sum = 0;
  for (const float s : samples) sum += static_cast<double>(s) * static_cast<double>(s);
  return samples.empty() ? 0 : std::sqrt(sum / static_cast<double>(samples.size()));
}

TEST(Loudness, IsThatOfTheCalibrationTone) {
  // ITU-R BS.1770-4: a 997 Hz sine at 0 dBFS in one front channel measures -3.01 LUFS.
  EXPECT_NEAR(*loudnessOf(sine(997, 1, 10), 1, kRate), -3.01, 0.02);
  EXPECT_NEAR(*loudnessOf(sine(997, 0.1, 10), 1, kRate), -23.01, 0.02);
  // EBU Tech 3341, case 1: stereo at -23 dBFS measures -23 LUFS.
  EXPECT_NEAR(*loudnessOf(sine(1000, std::pow(10, -23.0 / 20), 20, kRate, 2), 2, kRate), -23.0, 0.1);
}

TEST(Loudness, OfAShortSoundIsThatOfItRepeated) {
  EXPECT_NEAR(*loudnessOf(sine(1000, 0.5, 0.05), 1, kRate), *loudnessOf(sine(1000, 0.5, 5), 1, kRate), 0.1);
}

TEST(Loudness, IsNothingForSilence) {
  EXPECT_EQ(loudnessOf(std::vector<float>(kRate, 0), 1, kRate), std::nullopt);
  EXPECT_EQ(loudnessOf({}, 1, kRate), std::nullopt);
  EXPECT_EQ(loudnessOf(sine(1000, 0.00001, 2), 1, kRate), std::nullopt) << "below the gate";
  EXPECT_EQ(loudnessOf(sine(1000, 1, 1), 0, kRate), std::nullopt);
  EXPECT_EQ(truePeakOf({}, 2, kRate), std::nullopt);
}

TEST(Loudness, TruePeakLiesBetweenSamples) {
  // A quarter of the rate, begun at 45 degrees: samples reach 0.707, the wave 1 (BS.1770-4, annex 2).
  std::vector<float> wave;
  for (size_t f = 0; f < kRate; ++f)
    wave.push_back(
        static_cast<float>(std::sin(std::numbers::pi / 2 * static_cast<double>(f) + std::numbers::pi / 4)));
  EXPECT_NEAR(*truePeakOf(wave, 1, kRate), 0, 0.3);
}

TEST(Loudness, CountsSamplesThatWereCutOff) {
  std::vector<float> loud = sine(100, 2, 0.1);
  for (float& s : loud) s = std::clamp(s, -1.0F, 1.0F);
  EXPECT_GT(clippedSamples(loud, 1), 1000U);
  EXPECT_EQ(clippedSamples(sine(100, 0.99, 0.1), 1), 0U);
  EXPECT_EQ(clippedSamples(std::vector<float>{1, 0, 1, 0}, 1), 0U) << "single peaks are none";
}

TEST(Loop, OfWholePeriodsHasNoClickAndACutOneHas) {
  const std::vector<float> wave = sine(100, 0.5, 1);
  EXPECT_FALSE(seamOf(wave, 1, {0, kRate}).clicks());
  const Seam cut = seamOf(wave, 1, {0, kRate - 120});  // a quarter of a period short
  EXPECT_TRUE(cut.clicks());
  EXPECT_NEAR(cut.jump, 0.5, 0.01);
  EXPECT_NEAR(cut.usual, 0.5 * 2 * std::numbers::pi * 100 / kRate, 1e-4);
}

TEST(Loop, SeamOfNothingIsNone) {
  EXPECT_FALSE(seamOf({}, 1, {0, 10}).clicks());
  EXPECT_FALSE(seamOf(sine(100, 1, 1), 1, {5, 5}).clicks());
  EXPECT_FALSE(seamOf(sine(100, 1, 1), 0, {0, 10}).clicks());
  EXPECT_EQ(seamOf(sine(100, 1, 1), 1, {0, kRate + 1}).jump, 0);
}

TEST(Loop, BestCutIsWholePeriodsOfAWave) {
  // Two tones that are alike again after 0.1 s: 110 and 250 Hz.
  std::vector<float> wave = sine(110, 0.4, 2);
  const std::vector<float> other = sine(250, 0.3, 2);
  for (size_t i = 0; i < wave.size(); ++i) wave[i] += other[i];
  const Stretch found = findLoop(wave, 1, {3000, 90'000}, kRate / 10);
  EXPECT_FALSE(seamOf(wave, 1, found).clicks());
  EXPECT_NEAR(static_cast<double>(found.frames() % 4800) / 4800, 0, 0.01) << found.from << " to " << found.to;
  EXPECT_LE(found.from, 3000U + kRate / 10);
  EXPECT_GE(found.to, 90'000U - kRate / 10);
}

TEST(Loop, WithoutACrossingTheWishStays) {
  const std::vector<float> flat(kRate, 0.5F);
  EXPECT_EQ(findLoop(flat, 1, {100, 4000}, 50), (Stretch{100, 4000}));
  EXPECT_EQ(findLoop(flat, 1, {100, kRate + 1}, 50), (Stretch{100, kRate + 1})) << "beyond the end";
}

TEST(Loop, CrossfadeEndsWhereTheLoopBegins) {
  std::mt19937 random(7);
  std::normal_distribution<float> noise(0, 0.2F);
  std::vector<float> wave(2 * 4000);  // stereo
  for (float& s : wave) s = noise(random);
  const size_t blend = 500;
  const std::vector<float> loop = loopOf(wave, 2, {100, 3900}, blend);
  ASSERT_EQ(loop.size(), 2 * (3800 - blend));
  // It begins behind what was mixed in, and its last frame is nearly the one before that in the recording.
  EXPECT_EQ(loop[0], wave[(100 + blend) * 2]);
  EXPECT_NEAR(loop[loop.size() - 2], wave[(100 + blend - 1) * 2], 0.01);
  EXPECT_NEAR(loop[loop.size() - 1], wave[(100 + blend - 1) * 2 + 1], 0.01);
  // Noise that is mixed with other noise keeps its power.
  const std::span<const float> tail = std::span(loop).last(2 * blend);
  EXPECT_NEAR(rms(tail) / rms(wave), 1, 0.12);
}

TEST(Loop, CrossfadeOfWhatIsAlikeIsTheSame) {
  const std::vector<float> wave = sine(100, 0.5, 1);  // 480 frames a period
  const std::vector<float> loop = loopOf(wave, 1, {0, 48000}, 4800);
  ASSERT_EQ(loop.size(), 43200U);
  for (size_t i = 0; i < loop.size(); ++i) ASSERT_NEAR(loop[i], wave[i % 480], 1e-3) << i;
  EXPECT_TRUE(loopOf(wave, 1, {10, 10}, 5).empty());
  EXPECT_EQ(loopOf(wave, 1, {0, 100}, 90).size(), 50U) << "at most half is mixed";
}

TEST(Samples, MonoIsTheMean) {
  const std::vector<float> stereo = {1, 0, 0.5F, -0.5F};
  EXPECT_THAT(monoOf(stereo, 2), testing::ElementsAre(0.5F, 0.0F));
  EXPECT_TRUE(monoOf(stereo, 0).empty());
}

TEST(Samples, AnotherRateKeepsToneLevelAndLength) {
  const std::vector<float> wave = sine(440, 0.5, 1, 44100);
  const std::vector<float> other = resampled(wave, 1, 44100, 32000, false);
  ASSERT_EQ(other.size(), 32000U);
  const std::vector<float> wanted = sine(440, 0.5, 1, 32000);
  for (size_t i = 500; i + 500 < other.size(); ++i) ASSERT_NEAR(other[i], wanted[i], 2e-3) << i;
  // What the new rate cannot hold is gone.
  EXPECT_LT(rms(resampled(sine(20000, 0.5, 1, 44100), 1, 44100, 32000, false)), 0.002);
  EXPECT_EQ(resampled(wave, 1, 44100, 44100, false), wave);
  EXPECT_TRUE(resampled(wave, 1, 44100, 0, false).empty());
  EXPECT_TRUE(resampled({}, 1, 44100, 8000, false).empty());
  EXPECT_TRUE(resampled(wave, 1, 44100, 100, false).empty()) << "more than 256 times";
}

TEST(Samples, ALoopStaysOneAtAnotherRate) {
  const std::vector<float> loop = sine(100, 0.5, 0.5, 44100);
  const std::vector<float> other = resampled(loop, 1, 44100, 32000, true);
  EXPECT_FALSE(seamOf(other, 1, {0, other.size()}).clicks());
  const std::vector<float> plain = resampled(loop, 1, 44100, 32000, false);
  ASSERT_EQ(other.size(), plain.size());
  // A loop has no silence before it: its first samples are the wave's own.
  const std::vector<float> wanted = sine(100, 0.5, 0.5, 32000);
  for (size_t i = 0; i < 200; ++i) EXPECT_NEAR(other[i], wanted[i], 3e-3) << i;
}

}  // namespace
}  // namespace rakugo::sound
