#include "app/shell/preparation.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <algorithm>

#include "app/shell/step_row.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/matching/families.h"
#include "prepare/objects/derived_model.h"
#include "prepare/picked/picked_edits.h"

namespace rakugo::app {

Preparation::Preparation(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName(QStringLiteral("preparation"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(0, 0, 8, 0);
  head_ = new ChapterHead(tr("Preparation"), this);
  head_->setObjectName(QStringLiteral("fold-steps"));
  head->addWidget(head_, 1);
  connect(head_, &QAbstractButton::clicked, this, [this] { Q_EMIT foldAsked(!folded_); });
  head_->offerHelp(QStringLiteral("start/preparation"));
  connect(head_, &ChapterHead::helpAsked, this, &Preparation::helpAsked);
  connect(head_, &ChapterHead::foldAsked, this, [this](bool open) { Q_EMIT foldAsked(!open); });
  add_ = new QPushButton(tr("Add a step…"), this);
  add_->setObjectName(QStringLiteral("add-step"));
  head->setSpacing(6);
  head->addWidget(add_);
  more_ = new QPushButton(QStringLiteral("…"), this);
  more_->setProperty("quiet", true);
  more_->setFixedWidth(30);
  more_->setAccessibleName(tr("Copy or keep the steps"));
  more_->setObjectName(QStringLiteral("all-steps"));
  more_->setToolTip(tr("Copy the steps to another model, or keep them for the next ones"));
  head->addWidget(more_);
  connect(more_, &QPushButton::clicked, this, &Preparation::offerMore);
  layout->addLayout(head);
  area_ = scrollColumn(column_, this);
  column_->setContentsMargins(16, 2, 8, 8);
  column_->setSpacing(1);
  layout->addWidget(area_, 1);
  connect(add_, &QPushButton::clicked, this, &Preparation::offerSteps);
  // The key is held wherever the keyboard is, while the pointer is over a step.
  QCoreApplication::instance()->installEventFilter(this);
}

void Preparation::setFolded(bool folded) {
  folded_ = folded;
  head_->setChecked(!folded);
  for (QWidget* one :
       {static_cast<QWidget*>(area_), static_cast<QWidget*>(add_), static_cast<QWidget*>(more_)})
    one->setVisible(!folded);
  setMaximumHeight(folded ? head_->sizeHint().height() : QWIDGETSIZE_MAX);
}

// How many steps there are, how many of them are switched off, and how many did not do all they should.
void Preparation::sayHead(const mod::ModelDoc* model) {
  if (model == nullptr) return head_->say({}, {}, false);
  size_t off = 0, missed = 0;
  const prepare::Prepared* state = prepared();
  for (size_t i = 0; i < model->steps.size(); ++i) {
    off += model->steps[i].enabled ? 0 : 1;
    if (state != nullptr && i < state->outcomes.size() && model->steps[i].enabled)
      missed += state->outcomes[i].misses.empty() ? 0 : 1;
  }
  QString said =
      model->steps.empty() ? tr("no steps yet") : q(base::countText(model->steps.size(), "step", "steps"));
  if (off > 0) said = tr("%1, %2 off").arg(said).arg(off);
  if (missed > 0) said = tr("%1, %2 not whole").arg(said).arg(missed);
  head_->setToolTip(tr("The preparation of %1").arg(q(session_.model())));
  head_->say(said, missed > 0 ? std::optional(check::Severity::shows) : std::nullopt, false);
}

const mod::ModelDoc* Preparation::doc() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().models.find(session_.model());
  return found == session_.state().models.end() ? nullptr : &found->second;
}

const prepare::Prepared* Preparation::prepared() const {
  const check::ModelState* state = session_.prepared();
  return state != nullptr ? &state->prepared : nullptr;
}

void Preparation::refresh() {
  endComparing();
  showPlaceAt({});
  const QWidget* focused = QApplication::focusWidget();
  for (StepRow* row : rows_)
    if (row == focused || row->isAncestorOf(focused)) focus_ = row->id();
  rows_.clear();
  clearLayout(column_);
  const mod::ModelDoc* model = doc();
  add_->setEnabled(model != nullptr);
  more_->setEnabled(model != nullptr);
  sayHead(model);
  if (model == nullptr) {
    column_->addWidget(
        quietText(tr("Add a model in Sources; its steps will stand here, one sentence each."), this));
  } else if (model->steps.empty()) {
    column_->addWidget(quietText(tr("No steps yet: the model is used as its maker left it. The findings on "
                                    "the right propose steps, and Add a step… offers all of them."),
                                 this));
  } else {
    std::string group;
    for (size_t i = 0; i < model->steps.size(); ++i) {
      const prepare::StepKind* kind = prepare::findStepKind(model->steps[i].kind);
      std::string title = kind != nullptr ? base::phrase(prepare::groupTitle(kind->group))
                                          : base::phrase("From a newer Rakugo");
      // A heading says nothing where all steps are of one group.
      if (title != group && model->steps.size() > 1) addHeading(q(title));
      group = std::move(title);
      addRow(i, model->steps[i]);
    }
  }
  column_->addStretch();
  focusAgain();
}

void Preparation::addRow(size_t index, const mod::StepDoc& step) {
  auto* row = new StepRow(step.id, index + 1, step.id == marked_, this);
  row->setProperty("step", static_cast<int>(index));
  row->installEventFilter(this);
  row->row().addWidget(makeSentence(index, step, row), 1);
  row->setAccessibleName(row->findChild<QLabel*>(QStringLiteral("sentence-") + q(step.id))->accessibleName());
  addSigns(index, step, row->row());
  connect(row, &StepRow::moveAsked, this,
          [this, index](int by) { moveStep(index, index + static_cast<size_t>(by)); });
  connect(row, &StepRow::stepFocusAsked, this,
          [this, index](int by) { focusStep(static_cast<int>(index) + by); });
  connect(row, &StepRow::removeAsked, this, [this, index] { removeStep(index); });
  connect(row, &StepRow::menuAsked, this, [this, index](QPoint at) { offerForStep(index, at); });
  connect(row, &StepRow::dragged, this, [this](QPoint at) { showPlaceAt(placeAt(at)); });
  connect(row, &StepRow::dropped, this, [this, index](QPoint at) {
    const size_t place = placeAt(at);
    showPlaceAt({});
    // Its own place is taken out before it is put in.
    moveStep(index, place > index ? place - 1 : place);
  });
  connect(row, &StepRow::dragLeft, this, [this] { showPlaceAt({}); });
  column_->addWidget(row);
  rows_.push_back(row);
}

// The step as a sentence with its values as links, and what came of it.
QLabel* Preparation::makeSentence(size_t index, const mod::StepDoc& step, QWidget* row) {
  const prepare::Prepared* p = prepared();
  const bool matching = p != nullptr && index < p->outcomes.size() && session_.isExamined();
  const scene::Model* before = p != nullptr && index < p->before.size() ? p->before[index].get() : nullptr;
  QString text;
  for (const prepare::Word& word : prepare::sentence(step, before, &session_.book())) {
    if (word.value_key.empty())
      text += escaped(word.text);
    else
      text += QStringLiteral("<a href=\"%1\"><b>%2</b></a>").arg(q(word.value_key), escaped(word.text));
  }
  if (!step.enabled) text = QStringLiteral("<s>%1</s>").arg(text);
  if (matching) {
    const prepare::StepOutcome& outcome = p->outcomes[index];
    if (!outcome.misses.empty())
      text += QStringLiteral(" <span style='color:%1'>◆ %2</span>")
                  .arg(theme().stops.name(), escaped(outcome.misses.front()));
    else if (!outcome.did.empty() && step.enabled)
      text += QStringLiteral(" <span style='color:%1'>· %2</span>")
                  .arg(theme().quiet.name(), escaped(outcome.did));
    if (index + 1 < p->figures.size())
      if (const std::string changed = prepare::changeText(p->figures[index], p->figures[index + 1]);
          !changed.empty())
        text += QStringLiteral("<br><span style='color:%1'>%2</span>")
                    .arg(theme().quiet.name(), escaped(changed));
  }
  if (!step.note.empty()) text += QStringLiteral("<br><i>%1</i>").arg(escaped(step.note));
  auto* label = new QLabel(text, row);
  label->setObjectName(QStringLiteral("sentence-") + q(step.id));
  label->setTextFormat(Qt::RichText);
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
  label->setAccessibleName(
      tr("Step %1: %2").arg(index + 1).arg(q(prepare::sentenceText(step, before, &session_.book()))));
  label->setContentsMargins(0, 3, 0, 3);
  connect(label, &QLabel::linkActivated, this, [this, id = step.id, label](const QString& key) {
    const QPoint at = label->underMouse() ? QCursor::pos() : label->mapToGlobal(QPoint(40, label->height()));
    changeValue(id, key, at);
  });
  return label;
}

void Preparation::addSigns(size_t index, const mod::StepDoc& step, QHBoxLayout& layout) {
  QPushButton* before = signButton(Sign::before, tr("Hold to see the model before this step (key B)"), this);
  before->setObjectName(QStringLiteral("before-") + q(step.id));
  before->setEnabled(step.enabled);
  layout.addWidget(before, 0, Qt::AlignTop);
  connect(before, &QPushButton::pressed, this, [this, index] { holdBefore(static_cast<int>(index)); });
  connect(before, &QPushButton::released, this, &Preparation::letGoBefore);
  const auto act = [&](Sign sign, const QString& name, const char* id, const std::function<void()>& does) {
    QPushButton* button = signButton(sign, name, this);
    button->setObjectName(QString::fromLatin1(id) + QLatin1Char('-') + q(step.id));
    layout.addWidget(button, 0, Qt::AlignTop);
    connect(button, &QPushButton::clicked, this, does);
  };
  act(Sign::off, step.enabled ? tr("Switch step off") : tr("Switch step on"), "off",
      [this, index] { switchStep(index); });
  act(Sign::remove, tr("Remove step"), "remove", [this, index] { removeStep(index); });
}

void Preparation::editSteps(const QString& label,
                            const std::function<void(std::vector<mod::StepDoc>&)>& change) {
  session_.edit(label, [&](mod::ModState& state) { change(state.models[session_.model()].steps); });
}

void Preparation::setValue(const std::string& step_id, const std::string& key, const base::Json& value) {
  session_.edit(tr("Change a step"), [&](mod::ModState& state) {
    for (mod::StepDoc& step : state.models[session_.model()].steps)
      if (step.id == step_id) step.values[key] = value;
  });
}

void Preparation::changeValue(const std::string& step_id, const QString& key, QPoint at) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr) return;
  const auto step = std::find_if(model->steps.begin(), model->steps.end(),
                                 [&](const mod::StepDoc& one) { return one.id == step_id; });
  if (step == model->steps.end()) return;
  const prepare::Prepared* p = prepared();
  const auto index = static_cast<size_t>(step - model->steps.begin());
  const scene::Model* before = p != nullptr && index < p->before.size() ? p->before[index].get() : nullptr;
  const auto words = prepare::sentence(*step, before, &session_.book());
  const auto word =
      std::find_if(words.begin(), words.end(), [&](const prepare::Word& w) { return w.value_key == s(key); });
  if (word == words.end()) return;
  using prepare::Editor;
  auto choices = word->choices;
  const auto source = session_.state().sources.find(model->source);
  if (word->editor == Editor::file && source != session_.state().sources.end()) {
    // Names in a preparation are relative to the folder of the source's present version.
    const size_t folder =
        mod::versionFolder(source->first, source->second).size() - ("sources/" + source->first + "/").size();
    for (const mod::SourceFile& file : source->second.files)
      if (file.path != source->second.file && file.path.size() > folder)
        choices.emplace_back(file.path.substr(folder), file.path.substr(folder));
  }
  if (word->editor == Editor::pick) return showPick(*step, index);
  const bool names_model =
      prepare::findStepKind(step->kind) != nullptr && prepare::namesModel(step->kind, s(key));
  if (names_model)
    for (const auto& [name, other] : session_.state().models)
      if (name != session_.model() && prepare::beginningOf(other) != session_.model())
        choices.emplace_back(name, name);
  if (word->editor == Editor::number || (word->editor == Editor::text && !names_model) ||
      word->editor == Editor::point)
    return typeValue(*step, s(key), q(word->text), at);
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("value-menu"));
  if (word->editor == Editor::several) {
    const base::Json chosen = step->values.contains(s(key)) ? step->values[s(key)] : base::Json::array();
    for (const auto& [id, title] : choices) {
      QAction* action = menu->addAction(q(title));
      action->setCheckable(true);
      action->setChecked(std::find(chosen.begin(), chosen.end(), base::Json(id)) != chosen.end());
      connect(action, &QAction::triggered, this, [this, step_id, key = s(key), chosen, id = id](bool on) {
        base::Json next = base::Json::array();
        for (const base::Json& one : chosen)
          if (one != base::Json(id)) next.push_back(one);
        if (on) next.push_back(id);
        setValue(step_id, key, next);
      });
    }
  } else {
    for (const auto& [id, title] : choices)
      connect(menu->addAction(q(title)), &QAction::triggered, this,
              [this, step_id, key = s(key), id = id] { setValue(step_id, key, id); });
  }
  if (menu->isEmpty()) menu->addAction(tr("Nothing to choose from"))->setEnabled(false);
  menu->popup(at);
}

void Preparation::typeValue(const mod::StepDoc& step, const std::string& key, const QString& shown,
                            QPoint at) {
  const prepare::StepKind* kind = prepare::findStepKind(step.kind);
  const prepare::Parameter* parameter = kind != nullptr ? kind->find(key) : nullptr;
  if (parameter == nullptr) return;
  QString hint = q(prepare::rangeText(*parameter));
  hint = tr("%1. Enter takes it.").arg(hint.left(1).toUpper() + hint.mid(1));
  auto* popup = new ValuePopup(shown, hint, this);
  connect(popup, &ValuePopup::accepted, this,
          [this, id = step.id, parameter = *parameter](const QString& typed) {
            const auto value = prepare::typedValue(parameter, s(typed));
            if (value)
              setValue(id, parameter.key, *value);
            else
              Q_EMIT tell(q(value.error().message), false);
          });
  popup->openAt(at);
}

void Preparation::offerSteps() {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("step-menu"));
  using prepare::StepGroup;
  std::map<StepGroup, QMenu*> groups;
  for (const StepGroup group :
       {StepGroup::space, StepGroup::parts, StepGroup::mesh, StepGroup::bones, StepGroup::surface})
    groups[group] = menu->addMenu(q(base::phrase(prepare::groupTitle(group))));
  for (const prepare::StepKind& kind : prepare::stepKinds()) {
    if (prepare::needsPick(kind)) continue;
    const std::string id = kind.id;
    QAction* action = groups[kind.group]->addAction(q(base::phrase(kind.title)));
    // Where it would go is seen before it is there.
    connect(action, &QAction::hovered, this, [this, id] {
      if (const mod::ModelDoc* model = doc()) showPlaceAt(prepare::placeByRank(*model, id));
    });
    connect(action, &QAction::triggered, this, [this, id] {
      session_.edit(tr("Add a step"), [&](mod::ModState& state) {
        mod::ModelDoc& model = state.models[session_.model()];
        prepare::insertByRank(model, prepare::makeStep(model, id));
      });
    });
  }
  connect(menu, &QMenu::aboutToHide, this, [this] { showPlaceAt({}); });
  menu->popup(add_->mapToGlobal(QPoint(0, add_->height())));
}

void Preparation::showPick(const mod::StepDoc& step, size_t index) {
  const prepare::Prepared* p = prepared();
  std::string why;
  const auto selection = prepare::selectionFrom(step.values.value("pick", base::Json()), why);
  if (!selection || p == nullptr) return Q_EMIT tell(q(why), false);
  background_.post(
      [this, prepared = *p, selection = *selection, index](base::Progress&) -> Background::Finish {
        std::string missing;
        auto places = prepare::placesPickedAt(prepared, index, selection, missing);
        return [this, places = std::move(places), missing] {
          if (places.empty()) return Q_EMIT tell(q(missing), false);
          Q_EMIT showPlaces(places);
        };
      });
}

void Preparation::keepHabit() {
  auto* popup = new ValuePopup(q(session_.model()), tr("What the habit is called. Enter keeps it."), this);
  connect(popup, &ValuePopup::accepted, this, [this](const QString& name) {
    const mod::ModelDoc* model = doc();
    if (model == nullptr) return;
    // With steps on bones, those of the source are remembered: the next model of its family is known by them.
    const prepare::Prepared* p = prepared();
    std::vector<std::string> bones;
    if (p != nullptr && p->model)
      bones = prepare::boneKeys(p->before.empty() ? *p->model : *p->before.front());
    background_.post([this, habit = prepare::Habit{s(name.trimmed()), session_.book().id,
                                                   prepare::portableSteps(model->steps),
                                                   std::move(bones)}](base::Progress&) -> Background::Finish {
      const base::Status kept = prepare::saveHabit(prepare::habitsFolder(), habit);
      return [this, kept, habit] {
        Q_EMIT tell(kept ? tr("Kept as the habit \"%1\": %2.")
                               .arg(q(habit.name), q(base::countText(habit.steps.size(), "step", "steps")))
                         : q(kept.error().message),
                    static_cast<bool>(kept));
      };
    });
  });
  popup->openAt(more_->mapToGlobal(QPoint(0, more_->height())));
}

void Preparation::offerMore() {
  // The habits lie on disk; the menu opens once they are read.
  background_.post([this](base::Progress&) -> Background::Finish {
    return [this, habits = prepare::loadHabits(prepare::habitsFolder())] { openMore(habits); };
  });
}

void Preparation::openMore(const std::vector<prepare::Habit>& habits) {
  const mod::ModelDoc* model = doc();
  if (model == nullptr) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->setObjectName(QStringLiteral("all-steps-menu"));
  const auto steps = prepare::portableSteps(model->steps);
  QMenu* copy = menu->addMenu(tr("Copy to"));
  for (const auto& [name, other] : session_.state().models) {
    if (name == session_.model()) continue;
    connect(copy->addAction(q(name)), &QAction::triggered, this, [this, name = name, steps] {
      size_t added = 0;
      session_.edit(tr("Copy steps to %1").arg(q(name)),
                    [&](mod::ModState& state) { added = prepare::addSteps(state.models[name], steps); });
      Q_EMIT tell(tr("%1 got %2.").arg(q(name), q(base::countText(added, "step", "steps"))), true);
    });
  }
  copy->setEnabled(!copy->isEmpty() && !steps.empty());
  connect(menu->addAction(tr("Keep as a habit…")), &QAction::triggered, this, &Preparation::keepHabit);
  QMenu* replay = menu->addMenu(tr("Replay a habit"));
  QMenu* forget = menu->addMenu(tr("Forget a habit"));
  for (const prepare::Habit& habit : habits) {
    const QString title = habit.rulebook == session_.book().id
                              ? q(habit.name)
                              : tr("%1 (made for %2)").arg(q(habit.name), q(habit.rulebook));
    connect(replay->addAction(title), &QAction::triggered, this, [this, habit] {
      session_.edit(tr("Replay \"%1\"").arg(q(habit.name)), [&](mod::ModState& state) {
        prepare::addSteps(state.models[session_.model()], habit.steps);
      });
    });
    connect(forget->addAction(title), &QAction::triggered, this, [this, name = habit.name] {
      background_.post([this, name](base::Progress&) -> Background::Finish {
        const base::Status gone = prepare::forgetHabit(prepare::habitsFolder(), name);
        return [this, gone, name] {
          Q_EMIT tell(gone ? tr("Forgotten: %1.").arg(q(name)) : q(gone.error().message),
                      static_cast<bool>(gone));
        };
      });
    });
  }
  for (QMenu* one : {replay, forget}) one->setEnabled(!one->isEmpty());
  menu->popup(more_->mapToGlobal(QPoint(0, more_->height())));
}

void Preparation::showStep(const std::string& id) {
  marked_ = id;
  refresh();
  for (StepRow* row : rows_)
    if (row->id() == id) reveal(row);
}

}  // namespace rakugo::app
