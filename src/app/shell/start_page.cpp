#include "app/shell/start_page.h"

#include <QAbstractButton>
#include <QDir>
#include <QHBoxLayout>
#include <QLocale>
#include <QMenu>
#include <QPainter>

#include "app/shell/recent.h"
#include "app/widgets/panels.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {
namespace {

// A mod worked on lately: its picture, what it is, and how far it is.
class RecentRow : public QAbstractButton {
 public:
  RecentRow(const RecentMod& mod, QWidget* parent)
      : QAbstractButton(parent), mod_(mod), picture_(mod.picture()) {
    setText(mod.title);
    setObjectName(QStringLiteral("recent-") + QDir(mod.folder).dirName());
    setAccessibleName(mod.title);
    setAccessibleDescription(state());
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(76);
    setToolTip(mod.folder);
  }

 protected:
  [[nodiscard]] QString state() const {
    if (!mod_.examined) return tr("not looked at yet");
    if (mod_.stops + mod_.shows + mod_.tidy == 0) return tr("in order");
    return tr("%1 stop, %2 show, %3 to tidy").arg(mod_.stops).arg(mod_.shows).arg(mod_.tidy);
  }
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (underMouse()) p.fillRect(rect(), t.wash);
    const QRect frame(8, 8, 60, 60);
    p.setPen(t.hair);
    p.setBrush(t.sheet);
    p.drawRect(frame);
    if (!picture_.isNull()) p.drawImage(frame.adjusted(1, 1, 0, 0), picture_);
    const int left = 84, room = width() - left - 12;
    p.setFont(typeface(15, true));
    p.setPen(t.ink);
    p.drawText(QRect(left, 8, room, 22), Qt::AlignVCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, room));
    p.setFont(typeface(12));
    p.setPen(t.quiet);
    const QString where = tr("%1 · %2").arg(mod_.game, QLocale().toString(mod_.when, QLocale::ShortFormat));
    p.drawText(QRect(left, 30, room, 18), Qt::AlignVCenter,
               p.fontMetrics().elidedText(where, Qt::ElideRight, room));
    const bool good = mod_.examined && mod_.stops + mod_.shows + mod_.tidy == 0;
    const check::Severity worst = mod_.stops > 0   ? check::Severity::stops
                                  : mod_.shows > 0 ? check::Severity::shows
                                                   : check::Severity::tidy;
    if (good)
      drawGood(p, {left + 6.0, 58}, 11);
    else if (mod_.examined)
      drawSeverity(p, {left + 6.0, 58}, 10, worst);
    p.setPen(good ? t.good : mod_.examined ? severityColor(worst) : t.quiet);
    p.drawText(QRect(left + (mod_.examined ? 18 : 0), 49, room, 18), Qt::AlignVCenter, state());
    if (hasFocus()) {
      p.setPen(QPen(t.click, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
  }

 private:
  RecentMod mod_;
  QImage picture_;
};

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("start"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->addStretch(2);
  auto* left = new QVBoxLayout;
  left->setSpacing(10);
  left->addStretch(2);
  auto* title = new QLabel(tr("Rakugo"), this);
  title->setFont(typeface(38, true));
  left->addWidget(title);
  QLabel* what = plainText(
      tr("Prepare a model for a game, see what is wrong before the game does, and build it into a mod."),
      this);
  what->setFixedWidth(400);
  left->addWidget(what);
  left->addSpacing(14);
  const auto offer = [&](const char* id, const QString& text, const QString& said, bool lead, auto signal) {
    auto* button = new QPushButton(text, this);
    button->setObjectName(QString::fromLatin1(id));
    button->setProperty("lead", lead);
    button->setFixedWidth(220);
    connect(button, &QPushButton::clicked, this, signal);
    left->addWidget(button);
    QLabel* label = quietText(said, this);
    label->setFixedWidth(400);
    left->addWidget(label);
    left->addSpacing(6);
  };
  offer("start-open", tr("Open a mod…"), tr("The folder that holds a mod.json."), true,
        &StartPage::openAsked);
  offer("start-new", tr("Start a new mod…"), tr("Blank, from a sample, or as a copy of a mod that works."),
        false, &StartPage::newAsked);
  offer("start-first", tr("Your first mod, step by step"),
        tr("A lamp as its maker left it, in a folder of your own; a guide goes along with what you do. Five "
           "minutes."),
        false, &StartPage::firstModAsked);
  left->addStretch(3);
  row->addLayout(left);
  row->addSpacing(72);
  auto* right = new QVBoxLayout;
  right->setSpacing(2);
  right->addStretch(2);
  recent_ = new QVBoxLayout;
  recent_->setSpacing(2);
  right->addLayout(recent_);
  right->addStretch(3);
  row->addLayout(right);
  row->addStretch(2);
  refresh();
}

void StartPage::refresh() {
  clearLayout(recent_);
  const auto mods = recentMods();
  if (!mods.isEmpty()) {
    QLabel* head = heading(tr("Lately"), this);
    head->setContentsMargins(8, 0, 0, 6);
    recent_->addWidget(head);
  }
  int shown = 0;
  for (const RecentMod& mod : mods) {
    if (++shown > 5) break;
    auto* row = new RecentRow(mod, this);
    row->setFixedWidth(420);
    connect(row, &QAbstractButton::clicked, this, [this, folder = mod.folder] { Q_EMIT modChosen(folder); });
    row->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(row, &QWidget::customContextMenuRequested, this, [this, row, folder = mod.folder](QPoint at) {
      QMenu menu;
      QAction* forget = menu.addAction(tr("Take it off this list"));
      if (menu.exec(row->mapToGlobal(at)) == forget) {
        forgetMod(folder);
        refresh();
      }
    });
    recent_->addWidget(row);
  }
  bool headed = false;
  for (const std::string& id : rulebook::rulebookIds()) {
    const auto book = rulebook::findRulebook(id);
    if (!book) continue;
    for (const rulebook::Sample& sample : book->samples) {
      if (!headed) {
        QLabel* head = heading(tr("Samples that are ready to build"), this);
        head->setContentsMargins(8, mods.isEmpty() ? 0 : 14, 0, 6);
        recent_->addWidget(head);
        headed = true;
      }
      auto* button = new QPushButton(q(sample.title) + QStringLiteral(" · ") + q(book->title), this);
      button->setObjectName(QStringLiteral("sample-") +
                            q(std::filesystem::path(sample.folder).filename().string()));
      button->setProperty("quiet", true);
      button->setStyleSheet(QStringLiteral("text-align: left;"));
      button->setFixedWidth(420);
      button->setToolTip(q(sample.help));
      connect(button, &QPushButton::clicked, this,
              [this, folder = q((book->folder / sample.folder).string()), title = q(sample.title)] {
                Q_EMIT sampleChosen(folder, title);
              });
      recent_->addWidget(button);
      QLabel* help = quietText(q(sample.help), this);
      help->setFixedWidth(420);
      help->setContentsMargins(8, 0, 0, 4);
      recent_->addWidget(help);
    }
  }
}

}  // namespace rakugo::app
