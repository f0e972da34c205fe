#include "app/findings/findings_panel.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <algorithm>

#include "app/findings/finding_card.h"
#include "app/findings/findings_view.h"
#include "app/shell/route.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "check/mend_many.h"

namespace rakugo::app {

FindingsPanel::FindingsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  connect(&session, &Session::mendsTried, this, &FindingsPanel::refresh);
  setObjectName(QStringLiteral("findings"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  layout->setSpacing(0);
  makeHead(layout);
  empty_ = quietText({}, this);
  empty_->setContentsMargins(16, 4, 12, 8);
  empty_->setAlignment(Qt::AlignTop);
  layout->addWidget(empty_, 1);
  rows_ = new FindingsRows(this);
  view_ = new FindingsView(*rows_, this);
  layout->addWidget(view_, 1);
  setFocusProxy(view_);
  connect(&session_, &Session::opened, view_, &FindingsView::beginAnew);
  connect(view_, &FindingsView::showAsked, this, [this](const check::Finding& finding) {
    leading_ = true;
    Q_EMIT showAsked(finding);
    leading_ = false;
  });
  connect(view_, &FindingsView::whyAsked, this, &FindingsPanel::whyAsked);
  connect(view_, &FindingsView::mendAsked, this, &FindingsPanel::mend);
  connect(view_, &FindingsView::mendAllAsked, this, &FindingsPanel::mendAll);
  connect(view_, &FindingsView::asideAsked, this, &FindingsPanel::askAside);
}

void FindingsPanel::makeHead(QVBoxLayout* layout) {
  auto* line = new QHBoxLayout;
  line->setContentsMargins(0, 0, 8, 0);
  line->setSpacing(6);
  head_ = new ChapterHead(tr("Findings"), this);
  head_->setObjectName(QStringLiteral("fold-findings-list"));
  line->addWidget(head_, 1);
  by_thing_ = new QPushButton(tr("By thing"), this);
  by_thing_->setObjectName(QStringLiteral("by-thing"));
  by_thing_->setProperty("quiet", true);
  by_thing_->setCheckable(true);
  by_thing_->setToolTip(tr("Group by object, model and source"));
  connect(by_thing_, &QPushButton::toggled, this, &FindingsPanel::refresh);
  line->addWidget(by_thing_);
  sure_ = new QPushButton(this);
  sure_->setObjectName(QStringLiteral("mend-sure"));
  sure_->setToolTip(tr("Does every mend that was tried and leaves nothing to choose, as one edit"));
  connect(sure_, &QPushButton::clicked, this, &FindingsPanel::mendSure);
  line->addWidget(sure_);
  layout->addLayout(line);
  connect(head_, &QAbstractButton::clicked, this, [this] { Q_EMIT foldAsked(!folded_); });
  head_->offerHelp(QStringLiteral("start/findings"));
  connect(head_, &ChapterHead::helpAsked, this, &FindingsPanel::helpAsked);
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
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("findings-words"));
  words_->setAccessibleName(tr("Only findings with these words"));
  words_->setPlaceholderText(tr("Find…"));
  words_->setClearButtonEnabled(true);
  words_->setMinimumWidth(56);
  words_->setMaximumWidth(140);
  connect(words_, &QLineEdit::textChanged, this, &FindingsPanel::refresh);
  head->addWidget(words_, 1);
  layout->addWidget(tools_);
}

std::string FindingsPanel::present() const {
  const FindingCard* card = view_->card();
  return card != nullptr ? card->finding().check : std::string();
}

void FindingsPanel::setFolded(bool folded) {
  folded_ = folded;
  head_->setChecked(!folded);
  refresh();
  setMaximumHeight(folded ? head_->sizeHint().height() : QWIDGETSIZE_MAX);
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
  // Unfolded, the buttons below it say how many.
  head_->say(!any ? tr("none") : folded_ ? said.join(QStringLiteral(", ")) : QString(), gravest, true);
}

void FindingsPanel::refreshHead(const std::vector<check::Finding>& findings) {
  std::array<int, 4> counts{};
  // All of them, also those below their causes: the same numbers as the route's and the tool's.
  for (const check::Finding& f : findings) ++counts[f.set_aside ? 3 : static_cast<size_t>(f.severity)];
  const QString texts[] = {counts[0] == 1 ? tr("1 stops the game") : tr("%1 stop the game").arg(counts[0]),
                           tr("%1 seen").arg(counts[1]), tr("%1 to tidy").arg(counts[2]),
                           tr("%1 set aside").arg(counts[3])};
  const QString whole[] = {tr("Shows what stops the game (%1)"), tr("Shows what players see (%1)"),
                           tr("Shows what is to tidy (%1)"), tr("Shows what was set aside (%1)")};
  for (size_t i = 0; i < narrow_.size(); ++i) {
    narrow_[i]->setText(texts[i]);
    narrow_[i]->setToolTip(whole[i].arg(counts[i]));
    narrow_[i]->setAccessibleName(narrow_[i]->toolTip());
    if (i < 3) narrow_[i]->setIcon(severityIcon(static_cast<check::Severity>(i)));
    narrow_[i]->setVisible(counts[i] > 0);
  }
  const bool any = !findings.empty();
  by_thing_->setVisible(any && !folded_);
  words_->setVisible(any || !words_->text().isEmpty());
  sayHead(counts, any);
}

void FindingsPanel::setStation(Station station) {
  if (station == station_) return;
  station_ = station;
  // Whoever goes to another station begins at its first finding; who is led there by one stays at that.
  if (!leading_) view_->beginAnew();
  refresh();
}

void FindingsPanel::sayWhenEmpty() {
  const auto& x = rows_->examination();
  empty_->setText(!session_.isOpen() ? tr("Open a mod; what is wrong with it will stand here.")
                  : !x               ? tr("Looking…")
                  : x->findings.empty()
                      ? tr("Everything the rulebook asks for is in order. Build the bundle and try it out.")
                      : tr("None of what is chosen above."));
  const bool empty = rows_->rowCount() == 0;
  tools_->setVisible(!folded_);
  empty_->setVisible(!folded_ && empty);
  view_->setVisible(!folded_ && !empty);
}

void FindingsPanel::refresh() {
  const auto x = session_.isOpen() ? session_.examination() : nullptr;
  FindingsFilter filter;
  for (size_t i = 0; i < narrow_.size(); ++i) filter.sorts[i] = narrow_[i]->isChecked();
  filter.words = words_->text().trimmed();
  filter.by_thing = by_thing_->isChecked();
  filter.station = station_;
  filter.model = session_.model();
  filter.object = session_.object();
  // Not copied: there may be thousands.
  static const std::vector<check::Finding> kNone;
  refreshHead(x ? x->findings : kNone);
  if (!x) head_->say(session_.isOpen() ? tr("looking…") : QString(), {}, false);
  const auto sure =
      x == nullptr ? 0 : std::count_if(x->findings.begin(), x->findings.end(), [&](const check::Finding& f) {
        return check::isSure(*x, f);
      });
  sure_->setText(tr("Mend what is sure (%1)").arg(sure));
  sure_->setVisible(sure > 0 && !folded_);
  view_->rowsWillChange();
  rows_->show(x, filter);
  sayWhenEmpty();
  view_->renew();
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

void FindingsPanel::mendAll(const check::Finding& like) {
  std::vector<check::Mend> mends;
  for (const check::Finding& f : session_.examination()->findings)
    if (f.check == like.check && !f.set_aside && !f.mends.empty()) mends.push_back(f.mends.front());
  const check::CheckRow* row = check::findCheck(like.check);
  // One edit, so that one undo takes all of them back.
  session_.edit(tr("Mend all: %1").arg(row != nullptr ? QString::fromUtf8(row->title) : q(like.check)),
                [&](mod::ModState& state) {
                  for (const check::Mend& one : mends) one.apply(state);
                });
}

// In the background: the mod is examined again after each round.
void FindingsPanel::mendSure() { mendSureOf({}); }

void FindingsPanel::mendSureOf(const std::function<bool(const check::Finding&)>& only) {
  const auto x = session_.examination();
  if (!x || !session_.isExamined()) return;
  session_.post([this, x, only](base::Progress& progress) -> Session::Finish {
    auto mended = check::mendSure(*x, &progress, only);
    return [this, x, mended = std::move(mended)] {
      // Somebody who edits meanwhile keeps the edit.
      if (!mended || mended->done.empty() || !session_.isExamined() || session_.examination()->mod != x->mod)
        return Q_EMIT this->mended({});
      QStringList done;
      for (const check::DoneMend& one : mended->done)
        done << (one.place.empty() ? q(one.label) : q(one.place) + QStringLiteral(": ") + q(one.label));
      session_.edit(tr("Mend what is sure"), [&](mod::ModState& state) { state = mended->state; });
      Q_EMIT this->mended(done);
    };
  });
}

}  // namespace rakugo::app
