// Which materials of the chosen model can become one, why others cannot, and the step that merges them.
#pragma once

#include <QWidget>
#include <memory>

#include "app/shell/background.h"
#include "app/shell/session.h"
#include "check/surface_cost.h"
#include "prepare/surface/atlas.h"

class QLabel;
class QVBoxLayout;

namespace rakugo::app {

class AtlasPanel : public QWidget {
  Q_OBJECT
 public:
  explicit AtlasPanel(Session& session, QWidget* parent = nullptr);
  /// Looks anew where the prepared model is another one, in the background.
  void refresh();
  /// How many roles are likely and not given: materials should be merged after that.
  void setLikely(size_t count);
  /// Adds the step that merges the materials, by key.
  void merge(const std::vector<std::string>& materials);
  /// One line of how things stand; empty while it is not known.
  [[nodiscard]] const QString& state() const { return state_; }

 Q_SIGNALS:
  void stateChanged();
  void tell(const QString& problem);

 private:
  struct Found;
  void show(const Found& found);
  void addSharing();
  static QString difference(const check::SurfaceCost& now, const check::SurfaceCost& after);
  Session& session_;
  QVBoxLayout* rows_;
  QLabel* first_;
  Background trials_;  ///< its own: a merge of large pictures takes seconds, and nobody waits for it
  std::shared_ptr<const scene::Model> model_;  ///< that is shown, or looked at
  QString state_;
  uint64_t generation_ = 0;
};

}  // namespace rakugo::app
