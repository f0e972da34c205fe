// Small corrections to the shape, in the Shape station: pick vertices in the bench, then move, turn, scale,
// bend, flatten them or put them on a grid; part them off; give them a region.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/shell/session.h"
#include "prepare/picked/selection.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;

namespace rakugo::app {

class CorrectionPanel : public QWidget {
  Q_OBJECT
 public:
  CorrectionPanel(Session& session, Bench& bench, QWidget* parent);
  /// `part` is the key of the part that is chosen; empty: what is drawn round decides.
  void refresh(const std::string& part);
  /// What was picked is seen, and can be pulled, while the station is stood at.
  void setStoodAt(bool here);

 private:
  QLayout* makeValues();
  void listen();
  void begin(Bench::Tool tool);
  void outlineDrawn(const std::vector<glm::vec3>& outline, std::optional<glm::vec3> eye, glm::vec3 toward);
  void pieceClicked(const std::string& part, glm::vec3 point);
  /// Looks, beside the other work, what lies in the selection.
  void look(prepare::Selection selection, bool find_part);
  void show();
  void apply();
  void showHandle();
  [[nodiscard]] base::Json ways() const;
  void drag(glm::vec3 value, bool done);
  void forget();
  /// Whether what is shown is of the present model, and nothing newer is being prepared.
  [[nodiscard]] bool present() const;

  Session& session_;
  Bench& bench_;
  QPushButton *box_, *outline_, *piece_, *apply_, *forget_;
  QCheckBox* front_;
  QComboBox *what_, *axis_, *region_, *bone_;
  QLineEdit *amount_, *soft_;
  QLabel *found_, *unit_, *soft_label_;
  std::string part_, of_model_;
  std::optional<prepare::Selection> selection_;
  std::vector<glm::vec3> places_;
  std::shared_ptr<const scene::Model> of_;  ///< the model that `places_` are of
  QString why_;
  bool looking_ = false, here_ = false;
  // The step that a drag of the handle has added, and what the drag began from.
  std::string dragged_step_;
  glm::vec3 dragged_by_{0};
  int drags_ = 0;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
