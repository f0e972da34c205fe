// The instrument of the Tryout station.
#pragma once

#include <QElapsedTimer>
#include <QProcess>

#include "app/bench/bench.h"
#include "app/shell/game_line.h"
#include "app/stations/station_panel.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// The stand-in game and its log.
class TryoutStation : public StationPanel {
  Q_OBJECT
 public:
  TryoutStation(Session& session, Bench& bench, QWidget* parent);
  ~TryoutStation() override;
  void refresh() override;
  void start();
  [[nodiscard]] bool running() const { return game_.state() != QProcess::NotRunning; }
  [[nodiscard]] bool connected() const { return line_.connected(); }

 Q_SIGNALS:
  void installAsked();
  void runningChanged();
  void gameUpToDate(qint64 milliseconds);  ///< so long after the edit

 private:
  void addLine(const base::Json& line);
  /// Brings the running game up to date, when that is wanted and can be.
  void keepUp();
  void showState();
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
