#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QSlider>
#include <QSplitter>
#include <cmath>

#include "app/stations/station_panel.h"
#include "app/stations/tryout/game_picture.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

constexpr int kMostLines = 200;

// A word beside a control: one line, so that its row is as high as the control and no lower.
QLabel* word(const QString& text, QWidget* parent) {
  QLabel* label = quietText(text, parent);
  label->setWordWrap(false);
  return label;
}

}  // namespace

TryoutStation::TryoutStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  makeGame();
  makeTrials();
  column_->addStretch();
  makeMiddle();
  connect(&line_, &GameLine::logged, this, &TryoutStation::addLine);
  connect(&line_, &GameLine::connectedChanged, this, [this] {
    behind_ = false;
    showState();
    refresh();
    askPicture();
  });
  connect(&game_, &QProcess::stateChanged, this, &TryoutStation::refresh);
  connect(&game_, &QProcess::stateChanged, this, &TryoutStation::runningChanged);
  connect(&game_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
    if (error == QProcess::FailedToStart)
      Q_EMIT tell(tr("The game cannot be started: %1 is not there.").arg(game_.program()), false);
  });
  connect(live_, &QCheckBox::toggled, this, &TryoutStation::keepUp);
  connect(&session_, &Session::edited, this, [this] {
    // Saving and selecting count as edits to the window; the game cares for what it would be given.
    if (!connected() || behind_ || session_.history().current() == given_) return;
    behind_ = true;
    since_edit_.start();
  });
  connect(&session_, &Session::examined, this, &TryoutStation::keepUp);
  connect(&session_, &Session::gameRefreshed, this, [this](bool good, const QString& message) {
    if (!good) {
      bringing_ = behind_ = false;
      return Q_EMIT tell(message, false);
    }
    line_.tell({{"do", "reload"}}, [this](bool reloaded, const GameLine::Answer&) {
      bringing_ = false;
      if (!reloaded) return;  // it has ended meanwhile; the next start loads what is installed
      const qint64 took = since_edit_.elapsed();
      how_fast_ =
          tr("The last change was in the game after %1 s.").arg(static_cast<double>(took) / 1000, 0, 'f', 2);
      // Edits made while this one was on its way follow at once.
      behind_ = session_.isOpen() && session_.history().current() != given_;
      showState();
      Q_EMIT gameUpToDate(took);
      keepUp();
    });
  });
  showState();
}

void TryoutStation::makeGame() {
  game_chapter_ = addChapter("tryout/game", tr("The game"), {});
  game_chapter_->setUsuallyOpen();
  QVBoxLayout* column = game_chapter_->body();
  column->addWidget(
      quietText(tr("Kelpwick, the simulated game that ships with Rakugo, loads what is installed and "
                   "says what it thinks of it."),
                this));
  start_ = new QPushButton(tr("Install and start the game"), this);
  start_->setObjectName(QStringLiteral("start-game"));
  connect(start_, &QPushButton::clicked, this, [this] {
    if (running())
      game_.terminate();
    else
      Q_EMIT installAsked();
  });
  column->addWidget(start_);
  live_ = new QCheckBox(tr("Show each change in it at once"), this);
  live_->setObjectName(QStringLiteral("game-live"));
  live_->setChecked(true);
  live_->setToolTip(
      tr("Builds what is open here, saved or not, and installs it after each edit that leaves "
         "nothing that stops the game."));
  column->addWidget(live_);
  state_ = quietText({}, this);
  state_->setObjectName(QStringLiteral("game-state"));
  column->addWidget(state_);
  column->addWidget(quietText(tr("The game's folder"), this));
  folder_ = new QLineEdit(gameFolder(), this);
  folder_->setObjectName(QStringLiteral("game-folder"));
  folder_->setAccessibleName(tr("The game's folder"));
  connect(folder_, &QLineEdit::editingFinished, this, [this] {
    setGameFolder(folder_->text());
    session_.setGame(s(gameFolder()));
  });
  column->addWidget(folder_);
}

// What the game is told to do with a thing of the mod; its picture follows.
void TryoutStation::makeTrials() {
  trial_chapter_ = addChapter("tryout/trials", tr("What is tried"), {});
  trial_chapter_->setUsuallyOpen();
  trials_ = new QWidget(this);
  auto* rows = new QVBoxLayout(trials_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(8);
  object_ = new QComboBox(trials_);
  object_->setObjectName(QStringLiteral("trial-object"));
  object_->setAccessibleName(tr("The object that is tried"));
  object_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  object_->setMinimumContentsLength(12);
  rows->addWidget(object_);
  addTrialButtons(rows);
  addTrialSlider(rows, "trial-night", {tr("Day"), tr("Night")}, tr("From day to night"), "night");
  addTrialSlider(rows, "trial-build", {tr("Slim"), tr("Broad")}, tr("From slim to broad"), "build");
  addTrialPaints(rows);
  trial_chapter_->body()->addWidget(trials_);
  not_running_ = quietText(tr("Start the game to try the mod's things in it."), this);
  trial_chapter_->body()->addWidget(not_running_);
}

void TryoutStation::addTrialButtons(QVBoxLayout* rows) {
  QHBoxLayout* row = nullptr;
  const auto begin = [&] {
    row = new QHBoxLayout;
    rows->addLayout(row);
  };
  const auto button = [&](const char* name, const QString& text, const QString& tip, auto&& act) {
    auto* made = new QPushButton(text, trials_);
    made->setObjectName(QLatin1String(name));
    made->setToolTip(tip);
    row->addWidget(made);
    connect(made, &QPushButton::clicked, this, act);
  };
  const auto with_object = [this](const char* what) {
    return [this, what] {
      tellGame(
          {{"do", what}, {"object", session_.state().card.id + "/" + s(object_->currentData().toString())}});
    };
  };
  const auto moves = [this](double ahead, double turn) {
    return [this, ahead, turn] {
      tellGame({{"do", "move"}, {"ahead", ahead}, {"turn", turn}, {"seconds", 1}});
      tellGame({{"do", "move"}, {"ahead", 0}, {"turn", 0}});
      tellGame({{"do", "follow"}});
    };
  };
  begin();
  button("trial-show", tr("Look at it"), tr("The camera goes to where it stands"), with_object("show"));
  button(
      "trial-use", tr("Use it"),
      tr("What its kind is for: walk as a keeper, wear a coat, carry gear, take a boat's helm, set one more "
         "of a fitting or block down"),
      with_object("use"));
  button("trial-leave", tr("End the trial"), tr("Step ashore, let go, take off"), [this] {
    tellGame({{"do", "leave"}});
  });
  row->addStretch();
  begin();
  button("trial-ahead", tr("Ahead"), tr("Walk or steer ahead for a second"), moves(1, 0));
  button("trial-left", tr("Left"), tr("Walk or steer to the left for a second"), moves(0.5, 1));
  button("trial-right", tr("Right"), tr("Walk or steer to the right for a second"), moves(0.5, -1));
  button("trial-astern", tr("Back"), tr("Walk or steer back for a second"), moves(-1, 0));
  row->addStretch();
  begin();
  button("trial-reload", tr("Load again"), tr("The game looks at its mods now"), [this] {
    tellGame({{"do", "reload"}});
  });
  row->addStretch();
}

void TryoutStation::addTrialSlider(QVBoxLayout* rows, const char* name,
                                   const std::pair<QString, QString>& ends, const QString& what,
                                   const char* command) {
  auto* row = new QHBoxLayout;
  auto* slider = new QSlider(Qt::Horizontal, trials_);
  slider->setObjectName(QLatin1String(name));
  slider->setAccessibleName(what);
  slider->setRange(0, 100);
  row->addWidget(word(ends.first, trials_));
  row->addWidget(slider, 1);
  row->addWidget(word(ends.second, trials_));
  rows->addLayout(row);
  connect(slider, &QSlider::valueChanged, this, [this, command](int value) {
    tellGame({{"do", command}, {"value", value / 100.0}});
  });
}

void TryoutStation::addTrialPaints(QVBoxLayout* rows) {
  auto* row = new QHBoxLayout;
  row->addWidget(word(tr("Paint"), trials_));
  int number = 0;
  for (const QColor& color : {QColor(0x86, 0xAD, 0xB3), QColor(0xD3, 0x84, 0x70), QColor(0xEB, 0xD3, 0x84),
                              QColor(0x7C, 0x95, 0xBC), QColor(0xF3, 0xF1, 0xEA)}) {
    auto* made = new QPushButton(trials_);
    made->setObjectName(QStringLiteral("trial-paint-%1").arg(++number));
    made->setAccessibleName(tr("Paint number %1").arg(number));
    made->setFixedSize(34, 28);  // no lower: the style sheet draws a button of that height
    made->setStyleSheet(QStringLiteral("QPushButton { background: %1; }").arg(color.name()));
    row->addWidget(made);
    connect(made, &QPushButton::clicked, this, [this, color] {
      // The game reckons in linear light; screens have it encoded.
      const auto linear = [](double v) { return std::pow(v, 2.2); };
      tellGame({{"do", "paint"},
                {"color", {linear(color.redF()), linear(color.greenF()), linear(color.blueF())}}});
    });
  }
  row->addStretch();
  rows->addLayout(row);
}

// The game's picture, above what it says.
void TryoutStation::makeMiddle() {
  auto* halves = new QSplitter(Qt::Vertical, this);
  halves->setObjectName(QStringLiteral("tryout-halves"));
  halves->setHandleWidth(1);
  halves->setChildrenCollapsible(false);
  middle_ = halves;
  picture_ = new GamePicture(halves);
  halves->addWidget(picture_);
  auto* below = new QWidget(halves);
  auto* column = new QVBoxLayout(below);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(16, 8, 12, 2);
  head->addWidget(heading(tr("What the game says"), below), 1);
  only_ours_ = new QPushButton(tr("Complaints about this mod"), below);
  only_ours_->setObjectName(QStringLiteral("log-only-ours"));
  only_ours_->setProperty("quiet", true);
  only_ours_->setCheckable(true);
  head->addWidget(only_ours_);
  connect(only_ours_, &QPushButton::toggled, this, &TryoutStation::filterLog);
  auto* words = new QLineEdit(below);
  words->setObjectName(QStringLiteral("log-words"));
  words->setAccessibleName(tr("Only lines with these words"));
  words->setPlaceholderText(tr("Find…"));
  words->setClearButtonEnabled(true);
  words->setMaximumWidth(140);
  head->addWidget(words);
  connect(words, &QLineEdit::textChanged, this, [this](const QString& text) {
    log_words_ = text.trimmed();
    filterLog();
  });
  column->addLayout(head);
  column->addWidget(scrollColumn(log_, below), 1);
  log_->setSpacing(4);
  log_->addStretch();
  halves->addWidget(below);
  halves->setSizes({360, 160});
  picture_clock_.setInterval(700);
  connect(&picture_clock_, &QTimer::timeout, this, &TryoutStation::askPicture);
}

void TryoutStation::tellGame(base::Json command) {
  line_.tell(std::move(command), [this](bool good, const GameLine::Answer& answer) {
    if (!good && connected()) Q_EMIT tell(answer.message, false);
    askPicture();
  });
}

// One at a time, and only while it is looked at.
void TryoutStation::askPicture() {
  if (!connected() || asking_ || !picture_->isVisible()) return;
  asking_ = true;
  const QSize room = picture_->size() * picture_->devicePixelRatioF();
  line_.tell(
      {{"do", "picture"}, {"width", std::min(room.width(), 720)}, {"height", std::min(room.height(), 450)}},
      [this](bool good, const GameLine::Answer& answer) {
        asking_ = false;
        QImage picture;
        if (good) picture.loadFromData(answer.png, "PNG");
        if (!picture.isNull()) picture_->show(picture, tr("The harbour, as it was a moment ago"));
      });
}

void TryoutStation::filterLog() {
  for (QLabel* line : middle_->findChildren<QLabel*>())
    if (const QVariant ours = line->property("complaint"); ours.isValid())
      line->setVisible((!only_ours_->isChecked() || ours.toBool()) &&
                       (log_words_.isEmpty() || line->text().contains(log_words_, Qt::CaseInsensitive)));
}

TryoutStation::~TryoutStation() {
  // The game goes with its window; a process left behind would hold the bundle's file open.
  game_.disconnect(this);
  line_.disconnect(this);
  if (running()) {
    game_.terminate();
    if (!game_.waitForFinished(2000)) game_.kill();
    game_.waitForFinished(1000);
  }
}

void TryoutStation::keepUp() {
  if (!behind_ || bringing_ || !live_->isChecked() || !connected() || !session_.isOpen() || session_.busy() ||
      session_.folder() != followed_)
    return;
  const auto& x = session_.examination();
  if (!x || x->count(check::Severity::stops) > 0) return showState();
  bringing_ = true;
  given_ = session_.history().current();
  session_.refreshGame(s(gameFolder()));
}

void TryoutStation::showState() {
  const auto& x = session_.examination();
  state_->setText(!running()     ? tr("The game is not running.")
                  : !connected() ? tr("The game is starting.")
                  : behind_ && x && x->count(check::Severity::stops) > 0
                      ? tr("The game shows the last state that nothing stops.")
                  : how_fast_.isEmpty() ? tr("The game is running and follows what is done here.")
                                        : how_fast_);
}

void TryoutStation::refresh() {
  start_->setText(running() ? tr("End the game") : tr("Install and start the game"));
  start_->setEnabled(running() || (session_.isOpen() && session_.examination() &&
                                   session_.examination()->count(check::Severity::stops) == 0));
  showState();
  if (!folder_->hasFocus()) folder_->setText(gameFolder());
  trials_->setVisible(connected());
  not_running_->setVisible(!connected());
  if (session_.isOpen()) {
    const QString kept = object_->currentData().toString();
    object_->clear();
    for (const auto& [name, doc] : session_.state().objects)
      object_->addItem(doc.title.empty() ? q(name) : q(doc.title), q(name));
    object_->setCurrentIndex(std::max(0, object_->findData(kept.isEmpty() ? q(session_.object()) : kept)));
  }
  if (connected() && !picture_clock_.isActive()) picture_clock_.start();
  if (!connected()) {
    picture_clock_.stop();
    asking_ = false;
    picture_->show({}, running()
                           ? tr("The game is starting.")
                           : tr("The game is not running. Install and start it at the right: its picture "
                                "stands here, and what it says below."));
  }
  say(game_chapter_,
      !running()     ? tr("not running")
      : !connected() ? tr("starting")
                     : tr("running"),
      connected());
  say(trial_chapter_, {});
  settleChapters(game_chapter_);
}

void TryoutStation::start() {
  if (running()) return;
  const auto name = line_.listen();
  if (!name) return Q_EMIT tell(q(name.error().text()), false);
  clearLayout(log_);
  log_->addStretch();
  how_fast_.clear();
  bringing_ = behind_ = false;
  followed_ = session_.folder();
  given_ = session_.history().current();
  game_.setProgram(QCoreApplication::applicationDirPath() + QStringLiteral("/kelpwick"));
  game_.setArguments({QStringLiteral("--mods"), QDir(gameFolder()).filePath(QStringLiteral("mods")),
                      QStringLiteral("--connect"), *name});
  // What it says comes over the line; its output is for those who start it from a terminal.
  game_.setStandardOutputFile(QProcess::nullDevice());
  game_.start();
}

void TryoutStation::addLine(const base::Json& line) {
  const auto text = [&](const char* key) {
    return line.contains(key) && line[key].is_string() ? q(line[key].get<std::string>()) : QString();
  };
  const QString level = text("level"), object = text("object"), field = text("field");
  const QColor color = level == QLatin1String("error")     ? theme().stops
                       : level == QLatin1String("warning") ? theme().shows
                                                           : theme().ink;
  const QString mark = level == QLatin1String("error")     ? QStringLiteral("◆ ")
                       : level == QLatin1String("warning") ? QStringLiteral("▲ ")
                                                           : QString();
  auto* label = new QLabel(this);
  label->setWordWrap(true);
  label->setObjectName(QStringLiteral("log-") + text("event"));
  QString shown = QStringLiteral("<span style='color:%1'>%2%3</span>")
                      .arg(color.name(), mark, text("message").toHtmlEscaped());
  // What the game complains of leads back to the thing in the mod, or to its card; another mod's does not.
  const bool ours = session_.isOpen() && text("mod") == q(session_.state().card.id);
  if (level != QLatin1String("info") && ours) {
    shown += QStringLiteral(" <a href=\"go\">%1</a>").arg(tr("Show"));
    label->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(label, &QLabel::linkActivated, this, [this, object, field] { Q_EMIT goTo(object, field); });
  }
  label->setText(shown);
  // The oldest go: a game that runs for days must not fill the window.
  while (log_->count() > kMostLines) {
    QLayoutItem* oldest = log_->takeAt(0);
    delete oldest->widget();
    delete oldest;
  }
  label->setProperty("complaint", level != QLatin1String("info") && ours);
  log_->insertWidget(log_->count() - 1, label);
  filterLog();
}

}  // namespace rakugo::app
