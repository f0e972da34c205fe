#include "app/stations/sources/source_credit.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "formats/read_model.h"
#include "mod/licences.h"

namespace rakugo::app {

SourceCredit::SourceCredit(Session& session, SourceWork& work, QWidget* parent)
    : QWidget(parent), session_(session), work_(work), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 8, 0, 0);
  column_->setSpacing(4);
  addField("author", tr("Author"), &mod::SourceDoc::author, new QLineEdit(this));
  licence_ = new QComboBox(this);
  licence_->setObjectName(QStringLiteral("licence-choice"));
  licence_->setEditable(true);
  licence_->setInsertPolicy(QComboBox::NoInsert);
  for (const mod::Licence& one : mod::knownLicences()) {
    licence_->addItem(QString::fromLatin1(one.id));
    licence_->setItemData(
        licence_->count() - 1,
        QStringLiteral("%1. %2").arg(QString::fromLatin1(one.title), q(base::phrase(one.demand))),
        Qt::ToolTipRole);
  }
  column_->addWidget(quietText(tr("Licence (SPDX)"), this));
  column_->addWidget(licence_);
  QLineEdit* typed = licence_->lineEdit();
  typed->setObjectName(QStringLiteral("credit-licence"));
  typed->setAccessibleName(tr("Licence"));
  fields_["licence"] = typed;
  connect(typed, &QLineEdit::editingFinished, this,
          [this, typed] { set(&mod::SourceDoc::licence, tr("Licence"), typed->text().trimmed()); });
  connect(licence_, &QComboBox::textActivated, this,
          [this](const QString& text) { set(&mod::SourceDoc::licence, tr("Licence"), text); });
  demand_ = quietText({}, this);
  demand_->setObjectName(QStringLiteral("licence-demand"));
  column_->addWidget(demand_);
  addField("address", tr("Address"), &mod::SourceDoc::address, new QLineEdit(this));
  addField("note", tr("Note"), &mod::SourceDoc::note, new QLineEdit(this));
  origin_ = quietText({}, this);
  origin_->setObjectName(QStringLiteral("origin"));
  column_->addWidget(origin_);
  compare_ = new QPushButton(tr("Compare with it now"), this);
  compare_->setObjectName(QStringLiteral("compare-origin"));
  connect(compare_, &QPushButton::clicked, this, [this] { work_.compare(source_, work_.originOf(source_)); });
  column_->addWidget(compare_);
  auto* newer = new QPushButton(tr("Compare with another file…"), this);
  newer->setObjectName(QStringLiteral("compare-file"));
  connect(newer, &QPushButton::clicked, this, &SourceCredit::askNewer);
  column_->addWidget(newer);
  older_ = new QVBoxLayout;
  older_->setSpacing(4);
  column_->addLayout(older_);
}

void SourceCredit::addField(const char* id, const QString& title, std::string mod::SourceDoc::*member,
                            QLineEdit* line) {
  column_->addWidget(quietText(title, this));
  line->setObjectName(QStringLiteral("credit-") + QString::fromLatin1(id));
  line->setAccessibleName(title);
  column_->addWidget(line);
  fields_[id] = line;
  connect(line, &QLineEdit::editingFinished, this,
          [this, line, member, title] { set(member, title, line->text()); });
}

void SourceCredit::set(std::string mod::SourceDoc::*member, const QString& title, const QString& text) {
  const auto source = session_.state().sources.find(source_);
  if (source == session_.state().sources.end() || source->second.*member == s(text)) return;
  session_.edit(tr("Change %1").arg(title.toLower()),
                [&](mod::ModState& state) { state.sources[source_].*member = s(text); });
}

void SourceCredit::show(const std::string& source) {
  const bool other = source != source_;
  source_ = source;
  const bool there = session_.isOpen() && session_.state().sources.count(source) != 0;
  setVisible(there);
  if (!there) return;
  const mod::SourceDoc& doc = session_.state().sources.at(source);
  const auto put = [&](const char* id, const std::string& text) {
    if (QLineEdit* line = fields_[id]; (other || !line->hasFocus()) && line->text() != q(text))
      line->setText(q(text));
  };
  put("author", doc.author);
  put("licence", doc.licence);
  put("address", doc.address);
  put("note", doc.note);
  const mod::Licence* licence = mod::findLicence(doc.licence);
  demand_->setVisible(!doc.licence.empty());
  demand_->setText(licence != nullptr
                       ? q(base::phrase(licence->demand))
                       : tr("Not one of the identifiers known here; it is kept as you wrote it."));
  const auto origin = work_.originOf(source);
  std::error_code error;
  const bool reachable = !origin.empty() && std::filesystem::exists(origin, error);
  origin_->setText(origin.empty()
                       ? tr("Taken in on %1; from which file is not known on this machine.").arg(q(doc.added))
                   : reachable ? tr("Taken from %1, which is watched.").arg(shownPath(origin))
                               : tr("Taken from %1, which is not there now.").arg(shownPath(origin)));
  compare_->setVisible(reachable);
  clearLayout(older_);
  if (doc.older.empty()) return;
  older_->addWidget(heading(tr("Older versions"), this));
  for (size_t i = 0; i < doc.older.size(); ++i) {
    const std::string& file = doc.older[i].file;
    auto* back = new QPushButton(
        tr("Go back to %1 of %2").arg(q(file.substr(file.rfind('/') + 1)), q(doc.older[i].added)), this);
    back->setObjectName(QStringLiteral("go-back-%1").arg(i));
    connect(back, &QPushButton::clicked, this, [this, i] { work_.goBack(source_, i); });
    older_->addWidget(back);
  }
}

void SourceCredit::focusField(const std::string& id) {
  if (const auto found = fields_.find(id); found != fields_.end()) found->second->setFocus();
}

void SourceCredit::askNewer() {
  QStringList endings;
  for (const auto& list : {formats::modelEndings(), formats::archiveEndings()})
    for (const std::string& ending : list) endings << QStringLiteral("*.") + q(ending);
  const QString file = QFileDialog::getOpenFileName(
      this, tr("A newer version of it"), q(work_.originOf(source_).parent_path().string()),
      tr("Models (%1);;All files (*)").arg(endings.join(QLatin1Char(' '))));
  if (!file.isEmpty()) work_.compare(source_, s(file));
}

}  // namespace rakugo::app
