#include "app/shell/language.h"

#include <QApplication>
#include <QLocale>
#include <QTranslator>

#include "app/widgets/theme.h"
#include "base/phrase.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {
namespace {

std::string throughQt(std::string_view english) {
  if (english.empty()) return {};
  return QCoreApplication::translate("core", std::string(english).c_str()).toStdString();
}

}  // namespace

void speakThroughQt() { base::setTranslator(throughQt); }

QStringList languageFolders() {
  QStringList out;
  for (const std::filesystem::path& books : rulebook::rulebookFolders())
    out << q((books.parent_path() / "translations").string());
  return out;
}

void setLanguage(QApplication& app, const QStringList& folders) {
  auto* catalogue = new QTranslator(&app);
  for (const QString& folder : folders) {
    if (!catalogue->load(QLocale(), QStringLiteral("rakugo"), QStringLiteral("_"), folder)) continue;
    QApplication::installTranslator(catalogue);
    return speakThroughQt();
  }
}

}  // namespace rakugo::app
