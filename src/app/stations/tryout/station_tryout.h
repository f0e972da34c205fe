// The instrument of the Tryout station.
#pragma once

#include <QElapsedTimer>
#include <QProcess>
#include <QTimer>

#include "app/bench/bench.h"
#include "app/shell/game_line.h"
#include "app/stations/station_panel.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class GamePicture;

/// The stand-in game and its log.
class TryoutStation : public StationPanel {
  Q_OBJECT
 public:
  TryoutStation(Session& session, Bench& bench, QWidget* parent);
  ~TryoutStation() override;
  void refresh() override;
  [[nodiscard]] QWidget* middle() override { return middle_; }
  void start();
  [[nodiscard]] bool running() const { return game_.state() != QProcess::NotRunning; }
  [[nodiscard]] bool connected() const { return line_.connected(); }

 Q_SIGNALS:
  void installAsked();
  void runningChanged();
  void gameUpToDate(qint64 milliseconds);  ///< so long after the edit

 private:
  void makeGame();
  void makeTrials();
  void addTrialButtons(QVBoxLayout* rows);
  /// From one end to the other, 0 to 1, as `value` of a command.
  void addTrialSlider(QVBoxLayout* rows, const char* name, const std::pair<QString, QString>& ends,
                      const QString& what, const char* command);
  void addTrialPaints(QVBoxLayout* rows);
  void makeMiddle();
  void tellGame(base::Json command);
  void askPicture();
  void filterLog();
  void addLine(const base::Json& line);
  /// Brings the running game up to date, when that is wanted and can be.
  void keepUp();
  void showState();
  Chapter *game_chapter_, *trial_chapter_;
  QWidget *middle_, *trials_;
  QLabel* not_running_;
  QComboBox* object_;
  GamePicture* picture_;
  QPushButton* only_ours_;
  QString log_words_;
  QTimer picture_clock_;
  bool asking_ = false;  ///< for a picture
  QProcess game_;
  GameLine line_;
  QPushButton* start_;
  QCheckBox* live_;
  QElapsedTimer since_edit_;  ///< of the first edit that the game has not seen
  bool behind_ = false, bringing_ = false;
  std::filesystem::path followed_;              ///< the mod that the game was started for
  std::shared_ptr<const mod::ModState> given_;  ///< what the game has
  QString how_fast_;
  QLineEdit* folder_;
  QVBoxLayout* log_;
  QLabel* state_;
};

/// The folder of the stand-in game: $RAKUGO_GAME, else kelpwick's place in the user's data folder.
QString gameFolder();
/// Remembers another one for this run and the next.
void setGameFolder(const QString& folder);

}  // namespace rakugo::app
