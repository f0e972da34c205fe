#include "app/shell/start_page.h"

#include <QAbstractButton>
#include <QDir>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLocale>
#include <QMenu>
#include <QPainter>

#include "app/shell/examples.h"
#include "app/shell/recent.h"
#include "app/widgets/panels.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {
namespace {

constexpr int kRowWide = 306;  // pixels of a mod in the lists; two stand side by side

// A mod with its picture, a title and a line or two below it.
class ModRow : public QAbstractButton {
 public:
  ModRow(const QString& title, const QImage& picture, int side, QWidget* parent)
      : QAbstractButton(parent), picture_(picture), side_(side) {
    setText(title);
    setAccessibleName(title);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(side + 12);
  }

 protected:
  /// Draws what stands below the title, from `top` on.
  virtual void paintBelow(QPainter& painter, QRect room) = 0;
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (underMouse()) p.fillRect(rect(), t.wash);
    const QRect frame(6, 6, side_, side_);
    p.setPen(t.hair);
    p.setBrush(t.sheet);
    p.drawRect(frame);
    if (!picture_.isNull()) p.drawImage(frame.adjusted(1, 1, 0, 0), picture_);
    const QRect room(side_ + 18, 5, width() - side_ - 28, height() - 10);
    p.setFont(typeface(14, true));
    p.setPen(t.ink);
    p.drawText(QRect(room.left(), room.top(), room.width(), 20), Qt::AlignVCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, room.width()));
    p.setFont(typeface(12));
    paintBelow(p, room.adjusted(0, 21, 0, 0));
    if (hasFocus()) {
      p.setPen(QPen(t.click, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
  }

 private:
  QImage picture_;
  int side_;
};

// A mod worked on lately: what it is, and how far it is.
class RecentRow : public ModRow {
 public:
  RecentRow(const RecentMod& mod, QWidget* parent) : ModRow(mod.title, mod.picture(), 56, parent), mod_(mod) {
    setObjectName(QStringLiteral("recent-") + QDir(mod.folder).dirName());
    setAccessibleDescription(state());
    setToolTip(mod.folder);
  }

 protected:
  [[nodiscard]] QString state() const {
    if (!mod_.examined) return tr("not looked at yet");
    if (mod_.stops + mod_.shows + mod_.tidy == 0) return tr("in order");
    // The gravest in words; there is room for no more.
    const int more = mod_.stops > 0 ? mod_.shows + mod_.tidy : mod_.shows > 0 ? mod_.tidy : 0;
    const QString worst = mod_.stops == 1   ? tr("1 finding stops the game")
                          : mod_.stops > 1  ? tr("%1 findings stop the game").arg(mod_.stops)
                          : mod_.shows == 1 ? tr("1 finding is seen by players")
                          : mod_.shows > 1  ? tr("%1 findings are seen by players").arg(mod_.shows)
                                            : tr("%1 to tidy").arg(mod_.tidy);
    return more > 0 ? tr("%1, %2 more").arg(worst).arg(more) : worst;
  }
  void paintBelow(QPainter& p, QRect room) override {
    const Theme& t = theme();
    p.setPen(t.quiet);
    const QString where = tr("%1 · %2").arg(mod_.game, QLocale().toString(mod_.when, QLocale::ShortFormat));
    p.drawText(QRect(room.left(), room.top(), room.width(), 17), Qt::AlignVCenter,
               p.fontMetrics().elidedText(where, Qt::ElideRight, room.width()));
    const bool good = mod_.examined && mod_.stops + mod_.shows + mod_.tidy == 0;
    const check::Severity worst = mod_.stops > 0   ? check::Severity::stops
                                  : mod_.shows > 0 ? check::Severity::shows
                                                   : check::Severity::tidy;
    const QPointF mark(room.left() + 6.0, room.top() + 26.0);
    if (good)
      drawGood(p, mark, 11);
    else if (mod_.examined)
      drawSeverity(p, mark, 10, worst);
    p.setPen(good ? t.good : mod_.examined ? severityColor(worst) : t.quiet);
    p.drawText(QRect(room.left() + (mod_.examined ? 18 : 0), room.top() + 17, room.width(), 18),
               Qt::AlignVCenter, state());
  }

 private:
  RecentMod mod_;
};

// An example, with what it teaches.
class ExampleRow : public ModRow {
 public:
  ExampleRow(const QString& title, const QString& teaches, const QImage& picture, QWidget* parent)
      : ModRow(title, picture, 56, parent), teaches_(teaches) {
    setAccessibleDescription(teaches);
    setToolTip(tr("Opens a copy of your own"));
  }

 protected:
  void paintBelow(QPainter& p, QRect room) override {
    p.setPen(theme().quiet);
    p.drawText(room, Qt::AlignTop | Qt::TextWordWrap, teaches_);
  }

 private:
  QString teaches_;
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
  what->setFixedWidth(330);
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
    label->setFixedWidth(330);
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
  row->addSpacing(48);
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
    head->setContentsMargins(6, 0, 0, 4);
    recent_->addWidget(head);
  }
  constexpr int kShown = 3;
  auto* grid = new QGridLayout;
  grid->setSpacing(2);
  int shown = 0;
  for (const RecentMod& mod : mods) {
    if (shown == kShown) break;
    auto* row = new RecentRow(mod, this);
    row->setFixedWidth(kRowWide);
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
    grid->addWidget(row, shown / 2, shown % 2);
    ++shown;
  }
  recent_->addLayout(grid);
  addExamples();
  addSamples();
}

// What ships with Rakugo to learn from; each is opened as a copy.
void StartPage::addExamples() {
  const auto examples = exampleMods();
  if (examples.empty()) return;
  QLabel* head = heading(tr("Examples to learn from; each opens as a copy of your own"), this);
  head->setContentsMargins(6, 12, 0, 4);
  recent_->addWidget(head);
  auto* grid = new QGridLayout;
  grid->setSpacing(2);
  for (size_t i = 0; i < examples.size(); ++i) {
    const ExampleMod& one = examples[i];
    auto* row = new ExampleRow(one.title, one.teaches, one.picture(), this);
    row->setObjectName(QStringLiteral("example-") + q(one.folder.filename().string()));
    row->setFixedWidth(kRowWide);
    connect(row, &QAbstractButton::clicked, this,
            [this, folder = q(one.folder.string()), title = tr("My %1").arg(one.title.toLower())] {
              Q_EMIT exampleChosen(folder, title);
            });
    grid->addWidget(row, static_cast<int>(i / 2), static_cast<int>(i % 2));
  }
  recent_->addLayout(grid);
}

// What a game's rulebook ships that is ready to build.
void StartPage::addSamples() {
  bool headed = false;
  for (const std::string& id : rulebook::rulebookIds()) {
    const auto book = rulebook::findRulebook(id);
    if (!book) continue;
    for (const rulebook::Sample& sample : book->samples) {
      if (!headed) {
        QLabel* head = heading(tr("Samples of the games, ready to build"), this);
        head->setContentsMargins(6, 12, 0, 4);
        recent_->addWidget(head);
        headed = true;
      }
      auto* button = new QPushButton(q(sample.title) + QStringLiteral(" · ") + q(book->title), this);
      button->setObjectName(QStringLiteral("sample-") +
                            q(std::filesystem::path(sample.folder).filename().string()));
      button->setProperty("quiet", true);
      button->setStyleSheet(QStringLiteral("text-align: left;"));
      button->setToolTip(q(sample.help));
      button->setAccessibleDescription(q(sample.help));
      connect(button, &QPushButton::clicked, this,
              [this, folder = q((book->folder / sample.folder).string()), title = q(sample.title)] {
                Q_EMIT sampleChosen(folder, title);
              });
      recent_->addWidget(button, 0, Qt::AlignLeft);
    }
  }
}

}  // namespace rakugo::app
