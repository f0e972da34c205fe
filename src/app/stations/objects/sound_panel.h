// What is made of the sound of a piece: its wave, heard as the game plays it, how loud it is, whether it
// clicks.
#pragma once

#include <QWidget>

#include "app/shell/session.h"
#include "prepare/objects/sound_pieces.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class SoundPanel : public QWidget {
  Q_OBJECT
 public:
  SoundPanel(Session& session, QWidget* parent);
  /// Shows what the piece lets one hear; of variants the first. What is made is made in the background.
  void show(const mod::ObjectDoc& object, const mod::PieceDoc& piece);

 Q_SIGNALS:
  /// The stretch of the recording that joins itself best, in seconds.
  void betterLoopFound(double from_s, double to_s);

 private:
  void make(std::shared_ptr<const formats::Sound> recording, const prepare::SoundMaking& how);
  void showMade(const std::shared_ptr<const prepare::MadeSound>& made, bool loop);
  void findLoop();
  void say(const QString& text);
  Session& session_;
  std::shared_ptr<const formats::Sound> recording_;  ///< of what is shown, or null
  prepare::SoundMaking how_;
  QLabel* said_;
  QPushButton* find_;
  QVBoxLayout* view_;
  uint64_t asked_ = 0;  ///< the last job; what older ones make is dropped
};

}  // namespace rakugo::app
