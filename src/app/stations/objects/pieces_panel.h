// What the object is made of: its pieces as a tree, where each stands, and which are mirror images.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "prepare/objects/piece_edits.h"

class QMenu;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class PieceCard;
class RowList;

class PiecesPanel : public QWidget {
  Q_OBJECT
 public:
  PiecesPanel(Session& session, Bench& bench, QWidget* parent);
  void refresh();
  /// One line on how things stand; empty without an object.
  [[nodiscard]] QString state() const;
  void choose(const std::string& piece);
  /// The bench's handle belongs to something else from now on, until a piece is chosen.
  void letGo();
  [[nodiscard]] const std::string& chosen() const { return chosen_; }
  /// What a piece is to the game, in a word or two.
  static QString whatItIs(const mod::PieceDoc& piece, const rulebook::Kind* kind);

 Q_SIGNALS:
  void tell(const QString& problem);
  /// A piece was chosen: the bench's handle is this panel's.
  void taken();

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  [[nodiscard]] const mod::ObjectDoc* object() const;
  [[nodiscard]] const mod::PieceDoc* piece() const;
  [[nodiscard]] prepare::GameAxes axes() const;
  void makeTogether(QVBoxLayout* column);
  void listPieces(const mod::ObjectDoc& doc, const rulebook::Kind* kind);
  void listCopies();
  void mark(const std::string& piece);
  void showMenu();
  void offerDerived(const mod::ObjectDoc& doc, QMenu* menu);
  void derive(const rulebook::KindModel& rule, const std::string& object, const std::string& from,
              const std::shared_ptr<const scene::Model>& prepared);
  void seeWith(const std::string& piece);
  /// An edit of the object's document; what it refuses is told.
  void edit(const QString& what, const std::function<base::Status(mod::ObjectDoc&)>& change,
            const QString& joins = {});
  void put(const prepare::PiecePlace& place, const QString& joins);
  void putAt(glm::vec3 at);
  void makePieces(const scene::SameParts& same, const std::shared_ptr<const scene::Model>& of);
  void showInBench();
  void dragged(glm::vec3 value, bool done);
  /// Where a drag puts the piece; what it is level with there is named in the bench.
  [[nodiscard]] prepare::PiecePlace draggedTo(glm::vec3 value);
  /// Adds a model as a piece at a place of the bench: on the surface there, else on the floor.
  void addDropped(const QStringList& models, QPointF at);
  Session& session_;
  Bench& bench_;
  std::string chosen_;
  bool has_hand_ = true;
  std::vector<std::string> marked_;  ///< taken together, in the order in which they were
  RowList* list_;
  QWidget* together_;
  PieceCard* card_;
  QPushButton* add_;
  QVBoxLayout* copies_;
};

}  // namespace rakugo::app
