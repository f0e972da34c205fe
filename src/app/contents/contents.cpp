#include "app/contents/contents.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QShortcut>
#include <algorithm>

#include "app/contents/contents_view.h"
#include "app/contents/set_field_dialog.h"
#include "app/shell/dialogs.h"
#include "app/widgets/panels.h"
#include "base/text.h"
#include "check/mend_many.h"
#include "prepare/naming.h"

namespace rakugo::app {
namespace {

// A name that no thing of that sort has: "quay-lamp-2".
std::string freeName(const mod::ModState& state, mod::Thing thing, const std::string& like) {
  const std::vector<std::string> taken = mod::namesOf(state, thing);
  std::string out = like;
  for (int n = 2; std::find(taken.begin(), taken.end(), out) != taken.end(); ++n)
    out = like + "-" + std::to_string(n);
  return out;
}

}  // namespace

mod::NamingValues Contents::naming() const { return prepare::namingValues(session_.book()); }

Contents::Contents(Session& session, SourceWork& work, QWidget* parent)
    : QWidget(parent), session_(session), work_(work) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 1, 0);
  column->setSpacing(0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(10, 8, 8, 2);
  head->setSpacing(2);
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("contents-words"));
  words_->setAccessibleName(tr("Only what has these words in its name"));
  words_->setPlaceholderText(tr("Find…"));
  words_->setClearButtonEnabled(true);
  words_->setMinimumWidth(50);
  head->addWidget(words_, 1);
  only_open_ = new QPushButton(QStringLiteral("◆"), this);
  only_open_->setObjectName(QStringLiteral("contents-only-open"));
  only_open_->setProperty("quiet", true);
  only_open_->setCheckable(true);
  only_open_->setFixedSize(28, 26);
  only_open_->setToolTip(tr("Only what has findings"));
  only_open_->setAccessibleName(only_open_->toolTip());
  head->addWidget(only_open_);
  more_ = new QPushButton(QStringLiteral("…"), this);
  more_->setObjectName(QStringLiteral("contents-more"));
  more_->setProperty("quiet", true);
  more_->setFixedSize(28, 26);
  more_->setToolTip(tr("Make, rename, copy, remove"));
  more_->setAccessibleName(more_->toolTip());
  head->addWidget(more_);
  column->addLayout(head);
  rows_ = new ContentsRows(session, this);
  view_ = new ContentsView(*rows_, this);
  column->addWidget(view_, 1);
  view_->setContextMenuPolicy(Qt::CustomContextMenu);
  connect(view_, &QWidget::customContextMenuRequested, this,
          [this](QPoint at) { openMenu(view_->viewport()->mapToGlobal(at)); });
  connect(more_, &QPushButton::clicked, this,
          [this] { openMenu(more_->mapToGlobal(QPoint(0, more_->height()))); });
  connect(view_, &ContentsView::chosen, this, &Contents::choose);
  connect(rows_, &ContentsRows::modelsDropped, this,
          [this](const QStringList& models, const QString& object) { addPieces(models, s(object)); });
  connect(words_, &QLineEdit::textChanged, this, &Contents::refresh);
  connect(only_open_, &QPushButton::toggled, this, &Contents::refresh);
  const auto key = [this](const QKeySequence& keys, void (Contents::*act)()) {
    auto* shortcut = new QShortcut(keys, view_);
    shortcut->setContext(Qt::WidgetShortcut);
    connect(shortcut, &QShortcut::activated, this, act);
  };
  key(Qt::Key_F2, &Contents::rename);
  key(Qt::Key_Delete, &Contents::remove);
  connect(&work_, &SourceWork::moved, this, [this](const QString& name) {
    view_->setCurrentIndex(rows_->indexOf({mod::Thing::source, s(name)}));
  });
  // Another mod's things may have the same names.
  connect(&session_, &Session::opened, this, [this] { rows_->forgetPictures(); });
}

void Contents::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setPen(theme().hair);
  p.drawLine(width() - 1, 0, width() - 1, height());
}

qsizetype Contents::pictureCount(const std::string& model) const {
  const auto found = rows_->modelPictures().find(model);
  return found == rows_->modelPictures().end() ? 0 : found->second.size();
}

void Contents::setPictures(const std::string& model, QVector<QImage> round) {
  rows_->setPictures({mod::Thing::model, model}, std::move(round));
}

void Contents::setSourcePictures(const std::string& source, QVector<QImage> round) {
  rows_->setPictures({mod::Thing::source, source}, std::move(round));
}

void Contents::refresh() {
  const std::optional<What> at = present();
  rows_->refresh({words_->text().trimmed(), only_open_->isChecked()});
  // The row that the keyboard was at is found again where the rows were made anew.
  if (at && !view_->currentIndex().isValid())
    if (const QModelIndex index = rows_->indexOf(*at); index.isValid())
      view_->selectionModel()->setCurrentIndex(index, QItemSelectionModel::NoUpdate);
}

std::optional<ContentsRows::What> Contents::present() const { return rows_->at(view_->currentIndex()); }

void Contents::choose(const QModelIndex& index) {
  const std::optional<What> what = rows_->at(index);
  if (!what) return;
  if (what->thing == mod::Thing::object) {
    session_.selectObject(what->name);
    Q_EMIT objectChosen();
  } else if (what->thing == mod::Thing::model) {
    session_.selectModel(what->name);
    Q_EMIT modelChosen();
  } else {
    Q_EMIT sourceChosen(q(what->name));
  }
}

void Contents::openMenu(QPoint at) {
  if (!session_.isOpen()) return;
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("contents-menu"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  fillMenu(*menu);
  menu->popup(at);
}

void Contents::fillMenu(QMenu& menu) {
  const std::optional<What> what = present();
  const auto add = [&](QMenu& to, const char* id, const QString& text, auto&& act) {
    QAction* action = to.addAction(text);
    action->setObjectName(QLatin1String(id));
    connect(action, &QAction::triggered, this, act);
    return action;
  };
  if (what) {
    add(menu, "thing-rename", tr("Rename…\tF2"), [this] { rename(); });
    add(menu, "thing-copy", tr("Copy"), [this] { copy(); });
  }
  if (view_->marked().size() > 1 || what) {
    const size_t count = view_->marked().size();
    add(menu, "thing-remove", count > 1 ? tr("Remove %1 things\tDel").arg(count) : tr("Remove\tDel"),
        [this] { remove(); });
  }
  offerForMarked(menu);
  if (!menu.isEmpty()) menu.addSeparator();
  if (what && what->thing == mod::Thing::source &&
      std::any_of(session_.state().models.begin(), session_.state().models.end(),
                  [&](const auto& one) { return one.second.source == what->name; }))
    add(menu, "new-model", tr("New model of this source"), [this, name = what->name] { newModel(name); });
  const std::string model = what && what->thing == mod::Thing::model ? what->name : std::string();
  QMenu* kinds = menu.addMenu(model.empty() ? tr("New object") : tr("New object of this model"));
  for (const rulebook::Kind& kind : session_.book().kinds)
    add(*kinds, ("new-object-" + kind.id).c_str(), q(kind.title),
        [this, model, id = kind.id] { newObject(model, id); });
}

// What can be done with several at once.
void Contents::offerForMarked(QMenu& menu) {
  std::set<std::string> models, objects;
  for (const What& one : meant())
    if (one.thing != mod::Thing::source) (one.thing == mod::Thing::model ? models : objects).insert(one.name);
  const auto& x = session_.examination();
  if (x && x->mends_tried && session_.isExamined()) {
    const auto sure = std::count_if(x->findings.begin(), x->findings.end(), [&](const check::Finding& f) {
      return check::isSure(*x, f) && (models.count(f.place.model) != 0 || objects.count(f.place.object) != 0);
    });
    if (sure > 0) {
      QAction* action = menu.addAction(tr("Mend what is sure in it (%1)").arg(sure));
      action->setObjectName(QStringLiteral("thing-mend"));
      connect(action, &QAction::triggered, this,
              [this, models, objects] { Q_EMIT mendAsked(models, objects); });
    }
  }
  if (objects.empty()) return;
  QAction* action = menu.addAction(objects.size() > 1 ? tr("Set a field in all %1…").arg(objects.size())
                                                      : tr("Set a field…"));
  action->setObjectName(QStringLiteral("thing-field"));
  connect(action, &QAction::triggered, this,
          [this, list = std::vector<std::string>(objects.begin(), objects.end())] { setField(list); });
}

std::vector<ContentsRows::What> Contents::meant() const {
  std::vector<What> things = view_->marked();
  if (const auto what = present(); things.empty() && what) things = {*what};
  return things;
}

void Contents::setField(const std::vector<std::string>& objects) {
  SetFieldDialog dialog(session_, objects, this);
  if (dialog.exec() != QDialog::Accepted) return;
  edit(objects.size() == 1 ? tr("Set %1").arg(dialog.fieldTitle())
                           : tr("Set %1 in %2 objects").arg(dialog.fieldTitle()).arg(objects.size()),
       [&](mod::ModState& state) -> base::Status {
         for (const std::string& name : objects) dialog.apply(state.objects.at(name));
         return {};
       });
}

void Contents::addPieces(const QStringList& models, const std::string& object) {
  if (edit(tr("Add %1 to %2").arg(models.join(QStringLiteral(", ")), q(object)),
           [&](mod::ModState& state) -> base::Status {
             for (const QString& model : models) RAKUGO_TRY(mod::addPiece(state, object, s(model)));
             return {};
           }))
    Q_EMIT tell(tr("%1 is a piece of %2 now.").arg(models.join(QStringLiteral(", ")), q(object)), true);
}

void Contents::askName(const QString& hint, const QString& text,
                       const std::function<void(const std::string&)>& done) {
  auto* popup = new ValuePopup(text, hint, this);
  connect(popup, &ValuePopup::accepted, this, [done](const QString& typed) { done(s(typed.trimmed())); });
  const QRect row = view_->visualRect(view_->currentIndex());
  popup->openAt(view_->viewport()->mapToGlobal(QPoint(56, row.top() + 4)));
}

bool Contents::edit(const QString& label, const std::function<base::Status(mod::ModState&)>& change) {
  mod::ModState tried = session_.state();
  if (const base::Status done = change(tried); !done) {
    Q_EMIT tell(q(done.error().text()), false);
    return false;
  }
  session_.edit(label, [&](mod::ModState& state) { state = std::move(tried); });
  return true;
}

void Contents::rename() {
  const std::optional<What> what = present();
  if (!what) return;
  askName(tr("Its new name; every reference follows"), q(what->name), [this, what](const std::string& name) {
    if (name == what->name) return;
    if (what->thing == mod::Thing::source) return work_.rename(what->name, name);
    const std::string model = session_.model(), object = session_.object();
    if (!edit(tr("Rename %1 to %2").arg(q(what->name), q(name)), [&](mod::ModState& state) {
          return mod::renameThing(state, what->thing, what->name, name, naming());
        }))
      return;
    const auto now = [&](mod::Thing thing, const std::string& was) {
      return what->thing == thing && was == what->name ? name : was;
    };
    session_.select(now(mod::Thing::model, model), now(mod::Thing::object, object));
    view_->setCurrentIndex(rows_->indexOf({what->thing, name}));
  });
}

void Contents::copy() {
  const std::optional<What> what = present();
  if (!what) return;
  const std::string name = freeName(session_.state(), what->thing, what->name);
  if (what->thing == mod::Thing::source) return work_.copy(what->name, name);
  if (edit(tr("Copy %1").arg(q(what->name)),
           [&](mod::ModState& state) { return mod::copyThing(state, what->thing, what->name, name); }))
    view_->setCurrentIndex(rows_->indexOf({what->thing, name}));
}

void Contents::remove() {
  std::vector<What> things = meant();
  // A model goes with the source that it is made of; objects go before models, and those before sources.
  for (const What& one : std::vector<What>(things))
    if (one.thing == mod::Thing::source)
      for (const auto& [model, doc] : session_.state().models)
        if (doc.source == one.name) things.push_back({mod::Thing::model, model});
  std::sort(things.begin(), things.end(), [](const What& a, const What& b) {
    return std::pair(b.thing, a.name) < std::pair(a.thing, b.name);
  });
  things.erase(std::unique(things.begin(), things.end()), things.end());
  if (things.empty()) return;
  QStringList uses, names;
  mod::ModState tried = session_.state();
  const std::vector<What> asked = meant();
  for (const What& one : things) {
    names << q(one.name);
    for (const mod::UseOf& use : mod::usesOf(tried, one.thing, one.name, naming()))
      uses << tr("%1 names %2").arg(q(use.where), q(one.name));
    if (std::find(asked.begin(), asked.end(), one) == asked.end())
      uses << tr("The model %1 is made of it").arg(q(one.name));
    if (const base::Status gone = mod::removeThing(tried, one.thing, one.name, true, naming()); !gone)
      return Q_EMIT tell(q(gone.error().text()), false);
  }
  names.removeDuplicates();
  if (!uses.isEmpty()) {
    Question question("remove-used", tr("Take %1 out?").arg(names.join(QStringLiteral(", "))),
                      tr("What names it goes too. One undo brings all of it back."), this);
    question.addLines(uses);
    question.addChoice("yes", tr("Remove it and what names it"), 1);
    question.addChoice("no", tr("Keep it"), 0);
    if (question.exec() != 1) return;
  }
  for (const What& one : things)
    if (one.thing == mod::Thing::source) work_.leaveFiles(one.name);
  session_.edit(tr("Remove %1").arg(names.join(QStringLiteral(", "))),
                [&](mod::ModState& state) { state = std::move(tried); });
}

void Contents::newModel(const std::string& source) {
  const std::string name = freeName(session_.state(), mod::Thing::model, source);
  if (!edit(tr("New model %1").arg(q(name)),
            [&](mod::ModState& state) { return mod::newModel(state, name, source); }))
    return;
  session_.selectModel(name);
  Q_EMIT modelChosen();
}

void Contents::newObject(const std::string& model, const std::string& kind) {
  const std::string name = freeName(session_.state(), mod::Thing::object, model.empty() ? kind : model);
  const std::vector<std::string> models = model.empty() ? std::vector<std::string>() : std::vector{model};
  if (!edit(tr("New object %1").arg(q(name)),
            [&](mod::ModState& state) { return mod::newObject(state, name, kind, models); }))
    return;
  session_.selectObject(name);
  Q_EMIT objectChosen();
}

}  // namespace rakugo::app
