// How the model's mesh hangs together, in the Shape station: borders, volume, and every sort of fault with
// its places.
#pragma once

#include <QPointer>
#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/shell/session.h"
#include "check/structure_faults.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

/// Shows what the examination found of the chosen model, or of one of its parts. A click on a sort of fault
/// marks its places in the bench and walks from one to the next. What costs too much to look for after each
/// edit is looked for when asked, beside the other work; it can be cancelled, and holds until the model
/// changes.
class StructurePanel : public QWidget {
  Q_OBJECT
 public:
  StructurePanel(Session& session, Bench& bench, QWidget* parent);
  ~StructurePanel() override;
  /// `part` is the key of the part that is shown alone; empty for all of them.
  void refresh(const std::string& part);
  /// Sorts of fault that are shown, and those that may be meant.
  [[nodiscard]] std::pair<size_t, size_t> counts() const { return {faults_, meant_}; }

 Q_SIGNALS:
  void looked();  ///< thoroughly: there may be other counts

 private:
  void addRow(const check::FoundFault& fault);
  void addWalk(scene::FaultCode code, size_t places);
  void walk(scene::FaultCode code, int by);
  void lookThoroughly();
  [[nodiscard]] check::FoundFault foundOf(scene::FaultCode code) const;

  Session& session_;
  Bench& bench_;
  QLabel* facts_;
  QVBoxLayout* rows_;
  QPointer<QWidget> walk_;  // under the fault that is walked
  QPushButton* look_;
  std::string part_;
  /// What is shown, and the model it is of.
  std::shared_ptr<const std::vector<scene::PartStructure>> structure_;
  std::shared_ptr<const scene::Model> model_, thorough_of_;
  std::shared_ptr<const std::vector<scene::PartStructure>> thorough_;
  std::optional<scene::FaultCode> walked_;
  size_t at_ = 0, faults_ = 0, meant_ = 0;
  std::shared_ptr<base::Progress> looking_;  ///< of the thorough look that runs; null when none does
  Background background_;                    ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
