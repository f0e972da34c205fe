#include "app/shell/language.h"

#include <QApplication>
#include <QFileInfo>
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

QString taken_help;

}  // namespace

QString helpFolder() { return taken_help; }

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
    const QString language = QFileInfo(catalogue->filePath()).completeBaseName().section(QLatin1Char('_'), 1);
    taken_help = folder + QStringLiteral("/help_") + language;
    return speakThroughQt();
  }
}

}  // namespace rakugo::app
