// The game's end of the line to the editor: a local socket, a JSON object a line. docs/game-link.md.
#pragma once

#include <QImage>
#include <QLocalSocket>
#include <QObject>
#include <functional>

#include "base/line_buffer.h"
#include "standin/commands.h"

namespace rakugo::standin {

/// Connects to a program that listens, says what the game logs, and carries out what it is told. When the
/// line breaks the game goes on without it. Lives on the thread of its event loop.
class GameLink : public QObject {
  Q_OBJECT
 public:
  explicit GameLink(Commands& commands, QObject* parent = nullptr);
  /// Waits two seconds at most. Errors: link.closed with the name.
  base::Status connectTo(const QString& name);
  /// Sends a line of the log.
  void tell(const LogLine& line);

  /// Gives the last picture of the game; null where it has no window.
  std::function<QImage()> picture;

 Q_SIGNALS:
  void carriedOut();
  void closed();

 private:
  void read();
  void answer(const std::string& line);
  void send(const base::Json& message);
  base::Status addPicture(const base::Json& command, base::Json& message);
  Commands& commands_;
  QLocalSocket socket_;
  base::LineBuffer pending_;
};

/// The game without a window, at the other end of a line: loads, logs, obeys, until the line is closed. Needs
/// a QCoreApplication. Returns the exit code: 2 when nobody listens.
int runConnected(const std::filesystem::path& mods, const QString& name, const Game::Say& say);

}  // namespace rakugo::standin
