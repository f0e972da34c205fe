// Steps of the preparation moved, removed, switched off and noted, by the mouse and by keys.
#include <QMenu>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

#include "app/shell/preparation.h"
#include "app/shell/step_row.h"

namespace rakugo::app {

void Preparation::addHeading(const QString& title) {
  QLabel* label = quietText(title.toUpper(), this);
  label->setFont(typeface(11));
  label->setContentsMargins(4, column_->count() > 0 ? 5 : 1, 0, 0);
  column_->addWidget(label);
}

void Preparation::switchStep(size_t index) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr || index >= model->steps.size()) return;
  editSteps(model->steps[index].enabled ? tr("Switch step off") : tr("Switch step on"),
            [index](std::vector<mod::StepDoc>& steps) { steps[index].enabled = !steps[index].enabled; });
}

void Preparation::removeStep(size_t index) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr || index >= model->steps.size()) return;
  // The keyboard goes to the step that takes its place.
  if (rows_.size() > index && rows_[index]->hasFocus() && rows_.size() > 1)
    focus_ = rows_[index + 1 < rows_.size() ? index + 1 : index - 1]->id();
  for (StepRow* row : rows_) row->clearFocus();
  editSteps(tr("Remove step"), [index](std::vector<mod::StepDoc>& steps) {
    steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(index));
  });
}

void Preparation::moveStep(size_t from, size_t to) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr || from >= model->steps.size() || to >= model->steps.size() || from == to) return;
  editSteps(tr("Move a step"), [from, to](std::vector<mod::StepDoc>& steps) {
    const auto at = [&](size_t i) { return steps.begin() + static_cast<std::ptrdiff_t>(i); };
    if (from < to)
      std::rotate(at(from), at(from) + 1, at(to) + 1);
    else
      std::rotate(at(to), at(from), at(from) + 1);
  });
}

void Preparation::offerForStep(size_t index, QPoint at) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr || index >= model->steps.size()) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("step-row-menu"));
  const auto offer = [&](const char* name, const QString& title, bool enabled,
                         const std::function<void()>& does) {
    QAction* action = menu->addAction(title);
    action->setObjectName(QLatin1String(name));
    action->setEnabled(enabled);
    connect(action, &QAction::triggered, this, does);
  };
  const mod::StepDoc& step = model->steps[index];
  offer("step-earlier", tr("Step earlier"), index > 0, [this, index] { moveStep(index, index - 1); });
  offer("step-later", tr("Step later"), index + 1 < model->steps.size(),
        [this, index] { moveStep(index, index + 1); });
  offer("step-note", step.note.empty() ? tr("Write a note…") : tr("Change its note…"), true,
        [this, id = step.id, at] { noteStep(id, at); });
  offer("step-off", step.enabled ? tr("Switch step off") : tr("Switch step on"), true,
        [this, index] { switchStep(index); });
  offer("step-remove", tr("Remove step"), true, [this, index] { removeStep(index); });
  menu->popup(at);
}

void Preparation::noteStep(const std::string& id, QPoint at) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr) return;
  const auto step = std::find_if(model->steps.begin(), model->steps.end(),
                                 [&](const mod::StepDoc& one) { return one.id == id; });
  if (step == model->steps.end()) return;
  auto* popup = new ValuePopup(q(step->note), tr("A note of your own on this step. Enter keeps it."), this);
  connect(popup, &ValuePopup::accepted, this, [this, id](const QString& text) {
    editSteps(tr("Note on a step"), [&](std::vector<mod::StepDoc>& steps) {
      for (mod::StepDoc& one : steps)
        if (one.id == id) one.note = s(text.trimmed());
    });
  });
  popup->openAt(at);
}

void Preparation::focusStep(int index) {
  if (index >= 0 && static_cast<size_t>(index) < rows_.size())
    rows_[static_cast<size_t>(index)]->setFocus(Qt::TabFocusReason);
}

void Preparation::focusAgain() {
  if (focus_.empty()) return;
  const auto row =
      std::find_if(rows_.begin(), rows_.end(), [&](const StepRow* one) { return one->id() == focus_; });
  focus_.clear();
  if (row == rows_.end()) return;
  (*row)->show();  // a layout shows what it was given a moment later, and what is not shown takes no keys
  (*row)->setFocus(Qt::OtherFocusReason);
}

size_t Preparation::placeAt(QPoint global) const {
  size_t place = 0;
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i]->mapFromGlobal(global).y() > rows_[i]->height() / 2) place = i + 1;
  return place;
}

void Preparation::showPlaceAt(std::optional<size_t> before) {
  if (place_line_ != nullptr) place_line_->hide();
  if (!before || rows_.empty() || *before > rows_.size()) return;
  if (place_line_ == nullptr) {
    place_line_ = new QWidget(area_->widget());
    place_line_->setObjectName(QStringLiteral("step-place"));
    place_line_->setAutoFillBackground(true);
    place_line_->setAttribute(Qt::WA_TransparentForMouseEvents);
  }
  QPalette colors = palette();
  colors.setColor(QPalette::Window, theme().click);
  place_line_->setPalette(colors);
  const bool last = *before == rows_.size();
  const StepRow* row = rows_[last ? *before - 1 : *before];
  place_line_->setGeometry(row->x(), last ? row->geometry().bottom() : row->y() - 1, row->width(), 3);
  place_line_->show();
  place_line_->raise();
  revealPlace(place_line_, place_line_->rect().adjusted(0, -20, 0, 20));
}

}  // namespace rakugo::app
