#include "app/stations/objects/field_form.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "rulebook/field_value.h"

namespace rakugo::app {

using rulebook::FieldType;

FieldForm::FieldForm(QString prefix, Get get, Set set, ThingsFor things, QWidget* parent)
    : QWidget(parent),
      prefix_(std::move(prefix)),
      get_(std::move(get)),
      set_(std::move(set)),
      things_(std::move(things)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
}

void FieldForm::setFields(const std::vector<rulebook::Field>& fields) {
  refreshers_.clear();
  editors_.clear();
  if (inside_ != nullptr) {
    inside_->hide();
    inside_->deleteLater();
  }
  inside_ = new QWidget(this);
  layout()->addWidget(inside_);
  auto* grid = new QGridLayout(inside_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(8);
  grid->setColumnStretch(0, 1);
  grid->setColumnStretch(1, 1);
  int row = 0, column = 0;
  for (const rulebook::Field& field : fields) {
    QWidget* made = makeField(field);
    const bool wide = field.type == FieldType::long_text || field.type == FieldType::text ||
                      field.type == FieldType::color || field.type == FieldType::range ||
                      field.type == FieldType::list || field.type == FieldType::curve;
    if (wide && column == 1) ++row, column = 0;
    grid->addWidget(made, row, column, 1, wide ? 2 : 1, Qt::AlignTop);
    column = wide ? 2 : column + 1;
    if (column == 2) ++row, column = 0;
  }
  refresh();
}

void FieldForm::refresh() {
  for (const auto& refresher : refreshers_) refresher();
}

QWidget* FieldForm::editorOf(const std::string& field) const {
  const auto found = editors_.find(field);
  return found != editors_.end() ? found->second : nullptr;
}

// The name of a field, marked for as long as it is empty and must not be.
QLabel* FieldForm::makeName(const rulebook::Field& field, QWidget* box) {
  const QString title = q(field.title);
  QLabel* name = plainText(title, box);
  if (field.required)
    refreshers_.push_back([this, name, title, id = field.id] {
      const base::Json v = get_(id);
      const bool empty = rulebook::isEmpty(v);
      name->setText(empty ? QStringLiteral("◆ ") + title : title);
      setTone(name, empty ? "shows" : "ink");
    });
  return name;
}

// A field: its name, its editor with the unit behind it, and, on demand, what it is for.
QWidget* FieldForm::makeField(const rulebook::Field& field) {
  const QString title = q(field.title);
  QString help = q(field.help);
  if (field.min && field.max)
    help = tr("%1 From %2 to %3.")
               .arg(help, q(base::numberText(*field.min)), q(base::numberText(*field.max)))
               .trimmed();
  auto* box = new QWidget(inside_);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  auto* head = new QHBoxLayout;
  head->setSpacing(4);
  const EditedValue value{[this, id = field.id] { return get_(id); },
                          [this, id = field.id](const base::Json& typed) { set_(id, typed); }};
  FieldEditor made =
      makeFieldEditor(field, value, things_, prefix_ + QStringLiteral("field-") + q(field.id), box);
  QWidget* editor = made.widget;
  refreshers_.push_back(std::move(made.refresh));
  head->addWidget(field.type == FieldType::flag ? editor : makeName(field, box), 1);
  editor->setAccessibleName(field.unit.empty() ? title : QStringLiteral("%1 (%2)").arg(title, q(field.unit)));
  editor->setAccessibleDescription(help.trimmed());
  editor->setToolTip(help.trimmed());
  QLabel* said = nullptr;
  if (!help.trimmed().isEmpty()) {
    auto* ask = new QPushButton(QStringLiteral("?"), box);
    ask->setProperty("quiet", true);
    ask->setCheckable(true);
    ask->setObjectName(prefix_ + QStringLiteral("help-") + q(field.id));
    ask->setAccessibleName(tr("What %1 is for").arg(title));
    ask->setFixedSize(24, 24);
    head->addWidget(ask, 0, Qt::AlignTop);
    said = quietText(help.trimmed(), box);
    said->setVisible(false);
    connect(ask, &QPushButton::toggled, said, &QLabel::setVisible);
  }
  column->addLayout(head);
  if (field.type != FieldType::flag) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    line->addWidget(editor, 1);
    if (!field.unit.empty()) {
      QLabel* unit = quietText(q(field.unit), box);
      unit->setWordWrap(false);
      line->addWidget(unit);
    }
    column->addLayout(line);
  }
  if (said != nullptr) column->addWidget(said);
  editors_[field.id] = editor;
  return box;
}

}  // namespace rakugo::app
