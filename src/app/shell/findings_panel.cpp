#include "app/shell/findings_panel.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <algorithm>

#include "app/widgets/panels.h"
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
  connect(&session, &Session::mendsTried, this, &FindingsPanel::refresh);
  setObjectName(QStringLiteral("findings"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  layout->setSpacing(0);
  makeHead(layout);
  area_ = scrollColumn(column_, this);
  column_->setContentsMargins(16, 2, 12, 8);
  column_->setSpacing(4);
  layout->addWidget(area_, 1);
}

void FindingsPanel::makeHead(QVBoxLayout* layout) {
  auto* head = new QHBoxLayout;
  head->setContentsMargins(16, 8, 12, 2);
  head->setSpacing(2);
  title_ = heading(tr("Findings"), this);
  title_->setObjectName(QStringLiteral("findings-title"));
  title_->setWordWrap(false);
  head->addWidget(title_);
  head->addSpacing(8);
  static constexpr const char* kNames[] = {"only-stops", "only-shows", "only-tidy", "only-aside"};
  for (size_t i = 0; i < narrow_.size(); ++i) {
    auto* button = new QPushButton(this);
    button->setObjectName(QString::fromLatin1(kNames[i]));
    button->setProperty("quiet", true);
    button->setCheckable(true);
    // Pressed: these are shown. What was set aside is out of sight until it is asked for.
    button->setChecked(i < 3);
    connect(button, &QPushButton::toggled, this, &FindingsPanel::refresh);
    head->addWidget(button);
    narrow_[i] = button;
  }
  head->addStretch();
  by_thing_ = new QPushButton(tr("By thing"), this);
  by_thing_->setObjectName(QStringLiteral("by-thing"));
  by_thing_->setProperty("quiet", true);
  by_thing_->setCheckable(true);
  by_thing_->setToolTip(tr("Group by object, model and source"));
  connect(by_thing_, &QPushButton::toggled, this, &FindingsPanel::refresh);
  head->addWidget(by_thing_);
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("findings-words"));
  words_->setAccessibleName(tr("Only findings with these words"));
  words_->setPlaceholderText(tr("Only with…"));
  words_->setClearButtonEnabled(true);
  words_->setFixedWidth(120);
  connect(words_, &QLineEdit::textChanged, this, &FindingsPanel::refresh);
  head->addWidget(words_);
  layout->addLayout(head);
}

bool FindingsPanel::wanted(const check::Finding& f) const {
  const auto chosen = [&](const check::Finding& one) {
    return narrow_[one.set_aside ? 3 : static_cast<size_t>(one.severity)]->isChecked();
  };
  // Below its cause, where that one is shown.
  if (f.caused_by && words_->text().trimmed().isEmpty() &&
      chosen(session_.examination()->findings[*f.caused_by]))
    return false;
  if (!chosen(f)) return false;
  const QString words = words_->text().trimmed();
  return words.isEmpty() || q(f.sentence).contains(words, Qt::CaseInsensitive) ||
         q(f.place.text()).contains(words, Qt::CaseInsensitive);
}

void FindingsPanel::refreshHead(const std::vector<check::Finding>& findings) {
  std::array<int, 4> counts{};
  // All of them, also those below their causes: the same numbers as the route's and the tool's.
  for (const check::Finding& f : findings) ++counts[f.set_aside ? 3 : static_cast<size_t>(f.severity)];
  const QString texts[] = {tr("%1 stop").arg(counts[0]), tr("%1 show").arg(counts[1]),
                           tr("%1 to tidy").arg(counts[2]), tr("%1 set aside").arg(counts[3])};
  for (size_t i = 0; i < narrow_.size(); ++i) {
    narrow_[i]->setText(texts[i]);
    narrow_[i]->setAccessibleName(tr("Show those of: %1").arg(texts[i]));
    narrow_[i]->setVisible(counts[i] > 0);
  }
  const bool any = !findings.empty();
  by_thing_->setVisible(any);
  words_->setVisible(any || !words_->text().isEmpty());
  title_->setText(any ? tr("Findings") : tr("Findings: none"));
}

void FindingsPanel::refresh() {
  const int scrolled = area_->verticalScrollBar()->value();
  clearLayout(column_);
  const auto& x = session_.examination();
  if (!session_.isOpen() || !x) {
    refreshHead({});
    title_->setText(tr("Findings"));
    column_->addWidget(quietText(
        session_.isOpen() ? tr("Looking…") : tr("Open a mod; what is wrong with it will stand here."), this));
    column_->addStretch();
    return;
  }
  refreshHead(x->findings);
  std::vector<const check::Finding*> shown;
  for (const check::Finding& f : x->findings)
    if (wanted(f)) shown.push_back(&f);
  if (x->findings.empty())
    column_->addWidget(quietText(
        tr("Everything the rulebook asks for is in order. Build the bundle and try it out."), this));
  else if (shown.empty())
    column_->addWidget(quietText(tr("None of what is chosen above."), this));
  const auto thing = [](const check::Finding& f) {
    const check::FindingPlace& p = f.place;
    return !p.object.empty()   ? p.object
           : !p.model.empty()  ? p.model
           : !p.source.empty() ? p.source
                               : std::string();
  };
  if (by_thing_->isChecked())
    std::stable_sort(shown.begin(), shown.end(),
                     [&](const auto* a, const auto* b) { return thing(*a) < thing(*b); });
  std::string before = "\n";
  bool first = true;
  for (const check::Finding* f : shown) {
    bool headed = false;
    if (by_thing_->isChecked() && thing(*f) != before) {
      before = thing(*f);
      const auto count =
          std::count_if(shown.begin(), shown.end(), [&](const auto* o) { return thing(*o) == before; });
      QLabel* label = heading(
          (before.empty() ? tr("The mod itself") : q(before)) + QStringLiteral("  ") + QString::number(count),
          this);
      label->setObjectName(QStringLiteral("thing-") + q(before));
      label->setContentsMargins(0, first ? 2 : 10, 0, 2);
      column_->addWidget(label);
      headed = true;
    }
    addRow(*f, !first && !headed);
    first = false;
  }
  column_->addStretch();
  QTimer::singleShot(0, area_, [area = area_, scrolled] { area->verticalScrollBar()->setValue(scrolled); });
}

void FindingsPanel::addRow(const check::Finding& finding, bool line_above) {
  if (line_above) column_->addWidget(hairline(this));
  auto* row = new QWidget(this);
  row->setObjectName(QStringLiteral("finding-") + q(finding.check));
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(0, 3, 0, 3);
  layout->setSpacing(4);
  layout->addWidget(new SeverityMark(finding.severity, row), 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(2);
  column->addWidget(finding.set_aside ? quietText(q(finding.sentence), row)
                                      : plainText(q(finding.sentence), row));
  column->addWidget(quietText(
      finding.set_aside ? tr("Set aside: %1").arg(q(finding.aside_reason)) : q(finding.reason), row));
  if (finding.mends.empty() && !finding.set_aside && !finding.cure.empty())
    column->addWidget(quietText(tr("What to do: %1").arg(q(finding.cure)), row));
  addButtons(finding, row, column);
  addEffects(finding, row, column);
  layout->addLayout(column, 1);
  column_->addWidget(row);
}

void FindingsPanel::addEffects(const check::Finding& cause, QWidget* row, QVBoxLayout* column) {
  if (cause.causes == 0) return;
  const std::string key = check::findingKey(cause);
  const bool open = unfolded_.count(key) != 0;
  auto* fold = new QPushButton(
      cause.causes == 1 ? tr("1 more goes with it") : tr("%1 more go with it").arg(cause.causes), row);
  fold->setObjectName(QStringLiteral("with-") + q(cause.check));
  fold->setProperty("quiet", true);
  fold->setCheckable(true);
  fold->setChecked(open);
  fold->setToolTip(tr("What vanishes together with this finding"));
  connect(fold, &QPushButton::clicked, this, [this, key] {
    if (unfolded_.erase(key) == 0) unfolded_.insert(key);
    refresh();
  });
  column->addWidget(fold, 0, Qt::AlignLeft);
  if (!open) return;
  const auto& all = session_.examination()->findings;
  for (const check::Finding& effect : all) {
    if (!effect.caused_by || &all[*effect.caused_by] != &cause) continue;
    auto* line = new QWidget(row);
    line->setObjectName(QStringLiteral("effect-") + q(effect.check));
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(8, 2, 0, 2);
    layout->setSpacing(4);
    layout->addWidget(new SeverityMark(effect.severity, line), 0, Qt::AlignTop);
    layout->addWidget(plainText(q(effect.sentence), line), 1);
    auto* show = new QPushButton(tr("Show"), line);
    show->setObjectName(QStringLiteral("show-") + q(effect.check));
    show->setAccessibleName(tr("Show: %1").arg(q(effect.sentence)));
    connect(show, &QPushButton::clicked, this, [this, effect] { Q_EMIT showAsked(effect); });
    layout->addWidget(show, 0, Qt::AlignTop);
    column->addWidget(line);
  }
}

void FindingsPanel::addButtons(const check::Finding& finding, QWidget* row, QVBoxLayout* column) {
  auto* buttons = new QHBoxLayout;
  buttons->setContentsMargins(0, 3, 0, 2);
  buttons->setSpacing(6);
  auto* show = new QPushButton(tr("Show"), row);
  show->setObjectName(QStringLiteral("show-") + q(finding.check));
  show->setAccessibleName(tr("Show: %1").arg(q(finding.sentence)));
  connect(show, &QPushButton::clicked, this, [this, finding] { Q_EMIT showAsked(finding); });
  buttons->addWidget(show);
  if (finding.set_aside) {
    auto* up = new QPushButton(tr("Take it up again"), row);
    up->setObjectName(QStringLiteral("take-up-") + q(finding.check));
    connect(up, &QPushButton::clicked, this, [this, m = check::takeUp(finding)] { mend(m); });
    buttons->addWidget(up);
  } else if (!finding.mends.empty()) {
    auto* button = new NameButton(q(finding.mends.front().label), row, 400);
    button->setObjectName(QStringLiteral("mend-") + q(finding.check));
    button->setAccessibleName(tr("Mend: %1").arg(q(finding.mends.front().label)));
    connect(button, &QPushButton::clicked, this, [this, m = finding.mends.front()] { mend(m); });
    buttons->addWidget(button);
  }
  addMore(finding, row, buttons);
  buttons->addStretch();
  column->addLayout(buttons);
}

void FindingsPanel::addMore(const check::Finding& finding, QWidget* row, QHBoxLayout* buttons) {
  const auto& all = session_.examination()->findings;
  const auto alike = std::count_if(all.begin(), all.end(), [&](const check::Finding& f) {
    return f.check == finding.check && !f.set_aside && !f.mends.empty();
  });
  const bool may_aside = finding.severity != check::Severity::stops && !finding.set_aside;
  if (finding.mends.size() < 2 && alike < 2 && !may_aside) return;
  auto* more = new QPushButton(tr("More"), row);
  more->setObjectName(QStringLiteral("more-") + q(finding.check));
  more->setProperty("quiet", true);
  auto* menu = new QMenu(more);
  for (size_t i = 1; i < finding.mends.size() && !finding.set_aside; ++i)
    connect(menu->addAction(q(finding.mends[i].label)), &QAction::triggered, this,
            [this, m = finding.mends[i]] { mend(m); });
  if (alike > 1)
    connect(menu->addAction(tr("Mend all %1 of this sort").arg(alike)), &QAction::triggered, this,
            [this, check = finding.check] { mendAll(check); });
  if (may_aside) {
    if (!menu->isEmpty()) menu->addSeparator();
    connect(menu->addAction(tr("Set aside, with a reason…")), &QAction::triggered, this,
            [this, finding, more] { askAside(finding, more); });
  }
  more->setMenu(menu);
  buttons->addWidget(more);
}

void FindingsPanel::askAside(const check::Finding& finding, QWidget* at) {
  auto* popup = new ValuePopup({}, tr("Why it may stay as it is; Enter sets it aside"), this);
  connect(popup, &ValuePopup::accepted, this, [this, finding](const QString& reason) {
    if (reason.trimmed().isEmpty()) return;  // without a reason it stays where it is seen
    mend(check::setAside(finding, s(reason.trimmed())));
  });
  popup->openAt(at->mapToGlobal(QPoint(0, at->height())));
}

void FindingsPanel::mend(const check::Mend& mend) { session_.edit(q(mend.label), mend.apply); }

void FindingsPanel::mendAll(const std::string& check) {
  std::vector<check::Mend> mends;
  QString title;
  for (const check::Finding& f : session_.examination()->findings)
    if (f.check == check && !f.set_aside && !f.mends.empty()) mends.push_back(f.mends.front());
  for (const check::CheckRow& row : check::checkTable())
    if (check == row.id) title = QString::fromUtf8(row.title);
  // One edit, so that one undo takes all of them back.
  session_.edit(tr("Mend all: %1").arg(title), [&](mod::ModState& state) {
    for (const check::Mend& one : mends) one.apply(state);
  });
}

}  // namespace rakugo::app
