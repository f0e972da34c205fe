#include <algorithm>

#include "app/stations/sources/source_credit.h"
#include "app/stations/sources/source_details.h"
#include "app/stations/sources/source_rows.h"
#include "app/stations/sources/station_sources.h"
#include "app/stations/station_panel.h"
#include "app/widgets/panels.h"

namespace rakugo::app {

StationPanel::StationPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  area_ = scrollColumn(column_, this);
  layout->addWidget(area_);
}

SourcesStation::SourcesStation(Session& session, Bench& bench, SourceWork& work, QWidget* parent)
    : StationPanel(session, bench, parent), work_(work) {
  auto* add = new QPushButton(tr("Add sources…"), this);
  add->setObjectName(QStringLiteral("add-model"));
  connect(add, &QPushButton::clicked, this, &StationPanel::addModelAsked);
  column_->addWidget(add);
  const QString what =
      tr("Or drop them on the window, several at once: models as glTF, COLLADA, OBJ, PLY or STL, "
         "pictures, sounds, folders, and archives of them. They are copied in with their pictures; "
         "the originals stay untouched.");
  empty_ = quietText(what, this);
  add->setToolTip(what);
  column_->addWidget(empty_);
  pictures_ = new SourcePictures(session, bench, this);
  rows_ = new SourceRows(session, work, *pictures_, this);
  list_ = new SourceList(*rows_, *pictures_, this);
  column_->addWidget(list_);
  column_->addWidget(hairline(this));
  details_ = new SourceDetails(session, work, this);
  column_->addWidget(details_);
  export_ = new QPushButton(tr("Export the prepared model…"), this);
  export_->setObjectName(QStringLiteral("export-model"));
  connect(export_, &QPushButton::clicked, this, &SourcesStation::exportAsked);
  column_->addWidget(export_);
  credit_ = new SourceCredit(session, work, this);
  column_->addWidget(credit_);
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
}

void SourcesStation::showPlace(const check::FindingPlace& place) {
  if (!place.source.empty() && session_.state().sources.count(place.source) != 0) choose(place.source);
  if (place.field.empty()) return;
  credit_->focusField(place.field);
  area_->ensureWidgetVisible(credit_);
}

}  // namespace rakugo::app
