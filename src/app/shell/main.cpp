#include <CLI/CLI.hpp>
#include <QApplication>
#include <QSettings>

#include "app/shell/display.h"
#include "app/shell/language.h"
#include "app/shell/log_file.h"
#include "app/shell/main_window.h"
#include "app/widgets/theme.h"
#include "base/places.h"

int main(int argc, char** argv) {
  CLI::App cli{"Rakugo: prepare models for a game, see what is wrong before the game does, build mods.",
               "rakugo"};
  cli.set_version_flag("--version", std::string("rakugo ") + RAKUGO_VERSION);
  std::string path;
  cli.add_option("MOD", path, "A mod's folder or mod.json to open, or a bundle or zip to look into");
  cli.allow_extras();  // Qt's own options
  // Twice: --help needs no display, and which arguments are Qt's only Qt knows.
  CLI11_PARSE(cli, argc, argv);
  QSurfaceFormat::setDefaultFormat(rakugo::render::surfaceFormat());
  QApplication::setApplicationName(QStringLiteral("rakugo"));
  QApplication::setOrganizationName(QStringLiteral("rakugo"));
  rakugo::app::applyScale(argc, argv);
  QApplication app(argc, argv);
  path.clear();
  CLI11_PARSE(cli, argc, argv);
  // The desktop knows the windows by this name: their icon, their place in lists.
  QGuiApplication::setDesktopFileName(QStringLiteral("rakugo"));
  rakugo::app::setLanguage(app, rakugo::app::languageFolders());
  rakugo::app::startLog(rakugo::base::stateFolder() / "log");
  rakugo::app::applyTheme(app, QSettings().value(QStringLiteral("night")).toBool());
  rakugo::app::MainWindow window;
  window.restorePlace();
  window.show();
  if (!path.empty()) window.openPath(QString::fromStdString(path));
  return QApplication::exec();
}
