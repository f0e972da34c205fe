// Attachment points of the object's models: where each is, which are mirror images, and what would hang
// there.
#pragma once

#include <QFrame>
#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "prepare/objects/point_edits.h"

class QComboBox;
class QVBoxLayout;

namespace rakugo::app {

class PlaceEditor;
class RowList;

class PointsPanel : public QWidget {
  Q_OBJECT
 public:
  PointsPanel(Session& session, Bench& bench, QWidget* parent);
  void refresh();
  /// One line on how things stand.
  [[nodiscard]] QString state() const;
  /// Chooses a point of a model of the object, in the bench too.
  void choose(const std::string& model, const std::string& point);
  /// Shows a point that a finding is about, placed or not; returns the control that mends it, or null.
  QWidget* showPoint(const std::string& model, const std::string& point);
  /// No point is chosen any more: the bench's handle belongs to something else.
  void letGo();

 Q_SIGNALS:
  void tell(const QString& problem);
  /// A point was chosen: the bench's handle is this panel's.
  void taken();

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  struct Chosen {
    std::string model, point;
    bool operator==(const Chosen&) const = default;
  };
  [[nodiscard]] const mod::ObjectDoc* object() const;
  [[nodiscard]] const rulebook::Kind* kind() const;
  [[nodiscard]] const mod::ModelDoc* modelDoc(const std::string& model) const;
  [[nodiscard]] const mod::PointDoc* point() const;
  /// The models of the object, each once.
  [[nodiscard]] std::vector<std::string> models() const;
  void makeCard(QVBoxLayout* column);
  void listPoints();
  void listMissing();
  void showCard();
  void fillPairs(const mod::ModelDoc& doc);
  void fillHanging();
  void pair();
  void hang();
  void place(const std::string& model, const std::string& point);
  void put(const prepare::PiecePlace& place, const QString& joins);
  void edit(const std::string& model, const QString& what,
            const std::function<base::Status(mod::ModelDoc&)>& change, const QString& joins = {});
  void showInBench();
  /// Where a drag puts the point; what it is level with there is named in the bench.
  [[nodiscard]] prepare::PiecePlace draggedTo(glm::vec3 value);
  void dragged(glm::vec3 value, bool done);
  Session& session_;
  Bench& bench_;
  Chosen chosen_;
  RowList* list_;
  QFrame* card_;
  PlaceEditor* place_;
  QComboBox *pair_, *hangs_;
  QVBoxLayout* missing_;
  std::string missing_for_;
};

}  // namespace rakugo::app
