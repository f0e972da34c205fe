#include "standin/own_things.h"

#include <QFile>

// Of the program's resources, which a library has to ask for.
static void initOwnData() { Q_INIT_RESOURCE(data); }

namespace rakugo::standin {

void takeHarboursOwn(Game& game) {
  initOwnData();
  QFile file(QStringLiteral(":/data/harbour.rkb"));
  if (!file.open(QIODevice::ReadOnly)) base::brokenPromise("the harbour's own things are not there", "");
  const QByteArray held = file.readAll();
  game.takeOwnThings(std::as_bytes(std::span(held.constData(), static_cast<size_t>(held.size()))));
}

}  // namespace rakugo::standin
