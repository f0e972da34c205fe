// The preparation: numbered sentences whose values are changed in place.
#pragma once

#include <QWidget>

#include "app/shell/background.h"
#include "app/shell/session.h"
#include "prepare/habits.h"

class QVBoxLayout;
class QScrollArea;
class QPushButton;

namespace rakugo::app {

class ChapterHead;

class Preparation : public QWidget {
  Q_OBJECT
 public:
  explicit Preparation(Session& session, QWidget* parent = nullptr);
  void refresh();
  /// Marks the step and brings it into sight.
  void showStep(const std::string& id);
  /// To its line, which says how many steps there are and how they fare; and back.
  void setFolded(bool folded);
  [[nodiscard]] bool folded() const { return folded_; }

 Q_SIGNALS:
  void foldAsked(bool folded);
  void tell(const QString& text, bool good);
  void showPlaces(const std::vector<glm::vec3>& places);  ///< of what a step picks, in the model's space

 private:
  void sayHead(const mod::ModelDoc* model);
  void addRow(size_t index, const mod::StepDoc& step);
  void changeValue(const std::string& step_id, const QString& key, QPoint at);
  void typeValue(const mod::StepDoc& step, const std::string& key, const QString& shown, QPoint at);
  void setValue(const std::string& step_id, const std::string& key, const base::Json& value);
  void editSteps(const QString& label, const std::function<void(std::vector<mod::StepDoc>&)>& change);
  void offerSteps();
  /// What can be done with the steps as a whole: copied to another model, kept as a habit, replayed.
  void offerMore();
  void openMore(const std::vector<prepare::Habit>& habits);
  void keepHabit();
  /// Marks in the bench what a step picks.
  void showPick(const mod::StepDoc& step, size_t index);
  [[nodiscard]] const mod::ModelDoc* doc() const;
  [[nodiscard]] const prepare::Prepared* prepared() const;

  Session& session_;
  QVBoxLayout* column_;
  ChapterHead* head_;
  QScrollArea* area_;
  bool folded_ = false;
  QPushButton* add_;
  QPushButton* more_;
  std::string marked_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
