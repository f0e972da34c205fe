// What an outfit covers, and how it meets the body: regions held against the game's record, and seams. Part
// of the Shape station for kinds that have either.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/shell/session.h"

class QLabel;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace rakugo::app {

class OutfitPanel : public QWidget {
  Q_OBJECT
 public:
  OutfitPanel(Session& session, Bench& bench, QWidget* parent);
  void refresh();
  /// Whether the kind has anything of the sort.
  [[nodiscard]] bool concerned() const { return concerned_; }
  /// What the station draws in the bench: the colour of each part by the region it covers, the names of
  /// regions, and the borders that meet.
  [[nodiscard]] const std::map<std::string, QColor>& washes() const { return washes_; }
  [[nodiscard]] const std::vector<std::pair<glm::vec3, QString>>& names() const { return names_; }
  [[nodiscard]] const std::vector<Bench::Line>& lines() const { return lines_; }

 private:
  void listRegions(const check::ModelState& state);
  void addRegion(const std::string& id, const QString& title, const scene::RegionCover* cover,
                 const QString& absent);
  void chooseRegion(const std::string& id);
  void listSizes(const check::ModelState& state);
  QPushButton* sizeButton(const std::string& variant, bool tied, QWidget* row);
  void tie(const std::string& variant, const std::string& source);
  /// Shows a size between the first and `blended_`; the newest value wins.
  void blend();
  void listSeams(const check::ModelState& state);
  void edit(const QString& label, const char* kind, base::Json values, bool once);

  Session& session_;
  Bench& bench_;
  QVBoxLayout *regions_, *sizes_, *seams_;
  QWidget *region_part_, *size_part_, *seam_part_;
  QPushButton* from_body_;
  QSlider* slider_;
  QLabel* between_;
  std::vector<std::pair<glm::vec3, QString>> names_;
  std::map<std::string, QColor> washes_;
  std::vector<Bench::Line> lines_;
  std::string of_model_;
  std::string chosen_;   ///< region
  std::string blended_;  ///< the variant that the slider leads to
  bool blending_ = false, blend_again_ = false, concerned_ = false;
  std::shared_ptr<PictureCache> pictures_ = std::make_shared<PictureCache>();  ///< of the background's thread
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
