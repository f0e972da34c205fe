// The machine's loudspeaker, where it has one.
#pragma once

#include <QObject>
#include <memory>

#include "standin/hearing.h"

class QAudioSink;
class QIODevice;

namespace rakugo::standin {

class Speaker : public QObject {
  Q_OBJECT
 public:
  explicit Speaker(QObject* parent = nullptr);
  ~Speaker() override;
  /// Whether anything can be heard.
  [[nodiscard]] bool works() const { return out_ != nullptr; }
  void setQuiet(bool quiet) { quiet_ = quiet; }
  [[nodiscard]] bool quiet() const { return quiet_; }
  /// Mixes as much as the machine takes now. Called at every tick.
  void play(const std::vector<Heard>& heard, glm::vec3 ear);

 private:
  std::unique_ptr<QAudioSink> sink_;
  QIODevice* out_ = nullptr;
  Mixer mixer_;
  bool quiet_ = false;
};

}  // namespace rakugo::standin
