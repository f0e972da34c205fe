#include "app/stations/objects/texts_panel.h"

#include <QComboBox>
#include <QLabel>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stations/objects/field_form.h"
#include "app/widgets/panels.h"
#include "prepare/objects/text_ids.h"

namespace rakugo::app {

TextsPanel::TextsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(6);
  none_ = quietText(tr("Nothing on the card names a text yet: give one of its text ids a name, and say here "
                       "what players read."),
                    this);
  rows->addWidget(none_);
  languages_ = new QComboBox(this);
  languages_->setObjectName(QStringLiteral("text-language"));
  languages_->setAccessibleName(tr("Language of the texts"));
  languages_->setToolTip(languages_->accessibleName());
  connect(languages_, &QComboBox::activated, this, [this] { form_->refresh(); });
  rows->addWidget(languages_);
  form_ = new FieldForm(
      QStringLiteral("text-"),
      [this](const std::string& id) {
        const std::string* text =
            session_.isOpen() ? prepare::textIn(session_.state(), language(), id) : nullptr;
        return text != nullptr ? base::Json(*text) : base::Json();
      },
      [this](const std::string& id, const base::Json& value) {
        const std::string text = value.is_string() ? value.get<std::string>() : std::string();
        const std::string* now = prepare::textIn(session_.state(), language(), id);
        if (text == (now != nullptr ? *now : std::string())) return;
        session_.edit(
            tr("Write the text %1").arg(q(id)),
            [&](mod::ModState& state) { prepare::setText(state, language(), id, text); },
            QStringLiteral("text-") + q(language() + "-" + id));
      },
      nullptr, this);
  rows->addWidget(form_);
}

const mod::ObjectDoc* TextsPanel::object() const {
  if (!session_.isOpen()) return nullptr;
  const auto found = session_.state().objects.find(session_.object());
  return found != session_.state().objects.end() ? &found->second : nullptr;
}

std::string TextsPanel::language() const { return s(languages_->currentData().toString()); }

std::vector<std::pair<std::string, std::string>> TextsPanel::named() const {
  std::vector<std::pair<std::string, std::string>> out;
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr) return out;
  for (const prepare::TextUse& use : prepare::textsNamedBy(session_.book(), session_.object(), *doc))
    if (session_.book().findShared(use.id) == nullptr &&
        std::none_of(out.begin(), out.end(), [&](const auto& one) { return one.first == use.id; }))
      out.emplace_back(use.id, use.title);
  return out;
}

bool TextsPanel::any() const {
  const mod::ObjectDoc* doc = object();
  if (doc == nullptr || session_.book().languages.empty()) return false;
  if (!named().empty()) return true;
  const rulebook::Kind* kind = session_.book().findKind(doc->kind);
  return kind != nullptr && std::any_of(kind->fields.begin(), kind->fields.end(), [](const auto& field) {
           return field.type == rulebook::FieldType::text_id;
         });
}

QString TextsPanel::state() const {
  if (!any()) return {};
  const auto texts = named();
  if (texts.empty()) return tr("none named");
  QStringList lacking;
  for (const rulebook::Language& one : session_.book().languages) {
    const bool first = &one == &session_.book().languages.front();
    if (!first && session_.state().texts.count(one.id) == 0) continue;
    const auto missing = std::count_if(texts.begin(), texts.end(), [&](const auto& text) {
      return prepare::textIn(session_.state(), one.id, text.first) == nullptr;
    });
    if (missing > 0) lacking << tr("%1 missing in %2").arg(missing).arg(q(one.title));
  }
  return lacking.empty() ? tr("%1 written").arg(texts.size()) : lacking.join(QStringLiteral(", "));
}

void TextsPanel::refresh() {
  std::string wanted;
  if (session_.isOpen())
    for (const rulebook::Language& one : session_.book().languages) wanted += one.id + "\n";
  const auto texts = named();
  const std::string languages = wanted;
  for (const auto& [id, title] : texts) wanted += "\t" + id + "\n" + title + "\n";
  if (wanted != form_for_) {
    form_for_ = wanted;
    const QSignalBlocker quiet(languages_);
    const QString kept = languages_->currentData().toString();
    languages_->clear();
    if (!languages.empty())
      for (const rulebook::Language& one : session_.book().languages)
        languages_->addItem(q(one.title), q(one.id));
    languages_->setCurrentIndex(std::max(0, languages_->findData(kept)));
    std::vector<rulebook::Field> fields;
    for (const auto& [id, title] : texts) {
      rulebook::Field field;
      field.id = id;
      field.title = id;
      field.help = s(tr("%1.").arg(q(title)));
      field.type = rulebook::FieldType::long_text;
      fields.push_back(std::move(field));
    }
    form_->setFields(fields);
  }
  none_->setVisible(texts.empty());
  languages_->setVisible(!texts.empty() && languages_->count() > 1);
  form_->setVisible(!texts.empty());
  form_->refresh();
}

}  // namespace rakugo::app
