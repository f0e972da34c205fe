// The instrument of the Surface station.
#pragma once

#include <QTimer>
#include <map>
#include <set>

#include "app/bench/bench.h"
#include "app/stations/station_panel.h"
#include "check/role_proposals.h"
#include "prepare/surface/picture_needs.h"

class QComboBox;
class QPushButton;

namespace rakugo::app {

class AtlasPanel;
class DensityView;
class LooksPanel;
class PictureSheet;

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
  /// Makes cards for some of the materials that wait for theirs; the others follow, a few a turn.
  void addCards(size_t most);
  void addCard(const check::ModelState& state, const scene::Material& material);
  QWidget* makeSwatch(const check::ModelState& state, const scene::Material& material, QWidget* card);
  QComboBox* makeRoles(const rulebook::Kind& kind, const scene::Material& material, const QString& name,
                       QWidget* card);
  void addPictureLines(const check::ModelState& state, const scene::Material& material, QWidget* card,
                       QVBoxLayout* column);
  void giveRole(const std::string& material, const std::string& role, const QString& title);
  void addProposals(const check::ModelState& state);
  void choose(const std::string& material);
  void chooseNone();
  QWidget* makeProposal(const check::RoleProposal& proposal, const rulebook::Kind& kind, const QString& name,
                        QWidget* card);
  void giveLikely();
  QWidget* makeTones(const rulebook::Role& role, QWidget* card);
  void tryTone(const std::string& role, std::optional<glm::vec3> tone);
  [[nodiscard]] QString costText(const check::ModelState& state, const scene::Material& material) const;
  std::map<std::string, QWidget*> cards_;
  std::vector<scene::MaterialIndex> waiting_;
  std::shared_ptr<const scene::Model> cards_of_;
  decltype(prepare::pictureNeeds({})) needs_;  ///< of that model
  bool several_ = false;                       ///< it wears more than one material
  QTimer more_;
  std::set<std::string> together_;  ///< keys of materials that are chosen together
  DensityView* density_;
  QPushButton* density_shown_;
  std::vector<check::RoleProposal> proposals_;
  PictureSheet* sheet_;
  QPushButton* sheet_beside_;
  Chapter *materials_chapter_, *atlas_chapter_, *looks_chapter_;
  LooksPanel* looks_;
  AtlasPanel* atlas_;
  QVBoxLayout* materials_;
};

}  // namespace rakugo::app
