#include "app/stations/objects/lists_panel.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QTimer>
#include <algorithm>

#include "app/stations/objects/field_form.h"
#include "app/widgets/panels.h"
#include "prepare/objects/piece_values.h"

namespace rakugo::app {

ListsPanel::ListsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  column_ = new QVBoxLayout(this);
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(8);
}

const mod::ObjectDoc* ListsPanel::object() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? &found->second : nullptr;
}

QString ListsPanel::state() const {
  QStringList in;
  if (const mod::ObjectDoc* doc = object())
    for (const mod::ListEntry& one : doc->lists) {
      const rulebook::GameList* list = session_.book().findList(one.list);
      const QString title = list != nullptr ? q(list->title) : q(one.list);
      if (!in.contains(title)) in << title;
    }
  return in.join(QStringLiteral(", "));
}

bool ListsPanel::any() const {
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr) return false;
  const auto& lists = session_.book().lists;
  return !doc->lists.empty() || std::any_of(lists.begin(), lists.end(), [&](const rulebook::GameList& one) {
    return one.takes(doc->kind);
  });
}

void ListsPanel::edit(const QString& what, const std::function<void(mod::ObjectDoc&)>& change,
                      const QString& joins) {
  const mod::ObjectDoc* now = object();
  if (now == nullptr) return;
  mod::ObjectDoc next = *now;
  change(next);
  if (next == *now) return;
  session_.edit(
      what, [&](mod::ModState& state) { state.objects[session_.object()] = std::move(next); }, joins);
}

void ListsPanel::refresh() {
  const mod::ObjectDoc* doc = object();
  std::string wanted;
  if (doc != nullptr) {
    wanted = session_.folder().string() + "\n" + session_.object() + "\n" + doc->kind;
    for (const mod::ListEntry& one : doc->lists) wanted += "\n" + one.list;
  }
  if (wanted != built_for_) {
    built_for_ = wanted;
    forms_.clear();
    heads_.clear();
    clearLayout(column_);
    if (doc != nullptr) rebuild(*doc);
  }
  for (FieldForm* form : forms_) form->refresh();
}

void ListsPanel::rebuild(const mod::ObjectDoc& doc) {
  for (size_t i = 0; i < doc.lists.size(); ++i) addEntry(doc, i);
  for (const rulebook::GameList& list : session_.book().lists)
    if (list.takes(doc.kind)) addOffer(doc, list);
}

void ListsPanel::addEntry(const mod::ObjectDoc& doc, size_t at) {
  const std::string& id = doc.lists[at].list;
  const rulebook::GameList* list = session_.book().findList(id);
  const QString title = list != nullptr ? q(list->title) : q(id);
  auto* frame = new QFrame(this);
  frame->setProperty("card", true);
  frame->setObjectName(QStringLiteral("entry-%1-%2").arg(at).arg(q(id)));
  auto* rows = new QVBoxLayout(frame);
  rows->setContentsMargins(10, 9, 10, 9);
  rows->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->addWidget(heading(title, frame), 1);
  QPushButton* out = signButton(Sign::remove, tr("Take it out of %1").arg(title), frame);
  out->setObjectName(QStringLiteral("leave-%1").arg(at));
  connect(out, &QPushButton::clicked, this, [this, at, title] {
    // Once the click is over: its button goes with the entry.
    QTimer::singleShot(0, this, [this, at, title] {
      edit(tr("Take it out of %1").arg(title), [at](mod::ObjectDoc& object) {
        if (at < object.lists.size()) object.lists.erase(object.lists.begin() + static_cast<ptrdiff_t>(at));
      });
    });
  });
  head->addWidget(out);
  rows->addLayout(head);
  heads_.emplace(id, frame);
  if (list == nullptr) {
    rows->addWidget(quietText(tr("The game has no such list."), frame));
    column_->addWidget(frame);
    return;
  }
  if (!list->help.empty()) rows->addWidget(quietText(q(list->help), frame));
  auto* form = new FieldForm(
      QStringLiteral("list-%1-").arg(at),
      [this, at](const std::string& field) -> base::Json {
        const mod::ObjectDoc* now = object();
        if (now == nullptr || at >= now->lists.size()) return {};
        const base::Json* found = base::memberOf(now->lists[at].values, field.c_str());
        return found != nullptr ? *found : base::Json();
      },
      [this, at, title](const std::string& field, const base::Json& value) {
        if (object() == nullptr || at >= object()->lists.size()) return;
        edit(
            tr("Fill in %1 of %2").arg(q(field), title),
            [&](mod::ObjectDoc& object) {
              if (at < object.lists.size()) object.lists[at].values[field] = value;
            },
            joinedEdits(QStringLiteral("list-%1-%2-%3").arg(q(session_.object())).arg(at).arg(q(field)),
                        object()->lists[at].values.value(field, base::Json()), value));
      },
      [this](const rulebook::Field& field) {
        return prepare::thingsFor(session_.book(), session_.state(), field);
      },
      frame);
  form->setFields(list->fields);
  forms_.push_back(form);
  rows->addWidget(form);
  column_->addWidget(frame);
}

void ListsPanel::addOffer(const mod::ObjectDoc& doc, const rulebook::GameList& list) {
  const auto count = std::count_if(doc.lists.begin(), doc.lists.end(),
                                   [&](const mod::ListEntry& one) { return one.list == list.id; });
  if (count >= list.most) return;
  auto* put = new QPushButton(
      count > 0 ? tr("Put it into %1 once more").arg(q(list.title)) : tr("Put it into %1").arg(q(list.title)),
      this);
  put->setObjectName(QStringLiteral("enter-") + q(list.id));
  put->setProperty("quiet", true);
  put->setToolTip(q(list.help));
  connect(put, &QPushButton::clicked, this, [this, of = &list, title = q(list.title)] {
    const mod::ListEntry entry = prepare::newEntry(*of);
    QTimer::singleShot(0, this, [this, entry, title] {
      edit(tr("Put it into %1").arg(title), [&](mod::ObjectDoc& object) { object.lists.push_back(entry); });
    });
  });
  column_->addWidget(put, 0, Qt::AlignLeft);
}

void ListsPanel::showList(const std::string& list) {
  if (const auto found = heads_.find(list); found != heads_.end()) reveal(found->second);
}

}  // namespace rakugo::app
