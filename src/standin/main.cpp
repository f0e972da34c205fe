#include <CLI/CLI.hpp>
#include <QApplication>
#include <fstream>
#include <iostream>

#include "base/files.h"
#include "base/json.h"
#include "base/text.h"
#include "standin/game_window.h"
#include "standin/script.h"

int main(int argc, char** argv) {
  CLI::App cli{
      "Kelpwick: the simulated game that ships with Rakugo. It loads the bundles of a folder and shows them.",
      "kelpwick"};
  cli.set_version_flag("--version", std::string("kelpwick ") + RAKUGO_VERSION);
  std::string mods, script, shots = ".", log, listener;
  bool headless = false;
  cli.add_option("--mods", mods, "Folder with installed bundles")->required();
  cli.add_flag("--headless", headless, "No window: run a script and end");
  cli.add_option("--script", script, "Commands, a JSON object a line (with --headless)");
  cli.add_option("--shots", shots, "Folder for pictures (with --headless)");
  cli.add_option("--log", log, "File for the log, a JSON object a line");
  cli.add_option("--connect", listener,
                 "Local socket of a program that follows the log and gives commands (docs/game-link.md)");
  CLI11_PARSE(cli, argc, argv);
  if (headless && script.empty() && listener.empty()) {
    std::cerr << "kelpwick: --headless needs --script FILE or --connect NAME\n";
    return 2;
  }
  std::ofstream file;
  if (!log.empty()) file.open(log, std::ios::trunc);
  const rakugo::standin::Game::Say say = [&](const rakugo::standin::LogLine& line) {
    const std::string text = rakugo::base::jsonLine(line.json());
    (file.is_open() ? static_cast<std::ostream&>(file) : std::cout) << text << std::endl;
  };
  QSurfaceFormat::setDefaultFormat(rakugo::render::surfaceFormat());
  if (headless) {
    if (const auto made = rakugo::base::makeFolder(shots); !made) {
      std::cerr << "kelpwick: " << rakugo::base::printable(made.error().text()) << "\n";
      return 2;
    }
    if (script.empty()) {
      QCoreApplication app(argc, argv);
      return rakugo::standin::runConnected(mods, QString::fromStdString(listener), say);
    }
    QGuiApplication app(argc, argv);
    return rakugo::standin::runScript({mods, script, shots}, say);
  }
  QApplication app(argc, argv);
  rakugo::standin::GameWindow window(mods, say);
  if (!listener.empty())
    if (const auto connected = window.connectTo(QString::fromStdString(listener)); !connected) {
      std::cerr << "kelpwick: " << rakugo::base::printable(connected.error().text()) << "\n";
      return 2;
    }
  window.show();
  return QApplication::exec();
}
