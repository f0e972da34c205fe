#include "app/shell/game_line.h"

#include "app/widgets/theme.h"
#include "base/json.h"

namespace rakugo::app {
GameLine::GameLine(QObject* parent) : QObject(parent) {
  server_.setSocketOptions(QLocalServer::UserAccessOption);
  server_.setMaxPendingConnections(1);
  connect(&server_, &QLocalServer::newConnection, this, &GameLine::takeIn);
}

GameLine::~GameLine() {
  if (game_) game_->disconnect(this);
}

base::Result<QString> GameLine::listen() {
  const QString name = folder_.filePath(QStringLiteral("game"));
  if (!server_.isListening() && !server_.listen(name))
    return base::Error{"link.listen",
                       "The line to the game cannot be opened: " + s(server_.errorString()) + ".",
                       {s(name)},
                       "Free some space in the folder for temporary files."};
  return name;
}

void GameLine::takeIn() {
  QLocalSocket* socket = server_.nextPendingConnection();
  if (game_) return socket->deleteLater();  // one game at a time
  game_ = socket;
  pending_.clear();
  connect(socket, &QLocalSocket::readyRead, this, &GameLine::read);
  connect(socket, &QLocalSocket::disconnected, this, &GameLine::drop);
  Q_EMIT connectedChanged();
  read();
}

void GameLine::drop() {
  if (!game_) return;
  read();
  game_->deleteLater();
  game_ = nullptr;
  for (auto& [id, answered] : std::exchange(waiting_, {}))
    if (answered) answered(false, {tr("The game has ended."), {}});
  Q_EMIT connectedChanged();
}

void GameLine::tell(base::Json command, Answered answered) {
  if (!game_) {
    if (answered) answered(false, {tr("The game is not running."), {}});
    return;
  }
  const int id = ++last_;
  command["id"] = id;
  waiting_[id] = std::move(answered);
  game_->write(QByteArray::fromStdString(base::jsonLine(command)) + '\n');
  game_->flush();
}

void GameLine::read() {
  if (!game_) return;
  pending_.add(game_->readAll().toStdString());
  while (const auto line = pending_.next()) hear(*line);
  if (pending_.overlong()) pending_.clear();
}

void GameLine::hear(const std::string& line) {
  const auto json = base::parseJson(line, "game");
  if (!json || !json->is_object()) return;
  std::vector<base::Error> complaints;
  base::JsonFields in(*json, "game", "", complaints);
  const std::string what = in.text("say");
  if (what == "log") return Q_EMIT logged(*json);
  if (what != "done" && what != "refused") return;
  const auto found = waiting_.find(static_cast<int>(in.integer("id")));
  if (found == waiting_.end()) return;
  const Answered answered = std::move(found->second);
  waiting_.erase(found);
  if (answered)
    answered(what == "done",
             {q(in.text("message")), QByteArray::fromBase64(QByteArray::fromStdString(in.text("png")))});
}

}  // namespace rakugo::app
