#include <QCoreApplication>
#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>

#include "app/panels.h"
#include "app/stations.h"

namespace rakugo::app {

TryoutStation::TryoutStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  column_->addWidget(plainText(tr("Kelpwick, the simulated game that ships with Rakugo, loads what is "
                                  "installed and says what it thinks of it."),
                               this));
  column_->addWidget(quietText(tr("The game's folder"), this));
  folder_ = new QLineEdit(gameFolder(), this);
  folder_->setObjectName(QStringLiteral("game-folder"));
  folder_->setAccessibleName(tr("The game's folder"));
  connect(folder_, &QLineEdit::editingFinished, this, [this] { setGameFolder(folder_->text()); });
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
  state_ = quietText(tr("The game is not running."), this);
  column_->addWidget(state_);
  column_->addWidget(hairline(this));
  column_->addWidget(heading(tr("What the game says"), this));
  log_ = new QVBoxLayout;
  log_->setSpacing(4);
  column_->addLayout(log_);
  column_->addStretch();
  connect(&game_, &QProcess::readyReadStandardOutput, this, &TryoutStation::readLog);
  connect(&game_, &QProcess::stateChanged, this, &TryoutStation::refresh);
  connect(&game_, &QProcess::stateChanged, this, &TryoutStation::runningChanged);
  connect(&game_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
    if (error == QProcess::FailedToStart)
      Q_EMIT tell(tr("The game cannot be started: %1 is not there.").arg(game_.program()), false);
  });
}

TryoutStation::~TryoutStation() {
  // The game goes with its window; a process left behind would hold the bundle's file open.
  game_.disconnect(this);
  if (running()) {
    game_.terminate();
    if (!game_.waitForFinished(2000)) game_.kill();
    game_.waitForFinished(1000);
  }
}

void TryoutStation::refresh() {
  start_->setText(running() ? tr("End the game") : tr("Install and start the game"));
  start_->setEnabled(running() || (session_.isOpen() && session_.examination() &&
                                   session_.examination()->count(check::Severity::stops) == 0));
  state_->setText(running() ? tr("The game is running; a rebuilt and installed bundle is loaded at once.")
                            : tr("The game is not running."));
  if (!folder_->hasFocus()) folder_->setText(gameFolder());
}

void TryoutStation::start() {
  if (running()) return;
  clearLayout(log_);
  pending_.clear();
  game_.setProgram(QCoreApplication::applicationDirPath() + QStringLiteral("/kelpwick"));
  game_.setArguments({QStringLiteral("--mods"), QDir(gameFolder()).filePath(QStringLiteral("mods"))});
  game_.setProcessChannelMode(QProcess::SeparateChannels);
  game_.start();
}

void TryoutStation::readLog() {
  pending_ += game_.readAllStandardOutput();
  // What the game says is hostile too: one line is capped.
  if (pending_.size() > (1 << 20)) pending_.clear();
  for (qsizetype end = pending_.indexOf('\n'); end >= 0; end = pending_.indexOf('\n')) {
    addLine(pending_.left(end));
    pending_.remove(0, end + 1);
  }
}

void TryoutStation::addLine(const QByteArray& line) {
  const auto json =
      base::parseJson(std::string_view(line.constData(), static_cast<size_t>(line.size())), "game");
  if (!json || !json->is_object()) return;
  const auto text = [&](const char* key) {
    return json->contains(key) && (*json)[key].is_string() ? q((*json)[key].get<std::string>()) : QString();
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
  // What the game complains of leads back to the thing in the mod.
  if (level != QLatin1String("info") && !object.isEmpty()) {
    shown += QStringLiteral(" <a href=\"go\">%1</a>").arg(tr("Show"));
    label->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(label, &QLabel::linkActivated, this, [this, object, field] { Q_EMIT goTo(object, field); });
  }
  label->setText(shown);
  log_->addWidget(label);
}

}  // namespace rakugo::app
