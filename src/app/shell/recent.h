// Mods that were open lately, with what is worth knowing before opening them again.
#pragma once

#include <QDateTime>
#include <QImage>
#include <QString>
#include <QVector>

namespace rakugo::app {

struct RecentMod {
  QString folder, title, game;
  int stops = 0, shows = 0, tidy = 0;
  bool examined = false;  ///< the counts are known
  QDateTime when;
  [[nodiscard]] QImage picture() const;
};

/// Newest first; folders that are gone are left out.
QVector<RecentMod> recentMods();
/// Puts a mod at the top; at most twelve are kept. A null picture keeps the one that is there.
void rememberMod(const RecentMod& mod, const QImage& picture = {});
/// Takes a mod off the list; the mod itself is not touched.
void forgetMod(const QString& folder);

}  // namespace rakugo::app
