#include "app/stations/station_panel.h"

#include <QApplication>
#include <algorithm>

#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"

namespace rakugo::app {

StationPanel::StationPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(1, 0, 0, 0);
  area_ = scrollColumn(column_, this);
  layout->addWidget(area_);
}

Chapter* StationPanel::addChapter(const char* id, const QString& title,
                                  std::vector<std::string_view> checks) {
  if (chapters_.empty()) {  // chapters have margins of their own, and their lines run from side to side
    column_->setContentsMargins(0, 0, 0, 12);
    column_->setSpacing(0);
  }
  auto* chapter = new Chapter(QString::fromLatin1(id), title, this);
  column_->addWidget(chapter);
  chapters_.push_back(chapter);
  about_.push_back({chapter, std::move(checks)});
  connect(chapter->head(), &ChapterHead::helpAsked, this, &StationPanel::helpAsked);
  connect(chapter->head(), &ChapterHead::stepAsked, this, &StationPanel::stepChapter);
  return chapter;
}

Chapter* StationPanel::chapterOf(std::string_view check) const {
  for (const bool whole : {true, false})
    for (const About& one : about_)
      if (std::any_of(one.checks.begin(), one.checks.end(), [&](std::string_view id) {
            return whole ? id == check : id.ends_with('.') && check.starts_with(id);
          }))
        return one.chapter;
  return nullptr;
}

const check::Finding* StationPanel::gravestOf(const Chapter* chapter) {
  const auto& x = session_.examination();
  if (!session_.isOpen() || !x) return nullptr;
  // One walk for all chapters: there may be thousands.
  if (gravest_in_ != x || gravest_for_ != std::pair(session_.model(), session_.object())) {
    gravest_.clear();
    gravest_in_ = x;
    gravest_for_ = {session_.model(), session_.object()};
    for (const check::Finding& f : x->findings) {  // the gravest come first
      const check::FindingPlace& p = f.place;
      const bool here =
          p.model.empty() ? p.object.empty() || p.object == session_.object() : p.model == session_.model();
      if (f.set_aside || !here) continue;
      if (const Chapter* about = chapterOf(f.check)) gravest_.emplace(about, &f);
    }
  }
  const auto found = gravest_.find(chapter);
  return found == gravest_.end() ? nullptr : found->second;
}

void StationPanel::say(Chapter* chapter, const QString& state, bool good) {
  // Nothing is called right before it was looked at.
  if (session_.isOpen() && !session_.examination()) return chapter->say({}, {}, false);
  const check::Finding* gravest = gravestOf(chapter);
  chapter->say(state, gravest != nullptr ? std::optional(gravest->severity) : std::nullopt, good);
}

void StationPanel::settleChapters(Chapter* first) {
  if (!session_.isOpen() || !session_.examination()) return;
  const std::string now = session_.folder().string() + "\n" + session_.model() + "\n" + session_.object();
  if (now == shown_) return;
  shown_ = now;
  const bool any = std::any_of(chapters_.begin(), chapters_.end(),
                               [](const Chapter* c) { return c->head()->attention().has_value(); });
  for (Chapter* chapter : chapters_) chapter->beginAnew(!any && chapter == first);
}

void StationPanel::openChapterOf(const std::string& check) {
  Chapter* chapter = chapterOf(check);
  if (chapter == nullptr) return;
  chapter->setOpen(true);
  reveal(chapter->head());
}

void StationPanel::stepChapter(int by) {
  std::vector<Chapter*> seen;
  for (Chapter* chapter : chapters_)
    if (chapter->isVisibleTo(this)) seen.push_back(chapter);
  if (seen.empty()) return;
  const auto at = std::find_if(seen.begin(), seen.end(), [](const Chapter* one) {
    return one->isAncestorOf(QApplication::focusWidget());
  });
  // From outside the first step on is to the first chapter, and one back to the last.
  const auto last = static_cast<int>(seen.size()) - 1;
  const int now = at != seen.end() ? static_cast<int>(at - seen.begin()) : by > 0 ? -1 : last + 1;
  ChapterHead* head = seen[static_cast<size_t>(std::clamp(now + by, 0, last))]->head();
  head->setFocus(Qt::ShortcutFocusReason);
  reveal(head);
}

}  // namespace rakugo::app
