#include "app/stations/objects/field_form.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {

using rulebook::FieldType;

FieldForm::FieldForm(QString prefix, Get get, Set set, QWidget* parent)
    : QWidget(parent), prefix_(std::move(prefix)), get_(std::move(get)), set_(std::move(set)) {
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
    const bool wide =
        field.type == FieldType::long_text || field.type == FieldType::text || field.type == FieldType::color;
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

QWidget* FieldForm::makeFlag(const rulebook::Field& field) {
  auto* box = new QCheckBox(q(field.title), inside_);
  connect(box, &QCheckBox::clicked, this, [this, id = field.id](bool on) { set_(id, on); });
  refreshers_.push_back([this, box, id = field.id] {
    const base::Json v = get_(id);
    box->setChecked(v.is_boolean() && v.get<bool>());
  });
  return box;
}

QWidget* FieldForm::makeChoice(const rulebook::Field& field) {
  auto* box = new QComboBox(inside_);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(6);
  box->addItem(tr("choose…"), QString());
  for (const std::string& choice : field.choices) box->addItem(q(choice), q(choice));
  connect(box, &QComboBox::activated, this, [this, id = field.id, box](int at) {
    if (at > 0) set_(id, s(box->itemData(at).toString()));
  });
  refreshers_.push_back([this, box, id = field.id] {
    const base::Json v = get_(id);
    box->setCurrentIndex(v.is_string() ? std::max(0, box->findData(q(v.get<std::string>()))) : 0);
  });
  return box;
}

QWidget* FieldForm::makeLongText(const rulebook::Field& field) {
  auto* box = new QPlainTextEdit(inside_);
  box->setTabChangesFocus(true);
  box->setFixedHeight(62);
  connect(box, &QPlainTextEdit::textChanged, this,
          [this, id = field.id, box] { set_(id, s(box->toPlainText())); });
  refreshers_.push_back([this, box, id = field.id] {
    const base::Json v = get_(id);
    const QString text = v.is_string() ? q(v.get<std::string>()) : QString();
    if (box->toPlainText() != text) {
      const QSignalBlocker quiet(box);
      box->setPlainText(text);
    }
  });
  return box;
}

QWidget* FieldForm::makeLine(const rulebook::Field& field) {
  auto* box = new QLineEdit(inside_);
  box->setMinimumWidth(40);
  const bool whole = field.type == FieldType::integer, number = whole || field.type == FieldType::number;
  connect(box, &QLineEdit::textEdited, this, [this, id = field.id, box, number, whole] {
    if (!number) return set_(id, s(box->text()));
    bool good = false;
    const double typed = box->text().trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&good);
    if (!good) return;  // not a number yet; leaving the field brings the present value back
    if (whole && typed == std::floor(typed) && std::abs(typed) < 1e15)
      set_(id, static_cast<int64_t>(typed));
    else
      set_(id, typed);
  });
  const auto show = [this, box, id = field.id] {
    const base::Json v = get_(id);
    const QString text = v.is_string()   ? q(v.get<std::string>())
                         : v.is_number() ? q(base::numberText(v.get<double>()))
                                         : QString();
    if (!box->hasFocus() && box->text() != text) box->setText(text);
  };
  connect(box, &QLineEdit::editingFinished, this, [box, show] {
    const QSignalBlocker quiet(box);
    box->clearFocus();
    show();
  });
  refreshers_.push_back(show);
  return box;
}

// A swatch that says its three numbers; a click chooses another.
QWidget* FieldForm::makeColor(const rulebook::Field& field) {
  auto* button = new QPushButton(inside_);
  button->setMinimumWidth(84);
  connect(button, &QPushButton::clicked, this, [this, field] { chooseColor(field); });
  refreshers_.push_back([this, button, id = field.id] {
    const base::Json v = get_(id);
    const bool good =
        v.is_array() && v.size() == 3 && v[0].is_number() && v[1].is_number() && v[2].is_number();
    if (!good) {
      button->setIcon({});
      button->setText(tr("choose…"));
      return;
    }
    QPixmap swatch(64, 14);
    const auto channel = [&](size_t i) { return std::clamp(v[i].get<float>(), 0.0F, 1.0F); };
    swatch.fill(QColor::fromRgbF(channel(0), channel(1), channel(2)));
    button->setIcon(swatch);
    button->setIconSize(swatch.size());
    QStringList numbers;
    for (size_t i = 0; i < 3; ++i) numbers << q(base::numberText(v[i].get<double>(), 2));
    button->setText(numbers.join(QStringLiteral("  ")));
  });
  return button;
}

void FieldForm::chooseColor(const rulebook::Field& field) {
  const base::Json now = get_(field.id);
  QColor begin = Qt::white;
  if (now.is_array() && now.size() == 3 && now[0].is_number() && now[1].is_number() && now[2].is_number())
    begin = QColor::fromRgbF(std::clamp(now[0].get<float>(), 0.0F, 1.0F),
                             std::clamp(now[1].get<float>(), 0.0F, 1.0F),
                             std::clamp(now[2].get<float>(), 0.0F, 1.0F));
  auto* dialog = new QColorDialog(begin, this);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setOption(QColorDialog::DontUseNativeDialog);
  dialog->setWindowTitle(q(field.title));
  connect(dialog, &QColorDialog::colorSelected, this, [this, id = field.id](const QColor& color) {
    const auto rounded = [](float v) { return std::round(static_cast<double>(v) * 1000) / 1000; };
    set_(id, base::Json::array({rounded(color.redF()), rounded(color.greenF()), rounded(color.blueF())}));
  });
  dialog->open();
}

QWidget* FieldForm::makeEditor(const rulebook::Field& field) {
  switch (field.type) {
    case FieldType::flag:
      return makeFlag(field);
    case FieldType::choice:
      return makeChoice(field);
    case FieldType::long_text:
      return makeLongText(field);
    case FieldType::color:
      return makeColor(field);
    default:
      return makeLine(field);
  }
}

// The name of a field, marked for as long as it is empty and must not be.
QLabel* FieldForm::makeName(const rulebook::Field& field, QWidget* box) {
  const QString title = q(field.title);
  QLabel* name = plainText(title, box);
  if (field.required)
    refreshers_.push_back([this, name, title, id = field.id] {
      const base::Json v = get_(id);
      const bool empty = v.is_null() || (v.is_string() && v.get<std::string>().empty());
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
  QWidget* editor = makeEditor(field);
  head->addWidget(field.type == FieldType::flag ? editor : makeName(field, box), 1);
  editor->setObjectName(prefix_ + QStringLiteral("field-") + q(field.id));
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
