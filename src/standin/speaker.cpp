#include "standin/speaker.h"

#include <QAudioDevice>
#include <QAudioSink>
#include <QMediaDevices>

namespace rakugo::standin {

Speaker::Speaker(QObject* parent) : QObject(parent) {
  const QAudioDevice device = QMediaDevices::defaultAudioOutput();
  QAudioFormat format;
  format.setSampleRate(static_cast<int>(Mixer::kRate_hz));
  format.setChannelCount(1);
  format.setSampleFormat(QAudioFormat::Float);
  if (device.isNull() || !device.isFormatSupported(format)) return;
  sink_ = std::make_unique<QAudioSink>(device, format);
  // What is mixed now is heard a tenth of a second later: less would break off where frames are dear.
  sink_->setBufferSize(format.bytesForDuration(100'000));
  out_ = sink_->start();
}

Speaker::~Speaker() {
  if (sink_) sink_->stop();
}

void Speaker::play(const std::vector<Heard>& heard, glm::vec3 ear) {
  if (out_ == nullptr) return;
  const auto frames = static_cast<size_t>(std::max<qsizetype>(sink_->bytesFree(), 0)) / sizeof(float);
  if (frames == 0) return;
  const std::vector<float> samples = mixer_.mix(quiet_ ? std::vector<Heard>() : heard, ear, frames);
  out_->write(reinterpret_cast<const char*>(samples.data()),
              static_cast<qint64>(samples.size() * sizeof(float)));
}

}  // namespace rakugo::standin
