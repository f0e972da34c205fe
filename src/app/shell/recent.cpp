#include "app/shell/recent.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSettings>

#include "app/widgets/theme.h"
#include "base/places.h"

namespace rakugo::app {
namespace {

constexpr int kMost = 12;

QString pictureFile(const QString& folder) {
  const QString folders = q((base::cacheFolder() / "thumbnails").string());
  return folders + QLatin1Char('/') +
         QString::fromLatin1(
             QCryptographicHash::hash(folder.toUtf8(), QCryptographicHash::Sha256).toHex().left(24)) +
         QStringLiteral(".png");
}

void store(const QVector<RecentMod>& mods) {
  QSettings settings;
  settings.remove(QStringLiteral("recent"));
  settings.beginWriteArray(QStringLiteral("recent"));
  for (int i = 0; i < mods.size(); ++i) {
    settings.setArrayIndex(i);
    settings.setValue(QStringLiteral("folder"), mods[i].folder);
    settings.setValue(QStringLiteral("title"), mods[i].title);
    settings.setValue(QStringLiteral("game"), mods[i].game);
    settings.setValue(QStringLiteral("examined"), mods[i].examined);
    settings.setValue(QStringLiteral("stops"), mods[i].stops);
    settings.setValue(QStringLiteral("shows"), mods[i].shows);
    settings.setValue(QStringLiteral("tidy"), mods[i].tidy);
    settings.setValue(QStringLiteral("when"), mods[i].when);
  }
  settings.endArray();
}

}  // namespace

QImage RecentMod::picture() const { return QImage(pictureFile(folder)); }

QVector<RecentMod> recentMods() {
  QSettings settings;
  QVector<RecentMod> out;
  const int count = settings.beginReadArray(QStringLiteral("recent"));
  for (int i = 0; i < std::min(count, kMost); ++i) {
    settings.setArrayIndex(i);
    RecentMod mod;
    mod.folder = settings.value(QStringLiteral("folder")).toString();
    if (!QFileInfo::exists(mod.folder + QStringLiteral("/mod.json"))) continue;
    mod.title = settings.value(QStringLiteral("title")).toString();
    mod.game = settings.value(QStringLiteral("game")).toString();
    mod.examined = settings.value(QStringLiteral("examined")).toBool();
    mod.stops = settings.value(QStringLiteral("stops")).toInt();
    mod.shows = settings.value(QStringLiteral("shows")).toInt();
    mod.tidy = settings.value(QStringLiteral("tidy")).toInt();
    mod.when = settings.value(QStringLiteral("when")).toDateTime();
    out << mod;
  }
  settings.endArray();
  return out;
}

void rememberMod(const RecentMod& mod, const QImage& picture) {
  QVector<RecentMod> mods = recentMods();
  mods.erase(
      std::remove_if(mods.begin(), mods.end(), [&](const RecentMod& m) { return m.folder == mod.folder; }),
      mods.end());
  mods.prepend(mod);
  if (mods.size() > kMost) mods.resize(kMost);
  store(mods);
  if (picture.isNull()) return;
  const QString file = pictureFile(mod.folder);
  QDir().mkpath(QFileInfo(file).path());
  picture.save(file);
}

void forgetMod(const QString& folder) {
  QVector<RecentMod> mods = recentMods();
  mods.erase(std::remove_if(mods.begin(), mods.end(), [&](const RecentMod& m) { return m.folder == folder; }),
             mods.end());
  store(mods);
  QFile::remove(pictureFile(folder));
}

}  // namespace rakugo::app
