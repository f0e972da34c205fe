// What the object is made of: its pieces, where each stands, and which are mirror images.
#pragma once

#include <QDoubleSpinBox>
#include <QWidget>
#include <array>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "prepare/objects/piece_edits.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class RowList;

class PiecesPanel : public QWidget {
  Q_OBJECT
 public:
  PiecesPanel(Session& session, Bench& bench, QWidget* parent);
  void refresh();
  /// One line on how things stand; empty without an object.
  [[nodiscard]] QString state() const;
  void choose(const std::string& piece);
  [[nodiscard]] const std::string& chosen() const { return chosen_; }

 Q_SIGNALS:
  void tell(const QString& problem);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  [[nodiscard]] const mod::ObjectDoc* object() const;
  [[nodiscard]] const mod::PieceDoc* piece() const;
  [[nodiscard]] prepare::GameAxes axes() const;
  void makeCard(QVBoxLayout* column);
  QWidget* makeNumbers();
  QDoubleSpinBox* makeNumber(const QString& name, const QString& title, bool angle);
  QComboBox* makeChoice(const char* name, const QString& title);
  void listPieces(const mod::ObjectDoc& doc, const rulebook::Kind* kind);
  void fillCard(const mod::ObjectDoc& doc, const rulebook::Kind* kind);
  void listCopies();
  void showMenu();
  /// An edit of the object's document; what it refuses is told.
  void edit(const QString& what, const std::function<base::Status(mod::ObjectDoc&)>& change,
            const QString& joins = {});
  void put(const prepare::PiecePlace& place, const QString& joins);
  void takeNumbers(const QString& from);
  void makePieces(const scene::SameParts& same, const std::shared_ptr<const scene::Model>& of);
  void showInBench();
  void dragged(glm::vec3 value, bool done);
  [[nodiscard]] prepare::PiecePlace draggedTo(glm::vec3 value) const;
  Session& session_;
  Bench& bench_;
  std::string chosen_;
  RowList* list_;
  QWidget* card_;
  QLineEdit* name_;
  QComboBox *as_, *model_, *pair_, *about_;
  std::array<QDoubleSpinBox*, 3> at_{}, turn_{};  ///< along and about forward, side and up
  QPushButton *add_, *turn_by_hand_;
  QVBoxLayout* copies_;
};

}  // namespace rakugo::app
