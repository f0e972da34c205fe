// The preparation: numbered sentences whose values are changed in place.
#pragma once

#include <QWidget>

#include "app/shell/background.h"
#include "app/shell/session.h"
#include "prepare/habits.h"

class QHBoxLayout;
class QLabel;
class QVBoxLayout;
class QScrollArea;
class QPushButton;

namespace rakugo::app {

class ChapterHead;
class StepRow;

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
  void helpAsked(const QString& page);
  void tell(const QString& text, bool good);
  /// A scene to be seen in the bench in place of the model, and what it is; null: the model again.
  void peekAsked(const std::shared_ptr<const BenchScene>& scene, const QString& says);
  void showPlaces(const std::vector<glm::vec3>& places);  ///< of what a step picks, in the model's space

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void sayHead(const mod::ModelDoc* model);
  void addRow(size_t index, const mod::StepDoc& step);
  QLabel* makeSentence(size_t index, const mod::StepDoc& step, QWidget* row);
  void addSigns(size_t index, const mod::StepDoc& step, QHBoxLayout& layout);
  void addHeading(const QString& title);
  void switchStep(size_t index);
  void removeStep(size_t index);
  /// Takes a step out and puts it in again, as the one of that number.
  void moveStep(size_t from, size_t to);
  void offerForStep(size_t index, QPoint at);
  void noteStep(const std::string& id, QPoint at);
  void focusStep(int index);
  /// Gives the keyboard back to the step that had it.
  void focusAgain();
  /// Before which step a place on the screen is.
  [[nodiscard]] size_t placeAt(QPoint global) const;
  /// Draws a line where a step would be put in: before that one; nothing: none.
  void showPlaceAt(std::optional<size_t> before);
  /// Shows the model before a step for as long as it is held; then after it, until the pointer leaves.
  void holdBefore(int step);
  void letGoBefore();
  void showCompared();
  void endComparing();
  /// The step that the pointer, or the keyboard, is at; -1: none.
  [[nodiscard]] int stepAt() const;
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
  std::string marked_, focus_;
  std::vector<StepRow*> rows_;
  QWidget* place_line_ = nullptr;
  int compared_ = -1;  ///< the step whose before and after are shown
  bool held_ = false;  ///< before it is shown
  std::optional<StepScenes> scenes_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
