#include "app/shell/findings_panel.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <algorithm>

#include "app/shell/route.h"
#include "app/widgets/chapter.h"
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
  connect(&session, &Session::opened, this, [this] { most_ = kAtOnce; });
  setObjectName(QStringLiteral("findings"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  layout->setSpacing(0);
  makeHead(layout);
  area_ = scrollColumn(column_, this);
  column_->setContentsMargins(16, 2, 12, 8);
  column_->setSpacing(4);
  layout->addWidget(area_, 1);
  // The next ones come when the end is in sight.
  connect(area_->verticalScrollBar(), &QScrollBar::valueChanged, this, [this](int value) {
    if (more_rows_ != nullptr && more_rows_->isVisible() && value > 0 &&
        value + area_->height() >= area_->verticalScrollBar()->maximum())
      addSome();
  });
}

void FindingsPanel::makeHead(QVBoxLayout* layout) {
  head_ = new ChapterHead(tr("Findings"), this);
  head_->setObjectName(QStringLiteral("fold-findings-list"));
  layout->addWidget(head_);
  connect(head_, &QAbstractButton::clicked, this, [this] { Q_EMIT foldAsked(!folded_); });
  connect(head_, &ChapterHead::foldAsked, this, [this](bool open) { Q_EMIT foldAsked(!open); });
  tools_ = new QWidget(this);
  auto* head = new QHBoxLayout(tools_);
  head->setContentsMargins(12, 0, 12, 2);
  head->setSpacing(2);
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
  words_->setMinimumWidth(70);
  words_->setMaximumWidth(140);
  connect(words_, &QLineEdit::textChanged, this, &FindingsPanel::refresh);
  head->addWidget(words_, 1);
  layout->addWidget(tools_);
}

void FindingsPanel::setFolded(bool folded) {
  folded_ = folded;
  head_->setChecked(!folded);
  tools_->setVisible(!folded);
  area_->setVisible(!folded);
  setMaximumHeight(folded ? head_->sizeHint().height() : QWIDGETSIZE_MAX);
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

void FindingsPanel::sayHead(const std::array<int, 4>& counts, bool any) {
  QStringList said;
  const QString words[] = {tr("%1 stop the game"), tr("%1 seen by players"), tr("%1 to tidy"),
                           tr("%1 set aside")};
  std::optional<check::Severity> gravest;
  for (size_t i = 0; i < counts.size(); ++i) {
    if (counts[i] == 0) continue;
    said << words[i].arg(counts[i]);
    if (!gravest && i < 3) gravest = static_cast<check::Severity>(i);
  }
  head_->say(any ? said.join(QStringLiteral(", ")) : tr("none"), gravest, true);
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
  sayHead(counts, any);
}

namespace {

std::string thingOf(const check::Finding& f) {
  const check::FindingPlace& p = f.place;
  return !p.object.empty() ? p.object : !p.model.empty() ? p.model : p.source;
}

}  // namespace

void FindingsPanel::setStation(Station station) {
  if (station == station_) return;
  station_ = station;
  most_ = kAtOnce;
  refresh();
}

// Whether it is mended where one stands, and is of what is chosen or of the mod itself.
bool FindingsPanel::isHere(const check::Finding& f) const {
  const check::FindingPlace& p = f.place;
  const bool chosen = (p.model.empty() && p.object.empty()) || p.model == session_.model() ||
                      (p.model.empty() && p.object == session_.object());
  return chosen && stationOf(f.check) == station_;
}

void FindingsPanel::refresh() {
  const int scrolled = area_->verticalScrollBar()->value();
  // The row that has the keyboard, by its place: another may stand there afterwards.
  std::optional<size_t> focused;
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i]->isAncestorOf(QApplication::focusWidget())) focused = i;
  clearLayout(column_);
  rows_.clear();
  shown_.clear();
  examination_ = session_.isOpen() ? session_.examination() : nullptr;
  more_rows_ = nullptr;
  if (!examination_) {
    refreshHead({});
    head_->say(session_.isOpen() ? tr("looking…") : QString(), {}, false);
    column_->addWidget(quietText(
        session_.isOpen() ? tr("Looking…") : tr("Open a mod; what is wrong with it will stand here."), this));
    column_->addStretch();
    return;
  }
  refreshHead(examination_->findings);
  for (const check::Finding& f : examination_->findings)
    if (wanted(f)) shown_.push_back(&f);
  if (examination_->findings.empty())
    column_->addWidget(quietText(
        tr("Everything the rulebook asks for is in order. Build the bundle and try it out."), this));
  else if (shown_.empty())
    column_->addWidget(quietText(tr("None of what is chosen above."), this));
  if (by_thing_->isChecked())
    std::stable_sort(shown_.begin(), shown_.end(),
                     [&](const auto* a, const auto* b) { return thingOf(*a) < thingOf(*b); });
  else
    std::stable_partition(shown_.begin(), shown_.end(), [&](const auto* f) { return isHere(*f); });
  more_rows_ = new QPushButton(this);
  more_rows_->setObjectName(QStringLiteral("more-findings"));
  more_rows_->setProperty("quiet", true);
  connect(more_rows_, &QPushButton::clicked, this, &FindingsPanel::addSome);
  column_->addWidget(more_rows_, 0, Qt::AlignLeft);
  column_->addStretch();
  addRows(most_);
  if (focused && !rows_.empty()) {
    QWidget* row = rows_[std::min(*focused, rows_.size() - 1)];
    if (auto* first = row->findChild<QPushButton*>()) first->setFocus();
  }
  QTimer::singleShot(0, area_, [area = area_, scrolled] { area->verticalScrollBar()->setValue(scrolled); });
}

// So many at once: a mod of hundreds of models has thousands, and each is a row of buttons.
void FindingsPanel::addSome() {
  const bool by_keys = more_rows_ != nullptr && more_rows_->hasFocus();
  const size_t before = rows_.size();
  most_ += kAtOnce;
  addRows(most_);
  if (by_keys && rows_.size() > before)
    if (auto* first = rows_[before]->findChild<QPushButton*>()) first->setFocus();
}

void FindingsPanel::addRows(size_t most) {
  const size_t end = std::min(most, shown_.size());
  for (size_t i = rows_.size(); i < end; ++i) {
    const check::Finding& f = *shown_[i];
    bool headed = false;
    if (by_thing_->isChecked() && (i == 0 || thingOf(f) != thingOf(*shown_[i - 1]))) {
      const std::string thing = thingOf(f);
      const auto count =
          std::count_if(shown_.begin(), shown_.end(), [&](const auto* o) { return thingOf(*o) == thing; });
      addHeading(QStringLiteral("thing-") + q(thing), (thing.empty() ? tr("The mod itself") : q(thing)) +
                                                          QStringLiteral("  ") + QString::number(count));
      headed = true;
    }
    if (!by_thing_->isChecked() && i > 0 && isHere(*shown_[i - 1]) && !isHere(f)) {
      addHeading(QStringLiteral("findings-elsewhere"), tr("At other stations, and of other things"));
      headed = true;
    }
    addRow(f, i > 0 && !headed);
  }
  more_rows_->setVisible(end < shown_.size());
  more_rows_->setText(tr("%1 more").arg(shown_.size() - end));
}

void FindingsPanel::addHeading(const QString& name, const QString& text) {
  QLabel* label = heading(text, this);
  label->setObjectName(name);
  label->setContentsMargins(0, rows_.empty() ? 2 : 10, 0, 2);
  column_->insertWidget(column_->indexOf(more_rows_), label);
  label->show();
}

void FindingsPanel::addRow(const check::Finding& finding, bool line_above) {
  // Shown at once: the layout would do it when the event loop comes to it, and leave a gap until then.
  const auto put = [this](QWidget* widget) {
    column_->insertWidget(column_->indexOf(more_rows_), widget);
    widget->show();
  };
  if (line_above) put(hairline(this));
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
  put(row);
  rows_.push_back(row);
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
    // A long label has a line of its own, above the others.
    if (button->sizeHint().width() > 190)
      column->addWidget(button, 0, Qt::AlignLeft);
    else
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
