#include "app/contents/set_field_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QLineEdit>
#include <algorithm>
#include <map>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "rulebook/field_value.h"

namespace rakugo::app {
namespace {

// The fields that every kind of those objects has, as the first of them describes it.
std::vector<rulebook::Field> commonFields(const Session& session, const std::vector<std::string>& objects) {
  std::vector<rulebook::Field> out;
  bool first = true;
  for (const std::string& name : objects) {
    const rulebook::Kind* kind = session.book().findKind(session.state().objects.at(name).kind);
    if (kind == nullptr) return {};
    if (std::exchange(first, false)) out = kind->fields;
    std::erase_if(out, [&](const rulebook::Field& field) {
      const rulebook::Field* other = kind->findField(field.id);
      return other == nullptr || other->type != field.type || other->choices != field.choices;
    });
  }
  return out;
}

}  // namespace

SetFieldDialog::SetFieldDialog(Session& session, const std::vector<std::string>& objects, QWidget* parent)
    : QDialog(parent), session_(session), objects_(objects), fields_(commonFields(session, objects)) {
  setObjectName(QStringLiteral("set-field"));
  setWindowTitle(objects.size() == 1 ? tr("Set a field")
                                     : tr("Set a field in %1 objects").arg(objects.size()));
  QVBoxLayout* column = dialogColumn(this, 8);
  which_ = new QComboBox(this);
  which_->setObjectName(QStringLiteral("set-field-which"));
  which_->setAccessibleName(tr("Which field"));
  which_->setMinimumWidth(420);
  for (const rulebook::Field& one : fields_)
    which_->addItem(one.unit.empty() ? q(one.title) : tr("%1, in %2").arg(q(one.title), q(one.unit)),
                    q(one.id));
  column->addWidget(which_);
  now_ = quietText({}, this);
  now_->setObjectName(QStringLiteral("set-field-now"));
  column->addWidget(now_);
  value_ = new QLineEdit(this);
  value_->setObjectName(QStringLiteral("set-field-value"));
  value_->setAccessibleName(tr("Its new value"));
  column->addWidget(value_);
  choice_ = new QComboBox(this);
  choice_->setObjectName(QStringLiteral("set-field-choice"));
  choice_->setAccessibleName(tr("Its new value"));
  column->addWidget(choice_);
  why_ = plainText({}, this);
  why_->setProperty("tone", QByteArray("stops"));
  why_->setObjectName(QStringLiteral("set-field-why"));
  column->addWidget(why_);
  auto* buttons = new QDialogButtonBox(this);
  set_ = new QPushButton(objects.size() == 1 ? tr("Set it") : tr("Set it in all"), this);
  set_->setObjectName(QStringLiteral("set-field-set"));
  set_->setProperty("lead", true);
  buttons->addButton(set_, QDialogButtonBox::AcceptRole);
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  column->addWidget(buttons);
  connect(which_, &QComboBox::currentIndexChanged, this, [this] {
    value_->clear();
    choice_->clear();
    if (const rulebook::Field* one = field()) {
      if (one->type == rulebook::FieldType::flag) choice_->addItems({tr("yes"), tr("no")});
      for (const std::string& choice : one->choices) choice_->addItem(q(choice));
      value_->setPlaceholderText(q(one->help));
    }
    say();
  });
  connect(value_, &QLineEdit::textChanged, this, &SetFieldDialog::say);
  connect(choice_, &QComboBox::currentIndexChanged, this, &SetFieldDialog::say);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  Q_EMIT which_->currentIndexChanged(which_->currentIndex());
}

const rulebook::Field* SetFieldDialog::field() const {
  const int at = which_->currentIndex();
  return at >= 0 && static_cast<size_t>(at) < fields_.size() ? &fields_[static_cast<size_t>(at)] : nullptr;
}

QString SetFieldDialog::fieldTitle() const { return field() != nullptr ? q(field()->title) : QString(); }

QString SetFieldDialog::typed() const {
  if (choice_->count() == 0) return value_->text().trimmed();
  if (field() != nullptr && field()->type == rulebook::FieldType::flag)
    return choice_->currentIndex() == 0 ? QStringLiteral("true") : QStringLiteral("false");
  return choice_->currentText();
}

void SetFieldDialog::say() {
  const rulebook::Field* one = field();
  value_->setVisible(choice_->count() == 0);
  choice_->setVisible(choice_->count() > 0);
  set_->setEnabled(false);
  if (one == nullptr) {
    now_->setText(tr("The game's records of these have no field in common."));
    return why_->clear();
  }
  std::map<std::string, size_t> present;
  for (const std::string& name : objects_) {
    const base::Json* value = base::memberOf(session_.state().objects.at(name).card, one->id.c_str());
    ++present[value == nullptr     ? std::string("empty")
              : value->is_string() ? value->get<std::string>()
                                   : base::jsonLine(*value)];
  }
  std::vector<std::string> said;
  for (const auto& [value, count] : present)
    said.push_back(objects_.size() == 1 ? value : value + " in " + std::to_string(count));
  now_->setText(tr("Now: %1").arg(q(base::listText(said, 4))));
  if (typed().isEmpty()) return why_->clear();
  auto value = rulebook::typedValue(*one, s(typed()));
  why_->setText(value ? QString() : q(value.error().text()));
  set_->setEnabled(static_cast<bool>(value));
  if (value) taken_ = std::move(value).value();
}

void SetFieldDialog::apply(mod::ObjectDoc& object) const {
  if (field() != nullptr) object.card[field()->id] = taken_;
}

}  // namespace rakugo::app
