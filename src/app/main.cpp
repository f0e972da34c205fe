#include <CLI/CLI.hpp>
#include <QApplication>
#include <QSettings>

#include "app/main_window.h"
#include "app/theme.h"

int main(int argc, char** argv) {
  CLI::App cli{"Rakugo: prepare models for a game, see what is wrong before the game does, build mods.",
               "rakugo"};
  cli.set_version_flag("--version", std::string("rakugo ") + RAKUGO_VERSION);
  std::string folder;
  cli.add_option("MOD", folder, "A mod's folder to open");
  cli.allow_extras();  // Qt's own options
  CLI11_PARSE(cli, argc, argv);
  QSurfaceFormat::setDefaultFormat(rakugo::render::surfaceFormat());
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("rakugo"));
  QApplication::setOrganizationName(QStringLiteral("rakugo"));
  rakugo::app::applyTheme(app, QSettings().value(QStringLiteral("night")).toBool());
  rakugo::app::MainWindow window;
  window.show();
  if (!folder.empty()) window.openMod(QString::fromStdString(folder));
  return QApplication::exec();
}
