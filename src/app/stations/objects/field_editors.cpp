#include "app/stations/objects/field_editors.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <cmath>

#include "app/stations/objects/rows_editor.h"
#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

using rulebook::FieldType;

FieldEditor makeFlag(const rulebook::Field& field, const EditedValue& value, QWidget* parent) {
  auto* box = new QCheckBox(q(field.title), parent);
  QObject::connect(box, &QCheckBox::clicked, box, [value](bool on) { value.set(on); });
  return {box, [box, value] {
            const base::Json v = value.get();
            box->setChecked(v.is_boolean() && v.get<bool>());
          }};
}

FieldEditor makeChoice(const rulebook::Field& field, const EditedValue& value, QWidget* parent) {
  auto* box = new QComboBox(parent);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(6);
  box->addItem(QObject::tr("choose…"), QString());
  for (const std::string& choice : field.choices) box->addItem(q(choice), q(choice));
  QObject::connect(box, &QComboBox::activated, box, [box, value](int at) {
    if (at > 0) value.set(s(box->itemData(at).toString()));
  });
  return {box, [box, value] {
            const base::Json v = value.get();
            box->setCurrentIndex(v.is_string() ? std::max(0, box->findData(q(v.get<std::string>()))) : 0);
          }};
}

FieldEditor makeLongText(const EditedValue& value, QWidget* parent) {
  auto* box = new QPlainTextEdit(parent);
  box->setTabChangesFocus(true);
  box->setFixedHeight(62);
  QObject::connect(box, &QPlainTextEdit::textChanged, box,
                   [box, value] { value.set(s(box->toPlainText())); });
  return {box, [box, value] {
            const base::Json v = value.get();
            const QString text = v.is_string() ? q(v.get<std::string>()) : QString();
            if (box->toPlainText() != text) {
              const QSignalBlocker quiet(box);
              box->setPlainText(text);
            }
          }};
}

FieldEditor makeLine(const rulebook::Field& field, const EditedValue& value, QWidget* parent) {
  auto* box = new QLineEdit(parent);
  box->setMinimumWidth(40);
  const bool whole = field.type == FieldType::integer, number = whole || field.type == FieldType::number;
  QObject::connect(box, &QLineEdit::textEdited, box, [value, box, number, whole] {
    if (!number) return value.set(s(box->text()));
    bool good = false;
    const double typed = box->text().trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&good);
    if (!good) return;  // not a number yet; leaving the field brings the present value back
    if (whole && typed == std::floor(typed) && std::abs(typed) < 1e15)
      value.set(static_cast<int64_t>(typed));
    else
      value.set(typed);
  });
  const auto show = [box, value] {
    const base::Json v = value.get();
    const QString text = v.is_string()   ? q(v.get<std::string>())
                         : v.is_number() ? q(base::numberText(v.get<double>()))
                                         : QString();
    if (!box->hasFocus() && box->text() != text) box->setText(text);
  };
  QObject::connect(box, &QLineEdit::editingFinished, box, [box, show] {
    const QSignalBlocker quiet(box);
    box->clearFocus();
    show();
  });
  return {box, show};
}

void chooseColor(const rulebook::Field& field, const EditedValue& value, QWidget* parent) {
  const base::Json now = value.get();
  QColor begin = Qt::white;
  if (now.is_array() && now.size() == 3 && now[0].is_number() && now[1].is_number() && now[2].is_number())
    begin = QColor::fromRgbF(std::clamp(now[0].get<float>(), 0.0F, 1.0F),
                             std::clamp(now[1].get<float>(), 0.0F, 1.0F),
                             std::clamp(now[2].get<float>(), 0.0F, 1.0F));
  auto* dialog = new QColorDialog(begin, parent);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setOption(QColorDialog::DontUseNativeDialog);
  dialog->setWindowTitle(q(field.title));
  QObject::connect(dialog, &QColorDialog::colorSelected, dialog, [value](const QColor& color) {
    const auto rounded = [](float v) { return std::round(static_cast<double>(v) * 1000) / 1000; };
    value.set(base::Json::array({rounded(color.redF()), rounded(color.greenF()), rounded(color.blueF())}));
  });
  dialog->open();
}

// A swatch that says its three numbers; a click chooses another.
FieldEditor makeColor(const rulebook::Field& field, const EditedValue& value, QWidget* parent) {
  auto* button = new QPushButton(parent);
  button->setMinimumWidth(84);
  QObject::connect(button, &QPushButton::clicked, button,
                   [button, field, value] { chooseColor(field, value, button); });
  return {button, [button, value] {
            const base::Json v = value.get();
            const bool good =
                v.is_array() && v.size() == 3 && v[0].is_number() && v[1].is_number() && v[2].is_number();
            if (!good) {
              button->setIcon({});
              button->setText(QObject::tr("choose…"));
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
          }};
}

// The lower and the upper number.
FieldEditor makeRange(const rulebook::Field& field, const EditedValue& value, const QString& name,
                      QWidget* parent) {
  auto* box = new QWidget(parent);
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  rulebook::Field number;
  number.type = FieldType::number;
  std::vector<std::function<void()>> refreshers;
  for (const size_t end : {size_t{0}, size_t{1}}) {
    const EditedValue one{[value, end]() -> base::Json {
                            const base::Json now = value.get();
                            return now.is_array() && now.size() == 2 ? now[end] : base::Json();
                          },
                          [value, end](const base::Json& typed) {
                            base::Json now = value.get();
                            if (!now.is_array() || now.size() != 2) now = base::Json::array({typed, typed});
                            now[end] = typed;
                            value.set(now);
                          }};
    FieldEditor editor = makeLine(number, one, box);
    editor.widget->setObjectName(name + (end == 0 ? QStringLiteral("-from") : QStringLiteral("-to")));
    editor.widget->setAccessibleName(end == 0 ? QObject::tr("%1, from").arg(q(field.title))
                                              : QObject::tr("%1, to").arg(q(field.title)));
    if (end == 1) {
      QLabel* between = quietText(QObject::tr("to"), box);
      between->setWordWrap(false);
      row->addWidget(between);
    }
    row->addWidget(editor.widget, 1);
    refreshers.push_back(std::move(editor.refresh));
  }
  return {box, [refreshers] {
            for (const auto& refresh : refreshers) refresh();
          }};
}

// What there is to name is listed when it is shown; a name that is none stays, and is said to be none.
FieldEditor makeReference(const rulebook::Field& field, const EditedValue& value, const ThingsFor& things,
                          QWidget* parent) {
  auto* box = new QComboBox(parent);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(6);
  QObject::connect(box, &QComboBox::activated, box, [value, box](int at) {
    if (at > 0) value.set(s(box->itemData(at).toString()));
  });
  return {box, [box, field, value, things] {
            const base::Json now = value.get();
            const QString named = now.is_string() ? q(now.get<std::string>()) : QString();
            const QSignalBlocker quiet(box);
            box->clear();
            box->addItem(QObject::tr("choose…"), QString());
            if (things)
              for (const prepare::ThingName& one : things(field)) box->addItem(q(one.title), q(one.value));
            if (box->findData(named) < 0) box->addItem(QObject::tr("%1, not there").arg(named), named);
            box->setCurrentIndex(box->findData(named));
          }};
}

}  // namespace

QString joinedEdits(const QString& value, const base::Json& before, const base::Json& after) {
  if (!after.is_array()) return value;
  if (!before.is_array() || before.size() != after.size()) return {};
  for (size_t r = 0; r < after.size(); ++r) {
    if (before[r] == after[r]) continue;
    QString out = value + QStringLiteral("-%1").arg(r);
    if (after[r].is_object())
      for (const auto& [key, cell] : after[r].items())
        if (!before[r].is_object() || !before[r].contains(key) || before[r][key] != cell)
          return out + QLatin1Char('-') + q(key);
    return out;
  }
  return value;
}

FieldEditor makeFieldEditor(const rulebook::Field& field, const EditedValue& value, const ThingsFor& things,
                            const QString& name, QWidget* parent) {
  const auto made = [&]() -> FieldEditor {
    switch (field.type) {
      case FieldType::flag:
        return makeFlag(field, value, parent);
      case FieldType::choice:
        return makeChoice(field, value, parent);
      case FieldType::long_text:
        return makeLongText(value, parent);
      case FieldType::color:
        return makeColor(field, value, parent);
      case FieldType::range:
        return makeRange(field, value, name, parent);
      case FieldType::reference:
        return makeReference(field, value, things, parent);
      case FieldType::list:
      case FieldType::curve: {
        auto* rows = new RowsEditor(field, value, things, name, parent);
        return {rows, [rows] { rows->refresh(); }};
      }
      default:
        return makeLine(field, value, parent);
    }
  }();
  made.widget->setObjectName(name);
  return made;
}

}  // namespace rakugo::app
