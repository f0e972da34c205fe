#include "app/widgets/sound_view.h"

#include <QAudioDevice>
#include <QAudioSink>
#include <QBuffer>
#include <QMediaDevices>
#include <QMouseEvent>
#include <QPainter>
#include <QTimer>
#include <algorithm>
#include <cmath>

#include "app/widgets/panels.h"

namespace rakugo::app {

class SoundView::Wave : public QWidget {
 public:
  Wave(const formats::Sound& sound, std::function<void(double)> clicked, QWidget* parent)
      : QWidget(parent), clicked_(std::move(clicked)), wave_(formats::waveOf(sound, 512)) {
    setObjectName(QStringLiteral("wave"));
    setAccessibleName(tr("The sound's wave"));
    setFixedHeight(84);
    setMinimumWidth(200);
  }
  void setAt(double at) {
    at_ = at;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.fillRect(rect(), t.sheet);
    p.setPen(t.hair);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    const double middle = height() / 2.0, reach = height() / 2.0 - 4;
    p.drawLine(QPointF(0, middle), QPointF(width(), middle));
    p.setPen(t.click);
    for (int x = 0; x < width() && !wave_.empty(); ++x) {
      const auto& [low, high] = wave_[static_cast<size_t>(x) * wave_.size() / static_cast<size_t>(width())];
      p.drawLine(QPointF(x, middle - static_cast<double>(std::clamp(high, -1.0F, 1.0F)) * reach),
                 QPointF(x, middle - static_cast<double>(std::clamp(low, -1.0F, 1.0F)) * reach));
    }
    if (at_ < 0) return;
    p.setPen(QPen(t.stops, 2));
    p.drawLine(QPointF(at_ * width(), 1), QPointF(at_ * width(), height() - 1));
  }
  void mousePressEvent(QMouseEvent* event) override {
    clicked_(std::clamp(event->position().x() / std::max(1, width()), 0.0, 1.0));
  }

 private:
  std::function<void(double)> clicked_;
  std::vector<std::pair<float, float>> wave_;
  double at_ = -1;
};

SoundView::SoundView(std::shared_ptr<const formats::Sound> sound, QWidget* parent, bool loops)
    : QWidget(parent), sound_(std::move(sound)), loops_(loops) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  wave_ = new Wave(
      *sound_, [this](double at) { play(at); }, this);
  column->addWidget(wave_);
  play_ = new QPushButton(tr("Hear it"), this);
  play_->setObjectName(QStringLiteral("hear"));
  column->addWidget(play_);
  const QAudioDevice device = QMediaDevices::defaultAudioOutput();
  QAudioFormat format;
  format.setSampleRate(static_cast<int>(sound_->info.rate_hz));
  format.setChannelCount(static_cast<int>(sound_->info.channels));
  format.setSampleFormat(QAudioFormat::Float);
  QString why;
  if (device.isNull())
    why = tr("This machine has no sound; the wave shows what there is to hear.");
  else if (!device.isFormatSupported(format))
    why = tr("This machine's sound cannot play %1 Hz in %2 channels.")
              .arg(sound_->info.rate_hz)
              .arg(sound_->info.channels);
  if (!why.isEmpty()) {
    play_->setEnabled(false);
    QLabel* said = quietText(why, this);
    said->setObjectName(QStringLiteral("no-sound"));
    column->addWidget(said);
    return;
  }
  sink_ = std::make_unique<QAudioSink>(device, format);
  buffer_ = std::make_unique<QBuffer>();
  // One that loops is laid out several times over, so that its seam is heard as the game plays it.
  const qsizetype bytes = static_cast<qsizetype>(sound_->samples.size() * sizeof(float));
  const QByteArray once(reinterpret_cast<const char*>(sound_->samples.data()), bytes);
  constexpr qsizetype kMost = 32 << 20;
  buffer_->setData(loops_ && bytes > 0 ? once.repeated(std::clamp<qsizetype>(kMost / bytes, 1, 64)) : once);
  sink_->setBufferSize(format.bytesForDuration(200'000));
  connect(play_, &QPushButton::clicked, this, [this] {
    if (sink_->state() == QAudio::ActiveState)
      stop();
    else
      play(0);
  });
  connect(sink_.get(), &QAudioSink::stateChanged, this, [this](QAudio::State state) {
    if (state != QAudio::IdleState) return;  // all of it was heard
    if (loops_)
      play(0);
    else
      stop();
  });
  auto* clock = new QTimer(this);
  connect(clock, &QTimer::timeout, this, [this] {
    if (sink_->state() != QAudio::ActiveState) return;
    const double seconds = std::max(sound_->info.seconds(), 1e-3);
    const double at = began_ + static_cast<double>(sink_->processedUSecs()) * 1e-6 / seconds;
    wave_->setAt(loops_ ? at - std::floor(at) : std::min(1.0, at));
  });
  clock->start(40);
}

SoundView::~SoundView() {
  if (sink_) sink_->stop();
}

void SoundView::play(double from) {
  if (!sink_) return;
  sink_->stop();
  began_ = from;
  const auto frame = static_cast<qint64>(from * static_cast<double>(sound_->info.frames));
  buffer_->close();
  buffer_->open(QIODevice::ReadOnly);
  buffer_->seek(frame * static_cast<qint64>(sound_->info.channels * sizeof(float)));
  sink_->start(buffer_.get());
  play_->setText(tr("Stop"));
}

void SoundView::stop() {
  sink_->stop();
  wave_->setAt(-1);
  play_->setText(tr("Hear it"));
}

}  // namespace rakugo::app
