// The picture sheet: a picture of a material with the texture coordinates of all that wears it, beside the
// bench.
#pragma once

#include <QWidget>
#include <string>

#include "app/bench/bench.h"
#include "app/bench/bench_hit.h"
#include "app/shell/session.h"
#include "app/stations/surface/sheet_canvas.h"
#include "app/stations/surface/stored_view.h"

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;
class QPushButton;
class QSlider;

namespace rakugo::app {

/// Shows one material of the chosen model. What is picked in it is shown in the bench, and the other way
/// round.
class PictureSheet : public QWidget {
  Q_OBJECT
 public:
  PictureSheet(Session& session, Bench& bench, QWidget* parent = nullptr);
  /// Brings it to the present state; does nothing while it is not seen.
  void refresh();
  /// The material, by key; one that the model does not wear leaves the sheet as it is.
  void choose(const std::string& material);
  [[nodiscard]] const std::string& material() const { return material_; }
  [[nodiscard]] const std::shared_ptr<const StoredView>& stored() const { return stored_; }
  [[nodiscard]] SheetCanvas& canvas() const { return *canvas_; }

 Q_SIGNALS:
  void materialChosen(const QString& material);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fillBars();
  void showSlot();
  QLayout* makeStoredRow();
  void storeForTarget();
  void showStored();
  void showWorst();
  void makeMap();
  void tellMap();
  void tellPlace(std::optional<glm::vec2> uv);
  void showInBench(std::optional<size_t> triangle);
  void takeHit(const BenchHit& hit);
  /// Of the scene's list; nothing where it is not there.
  [[nodiscard]] std::optional<size_t> number() const;
  [[nodiscard]] size_t slot() const;

  Session& session_;
  Bench& bench_;
  QComboBox *materials_, *slots_, *channels_, *levels_, *targets_;
  QSlider* divider_;
  QPushButton* worst_;
  QLabel* stored_said_;
  QCheckBox *checker_, *outlines_, *faults_;
  SheetCanvas* canvas_;
  QLabel *said_, *place_;
  QGridLayout* legend_;
  int legend_shown_ = 0;
  std::string material_;
  std::shared_ptr<const BenchScene> shown_;  ///< the scene that the map is of
  std::string mapped_;                       ///< and the material and set of coordinates
  uint64_t generation_ = 0;
  std::shared_ptr<const StoredView>
      stored_;             ///< of the picture and target that are chosen; null: none, or not yet
  std::string stored_of_;  ///< how it is stored, so that it is made once
  std::shared_ptr<const base::Bytes> stored_bytes_;  ///< and the picture that it is of
  std::optional<BenchHit> awaited_;                  ///< clicked in the bench before the map was there
};

}  // namespace rakugo::app
