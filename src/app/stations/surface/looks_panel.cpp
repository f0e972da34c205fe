#include "app/stations/surface/looks_panel.h"

#include <QGridLayout>
#include <QPushButton>
#include <QSignalBlocker>

#include "app/widgets/panels.h"

namespace rakugo::app {

LooksPanel::LooksPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench), rows_(new QGridLayout(this)) {
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setHorizontalSpacing(8);
  rows_->setVerticalSpacing(4);
  rows_->setColumnStretch(1, 1);
  connect(&bench_, &Bench::looksChanged, this, &LooksPanel::sync);
}

void LooksPanel::refresh() {
  if (!session_.isOpen()) return;
  const rulebook::Rulebook& book = session_.book();
  if (made_for_ != book.id + book.version) {
    made_for_ = book.id + book.version;
    clearLayout(rows_);
    buttons_.clear();
    const auto add = [&](const std::string& id, const QString& title, const QString& help) {
      auto* button = new QPushButton(title, this);
      button->setObjectName(QStringLiteral("look-") + (id.empty() ? QStringLiteral("by-night") : q(id)));
      button->setProperty("quiet", true);
      button->setCheckable(true);
      button->setToolTip(tr("Seen in the game's look alone; the mod stays as it is"));
      const auto row = static_cast<int>(buttons_.size());
      rows_->addWidget(button, row, 0, Qt::AlignTop | Qt::AlignLeft);
      rows_->addWidget(quietText(help, this), row, 1, Qt::AlignVCenter);
      buttons_.emplace_back(id, button);
      connect(button, &QPushButton::toggled, this, [this, id](bool on) {
        if (on) bench_.setLook(Bench::Look::in_game);
        if (id.empty())
          bench_.setNight(on);
        else
          bench_.setSwitch(id, on);
      });
    };
    add({}, tr("Night"), tr("What glows is lit."));
    for (const rulebook::LookSwitch& one : book.switches) add(one.id, q(one.title), q(one.help));
  }
  sync();
}

void LooksPanel::sync() {
  for (const auto& [id, button] : buttons_) {
    const QSignalBlocker quiet(button);
    button->setChecked(bench_.look() == Bench::Look::in_game &&
                       (id.empty() ? bench_.night() : bench_.switches().count(id) != 0));
  }
  Q_EMIT stateChanged();
}

QString LooksPanel::state() const {
  QStringList on;
  for (const auto& [id, button] : buttons_)
    if (button->isChecked()) on << button->text().toLower();
  return on.join(QStringLiteral(", "));
}

}  // namespace rakugo::app
