// The card of one piece: what it is, where it stands, what it says.
#pragma once

#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QFrame>
#include <QTimer>
#include <functional>

#include "app/shell/session.h"
#include "prepare/objects/collision_shapes.h"
#include "prepare/objects/piece_edits.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class FieldForm;
class PlaceEditor;
class SoundPanel;

class PieceCard : public QFrame {
  Q_OBJECT
 public:
  using Change = std::function<base::Status(mod::ObjectDoc&)>;
  PieceCard(Session& session, QWidget* parent);
  /// Shows a piece of the object, which is there.
  void showPiece(const mod::ObjectDoc& object, const rulebook::Kind* kind, const std::string& piece);
  /// Its place, and how it is turned or put by hand.
  [[nodiscard]] PlaceEditor& place() { return *place_; }
  /// Models of the last examination, by name.
  [[nodiscard]] prepare::ModelOf preparedModels() const;
  /// The bench has another scene: how a shape lies is said anew.
  void sceneChanged();

 Q_SIGNALS:
  /// The object's document is to be changed; edits with the same `joins` are one undo.
  void editAsked(const QString& what, const rakugo::app::PieceCard::Change& change, const QString& joins);
  /// The piece is a copy of the one that was shown, or the same under another name.
  void copied(const std::string& piece);
  void handChanged();
  /// A moving part is to be shown after it has gone so far, in radians; an empty name: none.
  void movedShown(const std::string& piece, float angle_rad);

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void makeNumbers(QVBoxLayout* rows);
  void makeTools(QVBoxLayout* rows);
  QComboBox* makeChoice(const char* name, const QString& title);
  void fillChoices(const mod::ObjectDoc& object, const rulebook::Kind* kind, const mod::PieceDoc& piece);
  void rename();
  void toFloor();
  [[nodiscard]] QString howItLies() const;
  [[nodiscard]] const mod::PieceDoc* piece() const;
  Session& session_;
  std::string piece_, form_for_;
  QLineEdit* name_;
  QComboBox *as_, *model_, *parent_, *pair_;
  PlaceEditor* place_;
  QDoubleSpinBox* scale_;
  QLabel* scale_name_;
  FieldForm* form_;
  SoundPanel* sound_;
  void showMoving(const mod::ObjectDoc& object, const mod::PieceDoc& piece);
  void moveOn();
  void stopMoving();
  QPushButton *floor_, *fit_, *middle_, *move_;
  QTimer frames_;
  QElapsedTimer moving_since_;
  QLabel* lies_;
};

}  // namespace rakugo::app
