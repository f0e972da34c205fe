// The instrument of the Surface station.
#pragma once

#include <map>
#include <set>

#include "app/bench/bench.h"
#include "app/stations/station_panel.h"
#include "check/role_proposals.h"
#include "prepare/surface/picture_needs.h"

class QPushButton;

namespace rakugo::app {

class AtlasPanel;
class DensityView;
class LooksPanel;
class MaterialCard;
class PictureSheet;
class RowList;

/// What the game does with each material, and its pictures.
class SurfaceStation : public StationPanel {
  Q_OBJECT
 public:
  SurfaceStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  [[nodiscard]] QWidget* beside() override;
  [[nodiscard]] bool besideWanted() const override;

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void addCard(const check::ModelState& state, const scene::Material& material);
  void listMaterials(const check::ModelState& state);
  MaterialCard* openCard(const std::string& material);
  [[nodiscard]] QImage pictureOf(const QString& row) const;
  void giveRole(const std::string& material, const std::string& role, const QString& title);
  void addProposals(const check::ModelState& state);
  void choose(const std::string& material);
  void chooseTogether(const std::string& material, bool together);
  void chooseNone();
  void giveLikely();
  void tryTone(const std::string& role, const std::optional<glm::vec3>& tone);
  std::map<std::string, MaterialCard*> card_of_;  ///< by the material's key
  std::vector<scene::MaterialIndex> used_;        ///< of the model that is shown
  decltype(prepare::pictureNeeds({})) needs_;     ///< of that model
  std::string open_;                              ///< key of the material whose card stands above the list
  std::set<std::string> together_;                ///< keys of materials that are chosen together
  DensityView* density_;
  QPushButton* density_shown_;
  std::vector<check::RoleProposal> proposals_;
  PictureSheet* sheet_;
  QPushButton* sheet_beside_;
  Chapter *materials_chapter_, *atlas_chapter_, *looks_chapter_;
  LooksPanel* looks_;
  AtlasPanel* atlas_;
  QVBoxLayout *materials_, *cards_;
  RowList* list_;  ///< of many materials; else hidden
};

}  // namespace rakugo::app
