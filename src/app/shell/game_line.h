// The editor's end of the line to the running game: docs/game-link.md.
#pragma once

#include <QLocalServer>
#include <QLocalSocket>
#include <QObject>
#include <QPointer>
#include <QTemporaryDir>
#include <map>

#include "base/json_fwd.h"
#include "base/line_buffer.h"
#include "base/result.h"

namespace rakugo::app {

/// Listens for one game. What the game says is hostile: lines are capped, and what is not understood is
/// dropped.
class GameLine : public QObject {
  Q_OBJECT
 public:
  explicit GameLine(QObject* parent = nullptr);
  ~GameLine() override;
  /// Where the game has to connect to. Errors: link.listen.
  base::Result<QString> listen();
  [[nodiscard]] bool connected() const { return game_ != nullptr; }
  struct Answer {
    QString message;
    QByteArray png;  ///< of the command "picture"; hostile bytes
  };
  /// Tells the game to do something; `answered` is called with whether it did and what it said, or with false
  /// when the line breaks or there is no game.
  using Answered = std::function<void(bool, const Answer&)>;
  void tell(base::Json command, Answered answered = nullptr);

 Q_SIGNALS:
  void logged(const base::Json& line);  ///< an object
  void connectedChanged();

 private:
  void takeIn();
  void read();
  void hear(const std::string& line);
  void drop();
  QTemporaryDir folder_;  ///< of this user's own: nobody else can connect
  QLocalServer server_;
  QPointer<QLocalSocket> game_;
  base::LineBuffer pending_;
  int last_ = 0;
  std::map<int, Answered> waiting_;
};

}  // namespace rakugo::app
