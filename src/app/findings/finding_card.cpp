#include "app/findings/finding_card.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <algorithm>

#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

class SeverityMark : public QWidget {
 public:
  SeverityMark(check::Severity severity, QWidget* parent) : QWidget(parent), severity_(severity) {
    setFixedSize(20, 20);
    setToolTip(severity == check::Severity::stops   ? tr("Stops: will not load, or crashes")
               : severity == check::Severity::shows ? tr("Shows: players see it")
                                                    : tr("Tidy: wasteful, or risky later"));
    setAccessibleName(toolTip());
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    drawSeverity(p, {8, 11}, 12, severity_);
  }

 private:
  check::Severity severity_;
};

}  // namespace

FindingCard::FindingCard(std::shared_ptr<const check::Examination> examination, const check::Finding& finding,
                         bool unfolded, QWidget* parent)
    : QWidget(parent), examination_(std::move(examination)), finding_(finding) {
  setObjectName(QStringLiteral("finding-") + q(finding.check));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 5, 4, 6);
  row->setSpacing(2);
  row->addWidget(new SeverityMark(finding.severity, this), 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(2);
  column->addWidget(finding.set_aside ? quietText(q(finding.sentence), this)
                                      : plainText(q(finding.sentence), this));
  column->addWidget(quietText(
      finding.set_aside ? tr("Set aside: %1").arg(q(finding.aside_reason)) : q(finding.reason), this));
  if (finding.mends.empty() && !finding.set_aside && !finding.cure.empty())
    column->addWidget(quietText(tr("What to do: %1").arg(q(finding.cure)), this));
  addButtons(column);
  addEffects(unfolded, column);
  row->addLayout(column, 1);
}

void FindingCard::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme().wash);
  p.fillRect(QRect(0, 0, 3, height()), theme().click);
}

QPushButton* FindingCard::addButton(QPushButton* button, const char* name) {
  button->setObjectName(QLatin1String(name) + q(finding_.check));
  buttons_.push_back(button);
  return button;
}

void FindingCard::addButtons(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setContentsMargins(0, 3, 0, 2);
  row->setSpacing(3);
  QPushButton* mend = nullptr;
  if (finding_.set_aside) {
    mend = addButton(new QPushButton(tr("Take it up again"), this), "take-up-");
    connect(mend, &QPushButton::clicked, this, [this] { Q_EMIT takeUpAsked(); });
  } else if (!finding_.mends.empty()) {
    mend = addButton(new NameButton(q(finding_.mends.front().label), this, 400), "mend-");
    mend->setAccessibleName(tr("Mend: %1").arg(q(finding_.mends.front().label)));
    connect(mend, &QPushButton::clicked, this, [this] { Q_EMIT mendAsked(0); });
  }
  // A long label has a line of its own, above the others.
  if (mend != nullptr && mend->sizeHint().width() > 190)
    column->addWidget(mend, 0, Qt::AlignLeft);
  else if (mend != nullptr)
    row->addWidget(mend);
  QPushButton* show = addButton(new QPushButton(tr("Show"), this), "show-");
  show->setAccessibleName(tr("Show: %1").arg(q(finding_.sentence)));
  connect(show, &QPushButton::clicked, this, [this] { Q_EMIT showAsked(); });
  row->addWidget(show);
  addMore(row);
  auto* why = new QPushButton(tr("Why?"), this);
  why->setProperty("inline", true);
  why->setAccessibleName(tr("Why, and what to do: %1").arg(q(finding_.sentence)));
  why->setToolTip(tr("What this is about (F1)"));
  connect(addButton(why, "why-"), &QPushButton::clicked, this, &FindingCard::whyAsked);
  row->addWidget(why);
  row->addStretch();
  column->addLayout(row);
}

void FindingCard::addMore(QHBoxLayout* row) {
  const auto& all = examination_->findings;
  const auto alike = std::count_if(all.begin(), all.end(), [&](const check::Finding& f) {
    return f.check == finding_.check && !f.set_aside && !f.mends.empty();
  });
  const bool may_aside = finding_.severity != check::Severity::stops && !finding_.set_aside;
  if (finding_.mends.size() < 2 && alike < 2 && !may_aside) return;
  QPushButton* more = addButton(new QPushButton(tr("More"), this), "more-");
  more->setProperty("quiet", true);
  auto* menu = new QMenu(more);
  for (size_t i = 1; i < finding_.mends.size() && !finding_.set_aside; ++i)
    connect(menu->addAction(q(finding_.mends[i].label)), &QAction::triggered, this,
            [this, i] { Q_EMIT mendAsked(i); });
  if (alike > 1)
    connect(menu->addAction(tr("Mend all %1 of this sort").arg(alike)), &QAction::triggered, this,
            &FindingCard::mendAllAsked);
  if (may_aside) {
    if (!menu->isEmpty()) menu->addSeparator();
    connect(menu->addAction(tr("Set aside, with a reason…")), &QAction::triggered, this,
            [this, more] { Q_EMIT asideAsked(more); });
  }
  more->setMenu(menu);
  row->addWidget(more);
}

void FindingCard::addEffects(bool unfolded, QVBoxLayout* column) {
  if (finding_.causes == 0) return;
  QPushButton* fold =
      addButton(new QPushButton(finding_.causes == 1 ? tr("1 more goes with it")
                                                     : tr("%1 more go with it").arg(finding_.causes),
                                this),
                "with-");
  fold->setProperty("quiet", true);
  fold->setCheckable(true);
  fold->setChecked(unfolded);
  fold->setToolTip(tr("What vanishes together with this finding"));
  connect(fold, &QPushButton::clicked, this, &FindingCard::foldAsked);
  column->addWidget(fold, 0, Qt::AlignLeft);
  if (!unfolded) return;
  const auto& all = examination_->findings;
  for (const check::Finding& effect : all) {
    if (!effect.caused_by || &all[*effect.caused_by] != &finding_) continue;
    auto* line = new QWidget(this);
    line->setObjectName(QStringLiteral("effect-") + q(effect.check));
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(8, 2, 0, 2);
    layout->setSpacing(4);
    layout->addWidget(new SeverityMark(effect.severity, line), 0, Qt::AlignTop);
    layout->addWidget(plainText(q(effect.sentence), line), 1);
    auto* show = new QPushButton(tr("Show"), line);
    show->setObjectName(QStringLiteral("show-") + q(effect.check));
    show->setAccessibleName(tr("Show: %1").arg(q(effect.sentence)));
    connect(show, &QPushButton::clicked, this, [this, &effect] { Q_EMIT effectAsked(effect); });
    buttons_.push_back(show);
    layout->addWidget(show, 0, Qt::AlignTop);
    column->addWidget(line);
  }
}

}  // namespace rakugo::app
