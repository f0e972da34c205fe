// What an outfit covers, and how it meets the body: regions held against the game's record, and seams. Part
// of the Shape station for kinds that have either.
#pragma once

#include <QWidget>

#include "app/background.h"
#include "app/bench.h"
#include "app/session.h"
#include "scene/seams.h"

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

 private:
  void addRegion(const std::string& id, const QString& title, bool known, bool required);
  void listSeams();
  void lookAtSeams();
  void chooseRegion(const std::string& id);
  void listSizes();
  void tie(const std::string& variant, const std::string& source);
  /// Shows a size between the first and `blended_`; the newest value wins.
  void blend();
  void edit(const QString& label, const char* kind, base::Json values, bool once);

  Session& session_;
  Bench& bench_;
  QVBoxLayout *regions_, *sizes_, *seams_;
  QWidget *region_part_, *size_part_, *seam_part_;
  QSlider* slider_;
  QLabel* between_;
  std::string blended_;  ///< the variant that the slider leads to
  bool blending_ = false, blend_again_ = false;
  std::shared_ptr<PictureCache> pictures_ = std::make_shared<PictureCache>();  ///< of the background's thread
  QPushButton* from_body_;
  std::string chosen_;  ///< region
  std::optional<size_t> seam_;
  struct Found {
    std::vector<scene::Border> outfit, body;
    std::vector<std::string> outfit_parts, body_parts;  ///< names, by border
    scene::Seams seams;
  };
  std::shared_ptr<const Found> found_;
  std::shared_ptr<const scene::Model> of_, asked_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
