#include "app/findings_panel.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>

#include "app/panels.h"
#include "base/text.h"

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

FindingsPanel::FindingsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName(QStringLiteral("findings"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  layout->setSpacing(0);
  title_ = heading(tr("Findings"), this);
  title_->setObjectName(QStringLiteral("findings-title"));
  title_->setContentsMargins(16, 13, 12, 6);
  layout->addWidget(title_);
  area_ = scrollColumn(column_, this);
  column_->setContentsMargins(16, 2, 12, 8);
  column_->setSpacing(4);
  layout->addWidget(area_, 1);
}

void FindingsPanel::refresh() {
  const int scrolled = area_->verticalScrollBar()->value();
  clearLayout(column_);
  const auto& x = session_.examination();
  if (!session_.isOpen() || !x) {
    title_->setText(tr("Findings"));
    column_->addWidget(quietText(
        session_.isOpen() ? tr("Looking…") : tr("Open a mod; what is wrong with it will stand here."), this));
    column_->addStretch();
    return;
  }
  using S = check::Severity;
  if (x->findings.empty())
    title_->setText(tr("Findings: none"));
  else
    title_->setText(tr("Findings: %1 stop, %2 show, %3 to tidy")
                        .arg(x->count(S::stops))
                        .arg(x->count(S::shows))
                        .arg(x->count(S::tidy)));
  if (x->findings.empty())
    column_->addWidget(quietText(
        tr("Everything the rulebook asks for is in order. Build the bundle and try it out."), this));
  int number = 0;
  for (const check::Finding& f : x->findings) addRow(f, number++);
  column_->addStretch();
  QTimer::singleShot(0, area_, [area = area_, scrolled] { area->verticalScrollBar()->setValue(scrolled); });
}

void FindingsPanel::addRow(const check::Finding& finding, int number) {
  if (number > 0) column_->addWidget(hairline(this));
  auto* row = new QWidget(this);
  row->setObjectName(QStringLiteral("finding-") + q(finding.check));
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(0, 3, 0, 3);
  layout->setSpacing(4);
  layout->addWidget(new SeverityMark(finding.severity, row), 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(2);
  column->addWidget(plainText(q(finding.sentence), row));
  column->addWidget(quietText(q(finding.reason), row));
  auto* buttons = new QHBoxLayout;
  buttons->setContentsMargins(0, 3, 0, 2);
  buttons->setSpacing(6);
  auto* show = new QPushButton(tr("Show"), row);
  show->setObjectName(QStringLiteral("show-") + q(finding.check));
  show->setAccessibleName(tr("Show: %1").arg(q(finding.sentence)));
  connect(show, &QPushButton::clicked, this, [this, finding] { Q_EMIT showAsked(finding); });
  buttons->addWidget(show);
  if (!finding.mends.empty()) {
    auto* button = new QPushButton(q(finding.mends.front().label), row);
    button->setObjectName(QStringLiteral("mend-") + q(finding.check));
    button->setAccessibleName(tr("Mend: %1").arg(q(finding.mends.front().label)));
    connect(button, &QPushButton::clicked, this, [this, m = finding.mends.front()] { mend(m); });
    buttons->addWidget(button);
  }
  if (finding.mends.size() > 1) {
    auto* more = new QPushButton(tr("Other ways"), row);
    more->setObjectName(QStringLiteral("more-") + q(finding.check));
    more->setProperty("quiet", true);
    auto* menu = new QMenu(more);
    for (size_t i = 1; i < finding.mends.size(); ++i)
      connect(menu->addAction(q(finding.mends[i].label)), &QAction::triggered, this,
              [this, m = finding.mends[i]] { mend(m); });
    more->setMenu(menu);
    buttons->addWidget(more);
  }
  buttons->addStretch();
  column->addLayout(buttons);
  layout->addLayout(column, 1);
  column_->addWidget(row);
}

void FindingsPanel::mend(const check::Mend& mend) { session_.edit(q(mend.label), mend.apply); }

}  // namespace rakugo::app
