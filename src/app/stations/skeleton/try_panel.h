// Trying a rigged model in the Skeleton station: the game's movements on it, limbs that are pulled, bones
// that are corrected by angles.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "prepare/movement/pose_tests.h"
#include "prepare/movement/pulls.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace rakugo::app {

class TryPanel : public QWidget {
  Q_OBJECT
 public:
  TryPanel(Session& session, Bench& bench, QWidget* parent);
  /// After the model has changed; hides itself where there is nothing to try.
  void refresh();
  /// Movements are shown in the bench while the station is stood at.
  void setStoodAt(bool here);
  /// The bone that angles are for; empty: none.
  void setBone(const std::string& key);

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  /// What movements are carried over with; made anew when the model is another.
  struct Stage {
    std::shared_ptr<const scene::Model> model, ghost;
    std::shared_ptr<const prepare::GameFigure> figure;
    const rulebook::Skeleton* skeleton = nullptr;
    std::optional<prepare::Retarget> retarget;
    prepare::SlotBones named, ghost_named;
    std::vector<size_t> chains;
  };
  QWidget* makeTimes();
  QWidget* makeTurns();
  void listen();
  /// Shows the moment that has come while a movement plays.
  void tick();
  void setUp();
  void choose();
  void show();
  void play(bool on);
  void pull(int end, glm::vec3 to, bool done);
  void turn(const char* which, double degrees);
  void propose();
  /// What would make the chosen bone point as the game's, in degrees; nothing where it does.
  [[nodiscard]] std::optional<glm::dvec3> proposedAngles() const;
  /// What each moment of the game's movements, and the skin in them, come to; rows that lead there.
  void fillMoments();
  void addMoment(const prepare::MomentOff& moment, int number);
  void addSkinFault(const prepare::SkinFault& fault, int number);
  QPushButton* addPlaceRow(const QString& what, const QString& text, const QString& name, size_t movement,
                           double at_s, std::optional<glm::vec3> mark);
  [[nodiscard]] QString placeText(size_t movement, double at_s) const;
  void goTo(size_t movement, double at_s);
  void fillTurns();
  [[nodiscard]] QString said(double at_s) const;
  [[nodiscard]] double moment() const;
  [[nodiscard]] bool atRest() const { return !stage_ || movement_ < 0; }

  Session& session_;
  Bench& bench_;
  QComboBox* what_;
  QPushButton *play_, *let_go_, *propose_, *all_;
  QSlider* time_;
  QCheckBox* as_game_;
  QLabel *said_, *turn_title_;
  QWidget *times_, *turns_, *moments_;
  QVBoxLayout* rows_;
  QDoubleSpinBox* angles_[3];
  std::unique_ptr<Stage> stage_;
  int movement_ = -1;  ///< in the skeleton's list; -1: at rest
  std::vector<prepare::Pull> pulls_;
  std::string bone_;
  bool here_ = false;
  QTimer clock_;
  QElapsedTimer since_;
  double began_s_ = 0;
};

}  // namespace rakugo::app
