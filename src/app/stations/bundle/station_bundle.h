// The instrument of the Bundle station.
#pragma once

#include <map>

#include "app/bench/bench.h"
#include "app/stations/bundle/package_view.h"
#include "app/stations/station_panel.h"

class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// What was built, the mod's own card, installing.
class BundleStation : public StationPanel {
  Q_OBJECT
 public:
  BundleStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  [[nodiscard]] QWidget* middle() override { return middle_; }
  /// Looks into any package, in the background, and shows what it holds.
  void lookInto(const QString& file);

 private:
  void makeCard();
  void makeMiddle();
  void showEntries(std::vector<EntryLine> lines);
  [[nodiscard]] EntryRow headOf(const std::string& object, const std::vector<EntryLine>& lines) const;
  void showRows();
  void listTargets();
  void listEntries();
  void listInstalled();
  void showBuilt(const base::Result<packing::Package>& package, bool good);
  void showInstalled(const std::vector<packing::InstalledPackage>& list);
  void showLooked();
  Chapter *build_chapter_, *card_chapter_;
  QWidget* middle_;
  QScrollArea* right_area_;
  std::map<std::string, QWidget*> fields_;
  QLabel* state_;
  QLabel* in_;
  QPushButton* alone_;
  EntryList* entries_;
  std::vector<EntryRow> own_rows_;
  QVBoxLayout* installed_;
  QVBoxLayout* looked_at_;
  QComboBox* targets_;
  QLabel* target_help_;
  QPushButton* build_;
  QPushButton* install_;
  QString listed_, listed_game_;
  std::optional<packing::Package> mine_;
  std::optional<LookedInto> looked_;
};

}  // namespace rakugo::app
