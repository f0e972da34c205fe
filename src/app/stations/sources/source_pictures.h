// Small pictures of the sources, taken one by one in the background.
#pragma once

#include <QImage>
#include <QObject>
#include <QVector>
#include <map>
#include <set>

#include "app/bench/bench.h"
#include "app/shell/session.h"

namespace rakugo::app {

/// A model is shown as the first model made of it is prepared; a picture as it is. What is asked for and not
/// there yet is taken while nobody waits for anything else, and `taken` follows.
class SourcePictures : public QObject {
  Q_OBJECT
 public:
  SourcePictures(Session& session, Bench& bench, QObject* parent = nullptr);
  /// What there is of a source now: nothing, one picture, or all round.
  [[nodiscard]] QVector<QImage> of(const std::string& source);
  /// Asks for pictures all round.
  void turn(const std::string& source);

 Q_SIGNALS:
  void taken(const QString& source);

 private:
  struct Known {
    QVector<QImage> pictures;
    std::string key;                            ///< what they show
    std::shared_ptr<const scene::Model> shown;  ///< held, so that its address stays its own
    int asked_for = 0;                          ///< how many
  };
  [[nodiscard]] std::string keyOf(const std::string& source, std::string& model) const;
  [[nodiscard]] std::shared_ptr<const scene::Model> prepared(const std::string& model) const;
  void ask(const std::string& source, int count);
  void takeNext();
  Session& session_;
  Bench& bench_;
  QTimer soon_;
  std::map<std::string, Known> known_;
  std::vector<std::pair<std::string, int>> wanted_;  ///< the last is taken first
  bool taking_ = false;
};

}  // namespace rakugo::app
