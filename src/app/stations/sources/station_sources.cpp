#include <algorithm>

#include "app/stations/sources/source_credit.h"
#include "app/stations/sources/source_details.h"
#include "app/stations/sources/source_rows.h"
#include "app/stations/sources/station_sources.h"
#include "app/stations/station_panel.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"

namespace rakugo::app {

SourcesStation::SourcesStation(Session& session, Bench& bench, SourceWork& work, QWidget* parent)
    : StationPanel(session, bench, parent), work_(work) {
  list_chapter_ = addChapter("sources/list", tr("Sources"), {"file.", "source."});
  QVBoxLayout* column = list_chapter_->body();
  auto* add = new QPushButton(tr("Add sources…"), this);
  add->setObjectName(QStringLiteral("add-model"));
  connect(add, &QPushButton::clicked, this, &StationPanel::addModelAsked);
  column->addWidget(add);
  const QString what =
      tr("Or drop them on the window, several at once: models as glTF, COLLADA, OBJ, PLY or STL, "
         "pictures, sounds, folders, and archives of them. They are copied in with their pictures; "
         "the originals stay untouched.");
  empty_ = quietText(what, this);
  add->setToolTip(what);
  column->addWidget(empty_);
  pictures_ = new SourcePictures(session, bench, this);
  rows_ = new SourceRows(session, work, *pictures_, this);
  list_ = new SourceList(*rows_, *pictures_, this);
  column->addWidget(list_);
  details_chapter_ = addChapter("sources/details", tr("What is inside"), {});
  details_chapter_->setUsuallyOpen();
  details_ = new SourceDetails(session, work, this);
  details_chapter_->body()->addWidget(details_);
  export_ = new QPushButton(tr("Export the prepared model…"), this);
  export_->setObjectName(QStringLiteral("export-model"));
  connect(export_, &QPushButton::clicked, this, &SourcesStation::exportAsked);
  details_chapter_->body()->addWidget(export_);
  credit_chapter_ = addChapter("sources/credit", tr("Credit"), {"credit."});
  credit_ = new SourceCredit(session, work, this);
  credit_chapter_->body()->addWidget(credit_);
  column_->addStretch();
  connect(list_, &SourceList::chosen, this, [this](const QString& source) {
    if (!refreshing_) choose(s(source));
  });
  connect(pictures_, &SourcePictures::taken, this,
          [this](const QString& source) { Q_EMIT pictured(source, pictures_->of(s(source))); });
  connect(&work_, &SourceWork::changed, this, &SourcesStation::refresh);
}

void SourcesStation::choose(const std::string& source) {
  source_ = source;
  for (const auto& [name, doc] : session_.state().models)
    if (doc.source == source) {
      model_ = name;
      if (session_.model() != name) session_.selectModel(name);
      break;
    }
  refresh();
}

void SourcesStation::refresh() {
  refreshing_ = true;
  rows_->refresh();
  if (session_.isOpen()) {
    // The source follows the model that is chosen elsewhere.
    const auto model = session_.state().models.find(session_.model());
    if (model != session_.state().models.end() && (model_ != session_.model() || source_.empty()))
      source_ = model->second.source;
    model_ = session_.model();
    const auto& sources = session_.state().sources;
    if (sources.count(source_) == 0) source_ = sources.empty() ? std::string() : sources.begin()->first;
    list_->setCurrentIndex(rows_->indexOf(source_));
    (void)pictures_->of(source_);  // asked for even while its row is out of sight
  }
  list_->setVisible(rows_->rowCount() > 0);
  empty_->setVisible(rows_->rowCount() == 0);
  list_->fitHeight();
  details_->show(source_);
  credit_->show(source_);
  const auto chosen = session_.isOpen() ? session_.state().models.find(session_.model())
                                        : decltype(session_.state().models.end()){};
  export_->setVisible(session_.isOpen() && chosen != session_.state().models.end() &&
                      chosen->second.source == source_);
  refreshing_ = false;
  sayChapters();
}

void SourcesStation::sayChapters() {
  const bool open = session_.isOpen();
  const auto known =
      open ? session_.state().sources.find(source_) : decltype(session_.state().sources.end()){};
  const bool some = open && known != session_.state().sources.end();
  const check::Finding* gravest = gravestOf(list_chapter_);
  say(list_chapter_, !open                ? QString()
                     : gravest != nullptr ? q(base::phrase(check::findCheck(gravest->check)->title))
                                          : QString::number(session_.state().sources.size()));
  details_chapter_->setVisible(some);
  credit_chapter_->setVisible(some);
  say(details_chapter_, some ? q(known->second.file.substr(known->second.file.rfind('/') + 1)) : QString());
  QString credit;
  if (some)
    credit = known->second.author.empty() ? tr("nobody named yet") : tr("by %1").arg(q(known->second.author));
  say(credit_chapter_, credit, some && !known->second.author.empty() && !known->second.licence.empty());
  settleChapters(list_chapter_);
}

void SourcesStation::showPlace(const check::FindingPlace& place) {
  if (!place.source.empty() && session_.state().sources.count(place.source) != 0) choose(place.source);
  if (place.field.empty()) return;
  unfoldTo(credit_);
  credit_->focusField(place.field);
  area_->ensureWidgetVisible(credit_);
}

}  // namespace rakugo::app
