#include <QCheckBox>
#include <QCoreApplication>
#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>

#include "app/stations/station_panel.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

constexpr int kMostLines = 200;

}  // namespace

TryoutStation::TryoutStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  column_->addWidget(plainText(tr("Kelpwick, the simulated game that ships with Rakugo, loads what is "
                                  "installed and says what it thinks of it."),
                               this));
  column_->addWidget(quietText(tr("The game's folder"), this));
  folder_ = new QLineEdit(gameFolder(), this);
  folder_->setObjectName(QStringLiteral("game-folder"));
  folder_->setAccessibleName(tr("The game's folder"));
  connect(folder_, &QLineEdit::editingFinished, this, [this] {
    setGameFolder(folder_->text());
    session_.setGame(s(gameFolder()));
  });
  column_->addWidget(folder_);
  start_ = new QPushButton(tr("Install and start the game"), this);
  start_->setObjectName(QStringLiteral("start-game"));
  connect(start_, &QPushButton::clicked, this, [this] {
    if (running())
      game_.terminate();
    else
      Q_EMIT installAsked();
  });
  column_->addWidget(start_);
  live_ = new QCheckBox(tr("Show each change in it at once"), this);
  live_->setObjectName(QStringLiteral("game-live"));
  live_->setChecked(true);
  live_->setToolTip(
      tr("Builds what is open here, saved or not, and installs it after each edit that leaves "
         "nothing that stops the game."));
  column_->addWidget(live_);
  state_ = quietText({}, this);
  state_->setObjectName(QStringLiteral("game-state"));
  column_->addWidget(state_);
  column_->addWidget(hairline(this));
  column_->addWidget(heading(tr("What the game says"), this));
  log_ = new QVBoxLayout;
  log_->setSpacing(4);
  column_->addLayout(log_);
  column_->addStretch();
  connect(&line_, &GameLine::logged, this, &TryoutStation::addLine);
  connect(&line_, &GameLine::connectedChanged, this, [this] {
    behind_ = false;
    showState();
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
    line_.tell({{"do", "reload"}}, [this](bool reloaded, const QString&) {
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
}

void TryoutStation::start() {
  if (running()) return;
  const auto name = line_.listen();
  if (!name) return Q_EMIT tell(q(name.error().text()), false);
  clearLayout(log_);
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
  while (log_->count() >= kMostLines) {
    QLayoutItem* oldest = log_->takeAt(0);
    delete oldest->widget();
    delete oldest;
  }
  log_->addWidget(label);
}

}  // namespace rakugo::app
