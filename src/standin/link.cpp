#include "standin/link.h"

#include "standin/own_things.h"

#include <QBuffer>
#include <QCoreApplication>
#include <QTimer>
#include <algorithm>
#include <memory>

namespace rakugo::standin {
GameLink::GameLink(Commands& commands, QObject* parent) : QObject(parent), commands_(commands) {
  connect(&socket_, &QLocalSocket::readyRead, this, &GameLink::read);
  connect(&socket_, &QLocalSocket::disconnected, this, &GameLink::closed);
}

base::Status GameLink::connectTo(const QString& name) {
  socket_.connectToServer(name);
  if (!socket_.waitForConnected(2000))
    return base::Error{"link.closed",
                       "Nobody listens at " + name.toStdString() + ".",
                       {},
                       "Start the program that is to be connected to first."};
  send({{"say", "hello"}, {"protocol", 1}, {"game", "kelpwick"}, {"version", RAKUGO_VERSION}});
  return {};
}

void GameLink::tell(const LogLine& line) {
  base::Json message = line.json();
  message["say"] = "log";
  send(message);
}

void GameLink::send(const base::Json& message) {
  if (socket_.state() != QLocalSocket::ConnectedState) return;
  socket_.write(QByteArray::fromStdString(base::jsonLine(message)) + '\n');
  socket_.flush();
}

void GameLink::read() {
  pending_.add(socket_.readAll().toStdString());
  while (const auto line = pending_.next()) answer(*line);
  if (pending_.overlong()) socket_.abort();  // whoever sends that is not listened to
}

void GameLink::answer(const std::string& line) {
  const auto json = base::parseJson(line, "link");
  base::Json id, message = base::Json::object();
  base::Status done;
  if (!json) {
    done = json.error();
  } else {
    if (json->is_object() && json->contains("id")) id = (*json)["id"];
    const bool picture = json->is_object() && base::textOf(*json, "do") == "picture";
    done = picture ? addPicture(*json, message) : commands_.run(*json, "link");
  }
  message["say"] = done ? "done" : "refused";
  if (!id.is_null()) message["id"] = id;
  if (!done) message["message"] = done.error().text();
  send(message);
  Q_EMIT carriedOut();
}

// What is seen of the game, as a PNG in base64, no larger than asked for.
base::Status GameLink::addPicture(const base::Json& command, base::Json& message) {
  std::vector<base::Error> complaints;
  base::JsonFields in(command, "link", "", complaints);
  const QSize most(static_cast<int>(std::clamp<int64_t>(in.integer("width", 640), 16, 1280)),
                   static_cast<int>(std::clamp<int64_t>(in.integer("height", 400), 16, 800)));
  if (!complaints.empty()) return complaints.front();
  const QImage seen = picture ? picture() : QImage();
  if (seen.isNull())
    return base::Error{"link.no_picture", "The game shows nothing.", {}, "Start it with a window."};
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  const bool larger = seen.width() > most.width() || seen.height() > most.height();
  (larger ? seen.scaled(most, Qt::KeepAspectRatio, Qt::SmoothTransformation) : seen)
      .convertToFormat(QImage::Format_RGB32)
      .save(&buffer, "PNG");
  const QByteArray text = png.toBase64();
  // A line that is longer than the other side listens to would close its ears.
  if (text.size() > 900'000)
    return base::Error{
        "link.large_picture", "The picture is too large for the line.", {}, "Ask for a smaller one."};
  message["png"] = text.toStdString();
  return {};
}

int runConnected(const std::filesystem::path& mods, const QString& name, const Game::Say& also_say) {
  std::unique_ptr<GameLink> link;
  const Game::Say say = [&](const LogLine& line) {
    also_say(line);
    if (link) link->tell(line);
  };
  Game game(mods, say);
  Play play(game, say);
  Commands commands(game, play, say);
  link = std::make_unique<GameLink>(commands);
  if (const auto connected = link->connectTo(name); !connected) {
    say({"error", "link", "", "", "", "", connected.error().text()});
    return 2;
  }
  takeHarboursOwn(game);
  game.scan();
  QTimer often;
  QObject::connect(&often, &QTimer::timeout, &often, [&] {
    if (game.scan()) play.refresh();
  });
  often.start(400);
  QObject::connect(link.get(), &GameLink::closed, QCoreApplication::instance(), &QCoreApplication::quit);
  return QCoreApplication::exec();
}

}  // namespace rakugo::standin
