// The instrument of the Skeleton station.
#pragma once

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/stations/station_panel.h"
#include "prepare/matching/families.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class TryPanel;
class MatchBoard;
class RowList;

/// The model's bones, and which of the game's they are.
class SkeletonStation : public StationPanel {
  Q_OBJECT
 public:
  SkeletonStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  [[nodiscard]] QWidget* beside() override { return beside_; }
  [[nodiscard]] bool besideWanted() const override;
  void showPlace(const check::FindingPlace& place) override;
  /// The bench draws bones while this station is stood at.
  void setStoodAt(bool here);

 private:
  void addMatch();
  /// Gives the board half of the middle, beside the bench, or takes it back into its chapter.
  void putBoard(bool beside);
  void addWeights();
  void sayChapters(const check::ModelState* state, const rulebook::Skeleton* wanted);
  void chooseBone(const std::string& key);
  void listBones(const scene::Model& model, const rulebook::Skeleton* wanted);
  /// The skeleton that the model's kind asks for, or null.
  [[nodiscard]] const rulebook::Skeleton* skeleton() const;
  [[nodiscard]] QString saying(const check::ModelState& state, const rulebook::Skeleton* wanted,
                               bool some) const;
  void fillBoard(const check::ModelState& state, const rulebook::Skeleton& wanted);
  static std::vector<std::tuple<std::string, std::string, bool>> takable(const check::ModelState& state,
                                                                         const rulebook::Skeleton& wanted);
  /// Says how a slot stands, and which bone it has.
  void showSlot(const QString& slot);
  void chooseSlot(const QString& slot);
  /// Says when the model's bones are those of a family that is known, and offers its steps.
  void showFamily();
  void useFamily();
  /// Whose weights can be taken: the game's example, and models of the mod that have bones.
  void fillDonors();
  void takeWeights();
  /// Shows in the bench what follows the chosen bone, where that is asked for.
  void showWeightsOf();
  void showWeights(const scene::WeightReport& weights, const rulebook::Kind& kind);
  /// A person says which bone a slot's is; an empty key takes back what was said.
  void give(const std::string& slot, const std::string& key);
  void take(bool only_sure);

  TryPanel* try_;
  MatchBoard* board_;
  QWidget* beside_;            ///< holds the board while it stands beside the bench
  QPushButton* board_beside_;  ///< whether it does
  QLabel* board_there_;        ///< says so in its place
  QComboBox *slots_, *bones_;
  QLabel *said_, *reason_, *weights_said_;
  Chapter *match_chapter_, *weights_chapter_, *movement_chapter_, *bones_chapter_;
  QPushButton *sure_, *all_;
  QCheckBox* see_weights_;
  QLabel* family_said_;
  QPushButton* use_family_;
  QWidget* donor_row_;
  QComboBox* donors_;
  std::vector<prepare::Habit> habits_;
  QWidget* weights_;
  RowList* list_;
  std::string chosen_;
  bool here_ = false;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
