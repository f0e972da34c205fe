// The instrument of the Sources station.
#pragma once

#include "app/bench/bench.h"
#include "app/stations/station_panel.h"

class QLabel;
class QPushButton;

namespace rakugo::app {

class SourceCredit;
class SourceDetails;
class SourceList;
class SourcePictures;
class SourceRows;
class SourceWork;

/// The sources of the mod, what is inside the chosen one, what is to be done about it, and whom it is owed
/// to.
class SourcesStation : public StationPanel {
  Q_OBJECT
 public:
  SourcesStation(Session& session, Bench& bench, SourceWork& work, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// Chooses a source, and the model that is made of it.
  void choose(const std::string& source);

 Q_SIGNALS:
  void exportAsked();
  void pictured(const QString& source, const QVector<QImage>& pictures);  ///< a small picture of it was taken

 private:
  void sayChapters();
  Chapter *list_chapter_, *details_chapter_, *credit_chapter_;
  SourceWork& work_;
  SourcePictures* pictures_;
  SourceRows* rows_;
  SourceList* list_;
  SourceDetails* details_;
  SourceCredit* credit_;
  QLabel* empty_;
  QPushButton* export_;
  std::string source_, model_;  ///< the chosen one, and the model that was chosen when it was
  bool refreshing_ = false;
};

}  // namespace rakugo::app
