// A sound that is seen and heard.
#pragma once

#include <QWidget>
#include <memory>

#include "formats/sounds.h"

class QAudioSink;
class QBuffer;
class QPushButton;

namespace rakugo::app {

/// The wave of a sound; a click plays from there. Where the machine has no sound, it says so and still shows
/// it. A sound that loops begins again at its end until it is stopped.
class SoundView : public QWidget {
  Q_OBJECT
 public:
  SoundView(std::shared_ptr<const formats::Sound> sound, QWidget* parent, bool loops = false);
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
  bool loops_ = false;
};

}  // namespace rakugo::app
