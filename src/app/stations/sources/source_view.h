// A sound that is seen and heard, a picture that is looked at.
#pragma once

#include <QImage>
#include <QLabel>
#include <QWidget>
#include <filesystem>
#include <memory>

#include "app/shell/background.h"
#include "formats/sounds.h"

class QAudioSink;
class QBuffer;
class QPushButton;

namespace rakugo::app {

/// The wave of a sound; a click plays from there. Where the machine has no sound, it says so and still shows
/// it.
class SoundView : public QWidget {
  Q_OBJECT
 public:
  SoundView(std::shared_ptr<const formats::Sound> sound, QWidget* parent);
  ~SoundView() override;
  [[nodiscard]] bool canPlay() const { return sink_ != nullptr; }

 private:
  class Wave;
  void play(double from);
  void stop();
  std::shared_ptr<const formats::Sound> sound_;
  Wave* wave_;
  QPushButton* play_;
  std::unique_ptr<QAudioSink> sink_;
  std::unique_ptr<QBuffer> buffer_;
  double began_ = 0;  ///< where playing began, 0..1
};

/// A picture fitted into the width, read in the background; what is transparent shows the paper.
class PictureView : public QLabel {
  Q_OBJECT
 public:
  PictureView(const std::filesystem::path& file, Background& background, QWidget* parent);
};

}  // namespace rakugo::app
