#include "app/help/help_panel.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextBrowser>

#include "app/widgets/panels.h"

namespace rakugo::app {

HelpPanel::HelpPanel(HelpPages pages, QWidget* parent) : QWidget(parent), pages_(std::move(pages)) {
  setObjectName(QStringLiteral("help"));
  setMinimumWidth(240);
  setMaximumWidth(560);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 10, 12, 8);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  words_ = new QLineEdit(this);
  words_->setObjectName(QStringLiteral("help-search"));
  words_->setPlaceholderText(tr("Search the help…"));
  words_->setAccessibleName(tr("Search the help"));
  words_->setClearButtonEnabled(true);
  row->addWidget(words_, 1);
  auto* close = new QPushButton(tr("Close"), this);
  close->setObjectName(QStringLiteral("help-close"));
  close->setAccessibleName(tr("Close the help"));
  close->setProperty("quiet", true);
  row->addWidget(close);
  column->addLayout(row);
  auto* ways = new QHBoxLayout;
  ways->setSpacing(6);
  back_ = new QPushButton(tr("Back"), this);
  back_->setObjectName(QStringLiteral("help-back"));
  back_->setProperty("quiet", true);
  all_ = new QPushButton(tr("All pages"), this);
  all_->setObjectName(QStringLiteral("help-all"));
  all_->setProperty("quiet", true);
  ways->addWidget(back_);
  ways->addWidget(all_);
  ways->addStretch();
  column->addLayout(ways);
  title_ = plainText({}, this);
  title_->setObjectName(QStringLiteral("help-title"));
  title_->setFont(typeface(17, true));
  column->addWidget(title_);
  text_ = new QTextBrowser(this);
  text_->setObjectName(QStringLiteral("help-text"));
  text_->setAccessibleName(tr("Help"));
  text_->setOpenLinks(false);
  text_->setFrameShape(QFrame::NoFrame);
  text_->document()->setDocumentMargin(0);
  text_->document()->setIndentWidth(14);
  column->addWidget(text_, 1);
  connect(words_, &QLineEdit::textChanged, this, &HelpPanel::search);
  connect(close, &QPushButton::clicked, this, &HelpPanel::leave);
  connect(back_, &QPushButton::clicked, this, &HelpPanel::back);
  connect(all_, &QPushButton::clicked, this, [this] { open({}); });
  connect(text_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) { open(url.toString()); });
  hide();
}

void HelpPanel::open(const QString& id) {
  if (!isVisible()) {
    came_from_ = QApplication::focusWidget();
    before_.clear();
    page_.clear();
    QWidget::show();
  } else if (const HelpPage* page = pages_.find(id); page == nullptr || page->id != page_) {
    before_ << page_;
  }
  words_->clear();
  show(id);
  text_->setFocus(Qt::OtherFocusReason);
}

void HelpPanel::show(const QString& id) {
  const HelpPage* page = pages_.find(id);
  page_ = page != nullptr ? page->id : QString();
  if (page != nullptr)
    setText(page->title, page->text);
  else
    setText(tr("Help"), allPages());
  back_->setEnabled(!before_.isEmpty());
  all_->setEnabled(!page_.isEmpty());
}

void HelpPanel::renew() {
  if (!isVisible()) return;
  words_->text().isEmpty() ? show(page_) : search(words_->text());
}

void HelpPanel::back() {
  if (before_.isEmpty()) return;
  const QString to = before_.takeLast();
  words_->clear();
  show(to);
  text_->setFocus(Qt::OtherFocusReason);
}

void HelpPanel::leave() {
  const bool had_keyboard = isAncestorOf(QApplication::focusWidget());
  hide();
  if (had_keyboard && came_from_ != nullptr && came_from_->isVisible())
    came_from_->setFocus(Qt::OtherFocusReason);
}

void HelpPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (!event->spontaneous()) Q_EMIT shown(true);
}

void HelpPanel::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  if (!event->spontaneous()) Q_EMIT shown(false);
}

void HelpPanel::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return leave();
  QWidget::keyPressEvent(event);
}

void HelpPanel::search(const QString& words) {
  if (words.trimmed().isEmpty()) return show(page_);
  const auto hits = pages_.search(words);
  QString out = hits.empty() ? tr("No page has these words. Fewer or other ones may help.") : QString();
  constexpr size_t kMost = 25;
  for (size_t i = 0; i < std::min(hits.size(), kMost); ++i)
    out += QStringLiteral("**[%1](%2)**  \n%3\n\n").arg(hits[i].page->title, hits[i].page->id, hits[i].piece);
  if (hits.size() > kMost) out += tr("%1 more pages have them.").arg(hits.size() - kMost);
  setText(tr("Found"), out);
}

QString HelpPanel::allPages() const {
  QString out;
  const std::pair<const char*, QString> kGroups[] = {
      {"start/", tr("The whole")},   {"sources/", tr("Sources")}, {"shape/", tr("Shape")},
      {"skeleton/", tr("Skeleton")}, {"surface/", tr("Surface")}, {"objects/", tr("Objects")},
      {"bundle/", tr("Bundle")},     {"tryout/", tr("Tryout")}};
  for (const auto& [begin, title] : kGroups) {
    out += QStringLiteral("## ") + title + QStringLiteral("\n\n");
    for (const HelpPage* page : pages_.written())
      if (page->id.startsWith(QLatin1String(begin)))
        out += QStringLiteral("- [%1](%2)\n").arg(page->title, page->id);
    out += QLatin1Char('\n');
  }
  return out + tr("Each check and each kind of step has a page too; the search finds them.");
}

// Markdown in the window's own type: quiet headings, links in the colour of what can be clicked.
void HelpPanel::setText(const QString& title, const QString& markdown) {
  title_->setText(title);
  QTextDocument* document = text_->document();
  document->setDefaultFont(typeface(13));
  text_->setMarkdown(markdown);
  for (QTextBlock block = document->begin(); block.isValid(); block = block.next()) {
    QTextCursor cursor(block);
    QTextBlockFormat format = block.blockFormat();
    const bool head = format.headingLevel() > 0;
    format.setTopMargin(head ? 10 : 3);
    format.setBottomMargin(3);
    format.setLineHeight(120, QTextBlockFormat::ProportionalHeight);
    cursor.setBlockFormat(format);
    for (auto part = block.begin(); !part.atEnd(); ++part) {
      QTextCursor piece(document);
      piece.setPosition(part.fragment().position());
      piece.setPosition(part.fragment().position() + part.fragment().length(), QTextCursor::KeepAnchor);
      QTextCharFormat look;
      look.setForeground(part.fragment().charFormat().isAnchor() ? theme().click : theme().ink);
      look.setFontUnderline(false);
      if (head) look.setProperty(QTextFormat::FontSizeAdjustment, 0);
      piece.mergeCharFormat(look);
    }
  }
  text_->verticalScrollBar()->setValue(0);
}

}  // namespace rakugo::app
