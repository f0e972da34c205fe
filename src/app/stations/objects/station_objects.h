// The instrument of the Objects station.
#pragma once

#include <map>

#include "app/bench/bench.h"
#include "app/stations/station_panel.h"

class QCheckBox;
class QLabel;

namespace rakugo::app {

class DonorPanel;
class TextsPanel;
class VariantsPanel;
class FallPanel;
class ListsPanel;
class PiecesPanel;
class PointsPanel;

/// The object's card, icon and attachment points.
class ObjectsStation : public StationPanel {
  Q_OBJECT
 public:
  ObjectsStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;

 private:
  void rebuild();
  void sayChapters();
  void addKindChoice(const std::string& present, const rulebook::Kind* kind);
  void addCard(const mod::ObjectDoc& doc, const rulebook::Kind& kind);
  void addIcon(const rulebook::Kind& kind);
  [[nodiscard]] base::Json fieldValue(const std::string& id) const;
  /// From the bench's angle, or from that of the kind.
  void takeIcon(bool as_usual);
  void takeIcons();
  [[nodiscard]] std::vector<std::string> iconsWanted() const;
  void addReplaces(const rulebook::Kind& kind);
  void setField(const std::string& id, const base::Json& value);
  PiecesPanel* pieces_;
  PointsPanel* points_;
  ListsPanel* lists_;
  DonorPanel* donor_;
  QLabel* seen_;
  QCheckBox* show_seen_;
  void saySeenBox();
  VariantsPanel* variants_;
  TextsPanel* texts_;
  FallPanel* fall_;
  void sayBody();
  QLabel* body_ = nullptr;
  Chapter *kind_chapter_, *pieces_chapter_, *body_chapter_, *card_chapter_, *lists_chapter_, *donor_chapter_,
      *variants_chapter_, *texts_chapter_, *icon_chapter_, *points_chapter_;
  std::string built_for_;
  std::map<std::string, QWidget*> editors_;
  QLabel* icon_ = nullptr;
  std::vector<std::function<void()>> refreshers_;
};

}  // namespace rakugo::app
